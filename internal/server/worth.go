package server

import (
	_ "embed"
	"html/template"
	"net/http"
	"strings"
	"time"

	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/money"
	"steptrace/core/past"
	"steptrace/core/shop"
	"steptrace/core/trace"
	"steptrace/core/wait"
	"steptrace/core/worth"
	"steptrace/internal/store"
)

// WorthView is whether a job is worth doing: what is to be expected from here, what can be done, what was said and decided. ValueText
// is what the set is worth, LimitText what its owner allows, as typed.
type WorthView struct {
	Head
	worth.View
	ValueText string `json:"valueText"`
	LimitText string `json:"limitText"`
	Rate      string `json:"rate"` // of an hour, as typed
	Currency  string `json:"currency"`
	// Waits tells that the owner's answer is waited for.
	Waits bool `json:"waits"`
	// Steps are the minutes spent, step by step, in words.
	Steps []SpentOn `json:"steps"`
}

// SpentOn is what was spent on a step of the work.
type SpentOn struct {
	Name    string  `json:"name"`
	Minutes float64 `json:"minutes"`
}

func (s *Server) worth(r *http.Request) (WorthView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return WorthView{}, err
	}
	v, _, err := s.worthOf(r, &j)
	return v, err
}

func (s *Server) worthOf(r *http.Request, j *store.Job) (v WorthView, settings shop.Settings, err error) {
	if settings, err = s.store.Shop(r.Context()); err != nil {
		return v, settings, err
	}
	known, err := s.known(r, j)
	if err != nil {
		return v, settings, err
	}
	own, err := s.taught(r.Context())
	if err != nil {
		return v, settings, err
	}
	plan := j.Sheet.Plan
	var findings *trace.Findings
	if c, ok := j.Case(plan); ok {
		c.History = known.history
		f := c.Find(j.Plain(plan))
		findings = &f
	}
	facts := j.Worth(plan, findings, &job.Known{Shop: settings, Past: past.Jobs(own), Back: len(known.history.Back) > 0, Now: time.Now()})
	texts := j.Intake.Texts()
	v = WorthView{
		Head: head(j), View: worth.Look(&facts, j.Worthing), ValueText: texts[intake.ValueField], LimitText: j.Allowed(),
		Rate: settings.Rate, Currency: settings.Currency,
	}
	for _, e := range j.WaitsFor() {
		v.Waits = v.Waits || e.Wait.For == wait.Owner
	}
	for _, step := range past.Steps {
		if m := facts.Used[step]; m > 0 {
			v.Steps = append(v.Steps, SpentOn{step.Done(), m})
		}
	}
	return v, settings, nil
}

//go:embed estimate.html
var estimatePage string

var estimateTemplate = letter("estimate", estimatePage)

// estimateFile is the last estimate that was given, as a page for the owner; where none was, what is to be expected now.
func (s *Server) estimateFile(w http.ResponseWriter, r *http.Request) error {
	j, err := load(r, s.store.Job)
	if err != nil {
		return err
	}
	v, settings, err := s.worthOf(r, &j)
	if err != nil {
		return err
	}
	estimate, at := v.Offer, time.Now()
	for i := range j.Worthing {
		if e := &j.Worthing[i]; e.Estimate != nil && !e.Struck {
			estimate, at = *e.Estimate, e.At
		}
	}
	amount := func(text string) string {
		a, err := money.Read(text)
		if err != nil {
			return text
		}
		return a.Text(settings.Currency)
	}
	day := func(t time.Time) string { return t.Local().Format("2 January 2006") }
	until := ""
	if d, err := time.Parse(time.DateOnly, estimate.Until); err == nil {
		until = d.Format("2 January 2006")
	}
	return paper(w, estimateTemplate, struct {
		Set, Complaint, Owner, Low, High, Until, Day string
		Number                                       int
		On                                           []string
		Paper                                        template.CSS
		Shop                                         shop.Settings
	}{
		j.Sheet.Document.Name(), j.Complaint, j.Intake.Texts()[intake.OwnerField], amount(estimate.Low), amount(estimate.High), until,
		day(at), j.Number, strings.Split(estimate.Text, "\n"), template.CSS(settings.Paper), settings,
	})
}
