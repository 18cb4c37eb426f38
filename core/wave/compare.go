package wave

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"steptrace/core/quantity"
)

// A waveform that repeats is compared with its reference by what each is made of:
// what repeats with every period, found by folding all periods onto one, and what
// does not. Clipping, crossover, slow edges and tilt show in the first, hum, noise,
// crackle and oscillation in the second, whatever the trigger, the rate and the
// length of either capture. One that does not repeat is laid over its reference by
// their correlation.

// MainsHz is the mains frequency of most places; some have 60 Hz.
const MainsHz = 50.0

// Rail is a supply that a stage before the point has, V.
type Rail struct {
	Name  string
	Volts float64
}

// Site is what is known of the place where a capture was taken: the mains (Hz), a
// pilot or key tone that belongs to the signal (Hz; zero: none), the supplies of the
// stage before, and by how much (dB, down and up; zero: the usual 2 dB) the level
// there may be off.
type Site struct {
	Mains, Pilot  float64
	Rails         []Rail
	LowDB, HighDB float64
}

// within is how far (dB, down and up) a level may be off.
func (s Site) within() (low, high float64) {
	return cmp.Or(s.LowDB, levelDB), cmp.Or(s.HighDB, levelDB)
}

// What is compared, and from where on it is a defect. Levels: as a sheet's usual
// tolerance. The rest is what a careful eye sees on a trace about a hand high.
const (
	levelDB   = 2.0
	absentDB  = 40.0
	lostDB    = 20.0 // from here on what has no tone where one is due is noise
	sameHz    = 0.01
	sureHz    = 0.0005 // crossings that differ by less tell a frequency by themselves
	confused  = 0.35   // how far apart two lines of few periods may be taken for one another
	clipWidth = 1.35   // how much wider than a sine's a top is
	deadSlope = 0.7    // of a sine's at its crossings
	someShare = 0.02   // of the signal's rms: residuals above it are seen
	thdShare  = 0.02
	outShare  = 0.35 // of the usual amplitude: below it the signal is out
	outTime   = 0.01 // for this share of the time
	spiky     = 9.0  // kurtosis; noise has 3
	lost      = 0.25 // of the pilot or the modulation that is due: below it is missing
	alike     = 0.3  // correlation: below it a signal is another one
)

// Comparison is a capture against its reference.
type Comparison struct {
	GainDB float64 `json:"gainDB"` // of the capture against the reference
	Hz     float64 `json:"hz"`     // of the capture; 0 where it has none
	// Rest is what remains after the gain is taken away, as a share of the
	// reference's rms brought to the same level; 0 where nothing could be laid over it.
	Rest float64 `json:"rest"`
	// Shift is by how much it lies behind its reference (seconds, from the first sample of each), whole periods left out; 0
	// where nothing could be laid over it, or the reference was made from a description.
	Shift   float64  `json:"shift"`
	Defects []Defect `json:"defects"`

	laid laid
}

// laid is a reference laid under a capture: by its period, or by its samples.
type laid struct {
	offset, gain float64 // capture ≈ offset + gain·reference without its mean
	mean         float64 // of the reference
	omega, shift float64 // of a period: radians a sample, bins
	period       []float64
	samples      []float64 // one that does not repeat, at the capture's rate
	lag          float64   // samples by which it lies behind
	mask         *Mask     // where it is the mean of good captures
}

// at is the reference under a sample of the capture, without its mean, at its own
// level; false where it does not reach.
func (l *laid) at(i int) (float64, bool) {
	if l.period != nil {
		return between(l.period, phaseOf(i, l.omega)-l.shift) - l.mean, true
	}
	v, ok := cubic(l.samples, float64(i)-l.lag)
	return v - l.mean, ok
}

// Due is the reference laid under samples from a first one on, with the capture's
// offset, at the level that is due; nothing where it could not be aligned, or does
// not reach.
func (c *Comparison) Due(from, n int) []float64 {
	return c.along(from, n, func(_ int, due float64) float64 { return c.laid.offset + due })
}

// Allowed is what is due by the least and the greatest level that the site allows.
func (c *Comparison) Allowed(from, n int, site Site) (low, high []float64) {
	if m := c.laid.mask; m != nil {
		bounds := func(sign float64) []float64 {
			return c.along(from, n, func(i int, due float64) float64 {
				return c.laid.offset + due + sign*between(m.within, phaseOf(i, c.laid.omega)-c.laid.shift)
			})
		}
		return bounds(-1), bounds(1)
	}
	down, up := site.within()
	least, most := math.Pow(10, -down/20), math.Pow(10, up/20)
	low = c.along(from, n, func(_ int, due float64) float64 { return c.laid.offset + min(due*least, due*most) })
	high = c.along(from, n, func(_ int, due float64) float64 { return c.laid.offset + max(due*least, due*most) })
	return low, high
}

// Difference is what remains of samples from a first one on when the reference at
// the capture's own level is taken away; nothing where it could not be aligned.
func (c *Comparison) Difference(ch *Channel, from, n int) []float64 {
	return c.along(from, n, func(i int, due float64) float64 { return ch.Samples[i] - c.laid.offset - c.laid.gain*due })
}

func (c *Comparison) along(from, n int, of func(i int, due float64) float64) []float64 {
	if c.laid.gain == 0 {
		return nil
	}
	out := make([]float64, n)
	for i := range out {
		due, ok := c.laid.at(from + i)
		if !ok {
			return nil
		}
		out[i] = of(from+i, due)
	}
	return out
}

// comparing is a comparison under way.
type comparing struct {
	Comparison
	got     *Channel
	rate    float64
	l, want levels
	step    float64 // of the converter
	ref     *Reference
	site    Site
}

// found takes a defect down, and gives it for the value that goes with it.
func (c *comparing) found(kind DefectKind, weight float64, format string, args ...any) *Defect {
	c.Defects = append(c.Defects, kind.defect(fmt.Sprintf(format, args...), weight))
	return &c.Defects[len(c.Defects)-1]
}

// Compare compares a capture, sampled at a rate, with its reference. It reports
// false where the reference is too short or holds nothing to compare with; or is a sine or square as a
// sheet describes it, and the capture a picture signal or a sweep, of which that says nothing.
func Compare(got *Channel, rate float64, ref *Reference, site Site) (Comparison, bool) {
	c := comparing{
		got:  got,
		rate: rate,
		ref:  ref,
		site: site,
		l:    sumUp(got.Samples),
		want: sumUp(ref.Samples),
		step: converterStep(got.Samples),
	}
	c.Defects = []Defect{}
	if ref.mask != nil {
		c.site.LowDB, c.site.HighDB = ref.mask.levelDB, ref.mask.levelDB
	}
	if len(got.Samples) < 32 || len(ref.Samples) < 32 || c.want.high == c.want.low && c.want.mean == 0 {
		return c.Comparison, false
	}
	seen := look(ref.Samples, c.want, ref.Rate, site)
	kind := seen.kind
	if kind == Steady {
		c.steady()
		return c.finish(), true
	}
	c.GainDB = gainDB(c.l.ac, c.want.ac)
	if c.GainDB < -absentDB {
		c.absent(seen)
		return c.finish(), true
	}
	if ref.made && c.isWhole() {
		return c.Comparison, false
	}
	if c.pilot() || c.wholly(seen.whole) {
		return c.finish(), true
	}
	if r, ok := ref.folded(seen); ok {
		c.repeating(seen, &r)
	} else {
		c.once()
	}
	return c.finish(), true
}

// isWhole tells whether the capture is a picture signal or a sweep.
func (c *comparing) isWhole() bool {
	_, video := findComposite(c.got.Samples, c.l, c.rate, c.site.Mains)
	if video {
		return true
	}
	_, swept := findSweep(c.got.Samples, c.l, c.rate)
	return swept
}

// wholly compares what is one thing from its beginning to its end; true where that says all.
func (c *comparing) wholly(due whole) bool {
	switch due := due.(type) {
	case *composite:
		return c.video(due)
	case *course:
		return c.course(due)
	case *sweep:
		return c.sweep(due)
	case *carrier:
		return c.modulation(due)
	}
	return false
}

// gainDB is the gain from one level to another, no further down than is of interest.
func gainDB(got, due float64) float64 {
	const faintest = 1e-6
	return quantity.DB(max(got, faintest*due), due)
}

// folded takes the reference apart; false where it does not repeat.
func (r *Reference) folded(seen seen) (folded, bool) {
	omega, ok := seen.tone.omega, true
	if seen.kind != Tone {
		omega, ok = repeatsAt(r.Samples, sumUp(r.Samples), r.Rate, 0)
	}
	if !ok {
		return folded{}, false
	}
	if seen.kind == Tone {
		omega = seen.tone.surer(r.Samples).omega
	}
	f := fold(r.Samples, omega, r.Rate)
	return f, f.restRMS < 0.5*f.ac
}

// behind is by how much the capture lies behind its reference, in seconds: of what repeats, within half a period.
func (c *comparing) behind() float64 {
	switch l := &c.laid; {
	case l.gain == 0 || c.ref.made: // what is made begins anywhere
		return 0
	case l.period != nil:
		return math.Remainder(l.shift/foldBins, 1) * 2 * math.Pi / (l.omega * c.rate)
	default:
		return l.lag / c.rate
	}
}

// finish puts the gravest first, and adds the level, which is last: clipping lowers
// it as well.
func (c *comparing) finish() Comparison {
	slices.SortStableFunc(c.Defects, func(a, b Defect) int {
		switch {
		case a.Weight > b.Weight:
			return -1
		case a.Weight < b.Weight:
			return 1
		}
		return 0
	})
	c.Shift = c.behind()
	low, high := c.site.within()
	if (c.GainDB < -low || c.GainDB > high) && !slices.ContainsFunc(c.Defects, func(d Defect) bool {
		return d.Kind == AbsentSignal || d.Kind == CuttingOut || d.Kind == Unlike
	}) {
		kind := LowLevel
		if c.GainDB > 0 {
			kind = HighLevel
		}
		c.found(kind, 0, "%s against the reference", quantity.SignedDB(c.GainDB))
	}
	return c.Comparison
}

// absent says that nothing is there. What is due is laid where it would be, at no
// known phase, for the eye.
func (c *comparing) absent(seen seen) {
	if r, ok := c.ref.folded(seen); ok && r.hz < c.rate/2 {
		c.laid = laid{offset: c.l.mean, gain: quantity.Times(c.GainDB), mean: r.mean, omega: 2 * math.Pi * r.hz / c.rate, period: r.period}
	}
	c.found(AbsentSignal, 1, "%s where the reference has %s", written(c.l.ac, c.got.Unit), written(c.want.ac, c.ref.Unit))
}

// steady compares voltages that stand still: their level, and what is on them.
func (c *comparing) steady() {
	c.GainDB = gainDB(math.Abs(c.l.mean), math.Abs(c.want.mean))
	if c.GainDB < -absentDB {
		c.found(AbsentSignal, 1, "%s where the reference has %s", written(c.l.mean, c.got.Unit), written(c.want.mean, c.ref.Unit))
		return
	}
	x := c.got.Samples[:min(len(c.got.Samples), mostFolded)]
	f := folded{amplitude: math.Sqrt2 * math.Abs(c.l.mean), rest: make([]float64, len(x))}
	for i, v := range x {
		f.rest[i] = v - c.l.mean
	}
	f.restRMS = c.l.ac
	c.besides(&f, math.Sqrt2*math.Abs(c.want.mean), c.want.ac)
}

// repeating compares waveforms that repeat.
func (c *comparing) repeating(seen seen, r *folded) {
	kind := seen.kind
	var omega float64
	if kind == Tone {
		t, ok := toneNear(c.got.Samples, c.l, r.hz/c.rate)
		if !ok {
			if c.GainDB < -lostDB {
				c.absent(seen)
			} else {
				c.once()
			}
			return
		}
		omega = t.surer(c.got.Samples).omega
	} else {
		var ok bool
		if omega, ok = repeatsAt(c.got.Samples, c.l, c.rate, r.hz); !ok {
			c.once()
			return
		}
	}
	f := fold(c.got.Samples, omega, c.rate)
	c.Hz = f.hz
	shift, gain := f.against(r)
	c.laid = laid{offset: f.mean, gain: gain, mean: r.mean, omega: omega, shift: shift, period: r.period, mask: c.ref.mask}
	c.GainDB = gainDB(math.Abs(gain), 1)
	if kind == Tone { // what clips loses its ends: the fundamental tells
		c.GainDB = gainDB(f.amplitude, r.amplitude)
	}
	c.Rest = f.remaining(r, shift, gain)
	if c.GainDB < -absentDB {
		c.absent(seen)
		return
	}
	if ratio := f.hz / r.hz; math.Abs(ratio-1) > sameHz {
		c.wrongFrequency(f.hz, r.hz)
	}
	if share := outOf(c.got.Samples, c.l.mean, f.hz, c.rate); share > outTime {
		c.found(CuttingOut, 1, "it is gone for %.0f %% of the time", 100*share)
		return // what else shows comes from that
	}
	usual, off := r.restRMS, excess{}
	m := c.ref.mask
	if m != nil {
		usual, off = m.rest*r.ac, m.excess(&f, shift)
	}
	switch {
	case kind == Tone && c.bursting(&f, r):
		return
	case m != nil && off.share <= outsideShare: // good ones differ as much
	case kind == Tone:
		c.shape(&f, r)
	default:
		c.edges(&f, r)
	}
	if off.share > outsideShare && len(c.Defects) == 0 {
		c.outside(&f, off)
	}
	f.calm()
	if m == nil {
		r.calm()
		usual = r.restRMS
	}
	// What the reference has of it too is no defect, be it its own noise, which grows
	// and falls with the signal, or the instrument's, which does not.
	c.besides(&f, r.amplitude, usual*max(f.amplitude/r.amplitude, 1))
	if len(c.Defects) == 0 {
		c.spiked(f.hz)
	}
}

// repeatsAt finds the frequency (radians a sample) at which a waveform that is no
// sine repeats: where it crosses its middle, or else near a frequency that is due
// (Hz; zero: none).
func repeatsAt(x []float64, l levels, rate, due float64) (omega float64, ok bool) {
	omega, sure, ok := repeatsNear(x, l, rate, due)
	if ok && !sure {
		omega = together(x, omega)
	}
	return omega, ok
}

// repeatsNear is so, and whether it is sure: by crossings that hardly differ, as those of edges do.
func repeatsNear(x []float64, l levels, rate, due float64) (omega float64, sure, ok bool) {
	part := x[:min(len(x), fitLength)]
	line := func(hz, least float64) (omega float64, ok bool) {
		if hz <= 0 || hz >= rate/2 {
			return 0, false
		}
		t, ok := fitTone(part, 2*math.Pi*hz/rate)
		return t.omega, ok && math.Abs(t.omega*rate/(2*math.Pi*hz)-1) < sameHz && t.amplitude() > least*l.ac
	}
	if hz, spread, crosses := crossings(part, l, rate); crosses {
		// What rings may cross its middle several times in a period: then there is a
		// line below.
		const least = 0.1 // amplitude over the rms of all
		spectrum := lines(level(part))
		for _, times := range []float64{3, 2} {
			bin := int(math.Round(hz / times * float64(spectrum.n) / rate))
			if spectrum.around(bin) < least*least/2*spectrum.sum {
				continue
			}
			if omega, ok = line(hz/times, least); ok {
				return omega, false, true
			}
		}
		// A sine that is fitted to few periods of it goes astray; over many it is far surer.
		if omega = 2 * math.Pi * hz / rate; few(part, omega) && spread < sureHz*hz && hz < rate/2 {
			return omega, true, true
		}
		if omega, ok = line(hz, least); ok {
			return omega, false, true
		}
	}
	omega, ok = line(due, 0.05)
	return omega, false, ok
}

// remaining is the rms of what differs from the reference at the same level, within
// a period and besides it, over the reference's.
func (f *folded) remaining(r *folded, shift, gain float64) float64 {
	if gain == 0 {
		return 0
	}
	sum := 0.0
	for k, v := range f.period {
		d := v - f.mean - gain*(between(r.period, float64(k)-shift)-r.mean)
		sum += d * d / foldBins
	}
	return math.Sqrt(sum+f.restRMS*f.restRMS) / (math.Abs(gain) * r.ac)
}

// toneNear finds the tone of a waveform: the strongest line, or the one at the
// frequency that is due (a share of the rate) where that is there too.
func toneNear(x []float64, l levels, due float64) (tone, bool) {
	x = x[:min(len(x), fitLength)]
	if l.ac == 0 || len(x) < 32 {
		return tone{}, false
	}
	strongest, ok := fitTone(x, peakOmega(x, l.mean))
	expected, okDue := tone{}, false
	if due < 0.5 {
		expected, okDue = fitTone(x, 2*math.Pi*due)
	}
	// Of few periods a line lies as near to what is due as to what is there.
	if apart := math.Abs(strongest.omega/expected.omega - 1); ok && okDue && apart < confused && few(x, strongest.omega) {
		_, one := fitTogether(x, strongest.omega)
		_, other := fitTogether(x, expected.omega)
		okDue = other < 2*one
	}
	if okDue && math.Abs(expected.omega/(2*math.Pi*due)-1) < sameHz && (!ok || expected.amplitude() > 0.15*strongest.amplitude()) {
		return expected, expected.amplitude() > 0.02*l.ac
	}
	return strongest, ok && strongest.amplitude() > 0.5*l.ac
}
