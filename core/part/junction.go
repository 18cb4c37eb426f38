package part

import (
	"math"

	"steptrace/core/quantity"
)

// fetKind checks a FET by its terminals. A MOS FET's gate is insulated from all else, its
// body diode conducts from source to drain (n channel), and its channel is opened by a charge
// on the gate, which a diode test leaves there.
var fetKind = Check{
	Name:    "fet",
	Title:   "Transistor, FET",
	Caution: isolated + " Touch ground first: a gate is pierced by a charge that nobody feels.",
	Fields: []Field{
		{Name: "kind", Title: "Kind", Choices: []string{"n mos", "p mos", "n junction", "p junction"}, Needed: true},
		diodeTest("gs", "Gate to source", "red on gate", true), diodeTest("sg", "Source to gate", "red on source", true),
		diodeTest("gd", "Gate to drain", "", false), diodeTest("dg", "Drain to gate", "", false),
		diodeTest(
			"ds",
			"Drain to source",
			"red on drain, gate emptied: touch it to the source first",
			false,
		), diodeTest("sd", "Source to drain", "red on source", false),
		diodeTest("opened", "Drain to source, opened", "after red touched the gate (p: black)", false),
		{
			Name:  "threshold",
			Title: "Threshold",
			Hint:  "gate voltage at which it begins",
			unit:  quantity.Volt,
			most:  30,
			hint:  "Was it mV?",
		},
		{
			Name:  "lowest",
			Title: "Lowest by its data",
			unit:  quantity.Volt,
		}, {Name: "highest", Title: "Highest by its data", unit: quantity.Volt},
		choice("where", "Where", "out of circuit", "in circuit")},
	judge: fet,
}

// Long: the rules of the check, in the order in which they count.
func fet(g *given) Verdict {
	kind := g.texts["kind"]
	gs, sg := g.numbers["gs"], g.numbers["sg"]
	gd, dg := g.or("gd", math.Inf(1)), g.or("dg", math.Inf(1))
	ds, hasDS := g.number("ds")
	sd, hasSD := g.number("sd")
	out := verdict(Good, "nothing is wrong with it by these readings")
	switch kind {
	case "n mos", "p mos":
		for _, x := range []float64{gs, sg, gd, dg} {
			if x <= 3 {
				out.worse(Bad, "its gate conducts (%s): it is pierced", inVolts(x))
				break
			}
		}
		if kind == "p mos" {
			ds, sd, hasDS, hasSD = sd, ds, hasSD, hasDS
		}
		if hasSD && sd > mostDrop {
			out.worse(Unsure, "its body diode does not conduct")
			out.surer("read source and drain with the leads exchanged: are they the right legs, and is it an n or a p channel?")
		}
		if opened, ok := g.number("opened"); ok && opened > mostDrop && hasDS {
			out.worse(Unsure, "its channel was not opened")
			out.surer("a tester that gives its gate 10 V: a diode test's volts may be less than its threshold")
		}
	default:
		drop, back := gs, sg
		if kind == "p junction" {
			drop, back = sg, gs
		}
		if drop < shorted || back <= mostDrop {
			out.worse(Bad, "its gate's junction conducts backwards")
		} else if drop > mostDrop {
			out.worse(Bad, "its gate's junction is open")
		}
		if hasDS && hasSD && (ds > mostDouble || sd > mostDouble) {
			out.worse(Bad, "its channel is open: a junction FET conducts with no gate voltage")
		}
		if hasDS && hasSD && ds < shorted && sd < shorted {
			out.worse(Bad, "shorted from drain to source: a good channel has some hundred ohms")
		}
	}
	if kind[2:] == "mos" && hasDS && hasSD {
		switch {
		case ds < shorted && sd < shorted:
			out.worse(Bad, "shorted from drain to source")
			out.limit("a gate that holds a charge opens the channel and reads the same: touch gate and source together, and read again")
		case ds <= mostDrop:
			out.worse(Unsure, "it conducts from drain to source")
			out.surer("empty its gate to the source, and read drain to source again: if it still conducts, it is bad")
		}
	}
	if th, ok := g.number("threshold"); ok {
		if low, ok := g.number("lowest"); ok && th < low {
			out.worse(Bad, "its threshold of %s is below %s", inVolts(th), inVolts(low))
		}
		if high, ok := g.number("highest"); ok && th > high {
			out.worse(Bad, "its threshold of %s is above %s", inVolts(th), inVolts(high))
		}
	} else if out.Judgement == Good {
		out.surer("its threshold, against its data")
	}
	if out.Judgement == Good {
		out.limit("what breaks through at working voltage does not show at a meter's")
	}
	g.inCircuit(&out)
	if names := map[string]string{"n-mosfet": "n mos", "p-mosfet": "p mos", "n-jfet": "n junction",
		"p-jfet": "p junction"}; names[g.place.Kind] != "" {
		g.wrongKind(&out, kind, names[g.place.Kind])
	}
	return out
}

// drops are the forward drops, in volts, at a meter's milliamp or so: textbook values.
var drops = map[string][2]float64{
	"silicon":   {0.4, 0.9},
	"schottky":  {0.08, 0.45},
	"germanium": {0.08, 0.45},
	"led":       {1.2, 3.6},
	"zener":     {0.5, 0.95},
}

var diodeKind = Check{Name: "diode", Title: "Diode, zener, LED", Caution: isolated,
	Fields: []Field{{Name: "kind", Title: "Kind", Choices: []string{"silicon", "schottky", "germanium", "zener", "led"}, Needed: true},
		diodeTest("forward", "Forward", "red on its anode", true), diodeTest("back", "Backward", "red on its cathode", true),
		{
			Name:  "zener",
			Title: "Zener voltage",
			Hint:  "measured through a resistor",
			unit:  quantity.Volt,
		}, {Name: "nominal", Title: "Should be", Hint: "zener voltage by its type", unit: quantity.Volt},
		{
			Name:  "tolerance",
			Title: "±",
			Hint:  "5 %",
			unit:  quantity.Ratio,
		}, {Name: "leakage", Title: "Leakage", Hint: "backward, at working voltage", unit: quantity.Ampere},
		choice("where", "Where", "out of circuit", "in circuit")},
	judge: func(g *given) Verdict {
		kind, f, b := g.texts["kind"], g.numbers["forward"], g.numbers["back"]
		within := drops[kind]
		out := verdict(Good, "it conducts one way: %s", inVolts(f))
		switch {
		case f < shorted && b < shorted:
			out.worse(Bad, "shorted")
		case math.IsInf(f, 1) && math.IsInf(b, 1) && kind == "led":
			out.worse(Unsure, "nothing conducts")
			out.surer("feed it 2 mA through a resistor from 9 V: many meters have too few volts for an LED")
		case math.IsInf(f, 1) && math.IsInf(b, 1):
			out.worse(Bad, "open")
		case b <= mostDouble && f <= mostDouble:
			out.worse(Bad, "it leaks: it conducts backwards too (%s)", inVolts(b))
		case f > within[1] && b >= within[0] && b <= within[1]:
			out.worse(Unsure, "it conducts the other way round")
			out.surer("was it read with the leads exchanged, or is it fitted the wrong way?")
		case f < within[0] || f > within[1]:
			out.worse(
				Unsure,
				"its drop of %s is not that of a %s diode (%s to %s)",
				inVolts(f),
				kind,
				inVolts(within[0]),
				inVolts(within[1]),
			)
		}
		if z, ok := g.number("zener"); ok {
			if nominal, known := g.number("nominal"); known {
				share := g.or("tolerance", 0.05)
				if math.Abs(z-nominal) > share*nominal {
					out.worse(Bad, "it holds %s, not %s within %.3g %%", inVolts(z), inVolts(nominal), 100*share)
				} else {
					out.because("it holds %s", inVolts(z))
				}
			}
		} else if kind == "zener" && out.Judgement == Good {
			out.limit("a diode test does not reach its zener voltage")
			out.surer("its zener voltage at 5 mA, through a resistor")
		}
		most := map[string]float64{"silicon": 10e-6, "zener": 10e-6, "led": 10e-6, "schottky": 1e-3, "germanium": 500e-6}[kind]
		if leak, ok := g.number("leakage"); ok && leak > most {
			out.worse(
				Bad,
				"it leaks %s backwards; such a one stays below %s",
				quantity.Rounded(leak, quantity.Ampere),
				quantity.Rounded(most, quantity.Ampere),
			)
		} else if !ok && out.Judgement == Good {
			out.limit("a meter's volts do not show what leaks or breaks through at working voltage")
		}
		g.inCircuit(&out)
		g.zenerOf(&out, kind)
		return out
	}}

// zenerOf tells where another Zener diode is fitted than belongs there, or none.
func (g *given) zenerOf(out *Verdict, kind string) {
	belongs := g.place.Value
	marked, known := g.number("nominal")
	if z, ok := g.number("zener"); ok && !known {
		marked, known = z, true
	}
	switch {
	case g.place.Kind != "diode":
	case belongs > 0 && kind != "zener":
		out.other("wrong part fitted: a %s diode where a Zener of %s belongs", kind, inVolts(belongs))
	case belongs == 0 && kind == "zener":
		out.other("wrong part fitted: a Zener where a plain diode belongs")
	case known && belongs > 0 && (marked > belongs*otherValue || marked < belongs/otherValue):
		out.other("wrong value fitted: a Zener of %s where %s belongs", inVolts(marked), inVolts(belongs))
	}
}

var bridgeKind = Check{Name: "bridge", Title: "Bridge rectifier", Caution: isolated,
	Fields: []Field{
		diodeTest("a+", "~1 to +", "red on the first ~", true),
		diodeTest("b+", "~2 to +", "", true),
		diodeTest("-a", "− to ~1", "red on −", true),
		diodeTest("-b", "− to ~2", "", true),
		diodeTest(
			"+-",
			"− to +",
			"red on −: two in series",
			false,
		),
		diodeTest("+a", "+ to ~1", "backward", false),
		diodeTest("+b", "+ to ~2", "backward", false),
		diodeTest(
			"a-",
			"~1 to −",
			"backward",
			false,
		),
		diodeTest("b-", "~2 to −", "backward", false),
		choice("where", "Where", "out of circuit", "in circuit"),
	},
	judge: func(g *given) Verdict {
		out := verdict(Good, "its four diodes conduct one way each")
		within := drops["silicon"]
		for _, d := range []struct{ name, forward, back string }{{"~1 to +", "a+", "+a"}, {"~2 to +", "b+", "+b"}, {"− to ~1", "-a", "a-"},
			{"− to ~2", "-b", "b-"}} {
			f, b := g.numbers[d.forward], g.or(d.back, math.Inf(1))
			switch {
			case f < shorted:
				out.worse(Bad, "the diode from %s is shorted", d.name)
			case b <= mostDouble:
				out.worse(Bad, "the diode from %s leaks backwards (%s)", d.name, inVolts(b))
			case math.IsInf(f, 1):
				out.worse(Bad, "the diode from %s is open", d.name)
			case f < within[0] || f > within[1]:
				out.worse(Unsure, "the diode from %s drops %s", d.name, inVolts(f))
			}
		}
		if _, ok := g.number("+a"); !ok && out.Judgement == Good {
			out.surer("the four readings backwards: a diode that leaks conducts both ways")
		}
		g.inCircuit(&out)
		return out
	}}
