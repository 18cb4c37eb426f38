package worth

import (
	"fmt"

	"steptrace/core/past"
)

// chances works out those of a repair.
func (v *View) chances(f *Facts, n noted, had float64) {
	v.Chances = []Chance{f.found(), f.had(had), f.lasts()}
	for _, h := range Hindrances() {
		if !n.seen[h.Key] {
			continue
		}
		for i, times := range []float64{h.Found, h.Had, h.Lasts} {
			if times < 1 {
				v.Chances[i].Is *= times
				v.Chances[i].Why += "; " + h.Name
			}
		}
	}
	v.Works = 1
	for _, c := range v.Chances {
		v.Works *= c.Is
	}
}

// found is the chance that the fault is found, with what jobs here were given up.
func (f *Facts) found() Chance {
	c := Chance{Key: "found", Name: "The fault is found", Is: foundSheet, Why: "traced by values that are known"}
	switch {
	case f.Fitted || f.PartKnown:
		c.Is, c.Why = foundPart, "the part is named"
	case f.Named:
		c.Is, c.Why = foundNamed, "the block is named"
	case f.Ground == ByUsual:
		c.Is, c.Why = foundUsual, "traced by what is usual of such sets"
	case f.Ground == ByNothing:
		c.Is, c.Why = foundNothing, "nothing to trace by"
	}
	if f.Fleeting && !f.PartKnown && !f.Fitted {
		c.Is *= fleeting
		c.Why += "; it comes and goes"
	}
	c.seen(f.Past, func(j *past.Job) bool { return j.GaveUp }, "%d of %d jobs here were given up")
	return c
}

// had is the chance that what it needs is to be had.
func (f *Facts) had(drawn float64) Chance {
	c := Chance{Key: "had", Name: "The part is to be had", Is: drawn, Why: "as such parts are to be had"}
	switch {
	case f.Fitted:
		c.Is, c.Why = 1, "it is in"
	case len(f.Parts) > 0:
		c.Why = "what was chosen comes from the drawer, or is ordered"
	}
	return c
}

// lasts is the chance that it holds, with what sets came back here.
func (f *Facts) lasts() Chance {
	c := Chance{Key: "lasts", Name: "It lasts", Is: kept, Why: "most repairs outlive their warranty"}
	if f.Back {
		c.Is *= cameBack
		c.Why = "it was repaired for this before"
	}
	c.seen(f.Past, func(j *past.Job) bool { return j.Back }, "%d of %d sets here came back")
	return c
}

// seen takes into a chance how many of the workshop's jobs went otherwise; it is worth pseudoEnds jobs that went well before.
func (c *Chance) seen(jobs []past.Job, otherwise func(j *past.Job) bool, why string) {
	n := 0
	for i := range jobs {
		if otherwise(&jobs[i]) {
			n++
		}
	}
	if n > 0 {
		of := float64(len(jobs))
		c.Is *= (pseudoEnds + of - float64(n)) / (pseudoEnds + of)
		c.Why += "; " + fmt.Sprintf(why, n, len(jobs))
	}
}
