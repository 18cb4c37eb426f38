package circuit

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"
)

// Resistors that have drifted by any amount, 1.4 to 3.8 times either way: most are the first of
// their circuit, nearly all among the first three parts (which of a divider's two has drifted,
// voltages alone cannot tell), and the value is named.
func TestAnyDrift(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 9))
	shown, first, three, asif := 0, 0, 0, 0
	for round := range 12 {
		for _, f := range Families() {
			c := &Circuit{Parts: f.Parts}
			n, _ := c.Read()
			if round >= often(12, n) {
				continue
			}
			var rs []int
			for i, p := range n.parts {
				if p.Kind == Resistor && p.In != Outside {
					rs = append(rs, i)
				}
			}
			if len(rs) == 0 {
				continue
			}
			part := rs[rng.IntN(len(rs))]
			times := math.Pow(1.4, 1+3*rng.Float64())
			if rng.IntN(3) == 0 {
				times = 1 / times
			}
			ft := Fault{Part: n.parts[part].Name, part: part, change: scale(main, times)}
			readings, ok := readOff(rng, spreadOut(rng, n).With(ft))
			if !ok {
				continue
			}
			r, problems := c.rank(context.Background(), readings, Past{})
			if len(problems) > 0 {
				t.Fatal(problems)
			}
			if !r.shows(ft) {
				continue
			}
			shown++
			seen := map[string]bool{}
			pos := -1
			for _, x := range r.ranked {
				nm := r.replaced(&x)
				if !seen[nm] {
					if len(x.Faults) == 1 && x.Faults[0].part == part && pos < 0 {
						pos = len(seen)
					}
					seen[nm] = true
				}
			}
			if pos == 0 {
				first++
			}
			if pos >= 0 && pos < 3 {
				three++
			}
			for _, a := range r.asIf {
				if a.Part == n.parts[part].Name {
					asif++
				}
			}
			if pos != 0 && testing.Verbose() {
				t.Logf(
					"%s %s ×%.2f: pos %d, first %s %.2f off %.1f",
					f.Name,
					ft.Part,
					times,
					pos,
					r.ranked[0].String(),
					r.ranked[0].Weight,
					r.ranked[0].Off,
				)
			}
		}
	}
	t.Logf(
		"%d shown, %d first (%.0f %%), %d among the first three (%.0f %%), %d with their value (%.0f %%)",
		shown,
		first,
		100*float64(first)/float64(shown),
		three,
		100*float64(three)/float64(shown),
		asif,
		100*float64(asif)/float64(shown),
	)
	if shown < 30 || first*100 < 65*shown || three*100 < 90*shown || asif*100 < 80*shown {
		t.Error("drifts are found too rarely")
	}
}
