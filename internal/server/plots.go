package server

import (
	"context"
	"encoding/base64"
	"fmt"
	"html/template"
	"net/http"

	"steptrace/core/report"
	"steptrace/core/soak"
	"steptrace/core/wave"
	"steptrace/internal/store"
)

// PlotChoice is a drawing that can be in a report: the long run's temperatures (report.SoakPlot), or a captured waveform by its id.
type PlotChoice struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// plotChoices are those of a job.
func plotChoices(j *store.Job) []PlotChoice {
	out := []PlotChoice{}
	if e, running := soak.Running(j.Soaks); e != nil && !running {
		out = append(out, PlotChoice{report.SoakPlot, "temperatures of the long run"})
	}
	for i := range j.Captures {
		if c := &j.Captures[i]; !c.Struck {
			out = append(out, PlotChoice{c.ID, j.Shows(c)})
		}
	}
	return out
}

// plot is a drawing of a report as a picture.
func (s *Server) plot(w http.ResponseWriter, r *http.Request) error {
	j, err := load(r, s.store.Job)
	if err != nil {
		return err
	}
	svg, err := s.drawn(r.Context(), &j, param(r, "id"))
	if err != nil {
		return err
	}
	h := w.Header()
	h.Set("Content-Type", "image/svg+xml")
	h.Set("Cache-Control", "no-store")
	h.Set("Content-Security-Policy", "default-src 'none'")
	_, _ = w.Write([]byte(svg)) // the client may be gone
	return nil
}

// plotWithin is the same as an address that carries it.
func (s *Server) plotWithin(ctx context.Context, j *store.Job, id string) (template.URL, error) {
	svg, err := s.drawn(ctx, j, id)
	url := "data:image/svg+xml;base64," + base64.StdEncoding.EncodeToString([]byte(svg))
	return template.URL(url), err // what was drawn here, its texts escaped
}

func (s *Server) drawn(ctx context.Context, j *store.Job, id string) (string, error) {
	if id == report.SoakPlot {
		return s.drawnSoak(ctx, j)
	}
	c, err := s.capture(ctx, j.Number, id)
	if err != nil {
		return "", err
	}
	title := id
	for i := range j.Captures {
		if j.Captures[i].ID == id {
			title = j.Shows(&j.Captures[i])
		}
	}
	const parts = 460 // as many as it is wide
	shown := min(c.Samples, int(mostPeriods(c)*c.Read.Rate))
	p := report.Plot{Title: "What the oscilloscope shows: " + title, Unit: "V", Along: "thousandths of a second"}
	for i := range min(len(c.Read.Channels), 2) {
		part := strip(&c.Read.Channels[i], c.overview(i), c.Read.Rate, nil, 0, shown, parts)
		course := report.Course{Name: c.Point(i), Least: part.Low, Greatest: part.High}
		p.From, p.To = part.From*1000, part.To*1000
		for k := range part.Low {
			course.At = append(course.At, p.From+(p.To-p.From)*(float64(k)+0.5)/float64(len(part.Low)))
		}
		p.Courses = append(p.Courses, course)
	}
	return p.SVG(), nil
}

// mostPeriods is for how many seconds a capture is drawn: some periods of what repeats, all of what does not.
func mostPeriods(c *openCapture) float64 {
	const periods = 6
	whole := float64(c.Samples) / c.Read.Rate
	for i := range c.Read.Channels {
		figures := c.Read.Channels[i].Measure(c.Read.Rate, wave.Site{Mains: wave.MainsHz})
		if f, ok := figures.Find("frequency"); ok && f.Value > 0 {
			return min(whole, periods/f.Value)
		}
	}
	return whole
}

// drawnSoak draws the temperatures of the last long run.
func (s *Server) drawnSoak(ctx context.Context, j *store.Job) (string, error) {
	e, _ := soak.Running(j.Soaks)
	if e == nil {
		return "", store.ErrNotFound
	}
	plan, err := e.Begin.Read()
	if err != nil {
		return "", err
	}
	const minute = 60.0
	p := report.Plot{Title: "How warm it became in the long run", Unit: "°C", Along: "minutes", To: plan.Length() / minute}
	for i := range plan.Traces {
		if plan.Traces[i].What != soak.Temperature {
			continue
		}
		list, err := s.store.SoakLog(ctx, j.Number, e.ID, i, 0, plan.Length(), false)
		if err != nil {
			return "", err
		}
		c, over := report.Course{Name: plan.Traces[i].Name}, 0.0
		var times []float64
		for _, x := range list {
			over = x.Over
			times = append(times, x.T)
			c.At, c.Least, c.Greatest = append(c.At, x.T/minute), append(c.Least, x.Least), append(c.Greatest, x.Greatest)
		}
		c.Breaks = plan.Breaks(i, times, over)
		p.Courses = append(p.Courses, c)
	}
	if len(p.Courses) == 0 {
		return "", fmt.Errorf("the long run logged no temperature: %w", store.ErrNotFound)
	}
	return p.SVG(), nil
}
