package sheet

import "slices"

// Paths is what the signal depends on between two points: the blocks on any way between them, and
// those on every way, each as long as the set has blocks. Without a block of Every nothing arrives;
// without one of Any some of it may be missing.
type Paths struct{ Any, Every []bool }

// Paths collects the routes of a mode that run from one point to another. Stages taken out or
// swapped for good ones do not count, nor does what they need on their account. A loop that is not
// opened counts as one: a fault anywhere in it shows at each of its points.
func (p *Plan) Paths(mode string, from, to int, without []string) Paths {
	return (&pathFinder{p, mode, without, nil}).between(from, to)
}

// atEntry stands for the beginning of a route, wherever that is.
const atEntry = -1

// pathFinder looks for the paths of one mode with some stages out. Led are the points whose signal
// led here: a point that needs itself is not followed round and round.
type pathFinder struct {
	*Plan
	mode    string
	without []string
	led     []int
}

// dependence is what one route depends on: on, wholly, and some, in part.
type dependence struct{ on, some []bool }

func (w *pathFinder) between(from, to int) Paths {
	out := Paths{Any: make([]bool, w.Blocks())}
	for i := range w.Routes {
		r := &w.Routes[i]
		b, reaches := r.At(to)
		a, begins := 0, from == atEntry
		if !begins {
			a, begins = r.At(from)
		}
		if r.Mode != w.mode || !begins || !reaches || a >= b {
			continue
		}
		d := w.along(r.Stages[a:b])
		if out.Every == nil {
			out.Every = slices.Clone(d.on)
		}
		for k := range d.on {
			out.Any[k] = out.Any[k] || d.on[k] || d.some[k]
			out.Every[k] = out.Every[k] && d.on[k]
		}
	}
	if out.Every == nil {
		out.Every = make([]bool, w.Blocks())
	}
	return out
}

// along is what some stages in a row depend on, with the loops that they are in.
func (w *pathFinder) along(stages []int) dependence {
	d := dependence{make([]bool, w.Blocks()), make([]bool, w.Blocks())}
	for _, s := range stages {
		w.add(&d, s)
	}
	for _, l := range w.Loops {
		if w.out(l.Feedback) || !slices.ContainsFunc(stages, func(s int) bool { return slices.Contains(l.Inside, s) }) {
			continue
		}
		for _, s := range l.Inside {
			w.add(&d, s)
		}
		d.some[l.Feedback] = true // without it there is a signal still, though a wrong one
	}
	return d
}

// out tells whether a stage was taken out.
func (w *pathFinder) out(stage int) bool { return slices.Contains(w.without, w.Stages[stage].Name) }

// add adds a stage with the lines and the signals that it needs.
func (w *pathFinder) add(d *dependence, stage int) {
	if d.on[stage] || w.out(stage) {
		return
	}
	d.on[stage] = true
	for _, line := range w.Stages[stage].Lines {
		w.addLine(d, line)
	}
	for _, point := range w.Stages[stage].Signals {
		w.addSignal(d, point)
	}
}

// addLine adds a line with those it is made from, and the signal that the first of them is made from.
func (w *pathFinder) addLine(d *dependence, line int) {
	for _, f := range w.Feeds(line) {
		d.on[len(w.Stages)+f] = true
		if f < len(w.Rails) && w.Rails[f].Signal >= 0 {
			w.addSignal(d, w.Rails[f].Signal)
		}
	}
}

// addSignal adds all that a signal depends on, but for one that led here.
func (w *pathFinder) addSignal(d *dependence, point int) {
	if slices.Contains(w.led, point) {
		return
	}
	further := &pathFinder{w.Plan, w.mode, w.without, append(slices.Clone(w.led), point)}
	needed := further.between(atEntry, point)
	for k := range needed.Any {
		d.on[k] = d.on[k] || needed.Every[k]
		d.some[k] = d.some[k] || needed.Any[k]
	}
}

// linePaths works out what each line depends on.
func (w *planner) linePaths() {
	for line := range w.plan.Lines() {
		out := Paths{Every: w.plan.dependsOn(line, "").on}
		out.Any = slices.Clone(out.Every)
		for i, mode := range w.plan.modesOf(line) {
			d := w.plan.dependsOn(line, mode)
			if i == 0 {
				copy(out.Every, d.on)
			}
			for k := range d.on {
				out.Any[k] = out.Any[k] || d.on[k] || d.some[k]
				out.Every[k] = out.Every[k] && d.on[k]
			}
		}
		w.plan.linesNeed = append(w.plan.linesNeed, out)
	}
}

// dependsOn is what a line depends on in a mode.
func (p *Plan) dependsOn(line int, mode string) dependence {
	d := dependence{make([]bool, p.Blocks()), make([]bool, p.Blocks())}
	(&pathFinder{p, mode, nil, nil}).addLine(&d, line)
	return d
}

// modesOf lists the modes that have a signal which a line is made from.
func (p *Plan) modesOf(line int) []string {
	var out []string
	for _, f := range p.Feeds(line) {
		if f >= len(p.Rails) || p.Rails[f].Signal < 0 {
			continue
		}
		for i := range p.Routes {
			r := &p.Routes[i]
			if _, on := r.At(p.Rails[f].Signal); on && !slices.Contains(out, r.Mode) {
				out = append(out, r.Mode)
			}
		}
	}
	return out
}

// LinePaths is what a line depends on: itself, the lines it is made from, and what makes the signal that the first of
// these is made from.
func (p *Plan) LinePaths(line int) Paths { return p.linesNeed[line] }
