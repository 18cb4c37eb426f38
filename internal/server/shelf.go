package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"steptrace/core/beside"
	"steptrace/core/entry"
	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/past"
	"steptrace/core/reading"
	"steptrace/core/shop"
	"steptrace/core/trace"
	"steptrace/core/wait"
	"steptrace/internal/store"
)

// ShelfJob is a job as the shelf shows it: how far it has come, and a small
// step chart. It is kept with the job.
type ShelfJob struct {
	Number    int          `json:"number"`
	Set       string       `json:"set"`
	Kind      string       `json:"kind"`
	Complaint string       `json:"complaint"`
	Opened    time.Time    `json:"opened"`
	Finished  *time.Time   `json:"finished" jsonschema:"nullable"`
	Readings  int          `json:"readings"`
	Headline  string       `json:"headline"`
	State     trace.State  `json:"state"`
	Points    []ShelfPoint `json:"points"`
	// Waits is what it waits for; Waiting says how that stands today, and whether it is Late.
	Waits   []wait.Entry `json:"waits"`
	Waiting string       `json:"waiting"`
	Late    bool         `json:"late"`
	// Promised is the day it was promised for (2026-12-12); Ready: it is finished, and not fetched yet, from where it stands.
	Promised string `json:"promised"`
	Ready    bool   `json:"ready"`
	Stands   string `json:"stands"`
	// Costing is what it has cost so far, and may cost.
	Costing job.Costing `json:"costing"`
}

// ShelfPoint is a point of the route in the small chart, in dB against 1 V; what is not known is left out.
type ShelfPoint struct {
	Due     *float64        `json:"due,omitempty"`
	Read    *float64        `json:"read,omitempty"`
	Verdict reading.Verdict `json:"verdict,omitempty"`
}

// Shelf is a page of the jobs: those on the bench first, then those that wait, then those that
// are finished. More is what a question for the next page carries as after; empty on the last.
type Shelf struct {
	Jobs []ShelfJob `json:"jobs"`
	// Day is what to think of today; on the first page of all jobs alone.
	Day []shop.Line `json:"day"`
	// Counts of all that are found, whichever is asked for.
	Bench    int    `json:"bench"`
	Waiting  int    `json:"waiting"`
	Finished int    `json:"finished"`
	More     string `json:"more"`
}

// places are the words for them in an address.
var places = map[string]store.Place{"bench": store.OnBench, "waiting": store.Waiting, "finished": store.Finished}

// fresh is how many rows are brought up to date before the shelf is shown: more than change
// between two looks. What is left after an upgrade is done beside.
const fresh = 60

func (s *Server) shelf(r *http.Request) (Shelf, error) {
	ctx := r.Context()
	p, err := pageOf(r)
	if err != nil {
		return Shelf{}, err
	}
	var only *store.Place
	if name := r.URL.Query().Get("place"); name != "" {
		place, ok := places[name]
		if !ok {
			return Shelf{}, problem(
				http.StatusUnprocessableEntity,
				"No such place",
				fmt.Sprintf("%q is no place on the shelf: bench, waiting or finished.", name),
			)
		}
		only = &place
	}
	if _, err := s.freshen(ctx, fresh); err != nil {
		return Shelf{}, err
	}
	var list []store.Shelved
	var more string
	var counts map[store.Place]int
	var noList, noCounts error
	var both beside.Work // of a search each takes its time
	both.Go(func() { list, more, noList = s.store.Shelf(ctx, p, only) })
	both.Go(func() { counts, noCounts = s.store.Places(ctx, p.Words) })
	both.Wait()
	if err := errors.Join(noList, noCounts); err != nil {
		return Shelf{}, err
	}
	out := Shelf{
		Day: []shop.Line{}, More: more, Bench: counts[store.OnBench], Waiting: counts[store.Waiting], Finished: counts[store.Finished],
	}
	now := time.Now()
	for _, x := range list {
		var row ShelfJob
		if err := json.Unmarshal(x.Row, &row); err != nil {
			return out, err
		}
		var says []string
		for i := range row.Waits {
			says = append(says, row.Waits[i].Says(now))
			row.Late = row.Late || row.Waits[i].Wait.Late(now) > 0
		}
		row.Waiting = strings.Join(says, "; ")
		out.Jobs = append(out.Jobs, row)
	}
	if only == nil && p.Words == "" && p.After == "" {
		out.Day, err = s.day(ctx, now)
	}
	return out, err
}

// day is what to think of today.
func (s *Server) day(ctx context.Context, now time.Time) ([]shop.Line, error) {
	const most = 500
	rows, err := s.store.Day(ctx, most)
	if err != nil {
		return nil, err
	}
	settings, err := s.store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	all := make([]shop.Standing, 0, len(rows))
	for _, data := range rows {
		var row ShelfJob
		if err := json.Unmarshal(data, &row); err != nil {
			return nil, err
		}
		st := shop.Standing{
			Number: row.Number, Set: row.Set, Promised: row.Promised, Waits: row.Waits, Ready: row.Ready, Place: row.Stands,
		}
		if x, ok := s.soaks.of(row.Number); ok {
			x.mu.Lock()
			st.Soak = &shop.Running{Left: x.plan.Length() - x.clock.T, Bad: x.state.Bad, Says: strings.TrimSuffix(x.state.Headline, ".")}
			x.mu.Unlock()
		}
		if row.Finished == nil {
			st.Near, st.Passed = row.Costing.Near(&settings)
		}
		all = append(all, st)
	}
	return shop.Day(all, now), nil
}

// freshening keeps two from doing the same work.
type freshening struct{ mu sync.Mutex }

// freshen brings what jobs say of themselves on the shelf up to date, of up to so many; it
// gives how many there were.
func (s *Server) freshen(ctx context.Context, most int) (int, error) {
	s.freshening.mu.Lock()
	defer s.freshening.mu.Unlock()
	numbers, err := s.store.Unsaid(ctx, most)
	if err != nil || len(numbers) == 0 {
		return 0, err
	}
	all := make([]store.Said, 0, len(numbers))
	for _, n := range numbers {
		j, err := s.store.Job(ctx, n)
		if err != nil {
			return 0, err
		}
		said, err := s.sayOf(ctx, &j)
		if err != nil {
			return 0, err
		}
		all = append(all, said)
	}
	return len(all), s.store.Say(ctx, all)
}

// Freshen brings what all jobs say of themselves up to date, after an upgrade or an import of
// many; it goes on until the context ends.
func (s *Server) Freshen(ctx context.Context) error {
	for {
		n, err := s.freshen(ctx, fresh)
		if err != nil || n == 0 || ctx.Err() != nil {
			return err
		}
	}
}

// sayOf is what a job says of itself on the shelf, and the words it is found by.
func (s *Server) sayOf(ctx context.Context, j *store.Job) (store.Said, error) {
	d := j.Sheet.Document
	row := ShelfJob{
		Number:    j.Number,
		Set:       d.Name(),
		Kind:      d.Kind,
		Complaint: j.Complaint,
		Opened:    j.Opened,
		Finished:  j.Finished,
		Readings:  j.Counts()["readings"],
		Waits:     j.WaitsFor(),
	}
	// One that cannot be worked out is on the shelf all the same, to be opened and put right.
	if err := beside.Try(func() { row.trace(j) }); err != nil {
		slog.Error("a job cannot be worked out for the shelf", "job", j.Number, "error", err)
		row.Headline = "It cannot be worked out; the reason is in the log."
	}
	texts := j.Intake.Texts()
	row.Promised, row.Stands = texts[intake.PromisedField], texts[intake.PlaceField]
	row.Ready = j.Finished != nil && intake.Owned(texts) && texts[intake.FetchedField] == ""
	row.Costing = j.Costing()
	said := store.Said{Number: j.Number, Version: j.Version, Ready: row.Ready}
	switch {
	case j.Finished != nil:
		row.Headline, said.Place = j.Outcome, store.Finished
	case len(row.Waits) > 0:
		said.Place = store.Waiting
	}
	words := []string{fmt.Sprint(j.Number), d.Name(), d.Kind, j.Complaint, j.Outcome, j.Stage}
	for _, text := range texts {
		words = append(words, text)
	}
	for _, e := range j.Inside {
		if e.Condemned != nil && entry.Counts(&e) {
			words = append(words, e.Condemned.Part, e.Condemned.What)
		}
	}
	for i := range j.Repairs {
		if e := &j.Repairs[i]; e.Repair != nil && !e.Struck {
			words = append(words, e.Says())
		}
	}
	for _, e := range row.Waits {
		words = append(words, e.Wait.What)
	}
	slices.Sort(words[6:])
	said.Words = strings.Join(words, "\n")
	var err error
	if said.Row, err = json.Marshal(row); err == nil && j.Finished != nil {
		said.Teaches, err = s.teaches(ctx, j)
	}
	return said, err
}

// teaches is what a finished job teaches, as JSON; nil where that is nothing, or it cannot be worked out.
func (s *Server) teaches(ctx context.Context, j *store.Job) (out []byte, err error) {
	settings, err := s.store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	earlier, err := s.earlier(ctx, j)
	if err != nil {
		return nil, err
	}
	back := slices.ContainsFunc(earlier, func(e intake.Earlier) bool {
		return slices.ContainsFunc(e.Stages, func(stage string) bool { return slices.Contains(j.Ended().Stages(), stage) })
	})
	var taught *past.Job
	if err := beside.Try(func() { taught = j.Teaches(j.Sheet.Plan, &settings, back) }); err != nil {
		slog.Error("what a job teaches cannot be worked out", "job", j.Number, "error", err)
	}
	if taught == nil {
		return nil, nil
	}
	return json.Marshal(taught)
}

// trace fills in how far a job has come; that does not depend on the model's history.
func (row *ShelfJob) trace(j *store.Job) {
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return
	}
	findings := c.Find(j.Plain(j.Sheet.Plan))
	row.Headline, row.State = findings.Headline, findings.State
	for i := range findings.Points {
		p := &findings.Points[i]
		row.Points = append(row.Points, ShelfPoint{tenths(p.ExpectedDBV), tenths(p.MeasuredDBV), p.Verdict})
	}
}

// tenths rounds to what a small chart shows.
func tenths(x *float64) *float64 {
	if x == nil {
		return nil
	}
	y := math.Round(*x*10) / 10
	return &y
}
