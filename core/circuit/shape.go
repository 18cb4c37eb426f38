package circuit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// The shape of a signal that is driven hard tells what gains do not: a stage that stands in
// the wrong place clips on one side.

// Shapes are the words for it, of a sine that is fed in; Distorted says no more than that it
// is not clean.
var Shapes = []string{"clean", "clipped on top", "clipped below", "clipped on both sides", Distorted, "nothing"}

// Distorted is any of the shapes that are not clean.
const Distorted = "distorted"

const (
	clean = iota
	clippedTop
	clippedBelow
	clippedBoth
	otherwise
	nothing
)

const (
	shapePeriods, shapePoints = 8, 201
	// cleanShare is the harmonics' share from which on an eye at a scope sees them.
	cleanShare = 0.04
	// A sine is above 92 % of its peak for an eighth of the time; what is flat, for longer.
	nearPeak, flatTime = 0.92, 0.21
	leastSwing         = 1e-4 // volts
	// rightShape is how often the eye names a shape right, alikeShape how often one bent
	// shape for another, wrongShape clean for bent.
	rightShape, alikeShape, wrongShape = 0.85, 0.12, 0.03
)

// lookShape reads what was seen, and how hard the stage is driven: volts rms at the entry,
// from a source that stands before it.
func (n *Net) lookShape(r *NodeReading, l *look) error {
	k := slices.Index(Shapes, strings.ToLower(strings.TrimSpace(r.Value)))
	if k < 0 {
		return fmt.Errorf("%q is none of the shapes %s", r.Value, strings.Join(Shapes, ", "))
	}
	l.value = float64(k)
	drive, err := quantity.ParseAs(r.Drive, quantity.Volt)
	if err != nil || !(drive.SI > 0 && drive.SI < 1e4) {
		return fmt.Errorf("say with how many volts it was driven, as drive: %q says nothing of it", r.Drive)
	}
	arrives := 1.0
	if n.entry != ground {
		rest, err := n.Rest()
		if err != nil {
			return err
		}
		response, err := n.Respond(rest, []float64{l.hz})
		if err != nil {
			return err
		}
		arrives = max(response[0].Gain[n.Nodes[n.entry]], leastGain)
	}
	l.peak = math.Sqrt2 * drive.SI / arrives
	return nil
}

// shape is that of a node driven by a sine.
func (v *view) shape(l *look) int {
	c, err := v.net.follow(v.x, Drive{quantity.Sine, l.peak, l.hz}, (shapePeriods-1)/l.hz, 1/l.hz, shapePoints)
	if err != nil {
		return otherwise
	}
	return shapeOf(c.Volts[v.net.Nodes[l.node]][:shapePoints-1])
}

// shapeOf tells the shape of one period.
func shapeOf(w []float64) int {
	low, high, mean, sin, cos := math.Inf(1), math.Inf(-1), 0.0, 0.0, 0.0
	for i, x := range w {
		low, high, mean = min(low, x), max(high, x), mean+x/float64(len(w))
		a := 2 * math.Pi * float64(i) / float64(len(w))
		sin, cos = sin+2*x*math.Sin(a)/float64(len(w)), cos+2*x*math.Cos(a)/float64(len(w))
	}
	if high-low < leastSwing {
		return nothing
	}
	left, top, bottom := 0.0, 0.0, 0.0
	middle, half := (high+low)/2, (high-low)/2
	for i, x := range w {
		a := 2 * math.Pi * float64(i) / float64(len(w))
		d := x - mean - sin*math.Sin(a) - cos*math.Cos(a)
		left += d * d / float64(len(w))
		if x > middle+nearPeak*half {
			top += 1 / float64(len(w))
		}
		if x < middle-nearPeak*half {
			bottom += 1 / float64(len(w))
		}
	}
	if math.Sqrt(2*left) < cleanShare*math.Hypot(sin, cos) {
		return clean
	}
	switch {
	case top > flatTime && bottom > flatTime:
		return clippedBoth
	case top > flatTime:
		return clippedTop
	case bottom > flatTime:
		return clippedBelow
	}
	return otherwise
}

// likelyShape is how likely a shape is named where another is predicted.
func likelyShape(seen, predicted int) float64 {
	bent := func(s int) bool { return s != clean && s != nothing }
	switch {
	case seen == predicted, seen == otherwise && bent(predicted):
		return rightShape
	case bent(seen) && bent(predicted):
		return alikeShape
	}
	return wrongShape
}
