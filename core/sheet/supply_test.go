package sheet

import (
	"math"
	"slices"
	"strings"
	"testing"
)

// powered is a small sheet with everything that supplies and care can have.
func powered() *Sheet {
	return &Sheet{
		Model: "powered",
		Points: []Point{
			{Name: "A", Expect: []Expectation{{Quantity: AC, Value: "2 Vpp", Shape: "square"}, {Quantity: DC, Value: "-40 V"}}},
			{Name: "B", Peak: "650 V"},
		},
		Stages: []Stage{{Name: "S", From: "A", To: "B", Rails: []string{"+12 V"}}},
		Rails: []Rail{
			{
				Name:            "+24 V",
				Value:           "24 V",
				From:            "T1 1-2",
				Fuse:            "F1",
				Rectifier:       "Full wave D1",
				Ripple:          "300 mVrms",
				RippleFrequency: "100 Hz",
				Load:            "0.2 A",
				Ohms:            "1k",
				Order:           "1",
			},
			{
				Name:      "+12 V",
				Value:     "12 V",
				From:      "+24 V",
				Regulator: "IC1",
				Up:        WithStart,
				Order:     "2",
			},
			{Name: "+5 V", Value: "5 V", From: "+12 V"},
		},
		Reservoirs: []Reservoir{
			{Name: "C1", Rail: "+24 V", Farads: "2200 µF"},
			{Name: "C2", Farads: "100 µF", Volts: "-320 V", Bleeder: "100k"},
		},
		Tracks: []Track{
			{Rail: "+12 V", Place: "IC1 out"},
			{Rail: "+12 V", Place: "far", After: "IC1 out", Ohms: "8 mΩ", Opens: "W3", Hangs: []string{"C9"}},
			{Rail: "+5 V", Place: "far"},
		},
		Hazards:   []Hazard{{Kind: "mains"}},
		WeakSpots: []WeakSpot{{Stage: "+12 V", What: "IC1 fails"}},
	}
}

func TestSuppliesAreWorkedOut(t *testing.T) {
	p, problems := powered().Plan()
	if Blocked(problems) {
		t.Fatal(problems)
	}
	r := p.Rails[0]
	// 300 mV rms of a triangle is 0.3·2·√3 peak to peak.
	if got := r.RippleV; got < 1.0392 || got > 1.0393 || r.RippleHz != 100 || r.LoadA != 0.2 || r.Ohms != 1000 || r.Parent != -1 ||
		r.Order != 1 ||
		r.RectifierKind() != "full wave" {
		t.Errorf("%+v", r)
	}
	if got := p.Feeds(2); !slices.Equal(got, []int{2, 1, 0}) {
		t.Errorf("+5 V is fed by %v", got)
	}
	if got := p.FuseRails("F1"); !slices.Equal(got, []int{0, 1, 2}) || len(p.FuseRails("")) != 0 {
		t.Errorf("F1 feeds %v", got)
	}
	if c := p.Reservoirs; c[0].Volts != 24 || c[0].Rail != 0 || c[1].Volts != 320 || c[1].BleederOhms != 100e3 || c[1].Rail != -1 {
		t.Errorf("%+v", c)
	}
	if pl := p.Places; pl[1].Before != 0 || pl[1].Ohms != 0.008 || pl[2].Before != -1 || pl[0].Ohms != copperOhms ||
		p.PlaceName(2) != "+5 V @ far" {
		t.Errorf("%+v", pl)
	}
	if i, ok := p.PlaceIndex("+12 V @ far"); !ok || i != 1 {
		t.Errorf("place %d, %v", i, ok)
	}
	// A square of 2 Vpp has a peak of 1 V on top of 40 V; pulses count as stated.
	if p.Points[0].PeakVolts != 41 || p.Points[1].PeakVolts != 650 {
		t.Errorf("peaks %g and %g", p.Points[0].PeakVolts, p.Points[1].PeakVolts)
	}
	for name, want := range map[string]bool{"S": true, "C1": true, "W3": true, "C9": true, "IC1 out": false, "": false} {
		if p.CanBeOut(name) != want {
			t.Errorf("%q can be out: %v", name, !want)
		}
	}
}

// Each thing that is wrong is named with the place where it stands, in the
// document and in its table.
func TestWrongSuppliesAreNamed(t *testing.T) {
	areSaid(t, powered, []wrong{
		{
			func(s *Sheet) { s.Rails[0].From = "+5 V" },
			"rails/0/from",
			"feeds itself: +24 V from +5 V from +12 V from +24 V",
			railsTable,
			"feed",
		},
		{func(s *Sheet) { s.Rails[1].From = "+12 V" }, "rails/1/from", "feeds itself: +12 V from +12 V", railsTable, "feed"},
		{func(s *Sheet) { s.Rails[0].Ripple = "3 kHz" }, "rails/0/ripple", "ripple is an AC voltage above zero", railsTable, "ripple"},
		{func(s *Sheet) { s.Rails[0].Ripple = "3 V dc" }, "rails/0/ripple", "ripple is an AC voltage above zero", railsTable, "ripple"},
		{func(s *Sheet) { s.Rails[0].RippleFrequency = "0 Hz" }, "rails/0/rippleFrequency", "above zero", railsTable, "ripplehz"},
		{func(s *Sheet) { s.Rails[0].Load = "20 V" }, "rails/0/load", "not a current", railsTable, "load"},
		{func(s *Sheet) { s.Rails[0].Ohms = "-4" }, "rails/0/ohms", "above zero", railsTable, "railohms"},
		{
			func(s *Sheet) { s.Rails[0].Rectifier = "D1" },
			"rails/0/rectifier",
			"begin with half wave, full wave, switching",
			railsTable,
			"rectifier",
		},
		{func(s *Sheet) { s.Rails[1].Up = "later" }, "rails/1/up", "write mains or start", railsTable, "up"},
		{func(s *Sheet) { s.Rails[1].Order = "first" }, "rails/1/order", "no place in an order", railsTable, "order"},
		{func(s *Sheet) { s.Reservoirs[0].Farads = "" }, "reservoirs/0/farads", "needs its capacitance", reservoirsTable, "farads"},
		{func(s *Sheet) { s.Reservoirs[0].Farads = "12 V" }, "reservoirs/0/farads", "not a capacitance", reservoirsTable, "farads"},
		{func(s *Sheet) { s.Reservoirs[0].Rail = "+9 V" }, "reservoirs/0/rail", "which the sheet does not have", reservoirsTable, "onrail"},
		{func(s *Sheet) { s.Reservoirs[1].Volts = "" }, "reservoirs/1/volts", "what it is charged to", reservoirsTable, "volts"},
		{func(s *Sheet) { s.Reservoirs[1].Name = "C1" }, "reservoirs/1/name", "two reservoirs are called C1", reservoirsTable, "reservoir"},
		{
			func(s *Sheet) { s.Tracks[1].After = "nowhere" },
			"tracks/1/after",
			"list the places from the supply outwards",
			tracksTable,
			"after",
		},
		{func(s *Sheet) { s.Tracks[1].After = "" }, "tracks/1/after", "has a first place already", tracksTable, "after"},
		{func(s *Sheet) { s.Tracks[1].Place = "IC1 out" }, "tracks/1/place", "a name of its own", tracksTable, "place"},
		{func(s *Sheet) { s.Tracks[1].Ohms = "0" }, "tracks/1/ohms", "above zero", tracksTable, "trackohms"},
		{func(s *Sheet) { s.Tracks[0].Rail = "+9 V" }, "tracks/0/rail", `a rail called "+9 V"`, tracksTable, "onrail"},
		{func(s *Sheet) { s.Hazards[0].Kind = "dragons" }, "hazards/0/kind", "not a known danger", hazardsTable, "danger"},
		{func(s *Sheet) { s.WeakSpots[0].Stage = "Q9" }, "weakSpots/0/stage", "neither a stage, a rail nor a control", weakTable, "in"},
		{func(s *Sheet) { s.WeakSpots[0].What = "" }, "weakSpots/0/what", "say what the usual fault is", weakTable, "weak"},
		{
			func(s *Sheet) { s.Modifications = []Modification{{What: "", Why: "hum"}} },
			"modifications/0/what", "a few words", modifiedTable, "modified",
		},
		{
			func(s *Sheet) { s.Modifications = []Modification{{What: "+12 V", Why: "hum"}} },
			"modifications/0/what", "give the modification another", modifiedTable, "modified",
		},
		{
			func(s *Sheet) { s.Modifications = []Modification{{What: "bleeder", Stage: "Q9"}} },
			"modifications/0/stage", "neither a stage", modifiedTable, "modifies",
		},
		{
			func(s *Sheet) { s.Adjustments = []Adjustment{{Name: "idle", Target: "a little"}} },
			"adjustments/0/target", "Or write least, most", adjustTable, "target",
		},
		{
			func(s *Sheet) { s.Adjustments = []Adjustment{{Name: "idle", Target: "12 mV", Tolerance: "3 Hz"}} },
			"adjustments/0/tolerance", "does not fit a voltage", adjustTable, "tol",
		},
		{
			func(s *Sheet) { s.Adjustments = []Adjustment{{Name: "idle", After: []string{"offset"}}} },
			"adjustments/0/after", "no adjustment of this sheet", adjustTable, "after",
		},
		{
			func(s *Sheet) { s.Adjustments = []Adjustment{{Name: "idle", Twin: "idle"}} },
			"adjustments/0/twin", "no other adjustment", adjustTable, "twin",
		},
		{
			func(s *Sheet) { s.Adjustments = []Adjustment{{Name: "idle", Ohms: "-1"}} },
			"adjustments/0/ohms", "no value that can be", adjustTable, "shunt",
		},
		{
			func(s *Sheet) { s.Adjustments = []Adjustment{{Name: "idle", Turn: "VR1"}, {Name: "idle"}} },
			"adjustments/1/name", "two adjustments", adjustTable, "adjust",
		},
		{
			func(s *Sheet) { s.Closing = []Closing{{Name: "hum", Kind: "humming"}} },
			"closing/0/kind", "not a known kind", closingTable, "checks",
		},
		{
			func(s *Sheet) { s.Closing = []Closing{{Name: "hum", Kind: ClosingHum, Most: "2 W"}} },
			"closing/0/most", "does not fit", closingTable, "most",
		},
		{
			func(s *Sheet) { s.Closing = []Closing{{Name: "idle", Kind: ClosingIdle, Least: "20 W", Most: "10 W"}} },
			"closing/0/least", "cannot both be", closingTable, "least",
		},
		{
			func(s *Sheet) {
				s.Closing = []Closing{{Name: "response", Kind: ClosingResponse, Frequencies: []string{"1k"}}}
			},
			"closing/0/frequencies", "two frequencies", closingTable, "hertz",
		},
		{
			func(s *Sheet) { s.Closing = []Closing{{Name: "hum", Kind: ClosingHum, At: "nowhere"}} },
			"closing/0/at", "no point called", closingTable, "readat",
		},
		{func(s *Sheet) { s.Points[1].Peak = "high" }, "points/1/peak", "character 1", pathTable, "peak"},
	})
}

// wrong is a mistake made in a sheet, where it stands in the document and in the
// tables, and a part of what is said of it.
type wrong struct {
	edit        func(s *Sheet)
	path, says  string
	table, cell string
}

// areSaid makes each mistake in a sheet of its own, and looks for what is said.
func areSaid(t *testing.T, sheet func() *Sheet, mistakes []wrong) {
	t.Helper()
	for _, x := range mistakes {
		s := sheet()
		x.edit(s)
		again, origin := FromTables(s.Tables())
		_, problems := again.Plan()
		i := slices.IndexFunc(problems, func(p Problem) bool { return p.Path == x.path && strings.Contains(p.Message, x.says) })
		if i < 0 {
			t.Errorf("%s: %v, want %q", x.path, problems, x.says)
			continue
		}
		if c, ok := origin.Find(x.path); !ok || c.Table != x.table || c.Column != x.cell {
			t.Errorf("%s stands in %+v", x.path, c)
		}
	}
}

// Heaters alternate: the volts are rms, and read in AC.
func TestARailThatAlternates(t *testing.T) {
	s := powered()
	s.Rails = []Rail{{Name: "heaters", Value: "17.8 Vpp"}, {Name: "+9 V", Value: "9 V"}}
	s.Stages[0].Rails, s.Reservoirs, s.Tracks, s.WeakSpots = nil, nil, nil, nil
	p, problems := s.Plan()
	if Blocked(problems) {
		t.Fatal(problems)
	}
	if r := p.Rails[0]; !r.Alternates || math.Abs(r.Volts-6.293) > 0.001 || p.LineReads(0) != AC || r.Due() != "6.29 Vrms" {
		t.Errorf("%+v %s", r, r.Due())
	}
	if r := p.Rails[1]; r.Alternates || p.LineReads(1) != DC || r.Due() != "9 V" {
		t.Errorf("%+v %s", r, r.Due())
	}
	s.Rails[0].Value = "-6.3 Vac"
	if _, problems = s.Plan(); !Blocked(problems) {
		t.Error("an alternating voltage below zero is taken")
	}
}

// A rail of which nothing is stated has the ripple that is usual: a twentieth behind a rectifier, a hundredth behind a filter.
func TestUsualRipple(t *testing.T) {
	s := powered()
	s.Stages[0].Rails, s.Reservoirs, s.Tracks, s.WeakSpots = nil, nil, nil, nil
	s.Rails = []Rail{
		{Name: "raw", Value: "-40 V"},
		{Name: "clean", Value: "30 V", From: "raw"},
		{Name: "told", Value: "9 V", Ripple: "5 mVpp"},
	}
	p, problems := s.Plan()
	if Blocked(problems) {
		t.Fatal(problems)
	}
	for i, want := range []float64{2, 0.3, 0.005} {
		pp, from := p.Rails[i].MostRipple()
		if math.Abs(pp-want) > 1e-12 || (from == Usual) != (i < 2) {
			t.Errorf("%s: %g V, %v", p.Rails[i].Name, pp, from)
		}
	}
}
