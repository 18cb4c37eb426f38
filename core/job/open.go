package job

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/adjust"
	"steptrace/core/closing"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/stripdown"
	"steptrace/core/trace"
	"steptrace/core/wait"
	"steptrace/core/worth"
)

// Open is something that should be settled before a set goes back. View is where that is
// done: the view's name, and behind a / a part of it; Waived the word it is done without by.
type Open struct {
	Key    string `json:"key"`
	Text   string `json:"text"`
	View   string `json:"view"`
	Waived string `json:"waived"`
}

// StillOpen lists it: how the set stands, what is not back together, what is not shown
// repaired, what was put in for a while, what is condemned and not renewed. Findings are
// nil where nothing could be traced.
func (j *Job) StillOpen(plan *sheet.Plan, findings *trace.Findings) []Open {
	out := []Open{}
	add := func(key, view, format string, args ...any) {
		out = append(out, Open{Key: key, View: view, Text: fmt.Sprintf(format, args...)})
	}
	switch power := j.Power(plan); {
	case power.State == safety.Live || power.State == safety.InStandby:
		add("power", "safe", "The set is on: switch it off and unplug it")
	case power.State == safety.OffState && len(plan.Reservoirs) > 0:
		add("power", "safe", "%s", strings.TrimSuffix(power.Says, "."))
	}
	if back := stripdown.Reassemble(j.Steps, j.Returns); slices.ContainsFunc(back.Steps, func(b stripdown.Back) bool { return !b.Done }) {
		add("strip", "open", "%s", strings.TrimSuffix(back.Says, "."))
	}
	leaves, _ := j.Leaves()
	if findings != nil && !leaves {
		j.notShown(findings, add)
	}
	for _, e := range repair.In(j.Repairs) {
		add("in "+e.ID, "bench", "Still in: %s", e.Temporary.Says())
	}
	for _, name := range j.liftedLast() {
		add("lifted "+name, "bench", "%s was lifted, bridged or swapped for the last reading: is it back?", name)
	}
	for _, c := range j.condemnedParts() {
		if leaves {
			break // what is known to be bad stays so
		}
		add("part "+c[0]+" "+c[1], "inside", "%s in %s is condemned and not replaced", c[1], c[0])
	}
	j.notProved(plan, add)
	j.notClosed(plan, add)
	for _, e := range j.WaitsFor() {
		add("wait "+e.ID, "waiting", "Still waited for, %s: %s", e.Wait.For, e.Wait.What)
	}
	for i := range out {
		for _, e := range j.Repairs {
			if w := e.Without; w != nil && !e.Struck && w.Key == out[i].Key {
				out[i].Waived = w.Why
			}
		}
	}
	return out
}

// WaitsFor is what the job waits for: what was noted of that, and the owner's answer where he was asked.
func (j *Job) WaitsFor() []wait.Entry {
	out := wait.Standing(j.Waits)
	if e := worth.Waits(j.Worthing); e != nil && j.Finished == nil {
		out = append(out, *e)
	}
	return out
}

// notProved: a soak is under way, an adjustment was begun and not left, the set's own menu stands otherwise than it was found.
func (j *Job) notProved(plan *sheet.Plan, add func(key, view, format string, args ...any)) {
	if e, running := soak.Running(j.Soaks); running {
		add("soak "+e.ID, "prove", "A soak is under way")
	}
	for _, a := range adjust.Look(plan, j.Adjusting, adjust.Now{Repaired: j.Repaired()}) {
		switch a.State {
		case adjust.Begun:
			add("adjust "+a.Name, "adjust", "%s was turned to and not left: %s", a.Name, strings.TrimSuffix(a.Says, "."))
		case adjust.Again:
			add("adjust "+a.Name, "adjust", "%s was set before what moves it, or before the repair", a.Name)
		}
	}
	for _, k := range adjust.Menu(j.Adjusting) {
		if k.Moved {
			add("menu "+k.Of+k.Item, "adjust", "%s in the set's menu stands at %s, found at %s", k.Item, k.Now, k.Found)
		}
	}
}

// Closes tells how the closing measurements of the set stand.
func (j *Job) Closes(plan *sheet.Plan) []closing.Standing {
	now := closing.Now{Repaired: j.Repaired(), Adjusting: j.Adjusting}
	if c, ok := j.Case(plan); ok {
		now.Tried = c.Tried(j.Plain(plan))
	}
	return closing.Look(plan, j.Closing, now)
}

// notClosed: a closing measurement is not as it should be, or some were made since the repair, and others not.
func (j *Job) notClosed(plan *sheet.Plan, add func(key, view, format string, args ...any)) {
	repaired := j.Repaired()
	begun := slices.ContainsFunc(j.Closing, func(e closing.Entry) bool { return !e.Struck && !e.At.Before(repaired) })
	if !begun {
		return
	}
	var open []string
	for _, s := range j.Closes(plan) {
		switch s.State {
		case closing.Open:
			open = append(open, s.Name)
		case closing.Off:
			add("closing "+s.Name, "prove/closing", "%s", s.Wrong())
		case closing.Noted:
			add("closing "+s.Name, "prove/closing", "%s was read, and nobody has said whether it is good", s.Name)
		}
	}
	const few = 3
	switch n := len(open); {
	case n > few:
		add("closing", "prove/closing", "Closing measurements not made: %s, and %d more", strings.Join(open[:few], "; "), n-few)
	case n > 0:
		add("closing", "prove/closing", "Closing measurements not made: %s", strings.Join(open, "; "))
	}
}

// notShown: what was wrong is not shown right, or nothing was repaired.
func (j *Job) notShown(f *trace.Findings, add func(key, view, format string, args ...any)) {
	rounds := j.Rounds()
	if len(rounds) == 0 {
		for i := range f.Readings {
			if r := &f.Readings[i]; !r.Reading.Struck && !r.Superseded && r.Verdict.Bad() {
				add("no repair", "bench", "No repair is noted, and %s was found wrong", r.Reading.Point)
				return
			}
		}
		return
	}
	var texts []string
	for _, g := range f.Verify {
		if g.Proof == trace.Lacking || g.Proof == trace.Against {
			texts = append(texts, g.Text)
		}
	}
	switch {
	case len(texts) > 1:
		add(fmt.Sprintf("round %d", len(rounds)), "bench", "Not shown repaired: %s, and %d more", texts[0], len(texts)-1)
	case len(texts) == 1:
		add(fmt.Sprintf("round %d", len(rounds)), "bench", "Not shown repaired: %s", texts[0])
	case f.State != trace.Repaired:
		add(fmt.Sprintf("round %d", len(rounds)), "bench", "Not shown repaired: %s", strings.TrimSuffix(f.Headline, "."))
	}
}

// liftedLast names what was out for the last reading, and was not noted as back since.
func (j *Job) liftedLast() []string {
	for i := len(j.Readings) - 1; i >= 0; i-- {
		r := &j.Readings[i]
		if r.Struck {
			continue
		}
		return slices.DeleteFunc(slices.Clone(r.Without), func(name string) bool {
			return slices.ContainsFunc(j.Repairs, func(e repair.Entry) bool {
				back := e.Removed != nil && e.Removed.Subject == name && e.At.After(r.Taken)
				in := e.Temporary != nil && e.Temporary.Subject == name // is told by itself
				return !e.Struck && (back || in)
			})
		})
	}
	return nil
}

// condemnedParts are stage and part of what is condemned and was renewed in no repair.
func (j *Job) condemnedParts() [][2]string {
	var out [][2]string
	for _, e := range j.Inside {
		if e.Condemned == nil || e.Struck {
			continue
		}
		x := [2]string{e.Stage, e.Condemned.Part}
		if !j.renewed(x[0], x[1]) && !slices.Contains(out, x) {
			out = append(out, x)
		}
	}
	return out
}

// renewed tells whether a part of a stage was renewed in a repair, or in one of no stage; without a stage in any.
func (j *Job) renewed(stage, part string) bool {
	return slices.ContainsFunc(j.Repairs, func(r repair.Entry) bool {
		return r.Repair != nil && !r.Struck && (stage == "" || r.Repair.Stage == stage || r.Repair.Stage == "") &&
			slices.ContainsFunc(r.Repair.Parts, func(p repair.Part) bool { return p.Name == part })
	})
}
