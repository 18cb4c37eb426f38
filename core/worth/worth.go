// Package worth tells whether a job is worth doing: the time and the money to expect from here as a range, the chances that it
// works out, and what else could be done, side by side. The person decides.
//
//	view := worth.Look(facts, entries)
package worth

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"steptrace/core/mend"
	"steptrace/core/money"
	"steptrace/core/past"
	"steptrace/core/wait"
)

// Ground is by what a set can be traced.
type Ground int

// The grounds, from the best to none.
const (
	ByManual Ground = iota
	ByUsual         // values that are usual of such sets
	ByNothing
)

// Facts are how a job stands, as far as its worth goes. Used are the minutes spent on each step.
// Prepare, Trace and Prove are the usual minutes that are left of these; ProveWhole those of the whole of it. PartKnown: the part
// is condemned or chosen; Fitted: it is in. Parts are those that were chosen and are not in yet, Bought what all cost that were chosen and
// have a price. Rate is what an hour costs, Value what the set is worth, Limit what its owner allows; zero where nobody said. Times and
// Prices are what the workshop calls usual. Past are its own finished jobs.
type Facts struct {
	Now        time.Time
	Used       past.Minutes
	Prepare    float64
	Trace      float64
	Prove      float64
	ProveWhole float64
	PartKnown  bool
	Fitted     bool
	Named      bool
	Fleeting   bool // it comes and goes
	Ground     Ground
	Back       bool // it was repaired here for the same before
	Suspects   []Suspect
	Parts      []Part
	Bought     money.Amount
	Rate       money.Amount
	Value      money.Amount
	Limit      money.Amount
	Currency   string
	Times      map[past.Step]float64
	Prices     map[past.Class]money.Amount
	Past       []past.Job
}

// Suspect is a block that may be at fault: its kind, and its share of the suspicion.
type Suspect struct {
	Name  string  `json:"name"`
	Kind  string  `json:"kind"`
	Share float64 `json:"share"`
}

// Part is one that was chosen: its price where it was typed, and whether it lies in the drawer.
type Part struct {
	Name   string
	Class  past.Class
	Price  money.Amount
	Count  int
	Drawer bool
}

// Usual are the minutes that are usual for each step in a job that ends in a block of a kind, with so many parts; trace are those
// that the plan of the set came to at the beginning, prove those of what is adjusted and measured.
func Usual(kind string, parts int, trace, prove float64) past.Minutes {
	w := workOf(kind)
	return past.Minutes{
		past.Prepare: takeIn + openUp, past.Trace: trace, past.Inside: w.inside,
		past.Replace: w.replace + nextPart*float64(max(0, parts-1)), past.Prove: prove,
	}
}

// Preparing is what is usual of the steps before the first probe, of which some may be done.
func Preparing(taken, opened bool) float64 {
	out := 0.0
	if !taken {
		out += takeIn
	}
	if !opened {
		out += openUp
	}
	return out
}

// Proving is what is usual of the steps after the iron: so many adjustments and closing measurements, the set to be closed.
func Proving(shown bool, adjustments, measurements int, closed bool) float64 {
	out := tidyUp + perAdjust*float64(adjustments) + min(mostClose, perClosing*float64(measurements))
	if !shown {
		out += showRight
	}
	if !closed {
		out += closeUp
	}
	return out
}

// Tracing is what is usual to find a block where no plan says how long it takes.
func Tracing() float64 { return untold }

// rest is what is usual from here, with a block at fault.
func (f *Facts) rest(w work) past.Minutes {
	out := past.Minutes{past.Prepare: f.Prepare, past.Trace: f.Trace, past.Prove: f.Prove}
	if !f.PartKnown && !f.Fitted {
		out[past.Inside] = w.inside
	}
	if !f.Fitted {
		out[past.Replace] = w.replace + nextPart*float64(max(0, len(f.Parts)-1))
	}
	return out
}

// whole is what is usual of the steps from their beginning.
func (f *Facts) whole(w work) past.Minutes {
	return past.Minutes{
		past.Prepare: takeIn + openUp, past.Inside: w.inside, past.Prove: f.ProveWhole,
		past.Replace: w.replace + nextPart*float64(max(0, len(f.Parts)-1)),
	}
}

// usualOf is what is usual of a step of any job, which a workshop may say otherwise: of adjusting and measuring, two of the one and eight
// of the other.
func usualOf(s past.Step) float64 {
	switch s {
	case past.Prepare:
		return takeIn + openUp
	case past.Trace:
		return untold
	case past.Inside:
		return anyWork.inside
	case past.Replace:
		return anyWork.replace
	}
	const adjustments, measurements = 2, 8
	return Proving(false, adjustments, measurements, false)
}

// UsualTimes are the minutes of the steps, before a workshop says otherwise.
func UsualTimes() past.Minutes {
	out := past.Minutes{}
	for _, s := range past.Steps {
		out[s] = usualOf(s)
	}
	return out
}

// UsualPrices are what parts cost, in hours of work.
func UsualPrices() map[past.Class]float64 {
	out := map[past.Class]float64{}
	for c, b := range classes {
		out[c] = b.hours
	}
	return out
}

// paceTyped is how the workshop's usual time of a step stands against ours.
func (f *Facts) paceTyped(s past.Step) float64 {
	if t := f.Times[s]; t > 0 {
		return t / usualOf(s)
	}
	return 1
}

// View is how a job stands against what it is worth. Amounts are in hundredths. Cost and Spent are nothing where nobody said what an
// hour costs (Known). Over is how often the whole goes beyond the owner's limit.
type View struct {
	Says     string     `json:"says"`
	Limits   string     `json:"limits"` // what is said of the owner's limit
	Known    bool       `json:"known"`
	Used     float64    `json:"used"` // minutes
	Left     Range      `json:"left"` // minutes
	Parts    Range      `json:"parts"`
	Spent    float64    `json:"spent"`
	Cost     Range      `json:"cost"` // of the whole: spent, and to come
	Limit    float64    `json:"limit"`
	Value    float64    `json:"value"`
	Over     float64    `json:"over"`
	Chances  []Chance   `json:"chances"`
	Works    float64    `json:"works"` // all of them
	Choices  []Stand    `json:"choices"`
	Seen     []Obstacle `json:"seen"`
	Basis    string     `json:"basis"` // what the figures go by
	Offer    Estimate   `json:"offer"` // an estimate for the owner, to be changed
	Offers   []Offer    `json:"offers"`
	Given    []Told     `json:"given"` // estimates, answers and decisions, the latest first
	Decided  Choice     `json:"decided"`
	Suspects []Suspect  `json:"suspects"` // that are worth a word
	// On the line: what is spent, the middle, the limit and the worth, as one says them; in minutes where money is not known.
	SpentSays string `json:"spentSays"`
	MidSays   string `json:"midSays"`
	LimitSays string `json:"limitSays"`
	ValueSays string `json:"valueSays"`
}

// Chance is one of what has to come right, with why it is so.
type Chance struct {
	Key  string  `json:"key"`
	Name string  `json:"name"`
	Is   float64 `json:"is"`
	Why  string  `json:"why"`
}

// Stand is how a choice stands: minutes and money to expect from here, how often it works, what is left of the set's worth on average
// (nothing where money or worth are not known), what speaks for it and against it. Open is what has to be typed before it can be told.
type Stand struct {
	Choice  Choice   `json:"choice"`
	Name    string   `json:"name"`
	Minutes *Range   `json:"minutes" jsonschema:"nullable"`
	Cost    *Range   `json:"cost" jsonschema:"nullable"`
	Works   float64  `json:"works"`
	Leaves  *float64 `json:"leaves" jsonschema:"nullable"`
	// LeavesSays tells that in words.
	LeavesSays string   `json:"leavesSays"`
	For        []string `json:"for"`
	Against    []string `json:"against"`
	Open       string   `json:"open"`
	Best       bool     `json:"best"` // leaves most
}

// Obstacle is a hindrance, and whether it was seen.
type Obstacle struct {
	Hindrance
	Is bool `json:"is"`
}

// Told is an entry of what was said and decided.
type Told struct {
	ID   string    `json:"id"`
	At   time.Time `json:"at"`
	Says string    `json:"says"`
}

// Look tells how a job stands.
func Look(f *Facts, entries []Entry) View {
	noted := read(entries)
	v := View{
		Known: f.Rate > 0, Used: f.Used.Sum(), Limit: float64(f.Limit), Value: float64(f.Value), Offers: []Offer{}, Given: noted.told,
		Suspects: []Suspect{},
	}
	if noted.decided != nil {
		v.Decided = noted.decided.Choice
	}
	d := newDrawer(f)
	var minutes, parts, costs []float64
	had := 0.0
	spent := v.Used/perHour*f.hour() + float64(f.Bought)
	over := 0.0
	for range draws {
		r := d.rest()
		cost := spent + r.minutes/perHour*f.hour() + r.parts
		minutes, parts, costs = append(minutes, r.minutes), append(parts, r.parts), append(costs, cost)
		had += r.had / draws
		if f.Limit > 0 && cost > float64(f.Limit) {
			over += 1.0 / draws
		}
	}
	v.Left = *timed(rangeOf(minutes))
	v.SpentSays, v.MidSays = About(v.Used), About(v.Used+v.Left.Mid)
	v.LimitSays, v.ValueSays = f.Limit.Text(f.Currency), f.Value.Text(f.Currency)
	if v.Known {
		v.Spent, v.Over = spent, over
		v.Parts, v.Cost = *v.priced(f, rangeOf(parts)), *v.priced(f, rangeOf(costs))
		v.SpentSays, v.MidSays = f.money(spent), f.money(v.Cost.Mid)
	}
	v.chances(f, noted, had)
	v.Basis = basis(d)
	for _, s := range f.Suspects {
		if s.Share >= worthAWord {
			v.Suspects = append(v.Suspects, s)
		}
	}
	for _, h := range Hindrances() {
		v.Seen = append(v.Seen, Obstacle{h, noted.seen[h.Key]})
	}
	for _, c := range []Choice{Board, Another} {
		if o := noted.offers[c]; o != nil {
			v.Offers = append(v.Offers, *o)
		}
	}
	v.choices(f, noted, d)
	v.say(f)
	v.Offer = v.estimate(f, noted)
	return v
}

// noted is what the entries come to.
type noted struct {
	seen    map[string]bool
	offers  map[Choice]*Offer
	told    []Told
	decided *Decision
	no      bool // the owner does not want it
	// An estimate was given, or the owner is asked otherwise, and there is no answer: the entry.
	asked *Entry
}

func read(entries []Entry) noted {
	n := noted{seen: map[string]bool{}, offers: map[Choice]*Offer{}, told: []Told{}}
	for i := range entries {
		e := &entries[i]
		if e.Struck {
			continue
		}
		switch {
		case e.Seen != nil:
			n.seen[e.Seen.Key] = !e.Seen.Not
			continue
		case e.Offer != nil:
			n.offers[e.Offer.What] = e.Offer
			continue
		case e.Answer != nil:
			n.no, n.asked = !e.Answer.GoOn, nil
		case e.Estimate != nil:
			n.asked = e
		case e.Decision != nil:
			n.decided = e.Decision
			switch {
			case n.decided.Choice == Ask && n.asked == nil:
				n.asked = e
			case n.decided.Choice != Ask: // whatever the owner would say
				n.asked = nil
			}
		}
		n.told = append(n.told, Told{e.ID, e.At, e.Says()})
	}
	slices.Reverse(n.told)
	return n
}

// Decided is what was decided last; nil where nothing was.
func Decided(entries []Entry) *Decision { return read(entries).decided }

// Allowed is up to what a job may cost, as typed: by the owner's answer, or as it was noted at intake, whichever came later; empty where
// nobody said.
func Allowed(entries []Entry, noted string, at time.Time) string {
	for i := range entries {
		if e := &entries[i]; e.Answer != nil && !e.Struck && e.Answer.Most != "" && e.At.After(at) {
			noted, at = e.Answer.Most, e.At
		}
	}
	return noted
}

// Near tells of what is spent against what is allowed, from four fifths of it on; empty before.
func Near(spent, allowed money.Amount, currency string) (text string, passed bool) {
	const near = 0.8
	switch {
	case allowed == 0 || float64(spent) < near*float64(allowed):
		return "", false
	case spent > allowed:
		return fmt.Sprintf("has come to %s, above the %s that its owner allows", spent.Text(currency), allowed.Text(currency)), true
	}
	return fmt.Sprintf("has come to %s of the %s that its owner allows", spent.Text(currency), allowed.Text(currency)), false
}

// Waits is what a job waits for of its owner: the answer to an estimate, or to the question whether to go on. Nil where it does not.
func Waits(entries []Entry) *wait.Entry {
	n := read(entries)
	if n.asked == nil {
		return nil
	}
	out := wait.Entry{ID: n.asked.ID, At: n.asked.At, Wait: &wait.Wait{For: wait.Owner, What: "whether to go on"}}
	if e := n.asked.Estimate; e != nil {
		out.Wait.What, out.Wait.Until = fmt.Sprintf("answer to the estimate of %s to %s", e.Low, e.High), e.Until
	}
	return &out
}

// say puts it in words.
func (v *View) say(f *Facts) {
	text := "About " + v.Left.Says + " more"
	if v.Known {
		if v.Parts.High > 0 {
			text += " and " + v.Parts.Says + " of parts"
		}
		text += ": " + v.Cost.Says + " in all"
	}
	v.Says = text + ". It works out in " + InTen(v.Works) + "."
	if f.Limit == 0 || !v.Known {
		return
	}
	limit := v.LimitSays
	switch {
	case v.Spent >= float64(f.Limit):
		v.Limits = "What is spent has passed the " + limit + " that the owner allows: ask before going on."
	case v.Over >= likely:
		v.Limits = "It will most likely cost more than the " + limit + " that the owner allows: ask first."
	case v.Over >= few:
		v.Limits = "It may cost more than the " + limit + " that the owner allows, in " + InTen(v.Over) + ": ask in time."
	default:
		v.Limits = "It stays within the " + limit + " that the owner allows."
	}
}

// estimate makes one for the owner.
func (v *View) estimate(f *Facts, n noted) Estimate {
	out := Estimate{Until: f.Now.AddDate(0, 0, holds).Format(time.DateOnly)}
	if v.Known {
		out.Low, out.High = amount(rounded(v.Cost.Low, math.Floor)).Text(""), amount(rounded(v.Cost.High, math.Ceil)).Text("")
	}
	var on []string
	switch {
	case f.Fitted:
		on = append(on, "The part that had failed is in; what is left is to try the set.")
	case f.PartKnown:
		on = append(on, "The part that has failed is known.")
	case f.Named:
		on = append(on, "It is known in which section the fault lies, and not yet which part it is.")
	default:
		on = append(on, "The fault is not found yet: it depends on where it lies.")
	}
	if v.chance("had") < surelyHad {
		on = append(on, "It depends on whether the part can still be had.")
	}
	for _, h := range Hindrances() {
		if n.seen[h.Key] && h.Key != "nothad" {
			on = append(on, mend.Sentence("What makes it less sure: "+h.Name))
		}
	}
	on = append(on, "Should it come to more, you are asked first.")
	out.Text = strings.Join(on, " ")
	return out
}

// basis says what the figures go by.
func basis(d *drawer) string {
	switch n := len(d.own); n {
	case 0:
		return "by what is usual, until jobs of this workshop are finished"
	case 1:
		return "by one finished job of this workshop, and by what is usual"
	default:
		return fmt.Sprintf("by %d finished jobs of this workshop, and by what is usual", n)
	}
}
