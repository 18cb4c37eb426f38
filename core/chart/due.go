package chart

import (
	"cmp"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/sheet"
)

// What of a chart a sheet takes over.

// legWords say which leg a point is.
var legWords = map[string]string{"e": "emitter", "b": "base", "c": "collector", "s": "source", "g": "gate", "d": "drain",
	"k": "cathode", "a": "anode", "g1": "control grid", "g2": "screen grid", "g3": "suppressor grid"}

// Under is a condition of a chart that is taken over, and the mode of the sheet which it is; none where it
// holds in all.
type Under struct {
	Condition string `json:"condition"`
	Mode      string `json:"mode"`
}

// Likely says in which of a sheet's modes each condition of a chart holds most probably: in the one it is called
// like; else the first holds in all, and the others are left out.
func Likely(conditions, modes []string) []Under {
	if len(conditions) == 0 {
		return []Under{{}} // a chart that says none
	}
	out := []Under{}
	for i, c := range conditions {
		called := slices.IndexFunc(
			modes,
			func(m string) bool { return m != "" && strings.Contains(strings.ToLower(c), strings.ToLower(m)) },
		)
		switch {
		case called >= 0:
			out = append(out, Under{c, modes[called]})
		case i == 0:
			out = append(out, Under{c, ""})
		}
	}
	return out
}

// Due are the values of cells under some of the chart's conditions, as a sheet takes them over. Errors are
// those a person can mend (mend.Error).
func Due(cells []Cell, under []Under) ([]sheet.Due, error) {
	var out []sheet.Due
	for i, u := range under {
		for _, before := range under[:i] {
			if before.Mode == u.Mode {
				return nil, mend.Errorf("%q and %q cannot both be what is due %s: say in which mode each holds, or leave one out",
					before.Condition, u.Condition, inMode(u.Mode))
			}
		}
		for i := range cells {
			c := &cells[i]
			if c.Condition == u.Condition && strings.TrimSpace(c.Value) != "" {
				note := cmp.Or(c.Name, legWords[c.Leg])
				out = append(
					out,
					sheet.Due{At: c.Point(), Note: note, Quantity: cmp.Or(c.Quantity, sheet.DC), Value: c.Value, Mode: u.Mode},
				)
			}
		}
	}
	return out, nil
}

func inMode(mode string) string {
	if mode == "" {
		return "in all modes"
	}
	return "in the mode " + mode
}
