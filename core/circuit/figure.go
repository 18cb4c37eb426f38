package circuit

import (
	"cmp"
	"slices"
)

// Figure is an orderly drawing of a circuit: every node a level line, the higher the more
// volts stand at it, every part a column between the nodes that it connects, in the order
// in which the signal passes. Ground is a line like the others.
type Figure struct {
	Lines   []Line   `json:"lines"`   // from the highest down
	Columns []Column `json:"columns"` // from left to right
}

// Line is a node's, from its first column to its last.
type Line struct {
	Node   string  `json:"node"`
	Volts  float64 `json:"volts"`
	First  int     `json:"first"`
	Last   int     `json:"last"`
	Ground bool    `json:"ground,omitempty"`
}

// Column is a part's: the line of each of its terminals.
type Column struct {
	Part  string   `json:"part"`
	Kind  Kind     `json:"kind"`
	Text  string   `json:"text"`
	Lines []int    `json:"lines"`
	Legs  []string `json:"legs"`
	Sign  Sign     `json:"sign"`
}

// Figure lays the circuit out by its state of rest.
func (n *Net) Figure(r *Rest) Figure {
	f := Figure{Lines: []Line{}, Columns: []Column{}}
	for _, name := range n.Nodes {
		f.Lines = append(f.Lines, Line{Node: name, Volts: r.Volts[name], First: -1})
	}
	f.Lines = append(f.Lines, Line{Node: "ground", Ground: true, First: -1})
	near := n.order()
	slices.SortStableFunc(f.Lines, func(a, b Line) int {
		if d := b.Volts - a.Volts; d > 1e-3 || d < -1e-3 {
			return cmp.Compare(b.Volts, a.Volts)
		}
		if a.Ground != b.Ground { // what stands at no volts lies above ground
			if a.Ground {
				return 1
			}
			return -1
		}
		return cmp.Compare(near[a.Node], near[b.Node])
	})
	line := map[string]int{}
	for i := range f.Lines {
		line[f.Lines[i].Node] = i
	}
	at := func(node string) int {
		if IsGround(node) {
			return line["ground"]
		}
		return line[node]
	}
	parts := make([]int, len(n.parts))
	for i := range parts {
		parts[i] = i
	}
	place := func(p *Part) float64 { // between the nodes that it connects, supplies aside
		sum, count := 0.0, 0.0
		for _, node := range p.Nodes {
			if d, ok := near[node]; ok {
				sum, count = sum+float64(d), count+1
			}
		}
		if count == 0 {
			return -1 // supplies stand first
		}
		return sum / count
	}
	slices.SortStableFunc(parts, func(a, b int) int { return cmp.Compare(place(&n.parts[a]), place(&n.parts[b])) })
	for i, k := range parts {
		p := &n.parts[k]
		c := Column{Part: p.Name, Kind: p.Kind, Text: p.Value, Legs: sortOf(p.Kind).terminals, Sign: sortOf(p.Kind).sign}
		for _, node := range p.Nodes {
			l := &f.Lines[at(node)]
			c.Lines = append(c.Lines, at(node))
			if l.First < 0 {
				l.First = i
			}
			l.Last = i
		}
		f.Columns = append(f.Columns, c)
	}
	return f
}

// order is how many parts each node is away from where the circuit's signal begins; nodes
// that a supply holds are no way for it, and are not in it.
func (n *Net) order() map[string]int {
	held := map[string]bool{}
	var first []string
	for i := range n.parts {
		p := &n.parts[i]
		switch sortOf(p.Kind).role {
		case holds:
			for _, node := range p.Nodes {
				held[node] = true
			}
		case mains:
			first = append(first, p.Nodes...)
		case signal:
			first = append(first, p.Nodes[0])
		}
	}
	if len(first) == 0 { // nothing feeds it: from the first part's first node that is none
		for i := range n.parts {
			for _, node := range n.parts[i].Nodes {
				if !held[node] && !IsGround(node) && len(first) == 0 {
					first = append(first, node)
				}
			}
		}
	}
	out := map[string]int{}
	for steps := 0; len(first) > 0; steps++ {
		var next []string
		for _, node := range first {
			if _, seen := out[node]; seen || held[node] || IsGround(node) {
				continue
			}
			out[node] = steps
			for i := range n.parts {
				if slices.Contains(n.parts[i].Nodes, node) {
					next = append(next, n.parts[i].Nodes...)
				}
			}
		}
		first = next
	}
	return out
}
