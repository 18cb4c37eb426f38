package sheet

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// Adjustment is something that is set by hand in sets of this model: what is turned, where that is measured, what
// it is set to, and under which conditions. Target is a value, "least" or "most" of what is read, or "by eye" or "by
// ear"; empty where nobody knows. Manual and Why are there where the workshop's own way stands in the place of the
// manual's.
type Adjustment struct {
	Name       string   `json:"name"`
	Kind       string   `json:"kind,omitempty" jsonschema:"description=bias\\, offset\\, null\\, oscillator\\, supply and so on"`
	Turn       string   `json:"turn,omitempty" jsonschema:"description=what is turned\\, bent or chosen: VR301\\, T4\\, an item of the set's own menu"`
	Measure    string   `json:"measure,omitempty" jsonschema:"description=TP7\\, TP7 to TP8\\, across R313; picture or sound"`
	Quantity   Quantity `json:"quantity,omitempty" jsonschema:"description=where the target's unit does not say it"`
	Target     string   `json:"target,omitempty" jsonschema:"description=12 mV\\, least\\, most\\, by eye\\, by ear"`
	Tolerance  string   `json:"tolerance,omitempty"`
	Conditions []string `json:"conditions,omitempty"`
	Warm       string   `json:"warm,omitempty" jsonschema:"description=minutes that the set is on before"`
	After      []string `json:"after,omitempty" jsonschema:"description=adjustments that move this one\\, and are made before it"`
	Ohms       string   `json:"ohms,omitempty" jsonschema:"description=of the resistor that the voltage is read across"`
	Volts      string   `json:"volts,omitempty" jsonschema:"description=across what that current heats: a rail\\, or a voltage"`
	Turns      string   `json:"turns,omitempty" jsonschema:"description=of the control from stop to stop; 0.75 understood"`
	Beware     string   `json:"beware,omitempty" jsonschema:"description=what may go wrong"`
	Stage      string   `json:"stage,omitempty" jsonschema:"description=the stage or rail that it is in\\, whose circuit computes it"`
	Twin       string   `json:"twin,omitempty" jsonschema:"description=the same adjustment of the other channel"`
	Manual     string   `json:"manual,omitempty" jsonschema:"description=what the manual says instead"`
	Why        string   `json:"why,omitempty" jsonschema:"description=why the workshop does it in its own way"`
}

// AdjustmentKinds are the sorts of adjustment, in the order they are offered. A setting is one of the set's own menu.
var AdjustmentKinds = []string{"bias", "offset", "symmetry", "null", "supply", "oscillator", "centre frequency", "tracking",
	"alignment", "level", "head", "convergence", "meter zero", MenuSetting, "other"}

// MenuSetting is the kind of adjustment that is chosen in a menu of the set itself.
const MenuSetting = "setting"

// Sought is what an adjustment is turned for.
type Sought string

// A value, the least or the most of what is read, a judgement by eye or ear; nothing that was said.
const (
	SoughtValue Sought = "value"
	SoughtLeast Sought = "least"
	SoughtMost  Sought = "most"
	ByEye       Sought = "by eye"
	ByEar       Sought = "by ear"
	SoughtNone  Sought = ""
)

// Words implements exchange.Enumerated.
func (Sought) Words() []string {
	return []string{string(SoughtNone), string(SoughtValue), string(SoughtLeast), string(SoughtMost), string(ByEye), string(ByEar)}
}

// PlanAdjustment is an adjustment with its numbers: Low and High bound what is set right, in SI units. From and To are
// what is measured between; an empty To is ground. Ohms, Volts and Warm (seconds) are zero where nothing is said; Turns is
// the control's travel. After, Twin and Circuit are indices; -1 where there is none.
type PlanAdjustment struct {
	*Adjustment
	Sought    Sought
	Quantity  Quantity
	Target    quantity.Value
	Low, High float64
	Untold    bool // no tolerance is stated: it is the usual one
	Source    Source
	From, To  string
	Ohms      float64
	Volts     float64
	Warm      float64
	Turns     float64
	After     []int
	Twin      int
	Circuit   int
}

// Tolerances of adjustments where nothing is stated: idle currents are printed to a tenth; an offset counts as gone
// within 10 mV, well below what a loudspeaker's cone shows; what is set by a frequency counter to 0.1 %; a supply with a
// control of its own to 1 %; levels to half a decibel, as tape decks and desks are lined up.
var adjustmentTolerances = map[string]quantity.Tolerance{
	"bias":             {Low: 0.1, High: 0.1, Unit: quantity.Ratio},
	"oscillator":       {Low: 0.001, High: 0.001, Unit: quantity.Ratio},
	"centre frequency": {Low: 0.001, High: 0.001, Unit: quantity.Ratio},
	"tracking":         {Low: 0.01, High: 0.01, Unit: quantity.Ratio},
	"supply":           {Low: 0.01, High: 0.01, Unit: quantity.Ratio},
	"level":            {Low: 0.5, High: 0.5, Unit: quantity.Decibel},
	"head":             {Low: 0.5, High: 0.5, Unit: quantity.Decibel},
	"alignment":        {Low: 0.5, High: 0.5, Unit: quantity.Decibel},
}

const (
	nearNothing = 10e-3 // V: an offset that counts as gone
	usualTurns  = 0.75  // of a trimmer of one turn, whose wiper goes some 270°
	usualShare  = 0.05
	maxAdjusts  = 300
	mostTurns   = 100.0
	longestWarm = 24 * 3600.0 // s
)

// Adjustment finds an adjustment by its name.
func (p *Plan) Adjustment(name string) (int, bool) {
	i := slices.IndexFunc(p.Adjustments, func(a PlanAdjustment) bool { return a.Name == name })
	return max(i, 0), i >= 0
}

// adjustments reads them. None of it keeps anybody from tracing: what is wrong is doubtful, and left out.
func (w *planner) adjustments() {
	all := w.plan.Sheet.Adjustments
	if len(all) > maxAdjusts {
		w.add(Blocking, "the sheet", "adjustments", "more than %d adjustments: keep those that are still made", maxAdjusts)
		return
	}
	index := map[string]int{}
	for i := range all {
		a := &all[i]
		where, path := "adjustment "+a.Name, fmt.Sprintf("adjustments/%d", i)
		switch _, twice := index[a.Name]; {
		case a.Name == "":
			w.add(Doubtful, "an adjustment", path+"/name", "say in a few words what is adjusted: idle current, left")
		case twice:
			w.add(Doubtful, where, path+"/name", "two adjustments are called %s", a.Name)
		default:
			index[a.Name] = i
		}
		w.plan.Adjustments = append(w.plan.Adjustments, w.adjustment(a, where, path))
	}
	for i := range all {
		w.around(i, index)
	}
}

// around finds what comes before an adjustment, and the one that it is the twin of.
func (w *planner) around(i int, index map[string]int) {
	a := &w.plan.Adjustments[i]
	where, path := "adjustment "+a.Name, fmt.Sprintf("adjustments/%d", i)
	for _, name := range a.Adjustment.After {
		k, ok := index[name]
		switch {
		case !ok:
			w.add(Doubtful, where, path+"/after", "%q is no adjustment of this sheet", name)
		case k == i:
			w.add(Doubtful, where, path+"/after", "an adjustment does not come after itself")
		default:
			a.After = append(a.After, k)
		}
	}
	if name := a.Adjustment.Twin; name != "" {
		if k, ok := index[name]; !ok || k == i {
			w.add(Doubtful, where, path+"/twin", "%q is no other adjustment of this sheet", name)
		} else {
			a.Twin = k
			if other := &w.plan.Adjustments[k]; other.Twin < 0 && other.Adjustment.Twin == "" {
				other.Twin = i
			}
		}
	}
}

// Long: what may be wrong with one, a thing after the other.
func (w *planner) adjustment(a *Adjustment, where, path string) PlanAdjustment {
	out := PlanAdjustment{Adjustment: a, Quantity: a.Quantity, Twin: -1, Circuit: -1, Turns: usualTurns}
	read := func(field, text string, unit quantity.Unit, least, most, missing float64) float64 {
		if strings.TrimSpace(text) == "" {
			return missing
		}
		v, err := quantity.ParseAs(text, unit)
		switch {
		case err != nil:
			w.add(Doubtful, where, path+"/"+field, "%v", err)
		case v.SI < least || v.SI > most:
			w.add(Doubtful, where, path+"/"+field, "%s is no value that can be: from %g to %g", text, least, most)
		default:
			return v.SI
		}
		return missing
	}
	if a.Kind != "" && !slices.Contains(AdjustmentKinds, a.Kind) {
		w.add(Doubtful, where, path+"/kind", "%q is not a known kind; it counts as other. Known are %s", a.Kind,
			strings.Join(AdjustmentKinds, ", "))
	}
	if a.Stage != "" && !w.isBlock(a.Stage) {
		w.add(Doubtful, where, path+"/stage", "%q is neither a stage, a rail nor a control of this sheet", a.Stage)
	}
	const milliohm, megohm, ampleVolts = 1e-3, 1e6, 10e3
	out.Ohms = read("ohms", a.Ohms, quantity.Ohm, milliohm, megohm, 0)
	out.Turns = read("turns", a.Turns, quantity.None, 1.0/60, mostTurns, usualTurns)
	const minute = 60
	out.Warm = minute * read(
		"warm",
		strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(a.Warm), "min")),
		quantity.None,
		0,
		longestWarm/minute,
		0,
	)
	if k, ok := w.plan.RailIndex(a.Volts); ok {
		out.Volts = math.Abs(w.plan.Rails[k].Volts)
	} else {
		out.Volts = math.Abs(read("volts", a.Volts, quantity.Volt, -ampleVolts, ampleVolts, 0))
	}
	out.Circuit = slices.IndexFunc(w.plan.Circuits, func(c PlanCircuit) bool { return c.Stage == a.Stage && c.Net != nil })
	w.measured(&out)
	w.sought(&out, where, path)
	return out
}

// measured finds what is measured between: two places, or those that the circuit has a part between.
func (w *planner) measured(a *PlanAdjustment) {
	text := strings.TrimSpace(a.Measure)
	if part, ok := strings.CutPrefix(text, "across "); ok {
		part = strings.TrimSpace(part)
		a.From = part
		for k := range w.plan.Circuits {
			c := &w.plan.Circuits[k]
			if a.Stage != "" && c.Stage != a.Stage {
				continue
			}
			for i := range c.Parts {
				const ends = 2
				if p := &c.Parts[i]; p.Name == part && len(p.Nodes) >= ends {
					a.From, a.To = p.Nodes[0], p.Nodes[1]
					if v, err := quantity.ParseAs(p.Value, quantity.Ohm); err == nil && a.Ohms == 0 && p.Kind == "resistor" {
						a.Ohms = v.SI
					}
				}
			}
		}
		return
	}
	a.From = text
	if from, to, ok := strings.Cut(text, " to "); ok {
		a.From, a.To = strings.TrimSpace(from), strings.TrimSpace(to)
	}
}

// sought reads the target.
func (w *planner) sought(a *PlanAdjustment, where, path string) {
	switch s := Sought(strings.ToLower(strings.TrimSpace(a.Adjustment.Target))); s {
	case SoughtNone, SoughtLeast, SoughtMost, ByEye, ByEar:
		a.Sought = s
		return
	}
	v, err := quantity.Parse(a.Adjustment.Target, cmp.Or(unitOfAny(a.Quantity), quantity.Volt))
	if err != nil {
		w.add(Doubtful, where, path+"/target", "%v Or write least, most, by eye or by ear", err)
		return
	}
	a.Sought, a.Target = SoughtValue, v
	if a.Quantity == "" {
		a.Quantity = quantityOf(v, a.Kind)
	}
	if a.Quantity == DC {
		a.Target.Form = quantity.DC
	}
	usual, ok := adjustmentTolerances[a.Kind]
	if !ok || (usual.Unit == quantity.Decibel && v.SI <= 0) {
		usual = quantity.Tolerance{Low: usualShare, High: usualShare, Unit: quantity.Ratio}
	}
	if v.SI == 0 {
		usual = quantity.Tolerance{Low: nearNothing, High: nearNothing, Unit: v.Unit}
	}
	var stated string
	a.Source, stated = sourceOf(a.Tolerance)
	if a.Source == Usual {
		usual = toleranceFrom(Usual, usual, v.Unit)
	}
	tolerance := usual
	a.Untold = stated == ""
	if !a.Untold {
		t, err := quantity.ParseTolerance(stated, quantity.Ratio)
		switch {
		case err != nil:
			w.add(Doubtful, where, path+"/tolerance", "tolerance: %v", err)
		case t.Unit != quantity.Ratio && t.Unit != v.Unit && (t.Unit != quantity.Decibel || v.SI <= 0):
			w.add(Doubtful, where, path+"/tolerance", "a tolerance of %s does not fit %s", t, v.Unit.Name())
		default:
			tolerance = t
		}
	}
	a.Low, a.High = tolerance.Bounds(v.SI)
	if a.Low > a.High {
		a.Low, a.High = a.High, a.Low
	}
}

// unitOfAny is the unit of a quantity; none where nothing is said.
func unitOfAny(q Quantity) quantity.Unit {
	unit, _, _ := unitOf(q)
	return unit
}

// quantityOf is what a target's unit says is read. Volts that are not said to alternate are DC, but for levels.
func quantityOf(v quantity.Value, kind string) Quantity {
	switch v.Unit {
	case quantity.Hertz:
		return Frequency
	case quantity.Ampere:
		return Current
	case quantity.Watt:
		return Power
	case quantity.Ohm:
		return Resistance
	case quantity.Ratio:
		return Distortion
	case quantity.Celsius:
		return Temperature
	case quantity.Volt:
		alternates := slices.Contains([]string{"level", "head", "alignment", "null"}, kind)
		if v.Form == quantity.DC || v.Form == quantity.Unstated && !alternates {
			return DC
		}
	}
	return AC
}

const maxAdjustment = 500 // characters of each of its texts

// Adjusted is the sheet with an adjustment in the place of the one of a name (empty: a further one). Errors can be mended
// by a person.
func (s *Sheet) Adjusted(was string, a Adjustment) (*Sheet, error) {
	texts := append([]string{a.Name, a.Kind, a.Turn, a.Measure, a.Target, a.Tolerance, a.Warm, a.Ohms, a.Volts, a.Turns, a.Beware,
		a.Stage, a.Twin, a.Manual, a.Why}, append(slices.Clone(a.Conditions), a.After...)...)
	for _, text := range texts {
		if utf8.RuneCountInString(text) > maxAdjustment || !utf8.ValidString(text) {
			return nil, mend.Errorf("an adjustment is told in at most %d characters a field, and they can be read", maxAdjustment)
		}
	}
	a.Name = strings.TrimSpace(a.Name)
	if a.Name == "" {
		return nil, mend.Errorf("say in a few words what is adjusted: it is known by that")
	}
	out := *s
	out.Adjustments = slices.Clone(s.Adjustments)
	at := slices.IndexFunc(out.Adjustments, func(o Adjustment) bool { return o.Name == cmp.Or(was, a.Name) })
	if at >= 0 {
		if old := out.Adjustments[at]; a.Why != "" && a.Manual == "" && old.Why == "" {
			a.Manual = old.told()
		}
		out.Adjustments[at] = a
	} else {
		at = len(out.Adjustments)
		out.Adjustments = append(out.Adjustments, a)
	}
	_, problems := out.Plan()
	for _, x := range problems {
		if strings.HasPrefix(x.Path+"/", fmt.Sprintf("adjustments/%d/", at)) || x.Path == "adjustments" {
			return nil, mend.Errorf("%s", x.Message)
		}
	}
	return &out, nil
}

// told writes how an adjustment was, in a line.
func (a *Adjustment) told() string {
	parts := []string{a.Turn, a.Measure, strings.TrimSpace(a.Target + " " + a.Tolerance), strings.Join(a.Conditions, ", ")}
	return strings.Join(slices.DeleteFunc(parts, func(s string) bool { return s == "" }), "; ")
}
