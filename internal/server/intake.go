package server

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"steptrace/core/intake"
	"steptrace/core/past"
	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/symptom"
	"steptrace/core/trace"
	"steptrace/internal/store"
)

// Asked is a field of the intake with what was written in it.
type Asked struct {
	intake.Field
	Text string `json:"text"`
}

// PastChoice is something that may be in a set's life, and whether it is.
type PastChoice struct {
	intake.Past
	On bool `json:"on"`
}

// IntakeView is a job as it came in: what was asked, what can be tried with no
// probe, and the usual faults of the model.
type IntakeView struct {
	Head
	Fields   []Asked        `json:"fields"`
	Pasts    []PastChoice   `json:"pasts"`
	Pictures []string       `json:"pictures"` // ids
	Matrix   *trace.Matrix  `json:"matrix" jsonschema:"nullable"`
	Stages   []string       `json:"stages"` // that a good unit can stand in for
	Offers   []intake.Offer `json:"offers"`
	Symptoms []NotedSymptom `json:"symptoms"`
	// Whose it is, and the earlier jobs of this very set.
	Whose   []Asked          `json:"whose"`
	Earlier []intake.Earlier `json:"earlier"`
	// Probe is what is read first on the bench, once no trial from outside parts what is left.
	Probe *planning.Probe `json:"probe" jsonschema:"nullable"`
}

// maxSwaps is how many swaps are laid out that were not tried yet.
const maxSwaps = 20

// swaps reads the rows asked for: swap=stage;stage, once for each row.
func swaps(r *http.Request, plan *sheet.Plan) ([][]string, error) {
	var out [][]string
	asked := r.URL.Query()["swap"]
	if len(asked) > maxSwaps {
		return nil, problem(
			http.StatusUnprocessableEntity,
			"Too many",
			fmt.Sprintf("At most %d swaps can be laid out at a time.", maxSwaps),
		)
	}
	for _, text := range asked {
		var names []string
		for _, n := range strings.Split(text, ";") {
			if n = strings.TrimSpace(n); n != "" {
				names = append(names, n)
			}
		}
		if err := reading.CheckWithout(plan, names); err != nil {
			return nil, err
		}
		if len(names) > 0 {
			out = append(out, names)
		}
	}
	return out, nil
}

func (s *Server) intake(r *http.Request) (IntakeView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return IntakeView{}, err
	}
	texts := j.Intake.Texts()
	plan := j.Sheet.Plan
	v := IntakeView{
		Head:     head(&j),
		Fields:   []Asked{},
		Pasts:    []PastChoice{},
		Pictures: []string{},
		Stages:   []string{},
		Offers:   []intake.Offer{},
		Symptoms: notedSymptoms(&j),
		Whose:    whose(texts),
		Earlier:  []intake.Earlier{},
	}
	for _, f := range intake.Fields() {
		v.Fields = append(v.Fields, Asked{f, texts[f.Key]})
	}
	chosen := strings.Split(texts[intake.PastField], ";")
	for _, p := range intake.Pasts() {
		v.Pasts = append(v.Pasts, PastChoice{p, slices.Contains(chosen, p.Key)})
	}
	for _, p := range j.Pictures {
		if p.Step == "" && p.Work == "" && !p.Struck {
			v.Pictures = append(v.Pictures, p.ID)
		}
	}
	for i := range plan.Stages {
		v.Stages = append(v.Stages, plan.Stages[i].Name)
	}
	known, err := s.known(r, &j)
	if err != nil {
		return v, err
	}
	v.Offers, v.Earlier = known.offers, known.earlier
	c, ok := j.Case(plan)
	if !ok {
		return v, nil
	}
	rows, err := swaps(r, plan)
	if err != nil {
		return v, err
	}
	m := c.Matrix(j.Plain(j.Sheet.Plan), rows)
	v.Matrix = &m
	if m.Best == nil && len(m.Left) > 1 {
		c.History = known.history
		v.Probe = c.Find(j.Plain(j.Sheet.Plan)).Next
	}
	if s.training != nil {
		return v, s.quietIntake(r, &v)
	}
	return v, nil
}

// offers lists the usual faults, by all that was said and noted.
func (s *Server) offers(r *http.Request, j *store.Job) ([]intake.Offer, error) {
	ends, err := s.store.Ends(r.Context(), j.Sheet.ID, j.Number)
	if err != nil {
		return nil, err
	}
	lent, err := s.store.Lent(r.Context(), j.Sheet.Document.Name())
	if err != nil {
		return nil, err
	}
	ends.Lent, ends.LentOf = past.Ended(lent), len(lent)
	return intake.Offers(j.Sheet.Plan, told(j), ends), nil
}

// known is what is known of a set besides what was read of it: usual faults of its model, earlier jobs of this very set, and
// what both make likely.
type known struct {
	offers  []intake.Offer
	earlier []intake.Earlier
	history trace.History
}

func (s *Server) known(r *http.Request, j *store.Job) (k known, err error) {
	if k.offers, err = s.offers(r, j); err != nil {
		return k, err
	}
	if k.earlier, err = s.earlier(r.Context(), j); err != nil {
		return k, err
	}
	k.history = intake.History(j.Sheet.Plan, told(j), j.Intake.Texts(), k.offers)
	intake.Return(&k.history, j.Sheet.Plan, k.earlier)
	return k, nil
}

// whose is what was asked of whose a set is.
func whose(texts map[string]string) []Asked {
	out := []Asked{}
	for _, f := range intake.Whose() {
		out = append(out, Asked{f, texts[f.Key]})
	}
	return out
}

// earlier are the earlier jobs of this very set, the newest first.
func (s *Server) earlier(ctx context.Context, j *store.Job) ([]intake.Earlier, error) {
	out := []intake.Earlier{}
	texts := j.Intake.Texts()
	found, err := s.store.SameSets(ctx, j.Number, texts[intake.SerialField], texts[intake.OwnerField], j.Sheet.ID)
	if err != nil || len(found) == 0 {
		return out, err
	}
	settings, err := s.store.Shop(ctx)
	if err != nil {
		return out, err
	}
	for _, x := range found {
		old, err := s.store.Job(ctx, x.Number)
		switch {
		case err != nil:
			return out, err
		case !old.Opened.Before(j.Opened):
			continue // it came later
		}
		ended := old.Ended()
		e := intake.Earlier{Number: x.Number, BySerial: x.BySerial, Finished: old.Finished, Outcome: old.Outcome, Stages: ended.Stages()}
		var until time.Time
		if old.Finished != nil {
			until, _ = settings.Until(*old.Finished)
		}
		intake.CameBack(&e, until, time.Now())
		out = append(out, e)
	}
	return out, nil
}

// told is the complaint with all that was noted at intake.
func told(j *store.Job) string {
	out, notes := j.Complaint, j.Intake.Texts()
	for _, f := range intake.Fields() {
		out += ". " + notes[f.Key]
	}
	for _, e := range j.Symptoms {
		// What the set says itself, in lamps, is told as its papers have it.
		if of, ok := symptom.Of(e.Key); ok && of.Sense == symptom.Lit && !e.Struck {
			out += ". " + e.Says()
		}
	}
	return out
}

// Noted is a field of the intake as written.
type Noted struct {
	Field string `json:"field"`
	Text  string `json:"text"`
}

func (s *Server) noteIntake(r *http.Request, req Noted) (IntakeView, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return IntakeView{}, err
	}
	note := intake.Note{ID: uuid.NewString(), Field: req.Field, Text: strings.TrimSpace(req.Text), At: time.Now()}
	if err := s.note(r, number, &note, nil); err != nil {
		return IntakeView{}, err
	}
	return s.intake(r)
}

// Mark is one cell of the matrix tried: a word at an exit for an entry in a
// mode. An empty word takes the mark back.
type Mark struct {
	ID      string        `json:"id"`
	Mode    string        `json:"mode"`
	Entry   string        `json:"entry"`
	Exit    string        `json:"exit"`
	Without []string      `json:"without"`
	Word    quantity.Word `json:"word" jsonschema:"enum=ok,enum=weak,enum=partly,enum=none,enum=cuts out,enum="`
}

// mark logs a cell as a reading. A cell marked anew has its old mark struck
// out, so that only one counts and both stay in the log.
func (s *Server) mark(r *http.Request, req Mark) (IntakeView, error) {
	j, err := load(r, s.store.Job)
	if err == nil {
		err = s.markCell(r, &j, req)
	}
	if err != nil {
		return IntakeView{}, err
	}
	return s.intake(r)
}

// markCell logs the mark of a cell.
func (s *Server) markCell(r *http.Request, j *store.Job, req Mark) error {
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return blocked(j.Sheet.Problems, nil, nil)
	}
	if err := sent(req.ID); err != nil {
		return err
	}
	if err := reading.CheckWithout(c.Plan, req.Without); err != nil {
		return err
	}
	reading := reading.Reading{
		ID:       req.ID,
		Point:    req.Exit,
		Quantity: sheet.AC,
		Text:     string(req.Word),
		Word:     req.Word,
		Mode:     req.Mode,
		Injected: &reading.Injection{At: req.Entry},
		Power:    c.Power,
		Taken:    time.Now(),
		Without:  req.Without,
	}
	if at, ok := c.Plan.EntryIndex(req.Entry); ok && c.Plan.Points[at].Source {
		reading.Injected = nil // it begins by itself
	}
	if req.Word != quantity.NoWord && !slices.Contains(trace.MarkWords, req.Word) {
		return problem(http.StatusUnprocessableEntity, "No mark", "A cell is marked ok, weak, partly, none or cuts out.")
	}
	cell := reading
	cell.Word = quantity.OK // to find the cell, whatever is to be written in it
	if _, ok := c.InMatrix(&cell); !ok {
		return problem(
			http.StatusUnprocessableEntity,
			"No such cell",
			fmt.Sprintf(
				"No route runs from %q to %q in mode %q. Reload the page: the sheet may have changed.",
				req.Entry,
				req.Exit,
				req.Mode,
			),
		)
	}
	if s.training != nil && req.Word != quantity.NoWord { // the set answers, whatever was pressed
		if err := s.trainMark(r, c, &req); err != nil {
			return err
		}
		reading.Word, reading.Text = req.Word, string(req.Word)
	}
	return s.store.Mark(r.Context(), j.Number, reading, c.MarksOf(&cell, j.Plain(j.Sheet.Plan)))
}
