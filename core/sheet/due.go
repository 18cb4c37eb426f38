package sheet

import (
	"slices"
	"strings"

	"steptrace/core/mend"
)

// Due is a value that the manual states somewhere.
type Due struct {
	At       string
	Note     string
	Quantity Quantity
	Value    string
	Mode     string
}

// WithDue gives the sheet with values of the manual taken over: points that it does not have are added,
// and what it had of the same quantity in the same mode gives way. The sheet itself stays as it is.
// Errors are those a person can mend (mend.Error).
func (s *Sheet) WithDue(values []Due) (*Sheet, error) {
	if len(values) == 0 {
		return nil, mend.Errorf("there is nothing to take over")
	}
	out, err := ReadJSON(s.WriteJSON())
	if err != nil {
		return nil, err
	}
	plan, _ := out.Plan()
	added := map[string]int{}
	for _, d := range values {
		name := strings.Join(strings.Fields(d.At), " ")
		i, ok := plan.PointCalled(name)
		if !ok {
			if i, ok = added[name]; !ok {
				i = len(out.Points)
				added[name] = i
				out.Points = append(out.Points, Point{Name: name, Note: d.Note})
			}
		}
		p := &out.Points[i]
		p.Expect = slices.DeleteFunc(p.Expect, func(e Expectation) bool { return e.Quantity == d.Quantity && e.Mode == d.Mode })
		p.Expect = append(p.Expect, Expectation{Quantity: d.Quantity, Value: d.Value, Mode: d.Mode})
	}
	known := blockingOf(s)
	for _, p := range blockingOf(out) {
		if !slices.Contains(known, p) {
			return nil, mend.Errorf("%s", p)
		}
	}
	return out, nil
}

// blockingOf lists what keeps a sheet from being used.
func blockingOf(s *Sheet) []string {
	_, problems := s.Plan()
	var out []string
	for _, p := range problems {
		if p.Severity == Blocking {
			out = append(out, p.Where+": "+strings.TrimSuffix(p.Message, "."))
		}
	}
	return out
}
