package server

import (
	"net/http"
	"slices"
	"strconv"

	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/internal/store"
)

// Modified is a modification of a job's model: whether it has a circuit, and whether it was made in this set.
type Modified struct {
	sheet.Modification
	Drawn bool `json:"drawn"`
	Here  bool `json:"here"`
}

// modifications are those of a job's model.
func modifications(j *store.Job) []Modified {
	out := []Modified{}
	for _, m := range j.Sheet.Plan.Sheet.Modifications {
		_, drawn := j.Sheet.Plan.Circuit(m.What)
		here := m.Job == strconv.Itoa(j.Number) || slices.ContainsFunc(j.Repairs, func(e repair.Entry) bool {
			return !e.Struck && e.Repair != nil && e.Repair.Did == repair.Modified && e.Repair.Where == m.What
		})
		out = append(out, Modified{m, drawn, here})
	}
	return out
}

// NamedModification is a modification to be kept in a sheet; one of the same name is replaced. Revision is the sheet's that
// it was made from.
type NamedModification struct {
	Revision int `json:"revision"`
	sheet.Modification
}

// keepModification puts a modification into a sheet, so that the next set of the model has it.
func (s *Server) keepModification(r *http.Request, req NamedModification) (KeptCircuit, error) {
	x, err := s.loadSheet(r)
	if err != nil {
		return KeptCircuit{}, err
	}
	d, err := x.Document.Modified(req.Modification)
	if err != nil {
		return KeptCircuit{}, err
	}
	if err := s.store.ChangeSheet(r.Context(), x.ID, req.Revision, d); err != nil {
		return KeptCircuit{}, err
	}
	return KeptCircuit{req.Revision + 1}, nil
}
