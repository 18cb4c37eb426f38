package inside

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/reading"
)

// What came of a provocation.
const Comes, Goes, Nothing = "comes", "goes", "nothing"

// Follows is a part or a place with how the fault follows what is done to it, and what it
// then most probably is.
type Follows struct {
	Place  string  `json:"place"`
	Weight float64 `json:"weight"` // share of all places, 0 to 1
	Cause  string  `json:"cause"`
	Says   string  `json:"says"`
}

// cause is what makes a fault come and go, with how likely each act moves it there (tap,
// flex, wiggle, work, cool, heat), and how common it is beside the others in a kind of part.
type cause struct {
	name  string
	moves map[reading.Act]float64
	next  string
}

// The trade's experience in round figures; no standard gives any. Joints and cracks answer to
// being moved, a contact most to being worked, semiconductors and capacitors to heat and cold.
var causes = []cause{
	{
		"a joint",
		map[reading.Act]float64{
			reading.Tap:    0.7,
			reading.Flex:   0.6,
			reading.Wiggle: 0.7,
			reading.Work:   0.1,
			reading.Cool:   0.4,
			reading.Heat:   0.4,
		},
		"Solder it anew, then tap it again.",
	},
	{
		"a crack in the board",
		map[reading.Act]float64{
			reading.Tap:    0.5,
			reading.Flex:   0.9,
			reading.Wiggle: 0.3,
			reading.Work:   0.05,
			reading.Cool:   0.3,
			reading.Heat:   0.3,
		},
		"Look along the copper under magnification, and bridge the crack.",
	},
	{
		"a contact",
		map[reading.Act]float64{
			reading.Tap:    0.5,
			reading.Flex:   0.2,
			reading.Wiggle: 0.7,
			reading.Work:   0.9,
			reading.Cool:   0.1,
			reading.Heat:   0.1,
		},
		"Clean it, and work it a dozen times; bridge it to be sure.",
	},
	{
		"a semiconductor",
		map[reading.Act]float64{
			reading.Tap:    0.06,
			reading.Flex:   0.06,
			reading.Wiggle: 0.1,
			reading.Work:   0.05,
			reading.Cool:   0.8,
			reading.Heat:   0.8,
		},
		"Cool it alone, through a straw or a hood, to be sure.",
	},
	{
		"a capacitor",
		map[reading.Act]float64{
			reading.Tap:    0.12,
			reading.Flex:   0.06,
			reading.Wiggle: 0.15,
			reading.Work:   0.05,
			reading.Cool:   0.5,
			reading.Heat:   0.6,
		},
		"Put a good one across it, and warm it again.",
	},
}

// often is how common each cause is, of a part of a kind: joint, crack, contact,
// semiconductor, capacitor.
func often(kind circuit.Kind) [5]float64 {
	switch kind {
	case circuit.Capacitor:
		return [5]float64{3, 1, 0, 0, 3}
	case circuit.Contact, circuit.Relay, circuit.Pot:
		return [5]float64{2, 1, 8, 0, 0}
	case circuit.Joint:
		return [5]float64{8, 1, 4, 0, 0}
	case circuit.Diode, circuit.NPN, circuit.PNP, circuit.NJFET, circuit.PJFET, circuit.NMOS, circuit.PMOS, circuit.OpAmp, circuit.Crystal:
		return [5]float64{3, 1, 0, 4, 0}
	case "": // a place on the board
		return [5]float64{4, 3, 1, 1, 1}
	}
	return [5]float64{4, 1, 0, 0, 0}
}

// elsewhere is how likely something done in one place moves a fault in another: a board
// shakes as a whole, heat and cold stay nearly where they are put.
func elsewhere(a reading.Act) float64 {
	if a == reading.Cool || a == reading.Heat {
		return 0.05
	}
	return 0.15
}

// follows ranks parts and places by what made the fault come and go.
func follows(parts []circuit.Part, entries []Entry) []Follows {
	out := []Follows{}
	var all []*Provoked
	kinds := map[string]circuit.Kind{}
	var places []string
	for i := range parts {
		kinds[parts[i].Name] = parts[i].Kind
	}
	moved := false
	for i := range entries {
		p := entries[i].Provoked
		if p == nil || entries[i].Struck {
			continue
		}
		all = append(all, p)
		moved = moved || p.Came != Nothing
		if !slices.Contains(places, p.Place) {
			places = append(places, p.Place)
		}
	}
	if !moved {
		return out
	}
	sum := 0.0
	for _, place := range places {
		f := Follows{Place: place}
		best := 0.0
		for k, c := range causes {
			w := often(kinds[place])[k]
			for _, p := range all {
				moves := elsewhere(p.Act)
				if p.Place == place {
					moves = c.moves[p.Act]
				}
				if p.Came == Nothing {
					moves = 1 - moves
				}
				w *= moves
			}
			f.Weight += w
			if w > best {
				best, f.Cause = w, c.name
				f.Says = c.next
			}
		}
		f.Says = said(place, all) + " " + f.Says
		if f.Cause == causes[3].name || f.Cause == causes[4].name {
			f.Says += " Spray also moves a cracked joint: tap it before concluding."
		}
		sum += f.Weight
		out = append(out, f)
	}
	for i := range out {
		out[i].Weight /= math.Max(sum, 1e-300)
	}
	slices.SortStableFunc(out, func(a, b Follows) int { return cmp.Compare(b.Weight, a.Weight) })
	return out
}

// said tells what was done at a place: "It follows tap, flex; not cool."
func said(place string, all []*Provoked) string {
	var does, not []string
	for _, p := range all {
		if p.Place != place {
			continue
		}
		if p.Came == Nothing {
			not = append(not, string(p.Act))
		} else {
			does = append(does, fmt.Sprintf("%s (%s)", p.Act, p.Came))
		}
	}
	text := "Nothing done here moves it"
	if len(does) > 0 {
		text = "It follows " + strings.Join(does, ", ")
	}
	if len(not) > 0 && len(does) > 0 {
		text += "; not " + strings.Join(not, ", ")
	}
	return text + "."
}
