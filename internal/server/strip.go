package server

import (
	"net/http"
	"time"

	"github.com/google/uuid"

	"steptrace/core/stripdown"
)

// StripView is how the set came apart, and how it goes together again.
type StripView struct {
	Head
	Sorts    []stripdown.Sort   `json:"sorts"`
	Steps    []StepView         `json:"steps"` // as they were taken down, the struck ones too
	Assembly stripdown.Assembly `json:"assembly"`
}

// StepView is a step with its line.
type StepView struct {
	stripdown.Step
	Says string `json:"says"`
}

func (s *Server) strip(r *http.Request) (StripView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return StripView{}, err
	}
	steps := j.Pictured()
	v := StripView{Head: head(&j), Sorts: stripdown.Sorts(), Assembly: stripdown.Reassemble(steps, j.Returns)}
	for _, x := range steps {
		v.Steps = append(v.Steps, StepView{x, x.Says()})
	}
	return v, nil
}

// Line is a step as typed.
type Line struct {
	ID   string           `json:"id"`
	Kind stripdown.Undone `json:"kind"`
	Text string           `json:"text"`
}

func (s *Server) takeApart(r *http.Request, req Line) (StripView, error) {
	number, err := intParam(r, "number")
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return StripView{}, err
	}
	x, err := stripdown.Read(req.Kind, req.Text)
	if err != nil {
		return StripView{}, err
	}
	x.ID, x.Taken = req.ID, time.Now()
	if err := s.store.Note(r.Context(), number, &x, nil); err != nil {
		return StripView{}, err
	}
	return s.strip(r)
}

// LineRead is what a line is understood as.
type LineRead struct {
	Says    string `json:"says"`
	Mind    string `json:"mind"`
	Problem string `json:"problem"`
}

func (s *Server) readLine(_ *http.Request, req Line) (LineRead, error) {
	x, err := stripdown.Read(req.Kind, req.Text)
	if err != nil {
		return LineRead{Problem: err.Error()}, nil
	}
	return LineRead{Says: x.Says(), Mind: x.Mind}, nil
}

// Count is how many of a step went back in.
type Count struct {
	Count int `json:"count"`
}

func (s *Server) putBack(r *http.Request, req Count) (StripView, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return StripView{}, err
	}
	back := stripdown.Return{ID: uuid.NewString(), Step: param(r, "id"), Count: req.Count, At: time.Now()}
	if err := s.note(r, number, &back, nil); err != nil {
		return StripView{}, err
	}
	return s.strip(r)
}
