package circuit

import (
	"encoding/csv"
	"fmt"
	"slices"
	"strings"
)

// A circuit can be typed as a table, a row a part: its terminals' nodes and its other
// values with ; between ("out; base; emitter", "bf=250; vaf=80"). The families are kept so.

// NodesText writes a part's nodes in one cell.
func (p *Part) NodesText() string { return strings.Join(p.Nodes, "; ") }

// AlsoText writes a part's other values in one cell, in the order of its kind.
func (p *Part) AlsoText() string {
	var out []string
	for _, f := range sorts[p.Kind].fields {
		if x, ok := p.Also[f.name]; ok && f.name != "" {
			out = append(out, f.name+"="+x)
		}
	}
	var strange []string // kept, for Read to name
	for name, x := range p.Also {
		if !slices.ContainsFunc(sorts[p.Kind].fields, func(f field) bool { return f.name == name && name != "" }) {
			strange = append(strange, name+"="+x)
		}
	}
	slices.Sort(strange)
	return strings.Join(append(out, strange...), "; ")
}

// PartOf makes a part of the cells of its row. It does not judge: Read does.
func PartOf(name, kind, nodes, value, also, in string) Part {
	p := Part{Name: strings.TrimSpace(name), Kind: Kind(strings.ToLower(strings.TrimSpace(kind))), Nodes: []string{}, Value: strings.TrimSpace(value), In: strings.TrimSpace(in)}
	if strings.TrimSpace(nodes) != "" {
		for _, n := range strings.Split(nodes, ";") {
			p.Nodes = append(p.Nodes, strings.TrimSpace(n))
		}
	}
	for _, x := range strings.Split(also, ";") {
		if strings.TrimSpace(x) == "" {
			continue
		}
		if p.Also == nil {
			p.Also = map[string]string{}
		}
		key, text, _ := strings.Cut(x, "=")
		p.Also[strings.TrimSpace(key)] = strings.TrimSpace(text)
	}
	return p
}

// Kinds describes the kinds of part, for a hint beside a table.
func Kinds() []string {
	var out []string
	for k, s := range sorts {
		text := string(k) + ": " + strings.Join(s.terminals, ", ")
		var more []string
		for _, f := range s.fields {
			if f.name != "" {
				more = append(more, f.name)
			}
		}
		if len(more) > 0 {
			text += " (" + strings.Join(more, ", ") + ")"
		}
		out = append(out, text)
	}
	slices.Sort(out)
	return out
}

// Terminals names a kind's terminals, in their order.
func (k Kind) Terminals() []string { return sorts[k].terminals }

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
