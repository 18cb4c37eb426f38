package circuit

import (
	"cmp"
	"math"
	"slices"

	"steptrace/core/quantity"
)

// AsIf is the value of a part that would explain the readings.
type AsIf struct {
	Part  string  `json:"part"`
	Value string  `json:"value"`
	Was   string  `json:"was"`
	Off   float64 `json:"off"` // rms of how far all readings are then off, in their spreads
	// Nearest is the nearest value that the trade sells; Fitted tells that it is so near,
	// and so unlike what should be there, that a wrong part may have been fitted.
	Nearest string `json:"nearest"`
	Fitted  bool   `json:"fitted"`

	score float64 // how likely, as a logarithm
}

const (
	asIfOff    = 1.3  // what explains the readings
	asIfWrong  = 1.15 // by how many times a value has to be off to be worth a word
	fittedNear = 0.02
	// soldTimes is by how many times a value that is sold is likelier: one in four values lies so near to one by
	// chance.
	soldTimes = 4.0
)

// fit tells of what has drifted which value it reads as; those that explain the readings are listed.
func (r *ranking) fit() {
	for i := range r.ranked {
		x := &r.ranked[i]
		if len(x.Faults) != 1 || !x.Faults[0].drifts || len(r.looks) == 0 {
			continue
		}
		f := &x.Faults[0]
		kind := sortOf(r.net.parts[f.part].Kind)
		was := r.net.elements[r.net.first(f.part)].v[main]
		value := was * f.found
		text := func(x float64) string {
			if kind.fields[0].unit == quantity.Farad {
				return quantity.Capacitance(x)
			}
			return quantity.Rounded(x, kind.fields[0].unit)
		}
		f.As = text(value)
		x.Says = x.String()
		if x.Off > asIfOff || math.Abs(math.Log(f.found)) < math.Log(asIfWrong) {
			continue
		}
		nearest := quantity.E12.Nearest(value)
		if e := quantity.E24.Nearest(value); math.Abs(math.Log(e/value)) < math.Abs(math.Log(nearest/value))/3 {
			nearest = e
		}
		a := AsIf{Part: f.Part, Value: text(value), Was: text(was), Off: x.Off, Nearest: text(nearest), score: x.log}
		if math.Abs(nearest/value-1) < fittedNear && math.Abs(math.Log(nearest/was)) > math.Log(asIfWrong) {
			a.Fitted = true
			a.score += math.Log(soldTimes)
		}
		r.asIf = append(r.asIf, a)
	}
	slices.SortStableFunc(r.asIf, func(a, b AsIf) int { return cmp.Compare(b.score, a.score) })
	said := map[string]bool{} // more or less than it should be, a part is told of once
	r.asIf = slices.DeleteFunc(r.asIf, func(a AsIf) bool {
		before := said[a.Part]
		said[a.Part] = true
		return before
	})
}
