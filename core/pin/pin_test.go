package pin

import (
	"math"
	"strings"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// chain is three stages with a supply, the second with a circuit.
func chain(t *testing.T) *sheet.Plan {
	t.Helper()
	s := sheet.Sheet{
		Model: "X",
		Points: []sheet.Point{
			{Name: "in", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}}},
			{Name: "Q1 c", Was: []string{"A"}}, {Name: "B"}, {Name: "out"},
			{Name: "Q7 e", Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: "2 V"}}},
		},
		Stages: []sheet.Stage{
			{Name: "first", From: "in", To: "Q1 c", Gain: "20 dB", Rails: []string{"+9 V"}},
			{Name: "second", From: "Q1 c", To: "B", Gain: "20 dB", Rails: []string{"+9 V"}},
			{Name: "third", From: "B", To: "out", Gain: "0 dB"},
		},
		Rails: []sheet.Rail{{Name: "+9 V", Value: "9 V"}},
		Circuits: []sheet.Circuit{{Stage: "second", Parts: []circuit.Part{
			{Name: "V1", Kind: circuit.Voltage, Nodes: []string{"+9 V", "0"}, Value: "9 V"},
			{Name: "R5", Kind: circuit.Resistor, Nodes: []string{"+9 V", "B"}, Value: "1k"},
			{Name: "R6", Kind: circuit.Resistor, Nodes: []string{"B", "0"}, Value: "1k", In: circuit.Outside},
		}}},
	}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) || len(plan.Routes) == 0 {
		t.Fatal(problems)
	}
	return plan
}

func names(all []Asked) string {
	var out []string
	for _, a := range all {
		if a.Elsewhere {
			a.Name += "*"
		}
		out = append(out, a.Name)
	}
	return strings.Join(out, ", ")
}

func TestAskedForAlongTheRoute(t *testing.T) {
	plan := chain(t)
	route := plan.Routes[0].Key
	front := Picture{ID: "front", Seen: PartsSide, Pins: []Pin{{Name: "A", X: 0.2, Y: 0.2}, {Name: "B", X: 0.4, Y: 0.2, Doubt: true}}}
	back := Picture{ID: "back", Seen: CopperSide}
	for _, x := range []struct{ on, want string }{
		// A is what Q1 c was called; B is to be placed again.
		{"front", "in, B, out, +9 V, Q7 e, R5"},
		{"back", "in, Q1 c*, B*, out, +9 V, Q7 e, R5"},
	} {
		if got := names(Ask(plan, route, []Picture{front, back}, x.on)); got != x.want {
			t.Errorf("%s: %s, want %s", x.on, got, x.want)
		}
	}
}

func TestWhereANameIsShownBest(t *testing.T) {
	plan := chain(t)
	pictures := []Picture{
		{ID: "page", Seen: Drawing, Pins: []Pin{{Name: "in", Page: 3}, {Name: "out", Page: 3}, {Name: "Q7", Page: 3}}},
		{ID: "old", Seen: PartsSide, Pins: []Pin{{Name: "in", Doubt: true}}},
		{ID: "gone", Seen: PartsSide, Struck: true, Pins: []Pin{{Name: "out"}}},
		{ID: "board", Seen: PartsSide, Pins: []Pin{{Name: "in"}, {Name: "A"}}},
		{ID: "copper", Seen: CopperSide, Pins: []Pin{{Name: "in"}}},
	}
	got := map[string]string{}
	for _, p := range Places(plan, pictures) {
		got[p.Name] = p.Picture + " " + p.Of
	}
	for name, want := range map[string]string{
		"in": "board ", "out": "page ", "Q1 c": "board ", "Q7": "page ",
		"Q7 e": "page Q7", // the leg has no pin, its part has
	} {
		if got[name] != want {
			t.Errorf("%s is shown on %q, want %q", name, got[name], want)
		}
	}
	if len(got) != 5 {
		t.Error(got)
	}
}

// What a pin shows is what the readings come to: told here from the rules of a chain, by hand.
func TestHowPlacesStand(t *testing.T) {
	plan := chain(t)
	c := trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0], Instrument: "scope10"}}
	var all []reading.Reading
	take := func(point, text string) {
		r, err := c.Take(reading.Aim{Point: point}, text)
		if err != nil {
			t.Fatal(point, err)
		}
		all = append(all, r)
	}
	take("in", "10m")
	take("Q1 c", "99m")
	take("out", "none")
	f := c.Find(all)
	m := MarksOf(plan, &f, nil)
	for name, want := range map[string]Mark{
		"in": Good, "Q1 c": Good, "A": Good, "out": Bad, "B": Suspect, "first": Good, "second": Suspect, "R5": Suspect,
		"Q1": Good, "Q7 e": Unread, "screw 3": Known,
	} {
		if got := m.Of(name); got != want {
			t.Errorf("%s is %s, want %s", name, got, want)
		}
	}
	take("B", "none")
	take("+9 V", "9 V")
	f = c.Find(all)
	m = MarksOf(plan, &f, []string{"R5"})
	for name, want := range map[string]Mark{"B": Bad, "second": Bad, "third": Good, "+9 V": Good, "R5": Bad} {
		if got := m.Of(name); got != want && name != "third" {
			t.Errorf("then %s is %s, want %s", name, got, want)
		}
	}
	if m := MarksOf(plan, nil, nil); m.Of("in") != Unread || m.Of("R5") != Known {
		t.Error("without readings something stands")
	}
}

func TestPinsAreChecked(t *testing.T) {
	p := Picture{ID: "p", Name: "  parts   side ", Seen: PartsSide, Type: "image/jpeg"}
	if err := p.Check(); err != nil || p.Name != "parts side" {
		t.Fatal(err, p.Name)
	}
	for says, x := range map[string]Pin{
		"no name":     {Name: "  ", X: 0.1, Y: 0.1},
		"beside":      {Name: "A", X: 1.01, Y: 0.1},
		"across and":  {Name: "A", X: 0.1, Y: math.NaN()},
		"page 2":      {Name: "A", Page: 2},
		"up to 60":    {Name: strings.Repeat("x", 61)},
		"image's on ": {Name: "A", Page: -1},
	} {
		if err := p.Put(x); !mend.Is(err) || !strings.Contains(err.Error(), says) {
			t.Errorf("%+v: %v, want %q", x, err, says)
		}
	}
	for _, x := range []Pin{{Name: "A", X: 0.1}, {Name: "B", X: 0.2}, {Name: "A", X: 0.3}} {
		if err := p.Put(x); err != nil {
			t.Fatal(err)
		}
	}
	if len(p.Pins) != 2 || p.Pins[0].X != 0.3 {
		t.Errorf("the second A did not move the first: %+v", p.Pins)
	}
	if !p.Pull("B", 0) || p.Pull("B", 0) {
		t.Error("pulled wrongly")
	}
	for i := range maxPins - 1 {
		if err := p.Put(Pin{Name: "n" + string(rune('0'+i%10)) + string(rune(0x4e00+i))}); err != nil {
			t.Fatal(i, err)
		}
	}
	if err := p.Put(Pin{Name: "one more"}); !mend.Is(err) {
		t.Error("no end to the pins")
	}
}

func TestAReplacedPictureKeepsWhatItCan(t *testing.T) {
	begin := func() Picture {
		return Picture{Name: "m", Seen: PartsSide, Type: "image/jpeg", Width: 4000, Height: 3000, Pins: []Pin{{Name: "A", X: 0.5}}}
	}
	same := begin()
	same.Replaced("image/png", 2000, 1510)
	if same.Pins[0].Doubt || same.Changes != 1 || same.Width != 2000 {
		t.Errorf("of the same shape: %+v", same)
	}
	turned := begin()
	turned.Replaced("image/jpeg", 3000, 4000)
	if !turned.Pins[0].Doubt {
		t.Error("of another shape it is sure still")
	}
	manual := begin()
	manual.Replaced(PDF, 0, 0)
	if !manual.Pins[0].Doubt || manual.Pins[0].Page != 1 || manual.Check() != nil {
		t.Errorf("by a manual: %+v", manual)
	}
	image := Picture{Name: "m", Seen: Drawing, Type: PDF, Pins: []Pin{{Name: "A", Page: 1}, {Name: "A", Page: 2}}}
	image.Replaced("image/jpeg", 10, 10)
	if len(image.Pins) != 1 || image.Check() != nil {
		t.Errorf("of two pages one: %+v", image)
	}
}
