package pattern_test

import (
	"fmt"
	"slices"
	"testing"

	"steptrace/core/pattern"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// patient is a set with one fault, worked out from its sheet's own texts. A signal is 2 where it is
// right, 1 where it is there and wrong, 0 where nothing is.
type patient struct {
	s     *sheet.Sheet
	fault string
	word  quantity.Word // what the fault makes of a signal
	told  func(readings int, f *trace.Findings)
	asked map[string]bool // points of signals that lines are made from, while they are worked out
	tries int             // how many of the readings were trials from outside, before the first probe
}

// line is how a rail or control is.
func (p *patient) line(name string, seen int) int {
	if name == p.fault {
		return p.faulty()
	}
	from := ""
	for i := range p.s.Rails {
		if p.s.Rails[i].Name == name {
			from = p.s.Rails[i].From
		}
	}
	for i := range p.s.Controls {
		if p.s.Controls[i].Name == name {
			from = p.s.Controls[i].From
		}
	}
	if seen > 9 || from == "" {
		return 2
	}
	if !p.isLine(from) { // a winding or the like, unless it is called as a point is: then made from its signal
		if p.asked[from] {
			return 2 // it keeps itself going, once it has started
		}
		if p.asked == nil {
			p.asked = map[string]bool{}
		}
		p.asked[from] = true
		defer delete(p.asked, from)
		v := 2
		for _, mode := range append([]string{""}, p.modes()...) {
			if x, _ := p.at(from, "", mode, nil, 0); x >= 0 {
				v = min(v, x)
			}
		}
		return v
	}
	return p.line(from, seen+1)
}

// modes are those that any stage of the set names.
func (p *patient) modes() []string {
	var out []string
	for i := range p.s.Stages {
		out = append(out, p.s.Stages[i].Modes...)
	}
	return out
}

func (p *patient) isLine(name string) bool {
	return slices.ContainsFunc(p.s.Rails, func(r sheet.Rail) bool { return r.Name == name }) ||
		slices.ContainsFunc(p.s.Controls, func(c sheet.Control) bool { return c.Name == name })
}

func (p *patient) faulty() int {
	if p.word == quantity.Nothing {
		return 0
	}
	return 1
}

// at is the signal at a point, fed in at another or beginning by itself, with some stages bridged.
func (p *patient) at(point, fed, mode string, without []string, seen int) (best int, several bool) {
	if point == fed || seen > 40 {
		return 2, false
	}
	best, worst := -1, 3
	for i := range p.s.Stages {
		st := &p.s.Stages[i]
		if st.To != point || len(st.Modes) > 0 && !slices.Contains(st.Modes, mode) {
			continue
		}
		v := 2
		if st.From != "" {
			var more bool
			if v, more = p.at(st.From, fed, mode, without, seen+1); v < 0 {
				continue // nothing comes this way in this mode
			}
			several = several || more
		} else if fed != "" && p.leadsBack(fed, point, mode, 0) {
			continue
		}
		v = min(v, p.stage(st, mode, without, seen))
		best, worst = max(best, v), min(worst, v)
	}
	if worst < best { // what comes another way makes up for some of it
		return 1, true
	}
	return best, several
}

// leadsBack tells whether a point lies behind another.
func (p *patient) leadsBack(from, to, mode string, seen int) bool {
	if from == to {
		return true
	}
	return seen < 40 && slices.ContainsFunc(p.s.Stages, func(st sheet.Stage) bool {
		return st.From == from && (len(st.Modes) == 0 || slices.Contains(st.Modes, mode)) && p.leadsBack(st.To, to, mode, seen+1)
	})
}

// stage is what a stage does to a signal, with what it needs.
func (p *patient) stage(st *sheet.Stage, mode string, without []string, seen int) int {
	if slices.Contains(without, st.Name) {
		return 2
	}
	v := 2
	if st.Name == p.fault {
		v = p.faulty()
	}
	for _, r := range st.Rails {
		v = min(v, p.line(r, 0))
	}
	for _, n := range st.Needs {
		if p.isLine(n) {
			v = min(v, p.line(n, 0))
		} else if x, _ := p.at(n, "", mode, nil, seen+1); x >= 0 {
			v = min(v, x)
		}
	}
	return v
}

// says is what is heard or seen.
func (p *patient) says(v int, several bool) quantity.Word {
	switch {
	case v >= 2:
		return quantity.OK
	case v <= 0:
		return quantity.Nothing
	case p.word == quantity.Nothing || several && p.word == quantity.Weak:
		return quantity.Partly
	}
	return p.word
}

// read answers a proposal by a word.
func (p *patient) read(c trace.Case, n int, point string, q sheet.Quantity, without []string, worked bool) reading.Reading {
	r := reading.Reading{
		ID:       fmt.Sprint(n),
		Point:    point,
		Quantity: sheet.AC,
		Mode:     c.Route.Mode,
		Injected: c.Injected,
		Without:  without,
		Worked:   worked,
	}
	if line, ok := c.Plan.LineIndex(point); ok {
		r.Quantity, r.Mode, r.Injected = c.Plan.LineReads(line), "", nil
		r.Word = p.says(p.line(point, 0), false)
		return r
	}
	if q == sheet.DC {
		r.Quantity, r.Injected, r.Word = sheet.DC, nil, quantity.OK
		return r
	}
	fed := ""
	if c.Injected != nil {
		fed = c.Injected.At
	} else if first := &c.Plan.Points[c.Route.Points[0]]; !first.Source {
		fed = first.Name
	}
	r.Word = p.says(p.at(point, fed, c.Route.Mode, without, 0))
	return r
}

// follow tries what costs nothing and then follows the proposals, by words alone, to the end: what is
// named then, and whether it is condemned.
func (p *patient) follow(c trace.Case) (named string, condemned bool, readings int) {
	var log []reading.Reading
	for range 12 { // at intake
		m := c.Matrix(log, nil)
		if m.Best == nil || m.Best.Row < 0 {
			break
		}
		row := m.Rows[m.Best.Row]
		in := &reading.Injection{At: row.Entry}
		if i, ok := c.Plan.EntryIndex(row.Entry); ok && c.Plan.Points[i].Source {
			in = nil
		}
		with := c
		for i := range c.Plan.Routes {
			r := &c.Plan.Routes[i]
			if r.Mode == row.Mode && c.Plan.EntryName(r) == row.Entry &&
				c.Plan.Points[r.Points[len(r.Points)-1]].Name == row.Cells[m.Best.Cell].Exit {
				with.Route = r
			}
		}
		with.Injected = in
		log = append(log, p.read(with, len(log), row.Cells[m.Best.Cell].Exit, sheet.AC, nil, false))
	}
	p.tries = len(log)
	for range 50 {
		f := c.Find(log)
		if p.told != nil {
			p.told(len(log), &f)
		}
		for i, g := range f.Grounds { // a screen lists them by their keys
			if slices.ContainsFunc(f.Grounds[:i], func(x trace.Ground) bool { return x.Key == g.Key }) {
				return "two grounds " + g.Key, true, len(log)
			}
		}
		stand := func(route string, in *reading.Injection) trace.Case {
			with := c
			with.Injected = in
			if r, ok := c.Plan.Route(route); ok {
				with.Route = r
			}
			return with
		}
		switch {
		case f.Condemned:
			return f.Stage, true, len(log)
		case f.Line != "":
			return f.Line, true, len(log)
		case f.Next != nil:
			log = append(
				log,
				p.read(stand(f.Next.Route, f.Next.Injected), len(log), f.Next.Point, f.Next.Quantity, f.Next.Without, f.Next.Worked),
			)
			continue
		case f.GoTo != "" && f.GoTo != c.Route.Key:
			c.Route, _ = c.Plan.Route(f.GoTo)
			continue
		}
		i := slices.IndexFunc(f.Grounds, func(g trace.Ground) bool { return g.Proof == trace.Lacking && g.Point != "" })
		if i < 0 {
			return f.Stage, false, len(log)
		}
		g := f.Grounds[i]
		log = append(log, p.read(stand(g.Route, g.Injected), len(log), g.Point, g.Quantity, g.Without, g.Worked))
	}
	return "", false, len(log)
}

// Every pattern can be followed by words alone: a fault of any kind in any block, tried at intake and
// then as proposed, ends with its name and hardly ever with another.
func TestWordsAloneAreEnough(t *testing.T) {
	right, condemned, wrong, probes, all := 0, 0, 0, 0, 0
	for _, kind := range pattern.All() {
		s, err := kind.Sheet(nil)
		if err != nil {
			t.Fatal(err)
		}
		plan, _ := s.Plan()
		missed := map[string]int{}
		needed := map[string]bool{} // by a signal: a fan is heard, and no matter of the bench
		for i := range plan.Routes {
			r := &plan.Routes[i]
			for k, on := range plan.Paths(r.Mode, r.Points[0], r.Points[len(r.Points)-1], nil).Any {
				needed[plan.BlockName(k)] = needed[plan.BlockName(k)] || on
			}
		}
		for block := range plan.Blocks() {
			if !needed[plan.BlockName(block)] {
				continue
			}
			for _, word := range []quantity.Word{quantity.Nothing, quantity.Weak, quantity.Noisy, quantity.CutsOut} {
				p := &patient{s: s, fault: plan.BlockName(block), word: word}
				got, sure, n := p.follow(trace.Case{Bench: reading.Bench{Plan: plan, Route: reading.FirstRoute(plan)}})
				all++
				probes += n
				switch {
				case got == p.fault && sure:
					condemned++
					right++
				case got == p.fault:
					right++
				case sure:
					wrong++
					fallthrough
				default:
					missed[fmt.Sprintf("%s %s: %q", p.fault, word, got)]++
				}
			}
		}
		if len(missed) > 0 {
			t.Logf("%s: %v", kind.Name, missed)
		}
	}
	t.Logf(
		"%d of %d named, %d condemned, %d condemned wrongly, %.1f readings each",
		right,
		all,
		condemned,
		wrong,
		float64(probes)/float64(all),
	)
	if all < 2000 || float64(right) < 0.97*float64(all) || float64(wrong) > 0.005*float64(all) {
		t.Error("words alone are not enough")
	}
}
