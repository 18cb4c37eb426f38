package server

import (
	"net/http"

	"steptrace/core/job"
	"steptrace/core/symptom"
	"steptrace/internal/store"
)

// SymptomChoice is what can be noticed of a set, and at which of its blocks that points.
type SymptomChoice struct {
	symptom.Symptom
	PointsAt []symptom.Pointed `json:"pointsAt"`
}

// NotedSymptom is one that was noticed.
type NotedSymptom struct {
	symptom.Entry
	Says     string            `json:"says"`
	Shows    string            `json:"shows"`
	Look     []string          `json:"look"`
	PointsAt []symptom.Pointed `json:"pointsAt"`
	Earlier  bool              `json:"earlier"` // before the last repair
}

// SymptomsView is what the set of a job shows by itself. First is the sense to begin with.
type SymptomsView struct {
	Head
	Choices []SymptomChoice `json:"choices"`
	Noted   []NotedSymptom  `json:"noted"`
	First   symptom.Sense   `json:"first"`
	Whens   []Circumstance  `json:"whens"`
}

// Circumstance is one under which something is noticed, in words.
type Circumstance struct {
	When symptom.When `json:"when"`
	Says string       `json:"says"`
}

func (s *Server) symptoms(r *http.Request) (SymptomsView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return SymptomsView{}, err
	}
	plan := j.Sheet.Plan
	v := SymptomsView{Head: head(&j), First: symptom.First(plan), Whens: []Circumstance{}}
	for _, w := range symptom.Whens {
		v.Whens = append(v.Whens, Circumstance{w, w.Says()})
	}
	for _, x := range symptom.All {
		v.Choices = append(v.Choices, SymptomChoice{x, symptom.Noticed{Key: x.Key}.PointsAt(plan)})
	}
	v.Noted = notedSymptoms(&j)
	return v, nil
}

// noteSymptom takes down what was noticed. Until something was read or another route was chosen, the bench stands on
// the route that this points at.
func (s *Server) noteSymptom(r *http.Request) (SymptomsView, error) {
	number, err := intParam(r, "number")
	if err == nil {
		err = s.toLikeliest(r, number)
	}
	if err != nil {
		return SymptomsView{}, err
	}
	return s.symptoms(r)
}

// toLikeliest sets the bench of a job in which nothing was read yet to the route on which the fault is likeliest.
func (s *Server) toLikeliest(r *http.Request, number int) error {
	j, err := s.store.Job(r.Context(), number)
	if err != nil || len(j.Readings) > 0 || j.Finished != nil {
		return err
	}
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return nil
	}
	known, err := s.known(r, &j)
	if err != nil {
		return err
	}
	c.History = known.history
	route := c.Follows(nil)
	if route == c.Route {
		return nil
	}
	return s.store.SetBench(r.Context(), number, store.Bench{Route: route.Key, Instrument: j.Instrument, Way: j.Way})
}

// notedSymptoms lists what was noticed in a job, in order.
func notedSymptoms(j *store.Job) []NotedSymptom {
	out := []NotedSymptom{}
	rounds := j.Rounds()
	for _, e := range j.Symptoms {
		n := NotedSymptom{
			Entry:    e,
			Says:     e.Says(),
			Look:     []string{},
			PointsAt: e.PointsAt(j.Sheet.Plan),
			Earlier:  job.Earlier(rounds, e.At),
		}
		if of, ok := symptom.Of(e.Key); ok {
			n.Shows, n.Look = of.Shows, of.Look
		}
		out = append(out, n)
	}
	return out
}
