package pin

import (
	"slices"

	"steptrace/core/exchange"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Mark is how a pinned place stands.
type Mark string

// The marks. Known is a place that no reading is asked of.
const (
	Good    Mark = "good"    // read, and right
	Bad     Mark = "bad"     // read, and not right; or condemned
	Suspect Mark = "suspect" // not read, and what ends there is suspect
	Unread  Mark = "unread"
	Known   Mark = "known"
)

// Words implements exchange.Enumerated.
func (Mark) Words() []string { return exchange.WordsOf([]Mark{Good, Bad, Suspect, Unread, Known}) }

// Marks tells of names how they stand.
type Marks struct {
	plan  *sheet.Plan
	of    map[string]Mark
	parts map[string]string // the stage or rail whose circuit a part is in
}

// graver is whether a mark says more than another of the same place.
func graver(a, b Mark) bool {
	rank := map[Mark]int{Unread: 1, Good: 2, Suspect: 3, Bad: 4}
	return rank[a] > rank[b]
}

// MarksOf gathers how everything in a set stands. Condemned are the parts that are. Findings may be nil:
// nothing was read.
func MarksOf(plan *sheet.Plan, f *trace.Findings, condemned []string) Marks {
	m := Marks{plan: plan, of: map[string]Mark{}, parts: map[string]string{}}
	for _, c := range plan.Sheet.Circuits {
		for _, p := range c.Parts {
			m.parts[p.Name] = c.Stage
		}
	}
	if f != nil {
		m.read(f)
	}
	for _, name := range condemned {
		m.of[name] = Bad
	}
	return m
}

// read marks what the findings speak of.
func (m *Marks) read(f *trace.Findings) {
	read := m.places(f.Readings)
	for _, s := range f.Map {
		mark, told := map[trace.Standing]Mark{trace.Cleared: Good, trace.Suspect: Suspect, trace.Faulty: Bad}[s.Standing]
		if !told {
			continue
		}
		m.graver(s.Name, mark)
		if mark == Suspect && !read[s.To] {
			m.of[s.To] = Suspect // where it ends is where it would show
		}
	}
	for _, l := range slices.Concat(f.Rails, f.Controls) {
		switch {
		case l.Verdict.Bad() || l.Moving.Bad():
			m.of[l.Name] = Bad
		case l.Read != "" && l.Verdict == reading.Within:
			m.of[l.Name] = Good
		case l.Read == "" && l.Weight > 0:
			m.of[l.Name] = Suspect
		}
	}
}

// places marks where something was read by the last readings of this round, and tells which places those are.
func (m *Marks) places(readings []reading.Judged) map[string]bool {
	read := map[string]bool{}
	for i := range readings {
		r := &readings[i]
		if r.Superseded || r.Earlier || r.Reading.Struck || r.Reading.Quantity == sheet.Provocation {
			continue
		}
		name := m.plan.NowOf(r.Reading.Point)
		switch {
		case r.Verdict.Bad():
			m.graver(name, Bad)
		case r.Verdict == reading.Within:
			m.graver(name, Good)
		default:
			continue
		}
		read[name] = true
	}
	return read
}

// graver marks a name unless it has a graver mark.
func (m *Marks) graver(name string, mark Mark) {
	if graver(mark, m.of[name]) {
		m.of[name] = mark
	}
}

// Of tells how a name stands: of a part, how the gravest of its legs does; of one that was not read, how
// what it is in does.
func (m Marks) Of(name string) Mark {
	name = m.plan.NowOf(name)
	out, ok := m.of[name]
	for i := range m.plan.Points {
		if m.plan.PartOf(i) == name && !ok {
			if x := m.of[m.plan.Points[i].Name]; graver(x, out) {
				out = x
			}
		}
	}
	if out != "" {
		return out
	}
	if stage, in := m.parts[name]; in {
		if m.of[stage] == Bad {
			return Suspect // one of its parts is, and not shown to be this one
		}
		if x := m.of[stage]; x != "" {
			return x
		}
		return Known
	}
	if _, ok := m.plan.PointIndex(name); ok {
		return Unread
	}
	if _, ok := m.plan.LineIndex(name); ok {
		return Unread
	}
	return Known
}
