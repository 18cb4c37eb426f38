package training

import (
	"slices"

	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// How one stands with cases, by what was wrong and by the steps of the work: worked out when a case ends, and kept with it.

// Phase is a step of the work as it is judged.
type Phase string

// The steps, in the order of the work.
const (
	Outside   Phase = "trying it from outside"
	Safely    Phase = "working safely"
	Supplying Phase = "reading its supplies"
	Tracing   Phase = "tracing the signal"
	ReadingIt Phase = "reading the instruments"
	Condemned Phase = "condemning what failed"
)

// Phases lists them.
var Phases = []Phase{Outside, Safely, Supplying, Tracing, ReadingIt, Condemned}

// Came is what working on a case came to, and which steps that were taken at all were taken well.
type Came struct {
	Found   bool           `json:"found"`
	Minutes float64        `json:"minutes"`
	Best    float64        `json:"best"` // of the program's own readings
	Well    map[Phase]bool `json:"well"`
}

// mostLost is how many minutes may be lost by a step that is taken well, beyond what the best readings would have taken.
const mostLost = 2.0

// Came sums a review up.
func (c *Case) Came(plan *sheet.Plan, j *job.Job, r *Review) *Came {
	out := &Came{Found: !slices.Contains(r.Found, false), Minutes: r.Minutes, Best: r.BestMinutes, Well: map[Phase]bool{
		Safely:    len(r.Stopped) == 0,
		Condemned: len(r.Done) > 0, // else it was left as it was
	}}
	lost := map[Phase]float64{}
	misread := func(t Taken) bool { return t.Was != "" }
	for i, t := range r.Taken {
		lost[phaseOf(plan, &j.Readings[i].Reading)] += t.Lost
	}
	for step, minutes := range lost {
		out.Well[step] = minutes <= mostLost
	}
	if len(r.Taken) > 0 {
		out.Well[ReadingIt] = !slices.ContainsFunc(r.Taken, misread)
	}
	for _, d := range r.Done {
		if !d.Right && !d.Worn || len(d.Missing) > 0 {
			out.Well[Condemned] = false
		}
	}
	return out
}

// phaseOf is the step that a reading is part of.
func phaseOf(plan *sheet.Plan, r *reading.Reading) Phase {
	if tried(plan, r) {
		return Outside
	}
	if _, line := plan.LineIndex(r.Point); line || len(plan.FuseRails(r.Point)) > 0 {
		return Supplying
	}
	return Tracing
}

// Stand is how one stands with a kind of fault: a case is right where all that was wrong was put right. Minutes are the clock's, Best those
// of the program's own readings, over all of them.
type Stand struct {
	Kind Kind `json:"kind"`
	Tally
	Minutes float64 `json:"minutes"`
	Best    float64 `json:"best"`
}

// PhaseStand is how one stands with a step: it is taken well where next to nothing was lost by it.
type PhaseStand struct {
	Phase Phase `json:"phase"`
	Tally
}

// Ended is a case that has ended.
type Ended struct {
	Kind Kind
	Came *Came
}

// Stands tells how one stands with each kind of fault that was worked, by the cases that have ended, in order.
func Stands(all []Ended) []Stand {
	out := []Stand{}
	for _, kind := range Kinds {
		s := Stand{Kind: kind, Tally: tally(len(all), func(i int) (is, right bool) { return all[i].Kind == kind, all[i].Came.Found })}
		for _, e := range all {
			if e.Kind == kind {
				s.Minutes, s.Best = s.Minutes+e.Came.Minutes, s.Best+e.Came.Best
			}
		}
		if s.Of > 0 {
			out = append(out, s)
		}
	}
	return out
}

// ByPhase tells how one stands with each step.
func ByPhase(all []Ended) []PhaseStand {
	out := []PhaseStand{}
	for _, p := range Phases {
		s := PhaseStand{p, tally(len(all), func(i int) (is, right bool) {
			well, is := all[i].Came.Well[p]
			return is, well
		})}
		if s.Of > 0 {
			out = append(out, s)
		}
	}
	return out
}

// ComesAgain is the kind of fault that a level's next case has, where none is asked for: one that was missed and is due again, by the rule
// of quick ones; empty: any.
func ComesAgain(stands []Stand, level Level) Kind {
	var best *Stand
	for i := range stands {
		s := &stands[i]
		if s.Running == 0 && s.Due == 0 && slices.Contains(ofLevel[level], s.Kind) && (best == nil || s.before(&best.Tally)) {
			best = s
		}
	}
	if best == nil {
		return ""
	}
	return best.Kind
}
