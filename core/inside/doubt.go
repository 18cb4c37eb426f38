package inside

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Doubt is a disagreement between manual and circuit, both healthy: where, and which parts'
// values, or faults of the circuit as it was put in, would explain it. Untold: it is so far off
// that nothing can be told of the parts by this circuit, so that none is ranked and no value
// fitted.
type Doubt struct {
	Says   string         `json:"says"`
	Untold bool           `json:"untold"`
	AsIf   []circuit.AsIf `json:"asIf"`
	Parts  []string       `json:"parts"`
}

const (
	// untoldVolts is from how many times what a good one may be off, and from which share of the
	// manual's volts on, a circuit is another than the set's.
	untoldVolts, untoldShare = 3.0, 0.3
	// untoldDB is the gain from which on it is: a stage that amplifies half as much, or twice, is
	// not the one of the manual.
	untoldDB = 6.0
	// untoldTimes is the ratio of frequencies from which on it is: oscillators of simple parts are
	// within a third of what is worked out for them.
	untoldTimes = 1.5
)

// doubt holds the healthy circuit against what the manual has: its DC, its gain, how it
// swings, the shape of its signal. Nil where they agree.
func (l *looking) doubt(v *View) *Doubt {
	d := &Doubt{AsIf: []circuit.AsIf{}, Parts: []string{}}
	asked, off := l.doubtDC(v, d)
	if g := v.Gain; g != nil && g.Manual != nil {
		if by := g.Computed - *g.Manual; math.Abs(by) > untoldDB {
			d.Untold = true
			off = append(off, fmt.Sprintf("a gain of %s stated, %s computed", quantity.SignedDB(*g.Manual), quantity.SignedDB(g.Computed)))
		}
	}
	if says := l.doubtSwing(); says != "" {
		d.Untold = true
		off = append(off, says)
	}
	if says := l.doubtShape(); says != "" {
		off = append(off, says)
	}
	if len(off) == 0 {
		return nil
	}
	d.Says = "Manual and circuit disagree: " + strings.Join(off, "; ") + ". One of them is wrong."
	if len(asked) == 0 {
		return d
	}
	found, problems := l.circuit.Diagnose(l.ctx, asked, circuit.Past{})
	if len(problems) > 0 {
		return d
	}
	d.AsIf = found.AsIf
	for i := range found.Ranked {
		for _, f := range found.Ranked[i].Faults {
			if found.Ranked[i].Weight > 0.02 && !slices.Contains(d.Parts, f.Part) {
				d.Parts = append(d.Parts, f.Part)
			}
		}
	}
	return d
}

// doubtDC tells where the manual's DC is not the circuit's; asked are the manual's values as
// readings, where any is off.
func (l *looking) doubtDC(v *View, d *Doubt) (asked []circuit.NodeReading, off []string) {
	for _, n := range v.Nodes {
		i, ok := l.Plan.PointIndex(n.Node)
		if n.Manual == nil || !ok {
			continue
		}
		low, high := *n.Manual, *n.Manual
		for _, e := range l.Plan.Points[i].Expected {
			if e.Quantity == sheet.DC && e.Source != sheet.FromCircuit {
				low, high = e.Tolerance.Bounds(e.Value.SI)
			}
		}
		share := math.Max((high-low)/4/math.Max(math.Abs(*n.Manual), 1e-3), 0.01) // a tolerance is two spreads
		asked = append(
			asked,
			circuit.NodeReading{
				What:  circuit.DC,
				Node:  n.Node,
				Value: quantity.Value{SI: *n.Manual, Unit: quantity.Volt}.String(),
				Error: fmt.Sprintf("%.4g %%", 100*share),
			},
		)
		if n.Computed+n.Within/2 >= low && n.Computed-n.Within/2 <= high {
			continue
		}
		off = append(
			off,
			fmt.Sprintf(
				"at %s %s stated, %s computed",
				n.Node,
				quantity.Rounded(*n.Manual, quantity.Volt),
				quantity.Rounded(n.Computed, quantity.Volt),
			),
		)
		by := math.Abs(n.Computed - *n.Manual)
		d.Untold = d.Untold || by > untoldVolts*math.Max(n.Within, (high-low)/2) && by > untoldShare*math.Abs(*n.Manual)
	}
	if len(off) == 0 {
		asked = nil
	}
	return asked, off
}

// doubtSwing tells where a circuit that nothing drives should swing, and does not, or at another
// frequency.
func (l *looking) doubtSwing() string {
	if l.net.Signals() || l.net.Alternates() {
		return ""
	}
	at, due := "", 0.0
	for _, node := range l.net.Nodes {
		i, ok := l.Plan.PointIndex(node)
		if !ok {
			continue
		}
		for _, e := range l.Plan.Points[i].Expected {
			if e.Quantity == sheet.Frequency && e.Source != sheet.FromCircuit {
				at, due = node, e.Value.SI
			}
		}
	}
	hz := l.net.Swing(l.rest)
	_, out, _, _, stage := l.ends()
	level := false
	if stage {
		_, _, level = l.Due(reading.Reading{Point: out, Mode: l.Route.Mode})
	}
	switch {
	case hz == 0 && due > 0:
		return fmt.Sprintf(
			"at %s %s stated, and this circuit does not swing: a part is missing, or something outside drives it, which belongs into "+
				"the circuit",
			at,
			quantity.Frequency(due),
		)
	case hz == 0 && level && at == "":
		return fmt.Sprintf(
			"at %s a signal is stated, and in this circuit there is neither one that drives it nor does it swing by itself: put its "+
				"source in",
			out,
		)
	case due > 0 && (hz > due*untoldTimes || hz < due/untoldTimes):
		return fmt.Sprintf("at %s %s stated, %s computed", at, quantity.Frequency(due), quantity.Rounded(hz, quantity.Hertz))
	}
	return ""
}

// doubtShape tells where the manual shows another shape than the sine that drives the
// circuit: its gain says little of that.
func (l *looking) doubtShape() string {
	if !l.net.Signals() {
		return ""
	}
	for _, node := range l.net.Nodes {
		i, ok := l.Plan.PointIndex(node)
		if !ok {
			continue
		}
		for _, e := range l.Plan.Points[i].Expected {
			if e.Quantity == sheet.AC && e.Shape != "" && e.Shape != quantity.Sine {
				return fmt.Sprintf(
					"at %s the manual shows a %s, and the circuit is driven by a sine: what is said of its gain is left out",
					node,
					e.Shape,
				)
			}
		}
	}
	return ""
}
