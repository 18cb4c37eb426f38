package network

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"steptrace/internal/trial"
)

// sealed is a package by its closed forms: what is inside, its true values, what a meter shows between pins, and of which parts
// that tells the value. It shares no code with what is tried.
type sealed struct {
	inside string
	truth  []float64
	shows  map[string]float64 // "1-2": ohms; "1-2 F": farads at 1 kHz
	told   []bool
	// hard are values that 2 % leave in doubt by as much as told values may be off, more or less: they count neither way.
	hard []bool
}

// three is a package of which three readings tell three values, as far as they do.
func three(inside string, truth []float64, shows map[string]float64, of func(i int) func([3]float64) float64) sealed {
	out := sealed{inside: inside, truth: truth, shows: shows}
	at := [3]float64{shows["1-2"], shows["2-3"], shows["1-3"]}
	for i := range 3 {
		d := doubt(of(i), at)
		out.told, out.hard = append(out.told, d < 0.06), append(out.hard, d > 0.05 && d < 0.072)
	}
	return out
}

func parallel(a, b float64) float64 { return a * b / (a + b) }

// doubt is how far off a value is that follows from three readings, each 2 % off: by its closed form, moved a little.
func doubt(value func(r [3]float64) float64, at [3]float64) float64 {
	sum := 0.0
	for i := range at {
		moved := at
		moved[i] *= 1 + 1e-6
		slope := (value(moved)/value(at) - 1) / 1e-6
		sum += math.Pow(0.02*slope, 2)
	}
	return math.Sqrt(sum)
}

// Of a star's legs and a triangle's sides from the readings 1-2, 2-3, 1-3.
func leg(i int) func([3]float64) float64 {
	return func(r [3]float64) float64 {
		return [3]float64{r[0] + r[2] - r[1], r[0] + r[1] - r[2], r[1] + r[2] - r[0]}[i] / 2
	}
}

func side(i int) func([3]float64) float64 {
	return func(r [3]float64) float64 {
		a, b, c := leg(0)(r), leg(1)(r), leg(2)(r)
		return (a*b + b*c + c*a) / [3]float64{c, a, b}[i]
	}
}

// packages draws one of each sort that there is.
//
// Long: a sort after the other.
func packages(rng *rand.Rand) []sealed {
	ohms := func() float64 { return math.Pow(10, 2+3*rng.Float64()) }
	farads := func() float64 { return math.Pow(10, -9+2*rng.Float64()) }
	a, b, c, d, e, f := ohms(), ohms(), ohms(), ohms(), ohms(), ohms()
	x, y := farads(), farads()
	w := 2 * math.Pi * 1000.0
	yes := func(n int) []bool {
		out := make([]bool, n)
		for i := range out {
			out[i] = true
		}
		return out
	}
	sum := a + b + c
	return []sealed{
		{"1-2 R; 3-4 R; 5-6 R", []float64{a, b, c}, map[string]float64{"1-2": a, "3-4": b, "5-6": c}, yes(3), nil},
		// All from one pin.
		{"1-2 R; 1-3 R; 1-4 R; 1-5 R; 1-6 R; 1-7 R", []float64{a, b, c, d, e, f},
			map[string]float64{"1-2": a, "1-3": b, "1-4": c, "1-5": d, "1-6": e, "1-7": f, "2-3": a + b}, yes(6), nil},
		// A star about a node that is no pin.
		three("1-x R; 2-x R; 3-x R", []float64{a, b, c}, map[string]float64{"1-2": a + b, "2-3": b + c, "1-3": a + c}, leg),
		// The same with two pins: only their sum shows.
		{"1-x R; 2-x R", []float64{a, b}, map[string]float64{"1-2": a + b}, []bool{false, false}, nil},
		// A triangle: each with the two others across it.
		three("1-2 R; 2-3 R; 3-1 R", []float64{a, b, c},
			map[string]float64{"1-2": a * (b + c) / sum, "2-3": b * (a + c) / sum, "1-3": c * (a + b) / sum}, side),
		// A chain, every pin read; and with a pin that nobody read.
		{
			"1-2 R; 2-3 R; 3-4 R; 4-5 R",
			[]float64{a, b, c, d},
			map[string]float64{"1-2": a, "2-3": b, "3-4": c, "1-5": a + b + c + d, "4-5": d},
			yes(4),
			nil,
		},
		{"1-2 R; 2-3 R; 3-4 R", []float64{a, b, c}, map[string]float64{"1-2": a, "2-4": b + c}, []bool{true, false, false}, nil},
		// Two across one another show as one.
		{"1-2 R; 1-2 R; 2-3 R", []float64{a, b, c}, map[string]float64{"1-2": parallel(a, b), "2-3": c}, []bool{false, false, true}, nil},
		// A resistor with a capacitor across it: each shows for itself.
		{"1-2 R; 1-2 C", []float64{a, x}, map[string]float64{"1-2": a, "1-2 F": x}, yes(2), nil},
		// Capacitors from a common pin, and in a row.
		{"1-2 C; 1-3 C", []float64{x, y}, map[string]float64{"1-2 F": x, "1-3 F": y, "2-3 F": x * y / (x + y)}, yes(2), nil},
		{"1-x C; x-2 C", []float64{x, y}, map[string]float64{"1-2 F": x * y / (x + y)}, []bool{false, false}, nil},
		// A resistor on the way to a capacitor lowers what the bridge shows: C/(1+(ωRC)²); the resistor is read by itself.
		{"1-2 R; 2-3 C", []float64{a, x}, map[string]float64{"1-2": a, "2-3 F": x, "1-3 F": x / (1 + math.Pow(w*a*x, 2))}, yes(2), nil},
		// A divider with a capacitor at its middle, and one over.
		{
			"1-2 R; 2-3 R; 2-3 C; 4-5 C",
			[]float64{a, b, x, y},
			map[string]float64{"1-2": a, "2-3": b, "2-3 F": x, "4-5 F": y, "1-3": a + b},
			yes(4),
			nil,
		},
	}
}

// Of readings that are up to 2 % off the values that can be told are right, and those that cannot are said to be.
func TestValuesFromPins(t *testing.T) {
	rng := rand.New(rand.NewPCG(16, 6))
	told, right, open, admitted := 0, 0, 0, 0
	wrong := map[string]int{}
	for range trial.Runs(60) {
		for _, s := range packages(rng) {
			var readings []string
			for pins, v := range s.shows {
				v *= 1 + 0.02*(2*rng.Float64()-1)
				ends, isF := strings.CutSuffix(pins, " F")
				if isF {
					readings = append(readings, fmt.Sprintf("%s %.4gF", ends, v))
				} else {
					readings = append(readings, fmt.Sprintf("%s %.4g ohm", ends, v))
				}
			}
			r, err := Find(s.inside, strings.Join(readings, "; "))
			if err != nil {
				t.Fatalf("%s, %v: %v", s.inside, readings, err)
			}
			for i, f := range r.Parts {
				switch {
				case s.hard != nil && s.hard[i]:
				case s.told[i]:
					if told++; f.Told && math.Abs(f.SI/s.truth[i]-1) < 0.08 {
						right++
					} else {
						wrong[s.inside]++
					}
				default:
					if open++; !f.Told {
						admitted++
					}
				}
			}
		}
	}
	t.Log(wrong)
	t.Logf("%d of %d values that can be told are right; of %d that cannot, %d are said to be so", right, told, open, admitted)
	if float64(right) < 0.95*float64(told) || float64(admitted) < 0.99*float64(open) {
		t.Error("too few")
	}
}

func TestWhatIsBuiltAnew(t *testing.T) {
	r, err := Find("1-2 R; 2-3 C; 4-5 R", "1-2 10k; 2-3 47n; 4-5 3.74k")
	if err != nil || r.Says != "Each value is told by these readings." || r.Parts[0].Value != "10 kΩ" ||
		r.Parts[0].Made[0].Text != "10 kΩ" || r.Parts[0].Made[0].Off != "0 %" ||
		r.Parts[1].Made[0].Text != "47 nF" ||
		r.Parts[2].Made[0].Text == "3.6 kΩ" {
		t.Errorf("%+v %v", r, err)
	}
	r, err = Find("1-2 R; 2-3 R; 3-4 R", "1-2 10k; 2-4 30k")
	if err != nil || r.Says != "2 of 3 values cannot be told by these readings." || r.Parts[1].Value != "cannot be told" ||
		len(r.Parts[1].Made) > 0 ||
		len(r.Wanted) == 0 ||
		r.Wanted[0] != "ohms 1-4" {
		t.Errorf("%+v %v", r, err)
	}
}

func TestWhatCannotBe(t *testing.T) {
	for _, x := range []struct{ inside, readings, says string }{
		{"", "1-2 10k", "say what is inside"}, {"1-2 R", "", "say what was read"}, {"1-2 X", "1-2 10k", "R or C"},
		{"1-1 R", "1-2 10k", "R or C"},
		{"1-2 R", "1-2", "is no reading"}, {"1-2 R", "1-2 10k; 2-1 11k", "read twice"},
		{"1-2 R", "1-3 10k", "nothing of the package"},
		{"1-2 R", "1-2 10n", "nothing of the package"}, {"1-2 C", "1-2 10k", "nothing of the package"},
		{"1-2 R", "1-2 -3", "ohms or farads"},
		{"1-2 R", "1-2 3 V", "ohms or farads"}, {"1-2 R; 2-3 R", "1-2 10k; 2-3 10k; 1-3 50k", "no values of these parts"},
		{strings.Repeat("1-2 R;", 13), "1-2 10k", "more than 12"}, {strings.Repeat("x", 3000), "", "more than a package holds"},
	} {
		if r, err := Find(x.inside, x.readings); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%q, %q: %+v %v", x.inside, x.readings, r, err)
		}
	}
}

func BenchmarkFind(b *testing.B) {
	const inside, readings = "1-2 R; 2-3 R; 2-3 C; 3-4 R; 1-x R; x-4 C", "1-2 10k; 2-3 4.7k; 2-3 47n; 3-4 22k; 1-4 10n; 1-3 14.7k"
	for b.Loop() {
		if _, err := Find(inside, readings); err != nil {
			b.Fatal(err)
		}
	}
}
