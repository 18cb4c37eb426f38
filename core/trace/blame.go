package trace

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// A rail or a control that reads bad is at fault before the stages that hang on it. It is read once
// more before it is believed.

// supply: no stage explains the readings by itself, but a rail does.
func (f *suspicion) supply() Conclusion {
	k := Conclusion{
		State:    Supply,
		Headline: fmt.Sprintf("No one stage explains this, but %s does.", strings.Join(f.Plan.BlockTitles(f.left), " or ")),
		Reasons:  []string{"What fails together is fed together; what still works is fed otherwise."},
	}
	for _, line := range f.linesToRead() {
		k.Grounds = append(k.Grounds, f.lineGround(line))
	}
	if top := f.badLine(); top != sheet.None && len(k.Grounds) == 0 {
		return f.blameAlone(k, top)
	}
	return k
}

// linesToRead lists the lines that are left and nobody has read, the one first that parts them best: where it
// is good so is what it is made from, where it is not it or what it is made from is at fault.
func (f *suspicion) linesToRead() []int {
	var out []int
	total := 0.0
	for line := range f.lines {
		if f.left[len(f.Plan.Stages)+line] && f.line(line).unread() {
			out = append(out, line)
			total += f.believed[len(f.Plan.Stages)+line]
		}
	}
	uneven := func(line int) float64 {
		sum := 0.0
		for _, up := range f.Plan.Feeds(line) {
			if slices.Contains(out, up) {
				sum += f.believed[len(f.Plan.Stages)+up]
			}
		}
		return math.Abs(2*sum - total)
	}
	if len(out) > 1 {
		best := slices.MinFunc(out, func(a, b int) int { return cmp.Compare(uneven(a), uneven(b)) })
		out = slices.Insert(slices.DeleteFunc(out, func(x int) bool { return x == best }), 0, best)
	}
	return out
}

// firstBadLine is the first rail or control that was read bad, whatever it explains; sheet.None where
// there is none.
func (f *finder) firstBadLine() int {
	for line := range f.Plan.Lines() {
		if f.line(line).bad() {
			return line
		}
	}
	return sheet.None
}

// odd: a line reads bad, and yet the signal passes what hangs on it.
func (f *suspicion) odd(line int) Conclusion {
	k := Conclusion{State: Supply}
	if f.askLineAgain(&k, line) {
		k.because("And yet the signal is good from end to end.")
		return k
	}
	k.Line = f.line(line).Name
	k.Headline = fmt.Sprintf("%s is not right, though the signal passes: it reads %s where %s is due.",
		f.lineTitle(line), f.line(line).says(), f.line(line).due())
	return k
}

// badLine is the line that is left and was read bad, the one furthest up of
// several; sheet.None where there is none.
func (f *suspicion) badLine() int {
	top := sheet.None
	for line := range f.Plan.Lines() {
		if f.left[len(f.Plan.Stages)+line] && f.line(line).bad() && (top == sheet.None || slices.Contains(f.Plan.Feeds(top), line)) {
			top = line
		}
	}
	return top
}

// blameAlone: a line explains all, and no one stage that hangs on it has to be named.
func (f *suspicion) blameAlone(k Conclusion, line int) Conclusion {
	k.State, k.Stage, k.Condemned = Supply, "", false
	if top, asked := f.furthestUp(&k, line); !asked {
		k.Line = f.line(top).Name
		k.Headline = fmt.Sprintf("%s is at fault: what hangs on it fails together.", f.lineTitle(top))
	}
	return k
}

// linesAlone: the set has no way for a signal on its sheet. Its rails and controls are
// read in turn, and the one furthest up that is bad is at fault.
func (f *suspicion) linesAlone() Conclusion {
	if line := f.firstBadLine(); line != sheet.None {
		k := Conclusion{
			Headline: fmt.Sprintf("%s reads %s where %s is due.", f.lineTitle(line), f.line(line).says(), f.line(line).due()),
		}
		return f.blameLine(k, line, "")
	}
	if wanted := f.linesUnread(); len(wanted) > 0 {
		return Conclusion{
			State:    Tracing,
			Headline: fmt.Sprintf("%s of the %d supplies and controls have been read.", count(len(f.lines)-len(wanted)), len(f.lines)),
			Next:     f.situation().ProposeLine(wanted[0], "the sheet shows no way for a signal: supplies and controls in turn"),
		}
	}
	return Conclusion{
		State:    Clean,
		Headline: "Every supply and control of this set reads good.",
		Reasons:  []string{"The sheet shows no way for a signal. Add the stages that these feed, or finish here."},
	}
}

// count writes how many of something, in words where there are none.
func count(n int) string {
	if n == 0 {
		return "None"
	}
	return strconv.Itoa(n)
}

// lineTitle begins a sentence with a line: "Rail +24 V".
func (f *finder) lineTitle(line int) string { return mend.Capital(f.Plan.LineTitle(line)) }

// furthestUp finds the line furthest up that is bad, of one that reads bad and those it is made from. Asked: one
// of them has to be read first, or once more, and the conclusion says so.
func (f *suspicion) furthestUp(k *Conclusion, line int) (top int, asked bool) {
	top = line
	for _, up := range f.Plan.Feeds(line)[1:] {
		l := f.line(up)
		if l.Read == "" || f.line(top).byRipple() && l.rippleWanted() {
			k.Headline = fmt.Sprintf("%s is bad: read %s, which it is made from.", f.lineTitle(top), l.Name)
			first := f.lineGround(up)
			rest := slices.DeleteFunc(k.Grounds, func(g Ground) bool { return g.Key == first.Key }) // the stage may need it too
			k.Grounds = append([]Ground{first}, rest...)
			return top, true
		}
		if !l.bad() {
			if f.askLineAgain(k, up) {
				return top, true
			}
			break
		}
		top = up
	}
	if top < len(f.Plan.Rails) && f.askSignal(k, top) {
		return top, true
	}
	return top, f.askLineAgain(k, top)
}

// keepGoing says what to do where a rail and what makes its signal may each want for the other.
func (k *Conclusion) keepGoing(rail *sheet.PlanRail) {
	k.Headline = fmt.Sprintf("%s and what it is made from keep one another going: nothing read in the set parts them.", rail.Name)
	k.because("Feed %s from a bench supply, limited in current, at the %s that are due, and see whether the rest runs then.",
		rail.Name, rail.Due())
}

// makersLeft tells whether a stage that makes the signal of a line, or of one that it is made from, may be at fault.
func (f *suspicion) makersLeft(line int) bool {
	made := f.Plan.LinePaths(line).Any
	for k := range f.Plan.Stages {
		if made[k] && f.left[k] {
			return true
		}
	}
	return false
}

// askSignal asks for the signal that a bad rail is made from, where what makes it was not shown good; and once more
// where the rail is not likely enough by a single reading of it.
func (f *suspicion) askSignal(k *Conclusion, line int) bool {
	rail := &f.Plan.Rails[line]
	if rail.Signal < 0 {
		return false
	}
	unsure := f.makersLeft(line)
	g := f.neededGround(rail.Signal)
	once := slices.ContainsFunc(f.evidence, func(j *reading.Judged) bool { return j.Reading.Point == g.Point && j.Times < 2 })
	switch {
	case unsure && g.Proof == Against: // what should make it may want for the rail
		k.keepGoing(rail)
		k.Grounds = nil
		return true
	case unsure && g.Proof == Lacking:
		g.Text = fmt.Sprintf("The signal that %s is made from, at %s, is good", rail.Name, g.Point)
		k.Headline = fmt.Sprintf("%s is bad: read the signal at %s, which it is made from.", f.lineTitle(line), g.Point)
	case once && g.Proof == Shown && f.line(line).times >= 2 && f.believed[len(f.Plan.Stages)+line] < likely:
		g.Key, g.Proof, g.Because = Again+g.Point, Lacking, ""
		g.Text = fmt.Sprintf("A second reading of %s, which %s is made from, agrees", g.Point, rail.Name)
		k.Headline = fmt.Sprintf(
			"%s reads %s. Read %s, which it is made from, once more.",
			f.lineTitle(line),
			f.line(line).says(),
			g.Point,
		)
	default:
		return false
	}
	k.Grounds = append([]Ground{g}, slices.DeleteFunc(k.Grounds, func(x Ground) bool { return x.Key == g.Key })...)
	return true
}

// blameLine: a line of the named stage was read bad, so the stage may be good. At
// fault is the line furthest up that is bad, once what it is made from was read. No
// stage is named where the line was read for itself.
func (f *suspicion) blameLine(k Conclusion, line int, stage string) Conclusion {
	k.State, k.Stage, k.Condemned = Supply, "", false
	top, asked := f.furthestUp(&k, line)
	if asked {
		return k
	}
	k.Line = f.line(top).Name
	k.Headline = fmt.Sprintf("%s is at fault.", f.lineTitle(top))
	if stage != "" {
		k.Headline = fmt.Sprintf("%s is at fault: %s has no %s to work with.", f.lineTitle(top), stage, f.lineKind(line))
	}
	// What is not known of the stage that hangs on it is not asked for any more.
	k.Grounds = slices.DeleteFunc(k.Grounds, func(g Ground) bool {
		_, line := f.Plan.LineIndex(g.Point)
		return g.Proof == Lacking && !line
	})
	if top >= len(f.Plan.Rails) && f.Plan.Controls[top-len(f.Plan.Rails)].From == "" {
		k.because("Nothing on the sheet drives it, so the trace ends here: find what does, and add it to the sheet.")
	}
	return k
}

// askLineAgain asks for another reading of a line that decides: for a second, and of a bad one that is not likely
// enough then, for a third; false where it was read often enough.
func (f *suspicion) askLineAgain(k *Conclusion, line int) bool {
	l := f.line(line)
	worked := !l.Verdict.Bad() && l.Moving.Bad()
	times, which := l.times, "second"
	switch {
	case worked:
		times = l.movedTimes
	case l.byRipple():
		times = l.rippleTimes
	}
	if times >= 2 {
		which = "third"
	}
	if times >= enough || times >= 2 && (!l.bad() || f.believed[len(f.Plan.Stages)+line] >= likely) {
		return false
	}
	k.Headline = fmt.Sprintf("%s reads %s. Read it once more before anything is done about it.", f.lineTitle(line), l.says())
	g := f.lineGround(line)
	g.Key, g.Proof, g.Because = Again+l.Name, Lacking, ""
	g.Text, g.Worked = fmt.Sprintf("A %s reading of %s agrees", which, l.Name), worked
	switch {
	case worked:
		g.Text += ", with " + l.By
	case l.byRipple():
		g.Text = fmt.Sprintf("A %s reading of the ripple of %s agrees", which, l.Name)
	}
	k.Grounds = append([]Ground{g}, k.Grounds...)
	return true
}
