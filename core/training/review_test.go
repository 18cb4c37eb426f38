package training_test

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
	"steptrace/core/standin"
	"steptrace/core/trace"
	"steptrace/core/training"
)

// chained is a case of eight equal stages in a row, the fault in the sixth, and its plan.
func chained(t *testing.T) (*training.Case, *sheet.Plan) {
	t.Helper()
	s := sheettest.Chain(8, "0 dB")
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return &training.Case{Level: training.First, Manual: s, Faults: []training.Fault{{Block: "s5", Effect: standin.Dead}}}, plan
}

// worker works on a case by the bench's own answers.
type worker struct {
	t     *testing.T
	c     *training.Case
	plan  *sheet.Plan
	j     job.Job
	clock time.Time
}

func (w *worker) now() time.Time { w.clock = w.clock.Add(time.Second); return w.clock }

func (w *worker) read(point string) {
	w.t.Helper()
	set, good, err := w.c.Set(w.plan, w.c.Left(w.j.Repairs))
	if err != nil {
		w.t.Fatal(err)
	}
	c, _ := w.j.Case(w.plan)
	b := &training.Bench{Plan: w.plan, Set: set, Good: good}
	text, err := b.Answer(c, training.Reads{Aim: reading.Aim{Point: point}})
	if err != nil {
		w.t.Fatal(err)
	}
	r, err := c.Take(reading.Aim{Point: point}, text)
	if err != nil {
		w.t.Fatal(err)
	}
	r.ID, r.Taken = point+w.clock.String(), w.now()
	w.j.Readings = append(w.j.Readings, job.Logged{Reading: r})
}

func (w *worker) replace(stage string) {
	w.j.Repairs = append(w.j.Repairs, repair.Entry{ID: stage, At: w.now(), Repair: &repair.Repair{Did: repair.Replaced, Stage: stage}})
}

func begun(t *testing.T) *worker {
	c, plan := chained(t)
	return &worker{t: t, c: c, plan: plan, clock: time.Unix(1e9, 0), j: job.Job{
		Safety: []safety.Event{{ID: "on", Kind: safety.SwitchedOn, At: time.Unix(1e9, 0)}},
	}}
}

// Eight equal stages are halved: whoever does that loses nothing, and puts it right on all grounds. Whoever goes from the front loses
// minutes by it, most with the first step; a reading behind what is known dead tells nothing; who condemns at once is told what was not
// shown. The minutes are those of a sum by hand.
func TestReviewSaysWhatEachReadingWasWorth(t *testing.T) {
	t.Parallel()
	w := begun(t)
	for _, p := range []string{"p8", "p4", "p6", "p5"} {
		w.read(p)
	}
	w.replace("s5")
	w.read("p8")
	r := w.c.Review(w.plan, &w.j, &training.Progress{})
	if !r.Found[0] || r.Costliest >= 0 || r.Probes != 5 || len(r.Done) != 1 || !r.Done[0].Right {
		t.Errorf("halved: %+v", r)
	}
	for _, x := range r.Taken[:4] {
		if x.Lost > 0.01 {
			t.Errorf("halved, at %s %.2f minutes are lost: %s", x.Point, x.Lost, x.Why)
		}
	}
	// By hand: on 0.2; that nothing comes out 0.5; each point 1 to reach and 1 to read; 5 to open it once, with the first that is inside;
	// the part 12. Nothing is fed in anew, as the sheet has one entry.
	want := 0.2 + 0.5 + 4*2 + 5 + 12.0
	if math.Abs(r.Minutes-want) > 1e-9 {
		t.Errorf("%g minutes, by hand %g", r.Minutes, want)
	}

	w = begun(t)
	for _, p := range []string{"p8", "p1", "p2", "p7"} {
		w.read(p)
	}
	w.replace("s3")
	end := w.now()
	r = w.c.Review(w.plan, &w.j, &training.Progress{Ended: &end, Asked: []training.AskedFor{{At: w.now()}}, Waits: []training.Waited{
		{At: w.now(), Minutes: 15},
	}})
	if r.Found[0] || r.Costliest != 1 || r.Taken[1].Lost < 1 || r.Taken[1].Best == "" || !strings.Contains(r.Taken[1].Best, "p4") {
		t.Errorf("from the front: costliest %d, %+v", r.Costliest, r.Taken)
	}
	if len(r.Done) != 1 || r.Done[0].Right || len(r.Done[0].Missing) == 0 || !strings.Contains(strings.Join(r.Says, " "), "Not found.") {
		t.Errorf("condemned at once: %+v, %q", r.Done, r.Says)
	}
	if want := 0.2 + 0.5 + 3*2 + 5 + 12 + 15 + 3; math.Abs(r.Minutes-want) > 1e-9 || r.Asked != 1 {
		t.Errorf("%g minutes, by hand %g", r.Minutes, want)
	}

	w = begun(t)
	for _, p := range []string{"p8", "p4", "p2"} { // p4 is good: before it nothing is left to be told
		w.read(p)
	}
	r = w.c.Review(w.plan, &w.j, &training.Progress{})
	if last := r.Taken[2]; !last.Nothing || last.Lost < 1.9 {
		t.Errorf("a reading before a good one: %+v", last)
	}
}

// Gone through once more, eight equal stages are halved from reading to reading: 8, 4, 2 and 1 are left, and the point read is the one
// that is shown. While it is worked, the last reading alone is weighed.
func TestATraceIsGoneThroughOnceMore(t *testing.T) {
	t.Parallel()
	w := begun(t)
	left := map[string]int{"p8": 8, "p4": 4, "p6": 2, "p5": 1}
	for _, p := range []string{"p8", "p4", "p6", "p5"} {
		w.read(p)
	}
	for i, r := range w.j.Readings {
		x, ok := training.ReplayOf(w.plan, &w.j, r.ID)
		n := 0
		for _, s := range x.Findings.Stages {
			if s.Standing == trace.Suspect || s.Standing == trace.Faulty {
				n++
			}
		}
		if !ok || n != left[r.Point] || x.Findings.Points[x.At].Name != r.Point || len(x.Findings.Readings) != i+1 {
			t.Errorf("after %s %d are left at %d, with %d readings: %t", r.Point, n, x.At, len(x.Findings.Readings), ok)
		}
	}
	if _, ok := training.ReplayOf(w.plan, &w.j, "none"); ok {
		t.Error("a reading that is not there")
	}
	w = begun(t)
	for _, p := range []string{"p8", "p4", "p2"} { // the last before what is known good
		w.read(p)
	}
	if last, ok := w.c.Step(w.plan, &w.j); !ok || !last.Nothing {
		t.Errorf("the last reading: %+v, %t", last, ok)
	}
}

// What the minutes of the optimum are follows from Bellman's principle; for halving eight equal suspects with equal costs it is the
// closed form: log2 of 8 readings.
func TestBestIsTheClosedFormForEqualStages(t *testing.T) {
	t.Parallel()
	w := begun(t)
	w.read("p8")
	w.read("p4")
	c, _ := w.j.Case(w.plan)
	plain := w.j.Plain(w.plan)
	x, ok := c.Weigh(plain[:1], plain[1])
	if want := 5 + 3*2.0; !ok || math.Abs(x.Best.Total-want) > 1e-9 || math.Abs(x.Taken.Total-want) > 1e-9 ||
		math.Abs(x.Best.Bits-1) > 1e-6 {
		t.Errorf("%+v, %v; three readings and opening it are %g minutes", x, ok, want)
	}
}

// A repair puts right what it is done to: its block, by something that mends it; of a part's fault the part itself.
func TestWhatARepairPutsRight(t *testing.T) {
	t.Parallel()
	block, part := training.Fault{Block: "amp", Effect: standin.Dead}, training.Fault{Block: "amp", Part: "R1", What: "open"}
	lead := training.Fault{Block: "amp", Effect: standin.Miswired}
	for _, x := range []struct {
		fault  training.Fault
		repair repair.Repair
		left   int
	}{
		{block, repair.Repair{Did: repair.Replaced, Stage: "amp"}, 0}, {block, repair.Repair{Did: repair.Resoldered, Stage: "amp"}, 0},
		{block, repair.Repair{Did: repair.Adjusted, Stage: "amp"}, 1}, {block, repair.Repair{Did: repair.Replaced, Stage: "other"}, 1},
		{part, repair.Repair{Did: repair.Replaced, Stage: "amp", Parts: []repair.Part{{Name: "R1"}}}, 0},
		{part, repair.Repair{Did: repair.Replaced, Stage: "amp", Parts: []repair.Part{{Name: "R2"}}}, 1},
		{part, repair.Repair{Did: repair.Replaced, Stage: "amp"}, 1},
		{lead, repair.Repair{Did: repair.PutRight, Stage: "amp"}, 0}, {lead, repair.Repair{Did: repair.Replaced, Stage: "amp"}, 1},
		{block, repair.Repair{Did: repair.PutRight, Stage: "amp"}, 1},
	} {
		c := training.Case{Faults: []training.Fault{x.fault}}
		if got := len(c.Left([]repair.Entry{{Repair: &x.repair}})); got != x.left {
			t.Errorf("%+v after %+v: %d left", x.fault, x.repair, got)
		}
		if got := len(c.Left([]repair.Entry{{Struck: true, Repair: &x.repair}})); got != 1 {
			t.Errorf("%+v after a repair that was struck out: %d left", x.fault, got)
		}
	}
}

// A set is warm once it was on for a quarter of an hour of the clock, and cold when it was off in between.
func TestASetWarmsUpOnTheClock(t *testing.T) {
	t.Parallel()
	_, plan := chained(t)
	at := func(s int) time.Time { return time.Unix(1e9+int64(s), 0) }
	on := safety.Event{Kind: safety.SwitchedOn, At: at(0)}
	for _, x := range []struct {
		safety []safety.Event
		waits  []training.Waited
		warm   bool
	}{
		{[]safety.Event{on}, nil, false},
		{[]safety.Event{on}, []training.Waited{{At: at(1), Minutes: 15}}, true},
		{[]safety.Event{on}, []training.Waited{{At: at(1), Minutes: 10}}, false},
		{nil, []training.Waited{{At: at(1), Minutes: 60}}, false},
		{
			[]safety.Event{on, {Kind: safety.Off, At: at(2)}, {Kind: safety.SwitchedOn, At: at(3)}},
			[]training.Waited{{At: at(1), Minutes: 60}}, false,
		},
	} {
		p := training.Progress{Waits: x.waits}
		if got := p.Clock(plan, &job.Job{Safety: x.safety}).Warm; got != x.warm {
			t.Errorf("%+v, %+v: warm %v", x.safety, x.waits, got)
		}
	}
}

// What is unsafe says what would have happened; what is safe says nothing.
func TestWhatIsUnsafe(t *testing.T) {
	t.Parallel()
	s := sheettest.Chain(3, "20 dB")
	s.Hazards = []sheet.Hazard{{Kind: "mains", Where: "the switch"}, {Kind: "hot chassis"}}
	s.Reservoirs = []sheet.Reservoir{{Name: "C1", Farads: "1000 µF", Volts: "35 V"}}
	s.Rails = append(s.Rails, sheet.Rail{Name: "+30", Value: "30 V"})
	s.Tracks = []sheet.Track{{Rail: "+30", Place: "F1"}, {Rail: "+30", Place: "C1 +", After: "F1"}}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	events := func(kinds ...any) *safety.Power {
		var all []safety.Event
		for _, k := range kinds {
			switch k := k.(type) {
			case safety.What:
				all = append(all, safety.Event{Kind: k})
			case string:
				all = append(all, safety.Event{Kind: safety.Ticked, Subject: k})
			}
		}
		p := safety.Stand(plan, all)
		return &p
	}
	every := []any{safety.SwitchedOn}
	for _, c := range safety.Cautions(plan) {
		every = append(every, c.Key)
	}
	ohms := reading.Aim{Point: "p1", Quantity: sheet.Resistance}
	inside, outside := reading.Aim{Point: "p1"}, reading.Aim{Point: "p3"}
	track := reading.Aim{Point: "+30 @ C1 +"}
	for _, x := range []struct {
		power *safety.Power
		aim   reading.Aim
		touch bool
		says  string
	}{
		{events(safety.SwitchedOn), ohms, false, "fuse"}, {events(safety.Off), ohms, false, "reservoirs"},
		{events(safety.SwitchedOn), inside, false, "mains"}, {events(safety.SwitchedOn, "mains", "reservoir"), inside, false, "earth"},
		{events(every...), inside, false, ""}, {events(safety.SwitchedOn), outside, false, ""}, {events(safety.Off), inside, false, ""},
		{events(every...), outside, true, "through your hand"}, {events(every...), track, false, "met on the copper"},
		{events(safety.Off), track, false, "reservoirs"},
	} {
		c, _ := (&job.Job{}).Case(plan)
		c.Power = x.power.Reading()
		if _, track := plan.PlaceIndex(x.aim.Point); track {
			c.Injected = &reading.Injection{At: "+30 @ F1", Level: 1}
		}
		if x.touch {
			c.Injected = &reading.Injection{At: "p1", Touch: true}
		}
		_, would := training.Unsafe(c, x.power, x.aim)
		if (would == "") != (x.says == "") || !strings.Contains(would, x.says) {
			t.Errorf("%s, %+v: %q, want %q", x.power.State, x.aim, would, x.says)
		}
	}
}

// A kind comes again by the rule that is told: after 1, 3, 9, 27, 81 others.
func TestWhatIsMissedComesAgainSooner(t *testing.T) {
	t.Parallel()
	answered := func(kind training.QuickKind, right ...bool) (out []training.Answered) {
		for _, ok := range right {
			out = append(out, training.Answered{Kind: kind, Right: ok})
		}
		return out
	}
	due := map[int]int{0: 1, 1: 3, 2: 9, 3: 27, 4: 81, 5: 81}
	for running, want := range due {
		all := answered(training.WhichPart, false)
		for range running {
			all = append(all, answered(training.WhichPart, true)...)
		}
		s := training.Skills(all)[0]
		if s.Kind != training.WhichPart || s.Due != want || s.Running != running || s.Of != running+1 || s.Right != running {
			t.Errorf("%d right running: %+v, due after %d", running, s, want)
		}
	}
	var all []training.Answered
	for _, k := range training.QuickKinds { // what was never asked comes first
		if got := training.Next(training.Skills(all)); got != k {
			t.Errorf("%q comes, %q was never asked", got, k)
		}
		all = append(all, answered(k, k != training.WhatIsLeft)...)
	}
	if got := training.Next(training.Skills(all)); got != training.WhatIsLeft {
		t.Errorf("%q comes again, %q was missed", got, training.WhatIsLeft)
	}
}

// What is done to a place answers: a joint moves, what comes with warmth comes and goes with it, and nothing elsewhere does.
func TestProvocationsAreAnswered(t *testing.T) {
	t.Parallel()
	c, plan := chained(t)
	t2, _ := (&job.Job{}).Case(plan)
	warm, moved := training.Fault{
		Block:  "s5",
		Effect: standin.Dead,
		When:   standin.Warm,
	}, training.Fault{
		Block:  "s5",
		Effect: standin.CuttingOut,
		When:   standin.Moved,
	}
	for _, x := range []struct {
		fault      training.Fault
		place, act string
		warm       bool
		word       quantity.Word
	}{
		{moved, "s5", "tap", false, reading.Comes}, {moved, "s4", "tap", false, reading.Unmoved},
		{moved, "s5", "cool", false, reading.Unmoved},
		{warm, "s5", "cool", true, reading.Goes}, {warm, "s5", "heat", false, reading.Comes}, {warm, "s5", "heat", true, reading.Unmoved},
		{warm, "s2", "cool", true, reading.Unmoved}, {warm, "s5", "tap", true, reading.Unmoved},
	} {
		set, good, err := c.Set(plan, []training.Fault{x.fault})
		if err != nil {
			t.Fatal(err)
		}
		b := &training.Bench{Plan: plan, Set: set, Good: good, Stand: standin.Stand{Warm: x.warm}}
		text, err := b.Provoke(t2, x.place, x.act, []training.Fault{x.fault})
		if err != nil {
			t.Fatal(err)
		}
		r, err := t2.Take(reading.Aim{Point: x.place, Quantity: sheet.Provocation}, text)
		if err != nil || r.Word != x.word {
			t.Errorf("%s %s, %s, warm %v: %q is %q, %v", x.act, x.place, x.fault.When, x.warm, text, r.Word, err)
		}
	}
}

// How one stands is counted by kind and by step, in order; a kind that was missed comes again after one other, where its level has it.
func TestHowOneStands(t *testing.T) {
	t.Parallel()
	came := func(kind training.Kind, found bool, well map[training.Phase]bool) training.Ended {
		return training.Ended{Kind: kind, Came: &training.Came{Found: found, Minutes: 30, Best: 10, Well: well}}
	}
	all := []training.Ended{
		came(training.InBlock, true, map[training.Phase]bool{training.Tracing: true}),
		came(training.InSupply, false, map[training.Phase]bool{training.Tracing: false, training.Supplying: true}),
		came(training.InBlock, true, nil),
	}
	stands := training.Stands(all)
	if len(stands) != 2 || stands[0].Kind != training.InBlock || stands[0].Of != 2 || stands[0].Right != 2 || stands[0].Due != 9 ||
		stands[0].Minutes != 60 || stands[0].Best != 20 || stands[1].Running != 0 || stands[1].Due != 0 {
		t.Errorf("by kind: %+v", stands)
	}
	steps := training.ByPhase(all)
	if len(steps) != 2 || steps[0].Phase != training.Supplying || steps[0].Right != 1 || steps[1].Of != 2 || steps[1].Right != 1 ||
		!slices.Equal(steps[1].Last, []bool{true, false}) {
		t.Errorf("by step: %+v", steps)
	}
	if got := training.ComesAgain(stands, training.Usual); got != training.InSupply {
		t.Errorf("%q comes again, the supply was missed", got)
	}
	if got := training.ComesAgain(stands, training.First); got != "" {
		t.Errorf("%q comes again at a level that has no such fault", got)
	}
	if got := training.ComesAgain(training.Stands(all[:2]), training.Usual); got != "" {
		t.Errorf("%q comes again at once", got)
	}

	// What a case came to, by its review: halved and put right nothing is lost; from the front, condemned at once, it is, and where.
	w := begun(t)
	for _, p := range []string{"p8", "p4", "p6", "p5"} {
		w.read(p)
	}
	w.replace("s5")
	c := w.c.Came(w.plan, &w.j, w.c.Review(w.plan, &w.j, &training.Progress{}))
	if !c.Found || !c.Well[training.Tracing] || !c.Well[training.Safely] || c.Minutes <= 0 {
		t.Errorf("halved: %+v", c)
	}
	w = begun(t)
	for _, p := range []string{"p8", "p1", "p2", "p7"} {
		w.read(p)
	}
	w.replace("s3")
	id := w.j.Readings[3].ID
	p := &training.Progress{Stopped: []training.Stopped{{What: "ohms in a live set"}}, Misread: []training.Misread{{ID: id, Was: "1 V"}}}
	r := w.c.Review(w.plan, &w.j, p)
	c = w.c.Came(w.plan, &w.j, r)
	for _, step := range []training.Phase{training.Tracing, training.Safely, training.ReadingIt, training.Condemned} {
		if well, taken := c.Well[step]; well || !taken {
			t.Errorf("%s: taken %t, well %t", step, taken, well)
		}
	}
	if c.Found || r.Taken[3].Was != "1 V" || !strings.Contains(strings.Join(r.Says, " "), "1 V was there") {
		t.Errorf("misread: %+v, %q", r.Taken[3], r.Says)
	}
}
