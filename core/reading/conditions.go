package reading

import (
	"math"

	"steptrace/core/mend"
	"steptrace/core/sheet"
)

// Under which conditions a reading can be taken: what may be fed in, touched and taken out.

// CheckInjection tells whether a signal can be fed in as described.
func CheckInjection(plan *sheet.Plan, in *Injection) error {
	_, isPoint := plan.PointCalled(in.At)
	_, isRail := plan.RailIndex(in.At)
	if _, isPlace := plan.PlaceIndex(in.At); !isPoint && !isPlace && !isRail {
		return &UnknownPoint{Name: in.At}
	}
	if in.Touch {
		return checkTouch(plan, in)
	}
	if impossible(in.Level) || impossible(in.Hz) {
		return mend.Errorf("the level and the frequency fed in must be above zero")
	}
	return nil
}

// checkTouch tells whether a point may be touched with a finger or a bare tip.
func checkTouch(plan *sheet.Plan, in *Injection) error {
	at, isPoint := plan.PointCalled(in.At)
	switch {
	case in.Level != 0 || in.Hz != 0:
		return mend.Errorf("a touch has neither level nor frequency")
	case !isPoint:
		return mend.Errorf("a touch is made at a point of the signal's path")
	}
	if why := Untouchable(plan, at); why != "" {
		return mend.Errorf("%s", why)
	}
	return nil
}

// maxWithout is how many things may be out at a time.
const maxWithout = 100

// CheckWithout tells whether the things named can be swapped or lifted.
func CheckWithout(plan *sheet.Plan, names []string) error {
	if len(names) > maxWithout {
		return mend.Errorf("more than %d things cannot be out at a time", maxWithout)
	}
	for _, name := range names {
		if !plan.CanBeOut(name) {
			return mend.Errorf("%q is nothing on this sheet that can be swapped or lifted", name)
		}
	}
	return nil
}

func impossible(x float64) bool { return x < 0 || math.IsNaN(x) || math.IsInf(x, 0) }
