package part

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
)

// sweepKind reads a control through its travel, or a switch through its positions.
var sweepKind = Check{Name: "sweep", Title: "Control, switch: swept", Caution: isolated,
	Fields: []Field{
		{Name: "kind", Title: "Kind", Choices: []string{"control", "switch"}, Needed: true},
		resistance("value", "Marked", "50k, of a control", false),
		{
			Name:   "readings",
			Title:  "Readings",
			Hint:   "ohms from one end to the wiper in equal steps, or of each position: 0.4 12k 25k 38k 50k",
			Needed: true,
			text:   true,
		},
		choice("turned", "While it is turned", "smooth", "jumps"),
	},
	judge: sweep}

const maxSweep = 100

func ohmsOf(text string) (out []float64, err error) {
	fields := strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == ';' || r == '\t' || r == '\n' })
	if len(fields) > maxSweep {
		return nil, &BadField{"Readings", fmt.Sprintf("up to %d can be judged", maxSweep)}
	}
	for _, f := range fields {
		if quantity.IsOpen(f) {
			out = append(out, math.Inf(1))
			continue
		}
		v, err := quantity.ParseAs(f, quantity.Ohm)
		if err != nil || v.SI < 0 {
			return nil, &BadField{"Readings", fmt.Sprintf("%q is no resistance", f)}
		}
		out = append(out, v.SI)
	}
	return out, nil
}

// Long: the rules of the check, in the order in which they count.
func sweep(g *given) Verdict {
	readings, err := ohmsOf(g.texts["readings"])
	if err == nil && len(readings) < 2 {
		err = &BadField{"Readings", "two readings and more show a travel"}
	}
	if err != nil {
		g.wrong = err
		return Verdict{}
	}
	if g.texts["kind"] == "switch" {
		out := verdict(Good, "every position connects")
		for i, r := range readings {
			switch {
			case r > 1e3:
				out.worse(Bad, "position %d does not connect", i+1)
			case r > poorOhms:
				out.worse(Bad, "position %d has %s: tarnished", i+1, inOhms(r))
			case r > madeOhms*3:
				out.worse(Unsure, "position %d has %s", i+1, inOhms(r))
			}
		}
		if g.texts["turned"] == "jumps" {
			out.worse(Bad, "it loses contact when it is moved")
		}
		out.surer("move it under a light load in each position, and read again: a good one repeats")
		return out
	}
	out := verdict(Good, "it runs smoothly from %s to %s", inOhms(readings[0]), inOhms(readings[len(readings)-1]))
	rising := readings[len(readings)-1] >= readings[0]
	span := math.Abs(readings[len(readings)-1] - readings[0])
	for i, r := range readings {
		place := fmt.Sprintf("%.0f %% of its travel", 100*float64(i)/float64(len(readings)-1))
		if math.IsInf(r, 1) {
			out.worse(Bad, "its wiper loses its track at %s", place)
			continue
		}
		if i == 0 || math.IsInf(readings[i-1], 1) {
			continue
		}
		step := r - readings[i-1]
		if !rising {
			step = -step
		}
		if step < -0.03*span {
			out.worse(Bad, "it goes back at %s: a dead spot, dirt, or a bent wiper", place)
		}
	}
	if total, ok := g.number("value"); ok {
		most := 0.0
		for _, r := range readings {
			if !math.IsInf(r, 1) {
				most = math.Max(most, r)
			}
		}
		if off := most/total - 1; math.Abs(off) > 0.25 {
			out.worse(Bad, "its track has %s, not %s", inOhms(most), inOhms(total))
		} else {
			out.because("its track has %s of %s", inOhms(most), inOhms(total))
		}
	}
	if g.texts["turned"] == "jumps" {
		out.worse(Bad, "it jumps when it is turned")
	} else if g.texts["turned"] == "" {
		out.limit("between the places read it may still have dead spots")
		out.surer("turn it slowly through, the meter on the wiper, or a DC volt across its ends and a scope on the wiper")
	}
	return out
}

// networkKind judges a sealed network of resistances by what its pins show.
var networkKind = Check{Name: "network", Title: "Network, sealed", Caution: isolated,
	Fields: []Field{
		{Name: "inside", Title: "Inside", Hint: "which pins each resistor joins: 1-2 10k; 2-3 4k7; 3-4 10k", Needed: true, text: true},
		{Name: "readings", Title: "Readings", Hint: "between pins, all else free: 1-2 10k; 1-3 14.6k", Needed: true, text: true},
	},
	judge: network}

const maxNetwork = 40

type between struct {
	a, b string
	ohms string
}

// pairs reads "1-2 10k; 2-3 4k7".
func pairs(field, text string) ([]between, error) {
	var out []between
	for _, x := range strings.Split(text, ";") {
		if x = strings.TrimSpace(x); x == "" {
			continue
		}
		pins, value, ok := strings.Cut(x, " ")
		a, b, two := strings.Cut(pins, "-")
		if !ok || !two || a == "" || b == "" || a == b {
			return nil, &BadField{field, fmt.Sprintf("%q does not read as two pins and a resistance: write 1-2 10k", x)}
		}
		out = append(out, between{a, b, strings.TrimSpace(value)})
	}
	if len(out) == 0 || len(out) > maxNetwork {
		return nil, &BadField{field, fmt.Sprintf("from one to %d pairs can be judged, with ; between", maxNetwork)}
	}
	return out, nil
}

// network puts the resistances into a circuit, and asks which fault explains what the pins
// show.
func network(g *given) Verdict {
	inside, err := pairs("Inside", g.texts["inside"])
	var readings []between
	if err == nil {
		readings, err = pairs("Readings", g.texts["readings"])
	}
	if err != nil {
		g.wrong = err
		return Verdict{}
	}
	first := inside[0].a
	pin := func(name string) string {
		if name == first {
			return circuit.Grounds[0]
		}
		return "pin " + name
	}
	c := &circuit.Circuit{}
	for i, x := range inside {
		c.Parts = append(
			c.Parts,
			circuit.Part{
				Name:  fmt.Sprintf("%s-%s", x.a, x.b),
				Kind:  circuit.Resistor,
				Nodes: []string{pin(x.a), pin(x.b)},
				Value: x.ohms,
			},
		)
		if slices.ContainsFunc(inside[:i], func(y between) bool { return y.a == x.a && y.b == x.b }) {
			g.wrong = &BadField{"Inside", fmt.Sprintf("%s-%s stands there twice", x.a, x.b)}
			return Verdict{}
		}
	}
	var asked []circuit.NodeReading
	for _, x := range readings {
		r := circuit.NodeReading{What: circuit.Ohms, Node: pin(x.a), To: pin(x.b), Value: x.ohms}
		if r.Node == circuit.Grounds[0] {
			r.Node, r.To = r.To, r.Node
		}
		asked = append(asked, r)
	}
	d, problems := c.Diagnose(context.Background(), asked, circuit.Past{})
	if len(problems) > 0 {
		g.wrong = &BadField{problems[0].Where, problems[0].Message}
		return Verdict{}
	}
	best := d.Ranked[0]
	out := verdict(Good, "its pins show what they should")
	out.limit("%d of the pairs of its pins were read", len(readings))
	if len(best.Faults) > 0 {
		out = verdict(Bad, "the resistance from %s", best.String())
		for _, x := range d.AsIf {
			out.because("it reads as if that from %s were %s, not %s", x.Part, x.Value, x.Was)
		}
		for _, other := range d.Ranked[1:] {
			if other.Group == best.Group {
				out.limit("%s cannot be told from it by these pins", other.String())
			}
		}
		out.because("rebuild it from single resistors in the nearest standard values where it cannot be had")
	}
	if !d.Explained {
		out.worse(Unsure, "no single resistance explains these readings")
		out.surer("read every pair of pins, with nothing else connected")
	}
	return out
}
