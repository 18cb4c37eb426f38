package replace

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/repair"
	"steptrace/core/sheet"
)

// subjects lists the parts that are to be replaced: those condemned inside stages, and those that were named.
func (a *About) subjects() []Part {
	var out []Part
	at := func(part string) int { return slices.IndexFunc(out, func(p Part) bool { return p.Part == part }) }
	for _, e := range a.Inside {
		if e.Condemned == nil || e.Struck {
			continue
		}
		p := Part{Part: e.Condemned.Part, Stage: e.Stage, What: e.Condemned.What, Condemned: true}
		if i := at(p.Part); i >= 0 {
			out[i] = p
		} else {
			out = append(out, p)
		}
	}
	for _, e := range a.Entries {
		switch {
		case e.Struck:
		case e.Subject != nil:
			s := e.Subject
			i := at(s.Part)
			switch {
			case s.Dropped && i >= 0:
				out = slices.Delete(out, i, i+1)
				continue
			case s.Dropped:
				continue
			case i < 0:
				out = append(out, Part{Part: s.Part})
				i = len(out) - 1
			}
			p := &out[i]
			p.Stage, p.Was, p.Duty = cmp.Or(s.Stage, p.Stage), cmp.Or(s.Was, p.Was), cmp.Or(s.Duty, p.Duty)
		case e.List != "":
			list, _ := lines(e.List) // it was checked when it was taken
			for _, s := range list {
				if at(s.Part) < 0 {
					out = append(out, Part{Part: s.Part, Was: s.Was, Duty: s.Duty, Listed: true})
				}
			}
		case e.Chosen != nil:
			if i := at(e.Chosen.Part); i >= 0 {
				out[i].New, out[i].Chosen = e.Chosen.New, e.Chosen
				out[i].Fitted = a.fitted(e.Chosen, e.At)
			}
		}
	}
	for i := range out {
		p := &out[i]
		p.Beside, p.Tests = []Beside{}, []Test{}
		if p.Stage == "" {
			p.Stage = a.stageOf(p.Part)
		}
		if c := a.inCircuit(p); c != nil {
			p.Was = cmp.Or(p.Was, wasOf(c))
			p.Sort = sortOf(c.Kind)
		}
	}
	return out
}

// fitted tells whether a repair noted later put it in.
func (a *About) fitted(c *Chosen, at time.Time) bool {
	return slices.ContainsFunc(a.Repairs, func(e repair.Entry) bool {
		return e.Repair != nil && !e.Struck && e.At.After(at) &&
			slices.ContainsFunc(e.Repair.Parts, func(p repair.Part) bool { return p.Name == c.Part && p.Fitted == c.New })
	})
}

// stageOf is the only stage whose circuit has a part of a name; empty where none has, or several.
func (a *About) stageOf(part string) string {
	out, count := "", 0
	for i := range a.Plan.Circuits {
		c := &a.Plan.Circuits[i]
		if c.Net != nil && slices.ContainsFunc(c.Circuit.Parts, func(p circuit.Part) bool { return p.Name == part && p.There() }) {
			out, count = c.Stage, count+1
		}
	}
	if count != 1 {
		return ""
	}
	return out
}

func (a *About) circuit(p *Part) *sheet.PlanCircuit {
	if pc, ok := a.Plan.Circuit(p.Stage); ok {
		return pc
	}
	return nil
}

// inCircuit is a part as its stage's circuit has it; nil where it has none.
func (a *About) inCircuit(p *Part) *circuit.Part {
	pc := a.circuit(p)
	if pc == nil {
		return nil
	}
	i := slices.IndexFunc(pc.Circuit.Parts, func(c circuit.Part) bool { return c.Name == p.Part })
	if i < 0 {
		return nil
	}
	return &pc.Circuit.Parts[i]
}

// wasOf is what a circuit says was there.
func wasOf(c *circuit.Part) string {
	if t := c.TypeOf(); t != "" {
		return t
	}
	switch c.Kind {
	case circuit.Capacitor, circuit.Resistor:
		rated := ""
		if w := c.Also["rated"]; w != "" {
			rated = " " + w
		}
		return c.Value + rated
	}
	return ""
}

func sortOf(k circuit.Kind) Sort {
	switch {
	case k == circuit.Capacitor:
		return Capacitor
	case k == circuit.Resistor:
		return Resistor
	case circuit.HasTypes(k):
		return Typed
	}
	return Unknown
}

// dutyOf is what a part has to do: what its circuit shows, and what was said of it, which goes before.
func (a *About) dutyOf(p *Part) (Duty, []Bar) {
	d, _ := DutyOf(p.Duty) // it was checked when it was taken
	bars := []Bar{}
	pc := a.circuit(p)
	if pc == nil {
		return d, bars
	}
	rest := a.rest(pc)
	if rest == nil {
		return d, bars
	}
	i := slices.IndexFunc(rest.Parts, func(r circuit.PartRest) bool { return r.Name == p.Part })
	if i < 0 {
		return d, bars
	}
	r := &rest.Parts[i]
	span := spanOf(rest)
	if p.Sort == Typed && span > 0 {
		what := "between its supplies"
		// Behind a winding, pulses or a coil there is more than the supplies have.
		if swings, ok := pc.Net.Bears(p.Part); ok && swings > span {
			what, span = "across it at most", swings
		}
		bars = append(bars, Bar{what, quantity.Rounded(span, quantity.Volt)})
		if d.Volts == 0 {
			d.Volts = span
		}
	}
	if p.Sort != Typed {
		bars = append(bars, Bar{"across it at rest", quantity.Rounded(math.Abs(r.Volts), quantity.Volt)})
		if d.Volts == 0 && p.Sort == Capacitor {
			d.Volts = math.Abs(r.Volts)
		}
	}
	if r.Watts > 1e-4 {
		bars = append(bars, Bar{"heat at rest", quantity.Rounded(r.Watts, quantity.Watt)})
		if d.Watts == 0 && p.Sort == Resistor {
			d.Watts = r.Watts
		}
	}
	if l, ok := a.lever(pc, p.Part); ok && p.Sort != Typed {
		bars = append(bars, Bar{"1 % of it moves the " + levers[l.What], "by " + l.moves(0.01)})
	}
	return d, bars
}

// levers are the words for what a value moves, and leverHz the frequencies at which a gain is looked at: the ends of the sound's
// range and what lies between them.
var (
	levers  = map[circuit.What]string{circuit.Frequency: "frequency", circuit.Gain: "gain", circuit.DC: "volts at its exit"}
	leverHz = []float64{1000, 60, 300, 4000, 15000}
)

// lever is what a part's value moves, and at which frequency most, where it is a gain.
type lever struct {
	circuit.Leverage
	hz float64
}

// moves says by how much a small share of the value moves it.
func (l *lever) moves(share float64) string {
	by := strings.Replace(fmt.Sprintf("%+.2f %%", 100*share*l.By), "-", "−", 1)
	if math.Abs(share*l.By) < 5e-5 {
		return "0 %"
	}
	if l.What == circuit.Gain {
		by += " at " + quantity.Rounded(l.hz, quantity.Hertz)
	}
	return by
}

// lever is what a part's value moves at its circuit's exit; ok is false where it moves nothing there.
func (a *About) lever(pc *sheet.PlanCircuit, part string) (l lever, ok bool) {
	for _, hz := range leverHz {
		at, moves := pc.Net.Leverage(part, a.exit(pc), hz)
		if moves && (!ok || math.Abs(at.By) > math.Abs(l.By)) {
			l, ok = lever{at, hz}, true
		}
		if moves && at.What != circuit.Gain {
			break
		}
	}
	return l, ok
}

// exit is the node at which a stage's circuit gives its signal, or a rail its volts; empty where it has none.
func (a *About) exit(pc *sheet.PlanCircuit) string {
	name := pc.Stage
	for i := range a.Plan.Stages {
		if s := &a.Plan.Stages[i]; s.Name == pc.Stage && s.To >= 0 {
			name = a.Plan.Points[s.To].Name
		}
	}
	node, _ := a.Plan.NodeIn(pc, name)
	return node
}

// rest is a circuit at rest; nil where it comes to none.
func (a *About) rest(pc *sheet.PlanCircuit) *circuit.Rest {
	rest, known := a.rests[pc]
	if !known {
		_, rest, _ = pc.Net.Standing() // the sheet and the stage's own screen tell what is wrong with it
		if a.rests == nil {
			a.rests = map[*sheet.PlanCircuit]*circuit.Rest{}
		}
		a.rests[pc] = rest
	}
	return rest
}
