package server

import (
	"cmp"
	"context"
	"fmt"
	"log/slog"
	"math"
	"runtime/debug"
	"slices"
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

// soaking is one of them. What follows its mutex is guarded by it; silent is its own goroutine's alone.
type soaking struct {
	s      *Server
	job    int
	id     string // of the entry that it began with
	plan   *soak.Planned
	cancel context.CancelFunc
	ended  chan struct{} // closed when it does not run any more
	silent map[int]silence

	driving sync.Mutex // one sets the generator at a time: who has stopped it finds it stopped

	mu      sync.Mutex
	clock   soak.Clock
	courses []soak.Course
	state   soak.State
	driven  bool
	fed     soak.Moving // what the generator gives now, as a level and a frequency; a level that is no number: nobody knows
	byHand  bool        // no generator is known: a person sets one
	typedAt float64     // when something was typed last (s)
	heard   time.Time   // when the page that plays the signal as sound was heard of last
	isMute  bool        // it is to be played and is not, since mute (s)
	mute    float64
	noticed map[string]bool
	why     string // it is over, and how; empty: it goes on when the program is started again
	through bool
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
		silent:  map[int]silence{},
		noticed: soak.Noticed(j.Soaks, e.ID),
		fed:     soak.Moving{Level: math.NaN()},
		driven:  soak.Driven(j.Soaks, e.ID),
		ended:   make(chan struct{}),
		clock:   soak.Clock{Speed: plan.Rate()},
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
	x.practise(j)
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
		x.finish()
	})
	return nil
}

// gone takes it out of those that are under way; what broke off is told, and ends no more than itself.
func (x *soaking) gone() {
	if with := recover(); with != nil {
		slog.Error("a soak broke off", "job", x.job, "with", with, "at", string(debug.Stack()))
		if g, ok := x.s.bench.First(instrument.Generator); ok && x.plan.Feeds() {
			_, _ = x.s.bench.Feed(context.Background(), g.ID, nil) // where it does not answer, nothing can be done about it
		}
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

// uses tells which other job has a soak under way of which something is so; zero for none.
func (s *soaks) uses(number int, is func(*soaking) bool) int {
	s.mu.Lock()
	defer s.mu.Unlock()
	for n, x := range s.running {
		if n != number && is(x) {
			return n
		}
	}
	return 0
}

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
func (x *soaking) practise(j *store.Job) {
	p := x.s.practice
	if p == nil || !practises(x.plan.Plan) {
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
	if err := p.connect(c.Plan, hands); err != nil {
		slog.Warn("the practice set cannot be put on the desk", "job", j.Number, "error", err)
		return
	}
	p.desk.Run(x.clock.T, x.plan.Rate(), warm)
}

const loggerStandIn = "practice-" + string(instrument.Logger)

// practises tells whether a plan is logged by the simulated instruments.
func practises(p *soak.Plan) bool {
	return slices.ContainsFunc(p.Traces, func(t soak.Trace) bool { return t.Instrument == loggerStandIn })
}

// placeOf is where hands would put a logger's input.
func placeOf(t soak.Trace) string { return cmp.Or(t.Where, t.Name) }

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

// tick lets the soak's time come up to now, and notes where that lapsed.
func (x *soaking) tick(ctx context.Context) float64 {
	x.mu.Lock()
	from := x.clock.T
	lapse, lapsed := x.clock.Tick(time.Now(), steady())
	t := x.clock.T
	x.mu.Unlock()
	if lapsed {
		x.note(ctx, soak.Event{T: from, For: lapse.For, What: lapsedAs(lapse, false), Text: lapse.Says})
	}
	return t
}

// once is one turn; it tells whether the plan is at its end.
func (x *soaking) once(ctx context.Context) bool {
	t := x.tick(ctx)
	if _, _, running := x.plan.Step(t); !running {
		x.mu.Lock()
		defer x.mu.Unlock()
		if x.through = x.plan.Watched(x.courses, x.plan.Length()); x.through {
			x.why = "the plan went through"
		} else {
			x.why = "nothing was read any more when the plan came to its end"
		}
		return true
	}
	x.drive(ctx)
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
	x.take(ctx, values)
	return false
}

// take takes values that are kept into the courses, judges, and does what follows.
func (x *soaking) take(ctx context.Context, values []soak.Value) {
	x.mu.Lock()
	for _, v := range values {
		x.courses[v.Trace].Add(v.T, v.V, x.plan.Traces[v.Trace].Instrument == "")
	}
	x.judge()
	notices := x.state.Notices(x.driven)
	x.mu.Unlock()
	for _, e := range notices {
		if !x.first(e.Key()) {
			continue
		}
		x.note(ctx, e)
		if e.What == soak.Passed {
			x.stopDrive(ctx, e.Trace+" has passed its limit")
		}
	}
}

// judge tells how it stands. The soak is locked.
func (x *soaking) judge() { x.state = soak.Judge(x.plan, x.courses, x.clock.T) }

// finish ends what is over: nothing is fed in any more, what did not answer is noted. What is not over goes on when the
// program is started again; a signal that is fed in is taken away all the same, since nobody watches.
func (x *soaking) finish() {
	const patience = 10 * time.Second
	ctx, cancel := context.WithTimeout(context.Background(), patience)
	defer cancel()
	x.mu.Lock()
	x.driven = false
	t, over := x.clock.T, soak.Over{Soak: x.id, T: x.clock.T, Done: x.through, Why: x.why}
	x.mu.Unlock()
	x.drive(ctx)
	if over.Why == "" {
		return
	}
	for i, was := range x.silent {
		x.gap(ctx, i, was, t)
	}
	x.keep(ctx, &soak.Entry{ID: uuid.NewString(), At: time.Now(), Over: &over})
}

// gap notes that a trace was not read for long.
func (x *soaking) gap(ctx context.Context, trace int, was silence, t float64) {
	const few = 3 // readings: one may fail
	if name := x.plan.Traces[trace].Name; t-was.since > few*x.plan.EverySeconds() {
		text := fmt.Sprintf("%s was not read for %s: %s", name, soak.Span(t-was.since), was.why)
		x.note(ctx, soak.Event{T: was.since, For: t - was.since, What: soak.Gap, Trace: name, Text: text})
	}
}

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
			x.gap(ctx, i, was, t)
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

// drive sets the generator to where the plan's signal is now. Where it does not follow it is told again at the next turn.
func (x *soaking) drive(ctx context.Context) {
	if x.plan.Plays() {
		x.hark(ctx)
	}
	if !x.plan.Feeds() {
		return
	}
	x.driving.Lock()
	defer x.driving.Unlock()
	x.mu.Lock()
	t, level, hz := x.clock.T, 0.0, 0.0
	if step, since, running := x.plan.Step(t); running && x.driven {
		level, hz = x.plan.Moves[step].At(t - since)
	}
	was := x.fed
	x.mu.Unlock()
	const near = 0.02 // of a frequency: nobody hears less
	if level == was.Level && (level == 0 || math.Abs(hz/was.From-1) < near) {
		return
	}
	var fed *instrument.Fed
	if level > 0 {
		fed = &instrument.Fed{Shape: shapeWords[quantity.Sine], RMS: level, Hz: hz}
	}
	generator, there := x.s.bench.First(instrument.Generator)
	var err error
	if there {
		_, err = x.s.bench.Feed(ctx, generator.ID, fed)
	}
	switch {
	case err == nil:
		x.mu.Lock()
		x.fed, x.byHand = soak.Moving{Level: level, From: hz}, !there
		x.mu.Unlock()
		if !there && x.first("by hand") {
			x.note(ctx, soak.Event{T: t, What: soak.Noted, Text: "no generator is known: its signal is fed in by hand"})
		}
	case ctx.Err() == nil && x.first("generator"):
		x.note(ctx, soak.Event{T: t, What: soak.Noted, Text: "the generator does not do what the plan says: " + err.Error()})
	}
}

// heardFor is for how long it counts as played after the page that plays it was heard of: it asks every second.
const heardFor = 5 * time.Second

// hark looks whether the page that plays the signal as sound still does; where it does not, that is a gap.
func (x *soaking) hark(ctx context.Context) {
	x.mu.Lock()
	t := x.clock.T
	step, _, running := x.plan.Step(t)
	due := running && x.driven && x.plan.Moves[step].Level > 0
	played := time.Since(x.heard) < heardFor
	x.fed = soak.Moving{}
	if due && played {
		x.fed = x.plan.Moves[step]
	}
	since, was := x.mute, x.isMute
	switch x.isMute = due && !played; {
	case x.isMute && !was:
		x.mute = t
	case was && !x.isMute:
		defer x.note(ctx, soak.Event{T: since, For: t - since, What: soak.Gap, Text: fmt.Sprintf(
			"its signal was not played for %s: the page that plays it was closed or silent", soak.Span(t-since))})
	}
	x.mu.Unlock()
}

// first tells whether something is noted for the first time since the drive went on.
func (x *soaking) first(key string) bool {
	x.mu.Lock()
	defer x.mu.Unlock()
	was := x.noticed[key]
	x.noticed[key] = true
	return !was
}

// stopDrive takes the signal away at once, and goes on logging. What the plan does not feed in by itself, a person has to
// take away.
func (x *soaking) stopDrive(ctx context.Context, why string) {
	x.mu.Lock()
	was, t := x.driven, x.clock.T
	x.driven = false
	text := "the drive was stopped: "
	if !x.plan.Feeds() && !x.plan.Plays() || x.byHand {
		text = "take the signal away by hand: "
	}
	x.mu.Unlock()
	x.drive(ctx)
	if was {
		x.note(ctx, soak.Event{T: t, What: soak.Stopped, Text: text + why})
	}
}

// goOn lets the drive go on; what was noticed is noticed again.
func (x *soaking) goOn(ctx context.Context, why string) {
	x.mu.Lock()
	x.driven = true
	clear(x.noticed)
	t := x.clock.T
	x.mu.Unlock()
	x.note(ctx, soak.Event{T: t, What: soak.WentOn, Text: why})
	x.drive(ctx)
}

// note keeps an event of it.
func (x *soaking) note(ctx context.Context, e soak.Event) {
	e.Soak, e.Text = x.id, clipped(e.Text)
	x.keep(ctx, &soak.Entry{ID: uuid.NewString(), At: time.Now(), Event: &e})
}

func (x *soaking) keep(ctx context.Context, e *soak.Entry) {
	if err := x.s.store.Note(ctx, x.job, e, nil); err != nil && ctx.Err() == nil {
		slog.Error("an event of a soak cannot be kept", "job", x.job, "error", err)
	}
}
