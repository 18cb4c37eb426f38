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
)

// Line is an entry of a job as the technician's record has it: when, of which kind, what it says, and whether it was struck
// out, with the reason where one was given. Of a picture or a capture ID is that of its file.
type Line struct {
	At     time.Time
	Kind   string
	Text   string
	Struck bool
	Why    string
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
			l := Line{At: *h.At, Kind: k.Name(), Text: j.line(e, plan), Struck: !entry.Counts(e)}
			switch x := e.(type) {
			case *Logged:
				l.Why = x.StruckReason
				if judged := c.Bench; traced && !x.Struck {
					v := judged.Judge(plain[i])
					if v.Verdict != reading.Unjudged {
						l.Text += strings.TrimRight(fmt.Sprintf(": %s %s", v.Verdict, v.Off), " ")
					}
				}
			case *Picture:
				l.ID = x.ID
			case *Capture:
				l.ID = x.ID
			}
			out = append(out, l)
		}
	}
	slices.SortStableFunc(out, func(a, b Line) int { return a.At.Compare(b.At) })
	return out
}

// line is an entry in words; empty where this program does not know it.
//
// Long: a case for each kind.
func (j *Job) line(e entry.Entry, plan *sheet.Plan) string {
	switch x := e.(type) {
	case *intake.Note:
		for _, f := range append(intake.Fields(), intake.Whose()...) {
			if f.Key == x.Field {
				return f.Name + ": " + x.Text
			}
		}
		return "Behind it: " + strings.ReplaceAll(x.Text, ";", ", ")
	case *safety.Event:
		return safetyLine(x)
	case *stripdown.Step:
		return joined(", ", x.Says(), x.Mind)
	case *stripdown.Return:
		s, ok := j.step(x.Step)
		if !ok {
			return fmt.Sprintf("%d back", x.Count)
		}
		return fmt.Sprintf("back in: %d of %s", x.Count, s.Says())
	case *Picture:
		return "picture"
	case *Capture:
		return joined(", ", "waveform "+x.Name, strings.Join(x.Points, ", "), x.Settings)
	case *Logged:
		return x.told()
	case *inside.Entry:
		return x.Stage + ": " + insideLine(x)
	case *symptom.Entry:
		return "it shows " + x.Says()
	case *Waived:
		return fmt.Sprintf("%s condemned without %s: %s", x.Stage, x.Key, x.Reason)
	case *repair.Entry:
		return x.Says()
	case *replace.Entry:
		return replaceLine(x)
	case *adjust.Entry:
		return adjustLine(x)
	case *soak.Entry:
		switch {
		case x.Begin != nil:
			return fmt.Sprintf("a soak begins: %d steps, %d traces", len(x.Begin.Steps), len(x.Begin.Traces))
		case x.Event != nil:
			return "soak: " + cmp.Or(x.Event.Text, string(x.Event.What))
		default:
			return "the soak is over: " + cmp.Or(x.Over.Why, "it went through")
		}
	case *closing.Entry:
		if x.Without != "" {
			return x.Item + ": done without, " + x.Without
		}
		return joined(", ", x.Item+": "+x.Text, x.By)
	case *report.Entry:
		if x.LeftOut {
			return "report, " + x.Section + ": left out"
		}
		return "report, " + x.Section + ": " + cmp.Or(x.Text, "as the record has it")
	case *wait.Entry:
		if x.Over != nil {
			return joined(": ", "no longer waited for", x.Over.How)
		}
		return joined(", until ", fmt.Sprintf("waits for %s: %s", x.Wait.For, x.Wait.What), x.Wait.Until)
	}
	return ""
}

// joined puts what is there together.
func joined(with string, parts ...string) string {
	return strings.Join(slices.DeleteFunc(parts, func(s string) bool { return strings.TrimSpace(s) == "" }), with)
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
	return joined(", ", out, r.Mode, by, string(r.Power))
}

func safetyLine(e *safety.Event) string {
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
	return joined(" ", string(e.Kind), e.Subject, e.Text)
}

func insideLine(e *inside.Entry) string {
	switch {
	case e.Reading != nil:
		r := e.Reading
		at := joined(" to ", cmp.Or(r.Node, r.Part), r.To)
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

func replaceLine(e *replace.Entry) string {
	switch {
	case e.Subject != nil && e.Subject.Dropped:
		return e.Subject.Part + " stays in"
	case e.Subject != nil:
		return "to be replaced: " + joined(", ", e.Subject.Part, e.Subject.Was, e.Subject.Duty)
	case e.Chosen != nil:
		return joined(", ", fmt.Sprintf("in the place of %s: %s (%s)", e.Chosen.Part, e.Chosen.New, e.Chosen.From), e.Chosen.Why)
	case e.Done != nil:
		return joined(", ", "done: "+e.Done.Text, e.Done.Note)
	case e.Tested != nil:
		return e.Tested.Part + " tested: " + e.Tested.Given
	case e.Worked != nil:
		return e.Worked.Asked + ": " + e.Worked.Says
	case e.List != "":
		return "to be renewed: " + strings.ReplaceAll(e.List, "\n", "; ")
	}
	return joined(" ", string(e.School), string(e.Board))
}

func adjustLine(e *adjust.Entry) string {
	switch {
	case e.Tick != nil && e.Tick.Off:
		return e.Adjustment + ": no longer so, " + e.Tick.Condition
	case e.Tick != nil:
		return e.Adjustment + ": " + e.Tick.Condition
	case e.Warm != nil:
		return "it is on, and warms up"
	case e.Read != nil:
		return joined(", at ", e.Adjustment+": "+e.Read.Text, e.Read.Position)
	case e.Left != nil:
		return joined(", ", e.Adjustment+": left so", e.Left.Why)
	case e.Setting != nil:
		return fmt.Sprintf("menu, %s: %s %s", joined(" ", e.Setting.Item, e.Setting.Of), e.Setting.How, e.Setting.Value)
	default:
		return "idle: " + joined(", ", e.Heat.Watts, e.Heat.Inside+" inside")
	}
}
