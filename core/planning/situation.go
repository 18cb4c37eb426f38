package planning

import (
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Situation is where a trace stands when something is to be read next: the bench, what was read on
// it, and what is suspected. Its search is set up once, so that none of it may change afterwards.
type Situation struct {
	reading.Bench
	Way      Way              // of working
	Judged   []reading.Judged // the readings of this round
	Asked    sheet.Quantity   // the aspect of the signal that has to be read further
	Suspects []int            // positions on the route, in order
	Believed []float64        // how likely each block of the set is at fault
	Left     []bool           // the blocks of the set that are suspect still
	Unread   []int            // rails and controls that nobody has read, or not all of
	Rippling []int            // those of them of which the ripple is what is wanted
	Open     bool             // the set is open already, whatever was read
	// Paths gives what the signal depends on between two points in a mode.
	Paths func(mode string, from, to int, without []string) *sheet.Paths

	searching *search
	suspected []int
}

// stageAt is the stage at a position of the route.
func (t *Situation) stageAt(at int) *sheet.PlanStage { return &t.Plan.Stages[t.Route.Stages[at]] }

// blocks are what is searched among: the suspects of the route, and all else that is left, off the route and among
// the lines that nobody has read.
func (t *Situation) blocks() []int {
	if t.suspected == nil {
		for _, at := range t.Suspects {
			t.suspected = append(t.suspected, t.Route.Stages[at])
		}
		for k, left := range t.Left {
			line := k - len(t.Plan.Stages)
			if left && !slices.Contains(t.suspected, k) && (line < 0 || slices.Contains(t.Unread, line)) {
				t.suspected = append(t.suspected, k)
			}
		}
	}
	return t.suspected
}
