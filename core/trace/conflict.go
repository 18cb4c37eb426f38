package trace

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/planning"
	"steptrace/core/reading"
)

// without is a piece of evidence with what would be left if it were wrong.
type without struct {
	odd  *reading.Judged
	left []bool
}

// oddOnes lists the pieces of evidence without which one fault explains the rest.
func (f *finder) oddOnes() []without {
	var out []without
	for i, j := range f.evidence {
		if left := f.narrow(slices.Delete(slices.Clone(f.evidence), i, i+1)); slices.Contains(left, true) {
			out = append(out, without{j, left})
		}
	}
	return out
}

// butFor is the evidence without one piece of it.
func (f *finder) butFor(j *reading.Judged) []*reading.Judged {
	return slices.DeleteFunc(slices.Clone(f.evidence), func(x *reading.Judged) bool { return x == j })
}

// conflict finds the reading that stands against the rest and asks for it again; what is suspected
// then is what the rest leaves.
func (f *suspicion) conflict() (Conclusion, *suspicion) {
	k := Conclusion{State: Conflict}
	odd := f.oddOnes()
	if len(odd) == 0 {
		k.Headline = "No single fault explains these readings, even with any one of them left out."
		if j := f.leastRead(); j != nil {
			k.because("More than one reading is off, or there are two faults. Read each once more.")
			k.Next = f.repeat(j, "no one fault fits; it was read once only")
		}
		return f.twoFaults(k)
	}
	// Any of them would resolve it. The one without which the rest is most
	// likely is asked for again; of equals the last, the easiest to repeat. What was read
	// twice is believed.
	last, most := -1, math.Inf(-1)
	for i, o := range odd {
		if o.odd.Times >= 2 {
			continue
		}
		if l := f.logEvidence(f.butFor(o.odd)); l >= most-1e-9 {
			last, most = i, l
		}
	}
	if last < 0 {
		k.Headline = "The readings were taken twice and stay as they are: no single fault does all of this."
		for _, o := range odd {
			k.because("%s, twice. Without it, %s would be left.", o.odd.Told(), reading.Listed(f.Plan.BlockTitles(o.left)))
		}
		return f.twoFaults(k)
	}
	j := odd[last].odd
	k.Headline = fmt.Sprintf("The reading at %s does not fit the rest.", j.Reading.Point)
	for _, o := range odd {
		k.because("%s. Without it, %s would be left.", o.odd.Told(), reading.Listed(f.Plan.BlockTitles(o.left)))
	}
	if a, b, ok := f.pair(); ok {
		k.because("If all of them are right, it takes two faults: %s and %s.", f.Plan.BlockTitle(a), f.Plan.BlockTitle(b))
	}
	s := f.suspecting(odd[last].left, f.belief(f.butFor(j)))
	k.Next = s.repeat(j, "it contradicts the other readings")
	return k, s
}

// leastRead is the piece of evidence that was read once only, the last of them; nil where all
// were read twice.
func (f *finder) leastRead() *reading.Judged {
	for _, j := range slices.Backward(f.evidence) {
		if j.Times < 2 && j.At > j.From {
			return j
		}
	}
	return nil
}

// twoFaults says which two faults would explain all readings, and makes them the suspects:
// the first of them on the way is looked for first.
func (f *suspicion) twoFaults(k Conclusion) (Conclusion, *suspicion) {
	a, b, ok := f.pair()
	if !ok {
		k.because(
			"Nor would two. The fault comes and goes, or a reading was taken under other conditions than it says: provoke it, and look " +
				"at how each was taken.",
		)
		return k, f
	}
	k.because("Two faults would explain all of them: %s and %s. Mend the first, and trace on.", f.Plan.BlockTitle(a), f.Plan.BlockTitle(b))
	left := make([]bool, f.Plan.Blocks())
	left[a], left[b] = true, true
	s := f.suspecting(left, f.believed)
	if k.Next == nil && len(s.suspects) > 1 {
		if p, options := s.situation().Next(); p != nil && f.taken(p) < 2 {
			k.Next, k.Options = p, options
		}
	}
	return k, s
}

// pair finds the two blocks that together would explain every piece of evidence, the
// likeliest pair; ok is false where none does.
func (f *finder) pair() (first, second int, ok bool) {
	prior := f.prior()
	var candidates []int
	for k := range prior {
		if slices.ContainsFunc(f.bad(), func(j *reading.Judged) bool { return f.waysTo(j).Any[k] }) &&
			!slices.ContainsFunc(f.evidence, func(j *reading.Judged) bool { return !j.Verdict.Bad() && !f.allows(j, k) }) {
			candidates = append(candidates, k)
		}
	}
	best := 0.0
	for i, a := range candidates {
		for _, b := range candidates[:i] {
			if prior[a]*prior[b] <= best ||
				slices.ContainsFunc(f.bad(), func(j *reading.Judged) bool { return !f.allows(j, a) && !f.allows(j, b) }) {
				continue
			}
			best, first, second, ok = prior[a]*prior[b], b, a, true
		}
	}
	return first, second, ok
}

// taken counts how often what is proposed was read already.
func (f *finder) taken(p *planning.Probe) float64 {
	at := func(in *reading.Injection) (string, bool) {
		if in == nil {
			return "", false
		}
		return in.At, in.Touch
	}
	point, touch := at(p.Injected)
	for _, j := range f.evidence {
		r := &j.Reading
		if was, touched := at(r.Injected); r.Point == p.Point && r.Quantity == p.Quantity && j.Route.Key == p.Route && was == point &&
			touched == touch &&
			slices.Equal(r.Without, p.Without) {
			return j.Times
		}
	}
	return 0
}
