package server

import (
	"net/http"

	"steptrace/core/sheet"
	"steptrace/internal/store"
)

// The sheet grows at the bench: each change is a revision of the job's sheet, and can be taken back.

// ToGrow is a change of a job's sheet, made of the revision that the screen showed.
type ToGrow struct {
	Revision int `json:"revision"`
	sheet.Growth
}

// Grown is what became of it: the job, or, where only a preview was asked for, the names that are new.
type Grown struct {
	Job   *JobView `json:"job" jsonschema:"nullable"`
	Added []string `json:"added"`
	Gone  []string `json:"gone"`
}

func (s *Server) grow(r *http.Request, req ToGrow) (Grown, error) {
	return s.grown(r, req, r.URL.Query().Get("preview") == "")
}

// grown makes a change; where keep is not set, only to say what would become of it.
func (s *Server) grown(r *http.Request, req ToGrow, keep bool) (Grown, error) {
	out := Grown{Added: []string{}, Gone: []string{}}
	j, err := s.growing(r)
	if err != nil {
		return out, err
	}
	document, err := j.Sheet.Document.Grown(req.Growth)
	if err != nil {
		return out, err
	}
	out.Added, out.Gone = document.Beyond(j.Sheet.Document), j.Sheet.Document.Beyond(document)
	if !keep {
		return out, nil
	}
	if err := s.store.ChangeSheet(r.Context(), j.Sheet.ID, req.Revision, document); err != nil {
		return out, err
	}
	v, err := s.job(r)
	out.Job = &v
	return out, err
}

// growing loads a job whose sheet may change: one that is not finished.
func (s *Server) growing(r *http.Request) (store.Job, error) {
	j, err := load(r, s.store.Job)
	if err == nil && j.Finished != nil {
		err = problem(http.StatusConflict, "Finished", "This job is finished and keeps the sheet it was worked with. Reopen it first.")
	}
	return j, err
}

// Revised names the revision of the sheet that a screen showed.
type Revised struct {
	Revision int `json:"revision"`
}

func (s *Server) takeBack(r *http.Request, req Revised) (JobView, error) {
	j, err := s.growing(r)
	if err != nil {
		return JobView{}, err
	}
	err = s.store.TakeBack(r.Context(), j.Sheet.ID, req.Revision)
	if err == store.ErrNotFound {
		return JobView{}, problem(http.StatusConflict, "Nothing to take back", "The sheet is as it was at the beginning.")
	}
	if err != nil {
		return JobView{}, err
	}
	return s.job(r)
}
