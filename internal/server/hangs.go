package server

import (
	"net/http"
)

// Hangs is what hangs on a rail of a job's set and is not on its sheet yet: at a place of the
// rail's copper, or at its first.
type Hangs struct {
	Rail  string   `json:"rail"`
	Place string   `json:"place,omitempty"`
	Names []string `json:"names"`
}

// hang adds it to the sheet, for this job and the next of the model.
func (s *Server) hang(r *http.Request, req Hangs) (JobView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return JobView{}, err
	}
	document, err := j.Sheet.Document.Hang(j.Sheet.Plan, req.Rail, req.Place, req.Names)
	if err != nil {
		return JobView{}, problem(http.StatusUnprocessableEntity, "Not added", err.Error()+".")
	}
	if err := s.store.ChangeSheet(r.Context(), j.Sheet.ID, j.Sheet.Revision, document); err != nil {
		return JobView{}, err
	}
	return s.job(r)
}
