package part

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// transistorKind finds what a transistor is by six diode-test readings: red lead on the first
// leg, black on the second. The junctions' drops at a milliamp are those of textbooks
// (silicon 0.45 to 0.9 V, germanium 0.08 to 0.4 V); of a good one the emitter's is the larger,
// since it is doped more.
var transistorKind = Check{Name: "transistor", Title: "Transistor, bipolar", Caution: isolated,
	Fields: []Field{
		diodeTest("1-2", "1 to 2", "red on 1, black on 2", true),
		diodeTest("2-1", "2 to 1", "", true),
		diodeTest("1-3", "1 to 3", "", true),
		diodeTest("3-1", "3 to 1", "", true),
		diodeTest("2-3", "2 to 3", "", true),
		diodeTest("3-2", "3 to 2", "", true),
		{
			Name:  "gain",
			Title: "Gain",
			Hint:  "hFE, by a tester",
			unit:  quantity.None,
		},
		{Name: "least", Title: "Least gain", Hint: "by its data", unit: quantity.None},
		{Name: "leakage", Title: "Leakage", Hint: "collector to emitter, base open", unit: quantity.Ampere},
		choice("where", "Where", "out of circuit", "in circuit"),
	},
	judge: transistor}

const (
	shorted     = 0.05 // V: less is a short
	leastDrop   = 0.08
	germanium   = 0.42 // V: below, a junction is germanium (or Schottky)
	mostDrop    = 0.95
	mostDouble  = 1.6 // V: two junctions, or one behind a resistance
	alikeDrops  = 0.002
	leakSilicon = 10e-6  // A: more leaks, of a small silicon transistor
	leakGe      = 500e-6 // and of germanium, which does leak
)

// Leads are the legs of a transistor, 1 to 3.
type leads struct{ base, collector, emitter int }

// six are the readings, by red leg and black leg.
type six [4][4]float64

func (g *given) six() (v six) {
	for a := 1; a <= 3; a++ {
		for b := 1; b <= 3; b++ {
			if a != b {
				v[a][b], _ = g.number(fmt.Sprintf("%d-%d", a, b))
			}
		}
	}
	return v
}

func conducts(x float64) bool { return x >= shorted && x <= mostDouble }

// diode tells a pair that conducts one way alone.
func (v *six) diode(a, b int) bool { return conducts(v[a][b]) && !(v[b][a] <= mostDouble) }

// drop is what a pair drops that conducts one way.
func (v *six) drop(a, b int) float64 { return min(v[a][b], v[b][a]) }

func transistor(g *given) Verdict {
	v := g.six()
	for _, p := range [][2]int{{1, 2}, {1, 3}, {2, 3}} {
		if a, b := v[p[0]][p[1]], v[p[1]][p[0]]; a < shorted && b < shorted {
			out := verdict(Bad, "shorted between legs %d and %d", p[0], p[1])
			out.because("%s one way and %s the other: less than any junction drops", inVolts(a), inVolts(b))
			out.limit(
				"one for a line output stage may have some 40 Ω built in from base to emitter, and reads so: compare it with a good one " +
					"of its type",
			)
			g.inCircuit(&out)
			out.surer("lift two of its legs, or take it out, and read this pair again: what is parallel may be the short")
			return out
		}
	}
	var bases []int // legs that conduct with both others in the same sense
	for base := 1; base <= 3; base++ {
		x, y := base%3+1, (base+1)%3+1
		if v.diode(base, x) && v.diode(base, y) || v.diode(x, base) && v.diode(y, base) {
			bases = append(bases, base)
		}
	}
	if len(bases) == 0 {
		return noBase(g, &v)
	}
	// With a diode built in from emitter to collector two legs do: the base is that whose
	// two junctions are alike, since they are of one piece.
	uneven := func(base int) float64 {
		x, y := base%3+1, (base+1)%3+1
		return math.Abs(v.drop(base, x) - v.drop(base, y))
	}
	slices.SortFunc(bases, func(a, b int) int { return cmp.Compare(uneven(a), uneven(b)) })
	out := bipolar(g, &v, bases[0])
	if len(bases) > 1 && uneven(bases[1])-uneven(bases[0]) < 0.02 {
		out.worse(Unsure, "%s, or its base is leg %d and the polarity the other", out.What, bases[1])
		out.surer("its data, or its gain by a tester")
	}
	return out
}

// bipolar judges one whose base was found.
func bipolar(g *given, v *six, base int) Verdict {
	x, y := base%3+1, (base+1)%3+1
	npn := v.diode(base, x)
	drop := func(leg int) float64 { return v.drop(base, leg) }
	l := leads{base, x, y}
	if drop(x) > drop(y) {
		l.collector, l.emitter = y, x
	}
	kind, polarity := "silicon", "PNP"
	if npn {
		polarity = "NPN"
	}
	forward := func(a, b int) float64 { // along what conducts of a PNP, against of an NPN
		if npn {
			return v[a][b]
		}
		return v[b][a]
	}
	// With the base open, nothing should pass from collector to emitter; a diode built in
	// passes from emitter to collector (of an NPN).
	through, back := forward(l.collector, l.emitter), forward(l.emitter, l.collector)
	double := drop(l.emitter) > mostDrop
	if drop(l.emitter) < germanium {
		kind = "germanium"
	}
	if double { // the collector of a Darlington drops once
		kind = "Darlington"
	}
	swapped := false
	if !conducts(back) && conducts(through) { // a diode tells collector from emitter better than the drops
		swapped = true
		l.collector, l.emitter = l.emitter, l.collector
		through, back = back, through
	}
	out := verdict(Good, "%s, %s: base %d, collector %d, emitter %d", polarity, kind, l.base, l.collector, l.emitter)
	if kind == "Darlington" {
		out.because("the emitter's junction drops %s: two in series", inVolts(drop(l.emitter)))
	} else {
		out.because("leg %d conducts with both others, one way each: %s and %s", base, inVolts(drop(x)), inVolts(drop(y)))
	}
	switch d := math.Abs(drop(x) - drop(y)); {
	case conducts(through) && conducts(back):
		out.worse(Bad, "it leaks from collector to emitter")
		out.because("with the base open it conducts both ways: %s and %s", inVolts(through), inVolts(back))
	case conducts(back):
		out.because("it conducts from emitter to collector (%s): a diode is built in, as in transistors for coils", inVolts(back))
	case d < alikeDrops && !swapped:
		out.worse(Unsure, "%s, %s: base %d, the other two cannot be told apart", polarity, kind, l.base)
		out.surer("read the junctions with 0.1 mV, or its gain both ways: the right way round it is many times more")
	default:
		out.because("the emitter's drop is the larger by %s", inVolts(d))
	}
	g.gainAndLeakage(&out, kind)
	g.inCircuit(&out)
	if belongs := strings.ToUpper(g.place.Kind); (belongs == "NPN" || belongs == "PNP") && belongs != polarity {
		out.other("wrong part fitted: %s where %s belongs", article(polarity), article(belongs))
	}
	return out
}

func (g *given) gainAndLeakage(out *Verdict, kind string) {
	gain, known := g.number("gain")
	least, stated := g.number("least")
	switch {
	case known && stated && gain < least:
		out.worse(Bad, "its gain is %.3g, less than %.3g", gain, least)
	case known && gain < 5:
		out.worse(Bad, "it hardly amplifies: gain %.3g", gain)
	case known && !stated:
		out.limit("whether a gain of %.3g is enough is in its data", gain)
	case !known:
		out.limit(
			"a diode test is made at a milliamp and some volts: gain, and what breaks through at working voltage, it does not show",
		)
		out.surer("its gain, and its leakage from collector to emitter at working voltage")
	}
	most := leakSilicon
	if kind == "germanium" {
		most = leakGe
	}
	if leak, ok := g.number("leakage"); ok && leak > most {
		out.worse(
			Bad,
			"it leaks %s from collector to emitter; a %s one stays below %s",
			quantity.Rounded(leak, quantity.Ampere),
			kind,
			quantity.Rounded(most, quantity.Ampere),
		)
	}
}

func (g *given) inCircuit(out *Verdict) {
	if g.texts["where"] == "in circuit" {
		out.limit("in circuit, what is parallel to a pair can pass for a short, a leak or a diode")
	}
}

// alike tells a pair that reads nearly the same both ways, as a resistance does.
func alike(v *six, p [2]int) bool {
	a, b := v[p[0]][p[1]], v[p[1]][p[0]]
	return math.Abs(a-b) < 0.1*math.Max(a, b)
}

// noBase judges one of which no leg conducts with both others.
func noBase(g *given, v *six) Verdict {
	var diodes, both [][2]int
	for _, p := range [][2]int{{1, 2}, {2, 1}, {1, 3}, {3, 1}, {2, 3}, {3, 2}} {
		if v.diode(p[0], p[1]) {
			diodes = append(diodes, p)
		}
		if p[0] < p[1] && conducts(v[p[0]][p[1]]) && conducts(v[p[1]][p[0]]) {
			both = append(both, p)
		}
	}
	var out Verdict
	switch {
	case len(both) > 0 && alike(v, both[0]):
		p := both[0]
		out = verdict(Unsure, "a resistance stands between legs %d and %d: built in, or a leak", p[0], p[1])
		out.because("%s one way and %s the other: a junction that leaks would differ", inVolts(v[p[0]][p[1]]), inVolts(v[p[1]][p[0]]))
		out.surer(
			"its data, or the same readings of a good one of its type: transistors that are switched by logic have resistors at their base",
		)
	case len(both) > 0:
		p := both[0]
		out = verdict(Bad, "it leaks between legs %d and %d", p[0], p[1])
		out.because("%s one way and %s the other: a junction conducts one way", inVolts(v[p[0]][p[1]]), inVolts(v[p[1]][p[0]]))
		out.limit("a transistor with resistors built in at its base reads so too")
		out.surer("the same readings of a good one of its type")
	case len(diodes) == 1:
		p := diodes[0]
		out = verdict(Bad, "one junction is open: only %d to %d conducts", p[0], p[1])
		out.because("a good one has two junctions that meet at its base")
		out.limit("a MOS FET reads so too: the one diode is the one built into it. Check it as a FET if it may be one")
	case len(diodes) == 0:
		out = verdict(Bad, "nothing conducts: both junctions are open")
		out.because("a good one has two junctions that meet at its base")
		out.limit("so reads a transistor with large resistors built in, or a FET")
	default:
		out = verdict(Unsure, "this is no single transistor")
		out.because("%d pairs conduct one way, and none of the legs with both others in the same sense", len(diodes))
		out.surer("take it out: parts around it may be read too")
	}
	g.inCircuit(&out)
	return out
}
