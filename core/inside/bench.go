package inside

import (
	"context"
	"fmt"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// looking is a stage being looked at.
type looking struct {
	ctx context.Context // of who asks
	trace.Case
	plan  *sheet.PlanCircuit
	stage string

	circuit  *circuit.Circuit // with its supplies as they were measured
	net      *circuit.Net
	rest     *circuit.Rest
	standing map[string]circuit.Standing
}

// node is the circuit's node that a name of the sheet is.
func (l *looking) node(name string) (string, bool) { return l.Plan.NodeIn(l.plan, name) }

// ends are the nodes at which the stage's signal comes in and goes out.
func (l *looking) ends() (in, out string, gainDB float64, known, ok bool) {
	for i := range l.Plan.Stages {
		s := &l.Plan.Stages[i]
		if s.Name != l.stage || s.From < 0 || s.To < 0 {
			continue
		}
		a, okA := l.node(l.Plan.Points[s.From].Name)
		b, okB := l.node(l.Plan.Points[s.To].Name)
		return a, b, s.GainDB, s.GainKnown, okA && okB
	}
	return "", "", 0, false, false
}

// readings are those that count in this circuit, the last of each place: what was read at
// its nodes at the bench, and what was taken in it.
//
// Long: a case for each quantity that the bench reads.
func (l *looking) readings(bench []reading.Reading, own []Entry) []Read {
	out := []Read{}
	put := func(r Read) {
		same := func(x Read) bool {
			return x.What == r.What && x.Node == r.Node && x.To == r.To && x.Part == r.Part && x.From == r.From && x.Hz == r.Hz
		}
		out = append(slices.DeleteFunc(out, same), r)
	}
	si := func(x float64, unit quantity.Unit) string { return quantity.Value{SI: x, Unit: unit}.String() }
	signal := l.plan.Net.Signals()
	for i := range bench {
		r := &bench[i]
		if r.Struck || r.Word != "" && r.Word != quantity.Distorted && r.Word != quantity.Open || len(r.Without) > 0 || r.Worked {
			continue
		}
		if k := slices.IndexFunc(l.plan.Parts, func(p circuit.Part) bool { return p.Name == r.Point }); k >= 0 &&
			r.Quantity == sheet.Resistance { // a fuse
			put(
				Read{
					NodeReading: circuit.NodeReading{What: circuit.Alone, Part: r.Point, Value: ohmsText(r)},
					ID:          r.ID,
					Bench:       true,
					At:          r.Taken,
				},
			)
			continue
		}
		node, ok := l.node(r.Point)
		if !ok {
			continue
		}
		read := Read{NodeReading: circuit.NodeReading{Node: node}, ID: r.ID, Bench: true, At: r.Taken}
		if r.Word == quantity.Distorted {
			if l.distorted(r, &read) {
				put(read)
			}
			continue
		}
		_, rail := l.Plan.RailIndex(r.Point)
		switch {
		case r.Quantity == sheet.DC && r.Power != reading.PowerOff:
			read.What, read.Value = circuit.DC, si(r.SI, quantity.Volt)
		case r.Quantity == sheet.Resistance && !r.Power.Live():
			read.What, read.Value = circuit.Ohms, ohmsText(r)
		case r.Quantity == sheet.Frequency && !signal:
			read.What, read.Value = circuit.Frequency, si(r.SI, quantity.Hertz)
		case r.Quantity == sheet.AC && (rail && l.plan.Net.Alternates() || r.Form == quantity.PeakPeak && l.plan.Net.Runs()):
			pp, err := quantity.Sine.Convert(r.SI, r.Form, quantity.PeakPeak)
			if err != nil {
				continue
			}
			read.What, read.Value = circuit.Ripple, si(pp, quantity.Volt)
		case r.Quantity == sheet.AC && signal:
			gain, from, hz, ok := l.gain(bench, r, node)
			if !ok {
				continue
			}
			read.What, read.From, read.Hz, read.Value = circuit.Gain, from, si(hz, quantity.Hertz), fmt.Sprintf("%.6g", gain)
			read.Error = "5 %" // of two readings
		default:
			continue
		}
		put(read)
	}
	for _, e := range own {
		if e.Reading != nil && !e.Struck && l.plan.Net.CheckReading(*e.Reading) == nil {
			put(Read{NodeReading: *e.Reading, ID: e.ID, At: e.At})
		}
	}
	return out
}

// distorted is a signal that was heard or seen bent, where it is known what comes in.
func (l *looking) distorted(r *reading.Reading, read *Read) bool {
	in, _, _, _, ok := l.ends()
	if !ok || read.Node == in || !l.plan.Net.Signals() {
		return false
	}
	due, _, ok := l.Due(reading.Reading{Point: in, Mode: r.Mode, Injected: r.Injected, Instrument: r.Instrument})
	if !ok || due.Hz <= 0 {
		return false
	}
	read.What, read.Value = circuit.Shape, circuit.Distorted
	read.Hz, read.Drive = quantity.Value{
		SI:   due.Hz,
		Unit: quantity.Hertz,
	}.String(), quantity.Value{
		SI:   due.RMS,
		Unit: quantity.Volt,
	}.String()
	return true
}

// gain is that from the stage's entry to a node, of a level that was read there: over what was
// read at the entry under the same conditions, or else over what is due there.
func (l *looking) gain(bench []reading.Reading, r *reading.Reading, node string) (gain float64, from string, hz float64, ok bool) {
	in, _, _, _, ok := l.ends()
	if !ok || node == in {
		return 0, "", 0, false
	}
	rms := func(r *reading.Reading) float64 {
		x, err := quantity.Sine.Convert(r.SI, r.Form, quantity.RMS)
		if err != nil {
			return 0
		}
		return x
	}
	entry := 0.0
	for i := range bench {
		b := &bench[i]
		at, ok := l.node(b.Point)
		if ok && at == in && b.Quantity == sheet.AC && !b.Struck && b.Word == "" && b.Mode == r.Mode &&
			alikeInjection(b.Injected, r.Injected) {
			entry = rms(b)
		}
	}
	ask := reading.Reading{Point: in, Mode: r.Mode, Injected: r.Injected, Instrument: r.Instrument}
	due, _, known := l.Due(ask)
	if known {
		hz = due.Hz
	}
	if r.Injected != nil && r.Injected.Hz > 0 {
		hz = r.Injected.Hz
	}
	if hz == 0 {
		hz = usualHz
	}
	if entry == 0 && known {
		entry = due.RMS
	}
	if entry <= 0 {
		return 0, "", 0, false
	}
	return rms(r) / entry, in, hz, true
}

const usualHz = 1000.0

func alikeInjection(a, b *reading.Injection) bool {
	if a == nil || b == nil {
		return a == b
	}
	return *a == *b
}
