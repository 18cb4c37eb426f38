package trace

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// What follows from what was tried again after a repair.

// verified tells whether tracing goes on in this round, or what was wrong is tried
// first; then it says so.
func (f *suspicion) verified(dues []due) (k Conclusion, ok bool) {
	if f.Round == 0 || len(f.bad()) > 0 || f.firstBadLine() != sheet.None ||
		slices.ContainsFunc(f.provocations(), func(j *reading.Judged) bool { return j.Verdict == reading.Intermittent }) {
		return k, false
	}
	missing := sheet.None
	shown := 0
	for i := range dues {
		switch d := &dues[i]; {
		case d.Proof == Against:
			return f.stillWrong(d), true
		case d.Proof != Lacking:
			shown++
		case missing == sheet.None:
			missing = i
		}
	}
	if missing == sheet.None {
		k = Conclusion{State: Repaired, Headline: "Shown repaired: what was wrong is right, and what worked still works."}
		if !slices.ContainsFunc(dues, func(d due) bool { return d.worked }) {
			k.Headline = "Shown repaired: what was wrong is right again."
		}
		return k, true
	}
	return Conclusion{
		State:    Verifying,
		Headline: fmt.Sprintf("After %s: %d of %d shown.", f.repairedBlocks(), shown, len(dues)),
		Next:     f.proposeDue(&dues[missing]),
	}, true
}

// stillWrong: something beside the signal's way is not right yet.
func (f *suspicion) stillWrong(d *due) Conclusion {
	k := Conclusion{State: Verifying, Headline: fmt.Sprintf("Not right yet: %s.", d.Because)}
	var near []string
	if point, ok := f.Plan.PointIndex(d.Point); ok {
		for i := range f.Plan.Stages {
			if s := &f.Plan.Stages[i]; s.From == point || s.To == point {
				near = append(near, s.Name)
			}
		}
	}
	if len(near) > 0 {
		k.because("It speaks of what meets there: look inside %s.", strings.Join(near, " and "))
	}
	for i := range f.judged {
		if j := &f.judged[i]; !j.Reading.Struck && !j.Superseded && f.shows(d, j) && j.Times < 2 {
			k.Next = f.proposeDue(d)
			k.Next.Purpose = "again"
		}
	}
	return k
}

// proposeDue writes out how something is shown after a repair.
func (f *suspicion) proposeDue(d *due) *planning.Probe {
	why := "it was wrong before the repair"
	switch {
	case d.worked:
		why = "it worked before the repair, and has to still"
	case d.was == nil:
		why = "the complaint itself: what comes out has to be right"
	}
	if d.reach != nil && d.Quantity == sheet.AC {
		p := f.situation().Propose(d.reach, "verify", why)
		if d.was != nil {
			p.Facts = append([]planning.Fact{{Label: "Before", Text: d.was.Understood}}, p.Facts...)
		}
		p.Injected = d.Injected
		return p
	}
	p := &planning.Probe{
		Point:    d.Point,
		At:       -1,
		Quantity: d.Quantity,
		Purpose:  "verify",
		Minutes:  d.minutes,
		Without:  []string{},
		Facts:    []planning.Fact{},
		Worked:   d.Worked,
	}
	if point, ok := f.Plan.PointIndex(d.Point); ok {
		if at, ok := f.Route.At(point); ok {
			p.At = at
		}
	}
	say := func(text, mark string) { p.Sentence = append(p.Sentence, planning.Span{Text: text, Mark: mark}) }
	switch {
	case d.Quantity == sheet.Provocation:
		say(mend.Capital(string(d.was.Reading.Act))+" ", "")
		say(d.Point, "point")
		say(" again: nothing may change any more.", "")
	case d.Safety && f.Power.Live():
		say("Switch off, unplug and discharge; then read ", "")
		say(d.Point, "point")
		say(" in ohms.", "")
	case d.Safety:
		say("Before power goes on, read ", "")
		say(d.Point, "point")
		say(" in ohms, the set off and discharged.", "")
	default:
		say("Read "+strings.ToLower(quantityWords[d.Quantity][:1])+quantityWords[d.Quantity][1:]+" at ", "")
		if line, ok := f.Plan.LineIndex(d.Point); ok {
			p.Sentence = nil
			say("Read "+strings.TrimSuffix(f.Plan.LineTitle(line), d.Point), "")
			say(d.Point, "point")
			if d.Worked {
				say(" with "+f.line(line).By, "")
			}
			say(" and expect ", "")
			say(cmp.Or(map[bool]string{true: f.line(line).Moves, false: f.line(line).Expected}[d.Worked], "what is due"), "value")
		} else {
			say(d.Point, "point")
		}
		say(".", "")
	}
	if d.Safety {
		why = "a short that is still there takes the new fuse and more with it"
		p.Facts = append(
			p.Facts,
			planning.Fact{Label: "Mind", Text: "bring it up slowly afterwards, through a lamp or a limited supply; never a larger fuse"},
		)
	}
	if d.was != nil && d.was.Reading.Act == "" {
		p.Facts = append(p.Facts, planning.Fact{Label: "Before", Text: d.was.Understood})
	}
	p.Facts = append(p.Facts, planning.Fact{Label: "Why here", Text: why})
	return p
}

// BeforePower lists what has to be read before power is applied again after a repair:
// where there was a short, or a fuse had gone.
func (c Case) BeforePower(readings []reading.Reading) []string {
	f := c.begin(readings)
	out := []string{}
	for _, g := range groundsOf((&suspicion{finder: f}).verification()) {
		if g.Safety && (g.Proof == Lacking || g.Proof == Against) {
			out = append(out, g.Text)
		}
	}
	return out
}
