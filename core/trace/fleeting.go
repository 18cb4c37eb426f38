package trace

import (
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// provocations lists those that count.
func (f *finder) provocations() []*reading.Judged {
	var out []*reading.Judged
	for i := range f.judged {
		if j := &f.judged[i]; !j.Reading.Struck && j.Reading.Quantity == sheet.Provocation &&
			(j.Verdict == reading.Intermittent || j.Reading.Word == reading.Unmoved) {
			out = append(out, j)
		}
	}
	return out
}

// fleeting tells whether the fault was seen to come and go, by itself or when
// provoked. A good reading then only makes a block less likely.
func (f *finder) fleeting() bool {
	bad := func(j *reading.Judged) bool { return j.Verdict == reading.Intermittent }
	return slices.ContainsFunc(f.evidence, bad) || slices.ContainsFunc(f.provocations(), bad)
}

// moved is how likely a provocation moves the fault if it is in a block with an effect.
func (f *finder) moved(j *reading.Judged, block int, e effect) float64 {
	if e != comesAndGoes {
		return steadyMoves
	}
	at := f.BlocksAt(j.Reading.Point)
	act := j.Reading.Act
	p := chance
	switch {
	case slices.Contains(at, block):
		contact := block < len(f.Plan.Stages) && sheet.IsContact(f.Plan.Stages[block].Kind)
		p = reactions[contact][act]
	case slices.ContainsFunc(at, func(k int) bool { return f.beside(k, block) }):
		if p = travels; act == reading.Cool || act == reading.Heat {
			p = drifts
		}
	}
	return p
}

// beside tells whether two stages meet at a point.
func (f *finder) beside(a, b int) bool {
	if a >= len(f.Plan.Stages) || b >= len(f.Plan.Stages) {
		return false
	}
	s, t := &f.Plan.Stages[a], &f.Plan.Stages[b]
	return s.From == t.To || s.To == t.From || s.From == t.From || s.To == t.To
}

// movedBy finds the provocation of a block that moved the fault; nil for none.
func (f *finder) movedBy(block int) *reading.Judged {
	for _, j := range f.provocations() {
		if j.Verdict == reading.Intermittent && slices.Contains(f.BlocksAt(j.Reading.Point), block) {
			return j
		}
	}
	return nil
}
