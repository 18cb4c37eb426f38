package server

import (
	"encoding/json"
	"net/http"
	"slices"
	"strings"

	"steptrace/core/job"
	"steptrace/core/pattern"
	"steptrace/core/sheet"
)

// How a job begins: somebody types what the set is, and what is nearest to that comes up.

// Beginnings are what a job can begin with, the nearest first. Without words they are all patterns.
type Beginnings struct {
	Patterns []PatternRow `json:"patterns"`
	Sheets   []Sheeted    `json:"sheets"`
	Jobs     []Earlier    `json:"jobs"`
}

// PatternRow is a pattern, with what the words chose of its options.
type PatternRow struct {
	Name    string           `json:"name"`
	Group   string           `json:"group"`
	Options []pattern.Option `json:"options"`
	Chosen  pattern.Chosen   `json:"chosen"`
}

// Sheeted is a sheet of the workshop.
type Sheeted struct {
	ID      int64  `json:"id"`
	Name    string `json:"name"`
	Kind    string `json:"kind"`
	Blocked bool   `json:"blocked"`
	Jobs    int    `json:"jobs"`
	Named   bool   `json:"named"` // the words say some of its name, not only what it is
}

// Earlier is a job that there was before, whose sheet a new one can begin with.
type Earlier struct {
	Number    int    `json:"number"`
	Set       string `json:"set"`
	Complaint string `json:"complaint"`
	Headline  string `json:"headline"`
	Named     bool   `json:"named"`
}

const mostBeginnings = 5 // of each

func (s *Server) begin(r *http.Request) (Beginnings, error) {
	p, err := pageOf(r)
	if err != nil {
		return Beginnings{}, err
	}
	out := Beginnings{Sheets: []Sheeted{}, Jobs: []Earlier{}}
	if strings.TrimSpace(p.Words) == "" {
		for _, x := range pattern.All() {
			out.Patterns = append(out.Patterns, PatternRow{x.Name, x.Group, x.Options, pattern.Chosen{}})
		}
		return out, nil
	}
	for _, x := range pattern.Nearest(p.Words, mostBeginnings) {
		out.Patterns = append(out.Patterns, PatternRow{x.Pattern.Name, x.Pattern.Group, x.Pattern.Options, x.Chosen})
	}
	if known := slices.ContainsFunc(out.Patterns, func(x PatternRow) bool { return x.Name == pattern.Unknown }); !known {
		x, _ := pattern.ByName(pattern.Unknown)
		out.Patterns = append(out.Patterns, PatternRow{x.Name, x.Group, x.Options, pattern.Chosen{}})
	}
	p.Most = mostBeginnings
	sheets, _, _, err := s.store.SheetList(r.Context(), p)
	if err != nil {
		return out, err
	}
	for _, x := range sheets {
		out.Sheets = append(out.Sheets, Sheeted{x.ID, x.Name, x.Kind, x.Blocked, x.Jobs, pattern.Names(p.Words, x.Name)})
	}
	jobs, _, err := s.store.Shelf(r.Context(), p, nil)
	if err != nil {
		return out, err
	}
	for _, x := range jobs {
		var row ShelfJob
		if err := json.Unmarshal(x.Row, &row); err != nil {
			return out, err
		}
		out.Jobs = append(out.Jobs, Earlier{row.Number, row.Set, row.Complaint, row.Headline, pattern.Names(p.Words, row.Set)})
	}
	return out, nil
}

// made is the sheet that a new job's pattern makes, under the name that was typed.
func (req NewJob) made() (*sheet.Sheet, error) {
	p, ok := pattern.ByName(req.Pattern)
	if !ok {
		return nil, problem(http.StatusUnprocessableEntity, "No such pattern", "Pick one of the patterns that are offered.")
	}
	document, err := p.Sheet(req.Chosen)
	if err != nil {
		return nil, err
	}
	if wrong := job.Text("what the set is", req.Set, false); wrong != "" {
		return nil, problem(http.StatusUnprocessableEntity, "Not readable", "Say what the set is in a line: "+wrong+".")
	}
	if name := strings.Join(strings.Fields(req.Set), " "); !p.Says(name) {
		document.Model = name
	}
	return document, nil
}
