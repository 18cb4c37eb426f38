package sheet

import (
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
)

// Source is where an expected value comes from. It is written before the tolerance, or the gain:
// "usual", "good 3 dB", "circuit".
type Source string

// Words implements exchange.Enumerated.
func (Source) Words() []string {
	return exchange.WordsOf([]Source{FromManual, FromGood, FromCircuit, Usual})
}

// The sources. What the manual prints needs no word. A value read on a good set, channel or board
// holds as closely as two of a kind agree; one computed from a circuit as closely as parts do; a
// usual one is no more than what such sets have.
const (
	FromManual  Source = ""
	FromGood    Source = "good"
	FromCircuit Source = "circuit"
	Usual       Source = "usual"
)

// Of two sources of a value that was worked out from both, the vaguer counts.
func vaguer(a, b Source) Source {
	rank := map[Source]int{FromManual: 0, FromCircuit: 1, FromGood: 2, Usual: 3}
	if rank[b] > rank[a] {
		return b
	}
	return a
}

// bySource are the tolerances of values that give none, where they differ from a manual's.
//
// Between two good sets or channels levels differ as DIN 45500 lets the channels of a set do, bias
// voltages and resistances by what the spread of two sets of parts makes of them. What is usual of
// a kind of set spans what such sets have: a line output lies somewhere between 0.1 and 2 V, 13 dB
// to either side of the middle, and a gain alike; a supply of one class of power is half as high
// again in the next; a bias voltage hangs on the supply; an intermediate frequency is one of a few.
var bySource = map[Source]map[quantity.Unit]quantity.Tolerance{
	FromGood: {
		quantity.Decibel: {Low: 3, High: 3, Unit: quantity.Decibel},
		quantity.Volt:    {Low: 0.15, High: 0.15, Unit: quantity.Ratio},
		quantity.Ohm:     {Low: 0.15, High: 0.15, Unit: quantity.Ratio},
	},
	Usual: {
		quantity.Decibel: {Low: 14, High: 14, Unit: quantity.Decibel},
		quantity.Volt:    {Low: 0.5, High: 0.6, Unit: quantity.Ratio},
		quantity.Ohm:     {Low: 0.8, High: 4, Unit: quantity.Ratio},
		quantity.Hertz:   {Low: 0.3, High: 0.3, Unit: quantity.Ratio},
		quantity.Ampere:  {Low: 0.9, High: 2, Unit: quantity.Ratio},
		quantity.Watt:    {Low: 0.7, High: 2, Unit: quantity.Ratio},
		quantity.Celsius: {Low: 40, High: 25, Unit: quantity.Celsius},
	},
}

// sourceOf takes the word for where a value comes from off a tolerance or a gain.
func sourceOf(text string) (Source, string) {
	first, rest, _ := strings.Cut(strings.TrimSpace(text), " ")
	switch s := Source(strings.ToLower(first)); s {
	case FromGood, FromCircuit, Usual:
		return s, strings.TrimSpace(rest)
	}
	return FromManual, strings.TrimSpace(text)
}

// Written puts the word for a source before a tolerance.
func (s Source) Written(tolerance string) string {
	return strings.TrimSpace(string(s) + " " + strings.TrimSpace(tolerance))
}

// toleranceFrom is the tolerance of a value of a source that gives none; usual is a manual's.
func toleranceFrom(s Source, usual quantity.Tolerance, unit quantity.Unit) quantity.Tolerance {
	if usual.Unit == quantity.Decibel {
		unit = quantity.Decibel
	}
	if t, ok := bySource[s][unit]; ok {
		return t
	}
	return usual
}

// TwinLevels and TwinValues are how far a good channel's level, and its bias voltage or resistance,
// may be from its twin's.
var (
	TwinLevels = bySource[FromGood][quantity.Decibel]
	TwinValues = bySource[FromGood][quantity.Volt]
)

// Between writes the band of a usual value, to two figures: "60 mV to 1.5 V".
func Between(low, high float64, form quantity.Form, unit quantity.Unit) string {
	if low <= 0 || math.IsInf(low, 0) {
		return "at most " + quantity.Value{SI: high, Unit: unit, Form: form}.Short(2)
	}
	return quantity.Value{SI: low, Unit: unit}.Short(2) + " to " + quantity.Value{SI: high, Unit: unit, Form: form}.Short(2)
}

// Printed is a copy of the sheet whose usual values are those of a manual: of a set that has them, and is to be worked on with one.
func (s *Sheet) Printed() *Sheet {
	out := *s
	out.Points, out.Stages = slices.Clone(s.Points), slices.Clone(s.Stages)
	out.Rails, out.Controls = slices.Clone(s.Rails), slices.Clone(s.Controls)
	print := func(text *string) {
		if from, rest := sourceOf(*text); from == Usual {
			*text = rest
		}
	}
	for i := range out.Points {
		out.Points[i].Expect = slices.Clone(out.Points[i].Expect)
		for k := range out.Points[i].Expect {
			print(&out.Points[i].Expect[k].Tolerance)
		}
	}
	for i := range out.Stages {
		print(&out.Stages[i].Gain)
	}
	for i := range out.Rails {
		print(&out.Rails[i].Tolerance)
	}
	for i := range out.Controls {
		print(&out.Controls[i].Tolerance)
	}
	return &out
}
