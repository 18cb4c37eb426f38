package server

import (
	"net/http"
	"slices"
	"strings"

	"steptrace/core/inside"
	"steptrace/core/trace"
	"steptrace/core/training"
	"steptrace/internal/store"
)

// Advice is taken out of what the routes of real work show, until it is asked for.

// quiet takes the advice out of what a job shows where it is not to be seen.
func (s *Server) quiet(r *http.Request, v *JobView) error {
	d, err := s.drilled(r)
	if err != nil || d.told() || v.Findings == nil {
		return err
	}
	f := v.Findings
	f.Conclusion = trace.Conclusion{
		State: trace.Tracing, Headline: "No advice: what the readings say is for you to judge.",
		Reasons: []string{}, Grounds: []trace.Ground{},
		Options: f.Options[:0],
	}
	if d.Case.Advice == training.Asked {
		f.Headline = "No advice, until you ask for it: what the readings say is for you to judge."
	}
	f.Notices, f.Manual, f.Ways, f.Verify = []string{}, f.Manual[:0], f.Ways[:0], []trace.Ground{}
	for i := range f.Stages {
		f.Stages[i].Standing, f.Stages[i].Weight = trace.Open, 0
		f.Stages[i].Reasons, f.Stages[i].Speaks = []string{}, []trace.Speak{}
	}
	for i := range f.Points {
		f.Points[i].IfGood, f.Points[i].IfBad = "", ""
	}
	for i := range f.Map {
		f.Map[i].Standing, f.Map[i].Condemned = trace.Open, false
	}
	for _, lines := range [][]trace.LineFinding{f.Rails, f.Controls} {
		for i := range lines {
			lines[i].Weight = 0
		}
	}
	v.Offers = v.Offers[:0]
	return nil
}

// quietInside takes it out of what is looked into: what stands where is there to be judged, and not which part that makes it.
func (s *Server) quietInside(r *http.Request, v *InsideView) error {
	d, err := s.drilled(r)
	if err != nil || d.told() {
		return err
	}
	x := &v.View
	x.Says, x.Diagnosis, x.Doubt, x.Grounds = "No advice: which part it is, is for you to judge.", nil, nil, []inside.Ground{}
	x.Parts = slices.Clone(x.Parts) // they are kept for whoever looks again
	for i := range x.Parts {
		x.Parts[i].Weight = 0
	}
	for i := range v.Stages {
		v.Stages[i].Belief = 0
	}
	slices.SortStableFunc(v.Stages, func(a, b inside.Listed) int {
		if a.Circuit != b.Circuit {
			return map[bool]int{true: -1, false: 1}[a.Circuit]
		}
		return strings.Compare(a.Stage, b.Stage)
	})
	return nil
}

// stageOf is the stage that is looked into where none is asked for: in practice without advice not that which the trace names, but the
// first that has a circuit.
func (s *Server) stageOf(r *http.Request, j *store.Job) (string, error) {
	stage := r.URL.Query().Get("stage")
	if s.training == nil || stage != "" {
		return stage, nil
	}
	d, err := s.drilled(r)
	if err == nil && !d.told() && len(j.Sheet.Plan.Circuits) > 0 {
		stage = j.Sheet.Plan.Circuits[0].Stage
	}
	return stage, err
}

// quietIntake takes it out of the intake.
func (s *Server) quietIntake(r *http.Request, v *IntakeView) error {
	d, err := s.drilled(r)
	if err != nil || d.told() || v.Matrix == nil {
		return err
	}
	m := v.Matrix
	m.Left, m.Best, m.Clash, v.Probe, v.Offers = m.Left[:0], nil, m.Clash[:0], nil, v.Offers[:0]
	for i := range m.Rows {
		for k := range m.Rows[i].Cells {
			c := &m.Rows[i].Cells[k]
			c.Clears, c.Leaves, c.Partly, c.Bits = c.Clears[:0], c.Leaves[:0], c.Partly[:0], 0
		}
	}
	return nil
}
