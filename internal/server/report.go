package server

import (
	_ "embed"
	"html/template"
	"net/http"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/intake"
	"steptrace/core/report"
	"steptrace/core/shop"
	"steptrace/core/trace"
	"steptrace/internal/store"
)

// ReportView is the report of a job to its owner: what the record makes of it and what a person wrote, whose the set is, and
// the workshop's head. Pictures and Plots can be in it, Chosen are.
type ReportView struct {
	Head
	Report   report.Report `json:"report"`
	Whose    []Asked       `json:"whose"`
	Shop     shop.Settings `json:"shop"`
	Pictures []string      `json:"pictures"`
	Plots    []PlotChoice  `json:"plots"`
	Chosen   []string      `json:"chosen"`
}

// mostPictures is how many pictures a report has: more are an album.
const mostPictures = 3

func (s *Server) report(r *http.Request) (ReportView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return ReportView{}, err
	}
	settings, err := s.store.Shop(r.Context())
	if err != nil {
		return ReportView{}, err
	}
	v := ReportView{Head: head(&j), Whose: whose(j.Intake.Texts()), Shop: settings, Pictures: []string{}, Chosen: []string{}}
	for _, p := range j.Pictures {
		if !p.Struck {
			v.Pictures = append(v.Pictures, p.ID)
		}
	}
	v.Plots = plotChoices(&j)
	there := slices.Clone(v.Pictures)
	for _, p := range v.Plots {
		there = append(there, p.ID)
	}
	v.Report = s.reportOf(&j, &settings)
	for _, sec := range v.Report.Sections {
		if sec.Key == report.Pictures {
			v.Chosen = chosen(sec.Text, there)
		}
	}
	return v, nil
}

// chosen are the pictures that are named and there.
func chosen(text string, there []string) []string {
	out := []string{}
	for _, id := range strings.Fields(text) {
		if slices.Contains(there, id) && len(out) < mostPictures {
			out = append(out, id)
		}
	}
	return out
}

func (s *Server) reportOf(j *store.Job, settings *shop.Settings) report.Report {
	var findings *trace.Findings
	if c, ok := j.Case(j.Sheet.Plan); ok {
		f := c.Find(j.Plain(j.Sheet.Plan))
		findings = &f
	}
	facts := j.Facts(j.Sheet.Plan, findings)
	return report.Make(&facts, settings, j.Report)
}

//go:embed report.html
var reportPage string

//go:embed letter.html
var letterPage string // what letters to owners have in common

// letter is the template of a letter.
func letter(name, page string) *template.Template {
	return template.Must(template.Must(template.New(name).Parse(letterPage)).Parse(page))
}

var reportTemplate = letter("report", reportPage)

// printed is what the page of a report shows.
type printed struct {
	Set, Opened, Finished      string
	Number                     int
	Owner, Serial, Accessories string
	Paper                      template.CSS
	Shop                       shop.Settings
	Sections                   []printedSection
}

type printedSection struct {
	Title      string
	Paragraphs []string
	Figures    []report.Figure
	Pictures   []template.URL
	Plots      []template.URL
	Long       bool // it may go over two pages
}

// shownIn are the photographs and the drawings of a report, as addresses that carry them. A drawing that cannot be made any more is
// left out: a report without it is better than none.
func (s *Server) shownIn(r *http.Request, v *ReportView) (pictures, plots []template.URL, err error) {
	var j store.Job
	if len(v.Plots) > 0 {
		if j, err = load(r, s.store.Job); err != nil {
			return nil, nil, err
		}
	}
	for _, id := range v.Chosen {
		if slices.Contains(v.Pictures, id) {
			url, err := s.pictureWithin(r.Context(), v.Number, id)
			if err != nil {
				return nil, nil, err
			}
			pictures = append(pictures, url)
		} else if url, err := s.plotWithin(r.Context(), &j, id); err == nil {
			plots = append(plots, url)
		}
	}
	return pictures, plots, nil
}

// reportFile is the report as a page of its own, to be printed or kept: it needs nothing beside it.
func (s *Server) reportFile(w http.ResponseWriter, r *http.Request) error {
	v, err := s.report(r)
	if err != nil {
		return err
	}
	day := func(t time.Time) string { return t.Local().Format("2 January 2006") }
	p := printed{Set: v.Set, Number: v.Number, Opened: day(v.Opened), Shop: v.Shop, Paper: template.CSS(v.Shop.Paper)}
	if v.Finished != nil {
		p.Finished = day(*v.Finished)
	}
	for _, f := range v.Whose {
		switch f.Key {
		case intake.OwnerField:
			p.Owner = f.Text
		case intake.SerialField:
			p.Serial = f.Text
		case intake.WithItField:
			p.Accessories = f.Text
		}
	}
	for _, sec := range v.Report.Sections {
		x := printedSection{Title: sec.Title}
		switch {
		case sec.LeftOut:
			continue
		case sec.Key == report.Pictures:
			if x.Pictures, x.Plots, err = s.shownIn(r, &v); err != nil {
				return err
			}
		default:
			for para := range strings.SplitSeq(strings.TrimSpace(sec.Text), "\n\n") {
				if para = strings.TrimSpace(para); para != "" {
					x.Paragraphs = append(x.Paragraphs, para)
				}
			}
			if sec.Key == report.Figured {
				x.Figures = v.Report.Figures
			}
		}
		const aPage, rows = 1200, 12 // characters, figures: more goes over two pages
		x.Long = utf8.RuneCountInString(sec.Text) > aPage || len(x.Figures) > rows
		if len(x.Paragraphs)+len(x.Figures)+len(x.Pictures)+len(x.Plots) > 0 {
			p.Sections = append(p.Sections, x)
		}
	}
	return paper(w, reportTemplate, p)
}
