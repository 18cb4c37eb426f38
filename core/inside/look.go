package inside

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/part"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// View is what there is to see inside a stage.
type View struct {
	Stage    string            `json:"stage"`
	Says     string            `json:"says"`    // one sentence: what it most probably is
	Circuit  bool              `json:"circuit"` // it has one that stands
	Entry    string            `json:"entry"`   // the node that gains are told from; empty: the signal source
	Problems []circuit.Problem `json:"problems"`
	Figure   circuit.Figure    `json:"figure"`
	Nodes    []Node            `json:"nodes"` // beside the figure's lines
	Parts    []Part            `json:"parts"`
	Readable []circuit.What    `json:"readable"` // at a node
	Gain     *Gain             `json:"gain,omitempty"`
	Readings []Read            `json:"readings"`
	// Diagnosis is what may be wrong, by the readings.
	Diagnosis *circuit.Diagnosis `json:"diagnosis,omitempty"`
	// Doubt tells where the manual and the circuit disagree.
	Doubt   *Doubt    `json:"doubt,omitempty"`
	Follows []Follows `json:"follows"`
	Entries []Noted   `json:"entries"`
	// Grounds are those on which parts could be condemned, the weightiest first; Bench are the
	// bench's against the stage, which go with each.
	Grounds []Ground `json:"grounds"`
	Bench   []string `json:"bench"`
	// Condemned is the part at fault, as it was said last.
	Condemned *Condemned `json:"condemned,omitempty"`
	// Renewed are the parts that repairs were done to.
	Renewed []string `json:"renewed"`
}

// Node is what stands at a node, in volts: computed, by the manual, as measured last.
type Node struct {
	Node     string   `json:"node"`
	Computed float64  `json:"computed"`
	Within   float64  `json:"within"` // how far a good one may be off
	Manual   *float64 `json:"manual,omitempty"`
	Measured *float64 `json:"measured,omitempty"`
	Off      bool     `json:"off,omitempty"` // what is measured is out of that
}

// Part is a part of the stage, with what it carries when all is well.
type Part struct {
	circuit.PartRest
	Kind    circuit.Kind   `json:"kind"`
	Value   string         `json:"value"`
	In      string         `json:"in,omitempty"`
	Weight  float64        `json:"weight"`            // of the faults that are its own
	Checked part.Judgement `json:"checked,omitempty"` // by its last check
	// Condemned: it was said to be at fault.
	Condemned bool   `json:"condemned,omitempty"`
	TooWarm   bool   `json:"tooWarm,omitempty"` // more heat than it may
	CheckFor  string `json:"checkFor"`          // the kind of check that fits it
	// Valued: its value can be read of it alone. Bias names the leg that PartRest's Bias is at.
	Valued bool   `json:"valued"`
	BiasAt string `json:"biasAt"`
	// Parallel is what else connects a resistor's ends with the power off, in ohms; 0: not known.
	Parallel float64 `json:"parallel,omitempty"`
}

// Gain is how the stage amplifies: computed, by the sheet, as measured last (dB; NaN never).
type Gain struct {
	Hz       float64  `json:"hz"`
	Computed float64  `json:"computed"`
	Low      float64  `json:"low"`  // Hz, at −3 dB; 0: none seen
	High     float64  `json:"high"` // Hz
	Manual   *float64 `json:"manual,omitempty"`
	Measured *float64 `json:"measured,omitempty"`
	Off      bool     `json:"off,omitempty"` // what is measured is out of gainWithin
}

// Read is a reading that counts here: from the bench, or taken in the circuit.
type Read struct {
	circuit.NodeReading
	Text  string    `json:"text"` // what was read, in words
	ID    string    `json:"id"`
	Bench bool      `json:"bench"`
	At    time.Time `json:"at"`
}

// Noted is an entry in a sentence, with the verdict of a check.
type Noted struct {
	Entry
	Says    string        `json:"says"`
	Earlier bool          `json:"earlier"` // of before a repair
	Verdict *part.Verdict `json:"verdict,omitempty"`
}

// Look works a stage out: its circuit as it should stand, what was read in it, and what that
// comes to. After a repair it begins anew, with the parts as they are fitted. The error is a
// one that a person can mend where the sheet has no such stage.
func Look(ctx context.Context, c trace.Case, stage string, r Record) (*View, error) {
	if !Known(c.Plan, stage) {
		return nil, bad("%q is neither a stage, a rail nor a modification of this sheet", stage)
	}
	v := &View{
		Stage:    stage,
		Problems: []circuit.Problem{},
		Nodes:    []Node{},
		Parts:    []Part{},
		Readable: []circuit.What{circuit.DC, circuit.Ohms},
		Readings: []Read{},
		Entries:  []Noted{},
		Grounds:  []Ground{},
		Figure:   circuit.Figure{Lines: []circuit.Line{}, Columns: []circuit.Column{}},
	}
	all := slices.DeleteFunc(slices.Clone(r.Entries), func(e Entry) bool { return c.Plan.NowOf(e.Stage) != stage })
	pc, ok := c.Plan.Circuit(stage)
	checked := v.note(all, &r, pc)
	own := slices.DeleteFunc(all, func(e Entry) bool { return !r.now(&e) })
	v.Renewed = r.renewed(stage, 0)
	v.Bench = fromBench(r.Found, stage)
	var parts []circuit.Part
	if ok {
		pc = r.fitted(pc)
		parts = pc.Parts
	}
	v.Follows = follows(parts, own)
	if !ok {
		v.Grounds = v.grounds(checked)
		v.Says = "It has no circuit yet: begin from a family, or put its parts in as a table."
		if slices.ContainsFunc(c.Plan.Sheet.Circuits, func(x sheet.Circuit) bool { return x.Stage == stage }) {
			v.Says = "Its circuit cannot be worked out yet: mend what is said on the left."
		}
		return v, nil
	}
	l := looking{ctx: ctx, Case: c, plan: pc, stage: stage}
	v.Readings = l.readings(c.OfRound(r.Readings), own)
	for i := range v.Readings {
		v.Readings[i].Text = valueOf(&v.Readings[i].NodeReading)
	}
	if !l.stand(v, checked) {
		return v, nil
	}
	v.Doubt = l.doubt(v)
	l.diagnose(v, checked, circuit.Past{Failed: r.Failed, Renewed: v.Renewed})
	v.Grounds = v.grounds(checked)
	return v, nil
}

// note writes the entries in sentences, and gives the last verdict of each part: a check of
// before its repair against the sheet's circuit, one of now against what is fitted.
func (v *View) note(own []Entry, r *Record, pc *sheet.PlanCircuit) map[string]part.Verdict {
	checked := map[string]part.Verdict{}
	var sheets, fitted *circuit.Net
	if pc != nil {
		sheets, fitted = pc.Net, r.fitted(pc).Net
	}
	for _, e := range own {
		counts := r.now(&e)
		net := sheets
		if counts {
			net = fitted
		}
		n := Noted{Entry: e, Earlier: !counts}
		switch {
		case e.Reading != nil:
			n.Says = Says(e.Reading)
		case e.Check != nil:
			verdict, err := judge(net, e.Check)
			if err != nil { // it was taken; the check has changed since
				n.Says = fmt.Sprintf("%s: %v", e.Check.Part, err)
				break
			}
			n.Verdict = &verdict
			n.Says = fmt.Sprintf("%s checked: %s", e.Check.Part, verdict.What)
			if !e.Struck && counts {
				checked[e.Check.Part] = verdict
			}
		case e.Provoked != nil:
			n.Says = fmt.Sprintf("%s: %s, the fault %s", e.Provoked.Place, e.Provoked.Act, e.Provoked.Came)
			if e.Provoked.Came == Nothing {
				n.Says = fmt.Sprintf("%s: %s changes nothing", e.Provoked.Place, e.Provoked.Act)
			}
		case e.Condemned != nil:
			n.Says = fmt.Sprintf("%s condemned: %s", e.Condemned.Part, e.Condemned.What)
			if !e.Struck && counts {
				v.Condemned = e.Condemned
			}
		}
		v.Entries = append(v.Entries, n)
	}
	return checked
}

// valueOf is what was read: a gain always in dB.
func valueOf(r *circuit.NodeReading) string {
	if x, err := circuit.GainOf(r.Value); r.What == circuit.Gain && err == nil && x > 0 {
		return quantity.SignedDB(quantity.DB(x, 1))
	}
	return r.Value
}

// Says tells a reading in words: "DC at base: 1.2 V".
func Says(r *circuit.NodeReading) string {
	at := r.Node
	if r.To != "" {
		at += " against " + r.To
	}
	switch r.What {
	case circuit.Alone:
		return fmt.Sprintf("%s alone: %s", r.Part, r.Value)
	case circuit.Checked:
		return fmt.Sprintf("%s by itself: %s", r.Part, r.Value)
	case circuit.Gain:
		from := ""
		if r.From != "" {
			from = " from " + r.From
		}
		return fmt.Sprintf("Gain%s to %s at %s: %s", from, at, r.Hz, valueOf(r))
	case circuit.DC:
		return fmt.Sprintf("DC at %s: %s", at, r.Value)
	}
	return fmt.Sprintf("%s at %s: %s", strings.ToUpper(string(r.What[:1]))+string(r.What[1:]), at, r.Value)
}

// stand solves the circuit as it should be, its supplies as they were measured, and lays
// manual and measured beside it.
func (l *looking) stand(v *View, checked map[string]part.Verdict) bool {
	l.circuit = &circuit.Circuit{Name: l.stage, Parts: slices.Clone(l.plan.Parts)}
	if in, _, _, _, ok := l.ends(); ok {
		l.circuit.Entry, v.Entry = in, in
	}
	v.Readings = slices.DeleteFunc(v.Readings, func(r Read) bool {
		return r.What == circuit.DC && r.To == "" && l.supply(r.Node, r.Value)
	})
	var problems []circuit.Problem
	if l.net, problems = l.circuit.Read(); len(problems) > 0 {
		v.Problems = problems
		return false
	}
	var ok bool
	if l.standing, l.rest, ok = l.net.Standing(); !ok {
		v.Problems = []circuit.Problem{{Where: "the circuit", Message: circuit.ErrUnsettled.Error()}}
		return false
	}
	v.Circuit = true
	v.Readable = l.net.Readable()
	v.Figure = l.net.Figure(l.rest)
	for _, line := range v.Figure.Lines {
		v.Nodes = append(v.Nodes, l.at(line.Node, v.Readings))
	}
	for i, p := range l.circuit.Parts {
		view := Part{
			PartRest: l.rest.Parts[i],
			Kind:     p.Kind,
			Value:    p.Value,
			In:       p.In,
			CheckFor: circuit.CheckOf(p.Kind),
			Valued:   circuit.Valued(p.Kind),
			BiasAt:   circuit.BiasAt(p.Kind),
		}
		if p.Kind == circuit.Resistor {
			view.Parallel, _ = l.net.Beside(p.Name)
		}
		view.TooWarm = view.Rated > 0 && view.Watts > view.Rated
		if c, ok := checked[p.Name]; ok {
			view.Checked = c.Judgement
		}
		view.Condemned = v.Condemned != nil && v.Condemned.Part == p.Name
		v.Parts = append(v.Parts, view)
	}
	v.Gain = l.stageGain(v.Readings)
	return true
}

// supply lets a voltage source stand as its node was measured.
func (l *looking) supply(node, value string) bool {
	for i := range l.circuit.Parts {
		p := &l.circuit.Parts[i]
		if p.Kind == circuit.Voltage && p.Nodes[0] == node && circuit.IsGround(p.Nodes[1]) {
			p.Value = value
			return true
		}
	}
	return false
}

// offShare is how far from what is computed a measured voltage may be at least: a part's
// tolerance and the equations of its device.
const offShare = 0.1

func (l *looking) at(node string, readings []Read) Node {
	s := l.standing[node]
	n := Node{Node: node, Computed: s.Volts, Within: math.Max(s.Within, offShare*math.Abs(s.Volts))}
	if i, ok := l.Plan.PointIndex(node); ok {
		for _, e := range l.Plan.Points[i].Expected {
			if e.Quantity == sheet.DC && e.Source != sheet.FromCircuit {
				n.Manual = &e.Value.SI
			}
		}
	}
	for i := range l.Plan.Rails {
		if r := &l.Plan.Rails[i]; n.Manual == nil && !r.Alternates && (r.Name == node || r.Point == node) {
			n.Manual = &r.Volts
		}
	}
	for i := range readings {
		r := &readings[i]
		if r.What == circuit.DC && r.Node == node && r.To == "" {
			if x, err := quantity.ParseAs(r.Value, quantity.Volt); err == nil {
				n.Measured = &x.SI
				n.Off = math.Abs(x.SI-n.Computed) > n.Within
			}
		}
	}
	return n
}

// gainWithin, in dB, is what service manuals commonly allow a level.
const gainWithin = 2.0

// stageGain compares the gain from the stage's entry to its exit.
func (l *looking) stageGain(readings []Read) *Gain {
	in, out, db, known, ok := l.ends()
	if !ok {
		return nil
	}
	hz := usualHz
	for _, r := range readings {
		if x, err := quantity.ParseAs(r.Hz, quantity.Hertz); r.What == circuit.Gain && err == nil {
			hz = x.SI
		}
	}
	if due, _, ok := l.Due(reading.Reading{Point: in, Mode: l.Route.Mode}); ok && due.Hz > 0 {
		hz = due.Hz
	}
	band, ok := l.net.Band(l.rest, in, out, hz)
	if !ok {
		return nil
	}
	g := &Gain{Hz: hz, Computed: quantity.DB(band.Gain, 1), Low: band.Low, High: band.High}
	if known {
		g.Manual = &db
	}
	for _, r := range readings {
		if r.What == circuit.Gain && r.Node == out && (r.From == in || r.From == "") {
			if x, err := circuit.GainOf(r.Value); err == nil && x > 0 {
				measured := quantity.DB(x, 1)
				g.Measured = &measured
				g.Off = math.Abs(measured-g.Computed) > gainWithin
			}
		}
	}
	return g
}

// diagnose ranks the faults by the readings and by the parts that were checked.
func (l *looking) diagnose(v *View, checked map[string]part.Verdict, past circuit.Past) {
	if v.Doubt != nil && v.Doubt.Untold {
		v.Says = "Nothing can be told of its parts by this circuit yet: compare it with the board and the manual, and check parts by " +
			"themselves."
		return
	}
	driven := l.doubtShape() == ""
	var asked []circuit.NodeReading
	for _, r := range v.Readings {
		if driven || r.What != circuit.Gain && r.What != circuit.Shape {
			asked = append(asked, r.NodeReading)
		}
	}
	for i := range v.Parts {
		p := &v.Parts[i]
		if p.Checked == part.Good || p.Checked == part.Bad {
			asked = append(asked, circuit.NodeReading{What: circuit.Checked, Part: p.Name, Value: string(p.Checked)})
		}
	}
	d, problems := l.circuit.Diagnose(l.ctx, asked, past)
	if len(problems) > 0 {
		v.Problems = problems
		return
	}
	for i := range d.Ranked {
		if len(asked) == 0 {
			break // how often parts fail says nothing of this one
		}
		for _, f := range d.Ranked[i].Faults {
			for k := range v.Parts {
				if v.Parts[k].Name == f.Part {
					v.Parts[k].Weight += d.Ranked[i].Weight
				}
			}
		}
	}
	if v.Doubt != nil {
		d.AsIf = []circuit.AsIf{} // a value fitted to a circuit that may be wrong
	}
	v.Diagnosis = d
	v.Says = says(d, len(asked))
	if v.Doubt != nil && len(asked) > 0 {
		v.Says += " That holds only if the circuit is right."
	}
}

// sure is the weight from which on a part is named.
const sure = 0.9

// says tells in a sentence what it most probably is.
func says(d *circuit.Diagnosis, readings int) string {
	first := &d.Ranked[0]
	weight := 0.0 // of what concerns the same part
	alike := []string{}
	for i := range d.Ranked {
		r := &d.Ranked[i]
		same := len(r.Faults) > 0 && slices.EqualFunc(r.Faults, first.Faults, func(a, b circuit.Fault) bool { return a.Part == b.Part })
		if same {
			weight += r.Weight
		} else if r.Group == first.Group && len(alike) < 3 {
			alike = append(alike, r.Says)
		}
	}
	percent := share(weight)
	switch {
	case readings == 0 && len(d.Next) > 0:
		return d.Next[0].Sentence
	case len(d.AsIf) > 0 && (!d.Explained || len(first.Faults) == 0):
		a := d.AsIf[0]
		return fmt.Sprintf("It reads as if %s were %s, not %s.", a.Part, a.Value, a.Was)
	case !d.Explained:
		return "No fault of these parts explains the readings. Read again what is furthest off, and compare the circuit with the board: " +
			"a part may differ from the drawing."
	case len(first.Faults) == 0:
		return "By these readings nothing is wrong here."
	case weight >= sure:
		return fmt.Sprintf("%s: %s.", first.Says, percent)
	case len(alike) > 0:
		return fmt.Sprintf("%s, or %s: not to be told apart yet.", first.Says, strings.Join(alike, ", or "))
	}
	return fmt.Sprintf("Most probably %s: %s.", first.Says, percent)
}
