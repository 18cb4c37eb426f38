package safety

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// What is what an event says.
type What string

// Words implements exchange.Enumerated.
func (What) Words() []string {
	return exchange.WordsOf([]What{SwitchedOn, Standby, Off, Residual, Ticked, Unticked})
}

// What can happen: the set is switched, a residual voltage is measured, a
// caution is ticked off or taken back.
const (
	SwitchedOn What = "on"
	Standby    What = "standby"
	Off        What = "off" // and unplugged
	Residual   What = "residual"
	Ticked     What = "tick"
	Unticked   What = "untick"
)

// Event is one thing done or measured to make a set safe. Subject is a
// reservoir or a caution's key; Text is a residual as typed, SI its volts.
type Event struct {
	ID      string    `json:"id"`
	Kind    What      `json:"kind" jsonschema:"enum=on,enum=standby,enum=off,enum=residual,enum=tick,enum=untick"`
	Subject string    `json:"subject,omitempty"`
	Text    string    `json:"text,omitempty"`
	SI      float64   `json:"si,omitempty"`
	At      time.Time `json:"at"`
	Who     string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
}

// State is whether a set can hurt as it stands.
type State string

// Words implements exchange.Enumerated.
func (State) Words() []string {
	return exchange.WordsOf([]State{Unsaid, Live, InStandby, OffState, Discharged})
}

// The states. Unsaid: nobody has said yet how the set stands.
const (
	Unsaid     State = ""
	Live       State = "live"
	InStandby  State = "standby"
	OffState   State = "off"
	Discharged State = "discharged"
)

// SafeVolts is the residual voltage below which a reservoir counts as
// discharged. It is far below the 60 V that may be touched (IEC 62368-1, class
// 1): a charged capacitor also welds tips and kills semiconductors.
const SafeVolts = 10.0

// Reservoir is a reservoir with what was measured of it since the set was last
// switched off. Measured is nil where it was not.
type Reservoir struct {
	Name     string   `json:"name"`
	Measured *float64 `json:"measured" jsonschema:"nullable"`
	Text     string   `json:"text"`
	Safe     bool     `json:"safe"`
}

// Power is how a set stands, and what is missing before it is discharged.
type Power struct {
	State      State       `json:"state"`
	Since      *time.Time  `json:"since" jsonschema:"nullable"`
	Says       string      `json:"says"`
	Reservoirs []Reservoir `json:"reservoirs"`
	Ticked     []Tick      `json:"ticked"`
	Open       []string    `json:"open"` // titles of cautions not ticked
}

// Tick is a caution ticked off, and when.
type Tick struct {
	Key string    `json:"key"`
	At  time.Time `json:"at"`
}

// Stand works out how a set stands from all that happened, in order. Whatever
// was measured before the set was last live does not count.
func Stand(p *sheet.Plan, events []Event) Power {
	out := Power{Reservoirs: []Reservoir{}, Ticked: []Tick{}, Open: []string{}}
	measured := map[string]Event{}
	for _, e := range events {
		switch e.Kind {
		case SwitchedOn, Standby, Off:
			out.State = map[What]State{SwitchedOn: Live, Standby: InStandby, Off: OffState}[e.Kind]
			at := e.At
			out.Since = &at
			if e.Kind != Off {
				clear(measured)
			}
		case Residual:
			measured[e.Subject] = e
		case Ticked:
			out.untick(e.Subject)
			out.Ticked = append(out.Ticked, Tick{e.Subject, e.At})
		case Unticked:
			out.untick(e.Subject)
		}
	}
	var wait []string
	for i := range p.Reservoirs {
		r := Reservoir{Name: p.Reservoirs[i].Name}
		if e, ok := measured[r.Name]; ok && out.State == OffState {
			v := e.SI
			r.Measured, r.Text, r.Safe = &v, e.Text, max(v, -v) < SafeVolts
		}
		if !r.Safe {
			wait = append(wait, r.Name)
		}
		out.Reservoirs = append(out.Reservoirs, r)
	}
	if out.State == OffState && len(wait) == 0 && len(p.Reservoirs) > 0 {
		out.State = Discharged
	}
	for _, c := range Cautions(p) {
		if !slices.ContainsFunc(out.Ticked, func(t Tick) bool { return t.Key == c.Key }) {
			out.Open = append(out.Open, c.Title)
		}
	}
	out.say(wait)
	return out
}

func (p *Power) untick(key string) {
	p.Ticked = slices.DeleteFunc(p.Ticked, func(t Tick) bool { return t.Key == key })
}

func (p *Power) say(wait []string) {
	switch p.State {
	case Unsaid:
		p.Says = "Nobody has said yet whether the set is on. Take it for live before you reach in."
	case Live:
		p.Says = "The set is on: unplug and discharge it before you reach in."
	case InStandby:
		p.Says = "The mains is on and the set in standby: take it for live. Unplug and discharge it before you reach in."
	case Discharged:
		p.Says = fmt.Sprintf("Unplugged, and every reservoir was measured below %s.", quantity.Rounded(SafeVolts, quantity.Volt))
	case OffState:
		p.Says = "Unplugged. The sheet lists no reservoir: measure before you touch."
		if len(wait) > 0 {
			p.Says = fmt.Sprintf("Unplugged, but not shown discharged: measure %s.", strings.Join(wait, ", "))
		}
	}
}

// Reading is how the set stands for a reading.
func (p *Power) Reading() reading.Power {
	switch p.State {
	case Live:
		return reading.PowerOn
	case InStandby:
		return reading.PowerStandby
	case OffState, Discharged:
		return reading.PowerOff
	}
	return reading.PowerUnsaid
}

// Doubt asks whether a residual is really that of the reservoir: one of exactly nothing,
// or one that would replace what was measured of it before.
type Doubt struct{ Question string }

func (e *Doubt) Error() string { return e.Question }

// Mendable implements mend.Error.
func (e *Doubt) Mendable() {}

// doubt is what has to be confirmed before a residual is taken down; nil where nothing is.
func doubt(now Power, e Event) error {
	was := ""
	for _, r := range now.Reservoirs {
		if r.Name == e.Subject && r.Measured != nil {
			was = r.Text
		}
	}
	switch {
	case e.SI == 0:
		if was != "" {
			was = " It was measured already: " + was + "."
		}
		return &Doubt{
			fmt.Sprintf(
				"Was %s measured?%s A meter shows 0 V too when a tip does not touch. Put both tips on it, see the reading move, and "+
					"confirm that it is 0 V.",
				e.Subject,
				was,
			),
		}
	case was != "" && strings.TrimSpace(was) != strings.TrimSpace(e.Text):
		return &Doubt{
			fmt.Sprintf(
				"%s was measured already: %s. Is %s at %s now, and were the tips not on another capacitor?",
				e.Subject,
				was,
				e.Subject,
				quantity.Rounded(e.SI, quantity.Volt),
			),
		}
	}
	return nil
}

// Take checks an event before it is kept, against what happened before it, and
// reads a residual's text. Confirmed says that it is what was measured of that
// reservoir. Errors are those a person can mend (mend.Error), *Doubt or *quantity.ParseError.
func Take(p *sheet.Plan, before []Event, e Event, confirmed bool) (Event, error) {
	switch e.Kind {
	case SwitchedOn, Standby, Off:
		e.Subject, e.Text, e.SI = "", "", 0
		return e, nil
	case Ticked, Unticked:
		e.Text, e.SI = "", 0
		if !slices.ContainsFunc(Cautions(p), func(c Caution) bool { return c.Key == e.Subject }) {
			return e, mend.Errorf("%q is not among the cautions of this set", e.Subject)
		}
		return e, nil
	case Residual:
	default:
		return e, mend.Errorf("%q is not something that can be taken down here: use on, standby, off, residual, tick or untick", e.Kind)
	}
	i := slices.IndexFunc(p.Reservoirs, func(c sheet.PlanReservoir) bool { return c.Name == e.Subject })
	if i < 0 {
		return e, mend.Errorf("%q is not a reservoir of this set's sheet: add it there, with its capacitance and voltage", e.Subject)
	}
	now := Stand(p, before)
	if now.State == Live || now.State == InStandby {
		return e, mend.Errorf("a residual voltage is what is left with the set off. Switch it off and unplug it first, and say so")
	}
	v, err := quantity.ParseAs(e.Text, quantity.Volt)
	if err != nil {
		return e, err
	}
	if v.Form != quantity.Unstated && v.Form != quantity.DC {
		return e, mend.Errorf("a residual voltage is a DC voltage, for example 3.2 V")
	}
	e.SI = v.SI
	if confirmed {
		return e, nil
	}
	return e, doubt(now, e)
}

// Head implements entry.Entry.
func (e *Event) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Ends tells whether it is taken down of a finished job too: that it is off, and what is
// left on its capacitors.
func (e *Event) Ends() bool { return e.Kind == Off || e.Kind == Residual }
