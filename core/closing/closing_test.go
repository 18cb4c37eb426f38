package closing

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/adjust"
	"steptrace/core/pattern"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// small is an amplifier of one stage a side that clips at 10 V, into 8 ohm, with an offset to adjust.
func small(t *testing.T, own ...sheet.Closing) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{
		Model: "PM-2", Kind: "practice amplifier",
		Stages: []sheet.Stage{
			{Name: "volume, left", Kind: "control", From: "in L", To: "mid L", Gain: "-6 dB"},
			{Name: "output, left", From: "mid L", To: "out L", Gain: "26 dB", Limit: "10 V", Rails: []string{"+20 V"}},
			{Name: "volume, right", Kind: "control", From: "in R", To: "mid R", Gain: "-6 dB"},
			{Name: "output, right", From: "mid R", To: "out R", Gain: "26 dB", Limit: "10 V", Rails: []string{"+20 V"}},
		},
		Rails: []sheet.Rail{{Name: "+20 V", Value: "20 V", Load: "400 mA"}},
		Adjustments: []sheet.Adjustment{{Name: "offset, left", Kind: "offset", Turn: "VR1", Measure: "out L", Target: "0 V",
			Tolerance: "15 mV"}},
		Hazards: []sheet.Hazard{{Kind: "mains"}},
		Closing: own,
	}
	for _, side := range []string{" L", " R"} {
		s.Points = append(s.Points,
			sheet.Point{Name: "in" + side, Expect: []sheet.Expectation{
				{Quantity: sheet.AC, Value: "200 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}}},
			sheet.Point{Name: "mid" + side}, sheet.Point{Name: "out" + side})
	}
	s.Points[2].Twin = "out R"
	plan, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	return plan
}

func item(t *testing.T, plan *sheet.Plan, name string) *sheet.PlanClosing {
	t.Helper()
	items := Items(plan)
	i := slices.IndexFunc(items, func(c sheet.PlanClosing) bool { return c.Name == name })
	if i < 0 {
		t.Fatalf("no %s among %v", name, names(items))
	}
	return &items[i]
}

func names(items []sheet.PlanClosing) []string {
	out := make([]string, len(items))
	for i := range items {
		out[i] = items[i].Name
	}
	return out
}

// What values say is compared with what follows from the definitions: U²/R, 20 log of a ratio, a sine's crest factor.
func TestWhatIsReadAgainstTheDefinitions(t *testing.T) {
	plan := small(t, sheet.Closing{Name: "power", Kind: sheet.ClosingPower, At: "out L", Load: "8 Ω", Least: "12 W"},
		sheet.Closing{Name: "response", Kind: sheet.ClosingResponse, At: "out L", Frequencies: []string{"40", "1k", "12k"}, Most: "1 dB"},
		sheet.Closing{Name: "noise", Kind: sheet.ClosingHum, At: "out R", Most: "2 mV"},
		sheet.Closing{Name: "heater", Least: "6 V", Most: "6.6 V"})
	ln10 := math.Log(10)
	db := func(ratio float64) float64 { return 20 * math.Log(ratio) / ln10 }
	exit := 0.2 * math.Exp(20*ln10/20) // V: what 200 mV make with 20 dB
	for _, x := range []struct {
		item, text string
		want       float64
		unit       quantity.Unit
		verdict    Verdict
	}{
		{"power", "10 V", 12.5, quantity.Watt, Right},
		{"power", "27.2 Vpp", 27.2 * 27.2 / 8 / 8, quantity.Watt, TooLow},
		{"power", "14.142 V pk", 14.142 * 14.142 / 2 / 8, quantity.Watt, Right},
		{"power", "12 W", 12, quantity.Watt, Right},
		{"response", "2 2.04 1.7 V", db(1.7 / 2.04), quantity.Decibel, TooLow},
		{"response", "2 V; 2.04 V; 2.1 V", db(2.1 / 2.04), quantity.Decibel, Right},
		{"response", "900 mV 1 V 1.1 V", db(0.9), quantity.Decibel, Right},
		{"response", "-0.5; 0; -0.25 dB", -0.5, quantity.Decibel, Right},
		{"response", "812 815 900 mV", db(900. / 815), quantity.Decibel, Right},
		{"separation, out L", "2 V; 2 mV", 60, quantity.Decibel, Right},
		{"separation, out L", "1.9 60 mV", db(1.9 / 60), quantity.Decibel, TooLow},
		{"separation, out L", "-44 dB", 44, quantity.Decibel, Right},
		{"hum, out L", "1 mV", db(exit / 1e-3), quantity.Decibel, Right},
		{"hum, out L", "-40 dB", 40, quantity.Decibel, TooLow},
		{"noise", "2.1 mV", 2.1e-3, quantity.Volt, TooHigh},
		{"noise", "5.6 mVpp", 5.6e-3 / 2 / math.Sqrt2, quantity.Volt, Right},
		{"distortion, out L", "0.4 %", 0.004, quantity.Ratio, Right},
		{"distortion, out L", "-34 dB", math.Exp(-34 * ln10 / 20), quantity.Ratio, TooHigh},
		{"offset, left", "-16 mV", -0.016, quantity.Volt, TooLow},
		{"heater", "6.3 V", 6.3, quantity.Volt, Right},
		{"continuity of earth", "0.12 Ω", 0.12, quantity.Ohm, Unjudged},
		{"continuity of earth", "0.12 Ω good", 0.12, quantity.Ohm, Right},
		{"insulation", "0.4 MΩ bad", 0.4e6, quantity.Ohm, Bad},
		{"continuity of earth", "bad: opens when the cable is bent", 0, quantity.None, Bad},
		{"the complaint is gone", "good", 0, quantity.None, Right},
	} {
		f, err := Read(item(t, plan, x.item), x.text)
		if err != nil || math.Abs(f.SI-x.want) > 1e-9*math.Max(1, math.Abs(x.want)) || f.Unit != x.unit || f.Verdict != x.verdict {
			t.Errorf("%s, %s: %g %s, %q, %v; want %g %s, %q", x.item, x.text, f.SI, f.Unit, f.Verdict, err, x.want, x.unit, x.verdict)
		}
	}
	for _, x := range [][3]string{
		{"power", "3 kHz", "volts across the load"}, {"power", "12 Vdc", "no signal"}, {"response", "1 V; 2 V", "type 3 values"},
		{"response", "1 V; 2 dB; 3 V", "in the same way"}, {"response", "0 V; 1 V; 1 V", "above zero"},
		{"separation, out L", "2 V", "type 2 values"}, {"separation, out L", "2 V; 0 V", "out R"},
		{"hum, out L", "3 W", "volts that are left"}, {"noise", "good", "has a limit"}, {"heater", "7 A", "a current"},
		{"the complaint is gone", "12 V", "say good, or bad"}, {"insulation", "", "type 50 MΩ"},
	} {
		if f, err := Read(item(t, plan, x[0]), x[1]); err == nil || !strings.Contains(err.Error(), x[2]) {
			t.Errorf("%s, %q: %v, %v; want %q", x[0], x[1], f, err, x[2])
		}
	}
}

// Of what is usual for a kind every item can be read and names what the sheet has, of every pattern; no name is there twice.
func TestWhatIsOfferedFitsEveryPattern(t *testing.T) {
	for _, p := range pattern.All() {
		s, err := p.Sheet(nil)
		if err != nil {
			t.Fatal(err)
		}
		plan, _ := s.Plan()
		seen := map[string]bool{}
		for _, c := range Offer(plan) {
			if _, field, err := plan.ReadClosing(&c); err != nil {
				t.Errorf("%s: %s, %s: %v", p.Name, c.Name, field, err)
			}
			if seen[c.Name] {
				t.Errorf("%s: %s twice", p.Name, c.Name)
			}
			seen[c.Name] = true
		}
		if !seen["the complaint is gone"] {
			t.Errorf("%s: nobody asks for the complaint", p.Name)
		}
		for _, x := range Look(plan, nil, Now{}) {
			if x.How == "" || x.Hint == "" || x.State != Open {
				t.Errorf("%s: %+v", p.Name, x)
			}
		}
	}
}

func TestWhatIsOffered(t *testing.T) {
	plan := small(t)
	got := names(Items(plan))
	want := []string{"offset, left", "idle power", "hum, out L", "hum, out R", "power, out L", "power, out R", "distortion, out L",
		"distortion, out R", "response, out L", "response, out R", "separation, out L", "separation, out R", "the complaint is gone",
		"volume, left, over its travel", "volume, right, over its travel", "continuity of earth", "insulation"}
	if !slices.Equal(got, want) {
		t.Errorf("%v", got)
	}
	// 1 dB below 10 V into 8 ohm are 9.9 W; the rail gives 20 V × 0.4 A, and the transformer takes its usual part: 13.7 W.
	if c := item(t, plan, "power, out L"); math.Abs(c.Low-9.9) > 1e-9 || c.Ohms != 8 {
		t.Errorf("%+v", c)
	}
	if c, mains := item(t, plan, "idle power"), 8/(1-0.08)+5; math.Abs(c.Low/mains-0.75) > 0.05 || math.Abs(c.High/mains-1.25) > 0.05 {
		t.Errorf("%g to %g of %g", c.Low, c.High, mains)
	}
	// The sheet's own stands in the place of what is offered at the same exit.
	own := small(t, sheet.Closing{Name: "hum at the left", Kind: sheet.ClosingHum, At: "out L", Most: "1 mV"},
		sheet.Closing{Name: "mains", Kind: sheet.ClosingIdle, Most: "12 W"})
	got = names(Items(own))
	if slices.Contains(got, "hum, out L") || slices.Contains(got, "idle power") || !slices.Contains(got, "hum, out R") {
		t.Errorf("%v", got)
	}
}

func TestStandsBeforeAndAfterARepair(t *testing.T) {
	plan := small(t)
	at := func(minute int) time.Time { return time.Date(2026, 10, 5, 9, minute, 0, 0, time.UTC) }
	entries := []Entry{
		{ID: "a", At: at(1), Item: "hum, out L", Text: "30 mV"},
		{ID: "b", At: at(2), Item: "separation, out L", Text: "2 V; 4 mV"},
		{ID: "c", At: at(20), Item: "hum, out L", Text: "9 mV", Struck: true},
		{ID: "d", At: at(21), Item: "hum, out L", Text: "0.9 mV", By: "meter"},
		{ID: "e", At: at(22), Item: "separation, out L", Text: "2 V; 200 mV"},
		{ID: "f", At: at(23), Item: "insulation", Without: "no tester here; the electrician comes on Friday"},
		{ID: "g", At: at(24), Item: "continuity of earth", Text: "0.1 Ω"},
		{ID: "h", At: at(25), Item: "dial lamp", Text: "good"},
		{ID: "i", At: at(26), Item: "aux: in L to out L", Without: "no such socket"},
	}
	now := Now{
		Repaired: at(10),
		Tried: []trace.Tried{
			{Entry: "in L", Exit: "out L", Was: quantity.Nothing, Mark: quantity.OK},
			{Entry: "in R", Exit: "out R", Was: quantity.OK, Mark: quantity.Weak},
			{Mode: "aux", Entry: "in L", Exit: "out L"},
		},
		Adjusting: []adjust.Entry{
			{ID: "x", At: at(3), Adjustment: "offset, left", Read: &adjust.Read{Text: "80 mV"}},
			{ID: "y", At: at(15), Adjustment: "offset, left", Read: &adjust.Read{Text: "3 mV"}},
			{ID: "z", At: at(16), Heat: &adjust.Heat{Watts: "40 W"}},
		},
	}
	got := map[string]Standing{}
	all := Look(plan, entries, now)
	for _, s := range all {
		got[s.Name] = s
	}
	for name, want := range map[string]struct {
		state         State
		before, after string
	}{
		"hum, out L":            {Fine, "36.5 dB", "66.9 dB"},
		"separation, out L":     {Off, "54 dB", "20 dB"},
		"insulation":            {Without, "", ""},
		"continuity of earth":   {Noted, "", "100 mΩ"},
		"offset, left":          {Fine, "80 mV", "3 mV"},
		"idle power":            {Off, "", "40 W"},
		"hum, out R":            {Open, "", ""},
		"in L to out L":         {Fine, "none", "good"},
		"in R to out R":         {Off, "good", "weak"},
		"aux: in L to out L":    {Without, "", ""},
		"dial lamp":             {Fine, "", "good"},
		"the complaint is gone": {Open, "", ""},
	} {
		s, ok := got[name]
		value := func(r *Result) string {
			if r == nil {
				return ""
			}
			return r.Value
		}
		if !ok || s.State != want.state || value(s.Before) != want.before || value(s.After) != want.after {
			t.Errorf("%s: %t %s, %s, %s; want %v", name, ok, s.State, value(s.Before), value(s.After), want)
		}
	}
	if got["separation, out L"].Doubt == "" || got["in R to out R"].Doubt == "" || got["hum, out L"].Doubt != "" {
		t.Error("what was right before and is not now is said to be so, and nothing else")
	}
	says, open, off := Tell(all)
	if off != 3 || open != 11 || !strings.Contains(says, "idle power: 40 W, 10 W to 17 W") ||
		!strings.HasSuffix(says, "11 of 21 still open.") {
		t.Errorf("%s %d %d", says, open, off)
	}
	// The sheet has it otherwise now: what was typed stays, and is no longer judged.
	changed := small(t, sheet.Closing{Name: "hum, out L", Kind: sheet.ClosingOther, Most: "5 Hz"})
	if s := Look(changed, entries[3:4], Now{}); s[2].Name != "hum, out L" && !slices.ContainsFunc(s, func(x Standing) bool {
		return x.Name == "hum, out L" && x.State == Noted && x.After.Text == "0.9 mV"
	}) {
		t.Errorf("%+v", s)
	}
}

// Instruments take what needs nothing moved: DC, what is left with nothing fed in, a response at its frequencies.
func TestStepsForInstruments(t *testing.T) {
	plan := small(t)
	less := 0.2 / math.Sqrt(10) // a response is read 10 dB below full level
	for name, want := range map[string][]Step{
		"offset, left": {{From: "in L", At: "out L", DC: true}},
		"hum, out R":   {{From: "in R", At: "out R"}},
		"response, out R": {
			{"in R", less, 50, "out R", false}, {"in R", less, 1000, "out R", false}, {"in R", less, 15000, "out R", false},
		},
		"power, out L": nil, "separation, out L": nil, "insulation": nil,
	} {
		got := Steps(plan, item(t, plan, name))
		same := slices.EqualFunc(got, want, func(a, b Step) bool {
			near := math.Abs(a.Volts-b.Volts) < 1e-12 && math.Abs(a.Hz-b.Hz) < 1e-9
			a.Volts, a.Hz, b.Volts, b.Hz = 0, 0, 0, 0
			return near && a == b
		})
		if !same {
			t.Errorf("%s: %v", name, got)
		}
	}
}

func TestEntriesAreChecked(t *testing.T) {
	for text, e := range map[string]Entry{
		"which closing measurement": {Text: "good"},
		"or why it is done without": {Item: "hum"},
		"what was read, or":         {Item: "hum", Text: "1 mV", Without: "none"},
		"at most 300":               {Item: "hum", Text: strings.Repeat("x", 301)},
		"can be read":               {Item: "hum", Text: "\xff"},
	} {
		if err := Take(&e); err == nil || !strings.Contains(err.Error(), text) {
			t.Errorf("%v, want %q", err, text)
		}
	}
	if err := Take(&Entry{Item: "hum", Text: "1 mV"}); err != nil {
		t.Error(err)
	}
}
