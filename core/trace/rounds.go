package trace

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// A repair begins a new round of readings. Those of earlier rounds describe the set as
// it was: they stay, and no longer count. What they showed good, and no repair touched
// since, is kept as prior knowledge; what was renewed weighs little (figures.go).

// Renewed is a repair as the trace takes it: the round that it begins, and the stages,
// rails and controls it was done to.
type Renewed struct {
	Round  int      `json:"round"`
	Blocks []string `json:"blocks"`
}

// part lists which readings are of each round up to the present one, by position.
func (c Case) part(readings []reading.Reading) [][]int {
	out := make([][]int, c.Round+1)
	for i := range readings {
		round := min(max(readings[i].Round, 0), c.Round)
		out[round] = append(out[round], i)
	}
	return out
}

// pick gives the readings at some positions.
func pick(readings []reading.Reading, at []int) []reading.Reading {
	out := make([]reading.Reading, len(at))
	for i, k := range at {
		out[i] = readings[k]
	}
	return out
}

// since is by how many times what earlier rounds showed, and what was repaired since,
// makes a block likelier to be at fault now.
func (f *finder) since(block int) float64 {
	name := f.Plan.BlockName(block)
	touched := -1 // the last repair of it
	for _, r := range f.Repairs {
		if r.Round <= f.Round && slices.Contains(r.Blocks, name) {
			touched = max(touched, r.Round)
		}
	}
	for round, past := range f.past {
		if round >= touched && past.blockShown(block) {
			return keptGood
		}
	}
	if touched >= 0 {
		return renewed
	}
	return 1
}

// blockShown tells whether a block was shown good by the readings of a round.
func (f *finder) blockShown(block int) bool {
	return f.clearing(block) != nil || block >= len(f.Plan.Stages) && f.shownByLine(block)
}

// was gives what was read at the place of a reading last in an earlier round, be it with
// another level fed in; nil where nothing was.
func (f *finder) was(r *reading.Reading) *reading.Judged {
	place := func(r *reading.Reading) reading.Key {
		k := reading.KeyOf(r)
		k.Injected = reading.Injection{Touch: k.Injected.Touch}
		return k
	}
	for _, past := range slices.Backward(f.past) {
		for i := range slices.Backward(past.judged) {
			if j := &past.judged[i]; !j.Reading.Struck && !j.Superseded && place(&j.Reading) == place(r) {
				return j
			}
		}
	}
	return nil
}

// levelBefore is the level read last at a point of the route in an earlier round; nil
// where none was.
func (f *finder) levelBefore(point int) *reading.Judged {
	for _, past := range slices.Backward(f.past) {
		for _, j := range slices.Backward(past.evidence) {
			if j.Route.Points[j.At] == point && j.Route.Mode == f.Route.Mode && j.Reading.Quantity == sheet.AC &&
				len(j.Reading.Without) == 0 {
				return j
			}
		}
	}
	return nil
}

// told puts the readings of all rounds together again, in the order given, those of
// now with what was read there before.
func (f *finder) told(at [][]int) []reading.Judged {
	n := 0
	for _, round := range at {
		n += len(round)
	}
	out := make([]reading.Judged, n)
	for round, past := range f.past {
		for i, k := range at[round] {
			out[k] = past.judged[i]
			out[k].Earlier, out[k].Round = true, round
		}
	}
	for i, k := range at[f.Round] {
		out[k] = f.judged[i]
		out[k].Round = f.Round
		if w := f.was(&out[k].Reading); w != nil {
			out[k].Was = w.Understood
		}
	}
	return out
}

// repairedBlocks names what was repaired for the present round.
func (f *finder) repairedBlocks() string {
	var out []string
	for _, r := range f.Repairs {
		for _, b := range r.Blocks {
			if r.Round == f.Round && !slices.Contains(out, b) {
				out = append(out, b)
			}
		}
	}
	if len(out) == 0 {
		return "the repair"
	}
	return fmt.Sprintf("the repair of %s", strings.Join(out, " and "))
}
