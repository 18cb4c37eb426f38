package wave

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"steptrace/core/quantity"
)

// Figure is one measure of a waveform. Sure is the standard deviation to be
// expected of the value from the noise in it; 0 where it follows from the samples
// themselves. How names the method. Reading is the figure as it is typed at a point;
// empty where no such thing is read.
type Figure struct {
	Key   string  `json:"key"`
	Name  string  `json:"name"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	Text  string  `json:"text"`
	Sure  float64 `json:"sure"`
	How   string  `json:"how"`

	Reading string `json:"reading"`
}

// readAs are the figures that are read at a point, and how they are typed there.
var readAs = map[string]string{"pp": "%g Vpp", "ac": "%g Vrms", "mean": "%g V dc", "frequency": "%g Hz"}

// asReading writes a figure as it is typed; six digits are more than is known.
func (f *Figure) asReading() {
	if form, ok := readAs[f.Key]; ok && (f.Unit == "V" || f.Unit == "Hz") {
		six, _ := strconv.ParseFloat(strconv.FormatFloat(f.Value, 'g', 6, 64), 64)
		f.Reading = fmt.Sprintf(form, six)
	}
}

// Kind is what a waveform is like; only the figures that make sense for it are given.
type Kind string

// The kinds.
const (
	Steady Kind = "steady" // no signal to speak of
	Tone   Kind = "tone"   // mostly one sine
	Pulses Kind = "pulses" // two states with edges between
	Other  Kind = "other"
)

// Figures is all that is measured of a channel.
type Figures struct {
	Kind Kind     `json:"kind"`
	List []Figure `json:"list"`
}

// Find gives a figure by its key.
func (f *Figures) Find(key string) (Figure, bool) {
	i := slices.IndexFunc(f.List, func(x Figure) bool { return x.Key == key })
	if i < 0 {
		return Figure{}, false
	}
	return f.List[i], true
}

// levels are the plain sums of samples.
type levels struct {
	low, high, mean float64
	rms, ac         float64 // with and without the mean
}

func sumUp(x []float64) levels {
	l := levels{low: math.Inf(1), high: math.Inf(-1)}
	for _, v := range x {
		l.low, l.high = min(l.low, v), max(l.high, v)
		l.mean += v
	}
	n := float64(len(x))
	l.mean /= n
	for _, v := range x {
		l.ac += (v - l.mean) * (v - l.mean)
	}
	l.ac = math.Sqrt(l.ac / n)
	l.rms = math.Hypot(l.ac, l.mean)
	return l
}

const (
	// steadyShare is the share of the largest value below which the rms of what
	// changes is no signal: an eight-bit converter's own noise.
	steadyShare = 0.002
	// toneShare is the share of the power that a single sine has in a tone. From
	// clearTone on it is one whatever its few samples look like: the pulses that are
	// told as such, with edges of up to a sixth of the period, have at most 95 %.
	toneShare, clearTone = 0.6, 0.97
	// mostHarmonics are told apart in distortion: the audio custom, second to tenth.
	mostHarmonics = 10
	harmonicFit   = 1 << 16 // samples that they are fitted to
)

// Measure measures a channel sampled at a rate (samples a second).
func (ch *Channel) Measure(rate float64) Figures {
	x := ch.Samples
	l := sumUp(x)
	f := Figures{Kind: Other, List: []Figure{}}
	add := func(key, name string, value float64, unit string, sure float64, how string) {
		figure := Figure{Key: key, Name: name, Value: value, Unit: unit, Text: written(value, unit), Sure: sure, How: how}
		figure.asReading()
		f.List = append(f.List, figure)
	}
	level := func(key, name string, value float64, form, how string) {
		add(key, name, value, ch.Unit, 0, how)
		f.List[len(f.List)-1].Text += form
	}
	const sum = "from the samples"
	level("pp", "peak to peak", l.high-l.low, "pp", "highest less lowest sample")
	level("peak", "peak", max(math.Abs(l.high), math.Abs(l.low)), "", "the sample furthest from zero")
	level("rms", "rms with DC", l.rms, "", sum)
	level("ac", "rms without DC", l.ac, "", sum)
	if math.Abs(l.mean) < 1e-9*(l.high-l.low) {
		l.mean = 0 // what rounding leaves
	}
	level("mean", "mean", l.mean, "", sum)
	if l.high == l.low || len(x) < 16 {
		f.Kind = Steady
		return f
	}
	part := x[:min(len(x), fitLength)]
	t, ok := fitTone(part, peakOmega(part, l.mean))
	share := 0.0
	if ok {
		power := t.amplitude() * t.amplitude() / 2
		share = power / (power + t.residual*t.residual)
	}
	p, two := findPulses(x, l)
	switch {
	case share >= clearTone, share >= toneShare && !two:
		f.Kind = Tone
	case l.ac <= steadyShare*max(math.Abs(l.high), math.Abs(l.low)):
		f.Kind = Steady
		return f
	case two:
		f.Kind = Pulses
	}
	add("crest", "crest factor", max(l.high-l.mean, l.mean-l.low)/l.ac, "", 0, "peak over rms, both without DC")
	switch f.Kind {
	case Tone:
		t.figures(part, rate, add)
		return f
	case Pulses:
		p.figures(rate, ch.Unit, add)
		return f
	}
	if hz, sure, ok := crossings(x, l, rate); ok {
		add("frequency", "frequency", hz, "Hz", sure, "mean of the crossings of the middle, with hysteresis")
		add("period", "period", 1/hz, "s", sure/hz/hz, "from the frequency")
	}
	return f
}

// figures gives what is measured of a tone.
func (t *tone) figures(x []float64, rate float64, add func(key, name string, value float64, unit string, sure float64, how string)) {
	n := float64(len(x))
	hz := t.omega * rate / (2 * math.Pi)
	// Cramér-Rao bound: var ω = 12/(η·n·(n²−1)), η the ratio of the powers.
	eta := t.amplitude() * t.amplitude() / 2 / max(t.residual*t.residual, 1e-30)
	sure := rate / (2 * math.Pi) * math.Sqrt(12/(eta*n*(n*n-1)))
	add("frequency", "frequency", hz, "Hz", sure, "sine fit after IEEE 1057")
	add("period", "period", 1/hz, "s", sure/hz/hz, "from the frequency")
	part := x[:min(len(x), harmonicFit)]
	amplitudes, residual, ok := harmonics(part, t.omega, mostHarmonics)
	if !ok {
		return
	}
	first := amplitudes[0]
	others := 0.0
	for _, a := range amplitudes[1:] {
		others += a * a
	}
	if len(amplitudes) > 1 {
		add("thd", "harmonic distortion", math.Sqrt(others)/first, "%", residual*math.Sqrt(2/float64(len(part)))/first,
			fmt.Sprintf("harmonics 2 to %d over the fundamental, fitted together", len(amplitudes)))
	}
	add("thdn", "distortion and noise", math.Hypot(math.Sqrt(others/2), residual)/(first/math.Sqrt2), "%", 0, "all but the fundamental, over it")
	if residual > 0 {
		add("snr", "signal over noise", quantity.DB(first/math.Sqrt2, residual), "dB", 0, "fundamental over what is no harmonic, full bandwidth")
	}
}

// written writes a value as a person reads it.
func written(value float64, u string) string {
	switch u {
	case "V":
		return quantity.Value{SI: value, Unit: quantity.Volt}.Short(4)
	case "A":
		return quantity.Value{SI: value, Unit: quantity.Ampere}.Short(4)
	case "Hz":
		return quantity.Value{SI: value, Unit: quantity.Hertz}.Short(6)
	case "s":
		return quantity.Value{SI: value, Unit: quantity.Second}.Short(4)
	case "%":
		return fmt.Sprintf("%.3g %%", 100*value)
	case "dB":
		return fmt.Sprintf("%.1f dB", value)
	case "":
		return fmt.Sprintf("%.3g", value)
	}
	return fmt.Sprintf("%.4g %s", value, u)
}

// crossings measures the frequency of a waveform that is no sine by the times at
// which it rises through its middle, having been below by a tenth before.
func crossings(x []float64, l levels, rate float64) (hz, sure float64, ok bool) {
	times := risings(x, l.mean, 0.1*(l.high-l.low))
	n := len(times)
	if n < 3 {
		return 0, 0, false
	}
	period := (times[n-1] - times[0]) / float64(n-1)
	spread := 0.0
	for i := 1; i < n; i++ {
		d := times[i] - times[i-1] - period
		spread += d * d
	}
	spread = math.Sqrt(spread / float64(n-1))
	if spread > 0.5*period {
		return 0, 0, false // there is no period
	}
	hz = rate / period
	return hz, hz * spread / period / float64(n-1), true
}

// risings lists where (in samples, between them by a straight line) a waveform
// rises through a level after it was below by a hysteresis.
func risings(x []float64, level, hysteresis float64) []float64 {
	var out []float64
	low := false
	for i, v := range x {
		switch {
		case v < level-hysteresis:
			low = true
		case v >= level && low && i > 0:
			out = append(out, float64(i-1)+(level-x[i-1])/(v-x[i-1]))
			low = false
		}
	}
	return out
}
