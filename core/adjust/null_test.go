package adjust

import (
	"math"
	"math/rand/v2"
	"testing"

	"steptrace/internal/trial"
)

// Curves that the search does not suppose: each by what makes it, with where it is least and over which width it doubles.
type curve struct {
	name  string
	y     func(x float64) float64
	at    float64
	width float64
}

// widthOf finds where a curve has doubled on both sides, by halving.
func widthOf(y func(float64) float64, at float64) float64 {
	side := func(sign float64) float64 {
		lo, hi := 0.0, 50.0
		for range 80 {
			m := (lo + hi) / 2
			if y(at+sign*m) < 2*y(at) {
				lo = m
			} else {
				hi = m
			}
		}
		return lo
	}
	return side(1) + side(-1)
}

func drawn(rng *rand.Rand) curve {
	at := 0.15 + 0.7*rng.Float64()
	floor := math.Pow(10, -3+2*rng.Float64())
	wide := 0.05 + 0.35*rng.Float64()
	var c curve
	switch rng.IntN(5) {
	case 0: // two residues in quadrature
		c = curve{name: "quadrature", y: func(x float64) float64 { return floor * math.Hypot(1, (x-at)/wide*3) }}
	case 1: // crossover distortion on one side grows faster than that of too much current on the other
		c = curve{name: "lopsided", y: func(x float64) float64 {
			k := 3.0
			if x < at {
				k = 4.2
			}
			return floor * math.Hypot(1, (x-at)/wide*k)
		}}
	case 2: // a bridge's voltage with its phase error: the magnitude of a bilinear form
		c = curve{name: "bridge", y: func(x float64) float64 {
			re, im := (x-at)/wide*3, 1.0
			return floor * math.Hypot(re, im) / math.Hypot(1, 0.1*re)
		}}
	case 3: // a hyperbolic cosine
		c = curve{name: "cosh", y: func(x float64) float64 { return floor * math.Min(math.Cosh((x-at)/wide*2.6), 100) }}
	default: // noise power and the square of a straight residue, by power
		c = curve{name: "power", y: func(x float64) float64 { return floor * math.Pow(1+math.Pow(math.Abs(x-at)/wide*3, 2.2), 0.5) }}
	}
	c.at, c.width = at, widthOf(c.y, at)
	return c
}

func TestNullIsFoundByFewReadings(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 17))
	runs := trial.Runs(120)
	readings := 0
	near, tenth, all := map[string]int{}, map[string]int{}, map[string]int{} // by what makes the curve
	for range runs {
		c := drawn(rng)
		var taken []Turned
		var n Null
		for {
			var err error
			if n, err = Search(taken, false); err != nil {
				t.Fatal(err)
			}
			if n.Found != Searching {
				break
			}
			if len(taken) > mostTurned {
				t.Fatalf("%s: still searching after %d readings", c.name, len(taken))
			}
			taken = append(taken, Turned{n.Next, c.y(n.Next) * (1 + 0.05*rng.NormFloat64())})
		}
		readings += len(taken)
		all[c.name]++
		if off := math.Abs(n.At - c.at); n.Found == FoundNull {
			if off < 0.05*c.width {
				near[c.name]++
			}
			if off < 0.1*c.width {
				tenth[c.name]++
			}
		}
		if len(taken) > mostTurned {
			t.Errorf("%s took %d readings", c.name, len(taken))
		}
	}
	t.Logf(
		"of %v: within 5 %% of the width %v, within 10 %% %v; %.1f readings on average",
		all,
		near,
		tenth,
		float64(readings)/float64(runs),
	)
	straight, of := 0, 0
	for name, n := range all {
		if name == "lopsided" {
			// A kink in how fast the two sides rise has its middle elsewhere than its foot, by 4.8 % of the width: nine readings of
			// 5 % cannot tell the one from the other.
			if float64(tenth[name]) < 0.9*float64(n) {
				t.Errorf("%s: within 10 %% of the width in %d of %d", name, tenth[name], n)
			}
			continue
		}
		straight, of = straight+near[name], of+n
	}
	if float64(straight) < 0.93*float64(of) {
		t.Errorf("within 5 %% of the width in %d of %d", straight, of)
	}
}

func TestSearchStopsWhereThereIsNone(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 9))
	wrong, runs := map[string]int{}, trial.Runs(60)
	for range runs {
		rise := 0.5 + 3*rng.Float64()
		slope := rise
		if rng.IntN(2) == 0 {
			slope = -rise
		}
		for name, y := range map[string]func(x float64) float64{
			"falls to a stop": func(x float64) float64 { return math.Exp(slope * x) },
			"nothing":         func(float64) float64 { return 0.3 },
		} {
			var taken []Turned
			n, _ := Search(taken, false)
			for n.Found == Searching && len(taken) <= mostTurned {
				taken = append(taken, Turned{n.Next, y(n.Next) * (1 + 0.05*rng.NormFloat64())})
				n, _ = Search(taken, false)
			}
			good := n.Found == BeyondStop || name == "nothing" && n.Found == NoEffect
			if !good {
				wrong[name+": "+string(n.Found)]++
			}
		}
	}
	t.Logf("of %d each: %v", runs, wrong)
	for name, k := range wrong {
		if float64(k) > 0.05*float64(runs) {
			t.Errorf("%s in %d of %d", name, k, runs)
		}
	}
}
