package training

import (
	"math"
	"time"
)

// What is missed comes again sooner. The rule (after Leitner, So lernt man lernen, 1972): a kind that was answered right so many times
// running is asked again after 1, 3, 9, 27 or 81 others; one that was missed begins again at 1.

// Answered is a quick one as it was answered.
type Answered struct {
	ID      string    `json:"id"`
	At      time.Time `json:"at"`
	Kind    QuickKind `json:"kind"`
	Seed    uint32    `json:"seed"`
	Choice  int       `json:"choice"`
	Right   bool      `json:"right"`
	Seconds float64   `json:"seconds"`
	About   string    `json:"about"`
}

const (
	apartTimes = 3.0
	mostBoxes  = 4
)

// Tally counts what was done of a kind: of how many, how many right, and of the last ten; Running is how many right in a row.
type Tally struct {
	Of      int    `json:"of"`
	Right   int    `json:"right"`
	Last    []bool `json:"last"` // of the last ten, in order
	Running int    `json:"running"`
	Due     int    `json:"due"` // after so many others; 0: now
}

// lastShown is how many of the last are shown.
const lastShown = 10

// tally counts, of so many that were done in order, those of a kind.
func tally(n int, of func(i int) (is, right bool)) Tally {
	out := Tally{Last: []bool{}}
	since := 0
	for i := range n {
		is, right := of(i)
		if !is {
			since++
			continue
		}
		since = 0
		out.Of++
		out.Last = append(out.Last, right)
		if out.Running++; !right {
			out.Running = 0
		} else {
			out.Right++
		}
	}
	if len(out.Last) > lastShown {
		out.Last = out.Last[len(out.Last)-lastShown:]
	}
	if out.Of > 0 {
		out.Due = max(int(math.Pow(apartTimes, float64(min(out.Running, mostBoxes))))-since, 0)
	}
	return out
}

// before tells whether what is counted here comes before something else: what was never asked, then what is due the longest; of equals
// what is missed more often.
func (t *Tally) before(o *Tally) bool {
	switch {
	case (t.Of == 0) != (o.Of == 0):
		return t.Of == 0
	case t.Due != o.Due:
		return t.Due < o.Due
	}
	return t.Right*o.Of < o.Right*t.Of
}

// Skill is how one stands with a kind of quick one.
type Skill struct {
	Kind QuickKind `json:"kind"`
	Tally
}

// Skills tells how one stands, by all that was answered, in order.
func Skills(all []Answered) []Skill {
	out := make([]Skill, 0, len(QuickKinds))
	for _, kind := range QuickKinds {
		out = append(out, Skill{kind, tally(len(all), func(i int) (is, right bool) { return all[i].Kind == kind, all[i].Right })})
	}
	return out
}

// Next is the kind that comes next.
func Next(skills []Skill) QuickKind {
	best := skills[0]
	for _, s := range skills[1:] {
		if s.before(&best.Tally) {
			best = s
		}
	}
	return best.Kind
}
