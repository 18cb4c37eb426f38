package inside

import (
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/part"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/trace"
)

// Judge judges a check of a part where it stands: against what the stage's circuit has
// there, as it is fitted. Where the circuit is not known, or has no such part, by itself. Errors are
// *part.BadField.
func Judge(c trace.Case, stage string, r Record, check *Check) (part.Verdict, error) {
	pc, ok := c.Plan.Circuit(stage)
	if !ok {
		return part.Judge(check.Kind, check.Given)
	}
	return judge(r.fitted(pc).Net, check)
}

// judge judges a check against a net; nil: by itself.
func judge(net *circuit.Net, check *Check) (part.Verdict, error) {
	return part.CheckAt(check.Kind, check.Given, place(net, check.Part))
}

// place is where a part stands; nothing is known of one that the net has not.
func place(net *circuit.Net, name string) part.Place {
	if net == nil {
		return part.Place{}
	}
	f, ok := net.Figures(name)
	if !ok {
		return part.Place{}
	}
	out := part.Place{Kind: string(f.Kind), Value: f.Value, Pulls: f.Pulls}
	if slices.Contains([]circuit.Kind{circuit.Resistor, circuit.Capacitor, circuit.Inductor, circuit.Windings, circuit.Joint}, f.Kind) {
		if ohms, ok := net.Beside(name); ok {
			out.Parallel = ohms
		}
	}
	return out
}

// open is how a meter shows no way for a current.
const open = "open"

// ohmsText writes ohms as they are typed.
func ohmsText(r *reading.Reading) string {
	if r.Word == quantity.Open {
		return open
	}
	return quantity.Value{SI: r.SI, Unit: quantity.Ohm}.String()
}
