package wave

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

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
	sameHz    = 0.01
	clipWidth = 1.35 // how much wider than a sine's a top is
	deadSlope = 0.7  // of a sine's at its crossings
	someShare = 0.02 // of the signal's rms: residuals above it are seen
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
	Rest    float64  `json:"rest"`
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
	ref     *Reference
	site    Site
}

func (c *comparing) found(kind DefectKind, weight float64, format string, args ...any) {
	c.Defects = append(c.Defects, Defect{kind, fmt.Sprintf(format, args...), known[kind].causes, known[kind].word, weight})
}

// Compare compares a capture, sampled at a rate, with its reference. It reports
// false where the reference is too short or holds nothing to compare with.
func Compare(got *Channel, rate float64, ref *Reference, site Site) (Comparison, bool) {
	c := comparing{got: got, rate: rate, ref: ref, site: site, l: sumUp(got.Samples), want: sumUp(ref.Samples)}
	c.Defects = []Defect{}
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
	if c.pilot() || kind == Modulated && c.modulation(seen.carrier) {
		return c.finish(), true
	}
	if r, ok := ref.folded(seen); ok {
		c.repeating(seen, &r)
	} else {
		c.once()
	}
	return c.finish(), true
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
	f := fold(r.Samples, omega, r.Rate)
	return f, f.restRMS < 0.5*f.ac
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
			c.absent(seen)
			return
		}
		omega = t.omega
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
	c.laid = laid{offset: f.mean, gain: gain, mean: r.mean, omega: omega, shift: shift, period: r.period}
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
	if kind == Tone {
		c.shape(&f, r)
	} else {
		c.edges(&f, r)
		f.calm()
		r.calm()
	}
	// What the reference has of it too is no defect, be it its own noise, which grows
	// and falls with the signal, or the instrument's, which does not.
	c.besides(&f, r.amplitude, r.restRMS*max(f.amplitude/r.amplitude, 1))
	if len(c.Defects) == 0 {
		c.spiked(f.hz)
	}
}

// spiked names spikes anywhere in the capture, be there only one: what is folded is its
// beginning.
func (c *comparing) spiked(hz float64) {
	size := max(int(2*c.rate/hz), len(c.got.Samples)/mostPieces, 8)
	if far := spikes(c.got.Samples, c.l.mean, size); len(far) > 0 && len(c.got.Samples)/size >= leastPieces {
		c.found(Crackle, someShare, "%d %s beyond %g times the usual peak, the first at %s", len(far), plural(len(far), "spike"), spikeShare, written(float64(far[0]*size)/c.rate, "s"))
	}
}

// repeatsAt finds the frequency (radians a sample) at which a waveform that is no
// sine repeats: where it crosses its middle, or else near a frequency that is due
// (Hz; zero: none).
func repeatsAt(x []float64, l levels, rate, due float64) (omega float64, ok bool) {
	part := x[:min(len(x), fitLength)]
	line := func(hz, least float64) (omega float64, ok bool) {
		if hz <= 0 || hz >= rate/2 {
			return 0, false
		}
		t, ok := fitTone(part, 2*math.Pi*hz/rate)
		return t.omega, ok && math.Abs(t.omega*rate/(2*math.Pi*hz)-1) < sameHz && t.amplitude() > least*l.ac
	}
	if hz, _, crosses := crossings(part, l, rate); crosses {
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
				return omega, true
			}
		}
		if omega, ok = line(hz, least); ok {
			return omega, true
		}
	}
	return line(due, 0.05)
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

// wrongFrequency names it, and what its source would need. The product of an RC
// source goes with 1/f, that of an LC source with 1/f² (Thomson); a crystal is
// pulled by some 0.1 % at most, and one that is off by more swings in another mode.
func (c *comparing) wrongFrequency(got, due float64) {
	ratio := got / due
	clean := ""
	for _, n := range []float64{2, 3, 4, 5, 1.5, 0.5, 1 / 3., 0.25, 0.2} {
		if math.Abs(ratio/n-1) < 0.005 {
			clean = ", a clean factor, as from a divider or an overtone"
		}
	}
	c.found(WrongFrequency, 1, "%s where the reference has %s: ×%.4g%s. An RC source would need R·C times %.4g, an LC source L·C times %.4g; a crystal is not pulled so far",
		quantity.Rounded(got, quantity.Hertz), quantity.Rounded(due, quantity.Hertz), ratio, clean, 1/ratio, 1/(ratio*ratio))
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
	if okDue && math.Abs(expected.omega/(2*math.Pi*due)-1) < sameHz && (!ok || expected.amplitude() > 0.15*strongest.amplitude()) {
		return expected, expected.amplitude() > 0.02*l.ac
	}
	return strongest, ok && strongest.amplitude() > 0.5*l.ac
}

// outOf is the share of the time for which the signal is gone: pieces of some
// periods with far less amplitude than the usual one.
func outOf(x []float64, mean, hz, rate float64) float64 {
	sizes := pieces(x, mean, max(int(2*rate/hz), 8))
	if len(sizes) < 8 {
		return 0
	}
	usual := quantile(sizes, 0.9)
	out := 0
	for _, s := range sizes {
		if s < outShare*usual {
			out++
		}
	}
	return float64(out) / float64(len(sizes))
}

// shape names what is wrong with the period of a tone.
func (c *comparing) shape(f, r *folded) {
	top, bottom := slices.Max(f.period), slices.Min(f.period)
	// How much of the period lies within a hundredth of an end: of a sine, where its
	// cosine is above 0.98, 6.4 %.
	width := func(p []float64, end float64) float64 {
		n := 0.0
		for _, v := range p {
			if math.Abs(v-end) < 0.01*(slices.Max(p)-slices.Min(p)) {
				n++
			}
		}
		return n / float64(len(p)) / (math.Acos(0.98) / math.Pi)
	}
	up, down := width(f.period, top), width(f.period, bottom)
	refUp, refDown := max(width(r.period, slices.Max(r.period)), 1), max(width(r.period, slices.Min(r.period)), 1)
	flatUp, flatDown := up > clipWidth*refUp, down > clipWidth*refDown
	excess := math.Sqrt(max(f.thd*f.thd-r.thd*r.thd, 0))
	at := func(v float64) string { return written(v, c.got.Unit) + c.nearRail(v) }
	const says = "its %s flat for %.1f times as long as a sine's, at %s"
	switch {
	case flatUp && flatDown:
		c.found(ClippedBoth, excess, "both ends are flat, %.1f and %.1f times as long as a sine's, at %s and %s", up, down, at(top), at(bottom))
	case flatUp:
		c.found(ClippedTop, excess, says, "top is", up, at(top))
	case flatDown:
		c.found(ClippedBottom, excess, says, "bottom is", down, at(bottom))
	default:
		if slope := f.crossing() / max(r.crossing(), 1e-9); slope < deadSlope {
			c.found(Crossover, excess, "it stands still where it crosses its middle: %.0f %% of the slope that is due", 100*slope)
		} else if excess > thdShare {
			c.found(Distortion, excess, "%.2g %% of harmonics where the reference has %.2g %%", 100*f.thd, 100*r.thd)
		}
	}
}

// nearRail says how far a level is from the supply, or from ground, that stops it
// there; nothing where neither is near, or the capture came through a capacitor,
// which leaves no DC to tell by.
func (c *comparing) nearRail(v float64) string {
	const someDC, near, nearVolts = 0.1, 0.25, 3.0 // of the height; of the supply; V
	if len(c.site.Rails) == 0 || math.Abs(c.l.mean) < someDC*(c.l.high-c.l.low) {
		return ""
	}
	best := ""
	least := math.Inf(1)
	for _, r := range append(slices.Clone(c.site.Rails), Rail{"ground", 0}) {
		if d := math.Abs(v - r.Volts); d < least && d < max(near*math.Abs(r.Volts), nearVolts) {
			least, best = d, fmt.Sprintf(", %s from %s", written(d, "V"), strings.TrimSpace(r.Name))
		}
	}
	return best
}

// crossing is the least slope where the period crosses its middle, as a share of a
// sine's of the same fundamental.
func (f *folded) crossing() float64 {
	const over = 5 // bins, seven degrees
	least := math.Inf(1)
	for k, v := range f.period {
		w := f.period[(k+1)%foldBins]
		if (v-f.mean)*(w-f.mean) > 0 {
			continue
		}
		a, b := f.period[(k-over+foldBins)%foldBins], f.period[(k+1+over)%foldBins]
		least = min(least, math.Abs(b-a)/(f.amplitude*2*math.Sin(math.Pi*(2*over+1)/foldBins)))
	}
	return least
}

// besides names what there is besides what repeats, at the amplitude that is due:
// more than is usual, rms.
func (c *comparing) besides(f *folded, due, usual float64) {
	// A weak signal's noise is judged by the signal that is due.
	signal := max(f.amplitude, due) / math.Sqrt2
	share := math.Sqrt(max(f.restRMS*f.restRMS-usual*usual, 0)) / signal
	if share < someShare {
		return
	}
	spectrum := lines(f.rest)
	hz := func(k int) float64 { return float64(k) * c.rate / float64(spectrum.n) }
	if at, power := spectrum.mains(c.site.Mains, c.rate); power > 0.5 {
		kind := HumMains
		if at%2 == 0 {
			kind = HumDouble
		}
		c.found(kind, share, "%.2g %% of it is hum, mostly at %s", 100*share, quantity.Rounded(c.site.Mains*float64(at), quantity.Hertz))
		return
	}
	if k, power := spectrum.strongest(); power > 0.5 && !(f.hz > 0 && math.Abs(math.Remainder(hz(k), f.hz)) < 2*hz(1)) {
		c.found(Oscillation, share, "%.2g %% of it is a tone of its own at %s", 100*share, quantity.Rounded(hz(k), quantity.Hertz))
		return
	}
	fourth := 0.0
	for _, v := range f.rest {
		fourth += v * v * v * v
	}
	if kurtosis := fourth / float64(len(f.rest)) / math.Pow(f.restRMS, 4); kurtosis > spiky {
		c.found(Crackle, share, "what does not belong to it comes in bursts, %.2g %% of it in all", 100*share)
		return
	}
	c.found(Noise, share, "%.2g %% of it is noise", 100*share)
}
