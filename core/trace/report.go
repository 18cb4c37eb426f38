package trace

import (
	"fmt"
	"slices"

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

// points tells of every point of the route.
func (f *suspicion) points() []PointFinding {
	choice := len(f.suspects) > 1 && !f.fleeting() // else a good reading leaves them all, some less likely
	points := make([]PointFinding, len(f.Route.Points))
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
			out.ExpectedDBV, out.Twin, tolerance = exchange.Finite(dbv), twin, sheet.TwinLevels
			l.Source = sheet.FromGood
		}
		if out.ExpectedDBV != nil {
			out.Expected, out.Source = l.TextAt(*out.ExpectedDBV), l.Source
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
		if choice {
			out.IfGood, out.IfBad = f.situation().WhatIf(i)
		}
		points[i] = out
	}
	return points
}

// stages tells of every stage of the route. Logs weigh all blocks by all the evidence.
func (f *suspicion) stages(state State, logs [][effects]float64) []StageFinding {
	stages := make([]StageFinding, len(f.Route.Stages))
	speaks := f.speaks(logs)
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
			if state == Named {
				out.Standing = Faulty
			}
			out.Reasons = f.suspectReasons(i)
			out.Speaks = append(out.Speaks, speaks[k]...)
		default:
			if j := f.clearedAt(i); j != nil {
				out.Standing = Cleared
				out.Reasons = append(out.Reasons, j.Told()+".")
			} else {
				out.Reasons = append(out.Reasons, asideReason(state))
			}
		}
		stages[i] = out
	}
	return stages
}

// asideReason says why nothing speaks against a stage that is not shown good either.
func asideReason(state State) string {
	if state == Verifying || state == Repaired {
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
