package repair

import (
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"steptrace/core/mend"
	"steptrace/core/sheet"
)

func plan(t *testing.T) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{
		Model:  "X",
		Points: []sheet.Point{{Name: "in"}, {Name: "mid"}, {Name: "out"}},
		Rails:  []sheet.Rail{{Name: "+9 V", Value: "9 V", Fuse: "F1"}},
		Stages: []sheet.Stage{
			{Name: "pre", From: "in", To: "mid", Rails: []string{"+9 V"}},
			{Name: "K1", Kind: "relay contact", From: "mid", To: "out"},
		},
	}
	p, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return p
}

func at(minutes int) time.Time { return time.Date(2026, 11, 20, 9, minutes, 0, 0, time.UTC) }

func did(minutes int, r Repair) Entry {
	return Entry{ID: fmt.Sprint(minutes), At: at(minutes), Repair: &r}
}

func TestWhatCannotBeNotedSaysWhy(t *testing.T) {
	p := plan(t)
	in := []Entry{{ID: "j", Temporary: &Temporary{What: Jumper, Subject: "K1"}}}
	for says, e := range map[string]Entry{
		"an entry is a repair":    {},
		"nothing that is done":    {Repair: &Repair{Did: "hit"}},
		"no stage, rail, control": {Repair: &Repair{Did: Cleaned, Stage: "Q99"}},
		"say what was repaired":   {Repair: &Repair{Did: Resoldered}},
		"found bad, wrong, or":    {Repair: &Repair{Did: Replaced, Stage: "pre", Parts: []Part{{Name: "C1", Found: "tired"}}}},
		"C1 is named twice": {Repair: &Repair{Did: Replaced, Stage: "pre", Parts: []Part{{Name: "C1", Found: Bad}, {Name: "C1",
			Found: Wrong}}}},
		"name the part":               {Repair: &Repair{Did: Replaced, Stage: "pre", Parts: []Part{{Name: " ", Found: Bad}}}},
		"longer than 300":             {Repair: &Repair{Did: Replaced, Stage: "pre", Note: strings.Repeat("x", 301)}},
		"more than 200 parts":         {Repair: &Repair{Did: Replaced, Parts: make([]Part, 201)}},
		"nothing that is put in":      {Temporary: &Temporary{What: "glue", Subject: "K1"}},
		"no fuse of this sheet":       {Temporary: &Temporary{What: FuseBridged, Subject: "K1"}},
		"name the fuse, stage":        {Temporary: &Temporary{What: Jumper}},
		"that was never in":           {Removed: &Removed{Entry: "x"}},
		"name the reason":             {Without: &Without{Key: "power", Text: "it is on"}},
		"one of them is not the only": {Repair: &Repair{Did: Cleaned, Stage: "pre"}, Removed: &Removed{Subject: "K1"}},
	} {
		err := Take(p, in, &e)
		var bad mend.Error
		if says == "one of them is not the only" {
			says = "an entry is a repair"
		}
		if !errors.As(err, &bad) || !strings.Contains(err.Error(), says) {
			t.Errorf("%v, want %q", err, says)
		}
	}
	for _, e := range []Entry{{Repair: &Repair{Did: Resoldered, Stage: "pre"}}, {Repair: &Repair{Did: Mended,
		Where: "crack across the corner"}}, {Repair: &Repair{Did: Replaced, Stage: "F1", Parts: []Part{{"F1", Bad, "1 A slow"}}}},
		{Temporary: &Temporary{What: FuseBridged, Subject: "F1"}}, {Removed: &Removed{Entry: "j"}}, {Removed: &Removed{Subject: "pre"}},
		{Without: &Without{Key: "power", Text: "it is on", Why: "stays on trial"}}} {
		if err := Take(p, in, &e); err != nil {
			t.Errorf("%s: %v", e.Says(), err)
		}
	}
}

// A repair begins a round; another right after it joins it, one behind a reading begins the
// next. A repair that was struck out begins none, and what was read after it belongs to the
// round before.
func TestRoundsFollowFromTheOrder(t *testing.T) {
	c := Repair{Did: Cleaned, Stage: "K1"}
	r := Repair{Did: Replaced, Stage: "pre", Parts: []Part{{"C1", Bad, "10 µF"}, {"C2", Precaution, ""}}}
	taken := []time.Time{at(0), at(10), at(20), at(30)}
	entries := []Entry{
		did(5, c),
		did(6, r),
		{ID: "t", At: at(7), Temporary: &Temporary{What: Jumper, Subject: "K1"}},
		did(15, c),
		did(35, r),
	}
	rounds := Rounds(entries, taken)
	of := func() (out string) {
		for _, x := range taken {
			out += fmt.Sprint(Of(Rounds(entries, taken), x))
		}
		return out
	}
	if len(rounds) != 3 || len(rounds[0].Repairs) != 2 || of() != "0122" {
		t.Fatalf("%d rounds, readings in %s", len(rounds), of())
	}
	if x := fmt.Sprint(rounds[0].Touched()); x != "[K1 pre]" {
		t.Error(x)
	}
	if x := Fitted(rounds, "pre"); x["C1"] != "10 µF" || len(x) != 2 {
		t.Errorf("fitted %v", x)
	}
	entries[3].Struck = true
	if x := Rounds(entries, taken); len(x) != 2 || of() != "0111" {
		t.Errorf("%d rounds, readings in %s, one repair struck out", len(x), of())
	}
	if len(Rounds(nil, taken)) != 0 || Of(nil, at(1)) != 0 {
		t.Error("a round without a repair")
	}
}

// What is in for a while counts with what it touches until it is out; a finished repair
// tells the model what had failed, and not what somebody had fitted wrongly.
func TestWhatIsInAndWhatIsLearnt(t *testing.T) {
	p := plan(t)
	entries := []Entry{
		{ID: "a", Temporary: &Temporary{What: Jumper, Subject: "K1"}},
		{ID: "b", Temporary: &Temporary{What: FuseBridged, Subject: "F1"}},
		{
			ID:        "c",
			Temporary: &Temporary{What: Outside, Subject: "+9 V"},
		},
		{ID: "d", Temporary: &Temporary{What: Lifted, Subject: "pre"}, Struck: true},
	}
	if got := fmt.Sprint(Bypassed(p, entries, "out"), Bypassed(p, entries, "+9 V")); got != "[K1] [F1]" {
		t.Error(got)
	}
	entries = append(entries, Entry{ID: "e", Removed: &Removed{Entry: "a"}})
	if in := In(entries); len(in) != 2 || len(Bypassed(p, entries, "out")) != 0 {
		t.Errorf("%d in", len(in))
	}
	learnt := Failed(
		[]Entry{did(1, Repair{Did: Replaced, Stage: "pre", Parts: []Part{{"C1", Bad, ""}, {"R2", Wrong, "56k"}, {"C9", Precaution, ""}}}),
			did(
				2,
				Repair{Did: PutRight, Stage: "K1", Parts: []Part{{"lead 3", Bad, ""}}},
			), {Struck: true, Repair: &Repair{Did: Replaced, Stage: "K1", Parts: []Part{{"K1", Bad, ""}}}}},
	)
	if fmt.Sprint(learnt) != "map[pre:[C1]]" {
		t.Errorf("learnt %v", learnt)
	}
	for want, e := range map[string]Entry{
		"Replaced: C1, now 10 µF (was bad); C2 (as a precaution) " +
			"in pre": did(1, Repair{Did: Replaced, Stage: "pre", Parts: []Part{{"C1", Bad, "10 µF"}, {"C2", Precaution, ""}}}),
		"Track mended: crack across the corner, bridged " +
			"by wire": did(1, Repair{Did: Mended, Where: "crack across the corner", Note: "bridged by wire"}),
		"Re-soldered: pre, its " +
			"output pin": did(1, Repair{Did: Resoldered, Stage: "pre", Where: "its output pin"}),
		"Fuse F1 bridged, for a while":                                   entries[1],
		"A good one in place of K1, for a while, from the other channel": {Temporary: &Temporary{Swapped, "K1", "from the other channel"}},
	} {
		if got := e.Says(); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}
