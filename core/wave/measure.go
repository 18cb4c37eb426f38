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
var readAs = map[string]string{
	"pp":        "%g Vpp",
	"ac":        "%g Vrms",
	"mean":      "%g V dc",
	"final":     "%g V dc",
	"frequency": "%g Hz",
	"linehz":    "%g Hz",
}

// asReading writes a figure as it is typed; six digits are more than is known.
func (f *Figure) asReading() {
	if form, ok := readAs[f.Key]; ok && (f.Unit == "V" || f.Unit == "Hz") {
		six, _ := strconv.ParseFloat(strconv.FormatFloat(f.Value, 'g', 6, 64), 64)
		f.Reading = fmt.Sprintf(form, six)
	}
}

// Character is what a waveform is like; only the figures that make sense for it are given.
type Character string

// The kinds.
const (
	Steady Character = "steady" // no signal to speak of
	Tone   Character = "tone"   // mostly one sine
	Pulses Character = "pulses" // two states with edges between
	Other  Character = "other"

	Modulated Character = "modulated" // a carrier whose amplitude or frequency a tone moves
	Video     Character = "video"     // composite, with its sync
	Swept     Character = "swept"     // a tone whose frequency goes one way
	Once      Character = "once"      // it goes from one level to another, or there and back
)

// Figures is all that is measured of a channel, what tells most first. Response is how the level of a sweep goes with its
// frequency; nothing of others.
type Figures struct {
	Kind     Character `json:"kind"`
	List     []Figure  `json:"list"`
	Response *Spectrum `json:"response" jsonschema:"nullable"`
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
	// mostHarmonics are told apart in distortion: the audio custom, second to tenth.
	mostHarmonics = 10
	harmonicFit   = 1 << 16 // samples that they are fitted to
	// From shapely on a tone has slopes or edges of its own. Of the harmonics the strongest are told one by one, from a share
	// of the fundamental on.
	shapely, toldHarmonics, leastHarmonic = 0.03, 4, 0.001
)

// byHarmonics is how a frequency is found of few periods of what is no sine.
const byHarmonics = "its first harmonics, fitted together"

// adder adds a figure, and gives it for what is to be written otherwise.
type adder func(key, name string, value float64, unit string, sure float64, how string) *Figure

// Measure measures a channel sampled at a rate (samples a second), at a site.
func (ch *Channel) Measure(rate float64, site Site) Figures {
	x := ch.Samples
	l := sumUp(x)
	f := Figures{Kind: Other, List: []Figure{}}
	add := func(key, name string, value float64, unit string, sure float64, how string) *Figure {
		if math.IsNaN(value+sure) || math.IsInf(value+sure, 0) {
			return &Figure{} // it cannot be told, and is not given
		}
		figure := Figure{Key: key, Name: name, Value: value, Unit: unit, Text: written(value, unit), Sure: sure, How: how}
		figure.asReading()
		f.List = append(f.List, figure)
		return &f.List[len(f.List)-1]
	}
	seen := look(x, l, rate, site)
	f.Kind = seen.kind
	if seen.whole != nil {
		seen.whole.figures(ch.Unit, add)
		pilotFigures(ch, rate, site.Pilot, add)
		plainFigures(l, ch.Unit, add)
		if s, ok := seen.whole.(*sweep); ok {
			f.Response = s.response()
		}
		return f
	}
	plainFigures(l, ch.Unit, add)
	switch {
	case len(x) < leastSeen || l.high == l.low:
	case f.Kind == Steady:
		seen.steadyFigures(ch, l, rate, site, add)
	default:
		add("crest", "crest factor", max(l.high-l.mean, l.mean-l.low)/l.ac, "", 0, "peak over rms, both without DC")
		hz := seen.repeatedFigures(ch, l, rate, site, add)
		pilotFigures(ch, rate, site.Pilot, add)
		eventFigures(x, l, hz, rate, add)
	}
	return f
}

// plainFigures gives the sums of the samples.
func plainFigures(l levels, unit string, add adder) {
	const sum = "from the samples"
	add("pp", "peak to peak", l.high-l.low, unit, 0, "highest less lowest sample").Text += "pp"
	add("peak", "peak", max(math.Abs(l.high), math.Abs(l.low)), unit, 0, "the sample furthest from zero")
	add("rms", "rms with DC", l.rms, unit, 0, sum)
	add("ac", "rms without DC", l.ac, unit, 0, sum)
	if math.Abs(l.mean) < 1e-9*(l.high-l.low) {
		l.mean = 0 // what rounding leaves
	}
	add("mean", "mean", l.mean, unit, 0, sum)
}

// steadyFigures gives what is measured of a voltage that stands: its ripple, its hum, and how it goes away.
func (s *seen) steadyFigures(ch *Channel, l levels, rate float64, site Site, add adder) {
	if r := s.ripple; r.hz > 0 {
		r.figure(ch.Unit, add)
		add("frequency", "frequency", r.hz, "Hz", 0, "of the mains, or twice it")
	}
	humFigures(level(ch.fitted()), rate, site.Mains, ch.Unit, add)
	driftFigure(ch.Samples, l, rate, ch.Unit, add)
}

// fitted are the samples that are fitted.
func (ch *Channel) fitted() []float64 { return ch.Samples[:min(len(ch.Samples), fitLength)] }

// repeatedFigures gives what is measured of tones, pulses and whatever else may repeat, and the frequency (Hz) at which
// it does; 0 where it does not.
func (s *seen) repeatedFigures(ch *Channel, l levels, rate float64, site Site, add adder) (hz float64) {
	part := ch.fitted()
	switch s.kind {
	case Tone:
		s.tone = s.tone.surer(part)
		rest := s.tone.figures(part, rate, ch.Unit, add)
		humFigures(rest, rate, site.Mains, ch.Unit, add)
		return s.tone.omega * rate / (2 * math.Pi)
	case Pulses:
		hz, edges := s.pulses.figures(rate, ch.Unit, add)
		if edges < 2 { // one step, which may be a charge
			decayFigures(part, rate, ch.Unit, add)
		}
		return hz
	}
	hz, sure, periodic := crossings(ch.Samples, l, rate)
	if !periodic {
		decayFigures(part, rate, ch.Unit, add)
		humFigures(level(part), rate, site.Mains, ch.Unit, add)
		return 0
	}
	how := "mean of the crossings of the middle, with hysteresis"
	if omega, clear, ok := repeatsNear(ch.Samples, l, rate, 0); ok && !clear {
		hz, how = together(ch.Samples, omega)*rate/(2*math.Pi), byHarmonics
	}
	add("frequency", "frequency", hz, "Hz", sure, how)
	add("period", "period", 1/hz, "s", sure/hz/hz, "from the frequency")
	period := fold(part, 2*math.Pi*hz/rate, rate)
	period.figures(ch.Unit, add)
	return hz
}

// figures gives what is measured of a tone, and what is left without it and its
// harmonics.
func (t *tone) figures(x []float64, rate float64, unit string, add adder) (rest []float64) {
	n := float64(len(x))
	hz := t.omega * rate / (2 * math.Pi)
	// Cramér-Rao bound: var ω = 12/(η·n·(n²−1)), η the ratio of the powers.
	eta := t.amplitude() * t.amplitude() / 2 / max(t.residual*t.residual, 1e-30)
	sure := rate / (2 * math.Pi) * math.Sqrt(12/(eta*n*(n*n-1)))
	how := "sine fit after IEEE 1057"
	if t.together {
		how = byHarmonics
	}
	add("frequency", "frequency", hz, "Hz", sure, how)
	add("period", "period", 1/hz, "s", sure/hz/hz, "from the frequency")
	part := x[:min(len(x), harmonicFit)]
	amplitudes, rest, ok := harmonics(part, t.omega, mostHarmonics)
	if !ok {
		return nil
	}
	residual := sumUp(rest).rms
	first := amplitudes[0]
	others := 0.0
	for _, a := range amplitudes[1:] {
		others += a * a
	}
	if len(amplitudes) > 1 {
		thd, sure := math.Sqrt(others)/first, residual*math.Sqrt(2/float64(len(part)))/first
		figure := add(
			"thd",
			"harmonic distortion",
			thd,
			"%",
			sure,
			fmt.Sprintf("harmonics 2 to %d over the fundamental, fitted together", len(amplitudes)),
		)
		if thd < 2*sure { // what else is there hides it
			figure.Text, figure.Sure = "below "+written(2*sure, "%"), 0
		}
		period := fold(part, t.omega, rate)
		if thd > shapely {
			period.figures(unit, add)
		}
		if dead := period.deadZone(converterStep(part)); dead > 0 {
			add("dead", "dead zone", dead, unit, 0,
				"how far either way what comes in moves before it follows, by how long it stands still").Text = "±" + written(dead, unit)
		}
		t.harmonicFigures(amplitudes, sure, add)
	}
	add(
		"thdn",
		"distortion and noise",
		math.Hypot(math.Sqrt(others/2), residual)/(first/math.Sqrt2),
		"%",
		0,
		"all but the fundamental, over it",
	)
	if residual > 0 {
		add(
			"snr",
			"signal over noise",
			quantity.DB(first/math.Sqrt2, residual),
			"dB",
			0,
			"fundamental over what is no harmonic, full bandwidth",
		)
		add("noise", "noise", residual, unit, 0, "what is no harmonic, full bandwidth").Text += " rms"
	}
	return rest
}

// harmonicFigures gives the strongest harmonics one by one, with how sure a share of the fundamental is.
func (t *tone) harmonicFigures(amplitudes []float64, sure float64, add adder) {
	strong := slices.Clone(amplitudes[1:])
	slices.Sort(strong)
	for i, a := range amplitudes[1:] {
		share := a / amplitudes[0]
		if share > 4*sure && share > leastHarmonic && a >= strong[max(0, len(strong)-toldHarmonics)] {
			add(fmt.Sprintf("h%d", i+2), fmt.Sprintf("harmonic %d", i+2), share, "%", sure, "over the fundamental, fitted together")
		}
	}
}

// driftFigure gives how a voltage that should stand still goes away, where it does by
// more than its noise.
func driftFigure(x []float64, l levels, rate float64, unit string, add adder) {
	const parts = 64
	if len(x) < 4*parts {
		return
	}
	means := make([]float64, parts)
	for i := range means {
		means[i] = sumUp(x[i*len(x)/parts : (i+1)*len(x)/parts]).mean
	}
	slope, sure := trend(means)
	if whole := slope * (parts - 1); math.Abs(slope) > 5*sure && math.Abs(whole) > 1e-5*math.Abs(l.mean) {
		text := " from end to end"
		if c, share := fitCourse(means); share > courseFits {
			text += c.says(float64(len(x)) / rate / parts)
		}
		add("drift", "drift", whole, unit, sure*(parts-1), "line through the means of 64 pieces").Text += text
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
	case "°":
		return fmt.Sprintf("%.2f°", value)
	case "":
		return fmt.Sprintf("%.4g", value)
	}
	return fmt.Sprintf("%.4g %s", value, u)
}

// crossings measures the frequency of a waveform that is no sine by the times at
// which it rises through its middle, having been below by a tenth before.
func crossings(x []float64, l levels, rate float64) (hz, sure float64, ok bool) {
	hysteresis := 0.1 * (l.high - l.low)
	middle := max(l.low+2*hysteresis, min(l.high-2*hysteresis, l.mean)) // of narrow pulses the mean is at their foot
	up := risings(x, middle, hysteresis)
	n := len(up)
	var lengths []float64
	for i := 1; i < n; i++ {
		lengths = append(lengths, up[i]-up[i-1])
	}
	switch {
	case n > 2 && up[n-1]-up[0] >= float64(len(x))/2: // what swings for a while does not repeat
	case n == 2: // of two periods it has to say the same on the way down
		down := fallings(x, middle, hysteresis)
		if len(down) != 2 && len(down) != 3 || lengths[0] < float64(len(x))/3 || math.Abs((down[1]-down[0])/lengths[0]-1) > sameHz {
			return 0, 0, false
		}
		lengths = append(lengths, down[1]-down[0])
	default:
		return 0, 0, false
	}
	period, spread := sumUp(lengths).mean, sumUp(lengths).ac
	if spread > 0.5*period {
		return 0, 0, false // there is no period
	}
	hz = rate / period
	return hz, hz * spread / period / float64(len(lengths)), true
}

// fallings are the risings of a waveform turned over.
func fallings(x []float64, level, hysteresis float64) []float64 {
	return risings(turnedOver(x), -level, hysteresis)
}

// RMS is the level without DC.
func (ch *Channel) RMS() float64 { return sumUp(ch.Samples).ac }

// Rises is where a waveform first rises through its middle (samples, from its first;
// 0 where it does not): captures that stand over each other are lined up by it.
func (ch *Channel) Rises() float64 {
	x := ch.Samples[:min(len(ch.Samples), fitLength)]
	l := sumUp(x)
	if times := risings(x, l.mean, 0.1*(l.high-l.low)); len(times) > 0 {
		return times[0]
	}
	return 0
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
