package e2e

import (
	"fmt"
	"math/rand/v2"

	"steptrace/core/sheet"
)

// A walker does what nobody thought of: plausible steps in an order of its own, on random
// sheets and on every demo job, and fails where anything breaks, or where something that
// was acknowledged is missing.

// anySheet is a random set: some stages in a row or branching, modes, rails, controls,
// feedback, an oscillator, pins on no route, circuits, fuses; now and then with no signal path
// at all.
func anySheet(rng *rand.Rand, n int) *sheet.Sheet {
	s := &sheet.Sheet{
		Format:  sheet.Format,
		Version: sheet.Version,
		Model:   fmt.Sprintf("Walk %d", n),
		Kind:    []string{"", "amplifier", "radio"}[rng.IntN(3)],
	}
	some := func(of ...string) string { return of[rng.IntN(len(of))] }
	for i := range rng.IntN(4) {
		r := sheet.Rail{
			Name:   fmt.Sprintf("+%d V", 5+7*i),
			Value:  fmt.Sprintf("%d V", 5+7*i),
			Fuse:   some("", "", fmt.Sprintf("F%d", i)),
			Ohms:   some("", "330"),
			Ripple: some("", "50 mVpp"),
			Up:     sheet.Arrival(some("", "start")),
		}
		if i > 0 && rng.IntN(2) == 0 {
			r.From = s.Rails[0].Name
		}
		s.Rails = append(s.Rails, r)
		if rng.IntN(2) == 0 {
			s.Reservoirs = append(s.Reservoirs, sheet.Reservoir{Name: fmt.Sprintf("C9%d", i), Rail: r.Name, Farads: "1000 µF"})
		}
	}
	if len(s.Rails) > 0 && rng.IntN(8) == 0 {
		return s
	}
	for i := range rng.IntN(3) {
		s.Controls = append(
			s.Controls,
			sheet.Control{
				Name:   fmt.Sprintf("CT%d", i),
				Does:   some(sheet.ControlDoes...),
				Value:  "4 V",
				Worked: some("", "1 V"),
				By:     some("", "key held"),
			},
		)
	}
	points := 2 + rng.IntN(8)
	for i := range points {
		p := sheet.Point{
			Name:    fmt.Sprintf("P%d", i),
			Drawing: some("", fmt.Sprint(i)),
			Minutes: some("", "2", "0"),
			Peak:    some("", "", "", "900 V"),
		}
		if i == 0 || rng.IntN(3) == 0 {
			p.Expect = append(p.Expect, sheet.Expectation{Quantity: sheet.AC, Value: some("10 mV", "300 mVpp", "1 V")})
		}
		if rng.IntN(3) == 0 {
			p.Expect = append(p.Expect, sheet.Expectation{Quantity: sheet.DC, Value: some("4.2 V", "-11 V", "0 V")})
		}
		if rng.IntN(4) == 0 {
			p.Expect = append(p.Expect, sheet.Expectation{Quantity: sheet.Frequency, Value: some("1 kHz", "455 kHz")})
		}
		if i > 2 && rng.IntN(4) == 0 {
			p.Twin = fmt.Sprintf("P%d", rng.IntN(i))
		}
		s.Points = append(s.Points, p)
		if i == 0 || rng.IntN(10) == 0 {
			continue // or a pin by itself
		}
		st := sheet.Stage{
			Name:  fmt.Sprintf("S%d", i),
			Kind:  some(sheet.Kinds...),
			From:  fmt.Sprintf("P%d", max(0, i-1-rng.IntN(2))),
			To:    p.Name,
			Gain:  some("", "0 dB", "20 dB", "×0.5"),
			Limit: some("", "", "7 V", "agc 20 dB"),
		}
		if st.Kind == "feedback" {
			st.Kind = "amplifier"
		}
		if rng.IntN(4) == 0 {
			st.Modes = []string{some("A", "B")}
		}
		if len(s.Rails) > 0 && rng.IntN(2) == 0 {
			st.Rails = []string{s.Rails[rng.IntN(len(s.Rails))].Name}
		}
		if len(s.Controls) > 0 && rng.IntN(3) == 0 {
			st.Needs = []string{s.Controls[rng.IntN(len(s.Controls))].Name}
		}
		s.Stages = append(s.Stages, st)
	}
	if points > 4 && rng.IntN(3) == 0 {
		s.Stages = append(s.Stages, sheet.Stage{Name: "FB", Kind: "feedback", From: fmt.Sprintf("P%d", points-1), To: "P1"})
	}
	if rng.IntN(3) == 0 {
		s.WeakSpots = []sheet.WeakSpot{{Stage: "S1", What: "dry joint", Symptom: "weak; dead"}}
	}
	return s
}
