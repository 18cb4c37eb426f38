package training

import (
	"fmt"
	"time"

	"steptrace/core/entry"
	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
)

// Rehearse gives the entries of a job in which a case of one fault was worked as the program proposes: tried, switched on with all seen to,
// read, put right or left. Besides are points that are read before that, as somebody does who has a hunch.
func (c *Case) Rehearse(plan *sheet.Plan, at time.Time, besides []string, right bool) ([]entry.Entry, error) {
	var p *Path
	if len(c.Best) == 1 && c.Best[0].log != nil { // as it was just drawn
		p = &c.Best[0]
	} else if traced, _, err := c.trace(c.Faults); err == nil {
		p = traced
	} else {
		return nil, err
	}
	n := 0
	next := func() (string, time.Time) {
		n++
		return fmt.Sprint("rehearsed", n), at.Add(time.Duration(n) * time.Second)
	}
	var out []entry.Entry
	happens := func(what safety.What, subject string) {
		id, at := next()
		out = append(out, &safety.Event{ID: id, At: at, Kind: what, Subject: subject})
	}
	reads := func(r reading.Reading) {
		r.ID, r.Taken = next()
		out = append(out, &job.Logged{Reading: r})
	}
	for _, caution := range safety.Cautions(plan) {
		happens(safety.Ticked, caution.Key)
	}
	happens(safety.SwitchedOn, "")
	for _, r := range p.log[:p.tried] {
		reads(r)
	}
	bench, err := c.benchOf(c.Faults)
	if err != nil {
		return nil, err
	}
	t, ok := (&job.Job{}).Case(plan)
	if !ok {
		return nil, fmt.Errorf("the manual of %s cannot be traced by", c.From)
	}
	t.Power = reading.PowerOn
	for _, point := range besides {
		aim := reading.Aim{Point: point, Quantity: sheet.AC}
		text, err := bench.Answer(t, Reads{Aim: aim})
		if err != nil {
			return nil, err
		}
		r, err := t.Take(aim, text)
		if err != nil {
			return nil, err
		}
		reads(r)
	}
	for _, r := range p.log[p.tried:] {
		reads(r)
	}
	if !right {
		return out, nil
	}
	happens(safety.Off, "")
	fault := c.Faults[0]
	done := &repair.Repair{Did: repair.Replaced, Stage: fault.Block}
	if fault.Part != "" {
		done.Parts = []repair.Part{{Name: fault.Part, Found: repair.Bad}}
	}
	id, when := next()
	out = append(out, &repair.Entry{ID: id, At: when, Repair: done})
	happens(safety.SwitchedOn, "")
	return out, nil
}
