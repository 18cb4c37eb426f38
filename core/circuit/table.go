package circuit

import (
	"bytes"
	"embed"
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
	known, also := sortOf(p.Kind), p.also()
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
	p := Part{
		Name:  strings.TrimSpace(name),
		Kind:  Kind(strings.ToLower(strings.TrimSpace(kind))),
		Nodes: []string{},
		Value: strings.TrimSpace(value),
		In:    strings.TrimSpace(in),
	}
	if strings.TrimSpace(nodes) != "" {
		for _, n := range strings.Split(nodes, ";") {
			p.Nodes = append(p.Nodes, strings.TrimSpace(n))
		}
	}
	known := sortOf(p.Kind)
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

// familyFiles are the families as tables, one a file, in the order they are offered: the name,
// the headings, and a row a part. Values are round ones for a stage of its kind.
//
//go:embed families/*.csv
var familyFiles embed.FS

var readFamilies = func() []Family {
	entries, err := familyFiles.ReadDir("families")
	if err != nil {
		panic(fmt.Sprintf("families: %v", err)) // they are part of the program, and tested
	}
	var out []Family
	for _, e := range entries {
		data, err := familyFiles.ReadFile("families/" + e.Name())
		if err != nil {
			panic(fmt.Sprintf("families: %v", err))
		}
		f, err := readFamily(data)
		if err != nil {
			panic(fmt.Sprintf("family %s: %v", e.Name(), err))
		}
		out = append(out, f)
	}
	return out
}()

// familyColumns are the headings of a family's table.
var familyColumns = []string{"part", "kind", "nodes", "value", "also", "in"}

func readFamily(data []byte) (f Family, err error) {
	r := csv.NewReader(bytes.NewReader(data))
	r.FieldsPerRecord = -1
	rows, err := r.ReadAll()
	if err != nil {
		return f, err
	}
	if len(rows) < 3 || len(rows[0]) != 2 || !slices.Equal(rows[1], familyColumns) {
		return f, fmt.Errorf("it begins with its name, then %s", strings.Join(familyColumns, ", "))
	}
	f.Name = rows[0][1]
	for _, row := range rows[2:] {
		if len(row) != len(familyColumns) {
			return f, fmt.Errorf("%q has %d cells, not %d", row[0], len(row), len(familyColumns))
		}
		f.Parts = append(f.Parts, PartOf(row[0], row[1], row[2], row[3], row[4], row[5]))
	}
	return f, nil
}

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
