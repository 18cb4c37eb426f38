package server

import (
	"fmt"
	"net/http"
	"strings"
	"time"

	"steptrace/core/exchange"
	"steptrace/core/job"
	"steptrace/core/training"
)

// caseFile gives a case as a file, its answer sealed.
func (s *Server) caseFile(w http.ResponseWriter, r *http.Request) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	attach(w, "application/json", fmt.Sprintf("case-%d.json", d.Number), d.Case.WriteFile())
	return nil
}

// importCase takes one over, to be worked here.
func (s *Server) importCase(w http.ResponseWriter, r *http.Request) (Opened, error) {
	if err := s.trains(); err != nil {
		return Opened{}, err
	}
	data, err := body(w, r, maxFile)
	if err != nil {
		return Opened{}, err
	}
	c, err := training.ReadFile(data)
	if err != nil {
		return Opened{}, err
	}
	number, err := s.store.AddDrawn(r.Context(), &job.Job{Complaint: c.Told.Complaint, Opened: time.Now()}, c.Manual, c)
	if err == nil {
		err = s.toLikeliest(r, number)
	}
	return Opened{number}, err
}

// resultFile gives what a case that has ended came to as a file, under the name that is typed.
func (s *Server) resultFile(w http.ResponseWriter, r *http.Request) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	who := strings.TrimSpace(r.URL.Query().Get("who"))
	switch {
	case d.Progress.Ended == nil:
		return problem(http.StatusConflict, "Not ended", "What it came to is there once it has ended.")
	case who == "" || len(who) > maxID:
		return problem(
			http.StatusUnprocessableEntity,
			"Whose is it",
			"Type the name under which the teacher knows you, up to 64 letters.",
		)
	}
	result := d.Case.Result(d.Case.Review(d.job.Sheet.Plan, &d.job.Job, &d.Progress), who, *d.Progress.Ended)
	attach(w, "application/json", fmt.Sprintf("result-%d.json", d.Number), exchange.Encode(result))
	return nil
}

// readResult reads a result file for the teacher; it is kept nowhere.
func (s *Server) readResult(w http.ResponseWriter, r *http.Request) (training.Result, error) {
	if err := s.trains(); err != nil {
		return training.Result{}, err
	}
	data, err := body(w, r, maxBody)
	if err != nil {
		return training.Result{}, err
	}
	return training.ReadResult(data)
}
