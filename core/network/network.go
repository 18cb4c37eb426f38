// Package network finds the values of the resistors and capacitors in a sealed package from what a meter shows between its
// pins, all that lies parallel taken along; and what to build it anew from.
//
//	found, err := network.Find("1-2 R; 2-3 C; 2-4 R; 4-5 R", "1-2 10.1k; 2-3 46.5n; 1-5 24.9k; 4-5 4.72k")
//
// Ohms between two pins are those of all resistors in the package with the other pins open (Kirchhoff's matrix). Farads are
// what a bridge shows at 1 kHz as a capacitance in parallel: the imaginary part of the admittance over 2πf. The values are
// those that explain the readings best, in the least squares of their ratios (Levenberg and Marquardt), begun at many
// places. How sure each is follows from the readings' spread of 2 %; what they leave open is said to be.
package network

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"gonum.org/v1/gonum/mat"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/substitute"
)

const (
	hertz = 1000.0 // of a capacitance meter
	// spread is one standard deviation of a reading, as a share.
	spread = 0.02
	// sure is how far off a value may be for it to be told, as a share (one standard deviation).
	sure = 0.06
	// apart is how far two explanations of the same readings may differ and be one.
	apart = 0.1
	// much is by how many spreads the worst reading may be off before the parts cannot give the readings.
	much      = 4.0
	mostParts = 12
	mostText  = 2000
	starts    = 40
	mostSteps = 60
)

// Found is a part of the package, and what it is found to be.
type Found struct {
	Name  string  `json:"name"` // "R 1-2"
	Value string  `json:"value"`
	Told  bool    `json:"told"` // the readings tell it
	Off   float64 `json:"off"`  // how far off it may be, as a share
	// Made is how to make it of one or two that are sold, the nearest first; of what is not told nothing.
	Made []Made `json:"made"`

	SI float64 `json:"-"` // Ω or F, of what is told
}

// Made is a way to make a value.
type Made struct {
	Text string `json:"text"`
	Off  string `json:"off"`

	Error float64 `json:"-"` // as a share
}

// Result is what a package holds.
type Result struct {
	Says  string  `json:"says"`
	Parts []Found `json:"parts"`
	// Wanted are pairs of pins whose reading would tell most of what is left open.
	Wanted []string `json:"wanted"`
}

// Ways are how to make a value (Ω, or F of a capacitor) of one or two that are sold: E24, capacitors E12; the simplest first.
func Ways(value float64, capacitor bool) []Made {
	series, unit := quantity.E24, quantity.Ohm
	if capacitor {
		series, unit = quantity.E12, quantity.Farad
	}
	ways := substitute.Combine(value, series, capacitor, 40)
	slices.SortStableFunc(ways, func(a, b substitute.Made) int { return simple(a) - simple(b) })
	out := []Made{}
	for _, m := range ways[:min(3, len(ways))] {
		out = append(out, Made{m.Says(unit), quantity.SignedPercent(m.Error), m.Error})
	}
	return out
}

// Open tells whether the readings leave a value open.
func (r *Result) Open() bool {
	return slices.ContainsFunc(r.Parts, func(f Found) bool { return !f.Told })
}

type element struct {
	capacitor bool
	a, b      int
}

type pair struct {
	farads bool
	a, b   int
	value  float64
	text   string
}

type problem struct {
	nodes    []string
	pins     int // the first of the nodes are those that were read
	elements []element
	readings []pair
}

// Find reads the parts of a package ("1-2 R; 2-x C", nodes that are no pin by any name) and what was read between its pins
// ("1-2 10k; 2-3 47n"), and finds the values. The error can be mended by a person.
func Find(inside, readings string) (Result, error) {
	p, err := read(inside, readings)
	if err != nil {
		return Result{}, err
	}
	best, others, off := p.solve()
	if off > much {
		return Result{}, mend.Errorf(
			"no values of these parts give these readings: one is off by %.0f %% at best. Is a reading wrong, or a "+
				"part drawn between the wrong pins?",
			100*spread*off,
		)
	}
	sd := p.sureness(best)
	out := Result{Parts: []Found{}, Wanted: []string{}}
	open := 0
	for i, e := range p.elements {
		f := Found{Name: p.name(e), Off: sd[i], Made: []Made{}, SI: math.Exp(best[i])}
		unit := quantity.Ohm
		if e.capacitor {
			unit = quantity.Farad
		}
		f.Told = sd[i] <= sure && !slices.ContainsFunc(others, func(x []float64) bool { return math.Abs(x[i]-best[i]) > apart })
		if f.Told {
			f.Value = substitute.Shown(f.SI, unit)
			f.Made = Ways(f.SI, e.capacitor)
		} else {
			f.Value, f.Off = "cannot be told", 0
			open++
		}
		out.Parts = append(out.Parts, f)
	}
	switch {
	case open == 0:
		out.Says = "Each value is told by these readings."
	default:
		out.Says = fmt.Sprintf("%d of %d values cannot be told by these readings.", open, len(p.elements))
		out.Wanted = p.unread(out.Parts)
	}
	return out, nil
}

// simple puts one part before two, where it is as near as the readings are.
func simple(m substitute.Made) int {
	if len(m.Of) == 1 && math.Abs(m.Error) <= spread {
		return 0
	}
	return 1
}

func (p *problem) name(e element) string {
	kind := "R "
	if e.capacitor {
		kind = "C "
	}
	return kind + p.nodes[e.a] + "-" + p.nodes[e.b]
}

// read reads what is inside and what was read.
//
// Long: what may be wrong with either, one thing after the other.
func read(inside, readings string) (*problem, error) {
	p := &problem{}
	if len(inside)+len(readings) > mostText {
		return nil, mend.Errorf("more than a package holds: up to %d parts", mostParts)
	}
	node := func(name string) int {
		i := slices.Index(p.nodes, name)
		if i < 0 {
			i = len(p.nodes)
			p.nodes = append(p.nodes, name)
		}
		return i
	}
	split := func(text string) (a, b, rest string, ok bool) {
		ends, rest, _ := strings.Cut(strings.TrimSpace(text), " ")
		a, b, ok = strings.Cut(ends, "-")
		return a, b, strings.TrimSpace(rest), ok && a != "" && b != "" && a != b && rest != ""
	}
	for _, item := range items(readings) {
		a, b, value, ok := split(item)
		if !ok {
			return nil, mend.Errorf("%q is no reading: two pins and what is between them, as 1-2 10k or 2-3 47n", item)
		}
		w := strings.TrimSpace(value)
		if strings.HasSuffix(w, "p") || strings.HasSuffix(w, "n") || strings.HasSuffix(w, "u") || strings.HasSuffix(w, "µ") {
			w += "F"
		}
		v, err := quantity.Parse(w, quantity.Ohm)
		switch {
		case err != nil:
			return nil, err
		case v.Unit != quantity.Ohm && v.Unit != quantity.Farad || !(v.SI > 0) || v.SI > 1e12:
			return nil, mend.Errorf("%q: between pins ohms or farads are read", item)
		}
		r := pair{v.Unit == quantity.Farad, node(a), node(b), v.SI, a + "-" + b}
		if slices.ContainsFunc(p.readings, func(x pair) bool {
			return x.farads == r.farads && (x.a == r.a && x.b == r.b || x.a == r.b && x.b == r.a)
		}) {
			return nil, mend.Errorf("%s was read twice: leave one", r.text)
		}
		p.readings = append(p.readings, r)
	}
	p.pins = len(p.nodes)
	for _, item := range items(inside) {
		a, b, kind, ok := split(item)
		if kind = strings.ToUpper(kind); !ok || kind != "R" && kind != "C" {
			return nil, mend.Errorf("%q is no part of a package: between which nodes, and R or C, as 1-2 R", item)
		}
		p.elements = append(p.elements, element{kind == "C", node(a), node(b)})
	}
	switch {
	case len(p.elements) == 0:
		return nil, mend.Errorf("say what is inside: 1-2 R; 2-3 C")
	case len(p.elements) > mostParts:
		return nil, mend.Errorf("more than %d parts in one package", mostParts)
	case len(p.readings) == 0:
		return nil, mend.Errorf("say what was read between the pins: 1-2 10k; 2-3 47n")
	}
	for i := range p.readings {
		if r := &p.readings[i]; !p.joined(r) {
			return nil, mend.Errorf("between %s nothing of the package passes %s: is a part missing, or a pin mistaken?", r.text,
				map[bool]string{true: "alternating current", false: "direct current"}[r.farads])
		}
	}
	return p, nil
}

func items(text string) []string {
	return slices.DeleteFunc(strings.FieldsFunc(text, func(r rune) bool { return r == ';' || r == ',' || r == '\n' }),
		func(s string) bool { return strings.TrimSpace(s) == "" })
}

// joined tells whether a reading's pins are joined by what its kind of current passes; of farads a capacitor has to be on
// the way.
func (p *problem) joined(r *pair) bool {
	seen := make([]bool, len(p.nodes))
	var walk func(n int)
	walk = func(n int) {
		seen[n] = true
		for _, e := range p.elements {
			if e.capacitor && !r.farads {
				continue
			}
			for _, way := range [][2]int{{e.a, e.b}, {e.b, e.a}} {
				if way[0] == n && !seen[way[1]] {
					walk(way[1])
				}
			}
		}
	}
	walk(r.a)
	return seen[r.b] && (!r.farads || slices.ContainsFunc(p.elements, func(e element) bool { return e.capacitor }))
}

// shows is what a meter shows for values whose logarithms are x.
func (p *problem) shows(r *pair, x []float64) float64 {
	n := len(p.nodes)
	w := 2 * math.Pi * hertz
	// The admittance matrix, real and imaginary part as one real system; the reading's second pin is ground.
	g, b := mat.NewDense(n, n, nil), mat.NewDense(n, n, nil)
	const leak = 1e-15 // so that nodes that nothing passes to stand somewhere
	for i, e := range p.elements {
		m, y := g, math.Exp(-x[i])
		if e.capacitor {
			m, y = b, w*math.Exp(x[i])
			if !r.farads {
				continue
			}
		}
		m.Set(e.a, e.a, m.At(e.a, e.a)+y)
		m.Set(e.b, e.b, m.At(e.b, e.b)+y)
		m.Set(e.a, e.b, m.At(e.a, e.b)-y)
		m.Set(e.b, e.a, m.At(e.b, e.a)-y)
	}
	size := 2 * n
	if !r.farads {
		size = n
	}
	a, rhs, v := mat.NewDense(size, size, nil), mat.NewVecDense(size, nil), mat.NewVecDense(size, nil)
	for i := range n {
		for k := range n {
			a.Set(i, k, g.At(i, k))
			if r.farads {
				a.Set(n+i, n+k, g.At(i, k))
				a.Set(i, n+k, -b.At(i, k))
				a.Set(n+i, k, b.At(i, k))
			}
		}
		for s := i; s < size; s += n {
			a.Set(s, s, a.At(s, s)+leak)
		}
	}
	for s := r.b; s < size; s += n {
		for k := range size {
			a.Set(s, k, 0)
		}
		a.Set(s, s, 1)
	}
	rhs.SetVec(r.a, 1)
	if err := v.SolveVec(a, rhs); err != nil {
		if c, ok := err.(mat.Condition); !ok || math.IsInf(float64(c), 1) { // badly conditioned will do
			return math.NaN()
		}
	}
	if !r.farads {
		return v.AtVec(r.a)
	}
	z := complex(v.AtVec(r.a), v.AtVec(n+r.a))
	return imag(1/z) / w
}

// residuals are how far each reading is off, in its spreads.
func (p *problem) residuals(x []float64) []float64 {
	out := make([]float64, len(p.readings))
	for i := range p.readings {
		r := &p.readings[i]
		if shows := p.shows(r, x); shows > 0 {
			out[i] = math.Log(shows/r.value) / spread
		} else {
			out[i] = 1e4
		}
	}
	return out
}

func sumOf(r []float64) float64 {
	s := 0.0
	for _, x := range r {
		s += x * x
	}
	return s
}

// jacobian is how the residuals move with the values.
func (p *problem) jacobian(x, at []float64) *mat.Dense {
	const step = 1e-4
	j := mat.NewDense(len(at), len(x), nil)
	for k := range x {
		moved := slices.Clone(x)
		moved[k] += step
		for i, v := range p.residuals(moved) {
			j.Set(i, k, (v-at[i])/step)
		}
	}
	return j
}

// solve finds the values that explain the readings best, what else explains them as well, and how many spreads the worst
// reading is off.
func (p *problem) solve() (best []float64, others [][]float64, worst float64) {
	rng := rand.New(rand.NewPCG(1, 2)) // the same each time
	type end struct {
		x    []float64
		cost float64
	}
	var ends []end
	for n := range starts {
		x := make([]float64, len(p.elements))
		for i, e := range p.elements {
			x[i] = p.guess(e) + 1.5*rng.NormFloat64()*float64(min(n, 1))
		}
		x, cost := p.descend(x)
		ends = append(ends, end{x, cost})
	}
	slices.SortFunc(ends, func(a, b end) int {
		switch {
		case a.cost < b.cost:
			return -1
		case a.cost > b.cost:
			return 1
		}
		return 0
	})
	best = ends[0].x
	const asGood = 6.0 // of the sum of squares: within what the readings' spread makes of it
	for _, e := range ends[1:] {
		if e.cost < ends[0].cost+asGood {
			others = append(others, e.x)
		}
	}
	for _, r := range p.residuals(best) {
		worst = max(worst, math.Abs(r))
	}
	return best, others, worst
}

// guess is where a value may lie: what was read across it, or the middle of all readings of its kind.
func (p *problem) guess(e element) float64 {
	sum, count := 0.0, 0.0
	for _, r := range p.readings {
		if r.farads != e.capacitor {
			continue
		}
		if r.a == e.a && r.b == e.b || r.a == e.b && r.b == e.a {
			return math.Log(r.value)
		}
		sum, count = sum+math.Log(r.value), count+1
	}
	if count > 0 {
		return sum / count
	}
	if e.capacitor {
		return math.Log(10e-9)
	}
	return math.Log(10e3)
}

// descend goes downhill from a start (Levenberg and Marquardt).
func (p *problem) descend(x []float64) ([]float64, float64) {
	damp := 1e-2
	at := p.residuals(x)
	cost := sumOf(at)
	for range mostSteps {
		j := p.jacobian(x, at)
		var h mat.Dense
		h.Mul(j.T(), j)
		grad := mat.NewVecDense(len(x), nil)
		grad.MulVec(j.T(), mat.NewVecDense(len(at), at))
		moved := false
		for range 8 {
			m := mat.DenseCopyOf(&h)
			for k := range x {
				m.Set(k, k, m.At(k, k)*(1+damp)+1e-9)
			}
			step := mat.NewVecDense(len(x), nil)
			if err := step.SolveVec(m, grad); err == nil {
				next := slices.Clone(x)
				for k := range next {
					next[k] -= max(min(step.AtVec(k), 2), -2)
				}
				then := p.residuals(next)
				if c := sumOf(then); c < cost {
					gained := cost - c
					x, at, cost, moved = next, then, c, true
					damp = max(damp/5, 1e-9)
					if gained < 1e-9*(1+c) {
						return x, cost
					}
					break
				}
			}
			damp *= 5
		}
		if !moved {
			break
		}
	}
	return x, cost
}

// sureness is how far off each value may be, as a share: one standard deviation, from the readings' spread.
func (p *problem) sureness(x []float64) []float64 {
	out := make([]float64, len(x))
	j := p.jacobian(x, p.residuals(x))
	var h, inverse mat.Dense
	h.Mul(j.T(), j)
	for k := range x {
		h.Set(k, k, h.At(k, k)+1e-3) // what nothing tells may be off by some thirty times
	}
	if err := inverse.Inverse(&h); err != nil {
		for k := range out {
			out[k] = math.Inf(1)
		}
		return out
	}
	for k := range out {
		out[k] = math.Sqrt(max(inverse.At(k, k), 0))
	}
	return out
}

// unread are pairs of pins that nothing was read between, in ohms where a resistor is left open, in farads where a capacitor.
func (p *problem) unread(found []Found) []string {
	const most = 6
	left := map[bool]bool{}
	for i, e := range p.elements {
		left[e.capacitor] = left[e.capacitor] || !found[i].Told
	}
	out := []string{}
	for a := range p.pins {
		for b := a + 1; b < p.pins; b++ {
			for _, farads := range []bool{false, true} {
				r := pair{farads: farads, a: a, b: b}
				there := slices.ContainsFunc(p.readings, func(x pair) bool {
					return x.farads == farads && (x.a == a && x.b == b || x.a == b && x.b == a)
				})
				if !left[farads] || there || !p.joined(&r) || len(out) == most {
					continue
				}
				out = append(out, map[bool]string{true: "farads ", false: "ohms "}[farads]+p.nodes[a]+"-"+p.nodes[b])
			}
		}
	}
	return out
}
