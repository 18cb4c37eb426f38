package intake

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

func amplifier(t *testing.T) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{Model: "amplifier", Points: []sheet.Point{{Name: "in"}, {Name: "mid"}, {Name: "out"}},
		Stages: []sheet.Stage{{Name: "preamp", From: "in", To: "mid"}, {Name: "relay contact", From: "mid", To: "out"}},
		Rails:  []sheet.Rail{{Name: "+24 V", Value: "24 V"}},
		WeakSpots: []sheet.WeakSpot{
			{Stage: "preamp", What: "dry joint at the input plug", Symptom: "crackles; hum", Check: "tap the plug"},
			{Stage: "relay contact", What: "burnt contact", Symptom: "one side faint; cuts out", Check: "jumper across it"},
			{Stage: "+24 V", What: "dried C81", Symptom: "relay clicks on and off"},
		}}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return plan
}

func TestUsualFaultsAreOfferedWhenTheComplaintFits(t *testing.T) {
	plan := amplifier(t)
	earlier := Ends{
		Of: 4,
		Stages: []End{
			{"relay contact", 2, 101, "contact burnt"},
			{"preamp", 1, 103, "joint"},
			{"tone board", 1, 105, "C31 open, muffled"},
		},
	}
	for _, x := range []struct{ told, first, says string }{
		{"The left side is faint, one channel only.", "relay contact", "it was that in 2 of 4 earlier jobs here"},
		{"It is crackling when warm", "preamp", "1 of 4"},
		{"The relay clicks, on and off.", "+24 V", "in none of 4"},
		{"Sounds muffled since the C31 was open", "tone board", "1 of 4"},
		{"Dead.", "relay contact", "2 of 4"}, // nothing fits: what was found most often
	} {
		o := Offers(plan, x.told, earlier)
		if len(o) != 4 || o[0].Stage != x.first || !strings.Contains(o[0].Says, x.says) {
			t.Errorf("%q: %+v", x.told, o[0])
		}
		if o[0].Fits == (x.told == "Dead.") {
			t.Errorf("%q fits: %v", x.told, o[0].Fits)
		}
	}
	o := Offers(plan, "cuts out", Ends{})
	if o[0].Point != "out" || o[0].Check != "jumper across it" || o[0].Says != "no earlier job of this model here" {
		t.Errorf("%+v", o[0])
	}
	for _, x := range o {
		if x.Stage == "+24 V" && x.Point != "+24 V" {
			t.Errorf("a rail is read at %q", x.Point)
		}
	}
	plan, _ = (&sheet.Sheet{Model: "nothing known"}).Plan()
	if o := Offers(plan, "hum", Ends{}); len(o) != 0 {
		t.Errorf("%+v", o)
	}
}

func TestFieldsAreChecked(t *testing.T) {
	for _, f := range Fields() {
		if err := Check(f.Key, f.Hint); err != nil {
			t.Errorf("%s: %v", f.Key, err)
		}
	}
	if err := Check(PastField, "damp; sea air"); err != nil {
		t.Error(err)
	}
	for _, x := range []struct{ field, text, says string }{
		{"colour", "red", "not asked"}, {"look", "\xff", "not readable"}, {"look", strings.Repeat("ü", 2001), "shorten"}, {PastField,
			"damp; dragons", "dragons"},
	} {
		var bad mend.Error
		if err := Check(x.field, x.text); !errors.As(err, &bad) || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%s %.20q: %v", x.field, x.text, err)
		}
	}
}

// What the story of a set gives to the reasoning: what it went through, and which
// blocks somebody worked on before, told by a part in their names.
func TestHistoryIsTakenFromTheStory(t *testing.T) {
	s := &sheet.Sheet{Model: "X", Points: []sheet.Point{{Name: "in"}, {Name: "mid"}, {Name: "out"}},
		Stages: []sheet.Stage{
			{Name: "Q204 make-up", Kind: "amplifier", From: "in", To: "mid"},
			{Name: "K1 mute", Kind: "relay contact", From: "mid", To: "out"},
		}}
	p, _ := s.Plan()
	h := History(
		p,
		"",
		map[string]string{"repairs": "owner changed Q204 in 2019, and did not make it better", PastField: "damp; repair"},
		[]Offer{{Stage: "K1 mute", Fits: true, Times: 2}},
	)
	if !h.Worked["Q204 make-up"] || h.Worked["K1 mute"] || h.Found["K1 mute"] != 2 || !h.Fits["K1 mute"] || len(h.Past) != 2 {
		t.Errorf("%+v", h)
	}
	// Damp doubles the rate of a relay contact: 2.5 becomes 5 against 1 and, worked
	// on, 3. With two jobs found there: (4·5/8 + 2)/(4·3/8).
	c := trace.Case{Bench: reading.Bench{Plan: p, Route: &p.Routes[0]}, History: h}
	f := c.Find(nil)
	if got, want := f.Stages[1].Weight/f.Stages[0].Weight, (4*5.0/8+2)/(4*3.0/8); math.Abs(got/want-1) > 1e-5 {
		t.Errorf("%g times as likely, by hand %g", got, want)
	}
	for _, past := range Pasts() {
		if past.Key != "repair" && past.Key != "tinkering" && !trace.KnownPast(past.Key) {
			t.Errorf("%s weighs nothing", past.Key)
		}
	}
}

// The usual faults of the sheet are told with their record, whatever else was found more often.
func TestListedAreTheSheets(t *testing.T) {
	plan := amplifier(t)
	ends := Ends{Of: 9, Stages: []End{{"somewhere else", 9, 7, "always that"}}, Lent: map[string]int{"elsewhere too": 5}, LentOf: 5}
	if all, listed := Offers(plan, "", ends), Listed(plan, ends); len(listed) != len(plan.Sheet.WeakSpots) || len(all) != len(listed)+2 ||
		slices.ContainsFunc(listed, func(o Offer) bool { return o.Times > 0 || o.Lent > 0 }) {
		t.Errorf("%+v", listed)
	}
}
