package wave

import (
	"math"

	"steptrace/core/beside"
)

const (
	// steadyShare is the share of the largest value below which the rms of what
	// changes is no signal: an eight-bit converter's own noise.
	steadyShare = 0.002
	// standing is how much more than it moves by a voltage has to be, to stand with ripple on it.
	standing = 2.0
	// toneShare is the share of the power that a single sine has in a tone. From
	// clearTone on it is one whatever its few samples look like: the pulses that are
	// told as such, with edges of up to a sixth of the period, have at most 95 %.
	toneShare, clearTone = 0.6, 0.97
	leastSeen            = 16 // samples
)

// whole is what a waveform is from its beginning to its end: a picture signal, a course, a sweep, a modulated carrier.
type whole interface {
	figures(unit string, add adder)
}

// seen is what a waveform is like, with what was found out for it.
type seen struct {
	kind   Character
	whole  whole // nil: it is none
	tone   tone
	pulses pulses
	ripple ripple // on a voltage that stands
}

// look tells what a waveform is like. What is telling by its own nature is looked for first: a picture signal and a charge
// have a strongest line too.
func look(x []float64, l levels, rate float64, site Site) seen {
	if l.high == l.low || len(x) < leastSeen {
		return seen{kind: Steady}
	}
	if video, ok := findComposite(x, l, rate, site.Mains); ok {
		return seen{kind: Video, whole: &video}
	}
	little := l.ac <= steadyShare*max(math.Abs(l.high), math.Abs(l.low))
	if !little {
		if c, ok := findCourse(x, l, rate, site.Mains); ok {
			return seen{kind: Once, whole: &c}
		}
	}
	if math.Abs(l.mean) > standing*(l.high-l.low) {
		if r := rippleOf(x, rate, site.Mains); r.hz > 0 {
			return seen{kind: Steady, ripple: r}
		}
	}
	return lookForTone(x, l, rate, site, little)
}

// lookForTone tells by the strongest line, and by the states that a waveform has. Little: it hardly moves against its mean.
func lookForTone(x []float64, l levels, rate float64, site Site, little bool) seen {
	s := seen{kind: Steady}
	var two bool
	var states beside.Work // found beside the fit
	states.Go(func() { s.pulses, two = findPulses(x, l) })
	part := x[:min(len(x), fitLength)]
	var fits bool
	s.tone, fits = fitTone(part, peakOmega(part, l.mean))
	share := 0.0
	if fits {
		power := s.tone.amplitude() * s.tone.amplitude() / 2
		share = power / (power + s.tone.residual*s.tone.residual)
	}
	states.Wait()
	tone := share >= clearTone || share >= toneShare && !two
	// A little hum on a voltage is no signal either.
	multiple := s.tone.omega * rate / (2 * math.Pi) / max(site.Mains, 1e-30)
	hums := multiple < mostMains+0.5 && math.Abs(multiple-math.Round(multiple)) < 0.01*multiple
	if (!tone || hums) && little {
		return s
	}
	if !tone {
		if sweep, ok := findSweep(x, l, rate); ok {
			return seen{kind: Swept, whole: &sweep}
		}
	}
	// Modulated, some of its power is in sidebands. What is swung far has its strongest
	// line near its carrier all the same.
	if fits && (tone || !two) && share < 1-leastDepth*leastDepth/2 {
		if c, ok := demodulate(part, l.mean, s.tone.omega, rate); ok {
			return seen{kind: Modulated, whole: &c}
		}
	}
	switch {
	case tone:
		s.kind = Tone
	case two:
		s.kind = Pulses
	default:
		s.kind = Other
	}
	return s
}
