package trace

import (
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// narrow leaves the blocks that could by themselves explain every piece of
// evidence, by a fault in the level or in another aspect that was read bad.
func (f *finder) narrow(evidence []*reading.Judged) []bool {
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
func (f *finder) narrowIn(aspect sheet.Quantity, evidence []*reading.Judged) []bool {
	left := make([]bool, f.Plan.Blocks())
	partial := partial(evidence)
	for i := range left {
		left[i] = (partial && i < len(f.Plan.Stages)) || !f.shownByLine(i)
	}
	for _, j := range evidence {
		if j.At == j.From {
			continue // nothing lies between
		}
		if !j.Verdict.Bad() && (!f.Clears(j, aspect) || partial && j.Vague()) {
			continue // a right frequency says nothing of the level, a usual level nothing of what is merely weak
		}
		w := f.waysTo(j)
		for k := range left {
			left[k] = left[k] && (allows(w, j.Verdict, k) || j.Verdict.Bad() && f.pullsDown(evidence, j, k))
		}
	}
	return left
}

// shownByLine tells whether a block is a line that was shown good, or one is that is made from it. Of a stage whose
// signal a line is made from that says only that it works at all. In a set that hums a rail is shown by its own ripple
// alone: what is made from it has a filter of its own.
func (f *finder) shownByLine(block int) bool {
	if own := block - len(f.Plan.Stages); own >= 0 && f.line(own).hums {
		return f.line(own).good()
	}
	for i := range f.Plan.Lines() {
		if f.line(i).steady() && f.Plan.LinePaths(i).Any[block] {
			return true
		}
	}
	return false
}

// pullsDown tells whether a stage that begins at the point of a bad reading was
// shown to load it: with that stage lifted the point reads good.
func (f *finder) pullsDown(evidence []*reading.Judged, bad *reading.Judged, block int) bool {
	return f.loads(block, bad) && slices.ContainsFunc(evidence, func(j *reading.Judged) bool {
		return !j.Verdict.Bad() && j.Reading.Point == bad.Reading.Point && slices.Contains(j.Reading.Without, f.Plan.Stages[block].Name)
	})
}

// allows tells whether a fault in a block would let a verdict come about at the end of some paths.
func allows(w *sheet.Paths, v reading.Verdict, block int) bool {
	switch {
	case !v.Bad():
		return !w.Any[block]
	case v == reading.Absent:
		return w.Every[block]
	}
	return w.Any[block]
}

// pathKey tells paths apart: mode, the points where they begin and end, and what was taken out.
type pathKey struct {
	mode     string
	from, to int
	without  string
}

// waysTo gives the paths that a piece of evidence speaks of, looked up once.
func (f *finder) waysTo(j *reading.Judged) *sheet.Paths {
	w, ok := f.speakOf[j]
	if !ok {
		w = f.pathsFrom(j.Route.Mode, j.Route.Points[j.From], j.Route.Points[j.At], j.Reading.Without)
		f.speakOf[j] = w
	}
	return w
}

// pathsFrom gives the ways between two points in a mode, and keeps them.
func (f *finder) pathsFrom(mode string, from, to int, without []string) *sheet.Paths {
	key := pathKey{mode: mode, from: from, to: to}
	for _, name := range without {
		key.without += name + "\x00"
	}
	w, ok := f.ways[key]
	if !ok {
		found := f.Plan.Paths(mode, from, to, without)
		w = &found
		f.ways[key] = w
	}
	return w
}

// partial tells whether evidence shows a fault that lets some of the signal through. What is no more
// than usual then clears nothing.
func partial(evidence []*reading.Judged) bool {
	return slices.ContainsFunc(evidence, func(j *reading.Judged) bool { return j.Verdict.Bad() && j.Verdict != reading.Absent })
}

// clears tells whether a good piece of evidence shows what is on its way good.
func (f *finder) clears(j *reading.Judged) bool {
	return f.Clears(j, f.asked) && !(j.Vague() && partial(f.evidence))
}

// clearing finds the first piece of evidence that shows a block good.
func (f *finder) clearing(block int) *reading.Judged {
	for _, j := range f.evidence {
		if !j.Verdict.Bad() && f.clears(j) && j.At > j.From && f.waysTo(j).Any[block] {
			return j
		}
	}
	return nil
}

// allows tells whether a fault in a block would let a piece of evidence come about.
func (f *finder) allows(j *reading.Judged, block int) bool {
	if j.At == j.From || !j.Verdict.Bad() && !f.clears(j) {
		return true
	}
	return allows(f.waysTo(j), j.Verdict, block)
}
