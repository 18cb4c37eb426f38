package training

import (
	"fmt"
	"math"
	"math/rand/v2"

	"steptrace/core/quantity"
)

// A rail behind a bridge and its reservoir: what is weak?

// unregulated is such a supply: the peak behind the bridge (V), what it is loaded with (A), the reservoir (F), what the winding and the
// bridge have in series (Ω), and how often a second the reservoir is charged.
type unregulated struct {
	peak, amps, farads, ohms, hz float64
}

// ripple is peak to peak: the charge that the load takes between two charges, over the capacitance (textbook, ΔV = I/(f·C)).
func (u unregulated) ripple() float64 { return u.amps / (u.hz * u.farads) }

// volts is the mean: the peak less what the winding drops, less half of the ripple.
func (u unregulated) volts() float64 { return u.peak - u.amps*u.ohms - u.ripple()/2 }

func (q *Quick) whichSupply(rng *rand.Rand) bool {
	good := unregulated{
		peak: pick(rng, []float64{14, 18, 25, 35, 46}), amps: pick(rng, []float64{0.3, 0.5, 0.8, 1.2}),
		farads: pick(rng, []float64{2200e-6, 3300e-6, 4700e-6, 6800e-6}), ohms: 0.6, hz: 2 * mains,
	}
	const worn, draws = 6.0, 3.5
	is, choice := good, rng.IntN(mostChoices)
	switch choice {
	case 0:
		is.farads /= worn
	case 1:
		is.hz = mains
	case 2:
		is.amps *= draws
	case 3:
		is.peak -= pick(rng, []float64{0.22, 0.3}) * good.peak
	}
	if is.volts() < good.peak/4 || good.ripple() > good.volts()/6 {
		return false
	}
	row := func(name string, due, reads float64, unit quantity.Unit, form quantity.Form) {
		q.Facts = append(q.Facts, Fact{
			Name: name, Due: quantity.Value{SI: due, Unit: unit, Form: form}.Short(3),
			Reads: quantity.Value{SI: reads, Unit: unit, Form: form}.Short(3), Off: math.Abs(reads/due-1) > apartShare,
		})
	}
	row("volts", good.volts(), is.volts(), quantity.Volt, quantity.Unstated)
	row("ripple", good.ripple(), is.ripple(), quantity.Volt, quantity.PeakPeak)
	row("its frequency", good.hz, is.hz, quantity.Hertz, quantity.Unstated)
	row("current drawn", good.amps, is.amps, quantity.Ampere, quantity.Unstated)
	all := [mostChoices]string{
		"the reservoir has lost most of its capacitance", "one side of the bridge no longer conducts", "something draws too much from it",
		"the winding, or the mains, gives too little",
	}
	q.Ask = "A rail behind a bridge and its reservoir, at a mains of 50 Hz. What is it?"
	q.about = "a supply"
	q.why = []string{
		[mostChoices]string{
			because("at the same current and frequency the ripple is %.0f times what is due: the capacitance is that much less", worn),
			because("the ripple is at %g Hz: the reservoir is charged once a turn instead of twice, and falls for twice as long", is.hz),
			because("the current itself is too much; ripple and volts follow from it, the reservoir does what it can"),
			because("ripple and current are as they should be: the volts were missing before the bridge"),
		}[choice],
		because(
			"ripple is the current over the frequency and the capacitance: %s over %s and %s are %s",
			quantity.Value{SI: good.amps, Unit: quantity.Ampere}.Short(2),
			quantity.Frequency(good.hz),
			quantity.Value{
				SI:   good.farads,
				Unit: quantity.Farad,
			}.Short(
				2,
			),
			quantity.Value{SI: good.ripple(), Unit: quantity.Volt}.Short(2),
		),
	}
	right := all[choice]
	all[0], all[choice] = all[choice], all[0]
	return all[0] == right && q.choose(rng, all[:]...)
}

// A transistor out of its circuit by six readings of a diode test: what is it?

func (q *Quick) whatIsIt(rng *rand.Rand) bool {
	npn, base := rng.IntN(2) == 0, 1+rng.IntN(3)
	collector := base%3 + 1
	emitter := collector%3 + 1
	if rng.IntN(2) == 0 {
		collector, emitter = emitter, collector
	}
	const good, shortedCE, openBE = 0, 1, 2
	state := rng.IntN(3)
	drop := map[[2]int]float64{}
	junction := func(leg int, volts float64) {
		a, b := base, leg
		if !npn {
			a, b = leg, base
		}
		drop[[2]int{a, b}] = volts
	}
	vbc := 0.6 + 0.05*rng.Float64()
	junction(collector, vbc)
	junction(emitter, vbc+0.012+0.02*rng.Float64())
	switch state {
	case shortedCE:
		drop[[2]int{collector, emitter}], drop[[2]int{emitter, collector}] = 0.004, 0.004
	case openBE:
		delete(drop, [2]int{base, emitter})
		delete(drop, [2]int{emitter, base})
	}
	for a := 1; a <= 3; a++ {
		for b := 1; b <= 3; b++ {
			if a == b {
				continue
			}
			reads := "open"
			if v, ok := drop[[2]int{a, b}]; ok {
				reads = fmt.Sprintf("%.3f V", v)
			}
			q.Facts = append(q.Facts, Fact{Name: fmt.Sprintf("red on %d, black on %d", a, b), Reads: reads})
		}
	}
	kind := map[bool]string{true: "NPN", false: "PNP"}
	says := func(npn bool, base int, state int) string {
		switch state {
		case shortedCE:
			return "shorted between two legs: bad"
		case openBE:
			return "one junction alone is left: bad"
		}
		return fmt.Sprintf("%s, its base at leg %d: good", kind[npn], base)
	}
	other := base%3 + 1
	choices := []string{says(npn, base, state)}
	for _, x := range []string{
		says(npn, base, good), says(!npn, base, good), says(npn, other, good), says(!npn, other, good), says(npn, base, shortedCE),
		says(npn, base, openBE),
	} {
		if x != choices[0] {
			choices = append(choices, x)
		}
	}
	rest := choices[1:]
	rng.Shuffle(len(rest), func(a, b int) { rest[a], rest[b] = rest[b], rest[a] })
	q.Ask = "A transistor of no known type, out of its circuit, on a diode test. What is it?"
	q.about = "a transistor"
	switch state {
	case good:
		q.why = []string{
			because("leg %d conducts with both others in one sense, and with none in the other: it is the base", base),
			because("it conducts with the %s lead on the base: %s", map[bool]string{true: "red", false: "black"}[npn], kind[npn]),
			because("between the other two nothing conducts, and the larger drop, at leg %d, is the emitter's", emitter),
		}
	case shortedCE:
		q.why = []string{because("legs %d and %d read next to nothing both ways: no junction drops so little", collector, emitter)}
	case openBE:
		q.why = []string{because("one pair conducts one way; leg %d conducts with nothing: a junction is open", emitter)}
	}
	return q.choose(rng, choices[:mostChoices]...)
}
