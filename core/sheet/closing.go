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

// Closing is one thing that is measured or tried on sets of this model before they go back: what, where, how the set is
// driven meanwhile, and between which limits it is right. Without limits a person judges it.
type Closing struct {
	Name        string   `json:"name"`
	Kind        string   `json:"kind,omitempty" jsonschema:"description=power\\, response\\, hum\\, works and so on"`
	At          string   `json:"at,omitempty" jsonschema:"description=where it is read: an exit\\, a point"`
	Other       string   `json:"other,omitempty" jsonschema:"description=the other channel's exit\\, for separation"`
	From        string   `json:"from,omitempty" jsonschema:"description=where the signal is fed in"`
	Mode        string   `json:"mode,omitempty"`
	Level       string   `json:"level,omitempty" jsonschema:"description=what is fed in; empty: as the sheet has it there"`
	Frequencies []string `json:"frequencies,omitempty" jsonschema:"description=of what is fed in; a response is told against the one that the sheet feeds in\\, or 1 kHz"`
	Load        string   `json:"load,omitempty" jsonschema:"description=what the exit works into: 8 Ω"`
	Least       string   `json:"least,omitempty"`
	Most        string   `json:"most,omitempty"`
	Conditions  []string `json:"conditions,omitempty"`
	Note        string   `json:"note,omitempty"`
}

// The kinds of closing measurement. Works is judged by eye, ear and hand; continuity of earth and insulation are tests for
// safety, whose limits local codes have.
const (
	ClosingPower      = "power"
	ClosingResponse   = "response"
	ClosingDistortion = "distortion"
	ClosingSeparation = "separation"
	ClosingHum        = "hum"
	ClosingOffset     = "offset"
	ClosingIdle       = "idle power"
	ClosingWorks      = "works"
	ClosingEarth      = "earth"
	ClosingInsulation = "insulation"
	ClosingOther      = "other"
)

// ClosingKinds are the kinds, in the order in which they are measured.
var ClosingKinds = []string{ClosingOffset, ClosingIdle, ClosingHum, ClosingPower, ClosingDistortion, ClosingResponse,
	ClosingSeparation, ClosingOther, ClosingWorks, ClosingEarth, ClosingInsulation}

// closingUnits are what the kinds are read in; none: by a word.
var closingUnits = map[string]quantity.Unit{
	ClosingPower: quantity.Watt, ClosingResponse: quantity.Decibel, ClosingDistortion: quantity.Ratio,
	ClosingSeparation: quantity.Decibel, ClosingHum: quantity.Volt, ClosingOffset: quantity.Volt, ClosingIdle: quantity.Watt,
	ClosingEarth: quantity.Ohm, ClosingInsulation: quantity.Ohm, ClosingWorks: quantity.None,
}

// PlanClosing is a closing measurement with its numbers, in SI units: what is right lies from Low to High, infinite where
// nothing is said. Ohms and Level (V rms) are zero where nothing is said. Exit is the level (V rms) that a good set has
// where it is read, with what the sheet feeds in; zero where that is not known. Reference is which of its frequencies a
// response is told against: the one nearest to what the sheet feeds in there, or else to 1 kHz.
type PlanClosing struct {
	*Closing
	Unit      quantity.Unit
	Low, High float64
	Ohms      float64
	Level     float64
	Hz        []float64
	Exit      float64
	Reference int
	Source    Source // of the limits: the sheet's, where nothing else is said
}

// Limited tells whether there is a limit to judge by.
func (c *PlanClosing) Limited() bool { return !math.IsInf(c.Low, 0) || !math.IsInf(c.High, 0) }

const (
	usualTone      = 1000.0 // Hz
	maxClosings    = 300
	maxFrequencies = 12
)

// closings reads them. None of it keeps anybody from tracing: what is wrong is doubtful, and left out.
func (w *planner) closings() {
	all := w.plan.Sheet.Closing
	if len(all) > maxClosings {
		w.add(Blocking, "the sheet", "closing", "more than %d closing measurements: keep those that are made", maxClosings)
		return
	}
	seen := map[string]bool{}
	for i := range all {
		c := &all[i]
		where, path := "closing measurement "+c.Name, fmt.Sprintf("closing/%d", i)
		if seen[c.Name] {
			w.add(Doubtful, where, path+"/name", "two closing measurements are called %s", c.Name)
			continue
		}
		seen[c.Name] = true
		out, field, err := w.plan.ReadClosing(c)
		if err != nil {
			w.add(Doubtful, where, path+"/"+field, "%v", err)
		}
		if c.Name != "" {
			w.plan.Closings = append(w.plan.Closings, out)
		}
	}
}

// ReadClosing works a closing measurement out. Where something cannot be read the field is named, the error can be mended by
// a person, and the rest stands without it.
//
// Long: a field after the other.
func (p *Plan) ReadClosing(c *Closing) (out PlanClosing, field string, err error) {
	out = PlanClosing{Closing: c, Low: math.Inf(-1), High: math.Inf(1)}
	wrong := func(at string, e error) {
		if e != nil && err == nil {
			field, err = at, e
		}
	}
	if strings.TrimSpace(c.Name) == "" {
		wrong("name", mend.Errorf("say in a few words what is measured: hum, left"))
	}
	unit, known := closingUnits[cmp.Or(c.Kind, ClosingOther)]
	if !known && cmp.Or(c.Kind, ClosingOther) != ClosingOther {
		wrong("kind", mend.Errorf("%q is not a known kind; it counts as other. Known are %s", c.Kind, strings.Join(ClosingKinds, ", ")))
	}
	out.Unit = unit
	read := func(at, text string, unit quantity.Unit, missing float64) float64 {
		if strings.TrimSpace(text) == "" {
			return missing
		}
		v, e := quantity.ParseAs(text, unit)
		switch {
		case e != nil:
			wrong(at, e)
		case !(v.SI > 0):
			wrong(at, mend.Errorf("%s cannot be: it is above zero", text))
		default:
			return v.SI
		}
		return missing
	}
	out.Ohms = read("load", c.Load, quantity.Ohm, 0)
	out.Level = read("level", c.Level, quantity.Volt, 0)
	if len(c.Frequencies) > maxFrequencies {
		wrong("frequencies", mend.Errorf("more than %d frequencies: three tell a response", maxFrequencies))
	}
	for _, text := range c.Frequencies[:min(len(c.Frequencies), maxFrequencies)] {
		if hz := read("frequencies", text, quantity.Hertz, 0); hz > 0 {
			out.Hz = append(out.Hz, hz)
		}
	}
	const two = 2
	switch {
	case c.Kind == ClosingResponse && len(out.Hz) < two:
		wrong("frequencies", mend.Errorf("a response is read at two frequencies at least: 50 Hz; 1 kHz; 15 kHz"))
	case c.Kind == ClosingSeparation && c.Other == "":
		wrong("other", mend.Errorf("say where the other channel's exit is: what is found there is compared"))
	}
	for _, at := range []struct{ field, name string }{{"at", c.At}, {"other", c.Other}, {"from", c.From}} {
		if _, ok := p.PointIndex(at.name); !ok && at.name != "" {
			wrong(at.field, mend.Errorf("the sheet has no point called %q", at.name))
		}
	}
	out.limits(wrong)
	var tone float64
	out.Exit, tone = p.passes(c)
	for i, hz := range out.Hz {
		if math.Abs(math.Log(hz/tone)) < math.Abs(math.Log(out.Hz[out.Reference]/tone)) {
			out.Reference = i
		}
	}
	return out, field, err
}

// limits reads what is right. Of an offset and a response one limit holds both ways; noise may be told by how many dB it
// is below the signal.
func (c *PlanClosing) limits(wrong func(field string, err error)) {
	read := func(field, text string, into *float64) bool {
		if strings.TrimSpace(text) == "" {
			return false
		}
		v, err := quantity.Parse(text, c.Unit)
		switch {
		case err != nil:
			wrong(field, err)
			return false
		case c.Kind == ClosingHum && v.Unit == quantity.Decibel:
			c.Unit = quantity.Decibel
		case c.Unit == quantity.None && c.Kind != ClosingWorks:
			c.Unit = v.Unit
		case c.Kind == ClosingWorks || v.Unit != c.Unit:
			wrong(field, mend.Errorf("%s does not fit: it is %s that is read", text, orWord(c.Unit)))
			return false
		}
		*into = v.SI
		return true
	}
	least, most := read("least", c.Least, &c.Low), read("most", c.Most, &c.High)
	if most && !least && (c.Kind == ClosingOffset || c.Kind == ClosingResponse) {
		c.High = math.Abs(c.High)
		c.Low = -c.High
	}
	if c.Low > c.High {
		wrong("least", mend.Errorf("%s at least and %s at most cannot both be", c.Least, c.Most))
		c.Low, c.High = math.Inf(-1), math.Inf(1)
	}
}

func orWord(u quantity.Unit) string {
	if u == quantity.None {
		return "a word"
	}
	return u.Name()
}

// passes is the level (V rms) that comes past a closing measurement's place, zero where the sheet does not tell; and the
// frequency (Hz) that is fed in for it.
func (p *Plan) passes(c *Closing) (volts, tone float64) {
	tone = usualTone
	at, ok := p.PointIndex(c.At)
	if !ok {
		return 0, tone
	}
	for i := range p.Routes {
		r := &p.Routes[i]
		on, there := r.At(at)
		if there && r.Levels[on].Known && (c.Mode == "" || r.Mode == c.Mode) && (c.From == "" || p.EntryName(r) == c.From) {
			return quantity.Times(r.Levels[on].DBV), cmp.Or(r.Levels[0].Hz, tone)
		}
	}
	return 0, tone
}

// Closed is the sheet with a closing measurement in the place of the one of a name (empty: a further one). Errors can be
// mended by a person.
func (s *Sheet) Closed(was string, c Closing) (*Sheet, error) {
	texts := append([]string{c.Name, c.Kind, c.At, c.Other, c.From, c.Mode, c.Level, c.Load, c.Least, c.Most, c.Note},
		append(slices.Clone(c.Conditions), c.Frequencies...)...)
	for _, text := range texts {
		if utf8.RuneCountInString(text) > maxAdjustment || !utf8.ValidString(text) {
			return nil, mend.Errorf("a closing measurement is told in at most %d characters a field, and they can be read", maxAdjustment)
		}
	}
	c.Name = strings.TrimSpace(c.Name)
	plan, _ := s.Plan()
	if _, _, err := plan.ReadClosing(&c); err != nil {
		return nil, err
	}
	out := *s
	out.Closing = slices.Clone(s.Closing)
	at := slices.IndexFunc(out.Closing, func(o Closing) bool { return o.Name == cmp.Or(was, c.Name) })
	taken := slices.ContainsFunc(out.Closing, func(o Closing) bool { return o.Name == c.Name })
	switch {
	case taken && was != "" && was != c.Name:
		return nil, mend.Errorf("there is a closing measurement called %s already", c.Name)
	case at >= 0:
		out.Closing[at] = c
	default:
		out.Closing = append(out.Closing, c)
	}
	if len(out.Closing) > maxClosings {
		return nil, mend.Errorf("more than %d closing measurements: keep those that are made", maxClosings)
	}
	return &out, nil
}
