package reading

import (
	"slices"

	"steptrace/core/sheet"
)

// Spot is something that can be aimed at and read, with what can be read there, in the order
// offered.
type Spot struct {
	Name       string           `json:"name"`
	Kind       string           `json:"kind" jsonschema:"enum=point,enum=rail,enum=control,enum=fuse,enum=place"`
	Note       string           `json:"note"`
	Quantities []sheet.Quantity `json:"quantities"`
}

// Spots lists all of a sheet: its points, whether or not a route passes them, its rails and
// controls, the fuses of its rails, the places along their copper.
func Spots(p *sheet.Plan) []Spot {
	out := []Spot{}
	for i := range p.Points {
		pt := &p.Points[i]
		if pt.Source {
			continue
		}
		note := pt.Note
		if pt.Drawing != "" {
			note = Joined(note, "on the drawing "+pt.Drawing)
		}
		s := Spot{Name: pt.Name, Kind: "point", Note: note}
		stated := func(q sheet.Quantity) bool {
			return slices.ContainsFunc(pt.Expected, func(e sheet.Expected) bool { return e.Quantity == q && e.Source != sheet.FromCircuit })
		}
		onRoute := slices.ContainsFunc(p.Routes, func(r sheet.Route) bool { return slices.Contains(r.Points, i) })
		if onRoute || stated(sheet.AC) || !slices.ContainsFunc(sheet.Quantities, stated) {
			s.Quantities = append(s.Quantities, sheet.AC)
		}
		for _, known := range []bool{true, false} { // what the sheet states first
			for _, q := range sheet.Quantities {
				if stated(q) == known && !slices.Contains(s.Quantities, q) {
					s.Quantities = append(s.Quantities, q)
				}
			}
		}
		out = append(out, s)
	}
	for i := range p.Rails {
		out = append(
			out,
			Spot{
				p.Rails[i].Name,
				"rail",
				p.Rails[i].Point,
				ofRail(&p.Rails[i]),
			},
		)
	}
	for i := range p.Controls {
		out = append(out, Spot{p.Controls[i].Name, "control", p.Controls[i].Point, []sheet.Quantity{sheet.DC, sheet.Resistance}})
	}
	for i := range p.Rails {
		if fuse := p.Rails[i].Fuse; fuse != "" && !slices.ContainsFunc(out, func(s Spot) bool { return s.Name == fuse }) {
			out = append(out, Spot{fuse, "fuse", "", []sheet.Quantity{sheet.Resistance}})
		}
	}
	for i := range p.Places {
		if p.Places[i].Rail < 0 {
			continue // of a rail that the sheet does not have yet
		}
		name := p.PlaceName(i)
		if !slices.ContainsFunc(out, func(s Spot) bool { return s.Name == name }) {
			out = append(out, Spot{name, "place", "", []sheet.Quantity{sheet.TrackVolts}})
		}
	}
	return out
}

// ofRail lists what can be read of a rail, what it is read in first.
func ofRail(r *sheet.PlanRail) []sheet.Quantity {
	volts := []sheet.Quantity{sheet.DC, sheet.AC}
	if r.Alternates {
		slices.Reverse(volts)
	}
	return append(volts, sheet.Frequency, sheet.Resistance, sheet.Current)
}
