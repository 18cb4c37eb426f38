package circuit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// Format and Version mark the files this package reads.
const (
	Format  = "steptrace-circuit"
	Version = 1
)

// Circuit is the circuit of a stage as written: values are texts as typed.
type Circuit struct {
	Format  string `json:"format" jsonschema:"enum=steptrace-circuit"`
	Version int    `json:"version" jsonschema:"enum=1"`
	Name    string `json:"name,omitempty"`
	Parts   []Part `json:"parts"`
}

// Part is one part. Nodes are its terminals in the order of its kind; 0, gnd and ground
// are ground. Value is its main value; Also holds others by name ("bf": "250").
type Part struct {
	Name  string            `json:"name"`
	Kind  Kind              `json:"kind"`
	Nodes []string          `json:"nodes"`
	Value string            `json:"value,omitempty"`
	Also  map[string]string `json:"also,omitempty"`
}

// Kind is a sort of part.
type Kind string

// The kinds. A voltage and a current are sources; a signal is a voltage source whose
// small signal of one volt goes through the circuit.
const (
	Resistor  Kind = "resistor"
	Capacitor Kind = "capacitor"
	Inductor  Kind = "inductor"
	Diode     Kind = "diode"
	NPN       Kind = "npn"
	PNP       Kind = "pnp"
	NJFET     Kind = "njf"
	PJFET     Kind = "pjf"
	NMOS      Kind = "nmos"
	PMOS      Kind = "pmos"
	OpAmp     Kind = "opamp"
	Voltage   Kind = "voltage"
	Current   Kind = "current"
	Signal    Kind = "signal"
	Contact   Kind = "contact"
	Pot       Kind = "pot"
	Windings  Kind = "transformer"
)

// field is a value of a part: its name in Also (empty: Value), its unit, what is usual
// where it is left out (NaN: it has to be there), and its bounds.
type field struct {
	name        string
	unit        quantity.Unit
	usual       float64
	least, most float64
}

// sort is what is known of a kind: its terminals, and its values in order.
type sort struct {
	terminals []string
	fields    []field
}

var needed = math.NaN()

const (
	least, most = 1e-15, 1e15
	// Usual small-signal silicon.
	usualIs, usualBeta, usualVaf = 1e-14, 200.0, 100.0
)

var (
	bipolar = sort{[]string{"collector", "base", "emitter"}, []field{
		{"is", quantity.Ampere, usualIs, 1e-20, 1e-3}, {"bf", quantity.None, usualBeta, 0.01, 1e6}, {"br", quantity.None, 2, 0.01, 1e6}, {"vaf", quantity.Volt, usualVaf, 1, 1e6}}}
	jfet = sort{[]string{"drain", "gate", "source"}, []field{
		{"idss", quantity.Ampere, 5e-3, 1e-9, 100}, {"vp", quantity.Volt, 2, 1e-3, 100}, {"lambda", quantity.None, 0.01, 0, 1}}}
	mosfet = sort{[]string{"drain", "gate", "source"}, []field{
		{"k", quantity.Ampere, 0.1, 1e-9, 1e4}, {"vt", quantity.Volt, 2, -50, 50}, {"lambda", quantity.None, 0.01, 0, 1}}}
	supply = sort{[]string{"plus", "minus"}, []field{{"", quantity.Volt, needed, -1e6, 1e6}}}
)

var sorts = map[Kind]sort{
	Resistor:  {[]string{"one end", "the other"}, []field{{"", quantity.Ohm, needed, 1e-6, most}}},
	Capacitor: {[]string{"plus", "minus"}, []field{{"", quantity.Farad, needed, least, 1e3}, {"esr", quantity.Ohm, 0, 0, most}, {"leak", quantity.Ohm, math.Inf(1), 1e-3, math.Inf(1)}}},
	Inductor:  {[]string{"one end", "the other"}, []field{{"", quantity.Henry, needed, least, 1e4}, {"ohms", quantity.Ohm, 1e-3, 1e-9, most}}},
	Diode: {[]string{"anode", "cathode"}, []field{
		{"is", quantity.Ampere, usualIs, 1e-20, 1}, {"n", quantity.None, 1, 0.5, 10}, {"bv", quantity.Volt, math.Inf(1), 0.5, math.Inf(1)}}},
	NPN: bipolar, PNP: bipolar, NJFET: jfet, PJFET: jfet, NMOS: mosfet, PMOS: mosfet,
	OpAmp: {[]string{"plus", "minus", "output", "upper supply", "lower supply"}, []field{
		{"gain", quantity.None, 1e5, 1, 1e9}, {"gbw", quantity.Hertz, 1e6, 1, 1e12}, {"rout", quantity.Ohm, 75, 1e-3, 1e6}, {"rin", quantity.Ohm, 1e6, 1, most}, {"short", quantity.Volt, 1.5, 0, 100}}},
	Voltage: supply, Signal: {[]string{"plus", "minus"}, []field{{"", quantity.Volt, 0, -1e6, 1e6}}},
	Current:  {[]string{"from", "to"}, []field{{"", quantity.Ampere, needed, -1e4, 1e4}}},
	Contact:  {[]string{"one side", "the other"}, []field{{"", quantity.Ohm, 0.05, 1e-6, most}}},
	Pot:      {[]string{"one end", "wiper", "the other end"}, []field{{"", quantity.Ohm, needed, 1e-3, most}, {"at", quantity.None, 0.5, 0, 1}}},
	Windings: {[]string{"primary start", "primary end", "secondary start", "secondary end"}, []field{{"", quantity.Henry, needed, least, 1e4}, {"ratio", quantity.None, 1, 1e-4, 1e4}, {"coupling", quantity.None, 0.99, 0, 0.99999}, {"ohms", quantity.Ohm, 1, 1e-6, most}}},
}

// Problem is one thing wrong with a circuit, named by its part or its node.
type Problem struct {
	Where   string `json:"where"`
	Message string `json:"message"`
}

// Limits against hostile circuits.
const maxParts, maxName = 500, 40

// element is a part with its numbers.
type element struct {
	*Part
	nodes  []int // -1 is ground
	values map[string]float64
	branch int // of its first current among the unknowns; -1 where it has none
}

func (e *element) value(name string) float64 { return e.values[name] }

// Net is a circuit ready to be solved.
type Net struct {
	Nodes    []string // but for ground
	elements []element
	size     int // unknowns: nodes and branches
}

// branches is how many currents of a kind are unknowns.
var branches = map[Kind]int{Inductor: 1, Voltage: 1, Signal: 1, OpAmp: 1, Windings: 2}

// Grounds are the names of ground.
var Grounds = []string{"0", "gnd", "ground"}

// Read makes numbers of the texts, and finds what keeps the circuit from being solved:
// values that are missing or cannot be, a part named twice, nodes that nothing holds,
// voltage sources in a loop.
func (c *Circuit) Read() (*Net, []Problem) {
	n := &Net{}
	var problems []Problem
	add := func(where, format string, args ...any) {
		problems = append(problems, Problem{where, fmt.Sprintf(format, args...)})
	}
	if len(c.Parts) == 0 || len(c.Parts) > maxParts {
		add("the circuit", "it has %d parts: from one to %d can be solved", len(c.Parts), maxParts)
		return n, problems
	}
	index := map[string]int{}
	node := func(name string) int {
		if slices.Contains(Grounds, strings.ToLower(name)) {
			return -1
		}
		i, ok := index[name]
		if !ok {
			i = len(n.Nodes)
			index[name] = i
			n.Nodes = append(n.Nodes, name)
		}
		return i
	}
	named := map[string]bool{}
	for i := range c.Parts {
		p := &c.Parts[i]
		where := p.Name
		if strings.TrimSpace(where) == "" || len(where) > maxName {
			where = fmt.Sprintf("part %d", i+1)
			add(where, "it needs a name of up to %d characters", maxName)
		}
		if named[p.Name] {
			add(where, "two parts have this name")
		}
		named[p.Name] = true
		known, ok := sorts[p.Kind]
		if !ok {
			add(where, "%q is no kind of part that is known", string(p.Kind))
			continue
		}
		if len(p.Nodes) != len(known.terminals) {
			add(where, "a %s has %d terminals (%s), not %d", p.Kind, len(known.terminals), strings.Join(known.terminals, ", "), len(p.Nodes))
			continue
		}
		e := element{Part: p, values: map[string]float64{}, branch: -1}
		for k, name := range p.Nodes {
			if strings.TrimSpace(name) == "" || len(name) > maxName {
				add(where, "its %s is connected to no node: name one", known.terminals[k])
			}
			e.nodes = append(e.nodes, node(strings.TrimSpace(name)))
		}
		for _, f := range known.fields {
			text := p.Value
			if f.name != "" {
				text = p.Also[f.name]
			}
			x := f.usual
			if strings.TrimSpace(text) != "" {
				v, err := quantity.ParseAs(text, f.unit)
				if err != nil {
					add(where, "%s%v", f.label(), err)
					continue
				}
				if x = v.SI; !(x >= f.least && x <= f.most) {
					add(where, "%s%s cannot be", f.label(), text)
				}
			} else if math.IsNaN(x) {
				add(where, "it has no value")
			}
			e.values[f.name] = x
		}
		for name := range p.Also {
			if !slices.ContainsFunc(known.fields, func(f field) bool { return f.name == name && name != "" }) {
				add(where, "a %s has no %q", p.Kind, name)
			}
		}
		n.elements = append(n.elements, e)
	}
	n.size = len(n.Nodes)
	for i := range n.elements {
		e := &n.elements[i]
		if count := branches[e.Kind]; count > 0 {
			e.branch = n.size
			n.size += count
		}
	}
	if len(problems) == 0 {
		problems = n.held()
	}
	return n, problems
}

func (f field) label() string {
	if f.name == "" {
		return ""
	}
	return f.name + ": "
}

// held finds nodes that nothing holds at a voltage at rest, and voltage sources in a loop.
func (n *Net) held() (problems []Problem) {
	parent := make([]int, len(n.Nodes)+1) // ground is the last
	for i := range parent {
		parent[i] = i
	}
	var root func(i int) int
	root = func(i int) int {
		if parent[i] != i {
			parent[i] = root(parent[i])
		}
		return parent[i]
	}
	at := func(node int) int {
		if node < 0 {
			return len(n.Nodes)
		}
		return node
	}
	join := func(a, b int) bool {
		ra, rb := root(at(a)), root(at(b))
		parent[ra] = rb
		return ra != rb
	}
	for i := range n.elements { // what fixes a voltage first, so that a loop of it is seen
		e := &n.elements[i]
		if e.Kind == Voltage || e.Kind == Signal {
			if !join(e.nodes[0], e.nodes[1]) {
				problems = append(problems, Problem{e.Name, "it closes a loop of voltage sources: put the resistance in that such a source has"})
			}
		}
	}
	for i := range n.elements {
		e := &n.elements[i]
		switch e.Kind {
		case Resistor, Inductor, Contact, Diode:
			join(e.nodes[0], e.nodes[1])
		case Capacitor:
			if !math.IsInf(e.value("leak"), 1) {
				join(e.nodes[0], e.nodes[1])
			}
		case NPN, PNP, NJFET, PJFET, Pot:
			join(e.nodes[0], e.nodes[1])
			join(e.nodes[1], e.nodes[2])
		case NMOS, PMOS:
			join(e.nodes[0], e.nodes[2])
		case OpAmp:
			join(e.nodes[0], e.nodes[1])
			join(e.nodes[2], e.nodes[4])
			join(e.nodes[3], e.nodes[4])
		case Windings:
			join(e.nodes[0], e.nodes[1])
			join(e.nodes[2], e.nodes[3])
		}
	}
	ground := root(len(n.Nodes))
	for i, name := range n.Nodes {
		if root(i) != ground {
			problems = append(problems, Problem{"node " + name, "nothing connects it to ground for direct current, so that its voltage is not known: is a resistor missing, or a name misspelt?"})
		}
	}
	return problems
}
