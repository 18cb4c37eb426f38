package training

import (
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/substitute"
)

// Fuse is one of a set that is practised on, with what is printed beside its holder.
type Fuse struct {
	Name string `json:"name"`
	Says string `json:"says"` // "1.6 A slow"
}

// Fuses lists those of a set.
func Fuses(plan *sheet.Plan) []Fuse {
	out := []Fuse{}
	for i := range plan.Rails {
		name := plan.Rails[i].Fuse
		if name != "" && !slices.ContainsFunc(out, func(f Fuse) bool { return f.Name == name }) {
			f := due(plan, name)
			out = append(out, Fuse{name, f.Says()})
		}
	}
	return out
}

// gone tells whether a fuse is open after some repairs: what was wrong at first has opened it, or opened each that was put in since.
func (c *Case) gone(plan *sheet.Plan, fuse string, repairs []repair.Entry) (bool, error) {
	opens := func(wrong []Fault) (bool, error) {
		set, err := standin.New(plan, wrong...)
		return err == nil && set.Blown(fuse), err
	}
	is, err := opens(c.Faults)
	if err != nil || !is {
		return false, err
	}
	for i, e := range repairs {
		if r := e.Repair; r == nil || e.Struck || r.Did != repair.Replaced || !renews(r, fuse) {
			continue
		}
		if is, err = opens(c.Left(repairs[:i+1])); err != nil {
			return false, err
		}
	}
	for _, x := range repair.In(repairs) {
		t := x.Temporary
		is = is && (t.Subject != fuse || t.What != repair.FuseBridged && t.What != repair.Jumper)
	}
	return is, nil
}

// renews tells whether a repair is of a fuse: said of the place, or of the part.
func renews(r *repair.Repair, fuse string) bool {
	return r.Stage == fuse || slices.ContainsFunc(r.Parts, func(p repair.Part) bool { return p.Name == fuse })
}

// What a sheet does not say of a fuse: it bears what its rails give with a margin, in the next of the preferred values of IEC 60127 (R 10,
// written as they are sold), and is slow, as before transformers and reservoirs.
var preferred = []float64{1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8}

const fuseMargin, unknownLoad = 1.6, 0.5

// due is the fuse that is due at a holder.
func due(plan *sheet.Plan, name string) substitute.Fuse {
	amps := 0.0
	for i := range plan.Rails {
		if r := &plan.Rails[i]; r.Fuse != name {
			continue
		} else if r.LoadA > 0 {
			amps += r.LoadA
		} else {
			amps += unknownLoad
		}
	}
	return substitute.Fuse{Amps: quantity.StepUp(fuseMargin*amps, preferred...), Speed: "slow"}
}

// UnsafeRepair says what would have happened had a repair been made as the set stands: a fuse bridged, or a larger one fitted; empty
// where nothing would. A bridge for a test with something that limits the current is a way of working, and is told by its note.
func (b *Bench) UnsafeRepair(e *repair.Entry) (what, would string) {
	const burns = "All that the mains can give would have gone through what draws too much, and through the copper on the way: " +
		"smoke from the transformer or the board, at worst a fire. What opened the fuse is found first."
	if t := e.Temporary; t != nil && (t.What == repair.FuseBridged || t.What == repair.Jumper) {
		limited := slices.ContainsFunc([]string{"lamp", "bulb", "limit"}, func(w string) bool {
			return strings.Contains(strings.ToLower(t.Note), w)
		})
		if len(b.Plan.FuseRails(t.Subject)) > 0 && !limited {
			return "fuse " + t.Subject + " bridged, with nothing that limits the current", burns +
				" Say in the note which lamp or limited supply is in series, where that is how you work."
		}
	}
	if e.Repair == nil {
		return "", ""
	}
	for _, f := range Fuses(b.Plan) {
		was := due(b.Plan, f.Name)
		for _, p := range e.Repair.Parts {
			now, err := substitute.FuseOf(p.Fitted)
			if err == nil && renews(e.Repair, f.Name) && now.Amps > was.Amps*(1+1e-9) {
				return "a fuse of " + now.Says() + " for one of " + was.Says(), "It would not have opened in time. " + burns
			}
		}
	}
	return "", ""
}
