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
	Off   float64 `json:"off"` // rms of how far each reading is then off, in its spreads
	// Nearest is the nearest value that the trade sells; Fitted tells that it is so near,
	// and so unlike what should be there, that a wrong part may have been fitted.
	Nearest string `json:"nearest"`
	Fitted  bool   `json:"fitted"`

	ranked Ranked
	times  float64 // its logarithm
}

const (
	asIfParts  = 10 // parts that are tried
	asIfWeight = 1e-4
	asIfRange  = 1.5 // decades either way
	asIfGrid   = 13
	asIfOff    = 1.3   // what explains the readings
	asIfWrong  = 1.15  // by how many times a value has to be off to be worth a word
	asIfShare  = 0.03  // of a part's failures: it has drifted, to just there
	asIfNear   = 0.002 // decades: 0.5 %, closer than any reading tells
	fittedNear = 0.03
	golden     = 0.618034
)

// fit looks for the value of each of the likeliest parts that explains the readings best, and
// ranks what explains them beside the usual failures: what has drifted did so by any amount.
func (r *ranking) fit() {
	if len(r.looks) == 0 || r.known == nil || len(r.ranked) == 0 || r.net.Alternates() && r.ranked[0].Off <= explained {
		return // behind a rectifier each value takes long: only where nothing else explains it
	}
	var parts []int
	for i := range r.ranked {
		if r.ranked[0].Off <= explained && r.ranked[i].Weight < asIfWeight {
			break // the readings are explained without it
		}
		for _, f := range r.ranked[i].Faults {
			if sortOf(r.net.parts[f.part].Kind).moved != nil && !slices.Contains(parts, f.part) && len(parts) < asIfParts {
				parts = append(parts, f.part)
			}
		}
	}
	found := make([]*AsIf, len(parts))
	r.each(len(parts), func(i int) { found[i] = r.fitPart(parts[i]) })
	var fits []Ranked
	for _, f := range found {
		if f != nil {
			r.asIf = append(r.asIf, *f)
			fits = append(fits, f.ranked)
		}
	}
	r.ranked = slices.DeleteFunc(r.ranked, func(x Ranked) bool { // the value that fits stands for any other of its part
		return len(x.Faults) == 1 && x.Faults[0].drifts &&
			slices.ContainsFunc(fits, func(f Ranked) bool { return f.Faults[0].part == x.Faults[0].part })
	})
	r.ranked = r.together(fits)
	// A value that is sold explains more than one that drift would have to hit; less drift
	// more than much.
	slices.SortStableFunc(r.asIf, func(a, b AsIf) int {
		if a.Fitted != b.Fitted {
			if a.Fitted {
				return -1
			}
			return 1
		}
		return cmp.Compare(math.Abs(a.times), math.Abs(b.times))
	})
}

// fitPart searches a part's values over three decades, on a grid and then by golden section; nil
// where none explains the readings, or what should be there does.
func (r *ranking) fitPart(part int) *AsIf {
	was := r.net.elements[r.net.first(part)].v[main]
	fault := func(decades float64) Fault {
		return Fault{Part: r.net.parts[part].Name, Share: asIfShare, part: part, drifts: true, change: scale(main, math.Pow(10, decades))}
	}
	off := func(decades float64) float64 { // what has to be followed in time is left to the end
		x := r.tried(passes-1, fault(decades))
		if math.IsInf(x.log, -1) {
			return math.Inf(1)
		}
		return x.Off
	}
	best, least := 0.0, off(0)
	step := 2 * asIfRange / (asIfGrid - 1)
	for k := range asIfGrid {
		if x := -asIfRange + float64(k)*step; x != 0 {
			if o := off(x); o < least {
				best, least = x, o
			}
		}
	}
	low, high := best-step, best+step
	a, b := high-golden*(high-low), low+golden*(high-low)
	for oa, ob := off(a), off(b); high-low > asIfNear; {
		if oa < ob {
			high, b, ob = b, a, oa
			a = high - golden*(high-low)
			oa = off(a)
		} else {
			low, a, oa = a, b, ob
			b = low + golden*(high-low)
			ob = off(b)
		}
	}
	best = (low + high) / 2
	if math.Abs(best) < math.Log10(asIfWrong) {
		return nil
	}
	value := was * math.Pow(10, best)
	unit := sortOf(r.net.parts[part].Kind).fields[0].unit
	text := func(x float64) string {
		if unit == quantity.Farad {
			return quantity.Capacitance(x)
		}
		return quantity.Rounded(x, unit)
	}
	f := fault(best)
	f.What = "reads as " + text(value)
	x := r.tried(passes, f)
	x.Off = math.Sqrt(x.Off / float64(len(r.looks)))
	if x.Off > asIfOff {
		return nil
	}
	x.log += r.prior(x.Faults)
	nearest := quantity.E12.Nearest(value)
	if e := quantity.E24.Nearest(value); math.Abs(math.Log(e/value)) < math.Abs(math.Log(nearest/value))/3 {
		nearest = e
	}
	return &AsIf{Part: f.Part, Value: text(value), Was: text(was), Off: x.Off, ranked: x, times: best, Nearest: text(nearest),
		Fitted: math.Abs(nearest/value-1) < fittedNear && math.Abs(math.Log(nearest/was)) > math.Log(asIfWrong)}
}
