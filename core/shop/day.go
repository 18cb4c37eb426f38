package shop

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"steptrace/core/wait"
)

// Standing is how a job stands as far as the day goes: for which day it was promised (2026-12-12; empty: none), what it waits
// for, the soak that runs, and whether it is finished and not fetched yet, from where.
type Standing struct {
	Number   int
	Set      string
	Promised string
	Waits    []wait.Entry
	Soak     *Running
	Ready    bool
	Place    string
	// Near tells that what is spent comes near what the owner allows; Passed, that it is above.
	Near   string
	Passed bool
}

// Running is a soak under way: what is left of it (s), whether something is wrong, and what is said of it.
type Running struct {
	Left float64
	Bad  bool
	Says string
}

// Line is something that may not be forgotten today. Late: it should have been before, or is wrong now.
type Line struct {
	Number int    `json:"number"`
	Set    string `json:"set"`
	What   string `json:"what" jsonschema:"enum=promised,enum=waits,enum=soak,enum=ready,enum=limit"`
	Text   string `json:"text"`
	Late   bool   `json:"late"`
}

// The order of the day: what is late, what is today, what runs, what stands ready, what comes tomorrow.
const (
	isLate = iota
	isToday
	runs
	ready
	tomorrow
)

// Day is what to think of today, the most pressing first: sets that were promised for today or before, or for tomorrow; what is
// waited for and is due; soaks that run; what comes near its owner's limit; sets that stand ready to be fetched.
func Day(all []Standing, now time.Time) []Line {
	type ranked struct {
		Line
		rank, late int
	}
	var lines []ranked
	for i := range all {
		s := &all[i]
		add := func(rank, late int, what, text string) {
			lines = append(lines, ranked{Line{s.Number, s.Set, what, text, rank == isLate}, rank, late})
		}
		if late, ok := wait.Past(s.Promised, now); ok && !s.Ready {
			switch {
			case late > 0:
				add(isLate, late, "promised", "was promised for "+dayOf(s.Promised)+", "+wait.Days(late)+" ago")
			case late == 0:
				add(isToday, 0, "promised", "is promised for today")
			case late == -1:
				add(tomorrow, 0, "promised", "is promised for tomorrow")
			}
		}
		for k := range s.Waits {
			w := &s.Waits[k]
			if w.Wait == nil {
				continue
			}
			if late, ok := wait.Past(w.Wait.Until, now); ok && late > 0 {
				add(isLate, late, "waits", "waits for "+w.Says(now))
			} else if ok && late == 0 {
				add(isToday, 0, "waits", "waits for "+w.Says(now))
			}
		}
		switch {
		case s.Passed:
			add(isLate, 0, "limit", s.Near)
		case s.Near != "":
			add(isToday, 0, "limit", s.Near)
		}
		if r := s.Soak; r != nil {
			rank, text := runs, "soak, "+left(r.Left)+" left: "+r.Says
			if r.Bad {
				rank = isLate
			}
			add(rank, 0, "soak", text)
		}
		if s.Ready {
			text := "ready to be fetched"
			if s.Place != "" {
				text += ", " + s.Place
			}
			add(ready, 0, "ready", text)
		}
	}
	slices.SortStableFunc(lines, func(a, b ranked) int {
		return cmp.Or(a.rank-b.rank, b.late-a.late, a.Number-b.Number)
	})
	out := make([]Line, len(lines))
	for i := range lines {
		out[i] = lines[i].Line
	}
	return out
}

func dayOf(day string) string {
	d, _ := time.Parse(time.DateOnly, day) // it was read before
	return d.Format("2 January")
}

func left(seconds float64) string {
	m := int(max(0, seconds) / 60)
	return fmt.Sprintf("%d:%02d", m/60, m%60)
}
