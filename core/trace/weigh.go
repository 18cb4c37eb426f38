package trace

import (
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Weigh lays a reading that was taken beside the best that could have been, by what was known before it. Ok is false where that is not
// known: nothing was left to be parted, or it was no reading of a level at a point or of a line.
func (c Case) Weigh(before []reading.Reading, r reading.Reading) (w planning.Weighed, ok bool) {
	c.Way = planning.Halve
	if route, there := c.routeOf(&r); there {
		c.Route = route
	}
	f := c.begin(before)
	believed, _ := normalised(f.logs(f.pieces(f.evidence)))
	s := f.suspecting(f.remaining(believed), believed)
	if len(s.suspects) == 0 {
		return w, false
	}
	if line, is := c.Plan.LineIndex(r.Point); is {
		return s.situation().Weigh(nil, line)
	}
	j := c.Judge(r)
	if j.Route == nil || r.Act != "" {
		return w, false
	}
	return s.situation().
		Weigh(&planning.Access{Route: j.Route, From: j.From, At: j.At, Lifted: sheet.None, Quantity: r.Quantity}, sheet.None)
}

// routeOf is the first route that a reading was taken on.
func (c Case) routeOf(r *reading.Reading) (*sheet.Route, bool) {
	j := c.Judge(*r)
	return j.Route, j.Route != nil
}
