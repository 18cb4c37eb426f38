package training

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"

	"steptrace/core/circuit"
	"steptrace/core/inside"
	"steptrace/core/quantity"
)

// A stage's circuit with what is due at each node and what is read there: which part is it?

// What is told apart: by so much of what is due, and by so many volts at the least, at one node.
const (
	apartShare = 0.25
	apartVolts = 0.8
	meterOff   = 0.004 // of a meter, at the most
)

// askable are the circuits of which a transistor's voltages can be asked: at rest, with a supply of direct current.
var askable = sync.OnceValue(func() []circuit.Family {
	var out []circuit.Family
	for _, f := range circuit.Families() {
		net, problems := (&circuit.Circuit{Name: f.Name, Parts: f.Parts}).Read()
		if len(problems) > 0 || net.Alternates() || net.Runs() {
			continue
		}
		biased := slices.ContainsFunc(f.Parts, func(p circuit.Part) bool { return p.Kind == circuit.NPN || p.Kind == circuit.PNP })
		if _, err := net.Rest(); err == nil && biased && len(net.Nodes) >= 4 {
			out = append(out, f)
		}
	}
	return out
})

func (q *Quick) whichPart(rng *rand.Rand) bool {
	f := pick(rng, askable())
	net, _ := (&circuit.Circuit{Name: f.Name, Parts: f.Parts}).Read()
	good, err := net.Rest()
	if err != nil {
		return false
	}
	type shown struct {
		fault circuit.Fault
		volts map[string]float64
	}
	var all []shown
	for _, x := range net.Faults() {
		if x = x.Hard(); x.What != "open" && !strings.HasPrefix(x.What, "shorted") {
			continue
		}
		if r, err := net.With(x).Rest(); err == nil && stiff(f.Parts, net.Nodes, x, r.Volts) {
			all = append(all, shown{x, r.Volts})
		}
	}
	rng.Shuffle(len(all), func(a, b int) { all[a], all[b] = all[b], all[a] })
	i := slices.IndexFunc(all, func(x shown) bool { return apart(x.volts, good.Volts) })
	if i < 0 {
		return false
	}
	is := all[i]
	choices := []string{is.fault.Part + " " + is.fault.What}
	for _, x := range all {
		if x.fault.Part != is.fault.Part && apart(x.volts, is.volts) && apart(x.volts, good.Volts) {
			choices = append(choices, x.fault.Part+" "+x.fault.What)
		}
	}
	if len(choices) < mostChoices {
		return false
	}
	q.Circuit = &Drawn{Stage: f.Name, Figure: net.Figure(good), Nodes: []inside.Node{}, Parts: []inside.Part{}}
	for _, p := range good.Parts {
		q.Circuit.Parts = append(q.Circuit.Parts, inside.Part{PartRest: p})
	}
	for _, node := range net.Nodes {
		read := is.volts[node] * (1 + meterOff*(2*rng.Float64()-1))
		off := differs(read, good.Volts[node])
		q.Circuit.Nodes = append(q.Circuit.Nodes, inside.Node{Node: node, Computed: good.Volts[node], Measured: &read, Off: off})
		q.Facts = append(q.Facts, Fact{
			Name: node, Due: inVolts(good.Volts[node]), Reads: inVolts(read), Off: off,
		})
	}
	q.Ask = "Which part of this stage is it?"
	q.about = is.fault.What
	q.why = append(q.why, because("with %s %s the sums give just these volts", is.fault.Part, is.fault.What))
	kept := choices[:mostChoices]
	for _, x := range all {
		name := x.fault.Part + " " + x.fault.What
		if name == choices[0] || !slices.Contains(kept, name) {
			continue
		}
		node := farthest(x.volts, is.volts)
		q.why = append(
			q.why,
			because("with %s %s would have %s, and it has %s", name, node, inVolts(x.volts[node]), inVolts(is.volts[node])),
		)
	}
	return q.choose(rng, kept...)
}

// stiff tells whether what stands at the nodes of a circuit with a fault is more than what leaks there: a meter of 10 MΩ leaves it.
func stiff(parts []circuit.Part, nodes []string, fault circuit.Fault, volts map[string]float64) bool {
	for _, node := range nodes {
		loaded := append(slices.Clone(parts), circuit.PartOf("the meter", "resistor", node+"; ground", "10M", "", ""))
		net, problems := (&circuit.Circuit{Parts: loaded}).Read()
		if len(problems) > 0 {
			return false
		}
		r, err := net.With(fault).Rest()
		if err != nil || math.Abs(r.Volts[node]-volts[node]) > math.Max(leftVolts, leftShare*math.Abs(volts[node])) {
			return false
		}
	}
	return true
}

// What a meter may change.
const leftShare, leftVolts = 0.02, 0.02

func differs(a, b float64) bool { return math.Abs(a-b) > math.Max(apartVolts, apartShare*math.Abs(b)) }

// apart tells whether two states can be told apart at some node.
func apart(a, b map[string]float64) bool {
	for node := range a {
		if differs(a[node], b[node]) {
			return true
		}
	}
	return false
}

// farthest is the node at which two states differ most; of equals the first by name.
func farthest(a, b map[string]float64) (node string) {
	most := -1.0
	for name := range a {
		if d := math.Abs(a[name] - b[name]); d > most || d == most && name < node {
			node, most = name, d
		}
	}
	return node
}

func inVolts(x float64) string {
	if math.Abs(x) < 0.0005 {
		return "0 V"
	}
	return quantity.Value{SI: x, Unit: quantity.Volt}.Short(3)
}
