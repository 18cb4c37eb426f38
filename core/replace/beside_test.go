package replace

import (
	"strings"
	"testing"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/device"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/substitute"
)

// What counts beside the part itself: the workshop's record, what a circuit says of a place, the board.

// What the workshop chose last holds where a job says nothing, and what a job says wins; a module that stayed in elsewhere is
// confirmed.
func TestTheWorkshopsRecord(t *testing.T) {
	a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped(), Schools: []School{AsItWas, OfToday, Pad}}
	a.Entries = []Entry{{Subject: &Subject{Part: "C1", Was: "1u 50v electrolytic", Duty: "coupling"}}}
	if v := Look(a, "", ""); v.Offers[0].New != "1 µF 50 V electrolytic 105 °C" {
		t.Errorf("%+v", v.Offers)
	}
	a.Entries = append(a.Entries, Entry{School: OfToday})
	if v := Look(a, "", ""); v.Offers[0].New != "1 µF 50 V film" {
		t.Errorf("%+v", v.Offers)
	}
	a.Swaps = Swaps([][]Entry{
		{
			{Subject: &Subject{Part: "M1", Was: "module HX-12"}}, {Chosen: &Chosen{Part: "M1", New: "module HX 14"}},
			{Subject: &Subject{Part: "M2", Was: "module PN-3"}}, {Chosen: &Chosen{Part: "M2", New: "module pn-3"}},
		},
		{
			{Subject: &Subject{Part: "Q1", Was: "BC547"}},
			{Chosen: &Chosen{Part: "Q1", New: "BC548"}},
			{Subject: &Subject{Part: "M9", Was: "board A"}},
		},
	})
	if len(a.Swaps) != 1 {
		t.Fatalf("%+v", a.Swaps)
	}
	a.Entries = []Entry{{Subject: &Subject{Part: "M7", Was: "module hx-12"}}}
	v := Look(a, "M7", "module HX-15")
	if len(v.Offers) != 2 || v.Offers[1].New != "module hx 14" || v.Offers[1].Verdict.Grade != substitute.Changed ||
		v.Tried.Verdict.Grade != substitute.Unfit {
		t.Errorf("%+v %+v", v.Offers, v.Tried)
	}
}

// What does not fit is said so wherever it stands.
func TestAgainstTheRules(t *testing.T) {
	a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped(), Entries: []Entry{
		{Subject: &Subject{Part: "Q1", Was: "TIP35C", Duty: "on a sink, 76 V, 5 A"}},
		{Chosen: &Chosen{Part: "Q1", New: "BD139", From: Order, Count: 1, Why: "taken against the rules"}},
	}}
	v := Look(a, "", "")
	text := ""
	for _, s := range v.Steps {
		text += s.Text + "\n"
	}
	if !v.Parts[0].Against || !strings.Contains(text, "Q1 in: BD139") ||
		!strings.Contains(text, "against the rules: volts: 95 V needed") {
		t.Errorf("%+v\n%s", v.Parts[0], text)
	}
	a.Entries[1].Chosen.New = "TIP35C"
	if v := Look(a, "", ""); v.Parts[0].Against {
		t.Errorf("%+v", v.Parts[0])
	}
}

// A part behind pulses bears more than its supplies, and what a value moves is told where it sets a frequency.
func TestDutyOfWhatMoves(t *testing.T) {
	look := func(family, part, was string) View {
		for _, f := range circuit.Families() {
			if f.Name != family {
				continue
			}
			s := sheet.Sheet{
				Format: sheet.Format, Version: sheet.Version, Maker: "Ilvane", Model: "D-4",
				Points: []sheet.Point{{Name: "before"}, {Name: "out"}}, Stages: []sheet.Stage{{Name: "stage", From: "before", To: "out"}},
				Rails:    []sheet.Rail{{Name: "B", Value: "30 V", Load: "1 A"}},
				Circuits: []sheet.Circuit{{Stage: "stage", Parts: f.Parts}},
			}
			plan, _ := s.Plan()
			return Look(About{Plan: plan, Table: device.Shipped(), Entries: []Entry{
				{Subject: &Subject{Part: part, Stage: "stage", Was: was}},
			}}, part, "")
		}
		t.Fatal(family)
		return View{}
	}
	known := func(v View) string {
		out := ""
		for _, b := range v.Known {
			out += b.What + " " + b.Text + "; "
		}
		return out
	}
	v := look("Horizontal output", "Q1", "BU508A")
	if text := known(v); !strings.Contains(text, "across it at most 9") || !strings.Contains(text, " V") {
		t.Errorf("a line output transistor has %s", text)
	}
	if last := v.Steps[len(v.Steps)-1].Text; !strings.Contains(last, "takes some 40 W") || !strings.Contains(last, "a lamp of 60 W") {
		t.Error(last)
	}
	for part, want := range map[string]string{
		"R2": "1 % of it moves the frequency by −0.9", "C1": "1 % of it moves the frequency by −0.98 %",
		"R1": "1 % of it moves the frequency by −0.08 %"} {
		was := map[byte]string{'R': "39k", 'C': "15n film"}[part[0]]
		if text := known(look("Oscillator, timer", part, was)); !strings.Contains(text, want) {
			t.Errorf("%s: %s", part, text)
		}
	}
}

// Work on the board has its own steps, in its own place: a leak before parts come out, a crack when they are; it is noted as what
// it is.
func TestMending(t *testing.T) {
	a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped(), Entries: []Entry{
		{
			Subject: &Subject{Part: "by R12", Was: "crack through two tracks"},
		}, {Subject: &Subject{Part: "C7", Was: "47u 35v electrolytic"}},
		{Subject: &Subject{Part: "about C7", Was: "Electrolyte leak"}}, {Subject: &Subject{Part: "P3", Was: "connector"}},
		{Chosen: &Chosen{Part: "C7", New: "47 µF 35 V electrolytic 105 °C", From: Order, Count: 1}},
	}}
	v := Look(a, "by R12", "")
	if v.Trouble != "" || len(v.Offers) != 0 || v.Parts[0].Sort != Mending || v.Parts[0].Did != repair.Mended || len(v.Orders) != 1 {
		t.Errorf("%q %+v %+v", v.Trouble, v.Offers, v.Parts[0])
	}
	at := map[string]int{}
	for i, s := range v.Steps {
		at[s.Key] = i
	}
	if !(at["mend a about C7"] < at["out C7"] && at["in C7"] < at["mend a by R12"] && at["mend a by R12"] < at["glass"]) {
		t.Errorf("%+v", at)
	}
	if !strings.HasPrefix(v.Steps[at["mend a about C7"]].Caution, "Gloves") || !strings.Contains(v.Says, "Set off") {
		t.Errorf("%q %q", v.Steps[at["mend a about C7"]].Caution, v.Says)
	}
	done := Repairs(v.Chosen())
	if len(done) != 3 || done[0].Did != repair.Mended || done[0].Parts[0].Fitted != "" || done[1].Did != repair.Replaced || done[2].Did !=
		repair.Cleaned || len(done[2].Parts) != 2 || done[0].Where != "by R12: crack through two tracks" {
		t.Errorf("%+v", done)
	}
	for i := range done {
		a.Repairs = append(a.Repairs, repair.Entry{At: time.Now(), Repair: &done[i]})
	}
	for _, p := range Look(a, "", "").Parts {
		if !p.Fitted || strings.HasPrefix(p.New, "to be") {
			t.Errorf("%s is not noted: %s", p.Part, p.New)
		}
	}
	for i := range mendings {
		m := &mendings[i]
		for _, w := range m.words {
			if got := mendingOf(strings.ToUpper(w) + ", at Q3"); got != m {
				t.Errorf("%q", w)
			}
		}
		if len(m.steps) < 2 {
			t.Errorf("%s has %d steps", m.words[0], len(m.steps))
		}
	}
	for _, part := range []string{"padder 30p", "trackball", "fluidic", "BC547", ""} {
		if mendingOf(part) != nil {
			t.Errorf("%q is work on the board", part)
		}
	}
}
