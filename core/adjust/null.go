package adjust

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/mend"
)

// Turned is what was read with the control at a place: Place is a share of its travel, 0 at one stop and 1 at the other,
// Reads what is to become least (or most), in any unit, above zero.
type Turned struct {
	Place float64 `json:"place"`
	Reads float64 `json:"reads"`
}

// Found is what the readings at several places of a control say of the place where it is best.
type Found string

// Words implements exchange.Enumerated.
func (Found) Words() []string {
	return []string{string(Searching), string(FoundNull), string(BeyondStop), string(NoEffect), string(NoCurve)}
}

// What a search can come to: more readings are needed; the place is known; it lies beyond a stop; turning changes nothing;
// the readings are on no curve that has one best place.
const (
	Searching  Found = "searching"
	FoundNull  Found = "found"
	BeyondStop Found = "beyond the stop"
	NoEffect   Found = "no effect"
	NoCurve    Found = "no single one"
)

// Null is how a search stands. Next is where to read next, while it goes on. At is the best place so far, with the
// standard error Give and the Width over which the curve doubles (halves), all as shares of the travel; Best is what the
// curve has there. Curve is the fitted one, for drawing: Curve[i] at i/(len−1) of the travel; empty where there is none.
type Null struct {
	Found Found     `json:"found"`
	Next  float64   `json:"next"`
	At    float64   `json:"at"`
	Give  float64   `json:"give"`
	Width float64   `json:"width"`
	Best  float64   `json:"best"`
	Curve []float64 `json:"curve"`
	Says  string    `json:"says"`
}

const (
	mostTurned  = 9     // readings that a search takes at most; a person has had enough then
	leastTurned = 5     // before one counts as found
	readingGive = 0.05  // share by which one reading of a distortion or of a carrier left over is off
	closeEnough = 0.022 // of the width: the place is known
	maxTurned   = 100
	curvePoints = 81
	beyond      = 0.4 // of the travel: as far outside of it places are thought of
	firstLook   = 0.3 // of the travel, to both sides of the middle
	lopsided    = 0.2 // of the logarithm of how much steeper one flank is than the other
)

// Search looks for the place where what is read is least, or most: a residue r that goes straight through zero and a
// floor f that does not depend on the control add in squares, y² = f² + (k·(x−x₀))², with flanks that may differ in how
// steep they are; a tuned circuit's response has this form upside down. For each place x₀ and lopsidedness f and k follow
// by weighted least squares (weights of readings that are all off by the same share); the probability of x₀ is that of the
// residues. The next reading is where it tells most of x₀: on the flank that is known less, where the curve has doubled.
// Errors name a reading that cannot be.
func Search(readings []Turned, most bool) (Null, error) {
	if len(readings) > maxTurned {
		return Null{}, mend.Errorf("more than %d readings of one search: strike out the first", maxTurned)
	}
	y := make([]float64, len(readings))
	for i, r := range readings {
		if !(r.Place >= 0 && r.Place <= 1) {
			return Null{}, mend.Errorf("a control stands between its stops: from 0 to 100 %%")
		}
		if !(r.Reads > 0) || math.IsInf(r.Reads, 0) {
			return Null{}, mend.Errorf("a search for the least or the most goes by readings above zero")
		}
		y[i] = r.Reads
		if most {
			y[i] = 1 / r.Reads
		}
	}
	n := Null{Found: Searching, Curve: []float64{}}
	first := []float64{0.5, 0.5 - firstLook, 0.5 + firstLook}
	if len(readings) < len(first) {
		n.Next = freshPlace(readings, first)
		n.Says = "Read it at " + placeText(n.Next) + "."
		return n, nil
	}
	s := search{x: make([]float64, len(readings)), y: y}
	for i := range readings {
		s.x[i] = readings[i].Place
	}
	n.judge(&s, most)
	return n, nil
}

// freshPlace is the first of the places that nothing was read near.
func freshPlace(readings []Turned, places []float64) float64 {
	const near = 0.1
	for _, p := range places {
		if !slices.ContainsFunc(readings, func(r Turned) bool { return math.Abs(r.Place-p) < near }) {
			return p
		}
	}
	return places[len(places)-1]
}

// search is a set of readings to be fitted.
type search struct{ x, y []float64 }

// shape is a curve: y² = floor + slope·g, where g is (x−at)² stretched on one flank by e^skew and shrunk on the other.
type shape struct{ at, skew, floor, slope float64 }

func (c shape) squared(x float64) float64 {
	d := x - c.at
	g := d * d * math.Exp(c.skew)
	if d < 0 {
		g = d * d * math.Exp(-c.skew)
	}
	return c.floor + c.slope*g
}

// fit finds floor and slope for a place and lopsidedness, and the sum of squares of what is left of the logarithms.
func (s *search) fit(at, skew float64) (shape, float64) {
	c := shape{at: at, skew: skew, floor: 0, slope: 1}
	g := make([]float64, len(s.x))
	for i, x := range s.x {
		g[i] = c.squared(x)
	}
	c.slope = 0
	weights := make([]float64, len(s.x))
	for i, y := range s.y {
		weights[i] = 1 / (y * y * y * y)
	}
	off := make([]float64, len(s.x))
	for i := range off {
		off[i] = s.off(i)
		weights[i] /= off[i] * off[i]
	}
	const rounds = 4
	for range rounds {
		var w, wg, wgg, wy, wgy float64
		for i := range s.x {
			k, q := weights[i], s.y[i]*s.y[i]
			w, wg, wgg, wy, wgy = w+k, wg+k*g[i], wgg+k*g[i]*g[i], wy+k*q, wgy+k*g[i]*q
		}
		if det := w*wgg - wg*wg; det > 1e-12*w*wgg {
			c.floor, c.slope = (wgg*wy-wg*wgy)/det, (w*wgy-wg*wy)/det
		} else {
			c.floor, c.slope = wy/w, 0
		}
		if c.slope < 0 {
			c.floor, c.slope = wy/w, 0
		}
		least := s.least()
		if lowest := 1e-4 * least * least; c.floor < lowest {
			c.floor, c.slope = lowest, max(wgy/max(wgg, 1e-300), 0)
		}
		for i := range s.x {
			v := c.floor + c.slope*g[i]
			weights[i] = 1 / (v * v * off[i] * off[i])
		}
	}
	sum := 0.0
	for i := range s.x {
		d := (math.Log(s.y[i]) - math.Log(c.floor+c.slope*g[i])/2) / s.off(i)
		sum += d * d
	}
	return c, sum
}

// off is by which share a reading may be off the curve: by its own give, and further up by what the flanks of real
// curves differ from straight ones.
func (s *search) off(i int) float64 {
	const bend = 0.25
	above := max(0, math.Log(s.y[i]/s.least())-math.Ln2)
	return math.Hypot(readingGive, bend*above*(1+above))
}

func (s *search) least() float64 { return slices.Min(s.y) }

// weighed is a curve with its share of the belief.
type weighed struct {
	shape
	share float64
	sum   float64
}

// all weighs the curves with their best place from a to b.
func (s *search) all(a, b float64) []weighed {
	const places, skews = 121, 9
	var out []weighed
	for i := range places {
		for k := range skews {
			const widest = 2.0 // standard deviations of the lopsidedness
			z := widest * (2*float64(k)/(skews-1) - 1)
			c, sum := s.fit(a+(b-a)*float64(i)/(places-1), z*lopsided)
			out = append(out, weighed{c, -sum/2 - z*z/2, sum})
		}
	}
	most := slices.MaxFunc(out, func(p, q weighed) int { return compare(p.share, q.share) }).share
	total := 0.0
	for i := range out {
		out[i].share = math.Exp(out[i].share - most)
		total += out[i].share
	}
	for i := range out {
		out[i].share /= total
	}
	return out
}

func compare(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// about is the mean of the best places and their spread.
func about(all []weighed) (mean, give float64) {
	for _, c := range all {
		mean += c.share * c.at
	}
	for _, c := range all {
		give += c.share * (c.at - mean) * (c.at - mean)
	}
	return mean, math.Sqrt(give)
}

// Long: what a search can come to, one after the other.
func (n *Null) judge(s *search, most bool) {
	all := s.all(-beyond, 1+beyond)
	mean, give := about(all)
	const narrow, fine = 6, 0.15
	if half := max(narrow*give, 0.01); half < fine { // once more, as finely as it is known
		all = s.all(mean-half, mean+half)
		mean, give = about(all)
	}
	best := slices.MaxFunc(all, func(p, q weighed) int { return compare(p.share, q.share) })
	n.At, n.Give = mean, give
	curve := best.shape
	curve.at = mean
	curve, _ = s.fit(mean, best.skew)
	n.Width = curve.width()
	n.Best = s.told(math.Sqrt(curve.squared(mean)), most)
	for i := range curvePoints {
		n.Curve = append(n.Curve, s.told(math.Sqrt(curve.squared(float64(i)/(curvePoints-1))), most))
	}
	word := map[bool]string{false: "least", true: "most"}[most]
	const misfit, enoughStop = 3.0, 2
	spread := s.spread()
	count := float64(len(s.x))
	switch {
	case len(s.x) >= leastTurned && spread < 2*readingGive:
		n.Found, n.Curve = NoEffect, []float64{}
		n.Says = "Turning it changes nothing that is more than the give of the readings: it does not act on this, or it has no contact."
	case len(s.x) > leastTurned && best.sum/(count-3) > misfit*misfit:
		n.Found, n.Curve = NoCurve, []float64{}
		n.Says = "The readings lie on no curve with one " + word + ": something else moved meanwhile, or there are " +
			"two. Read one place again."
	case s.atStop(mean) >= enoughStop && (mean < 0 || mean > 1):
		n.Found = BeyondStop
		n.Says = fmt.Sprintf(
			"It is %s beyond the stop at %s: a part around the control has left its value, or another adjustment comes first.",
			word,
			placeText(math.Round(max(0, min(1, mean)))),
		)
	case len(s.x) >= leastTurned && give < closeEnough*n.Width && s.between(mean),
		len(s.x) >= mostTurned && mean >= 0 && mean <= 1:
		n.Found = FoundNull
		n.Says = fmt.Sprintf("It is %s at %s, give or take %s. Set it there.", word, placeText(mean), shareText(give))
	default:
		n.Next = s.next(curve, mean, give)
		n.Says = "Read it at " + placeText(n.Next) + " next."
	}
}

// spread is how far the readings are from all being the same: the standard deviation of their logarithms.
func (s *search) spread() float64 {
	mean, sum := 0.0, 0.0
	for _, y := range s.y {
		mean += math.Log(y) / float64(len(s.y))
	}
	for _, y := range s.y {
		d := math.Log(y) - mean
		sum += d * d
	}
	return math.Sqrt(sum / float64(len(s.y)-1))
}

// told turns what is fitted back into what is read.
func (s *search) told(y float64, most bool) float64 {
	if most {
		return 1 / y
	}
	return y
}

// width is that over which the curve stays below twice its least: y² = 4f².
func (c shape) width() float64 {
	if c.slope <= 0 {
		return 1
	}
	half := math.Sqrt(3 * c.floor / c.slope)
	return half * (math.Exp(-c.skew/2) + math.Exp(c.skew/2))
}

// atStop counts what was read at the stop on the side of a place.
func (s *search) atStop(at float64) int {
	const near = 0.03
	n := 0
	for _, x := range s.x {
		if at < 0.5 && x < near || at > 0.5 && x > 1-near {
			n++
		}
	}
	return n
}

// clear is by how much a reading has to be above another, as a share, so that it is higher and not only read so.
const clear = 3.5 * readingGive

// between tells whether a place has readings on both sides that are clearly higher.
func (s *search) between(at float64) bool {
	left, right := false, false
	for i, x := range s.x {
		if s.y[i] > s.least()*(1+clear) {
			left, right = left || x < at, right || x > at
		}
	}
	return left && right
}

// next is where the next reading tells most: both flanks in turn, where the curve has doubled or a little more, and in
// between its foot.
func (s *search) next(c shape, at, give float64) float64 {
	if at <= 0 || at >= 1 { // as far as it goes that way
		return math.Round(max(0, min(1, at)))
	}
	const up = 0.42 // of the width, to one side of the foot: there it has risen to some 1.8 times, and tells most
	reach := max(up*c.width(), 2*give)
	left, right, foot := 0, 0, 0
	for _, x := range s.x {
		switch d := x - at; {
		case d < -reach/3 && d > -3*reach:
			left++
		case d > reach/3 && d < 3*reach:
			right++
		case math.Abs(d) <= reach/3:
			foot++
		}
	}
	place := at
	switch {
	case foot == 0:
	case left <= right:
		place = at - reach*math.Exp(c.skew/2)
	default:
		place = at + reach*math.Exp(-c.skew/2)
	}
	return max(0, min(1, place))
}
