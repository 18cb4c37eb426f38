package sheet

import (
	"slices"
	"strings"

	"steptrace/core/mend"
)

// Due is a value that the manual states somewhere. Note says what the point is, where the sheet does not
// have it yet.
type Due struct {
	At       string   `json:"at"`
	Note     string   `json:"note,omitempty"`
	Quantity Quantity `json:"quantity"`
	Value    string   `json:"value"`
	Mode     string   `json:"mode,omitempty"`
}

// take takes values of the manual over: points that the sheet does not have are added, and what it had
// of the same quantity in the same mode gives way.
func (x *grower) take(g Growth) error {
	if len(g.Values) == 0 {
		return mend.Errorf("there is nothing to take over")
	}
	if len(g.Values) > mostValues {
		return mend.Errorf("at most %d values are taken over at a time", mostValues)
	}
	added := map[string]int{}
	for _, d := range g.Values {
		name := strings.Join(strings.Fields(d.At), " ")
		i, ok := x.plan.PointCalled(name)
		if !ok {
			if i, ok = added[name]; !ok {
				i = len(x.s.Points)
				added[name] = i
				x.s.Points = append(x.s.Points, Point{Name: name, Note: d.Note})
			}
		}
		p := &x.s.Points[i]
		p.Expect = slices.DeleteFunc(p.Expect, func(e Expectation) bool { return e.Quantity == d.Quantity && e.Mode == d.Mode })
		p.Expect = append(p.Expect, Expectation{Quantity: d.Quantity, Value: d.Value, Mode: d.Mode})
	}
	return nil
}
