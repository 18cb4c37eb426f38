package server

import (
	"errors"
	"fmt"
	"net/http"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
)

// CircuitQuestion is a stage's circuit to be solved, the frequencies (as typed) at which
// its small signals are asked for, and what was read in it.
type CircuitQuestion struct {
	Circuit     circuit.Circuit   `json:"circuit"`
	Frequencies []string          `json:"frequencies,omitempty"`
	Readings    []circuit.Reading `json:"readings,omitempty"`
}

// CircuitAnswer is its state of rest and its responses, and the faults that explain what
// was read, the likeliest first; or what keeps it from being solved.
type CircuitAnswer struct {
	Problems  []circuit.Problem  `json:"problems"`
	Rest      *circuit.Rest      `json:"rest" jsonschema:"nullable"`
	Responses []circuit.Response `json:"responses"`
	Faults    []circuit.Ranked   `json:"faults"`
}

const mostFrequencies, mostCircuitReadings = 500, 200

func (s *Server) circuit(_ *http.Request, req CircuitQuestion) (CircuitAnswer, error) {
	out := CircuitAnswer{Problems: []circuit.Problem{}, Responses: []circuit.Response{}, Faults: []circuit.Ranked{}}
	if req.Circuit.Format != circuit.Format || req.Circuit.Version != circuit.Version {
		return out, problem(http.StatusUnprocessableEntity, "Not a circuit", fmt.Sprintf("A circuit has the format %q and the version %d. docs/formats.md shows one.", circuit.Format, circuit.Version))
	}
	if len(req.Frequencies) > mostFrequencies {
		return out, problem(http.StatusUnprocessableEntity, "Too many", fmt.Sprintf("Ask for up to %d frequencies at a time.", mostFrequencies))
	}
	hz := make([]float64, len(req.Frequencies))
	for i, text := range req.Frequencies {
		if err := values(wanted{"frequency", text, quantity.Hertz, &hz[i]}); err != nil || !(hz[i] > 0 && hz[i] < 1e12) {
			return out, problem(http.StatusUnprocessableEntity, "Not a frequency", fmt.Sprintf("%q is no frequency above zero: write for example 1 kHz.", text))
		}
	}
	if len(req.Readings) > mostCircuitReadings {
		return out, problem(http.StatusUnprocessableEntity, "Too many", fmt.Sprintf("Give up to %d readings.", mostCircuitReadings))
	}
	net, problems := req.Circuit.Read()
	if len(problems) > 0 {
		out.Problems = problems
		return out, nil
	}
	rest, err := net.Rest()
	if errors.Is(err, circuit.ErrUnsettled) {
		out.Problems = append(out.Problems, circuit.Problem{Where: "the circuit", Message: err.Error()})
		return out, nil
	}
	if err == nil {
		out.Rest = rest
		out.Responses, err = net.Respond(rest, hz)
	}
	if err == nil && len(req.Readings) > 0 {
		out.Faults, out.Problems = req.Circuit.Rank(req.Readings)
		if out.Problems == nil {
			out.Problems = []circuit.Problem{}
		}
		if out.Faults == nil {
			out.Faults = []circuit.Ranked{}
		}
	}
	return out, err
}
