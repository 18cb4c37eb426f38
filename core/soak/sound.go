package soak

import (
	"math"

	"steptrace/core/exchange"
	"steptrace/core/mend"
)

// By is what feeds the signal of a plan in.
type By string

// The generator on the bench; the sound output of the computer that shows the soak, for as long as it does.
const (
	ByGenerator By = ""
	BySound     By = "sound"
)

// Bys lists them.
var Bys = []By{ByGenerator, BySound}

// Words implements exchange.Enumerated.
func (By) Words() []string { return exchange.WordsOf(Bys) }

// longestRound is how long one round of a signal may be that is played as sound (s): samples of it are held.
const longestRound = 300.0

func tooLong() error {
	return mend.Errorf("what is played as sound comes round within %.0f s: a shorter sweep, or the generator", longestRound)
}

// Round is one round of a signal as samples of peak 1 at a rate (samples a second), to be played over and over: up and down
// its frequencies and its rest, or a second of what stands still. Frequencies are moved by so little that whole periods fit.
// Errors can be mended by a person.
func (m Moving) Round(rate float64) ([]float64, error) {
	const passes, second, fade = 0.45, 1.0, 5e-3 // of the rate; s; s
	sounds, rest := m.Sweep, m.Rest
	if m.Sweep == 0 || m.From == m.To && m.Rest == 0 {
		sounds, rest = second, 0
	}
	switch {
	case !(m.Level > 0):
		return nil, mend.Errorf("nothing is fed in here")
	case math.Max(m.From, m.To) > passes*rate:
		return nil, mend.Errorf("a sound output passes up to %.0f Hz at this rate: feed it in by the generator", passes*rate)
	case sounds+rest > longestRound:
		return nil, tooLong()
	}
	hz := func(t float64) float64 {
		if m.Sweep == 0 {
			return m.From
		}
		_, f := m.At(t)
		return f
	}
	n, all := int(sounds*rate), int((sounds+rest)*rate)
	cycles := 0.0
	for i := range n {
		cycles += hz(float64(i)/rate) / rate
	}
	fits := math.Max(1, math.Round(cycles)) / cycles
	out := make([]float64, all)
	phase := 0.0
	for i := range n {
		t := float64(i) / rate
		out[i] = math.Sin(2 * math.Pi * phase)
		if rest > 0 {
			out[i] *= math.Min(1, math.Min(t, sounds-t)/fade)
		}
		phase += fits * hz(t) / rate
	}
	return out, nil
}
