package sheet

import (
	"slices"
	"testing"

	"steptrace/core/circuit"
)

// Usual words are taken for the sheet's when a table is read; what is unknown stays for the
// check to name.
func TestUsualWords(t *testing.T) {
	tables, problems, err := ReadCSV([]byte("model,words\n\npoint,stage,kind\nA,,\nB,one,preamp\nC,two,XTAL thing\nD,three,Osc\n\n" +
		"at,quantity,value\nB,vdc,4.2 V\nC,thd,0.4 %\nD,freq,1 MHz\n\nrail,value,rectifier\n+9 V,9 V,Bridge BR1\n+5 V,5 V,flyback " +
		"T4\n-9 V,-9 V,odd one\n\n" +
		"danger,where\nEHT,cap\nheat  sink,rear\n\ncontrol,does,value\nE1,earth,0\n"))
	if err != nil || len(problems) > 0 {
		t.Fatal(err, problems)
	}
	s, _ := FromTables(tables)
	for i, want := range []string{"amplifier", "xtal thing", "oscillator"} {
		if s.Stages[i].Kind != want {
			t.Errorf("stage %d is %q, want %q", i, s.Stages[i].Kind, want)
		}
	}
	if s.Points[1].Expect[0].Quantity != DC || s.Points[2].Expect[0].Quantity != Distortion || s.Points[3].Expect[0].Quantity != Frequency {
		t.Errorf("%+v", s.Points)
	}
	for i, want := range []string{"full wave", "switching", ""} {
		if got := s.Rails[i].RectifierKind(); got != want {
			t.Errorf("%s rectifies %q, want %q", s.Rails[i].Rectifier, got, want)
		}
	}
	if s.Hazards[0].Kind != "picture tube" || s.Hazards[1].Kind != "hot parts" || s.Controls[0].Does != "ground" {
		t.Errorf("%+v %+v", s.Hazards, s.Controls)
	}
	for word, kind := range kindWords {
		if !slices.Contains(Kinds, kind) || slices.Contains(Kinds, word) {
			t.Errorf("%q stands for %q", word, kind)
		}
	}
	for word, kind := range hazardWords {
		if !slices.Contains(HazardKinds, kind) || slices.Contains(HazardKinds, word) {
			t.Errorf("%q stands for %q", word, kind)
		}
	}
}

// A frequency's tolerance is typed as the trade has it; nothing said, a crystal in the circuit
// makes it a crystal's.
func TestFrequencyTolerances(t *testing.T) {
	s := &Sheet{
		Model:  "clock",
		Points: []Point{{Name: "X"}, {Name: "Y"}},
		Stages: []Stage{{Name: "osc", Kind: "oscillator", To: "X"}, {Name: "buffer", From: "X", To: "Y"}},
	}
	for text, want := range map[string]float64{"": 0.01, "crystal": 100e-6, "Ceramic": 0.005, "LC": 0.02, "rc": 0.1, "30 ppm": 30e-6,
		"±50ppm": 50e-6, "2 %": 0.02} {
		s.Points[0].Expect = []Expectation{{Quantity: Frequency, Value: "32.768 kHz", Tolerance: text}}
		plan, problems := s.Plan()
		if Blocked(problems) {
			t.Fatal(text, problems)
		}
		if e := plan.Points[0].Expected[0]; e.Tolerance.Low != want || e.Text() != "32.768 kHz" {
			t.Errorf("%q: ±%g of %s, want ±%g", text, e.Tolerance.Low, e.Text(), want)
		}
	}
	s.Points[0].Expect[0].Tolerance = "15 Hz"
	if plan, _ := s.Plan(); plan.Points[0].Expected[0].Tolerance.Low != 15 {
		t.Error("15 Hz is no tolerance of a frequency")
	}
	for _, x := range []struct {
		text string
		want float64
	}{{"", 100e-6}, {"1 %", 0.01}} {
		s.Points[0].Expect[0].Tolerance = x.text
		s.Circuits = []Circuit{crystalOscillator("osc", "X")}
		plan, problems := s.Plan()
		if Blocked(problems) {
			t.Fatal(problems)
		}
		if got := plan.Points[0].Expected[0].Tolerance.Low; got != x.want {
			t.Errorf("with a crystal in its circuit and %q typed: ±%g, want ±%g", x.text, got, x.want)
		}
	}
}

// crystalOscillator is the usual one, its output at a point.
func crystalOscillator(stage, out string) Circuit {
	for _, f := range circuit.Families() {
		if f.Name == "Oscillator, crystal" {
			return Circuit{Stage: stage, Parts: f.Between("", out)}
		}
	}
	return Circuit{}
}
