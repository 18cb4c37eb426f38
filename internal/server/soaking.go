package server

import (
	"context"
	"fmt"
	"log/slog"
	"math"
	"runtime/debug"
	"sync"
	"time"

	"steptrace/core/quantity"
	"steptrace/core/soak"
	"steptrace/internal/desk"
	"steptrace/internal/instrument"
	"steptrace/internal/store"

	"github.com/google/uuid"
)

// soaks are the long runs that are under way: they go on while nobody looks, and after the program was started anew.
type soaks struct {
	mu      sync.Mutex
	running map[int]*soaking // by job
	ctx     context.Context
	stop    context.CancelFunc
	done    sync.WaitGroup
}

// soaking is one of them. Its mutex guards what follows it.
type soaking struct {
	s    *Server
	job  int
	id   string // of the entry that it began with
	plan *soak.Planned

	mu      sync.Mutex
	clock   soak.Clock
	courses []soak.Course
	minute  []minute
	state   soak.State
	driven  bool
	fed     soak.Moving // what the generator gives now, as a level and a frequency
	silent  map[int]silence
	warned  map[string]bool // what was noted of a trace already
	cancel  context.CancelFunc
	ended   chan struct{} // closed when it does not run any more
}

// minute draws the values of a minute together.
type minute struct {
	at, sum float64
	n       int
}

// silence is since when an instrument has not answered, and why.
type silence struct {
	since float64
	why   string
}

// Soak takes up the soaks that were under way when the program was stopped; they end with Close.
func (s *Server) Soak(ctx context.Context) error {
	numbers, err := s.store.RunningSoaks(ctx)
	for _, n := range numbers {
		var j store.Job
		if err == nil {
			j, err = s.store.Job(ctx, n)
		}
		if err != nil {
			return err
		}
		if e, running := soak.Running(j.Soaks); running {
			if err := s.run(ctx, &j, e); err != nil {
				slog.Warn("a soak cannot go on", "job", n, "error", err)
			}
		}
	}
	return nil
}

// run lets a soak go on from where it is, in a goroutine of its own.
func (s *Server) run(ctx context.Context, j *store.Job, e *soak.Entry) error {
	plan, err := e.Begin.Read()
	if err != nil {
		return err
	}
	x := &soaking{
		s:       s,
		job:     j.Number,
		id:      e.ID,
		plan:    plan,
		courses: make([]soak.Course, len(plan.Traces)),
		minute:  make([]minute, len(plan.Traces)),
		silent:  map[int]silence{},
		warned:  map[string]bool{},
		driven:  soak.Driven(j.Soaks, e.ID),
		ended:   make(chan struct{}),
		clock:   soak.Clock{Speed: plan.Rate()},
	}
	for i := range j.Soaks {
		if v := j.Soaks[i].Event; v != nil && v.Soak == e.ID {
			x.warned[v.Trace+"/"+string(v.What)] = true
		}
	}
	t, wall, err := s.store.SoakAt(ctx, j.Number, e.ID)
	var lapse soak.Lapse
	lapsed := false
	switch {
	case err == nil:
		for i := range x.courses {
			if x.courses[i].Points, err = s.store.SoakCourse(ctx, j.Number, e.ID, i); err != nil {
				return err
			}
		}
		lapse, lapsed = x.clock.Resume(t, wall, time.Now(), steady())
	case err == store.ErrNotFound:
		x.clock.Tick(time.Now(), steady())
	default:
		return err
	}
	x.practise(ctx, j)
	s.soaks.mu.Lock()
	defer s.soaks.mu.Unlock()
	if s.soaks.ctx == nil {
		s.soaks.ctx, s.soaks.stop = context.WithCancel(context.Background())
	}
	if s.soaks.running == nil {
		s.soaks.running = map[int]*soaking{}
	}
	var run context.Context
	run, x.cancel = context.WithCancel(s.soaks.ctx)
	x.judge()
	s.soaks.running[j.Number] = x
	s.soaks.done.Go(func() {
		defer x.gone()
		if lapsed {
			x.note(run, soak.Event{T: lapse.From, For: lapse.For, What: lapsedAs(lapse, true), Text: lapse.Says})
		}
		x.loop(run)
	})
	return nil
}

// gone takes it out of those that are under way; what broke off is told, and ends no more than itself.
func (x *soaking) gone() {
	if with := recover(); with != nil {
		slog.Error("a soak broke off", "job", x.job, "with", with, "at", string(debug.Stack()))
	}
	all := &x.s.soaks
	all.mu.Lock()
	defer all.mu.Unlock()
	if all.running[x.job] == x {
		delete(all.running, x.job)
	}
	close(x.ended)
}

func lapsedAs(l soak.Lapse, away bool) soak.Happened {
	switch {
	case l.Back:
		return soak.SetBack
	case away:
		return soak.Away
	}
	return soak.Gap
}

// steady is the machine's steady clock.
func steady() time.Duration { return time.Since(began) }

var began = time.Now()

// endSoaks stops all of them; they are not over, and go on when the program is started again.
func (s *Server) endSoaks() {
	s.soaks.mu.Lock()
	stop := s.soaks.stop
	s.soaks.mu.Unlock()
	if stop != nil {
		stop()
		s.soaks.done.Wait()
	}
}

// of is the soak of a job that is under way.
func (s *soaks) of(number int) (*soaking, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	x, ok := s.running[number]
	return x, ok
}

// practise puts a simulated set under the practice instruments, where the plan uses them: the logger's inputs where hands
// would put them.
func (x *soaking) practise(ctx context.Context, j *store.Job) {
	p := x.s.practice
	uses := false
	for _, t := range x.plan.Traces {
		uses = uses || t.Instrument == loggerStandIn
	}
	if p == nil || !uses {
		return
	}
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return
	}
	hands := desk.Hands{Job: j.Number, On: true, Mode: c.Route.Mode}
	if len(c.Route.Points) > 0 {
		hands.Generator = c.Plan.Points[c.Route.Points[0]].Name
	}
	warm := map[string]float64{}
	for i, t := range x.plan.Traces {
		if t.Instrument != loggerStandIn {
			continue
		}
		for len(hands.Inputs) < t.Input {
			hands.Inputs = append(hands.Inputs, "")
		}
		if t.Input > 0 {
			hands.Inputs[t.Input-1] = placeOf(t)
		}
		if points := x.courses[i].Points; t.What == soak.Temperature && len(points) > 0 {
			warm[placeOf(t)] = points[len(points)-1].V
		}
	}
	p.mu.Lock()
	fault := p.faults[j.Number]
	p.mu.Unlock()
	if err := p.desk.Connect(c.Plan, fault, hands); err != nil {
		slog.Warn("the practice set cannot be put on the desk", "job", j.Number, "error", err)
		return
	}
	p.desk.Run(x.clock.T, x.plan.Rate(), warm)
	_, _ = x.s.feedSoak(ctx, nil) // the generator is off until a step says otherwise
}

const loggerStandIn = "practice-" + string(instrument.Logger)

// placeOf is where hands would put a logger's input.
func placeOf(t soak.Trace) string {
	if t.Where != "" {
		return t.Where
	}
	return t.Name
}

// loop reads, keeps and judges until the soak is over or the program ends.
func (x *soaking) loop(ctx context.Context) {
	const quickest = 20 * time.Millisecond
	every := time.Duration(x.plan.EverySeconds() / x.plan.Rate() * float64(time.Second))
	ticker := time.NewTicker(max(every, quickest))
	defer ticker.Stop()
	for {
		if x.once(ctx) {
			return
		}
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
	}
}

// once is one turn; it tells whether the soak is over.
func (x *soaking) once(ctx context.Context) bool {
	x.mu.Lock()
	from := x.clock.T
	lapse, lapsed := x.clock.Tick(time.Now(), steady())
	t := x.clock.T
	step, since, running := x.plan.Step(t)
	driven := x.driven
	x.mu.Unlock()
	if lapsed {
		x.note(ctx, soak.Event{T: from, For: lapse.For, What: lapsedAs(lapse, false), Text: lapse.Says})
	}
	if !running {
		x.drive(ctx, t, soak.Moving{}, 0)
		x.over(ctx, soak.Over{T: t, Done: true, Why: "the plan went through"})
		return true
	}
	move := x.plan.Moves[step]
	if !driven {
		move = soak.Moving{}
	}
	x.drive(ctx, t, move, t-since)
	values := x.read(ctx, t)
	for ctx.Err() == nil {
		err := x.s.store.LogSoak(ctx, x.job, x.id, t, time.Now(), values)
		if err == nil {
			break
		}
		if ctx.Err() == nil {
			slog.Error("a soak cannot be kept", "job", x.job, "error", err)
			time.Sleep(time.Second)
		}
	}
	x.mu.Lock()
	for _, v := range values {
		x.add(v)
	}
	x.judge()
	state := x.state
	x.mu.Unlock()
	x.warn(ctx, &state)
	return false
}

// add takes a value into the course of its trace: a point a minute. The soak is locked.
func (x *soaking) add(v soak.Value) {
	m, c := &x.minute[v.Trace], &x.courses[v.Trace]
	const long = 60
	if m.n == 0 || math.Floor(v.T/long) != math.Floor(m.at/long) {
		*m = minute{at: v.T}
		c.Points = append(c.Points, soak.Point{T: v.T, V: v.V})
	}
	m.sum, m.n = m.sum+v.V, m.n+1
	last := &c.Points[len(c.Points)-1]
	last.T, last.V = v.T, m.sum/float64(m.n)
}

// judge tells how it stands. The soak is locked.
func (x *soaking) judge() { x.state = soak.Judge(x.plan, x.courses, x.clock.T) }

// read asks the instruments for all traces. Of one that does not answer there is no value.
func (x *soaking) read(ctx context.Context, t float64) []soak.Value {
	var values []soak.Value
	for i := range x.plan.Traces {
		tr := &x.plan.Traces[i]
		if tr.Instrument == "" {
			continue
		}
		v, err := x.s.bench.Read(ctx, tr.Instrument, tr.What.Asks(), tr.Input)
		if ctx.Err() != nil {
			return values
		}
		was, silent := x.silent[i]
		switch {
		case err != nil && !silent:
			x.silent[i] = silence{t, err.Error()}
		case err == nil && silent:
			delete(x.silent, i)
			if t-was.since > 3*x.plan.EverySeconds() {
				text := fmt.Sprintf("%s was not read for %s: %s", tr.Name, soak.Span(t-was.since), was.why)
				x.note(ctx, soak.Event{T: was.since, For: t - was.since, What: soak.Gap, Trace: tr.Name, Text: clipped(text)})
			}
		}
		if err == nil && !math.IsNaN(v) && !math.IsInf(v, 0) {
			values = append(values, soak.Value{Trace: i, T: t, V: v})
		}
	}
	return values
}

func clipped(text string) string {
	const most = 290
	if r := []rune(text); len(r) > most {
		return string(r[:most]) + " …"
	}
	return text
}

// drive sets the generator, at a time of the soak, to where a signal that moves is t seconds after its step began.
func (x *soaking) drive(ctx context.Context, now float64, m soak.Moving, t float64) {
	level, hz := m.At(t)
	const near = 0.02 // of a frequency: nobody hears less
	same := level == x.fed.Level && (level == 0 || math.Abs(hz/x.fed.From-1) < near)
	if same {
		return
	}
	var fed *instrument.Fed
	if level > 0 {
		fed = &instrument.Fed{Shape: shapeWords[quantity.Sine], RMS: level, Hz: hz}
	}
	there, err := x.s.feedSoak(ctx, fed)
	if !there || err == nil {
		x.mu.Lock()
		x.fed = soak.Moving{Level: level, From: hz}
		x.mu.Unlock()
	} else if ctx.Err() == nil && x.first("/generator") {
		x.note(ctx, soak.Event{T: now, What: soak.Noted, Text: clipped("the generator does not do what the plan says: " + err.Error())})
	}
}

// feedSoak sets the generator, where there is one.
func (s *Server) feedSoak(ctx context.Context, fed *instrument.Fed) (there bool, err error) {
	g, ok := s.bench.First(instrument.Generator)
	if !ok {
		return false, nil
	}
	_, err = s.bench.Feed(ctx, g.ID, fed)
	return true, err
}

// warn notes a limit that is passed, or will be, and stops the drive where one is passed.
func (x *soaking) warn(ctx context.Context, state *soak.State) {
	x.mu.Lock()
	driven := x.driven
	x.mu.Unlock()
	for i := range state.Traces {
		t := &state.Traces[i]
		what := soak.Passed
		switch t.Verdict {
		case soak.Above, soak.Below, soak.Parted, soak.Fast:
		case soak.Will:
			if !driven { // it cools
				continue
			}
			what = soak.Foreseen
		default:
			continue
		}
		if !x.first(t.Name + "/" + string(what)) {
			continue
		}
		x.note(ctx, soak.Event{T: state.T, What: what, Trace: t.Name, Text: clipped(t.Name + ": " + t.Says)})
		if what == soak.Passed {
			x.stopDrive(ctx, t.Name+" has passed its limit")
		}
	}
}

// first tells whether something is noted for the first time since the drive went on.
func (x *soaking) first(key string) bool {
	x.mu.Lock()
	defer x.mu.Unlock()
	was := x.warned[key]
	x.warned[key] = true
	return !was
}

// stopDrive takes the signal away, and goes on logging.
func (x *soaking) stopDrive(ctx context.Context, why string) {
	x.mu.Lock()
	was, t := x.driven, x.clock.T
	x.driven = false
	x.mu.Unlock()
	if was {
		x.note(ctx, soak.Event{T: t, What: soak.Stopped, Text: clipped("the drive was stopped: " + why)})
	}
}

// note keeps an event of it.
func (x *soaking) note(ctx context.Context, e soak.Event) {
	e.Soak = x.id
	x.keep(ctx, &soak.Entry{ID: uuid.NewString(), At: time.Now(), Event: &e})
}

func (x *soaking) over(ctx context.Context, o soak.Over) {
	o.Soak = x.id
	x.keep(ctx, &soak.Entry{ID: uuid.NewString(), At: time.Now(), Over: &o})
	x.cancel()
}

func (x *soaking) keep(ctx context.Context, e *soak.Entry) {
	if err := x.s.store.Note(ctx, x.job, e, nil); err != nil && ctx.Err() == nil {
		slog.Error("an event of a soak cannot be kept", "job", x.job, "error", err)
	}
}
