package server

import (
	"net/http"

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

func (s *Server) takeChart(r *http.Request, req ChartTaken) (JobView, error) {
	values := chart.Due(req.Cells, req.Condition, req.Mode)
	grown, err := s.grown(r, ToGrow{req.Revision, sheet.Growth{Do: sheet.Taking, Values: values}}, true)
	if err != nil {
		return JobView{}, err
	}
	return *grown.Job, nil
}
