package pin

import "steptrace/core/sheet"

// Place is where a name is shown best. Of is the part that has the pin, where the leg that is named has none.
type Place struct {
	Name    string `json:"name"`
	Picture string `json:"picture"`
	Of      string `json:"of"`
	Pin
}

// better tells whether a picture shows a place better than another: sure before doubtful, the set itself
// before a drawing of it, and of the same kind the one that came first.
func better(p *Picture, x Pin, than *Picture, y Pin) bool {
	drawn := func(p *Picture) bool { return p.Seen != PartsSide && p.Seen != CopperSide }
	if x.Doubt != y.Doubt {
		return y.Doubt
	}
	return !drawn(p) && drawn(than)
}

// Places tells of everything that has a pin, and of the legs of parts that have one, where it is shown best.
func Places(plan *sheet.Plan, pictures []Picture) []Place {
	out, at := []Place{}, map[string]int{}
	shown := map[string]*Picture{}
	for i := range pictures {
		p := &pictures[i]
		if p.Struck {
			continue
		}
		for _, x := range p.Pins {
			name := plan.NowOf(x.Name)
			k, there := at[name]
			switch {
			case !there:
				at[name], shown[name] = len(out), p
				out = append(out, Place{Name: name, Picture: p.ID, Pin: x})
			case better(p, x, shown[name], out[k].Pin):
				shown[name] = p
				out[k] = Place{Name: name, Picture: p.ID, Pin: x}
			}
		}
	}
	for i := range plan.Points {
		name, part := plan.Points[i].Name, plan.PartOf(i)
		k, there := at[part]
		if _, own := at[name]; !own && there && part != "" {
			x := out[k]
			x.Name, x.Of = name, part
			out = append(out, x)
		}
	}
	return out
}
