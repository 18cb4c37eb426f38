// Package inside knows the work within a stage that the trace has named: what its circuit
// should show and does, which part that points at, what checks and provocations of single
// parts came to, and when one is condemned.
//
//	view, err := inside.Look(ctx, c, "line amplifier", inside.Record{Readings: readings, Entries: entries})
//
// The sums are those of circuit and part; here they meet what the sheet states and what
// was read at the bench.
package inside

import (
	"slices"
	"strings"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/entry"
	"steptrace/core/mend"
	"steptrace/core/part"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
)

// Entry is one thing noted inside a stage: a reading in its circuit, a check of a part, a
// provocation, or that a part is condemned. One of them is there.
type Entry struct {
	ID        string               `json:"id"`
	Stage     string               `json:"stage"`
	At        time.Time            `json:"at"`
	Who       string               `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck    bool                 `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Reading   *circuit.NodeReading `json:"reading,omitempty"`
	Check     *Check               `json:"check,omitempty"`
	Provoked  *Provoked            `json:"provoked,omitempty"`
	Condemned *Condemned           `json:"condemned,omitempty"`
}

// Check is what meters showed of a part, as typed, by the fields of its kind of check.
type Check struct {
	Part  string            `json:"part"`
	Kind  string            `json:"kind"`
	Given map[string]string `json:"given"`
}

// Provoked is what was done at a part or a place, and what came of it. X and Y are where on
// the picture, as shares of its width and height.
type Provoked struct {
	Place   string      `json:"place"`
	Act     reading.Act `json:"act" jsonschema:"enum=tap,enum=flex,enum=cool,enum=heat,enum=wiggle,enum=work"`
	Came    string      `json:"came" jsonschema:"enum=comes,enum=goes,enum=nothing"`
	Picture string      `json:"picture,omitempty"`
	X       float64     `json:"x,omitempty"`
	Y       float64     `json:"y,omitempty"`
}

// Condemned is the part at fault, what it has, and on what grounds.
type Condemned struct {
	Part string   `json:"part"`
	What string   `json:"what"`
	Why  []string `json:"why"`
	// Found wrong: somebody had fitted another part; empty, or bad: it had failed.
	Found repair.Found `json:"found,omitempty"`
}

func bad(format string, args ...any) error { return mend.Errorf(format, args...) }

const (
	maxText = 200
	maxWhy  = 20
)

// Take checks an entry against the sheet and how the set stands.
//
// Long: what may be wrong with an entry, one thing after the other.
func Take(plan *sheet.Plan, power reading.Power, e *Entry) error {
	if !Known(plan, e.Stage) {
		return bad("%q is neither a stage, a rail nor a modification of this sheet", e.Stage)
	}
	count := 0
	for _, there := range []bool{e.Reading != nil, e.Check != nil, e.Provoked != nil, e.Condemned != nil} {
		if there {
			count++
		}
	}
	if count != 1 {
		return bad("an entry is one reading, one check, one provocation or one part condemned")
	}
	switch {
	case e.Reading != nil:
		return takeReading(plan, power, e)
	case e.Check != nil:
		if err := text("part", e.Check.Part); err != nil {
			return err
		}
		_, err := part.Judge(e.Check.Kind, e.Check.Given)
		return err
	case e.Provoked != nil:
		p := e.Provoked
		if err := text("part or the place", p.Place); err != nil {
			return err
		}
		if !slices.ContainsFunc(reading.Actions, func(a reading.Action) bool { return a.Act == p.Act }) {
			return bad("%q is nothing that is done to provoke a fault", string(p.Act))
		}
		if p.Came != Comes && p.Came != Goes && p.Came != Nothing {
			return bad("the fault comes, goes, or nothing changes: not %q", p.Came)
		}
		if !(p.X >= 0 && p.X <= 1 && p.Y >= 0 && p.Y <= 1) || len(p.Picture) > maxText {
			return bad("the place is not on the picture")
		}
		return nil
	}
	for _, x := range append([]string{e.Condemned.Part, e.Condemned.What}, e.Condemned.Why...) {
		if err := text("part, what it has, and each reason", x); err != nil {
			return err
		}
	}
	if f := e.Condemned.Found; f != "" && f != repair.Bad && f != repair.Wrong {
		return bad("a part is condemned since it is bad, or wrong when found: not %q", f)
	}
	if len(e.Condemned.Why) == 0 || len(e.Condemned.Why) > maxWhy {
		return bad("say on what grounds it is condemned: a check that it failed, or why without one")
	}
	return nil
}

func takeReading(plan *sheet.Plan, power reading.Power, e *Entry) error {
	c, ok := plan.Circuit(e.Stage)
	if !ok {
		return bad("%s has no circuit that can be solved: put it in first", e.Stage)
	}
	if r := e.Reading; r.What == circuit.Ohms || r.What == circuit.Alone || r.What == circuit.Checked {
		if err := power.MustBeOff("Ohms, and parts by themselves, are read"); err != nil {
			return err
		}
	}
	if problems := c.Net.CheckReading(*e.Reading); problems != nil {
		return mend.Errorf("%s", problems.Error())
	}
	return nil
}

func text(what, s string) error {
	if strings.TrimSpace(s) == "" {
		return bad("name the %s", what)
	}
	return mend.Text(what, s, maxText)
}

// Known tells whether a name is a stage, a rail, or a modification.
func Known(plan *sheet.Plan, stage string) bool {
	_, rail := plan.RailIndex(stage)
	_, modification := plan.Modification(stage)
	return rail || modification || slices.ContainsFunc(plan.Stages, func(s sheet.PlanStage) bool { return s.Name == stage })
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }
