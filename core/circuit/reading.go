package circuit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
)

// What is read in a circuit.
type What string

// The readings: DC volts; the gain from the signal source to a node; ripple, peak to
// peak; the frequency at which the circuit swings; the share of a turn in which a node is high; resistance with the power off; the value
// of a part alone, one leg lifted; whether a part was found good or bad by itself; the shape of
// a sine that drives the circuit.
const (
	DC        What = "dc"
	Gain      What = "gain"
	Ripple    What = "ripple"
	Frequency What = "frequency"
	Duty      What = "duty"
	Ohms      What = "ohms"
	Shape     What = "shape"
	Alone     What = "alone"
	Checked   What = "checked"
)

// Whats lists them.
var Whats = []What{DC, Gain, Ripple, Frequency, Duty, Ohms, Shape, Alone, Checked}

// Words implements exchange.Enumerated.
func (What) Words() []string { return exchange.WordsOf(Whats) }

// NodeReading is what was read, as typed: at a node against ground or another node (to), or of
// a part. A gain is a number or in dB, at Hz, from a node (none: the signal source). Error is
// the meter's, as a share ("2 %").
type NodeReading struct {
	What  What   `json:"what"`
	Node  string `json:"node,omitempty"`
	To    string `json:"to,omitempty"`
	From  string `json:"from,omitempty"`
	Part  string `json:"part,omitempty"`
	Hz    string `json:"hz,omitempty"`
	Drive string `json:"drive,omitempty"` // of a shape: volts rms at the entry
	Value string `json:"value"`
	Error string `json:"error,omitempty"`
}

// Readable is what can be read at a node of a net.
func (n *Net) Readable() []What {
	out := []What{DC}
	switch {
	case n.Signals():
		out = append(out, Gain, Shape)
	case !n.Alternates():
		out = append(out, Frequency)
	}
	if n.goesOn() || n.switches() != nil {
		out = append(out, Ripple)
	}
	if n.Runs() {
		out = append(out, Duty)
	}
	return append(out, Ohms)
}

// Good and Bad are what a checked part is found to be.
const Good, Bad = "good", "bad"

// look is a reading with its numbers.
type look struct {
	what     What
	node, to int
	from     int // of a gain; ground: the signal source
	part     int
	hz       float64
	peak     float64 // of a shape: at the source
	value    float64
	error    float64
	floor    float64 // of its noise; 0: as usual
	at       float64 // value on the scale on which it is weighed
}

// looks reads readings; what cannot be is a problem that names the reading and the node.
func (n *Net) looks(readings []NodeReading) (out []look, problems []Problem) {
	for i := range readings {
		l, err := n.look(&readings[i])
		if err != nil {
			problems = append(problems, Problem{fmt.Sprintf("reading %d", i+1), err.Error()})
		}
		out = append(out, l)
	}
	return out, problems
}

var units = map[What]quantity.Unit{
	DC:        quantity.Volt,
	Ripple:    quantity.Volt,
	Frequency: quantity.Hertz,
	Duty:      quantity.Ratio,
	Ohms:      quantity.Ohm,
}

// Long: what may be wrong with a reading, one thing after the other.
func (n *Net) look(r *NodeReading) (l look, err error) {
	l = look{what: r.What, to: ground, from: n.entry, part: -1, error: usualError}
	if strings.TrimSpace(r.Error) != "" {
		t, err := quantity.ParseTolerance(r.Error, quantity.Ratio)
		if err != nil || t.Unit != quantity.Ratio {
			return l, fmt.Errorf("%q is no error of a meter: write for example 2 %%", r.Error)
		}
		l.error = max(l.error, t.High)
	}
	if r.What == Alone || r.What == Checked {
		if l.part = slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == r.Part }); l.part < 0 {
			return l, fmt.Errorf("the circuit has no part %q", r.Part)
		}
	} else {
		for _, at := range []struct {
			name string
			node *int
		}{{r.Node, &l.node}, {r.To, &l.to}, {r.From, &l.from}} {
			if at.name == "" && at.node != &l.node {
				continue
			}
			k, ok := n.node(strings.TrimSpace(at.name))
			if !ok {
				return l, fmt.Errorf("the circuit has no node %q", at.name)
			}
			*at.node = k
		}
		if l.node == l.to {
			return l, fmt.Errorf("it is read from %s to itself", r.Node)
		}
	}
	unit, text := units[r.What], strings.ToLower(strings.TrimSpace(r.Value))
	switch r.What {
	case Checked:
		if text != Good && text != Bad {
			return l, fmt.Errorf("a checked part is good or bad, not %q", r.Value)
		}
		if text == Bad {
			l.value = 1
		}
		return l, nil
	case Alone:
		if !Valued(n.parts[l.part].Kind) {
			return l, fmt.Errorf("%s has no value of its own to be read", r.Part)
		}
		unit = sortOf(n.parts[l.part].Kind).fields[0].unit
	case Gain, Shape:
		if strings.TrimSpace(r.Hz) == "" {
			return l, fmt.Errorf("say at which frequency the %s was read", r.What)
		}
		hz, err := quantity.ParseAs(r.Hz, quantity.Hertz)
		if err != nil || !(hz.SI > 0 && hz.SI < 1e12) {
			return l, fmt.Errorf("%q is no frequency above zero: write for example 1 kHz", r.Hz)
		}
		l.hz = hz.SI
		if r.What == Shape {
			return l, n.lookShape(r, &l)
		}
		if text != "none" {
			l.value, err = GainOf(r.Value)
			return l, err
		}
	case DC, Ripple, Frequency, Duty, Ohms:
	default:
		return l, fmt.Errorf("%q is nothing that is read in a circuit", string(r.What))
	}
	switch {
	case (r.What == Ohms || r.What == Alone && unit == quantity.Ohm) && quantity.IsOpen(text):
		l.value = math.Inf(1)
	case (r.What == Frequency || r.What == Gain || r.What == Ripple || r.What == Duty) && text == "none":
		l.value = 0
	default:
		v, err := quantity.ParseAs(r.Value, unit)
		if err != nil {
			return l, err
		}
		l.value = v.SI
		if v.SI < 0 && r.What != DC {
			return l, fmt.Errorf("%s is below zero", r.Value)
		}
		if r.What == Duty && v.SI > 1 {
			return l, fmt.Errorf("a duty of %s is more than all of the time", r.Value)
		}
		if math.Abs(v.SI) > most {
			return l, fmt.Errorf("%s cannot be", r.Value)
		}
	}
	return l, nil
}

// text writes what a reading shows, as it could be typed.
func (l *look) text(x float64, parts []Part) string {
	unit := units[l.what]
	switch l.what {
	case Checked:
		return map[bool]string{true: Bad, false: Good}[x > 0.5]
	case Shape:
		return Shapes[int(x)]
	case Gain:
		if x <= leastGain {
			return "none"
		}
		return quantity.SignedDB(quantity.DB(x, 1))
	case Alone:
		unit = sortOf(parts[l.part].Kind).fields[0].unit
		if unit == quantity.Farad {
			return quantity.Capacitance(x)
		}
		if unit == quantity.Ohm && x >= openAlone {
			return "open"
		}
	case Ohms:
		if x >= mostOhms {
			return "open"
		}
	case DC, Ripple:
		if math.Abs(x) < leastShown {
			x = 0
		}
	}
	return quantity.Value{SI: x, Unit: unit}.Short(4)
}

// leastShown is what is written as no volts at all.
const leastShown = 1e-6

// CheckReading tells what is wrong with a reading in this circuit; nil where nothing is.
func (n *Net) CheckReading(r NodeReading) error {
	_, err := n.look(&r)
	return err
}

// GainOf reads a gain as typed, a number or in dB, as V/V.
func GainOf(text string) (float64, error) {
	if strings.HasSuffix(strings.ToLower(strings.TrimSpace(text)), "db") {
		db, err := quantity.ParseGain(text)
		return quantity.Times(db), err
	}
	v, err := quantity.ParseAs(text, quantity.None)
	if err == nil && !(v.SI >= 0 && v.SI <= most) {
		return 0, fmt.Errorf("a gain of %s cannot be", text)
	}
	return v.SI, err
}
