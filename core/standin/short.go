package standin

import (
	"math"
	"slices"
)

// What draws too much from a rail is looked for with the set off: by its ohms, by a limited current that is fed into the copper, and by
// what grows warm then.

// excessOn is what is drawn from a rail, and from those that are made from it, beyond a good set's current (A), and the fault that draws
// the most of it.
func (s *Set) excessOn(rail int) (amps float64, by *placed) {
	most := 0.0
	for i := range s.faults {
		f := &s.faults[i]
		if f.inside == nil {
			continue
		}
		own := 0.0
		for from, more := range f.inside.excess {
			if s.madeFrom(from, rail) {
				own += more
			}
		}
		if amps += own; own > most {
			most, by = own, f
		}
	}
	return amps, by
}

// Blow takes a fuse that has opened before, and was not renewed: nothing comes through it.
func (s *Set) Blow(fuse string) { s.blown = append(s.blown, fuse) }

// Blown tells whether a fuse has opened: before, or as more is drawn from a rail that it feeds than it bears.
func (s *Set) Blown(fuse string) bool {
	return slices.Contains(s.blown, fuse) || slices.ContainsFunc(s.plan.FuseRails(fuse), func(rail int) bool {
		more, _ := s.excessOn(rail)
		return more/s.load(rail) > givesUp
	})
}

// load is the current that a rail gives by its sheet, or a usual one (A).
func (s *Set) load(rail int) float64 {
	if amps := s.plan.Rails[rail].LoadA; amps > 0 {
		return amps
	}
	return usualLoad
}

// shortOhms is what draws too much from a rail, in ohms; +Inf where nothing does.
func (s *Set) shortOhms(rail int) float64 {
	amps, _ := s.excessOn(rail)
	if amps == 0 {
		return math.Inf(1)
	}
	return math.Abs(s.plan.Rails[rail].Volts) / amps
}

func beside(a, b float64) float64 { return 1 / (1/a + 1/b) }

// fedVolts is what a supply that is limited in current gives at the most when it is fed into a rail (V): no junction conducts.
const fedVolts = 0.5

// Along is the DC at a place on a rail's copper while a limited current (A) is fed in at another, the set off: what falls along the
// copper up to what draws too much, and over that.
func (s *Set) Along(place, fed string, amps float64) float64 {
	at, ok := s.plan.PlaceIndex(place)
	from, okFrom := s.plan.PlaceIndex(fed)
	if !ok || !okFrom || s.plan.Places[at].Rail != s.plan.Places[from].Rail {
		return 0
	}
	rail := s.plan.Places[at].Rail
	_, by := s.excessOn(rail)
	if by == nil {
		return min(amps*s.ohms(s.plan.Rails[rail].Name), fedVolts)
	}
	to := s.hangsAt(by, rail)
	volts := amps * s.ohms(s.plan.Rails[rail].Name)
	way := s.copper(from, to)
	for _, piece := range s.copper(at, to) {
		if slices.Contains(way, piece) { // the current passes it
			volts += amps * s.plan.Places[piece].Ohms
		}
	}
	return volts
}

// hangsAt is the place on a rail at which a fault's stage or part hangs; its last where the sheet does not say.
func (s *Set) hangsAt(f *placed, rail int) int {
	last := -1
	for i := range s.plan.Places {
		p := &s.plan.Places[i]
		if p.Rail != rail {
			continue
		}
		if last = i; slices.Contains(p.Hangs, f.Block) || slices.Contains(p.Hangs, f.Part) {
			return i
		}
	}
	return last
}

// copper lists the pieces between two places, each by the place that it leads to.
func (s *Set) copper(a, b int) []int {
	up, other := s.toSupply(a), s.toSupply(b)
	var out []int
	for _, piece := range slices.Concat(up, other) {
		if slices.Contains(up, piece) != slices.Contains(other, piece) {
			out = append(out, piece)
		}
	}
	return out
}

func (s *Set) toSupply(place int) []int {
	var out []int
	for ; place >= 0 && !slices.Contains(out, place); place = s.plan.Places[place].Before {
		out = append(out, place)
	}
	return out
}

// partRise is by how much a part grows warm for each watt (K/W), and mostRise by how much one does that is felt for some minutes.
const partRise, mostRise = 60.0, 50.0

// Fed is the temperature of a part or a stage while a limited current (A) is fed into a rail, or at a place of it, the set off (°C): the
// room's, unless it is what takes that current.
func (s *Set) Fed(name, fed string, amps float64) float64 {
	rail, ok := s.plan.RailIndex(fed)
	if place, isPlace := s.plan.PlaceIndex(fed); isPlace {
		rail, ok = s.plan.Places[place].Rail, true
	}
	if !ok {
		return roomDegrees
	}
	if _, by := s.excessOn(rail); by == nil || name != by.Block && name != by.Part {
		return roomDegrees
	}
	return roomDegrees + min(partRise*amps*amps*s.shortOhms(rail), mostRise)
}
