package trace

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// LineFinding is a supply rail or a control with its latest reading. Ripple is
// a rail's; what a control does, and how it reads while it is worked, a control's.
type LineFinding struct {
	Name     string          `json:"name"`
	Does     string          `json:"does"` // empty: a rail
	Expected string          `json:"expected"`
	Point    string          `json:"point"`
	Read     string          `json:"read"` // empty: not read
	Was      string          `json:"was"`  // as it read before the last repair
	Verdict  reading.Verdict `json:"verdict"`
	Off      string          `json:"off"`
	Note     string          `json:"note"`
	Ripple   string          `json:"ripple"` // as read; empty: not read
	Rippling reading.Verdict `json:"rippling"`
	Moves    string          `json:"moves"` // what it becomes when it is worked; empty: it does not move
	By       string          `json:"by"`    // how it is worked
	Moved    string          `json:"moved"` // as read then; empty: not read
	Moving   reading.Verdict `json:"moving"`
	Weight   float64         `json:"weight"` // the share of suspicion, 0 to 1; 0 where it is none

	// How often it was read so in a row, as it stands, worked, and its ripple.
	times, movedTimes, rippleTimes float64
	// Hums tells that the set hums and that a rail may be why: right volts alone do not show it good then.
	hums       bool
	mostRipple string // of a good one, in words
}

// steady tells whether the volts were shown good: as they stand, and where they should
// move, that too. A rail that only waits for the start has a note, and is not shown.
func (l *LineFinding) steady() bool {
	return l.Verdict == reading.Within && l.Note == "" && (l.Moves == "" || l.Moving == reading.Within)
}

// good tells whether the line was shown good.
func (l *LineFinding) good() bool {
	return l.steady() && (!l.hums || l.Rippling == reading.Within)
}

// bad tells whether a reading shows the line bad. A ripple explains hum, and nothing else.
func (l *LineFinding) bad() bool {
	return l.Verdict.Bad() || l.Moving.Bad() || l.hums && l.Rippling.Bad()
}

// rippleWanted tells whether the volts are right, and what rides on them was not read.
func (l *LineFinding) rippleWanted() bool { return l.hums && l.steady() && l.Ripple == "" }

// byRipple tells whether what decides about the line is its ripple.
func (l *LineFinding) byRipple() bool { return l.hums && l.Ripple != "" && !l.Verdict.Bad() }

// unread tells whether something of the line is still to be read.
func (l *LineFinding) unread() bool { return l.Read == "" || l.rippleWanted() }

// eachTime gives what was read of the volts of the line, as it stands and while it is worked, and how often in a row; a
// good reading counts once the volts are shown good.
func (l *LineFinding) eachTime(tell func(v reading.Verdict, times float64)) {
	if l.Note == "" && (l.Verdict.Bad() || l.steady()) {
		tell(l.Verdict, l.times)
	}
	if l.Moving.Bad() || l.Moving == reading.Within && l.steady() {
		tell(l.Moving, l.movedTimes)
	}
}

// says tells what was read of the line: "0.1 V", "4.8 V, and 4.7 V with MUTE held", "24 V with a ripple of 3 Vpp".
func (l *LineFinding) says() string {
	if l.byRipple() {
		return strings.TrimPrefix(l.Read+" with a ripple of "+l.Ripple, " with ")
	}
	if l.Moved == "" {
		return l.Read
	}
	moved := fmt.Sprintf("%s with %s", l.Moved, l.By)
	if l.Read == "" {
		return moved
	}
	return l.Read + ", and " + moved
}

// due tells what should be read of the line.
func (l *LineFinding) due() string {
	if l.byRipple() {
		return l.Expected + " with a ripple of " + strings.TrimPrefix(l.mostRipple, "usually ")
	}
	if l.Moved == "" {
		return l.Expected
	}
	return fmt.Sprintf("%s, and %s", l.Expected, l.Moves)
}

// line gives what is found of a line.
func (f *finder) line(line int) *LineFinding { return &f.lines[line] }

// lineKind is what a stage is without when the line is bad.
func (f *finder) lineKind(line int) string {
	if line < len(f.Plan.Rails) {
		return "supply"
	}
	return f.Plan.LineKind(line)
}

// readLines gives each rail and each control its latest reading.
func (f *finder) readLines() []LineFinding {
	out := make([]LineFinding, 0, f.Plan.Lines())
	hums := f.hums()
	for i := range f.Plan.Rails {
		r := &f.Plan.Rails[i]
		l := LineFinding{Name: r.Name, Point: r.Point, Expected: r.Due()}
		l.hums, l.mostRipple = hums && !r.Alternates, reading.MostRipple(r)
		out = append(out, l)
	}
	for i := range f.Plan.Controls {
		c := &f.Plan.Controls[i]
		l := LineFinding{
			Name:     c.Name,
			Does:     c.Does,
			Point:    c.Point,
			Expected: quantity.Rounded(c.Volts, quantity.Volt),
			By:       cmp.Or(c.By, "it worked"),
		}
		if c.Moves {
			l.Moves = quantity.Rounded(c.Worked, quantity.Volt)
		}
		out = append(out, l)
	}
	for k := range f.judged {
		j := &f.judged[k]
		line, ok := f.Plan.LineIndex(j.Reading.Point)
		if !ok || !j.Counts() || len(j.Reading.Without) > 0 {
			continue
		}
		l := &out[line]
		switch q := j.Reading.Quantity; {
		case j.Reading.Worked:
			l.Moved, l.Moving, l.movedTimes = j.Understood, j.Verdict, j.Times
		case q == f.Plan.LineReads(line), q == sheet.Resistance && l.Does != "" && l.Read == "":
			l.Verdict, l.Off, l.Read, l.Note = j.Verdict, j.Off, j.Understood, j.Note
			l.times = j.Times
			// Who says in a word that a rail is good has looked at it.
			l.hums = l.hums && !(j.Verdict == reading.Within && j.Reading.Word != quantity.NoWord)
		case q == sheet.AC:
			l.Ripple, l.Rippling, l.rippleTimes = j.Understood, j.Verdict, j.Times
		}
	}
	return out
}

// hums tells whether a reading shows hum.
func (f *finder) hums() bool {
	return slices.ContainsFunc(f.bad(), func(j *reading.Judged) bool { return j.Verdict == reading.Hum })
}

// weighed gives the lines with the share of suspicion of those that may be at fault, as the
// suspects of the route have theirs.
func (f *suspicion) weighed(state State) []LineFinding {
	out := slices.Clone(f.lines)
	if len(f.suspects) == 0 && state != Supply {
		return out
	}
	for line := range out {
		if k := len(f.Plan.Stages) + line; f.left[k] {
			out[line].Weight = f.believed[k]
		}
	}
	return out
}

// lineNotice warns of a line that is off.
func (f *suspicion) lineNotice(line int) string {
	l := f.line(line)
	if line < len(f.Plan.Rails) && !f.left[len(f.Plan.Stages)+line] {
		if point := f.Plan.Rails[line].Signal; point >= 0 && f.makersLeft(line) {
			return fmt.Sprintf("%s reads %s where %s is due, as it must while what it is made from is missing, the signal at %s.",
				f.lineTitle(line), l.says(), l.due(), f.Plan.Points[point].Name)
		}
	}
	var fed []string
	for i := range f.Plan.Stages {
		if slices.Contains(f.Plan.Stages[i].Lines, line) {
			fed = append(fed, f.Plan.Stages[i].Name)
		}
	}
	name := mend.Capital(f.Plan.LineTitle(line))
	text := fmt.Sprintf("%s reads %s where %s is due. Put it right first", name, l.says(), l.due())
	if !l.bad() {
		text = fmt.Sprintf("%s carries a ripple of %s. Put it right first", name, l.Ripple)
	}
	if len(fed) == 0 {
		return text + "."
	}
	return fmt.Sprintf("%s: %s cannot be judged before.", text, strings.Join(fed, ", "))
}
