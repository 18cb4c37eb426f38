package training

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
)

// Step is one reading on the way to a fault.
type Step struct {
	Does    string  `json:"does"` // "probe X for its dc"
	Reads   string  `json:"reads"`
	Minutes float64 `json:"minutes"`
}

// Path is how the program's own proposals lead to what is wrong with a set: what was read, in order, and which block it ended at; empty
// where they ended at none.
type Path struct {
	Steps   []Step   `json:"steps"`
	Ends    string   `json:"ends"`
	Left    []string `json:"left,omitempty"` // where none parts what is left: the likeliest first
	Minutes float64  `json:"minutes"`

	log    []reading.Reading // what was tried and read on it
	tried  int               // how many of them from outside, before the first step
	mended bool              // labels were exchanged
}

// mostSteps ends a way that leads nowhere.
const mostSteps = 60

// Solve follows the program's own proposals from the intake on, with nothing known but what the set shows: a path for each fault, in the
// order in which they are found and put right. There are fewer of them than faults where the proposals end elsewhere.
func (c *Case) Solve() ([]Path, error) {
	left := slices.Clone(c.Faults)
	var out []Path
	for len(left) > 0 {
		p, set, err := c.trace(left)
		if err != nil {
			return nil, err
		}
		i := slices.IndexFunc(left, func(f Fault) bool { return p.ends(f, set) })
		if i < 0 {
			return out, nil
		}
		left = slices.Delete(left, i, i+1)
		out = append(out, *p)
	}
	return out, nil
}

// ends tells whether a path ended at a fault: at its block, or at a rail that it pulls down, from where ohms lead on; or nothing parts
// what is left, and it is the likeliest of it.
func (p *Path) ends(f Fault, set *standin.Set) bool {
	return p.Ends == f.Block || f.Part != "" && set.PullsDown(p.Ends) || p.Ends == "" && len(p.Left) > 0 && p.Left[0] == f.Block
}

// trace follows the proposals to the first fault that they end at.
func (c *Case) trace(left []Fault) (*Path, *standin.Set, error) {
	bench, err := c.benchOf(left)
	if err != nil {
		return nil, nil, err
	}
	plan, set, good := bench.Plan, bench.Set, bench.Good
	manual, problems := c.Manual.Plan()
	if sheet.Blocked(problems) {
		return nil, nil, fmt.Errorf("the manual of this case cannot be worked out: %s", problems[0].Message)
	}
	t := trace.Case{Bench: reading.Bench{Plan: manual, Route: reading.FirstRoute(manual), Power: reading.PowerOn}}
	var log []reading.Reading
	for _, x := range Shows(set, good, plan, bench.Stand) {
		r := reading.Reading{ID: fmt.Sprint(len(log)), Point: x.Exit, Quantity: sheet.AC, Mode: x.Mode, Power: reading.PowerOn}
		if entry, ok := manual.PointIndex(x.Entry); ok && !manual.Points[entry].Source {
			r.Injected = &reading.Injection{At: x.Entry}
		}
		r.Word = x.As.Mark()
		r.Text = string(r.Word)
		log = append(log, r)
	}
	t.Route = t.Follows(log)
	p, err := follow(t, bench, log)
	return p, set, err
}

// benchOf is the set of a case on a bench, warm, with what is still wrong with it.
func (c *Case) benchOf(left []Fault) (*Bench, error) {
	plan, err := c.Plan()
	if err != nil {
		return nil, err
	}
	set, good, err := c.Set(plan, left)
	if err != nil {
		return nil, err
	}
	return &Bench{Plan: plan, Set: set, Good: good, Stand: standin.Stand{Warm: true}}, nil
}

// follow takes each reading that is proposed until a block is named.
//
// Long: each state of a trace has its own way on.
func follow(t trace.Case, bench *Bench, log []reading.Reading) (*Path, error) {
	out := &Path{log: log, tried: len(log)}
	been := map[string]bool{t.Route.Key: true}
	asked := map[string]int{}
	for len(out.Steps) < mostSteps {
		f := t.Find(log)
		next := f.Next
		if f.State == trace.Named {
			next = missing(&f, asked)
		}
		if next == nil && out.mend(&t, &f, log) {
			continue
		}
		if f.State == trace.Named && next == nil {
			out.Ends = f.Stage
			return out, nil
		}
		if f.State == trace.Supply {
			if f.Line != "" {
				out.Ends = f.Line
				return out, nil
			}
			if next == nil {
				next = missing(&f, asked)
			}
			if next == nil {
				next = line(&f, t.Plan, asked)
			}
		}
		switch {
		case f.GoTo != "" && !been[f.GoTo]:
			been[f.GoTo] = true
			if route, ok := t.Plan.Route(f.GoTo); ok {
				t.Route, t.Injected = route, nil
				continue
			}
		case next == nil || asked[keyOf(next)] > mostAsked:
			out.Left = likeliest(&f)
			return out, nil
		}
		asked[keyOf(next)]++
		step, r, err := take(&t, bench, next, len(log))
		if err != nil {
			return nil, err
		}
		log = append(log, r)
		out.log = log
		out.Steps = append(out.Steps, step)
		out.Minutes += step.Minutes
	}
	return out, nil
}

// labelMinutes is what it takes to look a label up on the board and mend the sheet by it.
const labelMinutes = 1.0

// mend exchanges two labels of the sheet where that is what the readings say, once; false where it is not.
func (p *Path) mend(t *trace.Case, f *trace.Findings, log []reading.Reading) bool {
	if p.mended || len(f.Manual) == 0 || len(f.Manual[0].Points) != 2 {
		return false
	}
	a, b := f.Manual[0].Points[0], f.Manual[0].Points[1]
	for i := range t.Plan.Routes { // a socket is what it is
		points := t.Plan.Routes[i].Points
		for _, end := range []int{points[0], points[len(points)-1]} {
			if name := t.Plan.Points[end].Name; name == a || name == b {
				return false
			}
		}
	}
	plan, problems := exchanged(t.Plan.Sheet, a, b).Plan()
	if sheet.Blocked(problems) {
		return false
	}
	p.mended, t.Plan = true, plan
	t.Route, t.Injected = t.Follows(log), nil
	p.Steps = append(p.Steps, Step{Does: fmt.Sprintf("Mend the sheet: the labels %s and %s are exchanged.", a, b), Minutes: labelMinutes})
	p.Minutes += labelMinutes
	return true
}

// mostAsked is how often the same is read again before it is believed.
const mostAsked = 2

// keyOf tells readings that are proposed apart.
func keyOf(p *planning.Probe) string {
	at := ""
	if p.Injected != nil {
		at = p.Injected.At
	}
	return fmt.Sprint(p.Route, p.Point, p.Quantity, at, p.Without, p.Worked)
}

// missing is the reading of the first ground that what is named is not condemned on yet; nil where there is none that was not read, or
// not as often as is asked for.
func missing(f *trace.Findings, asked map[string]int) *planning.Probe {
	for _, g := range f.Grounds {
		if g.Proof != trace.Lacking || g.Point == "" {
			continue
		}
		p := &planning.Probe{
			Point: g.Point, Quantity: g.Quantity, Without: g.Without, Worked: g.Worked, Route: g.Route, Injected: g.Injected,
			Minutes: planning.ProbeMinutes, Sentence: []planning.Span{{Text: mend.Sentence(g.Text)}},
		}
		if n := asked[keyOf(p)]; n == 0 || n <= mostAsked && strings.HasPrefix(g.Key, trace.Again) {
			return p
		}
	}
	return nil
}

// line is the rail or control to read where no stage explains what was read: one that is bad again, then what that is made from, then
// those of which nothing is known, the likeliest first.
func line(f *trace.Findings, plan *sheet.Plan, asked map[string]int) *planning.Probe {
	read := func(k int) *planning.Probe {
		name, quantity := "", sheet.DC
		if k < len(plan.Rails) {
			name, quantity = plan.Rails[k].Name, plan.Rails[k].Reads()
		} else {
			name = plan.Controls[k-len(plan.Rails)].Name
		}
		return &planning.Probe{Point: name, Quantity: quantity, Route: f.Route, Minutes: planning.ProbeMinutes,
			Sentence: []planning.Span{{Text: "Read " + name + "."}}}
	}
	all := slices.Concat(f.Rails, f.Controls)
	for k := range all {
		if !all[k].Verdict.Bad() {
			continue
		}
		if p := read(k); asked[keyOf(p)] < mostAsked {
			return p
		}
		if k < len(plan.Rails) && plan.Rails[k].Parent >= 0 && all[plan.Rails[k].Parent].Read == "" {
			return read(plan.Rails[k].Parent)
		}
	}
	best := -1
	for k := range all {
		if all[k].Read == "" && all[k].Weight > 0 && (best < 0 || all[k].Weight > all[best].Weight) {
			best = k
		}
	}
	if best < 0 {
		return nil
	}
	return read(best)
}

// take has the bench give what is proposed.
func take(t *trace.Case, bench *Bench, p *planning.Probe, n int) (Step, reading.Reading, error) {
	at := *t
	if route, ok := t.Plan.Route(p.Route); ok {
		at.Route = route
	}
	at.Injected = p.Injected
	if p.Quantity == sheet.Resistance {
		at.Power = reading.PowerOff
	}
	at.Instrument = trusted(&at, p)
	aim := reading.Aim{Point: p.Point, Quantity: p.Quantity}
	step := Step{Minutes: p.Minutes}
	for _, s := range p.Sentence {
		step.Does += s.Text
	}
	text, err := bench.Answer(at, Reads{Aim: aim, Without: p.Without, Worked: p.Worked})
	if err != nil {
		return step, reading.Reading{}, err
	}
	r, err := at.Take(aim, text)
	if err != nil {
		return step, r, fmt.Errorf("%s at %s: %w", text, p.Point, err)
	}
	r.ID, r.Without, r.Worked = fmt.Sprint(n), p.Without, p.Worked
	step.Reads = r.Understood()
	return step, r, nil
}

// trusted is an instrument that can read what is proposed, where the one at hand cannot.
func trusted(c *trace.Case, p *planning.Probe) string {
	r := reading.Reading{Point: p.Point, Mode: c.Route.Mode, Injected: c.Injected, Instrument: c.Instrument}
	if _, _, ok := c.Due(r); ok {
		return c.Instrument
	}
	for _, in := range reading.Instruments() {
		if r.Instrument = in.Key; in.Scope {
			if _, _, ok := c.Due(r); ok {
				return in.Key
			}
		}
	}
	return c.Instrument
}

// likeliest are the blocks that are left, the likeliest first.
func likeliest(f *trace.Findings) []string {
	type weighed struct {
		name   string
		weight float64
	}
	var all []weighed
	for _, s := range f.Stages {
		all = append(all, weighed{s.Name, s.Weight})
	}
	for _, l := range append(slices.Clone(f.Rails), f.Controls...) {
		all = append(all, weighed{l.Name, l.Weight})
	}
	slices.SortStableFunc(all, func(a, b weighed) int {
		switch {
		case a.weight > b.weight:
			return -1
		case a.weight < b.weight:
			return 1
		}
		return 0
	})
	var out []string
	for _, x := range all {
		if x.weight > 0 {
			out = append(out, x.name)
		}
	}
	return out
}
