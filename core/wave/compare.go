package wave

import (
	"fmt"
	"math"
	"math/cmplx"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"

	"steptrace/core/quantity"
)

// A tone is compared with its reference by what each is made of: what repeats with
// every period, found by folding all periods onto one, and what does not. Clipping
// and crossover show in the first, hum, noise, crackle and oscillation in the
// second, whatever the trigger, the rate and the length of either capture.

// DefectKind is what is wrong with a waveform.
type DefectKind string

// The defects that are told apart.
const (
	AbsentSignal   DefectKind = "absent"
	LowLevel       DefectKind = "low"
	HighLevel      DefectKind = "high"
	WrongFrequency DefectKind = "wrong frequency"
	ClippedTop     DefectKind = "clipped on top"
	ClippedBottom  DefectKind = "clipped on the bottom"
	ClippedBoth    DefectKind = "clipped on both sides"
	Crossover      DefectKind = "crossover"
	Distortion     DefectKind = "distorted"
	HumMains       DefectKind = "hum at the mains"
	HumDouble      DefectKind = "hum at twice the mains"
	Oscillation    DefectKind = "parasitic oscillation"
	Crackle        DefectKind = "crackle"
	Noise          DefectKind = "noise"
	CuttingOut     DefectKind = "cutting out"
)

// Defect is one thing wrong, with what shows it and its usual causes. Word is what
// is logged for it; a level or a frequency that is off is logged as a figure.
// Weight orders several: the share of the signal that it takes.
type Defect struct {
	Kind     DefectKind    `json:"kind"`
	Evidence string        `json:"evidence"`
	Causes   string        `json:"causes"`
	Word     quantity.Word `json:"word"`
	Weight   float64       `json:"weight"`
}

// biased is what clips one side.
const biased = "the bias gone to one side: a leaky coupling capacitor, a drifted bias resistor, the supply too low"

// known are the usual causes of each defect, the trade's experience, and its word.
var known = map[DefectKind]struct {
	causes string
	word   quantity.Word
}{
	AbsentSignal:   {"an open or dead stage before this point, a missing supply, or the probe beside it", quantity.Nothing},
	LowLevel:       {"a coupling capacitor dried out, a bypass capacitor open, a transistor without gain, a load behind", ""},
	HighLevel:      {"feedback open, a control or divider leg open", ""},
	WrongFrequency: {"the timing resistor or capacitor of the source drifted, a coil or crystal off, another mode", ""},
	ClippedTop:     {biased, quantity.Distorted},
	ClippedBottom:  {biased, quantity.Distorted},
	ClippedBoth:    {"too much signal, or the supply too low for it", quantity.Distorted},
	Crossover:      {"an output pair without its idle current: bias diode or control, one half of the pair dead", quantity.Distorted},
	Distortion:     {"a stage off its bias, a cone or head dirty or worn", quantity.Distorted},
	HumMains:       {"a broken screen or ground, a filament or a half-wave supply without its reservoir", quantity.Hum},
	HumDouble:      {"the reservoir of a full-wave supply dried out, a regulator out of its range", quantity.Hum},
	Oscillation:    {"a decoupling or stopper part open, a lead out of place, a missing load", quantity.Noisy},
	Crackle:        {"a joint, a contact, a control, a capacitor or transistor breaking through", quantity.Crackle},
	Noise:          {"a noisy transistor or resistor early on, or too little signal before the gain", quantity.Noisy},
	CuttingOut:     {"a joint, a contact or a relay; tap, flex and cool what is left", quantity.CutsOut},
}

// MainsHz is the mains frequency of most places; some have 60 Hz.
const MainsHz = 50.0

// What is compared, and from where on it is a defect. Levels: as a sheet's usual
// tolerance. The rest is what a careful eye sees on a trace about a hand high.
const (
	levelDB    = 2.0
	absentDB   = 40.0
	sameHz     = 0.01
	clipWidth  = 1.35 // how much wider than a sine's a top is
	deadSlope  = 0.7  // of a sine's at its crossings
	someShare  = 0.02 // of the signal's rms: residuals above it are seen
	thdShare   = 0.02
	outShare   = 0.35 // of the usual amplitude: below it the signal is out
	outTime    = 0.01 // for this share of the time
	spiky      = 9.0  // kurtosis; noise has 3
	foldBins   = 256
	mostFolded = 1 << 17
)

// Comparison is a capture against its reference.
type Comparison struct {
	GainDB  float64  `json:"gainDB"` // of the capture against the reference
	Hz      float64  `json:"hz"`     // of the capture; 0 where it has none
	Defects []Defect `json:"defects"`

	aligned tone    // of the capture
	due     float64 // amplitude of the reference
}

// Due is the reference laid under the first n samples of the capture: at its
// phase, with its offset; nothing where the capture has no tone to align by.
func (c *Comparison) Due(n int) []float64 {
	size := c.aligned.amplitude()
	if size == 0 {
		return nil
	}
	out := make([]float64, n)
	each(n, c.aligned.omega, func(i int, cos, sin float64) {
		out[i] = c.aligned.offset + c.due/size*(c.aligned.a*cos+c.aligned.b*sin)
	})
	return out
}

// Described is the reference that a manual describes: a sine of a level (V rms) and
// a frequency (Hz), sampled at a rate.
func Described(rms, hz, rate float64) Channel {
	const periods = 40
	n := int(math.Ceil(periods * rate / hz))
	ch := Channel{Unit: "V", Samples: make([]float64, min(max(n, 64), fitLength))}
	for i := range ch.Samples {
		ch.Samples[i] = rms * math.Sqrt2 * math.Sin(2*math.Pi*hz*float64(i)/rate)
	}
	return ch
}

// folded is a tone taken apart.
type folded struct {
	hz, amplitude float64   // of the fundamental
	period        []float64 // one period, the mean of all
	rest          []float64 // what does not repeat
	restRMS       float64
	thd           float64
}

// fold takes a waveform of a known frequency apart.
func fold(x []float64, omega float64, rate float64) folded {
	x = x[:min(len(x), mostFolded)]
	sums, counts := make([]float64, foldBins), make([]float64, foldBins)
	phase := func(i int) float64 {
		p := omega * float64(i) / (2 * math.Pi)
		return (p - math.Floor(p)) * foldBins
	}
	for i, v := range x { // each sample goes to the two bins beside it
		p := phase(i)
		k, part := int(p)%foldBins, p-math.Floor(p)
		sums[k] += (1 - part) * v
		counts[k] += 1 - part
		sums[(k+1)%foldBins] += part * v
		counts[(k+1)%foldBins] += part
	}
	f := folded{hz: omega * rate / (2 * math.Pi), period: make([]float64, foldBins), rest: make([]float64, len(x))}
	for k := range sums {
		if counts[k] > 0 {
			f.period[k] = sums[k] / counts[k]
		} else if k > 0 {
			f.period[k] = f.period[k-1]
		}
	}
	spectrum := fourier.NewFFT(foldBins).Coefficients(nil, f.period)
	f.amplitude = 2 * cmplx.Abs(spectrum[1]) / foldBins
	others := 0.0
	for k := 2; k <= mostHarmonics; k++ {
		a := 2 * cmplx.Abs(spectrum[k]) / foldBins
		others += a * a
	}
	f.thd = math.Sqrt(others) / f.amplitude
	sum := 0.0
	for i, v := range x {
		p := phase(i)
		k, part := int(p)%foldBins, p-math.Floor(p)
		f.rest[i] = v - (1-part)*f.period[k] - part*f.period[(k+1)%foldBins]
		sum += f.rest[i] * f.rest[i]
	}
	f.restRMS = math.Sqrt(sum / float64(len(x)))
	return f
}

// Compare compares a capture of a tone with its reference, at the mains frequency
// of the place (Hz). It reports false where the reference is no tone.
func Compare(got, ref *Channel, rate, refRate, mains float64) (Comparison, bool) {
	want := sumUp(ref.Samples)
	refTone, ok := fitTone(ref.Samples[:min(len(ref.Samples), fitLength)], peakOmega(ref.Samples, want.mean))
	if !ok || refTone.amplitude()*refTone.amplitude()/2 < toneShare*want.ac*want.ac {
		return Comparison{}, false
	}
	r := fold(ref.Samples, refTone.omega, refRate)
	l := sumUp(got.Samples)
	c := Comparison{Defects: []Defect{}}
	found := func(kind DefectKind, weight float64, format string, args ...any) {
		c.Defects = append(c.Defects, Defect{kind, fmt.Sprintf(format, args...), known[kind].causes, known[kind].word, weight})
	}
	t, hasTone := toneNear(got.Samples, l, r.hz/rate)
	c.GainDB = quantity.DB(max(l.ac, 1e-300), want.ac)
	if hasTone {
		c.GainDB = quantity.DB(max(t.amplitude(), 1e-300), refTone.amplitude())
	}
	if c.GainDB < -absentDB || !hasTone {
		found(AbsentSignal, 1, "%s where the reference has %s", written(l.ac, got.Unit), written(want.ac, ref.Unit))
		return c, true
	}
	f := fold(got.Samples, t.omega, rate)
	c.Hz, c.aligned, c.due = f.hz, t, refTone.amplitude()
	if ratio := f.hz / r.hz; math.Abs(ratio-1) > sameHz {
		found(WrongFrequency, 1, "%s where the reference has %s: ×%.4g", quantity.Rounded(f.hz, quantity.Hertz), quantity.Rounded(r.hz, quantity.Hertz), ratio)
	}
	if share := outOf(got.Samples, l.mean, f, rate); share > outTime {
		found(CuttingOut, 1, "it is gone for %.0f %% of the time", 100*share)
		return c, true // what else shows comes from that
	}
	f.shape(r, found)
	f.besides(r, rate, mains, found)
	slices.SortStableFunc(c.Defects, func(a, b Defect) int {
		switch {
		case a.Weight > b.Weight:
			return -1
		case a.Weight < b.Weight:
			return 1
		}
		return 0
	})
	if math.Abs(c.GainDB) > levelDB { // last: clipping lowers a level as well
		kind := LowLevel
		if c.GainDB > 0 {
			kind = HighLevel
		}
		found(kind, 0, "%s against the reference", quantity.SignedDB(c.GainDB))
	}
	return c, true
}

// toneNear finds the tone of a waveform: the strongest line, or the one at the
// frequency that is due (a share of the rate) where that is there too.
func toneNear(x []float64, l levels, due float64) (tone, bool) {
	x = x[:min(len(x), fitLength)]
	if l.ac == 0 || len(x) < 32 {
		return tone{}, false
	}
	strongest, ok := fitTone(x, peakOmega(x, l.mean))
	expected, okDue := fitTone(x, 2*math.Pi*due)
	if okDue && math.Abs(expected.omega/(2*math.Pi*due)-1) < sameHz && (!ok || expected.amplitude() > 0.15*strongest.amplitude()) {
		return expected, expected.amplitude() > 0.02*l.ac
	}
	return strongest, ok && strongest.amplitude() > 0.5*l.ac
}

// outOf is the share of the time for which the signal is gone: pieces of some
// periods with far less amplitude than the usual one.
func outOf(x []float64, mean float64, f folded, rate float64) float64 {
	piece := max(int(2*rate/f.hz), 8)
	var sizes []float64
	for at := 0; at+piece <= len(x); at += piece {
		sum := 0.0
		for _, v := range x[at : at+piece] {
			sum += (v - mean) * (v - mean)
		}
		sizes = append(sizes, math.Sqrt(sum/float64(piece)))
	}
	if len(sizes) < 8 {
		return 0
	}
	sorted := slices.Sorted(slices.Values(sizes))
	usual := sorted[len(sorted)*9/10]
	out := 0
	for _, s := range sizes {
		if s < outShare*usual {
			out++
		}
	}
	return float64(out) / float64(len(sizes))
}

// shape names what is wrong with the period itself.
func (f *folded) shape(r folded, found func(DefectKind, float64, string, ...any)) {
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
	const says = "its %s flat for %.1f times as long as a sine's, at %.3g"
	switch {
	case flatUp && flatDown:
		found(ClippedBoth, excess, "both ends are flat, %.1f and %.1f times as long as a sine's, at %.3g and %.3g", up, down, top, bottom)
	case flatUp:
		found(ClippedTop, excess, says, "top is", up, top)
	case flatDown:
		found(ClippedBottom, excess, says, "bottom is", down, bottom)
	default:
		if slope := f.crossing() / max(r.crossing(), 1e-9); slope < deadSlope {
			found(Crossover, excess, "it stands still where it crosses its middle: %.0f %% of the slope that is due", 100*slope)
		} else if excess > thdShare {
			found(Distortion, excess, "%.2g %% of harmonics where the reference has %.2g %%", 100*f.thd, 100*r.thd)
		}
	}
}

// crossing is the least slope where the period crosses its middle, as a share of a
// sine's of the same fundamental.
func (f *folded) crossing() float64 {
	mean := 0.0
	for _, v := range f.period {
		mean += v / foldBins
	}
	const over = 5 // bins, seven degrees
	least := math.Inf(1)
	for k, v := range f.period {
		w := f.period[(k+1)%foldBins]
		if (v-mean)*(w-mean) > 0 {
			continue
		}
		a, b := f.period[(k-over+foldBins)%foldBins], f.period[(k+1+over)%foldBins]
		least = min(least, math.Abs(b-a)/(f.amplitude*2*math.Sin(math.Pi*(2*over+1)/foldBins)))
	}
	return least
}

// besides names what there is besides the period.
func (f *folded) besides(r folded, rate, mains float64, found func(DefectKind, float64, string, ...any)) {
	signal := f.amplitude / math.Sqrt2
	// What the reference has of it too is no defect, be it its own noise, which grows
	// and falls with the signal, or the instrument's, which does not.
	usual := r.restRMS * max(f.amplitude/r.amplitude, 1)
	share := math.Sqrt(max(f.restRMS*f.restRMS-usual*usual, 0)) / signal
	if share < someShare {
		return
	}
	spectrum := lines(f.rest)
	hz := func(k int) float64 { return float64(k) * rate / float64(spectrum.n) }
	if at, power := spectrum.mains(mains, rate); power > 0.5 {
		kind := HumMains
		if at%2 == 0 {
			kind = HumDouble
		}
		found(kind, share, "%.2g %% of it is hum, mostly at %s", 100*share, quantity.Rounded(mains*float64(at), quantity.Hertz))
		return
	}
	if k, power := spectrum.strongest(); power > 0.5 {
		found(Oscillation, share, "%.2g %% of it is a tone of its own at %s", 100*share, quantity.Rounded(hz(k), quantity.Hertz))
		return
	}
	fourth := 0.0
	for _, v := range f.rest {
		fourth += v * v * v * v
	}
	if kurtosis := fourth / float64(len(f.rest)) / math.Pow(f.restRMS, 4); kurtosis > spiky {
		found(Crackle, share, "what does not belong to it comes in bursts, %.2g %% of it in all", 100*share)
		return
	}
	found(Noise, share, "%.2g %% of it is noise", 100*share)
}

// lineSpectrum is a power spectrum under a Hann window.
type lineSpectrum struct {
	n     int
	power []float64
	sum   float64
}

func lines(x []float64) lineSpectrum {
	n := 1
	for 2*n <= len(x) {
		n *= 2
	}
	windowed := make([]float64, n)
	for i := range windowed {
		windowed[i] = x[i] * (0.5 - 0.5*math.Cos(2*math.Pi*float64(i)/float64(n)))
	}
	s := lineSpectrum{n: n}
	for _, c := range fourier.NewFFT(n).Coefficients(nil, windowed) {
		p := real(c)*real(c) + imag(c)*imag(c)
		s.power = append(s.power, p)
		s.sum += p
	}
	return s
}

// around sums the power of a line: its bin and two on each side.
func (s *lineSpectrum) around(k int) float64 {
	p := 0.0
	for i := max(k-2, 0); i <= min(k+2, len(s.power)-1); i++ {
		p += s.power[i]
	}
	return p
}

// strongest gives the strongest line, and its share of the power.
func (s *lineSpectrum) strongest() (bin int, share float64) {
	for k := range s.power {
		if s.power[k] > s.power[bin] {
			bin = k
		}
	}
	return bin, s.around(bin) / s.sum
}

// mains gives the strongest of the first multiples of the mains, and the share of
// the power that all of them have.
func (s *lineSpectrum) mains(hz, rate float64) (multiple int, share float64) {
	best := 0.0
	seen := map[int]bool{}
	for m := 1; m <= 6; m++ {
		k := int(math.Round(hz * float64(m) * float64(s.n) / rate))
		if k >= len(s.power) || seen[k] {
			continue
		}
		seen[k] = true
		p := s.around(k)
		share += p / s.sum
		if p > best {
			best, multiple = p, m
		}
	}
	return multiple, min(share, 1)
}
