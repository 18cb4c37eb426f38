package sheet

import "slices"

// A sheet grows at the bench: points get the names that the board has, stages fall into several. What
// was read, waived or repaired under an earlier name is not changed; the sheet knows what it became.

// PointCalled finds a point by its name, or by one that it had.
func (p *Plan) PointCalled(name string) (int, bool) {
	if i, ok := p.PointIndex(name); ok {
		return i, true
	}
	i := slices.IndexFunc(p.Points, func(x PlanPoint) bool { return slices.Contains(x.Was, name) })
	return max(i, 0), i >= 0
}

// BlocksCalled lists the stages, rails and controls of a name, or that had it: several where a stage was
// divided.
func (p *Plan) BlocksCalled(name string) []int {
	var now, before []int
	for k := range p.Blocks() {
		switch {
		case p.BlockName(k) == name:
			now = append(now, k)
		case slices.Contains(p.formerly(k), name):
			before = append(before, k)
		}
	}
	if len(now) > 0 {
		return now
	}
	return before
}

// formerly are the names that a block had.
func (p *Plan) formerly(block int) []string {
	switch line := block - len(p.Stages); {
	case line < 0:
		return p.Stages[block].Was
	case line < len(p.Rails):
		return p.Rails[line].Was
	default:
		return p.Controls[line-len(p.Rails)].Was
	}
}

// Now gives the names that blocks have now; what the sheet does not know stays as it is.
func (p *Plan) Now(names []string) []string {
	var out []string
	for _, name := range names {
		called := p.BlocksCalled(name)
		if len(called) == 0 {
			out = append(out, name)
		}
		for _, k := range called {
			out = append(out, p.BlockName(k))
		}
	}
	return out
}

// NowOf gives the name that a point, rail, control or stage has now; of a divided stage the first part.
func (p *Plan) NowOf(name string) string {
	if i, ok := p.PointCalled(name); ok {
		return p.Points[i].Name
	}
	if called := p.BlocksCalled(name); len(called) > 0 {
		return p.BlockName(called[0])
	}
	return name
}
