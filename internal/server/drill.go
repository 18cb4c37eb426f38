package server

import (
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"steptrace/core/safety"
	"steptrace/core/training"
	"steptrace/internal/store"
)

// CaseView is how a case stands. Review is there once it has ended; before, with what was read so far and nothing of what is wrong.
type CaseView struct {
	Number  int              `json:"number"`
	Level   training.Level   `json:"level"`
	Advice  training.Advice  `json:"advice"`
	Told    bool             `json:"told"` // advice is shown now
	Minutes float64          `json:"minutes"`
	Warm    bool             `json:"warm"`
	Stopped int              `json:"stopped"`
	Ended   bool             `json:"ended"`
	Review  *training.Review `json:"review" jsonschema:"nullable"`
	Cells   []training.Heard `json:"cells"`                      // what can be listened to
	Fuses   []training.Fuse  `json:"fuses"`                      // what is printed beside their holders
	Last    *training.Taken  `json:"last" jsonschema:"nullable"` // what the last reading was worth, while advice is shown
}

// drilled is a case with its job.
type drilled struct {
	store.Drawn
	job store.Job
}

func (s *Server) drilled(r *http.Request) (drilled, error) {
	if err := s.trains(); err != nil {
		return drilled{}, err
	}
	j, err := load(r, s.store.Job)
	if err != nil {
		return drilled{}, err
	}
	d, err := s.store.Drawn(r.Context(), j.Number)
	if errors.Is(err, store.ErrNotFound) {
		err = problem(http.StatusNotFound, "No case", "This job is no case that was drawn. Choose one under Practise.")
	}
	return drilled{d, j}, err
}

// told tells whether advice is shown as it stands: all the time, or asked for since the last reading.
func (d *drilled) told() bool {
	asked := d.Progress.Asked
	return d.Case.Advice == training.Always || d.Progress.Ended != nil ||
		len(asked) > 0 && asked[len(asked)-1].Readings == len(d.job.Readings)
}

func (s *Server) seeCase(r *http.Request) (CaseView, error) {
	d, err := s.drilled(r)
	if err != nil {
		return CaseView{}, err
	}
	clock := d.Progress.Clock(d.job.Sheet.Plan, &d.job.Job)
	v := CaseView{
		Number: d.Number, Level: d.Case.Level, Advice: d.Case.Advice, Told: d.told(), Minutes: clock.Minutes, Warm: clock.Warm,
		Stopped: len(d.Progress.Stopped), Ended: d.Progress.Ended != nil, Cells: []training.Heard{}, Fuses: []training.Fuse{},
	}
	plan, err := d.Case.Plan()
	if err != nil {
		return v, err
	}
	v.Cells, v.Fuses = training.Hearable(plan), training.Fuses(plan)
	if last, ok := d.Case.Step(d.job.Sheet.Plan, &d.job.Job); ok && v.Told && !v.Ended {
		v.Last = &last
	}
	if v.Ended {
		v.Review = d.Case.Review(d.job.Sheet.Plan, &d.job.Job, &d.Progress)
	}
	return v, nil
}

// replay is a case that has ended as it stood once one of its readings had been taken.
func (s *Server) replay(r *http.Request) (training.Replay, error) {
	d, err := s.drilled(r)
	if err != nil {
		return training.Replay{}, err
	}
	if d.Progress.Ended == nil {
		return training.Replay{}, problem(http.StatusConflict, "It has not ended", "It is gone through again once it has ended.")
	}
	out, ok := training.ReplayOf(d.job.Sheet.Plan, &d.job.Job, chi.URLParam(r, "id"))
	if !ok {
		return out, problem(http.StatusNotFound, "No such reading", "This case has no such reading any more. Choose another of the list.")
	}
	return out, nil
}

// Drill is something that is done in a case besides the work: time let pass, advice asked for, the end.
type Drill struct {
	What    string  `json:"what" jsonschema:"enum=wait,enum=advice,enum=end"`
	Minutes float64 `json:"minutes,omitempty"`
}

// mostWait is how long is waited at a time, in minutes: a day.
const mostWait = 24 * 60

func (s *Server) drill(r *http.Request, req Drill) (CaseView, error) {
	d, err := s.drilled(r)
	if err != nil {
		return CaseView{}, err
	}
	if d.Progress.Ended != nil {
		return CaseView{}, problem(http.StatusConflict, "It has ended", "This case has ended: what it came to is told. Draw another.")
	}
	var do func(p *training.Progress, at time.Time) error
	switch req.What {
	case "wait":
		if !(req.Minutes > 0 && req.Minutes <= mostWait) {
			return CaseView{}, problem(http.StatusUnprocessableEntity, "How long", "Let some minutes pass, up to a day.")
		}
		do = func(p *training.Progress, at time.Time) error {
			p.Waits = append(p.Waits, training.Waited{At: at, Minutes: req.Minutes})
			return nil
		}
	case "advice":
		if d.Case.Advice == training.Hidden {
			return CaseView{}, problem(http.StatusConflict, "No advice", "This case is worked without advice, as it was chosen.")
		}
		do = func(p *training.Progress, at time.Time) error {
			if !d.told() {
				p.Asked = append(p.Asked, training.AskedFor{At: at, Readings: len(d.job.Readings)})
			}
			return nil
		}
	case "end":
		came := d.Case.Came(d.job.Sheet.Plan, &d.job.Job, d.Case.Review(d.job.Sheet.Plan, &d.job.Job, &d.Progress))
		do = func(p *training.Progress, at time.Time) error { p.Ended, p.Came = &at, came; return nil }
	default:
		return CaseView{}, problem(http.StatusUnprocessableEntity, "Not understood", "Say wait, advice or end.")
	}
	if err := s.store.PutProgress(r.Context(), d.Number, do); err != nil {
		return CaseView{}, err
	}
	return s.seeCase(r)
}

// heard gives what comes out of an exit as a sound.
func (s *Server) heard(w http.ResponseWriter, r *http.Request) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	if d.job.Power(d.job.Sheet.Plan).State != safety.Live {
		return problem(http.StatusConflict, "The set is off", "Nothing is to be heard: switch it on first (key o).")
	}
	b, _, err := d.bench()
	if err != nil {
		return err
	}
	q := r.URL.Query()
	data, err := b.Listen(q.Get("mode"), q.Get("entry"), q.Get("exit"), strings.TrimSpace(q.Get("signal")))
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "audio/wav")
	w.Header().Set("Cache-Control", "no-store")
	_, err = w.Write(data)
	return err
}
