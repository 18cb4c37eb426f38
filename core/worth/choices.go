package worth

import (
	"cmp"
	"strings"

	"steptrace/core/money"
)

// choices lays side by side what can be done.
func (v *View) choices(f *Facts, n noted, d *drawer) {
	v.Choices = []Stand{v.repair(f), v.board(f, n, d), v.another(f, n), v.ask(f, n), v.leave(f)}
	best := -1
	for i := range v.Choices {
		c := &v.Choices[i]
		c.Name = c.Choice.Name()
		if c.Leaves != nil {
			c.LeavesSays = f.money(*c.Leaves)
		}
		if c.Leaves != nil && (best < 0 || *c.Leaves > *v.Choices[best].Leaves) {
			best = i
		}
	}
	if best >= 0 {
		v.Choices[best].Best = true
	}
}

// leaves is what a choice leaves of a set's worth on average; nothing where that or the price of work is not known.
func (v *View) leaves(works, cost float64) *float64 {
	if v.Value == 0 || !v.Known {
		return nil
	}
	out := works*v.Value - cost
	return &out
}

// priced is a range of money; nothing where the price of work is not known.
func (v *View) priced(f *Facts, r Range) *Range {
	if !v.Known {
		return nil
	}
	r.Says = f.between(r.Low, r.High)
	return &r
}

// timed is a range of time.
func timed(r Range) *Range {
	r.Says = Between(r.Low, r.High)
	return &r
}

// toCome is what is spent from here.
func (v *View) toCome() Range { return v.Cost.moved(-v.Spent) }

func (v *View) repair(f *Facts) Stand {
	cost := v.toCome()
	s := Stand{Choice: Repair, Minutes: timed(v.Left), Cost: v.priced(f, cost), Works: v.Works, Leaves: v.leaves(v.Works, cost.mean)}
	s.weigh(v, f)
	return s
}

func (v *View) board(f *Facts, n noted, d *drawer) Stand {
	s := Stand{Choice: Board}
	o := n.offers[Board]
	if s.Open = lacking(o, "what a board costs"); s.Open != "" {
		return s
	}
	found := f.Named || f.PartKnown || f.Fitted
	r := d.board(cmp.Or(float64(o.Minutes), usualBoard))
	price := priceOf(o)
	cost := r.times(f.hour() / perHour).moved(price)
	s.Works = boardHits * v.chance("found") * kept
	s.Minutes, s.Cost, s.Leaves = timed(r), v.priced(f, cost), v.leaves(s.Works, cost.mean)
	s.For = append(s.For, "it can be warranted, and needs no part found inside")
	if r.Mid < v.Left.Mid {
		s.For = append(s.For, "less work, by about "+About(v.Left.Mid-r.Mid))
	}
	if !found {
		s.Against = append(s.Against, "which board it is has to be found first")
	}
	if more := cost.mean - v.toCome().mean; v.Known && more > 0 {
		s.Against = append(s.Against, f.money(more)+" more than the part")
	} else if v.Known {
		s.For = append(s.For, f.money(-more)+" less than the part")
	}
	return s
}

func (v *View) another(f *Facts, n noted) Stand {
	s := Stand{Choice: Another}
	o := n.offers[Another]
	if s.Open = lacking(o, "what another set costs"); s.Open != "" {
		return s
	}
	price := priceOf(o)
	s.Works, s.Leaves = another, v.leaves(another, price)
	s.Cost = &Range{Low: price, Mid: price, High: price, mean: price, Says: amount(price).Text(f.Currency)}
	s.For = append(s.For, "no more work; this one gives parts")
	s.Against = append(s.Against, "another old set has faults of its own to come")
	return s
}

func (v *View) ask(f *Facts, n noted) Stand {
	s := Stand{Choice: Ask}
	switch {
	case n.no:
		s.Against = append(s.Against, "the owner has said no")
	case n.asked != nil:
		s.For = append(s.For, "the owner is asked, and has not answered yet")
	case f.Limit == 0:
		s.For = append(s.For, "no limit was agreed")
	case !v.Known:
		s.For = append(s.For, "whether it stays within the limit cannot be told without the price of an hour")
	case v.Over >= few:
		s.For = append(s.For, "it passes the owner's limit in "+InTen(v.Over))
	default:
		s.Against = append(s.Against, "it stays within what the owner allows")
	}
	return s
}

func (v *View) leave(f *Facts) Stand {
	s := Stand{Choice: Leave, Leaves: v.leaves(0, 0), Works: 0, For: []string{"nothing more is spent"}}
	if !v.Known {
		return s
	}
	s.Cost = v.priced(f, Range{})
	if v.Spent > 0 {
		s.Against = append(s.Against, f.money(v.Spent)+" of work are spent")
	}
	if f.Value > 0 && v.Works*v.Value < v.toCome().mean {
		s.For = append(s.For, "what is to come costs more than its worth times the chance that it works")
	}
	return s
}

const perHour = 60 // minutes

// lacking is what has to be typed before a choice can be told; empty where nothing.
func lacking(o *Offer, what string) string {
	switch {
	case o == nil:
		return what
	case o.Price == "":
		return "it is not to be had"
	}
	return ""
}

func priceOf(o *Offer) float64 {
	a, _ := money.Read(o.Price) // checked when it was taken
	return float64(a)
}

func (v *View) chance(key string) float64 {
	for _, c := range v.Chances {
		if c.Key == key {
			return c.Is
		}
	}
	return 1
}

// moved is a range with so much more of each; never below zero.
func (r Range) moved(by float64) Range {
	return Range{Low: max(0, r.Low+by), Mid: max(0, r.Mid+by), High: max(0, r.High+by), mean: max(0, r.mean+by)}
}

func (r Range) times(by float64) Range {
	return Range{Low: r.Low * by, Mid: r.Mid * by, High: r.High * by, mean: r.mean * by}
}

// weigh says what speaks for a repair and against it.
func (s *Stand) weigh(v *View, f *Facts) {
	if f.PartKnown && !f.Fitted {
		s.For = append(s.For, "the part is named")
	} else if f.Named {
		s.For = append(s.For, "the block is named")
	}
	if f.Fitted {
		s.For = append(s.For, "the part is in: what is left is to prove it")
	}
	const mostly, seldom = 0.75, 0.7
	if v.Works >= mostly {
		s.For = append(s.For, "it works in "+InTen(v.Works))
	} else {
		s.Against = append(s.Against, "it works in "+InTen(v.Works)+" only")
	}
	for _, c := range v.Chances {
		if c.Is < seldom {
			s.Against = append(s.Against, strings.ToLower(c.Name)+" in "+InTen(c.Is)+": "+c.Why)
		}
	}
	if f.Value > 0 && v.Known {
		switch {
		case v.Cost.Low > float64(f.Value):
			s.Against = append(s.Against, "even at best it costs more than the set is worth")
		case v.Cost.High < float64(f.Value):
			s.For = append(s.For, "even at worst it costs less than the set is worth")
		}
	}
}
