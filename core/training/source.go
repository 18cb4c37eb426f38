package training

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/pattern"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Source is what a case can be made from: it gives a sheet, with what is open about it drawn.
type Source struct {
	Name  string
	Sheet func(rng *rand.Rand) (*sheet.Sheet, error)
}

// Sources are those that come with the program: each pattern of a kind of set, and each usual circuit that a signal passes, as the
// middle one of three stages.
func Sources() []Source {
	var out []Source
	for _, p := range pattern.All() {
		if p.Name != pattern.Unknown {
			out = append(out, Source{p.Name, func(rng *rand.Rand) (*sheet.Sheet, error) {
				s, err := p.Sheet(chosen(p, rng))
				if err != nil {
					return nil, err
				}
				return s.Printed(), nil
			}})
		}
	}
	for _, f := range circuit.Families() {
		if s := ofFamily(&f); s != nil {
			out = append(out, Source{s.Model, func(*rand.Rand) (*sheet.Sheet, error) { return s, nil }})
		}
	}
	return out
}

// OfSheet makes cases from a sheet.
func OfSheet(s *sheet.Sheet) Source {
	return Source{s.Name(), func(*rand.Rand) (*sheet.Sheet, error) { return s, nil }}
}

// chosen draws the options of a pattern: as usual as often as otherwise.
func chosen(p *pattern.Pattern, rng *rand.Rand) pattern.Chosen {
	out := pattern.Chosen{}
	for _, o := range p.Options {
		switch {
		case rng.IntN(2) == 0:
		case len(o.Choices) > 0:
			out[o.Key] = o.Choices[rng.IntN(len(o.Choices))]
		case o.To > o.From:
			out[o.Key] = fmt.Sprint(o.From + rng.IntN(min(o.To, o.From+mostAlike)-o.From+1))
		}
	}
	return out
}

// mostAlike is how many more than the least there are of what is repeated, at the most: of forty channels one learns no more.
const mostAlike = 4

// ofFamily is a set of three stages with a usual circuit in the middle one; nil where no signal passes it.
func ofFamily(f *circuit.Family) *sheet.Sheet {
	net, problems := (&circuit.Circuit{Name: f.Name, Parts: f.Parts}).Read()
	if len(problems) > 0 || net.Alternates() || net.Runs() || !slices.Contains(net.Nodes, "in") || !slices.Contains(net.Nodes, "out") {
		return nil
	}
	rest, err := net.Rest()
	if err != nil {
		return nil
	}
	hz, gain := 0.0, 0.0
	for _, at := range []float64{1e3, 455e3} { // a tone; or an intermediate frequency, where it is tuned to that
		const tuned = 5
		if b, ok := net.Band(rest, "in", "out", at); ok && b.Gain > tuned*gain {
			hz, gain = at, b.Gain
		}
	}
	const leastGain = 0.01
	if gain < leastGain {
		return nil
	}
	into := min(0.1, 0.5/gain) // V rms: half a volt comes out of it at the most
	s := &sheet.Sheet{
		Model: "set with " + f.Name,
		Points: []sheet.Point{
			{Name: "input", Expect: []sheet.Expectation{
				{Quantity: sheet.AC, Value: quantity.Value{SI: into, Unit: quantity.Volt, Form: quantity.RMS}.Short(3)},
				{Quantity: sheet.Frequency, Value: quantity.Frequency(hz)},
			}},
			{Name: "in", Note: "before the stage in the middle", Expect: []sheet.Expectation{}},
			{Name: "out", Note: "behind the stage in the middle", Expect: []sheet.Expectation{}},
			{Name: "output", Expect: []sheet.Expectation{}},
		},
		Stages: []sheet.Stage{
			{Name: "input stage", Kind: "amplifier", From: "input", To: "in", Gain: "0 dB"},
			{Name: f.Name, Kind: "amplifier", From: "in", To: "out"},
			{Name: "output stage", Kind: "amplifier", From: "out", To: "output", Gain: "6 dB"},
		},
		Circuits: []sheet.Circuit{{Stage: f.Name, Parts: f.Parts}},
	}
	for _, p := range f.Parts {
		if p.Kind == circuit.Voltage && len(p.Nodes) > 0 && !circuit.IsGround(p.Nodes[0]) && p.Nodes[0] != "in" {
			s.Rails = append(s.Rails, sheet.Rail{Name: p.Nodes[0], Value: p.Value})
			s.Stages[1].Rails = append(s.Stages[1].Rails, p.Nodes[0])
		}
	}
	return s
}
