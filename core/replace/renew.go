package replace

import (
	"cmp"
	"fmt"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/device"
	"steptrace/core/mend"
	"steptrace/core/part"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/substitute"
)

// Many parts are renewed by a list, a line each: name, what it is, and behind a semicolon what it has to do. What is
// measured of each, before and after, is judged by the check of its kind (package part).

const mostListed = 300

// forAll begins a line that says something of all parts below it: "all 30 years, at 55 °C".
const forAll = "all"

// What an electrolytic of which nothing is known is rated for (the usual class of old ones), and how many hours a year a set
// is on where nobody knows better: three a day. Figures of the trade.
const (
	oldHours, oldCelsius = 2000.0, 85.0
	hoursAYear           = 1000.0
)

// usedUp is how much of an electrolytic's life its years at its heat have taken (Arrhenius in the trade's words: ten degrees, half
// the life); ok is false where either is not said.
func usedUp(c *substitute.Capacitor, d *Duty) (share float64, says string, ok bool) {
	if d.Years <= 0 || d.Celsius <= 0 {
		return 0, "", false
	}
	life := substitute.Life(cmp.Or(c.Hours, oldHours), cmp.Or(c.Celsius, oldCelsius), d.Celsius)
	hours := d.Years * hoursAYear
	return hours / life, fmt.Sprintf(
		"%g years at %g °C are some %s hours, and such a one lasts %s there",
		d.Years,
		d.Celsius,
		quantity.Counted(hours, 2),
		quantity.Counted(life, 2),
	), true
}

// young is the share of its life below which an electrolytic is tested first, whatever the school.
const young = 0.3

// line is one of a list, with where it stands.
type line struct {
	Subject
	at   int
	text string
}

// listed checks a list: each line has to be a part that is known as one. Where columns ran together nothing is guessed.
func listed(typed string) ([]line, error) {
	out, err := lines(typed)
	if err != nil {
		return nil, err
	}
	for i := range out {
		if err := out[i].known(); err != nil {
			return nil, mend.Errorf("line %d, %q: %v", out[i].at, out[i].text, err)
		}
	}
	return out, nil
}

// lines reads a list.
func lines(typed string) ([]line, error) {
	var out []line
	if len(typed) > mostListed*maxText {
		return nil, mend.Errorf("the list is too long: up to %d parts", mostListed)
	}
	seen := map[string]bool{}
	all := "" // what is said of all that follow
	for n, text := range strings.Split(typed, "\n") {
		text = tidy(strings.ReplaceAll(text, "\t", " "))
		if text == "" {
			continue
		}
		if len(out) == mostListed {
			return nil, mend.Errorf("more than %d parts: make several lists", mostListed)
		}
		name, rest, _ := strings.Cut(text, " ")
		name = strings.TrimSuffix(strings.TrimSuffix(name, ","), ":")
		if strings.EqualFold(name, forAll) {
			if _, err := DutyOf(rest); err != nil {
				return nil, mend.Errorf("line %d, %q: %v", n+1, text, err)
			}
			all = rest + ", "
			continue
		}
		was, duty, _ := strings.Cut(rest, ";")
		if seen[name] {
			return nil, mend.Errorf("line %d: %s stands there already", n+1, name)
		}
		seen[name] = true
		out = append(
			out,
			line{Subject{Part: name, Was: strings.Trim(was, " ,"), Duty: strings.Trim(all+strings.TrimSpace(duty), " ,")}, n + 1, text},
		)
	}
	if len(out) == 0 {
		return nil, mend.Errorf("the list is empty: a part a line, for example C101 47u 63v electrolytic; coupling, 24 V")
	}
	return out, nil
}

// known checks that a line names a part, and what it was, apart from one another.
func (s *Subject) known() error {
	const example = "name, what it is, and behind a semicolon what it has to do: C101 47u 63v electrolytic; coupling, 24 V"
	switch {
	case s.Was == "":
		return mend.Errorf("what it is cannot be told from its name: %s", example)
	case len(s.Part) > 12:
		return mend.Errorf("%q is no name of a part: have columns run together? %s", s.Part, example)
	}
	if _, err := thingOf(device.Shipped(), s.Was, Unknown); err != nil {
		return err
	}
	if _, err := DutyOf(s.Duty); err != nil {
		return err
	}
	return texts(text(s.Part), text(s.Was), text(s.Duty))
}

// ofCircuits lists the capacitors of a sheet's circuits as such a list has them.
func ofCircuits(p *sheet.Plan) string {
	var out []string
	for i := range p.Circuits {
		for k := range p.Circuits[i].Circuit.Parts {
			c := &p.Circuits[i].Circuit.Parts[k]
			if c.Kind != circuit.Capacitor || !c.There() {
				continue
			}
			was := c.Value
			if v, err := quantity.ParseAs(c.Value, quantity.Farad); err == nil && v.SI >= 1e-6 {
				was += " electrolytic"
			}
			out = append(out, c.Name+" "+was)
		}
	}
	return strings.Join(out, "\n")
}

// Advice is what is to be done about a part that is renewed with others.
type Advice string

// Renewed, tested first, or left as it is.
const (
	Renew Advice = "renew"
	First Advice = "test first"
	Stays Advice = "stays"
)

// Words implements exchange.Enumerated.
func (Advice) Words() []string { return []string{string(Renew), string(First), string(Stays)} }

// advise says what is to be done about a part of a list: by its tests first, then by its kind and the school.
//
// Long: the rules, what was measured before what is usual.
func (p *Part) advise(before *thing, duty *Duty, of chosen) {
	p.Advice = Renew
	if !p.Listed {
		return
	}
	var old, now *Test
	for i := range p.Tests {
		if p.Tests[i].New {
			now = &p.Tests[i]
		} else {
			old = &p.Tests[i]
		}
	}
	kind := before.cap.Dielectric
	used, aged, known := usedUp(&before.cap, duty)
	switch {
	case old != nil && old.Judgement == part.Bad:
		p.Why = "it tests bad: " + old.Says
	case old != nil && now != nil && now.Judgement == part.Bad && old.Judgement == part.Good:
		p.Advice, p.Why = Stays, "the old one measures better than the new one"
	case before.sort != Capacitor:
		p.Advice, p.Why = First, "only what tests bad, or has browned"
		if old != nil && old.Judgement == part.Good {
			p.Advice, p.Why = Stays, "it tests good"
		}
	case kind == substitute.Paper:
		p.Why = "old paper leaks, all of it"
	case kind == substitute.Tantalum:
		p.Why = "it fails short, without a sign before"
	case kind != substitute.Electrolytic && kind != substitute.Bipolar && kind != "":
		p.Advice, p.Why = Stays, fmt.Sprintf("%s is nearly always good", kind)
	case known && used >= 1:
		p.Why = aged
	case known && used < young && (old == nil || old.Judgement == part.Good):
		if p.Advice, p.Why = First, aged; old != nil {
			p.Advice, p.Why = Stays, "it tests good; "+aged
		}
	case of.has(WhatIsBad) && old == nil:
		p.Advice, p.Why = First, "by this school only what tests bad goes"
	case of.has(WhatIsBad) && old.Judgement == part.Good:
		p.Advice, p.Why = Stays, "it tests good"
	default:
		p.Why = "an electrolytic dries out with its years"
	}
	if p.New != "" && p.Advice != Stays {
		p.Advice = Renew
	}
}

// Test is what was measured of a part, judged.
type Test struct {
	New       bool           `json:"new"`
	Given     string         `json:"given"`
	Judgement part.Judgement `json:"judgement" jsonschema:"enum=good,enum=bad,enum=not sure"`
	Says      string         `json:"says"`
}

// readTest reads what was measured: "31u 4 ohm", "leaks 20 uA at 24 V", "4.8k".
func readTest(typed string) (map[string]string, error) {
	out := map[string]string{}
	words := strings.Fields(strings.NewReplacer(",", " ", ";", " ").Replace(joinedUnits.Replace(typed + " ")))
	for i := 0; i < len(words); i++ {
		w := words[i]
		switch lower := strings.ToLower(w); {
		case lower == "leaks" || lower == "leak" || lower == "esr":
			continue
		case lower == "bulged" || lower == "leaking":
			out["looks"] = lower
			continue
		case lower == "at" && i+1 < len(words):
			i++
			out["at"] = words[i]
			continue
		}
		if strings.HasSuffix(w, "p") || strings.HasSuffix(w, "n") || strings.HasSuffix(w, "u") || strings.HasSuffix(w, "µ") {
			w += "F"
		}
		v, err := quantity.Parse(w, quantity.Ohm)
		field := map[quantity.Unit]string{quantity.Farad: "measured", quantity.Ohm: "esr", quantity.Ampere: "leakage"}[v.Unit]
		if err != nil || field == "" || out[field] != "" {
			const known = "its value, ohms, leaks 20 uA at 24 V, bulged, leaking"
			return nil, mend.Errorf("%q is nothing that is measured of a part: %s", words[i], known)
		}
		out[field] = w
	}
	if len(out) == 0 {
		return nil, mend.Errorf("say what was measured: 31u 4 ohm")
	}
	return out, nil
}

// joinedUnits puts a figure and its unit together.
var joinedUnits = strings.NewReplacer(" ohms ", "ohm ", " ohm ", "ohm ", " Ω ", "Ω ", " µF ", "µF ", " uF ", "uF ", " nF ", "nF ",
	" µA ", "µA ",
	" uA ", "uA ", " mA ", "mA ", " V ", "V ", " kΩ ", "kΩ ")

// test judges what was measured of a part.
func (a *About) test(p *Part, before, after *thing) {
	for _, e := range a.Entries {
		if e.Tested == nil || e.Struck || e.Tested.Part != p.Part {
			continue
		}
		of := before
		if e.Tested.New {
			of = after
		}
		t := Test{New: e.Tested.New, Given: e.Tested.Given, Judgement: part.Unsure}
		given, err := readTest(e.Tested.Given)
		if err == nil {
			var v part.Verdict
			if v, err = of.check(given); err == nil {
				t.Judgement, t.Says = v.Judgement, v.What
			}
		}
		if err != nil {
			t.Says = err.Error()
		}
		p.Tests = append(p.Tests, t)
	}
}

// check has what was measured judged by the check of the part's kind.
func (t *thing) check(given map[string]string) (part.Verdict, error) {
	switch t.sort {
	case Capacitor:
		given["kind"] = map[substitute.Dielectric]string{
			substitute.Electrolytic: "aluminium", substitute.Bipolar: "aluminium", substitute.Tantalum: "tantalum",
			substitute.Ceramic: "ceramic", substitute.Stable: "ceramic",
		}[t.cap.Dielectric]
		if given["kind"] == "" {
			given["kind"] = "film"
		}
		given["value"] = quantity.Value{SI: t.cap.Farads, Unit: quantity.Farad}.String()
		if t.cap.Volts > 0 {
			given["volts"] = quantity.Value{SI: t.cap.Volts, Unit: quantity.Volt}.String()
		}
		return part.Judge("capacitor", given)
	case Resistor:
		ohms := map[string]string{"value": quantity.Value{SI: t.resistor.Ohms, Unit: quantity.Ohm}.String(), "measured": given["esr"]}
		return part.Judge("resistor", ohms)
	}
	return part.Verdict{}, mend.Errorf("a part of this sort is judged inside its stage")
}

// ChooseAll chooses for each part that nothing is chosen for what is offered first, where it fits: from the drawer while
// there is some, then to be ordered.
func ChooseAll(a About) []Chosen {
	out := []Chosen{}
	of, parts := a.schools(), a.subjects()
	for i := range parts {
		p := &parts[i]
		r := a.ready(p, of)
		if p.New != "" || p.Advice == Stays || r.err != nil {
			continue
		}
		list := offers(a.Table, left(a.Drawer, parts, i), &r)
		if len(list) == 0 || list[0].Verdict.Grade == substitute.Unfit {
			continue
		}
		c := Chosen{Part: p.Part, New: list[0].New, From: Order, Count: 1}
		if list[0].Drawer > 0 {
			c.From = Drawer
		}
		out = append(out, c)
		p.New, p.Chosen = c.New, &c
	}
	return out
}
