// Package wait knows what a job waits for while it stands aside: a part, a manual, the
// owner's word; since when, until when it is expected, and that it has come.
//
//	left := wait.Standing(entries)
package wait

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
)

// For is what is waited for.
type For string

// What jobs wait for.
const (
	Part   For = "part"
	Manual For = "manual"
	Owner  For = "owner"
	Other  For = "other"
)

// Fors lists it, in the order it is offered.
var Fors = []For{Part, Manual, Owner, Other}

// Words implements exchange.Enumerated.
func (For) Words() []string { return exchange.WordsOf(Fors) }

// Entry is one thing noted of the waiting: that something is waited for, or that it has come
// or is no longer waited for. One of the two is there.
type Entry struct {
	ID     string    `json:"id"`
	At     time.Time `json:"at"`
	Who    string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Wait   *Wait     `json:"wait,omitempty"`
	Over   *Over     `json:"over,omitempty"`
}

// Wait is something that is waited for. Until is the day it is expected, as 2026-12-03;
// empty where nobody knows.
type Wait struct {
	For   For    `json:"for"`
	What  string `json:"what"`
	Until string `json:"until,omitempty"`
}

// Over says that what an entry waits for has come, or is done without, and how.
type Over struct {
	Entry string `json:"entry"`
	How   string `json:"how,omitempty"`
}

const maxText = 300

// Take checks an entry against those before it. Errors can be mended by a person.
func Take(before []Entry, e *Entry) error {
	switch {
	case (e.Wait == nil) == (e.Over == nil):
		return mend.Errorf("an entry is something that is waited for, or that it has come")
	case e.Over != nil:
		i := slices.IndexFunc(before, func(x Entry) bool { return x.Wait != nil && x.ID == e.Over.Entry })
		if i < 0 {
			return mend.Errorf("that was never waited for")
		}
		if !e.Struck && !before[i].Struck && !slices.ContainsFunc(Standing(before), func(x Entry) bool { return x.ID == e.Over.Entry }) {
			return mend.Errorf("that is not waited for any more")
		}
		return mend.Text("how it came", e.Over.How, maxText)
	case !slices.Contains(Fors, e.Wait.For):
		return mend.Errorf("%q is nothing that jobs wait for: use %s", e.Wait.For, strings.Join(e.Wait.For.Words(), ", "))
	case strings.TrimSpace(e.Wait.What) == "":
		return mend.Errorf("say what it waits for, for example: C212, 4700 µF 50 V, ordered")
	}
	return cmp.Or(mend.Day(e.Wait.Until), mend.Text("thing waited for", e.Wait.What, maxText))
}

// Standing lists what is waited for still.
func Standing(entries []Entry) []Entry {
	var out []Entry
	for _, e := range entries {
		switch {
		case e.Struck:
		case e.Wait != nil:
			out = append(out, e)
		default:
			out = slices.DeleteFunc(out, func(x Entry) bool { return x.ID == e.Over.Entry })
		}
	}
	return out
}

// Late is by how many whole days what is waited for is overdue on a day; not above zero
// where it is not, or nobody knows when it is due.
func (w *Wait) Late(now time.Time) int {
	late, _ := Past(w.Until, now)
	return late
}

// Past is how many days ago a day was (as 2026-12-03), where a moment is told by the clock there; below zero where it is to come.
// False where the text is no day.
func Past(text string, now time.Time) (days int, ok bool) {
	then, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return 0, false
	}
	today := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, time.UTC) // whose days have 24 hours
	return int(today.Sub(then) / (24 * time.Hour)), true
}

// Says tells what an entry waits for, and how that stands on a day: "part: C212, 4700 µF,
// expected in 3 days".
func (e *Entry) Says(now time.Time) string {
	w := e.Wait
	if w == nil {
		return "it has come"
	}
	since := int(now.Sub(e.At).Hours()) / 24
	out := fmt.Sprintf("%s: %s", w.For, w.What)
	switch late := w.Late(now); {
	case w.Until == "" && since > 0:
		return out + ", for " + Days(since)
	case w.Until == "":
		return out
	case late > 0:
		return out + ", overdue by " + Days(late)
	case late == 0:
		return out + ", expected today"
	default:
		return out + ", expected in " + Days(-late)
	}
}

// Days writes so many days.
func Days(n int) string {
	if n == 1 {
		return "1 day"
	}
	return fmt.Sprintf("%d days", n)
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

// Ends tells whether it is noted of a finished job too: that something has come.
func (e *Entry) Ends() bool { return e.Over != nil }
