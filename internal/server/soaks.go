package server

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/wave"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// SoakView is how a long run of a job stands: the one under way, or the last one. Begun is false where there was none; then
// Offer is the usual plan for such a set.
type SoakView struct {
	Head
	Begun   bool         `json:"begun"`
	Running bool         `json:"running"`
	ID      string       `json:"id"`
	Started *time.Time   `json:"started" jsonschema:"nullable"`
	Plan    soak.Plan    `json:"plan"`
	Ends    []float64    `json:"ends"` // seconds at which its steps end
	Step    int          `json:"step"`
	Since   float64      `json:"since"` // when the step began
	Feeding string       `json:"feeding"`
	Driven  bool         `json:"driven"`
	State   soak.State   `json:"state"`
	Events  []soak.Event `json:"events"`
	Ended   string       `json:"ended"`
	Through bool         `json:"through"` // it went through to its end
	Offer   soak.Plan    `json:"offer"`
	Loggers []LogSource  `json:"loggers"`
	Whats   []soak.What  `json:"whats"`
	Dos     []soak.Do    `json:"dos"`
}

// practiceSpeed is by how much faster simulated sets run, where nobody says otherwise: an hour in a minute.
const practiceSpeed = 60

// LogSource is an instrument that traces can be read by.
type LogSource struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	StandIn bool   `json:"standIn"`
}

// Long: what is told of it, a thing after the other.
func (s *Server) soak(r *http.Request) (SoakView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return SoakView{}, err
	}
	v := SoakView{
		Head:    head(&j),
		Plan:    soak.Plan{Steps: []soak.Step{}, Traces: []soak.Trace{}},
		Ends:    []float64{},
		Events:  []soak.Event{},
		State:   soak.State{Traces: []soak.TraceState{}},
		Loggers: []LogSource{},
		Whats:   soak.Whats,
		Dos:     soak.Dos,
	}
	logger := ""
	for _, in := range s.bench.List() {
		if in.Kind == instrument.Logger || in.Kind == instrument.Meter {
			v.Loggers = append(v.Loggers, LogSource{in.ID, in.Name, in.StandIn})
			if in.Kind == instrument.Logger {
				logger = cmp.Or(logger, in.ID)
			}
		}
	}
	var route *sheet.Route
	if c, ok := j.Case(j.Sheet.Plan); ok {
		route = c.Route
	}
	v.Offer = soak.Offer(j.Sheet.Plan, route, logger)
	if logger == loggerStandIn {
		v.Offer.Speed = practiceSpeed
	}
	e, running := soak.Running(j.Soaks)
	if e == nil {
		return v, nil
	}
	plan, err := e.Begin.Read()
	if err != nil {
		return v, err
	}
	v.Begun, v.Running, v.ID, v.Started, v.Plan, v.Ends = true, running, e.ID, &e.At, *e.Begin, plan.Ends
	v.Driven = soak.Driven(j.Soaks, e.ID)
	over := 0.0
	for i := range j.Soaks {
		switch x := &j.Soaks[i]; {
		case x.Struck:
		case x.Event != nil && x.Event.Soak == e.ID:
			v.Events = append(v.Events, *x.Event)
		case x.Over != nil && x.Over.Soak == e.ID:
			v.Ended, v.Through = cmp.Or(x.Over.Why, "it is over"), x.Over.Done
			over = x.Over.T
		}
	}
	if x, ok := s.soaks.of(j.Number); ok && x.id == e.ID {
		x.mu.Lock()
		v.State = x.state
		v.State.T = x.clock.T
		if r.URL.Query().Get("sounding") != "" {
			x.heard = time.Now()
		}
		v.Feeding = x.feeding()
		x.mu.Unlock()
	} else if v.State, err = s.soaked(r.Context(), &j, e, plan, v.Events); err != nil {
		return v, err
	}
	v.State.T = max(v.State.T, over)
	v.Step, v.Since, _ = plan.Step(v.State.T)
	return v, nil
}

// feeding says what is fed in now. The soak is locked.
func (x *soaking) feeding() string {
	if !(x.fed.Level > 0) {
		return ""
	}
	text := quantity.Rounded(x.fed.From, quantity.Hertz) + ", " + quantity.Rounded(x.fed.Level, quantity.Volt)
	if x.byHand {
		text += ", by hand"
	}
	return text
}

// soaked is how a soak stood when it was last logged.
func (s *Server) soaked(ctx context.Context, j *store.Job, e *soak.Entry, plan *soak.Planned, events []soak.Event) (soak.State, error) {
	courses := make([]soak.Course, len(plan.Traces))
	t, _, err := s.store.SoakAt(ctx, j.Number, e.ID)
	if err != nil && err != store.ErrNotFound {
		return soak.State{}, err
	}
	for i := range courses {
		if courses[i].Points, err = s.store.SoakCourse(ctx, j.Number, e.ID, i); err != nil {
			return soak.State{}, err
		}
	}
	return soak.Ended(plan, courses, events, t), nil
}

// ToSoak begins a soak.
type ToSoak struct {
	ID   string    `json:"id"`
	Plan soak.Plan `json:"plan"`
}

func (s *Server) beginSoak(r *http.Request, req ToSoak) (SoakView, error) {
	j, err := load(r, s.store.Job)
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return SoakView{}, err
	}
	if slices.ContainsFunc(j.Soaks, func(e soak.Entry) bool { return e.ID == req.ID }) {
		return s.soak(r) // it began, and the answer did not arrive
	}
	if _, running := soak.Running(j.Soaks); running {
		return SoakView{}, problem(http.StatusUnprocessableEntity, "Under way", "A soak is under way in this job: end that first.")
	}
	if err := s.sources(j.Number, &req.Plan); err != nil {
		return SoakView{}, err
	}
	e := soak.Entry{ID: req.ID, At: time.Now(), Begin: &req.Plan}
	if err := s.note(r, j.Number, &e, nil); err != nil {
		return SoakView{}, err
	}
	if j, err = s.store.Job(r.Context(), j.Number); err != nil {
		return SoakView{}, err
	}
	begun, _ := soak.Running(j.Soaks)
	if err := s.run(r.Context(), &j, begun); err != nil {
		return SoakView{}, err
	}
	return s.soak(r)
}

// sources checks that the instruments of a job's plan are there and not in use, and that time runs faster for simulated ones
// alone.
func (s *Server) sources(number int, p *soak.Plan) error {
	list := s.bench.List()
	for i := range p.Traces {
		id := p.Traces[i].Instrument
		if id == "" {
			if p.Speed > 1 {
				return problem(http.StatusUnprocessableEntity, "Real time", "What is typed takes real time: let simulated time run with "+
					"instruments alone.")
			}
			continue
		}
		k := slices.IndexFunc(list, func(in instrument.Instrument) bool { return in.ID == id })
		switch {
		case k < 0:
			return problem(http.StatusUnprocessableEntity, "No such instrument",
				fmt.Sprintf("%s is read by an instrument that is not known. Choose another, or type it.", p.Traces[i].Name))
		case p.Speed > 1 && !list[k].StandIn:
			return problem(http.StatusUnprocessableEntity, "Real time", list[k].Name+" measures real sets, and these take real time.")
		}
	}
	plan, err := p.Read()
	if err != nil {
		return err
	}
	other := s.soaks.uses(number, func(x *soaking) bool {
		return practises(p) && practises(x.plan.Plan) || plan.Feeds() && x.plan.Feeds()
	})
	if other != 0 {
		return inUse(other)
	}
	return nil
}

// inUse says that the generator, or the simulated set's place, is taken by a soak.
func inUse(number int) error {
	return problem(http.StatusUnprocessableEntity, "In use", fmt.Sprintf(
		"The soak of No. %d has the generator, or the practice bench. End it there, or let it come to its end.", number))
}

// soakSound is one round of the signal of a step, as a WAV to be played over and over at an output that was calibrated.
func (s *Server) soakSound(w http.ResponseWriter, r *http.Request) error {
	number, err := intParam(r, "number")
	if err != nil {
		return err
	}
	x, there := s.soaks.of(number)
	q := r.URL.Query()
	step, err := strconv.Atoi(q.Get("step"))
	if !there || err != nil || step < 0 || step >= len(x.plan.Moves) || !x.plan.Plays() {
		return problem(http.StatusNotFound, "Nothing to play", "No soak is under way here that plays its signal as sound in this step.")
	}
	rate := 48000.0
	if err := values(wanted{"rate", q.Get("rate"), quantity.Hertz, &rate}); err != nil {
		return problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	m := x.plan.Moves[step]
	peak, err := s.peakOf(r.Context(), q.Get("device"), quantity.Value{SI: m.Level, Unit: quantity.Volt, Form: quantity.RMS})
	if err != nil {
		return err
	}
	const least, most = 8e3, 192e3 // samples a second
	if !(rate >= least && rate <= most) {
		return problem(http.StatusUnprocessableEntity, "Not played", "A sound output takes 8000 to 192000 samples a second.")
	}
	samples, err := m.Round(rate)
	if err != nil {
		return err
	}
	for i := range samples {
		samples[i] *= peak
	}
	w.Header().Set("Content-Type", "audio/wav")
	w.Header().Set("Cache-Control", "no-store")
	_, _ = w.Write(wave.WriteWAV(samples, rate)) // the client may be gone
	return nil
}

// SoakValue is a value that is typed: of which trace.
type SoakValue struct {
	Trace string `json:"trace"`
	Text  string `json:"text"`
}

func (s *Server) typeSoak(r *http.Request, req SoakValue) (SoakView, error) {
	x, err := s.underWay(r)
	if err != nil {
		return SoakView{}, err
	}
	i := slices.IndexFunc(x.plan.Traces, func(t soak.Trace) bool { return t.Name == req.Trace })
	if i < 0 {
		return SoakView{}, problem(http.StatusUnprocessableEntity, "No such trace", "The soak does not log anything of this name.")
	}
	v, err := quantity.ParseAs(req.Text, x.plan.Traces[i].What.Unit())
	if err != nil {
		return SoakView{}, err
	}
	ctx := context.WithoutCancel(r.Context())
	value := soak.Value{Trace: i, T: x.apart(x.tick(ctx)), V: v.SI}
	if err := s.store.LogSoak(r.Context(), x.job, x.id, value.T, time.Now(), []soak.Value{value}); err != nil {
		return SoakView{}, err
	}
	x.take(ctx, []soak.Value{value})
	return s.soak(r)
}

// apart is a time for a value that is typed, later than that of the one before: they are kept by the millisecond.
func (x *soaking) apart(t float64) float64 {
	const grain = 1e-3 // s
	x.mu.Lock()
	defer x.mu.Unlock()
	x.typedAt = math.Max(t, x.typedAt+grain)
	return x.typedAt
}

func (s *Server) underWay(r *http.Request) (*soaking, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return nil, err
	}
	x, ok := s.soaks.of(number)
	if !ok {
		return nil, problem(http.StatusUnprocessableEntity, "No soak", "No soak is under way in this job. Begin one.")
	}
	return x, nil
}

// SoakDoing is what is done to a soak under way: stop the drive, go on, note something, end it.
type SoakDoing struct {
	Do   string `json:"do" jsonschema:"enum=stop,enum=on,enum=note,enum=end"`
	Text string `json:"text,omitempty"`
}

func (s *Server) doSoak(r *http.Request, req SoakDoing) (SoakView, error) {
	text := strings.TrimSpace(req.Text)
	const most = 250
	if utf8.RuneCountInString(text) > most {
		return SoakView{}, problem(
			http.StatusUnprocessableEntity,
			"Too long",
			fmt.Sprintf("A note of a soak has at most %d characters.", most),
		)
	}
	if req.Do == "end" {
		j, err := load(r, s.store.Job)
		if err == nil {
			err = s.endSoak(r.Context(), &j, cmp.Or(text, "ended by hand"))
		}
		if err != nil {
			return SoakView{}, err
		}
		return s.soak(r)
	}
	x, err := s.underWay(r)
	if err != nil {
		return SoakView{}, err
	}
	ctx := context.WithoutCancel(r.Context())
	switch {
	case req.Do == "stop":
		x.stopDrive(ctx, cmp.Or(text, "by hand"))
	case req.Do == "on":
		x.goOn(ctx, cmp.Or(text, "the drive goes on"))
	case req.Do == "note" && text == "":
		return SoakView{}, problem(http.StatusUnprocessableEntity, "Nothing said", "Write down what is noted.")
	case req.Do == "note":
		x.note(ctx, soak.Event{T: x.tick(ctx), What: soak.Noted, Text: text})
	default:
		return SoakView{}, problem(http.StatusUnprocessableEntity, "Not known", "A soak can be told stop, on, note or end.")
	}
	return s.soak(r)
}

// endSoak ends the soak of a job that is under way, if there is one, and waits until it does not run any more. One that broke
// off is over then too.
func (s *Server) endSoak(ctx context.Context, j *store.Job, why string) error {
	e, running := soak.Running(j.Soaks)
	if !running {
		return nil
	}
	x, ok := s.soaks.of(j.Number)
	if !ok {
		t, _, err := s.store.SoakAt(ctx, j.Number, e.ID)
		if err != nil && err != store.ErrNotFound {
			return err
		}
		over := soak.Entry{ID: uuid.NewString(), At: time.Now(), Over: &soak.Over{Soak: e.ID, T: t, Why: why}}
		return s.store.Note(ctx, j.Number, &over, nil)
	}
	x.mu.Lock()
	x.why = cmp.Or(x.why, why)
	x.mu.Unlock()
	x.cancel()
	<-x.ended
	return nil
}

// SoakLog is what a soak has logged between two times, drawn together as far as a screen needs.
type SoakLog struct {
	From   float64   `json:"from"`
	To     float64   `json:"to"`
	Traces []LogLine `json:"traces"`
}

// LogLine is one trace: the times of its stretches (seconds), with the least and the greatest there. Breaks are the places
// among them where a new run begins: nothing was read before it.
type LogLine struct {
	T        []float64 `json:"t"`
	Least    []float64 `json:"least"`
	Greatest []float64 `json:"greatest"`
	Breaks   []int     `json:"breaks"`
}

func (s *Server) soakLog(r *http.Request) (SoakLog, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return SoakLog{}, err
	}
	e, _ := soak.Running(j.Soaks)
	if e == nil {
		return SoakLog{Traces: []LogLine{}}, nil
	}
	plan, err := e.Begin.Read()
	if err != nil {
		return SoakLog{}, err
	}
	out := SoakLog{To: plan.Length(), Traces: []LogLine{}}
	for name, into := range map[string]*float64{"from": &out.From, "to": &out.To} {
		if text := r.URL.Query().Get(name); text != "" {
			if *into, err = strconv.ParseFloat(text, 64); err != nil || !(*into >= 0 && *into < math.MaxInt32) {
				return SoakLog{}, problem(http.StatusUnprocessableEntity, "No time", "Times are seconds since the soak began.")
			}
		}
	}
	for i := range plan.Traces {
		list, err := s.store.SoakLog(r.Context(), j.Number, e.ID, i, out.From, out.To, false)
		if err != nil {
			return SoakLog{}, err
		}
		line, over := LogLine{T: []float64{}, Least: []float64{}, Greatest: []float64{}}, 0.0
		for _, x := range list {
			over = x.Over
			line.T, line.Least, line.Greatest = append(line.T, x.T), append(line.Least, x.Least), append(line.Greatest, x.Greatest)
		}
		line.Breaks = plan.Breaks(i, line.T, over)
		out.Traces = append(out.Traces, line)
	}
	return out, nil
}

// soakTable is all that a soak has logged, as a table.
func (s *Server) soakTable(w http.ResponseWriter, r *http.Request) error {
	j, err := load(r, s.store.Job)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(j.Soaks, func(e soak.Entry) bool { return e.Begin != nil && e.ID == param(r, "id") })
	if i < 0 {
		return store.ErrNotFound
	}
	data, err := s.store.SoakTable(r.Context(), j.Number, &j.Soaks[i])
	if err == nil {
		attach(w, "text/csv; charset=utf-8", fmt.Sprintf("soak-%d.csv", j.Number), data)
	}
	return err
}
