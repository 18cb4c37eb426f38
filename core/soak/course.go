package soak

import (
	"math"
	"slices"
)

// Stretch is over how many seconds values are drawn together for a trace's curve.
const Stretch = 64.0

// Course is what was logged of a trace: the mean of every stretch, oldest first, each at the time of its last value; with
// the watch that looks at it. What is typed stands by itself.
type Course struct {
	Points []Point
	Watch  Watch

	sum  float64 // of the last stretch
	n    int
	last [2]float64 // values, the very last one first
	seen int
}

// Add takes a value in, T seconds after the soak began.
func (c *Course) Add(t, v float64, typed bool) {
	c.last, c.seen = [2]float64{v, c.last[0]}, c.seen+1
	end := len(c.Points) - 1
	if typed || c.n == 0 || math.Floor(t/Stretch) != math.Floor(c.Points[end].T/Stretch) {
		c.Points = append(c.Points, Point{t, v})
		c.sum, c.n = v, 1
		return
	}
	c.sum, c.n = c.sum+v, c.n+1
	c.Points[end] = Point{t, c.sum / float64(c.n)}
}

// beyond tells whether the last values are all beyond a limit: of an instrument two in a row, since one may be a spark; of
// what is typed the one. It gives the very last.
func (c *Course) beyond(is func(v float64) bool, typed bool) (float64, bool) {
	end := c.Points[len(c.Points)-1].V
	switch {
	case c.seen == 0: // taken up again: nothing but the means is known
		return end, is(end)
	case typed || c.seen == 1:
		return c.last[0], is(c.last[0])
	}
	return c.last[0], is(c.last[0]) && is(c.last[1])
}

// patience is for how many seconds nothing may be read of a trace: a few readings of its instrument may fail; what is typed
// waits for a person.
func (p *Planned) patience(trace int) float64 {
	const typed, readings = 4, 3
	if p.Traces[trace].Instrument == "" {
		return typed * p.RemindSeconds()
	}
	return readings*p.EverySeconds() + Stretch
}

// Breaks are the places among the times of a trace's values (seconds, each drawn together over so many) where a new run
// begins, since nothing was read before it for too long. The first is one.
func (p *Planned) Breaks(trace int, times []float64, over float64) []int {
	out := []int{}
	for i := range times {
		if i == 0 || times[i]-times[i-1]-over > p.patience(trace) {
			out = append(out, i)
		}
	}
	return out
}

// Watched tells whether a soak was logged up to a time: something was read of one of its traces not too long before it.
func (p *Planned) Watched(courses []Course, t float64) bool {
	for i := range courses {
		if n := len(courses[i].Points); n > 0 && t-courses[i].Points[n-1].T <= p.patience(i) {
			return true
		}
	}
	return false
}

// Feeds tells whether the plan has the generator feed a signal in.
func (p *Planned) Feeds() bool { return p.By == ByGenerator && p.signalled() }

// Plays tells whether the plan has a signal played as sound.
func (p *Planned) Plays() bool { return p.By == BySound && p.signalled() }

func (p *Planned) signalled() bool {
	return slices.ContainsFunc(p.Moves, func(m Moving) bool { return m.Level > 0 })
}
