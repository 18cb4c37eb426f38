// Package supply knows the supplies of a set: which element explains a rail
// that is missing, low, high or rippling, how much capacitance a ripple leaves,
// and where on a rail a short sits.
//
//	for _, r := range supply.Explain(plan, &findings) { ... }
package supply

import (
	"fmt"
	"slices"

	"steptrace/core/exchange"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Sort is a sort of element between the wall and the load.
type Sort string

// Words implements exchange.Enumerated.
func (Sort) Words() []string {
	return exchange.WordsOf([]Sort{Mains, Winding, Parent, Fuse, Rectifier, Reservoir, Regulator, Load})
}

// The elements of a rail, from the wall on.
const (
	Mains     Sort = "mains"
	Winding   Sort = "winding"
	Parent    Sort = "rail"
	Fuse      Sort = "fuse"
	Rectifier Sort = "rectifier"
	Reservoir Sort = "reservoir"
	Regulator Sort = "regulator"
	Load      Sort = "load"
)

// Standing is what the readings say of an element.
type Standing string

// Words implements exchange.Enumerated.
func (Standing) Words() []string { return exchange.WordsOf([]Standing{Open, Good, Suspect, Faulty}) }

// The standings of an element.
const (
	Open    Standing = "" // nothing is known yet
	Good    Standing = "good"
	Suspect Standing = "suspect"
	Faulty  Standing = "faulty"
)

// Element is one link of the chain from the wall to the load, with what the
// readings say of it.
type Element struct {
	Kind     Sort     `json:"kind"`
	Name     string   `json:"name"`
	Standing Standing `json:"standing"`
	Why      string   `json:"why"`
}

// Check is what to read next, where, and what to lift for it. Without is never nil.
type Check struct {
	Point    string         `json:"point"`
	Quantity sheet.Quantity `json:"quantity"`
	Text     string         `json:"text"`
	Without  []string       `json:"without"`
}

// State is how a rail stands.
type State string

// Words implements exchange.Enumerated.
func (State) Words() []string {
	return exchange.WordsOf([]State{Unread, Fine, Waiting, Missing, Low, High, Rippling, Shorted})
}

// The states of a rail. Waiting: it comes up only when the set is told to start.
const (
	Unread   State = ""
	Fine     State = "good"
	Waiting  State = "waiting"
	Missing  State = "missing"
	Low      State = "low"
	High     State = "high"
	Rippling State = "rippling"
	Shorted  State = "shorted" // read with the set off
)

// Rail is a rail with what the readings say. Lists are never nil.
type Rail struct {
	Name     string    `json:"name"`
	Expected string    `json:"expected"`
	Up       string    `json:"up"` // when it comes up, in words
	Needed   []string  `json:"needed"`
	Read     string    `json:"read"`
	Ripple   string    `json:"ripple"`
	Ohms     string    `json:"ohms"`
	State    State     `json:"state"`
	Says     string    `json:"says"` // one sentence
	Elements []Element `json:"elements"`
	Next     []Check   `json:"next"`
	Hunt     *Hunt     `json:"hunt" jsonschema:"nullable"`
}

// seen is the newest of each kind of reading of one rail.
type seen struct {
	volts, ripple, hz, ohms *reading.Judged
	bridged                 *reading.Judged // its volts with nothing out but its own fuse, bridged
}

// explainer holds the work of one Explain.
type explainer struct {
	plan   *sheet.Plan
	seen   []seen
	fuses  map[string]*reading.Judged
	judged []reading.Judged
	states []State
}

// halfTolerance is how near to half (as a fraction) a ripple's frequency has to
// be for half of a rectifier to be taken for open.
const halfTolerance = 0.1

// Explain says of every rail, in the order they come up, how it stands and
// which element explains it. The rules are those of any text on linear and
// switching supplies: what rails have in common is cleared by one that works;
// ripple at half its frequency means half a full-wave rectifier; more ripple at
// the right frequency means capacitance lost; a blown fuse or a low resistance
// to ground means a short behind.
func Explain(plan *sheet.Plan, found *trace.Findings) []Rail {
	// What was read before a repair describes the rails as they were.
	judged := slices.DeleteFunc(slices.Clone(found.Readings), func(j reading.Judged) bool { return j.Earlier })
	x := &explainer{
		plan:   plan,
		seen:   make([]seen, len(plan.Rails)),
		fuses:  map[string]*reading.Judged{},
		judged: judged,
		states: make([]State, len(plan.Rails)),
	}
	x.collect()
	for i := range plan.Rails {
		x.states[i] = x.state(i)
	}
	order := make([]int, len(plan.Rails))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return rank(plan, a) - rank(plan, b) })
	out := make([]Rail, 0, len(order))
	for _, i := range order {
		out = append(out, x.rail(i))
	}
	offFirst(out, found.Verify)
	return out
}

// offFirst: while a rail is shorted nothing is read that needs power, and the search for the short
// comes first; after a repair the short has to be shown gone before power goes on.
func offFirst(rails []Rail, verify []trace.Ground) {
	due := func(g trace.Ground) bool { return g.Safety && g.Proof == trace.Lacking }
	if !slices.ContainsFunc(rails, func(r Rail) bool { return r.Hunt != nil }) && !slices.ContainsFunc(verify, due) {
		return
	}
	for i := range rails {
		r := &rails[i]
		r.Next = slices.DeleteFunc(r.Next, func(c Check) bool { return c.Quantity != sheet.Resistance })
		for _, g := range verify {
			if due(g) &&
				(g.Point == r.Name || slices.ContainsFunc(r.Elements, func(e Element) bool {
					return e.Kind == Fuse &&
						e.Name == g.Point
				})) {
				r.Says = fmt.Sprintf("Before power goes on again: read %s in ohms.", g.Point)
				r.Next = append(
					r.Next,
					Check{g.Point, g.Quantity, fmt.Sprintf("Read %s in ohms, with the set off and discharged.", g.Point), []string{}},
				)
			}
		}
		if h := r.Hunt; h != nil && h.Lift != nil && h.Warm == "" && h.Found == nil && len(r.Next) == 0 {
			r.Next = append(r.Next, Check{r.Name, sheet.Resistance, h.Lift.Sentence, h.Lift.Names})
		}
	}
}

// rank orders rails as they come up: by the sheet's order, then those with the
// mains before those that wait for the start, then those made from others.
func rank(p *sheet.Plan, i int) int {
	r := &p.Rails[i]
	n := r.Order
	if n == 0 {
		n = len(p.Rails) + 1
		if r.Up == sheet.WithStart {
			n += len(p.Rails)
		}
	}
	return n*(len(p.Rails)+1) + len(p.Feeds(i))
}

// collect picks the newest reading of each kind.
func (x *explainer) collect() {
	for i := range x.judged {
		j := &x.judged[i]
		r := &j.Reading
		if r.Struck || j.Superseded || j.Verdict == reading.Unjudged && r.Quantity != sheet.Frequency {
			continue
		}
		k, ok := x.plan.RailIndex(r.Point)
		if !ok {
			if len(x.plan.FuseRails(r.Point)) > 0 {
				x.fuses[r.Point] = j
			}
			continue
		}
		s := &x.seen[k]
		if len(r.Without) > 0 {
			if r.Quantity == x.plan.Rails[k].Reads() &&
				!slices.ContainsFunc(r.Without, func(name string) bool { return !slices.Contains(x.plan.FuseRails(name), k) }) {
				s.bridged = j
			}
			continue // the hunt for a short looks at these
		}
		switch r.Quantity {
		case x.plan.Rails[k].Reads():
			s.volts = j
		case sheet.AC:
			s.ripple = j
		case sheet.Frequency:
			s.hz = j
		case sheet.Resistance:
			s.ohms = j
		}
	}
}

func (x *explainer) state(i int) State {
	s := &x.seen[i]
	shorted := s.ohms != nil && s.ohms.Verdict == reading.Low
	switch {
	case s.volts == nil && shorted, s.volts == nil && x.pulledDown(i):
		return Shorted
	case s.volts == nil && s.ripple == nil:
		return Unread
	case s.volts != nil && s.volts.Verdict == reading.Within && s.volts.Note != "":
		return Waiting
	case s.volts != nil && s.volts.Verdict == reading.Absent:
		return Missing
	case s.volts != nil && s.volts.Verdict == reading.Low:
		return Low
	case s.volts != nil && s.volts.Verdict == reading.High:
		return High
	case s.ripple != nil && s.ripple.Verdict.Bad():
		return Rippling
	}
	return Fine
}

// there tells whether a rail was read present, be it low.
func (x *explainer) there(i int) bool {
	return slices.Contains([]State{Fine, Low, High, Rippling}, x.states[i]) && x.seen[i].volts != nil
}

func (x *explainer) rail(i int) Rail {
	r := &x.plan.Rails[i]
	s := &x.seen[i]
	out := Rail{
		Name:     r.Name,
		Expected: r.Due(),
		Needed:   []string{},
		State:    x.states[i],
		Elements: x.chain(i),
		Next:     []Check{},
		Up:       "with the mains",
	}
	if r.Up == sheet.WithStart {
		out.Up = "when told to start"
	}
	for k := range x.plan.Stages {
		if slices.Contains(x.plan.Stages[k].Rails, i) {
			out.Needed = append(out.Needed, x.plan.Stages[k].Name)
		}
	}
	for _, part := range []struct {
		j  *reading.Judged
		to *string
	}{{s.volts, &out.Read}, {s.ripple, &out.Ripple}, {s.ohms, &out.Ohms}} {
		if part.j != nil {
			*part.to = part.j.Understood
		}
	}
	x.judgeElements(i, &out)
	if out.State == Shorted || x.shorted(i) {
		out.Hunt = x.hunt(i)
		if out.Hunt.Proved {
			out.Says = out.Hunt.Says
		}
	}
	return out
}

// shorted tells whether anything speaks for a short on a rail.
func (x *explainer) shorted(i int) bool {
	s := &x.seen[i]
	fuse := x.fuses[x.plan.Rails[i].Fuse]
	return x.pulledDown(i) || s.ohms != nil && s.ohms.Verdict == reading.Low || fuse != nil && fuse.Verdict.Bad() || x.comesBack(i) != nil
}

// pulledDown tells whether a rail stays down with its fuse bridged: something takes all the
// current.
func (x *explainer) pulledDown(i int) bool {
	b := x.seen[i].bridged
	return b != nil && (b.Verdict == reading.Absent || b.Verdict == reading.Low)
}

// comesBack finds a reading that shows the rail there with something lifted,
// while it is missing or low otherwise.
func (x *explainer) comesBack(i int) *reading.Judged {
	if x.states[i] != Missing && x.states[i] != Low {
		return nil
	}
	for k := range x.judged {
		j := &x.judged[k]
		if !j.Reading.Struck && j.Reading.Point == x.plan.Rails[i].Name && len(j.Reading.Without) > 0 &&
			j.Reading.Quantity == x.plan.Rails[i].Reads() &&
			j.Verdict == reading.Within {
			return j
		}
	}
	return nil
}

// chain lists the elements of a rail from the wall on.
func (x *explainer) chain(i int) []Element {
	r := &x.plan.Rails[i]
	var out []Element
	add := func(kind Sort, name string) {
		if name != "" {
			out = append(out, Element{Kind: kind, Name: name})
		}
	}
	if r.Parent >= 0 {
		add(Parent, x.plan.Rails[r.Parent].Name)
	} else {
		add(Mains, "mains lead, switch and primary")
		add(Winding, r.From)
	}
	add(Fuse, r.Fuse)
	add(Rectifier, r.Rectifier)
	for k := range x.plan.Reservoirs {
		if x.plan.Reservoirs[k].Rail == i {
			add(Reservoir, x.plan.Reservoirs[k].Name)
		}
	}
	add(Regulator, r.Regulator)
	add(Load, "what hangs on it")
	return out
}

// marker sets the standing of the elements of one kind.
func marker(elements []Element) func(kind Sort, s Standing, why string) bool {
	return func(kind Sort, s Standing, why string) bool {
		found := false
		for i := range elements {
			if e := &elements[i]; e.Kind == kind {
				e.Standing, e.Why, found = s, why, true
			}
		}
		return found
	}
}
