package device

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

// permutations lists every order of three.
func permutations(a, b, c string) [][]string {
	return [][]string{{a, b, c}, {a, c, b}, {b, a, c}, {b, c, a}, {c, a, b}, {c, b, a}}
}

func typed(t *testing.T, name, shape, legs string) *Type {
	t.Helper()
	x, err := Row{Type: name, Kind: Transistor, Polarity: "npn", Case: shape, Legs: legs}.Read()
	if err != nil {
		t.Fatal(err)
	}
	return &x
}

// Every pair of leg orders of every pair of cases, from both sides: each leg ends in the hole of its letter, the picture from
// the solder side is the other one's mirror image, and what is said to be crossed is what lies crosswise.
//
// Long: what is checked of each of the pairs.
func TestEveryPairOfLegOrders(t *testing.T) {
	shapes, count := []string{"TO-92", "TO-220", "TO-18", "TO-3"}, 0
	for _, from := range shapes {
		for _, to := range shapes {
			for _, old := range permutations("E", "B", "C") {
				for _, legs := range permutations("E", "B", "C") {
					for _, sink := range []bool{false, true} {
						count++
						before, after := typed(t, "OLD 1", from, strings.Join(old, " ")), typed(t, "NEW 1", to, strings.Join(legs, " "))
						front, err := Fit(before, after, Front, sink)
						if err != nil {
							t.Fatal(err)
						}
						below, _ := Fit(before, after, Solder, sink)
						name := fmt.Sprintf("%s %v for %s %v, sink %t", to, legs, from, old, sink)
						checkFitting(t, name, front, below)
						if straight := from == to && slices.Equal(old, legs); straight != front.Straight() {
							t.Errorf("%s: says %q", name, front.Says)
						}
						if sink && strings.Contains(front.Turn, "round") {
							t.Errorf("%s: turned round on its heat sink", name)
						}
						if row := from != "TO-18" && to != "TO-18" && from != "TO-3" && to != "TO-3"; row {
							// By the definition: of two legs one passes the other where their order is not the holes'.
							crossed := 0
							for i := range front.Legs {
								for k := range front.Legs {
									a, b := front.Holes[front.To[i]], front.Holes[front.To[k]]
									if front.Legs[i].X < front.Legs[k].X && a.X > b.X {
										crossed++
									}
								}
							}
							if crossed != len(front.Crossed) || !sink && crossed > 1 {
								t.Errorf("%s: %d pairs lie crosswise, %v are said", name, crossed, front.Crossed)
							}
						}
					}
				}
			}
		}
	}
	t.Logf("%d pairs", count)
}

func checkFitting(t *testing.T, name string, front, below *Fitting) {
	t.Helper()
	holes := map[int]bool{}
	for i, k := range front.To {
		if front.Legs[i].Leg != front.Holes[k].Leg {
			t.Errorf("%s: %s goes into the hole of %s", name, front.Legs[i].Leg, front.Holes[k].Leg)
		}
		holes[k] = true
		for _, pair := range [][2]Spot{{front.Legs[i], below.Legs[i]}, {front.Holes[k], below.Holes[k]}} {
			if a, b := pair[0], pair[1]; a.Leg != b.Leg || math.Abs(a.X+b.X) > 1e-12 || math.Abs(a.Y-b.Y) > 1e-12 {
				t.Errorf("%s: %v from the front, %v from below", name, a, b)
			}
		}
	}
	if len(holes) != len(front.Holes) || front.Says != below.Says {
		t.Errorf("%s: %v, %q and %q", name, front.To, front.Says, below.Says)
	}
}

// A flat transistor in a can's ring, by hand: seen from below with the flat side downward E B C reads C B E; with the middle
// leg bent back C, B, E go around clockwise, which is the ring E, C, B.
func TestARowInARing(t *testing.T) {
	for _, x := range []struct{ can, row, says string }{
		{"E C B", "E B C", "bent back"},
		{"E B C", "E B C", "bent toward its marked side"},
		{"C E B", "C B E", "bent back"},
		{"C B E", "C B E", "bent toward its marked side"},
		{"E B C", "C B E", "bent back"},
	} {
		f, err := Fit(typed(t, "OLD 1", "TO-18", x.can), typed(t, "NEW 1", "TO-92", x.row), Solder, false)
		if err != nil || !strings.Contains(f.Says, x.says) || len(f.Crossed) > 0 {
			t.Errorf("%s in %s: %+v %v", x.row, x.can, f, err)
		}
	}
}

func TestWhatDoesNotFit(t *testing.T) {
	table := Shipped()
	get := func(name string) *Type {
		x, _, ok := table.Find(name)
		if !ok {
			t.Fatal(name)
		}
		return x
	}
	for _, x := range []struct{ old, new, says string }{
		{"2N3819", "BF245A", "the order of the legs of 2N3819 is not known"},
		{"TL072", "NE5534", "other legs"},
		{"7805", "LM317", "other legs"},
	} {
		if _, err := Fit(get(x.old), get(x.new), Front, false); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%s for %s: %v", x.new, x.old, err)
		}
	}
	if f, err := Fit(get("RC4558"), get("TL072"), Front, false); err != nil || !f.Straight() {
		t.Errorf("%+v %v", f, err)
	}
	if f, err := Fit(get("7905"), get("79L05"), Front, false); err != nil || f.Says != "its legs bent to the pitch of the old holes" {
		t.Errorf("%+v %v", f, err)
	}
	if f, _ := Fit(get("BC547"), get("2N3904"), Front, false); f.Says != "turned round" {
		t.Errorf("%+v", f)
	}
	if f, _ := Fit(get("BC547"), get("BF199"), Front, false); f.Says != "legs 2 and 3 (E, B) crossed, a sleeve on one" {
		t.Errorf("%+v", f)
	}
}

// What names people write finds.
func TestFind(t *testing.T) {
	for _, x := range []struct{ name, found, rest string }{
		{"c1815", "2SC1815", ""}, {"2sc1815 gr", "2SC1815", "GR"}, {"bc547b", "BC547B", ""}, {"BC 337-25", "BC337-25", ""},
		{"LM7805CT", "7805", "CT"}, {"ua741", "741", ""}, {"NE555P", "555", "P"}, {"2N3055H", "2N3055", "H"}, {"TL072CP", "TL072", "CP"},
		{"ne5532", "NE5532", ""}, {"tip-31c", "TIP31C", ""},
		{"", "", ""}, {"2N", "", ""}, {"BC999", "", ""}, {"ABC547", "", ""}, {"X2N3904", "", ""},
		{"3055", "", ""},
	} {
		f, rest, ok := Shipped().Find(x.name)
		if ok != (x.found != "") || ok && (f.Name != x.found || rest != x.rest) {
			t.Errorf("%q: %v %q %t", x.name, f, rest, ok)
		}
	}
	if near := Shipped().Near("2N39", 5); len(near) != 2 || near[0].Name != "2N3904" {
		t.Errorf("near 2N39: %v", near)
	}
}

// The table agrees with itself: pairs name each other, in the same case, with their ratings within a half of one another.
func TestTheTableAgreesWithItself(t *testing.T) {
	table := Shipped()
	if len(table.Types()) < 300 {
		t.Errorf("%d types", len(table.Types()))
	}
	for i := range table.Types() {
		x := &table.Types()[i]
		if x.Row.Pair == "" {
			continue
		}
		y, rest, ok := table.Find(x.Row.Pair)
		switch {
		case !ok || rest != "" || y.Row.Pair != x.Name:
			t.Errorf("%s and %s do not name each other", x.Name, x.Row.Pair)
		case y.Row.Polarity == x.Row.Polarity || y.Kind != x.Kind:
			t.Errorf("%s and %s are alike", x.Name, y.Name)
		case x.Kind != Regulator && (x.Row.Case != y.Row.Case || !slices.Equal(x.Legs, y.Legs)):
			t.Errorf("%s (%s %s) and %s (%s %s)", x.Name, x.Row.Case, x.Row.Legs, y.Name, y.Row.Case, y.Row.Legs)
		case x.Volts > 2.4*y.Volts || x.Amps > 2.4*y.Amps:
			t.Errorf("%s bears %g V %g A, %s %g V %g A", x.Name, x.Volts, x.Amps, y.Name, y.Volts, y.Amps)
		}
	}
}

func TestBadRows(t *testing.T) {
	for _, x := range []struct{ table, says string }{
		{"", "line 1, table: it is empty"},
		{"type\nX1\n", "line 1, type: a table of types has a column type and a column kind"},
		{"type,kind,colour\n", "line 1, colour: this column is not known"},
		{"type,kind\nX1,valve\n", `line 2, kind: "valve" is no kind of part`},
		{"type,kind\n,zener\n", "line 2, type: name the type"},
		{"type,kind,volts\nX1,zener,ten\n", "line 2, volts"},
		{"type,kind,volts\nX1,zener,-3 V\n", "above zero"},
		{"type,kind,volts\nX1,zener,3 A\n", "line 2, volts"},
		{"type,kind,gain\nX1,transistor,800-110\n", "is no range"},
		{"type,kind,watts\nX1,transistor,3 W\n", "line 2, heat"},
		{"type,kind,watts,heat\nX1,transistor,3 W,water\n", "is not where the 25 °C are"},
		{"type,kind,polarity\nX1,transistor,n\n", "use npn or pnp"},
		{"type,kind,polarity\nX1,diode,n\n", "a diode has no polarity"},
		{"type,kind,case\nX1,diode,TO-999\n", "is not known: use TO-92"},
		{"type,kind,case,legs\nX1,transistor,TO-92,E B\n", "a TO-92 has 3 legs, not 2"},
		{"type,kind,case,legs\nX1,transistor,TO-92,E B B\n", "each once"},
		{"type,kind,case,legs\nX1,transistor,TO-92,E B D\n", "the legs of a transistor are E, B, C"},
		{"type,kind\nX1,zener\nx-1,zener\n", "line 3, type: x-1 stands in line 2 already"},
		{"type,kind\nX1,zener,5 V\n", "beyond the last heading"},
		{"type,kind\n\"X1,zener\n", "no table that can be read"},
	} {
		_, problems := ReadRows(x.table)
		if len(problems) == 0 || !strings.Contains(problems[0].Error(), x.says) {
			t.Errorf("%q: %v", x.table, problems)
		}
	}
	if rows, problems := ReadRows("\ufeffkind;type;legs\r\nzener;X 1;\r\n"); len(problems) > 0 || len(rows) != 1 || rows[0].Type != "X 1" {
		t.Errorf("%v %v", rows, problems)
	}
}

// What is written reads back the same, and a workshop's own row stands for the one of its name.
func TestOwnRows(t *testing.T) {
	rows, problems := ReadRows(shipped)
	if back, more := ReadRows(WriteRows(rows)); len(problems)+len(more) > 0 || !slices.Equal(rows, back) {
		t.Errorf("%v %v", problems, more)
	}
	own := Row{Type: "2n3904", Kind: Transistor, Polarity: "npn", Volts: "44 V"}
	table := Shipped().With([]Row{own, {Type: "HX-12", Kind: Module, Note: "sealed output module"}})
	if x, _, ok := table.Find("2N3904"); !ok || x.Volts != 44 || !x.Own || x.Says() != "the workshop's own data" {
		t.Errorf("%+v", x)
	}
	if x, _, ok := table.Find("hx12"); !ok || x.Kind != Module {
		t.Errorf("%+v", x)
	}
	if x, _, _ := Shipped().Find("2N3904"); x.Volts != 40 || x.Own {
		t.Errorf("the table that ships was changed: %+v", x)
	}
}

func FuzzReadRows(f *testing.F) {
	f.Add(shipped[:400])
	f.Add("type;kind;gain;legs\nX;transistor;1-2;E B C")
	f.Add("type\tkind\nX\tzener")
	f.Fuzz(func(t *testing.T, text string) {
		rows, problems := ReadRows(text)
		if len(problems) > 0 {
			return
		}
		if back, more := ReadRows(WriteRows(rows)); len(more) > 0 || !slices.Equal(rows, back) {
			t.Errorf("%q: %v, then %v", text, rows, back)
		}
	})
}
