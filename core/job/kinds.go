package job

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"unicode/utf8"

	"steptrace/core/adjust"
	"steptrace/core/closing"
	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/replace"
	"steptrace/core/report"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/stripdown"
	"steptrace/core/symptom"
	"steptrace/core/wait"
	"steptrace/core/worth"
)

// Kinds are the kinds of entry that a job consists of. Whatever handles jobs goes through
// them: the store, files going out and coming in, counting, striking out. A kind comes after
// those that it refers to.
var Kinds = []Kind{
	declare(
		"intake",
		"what was noted at intake",
		func(j *Job) *[]intake.Note { return (*[]intake.Note)(&j.Intake) },
		checkNote,
		tellNote,
	).late(
		(*intake.Note).Ends,
	),
	declare(
		"safety",
		"entry of safety",
		func(j *Job) *[]safety.Event { return &j.Safety },
		checkEvent,
		tellSafety,
	).late((*safety.Event).Ends),
	declare("steps", "step", func(j *Job) *[]stripdown.Step { return &j.Steps }, checkStep, tellStep),
	declare("returns", "return", func(j *Job) *[]stripdown.Return { return &j.Returns }, checkReturn, tellReturn).late(always),
	declare("pictures", "picture", func(j *Job) *[]Picture { return &j.Pictures }, checkPicture, tellPicture),
	declare("captures", "capture", func(j *Job) *[]Capture { return &j.Captures }, checkCapture, tellCapture).most(1000),
	declare("readings", "reading", func(j *Job) *[]Logged { return &j.Readings }, checkReading, tellReading),
	declare("inside", "entry inside a stage", func(j *Job) *[]inside.Entry { return &j.Inside }, checkInside, tellInside),
	declare("symptoms", "symptom", func(j *Job) *[]symptom.Entry { return &j.Symptoms }, checkSymptom, tellSymptom),
	declare("waivers", "waiver", func(j *Job) *[]Waived { return &j.Waivers }, checkWaived, tellWaived),
	declare(
		"repairs",
		"entry of repairs",
		func(j *Job) *[]repair.Entry { return &j.Repairs },
		checkRepair,
		tellRepair,
	).late((*repair.Entry).Ends),
	declare("replacing", "entry of replacing", func(j *Job) *[]replace.Entry { return &j.Replacing }, checkReplace, tellReplace),
	declare("adjusting", "entry of adjusting", func(j *Job) *[]adjust.Entry { return &j.Adjusting }, checkAdjust, tellAdjust),
	declare("soaks", "entry of a soak", func(j *Job) *[]soak.Entry { return &j.Soaks }, checkSoak, tellSoak).late((*soak.Entry).Ends),
	declare("closing", "closing measurement", func(j *Job) *[]closing.Entry { return &j.Closing }, checkClosing, tellClosing),
	declare("worth", "entry of its worth", func(j *Job) *[]worth.Entry { return &j.Worthing }, checkWorth, tellWorth),
	declare("report", "section of the report", func(j *Job) *[]report.Entry { return &j.Report }, checkReport, tellReport).late(
		(*report.Entry).Ends,
	),
	declare("waits", "entry of waiting", func(j *Job) *[]wait.Entry { return &j.Waits }, checkWait, tellWait).late((*wait.Entry).Ends),
}

// Kind is a kind of entry.
type Kind interface {
	// Name is that of its list in a job's file, and in the store.
	Name() string
	// One is what one of them is called.
	One() string
	// All are those of a job, in order; changing one changes the job.
	All(j *Job) []entry.Entry
	// Add puts a copy of one behind those of a job.
	Add(j *Job, e entry.Entry)
	// Share gives the list of a job to another, so that what is added to one is not the other's.
	Share(from, into *Job)
	// New is an empty one, to be read into.
	New() entry.Entry
	// Check compares one with the sheet and with the job as it was before it, and puts what
	// follows from the rest of it in order. Errors tell a person what is wrong.
	Check(plan *sheet.Plan, before *Job, e entry.Entry) error
	// Tell is one in words, as the technician's record has it.
	Tell(j *Job, e entry.Entry) string
	// Late tells whether one is noted of a finished job too.
	Late(e entry.Entry) bool

	holds(e entry.Entry) bool
	clear(j *Job)
	takeAll(plan *sheet.Plan, from, into *Job) error
}

// KindOf is the kind of an entry. That there is one is a matter of the program.
func KindOf(e entry.Entry) Kind {
	for _, k := range Kinds {
		if k.holds(e) {
			return k
		}
	}
	panic("job: " + reflect.TypeOf(e).String() + " is of no kind declared in Kinds")
}

// Named is the kind of a name.
func Named(name string) (Kind, bool) {
	for _, k := range Kinds {
		if k.Name() == name {
			return k, true
		}
	}
	return nil, false
}

// pointer is a pointer to an entry's struct.
type pointer[E any] interface {
	*E
	entry.Entry
}

// kind is a kind of entries E.
type kind[E any, P pointer[E]] struct {
	name, one string
	list      func(j *Job) *[]E
	check     func(plan *sheet.Plan, before *Job, e P) error
	tell      func(j *Job, e P) string
	ends      func(e P) bool
	limit     int
}

// declare makes a kind: its name, what one of it is called, where a job has its list, how one is
// checked, and how it is told in words.
func declare[E any, P pointer[E]](
	name, one string,
	list func(j *Job) *[]E,
	check func(plan *sheet.Plan, before *Job, e P) error,
	tell func(j *Job, e P) string,
) *kind[E, P] {
	return &kind[E, P]{name: name, one: one, list: list, check: check, tell: tell, limit: 10000}
}

// late has finished jobs take those that end something.
func (k *kind[E, P]) late(ends func(e P) bool) *kind[E, P] {
	k.ends = ends
	return k
}

func always[P any](P) bool { return true }

// most bounds how many there can be.
func (k *kind[E, P]) most(n int) *kind[E, P] {
	k.limit = n
	return k
}

func (k *kind[E, P]) Name() string { return k.name }
func (k *kind[E, P]) One() string  { return k.one }

func (k *kind[E, P]) All(j *Job) []entry.Entry {
	list := *k.list(j)
	out := make([]entry.Entry, len(list))
	for i := range list {
		out[i] = P(&list[i])
	}
	return out
}

func (k *kind[E, P]) Add(j *Job, e entry.Entry) {
	list := k.list(j)
	*list = append(*list, *e.(P))
}

func (k *kind[E, P]) Share(from, into *Job) { *k.list(into) = slices.Clip(*k.list(from)) }

func (k *kind[E, P]) New() entry.Entry { return P(new(E)) }

func (k *kind[E, P]) Check(plan *sheet.Plan, before *Job, e entry.Entry) error {
	return k.check(plan, before, e.(P))
}

func (k *kind[E, P]) Tell(j *Job, e entry.Entry) string { return k.tell(j, e.(P)) }

func (k *kind[E, P]) Late(e entry.Entry) bool { return k.ends != nil && k.ends(e.(P)) }

func (k *kind[E, P]) holds(e entry.Entry) bool {
	_, ok := e.(P)
	return ok
}

// takeAll checks the entries of a job that came from outside, each against those before it,
// and puts them in order.
func (k *kind[E, P]) takeAll(plan *sheet.Plan, from, into *Job) error {
	list := *k.list(from)
	if len(list) > k.limit {
		return exchange.Wrong("more than %d of %s", k.limit, k.name)
	}
	seen := map[string]bool{}
	for i := range list {
		e := P(&list[i])
		h := e.Head()
		var err error
		switch {
		case *h.ID == "" || seen[*h.ID]:
			err = errors.New("it needs an id of its own")
		case h.At.IsZero():
			err = errors.New("it does not say when it was")
		case utf8.RuneCountInString(*h.Who) > entry.MaxWho:
			err = fmt.Errorf("initials have at most %d characters", entry.MaxWho)
		default:
			err = k.check(plan, into, e)
		}
		if err != nil {
			return exchange.Wrong("%s %d: %w", k.one, i+1, err)
		}
		seen[*h.ID] = true
		*k.list(into) = append(*k.list(into), list[i])
	}
	return nil
}

func (k *kind[E, P]) clear(j *Job) { *k.list(j) = nil }

// Take checks the entries of a job that came from outside against its sheet, kind by kind.
// Those without an id get one from newID first. Errors are *exchange.FileError.
func (j *Job) Take(plan *sheet.Plan, newID func() string) error {
	taken := *j
	for _, k := range Kinds {
		k.clear(&taken)
	}
	for _, k := range Kinds {
		for _, e := range k.All(j) {
			if id := e.Head().ID; *id == "" {
				*id = newID()
			}
		}
		if err := k.takeAll(plan, j, &taken); err != nil {
			return err
		}
	}
	*j = taken
	return nil
}

// Counts is how many entries of each kind stand, by the kind's name.
func (j *Job) Counts() map[string]int {
	out := map[string]int{}
	for _, k := range Kinds {
		for _, e := range k.All(j) {
			if entry.Counts(e) {
				out[k.Name()]++
			}
		}
	}
	return out
}

func checkNote(_ *sheet.Plan, _ *Job, n *intake.Note) error { return intake.Check(n.Field, n.Text) }

func checkEvent(plan *sheet.Plan, before *Job, e *safety.Event) error {
	again, err := safety.Take(plan, before.Safety, *e, true)
	if err == nil && math.Abs(again.SI-e.SI) > 1e-9*math.Abs(e.SI) {
		err = mend.Errorf("%q does not read as the value %g beside it", e.Text, e.SI)
	}
	return err
}

func checkStep(_ *sheet.Plan, _ *Job, s *stripdown.Step) error {
	said := *s
	err := s.Reread()
	if err == nil && (said.Count != s.Count || said.What != s.What) {
		err = mend.Errorf("%q does not read as %d × %s beside it", said.Text, said.Count, said.What)
	}
	return err
}

func checkReturn(_ *sheet.Plan, before *Job, r *stripdown.Return) error {
	s, ok := before.step(r.Step)
	switch {
	case !ok:
		return mend.Errorf("%d went back in of step %q, which did not come out", r.Count, r.Step)
	case r.Count < 0 || r.Count > s.Count:
		return mend.Errorf("%d went out there, so 0 to %d can go back. Is the one over from another place?", s.Count, s.Count)
	}
	return nil
}

// maxStepKey is how many characters a step of the work is known by at most: its sort and the part's name.
const maxStepKey = 300

func checkPicture(_ *sheet.Plan, before *Job, p *Picture) error {
	if _, ok := before.step(p.Step); p.Step != "" && !ok {
		return mend.Errorf("it is of step %q, which is not there", p.Step)
	}
	if utf8.RuneCountInString(p.Work) > maxStepKey {
		return mend.Errorf("a step of the work is known by at most %d characters", maxStepKey)
	}
	return nil
}

// step finds one by its id.
func (j *Job) step(id string) (*stripdown.Step, bool) {
	i := slices.IndexFunc(j.Steps, func(s stripdown.Step) bool { return s.ID == id })
	if i < 0 {
		return nil, false
	}
	return &j.Steps[i], true
}

func checkCapture(plan *sheet.Plan, _ *Job, c *Capture) error {
	if err := c.Check(plan); err != nil {
		return mend.Errorf("%s: %w", c.Name, err)
	}
	return nil
}

func checkReading(plan *sheet.Plan, _ *Job, r *Logged) error {
	if err := r.check(plan); err != nil {
		return mend.Errorf("at %s: %w", r.Point, err)
	}
	return nil
}

// check compares a reading with the sheet that it is to be judged by: its point is known,
// and its text still reads as the number beside it.
func (r *Logged) check(plan *sheet.Plan) error {
	if in := r.Injected; in != nil {
		if err := reading.CheckInjection(plan, in); err != nil {
			return err
		}
	}
	if !plan.Traceable() {
		return mend.Errorf("the sheet has nothing to trace by")
	}
	if err := reading.CheckWithout(plan, r.Without); err != nil {
		return err
	}
	if wrong := Text("settings of the instruments", r.Settings, false); wrong != "" || len(r.Capture) > maxText {
		return mend.Errorf("%s", cmp.Or(wrong, "the id of its capture is too long"))
	}
	c := reading.Bench{Plan: plan, Route: reading.FirstRoute(plan), Injected: r.Injected}
	again, err := c.Take(reading.Aim{Point: r.Point, Quantity: r.Quantity}, r.Text)
	if err == nil && r.Worked {
		err = c.CheckWorked(r.Point)
	}
	switch {
	case err != nil:
		return err
	case again.Act != r.Act:
		return mend.Errorf("%q does not read as %q", r.Text, r.Act)
	case again.Word != r.Word || again.Quantity != r.Quantity || math.Abs(again.SI-r.SI) > 1e-9*math.Abs(r.SI):
		return mend.Errorf("%q does not read as the value %g beside it", r.Text, r.SI)
	}
	return nil
}

func checkInside(plan *sheet.Plan, _ *Job, e *inside.Entry) error {
	return inside.Take(plan, reading.PowerUnsaid, e)
}

func checkWaived(_ *sheet.Plan, _ *Job, w *Waived) error {
	if wrong := Text("reason", w.Reason, true); wrong != "" {
		return mend.Errorf("%s", wrong)
	}
	return nil
}

func checkRepair(plan *sheet.Plan, before *Job, e *repair.Entry) error {
	return repair.Take(plan, before.Repairs, e)
}

func checkSymptom(_ *sheet.Plan, _ *Job, e *symptom.Entry) error { return e.Check() }

func checkReplace(_ *sheet.Plan, _ *Job, e *replace.Entry) error { return replace.Take(e) }

func checkWait(_ *sheet.Plan, before *Job, e *wait.Entry) error { return wait.Take(before.Waits, e) }

func checkAdjust(plan *sheet.Plan, _ *Job, e *adjust.Entry) error { return adjust.Take(plan, e) }

func checkClosing(_ *sheet.Plan, _ *Job, e *closing.Entry) error { return closing.Take(e) }

func checkWorth(_ *sheet.Plan, _ *Job, e *worth.Entry) error { return worth.Take(e) }

func checkReport(_ *sheet.Plan, _ *Job, e *report.Entry) error { return report.Take(e) }

func checkSoak(_ *sheet.Plan, _ *Job, e *soak.Entry) error { return soak.Take(e) }
