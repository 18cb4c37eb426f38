package replace

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/sheet"
)

// dividing is a stage that divides by two resistors in one package, with a capacitor in it across the lower.
func dividing(farads string) *sheet.Plan {
	part := func(name string, kind circuit.Kind, a, b, value, in string) circuit.Part {
		return circuit.Part{Name: name, Kind: kind, Nodes: []string{a, b}, Value: value, In: in}
	}
	s := &sheet.Sheet{
		Format: sheet.Format, Version: sheet.Version, Model: "Divider",
		Points: []sheet.Point{{Name: "IN"}, {Name: "OUT"}}, Stages: []sheet.Stage{{Name: "pad", From: "IN", To: "OUT"}},
		Circuits: []sheet.Circuit{{Stage: "pad", Parts: []circuit.Part{
			part("S1", circuit.Signal, "IN", "ground", "", ""),
			part("A1", circuit.Resistor, "IN", "OUT", "12k", "N7"), part("A2", circuit.Resistor, "OUT", "ground", "6k8", "N7"),
			part("A3", circuit.Capacitor, "OUT", "ground", farads, "N7"), part("R9", circuit.Resistor, "OUT", "ground", "1M", "outside"),
		}}},
	}
	plan, _ := s.Plan()
	return plan
}

// What 1 % of a part moves is that of the divider: |G| = |Z2/(R1 + Z2)|, its slope by differences of the closed form.
func TestASealedPackageIsHeldAgainstItsCircuit(t *testing.T) {
	const farads = 4.7e-9
	plan := dividing("4.7n")
	all := Packages(plan)
	if len(all) != 1 || all[0].Name != "N7" || all[0].Inside != "1-2 R; 2-3 R; 2-3 C" || len(all[0].Pins) != 3 ||
		all[0].Pins[2].Node != "ground" {
		t.Fatalf("%+v", all)
	}
	gain := func(r1, r2, c, hz float64) float64 {
		y := complex(1/r2+1e-6, 2*math.Pi*hz*c)
		return 1 / math.Hypot(real(1+complex(r1, 0)*y), imag(complex(r1, 0)*y))
	}
	o, err := Open(plan, "pad", "N7", "1-2 12.1k; 2-3 9.4k; 2-3 4.6n")
	if err != nil {
		t.Fatal(err)
	}
	largest := func(of func(hz float64) float64) (most float64) {
		for _, hz := range leverHz {
			if x := of(hz); math.Abs(x) > math.Abs(most) {
				most = x
			}
		}
		return most
	}
	for i, want := range []float64{
		largest(func(hz float64) float64 { return gain(12e3*1.01, 6.8e3, farads, hz)/gain(12e3, 6.8e3, farads, hz) - 1 }),
		largest(func(hz float64) float64 { return gain(12e3, 6.8e3*1.01, farads, hz)/gain(12e3, 6.8e3, farads, hz) - 1 }),
		largest(func(hz float64) float64 { return gain(12e3, 6.8e3, farads*1.01, hz)/gain(12e3, 6.8e3, farads, hz) - 1 }),
	} {
		var got float64
		text := strings.Replace(strings.TrimPrefix(o.Held[i].Moves, "gain "), "−", "-", 1)
		if _, err := fmt.Sscanf(text, "%f", &got); err != nil || math.Abs(got-100*want) > 0.02 {
			t.Errorf("%s moves %q, and %.3f %% by the divider", o.Held[i].Part, o.Held[i].Moves, 100*want)
		}
	}
	if o.Says != "Bad: A2." || o.Held[0].Stands != "good" || o.Held[1].Stands != "bad" || o.Held[2].Stands != "good" ||
		!strings.HasPrefix(o.Held[1].Keeps, "metal film") || !strings.Contains(o.Rebuild, "A2 6.8kΩ; exact") || len(o.Readings()) != 3 {
		t.Errorf("%+v", o)
	}
	if _, err := listed(o.Rebuild); err != nil {
		t.Errorf("%q cannot be renewed: %v", o.Rebuild, err)
	}
	for _, x := range []struct{ stage, name, readings, says string }{
		{"pad", "N8", "1-2 12k", "no package called N8"}, {"mute", "N7", "1-2 12k", "no package called N7"},
		{"pad", "N7", "1-9 12k", ""}, {"pad", "N7", "", ""},
	} {
		if _, err := Open(plan, x.stage, x.name, x.readings); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%+v: %v", x, err)
		}
	}
}
