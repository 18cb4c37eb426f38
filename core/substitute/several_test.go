package substitute

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

// At the rating that several come to, one of them bears all that it can, and none more: heat and volts are shared as Kirchhoff
// has it, worked out here from the current and the volts of each.
func TestSeveralShareByKirchhoff(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	for range 300 {
		n := 2 + rng.IntN(3)
		join, parallel := " + ", rng.IntN(2) == 0
		if parallel {
			join = " || "
		}
		ohms, watts := make([]float64, n), make([]float64, n)
		text := ""
		for i := range n {
			ohms[i], watts[i] = math.Round(100+9900*rng.Float64()), math.Round(10*(0.1+3*rng.Float64()))/10
			if i > 0 {
				text += join
			}
			text += fmt.Sprintf("%g ohm %g W", ohms[i], watts[i])
		}
		r, err := ResistorsOf(text)
		if err != nil {
			t.Fatal(text, err)
		}
		most, total := 0.0, 0.0
		for i := range n {
			heat := 0.0
			if parallel { // U² = P·R
				heat = r.Watts * r.Ohms / ohms[i]
			} else { // I² = P/R
				heat = r.Watts / r.Ohms * ohms[i]
			}
			most, total = max(most, heat/watts[i]), total+heat
		}
		if math.Abs(most-1) > 1e-9 || math.Abs(total/r.Watts-1) > 1e-9 {
			t.Fatalf("%s: %g W of %g Ω: one bears %g of its rating, all together %g W", text, r.Watts, r.Ohms, most, total)
		}
	}
	for _, x := range []struct {
		text          string
		farads, volts float64
	}{
		{"2 x 470u 250v electrolytic in series", 235e-6, 450},            // nine tenths of 500
		{"100n 250v film + 100n 250v film", 50e-9, 500},                  //
		{"100n 250v film + 300n 250v film", 75e-9, 250 * 100e-9 / 75e-9}, // the smaller has three quarters
		{"47u 35v electrolytic || 22u 25v electrolytic", 69e-6, 25},
	} {
		c, err := CapacitorsOf(x.text)
		if err != nil || math.Abs(c.Farads/x.farads-1) > 1e-9 || math.Abs(c.Volts/x.volts-1) > 1e-9 {
			t.Errorf("%s: %g F %g V, %v", x.text, c.Farads, c.Volts, err)
		}
	}
	for _, text := range []string{"5 x 1k in series", "1k || foo", "47u 35v electrolytic || 47u 35v film",
		"10n X2 || 10n X2", "||", "9 x 1u 50v film in parallel"} {
		if c, err := CapacitorsOf(text); err == nil {
			t.Errorf("%q was taken as %+v", text, c)
		}
	}
}
