package reading

import (
	"fmt"
	"slices"
	"time"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Injection is a signal fed in: where, at what level (V rms; A for a current
// along a rail's copper), at what frequency (Hz). Zero level or frequency means
// the sheet's own. Touch: no generator, but a finger or a probe's tip, which
// brings in hum and noise of no known level.
type Injection struct {
	Touch bool    `json:"touch,omitempty"`
	At    string  `json:"at"`
	Level float64 `json:"level,omitempty"`
	Hz    float64 `json:"hz,omitempty"`
}

// Reading is one thing measured or noticed, with its conditions. SI is in the
// unit of the quantity: volts, hertz or ohms; an AC level is in the given form.
// A reading with a word has no number.
type Reading struct {
	ID         string         `json:"id"`
	Point      string         `json:"point" jsonschema:"description=a point\\, a rail or a control of the sheet"`
	Quantity   sheet.Quantity `json:"quantity"`
	Text       string         `json:"text" jsonschema:"description=as typed"`
	SI         float64        `json:"si"`
	Form       quantity.Form  `json:"form,omitempty"`
	Word       quantity.Word  `json:"word,omitempty"`
	Mode       string         `json:"mode,omitempty"`
	Injected   *Injection     `json:"injected,omitempty" jsonschema:"description=absent: the sheet's own signal at the entry"`
	Instrument string         `json:"instrument,omitempty"`
	Power      Power          `json:"power,omitempty" jsonschema:"description=how the set stood; absent: on\\, or not said"`
	Without    []string       `json:"without,omitempty" jsonschema:"description=stages swapped for known good ones\\, or loads lifted off\\, while it was taken"`
	Act        Act            `json:"act,omitempty" jsonschema:"description=what was done\\, of a provocation"`
	Worked     bool           `json:"worked,omitempty" jsonschema:"description=the control was worked while it was taken: its key held"`
	Capture    string         `json:"capture,omitempty" jsonschema:"description=id of the captured waveform it was read from"`
	Settings   string         `json:"settings,omitempty" jsonschema:"description=of the instruments\\, as read back from them"`
	Taken      time.Time      `json:"taken"`
	Who        string         `json:"who,omitempty"` // initials of who took it; empty where that is not known
	Struck     bool           `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	// Round is how many rounds repairs had begun before it; it follows from the times of the
	// repairs, and is in no file.
	Round int `json:"-"`
}

// Power is how a set stands while it is read.
type Power string

// Words implements exchange.Enumerated.
func (Power) Words() []string { return exchange.WordsOf([]Power{"", PowerOff, PowerStandby, PowerOn}) }

// Nothing said is taken for on. In standby the mains is on, but the set was
// not told to start.
const (
	PowerUnsaid  Power = ""
	PowerOff     Power = "off"
	PowerStandby Power = "standby"
	PowerOn      Power = "on"
)

// Live tells whether the mains is on, as far as was said.
func (p Power) Live() bool { return p == PowerStandby || p == PowerOn }

// MustBeOff refuses what would destroy a meter, or mislead, in a set that is live; what says what
// is done: "Ohms are read".
func (p Power) MustBeOff(what string) error {
	if !p.Live() {
		return nil
	}
	return mend.Errorf("%s with the set off, unplugged and discharged, and this set is live. Switch it off first, "+
		"and say so under its power state", what)
}

// Aim is what the person is set up to read.
type Aim struct {
	Point    string         `json:"point"`
	Quantity sheet.Quantity `json:"quantity,omitempty"`
}

// UnknownPoint says that a sheet has no such point, rail or control.
type UnknownPoint struct{ Name string }

func (e *UnknownPoint) Error() string {
	return fmt.Sprintf("%q is neither a point, a rail nor a control of this sheet. Pick one on the chart, or add it to the sheet.", e.Name)
}

// Mendable implements mend.Error.
func (e *UnknownPoint) Mendable() {}

// Bench is how a set stands to be read: what is known of it, the route being traced, what is fed in
// now (nil: the sheet's own signal at the route's entry), by what it is read, and after how many
// rounds of repair.
type Bench struct {
	Plan       *sheet.Plan
	Route      *sheet.Route
	Injected   *Injection
	Instrument string
	Power      Power
	Round      int // the one being traced; 0 before any repair
}

// FirstRoute is the route that is traced first; an empty one where the set has no way
// for a signal, so that only lines and single points can be read.
func FirstRoute(p *sheet.Plan) *sheet.Route {
	if len(p.Routes) == 0 {
		return &sheet.Route{}
	}
	return &p.Routes[0]
}

// spot is what can be aimed at.
type spot int

const (
	atPoint spot = iota
	atRail
	atControl
	atFuse
	onTrack
	onPart // that hangs on a rail: felt, or read in °C
)

// spotOf tells what the name of an aim is, and the index of a point.
func (b Bench) spotOf(name string) (what spot, point int, ok bool) {
	if line, ok := b.Plan.LineIndex(name); ok {
		if line >= len(b.Plan.Rails) {
			return atControl, 0, true
		}
		return atRail, 0, true
	}
	if i, ok := b.Plan.PointIndex(name); ok {
		return atPoint, i, true
	}
	if len(b.Plan.FuseRails(name)) > 0 {
		return atFuse, 0, true
	}
	if _, ok := b.Plan.PlaceIndex(name); ok {
		return onTrack, 0, true
	}
	return onPart, 0, b.Plan.CanBeOut(name)
}

// Take reads what was typed at the aimed point. A number without a unit is of
// the aimed quantity, in the form the sheet states there; a unit decides for
// itself. Errors are *quantity.ParseError, *UnknownPoint or those a person can mend (mend.Error).
//
// Long: a text is read as what it can be, the likeliest first.
func (b Bench) Take(aim Aim, text string) (Reading, error) {
	aim.Point = b.Plan.NowOf(aim.Point) // by a name that it had, where somebody still reads it off another screen
	r := Reading{
		Point:      aim.Point,
		Quantity:   aim.Quantity,
		Text:       text,
		Mode:       b.Route.Mode,
		Injected:   b.Injected,
		Instrument: b.Instrument,
		Power:      b.Power,
		Round:      b.Round,
	}
	if aim.Quantity == sheet.Provocation {
		return b.takeProvocation(r)
	}
	what, point, ok := b.spotOf(aim.Point)
	if !ok {
		return r, &UnknownPoint{aim.Point}
	}
	switch {
	case what == atPoint:
		r.Point = b.Plan.Points[point].Name // a drawing label becomes the board's
		if r.Quantity == "" {
			r.Quantity = sheet.AC
		}
	case (what == atRail || what == atControl) && r.Quantity == "":
		line, _ := b.Plan.LineIndex(aim.Point)
		r.Quantity = b.Plan.LineReads(line)
	case what == atFuse:
		r.Quantity = sheet.Resistance
	}
	switch what {
	case atPoint:
		if r.Injected == nil && b.reached(point) {
			r.Injected = b.Entry(b.Route)
		}
	case atRail, atControl, atFuse:
		r.Injected = nil // a supply does not depend on the signal
	case onTrack:
		r.Quantity = sheet.TrackVolts
	case onPart:
		r.Quantity = sheet.Temperature
	}
	if r.Quantity == sheet.TrackVolts && what != onTrack {
		return r, mend.Errorf("volts along a track are read at a place on the copper of a rail")
	}
	if r.Quantity != sheet.TrackVolts && !r.Quantity.Known() {
		return r, mend.Errorf("%q is not a quantity: use %s", r.Quantity, sheet.QuantityList())
	}
	entry, err := quantity.ParseEntry(text, r.Quantity.Unit())
	if err != nil {
		return r, err
	}
	if entry.Word != quantity.NoWord {
		if what == onTrack {
			return r, mend.Errorf("a place on the track is read in volts, for example 3.4m")
		}
		r.Word = entry.Word
		felt := r.Word == quantity.Warm || r.Word == quantity.Cold
		switch {
		case what == onPart && !felt:
			return r, mend.Errorf("what hangs on a rail is felt, warm or cold, or read in °C")
		case what == onPart:
			return r, nil
		case felt && what == atPoint:
			r.Quantity = sheet.Temperature
			return r, nil
		case felt:
			return r, mend.Errorf("what is warm or cold is a part: aim at it")
		}
		if r.Word == quantity.Open {
			return r, r.Power.MustBeOff("Ohms are read")
		}
		if what == atPoint && !(r.Quantity.OfSignal() && slices.Contains(ofAnAspect, r.Word)) {
			r.Quantity = sheet.AC
		}
		if line, ok := b.Plan.RailIndex(aim.Point); what == atRail && ok && b.Plan.Rails[line].Alternates {
			r.Quantity = sheet.AC
		}
		return r, nil
	}
	v := entry.Value
	r.SI, r.Form = v.SI, v.Form
	if err := r.settle(v, what); err != nil {
		return r, err
	}
	if r.Quantity == sheet.AC && r.Form == quantity.Unstated {
		r.Form = quantity.PeakPeak // of a rail: its ripple
		if what == atPoint {
			r.Form = b.formAt(point)
		} else if line, ok := b.Plan.RailIndex(r.Point); ok && b.Plan.Rails[line].Alternates {
			r.Form = quantity.RMS
		}
	}
	return r, nil
}

// ofAnAspect are the words that can be said of one aspect of a signal; all others are heard or
// seen of it as a whole.
var ofAnAspect = []quantity.Word{quantity.Nothing, quantity.Weak}

// entry names where a route's own signal is fed in, where the mode alone does not
// tell; nil where it does.
func (b Bench) Entry(route *sheet.Route) *Injection {
	if len(route.Points) == 0 {
		return nil
	}
	first := route.Points[0]
	for i := range b.Plan.Routes {
		if r := &b.Plan.Routes[i]; r.Mode == route.Mode && r.Points[0] != first && !b.Plan.Points[r.Points[0]].Source &&
			!b.Plan.Points[first].Source {
			return &Injection{At: b.Plan.Points[first].Name}
		}
	}
	return nil
}

// reached tells whether what is fed in at the entry of the route being traced comes past
// a point in its mode; a test pin beside all ways is not.
func (b Bench) reached(point int) bool {
	for i := range b.Plan.Routes {
		if r := &b.Plan.Routes[i]; r.Mode == b.Route.Mode && r.Points[0] == b.Route.Points[0] && slices.Contains(r.Points, point) {
			return true
		}
	}
	return false
}

// CheckWorked tells whether what is read can be worked meanwhile: a control whose
// voltage then the sheet states.
func (b Bench) CheckWorked(name string) error {
	line, ok := b.Plan.LineIndex(name)
	if !ok || line < len(b.Plan.Rails) {
		return mend.Errorf("%s is no control: only a control is worked while it is read", name)
	}
	if !b.Plan.Controls[line-len(b.Plan.Rails)].Moves {
		return mend.Errorf("the sheet does not say what %s becomes when it is worked: add it there first", name)
	}
	return nil
}

// settle lets the unit that was typed decide the quantity, and refuses what
// cannot be read there.
//
// Long: a case for each quantity and what does not go with it.
func (r *Reading) settle(v quantity.Value, what spot) error {
	switch {
	case what == onTrack && (v.Unit != quantity.Volt || v.Form != quantity.Unstated && v.Form != quantity.DC):
		return mend.Errorf("a place on the track is read in DC volts, for example 3.4m")
	case what == onTrack:
		r.Form = quantity.DC
		if r.Injected == nil || r.Injected.Level <= 0 {
			return mend.Errorf("say first where the current is fed into the track, and how much")
		}
		return r.Power.MustBeOff("Volts along the track are read")
	case what == onPart && v.Unit != quantity.Celsius:
		return mend.Errorf("what hangs on a rail is felt, warm or cold, or read in °C")
	case what == atFuse && v.Unit != quantity.Ohm:
		return mend.Errorf("a fuse is read in ohms, with the set off: type ohms, ok or none")
	case v.Unit == quantity.Hertz && r.Quantity == sheet.Deviation:
	case v.Unit == quantity.Hertz:
		r.Quantity = sheet.Frequency
	case v.Unit == quantity.Ampere:
		r.Quantity, r.Form = sheet.Current, quantity.Unstated
	case v.Unit == quantity.Watt:
		r.Quantity = sheet.Power
	case v.Unit == quantity.Ratio:
		r.Quantity = sheet.Distortion
	case v.Unit == quantity.Celsius:
		r.Quantity = sheet.Temperature
	case v.Unit == quantity.Ohm:
		r.Quantity = sheet.Resistance
	case v.Unit == quantity.Volt && v.Form == quantity.DC:
		r.Quantity = sheet.DC
	case v.Unit == quantity.Volt && v.Form != quantity.Unstated, v.Unit == quantity.Volt && r.Quantity != sheet.DC:
		r.Quantity = sheet.AC
	case v.Unit == quantity.Volt && v.Form == quantity.Unstated:
		r.Form = quantity.DC
	case v.Unit == quantity.Decibel:
		return mend.Errorf("a level in dB needs its reference: dBV, dBu, dBmV or dBm/50")
	default:
		return mend.Errorf("%s is not read at a point: type volts, hertz, ohms, amperes, watts, per cent, °C or a word", v.Unit.Name())
	}
	switch {
	case what == atControl && r.Quantity != sheet.DC && r.Quantity != sheet.Resistance:
		return mend.Errorf("a control is read in DC volts, a ground in ohms too: type volts, ok or none")
	case r.Quantity == sheet.AC && v.SI < 0:
		return mend.Errorf("a signal level has no sign. Is it a DC voltage? Then type it with dc behind")
	case v.SI < 0 && r.Quantity != sheet.DC && r.Quantity != sheet.Current && r.Quantity != sheet.Temperature:
		return mend.Errorf("%s is never below zero", v.Unit.Name())
	case r.Quantity == sheet.Resistance:
		return r.Power.MustBeOff("Ohms are read")
	}
	return nil
}

// formAt is the form the sheet states levels in at a point; rms otherwise.
func (b Bench) formAt(point int) quantity.Form {
	if e, ok := b.Plan.Expect(point, sheet.AC, b.Route.Mode); ok {
		return e.Value.Form
	}
	return quantity.RMS
}

// rms gives an AC reading in volts rms, given the shape expected there.
func (r *Reading) rms(shape quantity.Shape) (float64, error) {
	return shape.Convert(r.SI, r.Form, quantity.RMS)
}

// Understood writes the reading as it was read: "31 mV", "hum".
func (r *Reading) Understood() string {
	if r.Act != "" {
		return string(r.Act) + ": " + string(r.Word)
	}
	if seen, ok := quantity.SeenIn(r.Text); ok && r.Word != quantity.NoWord {
		return seen.String()
	}
	if r.Word != quantity.NoWord {
		return string(r.Word)
	}
	if r.Quantity == sheet.Frequency {
		return quantity.Frequency(r.SI)
	}
	v := quantity.Value{SI: r.SI, Unit: r.Quantity.Unit()}
	if r.Form != quantity.RMS && r.Form != quantity.DC {
		v.Form = r.Form
	}
	return v.Short(4)
}

// OfRound gives the readings of the round that is being traced, in order.
func (b Bench) OfRound(readings []Reading) []Reading {
	return slices.DeleteFunc(slices.Clone(readings), func(r Reading) bool { return r.Round != b.Round })
}
