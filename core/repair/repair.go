// Package repair knows what was done to a set: repairs, each of which begins a new round
// of readings; what was put in for a while and has to come out again; and what is still
// open before the set goes back.
//
//	rounds := repair.Rounds(entries, taken)
package repair

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/sheet"
)

// Entry is one thing noted of the repair: a repair, something put in for a while, that it
// came out, or that something open at the end is done without. One of them is there.
type Entry struct {
	ID        string     `json:"id"`
	At        time.Time  `json:"at"`
	Who       string     `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck    bool       `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Repair    *Repair    `json:"repair,omitempty"`
	Temporary *Temporary `json:"temporary,omitempty"`
	Removed   *Removed   `json:"removed,omitempty"`
	Without   *Without   `json:"without,omitempty"`
}

// Did is what was done.
type Did string

// Words implements exchange.Enumerated.
func (Did) Words() []string { return exchange.WordsOf(Dids) }

// What is done to sets.
const (
	Replaced   Did = "replaced"
	Resoldered Did = "re-soldered"
	Cleaned    Did = "cleaned"
	Mended     Did = "track mended"
	Adjusted   Did = "adjusted"
	PutRight   Did = "wiring put right"
	Modified   Did = "modified"
)

// Dids lists what is done, in the order it is offered.
var Dids = []Did{Replaced, Resoldered, Cleaned, Mended, Adjusted, PutRight, Modified}

// Found is how a part was found.
type Found string

// Words implements exchange.Enumerated.
func (Found) Words() []string { return exchange.WordsOf([]Found{Bad, Wrong, Precaution}) }

// Bad: it had failed. Wrong: somebody had fitted another, or wired it otherwise, which
// says nothing of the model. Precaution: it was renewed all the same.
const (
	Bad        Found = "bad"
	Wrong      Found = "wrong"
	Precaution Found = "precaution"
)

// Repair is what was done, to which parts of which stage, rail or control. Stage is empty
// where it was done to none of these. Where and Note are in words.
type Repair struct {
	Did   Did    `json:"did"`
	Stage string `json:"stage,omitempty"`
	Parts []Part `json:"parts,omitempty"`
	Where string `json:"where,omitempty"`
	Note  string `json:"note,omitempty"`
}

// Part is one part that something was done to: how it was found, and its value or type as
// it is fitted now.
type Part struct {
	Name   string `json:"name"`
	Found  Found  `json:"found"`
	Fitted string `json:"fitted,omitempty" jsonschema:"description=value or type as fitted now"`
}

// Stopgap is a kind of thing that is put in for a while.
type Stopgap string

// Words implements exchange.Enumerated.
func (Stopgap) Words() []string { return exchange.WordsOf(Stopgaps) }

// What is put in for a while.
const (
	FuseBridged Stopgap = "fuse bridged"
	Jumper      Stopgap = "jumper"
	Lifted      Stopgap = "lifted"
	Outside     Stopgap = "fed from outside"
	Swapped     Stopgap = "good one swapped in"
)

// Stopgaps lists them in the order they are offered.
var Stopgaps = []Stopgap{FuseBridged, Jumper, Lifted, Outside, Swapped}

// Temporary is something put in for a while: a fuse bridged for a test, a jumper across a
// stage. It stays until it is noted as removed.
type Temporary struct {
	What    Stopgap `json:"what"`
	Subject string  `json:"subject" jsonschema:"description=the fuse\\, stage or part"`
	Note    string  `json:"note,omitempty"`
}

// Says tells it in a few words: "fuse F1 bridged", "jumper across K1".
func (t *Temporary) Says() string {
	switch t.What {
	case FuseBridged:
		return fmt.Sprintf("fuse %s bridged", t.Subject)
	case Jumper:
		return fmt.Sprintf("jumper across %s", t.Subject)
	case Swapped:
		return fmt.Sprintf("a good one in place of %s", t.Subject)
	}
	return fmt.Sprintf("%s %s", t.Subject, t.What)
}

// Removed says that something put in for a while is out again, or that what was lifted
// for a reading is back: by the id of its entry, or by its name.
type Removed struct {
	Entry   string `json:"entry,omitempty"`
	Subject string `json:"subject,omitempty"`
}

// Without says that something that is open at the end is done without, and why.
type Without struct {
	Key  string `json:"key"`
	Text string `json:"text"`
	Why  string `json:"why"`
}

func bad(format string, args ...any) error { return mend.Errorf(format, args...) }

// Limits on what is noted: more than a repair touches, and what a screen holds.
const (
	maxParts = 200
	maxText  = 300
)

// Take checks an entry against the sheet and what was noted before.
func Take(plan *sheet.Plan, before []Entry, e *Entry) error {
	count := 0
	for _, there := range []bool{e.Repair != nil, e.Temporary != nil, e.Removed != nil, e.Without != nil} {
		if there {
			count++
		}
	}
	if count != 1 {
		return bad("an entry is a repair, something put in for a while, that it came out, or something done without")
	}
	switch {
	case e.Repair != nil:
		return e.Repair.check(plan)
	case e.Temporary != nil:
		t := e.Temporary
		if !slices.Contains(Stopgaps, t.What) {
			return bad("%q is nothing that is put in for a while: use %s", t.What, words(Stopgaps))
		}
		if len(plan.FuseRails(t.Subject)) == 0 && t.What == FuseBridged {
			return bad("%q is no fuse of this sheet: add it to its rail there", t.Subject)
		}
		return cmp.Or(needed("fuse, stage or part", t.Subject), text("note", t.Note))
	case e.Removed != nil:
		if e.Removed.Subject != "" {
			return cmp.Or(text("name", e.Removed.Subject))
		}
		i := slices.IndexFunc(before, func(x Entry) bool { return x.Temporary != nil && x.ID == e.Removed.Entry })
		switch {
		case i < 0:
			return bad("that was never in")
		case e.Struck || before[i].Struck: // it counts for nothing, and stays in the record
		case !slices.ContainsFunc(In(before), func(x Entry) bool { return x.ID == e.Removed.Entry }):
			return bad("that is out already")
		}
		return nil
	}
	w := e.Without
	return cmp.Or(needed("thing that is open", w.Key), needed("thing that is open", w.Text), needed("reason", w.Why))
}

func (r *Repair) check(plan *sheet.Plan) error {
	if !slices.Contains(Dids, r.Did) {
		return bad("%q is nothing that is done to a set: use %s", r.Did, words(Dids))
	}
	if r.Stage != "" && !Known(plan, r.Stage) {
		return bad("%q is no stage, rail, control or fuse of this sheet: leave it empty where it is none", r.Stage)
	}
	if len(r.Parts) > maxParts {
		return bad("more than %d parts: note them as several repairs", maxParts)
	}
	if r.Stage == "" && len(r.Parts) == 0 && strings.TrimSpace(r.Where+r.Note) == "" {
		return bad("say what was repaired: a stage or rail, its parts, or where it was in words")
	}
	seen := map[string]bool{}
	for i := range r.Parts {
		p := &r.Parts[i]
		if !slices.Contains([]Found{Bad, Wrong, Precaution}, p.Found) {
			return bad("%s was found bad, wrong, or is renewed as a precaution: not %q", p.Name, p.Found)
		}
		if seen[p.Name] {
			return bad("%s is named twice", p.Name)
		}
		seen[p.Name] = true
		if err := cmp.Or(needed("part", p.Name), text("value or type", p.Fitted)); err != nil {
			return err
		}
	}
	return cmp.Or(text("place", r.Where), text("note", r.Note))
}

// Known tells whether a name is a stage, a rail, a control or a fuse.
func Known(plan *sheet.Plan, name string) bool {
	_, line := plan.LineIndex(name)
	return line || len(plan.FuseRails(name)) > 0 || slices.ContainsFunc(plan.Stages, func(s sheet.PlanStage) bool { return s.Name == name })
}

func words[T ~string](list []T) string {
	out := make([]string, len(list))
	for i, x := range list {
		out[i] = string(x)
	}
	return strings.Join(out, ", ")
}

func text(what, s string) error { return mend.Text(what, s, maxText) }

func needed(what, s string) error {
	if strings.TrimSpace(s) == "" {
		return bad("name the %s", what)
	}
	return text(what, s)
}

// texts is the first error of some.
// Says tells an entry in a sentence: "C212 replaced by 10 µF in Q204 make-up: it was bad".
func (e *Entry) Says() string {
	switch {
	case e.Repair != nil:
		return e.Repair.Says()
	case e.Temporary != nil:
		return mend.Capital(e.Temporary.Says()) + ", for a while" + behind(e.Temporary.Note)
	case e.Removed != nil && e.Removed.Subject != "":
		return fmt.Sprintf("%s is back", e.Removed.Subject)
	case e.Removed != nil:
		return "It is out again"
	case e.Without != nil:
		return fmt.Sprintf("Done without: %s. %s", e.Without.Text, e.Without.Why)
	}
	return ""
}

// Says tells a repair in a sentence.
func (r *Repair) Says() string {
	var parts []string
	for _, p := range r.Parts {
		s := p.Name
		if p.Fitted != "" {
			s += ", now " + p.Fitted
		}
		s += map[Found]string{Bad: " (was bad)", Wrong: " (was wrong when found)", Precaution: " (as a precaution)"}[p.Found]
		parts = append(parts, s)
	}
	what := strings.Join(parts, "; ")
	switch {
	case what == "":
		what = r.Stage
	case r.Stage != "":
		what += " in " + r.Stage
	}
	if what == "" {
		what, r = r.Where, &Repair{Did: r.Did, Note: r.Note}
	}
	if what == "" {
		return mend.Capital(string(r.Did)) + behind(r.Note)
	}
	return mend.Capital(string(r.Did)) + ": " + what + behind(r.Where) + behind(r.Note)
}

func behind(s string) string {
	if strings.TrimSpace(s) == "" {
		return ""
	}
	return ", " + strings.TrimSpace(s)
}

// In lists what was put in for a while and is in still.
func In(entries []Entry) []Entry {
	var out []Entry
	for _, e := range entries {
		switch {
		case e.Struck:
		case e.Temporary != nil:
			out = append(out, e)
		case e.Removed != nil && e.Removed.Entry != "":
			out = slices.DeleteFunc(out, func(x Entry) bool { return x.ID == e.Removed.Entry })
		}
	}
	return out
}

// Bypassed names what a reading at a place is taken without while things are in: of a
// signal the stages with a jumper across or a good one in their place, and what is lifted;
// of a supply what is lifted off it, and a bridged fuse.
func Bypassed(plan *sheet.Plan, entries []Entry, place string) []string {
	_, supply := plan.LineIndex(place)
	var out []string
	for _, e := range In(entries) {
		t := e.Temporary
		counts := t.What == Lifted || supply && t.What == FuseBridged || !supply && (t.What == Jumper || t.What == Swapped)
		if counts && plan.CanBeOut(t.Subject) && !slices.Contains(out, t.Subject) {
			out = append(out, t.Subject)
		}
	}
	return out
}

// Round is a round of readings that repairs began.
type Round struct {
	At      time.Time // of its first repair
	Repairs []*Repair
}

// Rounds are those that the repairs began, in order. A repair joins the one before it
// where nothing was taken between the two; Taken are the times of all readings.
func Rounds(entries []Entry, taken []time.Time) []Round {
	var out []Round
	last := time.Time{} // the repair before
	for i := range entries {
		e := &entries[i]
		if e.Repair == nil || e.Struck {
			continue
		}
		between := slices.ContainsFunc(taken, func(t time.Time) bool { return t.After(last) && !t.After(e.At) })
		if len(out) == 0 || between {
			out = append(out, Round{At: e.At})
		}
		r := &out[len(out)-1]
		r.Repairs = append(r.Repairs, e.Repair)
		last = e.At
	}
	return out
}

// Of tells which round something belongs to that was taken at a time: 0 before any repair.
func Of(rounds []Round, at time.Time) int {
	n := 0
	for _, r := range rounds {
		if at.After(r.At) {
			n++
		}
	}
	return n
}

// Touched names what the repairs of a round were done to.
func (r *Round) Touched() []string {
	out := []string{}
	for _, x := range r.Repairs {
		if x.Stage != "" && !slices.Contains(out, x.Stage) {
			out = append(out, x.Stage)
		}
	}
	return out
}

// Fitted is what was fitted last in place of each part of a stage, as it was said.
func Fitted(rounds []Round, stage string) map[string]string {
	out := map[string]string{}
	for _, r := range rounds {
		for _, x := range r.Repairs {
			for _, p := range x.Parts {
				if x.Stage == stage && (x.Did == Replaced || x.Did == Modified) {
					out[p.Name] = p.Fitted
				}
			}
		}
	}
	return out
}

// Failed tells which parts of which stage the repairs found bad: what the model's next set
// may have as well. Wrong parts, wiring and precautions tell nothing of the model.
func Failed(entries []Entry) map[string][]string {
	out := map[string][]string{}
	for _, e := range entries {
		if e.Struck || e.Repair == nil || e.Repair.Did == PutRight {
			continue
		}
		for _, p := range e.Repair.Parts {
			if p.Found == Bad && !slices.Contains(out[e.Repair.Stage], p.Name) {
				out[e.Repair.Stage] = append(out[e.Repair.Stage], p.Name)
			}
		}
	}
	return out
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

// Ends tells whether it is noted of a finished job too: what was put in for a while comes
// out of that as well.
func (e *Entry) Ends() bool { return e.Removed != nil }
