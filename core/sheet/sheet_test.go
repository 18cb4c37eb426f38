package sheet

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"testing"

	"steptrace/core/exchange"
)

// pasted is a table as it comes out of a spreadsheet: tabs, decimal commas.
const pasted = "Test point\tDrawing\tDescription\tStage\tKind\tGain\tSignal\tTol\tFreq\tDC\tRails\n" +
	"P1\t1\tinput\t\t\t\t2 mV\t\t1 kHz\t\t\n" +
	"P2\t2\tafter first\tA1\tamplifier\t34 dB\t100 mV\t\t\t4,2 V\t+12 V\n" +
	"P3\t3\tafter filter\tF1\tfilter\t-14\t\t\t\t\t\n" +
	"P4\t4\tout\tA2\tamplifier\t×10\t200 mV\t1 dB\t\t\t+12 V\n\n" +
	"Rail\tVolts\tTolerance\n+12 V\t12 V\t5 %\n"

func read(t *testing.T, text string) *Sheet {
	t.Helper()
	tables, problems, err := ReadCSV([]byte(text))
	if err != nil || len(problems) > 0 {
		t.Fatalf("ReadCSV: %v, %v", err, problems)
	}
	s, _ := FromTables(tables)
	return s
}

func TestPastedTableBecomesARoute(t *testing.T) {
	s := read(t, pasted)
	s.Model = "X1"
	plan, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatalf("problems: %v", problems)
	}
	if len(plan.Routes) != 1 || len(plan.Routes[0].Points) != 4 {
		t.Fatalf("routes: %+v", plan.Routes)
	}
	r := &plan.Routes[0]
	// P3 is not stated: 100 mV less 14 dB.
	want := 20*math.Log10(0.1) - 14
	if l := r.Levels[2]; !l.Known || l.Stated || math.Abs(l.DBV-want) > 1e-9 {
		t.Errorf("P3 is %+v, want %g dBV worked out", l, want)
	}
	if l := r.Levels[3]; l.Hz != 1000 || l.Tolerance.Low != 1 || l.Text() != "200 mV" {
		t.Errorf("P4 is %+v, %s", l, l.Text())
	}
	if plan.Rails[0].Volts != 12 || len(plan.Stages[0].Rails) != 1 || plan.Points[1].Expected[1].Value.SI != 4.2 {
		t.Errorf("rails or DC values lost: %+v", plan)
	}
}

func TestWhatIsWrittenReadsBackTheSame(t *testing.T) {
	s := &Sheet{
		Format:   Format,
		Version:  Version,
		Maker:    "Ostrel",
		Model:    "RT-7",
		Kind:     "deck, \"open\" reel",
		Note:     "line one\nline two",
		Settings: "level at click",
		Points: []Point{
			{Name: "In", Expect: []Expectation{{Quantity: AC, Value: "2 mV", Tolerance: "1 dB"}, {Quantity: Frequency, Value: "1 kHz"}}},
			{
				Name:    "Tape",
				Drawing: "7",
				Source:  "10k",
				Minutes: "2",
				Hazard:  "mains near",
				Expect: []Expectation{
					{Quantity: DC, Value: "4,2 V"},
					{Quantity: AC, Value: "300 mVpp", Shape: "square", Mode: "tape", Drive: "1 mV"},
				},
			},
			{
				Name:   "Out",
				Note:   "to; the, world",
				Expect: []Expectation{{Quantity: Frequency, Value: "1 kHz", Tolerance: "2 %"}, {Quantity: Resistance, Value: "4k7"}},
			},
		},
		Stages: []Stage{{Name: "A", Kind: "amplifier", From: "In", To: "Tape", Gain: "20 dB", Rails: []string{"+12 V", "-12 V"}},
			{
				Name:  "B",
				From:  "Tape",
				To:    "Out",
				Modes: []string{"tape"},
				Limit: "7 V",
			}, {Name: "C", From: "In", To: "Out", Modes: []string{"direct"}, Note: "jumper"}},
		Rails:  []Rail{{Name: "+12 V", Value: "12 V", Point: "C9"}, {Name: "-12 V", Value: "-12 V", Tolerance: "10 %", Note: "regulated"}},
		Routes: []RouteName{{Name: "Tape playing", From: "In", To: "Out", Mode: "tape"}},
	}
	back, err := ReadJSON(s.WriteJSON())
	if err != nil || !reflect.DeepEqual(back, s) {
		t.Errorf("JSON: %v\n%+v\n%+v", err, back, s)
	}
	tables, problems, err := ReadCSV(s.WriteCSV())
	if err != nil || len(problems) > 0 {
		t.Fatalf("CSV: %v %v\n%s", err, problems, s.WriteCSV())
	}
	if back, _ = FromTables(tables); !reflect.DeepEqual(back, s) {
		a, _ := json.Marshal(back)
		b, _ := json.Marshal(s)
		t.Errorf("CSV:\n%s\n%s\n%s", a, b, s.WriteCSV())
	}
}

func TestProblemsSayWhere(t *testing.T) {
	chain := func(edit func(s *Sheet)) *Sheet {
		s := read(t, pasted)
		s.Model = "X1"
		edit(s)
		return s
	}
	cases := []struct {
		name     string
		edit     func(s *Sheet)
		severity Severity
		path     string
		says     []string
	}{
		{"no model", func(s *Sheet) { s.Model = " " }, Blocking, "model", []string{"model name"}},
		{
			"two points of one name",
			func(s *Sheet) { s.Points[2].Name = "P2" },
			Blocking,
			"points/2/name",
			[]string{"two points are called P2", "lines 2 and 3"},
		},
		{
			"unreadable number",
			func(s *Sheet) { s.Points[1].Expect[0].Value = "10 mX" },
			Blocking,
			"points/1/expect/0/value",
			[]string{"character 5", "not a unit"},
		},
		{
			"a voltage for a frequency",
			func(s *Sheet) { s.Points[0].Expect[1].Value = "3 V" },
			Blocking,
			"points/0/expect/1/value",
			[]string{"voltage, not a frequency"},
		},
		{"dangling end", func(s *Sheet) { s.Stages[2].To = "P9" }, Blocking, "stages/2/to", []string{"ends at P9", "not a point"}},
		{"stage from nowhere", func(s *Sheet) { s.Stages[0].From = "" }, Blocking, "stages/0/from", []string{"begins nowhere"}},
		{
			"loop",
			func(s *Sheet) { s.Stages = append(s.Stages, Stage{Name: "back", From: "P3", To: "P2"}) },
			Blocking,
			"stages",
			[]string{"loop: P2 to P3 to P2"},
		},
		{"loop of one", func(s *Sheet) { s.Stages[1].To = "P2" }, Blocking, "stages/1/to", []string{"begins and ends at P2"}},
		{
			"level against gain",
			func(s *Sheet) { s.Points[1].Expect[0].Value = "200 mV" },
			Doubtful,
			"stages/0/gain",
			[]string{"A1 is given +34 dB", "200 mV", "contradict by 6.0 dB"},
		},
		{
			"level against several gains",
			func(s *Sheet) { s.Points[3].Expect[0].Value = "400 mV" },
			Doubtful,
			"stages/2/gain",
			[]string{"between are given +6 dB", "contradict by 6.0 dB"},
		},
		{"unknown rail", func(s *Sheet) { s.Stages[0].Rails = []string{"+9 V"} }, Blocking, "stages/0/rails/0", []string{"+9 V"}},
		{
			"isolated point",
			func(s *Sheet) { s.Points = append(s.Points, Point{Name: "TP9"}) },
			Doubtful,
			"points/4/name",
			[]string{"no stage leads to it"},
		},
		{"mode nobody has", func(s *Sheet) { s.Points[1].Expect[0].Mode = "radio" }, Doubtful, "points/1/expect/0/mode", []string{"radio"}},
		{
			"tolerance of another unit",
			func(s *Sheet) { s.Points[3].Expect[0].Tolerance = "3 Hz" },
			Blocking,
			"points/3/expect/0/tolerance",
			[]string{"does not fit"},
		},
		{"bad limit", func(s *Sheet) { s.Stages[0].Limit = "loud" }, Blocking, "stages/0/limit", []string{"highest output level"}},
		{"agc without range", func(s *Sheet) { s.Stages[0].Limit = "agc" }, Blocking, "stages/0/limit", []string{"range"}},
		{"rail of nothing", func(s *Sheet) { s.Rails[0].Value = "0 V" }, Blocking, "rails/0/value", []string{"ground"}},
		{
			"odd shape with p-p",
			func(s *Sheet) { s.Points[3].Expect[0] = Expectation{Quantity: AC, Value: "1 Vpp", Shape: "burst"} },
			Blocking,
			"points/3/expect/0/shape",
			[]string{"rms"},
		},
		{"same conditions twice", func(s *Sheet) {
			s.Points[0].Expect = append(s.Points[0].Expect, Expectation{Quantity: AC, Value: "3 mV"})
		}, Doubtful, "points/0/expect/2/value", []string{"second ac value"}},
		{"negative minutes", func(s *Sheet) { s.Points[0].Minutes = "-1" }, Blocking, "points/0/minutes", []string{"below zero"}},
		{"empty sheet", func(s *Sheet) { *s = Sheet{Model: "Y"} }, Blocking, "points", []string{"no points yet"}},
		{
			"route name astray",
			func(s *Sheet) { s.Routes = []RouteName{{Name: "R", From: "P4", To: "P1"}} },
			Doubtful,
			"routes/0/from",
			[]string{"no route runs from P4 to P1"},
		},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			plan, problems := chain(c.edit).Plan()
			if plan == nil {
				t.Fatal("no plan to draw")
			}
			for _, p := range problems {
				if p.Path != c.path || p.Severity != c.severity {
					continue
				}
				for _, say := range c.says {
					if !strings.Contains(p.Message, say) {
						t.Errorf("%q does not say %q", p.Message, say)
					}
				}
				return
			}
			t.Errorf("no %s at %s among %+v", c.severity, c.path, problems)
		})
	}
}

func TestProblemFindsItsCell(t *testing.T) {
	tables, _, err := ReadCSV([]byte(strings.Replace(pasted, "100 mV", "100 mQ", 1)))
	if err != nil {
		t.Fatal(err)
	}
	s, origin := FromTables(tables)
	_, problems := s.Plan()
	for _, p := range problems {
		if p.Path != "points/1/expect/0/value" {
			continue
		}
		cell, ok := origin.Find(p.Path)
		if !ok || cell != (Cell{"path", 1, "ac"}) || tables.Line(cell) != 3 {
			t.Errorf("cell %+v on line %d, %v", cell, tables.Line(cell), ok)
		}
		return
	}
	t.Errorf("unreadable level not reported: %v", problems)
}

func TestModesSelectRoutes(t *testing.T) {
	s := read(
		t,
		"point,stage,from,modes,gain,ac\nTape,,,,,10 mV\nRadio,,,,,20 mV\nBus,tape switch,Tape,tape,0 dB,\nOut,amp,Bus,,20 "+
			"dB,\n\nstage,from,to,modes\nradio switch,Radio,Bus,radio\n",
	)
	s.Model = "X"
	plan, problems := s.Plan()
	if Blocked(problems) {
		t.Fatal(problems)
	}
	var got []string
	for _, r := range plan.Routes {
		got = append(got, r.Name)
	}
	if want := "tape, Tape to Out / radio, Radio to Out"; strings.Join(got, " / ") != want {
		t.Errorf("routes %q, want %q", strings.Join(got, " / "), want)
	}
	// The radio switch has no gain and its far end no level: nothing is invented.
	if l := plan.Routes[1].Levels[1]; l.Known {
		t.Errorf("a level was made up: %+v", l)
	}
	if _, ok := plan.Drive(&plan.Routes[1], 0, -20, 1); ok {
		t.Error("a level was made up from a drive")
	}
}

// Levels follow the drive dB for dB, and stop at clipping and gain control.
func TestDriveScalesUpToALimit(t *testing.T) {
	s := read(
		t,
		"point,stage,gain,limit,ac\nA,,,,10 mV\nB,amp,40 dB,1.2589254 V,1 V\nC,pad,-20 dB,,100 mV\nD,controlled,0 dB,agc 30 dB,100 mV\n",
	)
	s.Model = "X"
	plan, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	r := &plan.Routes[0]
	cases := []struct {
		from  int
		shift float64 // of the drive, dB
		to    int
		want  float64 // shift there
	}{
		{0, -10, 1, -10}, {0, -10, 2, -10}, {0, -10, 3, 0}, {0, -35, 3, -5},
		{0, 10, 1, 2}, {0, 10, 2, 2}, {0, 10, 3, 0}, {2, -6, 2, -6}, {1, -3, 2, -3}, {2, 20, 3, 0},
	}
	for _, c := range cases {
		got, ok := plan.Drive(r, c.from, r.Levels[c.from].DBV+c.shift, c.to)
		if got -= r.Levels[c.to].DBV; !ok || math.Abs(got-c.want) > 1e-6 {
			t.Errorf("%+g dB fed in at %d: %+g dB at %d, want %+g", c.shift, c.from, got, c.to, c.want)
		}
	}
}

func TestToleranceAndDriveOfAnExpectation(t *testing.T) {
	s := &Sheet{Model: "X", Points: []Point{
		{Name: "A", Expect: []Expectation{{Quantity: AC, Value: "10 mV"}}},
		{Name: "B", Expect: []Expectation{{Quantity: AC, Value: "200 mVpp", Tolerance: "10 %", Drive: "20 mV"}}}},
		Stages: []Stage{{Name: "S", From: "A", To: "B"}}}
	plan, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	l := plan.Routes[0].Levels[1]
	// 200 mVpp for 20 mV in is 100 mVpp for 10 mV: 35.36 mV rms.
	if want := 20 * math.Log10(0.1/(2*math.Sqrt2)); math.Abs(l.DBV-want) > 1e-9 {
		t.Errorf("level %g, want %g", l.DBV, want)
	}
	if math.Abs(l.Tolerance.Low-0.9151) > 1e-3 || math.Abs(l.Tolerance.High-0.8279) > 1e-3 {
		t.Errorf("10 %% in dB: %+v", l.Tolerance)
	}
	if g := plan.Routes[0].Gains[0]; math.Abs(g-20*math.Log10(3.5355339)) > 1e-5 {
		t.Errorf("gain worked out: %g", g)
	}
}

func TestBrokenFilesAreRefusedWithTheLine(t *testing.T) {
	for name, c := range map[string]struct {
		data string
		csv  bool
		line int
		says string
	}{
		"half JSON":          {"{\n \"format\": \"steptrace-sheet\",\n", false, 3, "ends in the middle"},
		"not JSON":           {"{\n \"format\": oops}", false, 2, "not JSON"},
		"unknown field":      {"{\"format\":\"steptrace-sheet\",\"version\":1,\"colour\":1}", false, 1, "colour"},
		"wrong kind":         {"{\n\"points\": 3}", false, 2, "a list is expected"},
		"foreign":            {"{\"format\":\"something\",\"version\":1}", false, 0, "no service sheet"},
		"newer":              {"{\"format\":\"steptrace-sheet\",\"version\":9}", false, 0, "version 9"},
		"two values":         {string((&Sheet{}).WriteJSON()) + "{}", false, 10, "follows after the end"},
		"half a quote":       {"point,ac\nA,\"3 mV\nB,4 mV\n", true, 2, "quotation mark"},
		"decimal commas":     {"point,ac\nA,3 mV\nB,4,2 mV\n", true, 3, "3 cells where the heading has 2"},
		"no heading":         {"A,3 mV\nB,4 mV\n", true, 1, "before any heading"},
		"empty":              {"", true, 0, "no heading row"},
		"binary":             {"PK\x03\x04\x00\x00", true, 0, "not text"},
		"wide characters":    {"\xff\xfep\x00o\x00", true, 0, "not text"},
		"only a model line":  {"model,RT-7\n", true, 0, "no heading row"},
		"heading of nothing": {"point\nA\n", true, 1, "before any heading"},
	} {
		var err error
		if c.csv {
			_, _, err = ReadCSV([]byte(c.data))
		} else {
			_, err = ReadJSON([]byte(c.data))
		}
		e, ok := err.(*exchange.FileError)
		if !ok || e.Line != c.line || !strings.Contains(e.Problem, c.says) {
			t.Errorf("%s: %v; want line %d, %q", name, err, c.line, c.says)
		}
	}
}

func TestHostileSheetsStayBounded(t *testing.T) {
	// 40 diamonds in a row have 2^40 ways through.
	s := &Sheet{Model: "X", Points: []Point{{Name: "p0"}}}
	for i := range 40 {
		a, b, c := fmt.Sprintf("p%d", i), fmt.Sprintf("u%d", i), fmt.Sprintf("p%d", i+1)
		s.Points = append(s.Points, Point{Name: b}, Point{Name: c})
		for j, ends := range [][2]string{{a, b}, {b, c}, {a, c}} {
			s.Stages = append(s.Stages, Stage{Name: fmt.Sprintf("s%d.%d", i, j), From: ends[0], To: ends[1]})
		}
	}
	plan, problems := s.Plan()
	if len(plan.Routes) != maxRoutes || len(problems) == 0 {
		t.Errorf("%d routes, %v", len(plan.Routes), problems)
	}
	s.Points = make([]Point, maxPoints+1)
	if _, problems = s.Plan(); !Blocked(problems) {
		t.Error("a sheet beyond the limit was accepted")
	}
}

func FuzzReadCSV(f *testing.F) {
	f.Add([]byte(pasted))
	f.Add([]byte("model;X\npoint;ac;gain;stage\nA;1,2 V;;\nB;3 V;8;S"))
	f.Fuzz(func(t *testing.T, data []byte) {
		tables, _, err := ReadCSV(data)
		if err != nil {
			return
		}
		s, _ := FromTables(tables)
		_, _ = s.Plan()
		again, err := ReadJSON(s.WriteJSON())
		if err != nil || !bytes.Equal(again.WriteJSON(), s.WriteJSON()) {
			t.Fatalf("written and read back differently: %v", err)
		}
	})
}

// Sheets that come as files: refused with a line, or worked out without breaking, and written back the same.
func FuzzReadJSON(f *testing.F) {
	files, err := filepath.Glob("../../demo/sheets/*.json")
	if err != nil || len(files) == 0 {
		f.Fatal("no sheets to begin with", err)
	}
	for _, file := range files {
		data, err := os.ReadFile(file)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Add([]byte(`{"format":"steptrace-sheet","version":1,"model":"X","points":[{"name":"A","expect":[{"quantity":"ac","value":"1 V"}]},` +
		`{"name":"B"}],"stages":[{"name":"S","from":"A","to":"B","gain":"20 dB"}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := ReadJSON(data)
		if err != nil {
			return
		}
		_, _ = s.Plan()
		again, err := ReadJSON(s.WriteJSON())
		if err != nil || !bytes.Equal(again.WriteJSON(), s.WriteJSON()) {
			t.Fatalf("written and read back differently: %v", err)
		}
	})
}

func BenchmarkPlan60(b *testing.B) {
	s := &Sheet{Model: "X", Points: []Point{{Name: "p0", Expect: []Expectation{{Quantity: AC, Value: "1 mV"}}}}}
	for i := range 60 {
		s.Points = append(s.Points, Point{Name: fmt.Sprintf("p%d", i+1), Expect: []Expectation{{Quantity: AC, Value: "1 mV"}}})
		s.Stages = append(
			s.Stages,
			Stage{Name: fmt.Sprintf("s%d", i), From: fmt.Sprintf("p%d", i), To: fmt.Sprintf("p%d", i+1), Gain: "0 dB"},
		)
	}
	for b.Loop() {
		if plan, _ := s.Plan(); len(plan.Routes) != 1 {
			b.Fatal(plan.Routes)
		}
	}
}
