package trace

import (
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Follows is the route to stand on once one more thing was noticed: the likeliest, unless another was chosen before.
func (c Case) Follows(readings []reading.Reading) *sheet.Route {
	before := c
	before.Noticed = c.Noticed[:max(len(c.Noticed)-1, 0)]
	if len(c.Noticed) > 0 && before.Likeliest(readings) != c.Route {
		return c.Route
	}
	return c.Likeliest(readings)
}

// Likeliest is the route to begin with: the one whose stages are most likely at fault by all that is known
// before anything is read, the complaint and what the set shows by itself.
func (c Case) Likeliest(readings []reading.Reading) *sheet.Route {
	best := c.Route
	if len(c.Plan.Routes) < 2 {
		return best
	}
	f := c.begin(readings)
	believed, _ := normalised(f.logs(f.pieces(f.evidence)))
	of := func(r *sheet.Route) float64 {
		sum := 0.0
		for _, s := range r.Stages {
			sum += believed[s]
		}
		return sum
	}
	most := of(best) * worthAnother
	for i := range c.Plan.Routes {
		if r := &c.Plan.Routes[i]; of(r) > most {
			best, most = r, of(r)
		}
	}
	return best
}
