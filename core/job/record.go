package job

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"steptrace/core/adjust"
	"steptrace/core/closing"
	"steptrace/core/entry"
	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/quantity"
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

// Line is an entry of a job as the technician's record has it: when, of which kind, what it says, and whether it was struck
// out, with the reason where one was given. ID is the entry's.
type Line struct {
	At     time.Time
	Kind   string
	Text   string
	Struck bool
	Why    string
	Who    string // initials
	ID     string
}

// Record is all that was noted of a job, in the order in which it was, in words.
func (j *Job) Record(plan *sheet.Plan) []Line {
	c, traced := j.Case(plan)
	plain := j.Plain(plan)
	var out []Line
	for _, k := range Kinds {
		for i, e := range k.All(j) {
			h := e.Head()
			l := Line{At: *h.At, Kind: k.Name(), Text: k.Tell(j, e), Struck: !entry.Counts(e), Who: *h.Who, ID: *h.ID}
			if x, ok := e.(*Logged); ok {
				l.Why = x.StruckReason
				if traced && !x.Struck {
					l.Text += verdictOf(c.Judge(plain[i]))
				}
			}
			out = append(out, l)
		}
	}
	slices.SortStableFunc(out, func(a, b Line) int { return a.At.Compare(b.At) })
	return out
}

// verdictOf is what a reading shows, behind it; nothing where it cannot be judged.
func verdictOf(v reading.Judged) string {
	if v.Verdict == reading.Unjudged {
		return ""
	}
	return strings.TrimRight(fmt.Sprintf(": %s %s", v.Verdict, v.Off), " ")
}

func tellNote(_ *Job, n *intake.Note) string {
	for _, f := range append(intake.Fields(), intake.Whose()...) {
		if f.Key == n.Field {
			return f.Name + ": " + n.Text
		}
	}
	return "Behind it: " + strings.ReplaceAll(n.Text, ";", ", ")
}

func tellStep(_ *Job, s *stripdown.Step) string { return entry.Joined(", ", s.Says(), s.Mind) }

func tellReturn(j *Job, r *stripdown.Return) string {
	s, ok := j.step(r.Step)
	if !ok {
		return fmt.Sprintf("%d back", r.Count)
	}
	return fmt.Sprintf("back in: %d of %s", r.Count, s.Says())
}

func tellPicture(*Job, *Picture) string { return "picture" }

func tellCapture(_ *Job, c *Capture) string {
	return entry.Joined(", ", "waveform "+c.Name, strings.Join(c.Points, ", "), c.Settings)
}

func tellReading(_ *Job, r *Logged) string { return r.told() }

func tellSymptom(_ *Job, e *symptom.Entry) string { return "it shows " + e.Says() }

func tellWaived(_ *Job, w *Waived) string {
	return fmt.Sprintf("%s condemned without %s: %s", w.Stage, w.Key, w.Reason)
}

func tellRepair(_ *Job, e *repair.Entry) string { return e.Says() }

func tellSoak(_ *Job, e *soak.Entry) string {
	switch {
	case e.Begin != nil:
		return fmt.Sprintf("a soak begins: %d steps, %d traces", len(e.Begin.Steps), len(e.Begin.Traces))
	case e.Event != nil:
		return "soak: " + cmp.Or(e.Event.Text, string(e.Event.What))
	}
	return "the soak is over: " + cmp.Or(e.Over.Why, "it went through")
}

func tellClosing(_ *Job, e *closing.Entry) string {
	if e.Without != "" {
		return e.Item + ": done without, " + e.Without
	}
	return entry.Joined(", ", e.Item+": "+e.Text, e.By)
}

func tellWorth(_ *Job, e *worth.Entry) string { return e.Says() }

func tellReport(_ *Job, e *report.Entry) string {
	if e.LeftOut {
		return "report, " + e.Section + ": left out"
	}
	return "report, " + e.Section + ": " + cmp.Or(e.Text, "as the record has it")
}

func tellWait(_ *Job, e *wait.Entry) string {
	if e.Over != nil {
		return entry.Joined(": ", "no longer waited for", e.Over.How)
	}
	return entry.Joined(", until ", fmt.Sprintf("waits for %s: %s", e.Wait.For, e.Wait.What), e.Wait.Until)
}

// told is a reading with the conditions it was taken under.
func (r *Logged) told() string {
	out := fmt.Sprintf("%s %s: %s", r.Point, r.Quantity, r.Text)
	if in := r.Injected; in != nil {
		fed := ", fed in at " + in.At
		if in.Level > 0 {
			fed += " " + quantity.Rounded(in.Level, quantity.Volt)
		}
		if in.Hz > 0 {
			fed += " " + quantity.Frequency(in.Hz)
		}
		out += fed
	}
	if len(r.Without) > 0 {
		out += ", without " + strings.Join(r.Without, ", ")
	}
	by := ""
	if r.Instrument != "" {
		by = reading.InstrumentFor(r.Instrument).Name
	}
	return entry.Joined(", ", out, r.Mode, by, string(r.Power))
}

func tellSafety(_ *Job, e *safety.Event) string {
	switch e.Kind {
	case safety.SwitchedOn:
		return "switched on"
	case safety.Standby:
		return "in standby"
	case safety.Off:
		return "off, and unplugged"
	case safety.Residual:
		return fmt.Sprintf("%s measured: %s", e.Subject, e.Text)
	case safety.Ticked:
		return "minded: " + e.Subject
	case safety.Unticked:
		return "no longer minded: " + e.Subject
	}
	return entry.Joined(" ", string(e.Kind), e.Subject, e.Text)
}

func tellInside(_ *Job, e *inside.Entry) string {
	return e.Stage + ": " + insideOf(e)
}

func insideOf(e *inside.Entry) string {
	switch {
	case e.Reading != nil:
		r := e.Reading
		at := entry.Joined(" to ", cmp.Or(r.Node, r.Part), r.To)
		return fmt.Sprintf("%s at %s: %s", r.What, at, r.Value)
	case e.Check != nil:
		var given []string
		for name, text := range e.Check.Given {
			given = append(given, name+" "+text)
		}
		slices.Sort(given)
		return fmt.Sprintf("%s by itself: %s", e.Check.Part, strings.Join(given, ", "))
	case e.Provoked != nil:
		return fmt.Sprintf("%s at %s: %s", e.Provoked.Act, e.Provoked.Place, e.Provoked.Came)
	case e.Condemned != nil:
		return fmt.Sprintf("%s is condemned: %s", e.Condemned.Part, e.Condemned.What)
	}
	return ""
}

func tellReplace(_ *Job, e *replace.Entry) string {
	switch {
	case e.Subject != nil && e.Subject.Dropped:
		return e.Subject.Part + " stays in"
	case e.Subject != nil:
		return "to be replaced: " + entry.Joined(", ", e.Subject.Part, e.Subject.Was, e.Subject.Duty)
	case e.Chosen != nil:
		return entry.Joined(", ", fmt.Sprintf("in the place of %s: %s (%s)", e.Chosen.Part, e.Chosen.New, e.Chosen.From), e.Chosen.Why)
	case e.Done != nil:
		return entry.Joined(", ", "done: "+e.Done.Text, e.Done.Note)
	case e.Tested != nil:
		return e.Tested.Part + " tested: " + e.Tested.Given
	case e.Worked != nil:
		return e.Worked.Asked + ": " + e.Worked.Says
	case e.List != "":
		return "to be renewed: " + strings.ReplaceAll(e.List, "\n", "; ")
	}
	return entry.Joined(" ", string(e.School), string(e.Board))
}

func tellAdjust(_ *Job, e *adjust.Entry) string {
	switch {
	case e.Tick != nil && e.Tick.Off:
		return e.Adjustment + ": no longer so, " + e.Tick.Condition
	case e.Tick != nil:
		return e.Adjustment + ": " + e.Tick.Condition
	case e.Warm != nil:
		return "it is on, and warms up"
	case e.Read != nil:
		return entry.Joined(", at ", e.Adjustment+": "+e.Read.Text, e.Read.Position)
	case e.Left != nil:
		return entry.Joined(", ", e.Adjustment+": left so", e.Left.Why)
	case e.Setting != nil:
		return fmt.Sprintf("menu, %s: %s %s", entry.Joined(" ", e.Setting.Item, e.Setting.Of), e.Setting.How, e.Setting.Value)
	default:
		return "idle: " + entry.Joined(", ", e.Heat.Watts, e.Heat.Inside+" inside")
	}
}
