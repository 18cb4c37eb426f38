package device

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/mend"
)

// Side is from where legs are seen.
type Side string

// Front is what the order of legs is told from, a row's marked side; Solder the copper side of the board, from below.
const (
	Front  Side = "front"
	Solder Side = "solder"
)

// Words implements exchange.Enumerated.
func (Side) Words() []string { return exchange.WordsOf([]Side{Front, Solder}) }

// Spot is a leg or a hole: what it is, and where as it is seen, in legs' pitches from the middle, y downward.
type Spot struct {
	Leg string  `json:"leg"`
	X   float64 `json:"x"`
	Y   float64 `json:"y"`
}

// Fitting is how the legs of a new part get into the holes of an old one.
type Fitting struct {
	Seen  Side   `json:"seen"`
	Old   string `json:"old"` // the cases
	New   string `json:"new"`
	Holes []Spot `json:"holes"`
	Legs  []Spot `json:"legs"` // of the new one, turned and bent as Turn says
	To    []int  `json:"to"`   // the hole that each of these goes into
	// Turn is how the new one stands; empty: as the old one did.
	Turn string `json:"turn"`
	// Crossed are pairs of the new one's legs, counted from 1 as its order is told, that pass each other and need sleeves.
	Crossed [][2]int `json:"crossed"`
	// Wired: it stands elsewhere, on wires.
	Wired bool   `json:"wired"`
	Says  string `json:"says"` // empty: it goes straight in
}

// Straight tells whether it goes in as the old one came out.
func (f *Fitting) Straight() bool { return f.Says == "" }

// Fit works out how a new part goes into the holes of an old one, seen from a side. Their legs have to be known, and to do
// the same. Sink tells that the old one is bolted to a heat sink, so that the new one cannot be turned round.
//
// Long: each pair of shapes has its own way.
func Fit(before, after *Type, seen Side, sink bool) (*Fitting, error) {
	for _, t := range []*Type{before, after} {
		if len(t.Legs) == 0 || t.Case == nil {
			return nil, mend.Errorf("the order of the legs of %s is not known: find them by meter, or by its sheet", t.Name)
		}
	}
	if a, b := slices.Sorted(slices.Values(before.Legs)), slices.Sorted(slices.Values(after.Legs)); !slices.Equal(a, b) {
		return nil, mend.Errorf("%s has other legs (%s) than %s (%s)", after.Name, after.Row.Legs, before.Name, before.Row.Legs)
	}
	f := &Fitting{Seen: seen, Old: before.Case.Name, New: after.Case.Name, Crossed: [][2]int{}}
	from, to := before.Case.Shape, after.Case.Shape
	many := from == Dual || to == Dual || from == Ring || to == Ring
	switch {
	case many && (from != to || !slices.Equal(before.Legs, after.Legs)):
		return nil, mend.Errorf("%s and %s have their pins in different order: it needs an adapter", before.Name, after.Name)
	case from == Axial || many:
		if before.Case != after.Case && from == Axial {
			f.Turn = "its leads are of another thickness: open the holes, or sleeve them"
		}
		f.place(before.Legs, after.Legs, order(after.Legs, before.Legs), before.Case)
	case from == InRow && to == InRow:
		f.rows(before, after, sink)
	case from == Can && to == Can:
		f.cans(before, after)
	case from == Can && to == InRow:
		f.rowInRing(before, after)
	case from == InRow && to == Can:
		f.place(before.Legs, after.Legs, order(after.Legs, before.Legs), before.Case)
		f.bent("its legs bent into a row, " + before.Legs[1] + " in the middle")
	case from == Flange && to == Flange && slices.Equal(before.Legs, after.Legs):
		f.place(before.Legs, after.Legs, order(after.Legs, before.Legs), before.Case)
	default:
		f.place(before.Legs, after.Legs, order(after.Legs, before.Legs), before.Case)
		f.Wired = true
	}
	f.say(after)
	return f, nil
}

// order tells for each leg which hole is its own.
func order(legs, holes []string) []int {
	out := make([]int, len(legs))
	used := map[int]bool{}
	for i, leg := range legs {
		for k, hole := range holes {
			if hole == leg && !used[k] {
				out[i], used[k] = k, true
				break
			}
		}
	}
	return out
}

// turned is an order from behind.
func turned(legs []string) []string {
	out := slices.Clone(legs)
	slices.Reverse(out)
	return out
}

// crossings are the pairs that pass each other on their way, by their places.
func crossings(to []int) [][2]int {
	var out [][2]int
	for i := range to {
		for k := i + 1; k < len(to); k++ {
			if to[i] > to[k] {
				out = append(out, [2]int{i, k})
			}
		}
	}
	return out
}

// rows: a row of legs in a row of holes, turned round where that saves crossing and nothing holds it.
func (f *Fitting) rows(before, after *Type, sink bool) {
	legs := after.Legs
	to := order(legs, before.Legs)
	numbers := []int{1, 2, 3}
	if back := order(turned(legs), before.Legs); !sink && len(crossings(back)) < len(crossings(to)) {
		to, legs, f.Turn = back, turned(legs), "turned round"
		slices.Reverse(numbers)
	}
	if before.Case != after.Case {
		f.Turn = strings.TrimPrefix(f.Turn+", its legs bent to the pitch of the old holes", ", ")
	}
	f.place(before.Legs, legs, to, before.Case)
	f.cross(crossings(to), numbers)
}

// cross keeps which legs pass each other, by the numbers they are told by.
func (f *Fitting) cross(places [][2]int, numbers []int) {
	for _, p := range places {
		a, b := numbers[p[0]], numbers[p[1]]
		f.Crossed = append(f.Crossed, [2]int{min(a, b), max(a, b)})
	}
}

// cans: a ring of legs in a ring of holes. Of the three ways to turn it, the one that leaves the most legs where they are.
func (f *Fitting) cans(before, after *Type) {
	best, most := 0, -1
	for k := range 3 {
		same := 0
		for i := range 3 {
			if after.Legs[(i+k)%3] == before.Legs[i] {
				same++
			}
		}
		if same > most {
			best, most = k, same
		}
	}
	legs := append(slices.Clone(after.Legs[best:]), after.Legs[:best]...)
	to := order(legs, before.Legs)
	f.place(before.Legs, legs, to, before.Case)
	if best > 0 {
		f.Turn = fmt.Sprintf("turned: its tab where leg %d of the old one was", 3-(best-1))
	}
	numbers := []int{best%3 + 1, (best+1)%3 + 1, (best+2)%3 + 1}
	if most < 3 { // one stays, the other two change places
		var moved []int
		for i := range to {
			if to[i] != i {
				moved = append(moved, i)
			}
		}
		f.cross([][2]int{{moved[0], moved[1]}}, numbers)
	}
}

// rowInRing: a row of legs in a ring of holes. Its middle leg is bent back or forward, and one of the two always does.
func (f *Fitting) rowInRing(before, after *Type) {
	// From below with the marked side downward the row reads right to left; its middle leg bent back (upward) makes the ring
	// right, middle, left, clockwise; bent forward the other way round.
	left, middle, right := after.Legs[0], after.Legs[1], after.Legs[2]
	legs, way := []string{right, middle, left}, "back"
	if !cyclic(legs, before.Legs) {
		legs, way = []string{left, middle, right}, "toward its marked side"
	}
	for legs[0] != before.Legs[0] { // as the holes stand
		legs = append(legs[1:], legs[0])
	}
	f.place(before.Legs, legs, order(legs, before.Legs), before.Case)
	f.bent("its middle leg bent " + way)
}

// cyclic tells whether two rings are the same but for where they begin.
func cyclic(a, b []string) bool {
	for k := range a {
		if slices.Equal(append(slices.Clone(a[k:]), a[:k]...), b) {
			return true
		}
	}
	return false
}

// bent says how it is bent; legs that are bent stand where their holes are.
func (f *Fitting) bent(how string) {
	f.Turn = how
	for i, k := range f.To {
		f.Legs[i].X = f.Holes[k].X
		f.Legs[i].Y = f.Holes[k].Y
	}
}

// place puts holes and legs where they are seen: in a row side by side, otherwise around.
func (f *Fitting) place(holes, legs []string, to []int, of *Case) {
	at := func(i, n int) (x, y float64) {
		switch {
		case of.Shape == InRow || of.Shape == Axial:
			if x = float64(i) - float64(n-1)/2; f.Seen == Solder {
				x = -x
			}
			return x, 0
		case of.Shape == Dual:
			// From above, around against the clock from the upper left; from below that is mirrored.
			half := n / 2
			x, y = -1, float64(i)-float64(half-1)/2
			if i >= half {
				x, y = 1, float64(half-1)/2-float64(i-half)
			}
			if f.Seen == Solder {
				x = -x
			}
			return x, y
		}
		// What is told from below is so seen from the solder side; clockwise from the left.
		turn := math.Pi - 2*math.Pi*float64(i)/float64(n)
		x, y = math.Cos(turn), -math.Sin(turn)
		if f.Seen == Front {
			x = -x
		}
		return x, y
	}
	for i, leg := range holes {
		x, y := at(i, len(holes))
		f.Holes = append(f.Holes, Spot{leg, x, y})
	}
	for i, leg := range legs {
		x, y := at(i, len(legs))
		f.Legs = append(f.Legs, Spot{leg, x, y})
	}
	f.To = to
}

// say tells how it goes in.
func (f *Fitting) say(after *Type) {
	var out []string
	if f.Wired {
		out = append(out, fmt.Sprintf("%s in place of %s: bolted down by itself, short wires from its legs to the old holes", f.New, f.Old))
	}
	if f.Turn != "" {
		out = append(out, f.Turn)
	}
	switch len(f.Crossed) {
	case 0:
	case 1:
		c := f.Crossed[0]
		out = append(
			out,
			fmt.Sprintf("legs %d and %d (%s, %s) crossed, a sleeve on one", c[0], c[1], after.Legs[c[0]-1], after.Legs[c[1]-1]),
		)
	default:
		out = append(out, "its legs crossed, sleeves on all: "+strings.Join(after.Legs, ", ")+" to the holes of the same letters")
	}
	f.Says = strings.Join(out, "; ")
}
