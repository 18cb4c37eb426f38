package adjust

import (
	"fmt"
	"math"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Slope is what the circuit says of an adjustment. Reads is what is read with the control as it stands there (Place, a
// share of its travel); Eighth by how much that changes with an eighth of a turn onwards, and Back with one backwards, in SI
// units; First and Last what is read at the stops. Reaches is the place where the target is read; below zero where it is
// not. Overload names what a stop would burn.
type Slope struct {
	Place    float64 `json:"place"`
	Reads    float64 `json:"reads"`
	Eighth   float64 `json:"eighth"`
	Back     float64 `json:"back"`
	First    float64 `json:"first"`
	Last     float64 `json:"last"`
	Reaches  float64 `json:"reaches"`
	Overload string  `json:"overload"`
	Says     string  `json:"says"`
}

// Computed is what the circuits of a sheet say of its adjustments, by their index (nil where nothing), and which further ones
// they offer. It takes a while, and holds as long as the sheet does.
type Computed struct {
	Slopes  []*Slope
	Offered []sheet.Adjustment
}

// Compute solves the circuits of a sheet for it.
func Compute(plan *sheet.Plan) *Computed {
	out := &Computed{Slopes: make([]*Slope, len(plan.Adjustments)), Offered: Offered(plan)}
	for i := range plan.Adjustments {
		if s, ok := SlopeOf(plan, &plan.Adjustments[i]); ok {
			out.Slopes[i] = &s
		}
	}
	return out
}

// SlopeOf solves the circuit of an adjustment's stage at several places of its control. False where it has no circuit, or
// the control or what is measured are not in it.
func SlopeOf(plan *sheet.Plan, a *sheet.PlanAdjustment) (Slope, bool) {
	if a.Circuit < 0 || a.From == "" {
		return Slope{}, false
	}
	net := plan.Circuits[a.Circuit].Net
	place, ok := net.Stands(a.Turn)
	if !ok {
		return Slope{}, false
	}
	t := turning{net: net, a: a}
	s := Slope{Place: place, Reaches: -1}
	eighth := 1 / (8 * a.Turns)
	for _, x := range []struct {
		at   float64
		into *float64
	}{
		{place, &s.Reads}, {min(1, place+eighth), &s.Eighth}, {max(0, place-eighth), &s.Back}, {0, &s.First}, {1, &s.Last},
	} {
		if *x.into, ok = t.reads(x.at); !ok {
			return Slope{}, false
		}
	}
	s.Eighth, s.Back = s.Eighth-s.Reads, s.Back-s.Reads
	s.Overload = t.overload()
	unit := quantity.Volt
	if a.Sought == sheet.SoughtValue {
		unit = a.Target.Unit
		s.Reaches = t.reaching(a.Target.SI, s.First, s.Last)
	}
	change := math.Max(math.Abs(s.Eighth), math.Abs(s.Back))
	s.Says = "An eighth of a turn is about " + quantity.Value{SI: change, Unit: unit}.Short(2) + "."
	if s.Overload != "" {
		s.Says += " " + s.Overload
	}
	return s, true
}

// turning is a circuit whose control is turned.
type turning struct {
	net *circuit.Net
	a   *sheet.PlanAdjustment
}

// rest is the circuit with its control at a place.
func (t *turning) rest(place float64) (*circuit.Rest, bool) {
	net, ok := t.net.Turned(t.a.Turn, place)
	if !ok {
		return nil, false
	}
	rest, err := net.Rest()
	return rest, err == nil
}

// reads is what is read with the control at a place.
func (t *turning) reads(place float64) (float64, bool) {
	rest, ok := t.rest(place)
	if !ok {
		return 0, false
	}
	x, ok := rest.Between(t.a.From, t.a.To)
	if t.a.Target.Unit == quantity.Ampere && t.a.Ohms > 0 {
		x /= t.a.Ohms
	}
	return x, ok
}

// reaching is the place where so much is read, by halving; -1 where the stops do not lie to both sides of it.
func (t *turning) reaching(target, first, last float64) float64 {
	if (first-target)*(last-target) > 0 {
		return -1
	}
	low, high := 0.0, 1.0
	const halvings = 30
	for range halvings {
		middle := (low + high) / 2
		x, ok := t.reads(middle)
		if !ok {
			return -1
		}
		if (x-target)*(first-target) > 0 {
			low = middle
		} else {
			high = middle
		}
	}
	return (low + high) / 2
}

// overload names the parts that a stop would burn, and which.
func (t *turning) overload() string {
	var burnt []string
	for place, stop := range []string{"first", "last"} {
		rest, ok := t.rest(float64(place))
		if !ok {
			continue
		}
		for _, p := range rest.Parts {
			if p.Rated > 0 && math.Abs(p.Watts) > p.Rated {
				burnt = append(burnt, fmt.Sprintf("%s gets %s at the %s stop, and may have %s", p.Name,
					quantity.Rounded(math.Abs(p.Watts), quantity.Watt), stop, quantity.Rounded(p.Rated, quantity.Watt)))
			}
		}
	}
	if len(burnt) == 0 {
		return ""
	}
	return "Never to that stop: " + strings.Join(burnt, "; ") + "."
}
