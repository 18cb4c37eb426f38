package server

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"steptrace/core/job"
	"steptrace/core/training"
	"steptrace/internal/desk"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// A server of practice is one of its own, on a store of its own: nothing that is practised comes near the workshop's jobs, its history
// or its figures. It has the workshop's sheets to draw sets from, and a desk of simulated instruments.

// trainer is what a server of practice has besides.
type trainer struct{ workshop *Server }

// Train makes a server that keeps practice in a store of its own, on a desk of stand-ins. The workshop's serves it under /practise.
func (s *Server) Train(st *store.Store, d *desk.Desk, list []instrument.Instrument) *Server {
	out := New(st, s.pages, nil)
	out.training = &trainer{workshop: s}
	out.Practise(d, list, nil)
	s.practised = out
	return out
}

// practisePath is where practice is.
const practisePath = "/practise"

// practisePages serves the same pages, with practice behind them, to the machine itself and to devices that are let in for everything.
func (s *Server) practisePages() http.Handler {
	r := chi.NewRouter()
	r.Route("/api", s.practised.answers)
	r.Handle("/*", s.practised.static())
	inner := http.StripPrefix(practisePath, r)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch d := deviceOf(r); {
		case r.URL.Path == practisePath:
			http.Redirect(w, r, practisePath+"/", http.StatusMovedPermanently)
		case d != nil && d.Limited():
			fail(
				w,
				r,
				problem(
					http.StatusForbidden,
					"Not for this device",
					"This device was let in for pictures and readings of one job alone.",
				),
			)
		default:
			inner.ServeHTTP(w, r)
		}
	})
}

// whose is the server that answers a route: what belongs to the workshop alone is the workshop's in practice too.
func (s *Server) whose(route Route) *Server {
	if s.training != nil && slices.ContainsFunc(workshopAlone, func(path string) bool { return strings.HasPrefix(route.Path, path) }) {
		return s.training.workshop
	}
	return s
}

// workshopAlone is what practice has none of its own of: who is there, who is let in, the instruments' names, copies, the whole of it,
// what other workshops lent.
var workshopAlone = []string{"/me", "/leave", "/door", "/invite", "/send", "/copies", "/whole", "/experience"}

// TrainingView is what one may practise on, and the cases that are open and were worked.
type TrainingView struct {
	Levels []training.Level      `json:"levels"`
	Kinds  []training.Kind       `json:"kinds"`
	Sets   []string              `json:"sets"`   // that cases are drawn from
	Sheets []SheetChoice         `json:"sheets"` // of the workshop
	Jobs   []OwnJob              `json:"jobs"`   // finished ones of the workshop, that can be worked again
	Cases  []DrawnCase           `json:"cases"`
	Stands []training.Stand      `json:"stands"` // how one stands with each kind of fault that was worked
	Steps  []training.PhaseStand `json:"steps"`  // and with each step of the work
	Course []training.Lesson     `json:"course"`
}

// OwnJob is a finished job of the workshop.
type OwnJob struct {
	Number    int    `json:"number"`
	Set       string `json:"set"`
	Complaint string `json:"complaint"`
}

// SheetChoice is a sheet of the workshop.
type SheetChoice struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// DrawnCase is a case on the list. Found is how many of its faults were, of so many; of an open one nothing is told.
type DrawnCase struct {
	Number    int            `json:"number"`
	Set       string         `json:"set"`
	Level     training.Level `json:"level"`
	Complaint string         `json:"complaint"`
	Ended     bool           `json:"ended"`
	Minutes   float64        `json:"minutes"`
	Found     int            `json:"found"`
	Faults    int            `json:"faults"`
}

const mostCases = 60

func (s *Server) seeTraining(r *http.Request) (TrainingView, error) {
	v := TrainingView{Levels: training.Levels, Kinds: training.Kinds, Sets: []string{}, Sheets: []SheetChoice{}, Cases: []DrawnCase{}}
	if err := s.trains(); err != nil {
		return v, err
	}
	for _, x := range training.Sources() {
		v.Sets = append(v.Sets, x.Name)
	}
	slices.Sort(v.Sets)
	sheets, err := s.training.workshop.sheets(r)
	if err != nil {
		return v, err
	}
	for _, x := range sheets.Sheets {
		v.Sheets = append(v.Sheets, SheetChoice{x.ID, x.Name})
	}
	if v.Jobs, err = s.training.workshop.ownJobs(r.Context()); err != nil {
		return v, err
	}
	all, err := s.store.AllDrawn(r.Context(), mostCases)
	if err != nil {
		return v, err
	}
	v.Course = training.Course()
	ended := endedOf(all)
	v.Stands, v.Steps = training.Stands(ended), training.ByPhase(ended)
	for i := range all {
		c, err := s.drawnCase(r.Context(), &all[i])
		if err != nil {
			return v, err
		}
		v.Cases = append(v.Cases, c)
		if n := all[i].Case.Lesson; n > 0 && n <= len(v.Course) && c.Ended && c.Found == c.Faults &&
			all[i].Case.Advice != training.Always {
			v.Course[n-1].Done++
		}
	}
	return v, nil
}

// endedOf are the cases that have ended, of some that are listed the newest first, in the order in which they were drawn.
func endedOf(all []store.Drawn) []training.Ended {
	var out []training.Ended
	for _, d := range slices.Backward(all) {
		if d.Progress.Came != nil && d.Case.Kind != "" {
			out = append(out, training.Ended{Kind: d.Case.Kind, Came: d.Progress.Came})
		}
	}
	return out
}

// mostOwn is how many finished jobs are offered.
const mostOwn = 40

// ownJobs are the workshop's finished jobs that say where it was, the newest first.
func (s *Server) ownJobs(ctx context.Context) ([]OwnJob, error) {
	out := []OwnJob{}
	numbers, err := s.store.FinishedJobs(ctx, mostOwn)
	for _, number := range numbers {
		j, failed := s.store.Job(ctx, number)
		if failed != nil {
			return nil, failed
		}
		out = append(out, OwnJob{number, j.Sheet.Document.Name(), j.Complaint})
	}
	return out, err
}

func (s *Server) drawnCase(ctx context.Context, d *store.Drawn) (DrawnCase, error) {
	j, err := s.store.Job(ctx, d.Number)
	if err != nil {
		return DrawnCase{}, err
	}
	clock := d.Progress.Clock(j.Sheet.Plan, &j.Job)
	out := DrawnCase{
		Number: d.Number, Set: j.Sheet.Document.Name(), Level: d.Case.Level, Complaint: j.Complaint, Ended: d.Progress.Ended != nil,
		Minutes: clock.Minutes,
	}
	if out.Ended {
		out.Faults = len(d.Case.Faults)
		out.Found = out.Faults - len(d.Case.Left(j.Repairs))
	}
	return out, nil
}

// trains refuses what is for practice alone.
func (s *Server) trains() error {
	if s.training == nil {
		return problem(http.StatusNotFound, "Not here", "That is for practice. Choose Practise on the shelf.")
	}
	return nil
}

// Wish is what somebody wants to practise on: a level, and if wished a kind of fault, a set by its name, or a sheet of the workshop.
type Wish struct {
	ID     string          `json:"id,omitempty"` // made by the sender, so that sending it twice does no harm
	Level  training.Level  `json:"level"`
	Kind   training.Kind   `json:"kind,omitempty"`
	Set    string          `json:"set,omitempty"`
	Sheet  int64           `json:"sheet,omitempty"`
	Job    int             `json:"job,omitempty"`    // a finished one of the workshop, worked again
	Lesson int             `json:"lesson,omitempty"` // of the course, that it is for
	Advice training.Advice `json:"advice,omitempty"`
	Seed   uint64          `json:"seed,omitempty"` // zero: any
}

func (s *Server) draw(r *http.Request, req Wish) (Opened, error) {
	if err := s.trains(); err != nil {
		return Opened{}, err
	}
	if len(req.ID) > maxID {
		return Opened{}, sent(req.ID)
	}
	sources, err := s.drawnFrom(r.Context(), &req)
	if err != nil {
		return Opened{}, err
	}
	w := training.Wish{Level: req.Level, Kind: req.Kind, Advice: req.Advice, Seed: req.Seed}
	if w.Advice == "" {
		w.Advice = training.Asked
	}
	if w.Seed == 0 {
		w.Seed = rand.Uint64()
		if w.Kind == "" && req.Job == 0 {
			return s.drawDue(r, req, w, sources)
		}
	}
	return s.deal(r, req, w, sources)
}

// drawDue draws what was missed and is due again, where any of these sets has it; else any.
func (s *Server) drawDue(r *http.Request, req Wish, w training.Wish, sources []training.Source) (Opened, error) {
	all, err := s.store.AllDrawn(r.Context(), mostCases)
	if err != nil {
		return Opened{}, err
	}
	if w.Kind = training.ComesAgain(training.Stands(endedOf(all)), w.Level); w.Kind != "" {
		out, err := s.deal(r, req, w, sources)
		if err == nil || r.Context().Err() != nil {
			return out, err
		}
		w.Kind = ""
	}
	return s.deal(r, req, w, sources)
}

// deal draws a case, and opens it.
func (s *Server) deal(r *http.Request, req Wish, w training.Wish, sources []training.Source) (Opened, error) {
	var err error
	var c *training.Case
	if req.Job != 0 {
		c, err = s.again(r.Context(), req.Job, w)
	} else {
		c, err = training.Draw(r.Context(), w, sources)
	}
	if err != nil {
		return Opened{}, err
	}
	c.Lesson = max(req.Lesson, 0)
	opened := &job.Job{Complaint: c.Told.Complaint, Opened: time.Now()}
	number, err := s.store.AddDrawn(store.Under(r.Context(), req.ID), opened, c.Manual, c)
	if err == nil {
		err = s.toLikeliest(r, number)
	}
	return Opened{number}, err
}

// again makes a case of a finished job of the workshop.
func (s *Server) again(ctx context.Context, number int, w training.Wish) (*training.Case, error) {
	j, err := s.training.workshop.store.Job(ctx, number)
	if errors.Is(err, store.ErrNotFound) {
		return nil, problem(http.StatusUnprocessableEntity, "No such job", "The workshop does not have this job. Choose another.")
	}
	if err != nil {
		return nil, err
	}
	return training.Own(&j.Job, j.Sheet.Document, j.Sheet.Plan, w)
}

// drawnFrom are what a case is drawn from.
func (s *Server) drawnFrom(ctx context.Context, req *Wish) ([]training.Source, error) {
	all := training.Sources()
	switch {
	case req.Sheet != 0:
		found, err := s.training.workshop.store.Sheet(ctx, req.Sheet)
		if errors.Is(err, store.ErrNotFound) {
			return nil, problem(
				http.StatusUnprocessableEntity,
				"No such sheet",
				"The workshop does not have this sheet any more. Choose another.",
			)
		}
		return []training.Source{training.OfSheet(found.Document)}, err
	case req.Set != "":
		i := slices.IndexFunc(all, func(x training.Source) bool { return x.Name == req.Set })
		if i < 0 {
			return nil, problem(
				http.StatusUnprocessableEntity,
				"No such set",
				fmt.Sprintf("Nothing is drawn from %q. Choose one of the list.", req.Set),
			)
		}
		return all[i : i+1], nil
	}
	return all, nil
}
