package server

import (
	"cmp"
	"fmt"
	"net/http"
	"strings"

	"steptrace/core/chart"
	"steptrace/core/sheet"
)

// A voltage chart from the manual is pasted, shown as it is understood, mended, and taken over.

// ChartText is what was pasted.
type ChartText struct {
	Text string `json:"text"`
}

func (s *Server) readChart(_ *http.Request, req ChartText) (chart.Chart, error) {
	return chart.Read(req.Text), nil
}

// ChartTaken are the cells of a chart to be taken over into the sheet of a job, as they were mended. Of
// several conditions one is taken; Mode is that of the sheet which it is.
type ChartTaken struct {
	Revision  int          `json:"revision"`
	Cells     []chart.Cell `json:"cells"`
	Condition string       `json:"condition"`
	Mode      string       `json:"mode"`
}

// mostCells bounds what is taken over at once.
const mostCells = 2000

func (s *Server) takeChart(r *http.Request, req ChartTaken) (JobView, error) {
	j, err := s.growing(r)
	if err != nil {
		return JobView{}, err
	}
	if len(req.Cells) > mostCells {
		return JobView{}, problem(
			http.StatusUnprocessableEntity,
			"Too much",
			fmt.Sprintf("At most %d values are taken over at a time.", mostCells),
		)
	}
	var due []sheet.Due
	for i := range req.Cells {
		c := &req.Cells[i]
		if c.Condition != req.Condition || strings.TrimSpace(c.Value) == "" {
			continue
		}
		due = append(due, sheet.Due{
			At:       c.Point(),
			Note:     cmp.Or(c.Name, legNote[c.Leg]),
			Quantity: sheet.DC,
			Value:    c.Value,
			Mode:     req.Mode,
		})
	}
	document, err := j.Sheet.Document.WithDue(due)
	if err != nil {
		return JobView{}, err
	}
	if err := s.store.ChangeSheet(r.Context(), j.Sheet.ID, req.Revision, document); err != nil {
		return JobView{}, err
	}
	return s.job(r)
}

// legNote says which leg a point is.
var legNote = map[string]string{"e": "emitter", "b": "base", "c": "collector", "s": "source", "g": "gate", "d": "drain",
	"k": "cathode", "a": "anode", "g1": "control grid", "g2": "screen grid", "g3": "suppressor grid"}
