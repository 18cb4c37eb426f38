package soak

import (
	"math"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// Entry is one thing noted of a soak: that it began, with its plan; what happened; that it is over. One of them is there.
type Entry struct {
	ID     string    `json:"id"`
	At     time.Time `json:"at"`
	Who    string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Begin  *Plan     `json:"begin,omitempty"`
	Event  *Event    `json:"event,omitempty"`
	Over   *Over     `json:"over,omitempty"`
	// Data is what was logged, as a table, in a job's file.
	Data []byte `json:"data,omitempty"`
}

// Plan is what is done and logged. Every is how many seconds lie between two readings of the instruments, Remind how many
// minutes until what is typed is asked for again. Speed is by how much faster simulated sets run; 1 and 0 for real ones.
type Plan struct {
	Steps  []Step  `json:"steps"`
	Traces []Trace `json:"traces"`
	Every  float64 `json:"every,omitempty"`
	Remind float64 `json:"remind,omitempty"`
	Speed  float64 `json:"speed,omitempty"`
	By     By      `json:"by,omitempty" jsonschema:"enum=,enum=sound,description=what feeds the signal in; empty: the generator"`
}

// Do is what is done in a step.
type Do string

// The steps: on from cold, on without a signal, under a signal, off and on again so many times, warmed and cooled from
// outside, tapped along the board, measured at the end.
const (
	Cold    Do = "cold start"
	Idle    Do = "idle"
	Drive   Do = "drive"
	OffOn   Do = "off and on"
	Warm    Do = "heat"
	Cool    Do = "cool"
	Tap     Do = "tap"
	Measure Do = "measure"
)

// Dos lists them.
var Dos = []Do{Cold, Idle, Drive, OffOn, Warm, Cool, Tap, Measure}

// Words implements exchange.Enumerated.
func (Do) Words() []string { return exchange.WordsOf(Dos) }

// Step is one of a plan: what is done for how many minutes. Signal is what is fed in meanwhile; Note says what it is into,
// or what is looked at.
type Step struct {
	Name    string  `json:"name"`
	Do      Do      `json:"do"`
	Minutes float64 `json:"minutes"`
	Signal  *Signal `json:"signal,omitempty"`
	Note    string  `json:"note,omitempty"`
}

// Signal is one that moves: its level in volts rms, from which frequency to which, over how many seconds; Rest are seconds
// without any after each sweep, for bursts. With one frequency it stands still.
type Signal struct {
	Level string  `json:"level"`
	From  string  `json:"from"`
	To    string  `json:"to,omitempty"`
	Sweep float64 `json:"sweep,omitempty"`
	Rest  float64 `json:"rest,omitempty"`
}

// What is logged.
type What string

// What traces can be.
const (
	Temperature What = "temperature"
	Level       What = "level"
	Offset      What = "offset"
	Supply      What = "supply current"
	Bias        What = "bias"
	Noise       What = "noise"
	Rail        What = "rail"
	Power       What = "mains power"
)

// Whats lists them.
var Whats = []What{Temperature, Level, Offset, Supply, Bias, Noise, Rail, Power}

// Words implements exchange.Enumerated.
func (What) Words() []string { return exchange.WordsOf(Whats) }

// Unit is what it is read in.
func (w What) Unit() quantity.Unit {
	switch w {
	case Temperature:
		return quantity.Celsius
	case Supply:
		return quantity.Ampere
	case Power:
		return quantity.Watt
	}
	return quantity.Volt
}

// Asks is what an instrument is asked for, as its table of messages has it.
func (w What) Asks() string {
	switch w {
	case Temperature:
		return "temperature"
	case Supply:
		return "current"
	case Level, Noise:
		return "ac"
	case Power:
		return "power"
	}
	return "dc"
}

// Trace is something that is logged: what, where, by which input of which instrument (none: it is typed), with its limits
// as typed: at most, at least, at most so far from its twin, at most so much in ten minutes.
type Trace struct {
	Name       string `json:"name"`
	What       What   `json:"what"`
	Where      string `json:"where,omitempty"`
	Twin       string `json:"twin,omitempty"`
	Instrument string `json:"instrument,omitempty"`
	Input      int    `json:"input,omitempty"`
	Most       string `json:"most,omitempty"`
	Least      string `json:"least,omitempty"`
	Apart      string `json:"apart,omitempty"`
	Rate       string `json:"rate,omitempty"`
}

// Happened is a sort of event.
type Happened string

// What can happen to a soak: a limit is passed or will be; the drive was stopped, or goes on; nothing was read for a while;
// the program was not running; the clock was set back; something was noted.
const (
	Passed   Happened = "limit"
	Foreseen Happened = "foreseen"
	Stopped  Happened = "stopped"
	WentOn   Happened = "went on"
	Gap      Happened = "gap"
	Away     Happened = "away"
	SetBack  Happened = "set back"
	Noted    Happened = "note"
)

// Words implements exchange.Enumerated.
func (Happened) Words() []string {
	return exchange.WordsOf([]Happened{Passed, Foreseen, Stopped, WentOn, Gap, Away, SetBack, Noted})
}

// Event is something that happened: T seconds into a soak, for how many seconds, on which trace.
type Event struct {
	Soak  string   `json:"soak"`
	T     float64  `json:"t"`
	For   float64  `json:"for,omitempty"`
	What  Happened `json:"what"`
	Trace string   `json:"trace,omitempty"`
	Text  string   `json:"text,omitempty"`
}

// Over says that a soak is over, T seconds after it began, whether it went through, and how.
type Over struct {
	Soak string  `json:"soak"`
	T    float64 `json:"t"`
	Done bool    `json:"done"`
	Why  string  `json:"why,omitempty"`
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

// Ends tells whether it is noted of a finished job too: that a soak is over.
func (e *Entry) Ends() bool { return e.Over != nil }

// File implements entry.Laden.
func (e *Entry) File() *[]byte { return &e.Data }

// Limits against hostile plans.
const (
	mostSteps, mostTraces = 40, 32
	longest               = 400 * 24 * 3600.0 // s
	maxText               = 300
	fastest               = 10_000.0
	usualEvery            = 10.0 // s
	usualRemind           = 15.0 // min
)

// Take checks an entry. Errors can be mended by a person.
func Take(e *Entry) error {
	there := 0
	for _, is := range []bool{e.Begin != nil, e.Event != nil, e.Over != nil} {
		if is {
			there++
		}
	}
	switch {
	case there != 1:
		return mend.Errorf("an entry of a soak says that it begins, what happened, or that it is over")
	case e.Begin != nil:
		_, err := e.Begin.Read()
		return err
	case e.Event != nil:
		if !times(e.Event.T, e.Event.For) || !words(e.Event.Text, e.Event.Trace) {
			return mend.Errorf("an event has a time within the soak, and a text of at most %d characters", maxText)
		}
	case !times(e.Over.T) || !words(e.Over.Why):
		return mend.Errorf("the end of a soak has a time within it, and a text of at most %d characters", maxText)
	}
	return nil
}

func times(all ...float64) bool {
	return !slices.ContainsFunc(all, func(t float64) bool { return !(t >= 0 && t <= longest) })
}

func words(all ...string) bool {
	return !slices.ContainsFunc(all, func(s string) bool { return utf8.RuneCountInString(s) > maxText || !utf8.ValidString(s) })
}

// Limits are those of a trace with their numbers, in its unit; NaN where there is none.
type Limits struct{ Most, Least, Apart, Rate float64 }

// Planned is a plan with its numbers. Ends are the seconds at which its steps end; Twin indices into Traces, −1 for none.
type Planned struct {
	*Plan
	Ends   []float64
	Limits []Limits
	Twin   []int
	Moves  []Moving // of each step; silent where it has no signal
}

// Moving is a signal with its numbers: volts rms and hertz. A level of zero is silence.
type Moving struct{ Level, From, To, Sweep, Rest float64 }

// bounds checks how much there is in a plan, and how often things are read.
func (p *Plan) bounds() error {
	switch {
	case len(p.Steps) == 0 || len(p.Steps) > mostSteps:
		return mend.Errorf("a soak has 1 to %d steps", mostSteps)
	case len(p.Traces) == 0 || len(p.Traces) > mostTraces:
		return mend.Errorf("a soak logs 1 to %d things: a temperature at least", mostTraces)
	case p.Every != 0 && !(p.Every >= 1 && p.Every <= 3600):
		return mend.Errorf("instruments are read every 1 to 3600 seconds")
	case p.Remind != 0 && !(p.Remind >= 1 && p.Remind <= 24*60):
		return mend.Errorf("what is typed is asked for every 1 to 1440 minutes")
	case !slices.Contains(Bys, p.By):
		return mend.Errorf("%q feeds nothing in: it is the generator, or sound", p.By)
	case p.By == BySound && p.Speed > 1:
		return mend.Errorf("what is played as sound takes real time")
	case p.Speed != 0 && !(p.Speed >= 1 && p.Speed <= fastest):
		return mend.Errorf("simulated time runs 1 to %g times as fast", fastest)
	}
	return nil
}

// twinOf finds the trace that one is compared with; -1 where it has none.
func (p *Plan) twinOf(i int) (int, error) {
	twin := -1
	for k := range p.Traces {
		switch {
		case k == i:
		case p.Traces[k].Name == p.Traces[i].Name:
			return twin, mend.Errorf("two traces are called %s", p.Traces[i].Name)
		case p.Traces[i].Twin != "" && p.Traces[k].Name == p.Traces[i].Twin:
			twin = k
		}
	}
	if p.Traces[i].Twin != "" && twin < 0 {
		return twin, mend.Errorf("%s: its twin %s is not logged", p.Traces[i].Name, p.Traces[i].Twin)
	}
	return twin, nil
}

// Read makes numbers of a plan's texts. Errors name what cannot be read, and where.
func (p *Plan) Read() (*Planned, error) {
	if err := p.bounds(); err != nil {
		return nil, err
	}
	out := &Planned{Plan: p}
	t := 0.0
	for i := range p.Steps {
		s := &p.Steps[i]
		if !slices.Contains(Dos, s.Do) || !words(s.Name, s.Note) || !(s.Minutes > 0 && s.Minutes*60 <= longest) {
			return nil, mend.Errorf("step %d: it says what is done, for how many minutes (more than none)", i+1)
		}
		t += 60 * s.Minutes
		out.Ends = append(out.Ends, t)
		m, err := s.Signal.read()
		if err == nil && p.By == BySound && m.Sweep+m.Rest > longestRound {
			err = tooLong()
		}
		if err != nil {
			return nil, mend.Errorf("step %d: %w", i+1, err)
		}
		out.Moves = append(out.Moves, m)
	}
	for i := range p.Traces {
		l, err := p.Traces[i].limits()
		twin := -1
		if err == nil {
			twin, err = p.twinOf(i)
		}
		if err != nil {
			return nil, err
		}
		out.Limits, out.Twin = append(out.Limits, l), append(out.Twin, twin)
	}
	return out, nil
}

func (s *Signal) read() (m Moving, err error) {
	if s == nil {
		return m, nil
	}
	read := func(into *float64, text string, unit quantity.Unit, least, most float64) {
		if err != nil || strings.TrimSpace(text) == "" {
			return
		}
		var v quantity.Value
		if v, err = quantity.ParseAs(text, unit); err == nil && !(v.SI >= least && v.SI <= most) {
			err = mend.Errorf("%s cannot be fed in: from %s to %s", text, quantity.Rounded(least, unit), quantity.Rounded(most, unit))
		}
		*into = v.SI
	}
	read(&m.Level, s.Level, quantity.Volt, 1e-6, 100)
	read(&m.From, s.From, quantity.Hertz, 0.1, 200e6)
	m.To = m.From
	read(&m.To, s.To, quantity.Hertz, 0.1, 200e6)
	m.Sweep, m.Rest = s.Sweep, s.Rest
	switch {
	case err != nil:
	case m.Level == 0 || m.From == 0:
		err = mend.Errorf("a signal has a level and a frequency: 200 mV, 30 Hz")
	case !(m.Sweep >= 0 && m.Sweep <= 3600) || !(m.Rest >= 0 && m.Rest <= 3600):
		err = mend.Errorf("a sweep and its rest take at most 3600 seconds")
	}
	return m, err
}

// At is what is fed in t seconds after a step began: the frequency goes up and down again as its logarithm; silence is a
// level of zero.
func (m Moving) At(t float64) (level, hz float64) {
	if m.Level == 0 || m.Sweep == 0 || m.From == m.To && m.Rest == 0 {
		return m.Level, m.From
	}
	t = math.Mod(t, m.Sweep+m.Rest)
	if t > m.Sweep {
		return 0, m.From
	}
	share := 1 - math.Abs(1-2*t/m.Sweep)
	return m.Level, m.From * math.Pow(m.To/m.From, share)
}

func (t *Trace) limits() (Limits, error) {
	nan := math.NaN()
	out := Limits{nan, nan, nan, nan}
	switch {
	case strings.TrimSpace(t.Name) == "":
		return out, mend.Errorf("every trace has a name: heat sink, left")
	case !slices.Contains(Whats, t.What):
		return out, mend.Errorf("%s: %q is nothing that is logged", t.Name, t.What)
	case !words(t.Name, t.Where, t.Twin, t.Instrument) || t.Input < 0 || t.Input > 999:
		return out, mend.Errorf("%s: its texts have at most %d characters, inputs go up to 999", t.Name, maxText)
	}
	for _, l := range []struct {
		text string
		into *float64
		name string
	}{
		{t.Most, &out.Most, "at most"}, {t.Least, &out.Least, "at least"}, {t.Apart, &out.Apart, "apart"},
		{t.Rate, &out.Rate, "in ten minutes"},
	} {
		if strings.TrimSpace(l.text) == "" {
			continue
		}
		v, err := quantity.ParseAs(l.text, t.What.Unit())
		if err != nil {
			return out, mend.Errorf("%s, %s: %w", t.Name, l.name, err)
		}
		if (l.into == &out.Apart || l.into == &out.Rate) && v.SI <= 0 {
			return out, mend.Errorf("%s, %s: %s is not above zero", t.Name, l.name, l.text)
		}
		*l.into = v.SI
	}
	if out.Most <= out.Least {
		return out, mend.Errorf("%s: at most %s is not above at least %s", t.Name, t.Most, t.Least)
	}
	return out, nil
}

// EverySeconds and RemindSeconds are those of the plan, or usual ones.
func (p *Plan) EverySeconds() float64 {
	if p.Every == 0 {
		return usualEvery
	}
	return p.Every
}

// RemindSeconds is after how long what is typed is asked for again.
func (p *Plan) RemindSeconds() float64 {
	if p.Remind == 0 {
		return 60 * usualRemind
	}
	return 60 * p.Remind
}

// Rate is by how much faster than real time it runs.
func (p *Plan) Rate() float64 { return math.Max(1, p.Speed) }

// Length is how long all of it takes, in seconds.
func (p *Planned) Length() float64 { return p.Ends[len(p.Ends)-1] }

// Step is which step runs t seconds after the beginning, and since when; after the last one false.
func (p *Planned) Step(t float64) (step int, since float64, running bool) {
	for i, end := range p.Ends {
		if t < end {
			return i, since, true
		}
		since = end
	}
	return len(p.Ends) - 1, since, false
}

// Running is the soak of a job that has begun and is not over; false where there is none.
func Running(entries []Entry) (*Entry, bool) {
	for i := len(entries) - 1; i >= 0; i-- {
		e := &entries[i]
		if e.Begin == nil || e.Struck {
			continue
		}
		over := slices.ContainsFunc(entries, func(x Entry) bool { return x.Over != nil && !x.Struck && x.Over.Soak == e.ID })
		return e, !over
	}
	return nil, false
}

// Noticed are the notices of a soak since its drive went on last: each is told once.
func Noticed(entries []Entry, soak string) map[string]bool {
	out := map[string]bool{}
	for i := range entries {
		v := entries[i].Event
		switch {
		case v == nil || entries[i].Struck || v.Soak != soak:
		case v.What == WentOn:
			clear(out)
		default:
			out[v.Key()] = true
		}
	}
	return out
}

// Key is what an event says of which trace: while the drive goes on it is noted once.
func (e *Event) Key() string { return string(e.What) + "/" + e.Trace }

// Driven tells whether the drive goes on: it does until it was stopped, and again after one went on.
func Driven(entries []Entry, soak string) bool {
	driven := true
	for i := range entries {
		if v := entries[i].Event; v != nil && !entries[i].Struck && v.Soak == soak {
			switch v.What {
			case Stopped:
				driven = false
			case WentOn:
				driven = true
			}
		}
	}
	return driven
}
