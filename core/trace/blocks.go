package trace

import (
	"slices"

	"steptrace/core/sheet"
)

// A block is what may be at fault: a stage, a rail or a control of the sheet.
// Blocks are numbered with the stages first, in the order of the plan, then the
// rails, then the controls.

// blocks counts the blocks of a plan.
func blocks(p *sheet.Plan) int { return len(p.Stages) + len(p.Rails) + len(p.Controls) }

// plainName is the name of a block alone.
func plainName(p *sheet.Plan, block int) string {
	if block < len(p.Stages) {
		return p.Stages[block].Name
	}
	return p.LineName(block - len(p.Stages))
}

// blockName names a block as people do: "rail +24 V", "control MUTE", "ground E3".
func blockName(p *sheet.Plan, block int) string {
	name := plainName(p, block)
	if line := block - len(p.Stages); line >= 0 {
		return p.LineKind(line) + " " + name
	}
	return name
}

// paths is what the signal depends on between two points: the blocks on any way
// between them, and those on every way. Without a block of every, nothing
// arrives; without one of any, some of it may be missing.
type paths struct{ any, every []bool }

// pathKey tells ways apart: mode, the points where they begin and end, and what
// was taken out of them.
type pathKey struct {
	mode     string
	from, to int
	without  string
}

// pathsBetween collects the routes of a mode that run from one point to another.
// Stages taken out or swapped for good ones do not count, nor does what they
// need on their account. A loop that is not opened counts as one: a fault
// anywhere in it shows at each of its points.
func pathsBetween(p *sheet.Plan, mode string, from, to int, without []string) paths {
	return pathsWith(p, mode, from, to, without, nil)
}

// pathsWith does so for the signals that a stage needs, with the points that led
// there; a point that needs itself is not followed round and round.
//
// Long: one walk along the routes, which needs all that it has met.
func pathsWith(p *sheet.Plan, mode string, from, to int, without []string, led []int) paths {
	n := blocks(p)
	w := paths{any: make([]bool, n)}
	for i := range p.Routes {
		r := &p.Routes[i]
		if r.Mode != mode {
			continue
		}
		b, okB := r.At(to)
		a, okA := 0, from == atEntry
		if !okA {
			a, okA = r.At(from)
		}
		if !okA || !okB || a >= b {
			continue
		}
		on, some := make([]bool, n), make([]bool, n)
		add := func(s int) {
			if on[s] || slices.Contains(without, p.Stages[s].Name) {
				return
			}
			on[s] = true
			for _, line := range p.Stages[s].Lines {
				for _, f := range p.Feeds(line) {
					on[len(p.Stages)+f] = true
				}
			}
			for _, point := range p.Stages[s].Signals {
				if slices.Contains(led, point) {
					continue
				}
				needed := pathsWith(p, mode, atEntry, point, without, append(slices.Clone(led), point))
				for k := range needed.any {
					on[k] = on[k] || needed.every[k]
					some[k] = some[k] || needed.any[k]
				}
			}
		}
		stages := r.Stages[a:b]
		for _, s := range stages {
			add(s)
		}
		for _, l := range p.Loops {
			fb := p.Stages[l.Feedback].Name
			if slices.Contains(without, fb) || !slices.ContainsFunc(stages, func(s int) bool { return slices.Contains(l.Inside, s) }) {
				continue
			}
			for _, s := range l.Inside {
				add(s)
			}
			some[l.Feedback] = true // without it there is a signal still, though a wrong one
		}
		if w.every == nil {
			w.every = slices.Clone(on)
		}
		for k := range on {
			w.any[k] = w.any[k] || on[k] || some[k]
			w.every[k] = w.every[k] && on[k]
		}
	}
	if w.every == nil {
		w.every = make([]bool, n)
	}
	return w
}

// atEntry stands for the beginning of a route, wherever that is.
const atEntry = -1

// narrow leaves the blocks that could by themselves explain every piece of
// evidence, by a fault in the level or in another aspect that was read bad.
func (f *finder) narrow(evidence []*Judged) []bool {
	left := f.narrowIn(sheet.AC, evidence)
	for _, aspect := range spoiled(evidence) {
		for k, yes := range f.narrowIn(aspect, evidence) {
			left[k] = left[k] || yes
		}
	}
	return left
}

// narrowIn does so for a fault in one aspect. What is good clears each block on any way to
// it; where nothing arrives the fault is on every way; where it is bad otherwise, on one of
// them.
func (f *finder) narrowIn(aspect sheet.Quantity, evidence []*Judged) []bool {
	left := make([]bool, blocks(f.Plan))
	for i := range left {
		left[i] = !f.lineGood(i - len(f.Plan.Stages))
	}
	for _, j := range evidence {
		if j.at == j.from {
			continue // nothing lies between
		}
		if !j.Verdict.Bad() && !f.clears(j, aspect) {
			continue // a right frequency says nothing of the level
		}
		w := f.waysTo(j)
		for k := range left {
			left[k] = left[k] && (w.allows(j.Verdict, k) || j.Verdict.Bad() && f.pullsDown(evidence, j, k))
		}
	}
	return left
}

// lineGood tells whether a line was shown good, or one that is made from it.
func (f *finder) lineGood(line int) bool {
	for i := range f.countLines() {
		if line >= 0 && f.line(i).good() && slices.Contains(f.Plan.Feeds(i), line) {
			return true
		}
	}
	return false
}

// pullsDown tells whether a stage that begins at the point of a bad reading was
// shown to load it: with that stage lifted the point reads good.
func (f *finder) pullsDown(evidence []*Judged, bad *Judged, block int) bool {
	return f.loads(block, bad) && slices.ContainsFunc(evidence, func(j *Judged) bool {
		return !j.Verdict.Bad() && j.Reading.Point == bad.Reading.Point && slices.Contains(j.Reading.Without, f.Plan.Stages[block].Name)
	})
}

// allows tells whether a fault in a block would let a verdict come about.
func (w *paths) allows(v Verdict, block int) bool {
	switch {
	case !v.Bad():
		return !w.any[block]
	case v == Absent:
		return w.every[block]
	}
	return w.any[block]
}

// waysTo gives the ways that a piece of evidence speaks of.
func (f *finder) waysTo(j *Judged) *paths {
	if j.ways != nil {
		return j.ways
	}
	j.ways = f.pathsFrom(j.route.Mode, j.route.Points[j.from], j.route.Points[j.at], j.Reading.Without)
	return j.ways
}

// pathsFrom gives the ways between two points in a mode, and keeps them.
func (f *finder) pathsFrom(mode string, from, to int, without []string) *paths {
	key := pathKey{mode: mode, from: from, to: to}
	for _, name := range without {
		key.without += name + "\x00"
	}
	w, ok := f.ways[key]
	if !ok {
		found := pathsBetween(f.Plan, mode, from, to, without)
		w = &found
		f.ways[key] = w
	}
	return w
}

// clearing finds the first piece of evidence that shows a block good.
func (f *finder) clearing(block int) *Judged {
	for _, j := range f.evidence {
		if !j.Verdict.Bad() && f.clears(j, f.asked) && j.at > j.from && f.waysTo(j).any[block] {
			return j
		}
	}
	return nil
}

// blockNames lists the names of the blocks that are left.
func blockNames(p *sheet.Plan, left []bool) []string {
	out := []string{}
	for k, yes := range left {
		if yes {
			out = append(out, blockName(p, k))
		}
	}
	return out
}
