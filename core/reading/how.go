package reading

import (
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// how says in what way a reading was taken, where it is not the plain one: in another mode
// than the route's, with something fed in elsewhere or touched, worked or lifted meanwhile, with
// another instrument than the usual scope for a signal.
//
// Long: a case for each quantity.
func (b Bench) how(r *Reading) string {
	var out []string
	if r.Mode != "" && r.Mode != b.Route.Mode {
		out = append(out, "in "+r.Mode)
	}
	if in := r.Injected; in != nil && r.Quantity.OfSignal() {
		switch {
		case in.Touch:
			out = append(out, "touched at "+in.At)
		case in.At != b.usualEntry(r) || in.Level > 0 || in.Hz > 0:
			fed := "fed in at " + in.At
			if in.Level > 0 {
				fed += ", " + quantity.Rounded(in.Level, quantity.Volt)
			}
			if in.Hz > 0 {
				fed += ", " + quantity.Frequency(in.Hz)
			}
			out = append(out, fed)
		}
	}
	if in := r.Injected; in != nil && (r.Quantity == sheet.TrackVolts || r.Quantity == sheet.Temperature && in.Level > 0) {
		out = append(out, quantity.Rounded(in.Level, quantity.Ampere)+" fed in at "+in.At)
	}
	if r.Worked {
		by := "it worked"
		if line, ok := b.Plan.LineIndex(r.Point); ok && line >= len(b.Plan.Rails) && b.Plan.Controls[line-len(b.Plan.Rails)].By != "" {
			by = b.Plan.Controls[line-len(b.Plan.Rails)].By
		}
		out = append(out, "with "+by)
	}
	if len(r.Without) > 0 {
		out = append(out, "with "+strings.Join(r.Without, " and ")+" lifted")
	}
	if in := InstrumentFor(r.Instrument); r.Word == quantity.NoWord && r.Quantity.OfSignal() && in.Key != instruments[0].Key {
		out = append(out, "by the "+in.Name)
	}
	return strings.Join(out, ", ")
}

// usualEntry is where the signal of a reading comes in by itself: where the route that passes
// its point begins.
func (b Bench) usualEntry(r *Reading) string {
	point, ok := b.Plan.PointIndex(r.Point)
	if !ok {
		return ""
	}
	entry := func(route *sheet.Route) (string, bool) {
		if _, on := route.At(point); on && route.Mode == r.Mode {
			return b.Plan.Points[route.Points[0]].Name, true
		}
		return "", false
	}
	if name, ok := entry(b.Route); ok {
		return name
	}
	for i := range b.Plan.Routes {
		if name, ok := entry(&b.Plan.Routes[i]); ok && name == r.Injected.At {
			return name
		}
	}
	return ""
}
