// Package sheettest has small sheets that the tests of several packages work on.
package sheettest

import (
	"fmt"

	"steptrace/core/sheet"
)

// Chain is a sheet of n stages of equal gain and equal access: points p0..pn.
func Chain(n int, gain string) *sheet.Sheet {
	s := &sheet.Sheet{
		Model: "chain",
		Points: []sheet.Point{
			{Name: "p0", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}}},
		},
	}
	for i := range n {
		s.Points = append(s.Points, sheet.Point{Name: fmt.Sprintf("p%d", i+1)})
		s.Stages = append(
			s.Stages,
			sheet.Stage{Name: fmt.Sprintf("s%d", i), From: fmt.Sprintf("p%d", i), To: fmt.Sprintf("p%d", i+1), Gain: gain},
		)
	}
	return s
}

// Stereo is a set of two channels of three stages; the sheet has levels at the
// entries and the exits alone, bias nowhere.
func Stereo() *sheet.Sheet {
	s := &sheet.Sheet{Model: "stereo"}
	for _, side := range []string{"L", "R"} {
		level := []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}}
		out := []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}
		s.Points = append(
			s.Points,
			sheet.Point{Name: side + "0", Expect: level},
			sheet.Point{Name: side + "1"},
			sheet.Point{Name: side + "2"},
			sheet.Point{Name: side + "3", Expect: out},
		)
		for i, name := range []string{"pre", "tone", "line"} {
			s.Stages = append(
				s.Stages,
				sheet.Stage{Name: side + " " + name, From: side + string(rune('0'+i)), To: side + string(rune('1'+i))},
			)
		}
	}
	for i := range 4 {
		s.Points[i].Twin = s.Points[i+4].Name
	}
	return s
}
