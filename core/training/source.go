package training

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

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
	return append(out, Source{"amplifier of usual circuits", ofSeveral}, Source{"amplifier with overall feedback", ofLoop})
}

// ofLoop is a power amplifier with feedback from its output back to its second stage: while that is closed, what is wrong in one of three
// stages shows in all of them.
func ofLoop(*rand.Rand) (*sheet.Sheet, error) {
	point := func(name, volts string) sheet.Point {
		p := sheet.Point{Name: name}
		if volts != "" {
			p.Expect = []sheet.Expectation{{Quantity: sheet.DC, Value: volts, Tolerance: "10 %"}}
		}
		return p
	}
	stage := func(name, from, to, gain string, rails ...string) sheet.Stage {
		return sheet.Stage{Name: name, Kind: "amplifier", From: from, To: to, Gain: gain, Rails: rails}
	}
	in := point("input", "")
	in.Expect = []sheet.Expectation{
		{Quantity: sheet.AC, Value: "250 mV"}, {Quantity: sheet.Frequency, Value: quantity.Frequency(tone)},
	}
	return &sheet.Sheet{
		Model: "amplifier with overall feedback",
		Points: []sheet.Point{
			in, point("buffer out", "5.6 V"), point("pair out", "21.3 V"), point("driver out", "1.2 V"), point("power out", ""),
			point("output", ""),
		},
		Stages: []sheet.Stage{
			stage("buffer", "input", "buffer out", "0 dB", "+12 V"),
			stage("input pair", "buffer out", "pair out", "8 dB", "+24 V", "-24 V"),
			stage("voltage amplifier", "pair out", "driver out", "19 dB", "+24 V", "-24 V"),
			stage("output transistors", "driver out", "power out", "-1 dB", "+24 V", "-24 V"),
			{Name: "output choke and relay", Kind: "switch", From: "power out", To: "output", Gain: "0 dB", Needs: []string{"RELAY"}},
			{Name: "way back", Kind: "feedback", From: "power out", To: "buffer out"},
		},
		Rails: []sheet.Rail{
			{Name: "+24 V", Value: "24 V", Ripple: "300 mVpp", RippleFrequency: "100 Hz", Load: "1.4 A", Fuse: "F1"},
			{Name: "-24 V", Value: "-24 V", Ripple: "300 mVpp", RippleFrequency: "100 Hz", Load: "1.4 A", Fuse: "F2"},
			{Name: "+12 V", Value: "12 V", From: "+24 V", Load: "30 mA"},
		},
		Controls: []sheet.Control{
			{Name: "RELAY", Does: "enable", Value: "11 V", From: "+24 V", By: "some seconds after it is switched on"},
		},
	}, nil
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

// tone is what sets of usual circuits are tried with (Hz), and leastGain from what gain on a signal passes one.
const tone, leastGain = 1e3, 0.01

// ofSeveral is an amplifier of as many usual circuits as it has stages between its input and its output, with controls between that
// bring each the level that it works at.
func ofSeveral(rng *rand.Rand) (*sheet.Sheet, error) {
	const stages, noted = 3, 100 // parts are numbered from so many on, stage by stage
	var of []circuit.Family
	var gains []float64
	all := circuit.Families()
	for _, i := range rng.Perm(len(all)) {
		if gain := gainOf(&all[i]); gain >= leastGain && len(of) < stages {
			of, gains = append(of, all[i]), append(gains, gain)
		}
	}
	into := func(k int) float64 { return min(0.1, 0.5/gains[k]) } // V rms: half a volt comes out at the most
	level := into(0)
	s := &sheet.Sheet{Model: "amplifier of " + of[0].Name, Points: []sheet.Point{{Name: "input", Expect: []sheet.Expectation{
		{Quantity: sheet.AC, Value: quantity.Value{SI: level, Unit: quantity.Volt, Form: quantity.RMS}.Short(3)},
		{Quantity: sheet.Frequency, Value: quantity.Frequency(tone)},
	}}}}
	last := "input"
	for k, f := range of {
		in, out := fmt.Sprintf("in %d", k+1), fmt.Sprintf("out %d", k+1)
		name := fmt.Sprintf("%s, stage %d", f.Name, k+1)
		s.Points = append(s.Points, sheet.Point{Name: in}, sheet.Point{Name: out})
		s.Stages = append(s.Stages,
			sheet.Stage{Name: fmt.Sprintf("control %d", k+1), Kind: "control", From: last, To: in,
				Gain: fmt.Sprintf("%.2f dB", quantity.DB(into(k), level))},
			sheet.Stage{Name: name, Kind: "amplifier", From: in, To: out})
		c := sheet.Circuit{Stage: name}
		for _, p := range f.Parts {
			if feeds(&p) {
				rail := fmt.Sprintf("%s of stage %d", p.Nodes[0], k+1)
				s.Rails = append(s.Rails, sheet.Rail{Name: rail, Value: p.Value})
				s.Stages[2*k+1].Rails = append(s.Stages[2*k+1].Rails, rail)
			}
			p.Name = numbered(p.Name, noted*(k+1))
			p.Nodes = slices.Clone(p.Nodes)
			for i, node := range p.Nodes {
				switch {
				case node == "in":
					p.Nodes[i] = in
				case node == "out":
					p.Nodes[i] = out
				case !circuit.IsGround(node):
					p.Nodes[i] = fmt.Sprintf("%s of stage %d", node, k+1)
				}
			}
			c.Parts = append(c.Parts, p)
		}
		s.Circuits = append(s.Circuits, c)
		last, level = out, into(k)*gains[k]
	}
	s.Points = append(s.Points, sheet.Point{Name: "output"})
	s.Stages = append(s.Stages, sheet.Stage{Name: "output stage", Kind: "amplifier", From: last, To: "output", Gain: "6 dB"})
	return s, nil
}

// feeds tells whether a part of a usual circuit stands for a rail: a source of some volts that is not the signal's.
func feeds(p *circuit.Part) bool {
	if p.Kind != circuit.Voltage || len(p.Nodes) == 0 || circuit.IsGround(p.Nodes[0]) || p.Nodes[0] == "in" {
		return false
	}
	v, err := quantity.Parse(p.Value, quantity.Volt)
	return err == nil && v.SI != 0
}

// numbered is a part's name with its number so much higher: R1 becomes R101.
func numbered(name string, by int) string {
	letters := strings.TrimRight(name, "0123456789")
	n, err := strconv.Atoi(name[len(letters):])
	if err != nil {
		return fmt.Sprint(name, by)
	}
	return fmt.Sprint(letters, by+n)
}

// gainOf is what a usual circuit amplifies a tone by; 0 where none passes it.
func gainOf(f *circuit.Family) float64 {
	net, problems := (&circuit.Circuit{Name: f.Name, Parts: f.Parts}).Read()
	if len(problems) > 0 || net.Alternates() || net.Runs() || !slices.Contains(net.Nodes, "in") || !slices.Contains(net.Nodes, "out") {
		return 0
	}
	rest, err := net.Rest()
	if err != nil {
		return 0
	}
	b, _ := net.Band(rest, "in", "out", tone)
	return b.Gain
}

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
	for _, at := range []float64{tone, 455e3} { // or an intermediate frequency, where it is tuned to that
		const tuned = 5
		if b, ok := net.Band(rest, "in", "out", at); ok && b.Gain > tuned*gain {
			hz, gain = at, b.Gain
		}
	}
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
		if feeds(&p) {
			s.Rails = append(s.Rails, sheet.Rail{Name: p.Nodes[0], Value: p.Value})
			s.Stages[1].Rails = append(s.Stages[1].Rails, p.Nodes[0])
		}
	}
	return s
}
