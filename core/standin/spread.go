package standin

import (
	"math/rand/v2"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// spread is by how much a set is off what its sheet has, as every good one is: within the half of what the sheet allows, so that a
// good set reads good. Empty: exactly as the sheet has it.
type spread struct {
	lines, bias []float64 // factors
	levels      []float64 // dB, by point
}

// within is the part of its tolerance by which something that is good is off at the most.
const within = 0.4

// Spread gives a set tolerances of its own, drawn by a seed.
func (s *Set) Spread(seed uint64) {
	rng := rand.New(rand.NewPCG(seed, 0x5e7))
	off := func(most float64) float64 { return most * (2*rng.Float64() - 1) }
	share := func(t quantity.Tolerance, si float64) float64 {
		low, high := t.Bounds(si)
		if si == 0 {
			return 0
		}
		most := min(si-min(low, high), max(low, high)-si) / si
		return within * max(min(most, 1), -1)
	}
	s.spread = spread{}
	for i := range s.plan.Rails {
		r := &s.plan.Rails[i]
		s.spread.lines = append(s.spread.lines, 1+off(share(r.Tolerance, r.Volts)))
	}
	for range s.plan.Controls {
		s.spread.lines = append(s.spread.lines, 1)
	}
	for i := range s.plan.Points {
		bias, level := 1.0, levelOff
		if e, ok := s.plan.Expect(i, sheet.DC, ""); ok {
			bias = 1 + off(share(e.Tolerance, e.Value.SI))
		}
		if e, ok := s.plan.Expect(i, sheet.AC, ""); ok && e.Value.SI > 0 {
			low, _ := e.Tolerance.Bounds(e.Value.SI)
			level = min(level, within/2*quantity.DB(e.Value.SI, max(low, e.Value.SI/10)))
		}
		s.spread.bias = append(s.spread.bias, bias)
		s.spread.levels = append(s.spread.levels, off(level))
	}
}

// levelOff is by how much levels are off at the most (dB), where a sheet allows the usual 2 dB.
const levelOff = 0.4

func (x *spread) line(i int) float64 {
	if i < len(x.lines) {
		return x.lines[i]
	}
	return 1
}

func (x *spread) dc(point int) float64 {
	if point < len(x.bias) {
		return x.bias[point]
	}
	return 1
}

// gain is by how many dB more a good stage of this set amplifies than its sheet says: what its output is off, less what its input is.
func (x *spread) gain(from, to int) float64 {
	if from < len(x.levels) && to < len(x.levels) && from >= 0 && to >= 0 {
		return x.levels[to] - x.levels[from]
	}
	return 0
}
