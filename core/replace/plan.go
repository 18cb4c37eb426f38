package replace

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"steptrace/core/device"
	"steptrace/core/quantity"
	"steptrace/core/substitute"
)

// Step is one step of the work. Caution is what stands before it. A step is known by its key, whatever its words are now.
type Step struct {
	Key     string `json:"key"`
	Text    string `json:"text"`
	Caution string `json:"caution"`
	Part    string `json:"part"`
	Done    bool   `json:"done"`
	Entry   string `json:"entry"` // that said so
	At      string `json:"at"`    // when that was, in UTC after RFC 3339; empty where it is not done
	Note    string `json:"note"`
	Fits    bool   `json:"-"` // with it the new one is in
	// Pictures of it.
	Pictures []string `json:"pictures"`
}

// iron is how a leg comes out of a kind of board, with what temperature, and how its pads are left.
//
// Source: the trade; temperatures of the iron for tin-lead solder, some 30 °C more for lead-free (IPC-7711 names its
// procedures by the same materials).
type iron struct{ out, pads, mind string }

var irons = map[Board]iron{
	Phenolic: {
		"fresh solder on each joint, then braid it free leg by leg and lift; iron at 320 °C, three seconds a leg",
		"Pads cleaned and tinned; a pad that has come loose is glued, not pulled",
		"Copper lifts from this board quickly: never lever, never pull on a leg that is not free",
	},
	Glass: {
		"suck each hole clear from the solder side; what is condemned is clipped off first and its legs pulled one at a time; iron at " +
			"350 °C",
		"Holes open through and through, pads tinned on both sides",
		"The sleeve in the hole comes along with a leg that is pulled cold",
	},
	Multilayer: {
		"board warmed from below to 100 °C, broad tip at 370 °C, legs to ground planes last; clip it off and pull leg by leg",
		"Holes sucked clear while the board is warm; tracks inside measured through",
		"Ground planes take the heat away: wait, do not press",
	},
	Surface: {
		"shield what stands beside it, flux, and hot air at 320 °C, or an iron on either end; lift when all of it floats",
		"Pads braided flat, flux off, no bridge under the glass",
		"Small parts beside it fly off in hot air: count them before and after",
	},
	Fine: {
		"tape over what stands beside it, flux along every row, hot air at 350 °C in circles; lift when all sides float, never pull",
		"Pads braided flat with little heat; each leg looked at under the glass, and pressed with a needle",
		"A leg that is pulled cold takes its track along",
	},
	Balls: {
		"the board held where it is warmed, 150 °C from below, then air from above until it sinks by itself; a careful reflow is tried " +
			"before another chip is fitted",
		"Pads level and clean before another goes on",
		"Never a whole board in an oven: connectors, electrolytics and batteries die there",
	},
	Weak: {
		"clip the body away and take each leg by itself, with little heat",
		"Tracks mended over bared copper with thin wire, glued, and measured from end to end",
		"Every pull tears: the copper holds by its solder only",
	},
	Chassis: {
		"solder off, the hook bent open with pliers while it is hot, then out",
		"Tag cleaned and tinned; the wire hooked once before it is soldered",
		"Old insulation crumbles where it is bent",
	},
}

// fitted is a part of the plan: what is to be done about it.
type fitted struct {
	subject *Part
	before  thing
	after   thing
	verdict substitute.Verdict
	sink    bool
	under   bool // what shields it comes off first
	of      chosen
}

// hunger ranks by how much heat a part needs to come out: what hangs on metal first, small parts last; what eats the board goes
// before all, and it is mended when the parts are out.
func (f *fitted) hunger() int {
	c := caseOf(f.before.device)
	switch m := f.before.mending; {
	case m != nil && m.early:
		return -1
	case m != nil:
		return 4
	case f.sink, c != nil && c.Shape == device.Flange:
		return 0
	case f.before.sort == Capacitor && f.before.cap.Farads >= 1e-3:
		return 1
	case f.before.sort == Typed:
		return 2
	}
	return 3
}

func caseOf(t *device.Type) *device.Case {
	if t == nil {
		return nil
	}
	return t.Case
}

// plan lists the work in order: the set made safe and pictured, what needs much heat before what is small, each old part out
// and the new one in, what else is looked at, and the first power through a limit.
func plan(fits []fitted, board Board, look []Beside, reservoirs []string, tube bool, amps string) []Step {
	if len(fits) == 0 {
		return []Step{}
	}
	how, known := irons[board]
	if !known {
		how = iron{
			"say of what the board is (b); until then: fresh solder on each joint, braid or suck it free, and lift without force",
			"Pads cleaned and tinned", "",
		}
	}
	out := beforeAll(reservoirs, tube)
	slices.SortStableFunc(fits, func(a, b fitted) int { return cmp.Compare(a.hunger(), b.hunger()) })
	many, under := 0, []string{}
	for i := range fits {
		if fits[i].subject.Listed {
			many++
		}
		if fits[i].under {
			under = append(under, fits[i].subject.Part)
		}
	}
	if len(under) > 0 {
		out = append(out, Step{
			Key: "shield",
			Text: "Shield over " + enumerated(
				under,
			) + " off: each tab freed of solder, folded up one by one, then " +
				"lifted level; kept to go back on",
			Caution: "Its edges cut, and it holds heat for minutes; a tab that is bent twice breaks.",
		})
	}
	for i := range fits {
		switch p := fits[i].subject; {
		case fits[i].before.mending != nil:
			out = append(out, fits[i].mendingSteps()...)
		case p.Advice == Stays && p.New == "":
		case p.Listed && many >= fewListed:
			out = append(out, fits[i].atOnce(how))
		default:
			out = append(out, fits[i].steps(how)...)
		}
	}
	if len(look) > 0 {
		var names []string
		for _, b := range look {
			names = append(names, b.Part)
		}
		out = append(out, Step{Key: "beside", Text: enumerated(names) + " checked before any power"})
	}
	glass := "Joints under the glass, a wiggle at each, no bridge by ohms; loose scraps out"
	if len(under) > 0 {
		glass += "; the shield back on, every tab down"
	}
	out = append(out, Step{Key: "glass", Text: glass})
	power := "First power through a series lamp or a limited supply"
	if amps != "" {
		power += ": " + amps
	}
	for i := range out { // a caution stands before the first step that needs it
		for k := range i {
			if out[k].Caution == out[i].Caution {
				out[i].Caution = ""
			}
		}
	}
	return append(out, Step{
		Key: "power", Text: power,
		Caution: "A hand off the set, the other at the switch; a lamp that stays bright means off again. " +
			"Isolating transformer for a live chassis.",
	})
}

// beforeAll are the steps before anything comes out: the set made safe, its picture tube too, and pictured.
func beforeAll(reservoirs []string, tube bool) []Step {
	safe := "Set off, unplugged"
	if len(reservoirs) > 0 {
		safe += "; " + strings.Join(reservoirs, ", ") + " measured below 10 V"
	}
	out := []Step{
		{
			Key:  "safe",
			Text: safe,
			Caution: "Capacitors recharge by themselves: measure again before a tool goes in. " +
				"Local codes and licensed practice come first.",
		},
	}
	if tube {
		out = append(out, Step{
			Key: "tube",
			Text: "Picture tube: its anode discharged to its own ground strap through a resistor made for it, " +
				"and once more after ten minutes",
			Caution: "The tube recharges by itself, to kilovolts. A knock on its neck implodes it: glasses, and no tool laid on it. " +
				"Work at it belongs to those licensed for it.",
		})
	}
	out = append(out, Step{
		Key:  "picture",
		Text: "Picture of the place: polarity, order of legs, how each stood",
		Caution: "Solder smokes, and old solder is lead: an extractor or an open window, hands washed before food. " +
			"What was under the iron burns for minutes.",
	})
	return out
}

// enumerated names all of some: "Q13, R61 and D7".
func enumerated(names []string) string {
	if len(names) == 1 {
		return names[0]
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}

// steps are those of one part.
//
// Long: one after the other, as the hands do it.
func (f *fitted) steps(how iron) []Step {
	p := f.subject
	var out []Step
	add := func(key, caution, format string, args ...any) {
		out = append(out, Step{Key: key + " " + p.Part, Part: p.Part, Caution: caution, Text: fmt.Sprintf(format, args...)})
	}
	if f.sink {
		caution := ""
		if f.before.device != nil && f.before.device.Watts >= 10 {
			caution = "A white ceramic washer may be beryllium oxide: whole or not, it is never ground, filed or broken."
		}
		add("loose", caution, "%s off its heat sink: screws and washers kept together", p.Part)
	}
	caution := sentence(how.mind)
	if f.twists() {
		caution += " A small electrolytic can be twisted off where the iron cannot get at it: pressed down, turned to and fro, " +
			"never pulled; its pads may come along, and then a wire goes in their place."
	}
	add("out", strings.TrimSpace(caution), "Old %s out: %s", p.Part, how.out)
	add("pads", "", "%s", how.pads)
	if test := f.tested(); test != "" {
		add("test", f.static(), "New one for %s measured before it goes in: %s", p.Part, test)
	}
	text := fmt.Sprintf("%s in: %s", p.Part, cmp.Or(p.New, "nothing is chosen for it yet"))
	if len(f.verdict.Changes) > 0 {
		text += ", " + strings.Join(f.verdict.Changes, ", ")
	}
	if p.Against {
		text += "; against the rules: " + strings.Join(f.verdict.Against, "; ")
	}
	if f.polar() {
		text += "; polarity checked twice, by the picture and by the board"
	}
	add("in", "", "%s", text)
	out[len(out)-1].Fits = true
	if c := caseOf(f.after.device); f.sink && c != nil {
		if c.Tab < 0 {
			add("sink", "", "%s bolted to its sink with fresh paste; its case insulates by itself", p.Part)
		} else if f.of.has(Pad) {
			add("sink", "", "A new pad and bush for %s, dry; from its tab to the sink over 10 MΩ, if it was insulated", p.Part)
		} else {
			add("sink", "", "Washer, bush and paste of %s renewed; from its tab to the sink over 10 MΩ, if it was insulated", p.Part)
		}
	}
	return out
}

// fewListed is from how many parts of a list on each is a step.
const fewListed = 4

// twists tells a small electrolytic that stands on the board's surface.
func (f *fitted) twists() bool {
	return f.before.sort == Capacitor && f.before.cap.Surface && f.before.cap.Dielectric == substitute.Electrolytic
}

// sentence ends what is to be minded, where there is something.
func sentence(mind string) string {
	if mind == "" {
		return ""
	}
	return mind + "."
}

// atOnce is all of a part in one step, where many alike are renewed.
func (f *fitted) atOnce(how iron) Step {
	p := f.subject
	text := fmt.Sprintf("%s: old one out, pads clean, ", p.Part)
	if test := f.tested(); test != "" {
		text += "the new one measured (" + test + "), "
	}
	if p.New == "" {
		text += "nothing is chosen for it yet"
	} else {
		text += p.New + " in"
	}
	if f.polar() {
		text += "; polarity checked twice"
	}
	return Step{Key: "renew " + p.Part, Part: p.Part, Text: text, Caution: sentence(how.mind), Fits: true}
}

// tested says what is measured of a new part before it goes in.
func (f *fitted) tested() string {
	switch {
	case f.before.sort == Capacitor && (f.after.cap.Dielectric == substitute.Electrolytic || f.after.cap.Dielectric == substitute.Bipolar):
		return "value, series resistance, leakage at its working volts"
	case f.before.sort == Capacitor:
		return "value"
	case f.before.sort == Resistor && f.after.resistor.Ohms == 0:
		return "its resistance"
	case f.before.sort == Resistor:
		return quantity.Rounded(f.after.resistor.Ohms, quantity.Ohm)
	case f.before.sort == Fuse:
		return "below an ohm"
	case f.before.device == nil:
		return ""
	}
	switch f.before.device.Kind {
	case device.Transistor:
		return "both junctions, gain, and the order of its legs"
	case device.MOSFET, device.JFET:
		return "no short, opens and closes, and the order of its legs"
	case device.Diode, device.Rectifier, device.Zener, device.Bridge:
		return "drop one way, open the other"
	}
	return ""
}

// static warns of what a finger kills.
func (f *fitted) static() string {
	if d := f.after.device; d != nil && (d.Kind == device.MOSFET || d.Kind == device.JFET || d.Kind == device.Switch) {
		return "Static kills it: wrist strap, legs in foam until it is soldered."
	}
	return ""
}

// polar tells whether the new one can go in the wrong way round.
func (f *fitted) polar() bool {
	switch f.after.sort {
	case Capacitor:
		return f.after.cap.Dielectric == substitute.Electrolytic || f.after.cap.Dielectric == substitute.Tantalum
	case Typed:
		k := f.after.device.Kind
		return k == device.Diode || k == device.Rectifier || k == device.Zener || k == device.Bridge
	}
	return false
}
