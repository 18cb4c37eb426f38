package replace

import (
	"strconv"
	"strings"
	"testing"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/device"
	"steptrace/core/inside"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/substitute"
)

func TestDuty(t *testing.T) {
	d, err := DutyOf("coupling, 38 V, at 60 °C, 10 kΩ, 8 mm across; 12 mm high")
	want := Duty{Use: substitute.Coupling, Volts: 38, Celsius: 60, Ohms: 1e4, Across: 8, High: 12}
	if err != nil || d != want {
		t.Errorf("%+v %v", d, err)
	}
	d, err = DutyOf("On a sink, in a pair, 30 V, 2 A, 20 W, gain 40, 1 MHz, switches, turns, exact, high frequency")
	want = Duty{
		Volts:  30,
		Amps:   2,
		Watts:  20,
		Gain:   40,
		Hz:     1e6,
		Sink:   true,
		Pair:   true,
		Switch: true,
		Turns:  true,
		Exact:  true,
		Signal: true,
	}
	if err != nil || d != want {
		t.Errorf("%+v %v", d, err)
	}
	for _, x := range []struct{ text, says string }{
		{"blue", `"blue" is nothing that is said`}, {"gain", "nothing that is said"}, {"-3 V", "cannot be"}, {"at hot", ""}, {"gain x", ""},
		{"0 V", "cannot be"}, {"1e15 V", "cannot be"}, {"3 F", "nothing that is said"},
	} {
		if _, err := DutyOf(x.text); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%q: %v", x.text, err)
		}
	}
	if d, err := DutyOf(" , ;"); err != nil || d != (Duty{}) {
		t.Errorf("%+v %v", d, err)
	}
}

func TestTake(t *testing.T) {
	long := strings.Repeat("x", 201)
	for _, x := range []struct {
		e    Entry
		says string
	}{
		{Entry{}, "an entry is"},
		{Entry{Board: Glass, Done: &Done{}}, "an entry is"},
		{Entry{Board: "wood"}, "no kind of board"},
		{Entry{Subject: &Subject{}}, "name the part"},
		{Entry{Subject: &Subject{Part: "Q1", Was: long}}, "more than 200"},
		{Entry{Subject: &Subject{Part: "Q1", Duty: "blue"}}, "nothing that is said"},
		{Entry{Chosen: &Chosen{Part: "Q1", New: "BC547", Count: 1}}, "comes from the drawer"},
		{Entry{Chosen: &Chosen{Part: "Q1", New: "BC547", Count: 0, From: Drawer}}, "0 pieces"},
		{Entry{Chosen: &Chosen{Part: "Q1", Count: 1, From: Drawer}}, "name the part that goes in"},
		{Entry{Done: &Done{Text: "x"}}, "name the step"},
		{Entry{Subject: &Subject{Part: "Q1\xff"}}, "none that can be read"},
		{Entry{Subject: &Subject{Part: "Q1", Duty: "on a sink"}}, ""},
		{Entry{Chosen: &Chosen{Part: "Q1", New: "BC547", Count: 2, From: Order}}, ""},
		{Entry{Done: &Done{Step: "safe", Text: "x"}}, ""},
		{Entry{Board: Balls}, ""},
	} {
		if err := Take(&x.e); (err == nil) != (x.says == "") || err != nil && !strings.Contains(err.Error(), x.says) {
			t.Errorf("%+v: %v", x.e, err)
		}
	}
}

func TestDrawerLines(t *testing.T) {
	kept, err := DrawerLines("# the drawer\n12 BC547B, box 3, 0.08\n\n3x 47 µF 63 V electrolytic; box 9\r\n")
	if err != nil || len(kept) != 2 || kept[0] != (Kept{"BC547B", 12, "box 3", "0.08"}) || kept[1].What != "47 µF 63 V electrolytic" ||
		kept[1].Count != 3 || kept[1].Place != "box 9" {
		t.Errorf("%+v %v", kept, err)
	}
	long := "5 " + strings.Repeat("x", 300)
	for _, text := range []string{"BC547B", "12", "12, box", "-3 BC547", "12 BC547, a, b, c", "1234567 BC547", long, ","} {
		if kept, err := DrawerLines(text); err == nil || !strings.Contains(err.Error(), "line 1") {
			t.Errorf("%q: %+v %v", text, kept, err)
		}
	}
}

// pushPull is an output stage: a driver, a pair of emitter followers, their resistors.
func pushPull(t *testing.T) *sheet.Plan {
	t.Helper()
	part := circuit.PartOf
	s := &sheet.Sheet{
		Format: sheet.Format, Version: sheet.Version, Model: "X",
		Points:     []sheet.Point{{Name: "A", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "B"}},
		Stages:     []sheet.Stage{{Name: "output", From: "A", To: "B", Gain: "0 dB"}},
		Reservoirs: []sheet.Reservoir{{Name: "C70", Farads: "2200 µF", Volts: "18 V"}},
		Circuits: []sheet.Circuit{{Stage: "output", Parts: []circuit.Part{
			part("V1", "voltage", "+; ground", "18 V", "", ""), part("V2", "voltage", "-; ground", "-18 V", "", ""),
			part("R1", "resistor", "+; high", "2k2", "rated 0.25 W", ""), part("D1", "diode", "high; A", "", "", ""),
			part("D2", "diode", "A; low", "", "", ""), part("R2", "resistor", "low; -", "2k2", "rated 0.25 W", ""),
			part("Q1", "npn", "+; high; e1", "", "type TIP31C", ""), part("R3", "resistor", "e1; B", "0.47", "rated 2 W", ""),
			part("R4", "resistor", "B; e2", "0.47", "rated 2 W", ""), part("Q2", "pnp", "-; low; e2", "", "type TIP32C", ""),
			part("RL", "resistor", "B; ground", "8", "rated 100 W", circuit.Outside),
			part("RA", "resistor", "A; ground", "10k", "", circuit.Outside),
		}}},
	}
	plan, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	return plan
}

func steps(v View) string {
	var out []string
	for _, s := range v.Steps {
		out = append(out, s.Key)
	}
	return strings.Join(out, "; ")
}

// From the condemned output transistor to the repair that is noted: what is offered, what else is looked at, the work in order.
//
// Long: the story from end to end.
func TestAnOutputTransistorIsReplaced(t *testing.T) {
	a := About{
		Plan:   pushPull(t),
		Table:  device.Shipped(),
		Drawer: []Kept{{"TIP41C", 2, "rack", ""}, {"BD139", 5, "", ""}, {"TIP32C", 1, "", ""}},
	}
	v := Look(a, "", "")
	if v.At != -1 || len(v.Steps) != 0 || !strings.Contains(v.Says, "No part is condemned yet") {
		t.Errorf("%+v", v)
	}
	a.Inside = []inside.Entry{{Stage: "output", Condemned: &inside.Condemned{Part: "Q1", What: "shorted from collector to emitter"}}}
	v = Look(a, "", "")
	if v.Says != "Choose what goes in the place of Q1, TIP31C." || v.Parts[0].Sort != Typed || v.Known[0].Text != "36 V" {
		t.Fatalf("%s %+v %+v", v.Says, v.Parts, v.Known)
	}
	// The upper half shorted, the lower takes the output's current as it can; R3 carries what the load and Q2 take.
	var looked []string
	for _, b := range v.Parts[0].Beside {
		looked = append(looked, b.Part)
	}
	if says := strings.Join(looked, " "); !strings.Contains(says, "R3") || !strings.Contains(says, "Q2") ||
		!strings.Contains(says, "D1") {
		t.Errorf("beside: %+v", v.Parts[0].Beside)
	}
	if o := v.Offers[0]; o.New != "TIP41C" || o.Drawer != 2 || o.Place != "rack" || o.Verdict.Grade != substitute.Fits {
		t.Errorf("offered first: %+v", o)
	}
	note := func(e Entry) { // as it would be taken
		t.Helper()
		if err := Take(&e); err != nil {
			t.Fatal(err)
		}
		e.ID, e.At = string(rune('a'+len(a.Entries))), time.Unix(int64(len(a.Entries)), 0)
		a.Entries = append(a.Entries, e)
	}
	note(Entry{Subject: &Subject{Part: "Q1", Duty: "on a sink, in a pair, 20 W"}})
	v = Look(a, "Q1", "bd139")
	if v.Tried == nil || v.Tried.Verdict.Grade != substitute.Unfit ||
		!strings.HasPrefix(v.Tried.Says, "no: current: 3 A needed, it has 1.5 A") {
		t.Errorf("tried: %+v", v.Tried)
	}
	if v = Look(a, "Q1", "47u 63v"); v.Tried == nil || v.Tried.Says != "no: it is a capacitor, and the old one is a type" {
		t.Errorf("tried: %+v", v.Tried)
	}
	if v = Look(a, "Q1", "hx-99"); v.Tried != nil || !strings.Contains(v.Trouble, "enter it among the types") {
		t.Errorf("trouble: %q", v.Trouble)
	}
	note(Entry{Chosen: &Chosen{Part: "Q1", New: "TIP41C", From: Drawer, Count: 1}})
	note(Entry{Subject: &Subject{Part: "Q2", Duty: "on a sink"}}) // its partner; the sheet knows its type
	if v = Look(a, "", ""); v.Says != "Choose what goes in the place of Q2, TIP32C." {
		t.Errorf("%s", v.Says)
	}
	note(Entry{Chosen: &Chosen{Part: "Q2", New: "TIP42C", From: Order, Count: 1}})
	note(Entry{Board: Phenolic})
	v = Look(a, "", "")
	want := "safe; picture; loose Q1; out Q1; pads Q1; test Q1; in Q1; sink Q1; " +
		"loose Q2; out Q2; pads Q2; test Q2; in Q2; sink Q2; beside; glass; power"
	if steps(v) != want || !strings.Contains(v.Steps[0].Text, "C70 measured below 10 V") ||
		!strings.Contains(v.Steps[2].Caution, "beryllium") ||
		!strings.Contains(v.Steps[3].Text, "320 °C") ||
		!strings.Contains(v.Steps[16].Text, "when all is well") {
		t.Errorf("%s\n%+v", steps(v), v.Steps)
	}
	if len(v.Orders) != 2 || v.Orders[0].What != "TIP42C" || v.Orders[0].Drawer || v.Orders[1].What != "TIP41C" ||
		v.Orders[1].Place != "rack" {
		t.Errorf("orders: %+v", v.Orders)
	}
	// What lies in the drawer is not ordered.
	if got := string(OrderCSV(v.Orders)); got != "what,count,for,price\nTIP42C,1,Q2,\n" {
		t.Errorf("%q", got)
	}
	for _, s := range v.Steps {
		note(Entry{Done: &Done{Step: s.Key, Text: s.Text}})
	}
	if v = Look(a, "", ""); !strings.HasPrefix(v.Says, "All of it is done") {
		t.Errorf("%s", v.Says)
	}
	a.Entries[len(a.Entries)-1].Struck = true
	if v = Look(a, "", ""); !strings.HasPrefix(v.Says, "First power") {
		t.Errorf("%s", v.Says)
	}
	repairs := Repairs(v.Chosen())
	if len(repairs) != 1 || repairs[0].Did != repair.Replaced || repairs[0].Stage != "output" || len(repairs[0].Parts) != 2 ||
		repairs[0].Parts[0] != (repair.Part{Name: "Q1", Found: repair.Bad, Fitted: "TIP41C"}) ||
		repairs[0].Parts[1].Found != repair.Precaution {
		t.Errorf("%+v", repairs)
	}
	if taken := Taken(v.Chosen()); len(taken) != 1 || taken[0] != (Kept{What: "TIP41C", Count: 1}) {
		t.Errorf("taken: %+v", taken)
	}
	note(Entry{Subject: &Subject{Part: "Q2", Dropped: true}})
	if v = Look(a, "", ""); len(v.Parts) != 1 {
		t.Errorf("%+v", v.Parts)
	}
}

// A set without a circuit: what was there is typed, of each sort.
func TestWithoutACircuit(t *testing.T) {
	a := About{
		Plan:   &sheet.Plan{Sheet: &sheet.Sheet{}},
		Table:  device.Shipped(),
		Drawer: []Kept{{"22u 50v electrolytic 105C", 3, "box", ""}, {"junk", 4, "", ""}},
	}
	for _, x := range []struct {
		was, duty, first string
		sort             Sort
	}{
		{"10u 35v electrolytic", "coupling, 12 V", "22u 50v electrolytic 105C", Capacitor},
		{"4.7u 35v electrolytic", "reservoir, 30 V", "4.7 µF 50 V electrolytic 105 °C", Capacitor}, // 22 is too much here
		{"1u 50v electrolytic", "coupling", "1 µF 50 V film", Capacitor},
		{"100n 250v paper", "across mains", "100 nF 275 V film X2", Capacitor},
		{"1000u 16v electrolytic", "switching ripple", "1 mF 16 V electrolytic 105 °C low esr", Capacitor},
		{"4k7 0.5W", "1 W", "4.7 kΩ 2 W, 5 %", Resistor},
		{"0.22 1W fusible", "", "220 mΩ 1 W, 5 %, fusible", Resistor},
		{"T1.6A 250V", "", "1.6 A slow 250 V", Fuse},
		{"2sc1815", "", "2SC1815", Typed},
		{"relay 12 V 400 ohm 2 changeover", "", "relay 12 V 400 ohm 2 changeover", Relay},
		{"control 50k log 2 gangs", "", "control 50k log 2 gangs", Control},
		{"module HX-12", "", "module HX-12", Module},
		{"crystal 10.7 MHz", "", "crystal 10.7 MHz", Matched},
	} {
		a.Entries = []Entry{{Subject: &Subject{Part: "X1", Was: x.was, Duty: x.duty}}}
		v := Look(a, "", "")
		if len(v.Offers) == 0 || v.Parts[0].Sort != x.sort || v.Trouble != "" {
			t.Errorf("%s: %s %q %+v", x.was, v.Parts[0].Sort, v.Trouble, v.Offers)
			continue
		}
		if o := v.Offers[0]; strings.ReplaceAll(o.New, "1 mF", "1000 µF") != strings.ReplaceAll(x.first, "1 mF", "1000 µF") ||
			o.Verdict.Grade == substitute.Unfit {
			t.Errorf("%s, %s: offered %q, %s", x.was, x.duty, o.New, o.Says)
		}
	}
	for _, x := range []struct{ was, says string }{
		{"", "Say what was there"}, {"hx-99 module", "enter it among the types"}, {"2n39", "it may be 2N3904, 2N3906"},
	} {
		a.Entries = []Entry{{Subject: &Subject{Part: "X1", Was: x.was}}}
		if v := Look(a, "", ""); !strings.Contains(v.Trouble, x.says) || len(v.Offers) > 0 {
			t.Errorf("%q: %q %+v", x.was, v.Trouble, v.Offers)
		}
	}
	a.Entries = []Entry{{Subject: &Subject{Part: "X1", Was: "AC128x"}}}
	if v := Look(a, "", ""); v.Trouble != "Taken as AC128: what X behind it says is not known." || v.Offers[0].New != "AC128" {
		t.Errorf("%q %+v", v.Trouble, v.Offers)
	}
	a.Inside = []inside.Entry{{Stage: "?", Condemned: &inside.Condemned{Part: "Q9", What: "shorted"}}}
	a.Entries = []Entry{{Subject: &Subject{Part: "Q9", Was: "TIP31C"}}}
	if v := Look(a, "", ""); len(v.Parts[0].Beside) != 4 || v.Parts[0].Beside[0].Part != "its partner" {
		t.Errorf("%+v", v.Parts)
	}
}

// Every board has its way out, its pads and what to mind.
func TestEveryBoardHasItsWay(t *testing.T) {
	for _, b := range Boards {
		if how := irons[b]; how.out == "" || how.pads == "" || how.mind == "" {
			t.Errorf("%s: %+v", b, how)
		}
	}
}

func FuzzDuty(f *testing.F) {
	f.Add("coupling, 38 V, at 60 °C")
	f.Add("8 mm across; gain 40")
	f.Fuzz(func(t *testing.T, text string) {
		d, err := DutyOf(text)
		if err == nil && (d.Volts < 0 || d.Gain < 0 || d.Across < 0) {
			t.Errorf("%q: %+v", text, d)
		}
		_, _ = DrawerLines(text)
	})
}

// A board is renewed by a list: what goes, what is tested first, what stays, by school and by what was measured; the drawer
// gives while it has.
func TestRenewal(t *testing.T) {
	a := About{
		Plan:   &sheet.Plan{Sheet: &sheet.Sheet{}},
		Table:  device.Shipped(),
		Drawer: []Kept{{"47u 63v electrolytic 105C", 2, "", ""}},
	}
	list := "C1 47u 63v electrolytic; coupling, 30 V\nC2: 47u 63v electrolytic; coupling, 30 V\nC3, 47u 63v electrolytic; coupling\n" +
		"C4 100n 63v film; coupling\nC5 22n 400v paper; coupling\nC6 10u 16v tantalum; supply line\nR7 4k7 0.5W\n"
	a.Entries = []Entry{
		{List: list},
		{Tested: &Tested{Part: "C1", Given: "46u 0.3 ohm"}},
		{Tested: &Tested{Part: "C2", Given: "21u 9 ohm"}},
		{Tested: &Tested{Part: "R7", Given: "4.71k"}},
		{Tested: &Tested{Part: "C3", Given: "47u, leaks 900 uA at 63 V"}},
	}
	advice := func() string {
		var out []string
		for _, p := range Look(a, "", "").Parts {
			out = append(out, p.Part+" "+string(p.Advice))
		}
		return strings.Join(out, ", ")
	}
	if got := advice(); got != "C1 renew, C2 renew, C3 renew, C4 stays, C5 renew, C6 renew, R7 stays" {
		t.Error(got)
	}
	a.Entries = append(a.Entries, Entry{School: WhatIsBad})
	if got := advice(); got != "C1 stays, C2 renew, C3 renew, C4 stays, C5 renew, C6 renew, R7 stays" {
		t.Error(got)
	}
	var chosen []string
	all := ChooseAll(a)
	for i := range all {
		chosen = append(chosen, all[i].Part+" "+string(all[i].From))
		a.Entries = append(a.Entries, Entry{Chosen: &all[i]})
	}
	if got := strings.Join(chosen, ", "); got != "C2 drawer, C3 drawer, C5 order, C6 order" {
		t.Error(got)
	}
	// The new one is worse than the old one was: that stays.
	a.Entries = append(a.Entries, Entry{Tested: &Tested{Part: "C1", Given: "30u 8 ohm", New: true}})
	a.Entries = append(a.Entries, Entry{Chosen: &Chosen{Part: "C1", New: "47u 63v electrolytic", From: Order, Count: 1}})
	v := Look(a, "C1", "")
	if p := v.Parts[0]; p.Advice != Stays || !strings.Contains(p.Why, "measures better") || len(p.Tests) != 2 {
		t.Errorf("%+v", p)
	}
}

// The schools: of today or as it was, mica or a pad; of each group the one chosen last.
func TestSchools(t *testing.T) {
	a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped()}
	a.Entries = []Entry{{Subject: &Subject{Part: "C1", Was: "1u 50v electrolytic", Duty: "coupling"}}}
	if v := Look(a, "", ""); v.Offers[0].New != "1 µF 50 V film" || !v.Schools[0].Chosen || v.Schools[1].Chosen || !v.Schools[2].Chosen {
		t.Errorf("%+v %+v", v.Offers, v.Schools)
	}
	a.Entries = append(a.Entries, Entry{School: AsItWas}, Entry{School: Pad})
	if v := Look(a, "", ""); v.Offers[0].New != "1 µF 50 V electrolytic 105 °C" || !v.Schools[3].Chosen || v.Schools[2].Chosen {
		t.Errorf("%+v %+v", v.Offers, v.Schools)
	}
	a.Entries = append(
		a.Entries,
		Entry{ID: "s1", Worked: &Worked{"120k || 33k", "25.9 kΩ"}},
		Entry{ID: "s2", Struck: true, Worked: &Worked{"1", "1"}},
	)
	if v := Look(a, "", ""); len(v.Sums) != 1 || v.Sums[0].Entry != "s1" || v.Sums[0].Says != "25.9 kΩ" {
		t.Errorf("%+v", v.Sums)
	}
	a.Entries = append(a.Entries, Entry{Subject: &Subject{Part: "Q1", Was: "TIP31C", Duty: "on a sink"}},
		Entry{Chosen: &Chosen{Part: "Q1", New: "TIP41C", From: Order, Count: 1}})
	text := ""
	for _, s := range Look(a, "", "").Steps {
		text += s.Text + "\n"
	}
	if !strings.Contains(text, "A new pad and bush for Q1") {
		t.Error(text)
	}
	if err := Take(&Entry{School: "the old one"}); err == nil || !strings.Contains(err.Error(), "use renew all of an age") {
		t.Error(err)
	}
}

func TestBadLists(t *testing.T) {
	for _, x := range []struct{ list, says string }{
		{"", "empty"}, {"\n \n", "empty"}, {"C1", "line 1"}, {"C10147u63v electrolytic", "line 1"}, {"C1 47u blue", "blue"},
		{"C1 47u 63v; nowhere", "nothing that is said"}, {"C1 47u 63v\nC1 10u 63v", "line 2: C1 stands there already"},
		{"C101C102C103C104 47u 63v", "columns"}, {strings.Repeat("x", 70000), "too long"},
	} {
		if _, err := listed(x.list); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%.30q: %v", x.list, err)
		}
	}
	for _, given := range []string{"", "blue", "31u 32u", "at", "3 Hz"} {
		if _, err := readTest(given); err == nil {
			t.Errorf("%q is taken", given)
		}
	}
}

func FuzzLists(f *testing.F) {
	f.Add("C1 47u 63v electrolytic; coupling, 30 V\nR7 4k7 0.5W")
	f.Add("31u 4 ohm leaks 20 uA at 24 V bulged")
	f.Fuzz(func(t *testing.T, text string) {
		if list, err := listed(text); err == nil {
			a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped(), Entries: []Entry{{List: text}}}
			if v := Look(a, "", ""); len(v.Parts) != len(list) {
				t.Errorf("%q: %d of %d", text, len(v.Parts), len(list))
			}
		}
		_, _ = readTest(text)
	})
}

func BenchmarkChooseAll(b *testing.B) {
	var lines []string
	for i := range mostListed {
		lines = append(lines, "C"+strconv.Itoa(i)+" 47u 63v electrolytic; coupling, 30 V")
	}
	a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped(), Entries: []Entry{{List: strings.Join(lines, "\n")}}}
	for b.Loop() {
		if all := ChooseAll(a); len(all) != mostListed {
			b.Fatal(len(all))
		}
	}
}
