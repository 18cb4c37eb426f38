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

// Skill is how one stands with a kind of quick one: of how many, how many right, and of the last ten; Running is how many right
// in a row.
type Skill struct {
	Kind    QuickKind `json:"kind"`
	Of      int       `json:"of"`
	Right   int       `json:"right"`
	Last    []bool    `json:"last"` // of the last ten, in order
	Running int       `json:"running"`
	Due     int       `json:"due"` // after so many others; 0: now
}

// lastShown is how many of the last are shown.
const lastShown = 10

// Skills tells how one stands, by all that was answered, in order.
func Skills(all []Answered) []Skill {
	out := make([]Skill, 0, len(QuickKinds))
	for _, kind := range QuickKinds {
		s := Skill{Kind: kind, Last: []bool{}}
		since := 0
		for _, a := range all {
			if a.Kind != kind {
				since++
				continue
			}
			since = 0
			s.Of++
			s.Last = append(s.Last, a.Right)
			if s.Running++; !a.Right {
				s.Running = 0
			} else {
				s.Right++
			}
		}
		if len(s.Last) > lastShown {
			s.Last = s.Last[len(s.Last)-lastShown:]
		}
		if s.Of > 0 {
			s.Due = max(int(math.Pow(apartTimes, float64(min(s.Running, mostBoxes))))-since, 0)
		}
		out = append(out, s)
	}
	return out
}

// Next is the kind that comes next: what was never asked, then what is due the longest; of equals the one that is missed more often.
func Next(skills []Skill) QuickKind {
	best := skills[0]
	before := func(a, b Skill) bool {
		switch {
		case (a.Of == 0) != (b.Of == 0):
			return a.Of == 0
		case a.Due != b.Due:
			return a.Due < b.Due
		}
		return a.Right*b.Of < b.Right*a.Of
	}
	for _, s := range skills[1:] {
		if before(s, best) {
			best = s
		}
	}
	return best.Kind
}
