package adjust

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/safety"
	"steptrace/core/sheet"
)

// Verdict is what a reading says of an adjustment.
type Verdict string

// Words implements exchange.Enumerated.
func (Verdict) Words() []string { return exchange.WordsOf([]Verdict{Unjudged, Right, TooLow, TooHigh}) }

// Nothing can be said; it is as it should be; it is below or above that. What is judged by eye or ear as bad is low.
const (
	Unjudged Verdict = ""
	Right    Verdict = "right"
	TooLow   Verdict = "low"
	TooHigh  Verdict = "high"
)

func (v Verdict) off() bool { return v == TooLow || v == TooHigh }

func verdictOf(a *sheet.PlanAdjustment, r *Read) Verdict {
	switch {
	case a.Sought == sheet.ByEye || a.Sought == sheet.ByEar:
		if strings.EqualFold(strings.TrimSpace(r.Text), "good") {
			return Right
		}
		return TooLow
	case a.Sought != sheet.SoughtValue:
		return Unjudged
	case r.SI < a.Low:
		return TooLow
	case r.SI > a.High:
		return TooHigh
	}
	return Right
}

// State is how an adjustment stands.
type State string

// Words implements exchange.Enumerated.
func (State) Words() []string { return exchange.WordsOf([]State{Open, Begun, Done, Again}) }

// Nothing was done; it was read; it is left as it has to be; it was, and what moves it was turned since, or the set
// repaired.
const (
	Open  State = "open"
	Begun State = "begun"
	Done  State = "set"
	Again State = "again"
)

// Now is how things are as an adjustment is looked at: the time, since when the set is on (nil: it is not, or nobody said;
// Off where it was said that it is not), when it was last repaired, and what an instrument has shown of late, by
// adjustment.
type Now struct {
	At       time.Time
	On       *time.Time
	Off      bool
	Repaired time.Time
	Live     map[string][]Sample
	Computed *Computed // what the circuits say; nil: that is left out
}

// Condition is one of those that have to be met.
type Condition struct {
	Text   string `json:"text"`
	Ticked bool   `json:"ticked"`
}

// Warming is the warm-up: how long is needed and how long it still takes, in seconds. Since is when it began; nil: it did
// not.
type Warming struct {
	Needed float64    `json:"needed"`
	Left   float64    `json:"left"`
	Since  *time.Time `json:"since" jsonschema:"nullable"`
}

// Reading is one of an adjustment's, judged. Says is it as it is shown, with the current that it stands for.
type Reading struct {
	ID      string        `json:"id"`
	At      time.Time     `json:"at"`
	Text    string        `json:"text"`
	SI      float64       `json:"si"`
	Unit    quantity.Unit `json:"unit"`
	Place   string        `json:"place"`
	Share   float64       `json:"share"` // of the travel, where the place is said
	Value   string        `json:"value"` // in the unit that is sought
	Verdict Verdict       `json:"verdict"`
	Says    string        `json:"says"`
	Earlier bool          `json:"earlier"` // of the set before its last repair
}

// Standing is how an adjustment stands. Ribbon are the bounds of what is right, in SI units, nil where there are none.
// Before and After are the first and the last reading since the set was last repaired; Course what was read lately, with
// what an instrument showed, for drawing.
type Standing struct {
	Name       string        `json:"name"`
	Kind       string        `json:"kind"`
	Turn       string        `json:"turn"`
	Where      string        `json:"where"`
	Target     string        `json:"target"`
	Bounds     string        `json:"bounds"`
	Sought     sheet.Sought  `json:"sought"`
	Unit       quantity.Unit `json:"unit"`
	Ribbon     []float64     `json:"ribbon"`
	Source     sheet.Source  `json:"source"`
	Beware     string        `json:"beware"`
	Manual     string        `json:"manual"`
	Why        string        `json:"why"`
	Conditions []Condition   `json:"conditions"`
	Warm       Warming       `json:"warm"`
	Readings   []Reading     `json:"readings"`
	Before     *Reading      `json:"before" jsonschema:"nullable"`
	After      *Reading      `json:"after" jsonschema:"nullable"`
	LeftSo     string        `json:"leftSo"` // why it is left as it is
	Course     []Sample      `json:"course"`
	Drift      *Drift        `json:"drift" jsonschema:"nullable"`
	Null       *Null         `json:"null" jsonschema:"nullable"`
	Slope      *Slope        `json:"slope" jsonschema:"nullable"`
	Other      string        `json:"other"` // what the other channel shows
	OtherName  string        `json:"otherName"`
	State      State         `json:"state"`
	Says       string        `json:"says"`
	Doubt      string        `json:"doubt"`

	written int // values of the set's own menu
}

// Look tells how every adjustment of a sheet stands, in the order in which they are made.
func Look(plan *sheet.Plan, entries []Entry, now Now) []Standing {
	out := make([]Standing, 0, len(plan.Adjustments))
	for _, i := range Order(plan) {
		out = append(out, look(plan, entries, now, i))
	}
	return out
}

// Order is the order in which adjustments are made: what moves another comes before it, else as in the sheet. Of a circle
// the sheet's order stands.
func Order(plan *sheet.Plan) []int {
	var out []int
	put := make([]bool, len(plan.Adjustments))
	for len(out) < len(put) {
		next := -1
		for i := range plan.Adjustments {
			if put[i] {
				continue
			}
			if next < 0 {
				next = i // where none is free
			}
			if !slices.ContainsFunc(plan.Adjustments[i].After, func(k int) bool { return !put[k] }) {
				next = i
				break
			}
		}
		put[next] = true
		out = append(out, next)
	}
	return out
}

// Long: what is told of one, a thing after the other.
func look(plan *sheet.Plan, entries []Entry, now Now, i int) Standing {
	a := &plan.Adjustments[i]
	s := Standing{
		Name:       a.Name,
		Kind:       cmp.Or(a.Kind, "other"),
		Turn:       a.Turn,
		Where:      a.Measure,
		Target:     a.Adjustment.Target,
		Sought:     a.Sought,
		Unit:       cmp.Or(a.Target.Unit, quantity.Volt),
		Ribbon:     []float64{},
		Source:     a.Source,
		Beware:     a.Beware,
		Manual:     a.Manual,
		Why:        a.Why,
		Conditions: []Condition{},
		Readings:   []Reading{},
		Course:     []Sample{},
		State:      Open,
	}
	if a.Sought == sheet.SoughtValue {
		s.Target = quantity.Value{SI: a.Target.SI, Unit: a.Target.Unit}.Short(4)
		s.Ribbon = []float64{a.Low, a.High}
		s.Bounds = boundsOf(a)
		if c, ok := CurrentOf(a, a.Target.SI, a.Target.Unit); ok && a.Target.Unit == quantity.Volt {
			s.Bounds += ": " + c.Says
		}
	}
	for _, text := range a.Conditions {
		s.Conditions = append(s.Conditions, Condition{Text: text})
	}
	s.Warm.Needed, s.written = a.Warm, len(Menu(entries))
	warm := now.On
	var left time.Time
	var turned []Turned
	for k := range entries {
		e := &entries[k]
		earlier := e.At.Before(now.Repaired)
		switch {
		case e.Struck:
		case e.Warm != nil:
			if at := e.At; now.On == nil || at.After(*now.On) {
				warm = &at
			}
		case e.Adjustment != a.Name:
		case e.Tick != nil && !earlier:
			if c := slices.IndexFunc(s.Conditions, func(c Condition) bool { return c.Text == e.Tick.Condition }); c >= 0 {
				s.Conditions[c].Ticked = !e.Tick.Off
			}
		case e.Read != nil:
			r := readingOf(a, e, earlier)
			s.Readings = append(s.Readings, r)
			if earlier {
				break
			}
			if s.Before == nil {
				s.Before = &r
			}
			s.After, s.State = &r, Begun
			s.Course = append(s.Course, Sample{e.At, e.Read.SI})
			if e.Read.Position != "" {
				turned = append(turned, Turned{e.Read.Place, math.Abs(e.Read.SI)})
			}
		case e.Left != nil:
			left = e.At
			s.State, s.LeftSo = Done, e.Left.Why
			if earlier {
				s.State = Again
			}
		}
	}
	if !now.Off && warm != nil {
		s.Warm.Since = warm
		s.Warm.Left = math.Max(0, a.Warm-math.Max(0, now.At.Sub(*warm).Seconds()))
	} else {
		s.Warm.Left = a.Warm
	}
	s.moves(a, now)
	if a.Sought == sheet.SoughtLeast || a.Sought == sheet.SoughtMost {
		if n, err := Search(turned, a.Sought == sheet.SoughtMost); err == nil {
			s.Null = &n
		} else {
			s.Doubt = mend.Sentence(err.Error())
		}
	}
	if now.Computed != nil {
		s.Slope = now.Computed.Slopes[i]
	}
	if a.Twin >= 0 {
		t := &plan.Adjustments[a.Twin]
		s.OtherName = t.Name
		if r, ok := lastRead(entries, t.Name); ok {
			e := Entry{Read: r}
			s.Other = readingOf(t, &e, false).Value
		}
	}
	if s.State == Done {
		s.again(plan, entries, a, left)
	}
	s.Says = s.sentence(a, now)
	return s
}

// boundsOf writes between which values an adjustment is right.
func boundsOf(a *sheet.PlanAdjustment) string {
	low, high := quantity.Value{SI: a.Low, Unit: a.Target.Unit}, quantity.Value{SI: a.High, Unit: a.Target.Unit}
	return low.Short(3) + " to " + high.Short(3)
}

func readingOf(a *sheet.PlanAdjustment, e *Entry, earlier bool) Reading {
	r := Reading{
		ID:      e.ID,
		At:      e.At,
		Text:    e.Read.Text,
		SI:      e.Read.SI,
		Unit:    e.Read.Unit,
		Place:   e.Read.Position,
		Share:   e.Read.Place,
		Verdict: verdictOf(a, e.Read),
		Value:   e.Read.Text,
		Earlier: earlier,
	}
	if r.Unit != quantity.None && r.Unit != quantity.Decibel {
		r.Value = quantity.Value{SI: r.SI, Unit: r.Unit}.Short(4)
	}
	r.Says = r.Value
	if c, ok := CurrentOf(a, r.SI, r.Unit); ok {
		r.Says += ": " + c.Says
	}
	return r
}

// moves tells how what is read moves, from an instrument or from what was typed.
func (s *Standing) moves(a *sheet.PlanAdjustment, now Now) {
	s.Course = append(s.Course, now.Live[a.Name]...)
	slices.SortStableFunc(s.Course, func(x, y Sample) int { return x.At.Compare(y.At) })
	if d, ok := DriftOf(s.Course, a.High-a.Low, s.Unit); ok {
		s.Drift = &d
	}
}

// again tells where what moves an adjustment was turned since it was left.
func (s *Standing) again(plan *sheet.Plan, entries []Entry, a *sheet.PlanAdjustment, left time.Time) {
	for _, k := range a.After {
		name := plan.Adjustments[k].Name
		for i := range entries {
			e := &entries[i]
			if e.Adjustment == name && !e.Struck && e.Left != nil && e.At.After(left) {
				s.State = Again
				s.Doubt = name + " was turned since, and moves it: read it again."
			}
		}
	}
}

// Says what comes next at an adjustment.
//
// Long: a case for each.
func (s *Standing) sentence(a *sheet.PlanAdjustment, now Now) string {
	turn, where := cmp.Or(s.Turn, "its control"), cmp.Or(strings.TrimPrefix(s.Where, "across "), "where it is measured")
	open := slices.IndexFunc(s.Conditions, func(c Condition) bool { return !c.Ticked })
	judged := a.Sought == sheet.ByEye || a.Sought == sheet.ByEar
	switch {
	case s.State == Done && s.LeftSo != "":
		return "Left as it is: " + s.LeftSo + "."
	case s.State == Done && s.After != nil:
		return "Set: " + s.After.Value + "."
	case s.State == Done:
		return "Set."
	case a.Kind == sheet.MenuSetting && a.Sought == sheet.SoughtNone && s.written > 0:
		return fmt.Sprintf("%d values of it are written down: change what has to be, and leave it so.", s.written)
	case a.Kind == sheet.MenuSetting && a.Sought == sheet.SoughtNone:
		return "Write down what " + turn + " stands at before it is changed."
	case now.Off:
		return "The set is off: switch it on, by its isolating transformer where its chassis can be live."
	case open >= 0:
		return "First: " + s.Conditions[open].Text + "."
	case s.Before == nil && !judged:
		return "Read " + where + " before " + turn + " is touched: what it was is kept."
	case s.Warm.Since == nil && s.Warm.Needed > 0:
		return "It has to warm up for " + minutes(s.Warm.Needed) + ": say that it is on, and the time counts."
	case s.Warm.Left > 0:
		return "Let it warm up for another " + minutes(s.Warm.Left) + "."
	case s.Null != nil:
		return s.Null.Says
	case judged && s.After == nil:
		return "Turn " + turn + " until it is right " + strings.TrimPrefix(
			string(a.Sought),
			"by ",
		) + ": judge it " + string(
			a.Sought,
		) + "."
	case a.Sought == sheet.SoughtNone && s.Other != "":
		return "No target is known; " + s.OtherName + " shows " + s.Other + "."
	case a.Sought == sheet.SoughtNone:
		return "No target is known: note what it shows, and leave " + turn + " where it is."
	case s.After.Verdict.off() && !judged:
		return s.turnIt(a, turn, where)
	case s.After.Verdict.off():
		return "Turn " + turn + " and judge it again."
	case s.Drift != nil && !s.Drift.Stable:
		return "It is right, but not at rest. " + s.Drift.Says
	case s.Drift == nil && s.Warm.Needed > 0 && !judged:
		return "It is right now. Watch it for a minute or two before you leave it."
	}
	return "It is right and stands still: leave it so."
}

// turnIt says by how much it is off, and by about how much to turn.
func (s *Standing) turnIt(a *sheet.PlanAdjustment, turn, where string) string {
	off := s.After.SI - a.Target.SI
	text := fmt.Sprintf("Turn %s slowly until %s shows %s: it is %s by %s", turn, where, s.Target, s.After.Verdict,
		quantity.Value{SI: math.Abs(off), Unit: s.Unit}.Short(2))
	if s.Slope != nil {
		step := math.Max(math.Abs(s.Slope.Eighth), math.Abs(s.Slope.Back))
		if step > 0 {
			const eighths = 8
			n := math.Abs(off) / step / eighths
			switch {
			case n < 1.0/32:
				text += ", a hair's breadth of a turn"
			case n < a.Turns:
				text += fmt.Sprintf(", about %s of a turn", part(n))
			}
		}
	}
	return text + "."
}

// part writes a share of a turn as one speaks of it.
func part(n float64) string {
	for _, p := range []struct {
		upTo float64
		text string
	}{{0.09, "a sixteenth"}, {0.18, "an eighth"}, {0.3, "a quarter"}, {0.43, "three eighths"}, {0.6, "half"}, {0.85, "three quarters"}} {
		if n < p.upTo {
			return p.text
		}
	}
	return fmt.Sprintf("%.0f", n)
}

func minutes(seconds float64) string {
	s := int(math.Ceil(seconds))
	const minute = 60
	switch {
	case s < minute:
		return fmt.Sprintf("%d s", s)
	case s%minute == 0 || s >= 10*minute:
		return fmt.Sprintf("%d min", (s+minute-1)/minute)
	}
	return fmt.Sprintf("%d min %d s", s/minute, s%minute)
}

// Cautions are what is minded before a set is adjusted while it is on.
func Cautions(plan *sheet.Plan) []string {
	out := []string{
		"It is on and open: an insulated tool that fits the slot, one hand, the other one off the chassis. " +
			"Hook clips are put on while it is off.",
	}
	kinds := map[string]bool{}
	for _, h := range plan.Sheet.Hazards {
		kinds[h.Kind] = true
	}
	if kinds["mains"] || kinds["hot chassis"] {
		out = append(out, "The mains are open beside you: feed it by an isolating transformer, instruments that are earthed only then.")
	}
	switch {
	case kinds["picture tube"]:
		out = append(out, "High voltage: stay away from tube and flyback; adjust nothing there with a metal blade.")
	case kinds["pulses"]:
		out = append(out, "Pulses of high voltage: nothing is probed or turned there with a metal blade.")
	}
	if kinds["hot parts"] {
		out = append(out, "Heat sinks and emitter resistors burn.")
	}
	return append(
		out,
		"A control of unknown contact can jump: mark its place first, turn it little by little, and watch what it takes from the mains.",
		safety.Deferral,
	)
}

// Judge works a reading out and judges it, as it will be once it is kept. Errors can be mended by a person.
func Judge(plan *sheet.Plan, e *Entry) (Reading, error) {
	i, ok := plan.Adjustment(e.Adjustment)
	if !ok || e.Read == nil {
		return Reading{}, mend.Errorf("the sheet has no adjustment called %q", e.Adjustment)
	}
	a := &plan.Adjustments[i]
	if err := e.Read.take(a); err != nil {
		return Reading{}, err
	}
	r := readingOf(a, e, false)
	switch {
	case r.Verdict == Right:
		r.Says += ": right"
	case r.Verdict.off() && a.Sought == sheet.SoughtValue:
		r.Says += fmt.Sprintf(": %s, %s is right", r.Verdict, boundsOf(a))
	}
	return r, nil
}
