package replace

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/device"
	"steptrace/core/quantity"
	"steptrace/core/substitute"
)

// Sort is of what sort a part is, which decides by what rules another takes its place.
type Sort string

// The sorts.
const (
	Typed     Sort = "type"
	Capacitor Sort = "capacitor"
	Resistor  Sort = "resistor"
	Fuse      Sort = "fuse"
	Relay     Sort = "relay"
	Control   Sort = "control"
	Module    Sort = "module"
	Stack     Sort = "bias diode"
	Matched   Sort = "part to match" // a crystal, a winding, a thermistor
	Mending   Sort = "mending"       // work on the board itself
	Unknown   Sort = ""
)

// Kept is something in the workshop's drawer.
type Kept struct {
	What  string `json:"what"`
	Count int    `json:"count"`
	Place string `json:"place,omitempty" jsonschema:"description=where it lies"`
	Price string `json:"price,omitempty"`
}

// Offer is something that may go in.
type Offer struct {
	New     string             `json:"new"`
	Says    string             `json:"says"` // of its verdict, in a line
	About   string             `json:"about"`
	Drawer  int                `json:"drawer"`
	Place   string             `json:"place"`
	Verdict substitute.Verdict `json:"verdict"`
}

// thing is a part as it was there, or as it is offered.
type thing struct {
	sort     Sort
	device   *device.Type
	rest     string // of the type's name, beyond what is known
	cap      substitute.Capacitor
	resistor substitute.Resistor
	fuse     substitute.Fuse
	relay    substitute.Relay
	control  substitute.Control
	stack    substitute.Stack
	name     string   // of a module; of what is to match its kind
	works    []string // of a module: others that have worked in its place
	mending  *mending
}

// called are the sorts that begin with their names: "relay 12 V 400 ohm", "module HX-12", "crystal 10.7 MHz".
func called(typed string) (thing, bool, error) {
	if m := mendingOf(typed); m != nil {
		return thing{sort: Mending, mending: m}, true, nil
	}
	first, rest, _ := strings.Cut(strings.ToLower(typed), " ")
	switch first {
	case "relay":
		r, err := substitute.RelayOf(typed)
		return thing{sort: Relay, relay: r}, true, err
	case "control", "pot", "potentiometer":
		c, err := substitute.ControlOf(typed)
		return thing{sort: Control, control: c}, true, err
	case "bias":
		s, err := substitute.StackOf(typed)
		return thing{sort: Stack, stack: s}, true, err
	case "module", "board":
		return thing{sort: Module, name: strings.TrimSpace(rest)}, true, nil
	case "transformer", "coil":
		first = "winding"
	}
	if _, ok := substitute.Matches[first]; ok {
		return thing{sort: Matched, name: first}, true, nil
	}
	return thing{}, false, nil
}

// thingOf reads a part as a type of the table, or as one speaks of it: a fuse by its amperes, a capacitor by its farads, a
// resistor by its ohms. The error is that of the sort it comes nearest to. Sort may be known from the circuit.
//
// Long: the sorts, one after the other.
func thingOf(table *device.Table, typed string, known Sort) (thing, error) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return thing{}, nil
	}
	if t, ok, err := called(typed); ok {
		return t, err
	}
	if s, ok := substitute.SeriesOf(table, typed); ok && (known == Unknown || known == Stack) {
		return thing{sort: Stack, stack: s}, nil
	}
	if len(substitute.Pieces(typed)) > 1 && (known == Unknown || known == Capacitor || known == Resistor) {
		c, err := substitute.CapacitorsOf(typed)
		if err == nil || known == Capacitor {
			return thing{sort: Capacitor, cap: c}, err
		}
		r, err := substitute.ResistorsOf(typed)
		return thing{sort: Resistor, resistor: r}, err
	}
	if known == Unknown || known == Typed {
		if t, rest, ok := table.Find(typed); ok {
			return thing{sort: Typed, device: t, rest: rest}, nil
		}
		if begun(table, typed) {
			return thing{sort: known}, fmt.Errorf("%q is not known: %s", typed, unknownType(table, typed))
		}
	}
	if known == Unknown || known == Fuse {
		if f, err := substitute.FuseOf(typed); err == nil {
			return thing{sort: Fuse, fuse: f}, nil
		} else if known == Fuse {
			return thing{sort: Fuse}, err
		}
	}
	if known == Unknown || known == Capacitor {
		c, _, err := substitute.CapacitorOf(typed)
		if err == nil {
			return thing{sort: Capacitor, cap: c}, nil
		} else if known == Capacitor {
			return thing{sort: Capacitor}, err
		}
	}
	if known == Unknown || known == Resistor {
		r, err := substitute.ResistorOf(typed)
		if err == nil {
			return thing{sort: Resistor, resistor: r}, nil
		} else if known == Resistor {
			return thing{sort: Resistor}, err
		}
	}
	return thing{sort: known}, fmt.Errorf("%q is not known: %s", typed, unknownType(table, typed))
}

// begun tells whether a text is the beginning of types' numbers, and long enough not to be a value: 2n39, but not 2n2.
func begun(table *device.Table, typed string) bool {
	const long = 4
	return len(typed) >= long && table.Begun(typed)
}

// unknownType says what to do about a type that nobody knows.
func unknownType(table *device.Table, typed string) string {
	var names []string
	for _, t := range table.Near(typed, 4) {
		names = append(names, t.Name)
	}
	if len(names) > 0 {
		return "it may be " + strings.Join(names, ", ") + "; else enter it among the types with what its sheet says"
	}
	return "enter it among the types with what its sheet says, or say what it is: 2SC1815, 47u 63v electrolytic, 4k7 0.5 W, T1.6A, " +
		"relay 12 V 400 ohm, control 50k log, module HX-12, bias diode of 2, crystal 10.7 MHz; of the board: " + MendingWords()
}

// judge weighs one thing in the place of another; of different sorts nothing fits.
func judge(before, after *thing, d *Duty) substitute.Verdict {
	switch {
	case before.sort != after.sort || before.sort == Unknown:
		v := substitute.Verdict{Grade: substitute.Unfit, Changes: []string{}, Mind: []string{}, Bars: []substitute.Bar{}}
		v.Against = []string{fmt.Sprintf("it is a %s, and the old one is a %s", orOther(after.sort), orOther(before.sort))}
		return v
	case before.sort == Typed:
		v := substitute.Semiconductor(before.device, after.device, d.place())
		if after.rest != "" {
			v.Mind = append(v.Mind, fmt.Sprintf("taken as %s: what %s behind it says is not known", after.device.Name, after.rest))
		}
		return v
	case before.sort == Capacitor:
		return substitute.CapacitorFor(before.cap, after.cap, d.post())
	case before.sort == Fuse:
		return substitute.FuseFor(before.fuse, after.fuse)
	case before.sort == Relay:
		return substitute.RelayFor(before.relay, after.relay, substitute.Task{Amps: d.Amps, Signal: d.Signal})
	case before.sort == Control:
		return substitute.ControlFor(before.control, after.control)
	case before.sort == Stack:
		return substitute.StackFor(before.stack, after.stack)
	case before.sort == Module:
		return substitute.ModuleFor(before.name, after.name, before.works)
	case before.sort == Matched:
		return substitute.MatchedFor(before.name)
	}
	return substitute.ResistorFor(before.resistor, after.resistor, d.stand())
}

func orOther(s Sort) string {
	if s == Unknown {
		return "part of another sort"
	}
	return string(s)
}

// Says is a verdict in a line.
func says(v *substitute.Verdict) string {
	switch v.Grade {
	case substitute.Unfit:
		return "no: " + strings.Join(v.Against, "; ")
	case substitute.Changed:
		return string(v.Grade) + ": " + strings.Join(v.Changes, "; ")
	}
	if len(v.Mind) > 0 {
		return string(v.Grade) + "; mind: " + v.Mind[0]
	}
	return string(v.Grade)
}

// aboutType is a type in a line: "npn 45 V 100 mA, TO-92".
func aboutType(t *device.Type) string {
	out := strings.TrimSpace(t.Row.Polarity + " " + strings.Join(strings.Fields(t.Row.Volts+" "+t.Row.Amps+" "+t.Row.Watts), " "))
	if t.Row.Case != "" {
		out += ", " + t.Row.Case
	}
	return strings.TrimPrefix(out, ", ")
}

const (
	mostOffers = 12
	// mostUnfit is how many of the drawer are named with why they do not fit.
	mostUnfit = 3
)

// offers lists what may go in: from the drawer first, then what to order.
func offers(table *device.Table, drawer []Kept, r *ready) []Offer {
	before, d := &r.before, &r.duty
	out := []Offer{}
	add := func(name, about string, v substitute.Verdict, k *Kept) {
		o := Offer{New: name, About: about, Verdict: v, Says: says(&v)}
		if k != nil {
			o.Drawer, o.Place = k.Count, k.Place
		}
		out = append(out, o)
	}
	switch before.sort {
	case Typed:
		counts, places := map[string]int{}, map[string]*Kept{}
		for i := range drawer {
			if t, _, ok := table.Find(drawer[i].What); ok && drawer[i].Count > 0 {
				counts[t.Name] += drawer[i].Count
				places[t.Name] = &drawer[i]
			}
		}
		for _, r := range substitute.Semiconductors(table, before.device, d.place(), counts, math.MaxInt) {
			add(r.Type.Name, aboutType(r.Type), r.Verdict, places[r.Type.Name])
		}
	case Unknown, Mending:
		return out
	default:
		for i := range drawer {
			after, err := thingOf(table, drawer[i].What, Unknown)
			if err != nil || after.sort != before.sort || drawer[i].Count < 1 || !before.near(&after) {
				continue
			}
			add(drawer[i].What, "", judge(before, &after, d), &drawer[i])
		}
		names := ideal(table, before, d, r.of)
		if names == nil { // the same again
			names = []string{r.subject.Was}
			for _, works := range before.works {
				names = append(names, "module "+works)
			}
		}
		for _, name := range names {
			after, err := thingOf(table, name, before.sort)
			if err == nil && !slices.ContainsFunc(out, func(o Offer) bool { return o.New == name }) {
				add(name, "", judge(before, &after, d), nil)
			}
		}
	}
	return fewer(out)
}

// near tells whether a value is of the same order, so that it is worth saying why it does not fit.
func (t *thing) near(x *thing) bool {
	if t.sort != Capacitor && t.sort != Resistor && t.sort != Fuse {
		return true
	}
	a, b := t.cap.Farads+t.resistor.Ohms+t.fuse.Amps, x.cap.Farads+x.resistor.Ohms+x.fuse.Amps
	return b <= 5*a && a <= 2*b
}

// fewer orders offers, the drawer before what is to be ordered, and leaves a few of those that do not fit.
func fewer(out []Offer) []Offer {
	grades := []substitute.Grade{substitute.Fits, substitute.Changed, substitute.Unfit}
	slices.SortStableFunc(out, func(a, b Offer) int {
		ga, gb := slices.Index(grades, a.Verdict.Grade), slices.Index(grades, b.Verdict.Grade)
		return cmp.Or(
			cmp.Compare(boolean(ga == 2), boolean(gb == 2)),
			cmp.Compare(boolean(a.Drawer == 0), boolean(b.Drawer == 0)),
			cmp.Compare(ga, gb),
		)
	})
	fit := slices.IndexFunc(out, func(o Offer) bool { return o.Verdict.Grade == substitute.Unfit })
	if fit < 0 {
		fit = len(out)
	}
	unfit := out[fit:]
	return append(slices.Clone(out[:min(fit, mostOffers)]), unfit[:min(len(unfit), mostUnfit)]...)
}

func boolean(b bool) int {
	if b {
		return 1
	}
	return 0
}

// ideal is what to look for when ordering, as one speaks of it, the best first; nil: the same again.
func ideal(table *device.Table, before *thing, d *Duty, of chosen) []string {
	switch before.sort {
	case Stack:
		var out []string
		for _, s := range before.stack.Made(table) {
			out = append(out, s.Says())
		}
		return out
	case Fuse:
		return []string{before.fuse.Says()}
	case Resistor:
		r := before.resistor.Sought(d.stand())
		out := []string{r.Says()}
		// One that is not sold is made of two that are.
		if made := substitute.Combine(r.Ohms, quantity.E24, false, 1); len(made) > 0 && len(made[0].Of) > 1 {
			rated := strings.TrimPrefix(r.Says(), substitute.Shown(r.Ohms, quantity.Ohm))
			var each []string
			for _, ohms := range made[0].Of {
				each = append(each, substitute.Shown(ohms, quantity.Ohm)+rated)
			}
			out = append(out, strings.Join(each, map[bool]string{true: " || ", false: " + "}[made[0].Parallel]))
		}
		return out
	case Capacitor:
		var out []string
		for _, c := range before.cap.Sought(d.post(), of.has(AsItWas)) {
			out = append(out, c.Says())
		}
		return out
	}
	return nil
}
