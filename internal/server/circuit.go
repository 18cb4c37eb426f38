package server

import (
	"errors"
	"fmt"
	"net/http"

	"steptrace/core/circuit"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/wave"
)

// CircuitQuestion is a stage's circuit to be solved, the frequencies (as typed) at which
// its small signals are asked for, how it is driven in time, and what was read in it. Rows
// stand instead of its parts: part, kind, nodes, value, others, package.
type CircuitQuestion struct {
	Circuit     circuit.Circuit       `json:"circuit,omitzero"`
	Rows        [][]string            `json:"rows,omitempty"`
	Frequencies []string              `json:"frequencies,omitempty"`
	Drive       *CircuitDrive         `json:"drive,omitempty"`
	Readings    []circuit.NodeReading `json:"readings,omitempty"`
}

// CircuitDrive is a signal in time: its shape, peak and frequency as typed (no peak: what
// swings by itself, or the mains), and over how long it is followed after how long.
type CircuitDrive struct {
	Shape quantity.Shape `json:"shape,omitempty"`
	Peak  string         `json:"peak,omitempty"`
	Hz    string         `json:"hz,omitempty"`
	After string         `json:"after,omitempty"`
	Span  string         `json:"span"`
}

// CircuitAnswer is its state of rest, drawn, its responses and its course in time, and the
// faults that explain what was read, the likeliest first; or what keeps it from being solved.
type CircuitAnswer struct {
	Problems  []circuit.Problem  `json:"problems"`
	Rest      *circuit.Rest      `json:"rest" jsonschema:"nullable"`
	Figure    *circuit.Figure    `json:"figure" jsonschema:"nullable"`
	Swing     float64            `json:"swing"` // Hz, 0: it does not
	Responses []circuit.Response `json:"responses"`
	Course    []CircuitCourse    `json:"course"`
	Diagnosis *circuit.Diagnosis `json:"diagnosis,omitempty"`
}

// CircuitCourse is a node in time: samples at equal intervals (s), and what they measure.
type CircuitCourse struct {
	Node     string        `json:"node"`
	Interval float64       `json:"interval"`
	Samples  []float64     `json:"samples"`
	Figures  []wave.Figure `json:"figures"`
}

const (
	mostFrequencies, mostCircuitReadings = 500, 200
	coursePoints                         = 1001
)

func (s *Server) circuit(r *http.Request, req CircuitQuestion) (CircuitAnswer, error) {
	out := CircuitAnswer{Problems: []circuit.Problem{}, Responses: []circuit.Response{}, Course: []CircuitCourse{}}
	if len(req.Rows) > 0 {
		req.Circuit = circuit.Circuit{Format: circuit.Format, Version: circuit.Version, Parts: partsOf(req.Rows)}
	}
	if req.Circuit.Format != circuit.Format || req.Circuit.Version != circuit.Version {
		return out, problem(
			http.StatusUnprocessableEntity,
			"Not a circuit",
			fmt.Sprintf("A circuit has the format %q and the version %d. docs/formats.md shows one.", circuit.Format, circuit.Version),
		)
	}
	if len(req.Frequencies) > mostFrequencies {
		return out, problem(
			http.StatusUnprocessableEntity,
			"Too many",
			fmt.Sprintf("Ask for up to %d frequencies at a time.", mostFrequencies),
		)
	}
	hz := make([]float64, len(req.Frequencies))
	for i, text := range req.Frequencies {
		if err := values(wanted{"frequency", text, quantity.Hertz, &hz[i]}); err != nil || !(hz[i] > 0 && hz[i] < 1e12) {
			return out, problem(
				http.StatusUnprocessableEntity,
				"Not a frequency",
				fmt.Sprintf("%q is no frequency above zero: write for example 1 kHz.", text),
			)
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
	rest, err := resting(net)
	if errors.Is(err, circuit.ErrUnsettled) {
		out.Problems = append(out.Problems, circuit.Problem{Where: "the circuit", Message: err.Error()})
		return out, nil
	}
	if err == nil {
		figure := net.Figure(rest)
		out.Rest, out.Figure, out.Swing = rest, &figure, net.Swing(rest)
		out.Responses, err = net.Respond(rest, hz)
	}
	if err == nil && req.Drive != nil {
		out.Course, err = course(net, rest, req.Drive)
	}
	if err == nil && len(req.Readings) > 0 {
		if out.Diagnosis, problems = req.Circuit.Diagnose(r.Context(), req.Readings, circuit.Past{}); problems != nil {
			out.Problems = problems
		}
	}
	return out, err
}

// resting is how a circuit stands; of one that runs by itself, the mean of a turn, which meters show.
func resting(net *circuit.Net) (*circuit.Rest, error) {
	if net.Runs() {
		if _, mean, ok := net.Standing(); ok {
			return mean, nil
		}
	}
	return net.Rest()
}

// course follows a circuit in time.
func course(net *circuit.Net, rest *circuit.Rest, d *CircuitDrive) ([]CircuitCourse, error) {
	drive := circuit.Drive{Shape: d.Shape}
	var after, span float64
	err := values(
		wanted{"peak", d.Peak, quantity.Volt, &drive.Peak},
		wanted{"hz", d.Hz, quantity.Hertz, &drive.Hz},
		wanted{"after", d.After, quantity.Second, &after},
		wanted{"span", d.Span, quantity.Second, &span},
	)
	if err != nil {
		return nil, err
	}
	if !(span > 0 && span <= 100) || after < 0 || after > 100 || drive.Peak < 0 || drive.Peak > 0 && !(drive.Hz > 0) {
		return nil, problem(
			http.StatusUnprocessableEntity,
			"No such course",
			"Say a span above zero, up to 100 s, and with a peak also its frequency.",
		)
	}
	c, err := net.Follow(rest, drive, after, span, coursePoints)
	if err != nil {
		return nil, problem(http.StatusUnprocessableEntity, "Not followed", mend.Sentence(err.Error()))
	}
	out := []CircuitCourse{}
	for _, node := range net.Nodes {
		ch := wave.Channel{Samples: c.Volts[node], Unit: "V"}
		out = append(out, CircuitCourse{node, 1 / c.Rate, c.Volts[node], ch.Measure(c.Rate, wave.Site{}).List})
	}
	return out, nil
}
