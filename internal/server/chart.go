package server

import (
	"fmt"
	"net/http"
	"slices"

	"steptrace/core/chart"
	"steptrace/core/sheet"
)

// A voltage chart from the manual is pasted, shown as it is understood, mended, and taken over.

// ChartText is what was pasted, and the modes that the sheet has which it is read for.
type ChartText struct {
	Text  string   `json:"text"`
	Modes []string `json:"modes,omitempty"`
}

// ChartRead is a chart as it is understood, with the conditions that are taken over if nobody says otherwise.
type ChartRead struct {
	chart.Chart
	Under []chart.Under `json:"under"`
}

func (s *Server) readChart(_ *http.Request, req ChartText) (ChartRead, error) {
	c := chart.Read(req.Text)
	return ChartRead{c, chart.Likely(c.Conditions, req.Modes)}, nil
}

// LevelText is a level diagram as it was pasted, and what plain decibels in it count from.
type LevelText struct {
	Text      string          `json:"text"`
	Reference chart.Reference `json:"reference"`
}

// readLevels reads a level diagram by the names that the sheet of a job has.
func (s *Server) readLevels(r *http.Request, req LevelText) (chart.Levels, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return chart.Levels{}, err
	}
	if !slices.Contains(chart.References, req.Reference) {
		return chart.Levels{}, problem(http.StatusUnprocessableEntity, "No such reference",
			fmt.Sprintf("%q is nothing that decibels count from: use %v.", req.Reference, chart.References))
	}
	return chart.ReadLevels(req.Text, j.Sheet.Plan, req.Reference), nil
}

// ChartTaken are the cells of a chart, or the levels of a diagram, to be taken over into the sheet of a job, as
// they were mended. Of a chart's conditions those are taken that are named, each for a mode of the sheet.
type ChartTaken struct {
	Revision int           `json:"revision"`
	Cells    []chart.Cell  `json:"cells,omitempty"`
	Under    []chart.Under `json:"under,omitempty"`
	Levels   []chart.Level `json:"levels,omitempty"`
	Mode     string        `json:"mode,omitempty"` // that the levels hold in
}

func (s *Server) takeChart(r *http.Request, req ChartTaken) (JobView, error) {
	values, err := chart.Due(req.Cells, req.Under)
	if err != nil {
		return JobView{}, err
	}
	for _, l := range req.Levels {
		if l.At != "" && l.Value != "" {
			values = append(values, sheet.Due{At: l.At, Quantity: sheet.AC, Value: l.Value, Mode: req.Mode})
		}
	}
	grown, err := s.grown(r, ToGrow{req.Revision, sheet.Growth{Do: sheet.Taking, Values: values}}, true)
	if err != nil {
		return JobView{}, err
	}
	return *grown.Job, nil
}
