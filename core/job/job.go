// Package job knows one repair of one set, from complaint to hand-back, and
// the file it is exchanged in.
package job

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/adjust"
	"steptrace/core/closing"
	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/mend"
	"steptrace/core/pin"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/replace"
	"steptrace/core/report"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/stripdown"
	"steptrace/core/symptom"
	"steptrace/core/trace"
	"steptrace/core/wait"
	"steptrace/core/wave"
	"steptrace/core/worth"
)

// Format and Version mark the files this package writes.
const (
	Format  = "steptrace-job"
	Version = 1
)

// Limits on what a person may write, in characters; a screen holds no more.
const maxText = 2000

// Job is one repair. Finished is nil while it is on the bench. Route and
// Injected are how the bench stands now.
type Job struct {
	Number     int                `json:"number"`
	Complaint  string             `json:"complaint"`
	Opened     time.Time          `json:"opened"`
	Finished   *time.Time         `json:"finished,omitempty"`
	Outcome    string             `json:"outcome,omitempty" jsonschema:"description=what it was\\, in the technician's words"`
	Stage      string             `json:"stage,omitempty" jsonschema:"description=the stage found at fault"`
	Route      string             `json:"route,omitempty" jsonschema:"description=key of the route being traced; empty: the first"`
	Injected   *reading.Injection `json:"injected,omitempty"`
	Instrument string             `json:"instrument,omitempty"`
	Way        planning.Way       `json:"way,omitempty" jsonschema:"description=of working; empty: halve it"`
	Readings   []Logged           `json:"readings"`
	Waivers    []Waived           `json:"waivers,omitempty"`
	// Before the first probe. Safety is what was switched, measured and ticked.
	Intake    intake.Notes       `json:"intake,omitempty" jsonschema:"description=what was noted when the set came in; a later note of a field replaces an earlier one"`
	Safety    []safety.Event     `json:"safety,omitempty"`
	Steps     []stripdown.Step   `json:"steps,omitempty" jsonschema:"description=how the set came apart"`
	Returns   []stripdown.Return `json:"returns,omitempty" jsonschema:"description=what went back in"`
	Inside    []inside.Entry     `json:"inside,omitempty" jsonschema:"description=what was read\\, checked\\, provoked and condemned inside stages"`
	Repairs   []repair.Entry     `json:"repairs,omitempty" jsonschema:"description=what was done to the set\\, what was put in for a while\\, what was done without at the end"`
	Symptoms  []symptom.Entry    `json:"symptoms,omitempty" jsonschema:"description=what it shows by itself: seen\\, heard\\, by its lamps"`
	Waits     []wait.Entry       `json:"waits,omitempty" jsonschema:"description=what it waits for\\, and that it has come"`
	Replacing []replace.Entry    `json:"replacing,omitempty" jsonschema:"description=which parts are replaced by what\\, and the work on them"`
	Soaks     []soak.Entry       `json:"soaks,omitempty" jsonschema:"description=long runs: with which plan\\, what happened\\, how they ended"`
	Adjusting []adjust.Entry     `json:"adjusting,omitempty" jsonschema:"description=what was adjusted\\, under which conditions\\, before and after"`
	Closing   []closing.Entry    `json:"closing,omitempty" jsonschema:"description=what was measured and tried before it goes back"`
	Worthing  []worth.Entry      `json:"worth,omitempty" jsonschema:"description=whether it is worth doing: what speaks against it\\, estimates\\, what was decided"`
	Report    []report.Entry     `json:"report,omitempty" jsonschema:"description=what a person wrote in the owner's report"`
	// Photographs and captured waveforms; their files are there in a file alone.
	Pictures []Picture `json:"pictures,omitempty"`
	Captures []Capture `json:"captures,omitempty"`
}

// Waived is a ground for condemning a stage that is done without.
type Waived struct {
	ID string `json:"id,omitempty"`
	trace.Waiver
	At  time.Time `json:"at"`
	Who string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
}

// Logged is a reading in a job's log. One that was withdrawn stays, with the
// reason.
type Logged struct {
	reading.Reading
	StruckReason string `json:"struckReason,omitempty"`
}

// Plain gives the readings alone, in order, each in the round that it was taken in, and under the names
// that the sheet has now for what was read and lifted.
func (j *Job) Plain(plan *sheet.Plan) []reading.Reading {
	rounds := j.Rounds()
	out := make([]reading.Reading, len(j.Readings))
	for i := range j.Readings {
		r := j.Readings[i].Reading
		r.Round = repair.Of(rounds, r.Taken)
		r.Point = plan.NowOf(r.Point)
		if in := r.Injected; in != nil {
			now := *in
			now.At = plan.NowOf(in.At)
			r.Injected = &now
		}
		r.Without = plan.Now(r.Without)
		out[i] = r
	}
	return out
}

// Pictured are the steps of the strip-down with the ids of their pictures.
func (j *Job) Pictured() []stripdown.Step {
	out := slices.Clone(j.Steps)
	for i := range out {
		for _, p := range j.Pictures {
			if p.Step == out[i].ID && !p.Struck {
				out[i].Pictures = append(out[i].Pictures, p.ID)
			}
		}
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
	for i := range j.Symptoms {
		if e := &j.Symptoms[i]; !e.Struck {
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
		route = reading.FirstRoute(plan)
	}
	power := j.Power(plan)
	waivers := make([]trace.Waiver, len(j.Waivers))
	for i := range j.Waivers {
		waivers[i] = j.Waivers[i].Waiver
		waivers[i].Stage = plan.NowOf(waivers[i].Stage)
	}
	rounds := j.Rounds()
	repairs := make([]trace.Renewed, len(rounds))
	for i := range rounds {
		repairs[i] = trace.Renewed{Round: i + 1, Blocks: plan.Now(rounds[i].Touched())}
	}
	return trace.Case{
		Bench: reading.Bench{
			Plan:       plan,
			Route:      route,
			Injected:   j.Injected,
			Instrument: j.Instrument,
			Power:      power.Reading(),
			Round:      len(rounds),
		},
		Way:     j.Way,
		Waivers: waivers,
		Open:    len(j.Steps) > 0,
		Repairs: repairs,
		Noticed: j.noticed(rounds),
	}, true
}

// Repaired is when the set was repaired last.
func (j *Job) Repaired() (at time.Time) {
	if rounds := j.Rounds(); len(rounds) > 0 {
		at = rounds[len(rounds)-1].At
	}
	return at
}

// Earlier tells whether something was noted of the set as it was before the last round of repairs.
func Earlier(rounds []repair.Round, at time.Time) bool {
	return len(rounds) > 0 && !at.After(rounds[len(rounds)-1].At)
}

// noticed is what the set has shown by itself since the last repair.
func (j *Job) noticed(rounds []repair.Round) []symptom.Noticed {
	var out []symptom.Noticed
	for _, e := range j.Symptoms {
		if !e.Struck && !Earlier(rounds, e.At) {
			out = append(out, e.Noticed)
		}
	}
	return out
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
}

// Picture is a photograph of a job: of the set as it came in, or of a step of
// its strip-down. Data is the file itself, in a JSON file as base64.
type Picture struct {
	ID     string    `json:"id"`
	Step   string    `json:"step,omitempty"`
	Work   string    `json:"work,omitempty" jsonschema:"description=the step of the replacing that it is of"`
	Taken  time.Time `json:"taken"`
	Who    string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck bool      `json:"struck,omitempty"`
	Data   []byte    `json:"data,omitempty"`
}

// Capture is a captured waveform of a job. Points are those of its channels, in
// their order; empty where it was not said. Said is what was said beside the file.
// Good: it is one to compare later ones with. Data is the file as it was received, in
// a JSON file as base64.
type Capture struct {
	ID         string             `json:"id"`
	Name       string             `json:"name" jsonschema:"description=of the file\\, or of what it was taken with"`
	Points     []string           `json:"points"`
	Said       wave.Options       `json:"said"`
	Mode       string             `json:"mode,omitempty"`
	Injected   *reading.Injection `json:"injected,omitempty"`
	Instrument string             `json:"instrument,omitempty"`
	Settings   string             `json:"settings,omitempty"`
	Good       bool               `json:"good,omitempty"`
	Taken      time.Time          `json:"taken"`
	Who        string             `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck     bool               `json:"struck,omitempty"`
	Data       []byte             `json:"data,omitempty"`
}

// Point is where a channel was taken; empty where it was not said.
func (c *Capture) Point(channel int) string {
	if channel < len(c.Points) {
		return c.Points[channel]
	}
	return ""
}

const maxPoints = 16 // of a capture: as many as channels

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
			return &reading.UnknownPoint{Name: p}
		}
		c.Points[i] = plan.Points[at].Name
	}
	switch {
	case len(c.Points) > maxPoints:
		return mend.Errorf("a capture has up to %d channels", maxPoints)
	case Text("name", c.Name, false) != "":
		return mend.Errorf("%s", Text("name of the capture", c.Name, false))
	case Text("settings", c.Settings, false) != "":
		return mend.Errorf("%s", Text("instruments' settings", c.Settings, false))
	}
	if c.Injected != nil {
		return reading.CheckInjection(plan, c.Injected)
	}
	return nil
}

// SheetRef names a sheet, and may bring it along, with the photographs of the set; a manual stays in the
// workshop that has it. Own says that it was made for this job alone.
type SheetRef struct {
	Maker    string       `json:"maker,omitempty"`
	Model    string       `json:"model"`
	Own      bool         `json:"own,omitempty"`
	Document *sheet.Sheet `json:"document,omitempty"`
	Pictures []pin.Held   `json:"pictures,omitempty"`
}

// ReadJSON reads a job file; what its entries are worth is for Take to tell. Errors are
// *exchange.FileError.
func ReadJSON(data []byte) (*File, error) {
	var f File
	if err := exchange.Decode(data, &f); err != nil {
		return nil, err
	}
	switch complaint, outcome := Text("complaint", f.Complaint, true), Text("outcome", f.Outcome, false); {
	case f.Format != Format:
		return nil, exchange.Wrong("this is no job: its format is %q, expected %q", f.Format, Format)
	case f.Version != Version:
		return nil, exchange.Wrong("version %d of the job format is not known here; this program reads version %d", f.Version, Version)
	case f.Number < 0:
		return nil, exchange.Wrong("a job's number is not below zero")
	case f.Opened.IsZero():
		return nil, exchange.Wrong("the job does not say when it was opened")
	case !planning.KnownWay(f.Way):
		return nil, exchange.Wrong("%q is not a way of working", f.Way)
	case complaint+outcome != "":
		return nil, exchange.Wrong("%s", cmp.Or(complaint, outcome))
	}
	for i := range f.Intake {
		if at := &f.Intake[i].At; at.IsZero() { // older files do not say
			*at = f.Opened
		}
	}
	return &f, nil
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

// WriteJSON writes the job file; ReadJSON gives the same job back.
func (f *File) WriteJSON() []byte {
	f.Format, f.Version = Format, Version
	return exchange.Encode(f)
}

// Head implements entry.Entry.
func (r *Logged) Head() entry.Head { return entry.Head{ID: &r.ID, At: &r.Taken, Who: &r.Who} }

// Withdrawn implements entry.Withdrawable.
func (r *Logged) Withdrawn() bool { return r.Struck }

// Withdraw implements entry.Withdrawable.
func (r *Logged) Withdraw(_ time.Time, reason string) { r.Struck, r.StruckReason = true, reason }

// Restates implements entry.Restated: under which conditions it was typed may have changed since.
func (r *Logged) Restates() string { return r.Point + "/" + string(r.Quantity) + "/" + r.Text }

// Head implements entry.Entry.
func (w *Waived) Head() entry.Head { return entry.Head{ID: &w.ID, At: &w.At, Who: &w.Who} }

// Head implements entry.Entry.
func (p *Picture) Head() entry.Head { return entry.Head{ID: &p.ID, At: &p.Taken, Who: &p.Who} }

// Withdrawn implements entry.Withdrawable.
func (p *Picture) Withdrawn() bool { return p.Struck }

// Withdraw implements entry.Withdrawable.
func (p *Picture) Withdraw(time.Time, string) { p.Struck = true }

// File implements entry.Laden.
func (p *Picture) File() *[]byte { return &p.Data }

// Head implements entry.Entry.
func (c *Capture) Head() entry.Head { return entry.Head{ID: &c.ID, At: &c.Taken, Who: &c.Who} }

// Withdrawn implements entry.Withdrawable.
func (c *Capture) Withdrawn() bool { return c.Struck }

// Withdraw implements entry.Withdrawable.
func (c *Capture) Withdraw(time.Time, string) { c.Struck = true }

// File implements entry.Laden.
func (c *Capture) File() *[]byte { return &c.Data }

// Restates implements entry.Restated: whether it is good is said later.
func (c *Capture) Restates() string {
	return fmt.Sprint(c.Name, "/", strings.Join(c.Points, "/"), "/", c.Said)
}
