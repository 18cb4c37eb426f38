package trace

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// A manual may be wrong: two labels exchanged on the drawing, a value printed as
// peak to peak that is rms, a slip of the decimal point. Such an error is offered
// as a finding when the readings make far more sense with it:
//
//	odds = prior(error) · P(readings | sheet mended) / P(readings | sheet as it is)
//
// both probabilities summed over every single fault (belief.go), each with its
// share of misreadings. One reading that does not fit is far more often a
// misreading; it takes another that agrees before an error of the manual is offered.

// ManualError is an error of the sheet that would make sense of the readings.
// Fits says how many times better they fit with it, Odds how much likelier it is
// than no such error.
type ManualError struct {
	Points []string `json:"points"` // the two labels exchanged, or the one whose value is wrong
	Text   string   `json:"text"`
	Fits   float64  `json:"fits"`
	Odds   float64  `json:"odds"`

	left []bool
}

// manual offers the errors of the sheet that would explain the readings, the
// likeliest first.
func (f *finder) manual(readings []reading.Reading) []ManualError {
	out := []ManualError{}
	if len(f.bad()) == 0 || f.fleeting() {
		return out
	}
	now := f.logAnyFault(f.evidence)
	var found []ManualError
	weigh := func(prior, evidence float64, left []bool, e ManualError) {
		e.Fits = math.Exp(min(evidence-now, 50))
		if e.Odds = prior * e.Fits; e.Odds >= manualOdds {
			e.left = left
			found = append(found, e)
		}
	}
	for _, s := range f.exchanges() {
		a, b := f.Plan.Points[s[0]].Name, f.Plan.Points[s[1]].Name
		other := f.exchanged(readings, a, b)
		prior := swappedFar
		if f.near(s[0], s[1]) {
			prior = swappedNear
		}
		weigh(prior, other.logAnyFault(other.evidence), other.narrow(other.evidence), ManualError{Points: []string{a, b},
			Text: fmt.Sprintf("The labels %s and %s may be exchanged", a, b)})
	}
	for i, j := range f.evidence {
		slip, ok := f.slipOf(j)
		if !ok {
			continue
		}
		mended := slices.Clone(f.evidence)
		right := *j
		right.Verdict = reading.Within
		mended[i] = &right
		e := ManualError{
			Points: []string{j.Reading.Point},
			Text:   fmt.Sprintf("The %s printed at %s may be %s", j.Expected, j.Reading.Point, slip),
		}
		weigh(valueWrong*cleanHit, f.logAnyFault(mended), f.narrow(mended), e)
	}
	slices.SortStableFunc(found, func(a, b ManualError) int { return cmp.Compare(b.Odds, a.Odds) })
	for _, e := range found[:min(len(found), 2)] {
		e.Text += fmt.Sprintf(": the readings would fit %s times better", grouped(e.Fits))
		switch names := f.Plan.BlockTitles(e.left); {
		case len(names) > 0:
			e.Text += fmt.Sprintf(", and leave %s", reading.Listed(names))
		default:
			e.Text += ", though not yet one fault"
		}
		e.Text += ". Check it on the board and in the manual, then mend the sheet."
		out = append(out, e)
	}
	return out
}

// logAnyFault is the logarithm of how likely the evidence is with any single
// fault, or one that does not show.
func (f *finder) logAnyFault(evidence []*reading.Judged) float64 {
	shown := f.logEvidence(evidence) + math.Log(1-elsewhereShare)
	none := math.Log(elsewhereShare)
	for _, j := range evidence {
		if j.At > j.From {
			none += j.Times * math.Log(besides(j.Verdict))
		}
	}
	hi := max(shown, none)
	return hi + math.Log(math.Exp(shown-hi)+math.Exp(none-hi))
}

// labelGround: a bad level that would be right at a point next to it may be that of the other one, as the labels of a drawing and of a
// board are exchanged now and then: that is read too, and again where each reads what is due at the other. False where it would be right
// at none of them, or that one is as it should be.
func (f *suspicion) labelGround(at int) (Ground, bool) {
	here := f.Route.Points[at]
	j := f.lastLevel(here, func(x *reading.Judged) bool {
		return f.onRoute(x) && x.Verdict.Bad() && x.Reading.Word == quantity.NoWord
	})
	if j == nil {
		return Ground{}, false
	}
	for _, k := range []int{at + 1, at - 1} {
		if k < 1 || k >= len(f.Route.Points) || !f.toldApart(at, k) { // what is fed in is known by its socket
			continue
		}
		other, name := f.Route.Points[k], f.PointName(k)
		if !f.near(here, other) || !f.rightAt(j, other) {
			continue
		}
		g := Ground{
			Key:   "label",
			Text:  fmt.Sprintf("%s is read too: what %s reads is due there, and the labels may be exchanged", name, j.Reading.Point),
			Proof: Lacking, Point: name, Quantity: sheet.AC,
		}
		o := f.lastLevel(other, func(x *reading.Judged) bool { return x.Reading.Mode == j.Reading.Mode })
		switch {
		case o == nil:
			return g, true
		case !o.Verdict.Bad() || !f.rightAt(o, here):
			continue
		case o.Times < 2:
			g.Key = Again + name
			g.Text = fmt.Sprintf("%s and %s read what is due at each other: once more, and a look at the board", j.Reading.Point, name)
		default:
			g.Proof, g.Because = Against, fmt.Sprintf("%s and %s read what is due at each other", j.Reading.Point, name)
		}
		return g, true
	}
	return Ground{}, false
}

// toldApart tells whether a level tells which of two positions of the route it was read at.
func (f *finder) toldApart(a, b int) bool {
	x, y := f.Route.Levels[a], f.Route.Levels[b]
	return x.Known && y.Known && math.Abs(x.DBV-y.DBV) >= toldApart
}

// lastLevel is the newest level read at a point that is as is asked for; nil where there is none.
func (f *finder) lastLevel(point int, as func(j *reading.Judged) bool) *reading.Judged {
	for _, j := range slices.Backward(f.evidence) {
		if j.Reading.Point == f.Plan.Points[point].Name && j.Reading.Quantity == sheet.AC && as(j) {
			return j
		}
	}
	return nil
}

// exchanges lists pairs of points worth trying: one whose reading is bad where it
// was taken and would be right at the other, the other not contradicting that.
func (f *finder) exchanges() [][2]int {
	var out [][2]int
	for _, j := range f.evidence {
		at, ok := f.Plan.PointIndex(j.Reading.Point)
		if !ok || !j.Verdict.Bad() || j.Reading.Quantity != sheet.AC || len(j.Reading.Without) > 0 {
			continue
		}
		for other := range f.Plan.Points {
			pair := [2]int{min(at, other), max(at, other)}
			if other == at || slices.Contains(out, pair) || len(out) >= mostErrors || !f.rightAt(j, other) {
				continue
			}
			out = append(out, pair)
		}
	}
	return out
}

// rightAt tells whether a bad reading would be right at another point. A word
// would be wherever the other point was read good; only neighbours and twins are
// taken for exchanged then.
func (f *finder) rightAt(j *reading.Judged, other int) bool {
	r := j.Reading
	at, _ := f.Plan.PointIndex(r.Point)
	r.Point = f.Plan.Points[other].Name
	if r.Word == quantity.NoWord {
		// Most points are far off what was read, and need no closer look.
		if k, ok := j.Route.At(other); ok && j.LevelDBV != nil && j.Route.Levels[k].Known &&
			math.Abs(*j.LevelDBV-*j.ExpectedDBV-j.Route.Levels[k].DBV+j.Route.Levels[j.At].DBV) > farOff {
			return false
		}
		moved := f.Judge(r)
		return moved.Verdict == reading.Within
	}
	return f.near(at, other) && slices.ContainsFunc(f.evidence, func(x *reading.Judged) bool {
		return x.Reading.Point == r.Point && x.Reading.Mode == r.Mode && !x.Verdict.Bad()
	})
}

// near tells whether two points are twins, or neighbours on some route.
func (f *finder) near(a, b int) bool {
	return f.Plan.Points[a].Twin == b ||
		slices.ContainsFunc(f.Plan.Stages, func(s sheet.PlanStage) bool { return s.From == a && s.To == b || s.From == b && s.To == a })
}

// exchanged is what is found with two labels exchanged. Readings that speak of
// neither keep their verdict.
func (f *finder) exchanged(readings []reading.Reading, a, b string) *finder {
	swap := func(name string) string {
		switch name {
		case a:
			return b
		case b:
			return a
		}
		return name
	}
	moved := slices.Clone(readings)
	judged := make([]reading.Judged, len(readings))
	for i := range moved {
		r := &moved[i]
		point := swap(r.Point)
		if in := r.Injected; in != nil && swap(in.At) != in.At {
			other := *in
			other.At = swap(in.At)
			r.Injected, r.Point = &other, point
			continue
		}
		if point != r.Point || f.judged[i].Twin != "" {
			r.Point = point
			continue
		}
		judged[i] = f.judged[i]
		judged[i].Superseded, judged[i].Times, judged[i].Before = false, 0, nil
	}
	out := &finder{Case: f.Case, ways: f.ways, speakOf: map[*reading.Judged]*sheet.Paths{}, priorOf: f.priorOf}
	out.judged = f.JudgeAll(moved, judged)
	out.setUp()
	return out
}

// slipOf tells by which clean factor a printed level is off, where it is by one:
// "too high by ×10, a slip of the decimal point".
func (f *finder) slipOf(j *reading.Judged) (text string, ok bool) {
	if j.Reading.Quantity != sheet.AC || !j.Verdict.Bad() || j.OffDB == nil || j.Before != nil || j.At == j.From {
		return "", false
	}
	// All readings of it agree.
	off := func(by float64) bool {
		return !slices.ContainsFunc(f.judged, func(x reading.Judged) bool {
			return x.Reading.Point == j.Reading.Point && !x.Reading.Struck && x.Reading.Mode == j.Reading.Mode &&
				x.Reading.Quantity == sheet.AC &&
				(x.OffDB == nil || math.Abs(*x.OffDB-by) > cleanWithin)
		})
	}
	for _, s := range slips {
		db := quantity.DB(s.factor, 1)
		switch {
		case off(-db):
			return fmt.Sprintf("too high by ×%.3g, %s", s.factor, s.high), true
		case off(db):
			return fmt.Sprintf("too low by ×%.3g, %s", s.factor, s.low), true
		}
	}
	return "", false
}

// grouped writes a factor in a sentence: "40", "3,000", "a million".
func grouped(x float64) string {
	switch {
	case x >= 1e6:
		return "a million or more"
	case x >= 1000:
		return fmt.Sprintf("%d,%03d", int(x)/1000, int(x)%1000/100*100)
	}
	return fmt.Sprintf("%.0f", x)
}
