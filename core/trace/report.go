package trace

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// measuredGain is the gain of a stage from the levels read on both sides, each
// against its own expectation, so that it holds whatever was fed in.
func (f *finder) measuredGain(at int) *float64 {
	a, b := f.latest(at), f.latest(at+1)
	g := exchange.Finite(f.Route.Gains[at])
	if a == nil || b == nil || a.OffDB == nil || b.OffDB == nil || g == nil {
		return nil
	}
	return exchange.Finite(*g + *b.OffDB - *a.OffDB)
}

// latest is the newest level that counts at a position of the route.
func (f *finder) latest(at int) *reading.Judged {
	for i := len(f.evidence) - 1; i >= 0; i-- {
		if j := f.evidence[i]; f.onRoute(j) && j.At == at && j.Reading.Quantity == sheet.AC && !j.Touched() {
			return j
		}
	}
	return nil
}

// telling is the newest evidence at a position of the route of the aspect that is asked for;
// where that is not read there, of the level, as far as it speaks of it.
func (f *finder) telling(at int) *reading.Judged {
	for _, j := range slices.Backward(f.evidence) {
		if f.onRoute(j) && j.At == at && j.Reading.Quantity.Aspect() == f.asked && !j.Touched() {
			return j
		}
	}
	if f.asked == sheet.AC || f.LevelTells(f.Route, at, f.asked) {
		return f.latest(at)
	}
	return nil
}

func (f *finder) points() {
	f.out.Points = make([]PointFinding, len(f.Route.Points))
	for i, at := range f.Route.Points {
		p, l := &f.Plan.Points[at], f.Route.Levels[i]
		out := PointFinding{
			Name:    p.Name,
			Drawing: p.Drawing,
			Note:    p.Note,
			Hazard:  p.Hazard,
			Stated:  l.Stated,
			Hz:      l.Hz,
			Refused: f.Refused(at, f.Route.Mode),
		}
		out.ExpectedDBV, out.Driven = f.ExpectNow(i)
		tolerance := l.Tolerance
		if dbv, twin, ok := f.TwinLevel(f.Route, i, f.judged); ok {
			out.ExpectedDBV, out.Twin, tolerance = exchange.Finite(dbv), twin, reading.TwinLevels
		}
		if out.ExpectedDBV != nil {
			out.Expected = sheet.LevelText(*out.ExpectedDBV, l.Form, l.Shape)
			out.LowDBV, out.HighDBV = exchange.Finite(*out.ExpectedDBV-tolerance.Low), exchange.Finite(*out.ExpectedDBV+tolerance.High)
		}
		if j := f.latest(i); j != nil {
			out.Verdict, out.Off = j.Verdict, j.Off
			if t := f.telling(i); t != nil && t.Verdict.Bad() {
				out.Verdict, out.Off = t.Verdict, t.Off
			}
			// Drawn by how far it was off, so that readings taken with another
			// level fed in stand right beside those of now.
			if out.ExpectedDBV != nil && j.OffDB != nil {
				out.MeasuredDBV = exchange.Finite(*out.ExpectedDBV + *j.OffDB)
			}
		}
		if j := f.levelBefore(at); j != nil && out.ExpectedDBV != nil && j.OffDB != nil {
			out.BeforeDBV = exchange.Finite(*out.ExpectedDBV + *j.OffDB)
		}
		f.out.Points[i] = out
	}
}

func (f *finder) stages() {
	f.out.Stages = make([]StageFinding, len(f.Route.Stages))
	speaks := f.speaks()
	for i := range f.Route.Stages {
		s := f.stageAt(i)
		out := StageFinding{
			Name:       s.Name,
			Kind:       s.Kind,
			GainDB:     exchange.Finite(f.Route.Gains[i]),
			MeasuredDB: f.measuredGain(i),
			Standing:   Aside,
			Reasons:    []string{},
			Speaks:     []Speak{},
		}
		switch {
		case slices.Contains(f.suspects, i):
			k, _ := slices.BinarySearch(f.suspects, i)
			out.Standing, out.Weight = Suspect, f.believed[f.Route.Stages[i]]
			if f.out.State == Named {
				out.Standing = Faulty
			}
			out.Reasons = f.suspectReasons(i)
			out.Speaks = append(out.Speaks, speaks[k]...)
		default:
			if j := f.clearedAt(i); j != nil {
				out.Standing = Cleared
				out.Reasons = append(out.Reasons, j.Told()+".")
			} else {
				out.Reasons = append(out.Reasons, f.asideReason())
			}
		}
		f.out.Stages[i] = out
	}
}

// weighLines gives the rails and controls that may be at fault their share of suspicion,
// as the suspects of the route have theirs.
func (f *finder) weighLines() {
	if len(f.suspects) == 0 && f.out.State != Supply {
		return
	}
	for line := range f.Plan.Lines() {
		if k := len(f.Plan.Stages) + line; f.left[k] {
			f.line(line).Weight = f.believed[k]
		}
	}
}

// asideReason says why nothing speaks against a stage that is not shown good either.
func (f *finder) asideReason() string {
	if f.out.State == Verifying || f.out.State == Repaired {
		return "Nothing speaks against it since the repair."
	}
	return "The signal is wrong before it already; nothing speaks against it."
}

// suspectReasons says what keeps a stage among the suspects.
func (f *finder) suspectReasons(at int) []string {
	var out []string
	if m, g := f.measuredGain(at), f.Route.Gains[at]; m != nil {
		out = append(out, fmt.Sprintf("gain %s, the sheet has %s", quantity.SignedDB(*m), quantity.SignedDB(g)))
	}
	before, after := f.latest(at), f.latest(at+1)
	switch {
	case before == nil && after == nil:
		out = append(out, "not read on either side")
	case before == nil:
		out = append(out, fmt.Sprintf("%s behind it is %s; not read before it", after.Reading.Point, after.Says()))
	case after == nil:
		out = append(out, fmt.Sprintf("%s before it is %s; not read behind it", before.Reading.Point, before.Says()))
	}
	for _, i := range f.stageAt(at).Lines {
		if l := f.line(i); l.bad() {
			out = append(out, fmt.Sprintf("needs %s, which reads %s", l.Name, l.says()))
		} else if l.Read == "" {
			out = append(out, fmt.Sprintf("needs %s, not read", l.Name))
		}
	}
	return out
}

// line gives what is found of a line.
func (f *finder) line(line int) *LineFinding {
	if line < len(f.out.Rails) {
		return &f.out.Rails[line]
	}
	return &f.out.Controls[line-len(f.out.Rails)]
}

// lineKind is what a stage is without when the line is bad.
func (f *finder) lineKind(line int) string {
	if line < len(f.Plan.Rails) {
		return "supply"
	}
	return f.Plan.LineKind(line)
}

// lines gives each rail and each control its latest reading, and warns of those
// that are off.
func (f *finder) lines() {
	f.out.Rails, f.out.Controls = make([]LineFinding, len(f.Plan.Rails)), make([]LineFinding, len(f.Plan.Controls))
	for i := range f.Plan.Rails {
		r := &f.Plan.Rails[i]
		f.out.Rails[i] = LineFinding{Name: r.Name, Point: r.Point, Expected: quantity.Rounded(r.Volts, quantity.Volt)}
	}
	for i := range f.Plan.Controls {
		c := &f.Plan.Controls[i]
		f.out.Controls[i] = LineFinding{
			Name:     c.Name,
			Does:     c.Does,
			Point:    c.Point,
			Expected: quantity.Rounded(c.Volts, quantity.Volt),
			By:       cmp.Or(c.By, "it worked"),
		}
		if c.Moves {
			f.out.Controls[i].Moves = quantity.Rounded(c.Worked, quantity.Volt)
		}
	}
	for k := range f.judged {
		j := &f.judged[k]
		line, ok := f.Plan.LineIndex(j.Reading.Point)
		if !ok || j.Reading.Struck || j.Superseded || len(j.Reading.Without) > 0 {
			continue
		}
		l := f.line(line)
		switch q := j.Reading.Quantity; {
		case j.Reading.Worked:
			l.Moved, l.Moving, l.movedTimes = j.Understood, j.Verdict, j.Times
		case q == sheet.DC, q == sheet.Resistance && l.Does != "" && l.Read == "":
			l.Verdict, l.Off, l.Read, l.Note = j.Verdict, j.Off, j.Understood, j.Note
			l.times = j.Times
		case q == sheet.AC:
			l.Ripple, l.Rippling = j.Understood, j.Verdict
		}
	}
	for line := range f.Plan.Lines() {
		if l := f.line(line); l.bad() || l.Rippling == reading.Hum {
			f.out.Notices = append(f.out.Notices, f.lineNotice(line))
		}
	}
}

func (f *finder) lineNotice(line int) string {
	l := f.line(line)
	var fed []string
	for i := range f.Plan.Stages {
		if slices.Contains(f.Plan.Stages[i].Lines, line) {
			fed = append(fed, f.Plan.Stages[i].Name)
		}
	}
	name := reading.Capital(f.Plan.LineTitle(line))
	text := fmt.Sprintf("%s reads %s where %s is due. Put it right first", name, l.says(), l.due())
	if !l.bad() {
		text = fmt.Sprintf("%s carries a ripple of %s. Put it right first", name, l.Ripple)
	}
	if len(fed) == 0 {
		return text + "."
	}
	return fmt.Sprintf("%s: %s cannot be judged before.", text, strings.Join(fed, ", "))
}
