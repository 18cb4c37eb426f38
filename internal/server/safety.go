package server

import (
	"net/http"
	"strings"
	"time"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/safety"
)

// ReservoirView is a reservoir with the sums of its discharge, and what was
// measured of it since the set was switched off.
type ReservoirView struct {
	Name      string           `json:"name"`
	Rail      string           `json:"rail"`
	Note      string           `json:"note"`
	Farads    string           `json:"farads"`
	Volts     string           `json:"volts"`
	Bleeder   string           `json:"bleeder"`
	Discharge safety.Discharge `json:"discharge"`
	Measured  string           `json:"measured"`
	Safe      bool             `json:"safe"`
}

// CautionView is a caution, and when it was ticked.
type CautionView struct {
	safety.Caution
	Ticked *time.Time `json:"ticked" jsonschema:"nullable"`
}

// SafetyView is what makes this set safe. Below, Seconds and Through are what
// the sums were made with, as typed.
type SafetyView struct {
	Head
	Cautions   []CautionView     `json:"cautions"`
	Deferral   string            `json:"deferral"`
	Reservoirs []ReservoirView   `json:"reservoirs"`
	Below      string            `json:"below"`
	Seconds    string            `json:"seconds"`
	Through    string            `json:"through"`
	Refused    []reading.Refusal `json:"refused"` // points above the rating of the instrument at hand
	Instrument string            `json:"instrument"`
}

// What the sums are made with until the person chooses otherwise.
const (
	usualBelow   = "10 V"
	usualSeconds = "5 s"
)

// choice reads an optional value of the address, as typed.
func choice(r *http.Request, name, usual string, unit quantity.Unit) (text string, x float64, err error) {
	if text = strings.TrimSpace(r.URL.Query().Get(name)); text == "" {
		text = usual
	}
	if text == "" {
		return "", 0, nil
	}
	v, err := quantity.ParseAs(text, unit)
	return text, v.SI, err
}

func (s *Server) safety(r *http.Request) (SafetyView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return SafetyView{}, err
	}
	plan := j.Sheet.Plan
	v := SafetyView{
		Head:       head(&j),
		Cautions:   []CautionView{},
		Deferral:   safety.Deferral,
		Reservoirs: []ReservoirView{},
		Refused:    []reading.Refusal{},
	}
	for _, c := range safety.Cautions(plan) {
		view := CautionView{Caution: c}
		for _, t := range v.Power.Ticked {
			if t.Key == c.Key {
				view.Ticked = &t.At
			}
		}
		v.Cautions = append(v.Cautions, view)
	}
	var below, seconds, through float64
	if v.Below, below, err = choice(r, "below", usualBelow, quantity.Volt); err != nil {
		return v, err
	}
	if v.Seconds, seconds, err = choice(r, "seconds", usualSeconds, quantity.Second); err != nil {
		return v, err
	}
	if v.Through, through, err = choice(r, "through", "", quantity.Ohm); err != nil {
		return v, err
	}
	for i := range plan.Reservoirs {
		c := &plan.Reservoirs[i]
		if c.Farads == 0 || c.Volts == 0 {
			continue // the sheet needs mending there, and says so
		}
		d, err := safety.Plan(c.Farads, c.Volts, below, seconds, c.BleederOhms, through)
		if err != nil {
			return v, err
		}
		measured := v.Power.Reservoirs[i]
		v.Reservoirs = append(
			v.Reservoirs,
			ReservoirView{
				Name:      c.Name,
				Rail:      c.Reservoir.Rail,
				Note:      c.Note,
				Farads:    quantity.Capacitance(c.Farads),
				Volts:     quantity.Rounded(c.Volts, quantity.Volt),
				Bleeder:   c.Bleeder,
				Discharge: d,
				Measured:  measured.Text,
				Safe:      measured.Safe,
			},
		)
	}
	if c, ok := j.Case(plan); ok {
		v.Instrument = reading.InstrumentFor(c.Instrument).Name
		v.Refused = c.Refusals()
	}
	return v, nil
}

// Happening is something done or measured to make the set safe. Confirmed says
// that a residual is what was measured of that reservoir.
type Happening struct {
	ID        string      `json:"id"`
	Kind      safety.What `json:"kind"`
	Subject   string      `json:"subject"`
	Text      string      `json:"text"`
	Confirmed bool        `json:"confirmed"`
}

func (s *Server) happen(r *http.Request, req Happening) (SafetyView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return SafetyView{}, err
	}
	if err := sent(req.ID); err != nil {
		return SafetyView{}, err
	}
	if s.training != nil && req.Kind == safety.Residual {
		if err := s.trainResidual(r, &req); err != nil {
			return SafetyView{}, err
		}
	}
	e, err := safety.Take(
		j.Sheet.Plan,
		j.Safety,
		safety.Event{ID: req.ID, Kind: req.Kind, Subject: req.Subject, Text: req.Text, At: time.Now()},
		req.Confirmed,
	)
	if err != nil {
		return SafetyView{}, err
	}
	if err := s.store.Note(r.Context(), j.Number, &e, nil); err != nil {
		return SafetyView{}, err
	}
	return s.safety(r)
}
