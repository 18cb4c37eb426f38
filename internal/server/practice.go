package server

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"slices"
	"sync"

	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
	"steptrace/internal/desk"
	"steptrace/internal/instrument"
)

// practice is a bench of simulated instruments, and what is wrong with the simulated
// set of each job.
type practice struct {
	desk   *desk.Desk
	mu     sync.Mutex
	faults map[int]standin.Fault
	hidden map[int]bool
}

// Practise lets a bench of stand-ins be used, with the faults that the sets of some jobs
// have; they are not told.
func (s *Server) Practise(d *desk.Desk, list []instrument.Instrument, faults map[int]standin.Fault) {
	s.practice = &practice{desk: d, faults: map[int]standin.Fault{}, hidden: map[int]bool{}}
	for number, f := range faults {
		s.practice.faults[number], s.practice.hidden[number] = f, true
	}
	for _, in := range list {
		s.bench.Put(in)
	}
}

// faultOf is what is wrong with the simulated set of a job.
func (p *practice) faultOf(number int) standin.Fault {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.faults[number]
}

// connect puts a job's set on the desk as it is now.
func (p *practice) connect(plan *sheet.Plan, hands desk.Hands) error {
	set, err := standin.New(plan, p.faultOf(hands.Job))
	if err != nil {
		return problem(
			http.StatusUnprocessableEntity,
			"No such fault",
			err.Error()+". The sheet has changed: choose another fault for practice.",
		)
	}
	p.desk.Connect(set, hands)
	return nil
}

// PracticeView is how the practice bench stands for a job. Here: it is this job's set
// that is on it. The fault is told unless it is hidden.
type PracticeView struct {
	desk.Hands
	Generating string           `json:"generating"` // how the generator is set
	Here       bool             `json:"here"`
	Hidden     bool             `json:"hidden"`
	Fault      standin.Fault    `json:"fault"`
	Blocks     []string         `json:"blocks"`
	Capacitors []string         `json:"capacitors"` // that the tester's probes can be on
	Effects    []standin.Effect `json:"effects"`
}

func (s *Server) practiceView(number int, c trace.Case) PracticeView {
	p := s.practice
	hands := p.desk.Hands()
	p.mu.Lock()
	defer p.mu.Unlock()
	v := PracticeView{
		Hands:      hands,
		Generating: p.desk.Generating(),
		Here:       hands.Job == number,
		Hidden:     p.hidden[number],
		Blocks:     standin.Blocks(c.Plan),
		Capacitors: []string{},
		Effects:    standin.Effects,
	}
	for i := range c.Plan.Reservoirs {
		v.Capacitors = append(v.Capacitors, c.Plan.Reservoirs[i].Name)
	}
	if !v.Hidden {
		v.Fault = p.faults[number]
	}
	return v
}

// practising is the job in the address, where there is a practice bench.
func (s *Server) practising(r *http.Request) (number int, c trace.Case, err error) {
	if s.practice == nil {
		return 0, c, problem(
			http.StatusNotFound,
			"No practice bench",
			"This Step Trace runs without the simulated instruments. Start it with -practice, or with the demo.",
		)
	}
	if s.training != nil {
		return 0, c, problem(http.StatusConflict, "The set is as it is", "What is wrong with it was drawn, and is to be found.")
	}
	if c, err = s.tracing(r); err != nil {
		return 0, c, err
	}
	number, err = intParam(r, "number")
	return number, c, err
}

func (s *Server) seePractice(r *http.Request) (PracticeView, error) {
	number, c, err := s.practising(r)
	if err != nil {
		return PracticeView{}, err
	}
	return s.practiceView(number, c), nil
}

// Connected is where hands put the probes: at points, rails, controls or capacitors, and the
// generator where the conditions feed in. Generator: it is connected; otherwise the set
// has its own signal.
type Connected struct {
	Probe      string     `json:"probe"`
	Second     string     `json:"second,omitempty"`
	Generator  bool       `json:"generator"`
	Conditions Conditions `json:"conditions"`
}

func (s *Server) connect(r *http.Request, req Connected) (PracticeView, error) {
	number, base, err := s.practising(r)
	if err != nil {
		return PracticeView{}, err
	}
	c, err := req.Conditions.under(base)
	if err != nil {
		return PracticeView{}, err
	}
	hands := desk.Hands{Job: number, Mode: c.Route.Mode, On: on(c), Second: req.Second}
	for _, place := range []struct {
		name string
		to   *string
	}{{req.Probe, &hands.Probe}, {req.Second, &hands.Second}} {
		if place.name == "" {
			continue
		}
		*place.to = place.name
		point, isPoint := c.Plan.PointIndex(place.name)
		if isPoint {
			*place.to = c.Plan.Points[point].Name
		} else if _, line := c.Plan.LineIndex(place.name); !line && !c.Plan.InCircuit(place.name) && !slices.ContainsFunc(c.Plan.Reservoirs,
			func(r sheet.PlanReservoir) bool { return r.Name == place.name }) {
			return PracticeView{}, &reading.UnknownPoint{Name: place.name}
		}
	}
	if req.Generator {
		if len(c.Route.Points) > 0 {
			hands.Generator = c.Plan.Points[c.Route.Points[0]].Name
		}
		if c.Injected != nil {
			hands.Generator = c.Injected.At
		}
	}
	p := s.practice
	if other := s.soaks.uses(number, func(x *soaking) bool { return practises(x.plan.Plan) }); other != 0 {
		return PracticeView{}, inUse(other)
	}
	if now := p.desk.Hands(); now.Job == number { // the logger's inputs stay where they are
		hands.Inputs = now.Inputs
	}
	if err := p.connect(c.Plan, hands); err != nil {
		return PracticeView{}, err
	}
	return s.practiceView(number, c), nil
}

// on tells whether the set is on: where nothing was said it is taken for on.
func on(c trace.Case) bool { return c.Power == reading.PowerOn || c.Power == reading.PowerUnsaid }

// practiceReady sees to it that a reading that stand-ins are to take is of the job's own
// set, as it stands now, with the probe where it is said to be.
func (s *Server) practiceReady(number int, c trace.Case, point, second string) error {
	scope, _ := s.bench.First(instrument.Scope)
	meter, _ := s.bench.First(instrument.Meter)
	if s.practice == nil || !scope.StandIn || !meter.StandIn {
		return nil
	}
	p := s.practice
	hands := p.desk.Hands()
	for _, probe := range []struct{ name, is, wanted string }{{"probe", hands.Probe, point}, {"second probe", hands.Second, second}} {
		if probe.wanted == "" || hands.Job == number && probe.is == probe.wanted {
			continue
		}
		where := "nowhere"
		if hands.Job == number && probe.is != "" {
			where = "on " + probe.is
		}
		return problem(
			http.StatusUnprocessableEntity,
			"The practice probe",
			fmt.Sprintf("The practice %s is %s. Put it on %s first (key b), as hands would.", probe.name, where, probe.wanted),
		)
	}
	hands.Mode, hands.On = c.Route.Mode, on(c)
	return p.connect(c.Plan, hands)
}

// Practising chooses what is wrong with the simulated set: a fault, or one that is drawn
// and not told; or tells it.
type Practising struct {
	Fault  standin.Fault `json:"fault"`
	Draw   bool          `json:"draw"`
	Reveal bool          `json:"reveal"`
}

func (s *Server) choosePractice(r *http.Request, req Practising) (PracticeView, error) {
	number, c, err := s.practising(r)
	if err != nil {
		return PracticeView{}, err
	}
	p := s.practice
	fault, hidden := req.Fault, false
	p.mu.Lock()
	if req.Reveal {
		fault = p.faults[number]
	}
	p.mu.Unlock()
	if req.Draw { // what the route being traced has: what is traced is to be found there
		stage := &c.Plan.Stages[c.Route.Stages[rand.IntN(len(c.Route.Stages))]]
		effects := standin.EffectsOf(c.Plan, stage.Name)
		fault, hidden = standin.Fault{Block: stage.Name, Effect: effects[rand.IntN(len(effects))]}, true
	}
	if _, err := standin.New(c.Plan, fault); err != nil {
		return PracticeView{}, problem(http.StatusUnprocessableEntity, "No such fault", err.Error())
	}
	p.mu.Lock()
	p.faults[number], p.hidden[number] = fault, hidden
	p.mu.Unlock()
	if hands := p.desk.Hands(); hands.Job == number {
		if err := p.connect(c.Plan, hands); err != nil {
			return PracticeView{}, err
		}
	}
	return s.practiceView(number, c), nil
}
