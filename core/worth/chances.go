package worth

import "fmt"

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
	gave := 0
	for i := range f.Past {
		if f.Past[i].GaveUp {
			gave++
		}
	}
	if of := len(f.Past); of > 0 {
		c.Is *= weigh(1-float64(gave)/float64(of), of)
		if gave > 0 {
			c.Why += fmt.Sprintf("; %d of %d jobs here were given up", gave, of)
		}
	}
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
	back := 0
	for i := range f.Past {
		if f.Past[i].Back {
			back++
		}
	}
	if of := len(f.Past); of > 0 {
		c.Is *= weigh(1-float64(back)/float64(of), of)
		if back > 0 {
			c.Why += fmt.Sprintf("; %d of %d sets here came back", back, of)
		}
	}
	return c
}

// weigh takes what a workshop has seen into a chance that is 1 before.
func weigh(share float64, of int) float64 {
	return (pseudoEnds + share*float64(of)) / (pseudoEnds + float64(of))
}

// few is from when on something that can go wrong is told.
const few = 0.1
