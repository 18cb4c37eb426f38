package substitute

import (
	_ "embed"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// The cases are written down from what the trade says, not from the code: part by part, with a word of the reason.
//
//go:embed testdata/cases.txt
var cases string

// condition is one word of a place: "sink", "volts 30 V", "coupling".
func conditions(text string) map[string]string {
	out := map[string]string{}
	for _, c := range strings.Split(text, ";") {
		if name, value, _ := strings.Cut(strings.TrimSpace(c), " "); name != "" {
			out[name] = value
		}
	}
	return out
}

func number(t *testing.T, text string, unit quantity.Unit) float64 {
	t.Helper()
	if text == "" {
		return 0
	}
	v, err := quantity.ParseAs(text, unit)
	if err != nil {
		t.Fatal(err)
	}
	return v.SI
}

func has(c map[string]string, name string) bool { _, ok := c[name]; return ok }

func get(t *testing.T, name string) *device.Type {
	t.Helper()
	x, rest, ok := device.Shipped().Find(name)
	if !ok || rest != "" {
		t.Fatalf("%s is not in the table", name)
	}
	return x
}

func judged(t *testing.T, sort, before, after string, c map[string]string) Verdict {
	t.Helper()
	switch sort {
	case "type":
		return Semiconductor(get(t, before), get(t, after), Place{
			Volts: number(t, c["volts"], quantity.Volt), Amps: number(t, c["amps"], quantity.Ampere),
			Watts: number(t, c["watts"], quantity.Watt), Gain: number(t, c["gain"], quantity.None),
			Hz: number(t, c["hz"], quantity.Hertz), Sink: has(c, "sink"), Pair: has(c, "pair"),
		})
	case "cap":
		post := Post{Volts: number(t, c["volts"], quantity.Volt), Turns: has(c, "turns"),
			Across: number(t, c["across"], quantity.None), High: number(t, c["high"], quantity.None)}
		for word, use := range map[string]Use{"coupling": Coupling, "line": Line, "reservoir": Reservoir, "switching": Switching,
			"timing": Timing, "tuning": Tuning, "mains": Mains, "earth": Earth, "crossover": Crossover} {
			if has(c, word) {
				post.Use = use
			}
		}
		a, _, err := CapacitorOf(before)
		b, _, err2 := CapacitorOf(after)
		if len(Pieces(after)) > 1 {
			b, err2 = CapacitorsOf(after)
		}
		if err != nil || err2 != nil {
			t.Fatal(err, err2)
		}
		return CapacitorFor(a, b, post)
	case "res":
		a, err := ResistorOf(before)
		b, err2 := ResistorOf(after)
		if len(Pieces(after)) > 1 {
			b, err2 = ResistorsOf(after)
		}
		if err != nil || err2 != nil {
			t.Fatal(err, err2)
		}
		return ResistorFor(a, b, Stand{Watts: number(t, c["watts"], quantity.Watt), Volts: number(t, c["volts"], quantity.Volt),
			Exact: has(c, "exact"), Signal: has(c, "signal")})
	case "bias":
		a, err := StackOf(before)
		b, ok := SeriesOf(device.Shipped(), after)
		if err != nil || !ok {
			t.Fatal(err, after)
		}
		return StackFor(a, b)
	}
	a, err := FuseOf(before)
	b, err2 := FuseOf(after)
	if err != nil || err2 != nil {
		t.Fatal(err, err2)
	}
	return FuseFor(a, b)
}

func TestCases(t *testing.T) {
	grades := map[string]Grade{"fits": Fits, "change": Changed, "no": Unfit}
	count := 0
	for n, line := range strings.Split(cases, "\n") {
		if line == "" || strings.HasPrefix(line, "#") {
			continue
		}
		cell := strings.Split(line, "|")
		for i := range cell {
			cell[i] = strings.TrimSpace(cell[i])
		}
		if len(cell) != 6 {
			t.Fatalf("line %d: %d cells", n+1, len(cell))
		}
		count++
		v := judged(t, cell[0], cell[1], cell[2], conditions(cell[3]))
		reasons := map[Grade][]string{Unfit: v.Against, Changed: v.Changes}[v.Grade]
		if v.Grade != grades[cell[4]] || !strings.Contains(strings.Join(reasons, "; "), cell[5]) {
			t.Errorf(
				"line %d, %s for %s (%s): %s, against %q, changes %q; the trade says %s, %s",
				n+1,
				cell[2],
				cell[1],
				cell[3],
				v.Grade,
				v.Against,
				v.Changes,
				cell[4],
				cell[5],
			)
		}
	}
	if count < 200 {
		t.Errorf("%d cases", count)
	}
}

// Over the whole table, each type in the place of each: what is said to fit bears all that the old one bore, is of the same
// polarity, and has its legs where the holes are.
func TestNothingFitsThatDoesNot(t *testing.T) {
	types := device.Shipped().Types()
	fits, changed := 0, 0
	for i := range types {
		for k := range types {
			a, b := &types[i], &types[k]
			for _, sink := range []bool{false, true} {
				v := Semiconductor(a, b, Place{Sink: sink})
				if v.Grade == Unfit {
					if len(v.Against) == 0 {
						t.Fatalf("%s for %s: no reason", b.Name, a.Name)
					}
					continue
				}
				if changed++; v.Grade == Fits {
					fits++
				}
				if a.Kind == device.Bridge && b.Kind == device.Rectifier { // four of them: no one goes into its holes
					if b.Volts < a.Volts || b.Amps < a.Amps/2 || v.Grade != Changed || sink {
						t.Errorf("four of %s for %s, sink %t: %s", b.Name, a.Name, sink, v.Grade)
					}
					continue
				}
				if why := violated(a, b, sink, v.Grade); why != "" {
					t.Errorf("%s for %s, sink %t: %s, and %s", b.Name, a.Name, sink, v.Grade, why)
				}
			}
		}
	}
	t.Logf("%d types: %d fit, %d of them as they are", len(types), changed, fits)
}

// violated tells what of an old one a new one does not have, from the rows of the table alone.
func violated(a, b *device.Type, sink bool, g Grade) string {
	x, y := a.Row, b.Row
	letters := func(legs string) string { return strings.Join(slices.Sorted(slices.Values(strings.Fields(legs))), " ") }
	zener := a.Kind == device.Zener
	switch {
	case a.Name == b.Name: // it goes in as it came out, whatever is known of it
	case x.Polarity != y.Polarity, x.Legs == "", letters(x.Legs) != letters(y.Legs):
		return "polarity or legs differ"
	case g == Fits && (x.Case != y.Case && x.Legs != y.Legs || x.Case == y.Case && x.Legs != y.Legs):
		return "the order of legs differs"
	case !zener && b.Volts < a.Volts, b.Amps < a.Amps, b.Gain.Least < a.Gain.Least, b.Hz < 0.7*a.Hz:
		return "a rating is less"
	case zener && math.Abs(b.Volts/a.Volts-1) > 0.05:
		return "its voltage differs"
	case a.Seconds > 0 && b.Seconds > 1.5*a.Seconds && !strings.Contains(y.Note, "Schottky"):
		return "it is slower"
	case a.OfCase == b.OfCase && b.Watts < a.Watts, sink && b.Watts < a.Watts && a.OfCase == b.OfCase:
		return "it bears less heat"
	case a.Drop > 0 && a.Kind == device.Regulator && a.Drop != b.Drop:
		return "it gives another voltage"
	case x.Material == "silicon" && y.Material != "silicon":
		return "it is germanium"
	}
	return ""
}

// Sums against their closed forms, worked out by hand.
func TestSums(t *testing.T) {
	sink, watts := SeleniumDropper(125, 0.1) // five plates, 5 V less 1 V
	ohms, heat := Dropper(18, 12, 0.03)
	for _, x := range []struct {
		what      string
		got, want float64
	}{
		{"cut-off of 10 kΩ and 1 µF", CutOff(1e4, 1e-6), 15.91549430918953},
		{"reactance of 100 nF at 1 kHz", Reactance(1000, 1e-7), 1591.549430918953},
		{"2000 h at 105 °C, at 65 °C", Life(2000, 105, 65), 32000},
		{"5000 h at 85 °C, at 90 °C", Life(5000, 85, 90), 3535.533905932738},
		{"ripple of 1 A at 100 Hz on 4700 µF", Ripple(1, 100, 4700e-6), 2.127659574468085},
		{"junction of 5 W at 62.5 K/W in 40 °C", Junction(40, 5, 62.5), 352.5},
		{"sink for 20 W, 50 to 150 °C, 1.5 K/W inside", SinkFor(20, 50, 150, 1.5), 3.5},
		{"sharing of two 220 µF 250 V at 400 V", SharingOhms(220e-6, 250, 400), 100 / (0.01 * 220 * 250 * 1e-6)},
		{"sharing of two 1 µF 100 V at 150 V", SharingOhms(1e-6, 100, 150), 50 / 3e-6},
		{"sharing with nothing left", SharingOhms(1e-6, 100, 200), 0},
		{"120k and 33k in parallel", ParallelOhms(120e3, 33e3), 25882.352941176472},
		{"18 V to 12 V at 30 mA, ohms", ohms, 200},
		{"18 V to 12 V at 30 mA, watts", heat, 0.18},
		{"for selenium, ohms", sink, 40},
		{"for selenium, watts", watts, 0.4},
	} {
		if math.Abs(x.got-x.want) > 1e-9*math.Max(1, math.Abs(x.want)) {
			t.Errorf("%s: %.10g, want %.10g", x.what, x.got, x.want)
		}
	}
}

// One or two of a series: the nearest there is, against trying all pairs.
func TestCombine(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	for range 200 {
		wanted := math.Pow(10, 1+5*rng.Float64())
		capacitors := rng.IntN(2) == 0
		made := Combine(wanted, quantity.E12, capacitors, 3)
		least := math.Inf(1)
		all := values(quantity.E12, wanted/1000, wanted*1000)
		for _, a := range all {
			least = min(least, math.Abs(a/wanted-1))
			for _, b := range all {
				least = min(least, math.Abs((a+b)/wanted-1), math.Abs(a*b/(a+b)/wanted-1))
			}
		}
		best := made[0]
		value := best.Of[0]
		if len(best.Of) == 2 {
			if value = best.Of[0] + best.Of[1]; best.Parallel != capacitors {
				value = best.Of[0] * best.Of[1] / (best.Of[0] + best.Of[1])
			}
		}
		if math.Abs(value/wanted-1-best.Error) > 1e-9 || math.Abs(best.Error) > least+1e-3 {
			t.Errorf("%g: %+v, %.3g is to be had", wanted, best, least)
		}
	}
	if made := Combine(4700, quantity.E12, false, 1); len(made[0].Of) != 1 || made[0].Error != 0 {
		t.Errorf("%+v", made)
	}
	for _, x := range []float64{0, -1, math.NaN(), math.Inf(1)} {
		if made := Combine(x, quantity.E12, false, 3); len(made) != 0 {
			t.Errorf("%g: %+v", x, made)
		}
	}
}

// Heat falls in a line to nothing at what the junction bears.
func TestBears(t *testing.T) {
	for _, x := range []struct {
		name    string
		celsius float64
		sink    bool
		want    float64
	}{
		{"2N3055", 25, true, 115}, {"2N3055", 87.5, true, 57.5}, {"2N3055", 150, true, 0}, {"2N3055", 160, true, 0},
		{"TIP31C", 25, false, 2}, {"TIP31C", 75, false, 1.2},
		{"BC547", 87.5, false, 0.25}, {"BC547", 10, false, 0.5}, {"AD149", 55, true, 13.75},
	} {
		if got := Bears(get(t, x.name), x.celsius, x.sink); math.Abs(got-x.want) > 1e-9 {
			t.Errorf("%s at %g: %g, want %g", x.name, x.celsius, got, x.want)
		}
	}
}

func TestSpoken(t *testing.T) {
	c, at, err := CapacitorOf("47 µF 63 V electrolytic, 105 °C 5000 h low esr 5 mm at 58 V")
	c.Farads = math.Round(1e9*c.Farads) / 1e9
	want := Capacitor{Farads: 47e-6, Volts: 63, Dielectric: Electrolytic, Celsius: 105, Hours: 5000, Pitch: 5, LowOhms: true}
	if err != nil || at != 58 || c != want {
		t.Errorf("%+v %g %v", c, at, err)
	}
	for _, x := range []struct{ text, says string }{
		{"", "no capacitance"}, {"63v", "no capacitance"}, {"47u blue", `"blue" is nothing that is said of a capacitor`},
		{"47u 47n", "one of them is too many"},
		{"-47u", "cannot be"}, {"47u at", "missing"}, {"47u at red", ""}, {"47u 3kHz", "says nothing of a capacitor"}, {"1e9F", ""},
	} {
		if _, _, err := CapacitorOf(x.text); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%q: %v", x.text, err)
		}
	}
	for _, text := range []string{"", "3 W", "4k7 4k7", "4k7 blue", "-3", "4k7 3 Hz"} {
		if r, err := ResistorOf(text); err == nil {
			t.Errorf("%q: %+v", text, r)
		}
	}
	for _, text := range []string{"", "slow", "1A 2A", "1A blue", "-1A", "X2A"} {
		if f, err := FuseOf(text); err == nil {
			t.Errorf("%q: %+v", text, f)
		}
	}
	if f, err := FuseOf("very slow 315 mA 250 V"); err != nil || f != (Fuse{Amps: 0.315, Speed: "very slow", Volts: 250}) {
		t.Errorf("%+v %v", f, err)
	}
	if c := (&Capacitor{Farads: 47e-6, Volts: 63, Dielectric: Film, Pitch: 5}).Says(); c != "47 µF 63 V film 5 mm" {
		t.Error(c)
	}
	// What is written reads back the same.
	full := Capacitor{Farads: 220e-6, Volts: 25, Tolerance: 0.2, Dielectric: Bipolar, Celsius: 105, Ohms: 0.1, Amps: 2,
		Pitch: 5, LowOhms: true, Surface: true}
	for _, c := range []Capacitor{full, {Farads: 1e-7, Volts: 275, Dielectric: Film, Class: "X2"}, {Farads: 1e-10, Dielectric: Stable}} {
		if back, _, err := CapacitorOf(c.Says()); err != nil || math.Abs(back.Farads/c.Farads-1) > 1e-9 {
			t.Errorf("%s: %+v %v", c.Says(), back, err)
		} else if back.Farads = c.Farads; back != c {
			t.Errorf("%s: %+v", c.Says(), back)
		}
	}
	fuse := Fuse{Amps: 1.6, Speed: "very slow", Volts: 250, Size: "5x20 mm"}
	if back, err := FuseOf(fuse.Says()); err != nil || back != fuse {
		t.Errorf("%s: %+v %v", fuse.Says(), back, err)
	}
	if r := (&Resistor{Ohms: 0.22, Watts: 3, Flame: true}).Says(); r != "220 mΩ 3 W, flameproof" {
		t.Error(r)
	}
}

func TestSpokenRelaysAndControls(t *testing.T) {
	r, err := RelayOf("relay 12 V 400 ohm, 2 changeover 5 A at 250 V signal")
	if want := (Relay{Volts: 12, Ohms: 400, Contacts: "2 changeover", Amps: 5, Across: 250, Signal: true}); err != nil || r != want {
		t.Errorf("%+v %v", r, err)
	}
	if r, err = RelayOf("relay 24 Vac"); err != nil || !r.AC {
		t.Errorf("%+v %v", r, err)
	}
	c, err := ControlOf("pot 50k log stereo 6 mm flat switch")
	if want := (Control{Ohms: 5e4, Law: "logarithmic", Gangs: 2, Shaft: "6 mm flat", Switch: true}); err != nil || c != want {
		t.Errorf("%+v %v", c, err)
	}
	for _, text := range []string{"relay", "relay 12 V 12 V", "relay blue", "relay at 5 ohm"} {
		if r, err := RelayOf(text); err == nil {
			t.Errorf("%q: %+v", text, r)
		}
	}
	for _, text := range []string{"control", "control 5k 5k", "control 5k blue"} {
		if c, err := ControlOf(text); err == nil {
			t.Errorf("%q: %+v", text, c)
		}
	}
	if v := MatchedFor("crystal"); v.Grade != Changed || len(v.Changes) != 4 {
		t.Errorf("%+v", v)
	}
}

func TestRelaysControlsModules(t *testing.T) {
	for n, x := range []struct {
		v     Verdict
		grade Grade
		says  string
	}{
		{RelayFor(Relay{Volts: 12, Ohms: 400}, Relay{Volts: 12, Ohms: 420}, Task{}), Fits, ""},
		{RelayFor(Relay{Volts: 12, Ohms: 400}, Relay{Volts: 12, Ohms: 200}, Task{}), Unfit, "coil current: 30 mA at most, it has 60 mA"},
		{RelayFor(Relay{Volts: 12, Ohms: 400}, Relay{Volts: 24, Ohms: 1600}, Task{}), Changed, "a small supply of its own"},
		{RelayFor(Relay{Volts: 12, Ohms: 400}, Relay{Volts: 24}, Task{}), Unfit, "it does not pull"},
		{RelayFor(Relay{Volts: 24, AC: true}, Relay{Volts: 12, Ohms: 300}, Task{}), Changed, "clamp diode"},
		{RelayFor(Relay{Volts: 24}, Relay{Volts: 24, AC: true, Ohms: 300}, Task{}), Unfit, "alternating current, and it gets direct"},
		{RelayFor(Relay{Volts: 24, Ohms: 700}, Relay{Volts: 12, Ohms: 400}, Task{}), Changed, "a resistor of 390 Ω, 1 W"},
		{RelayFor(Relay{Volts: 24, AC: true}, Relay{Volts: 24}, Task{}), Unfit, "direct current, and it gets alternating"},
		{RelayFor(Relay{Volts: 12, Signal: true}, Relay{Volts: 12}, Task{}), Unfit, "small signals"},
		{
			RelayFor(Relay{Volts: 12, Contacts: "2 changeover"}, Relay{Volts: 12, Contacts: "1 changeover"}, Task{}),
			Unfit, "2 changeover",
		},
		{RelayFor(Relay{Volts: 12, Amps: 5}, Relay{Volts: 12, Amps: 2}, Task{}), Unfit, "contact current"},
		{RelayFor(Relay{Volts: 12, Amps: 5}, Relay{Volts: 12, Amps: 2}, Task{Amps: 1}), Fits, ""},
		{ControlFor(Control{Ohms: 5e4, Law: "linear"}, Control{Ohms: 47e3, Law: "linear"}), Fits, ""},
		{ControlFor(Control{Ohms: 5e4, Law: "logarithmic"}, Control{Ohms: 5e4, Law: "linear"}), Unfit, "at one end"},
		{ControlFor(Control{Ohms: 5e4, Gangs: 2}, Control{Ohms: 5e4}), Unfit, "1 tracks"},
		{ControlFor(Control{Ohms: 5e4, Shaft: "6 mm flat"}, Control{Ohms: 5e4, Shaft: "6 mm round"}), Changed, "shaft"},
		{ModuleFor("HX 12", "hx12", nil), Fits, ""},
		{ModuleFor("HX 12", "HX 14", nil), Unfit, "no record"},
		{ModuleFor("HX 12", "HX 14", []string{"HX14"}), Changed, "record says"},
		{ModuleFor("", "HX 14", nil), Unfit, "not known"},
	} {
		reasons := strings.Join(append(slices.Clone(x.v.Against), x.v.Changes...), "; ")
		if x.v.Grade != x.grade || !strings.Contains(reasons, x.says) {
			t.Errorf("case %s: %s, %s", strconv.Itoa(n), x.v.Grade, reasons)
		}
	}
}

// A relay's own supply, followed through time as charges go: a bridge from a stiff winding, the reservoir, the coil behind its
// resistor. The coil has its volts from the lowest mains to the highest, and the ripple is what it is said to be.
func TestARelaysOwnSupply(t *testing.T) {
	for _, x := range []struct{ volts, ohms, hz float64 }{
		{24, 1600, 50}, {12, 270, 50}, {5, 70, 60}, {24, 650, 60}, {6, 100, 50}, {9, 220, 50},
	} {
		s, ok := SupplyFor(x.volts, x.ohms, x.hz)
		if !ok {
			t.Errorf("%+v: none", x)
			continue
		}
		follow := func(mains float64) (mean, ripple float64) {
			const steps = 20000
			held, low, high, sum := 0.0, math.Inf(1), 0.0, 0.0
			for k := range 60 * steps { // sixty half cycles
				at := (float64(k%steps) + 0.5) / steps
				held -= held / (x.ohms + s.Ohms) / s.Farads / (2 * x.hz) / steps
				held = max(held, math.Sqrt2*s.Winding*mains*math.Sin(math.Pi*at)-bridgeDrop)
				if k >= 59*steps {
					low, high, sum = min(low, held), max(high, held), sum+held/steps
				}
			}
			return sum * x.ohms / (x.ohms + s.Ohms), high - low
		}
		least, _ := follow(0.9)
		most, ripple := follow(1.1)
		if math.Abs(least/s.Least-1) > 0.04 || math.Abs(most/s.Most-1) > 0.04 || ripple > 1.15*s.Ripple {
			t.Errorf(
				"%+v: %.3g to %.3g V with %.3g V of ripple, said %.3g to %.3g, %.3g",
				x,
				least,
				most,
				ripple,
				s.Least,
				s.Most,
				s.Ripple,
			)
		}
		if least < 0.8*x.volts || most > 1.16*x.volts || s.Bears < math.Sqrt2*s.Winding*1.1 {
			t.Errorf("%+v: %.3g to %.3g V at the coil, %+v", x, least, most, s)
		}
	}
	for _, x := range [][3]float64{{0, 100, 50}, {12, 0, 50}, {200, 1e4, 50}, {12, 400, math.NaN()}} {
		if _, ok := SupplyFor(x[0], x[1], x[2]); ok {
			t.Errorf("%v: a supply", x)
		}
	}
}

// From the drawer first, what fits as it is before what needs a change; what does not fit is named where it lies in the drawer.
func TestSemiconductorsInOrder(t *testing.T) {
	drawer := map[string]int{"BC337": 4, "BC546": 2, "2N5551": 9}
	out := Semiconductors(device.Shipped(), get(t, "BC547"), Place{}, drawer, 1000)
	if out[0].Type.Name != "BC546" || out[1].Type.Name != "BC547" {
		t.Errorf("%s, %s", out[0].Type.Name, out[1].Type.Name)
	}
	if own := Semiconductors(device.Shipped(), get(t, "AC128"), Place{}, drawer, 5); own[0].Type.Name != "AC128" ||
		own[0].Verdict.Grade != Fits {
		t.Errorf("in its own place: %+v", own[0])
	}
	grades, unfit := []Grade{Fits, Changed, Unfit}, []string{}
	for i := range out {
		if i > 0 && slices.Index(grades, out[i].Verdict.Grade) < slices.Index(grades, out[i-1].Verdict.Grade) {
			t.Errorf("%s stands behind %s", out[i].Type.Name, out[i-1].Type.Name)
		}
		if out[i].Verdict.Grade == Unfit {
			unfit = append(unfit, out[i].Type.Name)
		}
	}
	if !slices.Equal(unfit, []string{"BC337", "2N5551"}) && !slices.Equal(unfit, []string{"2N5551", "BC337"}) {
		t.Errorf("unfit: %v", unfit)
	}
}

func FuzzSpoken(f *testing.F) {
	for _, text := range []string{
		"47u 63v film 5mm at 58", "0.22 3W flameproof", "T1.6A 250V", "100p np0 2%", "10x12 low esr esr 0.1", "very slow 1A",
	} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		if c, _, err := CapacitorOf(text); err == nil && (!(c.Farads > 0) || c.Says() == "") {
			t.Errorf("%q: %+v", text, c)
		}
		if r, err := ResistorOf(text); err == nil && !(r.Ohms > 0) {
			t.Errorf("%q: %+v", text, r)
		}
		if x, err := FuseOf(text); err == nil && !(x.Amps > 0) {
			t.Errorf("%q: %+v", text, x)
		}
	})
}

func BenchmarkSemiconductors(b *testing.B) {
	x, _, _ := device.Shipped().Find("BC547")
	for b.Loop() {
		Semiconductors(device.Shipped(), x, Place{}, nil, 20)
	}
}
