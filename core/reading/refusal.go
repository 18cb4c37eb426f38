package reading

import (
	"fmt"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Refusal says why a point must not be probed with the instrument at hand, and
// which would do.
type Refusal struct {
	Point string `json:"point"`
	Why   string `json:"why"`
}

// refused tells why an instrument must not go to a point, or "".
func (b Bench) Refused(point int, mode string) string {
	p := &b.Plan.Points[point]
	in := InstrumentFor(b.Instrument)
	hz := 0.0
	if f, ok := b.Plan.Expect(point, sheet.Frequency, mode); ok {
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
func (b Bench) Refusals() []Refusal {
	out := []Refusal{}
	for i := range b.Plan.Points {
		if why := b.Refused(i, b.Route.Mode); why != "" {
			out = append(out, Refusal{b.Plan.Points[i].Name, why})
		}
	}
	return out
}
