package trace

import (
	"cmp"
	"fmt"
	"slices"

	"steptrace/core/exchange"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/symptom"
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
	Source      sheet.Source    `json:"source"` // of what is expected
	Twin        string          `json:"twin"`   // the point of the good channel that the expectation comes from
	Hz          float64         `json:"hz"`     // of the signal; 0 where unknown
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

// Conclusion is how far the trace has come, why, and what to do next. Lists are never nil in Findings.
type Conclusion struct {
	State    State    `json:"state"`
	Headline string   `json:"headline"` // one sentence: where the trace stands
	Stage    string   `json:"stage"`    // the stage at fault, where State is named
	Line     string   `json:"line"`     // the rail or control at fault, where State is supply and it was read twice
	Reasons  []string `json:"reasons"`  // for the headline
	Grounds  []Ground `json:"grounds"`  // for condemning the stage that is named
	// Condemned: every ground is shown or waived.
	Condemned bool            `json:"condemned"`
	GoTo      string          `json:"goTo"` // key of the route to go on with, where the fault is not on this one
	Next      *planning.Probe `json:"next" jsonschema:"nullable"`
	// What can be read next, what was chosen first and then what tells most a minute.
	Options []planning.Option `json:"options"`
}

// because adds a reason.
func (k *Conclusion) because(format string, args ...any) {
	k.Reasons = append(k.Reasons, fmt.Sprintf(format, args...))
}

// Findings is all that follows from the readings. Lists are never nil.
type Findings struct {
	Conclusion
	Verify   []Ground           `json:"verify"` // what has to be right again after a repair, and what worked
	Notices  []string           `json:"notices"`
	Route    string             `json:"route"` // its key
	Points   []PointFinding     `json:"points"`
	Stages   []StageFinding     `json:"stages"`
	Rails    []LineFinding      `json:"rails"`
	Controls []LineFinding      `json:"controls"`
	Readings []reading.Judged   `json:"readings"` // in the order given
	Manual   []ManualError      `json:"manual"`   // errors of the sheet that would make sense of the readings
	Map      []MapStage         `json:"map"`      // every stage of the set
	Ways     []planning.WayCost `json:"ways"`     // of working, with what each costs from here
}

// Case is what is being traced: a set on the bench, and what is known of it besides readings.
type Case struct {
	reading.Bench
	Open    bool         // the set is open already
	Way     planning.Way // of working
	History History
	Waivers []Waiver
	Repairs []Renewed
	Noticed []symptom.Noticed // of this round
}

// finder holds what was read in one round, and what it says by itself: the verdicts, the lines, what
// the round speaks of. It does not change once it is set up.
type finder struct {
	Case
	judged   []reading.Judged
	past     []*finder                        // of the rounds before
	evidence []*reading.Judged                // that speaks of the signal, latest per place and condition
	ways     map[pathKey]*sheet.Paths         // as they are asked for
	speakOf  map[*reading.Judged]*sheet.Paths // paths that evidence speaks of, as they are asked for
	priorOf  []float64                        // of all blocks, once they were asked for
	asked    sheet.Quantity                   // the aspect of the signal that has to be read further
	lines    []LineFinding                    // the rails, then the controls
}

// suspicion is what the evidence leaves of the blocks.
type suspicion struct {
	*finder
	left     []bool              // of all blocks: still suspect
	believed []float64           // the posterior of all blocks
	suspects []int               // positions on the route, in order
	stands   *planning.Situation // for what to read next; nil until it is asked for
}

// suspecting takes the blocks that are left; those on the route by position.
func (f *finder) suspecting(left []bool, believed []float64) *suspicion {
	out := &suspicion{finder: f, left: left, believed: believed}
	for i, s := range f.Route.Stages {
		if left[s] {
			out.suspects = append(out.suspects, i)
		}
	}
	return out
}

// none is what is left where nothing on the route is suspect any more.
func (f *suspicion) none() *suspicion {
	return &suspicion{finder: f.finder, left: f.left, believed: f.believed}
}

// Find draws the findings from all readings, in the order they were taken.
func (c Case) Find(readings []reading.Reading) Findings {
	at := c.part(readings)
	f := c.begin(readings)
	logs := f.logs(f.pieces(f.evidence))
	believed, _ := normalised(logs)
	s := f.suspecting(f.remaining(believed), believed)
	dues := s.verification()
	concluded, s := s.conclude(dues)
	out := Findings{
		Conclusion: concluded,
		Verify:     groundsOf(dues),
		Notices:    s.notices(),
		Route:      c.Route.Key,
		Points:     s.points(),
		Stages:     s.stages(concluded.State, logs),
		Manual:     f.manual(pick(readings, at[c.Round])),
		Readings:   f.told(at),
		Ways:       []planning.WayCost{},
	}
	out.Map = s.setMap(&out)
	lines := s.weighed(concluded.State)
	out.Rails, out.Controls = lines[:len(c.Plan.Rails)], lines[len(c.Plan.Rails):]
	if len(s.suspects) > 0 && concluded.State != Named {
		out.Ways = s.situation().Costs()
	}
	return out
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
		was := f.past[round]
		stood := planning.Situation{Bench: was.Bench, Judged: was.judged, Open: was.Open}
		f.Open = f.Open || stood.Opened()
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
	}
	f.judged = f.JudgeAll(readings, nil)
	f.setUp()
	return f
}

// setUp works out what the verdicts say by themselves.
func (f *finder) setUp() {
	f.evidence = reading.Evidence(f.judged)
	f.lines = f.readLines()
	f.asked = f.ask()
}

// remaining are the blocks that are left. While a fault comes and goes, a block
// that good readings speak against is left as long as it is likely still.
func (f *finder) remaining(believed []float64) []bool {
	if !f.fleeting() {
		return f.narrow(f.evidence)
	}
	left := f.narrow(f.bad())
	most := slices.Max(believed)
	for k := range left {
		left[k] = left[k] && believed[k] >= stillLikely*most
	}
	return left
}

// notices warn of what stands beside the conclusion: lines that are off, a fault that comes and goes.
func (f *suspicion) notices() []string {
	out := []string{}
	for line := range f.lines {
		if l := &f.lines[line]; l.bad() || l.Rippling == reading.Hum {
			out = append(out, f.lineNotice(line))
		}
	}
	if f.fleeting() {
		out = append(out, "The fault comes and goes: a good reading only makes a block less likely. Tap, flex, cool and warm what is "+
			"left, and take down what moves it.")
	}
	return out
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
func (f *suspicion) situation() *planning.Situation {
	if f.stands == nil {
		f.stands = &planning.Situation{
			Bench:    f.Bench,
			Way:      f.Way,
			Judged:   f.judged,
			Asked:    f.asked,
			Suspects: f.suspects,
			Believed: f.believed,
			Left:     f.meant(),
			Unread:   f.linesUnread(),
			Rippling: f.ripplesWanted(),
			Open:     f.Open,
			Paths:    f.pathsFrom,
		}
	}
	return f.stands
}

// meant are the blocks that are left and that the complaint, which is of this route, can mean; where it means
// nothing that is left, all that is.
func (f *suspicion) meant() []bool {
	if len(f.suspects) == 0 {
		return f.left
	}
	out := slices.Clone(f.left)
	for k, on := range f.pathsFrom(f.Route.Mode, f.Route.Points[0], f.Route.Points[len(f.Route.Points)-1], nil).Any {
		out[k] = out[k] && on
	}
	return out
}

// ripplesWanted lists the rails whose volts are right, and whose ripple nobody has read though the set hums.
func (f *finder) ripplesWanted() []int {
	var out []int
	for i := range f.Plan.Rails {
		if f.line(i).rippleWanted() {
			out = append(out, i)
		}
	}
	return out
}

// linesUnread lists the rails and controls that nobody has read, or not all of.
func (f *finder) linesUnread() []int {
	var out []int
	for i := range f.Plan.Lines() {
		if f.line(i).unread() {
			out = append(out, i)
		}
	}
	return out
}
