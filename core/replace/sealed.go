package replace

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/mend"
	"steptrace/core/network"
	"steptrace/core/part"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/substitute"
)

// Package is several resistors and capacitors in one body, as a stage's circuit has it: what is inside as core/network
// understands it, between pins that are numbered as the circuit names them.
type Package struct {
	Name   string `json:"name"`
	Stage  string `json:"stage"`
	Inside string `json:"inside"`
	Pins   []Pin  `json:"pins"`
	// Parts are those of the circuit, in the order of what is inside.
	Parts []string `json:"parts"`
}

// Pin is a pin of a package, and the node it stands at.
type Pin struct {
	Pin  string `json:"pin"`
	Node string `json:"node"`
}

// Packages lists the sealed packages of a sheet's circuits.
func Packages(p *sheet.Plan) []Package {
	out := []Package{}
	for i := range p.Circuits {
		pc := &p.Circuits[i]
		if pc.Net == nil {
			continue
		}
		var names []string
		for k := range pc.Parts {
			if in := pc.Parts[k].In; in != "" && in != circuit.Outside && !slices.Contains(names, in) {
				names = append(names, in)
			}
		}
		for _, name := range names {
			if x := packageOf(pc, name); len(x.Parts) > 1 {
				out = append(out, x)
			}
		}
	}
	return out
}

// packageOf is one package. A node that only its own parts have, and that is no point of the sheet, is inside of it.
func packageOf(pc *sheet.PlanCircuit, name string) Package {
	out := Package{Name: name, Stage: pc.Stage, Pins: []Pin{}, Parts: []string{}}
	called := map[string]string{}
	within := func(node string) bool {
		return !slices.ContainsFunc(pc.Parts, func(p circuit.Part) bool { return p.In != name && slices.Contains(p.Nodes, node) })
	}
	var inside []string
	for i := range pc.Parts {
		p := &pc.Parts[i]
		letter := map[circuit.Kind]string{circuit.Resistor: "R", circuit.Capacitor: "C"}[p.Kind]
		if p.In != name || letter == "" {
			continue
		}
		for _, node := range p.Nodes {
			switch {
			case called[node] != "":
			case within(node) && !strings.Contains(node, "pin"): // one that nothing is soldered to is named as a pin
				called[node] = string(rune('a' + len(called) - len(out.Pins)))
			default:
				called[node] = fmt.Sprint(len(out.Pins) + 1)
				at := node
				if slices.Contains(circuit.Grounds, node) {
					at = circuit.Grounds[0]
				}
				out.Pins = append(out.Pins, Pin{called[node], at})
			}
		}
		inside = append(inside, called[p.Nodes[0]]+"-"+called[p.Nodes[1]]+" "+letter)
		out.Parts = append(out.Parts, p.Name)
	}
	out.Inside = strings.Join(inside, "; ")
	return out
}

// Held is a part of a package held against what belongs there.
type Held struct {
	Part   string         `json:"part"` // of the circuit
	Due    string         `json:"due"`  // what belongs there
	Stands part.Judgement `json:"stands" jsonschema:"enum=good,enum=bad,enum=not sure"`
	Says   string         `json:"says"`
	// Moves is what 1 % of it moves at the circuit's exit; empty where it moves nothing there.
	Moves string `json:"moves"`
	// Keeps is of what kind it is built, where a time, a frequency or a gain hangs on it; empty where any will do.
	Keeps string `json:"keeps"`
	// Made is how each way to make it would move the exit, in their order.
	Made []string `json:"made"`

	duty string // in the list of what is renewed
}

// Opened is what a package holds, and how that stands.
type Opened struct {
	network.Result
	Held []Held `json:"held"`
	Says string `json:"says"`
	// Rebuild is the list of parts to be renewed that it comes to.
	Rebuild string `json:"rebuild"`
}

// How far a part of a package may be off what belongs there (networks are sold to 10 %, capacitors in them to 20), and what a
// value has to move for a part that keeps it: 0.3 % for 1 %.
const (
	networkOhms, networkFarads = 0.1, 0.2
	movesMuch                  = 0.3
)

// Open finds what a package holds from what was read between its pins, and holds it against its circuit. Errors can be mended by a
// person.
func Open(p *sheet.Plan, stage, name, readings string) (Opened, error) {
	all := Packages(p)
	i := slices.IndexFunc(all, func(x Package) bool { return x.Name == name && x.Stage == stage })
	if i < 0 {
		return Opened{}, mend.Errorf("the circuit of %s has no package called %s", stage, name)
	}
	found, err := network.Find(all[i].Inside, readings)
	if err != nil {
		return Opened{}, err
	}
	pc, _ := p.Circuit(stage)
	about := About{Plan: p}
	out := Opened{Result: found, Held: []Held{}}
	var bad, rebuild []string
	for k, name := range all[i].Parts {
		h := about.held(pc, name, &found.Parts[k])
		if h.Stands == part.Bad {
			bad = append(bad, name)
		}
		out.Held = append(out.Held, h)
		line := name + " " + strings.ReplaceAll(h.Due, " ", "")
		if h.duty != "" {
			line += "; " + h.duty
		}
		rebuild = append(rebuild, line)
	}
	switch {
	case len(bad) > 0:
		out.Says = "Bad: " + enumerated(bad) + "."
	case found.Open():
		out.Says = found.Says
	default:
		out.Says = "All of it is as it belongs there."
	}
	out.Rebuild = strings.Join(rebuild, "\n")
	return out, nil
}

// Readings are what a package tells of the parts of its circuit, each by itself.
func (o *Opened) Readings() []circuit.NodeReading {
	var out []circuit.NodeReading
	for i, h := range o.Held {
		if o.Parts[i].Told {
			out = append(out, circuit.NodeReading{What: circuit.Alone, Part: h.Part, Value: o.Parts[i].Value})
		}
	}
	return out
}

// held holds one part against what belongs in its place.
func (a *About) held(pc *sheet.PlanCircuit, name string, f *network.Found) Held {
	h := Held{Part: name, Stands: part.Unsure, Says: "its readings do not tell it", Made: []string{}}
	figures, _ := pc.Net.Figures(name)
	unit, most := quantity.Ohm, networkOhms
	if figures.Kind == circuit.Capacitor {
		unit, most = quantity.Farad, networkFarads
	}
	h.Due = quantity.Value{SI: figures.Value, Unit: unit}.String()
	f.Made = network.Ways(figures.Value, unit == quantity.Farad) // it is built as it belongs there, not as it was found
	if f.Told {
		off := f.SI/figures.Value - 1
		h.Says = quantity.SignedPercent(off) + " of what belongs there"
		switch spread := 2 * f.Off; {
		case math.Abs(off) <= most:
			h.Stands = part.Good
		case math.Abs(off) > most+spread:
			h.Stands = part.Bad
		}
	}
	l, ok := a.lever(pc, name)
	if !ok {
		return h
	}
	h.Moves = levers[l.What] + " " + l.moves(0.01)
	for _, m := range f.Made {
		h.Made = append(h.Made, l.moves(m.Error))
	}
	if l.What == circuit.Frequency || math.Abs(l.By) > movesMuch {
		h.Keeps, h.duty = "metal film, which keeps its value when it is warm", "exact"
		if unit == quantity.Farad {
			h.Keeps, h.duty = "film or C0G, which keeps its value when it is warm", string(substitute.Timing)
		}
	}
	return h
}
