package server

import (
	"fmt"
	"net/http"
	"time"

	"steptrace/core/intake"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/internal/store"
)

// Head is what every view of a job shows on top.
type Head struct {
	Number    int          `json:"number"`
	Set       string       `json:"set"`
	SheetID   int64        `json:"sheetId"`
	Complaint string       `json:"complaint"`
	Opened    time.Time    `json:"opened"`
	Finished  *time.Time   `json:"finished" jsonschema:"nullable"`
	Power     safety.Power `json:"power"`
	// Problems are the cells of its sheet that cannot be read: what needs them is left out.
	Problems []sheet.Problem `json:"problems"`
	// Before is what has to be read before power goes on again.
	Before []string `json:"before"`
	// Done are the views whose work is done; Next is the one that comes next, if any.
	Done []string `json:"done"`
	Next string   `json:"next"`
	// Owned: it is noted whose the set is, which a copy may leave out.
	Owned bool `json:"owned"`
	// Counts is how many entries of each kind stand.
	Counts map[string]int `json:"counts"`
}

func head(j *store.Job) Head {
	h := Head{
		Number:    j.Number,
		Set:       j.Sheet.Document.Name(),
		SheetID:   j.Sheet.ID,
		Complaint: j.Complaint,
		Opened:    j.Opened,
		Finished:  j.Finished,
		Power:     j.Power(j.Sheet.Plan),
		Counts:    j.Counts(),
		Owned:     intake.Owned(j.Intake.Texts()),
	}
	h.Done, h.Next = j.Progress(j.Sheet.Plan, nil)
	for _, p := range j.Sheet.Problems {
		if p.Severity == sheet.Blocking {
			h.Problems = append(h.Problems, p)
		}
	}
	if c, ok := j.Case(j.Sheet.Plan); ok && c.Round > 0 && j.Finished == nil {
		h.Before = c.BeforePower(j.Plain(j.Sheet.Plan))
	}
	return h
}

// sent checks the id that a sender made, so that sending twice does no harm.
func sent(id string) error {
	if id == "" || len(id) > maxID {
		return problem(
			http.StatusUnprocessableEntity,
			"No id",
			fmt.Sprintf("This needs an id of 1 to %d characters, made by the sender, so that sending it twice does no harm.", maxID),
		)
	}
	return nil
}
