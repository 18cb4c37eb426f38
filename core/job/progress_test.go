package job

import (
	"fmt"
	"testing"
	"time"

	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/trace"
)

// How far a job has come follows from what was noted, step by step through the work.
func TestProgressFollowsTheWork(t *testing.T) {
	p := plan(t)
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	j := &Job{Opened: at}
	expect := func(what string, findings *trace.Findings, done, next string) {
		t.Helper()
		gotDone, gotNext := j.Progress(p, findings)
		if fmt.Sprint(gotDone) != done || gotNext != next {
			t.Errorf("%s: done %v, next %q; want %s, %q", what, gotDone, gotNext, done, next)
		}
	}
	expect("just opened", nil, "[]", "intake")
	j.Intake = intake.Notes{{Field: "works", Text: "lamps"}}
	expect("noted", nil, "[intake]", "safe")
	j.Safety = append(j.Safety, safety.Event{Kind: safety.Off})
	for _, c := range safety.Cautions(p) {
		j.Safety = append(j.Safety, safety.Event{Kind: safety.Ticked, Subject: c.Key})
	}
	expect("made safe", nil, "[intake safe]", "open")
	j.Readings = []Logged{{Reading: reading.Reading{Point: "+9 V", Quantity: sheet.DC, SI: 9, Taken: at}}}
	expect("supplies read, never opened", nil, "[intake safe supplies]", "bench")
	j.Readings = append(j.Readings, Logged{Reading: reading.Reading{Point: "B", Quantity: sheet.AC, Word: "none", Taken: at}})
	expect("heard", nil, "[intake safe supplies]", "bench")
	j.Safety = nil
	j.Readings[1].Word, j.Readings[1].SI = quantity.NoWord, 0.1
	j.Readings = j.Readings[1:]
	expect("probed before all that", nil, "[intake]", "bench")
	named := &trace.Findings{Conclusion: trace.Conclusion{State: trace.Named}}
	expect("a stage is named", named, "[intake bench]", "inside")
	j.Inside = []inside.Entry{{At: at, Condemned: &inside.Condemned{Part: "C1"}}}
	expect("a part is condemned", named, "[intake inside]", "bench")
	j.Repairs = []repair.Entry{{At: at, Repair: &repair.Repair{Did: repair.Replaced}}}
	expect("repaired", nil, "[intake inside]", "bench")
	j.Finished = &at
	expect("finished", nil, "[intake bench inside]", "")
}

// Gaps up to 25 minutes are work; after a longer one it begins anew, with five minutes; a soak's own events are none.
func TestWorkedIsReckonedByTheEntries(t *testing.T) {
	at := func(minute int) time.Time { return time.Date(2026, 10, 5, 9, minute, 0, 0, time.UTC) }
	j := Job{
		Intake:   intake.Notes{{ID: "a", At: at(0)}, {ID: "b", At: at(10)}},
		Readings: []Logged{{Reading: reading.Reading{ID: "c", Taken: at(35)}}, {Reading: reading.Reading{ID: "d", Taken: at(61)}}},
		Soaks:    []soak.Entry{{ID: "e", At: at(70), Event: &soak.Event{}}},
	}
	if got, want := j.Worked(), (5+10+25+5)*time.Minute; got != want {
		t.Errorf("%v, want %v", got, want)
	}
	if got := (&Job{}).Worked(); got != 0 {
		t.Errorf("of nothing %v", got)
	}
}
