package sheet

import (
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
)

// randomSheet is a set without loops but for feedback: stages lead from lower
// to higher points.
// Levels are stated at random places, always as the gains make them.
func randomSheet(rng *rand.Rand) *Sheet {
	n := 2 + rng.IntN(9)
	s := &Sheet{Format: Format, Version: Version, Model: "random", Maker: "M;", Note: "a \"note\",\nin two lines"}
	for i := range n {
		s.Points = append(
			s.Points,
			Point{Name: fmt.Sprintf("p%d", i), Drawing: fmt.Sprint(i * 3), Note: strings.Repeat("x", rng.IntN(3)), Expect: []Expectation{}},
		)
	}
	forward := slices.DeleteFunc(slices.Clone(Kinds), func(k string) bool { return k == feedbackKind })
	for i := 1; i < n; i++ {
		for range 1 + rng.IntN(2) {
			from := rng.IntN(i)
			st := Stage{
				Name: fmt.Sprintf("s%d", len(s.Stages)),
				Kind: forward[rng.IntN(len(forward))],
				From: fmt.Sprintf("p%d", from),
				To:   fmt.Sprintf("p%d", i),
				Gain: fmt.Sprintf("%d dB", rng.IntN(41)-20),
			}
			if rng.IntN(3) == 0 {
				st.Modes = []string{[]string{"tape", "radio"}[rng.IntN(2)]}
			}
			s.Stages = append(s.Stages, st)
		}
	}
	rng.Shuffle(len(s.Stages), func(a, b int) { s.Stages[a], s.Stages[b] = s.Stages[b], s.Stages[a] })
	if rng.IntN(2) == 0 {
		st := s.Stages[rng.IntN(len(s.Stages))]
		s.Points = append(s.Points, Point{Name: "LO", Expect: []Expectation{}})
		s.Controls = []Control{
			{
				Name:      "AGC",
				Does:      "gain",
				Value:     "2.1 V",
				Tolerance: "10 %",
				Point:     "R7",
				Worked:    "4 V",
				By:        "aerial out",
				From:      "+9 V",
				Note:      "n",
			},
			{Name: "E1", Does: "ground"},
		}
		s.Stages = append(s.Stages, Stage{Name: "back", Kind: feedbackKind, From: st.To, To: st.From, Needs: []string{"E1"}},
			Stage{Name: "LO", Kind: oscillator, To: "LO", Gain: "0 dB", Needs: []string{"AGC", "E1"}})
		s.Stages[0].Needs = []string{"LO", "AGC"}
	}
	s.Points[0].Expect = append(s.Points[0].Expect, Expectation{Quantity: AC, Value: "10 mV"})
	s.Rails = append(s.Rails, Rail{Name: "+9 V", Value: "9 V"})
	s.Routes = []RouteName{}
	if rng.IntN(2) == 0 {
		s.Points[0].Peak, s.Points[0].Twin = "1.2 kV", "p1"
		s.Rails[0] = Rail{
			Name:            "+9 V",
			Value:           "9 V",
			Tolerance:       "5 %",
			Point:           "C1 +",
			Ripple:          "20 mVpp",
			RippleFrequency: "100 Hz",
			Load:            "0.2 A",
			Ohms:            "40",
			From:            "+12 V",
			Fuse:            "F1",
			Rectifier:       "full wave D1, D2",
			Regulator:       "IC1",
			Up:              WithStart,
			Order:           "2",
			Note:            "n; m",
		}
		s.Rails = append(s.Rails, Rail{Name: "+12 V", Value: "12 V", From: "T1 4-5"})
		s.Reservoirs = []Reservoir{
			{Name: "C1", Rail: "+9 V", Farads: "2200 µF", Volts: "13 V", Bleeder: "10k", Note: "x"},
			{Name: "C2", Farads: "220 µF", Volts: "320 V"},
		}
		s.Tracks = []Track{
			{Rail: "+9 V", Place: "C1 +"},
			{Rail: "+9 V", Place: "L3", After: "C1 +", Ohms: "4 mΩ", Opens: "L3", Hangs: []string{"C7", "s0"}, Minutes: "2"},
		}
		s.Hazards = []Hazard{{Kind: "mains", Where: "S1", Note: "covered"}, {Kind: "pulses"}}
		family := circuit.Families()[rng.IntN(len(circuit.Families()))]
		s.Circuits = []Circuit{
			{Stage: s.Stages[0].Name, Parts: family.Between("p0", "p1")},
			{
				Stage: "+9 V",
				Parts: []circuit.Part{{Name: "R1", Kind: circuit.Resistor, Nodes: []string{"C1 +", "ground"}, Value: "1k", In: "N1"}},
			},
		}
		s.Modifications = []Modification{
			{What: "damped entry", Stage: "s0", Why: "it swings with some aerials", How: "47 ohm into the cut track", Job: "31"},
			{What: "own relay supply"},
		}
		s.Circuits = append(s.Circuits, Circuit{Stage: "damped entry", Parts: []circuit.Part{
			{Name: "R901", Kind: circuit.Resistor, Nodes: []string{"p0", "ground"}, Value: "47"}}})
		s.Adjustments = []Adjustment{
			{
				Name: "idle current, left", Kind: "bias", Turn: "VR1", Measure: "across R1", Target: "12 mV", Tolerance: "2 mV",
				Conditions: []string{"no signal", "no load"}, Warm: "15", After: []string{"balance"}, Ohms: "0R22",
				Volts: "+9 V", Turns: "20",
				Beware: "mark its place first", Stage: "s0", Twin: "idle current, right", Manual: "20 mV cold", Why: "it runs hot",
			},
			{Name: "idle current, right", Target: "least"},
			{Name: "balance", Turn: "VR2", Quantity: AC, Target: "1 V"},
		}
		s.Closing = []Closing{
			{
				Name: "power", Kind: ClosingPower, At: "p1", From: "p0", Level: "20 mV", Frequencies: []string{"1 kHz"}, Load: "8",
				Least: "5 W", Conditions: []string{"dummy load", "both channels"}, Note: "until it just flattens",
			},
			{Name: "response", Kind: ClosingResponse, At: "p1", Frequencies: []string{"50", "1k", "15k"}, Most: "1.5 dB"},
			{Name: "separation", Kind: ClosingSeparation, At: "p1", Other: "p0", Least: "40 dB"},
			{Name: "hum", Kind: ClosingHum, Most: "2 mV"},
			{Name: "clock keeps time"},
		}
		s.WeakSpots = []WeakSpot{{Stage: "s0", What: "dry joint", Symptom: "crackles; cuts out", Check: "tap it"}}
	}
	return s
}

// allWays lists every way from entry to exit in a mode, by plain search from
// the document, as point names.
func allWays(s *Sheet, mode string) []string {
	carries := func(st Stage) bool {
		return st.Kind != feedbackKind && (len(st.Modes) == 0 || slices.Contains(st.Modes, mode))
	}
	entry := func(p string) bool {
		return !slices.ContainsFunc(s.Stages, func(st Stage) bool { return st.Kind != feedbackKind && st.To == p })
	}
	exit := func(p string) bool {
		return !slices.ContainsFunc(s.Stages, func(st Stage) bool { return st.Kind != feedbackKind && st.From == p })
	}
	var out []string
	var follow func(way []string)
	follow = func(way []string) {
		at := way[len(way)-1]
		if exit(at) && len(way) > 1 {
			out = append(out, mode+":"+strings.Join(way, ">"))
		}
		for _, st := range s.Stages {
			if st.From == at && carries(st) {
				follow(append(slices.Clone(way), st.To))
			}
		}
	}
	for _, p := range s.Points {
		if entry(p.Name) {
			follow([]string{p.Name})
		}
	}
	return out
}

// Routes against a plain search, on a thousand random sets; and each expected
// level against the sum of the gains before it.
func TestRoutesAndLevelsOnRandomSheets(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 4))
	compared := 0
	for range 1000 {
		s := randomSheet(rng)
		plan, _ := s.Plan()
		var got, want []string
		for _, r := range plan.Routes {
			names := make([]string, len(r.Points))
			if plan.Points[r.Points[0]].Source {
				continue // an oscillator by itself, which no search from the points finds
			}
			for i, p := range r.Points {
				names[i] = plan.Points[p].Name
			}
			got = append(got, r.Mode+":"+strings.Join(names, ">"))
			if names[0] != "p0" {
				continue
			}
			level := -40.0 // 10 mV
			for i := range r.Points {
				if i > 0 {
					db, err := quantity.ParseGain(plan.Stages[r.Stages[i-1]].Gain)
					if err != nil {
						t.Fatal(err)
					}
					level += db
				}
				if !r.Levels[i].Known || math.Abs(r.Levels[i].DBV-level) > 1e-9 {
					t.Fatalf("%s on %v: %+v, the gains make %g", names[i], names, r.Levels[i], level)
				}
				// Driven 7 dB lower, everything is 7 dB lower.
				if x, ok := plan.Drive(&plan.Routes[slices.IndexFunc(plan.Routes, func(o Route) bool { return o.Key == r.Key })], 0, -47,
					i); !ok ||
					math.Abs(x-level+7) > 1e-9 {
					t.Fatalf("driven 7 dB lower: %g, want %g", x, level-7)
				}
				compared++
			}
		}
		for _, mode := range plan.Modes() {
			want = append(want, allWays(s, mode)...)
		}
		slices.Sort(got)
		slices.Sort(want)
		if !slices.Equal(got, want) {
			t.Fatalf("routes\n%v\nplain search\n%v", got, want)
		}
	}
	if compared < 5000 {
		t.Errorf("only %d levels compared", compared)
	}
}

func TestRandomSheetsReadBackTheSame(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 9))
	for range 500 {
		s := randomSheet(rng)
		back, err := ReadJSON(s.WriteJSON())
		if err != nil || !reflect.DeepEqual(back, s) {
			t.Fatalf("JSON: %v\n%+v\n%+v", err, back, s)
		}
		tables, problems, err := ReadCSV(s.WriteCSV())
		if err != nil || len(problems) > 0 {
			t.Fatalf("CSV: %v %v\n%s", err, problems, s.WriteCSV())
		}
		if back, _ = FromTables(tables); !reflect.DeepEqual(back, s) {
			t.Fatalf("CSV:\n%+v\n%+v\n%s", back, s, s.WriteCSV())
		}
	}
}

// A loop put into a random set is always found, and only then reported.
func TestLoopsAreFound(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 8))
	reports := func(s *Sheet) bool {
		_, problems := s.Plan()
		return slices.ContainsFunc(problems, func(p Problem) bool { return strings.Contains(p.Message, "run in a loop") })
	}
	for range 500 {
		s := randomSheet(rng)
		if reports(s) {
			t.Fatal("a set without loops is said to have one")
		}
		st := s.Stages[rng.IntN(len(s.Stages))]
		for st.Kind == feedbackKind || st.From == "" {
			st = s.Stages[rng.IntN(len(s.Stages))]
		}
		s.Stages = append(s.Stages, Stage{Name: "closed", From: st.To, To: st.From, Modes: st.Modes})
		if !reports(s) {
			t.Fatalf("the loop %s to %s is not reported", st.To, st.From)
		}
	}
}
