package wave

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/optimize"

	"steptrace/core/quantity"
)

// course is a waveform that goes from one level to another once: a supply that is switched on, a capacitor that is
// charged, a control that moves. Times are seconds from the first sample.
type course struct {
	shape    courseShape
	from, to float64
	begins   float64 // below zero: it was under way already
	// takes is the time constant of a charge, the time from end to end of a ramp, and the width of a pulse.
	takes  float64
	ripple ripple
}

// courseShape is how a course goes.
type courseShape string

// The shapes. A pulse goes to its level and comes back.
const (
	stepped courseShape = "step"
	charged courseShape = "charge"
	ramped  courseShape = "ramp"
	pulsed  courseShape = "pulse"
)

const (
	calmLength   = 1 << 14 // points that ripple is taken out of
	courseLength = 480     // points that a course is fitted to
	courseShare  = 0.8     // of all that varies, that the course has, and not its ripple
	courseFits   = 0.99    // share of what varies that it has to explain, the ripple left out
	// An end of a course is followed for so much of the capture at least, or it may go anywhere.
	someRest     = 0.02
	stepTakes    = 1.5  // points: what is quicker is a step
	roughly      = 0.9  // share that it has to explain for that
	courseNear   = 1e-3 // the size of the last steps
	shortCourse  = 0.08 // of the points: what takes less is looked at more closely
	courseGrid   = 14   // places of its beginning that are looked at first, and as many of how long it takes
	pulseResting = 0.05 // of the capture: how long a pulse's level before and behind it must be seen
)

// findCourse tells whether a waveform goes somewhere once.
func findCourse(x []float64, l levels, rate, mains float64) (course, bool) {
	if len(x) < 2*leastSeen {
		return course{}, false
	}
	by := max(1, len(x)/calmLength)
	thin := thinned(x, by)
	c, ok := courseOf(x, thin, l, by, rate)
	if over := int(math.Round(rate / float64(by) / max(mains, 1e-30))); !ok && mains > 0 && over > 2 && over < len(thin)/4 {
		c, ok = courseOf(x, smoothed(thin, over), l, by, rate) // without the ripple
	}
	if ok && mains > 0 {
		c.ripple = rippleOf(after(x, &c, rate), rate, mains)
	}
	return c, ok
}

// courseOf is so of what samples, so many together, go through.
func courseOf(x, thin []float64, l levels, by int, rate float64) (course, bool) {
	again := max(1, (len(thin)+courseLength-1)/courseLength)
	y := thinned(thin, again)
	by *= again
	way := sumUp(y)
	if way.ac*way.ac < courseShare*l.ac*l.ac {
		return course{}, false
	}
	hysteresis := 0.15 * (way.high - way.low)
	middle := (way.low + way.high) / 2
	var c course
	var ok bool
	point := float64(by) / rate
	switch len(risings(y, middle, hysteresis)) + len(fallings(y, middle, hysteresis)) {
	case 0, 1: // a charge that begins where it is seen from may not come from below
		share := 0.0
		if c, share = fitCourse(y); c.takes < shortCourse*float64(len(y)) && share > roughly {
			c, share = closer(c, share, thin, again)
		}
		ok = share > courseFits
	case 2:
		c, ok = fitPulse(x, l)
		point = 1 / rate
	}
	if c.shape == stepped { // where it is, is known to a sample
		c = sharpen(c, x, by)
		point = 1 / rate
	}
	c.begins, c.takes = c.begins*point, c.takes*point
	return c, ok
}

// closer fits a course that takes a small part of the points again, to what lies about it; so many were made one.
func closer(c course, share float64, thin []float64, again int) (course, float64) {
	before, behind := 4*max(c.takes, 1), 10*max(c.takes, 1)
	from := max(0, int(c.begins-before)*again)
	to := min(len(thin), int(c.begins+c.takes+behind)*again)
	if to-from < 2*leastSeen || again == 1 && to-from == len(thin) {
		return c, share
	}
	by := max(1, (to-from+courseLength-1)/courseLength)
	near, fits := fitCourse(thinned(thin[from:to], by))
	if fits < share {
		return c, share
	}
	scale := float64(by) / float64(again)
	near.begins, near.takes = near.begins*scale+float64(from)/float64(again), near.takes*scale
	return near, fits
}

// after is what a course does when it has arrived: all of it where it has not.
func after(x []float64, c *course, rate float64) []float64 {
	settled := map[courseShape]float64{charged: 5, ramped: 1, stepped: 1}[c.shape]
	from := max(0, int((c.begins+settled*c.takes)*rate)+1)
	switch {
	case c.shape == pulsed:
		return x[:int(c.begins*rate)]
	case from > len(x)*3/4 && c.shape == charged: // it has hardly arrived
		return x[len(x)*3/4:]
	}
	return x[min(from, len(x)):]
}

// fitCourse fits a charge and a ramp to points, and takes the one that leaves less: it, and the share of what varies that
// it explains. Times are in points.
func fitCourse(y []float64) (c course, share float64) {
	l := sumUp(y)
	if l.ac == 0 {
		return course{}, 0
	}
	n := float64(len(y))
	charge := func(begins, takes float64) func(t float64) float64 {
		return func(t float64) float64 {
			if t <= begins {
				return 0
			}
			return -math.Expm1(-(t - begins) / takes)
		}
	}
	ramp := func(begins, takes float64) func(t float64) float64 {
		return func(t float64) float64 { return max(0, min(1, (t-begins)/takes)) }
	}
	best, left := course{}, math.Inf(1)
	for _, try := range []struct {
		shape courseShape
		of    func(begins, takes float64) func(t float64) float64
	}{{charged, charge}, {ramped, ramp}} {
		c, rest := fitShape(y, try.of)
		if c.shape = try.shape; rest < left {
			best, left = c, rest
		}
	}
	// Of what has not come to rest, or was seen for a moment only, nobody knows where it goes.
	if best.shape == charged && best.begins+best.takes > n || best.begins > (1-someRest)*n {
		return best, 0
	}
	if best.shape == ramped && best.takes < stepTakes {
		best.shape = stepped
	}
	return best, 1 - left*left/(l.ac*l.ac)
}

// fitShape finds where a shape (0 before, towards 1) begins and how long it takes, in points, so that least is left (rms)
// when its two levels are fitted to the points by least squares.
func fitShape(y []float64, of func(begins, takes float64) func(t float64) float64) (course, float64) {
	n := float64(len(y))
	fit := func(begins, takes float64) (from, to, left float64) {
		shape := of(begins, takes)
		var sg, sgg, sy, sgy, syy float64
		for i, v := range y {
			g := shape(float64(i))
			sg, sgg, sy, sgy, syy = sg+g, sgg+g*g, sy+v, sgy+g*v, syy+v*v
		}
		down := n*sgg - sg*sg
		if down <= 1e-12*n*n {
			return 0, 0, math.Inf(1)
		}
		height := (n*sgy - sg*sy) / down
		from = (sy - height*sg) / n
		rest := syy - from*sy - height*sgy
		return from, from + height, math.Sqrt(max(rest, 0) / n)
	}
	lowest, highest := math.Log(0.3), math.Log(4*n)
	left := func(at []float64) float64 { // shares of all points, and of the way from the shortest to the longest
		_, _, l := fit(at[0]*n, math.Exp(lowest+at[1]*(highest-lowest)))
		return l
	}
	// From the best of a coarse grid, and from where it crosses a tenth and nine tenths of its height.
	coarse, least := []float64{0, 0}, math.Inf(1)
	for i := range courseGrid {
		for k := range courseGrid {
			at := []float64{float64(i)/(courseGrid-1) - 0.5/courseGrid, float64(k) / (courseGrid - 1)}
			if l := left(at); l < least {
				coarse, least = at, l
			}
		}
	}
	ten, ninety := crossed(y, 0.1), crossed(y, 0.9)
	quick := math.Log(max(ninety-ten, 0.4))
	best := coarse
	for _, at := range [][]float64{coarse, {ten / n, max(0, (quick-lowest)/(highest-lowest))}} {
		for size := 1.0 / courseGrid; size > courseNear; size /= 5 { // again from where it came to, as it may be stuck at a kink
			result, err := optimize.Minimize(optimize.Problem{Func: left}, at, nil, &optimize.NelderMead{SimplexSize: size})
			if err != nil {
				break
			}
			if at = result.X; result.F <= least {
				best, least = at, result.F
			}
		}
	}
	c := course{begins: best[0] * n, takes: math.Exp(lowest + best[1]*(highest-lowest))}
	c.from, c.to, least = fit(c.begins, c.takes)
	return c, least
}

// crossed is where points first reach a share of the way from their first level to their last.
func crossed(y []float64, share float64) float64 {
	few := max(1, len(y)/100)
	from, to := median(y[:few]), median(y[len(y)-few:])
	for i, v := range y {
		if (v-from)*math.Copysign(1, to-from) >= share*math.Abs(to-from) {
			return float64(i)
		}
	}
	return float64(len(y))
}

// sharpen finds a step among the samples, of which so many made a point.
func sharpen(c course, x []float64, by int) course {
	at := int(c.begins+c.takes/2) * by
	from, to := max(at-3*by, 0), min(at+4*by, len(x))
	middle := (c.from + c.to) / 2
	part := x[from:to]
	p := pulses{x: part, low: c.from, high: c.to}
	if c.to < c.from {
		part, middle = turnedOver(part), -middle
		p = pulses{x: part, low: -c.from, high: -c.to}
	}
	if edges := p.edges(1); len(edges) > 0 {
		c.begins = float64(from) + edges[0].ten
		c.takes = edges[0].ninety - edges[0].ten
		return c
	}
	for i, v := range part { // an edge between two samples
		if v >= middle {
			c.begins, c.takes = float64(from+i)-0.5, 1
			break
		}
	}
	return c
}

// fitPulse finds one pulse between two stretches at rest. Times are in samples.
func fitPulse(x []float64, l levels) (course, bool) {
	p, two := findPulses(x, l)
	if !two {
		return course{}, false
	}
	for _, sign := range []float64{1, -1} {
		up, down := p.edges(sign), p.edges(-sign)
		if len(up) != 1 || len(down) != 1 || up[0].mid > down[0].mid {
			continue
		}
		rest := pulseResting * float64(len(x))
		if up[0].mid < rest || down[0].mid > float64(len(x))-rest {
			return course{}, false
		}
		c := course{shape: pulsed, from: p.low, to: p.high, begins: up[0].mid, takes: down[0].mid - up[0].mid}
		if sign < 0 {
			c.from, c.to = p.high, p.low
		}
		return c, true
	}
	return course{}, false
}

// figures gives what is measured of a course.
func (c *course) figures(unit string, add adder) {
	const how = "least squares"
	add("from", "starts at", c.from, unit, 0, how)
	add("final", "goes to", c.to, unit, 0, how)
	add("step", "goes by", c.to-c.from, unit, 0, how)
	if c.begins > 0 {
		add("begins", "begins at", c.begins, "s", 0, "from the first sample")
	}
	switch c.shape {
	case charged:
		add("tau", "time constant", c.takes, "s", 0, "exponential by least squares")
	case ramped:
		add("takes", "takes", c.takes, "s", 0, "straight from one level to the other, by least squares")
		add("slope", "rises by", (c.to-c.from)/c.takes, unit+"/s", 0, "height over time")
	case stepped:
		add("rise", "edge", c.takes, "s", 0, "10 % to 90 %; between samples by a straight line")
	case pulsed:
		add("width", "width", c.takes, "s", 0, "at half its height")
	}
	c.ripple.figure(unit, add)
}

// says tells in words how a course goes, for a drift whose points lie so far apart (seconds).
func (c *course) says(point float64) string {
	switch {
	case c.shape == charged:
		return fmt.Sprintf(", settling with a time constant of about %s", written(c.takes*point, "s"))
	case c.shape == stepped:
		return fmt.Sprintf(", in a step at about %s", written((c.begins+c.takes/2)*point, "s"))
	}
	return ", evenly"
}

// How far a course may differ from its reference in its times.
const slower, quicker = 1.4, 0.7

// course compares a waveform that goes somewhere once; false where the capture does not.
func (c *comparing) course(due *course) bool {
	got, ok := findCourse(c.got.Samples, c.l, c.rate, c.site.Mains)
	if !ok && movesBy(c.got.Samples) < stays*math.Abs(due.to-due.from) {
		c.GainDB = gainDB(c.l.ac, c.want.ac)
		c.found(AbsentSignal, 1, "it stays at %s where the reference goes from %s to %s", written(c.l.mean, c.got.Unit),
			written(due.from, c.ref.Unit), written(due.to, c.ref.Unit))
		return true
	}
	if !ok || (got.shape == pulsed) != (due.shape == pulsed) {
		return false
	}
	height, wanted := got.to-got.from, due.to-due.from
	c.GainDB = gainDB(math.Abs(height), math.Abs(wanted))
	if height*wanted < 0 {
		c.found(Distortion, 1, "it goes the other way: from %s to %s", written(got.from, c.got.Unit), written(got.to, c.got.Unit))
	}
	if off := got.from - due.from; math.Abs(off) > offShare*math.Abs(wanted) {
		c.found(Distortion, math.Abs(off/wanted)/2, "it starts at %s where the reference starts at %s", written(got.from, c.got.Unit),
			written(due.from, c.ref.Unit))
	}
	ratio := got.lasts() / due.lasts()
	within := 1 / c.rate / due.lasts() // an edge between two samples
	what := "it takes %s from 10 %% to 90 %% where the reference takes %s"
	if due.shape == pulsed {
		what = "it is %s wide where the reference is %s"
	}
	if ratio > slower+2*within && got.lasts() > someSamples/c.rate {
		c.found(SlowEdges, 0.5, what, written(got.lasts(), "s"), written(due.lasts(), "s"))
	} else if ratio < quicker-2*within && due.lasts() > someSamples/c.ref.Rate {
		c.found(Distortion, 0.5, what, written(got.lasts(), "s"), written(due.lasts(), "s"))
	}
	if more := got.ripple.peakPeak - due.ripple.peakPeak*math.Abs(height/wanted); more > rippleMore*math.Abs(wanted) {
		kind := HumMains
		if got.ripple.hz > 1.5*c.site.Mains {
			kind = HumDouble
		}
		c.found(kind, more/math.Abs(wanted), "a ripple of %s pp at %s where the reference has %s", written(got.ripple.peakPeak, c.got.Unit),
			quantity.Rounded(got.ripple.hz, quantity.Hertz), written(due.ripple.peakPeak, c.ref.Unit)).at(got.ripple.hz, "Hz")
	}
	return true
}

// movesBy is by how much samples move, their noise left out.
func movesBy(x []float64) float64 {
	l := sumUp(thinned(x, max(1, len(x)/64)))
	return l.high - l.low
}

const (
	stays       = 0.1  // of the height that is due: what moves by less stays where it is
	someSamples = 8    // an edge has to take, to be called slow
	offShare    = 0.15 // of its height that a course may start off
	rippleMore  = 0.04 // of its height that more ripple is seen
)

// lasts is how long a course takes from 10 % to 90 %, or is wide, in seconds.
func (c *course) lasts() float64 {
	switch c.shape {
	case charged:
		return math.Log(9) * c.takes
	case ramped:
		return 0.8 * c.takes
	}
	return c.takes
}
