package trace

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Rating is the highest voltage to ground (V peak, DC included) that the
// instrument with its probe bears at a frequency (Hz). Above DerateHz it falls
// in proportion to the frequency, as the current through the probe's
// capacitance has to stay the same.
func (in Instrument) Rating(hz float64) float64 {
	if hz <= in.DerateHz || in.DerateHz == 0 {
		return in.MaxVolts
	}
	return in.MaxVolts * in.DerateHz / hz
}

// Refusal says why a point must not be probed with the instrument at hand, and
// which would do.
type Refusal struct {
	Point string `json:"point"`
	Why   string `json:"why"`
}

// refused tells why an instrument must not go to a point, or "".
func (c Case) refused(point int, mode string) string {
	p := &c.Plan.Points[point]
	in := InstrumentFor(c.Instrument)
	hz := 0.0
	if f, ok := c.Plan.Expect(point, sheet.Frequency, mode); ok {
		hz = f.Value.SI
	}
	if p.PeakVolts <= in.Rating(hz) {
		return ""
	}
	at := ""
	if hz > in.DerateHz {
		at = " at " + quantity.Frequency(hz)
	}
	why := fmt.Sprintf(
		"up to %s here, and a %s bears %s%s",
		quantity.Rounded(p.PeakVolts, quantity.Volt),
		in.Name,
		quantity.Rounded(in.Rating(hz), quantity.Volt),
		at,
	)
	for _, other := range Instruments() {
		if other.Rating(hz) >= p.PeakVolts && other.MaxHz >= hz {
			return why + ": take the " + other.Name
		}
	}
	return why + ": no instrument known here bears it. Measure elsewhere, or by a divider built for it"
}

// Refusals lists all points of the sheet that the instrument must not go to.
func (c Case) Refusals() []Refusal {
	out := []Refusal{}
	for i := range c.Plan.Points {
		if why := c.refused(i, c.Route.Mode); why != "" {
			out = append(out, Refusal{c.Plan.Points[i].Name, why})
		}
	}
	return out
}

// joined puts what is said of something into one line.
func joined(parts ...string) string {
	parts = slices.DeleteFunc(slices.Clone(parts), func(p string) bool { return p == "" })
	return strings.Join(parts, "; ")
}
