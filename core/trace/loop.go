package trace

import (
	"fmt"
	"slices"

	"steptrace/core/sheet"
)

// Feedback closes a loop around several stages. While it is closed they are one
// block: a fault anywhere in it shows at each of its points. Opened, with the
// feedback lifted, the stages are told apart as any others; the sheet's levels
// do not hold then, and a word has to do.

// loopAt finds the closed loop that a position of the route lies inside of: the
// stages before and behind it both belong to it. Nil where there is none, and in
// a loop that is opened for the next probe.
func (f *finder) loopAt(at int) *sheet.Loop {
	if at == 0 || at >= len(f.Route.Stages) {
		return nil
	}
	for i := range f.Plan.Loops {
		l := &f.Plan.Loops[i]
		if l.Feedback != f.opened && slices.Contains(l.Inside, f.Route.Stages[at-1]) && slices.Contains(l.Inside, f.Route.Stages[at]) {
			return l
		}
	}
	return nil
}

// behindLoop is the first position from one on that lies inside of no closed loop.
func (f *finder) behindLoop(at int) int {
	for at < len(f.Route.Stages) && f.loopAt(at) != nil {
		at++
	}
	return at
}

// openLoop proposes to open a loop that all suspects lie in, and to probe inside;
// nil where there is none.
func (f *finder) openLoop() *Probe {
	for i := range f.Plan.Loops {
		l := &f.Plan.Loops[i]
		if slices.ContainsFunc(f.suspects, func(at int) bool { return !slices.Contains(l.Inside, f.Route.Stages[at]) }) {
			continue
		}
		f.opened = l.Feedback
		if p := f.split(); p != nil {
			return p
		}
		f.opened = noStage
	}
	return nil
}

// noStage stands where no loop is opened.
const noStage = -1

// openSentence writes out a probe into an opened loop.
func (f *finder) openSentence(p *Probe) {
	name := f.Plan.Stages[f.opened].Name
	p.Without = []string{name}
	p.Sentence = []Span{{"Open the loop at ", ""}, {name, "point"}, {", probe ", ""}, {p.Point, "point"}, {" and say whether the signal is there.", ""}}
	p.Facts = append(p.Facts, Fact{"Mind", "without its feedback the gain is far higher, and an output stage may run away: lower the signal, take the loudspeaker off, and keep it short"})
}

// opensLoop tells whether a reading was taken with the feedback around its point
// lifted, so that the sheet's levels do not hold.
func (c Case) opensLoop(j *Judged) bool {
	for _, l := range c.Plan.Loops {
		if slices.Contains(j.Reading.Without, c.Plan.Stages[l.Feedback].Name) &&
			slices.ContainsFunc(j.route.Stages[j.from:j.at], func(s int) bool { return slices.Contains(l.Inside, s) }) {
			return true
		}
	}
	return false
}

// loopGround: with its loop opened the output of a stage stays bad, so that it
// is not the feedback.
func (f *finder) loopGround(at int) (Ground, bool) {
	for _, l := range f.Plan.Loops {
		if !slices.Contains(l.Inside, f.Route.Stages[at]) {
			continue
		}
		fb, point := f.Plan.Stages[l.Feedback].Name, f.pointName(at+1)
		g := Ground{Key: "loop", Text: fmt.Sprintf("With %s lifted, %s stays bad: it is not the feedback", fb, point), Proof: Lacking, Point: point, Quantity: sheet.AC, Without: []string{fb}}
		for _, j := range f.evidence {
			if j.Reading.Point != point || !slices.Contains(j.Reading.Without, fb) {
				continue
			}
			if g.Proof, g.Because = Against, reads(j)+" with it lifted: the stage may be good and the feedback at fault"; j.Verdict.Bad() {
				g.Proof, g.Because = Shown, reads(j)+" with it lifted"
			}
		}
		return g, true
	}
	return Ground{}, false
}

// feedbackAlone tells whether a feedback stage is all that is left of the stages.
func (f *finder) feedbackAlone() (stage int, ok bool) {
	stage = noStage
	for k, yes := range f.left[:len(f.Plan.Stages)] {
		if !yes {
			continue
		}
		if stage != noStage || !f.Plan.Stages[k].Returns() {
			return noStage, false
		}
		stage = k
	}
	return stage, stage != noStage
}

// feedback: the loop is bad closed, and good opened.
func (f *finder) feedback(stage int) {
	s := &f.Plan.Stages[stage]
	f.out.State, f.out.Stage = Named, s.Name
	f.out.Headline = fmt.Sprintf("The fault is in %s: what it goes around is good without it.", s.Name)
	for _, line := range s.Lines {
		f.out.Grounds = append(f.out.Grounds, f.lineGround(line))
	}
	for _, j := range f.evidence {
		if j.Verdict.Bad() || !slices.Contains(j.Reading.Without, s.Name) {
			continue
		}
		f.out.Reasons = append(f.out.Reasons, fmt.Sprintf("%s with it lifted.", reads(j)))
		g := Ground{Key: "opened " + j.Reading.Point, Text: fmt.Sprintf("With it lifted, %s is good a second time", j.Reading.Point), Proof: Lacking, Point: j.Reading.Point, Quantity: sheet.AC, Without: j.Reading.Without}
		if j.times >= 2 {
			g.Proof, g.Because = Shown, reads(j)
		}
		f.out.Grounds = append(f.out.Grounds, g)
	}
	f.settle()
}

