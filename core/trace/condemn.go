package trace

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// A stage is not condemned on a missing output alone. Its input has to be shown
// good, its output bad, every rail it needs good, and the load behind it ruled
// out. What is not shown can be waived with a reason, which stays in the record.

// Proof is how a ground for condemning a stage stands.
type Proof string

// Words implements exchange.Enumerated.
func (Proof) Words() []string { return exchange.WordsOf([]Proof{Shown, Lacking, Against, Waived}) }

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
	Without  []string       `json:"without"` // what to lift for that reading
	Worked   bool           `json:"worked"`  // the control is worked for that reading
	Safety   bool           `json:"safety"`  // it comes before power is applied
	// How the bench has to stand for it, where that differs from how it stands.
	Route    string             `json:"route"` // key; empty: the one being traced
	Injected *reading.Injection `json:"injected" jsonschema:"nullable"`
}

// Again begins the key of a ground that is one more reading of what was read already.
const Again = "again "

// Waiver says that a ground for condemning a stage is done without, and why.
type Waiver struct {
	Stage  string `json:"stage"`
	Key    string `json:"key"`
	Reason string `json:"reason"`
}

// grounds lists what has to be shown of the stage at a position of the route.
func (f *suspicion) grounds(at int) []Ground {
	stage := f.stageAt(at)
	var out []Ground
	if !f.Plan.Points[f.Route.Points[at]].Source {
		out = append(out, f.signalGround("input", at, false))
	}
	out = append(out, f.signalGround("output", at+1, true))
	for _, line := range stage.Lines {
		out = append(out, f.lineGround(line))
	}
	for _, point := range stage.Signals {
		out = append(out, f.neededGround(point))
	}
	out = append(out, f.loadGround(at))
	if g, ok := f.labelGround(at + 1); ok {
		out = append(out, g)
	}
	if g, ok := f.loopGround(at); ok {
		out = append(out, g)
	}
	for _, side := range []int{at, at + 1} {
		if g, ok := f.dcGround(f.Route.Points[side]); ok {
			out = append(out, g)
		}
	}
	if g, ok := f.twinGround(at + 1); ok {
		out = append(out, g)
	}
	if g, ok := f.liftedGround(at); ok {
		out = append(out, g)
	}
	open := false
	for i := range out {
		g := &out[i]
		f.waive(stage.Name, g)
		open = open || g.Proof == Lacking || g.Proof == Against
	}
	// How sure it is is asked last: what is still missing may settle it.
	if !open {
		g := f.sureGround(at)
		f.waive(stage.Name, &g)
		out = append(out, g)
	}
	return out
}

// waive does without a ground where the person said so.
func (f *finder) waive(stage string, g *Ground) {
	for _, w := range f.Waivers {
		if w.Stage == stage && w.Key == g.Key && g.Proof == Lacking {
			g.Proof, g.Because = Waived, w.Reason
		}
	}
}

// signalGround: the signal before the stage is good, behind it bad.
//
// Long: what a signal can show, the strongest first.
func (f *suspicion) signalGround(key string, at int, bad bool) Ground {
	name := f.PointName(at)
	want := "good"
	if bad {
		want = "bad"
	}
	q, _ := f.ReadAt(f.Route, at, f.asked, f.judged)
	g := Ground{Key: key, Text: fmt.Sprintf("The signal at %s is %s", name, want), Proof: Lacking, Point: name, Quantity: q}
	if q != sheet.AC {
		g.Text = fmt.Sprintf("%s at %s is %s", quantityWords[q], name, want)
	}
	j := f.telling(at)
	of := at // the stage that it is the signal of
	if bad {
		of--
	}
	if opened := f.latestOpened(at, f.Route.Stages[of]); opened != nil {
		j = opened // closed, a fault anywhere in the loop shows here
	}
	switch {
	case j != nil && j.Verdict.Bad() == bad:
		g.Proof, g.Because = Shown, j.Told()
	case j != nil && !bad && f.goodWithout(at) != nil:
		// It may be the stage itself that pulls its input down.
		e, stage := f.goodWithout(at), f.stageAt(at).Name
		g.Text, g.Without = fmt.Sprintf("The signal at %s is good with %s lifted", name, stage), []string{stage}
		if g.Proof, g.Because = Shown, e.Told(); e.Times < 2 {
			g.Proof, g.Because = Lacking, ""
			g.Text += ", a second time"
		}
	case j != nil:
		g.Proof, g.Because = Against, j.Told()
	case !bad && f.fedIn(at) != nil:
		g.Proof, g.Because = Shown, fmt.Sprintf("it was fed in there: %s", f.fedIn(at).Told())
	case !bad:
		// A good reading further on shows what is before it good as well.
		if c := f.clearedAt(at - 1); c != nil && !slices.Contains(f.suspects, at-1) {
			g.Proof, g.Because = Shown, c.Told()
		}
	case f.movedBy(f.Route.Stages[at-1]) != nil:
		g.Proof, g.Because = Shown, f.movedBy(f.Route.Stages[at-1]).Note
	default:
		for _, b := range f.bad() {
			if f.waysTo(b).Every[f.Route.Stages[at-1]] && f.onlyIn(b, at-1) {
				g.Proof, g.Because = Shown, b.Told()
			}
		}
	}
	return g
}

// goodWithout finds a good reading at a position of the route with the stage that begins there
// lifted.
func (f *finder) goodWithout(at int) *reading.Judged {
	for _, e := range f.evidence {
		if !e.Verdict.Bad() && e.Reading.Point == f.PointName(at) && slices.Equal(e.Reading.Without, []string{f.stageAt(at).Name}) {
			return e
		}
	}
	return nil
}

// fedIn finds a bad reading for which the signal was fed in at a position of the route, by a
// generator or a finger: that it arrives there needs no other proof.
func (f *finder) fedIn(at int) *reading.Judged {
	for _, b := range f.bad() {
		if b.Reading.Injected != nil && b.Route.Points[b.From] == f.Route.Points[at] {
			return b
		}
	}
	return nil
}

// onlyIn tells whether all else on the way to a bad reading is cleared, so that
// it shows the output of the stage at a position bad.
func (f *finder) onlyIn(b *reading.Judged, at int) bool {
	w := f.waysTo(b)
	for k, yes := range w.Any {
		if yes && k < len(f.Plan.Stages) && k != f.Route.Stages[at] && f.clearing(k) == nil {
			return false
		}
	}
	return true
}

// lineGround: a rail, control or ground that the stage needs is good; where it
// should move when it is worked, that too.
func (f *finder) lineGround(line int) Ground {
	l := f.line(line)
	name := f.Plan.LineTitle(line)
	kind, _, _ := strings.Cut(name, " ")
	g := Ground{Key: name, Text: fmt.Sprintf("Its %s is good", name), Proof: Lacking, Point: l.Name, Quantity: f.Plan.LineReads(line)}
	if l.byRipple() || l.rippleWanted() {
		g.Quantity = sheet.AC
	}
	switch {
	case l.good():
		g.Proof, g.Because = Shown, "it reads "+l.says()
	case l.bad():
		g.Proof, g.Because = Against, fmt.Sprintf(
			"it reads %s where %s is due: the stage may be good and the %s at fault",
			l.says(),
			l.due(),
			kind,
		)
	case l.rippleWanted():
		g.Text = fmt.Sprintf("The ripple of its %s is small: %s", name, l.mostRipple)
	case l.Verdict == reading.Within && l.Moves != "":
		g.Text, g.Worked = fmt.Sprintf("Its %s moves to %s with %s", name, l.Moves, l.By), true
	}
	return g
}

// neededGround: a signal that the stage needs besides its own, an oscillator's,
// is good.
func (f *finder) neededGround(point int) Ground {
	name := f.Plan.Points[point].Name
	g := Ground{
		Key:      "signal " + name,
		Text:     fmt.Sprintf("The signal it needs at %s is good", name),
		Proof:    Lacking,
		Point:    name,
		Quantity: sheet.AC,
	}
	for _, j := range f.evidence {
		if j.Reading.Point != name {
			continue
		}
		if g.Proof, g.Because = Shown, j.Told(); j.Verdict.Bad() {
			g.Proof, g.Because = Against, j.Told()+": the stage may be good and what makes this signal at fault"
		}
	}
	return g
}

// loadGround: what comes behind does not pull the output down.
func (f *finder) loadGround(at int) Ground {
	point := f.PointName(at + 1)
	if at+1 >= len(f.Route.Stages) {
		return Ground{Key: "load", Text: "Nothing behind it loads it down", Because: "it is the last of this route", Proof: Shown}
	}
	next := f.stageAt(at + 1)
	g := Ground{
		Key:      "load",
		Text:     fmt.Sprintf("%s behind it does not load it down: with it lifted, the same", next.Name),
		Proof:    Lacking,
		Point:    point,
		Quantity: sheet.AC,
		Without:  []string{next.Name},
	}
	if j := f.clearedAt(at + 1); j != nil {
		g.Proof, g.Because = Shown, j.Told()
		return g
	}
	for i := range f.judged {
		j := &f.judged[i]
		if j.Reading.Struck || j.Reading.Point != point || !slices.Contains(j.Reading.Without, next.Name) || j.Verdict == reading.Unjudged {
			continue
		}
		g.Proof, g.Because = Shown, j.Told()
		switch {
		case j.Verdict.Bad():
		case f.timesOf(j) < 2:
			g.Proof, g.Because = Lacking, ""
			g.Text = fmt.Sprintf("%s behind it seems to load it down: with it lifted once more, the same", next.Name)
		default:
			g.Proof = Against
		}
	}
	return g
}

// times counts how often a reading was taken.
func (f *finder) timesOf(j *reading.Judged) float64 {
	for _, e := range f.evidence {
		if reading.KeyOf(&e.Reading) == reading.KeyOf(&j.Reading) {
			return e.Times
		}
	}
	return 1
}

// dcGround: a DC voltage that the sheet gives beside the stage has been read;
// what it reads is for the search inside the stage.
func (f *finder) dcGround(point int) (Ground, bool) {
	e, ok := f.Plan.Expect(point, sheet.DC, f.Route.Mode)
	if !ok {
		return Ground{}, false
	}
	name := f.Plan.Points[point].Name
	g := Ground{
		Key:      "dc " + name,
		Text:     fmt.Sprintf("The DC voltage at %s is read: %s is due", name, quantity.Rounded(e.Value.SI, quantity.Volt)),
		Proof:    Lacking,
		Point:    name,
		Quantity: sheet.DC,
	}
	for i := range f.judged {
		if j := &f.judged[i]; !j.Reading.Struck && !j.Superseded && j.Reading.Point == name && j.Reading.Quantity == sheet.DC {
			g.Proof, g.Because = Shown, j.Told()+" DC"
		}
	}
	return g, true
}

// liftedGround: where only a reading with the stage lifted speaks for it, that
// reading is taken twice.
func (f *finder) liftedGround(at int) (Ground, bool) {
	k := f.Route.Stages[at]
	name := f.Plan.Stages[k].Name
	for _, b := range f.bad() {
		if f.waysTo(b).Any[k] {
			return Ground{}, false
		}
	}
	for _, j := range f.evidence {
		if j.Verdict.Bad() || !f.loads(k, j) || !slices.Contains(j.Reading.Without, name) {
			continue
		}
		g := Ground{
			Key:      "lifted",
			Text:     fmt.Sprintf("With %s lifted, %s is good", name, j.Reading.Point),
			Proof:    Shown,
			Because:  j.Told(),
			Point:    j.Reading.Point,
			Quantity: sheet.AC,
			Without:  []string{name},
		}
		if j.Times < 2 {
			g.Proof, g.Because = Lacking, ""
			g.Text = fmt.Sprintf("With %s lifted, %s is good a second time", name, j.Reading.Point)
		}
		return g, true
	}
	return Ground{}, false
}

// settle condemns the stage that is named once every ground is shown or waived.
func (k *Conclusion) settle() {
	k.Condemned = !slices.ContainsFunc(k.Grounds, func(g Ground) bool { return g.Proof == Lacking || g.Proof == Against })
	if k.Condemned {
		k.Headline = fmt.Sprintf("%s is condemned.", k.Stage)
	}
}

// twinGround: the same place in the other channel is good, so that what is read
// here is not how the set is built.
func (f *finder) twinGround(at int) (Ground, bool) {
	twin := f.Plan.Points[f.Route.Points[at]].Twin
	if twin < 0 {
		return Ground{}, false
	}
	i := slices.IndexFunc(f.Plan.Routes, func(r sheet.Route) bool {
		_, on := r.At(twin)
		return on && r.Mode == f.Route.Mode
	})
	if i < 0 {
		return Ground{}, false
	}
	name := f.Plan.Points[twin].Name
	g := Ground{
		Key:      "twin",
		Text:     fmt.Sprintf("Its twin %s in the other channel is good", name),
		Proof:    Lacking,
		Point:    name,
		Quantity: f.BestRead(twin),
		Route:    f.Plan.Routes[i].Key,
	}
	for _, j := range f.evidence {
		if j.Reading.Point != name || j.Reading.Mode != f.Route.Mode || len(j.Reading.Without) > 0 {
			continue
		}
		if g.Proof, g.Because = Shown, j.Told(); j.Verdict.Bad() {
			g.Proof, g.Because = Against, j.Told()+": look for what both channels share"
		}
	}
	if g.Proof == Lacking && f.ShownGood(twin, f.Route.Mode, f.judged) {
		g.Proof, g.Because = Shown, "that channel was read good further on"
	}
	return g, true
}
