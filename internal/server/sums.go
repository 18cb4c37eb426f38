package server

import (
	"fmt"
	"net/http"

	"steptrace/core/quantity"
	"steptrace/core/safety"
	"steptrace/core/supply"
)

// Quick sums: computations that need no job, with values as typed.

// wanted is a value of a question: its name, the text, its unit, where it goes.
type wanted struct {
	name, text string
	unit       quantity.Unit
	to         *float64
}

// values reads values as typed; an empty one stays zero. An error says which.
func values(list ...wanted) error {
	for _, x := range list {
		if x.text == "" {
			continue
		}
		v, err := quantity.ParseAs(x.text, x.unit)
		if err != nil {
			return fmt.Errorf("%s: %w", x.name, err)
		}
		*x.to = v.SI
	}
	return nil
}

// DischargeQuestion is a capacitor to be emptied. Bleeder and Through may be empty.
type DischargeQuestion struct {
	Farads  string `json:"farads"`
	Volts   string `json:"volts"`
	Below   string `json:"below"`
	Seconds string `json:"seconds"`
	Bleeder string `json:"bleeder"`
	Through string `json:"through"`
}

func (s *Server) discharge(_ *http.Request, req DischargeQuestion) (safety.Discharge, error) {
	var farads, volts, below, seconds, bleeder, through float64
	err := values(
		wanted{"farads", req.Farads, quantity.Farad, &farads},
		wanted{"volts", req.Volts, quantity.Volt, &volts},
		wanted{"below", req.Below, quantity.Volt, &below},
		wanted{
			"seconds",
			req.Seconds,
			quantity.Second,
			&seconds,
		},
		wanted{"bleeder", req.Bleeder, quantity.Ohm, &bleeder},
		wanted{"through", req.Through, quantity.Ohm, &through},
	)
	if err != nil {
		return safety.Discharge{}, err
	}
	return safety.Plan(farads, volts, below, seconds, bleeder, through)
}

// RippleQuestion asks for the capacitance that a ripple leaves.
type RippleQuestion struct {
	Load      string `json:"load"`
	Frequency string `json:"frequency"`
	Ripple    string `json:"ripple"` // peak to peak
}

// RippleAnswer is that capacitance, in farads and as it is read.
type RippleAnswer struct {
	Farads float64 `json:"farads"`
	Text   string  `json:"text"`
}

func (s *Server) ripple(_ *http.Request, req RippleQuestion) (RippleAnswer, error) {
	var load, hz, ripple float64
	if err := values(wanted{"load", req.Load, quantity.Ampere, &load}, wanted{"frequency", req.Frequency, quantity.Hertz, &hz},
		wanted{"ripple", req.Ripple, quantity.Volt, &ripple}); err != nil {
		return RippleAnswer{}, err
	}
	farads := supply.CapacitanceLeft(load, hz, ripple)
	if farads == 0 {
		return RippleAnswer{}, problem(
			http.StatusUnprocessableEntity,
			"No ripple",
			"Load, frequency and ripple are needed, and all above zero: for example 350 mA, 100 Hz, 2.4 Vpp.",
		)
	}
	return RippleAnswer{farads, quantity.Capacitance(farads)}, nil
}

// ShortQuestion is copper with millivolts read along it. Before indexes the
// places; -1 for the first. Volts are as typed, empty where nothing was read.
type ShortQuestion struct {
	Places []ShortPlace `json:"places"`
	Feed   int          `json:"feed"`
	Amps   string       `json:"amps"`
}

// ShortPlace is one place: which it comes after, the copper's resistance from
// there, and the voltage read.
type ShortPlace struct {
	Before int    `json:"before"`
	Ohms   string `json:"ohms"`
	Volts  string `json:"volts"`
}

func (s *Server) short(_ *http.Request, req ShortQuestion) (supply.Found, error) {
	var amps float64
	if err := values(wanted{"amps", req.Amps, quantity.Ampere, &amps}); err != nil {
		return supply.Found{}, err
	}
	copper := make([]supply.Segment, len(req.Places))
	read := map[int]float64{}
	for i, p := range req.Places {
		if p.Before < -1 || p.Before >= i {
			return supply.Found{}, problem(
				http.StatusUnprocessableEntity,
				"No copper",
				fmt.Sprintf("Place %d comes after place %d: list the places from the supply outwards, the first with -1.", i, p.Before),
			)
		}
		name := fmt.Sprintf("place %d", i)
		copper[i].Before = p.Before
		var volts float64
		if err := values(wanted{name, p.Ohms, quantity.Ohm, &copper[i].Ohms}, wanted{name, p.Volts, quantity.Volt, &volts}); err != nil {
			return supply.Found{}, err
		}
		if p.Before >= 0 && copper[i].Ohms <= 0 {
			return supply.Found{}, problem(
				http.StatusUnprocessableEntity,
				"No copper",
				fmt.Sprintf("The copper to place %d has a resistance above zero, for example 4 mΩ.", i),
			)
		}
		if p.Volts != "" {
			read[i] = volts
		}
	}
	return supply.Locate(copper, req.Feed, amps, read)
}
