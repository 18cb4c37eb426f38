package trace

import (
	"fmt"
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Feedback closes a loop around several stages. While it is closed they are one
// block: a fault anywhere in it shows at each of its points. Opened, with the
// feedback lifted, the stages are told apart as any others; the sheet's levels
// do not hold then, and a word has to do.

// latestOpened is the newest level that counts at a position of the route with the loop
// around a stage opened; nil where it is in none, or none was read so.
func (f *finder) latestOpened(at, stage int) *reading.Judged {
	for _, l := range f.Plan.Loops {
		if !slices.Contains(l.Inside, stage) {
			continue
		}
		for _, j := range slices.Backward(f.evidence) {
			if f.onRoute(j) && j.At == at && j.Reading.Quantity == sheet.AC &&
				slices.Contains(j.Reading.Without, f.Plan.Stages[l.Feedback].Name) {
				return j
			}
		}
	}
	return nil
}

// loopGround: with its loop opened the output of a stage stays bad, so that it
// is not the feedback.
func (f *finder) loopGround(at int) (Ground, bool) {
	for _, l := range f.Plan.Loops {
		if !slices.Contains(l.Inside, f.Route.Stages[at]) {
			continue
		}
		fb, point := f.Plan.Stages[l.Feedback].Name, f.PointName(at+1)
		g := Ground{
			Key:      "loop",
			Text:     fmt.Sprintf("With %s lifted, %s stays bad: it is not the feedback", fb, point),
			Proof:    Lacking,
			Point:    point,
			Quantity: sheet.AC,
			Without:  []string{fb},
		}
		for _, j := range f.evidence {
			if j.Reading.Point != point || !slices.Contains(j.Reading.Without, fb) {
				continue
			}
			if g.Proof, g.Because = Against, j.Told()+": the stage may be good and the feedback at fault"; j.Verdict.Bad() {
				g.Proof, g.Because = Shown, j.Told()
			}
		}
		return g, true
	}
	return Ground{}, false
}

// feedbackAlone tells whether a feedback stage is all that is left of the stages.
func (f *suspicion) feedbackAlone() (stage int, ok bool) {
	stage = sheet.None
	for k, yes := range f.left[:len(f.Plan.Stages)] {
		if !yes {
			continue
		}
		if stage != sheet.None || !f.Plan.Stages[k].Returns() {
			return sheet.None, false
		}
		stage = k
	}
	return stage, stage != sheet.None
}

// feedback: the loop is bad closed, and good opened.
func (f *finder) feedback(stage int) Conclusion {
	s := &f.Plan.Stages[stage]
	k := Conclusion{
		State:    Named,
		Stage:    s.Name,
		Headline: fmt.Sprintf("The fault is in %s: what it goes around is good without it.", s.Name),
	}
	for _, line := range s.Lines {
		k.Grounds = append(k.Grounds, f.lineGround(line))
	}
	for _, j := range f.evidence {
		if j.Verdict.Bad() || !slices.Contains(j.Reading.Without, s.Name) {
			continue
		}
		k.because("%s.", j.Told())
		g := Ground{
			Key:      "opened " + j.Reading.Point,
			Text:     fmt.Sprintf("With it lifted, %s is good a second time", j.Reading.Point),
			Proof:    Lacking,
			Point:    j.Reading.Point,
			Quantity: sheet.AC,
			Without:  j.Reading.Without,
		}
		if j.Times >= 2 {
			g.Proof, g.Because = Shown, j.Told()
		}
		k.Grounds = append(k.Grounds, g)
	}
	k.settle()
	return k
}
