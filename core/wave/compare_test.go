package wave

import (
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/quantity"
	"steptrace/internal/trial"
)

// spoil makes a waveform with a defect, as its name says, at a severity from 0
// (just worth seeing) to 1 (gross). It knows nothing of how defects are recognised.
func spoil(rng *rand.Rand, kind DefectKind, severity float64, n int, rate, hz, amplitude float64) Channel {
	phase := 2 * math.Pi * rng.Float64()
	offset := 0.3 * amplitude * (rng.Float64() - 0.5)
	ring := hz * (7.3 + 5*rng.Float64()) // of the oscillation; no multiple of the tone
	if kind == WrongFrequency {
		hz *= []float64{1.03, 0.9, 1.5, 0.5, 2}[rng.IntN(5)] * (1 + 0.2*severity*rng.Float64())
	}
	pop := 0.0
	gone := false
	return generated(n, rate, func(t float64) float64 {
		s := math.Sin(2*math.Pi*hz*t + phase)
		v := s
		switch kind {
		case LowLevel:
			v *= math.Pow(10, -(3+25*severity)/20)
		case HighLevel:
			v *= math.Pow(10, (3+15*severity)/20)
		case AbsentSignal:
			v *= 0.001
		case ClippedTop:
			v = min(v, 0.93-0.6*severity)
		case ClippedBottom:
			v = max(v, -0.93+0.6*severity)
		case ClippedBoth:
			v = max(min(v, 0.93-0.6*severity), -0.93+0.6*severity)
		case Crossover:
			dead := 0.06 + 0.25*severity
			v = math.Copysign(max(math.Abs(v)-dead, 0), v)
		case HumMains:
			v += (0.05 + 0.5*severity) * math.Sin(2*math.Pi*50*t+1)
		case HumDouble:
			v += (0.05 + 0.5*severity) * (math.Sin(2*math.Pi*100*t+1) + 0.3*math.Sin(2*math.Pi*200*t))
		case Oscillation:
			v += (0.05 + 0.3*severity) * math.Sin(2*math.Pi*ring*t)
		case Noise:
			v += (0.05 + 0.3*severity) * rng.NormFloat64()
		case Crackle:
			if rng.Float64() < 0.0015 {
				pop = (0.5 + 2*severity) * (2*rng.Float64() - 1)
			}
			v += pop
			pop *= 0.6
		case CuttingOut:
			if rng.Float64() < 3/float64(n) || gone && rng.Float64() < 12/float64(n) {
				gone = !gone
			}
			if math.Mod(t*rate/float64(n)*4+0.3, 1) < 0.05+0.3*severity {
				v *= 0.02
			}
		}
		return offset + amplitude*v + 0.001*amplitude*rng.NormFloat64()
	})
}

// Every defect at every severity, rate, level, offset and trigger: named in at
// least 98 of a hundred; a healthy pair called healthy in 99.
func TestDefectsAreNamed(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(50, 8))
	kinds := []DefectKind{
		"",
		LowLevel,
		HighLevel,
		AbsentSignal,
		WrongFrequency,
		ClippedTop,
		ClippedBottom,
		ClippedBoth,
		Crossover,
		HumMains,
		HumDouble,
		Oscillation,
		Crackle,
		Noise,
		CuttingOut,
	}
	seeds := trial.Runs(40)
	right, all := 0, 0
	for _, kind := range kinds {
		named := 0
		others := map[DefectKind]int{}
		for range seeds {
			// At least a third of a second, so that the mains has some periods.
			hz := 300 + 2700*rng.Float64()
			rate := hz * (20 + 40*rng.Float64())
			n := int(rate * (0.35 + 0.3*rng.Float64()))
			amplitude := math.Pow(10, 3*rng.Float64()-2)
			got := spoil(rng, kind, rng.Float64(), n, rate, hz, amplitude)
			refRate := hz * (25 + 80*rng.Float64())
			ref := spoil(rng, "", 0, 4000+rng.IntN(20000), refRate, hz, amplitude)
			c, ok := Compare(&got, rate, &Reference{Channel: ref, Rate: refRate}, Site{Mains: 50})
			if !ok {
				t.Fatal("the reference is no tone")
			}
			first := DefectKind("")
			if len(c.Defects) > 0 {
				first = c.Defects[0].Kind
			}
			if first == kind {
				named++
			} else {
				others[first]++
			}
			if slices.ContainsFunc(c.Defects, func(d Defect) bool { return d.Evidence == "" || d.Causes == "" }) {
				t.Fatalf("%+v", c.Defects)
			}
		}
		all += seeds
		right += named
		t.Logf("%-24s %3d of %d %v", kind, named, seeds, others)
		if kind == "" && named < seeds*99/100 {
			t.Error("healthy waveforms are said to have defects")
		}
	}
	if right < all*98/100 {
		t.Errorf("%d of %d named", right, all)
	}
}

// spoilPulses makes a square of a duty with a defect, by the circuits that make them:
// an RC that slows, a coupling that droops, a resonance that rings. It knows nothing
// of how defects are recognised.
func spoilPulses(rng *rand.Rand, kind DefectKind, severity float64, n int, rate, hz, duty, amplitude float64) Channel {
	phase := rng.Float64()
	offset := amplitude * (rng.Float64() - 0.5)
	if kind == WrongFrequency {
		hz *= []float64{1.05, 0.9, 1.5, 0.5, 2}[rng.IntN(5)]
	}
	period := 1 / hz
	level := 1.0
	switch kind {
	case LowLevel:
		level = math.Pow(10, -(3+25*severity)/20)
	case HighLevel:
		level = math.Pow(10, (3+15*severity)/20)
	case AbsentSignal:
		level = 0.001
	}
	// The steady answer to a square of each circuit, in closed form.
	shortest := min(duty, 1-duty) * period
	slow := shortest * (0.06 + 0.25*severity) // time constant of the RC
	droop := shortest / (0.12 + 1.2*severity) // of the coupling
	swings := 3 + 5*rng.Float64()             // within the shorter rest
	decay := shortest / (2 + 2*rng.Float64())
	// rest gives what a step up by one has become after a time, less its end.
	after := func(t float64) float64 {
		switch kind {
		case SlowEdges:
			return -math.Exp(-t / slow)
		case Ringing:
			return -(0.12 + 0.5*severity) * math.Exp(-t/decay) * math.Cos(2*math.Pi*swings*t/shortest+2)
		}
		return 0
	}
	// A droop's period goes on from where it ended: both heights follow from that.
	high, low := 1.0, 0.0
	if kind == Tilt {
		a, b := math.Exp(-duty*period/droop), math.Exp(-(1-duty)*period/droop)
		high = (1 - b) / (1 - a*b)
		low = high*a - 1
	}
	on, half := duty*period, 0.5/rate
	ch := generated(n, rate, func(t float64) float64 {
		in := math.Mod(t+phase*period, period)
		v := 0.0
		switch {
		case kind == Tilt && in < on:
			v = high * math.Exp(-in/droop)
		case kind == Tilt:
			v = low * math.Exp(-(in-on)/droop)
		case in < on:
			v = 1 + after(in) - after(in+period-on) // what the edge before has left
		default:
			v = -after(in-on) + after(in)
		}
		if in < half { // a sample on an edge sees some of both
			v = 0.5
		}
		return level * v
	})
	for i := range ch.Samples {
		t := float64(i) / rate
		extra := 0.0
		switch kind {
		case HumMains:
			extra = (0.06 + 0.4*severity) * math.Sin(2*math.Pi*50*t)
		case HumDouble:
			extra = (0.06 + 0.4*severity) * math.Sin(2*math.Pi*100*t)
		case Noise:
			extra = (0.05 + 0.15*severity) * rng.NormFloat64()
		}
		ch.Samples[i] = offset + amplitude*(ch.Samples[i]+extra+0.002*rng.NormFloat64())
	}
	return ch
}

// spoilOnce makes a stretch of a programme that does not repeat, with a defect.
func spoilOnce(rng *rand.Rand, s smooth, kind DefectKind, severity float64, n int, rate, start, gain float64) Channel {
	pop := 0.0
	return generated(n, rate, func(t float64) float64 {
		v := s.at(t+start) / 4.5 // rms about one
		switch kind {
		case LowLevel:
			v *= math.Pow(10, -(3+25*severity)/20)
		case ClippedTop:
			v = min(v, 1.3-0.8*severity)
		case ClippedBoth:
			v = max(min(v, 1.3-0.8*severity), -1.3+0.8*severity)
		case HumMains:
			v += (0.2 + 0.5*severity) * math.Sin(2*math.Pi*50*t)
		case Noise:
			v += (0.12 + 0.3*severity) * rng.NormFloat64()
		case Crackle:
			if rng.Float64() < 0.001 {
				pop = (2 + 3*severity) * (2*rng.Float64() - 1)
			}
			v += pop
			pop *= 0.6
		case AbsentSignal:
			v *= 0.001
		}
		return gain * (v + 0.003*rng.NormFloat64())
	})
}

// seeded names the first defect of many seeded pairs, kind by kind.
func seeded(t *testing.T, kinds []DefectKind, seeds int, site Site, pair func(kind DefectKind) (got Channel, rate float64, ref Reference)) {
	t.Helper()
	seeds = trial.Runs(seeds / 2)
	right := 0
	for _, kind := range kinds {
		named := 0
		others := map[DefectKind]int{}
		for range seeds {
			got, rate, ref := pair(kind)
			c, ok := Compare(&got, rate, &ref, site)
			if !ok {
				t.Fatalf("%s: nothing to compare with", kind)
			}
			first := DefectKind("")
			if len(c.Defects) > 0 {
				first = c.Defects[0].Kind
			}
			if first == kind {
				named++
			} else {
				others[first]++
			}
		}
		right += named
		t.Logf("%-24s %3d of %d %v", kind, named, seeds, others)
		if kind == "" && named < seeds*99/100 {
			t.Error("healthy waveforms are said to have defects")
		}
	}
	if all := len(kinds) * seeds; right < all*98/100 {
		t.Errorf("%d of %d named", right, all)
	}
}

// Pulses against a reference taken at another rate, or generated from its description.
func TestDefectsOfPulsesAreNamed(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(60, 8))
	kinds := []DefectKind{"", SlowEdges, Ringing, Tilt, LowLevel, HighLevel, AbsentSignal, WrongFrequency, HumMains, HumDouble, Noise}
	seeded(t, kinds, 40, Site{Mains: 50}, func(kind DefectKind) (Channel, float64, Reference) {
		hz := 200 + 2000*rng.Float64()
		rate := hz * (150 + 250*rng.Float64())
		duty := 0.5
		if rng.IntN(2) == 0 {
			duty = 0.25 + 0.5*rng.Float64()
		}
		amplitude := math.Pow(10, 3*rng.Float64()-2)
		got := spoilPulses(rng, kind, rng.Float64(), int(rate*(0.25+0.2*rng.Float64())), rate, hz, duty, amplitude)
		refRate := hz * (150 + 300*rng.Float64())
		ref := Reference{Channel: spoilPulses(rng, "", 0, 20000, refRate, hz, duty, amplitude), Rate: refRate}
		if duty == 0.5 {
			made, err := Description{"square", amplitude, hz}.Reference(refRate)
			if err != nil {
				t.Fatal(err)
			}
			ref = made
		}
		return got, rate, ref
	})
}

// A programme that does not repeat, against an earlier capture of the same stretch at
// another rate and from another start.
func TestDefectsOfWhatDoesNotRepeatAreNamed(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(70, 8))
	kinds := []DefectKind{"", LowLevel, ClippedTop, ClippedBoth, HumMains, Noise, Crackle, AbsentSignal}
	seeded(t, kinds, 25, Site{Mains: 50}, func(kind DefectKind) (Channel, float64, Reference) {
		s := newSmooth(rng, 80, 1500)
		rate := 16000 * (1 + 2*rng.Float64())
		refRate := 16000 * (1 + 2*rng.Float64())
		gain := math.Pow(10, 2*rng.Float64()-1)
		got := spoilOnce(rng, s, kind, rng.Float64(), int(0.5*rate), rate, 0.1*rng.Float64(), gain)
		return got, rate, Reference{Channel: spoilOnce(rng, s, "", 0, int(0.6*refRate), refRate, 0.05*rng.Float64(), gain), Rate: refRate}
	})
	other := newSmooth(rng, 80, 1500)
	got := spoilOnce(rng, newSmooth(rng, 80, 1500), "", 0, 20000, 16000, 0, 1)
	c, ok := Compare(&got, 16000, &Reference{Channel: spoilOnce(rng, other, "", 0, 20000, 16000, 0, 1), Rate: 16000}, Site{Mains: 50})
	if !ok || len(c.Defects) != 1 || c.Defects[0].Kind != Unlike {
		t.Errorf("another programme is %+v", c.Defects)
	}
}

// Carriers without their modulation, and a programme without its pilot.
func TestDefectsOfCarriersAreNamed(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(80, 8))
	seeded(
		t,
		[]DefectKind{"", NoModulation, WrongFrequency, LowLevel},
		40,
		Site{Mains: 50},
		func(kind DefectKind) (Channel, float64, Reference) {
			hz, by := 100e3+300e3*rng.Float64(), 400+1600*rng.Float64()
			depth, beta := 0.3+0.5*rng.Float64(), 0.0
			if rng.IntN(2) == 0 {
				depth, beta = 0, 1+4*rng.Float64()
			}
			carry := func(kind DefectKind, n int, rate float64) Channel {
				m, b, f, level := depth, beta, hz, 1.0
				switch kind {
				case NoModulation:
					m, b = m*0.1*rng.Float64(), b*0.1*rng.Float64()
				case WrongFrequency:
					f *= 0.95 + 0.03*rng.Float64()
				case LowLevel:
					level = math.Pow(10, -(3+20*rng.Float64())/20)
				}
				phase := 7 * rng.Float64()
				return generated(n, rate, func(t float64) float64 {
					w := 2 * math.Pi * by * t
					return level * ((1+m*math.Sin(w))*math.Cos(2*math.Pi*f*t+b*math.Sin(w)+phase) + 0.002*rng.NormFloat64())
				})
			}
			rate := hz * (3 + 6*rng.Float64())
			return carry(kind, 60000, rate), rate, Reference{Channel: carry("", 50000, hz*5.3), Rate: hz * 5.3}
		},
	)
	seeded(t, []DefectKind{"", PilotMissing}, 40, Site{Mains: 50, Pilot: 19e3}, func(kind DefectKind) (Channel, float64, Reference) {
		hz := 400 + 2000*rng.Float64()
		multiplex := func(pilot float64, n int, rate float64) Channel {
			return generated(n, rate, func(t float64) float64 {
				return math.Sin(2*math.Pi*hz*t) + pilot*math.Sin(2*math.Pi*19e3*t) + 0.002*rng.NormFloat64()
			})
		}
		pilot := 0.1
		if kind == PilotMissing {
			pilot = 0.02 * rng.Float64()
		}
		return multiplex(pilot, 50000, 192e3), 192e3, Reference{Channel: multiplex(0.1, 40000, 150e3), Rate: 150e3}
	})
}

// The reference laid under the capture meets it, and what is left is the defect: a
// healthy pair leaves nothing, added hum is left whole.
func TestWhatIsDueIsLaidUnder(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(90, 8))
	for _, shape := range []string{"sine", "square", "triangle"} {
		hz, rate := 1000.0, 2e5
		ref, err := Description{Shape: "sine", PeakPeak: 2, Hz: hz}.Reference(1.7e5)
		if shape == "square" {
			ref, err = Description{Shape: "square", PeakPeak: 2, Hz: hz}.Reference(1.7e5)
		}
		if shape == "triangle" {
			ref, err = Description{Shape: "triangle", PeakPeak: 2, Hz: hz}.Reference(1.7e5)
		}
		if err != nil {
			t.Fatal(err)
		}
		of := map[string]func(turn float64) float64{
			"sine":     func(x float64) float64 { return math.Sin(2 * math.Pi * x) },
			"square":   func(x float64) float64 { return math.Copysign(1, math.Sin(2*math.Pi*x)) },
			"triangle": func(x float64) float64 { return 2 / math.Pi * math.Asin(math.Sin(2*math.Pi*x)) },
		}[shape]
		got := generated(60000, rate, func(t float64) float64 {
			return 3 + 1.5*of(hz*t+0.123) + 0.2*math.Sin(2*math.Pi*50*t) + 0.001*rng.NormFloat64()
		})
		c, ok := Compare(&got, rate, &ref, Site{Mains: 50})
		if !ok || math.Abs(c.GainDB-20*math.Log10(1.5)) > 0.1 {
			t.Fatalf("%s: %+v", shape, c)
		}
		due, left := c.Due(1000, 400), c.Difference(&got, 1000, 400)
		bad := 0
		for i := range due {
			at := float64(1000+i) / rate
			if math.Abs(due[i]-3-of(hz*at+0.123)) > 0.05 {
				bad++
			}
			if math.Abs(left[i]-0.2*math.Sin(2*math.Pi*50*at)) > 0.05 {
				bad++
			}
		}
		if bad > 40 { // about a square's edges, two samples on each side of four
			t.Errorf("%s: %d of 800 are off", shape, bad)
		}
	}
}

// Every kind of defect that is told apart has its usual causes, and what is logged of it is read again as its word.
func TestEveryDefectHasItsCauses(t *testing.T) {
	t.Parallel()
	figures := []DefectKind{LowLevel, HighLevel, WrongFrequency, Unlike} // logged as figures, or not at all
	kinds := slices.Concat(figures, slices.Collect(maps.Keys(words)), []DefectKind{Noise})
	for detail := range quantity.Details() {
		if detail != quantity.Hiss {
			kinds = append(kinds, DefectKind(detail))
		}
	}
	for _, k := range kinds {
		d := k.defect("", 1)
		entry, err := quantity.ParseEntry(d.Reading, quantity.Volt)
		logged := err == nil && entry.Word == d.Word && d.Word != quantity.NoWord
		if d.Causes == "" || logged == slices.Contains(figures, k) {
			t.Errorf("%q: %+v, read again as %q", k, d, entry.Word)
		}
	}
	if len(kinds) != len(causes) {
		t.Errorf("%d kinds, %d have causes", len(kinds), len(causes))
	}
}
