package training

import (
	"math/rand/v2"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/substitute"
)

// A capacitor that is to go in the place of another: which one fits? The rules are those of core/substitute.

func (q *Quick) whatFits(rng *rand.Rand) bool {
	old := substitute.Capacitor{
		Farads: pick(rng, []float64{10e-6, 47e-6, 100e-6, 470e-6, 1000e-6}), Volts: pick(rng, []float64{16, 25, 35, 63}),
		Dielectric: substitute.Electrolytic, Celsius: 85,
	}
	at := substitute.Post{
		Use:   pick(rng, []substitute.Use{substitute.Reservoir, substitute.Line, substitute.Coupling}),
		Volts: 0.7 * old.Volts,
	}
	steps := []float64{6.3, 10, 16, 25, 35, 50, 63, 100}
	var fits, fails []substitute.Capacitor
	for _, times := range []float64{0.1, 1 / 2.2, 1, 2.2} {
		farads := quantity.E12.Nearest(times * old.Farads)
		for _, volts := range steps {
			c := substitute.Capacitor{Farads: farads, Volts: volts, Dielectric: substitute.Electrolytic, Celsius: 105}
			switch v := substitute.CapacitorFor(old, c, at); v.Grade {
			case substitute.Fits:
				fits = append(fits, c)
			case substitute.Unfit:
				fails = append(fails, c)
			}
		}
	}
	if len(fits) == 0 || len(fails) < mostChoices-1 {
		return false
	}
	right := pick(rng, fits)
	choices := []string{right.Says()}
	rng.Shuffle(len(fails), func(a, b int) { fails[a], fails[b] = fails[b], fails[a] })
	for _, c := range fails {
		if len(choices) == mostChoices {
			break
		}
		if says := c.Says(); !slices.Contains(choices, says) {
			choices = append(choices, says)
			for _, why := range substitute.CapacitorFor(old, c, at).Against {
				q.why = append(q.why, because("%s does not fit: %s", says, why))
			}
		}
	}
	q.why = append([]string{because("%s holds the volts and has the value that its duty asks for", right.Says())}, q.why...)
	q.Ask = "Which of these goes in its place?"
	q.about = "a substitute"
	q.Facts = []Fact{
		{Name: "the old one", Reads: old.Says()}, {Name: "it does", Reads: string(at.Use)},
		{Name: "across it at work", Reads: quantity.Value{SI: at.Volts, Unit: quantity.Volt}.Short(2)},
	}
	return q.choose(rng, choices...)
}
