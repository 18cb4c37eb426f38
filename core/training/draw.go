package training

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/mend"
	"steptrace/core/sheet"
	"steptrace/core/standin"
)

// Kind is what sort of thing is wrong.
type Kind string

// The kinds of fault.
const (
	InBlock   Kind = "a stage"
	InPart    Kind = "a part"
	ByOther   Kind = "a wrong part"
	InSupply  Kind = "a supply"
	InControl Kind = "a control"
	InLead    Kind = "a lead"
	ByWarmth  Kind = "comes when warm"
	ByMoving  Kind = "a joint"
	InTwo     Kind = "two faults"
	InManual  Kind = "the manual"
)

// Kinds lists them, in the order of how hard they are to find.
var Kinds = []Kind{InBlock, InPart, ByOther, InSupply, InControl, InLead, ByWarmth, ByMoving, InTwo, InManual}

// ofLevel are the kinds of fault of each level.
var ofLevel = map[Level][]Kind{
	First: {InBlock, InPart},
	Usual: {InBlock, InPart, ByOther, InSupply, InControl, InLead},
	Long:  {InBlock, InPart, InSupply, InLead, ByWarmth, ByMoving},
	Hard:  {InTwo, InManual},
}

// Sizes of sets, in stages: few enough for first steps, and enough for a long one.
const (
	fewStages  = 9
	manyStages = 12
)

// Wish is what somebody wants to practise on. Empty: whatever comes.
type Wish struct {
	Level  Level
	Kind   Kind
	Advice Advice
	Seed   uint64
}

// mostTries is how often something is drawn until it shows; of a pattern about one fault in fifteen shows nowhere.
const mostTries = 200

// Draw makes a case from one of some sources: one whose fault shows at an exit so that its owner notices. Errors can be mended by a
// person (mend.Error), or are the context's.
func Draw(ctx context.Context, w Wish, sources []Source) (*Case, error) {
	rng := rand.New(rand.NewPCG(w.Seed, 0x7a1))
	if !slices.Contains(Levels, w.Level) {
		return nil, mend.Errorf("%q is no level: use first steps, usual, long or hard", w.Level)
	}
	if w.Kind != "" && !slices.Contains(Kinds, w.Kind) {
		return nil, mend.Errorf("%q is no kind of fault that is drawn", w.Kind)
	}
	if len(sources) == 0 {
		return nil, mend.Errorf("there is nothing to draw a set from")
	}
	for range mostTries {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		from := sources[rng.IntN(len(sources))]
		document, err := from.Sheet(rng)
		if err != nil {
			continue
		}
		plan, problems := document.Plan()
		if sheet.Blocked(problems) || len(plan.Routes) == 0 {
			continue
		}
		many := len(plan.Stages)
		if len(sources) > 1 && (w.Level == First && many > fewStages || w.Level == Long && many < manyStages) {
			continue
		}
		c := &Case{Level: w.Level, From: from.Name, Seed: rng.Uint64(), Advice: w.Advice, Manual: document}
		kinds := ofLevel[w.Level]
		kind := kinds[rng.IntN(len(kinds))]
		if w.Kind != "" {
			kind = w.Kind
		}
		if c.Kind = kind; c.draw(kind, plan, rng) {
			return c, nil
		}
	}
	return nil, mend.Errorf("no such fault shows at an exit of any of these sets: choose another kind, or another set")
}

// draw draws what is wrong, and has it told; false where it does not show, or the set has nothing of the kind.
func (c *Case) draw(kind Kind, plan *sheet.Plan, rng *rand.Rand) bool {
	first, ok := one(kind, c.Level, plan, rng)
	if !ok {
		return false
	}
	c.Faults = []Fault{first}
	if kind == InTwo {
		second, ok := one(InBlock, c.Level, plan, rng)
		if !ok || second.Block == first.Block {
			return false
		}
		c.Faults = append(c.Faults, second)
		if !c.eachShows(plan) {
			return false
		}
	}
	if kind == InManual && !c.misprint(plan, rng) {
		return false
	}
	if level := c.Level; level == Long || level == Hard {
		c.wearOut(plan, rng)
	}
	set, good, err := c.Set(plan, c.Faults)
	if err != nil || !c.tell(plan, Shows(set, good, plan, standin.Stand{Warm: true}), rng) {
		return false
	}
	c.Best, err = c.Solve()
	return err == nil && len(c.Best) == len(c.Faults)
}

// eachShows tells whether each of several faults shows by itself: one that does not would never be found.
func (c *Case) eachShows(plan *sheet.Plan) bool {
	for _, f := range c.Faults {
		set, good, err := c.Set(plan, []Fault{f})
		if err != nil || len(claims(plan, Shows(set, good, plan, standin.Stand{Warm: true}))) == 0 {
			return false
		}
	}
	return true
}

// one draws one fault of a kind.
func one(kind Kind, level Level, plan *sheet.Plan, rng *rand.Rand) (Fault, bool) {
	stage := func() string { return plan.Stages[rng.IntN(len(plan.Stages))].Name }
	pick := func(block string) (Fault, bool) {
		effects := slices.DeleteFunc(standin.EffectsOf(plan, block), func(e standin.Effect) bool {
			return e == standin.CuttingOut || level == First && e != standin.Dead && e != standin.Weak
		})
		f := Fault{Block: block, Effect: effects[rng.IntN(len(effects))]}
		if f.Effect == standin.Weak && level != First {
			f.Size = leastLoss + (mostLoss-leastLoss)*rng.Float64()
		}
		return f, true
	}
	switch kind {
	case InPart:
		f, ok := part(plan, rng)
		if level != First {
			f.Size = grave(rng)
		}
		return f, ok
	case ByOther:
		return other(plan, rng)
	case InSupply:
		if len(plan.Rails) == 0 {
			return Fault{}, false
		}
		return Fault{Block: plan.Rails[rng.IntN(len(plan.Rails))].Name,
			Effect: []standin.Effect{standin.Dead, standin.Weak, standin.Hum}[rng.IntN(3)]}, true
	case InControl:
		if len(plan.Controls) == 0 {
			return Fault{}, false
		}
		return Fault{Block: plan.Controls[rng.IntN(len(plan.Controls))].Name, Effect: standin.Dead}, true
	case InLead:
		return lead(plan, rng)
	case ByWarmth:
		return warms(plan, rng)
	case ByMoving:
		return Fault{Block: stage(), Effect: standin.CuttingOut, When: standin.Moved}, true
	}
	return pick(stage())
}

// warms draws what comes with warmth: of a stage, also that it drifts off; of a part, that it leaks or loses its value.
func warms(plan *sheet.Plan, rng *rand.Rand) (Fault, bool) {
	if f, ok := part(plan, rng); ok && rng.IntN(2) == 0 && (slices.Contains(wears, f.What) || strings.HasPrefix(f.What, "leaky")) {
		f.When, f.Size = standin.Warm, grave(rng)
		return f, true
	}
	block := plan.Stages[rng.IntN(len(plan.Stages))].Name
	effects := slices.DeleteFunc(standin.EffectsOf(plan, block), func(e standin.Effect) bool {
		return !slices.Contains([]standin.Effect{standin.Dead, standin.Weak, standin.Noisy, standin.Crackling, standin.Drifted}, e)
	})
	return Fault{Block: block, Effect: pick(rng, effects), When: standin.Warm}, true
}

// leastMissed is what a stage has to do (dB) for somebody to notice that a lead passes it by.
const leastMissed = 6.5

// lead draws a stage whose lead somebody put on the input of the stage before, where that is the same one on all ways.
func lead(plan *sheet.Plan, rng *rand.Rand) (Fault, bool) {
	var all []Fault
	for k := range plan.Stages {
		before, fits := -1, true
		for i := range plan.Routes {
			r := &plan.Routes[i]
			at := slices.Index(r.Stages, k)
			if at < 0 {
				continue
			}
			fits = fits && at > 0 && !plan.Points[r.Points[at-1]].Source && (before < 0 || before == r.Stages[at-1]) &&
				r.Levels[at-1].Known && r.Levels[at].Known && r.Levels[at-1].Hz == r.Levels[at].Hz &&
				math.Abs(r.Levels[at].DBV-r.Levels[at-1].DBV) > leastMissed
			if fits {
				before = r.Stages[at-1]
			}
		}
		if fits && before >= 0 {
			all = append(all, Fault{Block: plan.Stages[k].Name, Effect: standin.Miswired})
		}
	}
	if len(all) == 0 {
		return Fault{}, false
	}
	return pick(rng, all), true
}

// part draws the failure of a part in a stage's circuit, by how often such parts fail so.
func part(plan *sheet.Plan, rng *rand.Rand) (Fault, bool) {
	var all []Fault
	var shares []float64
	for i := range plan.Circuits {
		c := &plan.Circuits[i]
		if c.Net == nil || c.Net.Alternates() || c.Net.Runs() {
			continue
		}
		for _, f := range c.Net.Faults() {
			all = append(all, Fault{Block: c.Stage, Part: f.Part, What: f.What})
			shares = append(shares, f.Share)
		}
	}
	sum := 0.0
	for _, x := range shares {
		sum += x
	}
	at := sum * rng.Float64()
	for i, x := range shares {
		if at -= x; at <= 0 {
			return all[i], true
		}
	}
	return Fault{}, false
}

// What a weak stage loses, in dB: from what is noticed to what is next to nothing.
const leastLoss, mostLoss = 7.0, 28.0

// grave draws how grave a part's failure is; 0 is kept for the usual.
func grave(rng *rand.Rand) float64 { return 0.01 + 0.99*rng.Float64() }

// wears are the failures that parts come to by age.
var wears = []string{"drifted high", "drifted low", "low in capacitance", "of high ESR", "leaky", "of little gain"}

// wearOut draws a part that is off by age and of which nothing is noticed, where one is easily found: what somebody finds who looks
// for anything that is off.
func (c *Case) wearOut(plan *sheet.Plan, rng *rand.Rand) {
	const tries = 6
	for range tries {
		f, ok := part(plan, rng)
		if f.Size = grave(rng); !ok || !slices.Contains(wears, f.What) ||
			slices.ContainsFunc(c.Faults, func(x Fault) bool { return x.Block == f.Block && (x.Part == f.Part || x.Part == "") }) {
			continue
		}
		set, good, err := c.Set(plan, []Fault{f})
		if err == nil && !slices.ContainsFunc(Shows(set, good, plan, standin.Stand{Warm: true}), Shown.bad) {
			c.Worn = []Fault{f}
			return
		}
	}
}

// other draws a part in whose place somebody fitted another.
func other(plan *sheet.Plan, rng *rand.Rand) (Fault, bool) {
	var all []Fault
	for i := range plan.Circuits {
		c := &plan.Circuits[i]
		for _, p := range c.Parts {
			if c.Net != nil && p.There() && p.In != outside && (p.Kind == circuit.Resistor || p.Kind == circuit.Capacitor) {
				all = append(all, Fault{Block: c.Stage, Part: p.Name, What: pick(rng, []string{standin.TenTimes, standin.ATenth})})
			}
		}
	}
	if len(all) == 0 {
		return Fault{}, false
	}
	return pick(rng, all), true
}

// outside is where parts of a circuit are that stand for what it is connected to.
const outside = "outside"

// misprint exchanges the labels of two places in the manual, as drawings and boards often differ: next to each other on a way that the
// fault is on, neither of them an end. The set as it is stays beside it.
func (c *Case) misprint(plan *sheet.Plan, rng *rand.Rand) bool {
	set, _, err := c.Set(plan, c.Faults)
	if err != nil {
		return false
	}
	var pairs [][2]string
	for i := range plan.Routes {
		r := &plan.Routes[i]
		if !set.Concerns(r, standin.Stand{Warm: true}) {
			continue
		}
		for at := 1; at+2 < len(r.Points); at++ {
			a, b := r.Points[at], r.Points[at+1]
			const apart = 6 // dB: less than that nobody would notice
			if r.Levels[at].Known && r.Levels[at+1].Known && math.Abs(r.Levels[at].DBV-r.Levels[at+1].DBV) > apart {
				pairs = append(pairs, [2]string{plan.Points[a].Name, plan.Points[b].Name})
			}
		}
	}
	if len(pairs) == 0 {
		return false
	}
	p := pairs[rng.IntN(len(pairs))]
	manual := exchanged(c.Manual, p[0], p[1])
	if _, problems := manual.Plan(); sheet.Blocked(problems) {
		return false
	}
	c.True, c.Manual = c.Manual, manual
	c.Error = fmt.Sprintf("the labels %s and %s are exchanged", p[0], p[1])
	return true
}

// exchanged is a sheet that has two points by each other's names.
func exchanged(s *sheet.Sheet, a, b string) *sheet.Sheet {
	out := *s
	swap := func(name *string) {
		switch *name {
		case a:
			*name = b
		case b:
			*name = a
		}
	}
	out.Points, out.Stages, out.Rails = slices.Clone(s.Points), slices.Clone(s.Stages), slices.Clone(s.Rails)
	for i := range out.Points {
		swap(&out.Points[i].Name)
		swap(&out.Points[i].Twin)
	}
	for i := range out.Stages {
		st := &out.Stages[i]
		swap(&st.From)
		swap(&st.To)
		st.Needs = slices.Clone(st.Needs)
		for k := range st.Needs {
			swap(&st.Needs[k])
		}
	}
	for i := range out.Rails {
		swap(&out.Rails[i].From)
		swap(&out.Rails[i].Point)
	}
	out.Circuits = slices.Clone(s.Circuits)
	for i := range out.Circuits {
		c := &out.Circuits[i]
		c.Parts = slices.Clone(c.Parts)
		for k := range c.Parts {
			c.Parts[k].Nodes = slices.Clone(c.Parts[k].Nodes)
			for n := range c.Parts[k].Nodes {
				swap(&c.Parts[k].Nodes[n])
			}
		}
	}
	return &out
}
