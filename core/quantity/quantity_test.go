package quantity

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

func near(a, b, rel float64) bool {
	return a == b || math.Abs(a-b) <= rel*math.Max(math.Abs(a), math.Abs(b))
}

func TestParseReadsWhatIsTyped(t *testing.T) {
	cases := []struct {
		text     string
		fallback Unit
		want     Value
	}{
		{"4k7", Ohm, Value{4700, Ohm, ""}},
		{"2n2", Farad, Value{2.2e-9, Farad, ""}},
		{"0R22", Ohm, Value{0.22, Ohm, ""}},
		{"R47", Volt, Value{0.47, Ohm, ""}},
		{"n10", Farad, Value{0.1e-9, Farad, ""}},
		{"147.2k", Ohm, Value{147200, Ohm, ""}},
		{"3.3 V", None, Value{3.3, Volt, ""}},
		{"3V3", None, Value{3.3, Volt, ""}},
		{"3,3 V", None, Value{3.3, Volt, ""}},
		{"0,125", Volt, Value{0.125, Volt, ""}},
		{"31m", Volt, Value{0.031, Volt, ""}},
		{"300 mVpp", None, Value{0.3, Volt, PeakPeak}},
		{"300mV p-p", None, Value{0.3, Volt, PeakPeak}},
		{"1.2 Vrms", None, Value{1.2, Volt, RMS}},
		{"230 V AC", None, Value{230, Volt, RMS}},
		{"9 V dc", None, Value{9, Volt, DC}},
		{"40 pp", Volt, Value{40, Volt, PeakPeak}},
		{"40m pp", Volt, Value{0.04, Volt, PeakPeak}},
		{"15.6 kHz", None, Value{15600, Hertz, ""}},
		{"10µ", Farad, Value{10e-6, Farad, ""}},
		{"10μ", Farad, Value{10e-6, Farad, ""}},
		{"10u", Farad, Value{10e-6, Farad, ""}},
		{"10uF", None, Value{10e-6, Farad, ""}},
		{"5 %", None, Value{0.05, Ratio, ""}},
		{"1M", Ohm, Value{1e6, Ohm, ""}},
		{"2 meg", Ohm, Value{2e6, Ohm, ""}},
		{"1 m", Volt, Value{1e-3, Volt, ""}},
		{"−12 V", None, Value{-12, Volt, ""}},
		{"- 12", Volt, Value{-12, Volt, ""}},
		{"4k7 ohms", None, Value{4700, Ohm, ""}},
		{"22 Ω", None, Value{22, Ohm, ""}},
		{"1e3", Hertz, Value{1000, Hertz, ""}},
		{"2.2E-9 F", None, Value{2.2e-9, Farad, ""}},
		{".5", Volt, Value{0.5, Volt, ""}},
		{"12 dB", None, Value{12, Decibel, ""}},
		{"−16.2dB", None, Value{-16.2, Decibel, ""}},
		{"38 °C", None, Value{38, Celsius, ""}},
		{"0", Volt, Value{0, Volt, ""}},
		{"-0", Volt, Value{0, Volt, ""}},
	}
	for _, c := range cases {
		got, err := Parse(c.text, c.fallback)
		if err != nil || got != c.want {
			t.Errorf("Parse(%q, %q) = %+v, %v; want %+v", c.text, c.fallback, got, err, c.want)
		}
	}
}

// Levels against their definitions: 0 dBm is 1 mW, so 0.2236 V in 50 Ω and
// 0.7746 V in 600 Ω; dBu is the latter without the impedance.
func TestLevelsKnowTheirReference(t *testing.T) {
	cases := []struct {
		text string
		si   float64
		unit Unit
	}{
		{"0 dBV", 1, Volt}, {"-10 dBV", 0.31622776601683794, Volt}, {"+4 dBu", 0.7745966692414834 * 1.5848931924611136, Volt},
		{"0 dBu", 0.7745966692414834, Volt}, {"-20dBm/50", 0.022360679774997897, Volt}, {"0 dBm/600", 0.7745966692414834, Volt},
		{"60 dBµV", 1e-3, Volt}, {"60 dBuV", 1e-3, Volt}, {"0 dBmV", 1e-3, Volt}, {"30 dBm", 1, Watt}, {"10 dBW", 10, Watt},
	}
	for _, c := range cases {
		got, err := Parse(c.text, None)
		if err != nil || got.Unit != c.unit || !near(got.SI, c.si, 1e-12) {
			t.Errorf("Parse(%q) = %+v, %v; want %g %s", c.text, got, err, c.si, c.unit)
		}
	}
	if _, err := ParseAs("-20 dBm", Volt); err == nil || !strings.Contains(err.Error(), "impedance") {
		t.Errorf("dBm as a voltage without an impedance: %v", err)
	}
}

func TestParseSaysWhichCharacter(t *testing.T) {
	cases := []struct {
		text string
		at   int
		says string
	}{
		{"", 1, "nothing to read"},
		{"abc", 1, "a number is expected"},
		{"4k7k", 4, "second multiplier"},
		{"12 x", 4, "not a unit"},
		{"1.2.3", 4, "second decimal mark"},
		{"1,234", 2, "thousands"},
		{"1,234.5", 6, "second decimal mark"},
		{"1 000", 3, "space inside"},
		{"10 dBq", 4, "reference for dB"},
		{"10 dBV/50", 4, "only dBm"},
		{"10 dBm/zz", 4, "not an impedance"},
		{"4k7 dB", 2, "plain number"},
		{"1e999", 1, "outside"},
		{"9999 dBV", 1, "outside"},
		{"5 k%", 3, "no multiplier"},
		{"4 Ωrms", 3, "not a unit"},
		{strings.Repeat("1", 80), 65, "too long"},
	}
	for _, c := range cases {
		_, err := Parse(c.text, None)
		var e *ParseError
		if !errors.As(err, &e) {
			t.Errorf("Parse(%q): %v, want a ParseError", c.text, err)
			continue
		}
		if e.At != c.at || !strings.Contains(e.Problem, c.says) || e.Help == "" {
			t.Errorf("Parse(%q): character %d, %q; want %d, %q", c.text, e.At, e.Problem, c.at, c.says)
		}
	}
}

// Whatever number is written, in any unit and form, is read back to the bit.
func TestFormatReadsBack(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	kinds := []Value{{0, Volt, ""}, {0, Volt, PeakPeak}, {0, Volt, DC}, {0, Ampere, RMS}, {0, Ohm, ""}, {0, Farad, ""}, {0, Henry, ""},
		{0, Hertz, ""}, {0, Second, ""}, {0, Watt, ""}, {0, Celsius, ""}, {0, Ratio, ""}, {0, Decibel, ""}, {0, None, ""}, {0, None, RMS}}
	for range 20000 {
		v := kinds[rng.IntN(len(kinds))]
		v.SI = (rng.Float64()*2 - 1) * math.Pow(10, float64(rng.IntN(40)-20))
		if rng.IntN(3) == 0 {
			v.SI = math.Round(v.SI*1000) / 1000
		}
		if v.SI == 0 {
			v.SI = 0
		}
		got, err := Parse(v.String(), None)
		if err != nil || got != v {
			t.Fatalf("%#v was written %q and read back as %#v, %v", v, v.String(), got, err)
		}
	}
}

func TestShortRoundsLikeAMeter(t *testing.T) {
	cases := []struct {
		v      Value
		digits int
		want   string
	}{
		{Value{0.019123, Volt, ""}, 3, "19.1 mV"},
		{Value{0.2, Volt, RMS}, 3, "200 mVrms"},
		{Value{999.96, Ohm, ""}, 3, "1 kΩ"},
		{Value{4.7e-12, Farad, ""}, 2, "4.7 pF"},
		{Value{-12.04, Volt, DC}, 3, "-12 V dc"},
		{Value{0.05, Ratio, ""}, 1, "5 %"},
		{Value{math.Inf(1), Volt, ""}, 3, "not a number"},
	}
	for _, c := range cases {
		if got := c.v.Short(c.digits); got != c.want {
			t.Errorf("%v.Short(%d) = %q, want %q", c.v, c.digits, got, c.want)
		}
	}
}

// The factors against sampled waveforms, integrated here.
func TestShapesMatchTheirIntegrals(t *testing.T) {
	waves := map[Shape]func(x float64) float64{
		Sine:     func(x float64) float64 { return math.Sin(2 * math.Pi * x) },
		Square:   func(x float64) float64 { return math.Copysign(1, 0.5-x) },
		Triangle: func(x float64) float64 { return 1 - 4*math.Abs(x-0.5) },
	}
	const n = 200000
	for shape, wave := range waves {
		var square, abs float64
		for i := range n {
			y := wave((float64(i) + 0.5) / n)
			square += y * y / n
			abs += math.Abs(y) / n
		}
		for form, want := range map[Form]float64{RMS: math.Sqrt(square), Average: abs, PeakPeak: 2} {
			got, err := shape.Convert(1, Peak, form)
			if err != nil || !near(got, want, 1e-6) {
				t.Errorf("%s: peak 1 is %s %g (%v), integral gives %g", shape, form, got, err, want)
			}
			back, err := shape.Convert(got, form, Peak)
			if err != nil || !near(back, 1, 1e-12) {
				t.Errorf("%s: %s does not convert back: %g, %v", shape, form, back, err)
			}
		}
		response, err := shape.AverageResponse()
		if want := abs / math.Sqrt(square) * 1.1107207345395915; err != nil || !near(response, want, 1e-6) {
			t.Errorf("%s: averaging meter shows %g, want %g (%v)", shape, response, want, err)
		}
	}
	if _, err := Shape("noise").Convert(1, Peak, RMS); err == nil {
		t.Error("noise has no fixed crest factor, yet it was converted")
	}
	if _, err := Sine.Convert(1, DC, RMS); err == nil {
		t.Error("a DC value was converted to rms")
	}
}

// Values taken from the printed rows of IEC 60063.
func TestSeriesAreTheStandardOnes(t *testing.T) {
	for _, c := range []struct {
		s    Series
		i    int
		want float64
	}{{E24, 13, 3.6}, {E96, 1, 1.02}, {E96, 95, 9.76}, {E12, 6, 3.3}, {E12, 11, 8.2}} {
		d := c.s.Decade()
		if len(d) != int(c.s) || d[c.i] != c.want {
			t.Errorf("E%d[%d] = %v, want %v", c.s, c.i, d[c.i], c.want)
		}
	}
	for _, c := range []struct {
		s       Series
		x, want float64
	}{{E12, 4650, 4700}, {E24, 0.0051e-6, 5.1e-9}, {E12, 9.7, 10}, {E12, 0.00095, 0.001}, {E24, 1, 1}, {E96, 147200, 147000}, {E12, 0, 0},
		{E12, math.Inf(1), 0}} {
		if got := c.s.Nearest(c.x); !near(got, c.want, 1e-12) {
			t.Errorf("E%d nearest %g = %g, want %g", c.s, c.x, got, c.want)
		}
	}
}

func TestTolerances(t *testing.T) {
	cases := []struct {
		text          string
		nominal       float64
		low, high     float64
		unit          Unit
		inside, outer float64
	}{
		{"5 %", 100, 95, 105, Ratio, 104.9, 105.1},
		{"±10", -20, -22, -18, Ratio, -21.9, -17.9},
		{"6.0206 dB", 1, 0.5, 2, Decibel, 1.9, 2.1},
		{"0.5 V", 12, 11.5, 12.5, Volt, 11.6, 12.6},
		{"-20/+80 %", 10, 8, 18, Ratio, 17.9, 7.9},
		{"J", 1000, 950, 1050, Ratio, 950, 949},
	}
	for _, c := range cases {
		fallback := Ratio
		tol, err := ParseTolerance(c.text, fallback)
		if c.text == "±10" {
			tol, err = ParseTolerance("±10 %", fallback)
		}
		low, high := tol.Bounds(c.nominal)
		if err != nil || tol.Unit != c.unit || !near(low, c.low, 1e-5) || !near(high, c.high, 1e-5) {
			t.Errorf("%q about %g: %g to %g %s, %v", c.text, c.nominal, low, high, tol.Unit, err)
		}
		if !tol.Holds(c.inside, c.nominal) || tol.Holds(c.outer, c.nominal) {
			t.Errorf("%q: %g should be inside, %g outside", c.text, c.inside, c.outer)
		}
		back, err := ParseTolerance(tol.String(), None)
		if err != nil || back != tol {
			t.Errorf("%q was written %q and read back as %+v, %v", c.text, tol, back, err)
		}
	}
	for _, bad := range []string{"", "+5/+10 %", "abc", "5 %/3 V"} {
		if _, err := ParseTolerance(bad, Ratio); err == nil {
			t.Errorf("ParseTolerance(%q) was accepted", bad)
		}
	}
}

func TestEntriesAndGains(t *testing.T) {
	for text, want := range map[string]Word{"none": Nothing, " OK ": OK, "cuts  out": CutsOut, "Buzz": Hum, "crackle": Crackle,
		"distorted": Distorted} {
		if e, err := ParseEntry(text, Volt); err != nil || e.Word != want {
			t.Errorf("ParseEntry(%q) = %+v, %v", text, e, err)
		}
	}
	for text, want := range map[string]bool{"OL": true, "open": true, "Inf": true, ">20M": true, "over range": true, "> 2 MΩ": true,
		">200": false, "20M": false, "": false, ">": false, "o": false} {
		if IsOpen(text) != want {
			t.Errorf("IsOpen(%q) is not %t", text, want)
		}
	}
	if e, err := ParseEntry("31m", Volt); err != nil || e.Word != "" || e.Value.SI != 0.031 {
		t.Errorf("ParseEntry(31m) = %+v, %v", e, err)
	}
	if _, err := ParseEntry("wobbly", Volt); err == nil || !strings.Contains(err.Error(), "cuts out") {
		t.Errorf("an unknown word should list the known ones: %v", err)
	}
	for text, want := range map[string]float64{"28 dB": 28, "+28": 28, "-14": -14, "×10": 20, "x0.5": -6.020599913279624} {
		if db, err := ParseGain(text); err != nil || !near(db, want, 1e-12) {
			t.Errorf("ParseGain(%q) = %g, %v", text, db, err)
		}
	}
	for _, bad := range []string{"x0", "×-2", "x", "3 V"} {
		if _, err := ParseGain(bad); err == nil {
			t.Errorf("ParseGain(%q) was accepted", bad)
		}
	}
}

func TestCapacitanceStaysInMicrofarads(t *testing.T) {
	for x, want := range map[float64]string{4700e-6: "4700 µF", 10e-3: "10000 µF", 6.8e-3: "6800 µF", 470e-6: "470 µF", 2.2e-9: "2.2 nF",
		1234e-6: "1230 µF", 1: "1 F"} {
		got := Capacitance(x)
		back, err := ParseAs(got, Farad)
		if got != want || err != nil || !near(back.SI, x, 5e-3) {
			t.Errorf("%g F is written %q, read back as %g: %v", x, got, back.SI, err)
		}
	}
}

func TestSigned(t *testing.T) {
	for _, c := range []struct{ got, want string }{
		{SignedDB(-16.23), "−16.2 dB"}, {SignedDB(28), "+28 dB"}, {SignedDB(0.01), "0 dB"}, {SignedPercent(-0.0083), "−0.8 %"},
		{SignedPercent(0.5), "+50 %"},
	} {
		if c.got != c.want {
			t.Errorf("%q, want %q", c.got, c.want)
		}
	}
}

func TestEqualsRestateAValue(t *testing.T) {
	find := func(v Value, name string) string {
		for _, e := range v.Equals(Sine) {
			if e.Name == name {
				return e.Value
			}
		}
		return ""
	}
	// 1 V rms of a sine is 2.828 Vpp and 2.22 dBu.
	one := Value{1, Volt, RMS}
	if got := find(one, "pp"); got != "2.828 Vpp" {
		t.Errorf("p-p of 1 V rms: %q", got)
	}
	if got := find(one, "dBu"); got != "+2.22 dBu" {
		t.Errorf("dBu of 1 V rms: %q", got)
	}
	if got := find(Value{4650, Ohm, ""}, "nearest E12"); got != "4.7 kΩ, +1.1 %" {
		t.Errorf("nearest E12 of 4650 Ω: %q", got)
	}
	if got := find(Value{50, Hertz, ""}, "period"); got != "20 ms" {
		t.Errorf("period of 50 Hz: %q", got)
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"4k7", "-10 dBV", "-20dBm/50", "300 mVpp", "5 %", "1e308", "×3", "none", "３V", "1,234", "R1", "-0",
		"5 rms"} {
		f.Add(s, "V")
		f.Add(s, "")
	}
	f.Fuzz(func(t *testing.T, text, unit string) {
		fallback := Unit(unit)
		switch fallback {
		case None, Volt, Ampere, Ohm, Farad, Henry, Hertz, Second, Watt, Celsius, Ratio, Decibel:
		default:
			fallback = Volt
		}
		_, _ = ParseGain(text)
		_, _ = ParseTolerance(text, fallback)
		_, _ = ParseEntry(text, fallback)
		v, err := Parse(text, fallback)
		if err != nil {
			return
		}
		if math.IsNaN(v.SI) || math.IsInf(v.SI, 0) {
			t.Fatalf("%q read as %v", text, v.SI)
		}
		back, err := Parse(v.String(), None)
		if err != nil || back != v {
			t.Fatalf("%q is %#v, written %q, read back as %#v, %v", text, v, v.String(), back, err)
		}
	})
}

func BenchmarkParse(b *testing.B) {
	for b.Loop() {
		if _, err := Parse("300 mVpp", Volt); err != nil {
			b.Fatal(err)
		}
	}
}

func TestCounted(t *testing.T) {
	for _, x := range []struct {
		x       float64
		figures int
		text    string
	}{
		{28000, 2, "28,000"}, {1234567, 3, "1,230,000"}, {999, 2, "1,000"}, {123, 3, "123"}, {-45678, 2, "-46,000"},
		{0.51, 2, "0.51"}, {0, 2, "0"},
	} {
		if got := Counted(x.x, x.figures); got != x.text {
			t.Errorf("%g: %q, not %q", x.x, got, x.text)
		}
	}
}

// Steps as instruments are set, and as fuses are sold: the next that is no less, whatever the power of ten.
func TestStepUp(t *testing.T) {
	for _, x := range []struct {
		x, want float64
		steps   []float64
	}{
		{0.3, 0.5, []float64{1, 2, 5}}, {6e-4, 1e-3, []float64{1, 2, 5}}, {2, 2, []float64{1, 2, 5}},
		{0.48, 0.5, []float64{1, 1.6, 2.5, 4, 5, 8}},
		{9, 10, []float64{1, 1.6, 2.5, 4, 6.3, 8}}, {0, 0, []float64{1}}, {-3, 0, []float64{1}}, {math.NaN(), 0, []float64{1}},
	} {
		if got := StepUp(x.x, x.steps...); math.Abs(got-x.want) > 1e-12 {
			t.Errorf("%g by %v: %g, want %g", x.x, x.steps, got, x.want)
		}
	}
}
