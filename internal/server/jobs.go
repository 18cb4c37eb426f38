package server

import (
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"steptrace/core/entry"
	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/mend"
	"steptrace/core/pattern"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/supply"
	"steptrace/core/trace"
	"steptrace/internal/store"
)

// RouteChoice is a route as a person picks it.
type RouteChoice struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Mode string `json:"mode"`
}

// JobView is a job as the bench shows it. Findings are absent where its sheet has
// nothing to trace by.
type JobView struct {
	Head
	Revision    int                  `json:"revision"` // of its sheet
	Outcome     string               `json:"outcome"`
	Stage       string               `json:"stage"`
	Route       string               `json:"route"`
	Injected    *reading.Injection   `json:"injected" jsonschema:"nullable"`
	Injecting   string               `json:"injecting"` // what is fed in, in words
	Way         planning.Way         `json:"way"`
	Instrument  string               `json:"instrument"`
	Instruments []reading.Instrument `json:"instruments"`
	Actions     []reading.Action     `json:"actions"` // that may make a fault come or go
	Routes      []RouteChoice        `json:"routes"`
	Findings    *trace.Findings      `json:"findings" jsonschema:"nullable"`
	Spots       []reading.Spot       `json:"spots"`    // all that can be aimed at
	Struck      map[string]string    `json:"struck"`   // reading id -> reason
	Supplies    []supply.Rail        `json:"supplies"` // in the order they come up
	Offers      []intake.Offer       `json:"offers"`   // usual faults, until something was read
	Condemned   []CondemnedPart      `json:"condemned"`
	Repairs     []NotedRepair        `json:"repairs"`   // what was done to it, in order
	Symptoms    []NotedSymptom       `json:"symptoms"`  // what it shows by itself
	StillOpen   []job.Open           `json:"stillOpen"` // before it goes back
	Round       int                  `json:"round"`     // of readings; 0 before any repair
	NotDone     string               `json:"notDone"`   // why it is not repaired, as it was decided; empty: it is to be
}

// view works a job out, with what is known of its model.
func view(j *store.Job, history trace.History) JobView {
	plan := j.Sheet.Plan
	v := JobView{Head: head(j), Revision: j.Sheet.Revision, Supplies: []supply.Rail{}, Offers: []intake.Offer{},
		Way: cmp.Or(
			j.Way,
			planning.Halve,
		), Outcome: j.Outcome, Stage: j.Stage, Injected: j.Injected, Instrument: reading.InstrumentFor(j.Instrument).Key,
		Instruments: reading.Instruments(), Actions: reading.Actions,
		Routes: choices(plan), Spots: reading.Spots(plan), Struck: map[string]string{}}
	for _, r := range j.Readings {
		if r.Struck {
			v.Struck[r.ID] = r.StruckReason
		}
	}
	v.Condemned, v.Repairs, v.Symptoms = condemned(j.Inside), notedRepairs(j), notedSymptoms(j)
	_, v.NotDone = j.Leaves()
	v.StillOpen = j.StillOpen(plan, nil)
	c, ok := j.Case(plan)
	if !ok {
		return v
	}
	v.Route, v.Injecting = c.Route.Key, c.Feeding()
	c.History = history
	findings := c.Find(j.Plain(j.Sheet.Plan))
	v.Findings = &findings
	v.Done, v.Next = j.Progress(plan, &findings)
	v.Round = c.Round
	v.StillOpen = j.StillOpen(plan, v.Findings)
	v.Supplies = supply.Explain(plan, &findings)
	return v
}

func choices(plan *sheet.Plan) []RouteChoice {
	out := make([]RouteChoice, 0, len(plan.Routes))
	for _, r := range plan.Routes {
		out = append(out, RouteChoice{r.Key, r.Name, r.Mode})
	}
	return out
}

// load finds the job in the address, by one of the store's ways to get it.
func load(r *http.Request, get func(context.Context, int) (store.Job, error)) (store.Job, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return store.Job{}, err
	}
	j, err := get(r.Context(), number)
	if err == store.ErrNotFound {
		return j, problem(
			http.StatusNotFound,
			"No such job",
			fmt.Sprintf("There is no job number %d. The shelf lists every job.", number),
		)
	}
	return j, err
}

func (s *Server) job(r *http.Request) (JobView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return JobView{}, err
	}
	known, err := s.known(r, &j)
	if err != nil {
		return JobView{}, err
	}
	v := view(&j, known.history)
	if len(j.Readings) == 0 && j.Finished == nil {
		v.Offers = known.offers
	}
	if j.Allowed() != "" && v.Findings != nil && j.Finished == nil {
		settings, err := s.store.Shop(r.Context())
		if err != nil {
			return v, err
		}
		if text, _ := j.Near(&settings); text != "" {
			v.Findings.Notices = append(v.Findings.Notices, mend.Sentence("The job "+text))
		}
	}
	if s.training != nil {
		return v, s.quiet(r, &v)
	}
	return v, nil
}

// change does something to the job in the address and gives it as it is then.
func (s *Server) change(r *http.Request, act func(number int) error) (JobView, error) {
	number, err := intParam(r, "number")
	if err == nil {
		err = act(number)
	}
	if err != nil {
		return JobView{}, err
	}
	return s.job(r)
}

// tracing is the case of the job in the address, ready to take a reading.
func (s *Server) tracing(r *http.Request) (trace.Case, error) {
	_, c, err := s.traced(r)
	return c, err
}

// traced is the job in the address, without its readings, and its case.
func (s *Server) traced(r *http.Request) (store.Job, trace.Case, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return j, trace.Case{}, err
	}
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return j, c, blocked(j.Sheet.Problems, nil, nil)
	}
	return j, c, nil
}

// NewJob opens a job: on a stored sheet, on that of an earlier job of the model, or on one that is made
// for it from a pattern with what was chosen of its options. Set is what was typed of the set.
type NewJob struct {
	ID        string         `json:"id,omitempty"` // made by the sender, so that sending it twice does no harm
	Sheet     int64          `json:"sheet,omitempty"`
	Like      int            `json:"like,omitempty"`
	Pattern   string         `json:"pattern,omitempty"`
	Chosen    pattern.Chosen `json:"chosen,omitempty"`
	Set       string         `json:"set,omitempty"`
	Complaint string         `json:"complaint"`
}

// Opened is the number of a job just opened.
type Opened struct {
	Number int `json:"number"`
}

func (s *Server) openJob(r *http.Request, req NewJob) (Opened, error) {
	if wrong := job.Text("complaint", req.Complaint, true); wrong != "" {
		return Opened{}, problem(http.StatusUnprocessableEntity, "No complaint", "Write down what is wrong with the set: "+wrong+".")
	}
	if len(req.ID) > maxID {
		return Opened{}, sent(req.ID)
	}
	r = r.WithContext(store.Under(r.Context(), req.ID))
	opened := &job.Job{Complaint: strings.TrimSpace(req.Complaint), Opened: time.Now()}
	if req.Pattern != "" {
		document, err := req.made()
		if err != nil {
			return Opened{}, err
		}
		number, err := s.store.AddJobWithSheet(r.Context(), opened, document, true, nil)
		if err == nil {
			err = s.toLikeliest(r, number)
		}
		return Opened{number}, err
	}
	if req.Like != 0 {
		like, err := s.store.Job(r.Context(), req.Like)
		if err == store.ErrNotFound {
			return Opened{}, problem(
				http.StatusUnprocessableEntity,
				"No such job",
				fmt.Sprintf("There is no job number %d to begin like.", req.Like),
			)
		}
		if err != nil {
			return Opened{}, err
		}
		req.Sheet = like.Sheet.ID
	}
	found, err := s.store.Sheet(r.Context(), req.Sheet)
	if err == store.ErrNotFound {
		return Opened{}, problem(http.StatusUnprocessableEntity, "No such sheet", "Say what the set is, or pick its service sheet.")
	}
	if err != nil {
		return Opened{}, err
	}
	if sheet.Blocked(found.Problems) {
		return Opened{}, blocked(found.Problems, nil, nil)
	}
	number, err := s.store.AddJob(r.Context(), opened, req.Sheet, nil)
	if err == nil {
		err = s.toLikeliest(r, number)
	}
	return Opened{number}, err
}

// Conditions are how the bench stood when a reading was typed: as that tab
// showed it, so that two tabs do not mix theirs up.
type Conditions struct {
	Route      string             `json:"route"`
	Injected   *reading.Injection `json:"injected" jsonschema:"nullable"`
	Instrument string             `json:"instrument"`
}

// under puts conditions into a case, after checking them.
func (c Conditions) under(base trace.Case) (trace.Case, error) {
	if c.Route != "" {
		route, ok := base.Plan.Route(c.Route)
		if !ok {
			return base, problem(
				http.StatusUnprocessableEntity,
				"No such route",
				"The sheet no longer has this route. Reload the page and pick one.",
			)
		}
		base.Route = route
	}
	if c.Injected != nil {
		if err := reading.CheckInjection(base.Plan, c.Injected); err != nil {
			return base, err
		}
	}
	base.Injected, base.Instrument = c.Injected, reading.InstrumentFor(c.Instrument).Key
	return base, nil
}

// BenchSetting is what is fed in, as typed, and on which route. An empty At
// means the sheet's own signal; empty level and frequency the sheet's own.
type BenchSetting struct {
	Way        planning.Way `json:"way,omitempty"` // of working; empty: halve it
	Route      string       `json:"route"`
	Instrument string       `json:"instrument"`
	At         string       `json:"at"`
	Level      string       `json:"level"`
	Frequency  string       `json:"frequency"`
}

func (s *Server) setBench(r *http.Request, req BenchSetting) (JobView, error) {
	base, err := s.tracing(r)
	if err != nil {
		return JobView{}, err
	}
	injected, err := reading.ReadInjection(req.At, req.Level, req.Frequency)
	if err != nil {
		return JobView{}, err
	}
	c, err := Conditions{req.Route, injected, req.Instrument}.under(base)
	if err != nil {
		return JobView{}, err
	}
	if !planning.KnownWay(req.Way) {
		return JobView{}, problem(
			http.StatusUnprocessableEntity,
			"No such way",
			fmt.Sprintf("%q is not a way of working: use %s.", req.Way, planning.WayList()),
		)
	}
	return s.change(r, func(number int) error {
		return s.store.SetBench(
			r.Context(),
			number,
			store.Bench{Route: c.Route.Key, Injected: c.Injected, Instrument: c.Instrument, Way: req.Way},
		)
	})
}

// Typed is a reading as typed at a point, under the tab's conditions. ID is
// made by whoever sends it.
type Typed struct {
	ID string `json:"id"`
	reading.Aim
	Text       string     `json:"text"`
	Without    []string   `json:"without,omitempty"`  // swapped for good ones, or lifted
	Worked     bool       `json:"worked,omitempty"`   // the control is worked meanwhile
	ReadOff    bool       `json:"readOff,omitempty"`  // in practice: the text is what somebody read off what was shown
	Capture    string     `json:"capture,omitempty"`  // id of the captured waveform it was read from
	Settings   string     `json:"settings,omitempty"` // of the instruments, as read back
	Conditions Conditions `json:"conditions"`
}

// take reads what was typed, with what is in for a while then.
func (t Typed) take(c trace.Case, repairs []repair.Entry) (reading.Reading, error) {
	t.Without = slices.Clone(t.Without)
	for _, name := range repair.Bypassed(c.Plan, repairs, t.Point) {
		if !slices.Contains(t.Without, name) {
			t.Without = append(t.Without, name)
		}
	}
	if err := reading.CheckWithout(c.Plan, t.Without); err != nil {
		return reading.Reading{}, err
	}
	r, err := c.Take(t.Aim, t.Text)
	r.Without = t.Without
	if err == nil && t.Worked {
		err = c.CheckWorked(r.Point)
	}
	r.Worked, r.Capture, r.Settings = t.Worked, t.Capture, t.Settings
	if err == nil && (len(t.Capture) > maxID || job.Text("settings", t.Settings, false) != "") {
		err = problem(http.StatusUnprocessableEntity, "Too long", "The id of the capture or the instruments' settings are too long.")
	}
	return r, err
}

// Echo is what a reading would mean, while it is typed. Where the text cannot
// be read (yet), Problem says why and the rest is empty.
type Echo struct {
	Understood string          `json:"understood"`
	Verdict    reading.Verdict `json:"verdict"`
	Says       string          `json:"says"`
	Expected   string          `json:"expected"`
	Note       string          `json:"note"`
	Problem    string          `json:"problem"`
	Without    []string        `json:"without"` // what is lifted, bridged or swapped for it
}

func (s *Server) echo(r *http.Request, req Typed) (Echo, error) {
	j, base, err := s.traced(r)
	if err != nil {
		return Echo{}, err
	}
	c, err := req.Conditions.under(base)
	if err != nil {
		return Echo{}, err
	}
	taken, err := req.take(c, j.Repairs)
	if err != nil {
		if p := asProblem(err); p.err == nil {
			return Echo{Problem: p.Detail}, nil
		}
		return Echo{}, err
	}
	judged := c.Judge(taken)
	if judged.Verdict == reading.Unjudged { // its twin may stand in
		whole, err := load(r, s.store.Job)
		if err != nil {
			return Echo{}, err
		}
		c.Round = len(whole.Rounds())
		judged = c.JudgeAmong(whole.Plain(c.Plan), taken)
	}
	return Echo{
		Understood: judged.Understood,
		Verdict:    judged.Verdict,
		Says:       judged.Says(),
		Expected:   judged.Expected,
		Note:       judged.Note,
		Without:    taken.Without,
	}, nil
}

const maxID = 64

// standing is the case of the job in the address under the conditions of a reading that
// is to be logged.
func (s *Server) standing(r *http.Request, req *Typed) (store.Job, trace.Case, error) {
	j, base, err := s.traced(r)
	if err != nil {
		return j, base, err
	}
	if err := sent(req.ID); err != nil {
		return j, base, err
	}
	if p, ok := base.Plan.Blocking(req.Point, j.Sheet.Problems); ok {
		return j, base, problem(
			http.StatusUnprocessableEntity,
			"Sheet needs mending",
			fmt.Sprintf("The sheet cannot be read there, %s: %s. Mend that first; what you typed stays here.", p.Where, p.Message),
		)
	}
	c, err := req.Conditions.under(base)
	return j, c, err
}

func (s *Server) logReading(r *http.Request, req Typed) (JobView, error) {
	j, c, err := s.standing(r, &req)
	if err == nil && s.training != nil {
		req.Text, err = s.trained(r, c, &req) // the set answers, whatever was typed
	}
	if err != nil {
		return JobView{}, err
	}
	reading, err := req.take(c, j.Repairs)
	if err != nil {
		return JobView{}, err
	}
	reading.ID, reading.Taken = req.ID, time.Now()
	return s.change(r, func(number int) error { return s.store.Note(r.Context(), number, &job.Logged{Reading: reading}, nil) })
}

// Reason says why a reading is struck out.
type Reason struct {
	Reason string `json:"reason,omitempty"`
}

// note keeps an entry, checked against the job as it is.
func (s *Server) note(r *http.Request, number int, e entry.Entry, files store.Files) error {
	j, err := s.store.Job(r.Context(), number)
	if err != nil {
		return err
	}
	k := job.KindOf(e)
	if !entry.Counts(e) {
		return problem(http.StatusUnprocessableEntity, "Struck out", "What is noted now is not struck out yet: leave that out.")
	}
	if x, ok := e.(*repair.Entry); ok && s.training != nil {
		if err := s.trainRepair(r, &j, x); err != nil {
			return err
		}
	}
	again := slices.ContainsFunc(k.All(&j.Job), func(x entry.Entry) bool { return *x.Head().ID == *e.Head().ID }) // it was taken then
	if !again {
		if err := k.Check(j.Sheet.Plan, &j.Job, e); err != nil {
			return err
		}
	}
	return s.store.Note(r.Context(), number, e, files)
}

// waive takes down why a ground for condemning the named stage is done without; or, without
// a stage, something that would have to be shown after a repair.
func (s *Server) waive(r *http.Request, req trace.Waiver) (JobView, error) {
	if wrong := job.Text("reason", req.Reason, true); wrong != "" {
		return JobView{}, problem(
			http.StatusUnprocessableEntity,
			"No reason",
			"Say why it can be done without, for whoever reads the record: "+wrong+".",
		)
	}
	v, err := s.job(r)
	if err != nil {
		return JobView{}, err
	}
	var grounds []trace.Ground
	switch {
	case v.Findings == nil:
	case req.Stage == "":
		grounds = v.Findings.Verify
	case v.Findings.Stage == req.Stage:
		grounds = v.Findings.Grounds
	}
	if !slices.ContainsFunc(grounds, func(g trace.Ground) bool { return g.Key == req.Key && g.Proof == trace.Lacking }) {
		return JobView{}, problem(
			http.StatusUnprocessableEntity,
			"Nothing to waive",
			"This is not missing, or no longer asked for. Reload the page.",
		)
	}
	return s.change(r, func(number int) error {
		return s.store.Note(
			r.Context(),
			number,
			&job.Waived{
				ID:     uuid.NewString(),
				Waiver: trace.Waiver{Stage: req.Stage, Key: req.Key, Reason: strings.TrimSpace(req.Reason)},
				At:     time.Now(),
			},
			nil,
		)
	})
}

// Outcome closes a job: what it was, and in which stage, and why what is open still can
// stay so.
type Outcome struct {
	Outcome string           `json:"outcome"`
	Stage   string           `json:"stage"`
	Without []repair.Without `json:"without,omitempty"`
}

func (s *Server) finish(r *http.Request, req Outcome) (JobView, error) {
	if wrong := job.Text("outcome", req.Outcome, true); wrong != "" {
		return JobView{}, problem(
			http.StatusUnprocessableEntity,
			"No outcome",
			"Write down what it was, for whoever meets this set next: "+wrong+".",
		)
	}
	if wrong := job.Text("stage", req.Stage, false); wrong != "" {
		return JobView{}, problem(http.StatusUnprocessableEntity, "Stage", wrong)
	}
	v, err := s.job(r)
	if err != nil {
		return JobView{}, err
	}
	without, err := doneWithout(&v, req.Without)
	if err != nil {
		return JobView{}, err
	}
	return s.change(r, func(number int) error {
		err := s.store.Finish(r.Context(), number, strings.TrimSpace(req.Outcome), req.Stage, without)
		if err != nil {
			return err
		}
		j, err := s.store.Job(r.Context(), number)
		if err != nil {
			return err
		}
		return s.endSoak(r.Context(), &j, "the job was finished")
	})
}

// Nothing is the body of a request that says all by its address.
type Nothing struct{}

func (s *Server) reopen(r *http.Request, _ Nothing) (JobView, error) {
	return s.change(r, func(number int) error { return s.store.Reopen(r.Context(), number) })
}
