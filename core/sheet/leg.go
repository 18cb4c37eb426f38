package sheet

import (
	"regexp"
	"slices"
	"strings"
)

// A point may be the leg of a part, "Q101 e": a voltage chart has such, and no signal is traced by them.

var leg = regexp.MustCompile(`^([A-Z]{1,4}\d{1,4}[A-Z]?) (?:[a-z]|g[1-3]|\d{1,3})$`)

// PartOf is the part that a point is a leg of; empty where it is none.
func (p *Plan) PartOf(point int) string {
	if m := leg.FindStringSubmatch(p.Points[point].Name); m != nil {
		return m[1]
	}
	return ""
}

// StagesAt lists the stages that a bias voltage at a point speaks of: those that meet there, and those
// whose name speaks of the part that it is a leg of.
func (p *Plan) StagesAt(point int) []int {
	part := p.PartOf(point)
	var out []int
	for k := range p.Stages {
		s := &p.Stages[k]
		if s.From == point || s.To == point || part != "" && slices.Contains(strings.Fields(s.Name), part) {
			out = append(out, k)
		}
	}
	return out
}
