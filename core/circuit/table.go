package circuit

import (
	"encoding/csv"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// A circuit can be typed as a table, a row a part: its terminals' nodes and its other
// values with ; between ("out; base; emitter", "gain 250; Early voltage 80 V"). The families
// are kept so.

// NodesText writes a part's nodes in one cell.
func (p *Part) NodesText() string {
	nodes := slices.Clone(p.Nodes)
	for i, n := range nodes {
		if IsGround(n) {
			nodes[i] = Grounds[0]
		}
	}
	return strings.Join(nodes, "; ")
}

// AlsoText writes a part's other values in one cell, in the order of its kind; what the kind
// does not know comes behind, for Read to name.
func (p *Part) AlsoText() string {
	known, also := sorts[p.Kind], p.also()
	words := known.words()
	for _, name := range slices.Sorted(maps.Keys(also)) {
		if _, ok := known.word(name); !ok {
			words = append(words, name)
		}
	}
	var out []string
	for _, w := range words {
		if text, ok := also[w]; ok {
			out = append(out, strings.TrimSpace(w+" "+text))
		}
	}
	return strings.Join(out, "; ")
}

// PartOf makes a part of the cells of its row. It does not judge: Read does.
func PartOf(name, kind, nodes, value, also, in string) Part {
	p := Part{Name: strings.TrimSpace(name), Kind: Kind(strings.ToLower(strings.TrimSpace(kind))), Nodes: []string{}, Value: strings.TrimSpace(value), In: strings.TrimSpace(in)}
	if strings.TrimSpace(nodes) != "" {
		for _, n := range strings.Split(nodes, ";") {
			p.Nodes = append(p.Nodes, strings.TrimSpace(n))
		}
	}
	known := sorts[p.Kind]
	for _, x := range strings.Split(also, ";") {
		if strings.TrimSpace(x) == "" {
			continue
		}
		if p.Also == nil {
			p.Also = map[string]string{}
		}
		key, text := known.said(x)
		p.Also[key] = text
	}
	if p.Also != nil {
		p.Also = p.also()
	}
	return p
}

// Kinds describes the kinds of part, for a hint beside a table.
func Kinds() []string {
	var out []string
	for k, s := range sorts {
		text := string(k) + ": " + strings.Join(s.terminals, ", ")
		if more := s.words(); len(more) > 0 {
			text += " (" + strings.Join(more, ", ") + ")"
		}
		out = append(out, text)
	}
	slices.Sort(out)
	return out
}

// Family is a usual circuit to begin from. Its nodes in and out are where the signal comes
// and goes.
type Family struct {
	Name  string `json:"name"`
	Parts []Part `json:"parts"`
}

var readFamilies = func() []Family {
	rows, err := csv.NewReader(strings.NewReader(familiesTable)).ReadAll()
	if err != nil {
		panic(fmt.Sprintf("families: %v", err)) // it is part of the program, and tested
	}
	var out []Family
	for _, r := range rows {
		if r[0] != "" {
			out = append(out, Family{Name: r[0]})
		}
		last := &out[len(out)-1]
		last.Parts = append(last.Parts, PartOf(r[1], r[2], r[3], r[4], r[5], r[6]))
	}
	return out
}()

// Families are the usual circuits. The parts are the caller's own.
func Families() []Family {
	out := slices.Clone(readFamilies)
	for i := range out {
		out[i].Parts = slices.Clone(out[i].Parts)
	}
	return out
}

// Between is the family's circuit with its signal coming in and going out at nodes of
// other names, where they are given.
func (f *Family) Between(in, out string) []Part {
	parts := slices.Clone(f.Parts)
	for i := range parts {
		nodes := slices.Clone(parts[i].Nodes)
		for k, n := range nodes {
			switch {
			case n == "in" && in != "":
				nodes[k] = in
			case n == "out" && out != "":
				nodes[k] = out
			}
		}
		parts[i].Nodes = nodes
	}
	return parts
}
