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

	"steptrace/core/circuit"
	"steptrace/core/exchange"
	"steptrace/core/inside"
	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
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
	Levels []training.Level  `json:"levels"`
	Kinds  []training.Kind   `json:"kinds"`
	Sets   []string          `json:"sets"`   // that cases are drawn from
	Sheets []SheetChoice     `json:"sheets"` // of the workshop
	Jobs   []OwnJob          `json:"jobs"`   // finished ones of the workshop, that can be worked again
	Cases  []DrawnCase       `json:"cases"`
	Course []training.Lesson `json:"course"`
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
	Who       string         `json:"who"`
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
	}
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

// CaseView is how a case stands. Review is there once it has ended; before, with what was read so far and nothing of what is wrong.
type CaseView struct {
	Number  int              `json:"number"`
	Level   training.Level   `json:"level"`
	Advice  training.Advice  `json:"advice"`
	Told    bool             `json:"told"` // advice is shown now
	Minutes float64          `json:"minutes"`
	Warm    bool             `json:"warm"`
	Stopped int              `json:"stopped"`
	Ended   bool             `json:"ended"`
	Review  *training.Review `json:"review" jsonschema:"nullable"`
	Cells   []training.Heard `json:"cells"` // what can be listened to
}

// drilled is a case with its job.
type drilled struct {
	store.Drawn
	job store.Job
}

func (s *Server) drilled(r *http.Request) (drilled, error) {
	if err := s.trains(); err != nil {
		return drilled{}, err
	}
	j, err := load(r, s.store.Job)
	if err != nil {
		return drilled{}, err
	}
	d, err := s.store.Drawn(r.Context(), j.Number)
	if errors.Is(err, store.ErrNotFound) {
		err = problem(http.StatusNotFound, "No case", "This job is no case that was drawn. Choose one under Practise.")
	}
	return drilled{d, j}, err
}

// told tells whether advice is shown as it stands: all the time, or asked for since the last reading.
func (d *drilled) told() bool {
	asked := d.Progress.Asked
	return d.Case.Advice == training.Always || d.Progress.Ended != nil ||
		len(asked) > 0 && asked[len(asked)-1].Readings == len(d.job.Readings)
}

func (s *Server) seeCase(r *http.Request) (CaseView, error) {
	d, err := s.drilled(r)
	if err != nil {
		return CaseView{}, err
	}
	clock := d.Progress.Clock(d.job.Sheet.Plan, &d.job.Job)
	v := CaseView{
		Number: d.Number, Level: d.Case.Level, Advice: d.Case.Advice, Told: d.told(), Minutes: clock.Minutes, Warm: clock.Warm,
		Stopped: len(d.Progress.Stopped), Ended: d.Progress.Ended != nil, Cells: []training.Heard{},
	}
	plan, err := d.Case.Plan()
	if err != nil {
		return v, err
	}
	v.Cells = training.Hearable(plan)
	if v.Ended {
		v.Review = d.Case.Review(d.job.Sheet.Plan, &d.job.Job, &d.Progress)
	}
	return v, nil
}

// Drill is something that is done in a case besides the work: time let pass, advice asked for, the end.
type Drill struct {
	What    string  `json:"what" jsonschema:"enum=wait,enum=advice,enum=end"`
	Minutes float64 `json:"minutes,omitempty"`
}

// mostWait is how long is waited at a time, in minutes: a day.
const mostWait = 24 * 60

func (s *Server) drill(r *http.Request, req Drill) (CaseView, error) {
	d, err := s.drilled(r)
	if err != nil {
		return CaseView{}, err
	}
	if d.Progress.Ended != nil {
		return CaseView{}, problem(http.StatusConflict, "It has ended", "This case has ended: what it came to is told. Draw another.")
	}
	var do func(p *training.Progress, at time.Time) error
	switch req.What {
	case "wait":
		if !(req.Minutes > 0 && req.Minutes <= mostWait) {
			return CaseView{}, problem(http.StatusUnprocessableEntity, "How long", "Let some minutes pass, up to a day.")
		}
		do = func(p *training.Progress, at time.Time) error {
			p.Waits = append(p.Waits, training.Waited{At: at, Minutes: req.Minutes})
			return nil
		}
	case "advice":
		if d.Case.Advice == training.Hidden {
			return CaseView{}, problem(http.StatusConflict, "No advice", "This case is worked without advice, as it was chosen.")
		}
		do = func(p *training.Progress, at time.Time) error {
			if !d.told() {
				p.Asked = append(p.Asked, training.AskedFor{At: at, Readings: len(d.job.Readings)})
			}
			return nil
		}
	case "end":
		do = func(p *training.Progress, at time.Time) error { p.Ended = &at; return nil }
	default:
		return CaseView{}, problem(http.StatusUnprocessableEntity, "Not understood", "Say wait, advice or end.")
	}
	if err := s.store.PutProgress(r.Context(), d.Number, do); err != nil {
		return CaseView{}, err
	}
	return s.seeCase(r)
}

// bench is the set of a case as it is now, for what is traced.
func (d *drilled) bench() (*training.Bench, []training.Fault, error) {
	plan, err := d.Case.Plan()
	if err != nil {
		return nil, nil, err
	}
	left := d.Case.Left(d.job.Repairs)
	set, good, err := d.Case.Set(plan, left)
	if err != nil {
		return nil, nil, err
	}
	clock := d.Progress.Clock(d.job.Sheet.Plan, &d.job.Job)
	b := &training.Bench{Plan: plan, Set: set, Good: good, Stand: standin.Stand{Warm: clock.Warm}}
	for _, x := range repair.In(d.job.Repairs) {
		if t := x.Temporary; t.What == repair.Swapped || t.What == repair.Jumper {
			b.Stand.Good = append(b.Stand.Good, t.Subject)
		}
	}
	return b, left, nil
}

// stop keeps somebody from something unsafe, and takes it down.
func (s *Server) stop(r *http.Request, d *drilled, what, would string) error {
	err := s.store.PutProgress(r.Context(), d.Number, func(p *training.Progress, at time.Time) error {
		p.Stopped = append(p.Stopped, training.Stopped{At: at, What: what, Would: would})
		return nil
	})
	if err != nil {
		return err
	}
	return problem(
		http.StatusConflict,
		"Stopped: "+what,
		"Stopped, "+what+". "+would+" Make it safe first (g 2); local codes and licensed practice come first.",
	)
}

// must refuses what cannot be done as the set stands: unsafe, or with the set off. Then it has ended nothing is read any more.
func (s *Server) must(r *http.Request, d *drilled, c trace.Case, aim reading.Aim) error {
	if d.Progress.Ended != nil {
		return problem(http.StatusConflict, "It has ended", "This case has ended: nothing more is read of it. Draw another.")
	}
	power := d.job.Power(c.Plan)
	if what, would := training.Unsafe(c, &power, aim); what != "" {
		return s.stop(r, d, what, would)
	}
	if aim.Quantity != sheet.Resistance && power.State != safety.Live {
		return problem(http.StatusConflict, "The set is off", "Nothing is there to be read: switch it on first (key o).")
	}
	return nil
}

// trained is what the set of a case gives where a reading would be typed or taken: the text to take down.
func (s *Server) trained(r *http.Request, c trace.Case, req *Typed) (string, error) {
	d, err := s.drilled(r)
	if err != nil {
		return "", err
	}
	if err := s.must(r, &d, c, req.Aim); err != nil {
		return "", err
	}
	b, left, err := d.bench()
	if err != nil {
		return "", err
	}
	if req.Quantity == sheet.Provocation {
		return b.Provoke(c, req.Point, req.Text, left)
	}
	return b.Answer(c, training.Reads{Aim: req.Aim, Without: req.Without, Worked: req.Worked})
}

// lay puts the set of a case on the desk with the probe where it is aimed, the generator where something is fed in, set as it has to be.
func (s *Server) layOut(r *http.Request, c trace.Case, req *ToTake) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	if err := s.must(r, &d, c, req.Aim); err != nil {
		return err
	}
	b, _, err := d.bench()
	if err != nil {
		return err
	}
	hands := desk.Hands{
		Job: d.Number, Mode: c.Route.Mode, On: c.Power == reading.PowerOn, Probe: req.Point, Second: req.Second, Beside: b.Stand,
	}
	hands.Beside.Good = append(slices.Clone(b.Stand.Good), req.Without...)
	if len(c.Route.Points) > 0 && !c.Plan.Points[c.Route.Points[0]].Source {
		hands.Generator = c.Plan.Points[c.Route.Points[0]].Name
	}
	if c.Injected != nil {
		hands.Generator = c.Injected.At
	}
	if hands.Generator != "" {
		if _, err := s.feedFor(r.Context(), d.Number, c); err != nil {
			hands.Generator = "" // nothing is known of what would have to be fed in: its own signal
		}
	}
	s.practice.desk.Connect(b.Set, hands)
	return nil
}

// byDesk tells whether a reading is one that the desk's instruments take.
func byDesk(c trace.Case, req *Typed) bool {
	_, line := c.Plan.LineIndex(req.Point)
	q := req.Quantity
	return (c.Injected == nil || !c.Injected.Touch) && !line && !req.Worked &&
		len(c.Plan.FuseRails(req.Point)) == 0 &&
		slices.Contains([]sheet.Quantity{"", sheet.AC, sheet.DC, sheet.Frequency, sheet.Resistance}, q)
}

// trainMark has the set answer what is tried from outside.
func (s *Server) trainMark(r *http.Request, c trace.Case, req *Mark) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	if err := s.must(r, &d, c, reading.Aim{Point: req.Exit}); err != nil {
		return err
	}
	b, _, err := d.bench()
	if err == nil {
		req.Word, err = b.Try(req.Mode, req.Entry, req.Exit, req.Without)
	}
	return err
}

// trainInside has the set answer what is read, checked or provoked inside a stage, whatever was typed.
func (s *Server) trainInside(r *http.Request, j *store.Job, e *inside.Entry) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return blocked(j.Sheet.Problems, nil, nil)
	}
	b, left, err := d.bench()
	if err != nil {
		return err
	}
	power := d.job.Power(c.Plan)
	switch {
	case e.Reading != nil:
		aim := reading.Aim{Point: e.Reading.Node}
		if e.Reading.What == circuit.Ohms {
			aim.Quantity = sheet.Resistance
		}
		if err = s.must(r, &d, c, aim); err == nil {
			e.Reading.Value, err = b.Inside(e.Stage, *e.Reading)
		}
	case e.Check != nil && power.Reading().Live():
		err = s.stop(
			r,
			&d,
			"a part measured in a live set",
			"The meter's own test current and the set's volts would have met in it: the meter's "+
				"fuse gone at best, and the reading worth nothing.",
		)
	case e.Check != nil:
		e.Check.Given, err = b.Part(e.Stage, e.Check.Part, e.Check.Kind)
	case e.Provoked != nil:
		var text string
		if err = s.must(r, &d, c, reading.Aim{Point: e.Stage, Quantity: sheet.Provocation}); err == nil {
			text, err = b.Provoke(c, e.Stage, string(e.Provoked.Act), left)
		}
		if _, came, ok := strings.Cut(text, " "); ok && err == nil {
			e.Provoked.Came = map[string]string{"comes": "comes", "goes": "goes"}[came]
			if e.Provoked.Came == "" {
				e.Provoked.Came = "nothing"
			}
		}
	}
	return err
}

// trainResidual has the set answer what is left on a reservoir.
func (s *Server) trainResidual(r *http.Request, req *Happening) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	since, before := 0.0, false
	clock := d.Progress.Clock(d.job.Sheet.Plan, &d.job.Job)
	for _, m := range clock.Moments {
		if m.Kind == "safety" && m.ID == string(safety.Off) {
			since = clock.Minutes - m.By
		}
	}
	for _, e := range d.job.Safety {
		switch {
		case e.Kind == safety.SwitchedOn || e.Kind == safety.Standby:
			before = false
		case e.Kind == safety.Residual && e.Subject == req.Subject:
			before = true
		}
	}
	if text, ok := training.Residual(d.job.Sheet.Plan, req.Subject, since, before); ok {
		req.Text, req.Confirmed = text, true
	}
	return nil
}

// quiet takes the advice out of what a job shows where it is not to be seen.
func (s *Server) quiet(r *http.Request, v *JobView) error {
	d, err := s.drilled(r)
	if err != nil || d.told() || v.Findings == nil {
		return err
	}
	f := v.Findings
	f.Conclusion = trace.Conclusion{
		State: trace.Tracing, Headline: "No advice: what the readings say is for you to judge.",
		Reasons: []string{}, Grounds: []trace.Ground{},
		Options: f.Options[:0],
	}
	if d.Case.Advice == training.Asked {
		f.Headline = "No advice, until you ask for it: what the readings say is for you to judge."
	}
	f.Notices, f.Manual, f.Ways, f.Verify = []string{}, f.Manual[:0], f.Ways[:0], []trace.Ground{}
	for i := range f.Stages {
		f.Stages[i].Standing, f.Stages[i].Weight = trace.Open, 0
		f.Stages[i].Reasons, f.Stages[i].Speaks = []string{}, []trace.Speak{}
	}
	for i := range f.Points {
		f.Points[i].IfGood, f.Points[i].IfBad = "", ""
	}
	for i := range f.Map {
		f.Map[i].Standing, f.Map[i].Condemned = trace.Open, false
	}
	for _, lines := range [][]trace.LineFinding{f.Rails, f.Controls} {
		for i := range lines {
			lines[i].Weight = 0
		}
	}
	v.Offers = v.Offers[:0]
	return nil
}

// quietInside takes it out of what is looked into: what stands where is there to be judged, and not which part that makes it.
func (s *Server) quietInside(r *http.Request, v *InsideView) error {
	d, err := s.drilled(r)
	if err != nil || d.told() {
		return err
	}
	x := &v.View
	x.Says, x.Diagnosis, x.Doubt, x.Grounds = "No advice: which part it is, is for you to judge.", nil, nil, []inside.Ground{}
	x.Parts = slices.Clone(x.Parts) // they are kept for whoever looks again
	for i := range x.Parts {
		x.Parts[i].Weight = 0
	}
	for i := range v.Stages {
		v.Stages[i].Belief = 0
	}
	slices.SortStableFunc(v.Stages, func(a, b inside.Listed) int {
		if a.Circuit != b.Circuit {
			return map[bool]int{true: -1, false: 1}[a.Circuit]
		}
		return strings.Compare(a.Stage, b.Stage)
	})
	return nil
}

// stageOf is the stage that is looked into where none is asked for: in practice without advice not that which the trace names, but the
// first that has a circuit.
func (s *Server) stageOf(r *http.Request, j *store.Job) (string, error) {
	stage := r.URL.Query().Get("stage")
	if s.training == nil || stage != "" {
		return stage, nil
	}
	d, err := s.drilled(r)
	if err == nil && !d.told() && len(j.Sheet.Plan.Circuits) > 0 {
		stage = j.Sheet.Plan.Circuits[0].Stage
	}
	return stage, err
}

// quietIntake takes it out of the intake.
func (s *Server) quietIntake(r *http.Request, v *IntakeView) error {
	d, err := s.drilled(r)
	if err != nil || d.told() || v.Matrix == nil {
		return err
	}
	m := v.Matrix
	m.Left, m.Best, m.Clash, v.Probe, v.Offers = m.Left[:0], nil, m.Clash[:0], nil, v.Offers[:0]
	for i := range m.Rows {
		for k := range m.Rows[i].Cells {
			c := &m.Rows[i].Cells[k]
			c.Clears, c.Leaves, c.Partly, c.Bits = c.Clears[:0], c.Leaves[:0], c.Partly[:0], 0
		}
	}
	return nil
}

// caseFile gives a case as a file, its answer sealed.
func (s *Server) caseFile(w http.ResponseWriter, r *http.Request) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	attach(w, "application/json", fmt.Sprintf("case-%d.json", d.Number), d.Case.WriteFile())
	return nil
}

// importCase takes one over, to be worked here.
func (s *Server) importCase(w http.ResponseWriter, r *http.Request) (Opened, error) {
	if err := s.trains(); err != nil {
		return Opened{}, err
	}
	data, err := body(w, r, maxFile)
	if err != nil {
		return Opened{}, err
	}
	c, err := training.ReadFile(data)
	if err != nil {
		return Opened{}, err
	}
	number, err := s.store.AddDrawn(r.Context(), &job.Job{Complaint: c.Told.Complaint, Opened: time.Now()}, c.Manual, c)
	if err == nil {
		err = s.toLikeliest(r, number)
	}
	return Opened{number}, err
}

// resultFile gives what a case that has ended came to as a file, under the name that is typed.
func (s *Server) resultFile(w http.ResponseWriter, r *http.Request) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	who := strings.TrimSpace(r.URL.Query().Get("who"))
	switch {
	case d.Progress.Ended == nil:
		return problem(http.StatusConflict, "Not ended", "What it came to is there once it has ended.")
	case who == "" || len(who) > maxID:
		return problem(
			http.StatusUnprocessableEntity,
			"Whose is it",
			"Type the name under which the teacher knows you, up to 64 letters.",
		)
	}
	result := d.Case.Result(d.Case.Review(d.job.Sheet.Plan, &d.job.Job, &d.Progress), who, *d.Progress.Ended)
	attach(w, "application/json", fmt.Sprintf("result-%d.json", d.Number), exchange.Encode(result))
	return nil
}

// readResult reads a result file for the teacher; it is kept nowhere.
func (s *Server) readResult(w http.ResponseWriter, r *http.Request) (training.Result, error) {
	if err := s.trains(); err != nil {
		return training.Result{}, err
	}
	data, err := body(w, r, maxBody)
	if err != nil {
		return training.Result{}, err
	}
	return training.ReadResult(data)
}

// heard gives what comes out of an exit as a sound.
func (s *Server) heard(w http.ResponseWriter, r *http.Request) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	if d.job.Power(d.job.Sheet.Plan).State != safety.Live {
		return problem(http.StatusConflict, "The set is off", "Nothing is to be heard: switch it on first (key o).")
	}
	b, _, err := d.bench()
	if err != nil {
		return err
	}
	q := r.URL.Query()
	data, err := b.Listen(q.Get("mode"), q.Get("entry"), q.Get("exit"), strings.TrimSpace(q.Get("signal")))
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "audio/wav")
	w.Header().Set("Cache-Control", "no-store")
	_, err = w.Write(data)
	return err
}
