package trace

import (
	"fmt"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// A stage is not condemned on a missing output alone. Its input has to be shown
// good, its output bad, every rail it needs good, and the load behind it ruled
// out. What is not shown can be waived with a reason, which stays in the record.

// Proof is how a ground for condemning a stage stands.
type Proof string

// The standings of a ground.
const (
	Shown   Proof = "shown"
	Lacking Proof = "missing"
	Against Proof = "against" // it speaks for something else
	Waived  Proof = "waived"
)

// Ground is one thing that has to be shown before a stage is condemned. Text
// says what, Because by what; Point and Quantity where to read what is missing.
type Ground struct {
	Key      string         `json:"key"`
	Text     string         `json:"text"`
	Because  string         `json:"because"`
	Proof    Proof          `json:"proof"`
	Point    string         `json:"point"`
	Quantity sheet.Quantity `json:"quantity"`
}

// Waiver says that a ground for condemning a stage is done without, and why.
type Waiver struct {
	Stage  string `json:"stage"`
	Key    string `json:"key"`
	Reason string `json:"reason"`
}

// grounds lists what has to be shown of the stage at a position of the route.
func (f *finder) grounds(at int) []Ground {
	stage := f.stageAt(at)
	out := []Ground{f.signalGround("input", at, false), f.signalGround("output", at+1, true)}
	for _, r := range stage.Rails {
		out = append(out, f.railGround(r))
	}
	out = append(out, f.loadGround(at))
	for _, side := range []int{at, at + 1} {
		if g, ok := f.dcGround(f.Route.Points[side]); ok {
			out = append(out, g)
		}
	}
	for i := range out {
		g := &out[i]
		for _, w := range f.Waivers {
			if w.Stage == stage.Name && w.Key == g.Key && g.Proof == Lacking {
				g.Proof, g.Because = Waived, w.Reason
			}
		}
	}
	return out
}

// signalGround: the signal before the stage is good, behind it bad.
func (f *finder) signalGround(key string, at int, bad bool) Ground {
	name := f.pointName(at)
	want := "good"
	if bad {
		want = "bad"
	}
	g := Ground{Key: key, Text: fmt.Sprintf("The signal at %s is %s", name, want), Proof: Lacking, Point: name, Quantity: sheet.AC}
	j := f.latest(at)
	switch {
	case j != nil && j.Verdict.Bad() == bad:
		g.Proof, g.Because = Shown, reads(j)
	case j != nil:
		g.Proof, g.Because = Against, reads(j)
	case !bad:
		// A good reading further on shows what is before it good as well.
		if c := f.clearedAt(at - 1); c != nil && !slices.Contains(f.suspects, at-1) {
			g.Proof, g.Because = Shown, reads(c)
		}
	default:
		for _, b := range f.bad() {
			if f.waysTo(b).every[f.Route.Stages[at-1]] && f.onlyIn(b, at-1) {
				g.Proof, g.Because = Shown, reads(b)
			}
		}
	}
	return g
}

// onlyIn tells whether all else on the way to a bad reading is cleared, so that
// it shows the output of the stage at a position bad.
func (f *finder) onlyIn(b *Judged, at int) bool {
	w := f.waysTo(b)
	for k, yes := range w.any {
		if yes && k < len(f.Plan.Stages) && k != f.Route.Stages[at] && f.clearing(k) == nil {
			return false
		}
	}
	return true
}

func (f *finder) railGround(rail int) Ground {
	r := &f.out.Rails[rail]
	g := Ground{Key: "rail " + r.Name, Text: fmt.Sprintf("Its rail %s is good", r.Name), Proof: Lacking, Point: r.Name, Quantity: sheet.DC}
	switch {
	case r.Verdict == Within && r.Note == "":
		g.Proof, g.Because = Shown, fmt.Sprintf("it reads %s", r.Read)
	case r.Verdict != "" && r.Verdict.Bad():
		g.Proof, g.Because = Against, fmt.Sprintf("it reads %s where %s is due: the stage may be good and the supply at fault", r.Read, r.Expected)
	}
	return g
}

// loadGround: what comes behind does not pull the output down.
func (f *finder) loadGround(at int) Ground {
	point := f.pointName(at + 1)
	if at+1 >= len(f.Route.Stages) {
		return Ground{Key: "load", Text: "Nothing behind it loads it down", Because: "it is the last of this route", Proof: Shown}
	}
	next := f.stageAt(at + 1)
	g := Ground{Key: "load", Text: fmt.Sprintf("%s behind it does not load it down", next.Name), Proof: Lacking, Point: point, Quantity: sheet.AC}
	if j := f.clearedAt(at + 1); j != nil {
		g.Proof, g.Because = Shown, reads(j)
		return g
	}
	for i := range f.judged {
		j := &f.judged[i]
		if j.Reading.Struck || j.Reading.Point != point || !slices.Contains(j.Reading.Without, next.Name) || j.Verdict == Unjudged {
			continue
		}
		g.Proof, g.Because = Shown, fmt.Sprintf("with it lifted, %s", reads(j))
		if !j.Verdict.Bad() {
			g.Proof = Against
		}
	}
	return g
}

// dcGround: a DC voltage that the sheet gives beside the stage has been read;
// what it reads is for the search inside the stage.
func (f *finder) dcGround(point int) (Ground, bool) {
	e, ok := f.Plan.Expect(point, sheet.DC, f.Route.Mode)
	if !ok {
		return Ground{}, false
	}
	name := f.Plan.Points[point].Name
	g := Ground{Key: "dc " + name, Text: fmt.Sprintf("The DC voltage at %s is read: %s is due", name, quantity.Value{SI: e.Value.SI, Unit: quantity.Volt}.Short(3)), Proof: Lacking, Point: name, Quantity: sheet.DC}
	for i := range f.judged {
		if j := &f.judged[i]; !j.Reading.Struck && !j.Superseded && j.Reading.Point == name && j.Reading.Quantity == sheet.DC {
			g.Proof, g.Because = Shown, reads(j)+" DC"
		}
	}
	return g, true
}

// condemn settles whether the named stage is condemned, and what is missing.
func (f *finder) condemn(at int) {
	f.out.Grounds = f.grounds(at)
	f.out.Condemned = true
	for _, g := range f.out.Grounds {
		if g.Proof == Lacking || g.Proof == Against {
			f.out.Condemned = false
		}
	}
	if f.out.Condemned {
		f.out.Headline = fmt.Sprintf("%s is condemned.", f.stageAt(at).Name)
	}
}
