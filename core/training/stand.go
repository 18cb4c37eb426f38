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

// Came is what working on a case came to. Lost are the minutes that were lost by a step, where it was taken at all; of steps that have no
// minutes, how often it went wrong.
type Came struct {
	Found   bool              `json:"found"`
	Minutes float64           `json:"minutes"`
	Best    float64           `json:"best"` // of the program's own readings
	Lost    map[Phase]float64 `json:"lost"`
}

// mostLost is how many minutes may be lost by a step that is taken well.
const mostLost = 2.0

// Came sums a review up.
func (c *Case) Came(plan *sheet.Plan, j *job.Job, r *Review) *Came {
	out := &Came{Found: !slices.Contains(r.Found, false), Minutes: r.Minutes, Best: r.BestMinutes, Lost: map[Phase]float64{}}
	out.Lost[Safely] = mostLost * 2 * float64(len(r.Stopped))
	for i, t := range r.Taken {
		if _, there := out.Lost[ReadingIt]; !there {
			out.Lost[ReadingIt] = 0
		}
		if t.Was != "" {
			out.Lost[ReadingIt] += 2 * mostLost
		}
		out.Lost[phaseOf(plan, &j.Readings[i].Reading)] += t.Lost
	}
	for _, d := range r.Done {
		out.Lost[Condemned] += 0
		if !d.Right && !d.Worn || len(d.Missing) > 0 {
			out.Lost[Condemned] += 2 * mostLost
		}
	}
	if len(r.Done) == 0 {
		out.Lost[Condemned] = 2 * mostLost // it was left as it was
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
			lost, is := all[i].Came.Lost[p]
			return is, lost <= mostLost
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
