package circuit

import (
	"cmp"
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
	// Entry is the node that gains are told from; empty: the signal source.
	Entry string `json:"entry,omitempty"`
	Parts []Part `json:"parts"`
}

// Part is one part. Nodes are its terminals in the order of its kind; ground
// (0 and gnd too) is ground. Value is its main value, of a transistor what is printed on it;
// Also holds others by their words ("gain": "250", "drop": "0.65 V at 1 mA"). Parts with
// the same In sit in one package and are replaced together; what is Outside stands for the
// stages before and behind, and does not fail here.
type Part struct {
	Name  string            `json:"name"`
	Kind  Kind              `json:"kind"`
	Nodes []string          `json:"nodes"`
	Value string            `json:"value,omitempty"`
	Also  map[string]string `json:"also,omitempty"`
	In    string            `json:"in,omitempty"`
}

// Outside is the In of what is no part of the stage.
const Outside = "outside"

// There tells whether it is a part of the set that can be put a finger on: no source that stands for what
// comes in, nothing outside.
func (p *Part) There() bool {
	switch p.Kind {
	case Voltage, Current, Alternating, Signal:
		return false
	}
	return p.In != Outside
}

// Problem is one thing wrong with a circuit, named by its part or its node.
type Problem struct {
	Where   string `json:"where"`
	Message string `json:"message"`
}

// Limits against hostile circuits. A stage has some forty parts; the work of weighing them
// grows with the fourth power of their number.
const maxParts, maxName = 200, 40

// element is a part with its numbers; a crystal is several.
type element struct {
	is     *definition
	part   int // in Net.parts
	nodes  []int
	v      []float64
	branch int // of its first current among the unknowns; -1 where it has none
}

// Net is a circuit ready to be solved. Unknowns are first the nodes' voltages, in the
// order of Nodes, then currents and the nodes that faults made.
type Net struct {
	Nodes    []string // but for ground
	parts    []Part
	elements []element
	size     int   // unknowns
	entry    int   // node that gains are told from; ground: the signal source
	cut      []cut // nodes beyond Nodes
	done     []int // the unknowns in the order in which they are done
	habit    *habit
}

// cut is a node that has no name: within a part, or where a fault cut a leg off. From is
// the node on the other side of the cut.
type cut struct{ at, from int }

const ground = -1

// Grounds are the names of ground.
var Grounds = []string{"ground", "0", "gnd"}

// Read makes numbers of the texts, and finds what keeps the circuit from being solved:
// values that are missing or cannot be, a part named twice, nodes that nothing holds,
// voltage sources in a loop.
func (c *Circuit) Read() (*Net, []Problem) {
	r := reading{Net: &Net{parts: c.Parts, entry: ground}, index: map[string]int{}}
	if len(c.Parts) == 0 || len(c.Parts) > maxParts {
		r.add("the circuit", "it has %d parts: from one to %d can be solved", len(c.Parts), maxParts)
		return r.Net, r.problems
	}
	named := map[string]bool{}
	for i := range c.Parts {
		p := &c.Parts[i]
		where := p.Name
		if strings.TrimSpace(where) == "" || len(where) > maxName {
			where = fmt.Sprintf("part %d", i+1)
			r.add(where, "it needs a name of up to %d characters", maxName)
		}
		if named[p.Name] {
			r.add(where, "two parts have this name")
		}
		named[p.Name] = true
		r.part(i, where)
	}
	n := r.Net
	if c.Entry != "" {
		if at, ok := n.node(c.Entry); ok {
			n.entry = at
		} else {
			r.add("the circuit", "it has no node %q that gains could be told from", c.Entry)
		}
	}
	n.size = len(n.Nodes)
	for _, first := range r.crystals { // a node within comes behind those that have names
		n.cut = append(n.cut, cut{n.size, n.elements[first].nodes[0]})
		n.elements[first].nodes[1], n.elements[first+1].nodes[0] = n.size, n.size
		n.size++
	}
	for i := range n.elements {
		e := &n.elements[i]
		if count := e.is.branches; count > 0 {
			e.branch = n.size
			n.size += count
		}
	}
	if len(r.problems) == 0 {
		r.problems = n.held()
	}
	n.done = n.inOrder()
	n.habit = &habit{of: n}
	return n, r.problems
}

// reading is a circuit being read.
type reading struct {
	*Net
	index    map[string]int
	problems []Problem
	crystals []int // first elements of each
}

func (r *reading) add(where, format string, args ...any) {
	r.problems = append(r.problems, Problem{where, fmt.Sprintf(format, args...)})
}

func (r *reading) node(name string) int {
	if IsGround(name) {
		return ground
	}
	i, ok := r.index[name]
	if !ok {
		for other := range r.index {
			if strings.EqualFold(other, name) {
				r.add("node "+name, "there is also a node %s: give one place one name", other)
			}
		}
		i = len(r.Nodes)
		r.index[name] = i
		r.Nodes = append(r.Nodes, name)
	}
	return i
}

// IsGround tells a name of ground.
func IsGround(name string) bool { return slices.Contains(Grounds, strings.ToLower(name)) }

// Long: what may be wrong with a row, one thing after the other.
func (r *reading) part(i int, where string) {
	p := &r.parts[i]
	known, ok := sorts[p.Kind]
	if !ok {
		r.add(where, "%q is no kind of part that is known", string(p.Kind))
		return
	}
	if len(p.Nodes) != len(known.terminals) {
		r.add(
			where,
			"a %s has %d terminals (%s), not %d",
			p.Kind,
			len(known.terminals),
			strings.Join(known.terminals, ", "),
			len(p.Nodes),
		)
		return
	}
	e := element{is: known, part: i, branch: -1}
	for k, name := range p.Nodes {
		if strings.TrimSpace(name) == "" || len(name) > maxName {
			r.add(where, "its %s is connected to no node: name one", known.terminals[k])
		}
		e.nodes = append(e.nodes, r.node(strings.TrimSpace(name)))
	}
	if !slices.ContainsFunc(e.nodes, func(n int) bool { return n != e.nodes[0] }) {
		r.add(where, "all its terminals are at %s: it does nothing there", p.Nodes[0])
	}
	also := p.also()
	value := r.typed(p, also, where)
	for _, f := range known.fields {
		text := value
		if f.name == byLaw {
			e.v = append(e.v, f.usual)
			continue
		}
		if f.name != "" {
			text = also[f.name]
		} else if strings.TrimSpace(text) == "" && math.IsNaN(f.usual) {
			r.add(where, "it has no value")
		}
		x := f.usual
		if strings.TrimSpace(text) != "" {
			v, err := quantity.ParseAs(text, f.unit)
			if err != nil {
				r.add(where, "%s%v", f.label(), err)
				continue
			}
			if x = v.SI; !(x >= f.least && x <= f.most) {
				r.add(where, "%s%s cannot be", f.label(), text)
			}
		} else if math.IsNaN(x) && f.name != "" {
			r.add(where, "say %q, with its figure", f.name)
		}
		e.v = append(e.v, x)
	}
	for _, l := range known.laws {
		if text, ok := also[l.name]; ok && len(e.v) == len(known.fields) {
			if err := l.read(text, e.v); err != nil {
				r.add(where, "%s: %v", l.name, err)
			}
		}
	}
	for name := range also {
		if _, ok := known.word(name); !ok {
			r.add(where, "a %s has no %q: it may have %s", p.Kind, name, cmp.Or(strings.Join(known.words(), ", "), "no further values"))
		}
	}
	if known.expand != nil && len(e.v) == len(known.fields) {
		known.expand(r, e)
		return
	}
	r.elements = append(r.elements, e)
}

func (f field) label() string {
	if f.name == "" {
		return ""
	}
	return f.name + ": "
}

// held finds nodes that nothing holds at a voltage at rest, and voltage sources in a loop.
func (n *Net) held() (problems []Problem) {
	parent := make([]int, n.size+1) // ground is the last
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
	place := func(node int) int {
		if node < 0 {
			return n.size
		}
		return node
	}
	join := func(a, b int) bool {
		ra, rb := root(place(a)), root(place(b))
		parent[ra] = rb
		return ra != rb
	}
	for i := range n.elements { // what fixes a voltage first, so that a loop of it is seen
		e := &n.elements[i]
		if e.is.role.fixes() {
			if !join(e.nodes[0], e.nodes[1]) {
				problems = append(
					problems,
					Problem{n.parts[e.part].Name, "it closes a loop of voltage sources: put the resistance in that such a source has"},
				)
			}
		}
	}
	for i := range n.elements {
		e := &n.elements[i]
		for _, pair := range e.is.direct(e) {
			join(e.nodes[pair[0]], e.nodes[pair[1]])
		}
	}
	earth := root(n.size)
	for i, name := range n.Nodes {
		if root(i) != earth {
			problems = append(
				problems,
				Problem{
					"node " + name,
					"nothing connects it to ground for direct current, so that its voltage is not known: is a resistor missing, or a " +
						"name misspelt?",
				},
			)
		}
	}
	return problems
}

// node finds a node by name; ok is false where there is none. Ground is known by all its names.
func (n *Net) node(name string) (int, bool) {
	if IsGround(name) {
		return ground, true
	}
	i := slices.Index(n.Nodes, name)
	return i, i >= 0
}
