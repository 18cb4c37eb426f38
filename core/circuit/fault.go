package circuit

import (
	"fmt"
	"maps"
	"math"
	"runtime"
	"slices"
	"strconv"
	"sync"
	"sync/atomic"

	"gonum.org/v1/gonum/mat"

	"steptrace/core/quantity"
)

// Fault is a usual failure of a part. Share is how often, of the part's failures, it is
// this one (MIL-HDBK-338B, and where that does not part them, evenly).
type Fault struct {
	Part  string  `json:"part"`
	What  string  `json:"what"`
	Share float64 `json:"share"`

	change func(c *Circuit, p *Part)
}

// Values of what has failed: as good as open, as good as shorted, and what a leak or a
// bad contact usually has.
const (
	openOhms, shortOhms = 1e11, 0.1
	leakOhms            = 10e3
	poorOhms            = 100.0
	highESR             = 30.0
)

func written(x float64) string { return strconv.FormatFloat(x, 'g', -1, 64) }

// usual are the failures of each kind.
var usual = map[Kind][]Fault{}

func init() {
	value := func(times float64) func(*Circuit, *Part) {
		return func(_ *Circuit, p *Part) { p.Value = times1(p, times) }
	}
	to := func(x float64) func(*Circuit, *Part) { return func(_ *Circuit, p *Part) { p.Value = written(x) } }
	also := func(name string, x float64) func(*Circuit, *Part) {
		return func(_ *Circuit, p *Part) { p.Also = with(p.Also, name, written(x)) }
	}
	// beside puts a resistance between two terminals.
	beside := func(a, b int, ohms float64) func(*Circuit, *Part) {
		return func(c *Circuit, p *Part) {
			c.Parts = append(c.Parts, Part{Name: p.Name + " fault", Kind: Resistor, Nodes: []string{p.Nodes[a], p.Nodes[b]}, Value: written(ohms)})
		}
	}
	// cut takes a terminal off its node.
	cut := func(terminal int) func(*Circuit, *Part) {
		return func(c *Circuit, p *Part) {
			node := p.Nodes[terminal]
			p.Nodes = slices.Clone(p.Nodes)
			p.Nodes[terminal] = p.Name + " cut"
			c.Parts = append(c.Parts, Part{Name: p.Name + " fault", Kind: Resistor, Nodes: []string{p.Nodes[terminal], node}, Value: written(openOhms)})
		}
	}
	usual[Resistor] = []Fault{{"", "open", 0.59, to(openOhms)}, {"", "drifted to twice its value", 0.18, value(2)}, {"", "drifted to half its value", 0.18, value(0.5)}, {"", "shorted", 0.05, to(shortOhms)}}
	usual[Capacitor] = []Fault{{"", "shorted", 0.35, also("leak", shortOhms)}, {"", "leaky", 0.2, also("leak", leakOhms)}, {"", "open", 0.25, value(1e-6)}, {"", "a tenth of its value", 0.1, value(0.1)}, {"", "of high ESR", 0.1, also("esr", highESR)}}
	usual[Inductor] = []Fault{{"", "open", 0.5, also("ohms", openOhms)}, {"", "shorted in its turns", 0.5, value(0.01)}}
	usual[Windings] = []Fault{{"", "open in its first winding", 0.3, cut(0)}, {"", "open in its second winding", 0.3, cut(2)}, {"", "shorted in its turns", 0.4, beside(2, 3, 1)}}
	usual[Diode] = []Fault{{"", "shorted", 0.5, beside(0, 1, shortOhms)}, {"", "open", 0.3, cut(0)}, {"", "leaky", 0.2, beside(0, 1, leakOhms)}}
	bipolar := []Fault{{"", "shorted from collector to emitter", 0.35, beside(0, 2, 1)}, {"", "shorted from base to emitter", 0.15, beside(1, 2, 1)}, {"", "shorted from collector to base", 0.15, beside(0, 1, 1)},
		{"", "open at its base", 0.09, cut(1)}, {"", "open at its collector", 0.09, cut(0)}, {"", "open at its emitter", 0.09, cut(2)}, {"", "without gain", 0.08, also("bf", 8)}}
	usual[NPN], usual[PNP] = bipolar, bipolar
	fet := []Fault{{"", "shorted from drain to source", 0.45, beside(0, 2, 1)}, {"", "leaky at its gate", 0.25, beside(1, 2, leakOhms)}, {"", "open at its drain", 0.1, cut(0)}, {"", "open at its source", 0.1, cut(2)}, {"", "open at its gate", 0.1, cut(1)}}
	for _, k := range []Kind{NJFET, PJFET, NMOS, PMOS} {
		usual[k] = fet
	}
	stuck := func(supply int) func(*Circuit, *Part) {
		return func(c *Circuit, p *Part) {
			cut(2)(c, p)
			c.Parts = append(c.Parts, Part{Name: p.Name + " stuck", Kind: Resistor, Nodes: []string{c.Parts[len(c.Parts)-1].Nodes[1], p.Nodes[supply]}, Value: "50"})
		}
	}
	usual[OpAmp] = []Fault{{"", "stuck at its upper supply", 0.35, stuck(3)}, {"", "stuck at its lower supply", 0.35, stuck(4)}, {"", "dead, its output open", 0.3, cut(2)}}
	usual[Contact] = []Fault{{"", "open", 0.6, to(openOhms)}, {"", "resistive", 0.4, to(poorOhms)}}
	usual[Pot] = []Fault{{"", "open at its wiper", 0.5, cut(1)}, {"", "open at one end", 0.25, cut(0)}, {"", "open at the other end", 0.25, cut(2)}}
}

// times1 is a part's main value so many times, as text.
func times1(p *Part, times float64) string {
	v, err := quantity.ParseAs(p.Value, sorts[p.Kind].fields[0].unit)
	if err != nil {
		return p.Value
	}
	return written(v.SI * times)
}

func with(also map[string]string, name, value string) map[string]string {
	out := maps.Clone(also)
	if out == nil {
		out = map[string]string{}
	}
	out[name] = value
	return out
}

// Faults lists the usual failures of every part; sources have none.
func (c *Circuit) Faults() []Fault {
	var out []Fault
	for i := range c.Parts {
		for _, f := range usual[c.Parts[i].Kind] {
			f.Part = c.Parts[i].Name
			out = append(out, f)
		}
	}
	return out
}

// With is the circuit with a fault in it.
func (c *Circuit) With(f Fault) *Circuit {
	out := *c
	out.Parts = slices.Clone(c.Parts)
	if i := slices.IndexFunc(out.Parts, func(p Part) bool { return p.Name == f.Part }); i >= 0 {
		p := out.Parts[i]
		f.change(&out, &p)
		out.Parts[i] = p
	}
	return &out
}

// Reading is what was read at a node: volts of DC, or of signal for one volt from the
// signal source at a frequency (Hz; 0: DC). Error is the meter's share.
type Reading struct {
	Node  string  `json:"node"`
	Hz    float64 `json:"hz,omitempty"`
	Value float64 `json:"value"`
	Error float64 `json:"error,omitempty"`
}

// Ranked is a fault, or none (no part), with how well it explains what was read.
type Ranked struct {
	Fault
	Weight    float64   `json:"weight"`    // share of all, 0 to 1
	Predicted []float64 `json:"predicted"` // for each reading
	Off       float64   `json:"off"`       // rms of how far each reading is off, in its spreads
}

// What readings spread by besides what the parts' tolerances make.
const (
	usualError    = 0.01
	leastVolts    = 0.02 // what a junction's own spread is
	resistorShare = 0.05 / 2
	gainShare     = 0.3 / 2 // of a transistor's bf, and a FET's idss
	signalShare   = 0.12    // 1 dB, of a small signal
	tail          = 1e-6    // a reading may be wrong altogether
)

// Rank weighs the usual faults of every part, and that there is none, by the readings: how
// likely each is to fail so, times how well it predicts what was read, given the spread
// that the parts' tolerances make of it and the meter's error. Errors of circuits that do
// not come to rest leave that fault out; a circuit that has problems gives them.
func (c *Circuit) Rank(readings []Reading) ([]Ranked, []Problem) {
	net, problems := c.Read()
	for i, r := range readings {
		if !slices.Contains(net.Nodes, r.Node) && len(problems) == 0 {
			problems = append(problems, Problem{fmt.Sprintf("reading %d", i+1), fmt.Sprintf("the circuit has no node %q", r.Node)})
		}
	}
	if len(problems) > 0 {
		return nil, problems
	}
	var known map[string]float64 // where it has no state of rest in order, each fault begins from nothing
	if rest, err := net.Rest(); err == nil {
		known = rest.Volts
	}
	const healthy = 1.0 // as likely as one part's whole share of failing, before it was read
	all := append([]Fault{{Share: healthy}}, c.Faults()...)
	tried := make([]*Ranked, len(all)) // each beside the others
	var trying sync.WaitGroup
	var next atomic.Int64
	for range runtime.GOMAXPROCS(0) {
		trying.Go(func() {
			for i := int(next.Add(1)) - 1; i < len(all); i = int(next.Add(1)) - 1 {
				tried[i] = c.try(all[i], readings, known)
			}
		})
	}
	trying.Wait()
	var out []Ranked
	largest := math.Inf(-1)
	for _, r := range tried {
		if r != nil {
			out = append(out, *r)
			largest = max(largest, r.Weight)
		}
	}
	sum := 0.0
	for i := range out { // until here the weights are logarithms
		out[i].Weight = math.Exp(out[i].Weight - largest)
		sum += out[i].Weight
	}
	for i := range out {
		out[i].Weight /= sum
	}
	slices.SortStableFunc(out, func(a, b Ranked) int {
		switch {
		case a.Weight > b.Weight:
			return -1
		case a.Weight < b.Weight:
			return 1
		}
		return 0
	})
	return out, nil
}

// try works out how well one fault predicts what was read; its weight is the logarithm of
// what it comes to. Nil where the circuit does not come to rest with it.
func (c *Circuit) try(f Fault, readings []Reading, healthy map[string]float64) *Ranked {
	faulty := c
	if f.Part != "" {
		faulty = c.With(f)
	}
	predicted, spread, ok := faulty.predict(readings, healthy)
	if !ok {
		return nil
	}
	r := &Ranked{Fault: f, Predicted: predicted, Weight: math.Log(f.Share)}
	for i, reading := range readings {
		sigma := math.Hypot(spread[i], math.Max(usualError, reading.Error)*math.Abs(predicted[i]))
		z := (reading.Value - predicted[i]) / sigma
		r.Off += z * z / float64(len(readings))
		r.Weight += math.Log(math.Exp(-z*z/2)/sigma + tail)
	}
	r.Off = math.Sqrt(r.Off)
	return r
}

// predict gives what each reading would show, and its spread (one standard deviation);
// near are the voltages of the circuit in order, to begin from.
func (c *Circuit) predict(readings []Reading, near map[string]float64) (predicted, spread []float64, ok bool) {
	n, problems := c.Read()
	if len(problems) > 0 {
		return nil, nil, false
	}
	rest, err := n.restNear(near)
	if err != nil {
		return nil, nil, false
	}
	variance := n.spread(rest)
	var hz []float64
	for _, r := range readings {
		if r.Hz > 0 && !slices.Contains(hz, r.Hz) {
			hz = append(hz, r.Hz)
		}
	}
	responses, err := n.Respond(rest, hz)
	if err != nil {
		return nil, nil, false
	}
	for _, r := range readings {
		if r.Hz == 0 {
			i := slices.Index(n.Nodes, r.Node)
			predicted = append(predicted, rest.x[i])
			spread = append(spread, math.Hypot(math.Sqrt(variance[i]), leastVolts))
			continue
		}
		g := responses[slices.Index(hz, r.Hz)].Gain[r.Node]
		predicted = append(predicted, g)
		spread = append(spread, signalShare*g+1e-6)
	}
	return predicted, spread, true
}

// spread is the variance of every node's voltage that the parts' tolerances make, to
// first order: what a part's change moves in the equations, through their inverse at
// rest.
func (n *Net) spread(r *Rest) []float64 {
	st := n.about(r)
	var lu mat.LU
	lu.Factorize(mat.NewDense(n.size, n.size, st.g))
	out := make([]float64, len(n.Nodes))
	right, moved := mat.NewVecDense(n.size, nil), mat.NewVecDense(n.size, nil)
	for i := range n.elements {
		e := &n.elements[i]
		share := 0.0
		switch e.Kind {
		case Resistor, Pot, Contact:
			share = resistorShare
		case NPN, PNP, NJFET, PJFET, NMOS, PMOS:
			share = gainShare
		default:
			continue
		}
		right.Zero()
		amps := n.into(e, r.x)
		for k, node := range e.nodes {
			if node < 0 {
				continue
			}
			change := amps[k] * share // a resistor's current falls by as much as it is larger
			if len(e.nodes) == 3 && (e.Kind == NPN || e.Kind == PNP) {
				// With the junctions where they are, a larger bf takes less base current.
				change = map[int]float64{0: 0, 1: amps[1] * share, 2: -amps[1] * share}[k]
			}
			right.SetVec(node, right.AtVec(node)+change)
		}
		if lu.SolveVecTo(moved, false, right) != nil {
			continue
		}
		for k := range out {
			out[k] += moved.AtVec(k) * moved.AtVec(k)
		}
	}
	return out
}
