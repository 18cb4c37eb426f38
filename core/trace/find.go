package trace

import (
	"cmp"
	"fmt"
	"slices"

	"steptrace/core/exchange"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// State is how far a trace has come.
type State string

// Words implements exchange.Enumerated.
func (State) Words() []string {
	return exchange.WordsOf([]State{"", Tracing, Named, Clean, Source, Conflict, Verifying, Repaired, Stuck, Elsewhere, Supply})
}

// The states of a trace.
const (
	Tracing   State = "tracing"   // several stages are suspect
	Named     State = "named"     // one stage is left and shown bad
	Clean     State = "clean"     // the route is good from end to end
	Source    State = "source"    // the signal is bad before the first stage
	Conflict  State = "conflict"  // no single fault explains the readings
	Verifying State = "verifying" // after a repair, what was wrong is tried again
	Repaired  State = "repaired"  // it is shown repaired
	Elsewhere State = "elsewhere" // the fault is not on this route
	Supply    State = "supply"    // a rail explains the readings, no stage does
	Stuck     State = "stuck"     // nothing on the sheet can split what is left
)

// Standing is what the readings say of a stage.
type Standing string

// Words implements exchange.Enumerated.
func (Standing) Words() []string {
	return exchange.WordsOf([]Standing{Suspect, Cleared, Faulty, Aside, Open})
}

// The standings. Aside means that a bad reading further up makes the stage
// unlikely without showing it good.
const (
	Suspect Standing = "suspect"
	Cleared Standing = "cleared"
	Faulty  Standing = "faulty"
	Aside   Standing = "aside"
)

// PointFinding is a point of the route as the step chart shows it. Levels are
// in dB against 1 V rms under the signal fed in now; nil where unknown.
type PointFinding struct {
	Name        string          `json:"name"`
	Drawing     string          `json:"drawing"`
	Note        string          `json:"note"`
	Hazard      string          `json:"hazard"`
	Refused     string          `json:"refused"` // why the instrument at hand must not go there
	IfGood      string          `json:"ifGood"`  // the suspects that a good reading would leave; empty where it tells nothing
	IfBad       string          `json:"ifBad"`
	Stated      bool            `json:"stated"`
	Driven      bool            `json:"driven"` // the signal fed in now comes past
	Expected    string          `json:"expected"`
	Twin        string          `json:"twin"` // the point of the good channel that the expectation comes from
	Hz          float64         `json:"hz"`   // of the signal; 0 where unknown
	ExpectedDBV *float64        `json:"expectedDBV" jsonschema:"nullable"`
	LowDBV      *float64        `json:"lowDBV" jsonschema:"nullable"`
	HighDBV     *float64        `json:"highDBV" jsonschema:"nullable"`
	MeasuredDBV *float64        `json:"measuredDBV" jsonschema:"nullable"`
	BeforeDBV   *float64        `json:"beforeDBV" jsonschema:"nullable"` // as it was read before the last repair
	Verdict     reading.Verdict `json:"verdict"`
	Off         string          `json:"off"`
}

// StageFinding is a stage of the route. Gains are in dB; MeasuredDB needs a
// level on both sides. Weight is the share of suspicion among all stages, rails and
// controls of the set, 0 to 1.
type StageFinding struct {
	Name       string   `json:"name"`
	Kind       string   `json:"kind"`
	GainDB     *float64 `json:"gainDB" jsonschema:"nullable"`
	MeasuredDB *float64 `json:"measuredDB" jsonschema:"nullable"`
	Standing   Standing `json:"standing"`
	Weight     float64  `json:"weight"`
	Reasons    []string `json:"reasons"` // its gain, and what was not read yet
	Speaks     []Speak  `json:"speaks"`  // for it and against it, the weightiest first
}

// LineFinding is a supply rail or a control with its latest reading. Ripple is
// a rail's; what a control does, and how it reads while it is worked, a control's.
type LineFinding struct {
	Name     string          `json:"name"`
	Does     string          `json:"does"` // empty: a rail
	Expected string          `json:"expected"`
	Point    string          `json:"point"`
	Read     string          `json:"read"` // empty: not read
	Was      string          `json:"was"`  // as it read before the last repair
	Verdict  reading.Verdict `json:"verdict"`
	Off      string          `json:"off"`
	Note     string          `json:"note"`
	Ripple   string          `json:"ripple"` // as read; empty: not read
	Rippling reading.Verdict `json:"rippling"`
	Moves    string          `json:"moves"` // what it becomes when it is worked; empty: it does not move
	By       string          `json:"by"`    // how it is worked
	Moved    string          `json:"moved"` // as read then; empty: not read
	Moving   reading.Verdict `json:"moving"`
	Weight   float64         `json:"weight"` // the share of suspicion, 0 to 1; 0 where it is none

	times, movedTimes float64 // how often it was read so in a row, as it stands and worked
}

// good tells whether the line was shown good: as it stands, and where it should
// move, that too. A rail that only waits for the start has a note, and is not shown.
func (l *LineFinding) good() bool {
	return l.Verdict == reading.Within && l.Note == "" && (l.Moves == "" || l.Moving == reading.Within)
}

// bad tells whether a reading shows the line bad.
func (l *LineFinding) bad() bool {
	return l.Verdict.Bad() || l.Moving.Bad()
}

// eachTime gives what was read of the line, as it stands and while it is worked,
// and how often in a row; a good reading counts once the line is shown good.
func (l *LineFinding) eachTime(tell func(v reading.Verdict, times float64)) {
	if l.Note == "" && (l.Verdict.Bad() || l.Verdict == reading.Within && l.good()) {
		tell(l.Verdict, l.times)
	}
	if l.Moving.Bad() || l.Moving == reading.Within && l.good() {
		tell(l.Moving, l.movedTimes)
	}
}

// says tells what was read of the line: "0.1 V", "4.8 V, and 4.7 V with MUTE held".
func (l *LineFinding) says() string {
	if l.Moved == "" {
		return l.Read
	}
	moved := fmt.Sprintf("%s with %s", l.Moved, l.By)
	if l.Read == "" {
		return moved
	}
	return l.Read + ", and " + moved
}

// due tells what should be read of the line.
func (l *LineFinding) due() string {
	if l.Moved == "" {
		return l.Expected
	}
	return fmt.Sprintf("%s, and %s", l.Expected, l.Moves)
}

// Findings is all that follows from the readings. Lists are never nil.
type Findings struct {
	State    State    `json:"state"`
	Headline string   `json:"headline"` // one sentence: where the trace stands
	Stage    string   `json:"stage"`    // the stage at fault, where State is named
	Line     string   `json:"line"`     // the rail or control at fault, where State is supply and it was read twice
	Reasons  []string `json:"reasons"`  // for the headline
	Grounds  []Ground `json:"grounds"`  // for condemning the stage that is named
	// Condemned: every ground is shown or waived.
	Condemned bool             `json:"condemned"`
	Verify    []Ground         `json:"verify"` // what has to be right again after a repair, and what worked
	GoTo      string           `json:"goTo"`   // key of the route to go on with, where the fault is not on this one
	Notices   []string         `json:"notices"`
	Route     string           `json:"route"` // its key
	Points    []PointFinding   `json:"points"`
	Stages    []StageFinding   `json:"stages"`
	Rails     []LineFinding    `json:"rails"`
	Controls  []LineFinding    `json:"controls"`
	Readings  []reading.Judged `json:"readings"` // in the order given
	Next      *planning.Probe  `json:"next" jsonschema:"nullable"`
	Manual    []ManualError    `json:"manual"` // errors of the sheet that would make sense of the readings
	Map       []MapStage       `json:"map"`    // every stage of the set
	// What can be read next, what was chosen first and then what tells most a minute.
	Options []planning.Option  `json:"options"`
	Ways    []planning.WayCost `json:"ways"` // of working, with what each costs from here
}

// Case is what is being traced: a set on the bench, and what is known of it besides readings.
type Case struct {
	reading.Bench
	Open    bool         // the set is open already
	Way     planning.Way // of working
	History History
	Waivers []Waiver
	Repairs []Renewed
}

// finder holds the work of one Find.
type finder struct {
	Case
	judged   []reading.Judged  // those of the present round
	past     []*finder         // of the rounds before
	evidence []*reading.Judged // that speaks of the signal, latest per place and condition
	ways     map[pathKey]*sheet.Paths
	speakOf  map[*reading.Judged]*sheet.Paths // paths that evidence speaks of
	priorOf  []float64                        // of all blocks, once they were asked for
	left     []bool                           // of all blocks: still suspect
	believed []float64                        // the posterior of all blocks
	suspects []int                            // positions on the route, in order
	asked    sheet.Quantity                   // the aspect of the signal that has to be read further
	stands   *planning.Situation              // for what to read next; nil until it is asked for
	dues     []due                            // what has to be shown after a repair
	out      Findings
}

// Find draws the findings from all readings, in the order they were taken.
func (c Case) Find(readings []reading.Reading) Findings {
	at := c.part(readings)
	f := c.begin(readings)
	f.believed = f.belief(f.evidence)
	f.suspect(f.remaining())
	f.verification()
	f.conclude()
	f.points()
	f.stages()
	f.weighLines()
	f.out.Map = f.setMap()
	if len(f.suspects) >= 2 && !f.fleeting() { // a good reading leaves them all, some less likely
		for i := range f.out.Points {
			f.out.Points[i].IfGood, f.out.Points[i].IfBad = f.situation().WhatIf(i)
		}
	}
	f.out.Ways = []planning.WayCost{}
	if len(f.suspects) > 0 && f.out.State != Named {
		f.out.Ways = f.situation().Costs()
	}
	f.manual(pick(readings, at[c.Round]))
	f.out.Readings = f.told(at)
	return f.out
}

// begin judges the readings of the present round, and those of each round before by
// themselves.
func (c Case) begin(readings []reading.Reading) *finder {
	at := c.part(readings)
	f := newFinder(c, pick(readings, at[c.Round]))
	for round := range c.Round {
		before := c
		before.Round = round
		f.past = append(f.past, newFinder(before, pick(readings, at[round])))
		f.Open = f.Open || f.past[round].situation().Opened()
		for line := range f.Plan.Lines() {
			f.line(line).Was = cmp.Or(f.past[round].line(line).Read, f.line(line).Was)
		}
	}
	return f
}

// newFinder judges the readings and picks those that count.
func newFinder(c Case, readings []reading.Reading) *finder {
	f := &finder{
		Case:    c,
		ways:    map[pathKey]*sheet.Paths{},
		speakOf: map[*reading.Judged]*sheet.Paths{},
		out:     Findings{Route: c.Route.Key, Reasons: []string{}, Grounds: []Ground{}, Notices: []string{}, Options: []planning.Option{}},
	}
	f.judged = f.JudgeAll(readings, nil)
	f.evidence = reading.Evidence(f.judged)
	f.lines()
	f.ask()
	return f
}

// remaining are the blocks that are left. While a fault comes and goes, a block
// that good readings speak against is left as long as it is likely still.
func (f *finder) remaining() []bool {
	if !f.fleeting() {
		return f.narrow(f.evidence)
	}
	left := f.narrow(f.bad())
	most := slices.Max(f.believed)
	for k := range left {
		left[k] = left[k] && f.believed[k] >= stillLikely*most
	}
	f.out.Notices = append(
		f.out.Notices,
		"The fault comes and goes: a good reading only makes a block less likely. Tap, flex, cool and warm what is left, and take down "+
			"what moves it.",
	)
	return left
}

// suspect takes over the blocks that are left; those on the route by position.
func (f *finder) suspect(left []bool) {
	f.left, f.suspects, f.stands = left, nil, nil
	for i, s := range f.Route.Stages {
		if left[s] {
			f.suspects = append(f.suspects, i)
		}
	}
}

// onRoute tells whether a piece of evidence lies on the route being traced.
func (f *finder) onRoute(j *reading.Judged) bool { return j.Route == f.Route }

// bad lists the evidence that shows a fault.
func (f *finder) bad() []*reading.Judged {
	var out []*reading.Judged
	for _, j := range f.evidence {
		if j.Verdict.Bad() && j.At > j.From {
			out = append(out, j)
		}
	}
	return out
}

// situation is where the trace stands for what to read next.
func (f *finder) situation() *planning.Situation {
	if f.stands == nil {
		f.stands = &planning.Situation{
			Bench:    f.Bench,
			Way:      f.Way,
			Judged:   f.judged,
			Asked:    f.asked,
			Suspects: f.suspects,
			Believed: f.believed,
			Unread:   f.linesUnread(),
			Open:     f.Open,
			Paths:    f.pathsFrom,
		}
	}
	return f.stands
}

// linesUnread lists the rails and controls that nobody has read.
func (f *finder) linesUnread() []int {
	var out []int
	for i := range f.Plan.Lines() {
		if f.line(i).Read == "" {
			out = append(out, i)
		}
	}
	return out
}
