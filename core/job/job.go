// Package job knows one repair of one set, from complaint to hand-back, and
// the file it is exchanged in.
package job

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/exchange"
	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/stripdown"
	"steptrace/core/trace"
	"steptrace/core/wave"
)

// Format and Version mark the files this package writes.
const (
	Format  = "steptrace-job"
	Version = 1
)

// Limits on what a person may write, in characters; a screen holds no more.
const (
	maxText     = 2000
	maxReadings = 10000
)

// Job is one repair. Finished is nil while it is on the bench. Route and
// Injected are how the bench stands now.
type Job struct {
	Number     int              `json:"number"`
	Complaint  string           `json:"complaint"`
	Opened     time.Time        `json:"opened"`
	Finished   *time.Time       `json:"finished,omitempty"`
	Outcome    string           `json:"outcome,omitempty" jsonschema:"description=what it was\\, in the technician's words"`
	Stage      string           `json:"stage,omitempty" jsonschema:"description=the stage found at fault"`
	Route      string           `json:"route,omitempty" jsonschema:"description=key of the route being traced; empty: the first"`
	Injected   *trace.Injection `json:"injected,omitempty"`
	Instrument string           `json:"instrument,omitempty"`
	Way        trace.Way        `json:"way,omitempty" jsonschema:"description=of working; empty: halve it"`
	Readings   []Logged         `json:"readings"`
	Waivers    []Waived         `json:"waivers,omitempty"`
	// Before the first probe. Safety is what was switched, measured and ticked.
	Intake  map[string]string  `json:"intake,omitempty" jsonschema:"description=what was noted when the set came in\\, by field"`
	Safety  []safety.Event     `json:"safety,omitempty"`
	Steps   []stripdown.Step   `json:"steps,omitempty" jsonschema:"description=how the set came apart"`
	Returns []stripdown.Return `json:"returns,omitempty" jsonschema:"description=what went back in"`
	Inside  []inside.Entry     `json:"inside,omitempty" jsonschema:"description=what was read\\, checked\\, provoked and condemned inside stages"`
	Repairs []repair.Entry     `json:"repairs,omitempty" jsonschema:"description=what was done to the set\\, what was put in for a while\\, what was done without at the end"`
}

// Waived is a ground for condemning a stage that is done without.
type Waived struct {
	trace.Waiver
	At time.Time `json:"at"`
}

// Logged is a reading in a job's log. One that was withdrawn stays, with the
// reason.
type Logged struct {
	trace.Reading
	StruckReason string `json:"struckReason,omitempty"`
}

// Plain gives the readings alone, in order, each in the round that it was taken in.
func (j *Job) Plain() []trace.Reading {
	rounds := j.Rounds()
	out := make([]trace.Reading, len(j.Readings))
	for i := range j.Readings {
		out[i] = j.Readings[i].Reading
		out[i].Round = repair.Of(rounds, out[i].Taken)
	}
	return out
}

// Rounds are those that the repairs began.
func (j *Job) Rounds() []repair.Round {
	var taken []time.Time
	for i := range j.Readings {
		if !j.Readings[i].Struck {
			taken = append(taken, j.Readings[i].Taken)
		}
	}
	for i := range j.Inside {
		if e := &j.Inside[i]; !e.Struck && e.Condemned == nil {
			taken = append(taken, e.At)
		}
	}
	return repair.Rounds(j.Repairs, taken)
}

// Case sets the job up for tracing by a plan. It reports false where there is nothing
// to trace by it. A route the sheet no longer has gives way to the first.
func (j *Job) Case(plan *sheet.Plan) (trace.Case, bool) {
	if !plan.Traceable() {
		return trace.Case{}, false
	}
	route, ok := plan.Route(j.Route)
	if !ok {
		route = trace.FirstRoute(plan)
	}
	power := j.Power(plan)
	waivers := make([]trace.Waiver, len(j.Waivers))
	for i := range j.Waivers {
		waivers[i] = j.Waivers[i].Waiver
	}
	rounds := j.Rounds()
	repairs := make([]trace.Renewed, len(rounds))
	for i := range rounds {
		repairs[i] = trace.Renewed{Round: i + 1, Blocks: rounds[i].Touched()}
	}
	return trace.Case{Plan: plan, Route: route, Injected: j.Injected, Instrument: j.Instrument, Power: power.Reading(), Way: j.Way, Waivers: waivers, Open: len(j.Steps) > 0,
		Round: len(rounds), Repairs: repairs}, true
}

// Power is how the set stands.
func (j *Job) Power(plan *sheet.Plan) safety.Power { return safety.Stand(plan, j.Safety) }

// File is a job with the sheet it was traced by, as exchanged. Without a
// document the sheet is looked up by maker and model.
type File struct {
	Format  string   `json:"format" jsonschema:"enum=steptrace-job"`
	Version int      `json:"version" jsonschema:"enum=1"`
	Sheet   SheetRef `json:"sheet"`
	Job
	Pictures []Picture `json:"pictures,omitempty"`
	Captures []Capture `json:"captures,omitempty"`
}

// Picture is a photograph of a job: of the set as it came in, or of a step of
// its strip-down. Data is the file itself, in a JSON file as base64.
type Picture struct {
	ID    string    `json:"id"`
	Step  string    `json:"step,omitempty"`
	Taken time.Time `json:"taken"`
	Data  []byte    `json:"data"`
}

// Capture is a captured waveform of a job. Points are those of its channels, in
// their order; empty where it was not said. Said is what was said beside the file.
// Good: it is one to compare later ones with. Data is the file as it was received, in
// a JSON file as base64.
type Capture struct {
	ID         string           `json:"id"`
	Name       string           `json:"name" jsonschema:"description=of the file\\, or of what it was taken with"`
	Points     []string         `json:"points"`
	Said       wave.Options     `json:"said"`
	Mode       string           `json:"mode,omitempty"`
	Injected   *trace.Injection `json:"injected,omitempty"`
	Instrument string           `json:"instrument,omitempty"`
	Settings   string           `json:"settings,omitempty"`
	Good       bool             `json:"good,omitempty"`
	Taken      time.Time        `json:"taken"`
	Struck     bool             `json:"struck,omitempty"`
	Data       []byte           `json:"data,omitempty"`
}

// Point is where a channel was taken; empty where it was not said.
func (c *Capture) Point(channel int) string {
	if channel < len(c.Points) {
		return c.Points[channel]
	}
	return ""
}

// Limits on captures of one job: more than a bench takes, and what a screen holds.
const (
	maxCaptures = 1000
	maxPoints   = 16 // as many as channels
)

// Check tells whether a capture's points are of a plan, and what else was said of it
// can be so.
func (c *Capture) Check(plan *sheet.Plan) error {
	for i, p := range c.Points {
		if p == "" {
			continue
		}
		at, ok := plan.PointIndex(p)
		if _, line := plan.LineIndex(p); line {
			continue
		}
		if !ok {
			return &trace.UnknownPoint{Name: p}
		}
		c.Points[i] = plan.Points[at].Name
	}
	switch {
	case len(c.Points) > maxPoints:
		return &trace.BadReading{Problem: fmt.Sprintf("a capture has up to %d channels", maxPoints)}
	case Text("name", c.Name, false) != "":
		return &trace.BadReading{Problem: Text("name of the capture", c.Name, false)}
	case Text("settings", c.Settings, false) != "":
		return &trace.BadReading{Problem: Text("instruments' settings", c.Settings, false)}
	}
	if c.Injected != nil {
		return CheckInjection(plan, c.Injected)
	}
	return nil
}

// SheetRef names a sheet, and may bring it along.
type SheetRef struct {
	Maker    string       `json:"maker,omitempty"`
	Model    string       `json:"model"`
	Document *sheet.Sheet `json:"document,omitempty"`
}

// ReadJSON reads a job file. Errors are *exchange.FileError.
func ReadJSON(data []byte) (*File, error) {
	var f File
	if err := exchange.Decode(data, &f); err != nil {
		return nil, err
	}
	problem := ""
	switch {
	case f.Format != Format:
		problem = fmt.Sprintf("this is no job: its format is %q, expected %q", f.Format, Format)
	case f.Version != Version:
		problem = fmt.Sprintf("version %d of the job format is not known here; this program reads version %d", f.Version, Version)
	case f.Number < 0:
		problem = "a job's number is not below zero"
	case f.Opened.IsZero():
		problem = "the job does not say when it was opened"
	case !trace.KnownWay(f.Way):
		problem = fmt.Sprintf("%q is not a way of working", f.Way)
	case len(f.Readings) > maxReadings:
		problem = fmt.Sprintf("more than %d readings", maxReadings)
	case len(f.Captures) > maxCaptures:
		problem = fmt.Sprintf("more than %d captures", maxCaptures)
	}
	if problem == "" {
		problem = Text("complaint", f.Complaint, true)
	}
	if problem == "" {
		problem = Text("outcome", f.Outcome, false)
	}
	for _, w := range f.Waivers {
		if problem == "" {
			problem = Text("reason", w.Reason, true)
		}
		if problem == "" && w.At.IsZero() {
			problem = "a waiver does not say when it was made"
		}
	}
	if problem == "" {
		problem = f.before()
	}
	if problem != "" {
		return nil, &exchange.FileError{Line: 1, Problem: problem}
	}
	return &f, nil
}

// before checks what was written down before the first probe; it returns what
// is wrong, or nothing.
func (f *File) before() string {
	for field, text := range f.Intake {
		if err := intake.Check(field, text); err != nil {
			return "intake: " + err.Error()
		}
	}
	steps := map[string]int{}
	for i, s := range f.Steps {
		again, err := stripdown.Read(s.Kind, s.Text)
		_, twice := steps[s.ID]
		switch {
		case err != nil:
			return fmt.Sprintf("step %d: %v", i+1, err)
		case s.ID == "" || twice:
			return fmt.Sprintf("step %d needs an id of its own", i+1)
		case s.Taken.IsZero():
			return fmt.Sprintf("step %d does not say when it was taken down", i+1)
		case again.Count != s.Count || again.What != s.What:
			return fmt.Sprintf("step %d: %q does not read as %d × %s beside it", i+1, s.Text, s.Count, s.What)
		}
		steps[s.ID] = s.Count
	}
	for _, r := range f.Returns {
		if n, ok := steps[r.Step]; !ok || r.Count < 0 || r.Count > n {
			return fmt.Sprintf("%d went back in of step %q, which did not come out", r.Count, r.Step)
		}
	}
	for i, p := range f.Pictures {
		if _, ok := steps[p.Step]; p.Step != "" && !ok {
			return fmt.Sprintf("picture %d is of step %q, which is not there", i+1, p.Step)
		}
	}
	return ""
}

// Text checks something a person wrote; it returns what is wrong, or nothing.
func Text(name, text string, needed bool) string {
	switch {
	case needed && strings.TrimSpace(text) == "":
		return fmt.Sprintf("the %s is empty: write a few words", name)
	case utf8.RuneCountInString(text) > maxText:
		return fmt.Sprintf("the %s is longer than %d characters: shorten it", name, maxText)
	case !utf8.ValidString(text):
		return fmt.Sprintf("the %s is not readable text", name)
	}
	return ""
}

// Check compares the readings of a file with the sheet they are to be judged
// by: every point known, every text still reading as the number beside it.
func (f *File) Check(plan *sheet.Plan) error {
	seen := map[string]bool{}
	for i := range f.Readings {
		r := &f.Readings[i]
		fail := func(format string, args ...any) error {
			return &exchange.FileError{Line: 1, Problem: fmt.Sprintf("reading %d at %s: ", i+1, r.Point) + fmt.Sprintf(format, args...)}
		}
		if seen[r.ID] && r.ID != "" {
			return fail("two readings have the id %q", r.ID)
		}
		seen[r.ID] = true
		if r.Taken.IsZero() {
			return fail("it does not say when it was taken")
		}
		if in := r.Injected; in != nil {
			if err := CheckInjection(plan, in); err != nil {
				return fail("%v", err)
			}
		}
		if !plan.Traceable() {
			return fail("the sheet has nothing to trace by")
		}
		if err := CheckWithout(plan, r.Without); err != nil {
			return fail("%v", err)
		}
		if wrong := Text("settings of the instruments", r.Settings, false); wrong != "" || len(r.Capture) > maxText {
			return fail("%s", cmp.Or(wrong, "the id of its capture is too long"))
		}
		c := trace.Case{Plan: plan, Route: trace.FirstRoute(plan), Injected: r.Injected}
		again, err := c.Take(trace.Aim{Point: r.Point, Quantity: r.Quantity}, r.Text)
		if err == nil && r.Worked {
			err = c.CheckWorked(r.Point)
		}
		if err != nil {
			return fail("%v", err)
		}
		if again.Act != r.Act {
			return fail("%q does not read as %q", r.Text, r.Act)
		}
		if again.Word != r.Word || again.Quantity != r.Quantity || math.Abs(again.SI-r.SI) > 1e-9*math.Abs(r.SI) {
			return fail("%q does not read as the value %g beside it", r.Text, r.SI)
		}
	}
	return nil
}

// CheckCaptures compares the captures of a file with the sheet, and reads each: what
// was said beside it goes into what is read.
func (f *File) CheckCaptures(plan *sheet.Plan) ([]*wave.Capture, error) {
	var out []*wave.Capture
	seen := map[string]bool{}
	for i := range f.Captures {
		c := &f.Captures[i]
		err := c.Check(plan)
		if err == nil && (c.ID == "" || seen[c.ID]) {
			err = errors.New("it needs an id of its own")
		}
		if err == nil && c.Taken.IsZero() {
			err = errors.New("it does not say when it was taken")
		}
		seen[c.ID] = true
		var read *wave.Capture
		if err == nil {
			read, err = wave.Read(c.Data, c.Said)
		}
		if err == nil {
			err = read.Prove()
		}
		if err != nil {
			return nil, &exchange.FileError{Line: 1, Problem: fmt.Sprintf("capture %d (%s): %v", i+1, c.Name, err)}
		}
		out = append(out, read)
	}
	return out, nil
}

// CheckSafety replays what was done to make the set safe, as it was done.
func (f *File) CheckSafety(plan *sheet.Plan) error {
	for i, e := range f.Safety {
		again, err := safety.Take(plan, f.Safety[:i], e, true)
		if err == nil && math.Abs(again.SI-e.SI) > 1e-9*math.Abs(e.SI) {
			err = fmt.Errorf("%q does not read as the value %g beside it", e.Text, e.SI)
		}
		if err == nil && e.At.IsZero() {
			err = errors.New("it does not say when it was")
		}
		if err != nil {
			return &exchange.FileError{Line: 1, Problem: fmt.Sprintf("safety, entry %d: %v", i+1, err)}
		}
	}
	return nil
}

// CheckInside compares what was noted inside stages with the sheet.
func (f *File) CheckInside(plan *sheet.Plan) error {
	if err := inside.CheckAll(plan, f.Inside); err != nil {
		return &exchange.FileError{Line: 1, Problem: err.Error()}
	}
	return nil
}

// CheckRepairs compares what was noted of the repair with the sheet.
func (f *File) CheckRepairs(plan *sheet.Plan) error {
	seen := map[string]bool{}
	for i := range f.Repairs {
		e := &f.Repairs[i]
		err := repair.Take(plan, f.Repairs[:i], e)
		switch {
		case err != nil:
		case e.ID == "" || seen[e.ID]:
			err = errors.New("it needs an id of its own")
		case e.At.IsZero():
			err = errors.New("it does not say when it was")
		}
		if err != nil {
			return &exchange.FileError{Line: 1, Problem: fmt.Sprintf("repairs, entry %d: %v", i+1, err)}
		}
		seen[e.ID] = true
	}
	return nil
}

// CheckInjection tells whether a signal can be fed in as described.
func CheckInjection(plan *sheet.Plan, in *trace.Injection) error {
	_, isPoint := plan.PointIndex(in.At)
	_, isRail := plan.RailIndex(in.At)
	if _, isPlace := plan.PlaceIndex(in.At); !isPoint && !isPlace && !isRail {
		return &trace.UnknownPoint{Name: in.At}
	}
	if in.Touch {
		return checkTouch(plan, in)
	}
	if bad(in.Level) || bad(in.Hz) {
		return &trace.BadReading{Problem: "the level and the frequency fed in must be above zero"}
	}
	return nil
}

// checkTouch tells whether a point may be touched with a finger or a bare tip.
func checkTouch(plan *sheet.Plan, in *trace.Injection) error {
	at, isPoint := plan.PointIndex(in.At)
	switch {
	case in.Level != 0 || in.Hz != 0:
		return &trace.BadReading{Problem: "a touch has neither level nor frequency"}
	case !isPoint:
		return &trace.BadReading{Problem: "a touch is made at a point of the signal's path"}
	}
	if why := trace.Untouchable(plan, at); why != "" {
		return &trace.BadReading{Problem: why}
	}
	return nil
}

// maxWithout is how many things may be out at a time.
const maxWithout = 100

// CheckWithout tells whether the things named can be swapped or lifted.
func CheckWithout(plan *sheet.Plan, names []string) error {
	if len(names) > maxWithout {
		return &trace.BadReading{Problem: fmt.Sprintf("more than %d things cannot be out at a time", maxWithout)}
	}
	for _, name := range names {
		if !plan.CanBeOut(name) {
			return &trace.BadReading{Problem: fmt.Sprintf("%q is nothing on this sheet that can be swapped or lifted", name)}
		}
	}
	return nil
}

func bad(x float64) bool { return x < 0 || math.IsNaN(x) || math.IsInf(x, 0) }

// WriteJSON writes the job file; ReadJSON gives the same job back.
func (f *File) WriteJSON() []byte {
	f.Format, f.Version = Format, Version
	if f.Readings == nil {
		f.Readings = []Logged{}
	}
	return exchange.Encode(f)
}
