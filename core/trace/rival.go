package trace

import (
	"fmt"
	"strings"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// How sure it is that it is this block and no other, and which reading would tell.

// sureGround: the readings make the stage likely enough, one that decides
// having been taken twice where that is needed. A single slip of the probe must
// not condemn a stage.
func (f *suspicion) sureGround(at int) Ground {
	stage := f.Route.Stages[at]
	belief := f.believed[stage]
	g := Ground{
		Key:      "sure",
		Text:     "The readings leave little doubt",
		Proof:    Shown,
		Because:  share(belief) + " by the readings and the usual faults",
		Quantity: sheet.AC,
	}
	if belief >= sure {
		return g
	}
	pivot, ok := f.pivot(stage)
	if !ok && belief >= likely {
		g.Because += "; nothing that can be read on this route would settle that"
		return g
	}
	if !ok {
		g.Proof, g.Because = Lacking, ""
		g.Text = fmt.Sprintf(
			"It is not decided yet: %s for %s, %s for %s",
			share(belief),
			f.Plan.BlockName(stage),
			share(f.believed[f.rival(stage)]),
			f.Plan.BlockTitle(f.rival(stage)),
		)
		return g
	}
	g.Proof, g.Because, g.Point, g.Quantity, g.Without, g.Worked = Lacking, "", pivot.point, pivot.quantity, pivot.without, pivot.worked
	with := ""
	if line, ok := f.Plan.LineIndex(pivot.point); ok && pivot.worked {
		with = " with " + f.line(line).By
	}
	if len(pivot.without) > 0 {
		with = " with " + strings.Join(pivot.without, ", ") + " lifted"
	}
	if j := pivot.was; j != nil {
		if j.Route != f.Route {
			with += " on " + j.Route.Name
		}
		if in := j.Reading.Injected; in != nil && in.At != f.Plan.Points[j.Route.Points[0]].Name {
			with += ", fed in at " + in.At
		}
		g.Route, g.Injected = j.Route.Key, j.Reading.Injected
	}
	other := fmt.Sprintf("a fault in %s is %s likely", f.Plan.BlockTitle(pivot.against), share(f.believed[pivot.against]))
	switch {
	case pivot.times == 0:
		g.Text = fmt.Sprintf("Read %s%s: it was not read yet, and %s", pivot.point, with, other)
	case pivot.times == 1:
		g.Text = fmt.Sprintf("Read %s again%s: it was read once, and %s still", pivot.point, with, other)
	default:
		g.Text = fmt.Sprintf("Read %s once more%s: it was read %.0f times, and %s still", pivot.point, with, pivot.times, other)
	}
	return g
}

// again is a reading to take once more.
type again struct {
	point    string
	quantity sheet.Quantity
	without  []string
	times    float64
	against  int             // the block that it would rule out
	worked   bool            // a control
	was      *reading.Judged // with the signal and on the route of that reading; nil for a line
}

// pivot finds the reading that stands between a stage and the likeliest other
// block; of several the one that was read the fewest times.
func (f *suspicion) pivot(stage int) (best again, ok bool) {
	weight := 0.0
	for k, b := range f.believed {
		if k == stage || b < max(weight, worthAsking) {
			continue
		}
		offer := func(a again) {
			if a.times >= enough {
				return // once more would hardly tell more
			}
			if !ok || b > weight || a.times < best.times {
				best, weight, ok = a, b, true
			}
		}
		for _, j := range f.evidence {
			if j.At > j.From && !f.allows(j, k) {
				offer(
					again{
						point:    j.Reading.Point,
						quantity: j.Reading.Quantity,
						without:  j.Reading.Without,
						times:    j.Times,
						against:  k,
						was:      j,
					},
				)
			}
		}
		for i := range f.Plan.Lines() {
			switch l := f.line(i); {
			case !l.good() && !l.bad() && k == len(f.Plan.Stages)+i: // not shown yet, as it stands, worked or its ripple
				g := f.lineGround(i)
				offer(again{point: l.Name, quantity: g.Quantity, against: k, worked: g.Worked})
			case l.good() && l.byRipple() && k == len(f.Plan.Stages)+i:
				offer(again{point: l.Name, quantity: sheet.AC, against: k, times: l.rippleTimes})
			case l.good() && f.Plan.LinePaths(i).Any[k]:
				offer(again{point: l.Name, quantity: f.Plan.LineReads(i), against: k, times: l.times})
			}
		}
	}
	return best, ok
}

// rival is the likeliest block beside one.
func (f *suspicion) rival(block int) int {
	best := -1
	for k, b := range f.believed {
		if k != block && (best < 0 || b > f.believed[best]) {
			best = k
		}
	}
	return max(best, 0)
}

// share writes a belief in per cent, never as certain.
func share(belief float64) string {
	switch x := 100 * belief; {
	case x > 99.9:
		return "over 99.9 %"
	case x >= 99 || x < 1 && x >= 0.1:
		return fmt.Sprintf("%.1f %%", x)
	case x < 0.1:
		return "under 0.1 %"
	default:
		return fmt.Sprintf("%.0f %%", x)
	}
}
