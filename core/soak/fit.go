package soak

import (
	"math"
	"slices"
)

// Point is what a trace showed at a time: seconds since the soak began, and a value in its unit.
type Point struct {
	T float64 `json:"t"`
	V float64 `json:"v"`
}

// Fitted is a curve of the first order through what was read, y = end − rise·e^(−t/τ), with what else it could be: for
// every time constant the end and the rise with their errors, and how much is to be said for it. A part of the rise may
// come several times slower: that of the cabinet around a heat sink. From is where it begins (seconds): what was before a
// change is left out. Holds: it goes on through the last of the points; it does not where something has only just changed.
type Fitted struct {
	From   float64
	Holds  bool
	curves []fitCurve
	origin float64
	noise  float64
	last   Point
	best   int
}

// fitCurve is the curve of one time constant, with a share of the rise that is slower: its parameters (end, rise), their
// covariance, its share of the belief.
type fitCurve struct {
	tau   float64
	slow  float64
	p     [2]float64
	c     [2][2]float64
	share float64
	left  float64 // mean square of what is left
	sums  sums
}

// sums are those of what a curve is fitted by, over all points: how many, of the shape s and the value y (from the first
// one on) and their products.
type sums struct{ n, s, ss, y, yy, sy float64 }

const (
	leastPoints = 6
	mostPoints  = 60  // more of them say nothing more: they are drawn together
	leastSpan   = 180 // s
)

// What is supposed before anything was read: heat sinks and cabinets have time constants from some minutes to some hours
// (mass times heat capacity over watts per degree: 0.5 kg of aluminium at 1 W/K is 450 s, a cabinet of 10 kg at 2 W/K an
// hour), rises of some tens of degrees.
//
// The slower part is that of what the heat sink stands in: from nothing to half of the rise.
const (
	shortTau, longTau = 150.0, 8 * 3600.0
	usualTau          = 2400.0
	tauSpread         = 1.0 // of the logarithm
	usualRise         = 25.0
	riseSpread        = 40.0
	tauSteps          = 20
	slower            = 3.0 // times the time constant is that of the slower part
)

// Fit lays curves of the first order through a trace's points, oldest first: for each time constant by least squares (with
// what is usual as a prior), weighed by Bayes' rule. Noise is taken from what is left, made larger where neighbours go
// together, as the ripple of a moving signal does. Where a curve through all of it does not fit, the oldest part is left
// out until one does: something has changed. Scale is by how much a value may be expected to move (°C: 1), for the prior.
// False where there is too little to go by.
func Fit(points []Point, scale float64) (*Fitted, bool) {
	var f *Fitted
	for len(points) >= leastPoints && points[len(points)-1].T-points[0].T >= leastSpan {
		f = fitOnce(thin(points), scale)
		if f.Holds = f.holds(points, scale); f.Holds {
			break
		}
		const dropped = 0.3
		points = points[max(1, int(dropped*float64(len(points)))):]
	}
	return f, f != nil
}

// thin draws neighbours together where there are many.
func thin(points []Point) []Point {
	if len(points) <= mostPoints {
		return points
	}
	out := make([]Point, 0, mostPoints)
	for i := range mostPoints {
		part := points[i*len(points)/mostPoints : (i+1)*len(points)/mostPoints]
		var p Point
		for _, x := range part {
			p.T, p.V = p.T+x.T/float64(len(part)), p.V+x.V/float64(len(part))
		}
		out = append(out, p)
	}
	return out
}

// slowParts are the shares of the rise that may be slower, each with the logarithm of how likely it is.

// slowPart is a share of the rise that is slower, with the logarithm of how likely that is.
type slowPart struct{ of, log float64 }

var slowParts = []slowPart{{0, 0}, {0.1, -2}, {0.2, -2.5}, {0.3, -3}, {0.45, -4}}

// fitOnce weighs the curves of all time constants, and once more those between which it lies, as finely as is needed.
func fitOnce(points []Point, scale float64) *Fitted {
	f := weigh(points, scale, shortTau, longTau)
	const counts = 1e-4
	step := math.Pow(longTau/shortTau, 1.0/(tauSteps-1))
	low, high := math.Inf(1), 0.0
	for _, c := range f.curves {
		if c.tau > 0 && c.share > counts {
			low, high = math.Min(low, c.tau), math.Max(high, c.tau)
		}
	}
	const few = 10 // steps: otherwise it is known coarsely anyway
	if high > 0 && high/low < math.Pow(step, few) {
		f = weigh(points, scale, low/step, high*step)
	}
	return f
}

func weigh(points []Point, scale, low, high float64) *Fitted {
	f := &Fitted{From: points[0].T, origin: points[0].T, last: points[len(points)-1]}
	quick, slow := make([]float64, len(points)), make([]float64, len(points))
	add := func(tau, share float64, parts []slowPart) {
		for i, p := range points {
			quick[i] = decayed(p.T-f.origin, tau)
			slow[i] = decayed(p.T-f.origin, slower*tau)
		}
		for _, part := range parts {
			c := fitCurve{tau: tau, slow: part.of, share: share + part.log}
			for i, p := range points {
				s, y := quick[i]+part.of*(slow[i]-quick[i]), p.V-points[0].V
				c.sums.n, c.sums.s, c.sums.ss = c.sums.n+1, c.sums.s+s, c.sums.ss+s*s
				c.sums.y, c.sums.yy, c.sums.sy = c.sums.y+y, c.sums.yy+y*y, c.sums.sy+s*y
			}
			f.curves = append(f.curves, c)
		}
	}
	for i := range tauSteps {
		tau := low * math.Pow(high/low, float64(i)/(tauSteps-1))
		z := math.Log(tau/usualTau) / tauSpread
		add(tau, -z*z/2, slowParts)
	}
	best := 0
	for i := range f.curves {
		f.curves[i].lay(points[0].V, scale, 1)
		if f.curves[i].left < f.curves[best].left {
			best = i
		}
	}
	f.noise = math.Max(math.Sqrt(f.curves[best].left), 0.02*scale)
	variance := f.noise * f.noise * f.together(points, best)
	most := math.Inf(-1)
	for i := range f.curves {
		c := &f.curves[i]
		c.lay(points[0].V, scale, variance)
		c.share += -c.left*float64(len(points))/(2*variance) + math.Log(c.c[0][0]*c.c[1][1]-c.c[0][1]*c.c[1][0])/2
		most = math.Max(most, c.share)
	}
	total := 0.0
	for i := range f.curves {
		f.curves[i].share = math.Exp(f.curves[i].share - most)
		total += f.curves[i].share
	}
	for i := range f.curves {
		f.curves[i].share /= total
		if f.curves[i].share > f.curves[f.best].share {
			f.best = i
		}
	}
	return f
}

func decayed(t, tau float64) float64 { return math.Exp(math.Max(-50, math.Min(50, -t/tau))) }

// shape is how much of the rise is left at a time.
func (c *fitCurve) shape(t float64) float64 {
	quick := decayed(t, c.tau)
	if c.slow == 0 {
		return quick
	}
	return quick + c.slow*(decayed(t, slower*c.tau)-quick)
}

// lay fits end and rise for its time constant, by least squares against noise of a variance and the prior. First is the
// first value.
func (c *fitCurve) lay(first, scale, variance float64) {
	wide := riseSpread * scale
	// Parameters e and a of y = first + e − a·s(t); priors: a about the usual rise, e about as much (y begins near first).
	begin := 3 * scale
	a00, a01, a11 := 1/(begin*begin), -1/(begin*begin), 1/(begin*begin)+1/(wide*wide)
	b1 := usualRise * scale / (wide * wide)
	x := &c.sums
	h00, h01, h11 := x.n/variance+a00, -x.s/variance+a01, x.ss/variance+a11
	g0, g1 := x.y/variance, -x.sy/variance+b1
	det := h00*h11 - h01*h01
	c.c = [2][2]float64{{h11 / det, -h01 / det}, {-h01 / det, h00 / det}}
	e, a := c.c[0][0]*g0+c.c[0][1]*g1, c.c[1][0]*g0+c.c[1][1]*g1
	c.p = [2]float64{first + e, a}
	c.left = math.Max(0, (x.yy+x.n*e*e+a*a*x.ss-2*e*x.y+2*a*x.sy-2*e*a*x.s)/x.n)
}

// at is what a curve has at a time, and the variance of that.
func (c *fitCurve) at(t, origin float64) (mean, variance float64) {
	s := c.shape(t - origin)
	return c.p[0] - c.p[1]*s, c.c[0][0] - 2*s*c.c[0][1] + s*s*c.c[1][1]
}

// together is by how many times neighbouring residues count for one: (1+r)/(1−r) of their correlation r.
func (f *Fitted) together(points []Point, curve int) float64 {
	c := &f.curves[curve]
	var sum, next, last float64
	for i, p := range points {
		d := p.V - c.p[0] + c.p[1]*c.shape(p.T-f.origin)
		sum += d * d
		if i > 0 {
			next += d * last
		}
		last = d
	}
	return correlated(next / math.Max(sum, 1e-300))
}

// holds tells whether the curve goes through the last of the points, and through the first: the mean of what is left over so
// many minutes, few and more, is what the noise lets it be. The noise is that of neighbouring minutes, which a change from one curve to
// another leaves alone: the median of their second differences.
func (f *Fitted) holds(points []Point, scale float64) bool {
	c := &f.curves[f.best]
	var off, shown []float64 // by minute
	count, minute := 0, 0.0
	for i := len(points) - 1; i >= 0; i-- {
		p := points[i]
		if ago := math.Floor((points[len(points)-1].T - p.T) / 60); ago != minute || count == 0 {
			minute, count = ago, 0
			off, shown = append(off, 0), append(shown, 0)
		}
		k := len(off) - 1
		n := float64(count)
		off[k] = (off[k]*n + p.V - c.p[0] + c.p[1]*c.shape(p.T-f.origin)) / (n + 1)
		shown[k] = (shown[k]*n + p.V) / (n + 1)
		count++
	}
	var rough []float64
	for i := 1; i+1 < len(shown); i++ {
		rough = append(rough, math.Abs(shown[i-1]-2*shown[i]+shown[i+1]))
	}
	if len(rough) == 0 {
		return true
	}
	slices.Sort(rough)
	const toSigma, coefficients = 1.4826, 6 // of a median of normal deviations; 1, −2, 1 squared and added
	noise := toSigma * rough[len(rough)/2] / math.Sqrt(coefficients)
	const far, coarse, most = 5.0, 0.1, 3 // standard deviations; of the scale, which a display rounds to; a third at most
	goes := func() bool {                 // from the end of off
		sum := 0.0
		for i := range off {
			sum += off[i]
			n := float64(i + 1)
			if i >= most-1 && i <= len(off)/most && math.Abs(sum/n) > far*noise/math.Sqrt(n)+coarse*scale {
				return false
			}
		}
		return true
	}
	if !goes() {
		return false
	}
	slices.Reverse(off)
	return goes()
}

// correlated is by how many times neighbours with a correlation count for one: (1+r)/(1−r).
func correlated(r float64) float64 {
	const most = 0.85
	r = math.Max(0, math.Min(most, r))
	return (1 + r) / (1 - r)
}

// Told is what a fitted curve says of a time to come: the value there and its standard deviation.
type Told struct {
	V    float64 `json:"v"`
	Give float64 `json:"give"`
}

// At tells the value at a time (seconds since the soak began).
func (f *Fitted) At(t float64) Told {
	var mean, square float64
	for i := range f.curves {
		c := &f.curves[i]
		m, v := c.at(t, f.origin)
		mean += c.share * m
		square += c.share * (m*m + v)
	}
	return Told{mean, math.Sqrt(math.Max(0, square-mean*mean) + f.beyond(mean))}
}

// leftOut is how much of what is still to come curves of this form leave out, as a share: two masses behind each other, air
// that begins to move, a fan.
const leftOut = 0.1

// beyond is the variance of that, where a curve is at a value to come.
func (f *Fitted) beyond(value float64) float64 {
	d := leftOut * (value - f.last.V)
	return d * d
}

// Tau is the time constant that the points speak for, in seconds.
func (f *Fitted) Tau() float64 {
	sum := 0.0
	for _, c := range f.curves {
		sum += c.share * math.Log(c.tau)
	}
	return math.Exp(sum)
}

// Passes is how sure it is that a limit is passed by a time: above it where most, else below it.
func (f *Fitted) Passes(limit, by float64, most bool) float64 {
	sure := 0.0
	for i := range f.curves {
		c := &f.curves[i]
		m, v := c.at(by, f.origin)
		z := (m - limit) / math.Sqrt(v+f.beyond(m)+1e-12)
		if !most {
			z = -z
		}
		sure += c.share * math.Erfc(-z/math.Sqrt2) / 2
	}
	return sure
}

// When tells after how many seconds a limit is likely passed, from the best curve; false where it is not.
func (f *Fitted) When(limit, now, by float64) (float64, bool) {
	c := &f.curves[f.best]
	begin, _ := c.at(now, f.origin)
	end, _ := c.at(by, f.origin)
	if (begin-limit)*(end-limit) > 0 {
		return 0, false
	}
	low, high := now, by
	const halvings = 40
	for range halvings {
		middle := (low + high) / 2
		if m, _ := c.at(middle, f.origin); (m-limit)*(begin-limit) > 0 {
			low = middle
		} else {
			high = middle
		}
	}
	return (low + high) / 2, true
}
