package wave

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/floats"

	"steptrace/core/quantity"
)

// What is compared of picture signals.
const (
	syncLoss = 0.72 // of the sync's share against the picture that is due: below it is clipped
	// leastSync is the least share of the whole that a good sync has, with full white, and a margin (BT.1700: 30 %).
	leastSync   = 0.23
	pictureLoss = 0.8 // of the picture's share against the sync
	// From muchNoise of the whole on, heights have to be off by so much more.
	muchNoise, noisier = 0.03, 0.7
	sameVideoHz        = 0.006
	samePicture        = 0.9  // correlation of the mean lines
	stillLines         = 0.6  // correlation of a signal with itself a line later, from which on lines without sync are there
	unevenSteps        = 0.35 // more than the reference's, between the largest and the smallest step
	noisySync          = 0.1  // of the sync height: more noise reaches down to where a sync begins
	noisySteps         = 2.0  // times the noise over the mean step: so much more may be its
)

// video compares a picture signal; true where that says all.
func (c *comparing) video(due *composite) bool {
	got, ok := findComposite(c.got.Samples, c.l, c.rate, c.site.Mains)
	if !ok {
		mean, rate, noise, there := c.meanLine(due)
		if !there {
			return false
		}
		got, ok = findComposite(mean, sumUp(mean), rate, 0)
		got.noise = noise
	}
	if !ok {
		c.GainDB = gainDB(c.l.ac, c.want.ac)
		c.found(SyncMissing, 1, "lines of a picture are there, and no sync of %s beside them, as the reference has",
			written(math.Abs(due.blanking-due.tip), c.ref.Unit))
		return true
	}
	c.Hz = 1 / got.line
	if got.turned != due.turned {
		c.found(Distortion, 1, "its sync is on the other side than the reference's: a stage more or less turns it over")
	}
	c.videoTimes(&got, due)
	same := got.mean != nil && due.mean != nil && alikeLines(got.mean, due.mean)
	c.videoHeights(&got, due, same)
	if same && got.turned == due.turned {
		c.lay(&got, due)
	}
	c.unrest(&got, due)
	return true
}

// videoTimes compares line and field frequency.
func (c *comparing) videoTimes(got, due *composite) {
	sync := math.Abs(got.blanking - got.tip)
	// A crossing may lie anywhere between two samples, and noise moves it further.
	unsure := (0.5 + 3*got.noise/sync) / (got.line * c.rate * float64(got.lines))
	if got.noise > noisySync*sync { // it may reach down to where a sync begins anywhere on the porch before
		unsure += frontFrom / float64(got.lines)
	}
	if ratio := due.line / got.line; math.Abs(ratio-1) > sameVideoHz+unsure {
		c.found(WrongFrequency, 1, "a line frequency of %s where the reference has %s: ×%.4g",
			quantity.Rounded(1/got.line, quantity.Hertz), quantity.Rounded(1/due.line, quantity.Hertz), ratio)
	} else if got.field > 0 && due.field > 0 && math.Abs(got.field/due.field-1) > sameVideoHz {
		c.found(WrongFrequency, 1, "a field frequency of %s where the reference has %s",
			quantity.Rounded(got.field, quantity.Hertz), quantity.Rounded(due.field, quantity.Hertz))
	}
}

// videoHeights compares sync and picture; of two pictures that are not the same only what no picture can make.
func (c *comparing) videoHeights(got, due *composite, same bool) {
	sync := math.Abs((got.blanking - got.tip) / (due.blanking - due.tip)) // of what is due
	picture := math.Abs((got.white - got.blanking) / (due.white - due.blanking))
	if same { // the mean line has less noise than the brightest of all
		picture = got.meanHeight() / due.meanHeight()
	}
	share := sync / picture
	uneven := same && got.stepsLike(due) &&
		unevenBy(got.rises(), due.rises()) > unevenSteps+noisySteps*float64(len(got.steps))*got.noise/math.Abs(got.white-got.blanking)
	of := picture // the gain that counts
	syncLoss, pictureLoss := syncLoss, pictureLoss
	if got.noise > muchNoise*math.Abs(got.white-got.tip) { // which moves both
		syncLoss, pictureLoss = syncLoss*noisier, pictureLoss*noisier
	}
	switch {
	case share < syncLoss && same && !uneven, !same && got.share() < leastSync && got.share() < syncLoss*due.share():
		c.found(SyncClipped, 1-share, "its sync has %s of %s, %.0f %% of the whole; the reference's has %.0f %%",
			c.height(got.blanking-got.tip), c.height(got.white-got.tip), 100*got.share(), 100*due.share())
	case same && (uneven || 1/share < pictureLoss):
		of = sync
		c.crushed(got, due)
	case !same: // what is brightest depends on what is shown
		of = sync
	}
	c.GainDB = gainDB(of, 1)
}

// meanHeight is how high the picture of the mean line is.
func (c *composite) meanHeight() float64 {
	blanking := c.blanking
	if c.turned {
		blanking = -blanking
	}
	return quantile(pictureOf(c.mean), 0.97) - blanking
}

// height writes how high something is, either way up.
func (c *comparing) height(v float64) string { return written(math.Abs(v), c.got.Unit) }

// crushed says how bright parts lack height.
func (c *comparing) crushed(got, due *composite) {
	if got.stepsLike(due) {
		r := got.rises()
		low, high := extremes(r)
		c.found(Crushed, 1-low/high, "its steps are uneven, from %s to %s, where they should be alike within %.0f %%",
			c.height(low*(got.white-got.blanking)), c.height(high*(got.white-got.blanking)), 100*unevenness(due.rises()))
		return
	}
	c.found(Crushed, 1, "its picture has %s over a sync of %s: the sync is %.0f %% of the whole, the reference's %.0f %%",
		c.height(got.white-got.blanking), c.height(got.blanking-got.tip), 100*got.share(), 100*due.share())
}

// unevenness is how far the largest of some steps is from the smallest, as a share of it.
func unevenness(r []float64) float64 {
	low, high := extremes(r)
	return 1 - low/high
}

// unevenBy is how much of its height the step that lost most has lost against the step that lost least; of as many steps.
func unevenBy(r, due []float64) float64 {
	return unevenness(floats.DivTo(make([]float64, len(r)), r, due))
}

// stepsLike tells whether both have a staircase of as many steps.
func (c *composite) stepsLike(other *composite) bool {
	return c.steps != nil && len(c.steps) == len(other.steps)
}

// alikeLines tells whether two mean lines show the same picture, crushed or not: their parts go up and down together.
func alikeLines(a, b []float64) bool {
	return correlate(ranks(pictureOf(a)), ranks(pictureOf(b))) > samePicture
}

// ranks are the places that values have among all, equal ones the same (Spearman).
func ranks(v []float64) []float64 {
	sorted, order := slices.Clone(v), make([]int, len(v))
	floats.Argsort(sorted, order)
	low, high := extremes(v)
	near := 0.02 * (high - low)
	out := make([]float64, len(v))
	for at := 0; at < len(order); {
		to := at + 1
		for to < len(sorted) && sorted[to]-sorted[to-1] < near/8 && sorted[to]-sorted[at] < near {
			to++
		}
		for k := at; k < to; k++ {
			out[order[k]] = float64(at+to-1) / 2
		}
		at = to
	}
	return out
}

// lay lays the reference's mean line under a capture of the same picture.
func (c *comparing) lay(got, due *composite) {
	f, r := foldLines(got, c.got.Samples, c.rate), foldLines(due, c.ref.Samples, c.ref.Rate)
	bin := func(v *composite) float64 { return v.starts[0] / v.line * foldBins }
	c.laid = laid{offset: f.mean, gain: f.ac / r.ac, mean: r.mean, omega: f.omega, shift: bin(got) - bin(due), period: r.period}
	c.Rest = f.remaining(r, c.laid.shift, c.laid.gain)
}

// unrest names noise and hum of a picture signal, as shares of its height.
func (c *comparing) unrest(got, due *composite) {
	whole, dueWhole := math.Abs(got.white-got.tip), math.Abs(due.white-due.tip)
	if hum := got.hum / whole; hum > someHum && hum > 2*due.hum/dueWhole {
		kind := HumMains
		if got.humTimes == 2 {
			kind = HumDouble
		}
		c.found(kind, 2*hum, "%.0f %% of its height is hum: it lifts and lowers the sync tips", 200*hum)
	}
	if noise := got.noise / whole; noise*noise-due.noise*due.noise/dueWhole/dueWhole > someShare*someShare {
		c.found(Noise, noise, "%.2g %% of its height is noise, on the sync tips", 100*noise)
	}
}

// foldLines folds the lines of a picture signal onto one.
func foldLines(v *composite, x []float64, rate float64) *folded {
	f := fold(x, 2*math.Pi/(v.line*rate), rate)
	return &f
}

// meanLine looks for lines where no sync is seen in each of them: three times the mean of all, at a rate (samples a second),
// and the noise (rms) over it.
func (c *comparing) meanLine(due *composite) (mean []float64, rate, noise float64, ok bool) {
	x, rate := forLines(c.got.Samples[:min(len(c.got.Samples), fitLength)], c.rate)
	line := due.line * rate
	if int(line) < 16 || float64(len(x)) < 1.3*line {
		return nil, 0, 0, false
	}
	best, at := 0.0, 0
	for lag := int(0.85 * line); lag < min(int(1.15*line)+2, len(x)-16); lag++ {
		if same := correlate(x[lag:], x[:len(x)-lag]); same > best {
			best, at = same, lag
		}
	}
	if best < stillLines {
		return nil, 0, 0, false
	}
	mean = make([]float64, 3*at)
	counts := make([]float64, at)
	for i, v := range x {
		mean[i%at] += v
		counts[i%at]++
	}
	for k := range counts {
		mean[k] /= counts[k]
	}
	copy(mean[at:], mean[:at])
	copy(mean[2*at:], mean[:at])
	by := int(math.Round(c.rate / rate))
	for i := range x {
		d := c.got.Samples[i*by] - mean[i%at]
		noise += d * d
	}
	return mean, rate, math.Sqrt(noise / float64(len(x))), true
}
