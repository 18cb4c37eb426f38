package sheet

import (
	"slices"
	"strings"
	"testing"

	"steptrace/core/quantity"
)

// mixer is a set with a control, a ground, an oscillator that a stage needs,
// feedback around two stages, and two channels behind it.
func mixer() *Sheet {
	return &Sheet{Model: "M",
		Points: []Point{
			{Name: "A", Expect: []Expectation{{Quantity: AC, Value: "1 mV"}}},
			{Name: "LO", Expect: []Expectation{{Quantity: AC, Value: "100 mV"}}},
			{Name: "B"},
			{Name: "C"},
			{Name: "L", Twin: "R"},
			{Name: "R"},
		},
		Stages: []Stage{
			{Name: "mixer", Kind: "mixer", From: "A", To: "B", Gain: "20 dB", Rails: []string{"+9 V"}, Needs: []string{"LO", "AGC", "E1"}},
			{Name: "amplifier", From: "B", To: "C", Gain: "20 dB", Needs: []string{"MUTE"}},
			{Name: "left", From: "C", To: "L", Gain: "0 dB"}, {Name: "right", From: "C", To: "R", Gain: "0 dB"},
			{Name: "oscillator", Kind: "oscillator", To: "LO", Rails: []string{"+9 V"}},
			{Name: "return", Kind: "feedback", From: "C", To: "A"}},
		Rails: []Rail{{Name: "+9 V", Value: "9 V"}},
		Controls: []Control{{Name: "AGC", Does: "gain", Value: "1.2 V", From: "the detector"}, {Name: "E1", Does: "ground"},
			{
				Name:   "MUTE",
				Does:   "mute",
				Value:  "4.8 V",
				Worked: "0 V",
				By:     "key held",
				From:   "LOGIC",
			}, {Name: "LOGIC", Does: "enable", Value: "5 V", From: "+9 V"}}}
}

func TestControlsOscillatorsAndLoops(t *testing.T) {
	p, problems := mixer().Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	line, _ := p.LineIndex("MUTE")
	var feeds []string
	for _, f := range p.Feeds(line) {
		feeds = append(feeds, p.LineName(f))
	}
	if got := strings.Join(feeds, ", "); got != "MUTE, LOGIC, +9 V" {
		t.Errorf("MUTE is made from %s", got)
	}
	if c := p.Controls[2]; !c.Moves || c.Worked != 0 || c.WorkedTolerance.High != zeroTolerance.High {
		t.Errorf("%+v", c)
	}
	m := p.Stages[0]
	if len(m.Lines) != 3 || len(m.Signals) != 1 || p.Points[m.Signals[0]].Name != "LO" {
		t.Errorf("the mixer needs %v and %v", m.Lines, m.Signals)
	}
	if len(p.Loops) != 1 || p.Stages[p.Loops[0].Feedback].Name != "return" || !slices.Equal(p.Loops[0].Inside, []int{0, 1}) {
		t.Errorf("loops %+v", p.Loops)
	}
	var routes []string
	for _, r := range p.Routes {
		routes = append(routes, r.Name)
	}
	if got := strings.Join(routes, "; "); got != "A to L; A to R; oscillator, by itself to LO" {
		t.Errorf("routes %s", got)
	}
	if p.Points[4].Twin != 5 || p.Points[5].Twin != 4 || p.Points[0].Twin != -1 {
		t.Errorf("twins %d and %d", p.Points[4].Twin, p.Points[5].Twin)
	}
}

// What is wrong with them is said, at the cell it stands in.
func TestProblemsOfControls(t *testing.T) {
	areSaid(t, mixer, []wrong{
		{func(s *Sheet) { s.Controls[0].Does = "magic" }, "controls/0/does", "nothing a control does", controlsTable, "does"},
		{func(s *Sheet) { s.Controls[0].Value = "" }, "controls/0/value", "while the signal passes", controlsTable, "value"},
		{func(s *Sheet) { s.Controls[0].Value = "loud" }, "controls/0/value", "character 1", controlsTable, "value"},
		{func(s *Sheet) { s.Controls[0].From = "" }, "controls/0/from", "nothing drives it", controlsTable, "driven"},
		{func(s *Sheet) { s.Controls[2].By = "" }, "controls/2/by", "nobody can tell how", controlsTable, "by"},
		{func(s *Sheet) { s.Controls[0].Name = "" }, "controls/0/name", "needs a name", controlsTable, "control"},
		{func(s *Sheet) { s.Controls[0].Name = "+9 V" }, "controls/0/name", "two lines are called", controlsTable, "control"},
		{func(s *Sheet) { s.Controls[0].Name = "B" }, "controls/0/name", "a point is called B too", controlsTable, "control"},
		{
			func(s *Sheet) { s.Controls[3].From = "MUTE" },
			"controls/2/from",
			"it feeds itself: MUTE from LOGIC from MUTE",
			controlsTable,
			"driven",
		},
		{func(s *Sheet) { s.Stages[0].Needs[1] = "TUNE" }, "stages/0/needs/1", "neither a control nor a point", pathTable, "also"},
		{func(s *Sheet) { s.Stages[5].From, s.Stages[5].To = "A", "C" }, "stages/5/to", "exchange From and To", stagesTable, "to"},
		{func(s *Sheet) { s.Points[4].Twin = "Q" }, "points/4/twin", "no point of this sheet", pathTable, "twin"},
		{func(s *Sheet) { s.Points[4].Twin = "L" }, "points/4/twin", "not its own twin", pathTable, "twin"},
	})
}

// A point that no signal passes in any one mode is doubted, with what to look at.
func TestAPointThatNoModeReaches(t *testing.T) {
	s := mixer()
	s.Points = append(s.Points, Point{Name: "X"}, Point{Name: "Y"})
	s.Stages = append(
		s.Stages,
		Stage{Name: "to X", From: "A", To: "X", Modes: []string{"tape"}},
		Stage{Name: "to Y", From: "X", To: "Y", Modes: []string{"radio"}},
	)
	_, problems := s.Plan()
	for _, point := range []string{"X", "Y"} {
		if !slices.ContainsFunc(problems, func(p Problem) bool {
			return p.Severity == Doubtful && p.Where == "point "+point && strings.Contains(p.Message, "in no mode does a signal pass it")
		}) {
			t.Errorf("%s: %v", point, problems)
		}
	}
}

// deflection is a line output with two rails made from its pulses, one of which a later stage needs.
func deflection() *Sheet {
	pulses := Expectation{Quantity: AC, Value: "18 V"}
	return &Sheet{
		Model: "deflection",
		Points: []Point{
			{Name: "drive", Expect: []Expectation{pulses}},
			{Name: "pulses"},
			{Name: "saw", Expect: []Expectation{pulses}},
			{Name: "yoke"},
		},
		Rails: []Rail{{Name: "+110 V", Value: "110 V", From: "T1"}, {Name: "+24 V", Value: "24 V", From: "pulses"},
			{Name: "+8 V", Value: "8 V", From: "+24 V"}},
		Stages: []Stage{
			{Name: "line oscillator", Kind: "oscillator", To: "drive"},
			{Name: "line output", Kind: "amplifier", From: "drive", To: "pulses", Gain: "10 dB", Rails: []string{"+110 V"}},
			{Name: "field oscillator", Kind: "oscillator", To: "saw", Rails: []string{"+8 V"}},
			{Name: "field output", Kind: "amplifier", From: "saw", To: "yoke", Gain: "0 dB", Rails: []string{"+24 V"}},
		},
	}
}

// A rail made from a signal depends on all that makes it, and so does what hangs on it.
func TestARailMadeFromASignal(t *testing.T) {
	p, problems := deflection().Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	named := func(on []bool) string {
		var out []string
		for k, yes := range on {
			if yes {
				out = append(out, p.BlockName(k))
			}
		}
		return strings.Join(out, ", ")
	}
	line, _ := p.LineIndex("+8 V")
	if w := p.LinePaths(line); named(w.Every) != "line oscillator, line output, +110 V, +24 V, +8 V" || named(w.Any) != named(w.Every) {
		t.Errorf("+8 V depends on %s", named(w.Every))
	}
	line, _ = p.LineIndex("+110 V")
	if w := p.LinePaths(line); named(w.Any) != "+110 V" {
		t.Errorf("+110 V depends on %s", named(w.Any))
	}
	from, _ := p.PointIndex("saw")
	to, _ := p.PointIndex("yoke")
	if w := p.Paths("", from, to, nil); named(w.Every) != "line oscillator, line output, field output, +110 V, +24 V" {
		t.Errorf("the field output depends on %s", named(w.Every))
	}
	// One that keeps itself going is no endless walk.
	s := deflection()
	s.Stages[0].Rails = []string{"+8 V"}
	p, problems = s.Plan()
	line, _ = p.LineIndex("+24 V")
	if w := p.LinePaths(line); len(problems) > 0 || named(w.Every) != "line oscillator, line output, +110 V, +24 V, +8 V" {
		t.Errorf("%v; +24 V in a ring depends on %s", problems, named(w.Every))
	}
}

// A radio frequency goes on through amplifiers and filters, and not through what makes another one of it; an
// audible one goes on through a mixer that adds sounds up.
func TestAFrequencyGoesOnAsFarAsItIsTheSame(t *testing.T) {
	for _, c := range []struct{ hz, kind, want string }{
		{"90 MHz", "amplifier", "90 MHz"}, {"90 MHz", "filter", "90 MHz"}, {"90 MHz", "mixer", ""}, {"455 kHz", "detector", ""},
		{"1 kHz", "mixer", "1 kHz"}, {"15.6 kHz", "detector", "15.6 kHz"},
	} {
		s := &Sheet{
			Model: "one stage",
			Points: []Point{
				{Name: "in", Expect: []Expectation{{Quantity: AC, Value: "1 mV"}, {Quantity: Frequency, Value: c.hz}}},
				{Name: "out"},
			},
			Stages: []Stage{{Name: "stage", Kind: c.kind, From: "in", To: "out", Gain: "0 dB"}},
		}
		p, _ := s.Plan()
		got := ""
		if hz := p.Routes[0].Levels[1].Hz; hz > 0 {
			got = quantity.Frequency(hz)
		}
		if got != c.want {
			t.Errorf("behind a %s %s is %q, want %q", c.kind, c.hz, got, c.want)
		}
	}
}
