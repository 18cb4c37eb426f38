package soak

import (
	"fmt"
	"math"
	"time"
)

// Clock keeps a soak's own time: seconds since it began. It goes by the machine's steady clock; where that and the clock on
// the wall part, the computer has slept, or its clock was set.
type Clock struct {
	T      float64
	Speed  float64 // of simulated time; 1 for real
	wall   time.Time
	steady time.Duration
	begun  bool
}

// Lapse is something that a clock noticed: how long nothing was read (seconds of the soak), and in words. Back: the clock
// was set back.
type Lapse struct {
	From, For float64
	Back      bool
	Says      string
}

const parted = 5.0 // seconds between two clocks that mean something

// Tick tells the clock what both clocks of the machine say; the lapse is there where they parted.
func (c *Clock) Tick(wall time.Time, steady time.Duration) (Lapse, bool) {
	if !c.begun {
		c.wall, c.steady, c.begun = wall.Round(0), steady, true
		return Lapse{}, false
	}
	shown, passed := wall.Round(0).Sub(c.wall).Seconds(), (steady - c.steady).Seconds()
	c.wall, c.steady = wall.Round(0), steady
	from := c.T
	switch {
	case shown > passed+parted:
		if c.Speed > 1 { // a simulated set stands still meanwhile
			c.T += passed * c.Speed
			return Lapse{}, false
		}
		c.T += shown
		return Lapse{
			from,
			shown,
			false,
			fmt.Sprintf("nothing was read for %s: the computer slept, or its clock was set forward", Span(shown)),
		}, true
	case shown < passed-parted:
		c.T += passed * math.Max(1, c.Speed)
		return Lapse{
			from,
			passed,
			true,
			fmt.Sprintf("the clock was set back by %s; the soak goes by its own time", Span(passed-shown)),
		}, true
	}
	c.T += passed * math.Max(1, c.Speed)
	return Lapse{}, false
}

// Resume sets the clock going after the program was not running: T seconds of the soak had passed when the wall showed last.
func (c *Clock) Resume(t float64, last, wall time.Time, steady time.Duration) (Lapse, bool) {
	c.T, c.wall, c.steady, c.begun = t, wall.Round(0), steady, true
	away := wall.Sub(last).Seconds()
	switch {
	case c.Speed > 1:
		return Lapse{t, 0, false, "the program was not running; simulated time stood still"}, true
	case away < 0:
		return Lapse{t, 0, true, "the program was not running, and the clock was set back meanwhile: nobody knows for how long"}, true
	case away > parted:
		c.T += away
		return Lapse{t, away, false, fmt.Sprintf("nothing was read for %s: the program was not running", Span(away))}, true
	}
	c.T += away
	return Lapse{}, false
}

// Span writes a time in words: 40 s, 12 min, 3 h 05 min.
func Span(seconds float64) string {
	s := int(math.Round(seconds))
	const minute, hour, day = 60, 3600, 24 * 3600
	switch {
	case s < 2*minute:
		return fmt.Sprintf("%d s", s)
	case s < hour:
		return fmt.Sprintf("%d min", (s+minute/2)/minute)
	case s < 2*day:
		return fmt.Sprintf("%d h %02d min", s/hour, s%hour/minute)
	}
	return fmt.Sprintf("%d days", s/day)
}
