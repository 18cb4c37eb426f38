package trace

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// conclude names the state of the trace and what to do next, and gives what is suspected then: a
// reading that stands against the rest leaves other blocks than all of them do. Dues are what has to
// be shown after a repair.
func (f *suspicion) conclude(dues []due) (Conclusion, *suspicion) {
	k, s := f.stateOf(dues)
	if k.Reasons == nil {
		k.Reasons = []string{}
	}
	if k.Grounds == nil {
		k.Grounds = []Ground{}
	}
	if k.Options == nil {
		k.Options = []planning.Option{}
	}
	return k, s
}

// stateOf tells the first state that holds.
func (f *suspicion) stateOf(dues []due) (Conclusion, *suspicion) {
	if j := f.badEntry(); j != nil {
		return f.source(j), f.none()
	}
	if k, ok := f.verified(dues); ok {
		return k, f.none()
	}
	bad := f.bad()
	switch n := len(f.suspects); {
	case len(f.Route.Stages) == 0:
		return f.linesAlone(), f
	case n == 0 && len(bad) > 0:
		return f.offTheRoute()
	case n == 0:
		return f.clean(), f
	case n == 1 && !f.amongOthers():
		return f.single(bad), f
	}
	return f.tracing(bad), f
}

// source: the signal is wrong where it is fed in.
func (f *suspicion) source(j *reading.Judged) Conclusion {
	return Conclusion{
		State:    Source,
		Headline: fmt.Sprintf("The signal is already wrong where it enters, at %s.", j.Reading.Point),
		Reasons:  []string{j.Told() + ".", "Put the source or the generator's setting right, then read this point again."},
		Next:     f.repeat(j, "everything behind depends on it"),
	}
}

// offTheRoute: something is bad, and no stage of the route explains it.
func (f *suspicion) offTheRoute() (Conclusion, *suspicion) {
	fb, alone := f.feedbackAlone()
	switch {
	case alone:
		return f.feedback(fb), f
	case slices.Contains(f.left[:len(f.Plan.Stages)], true):
		return f.elsewhere(), f
	case slices.Contains(f.left, true):
		return f.supply(), f
	}
	return f.conflict()
}

// clean: nothing reads bad on the way of the signal.
func (f *suspicion) clean() Conclusion {
	if line := f.firstBadLine(); line != sheet.None {
		return f.odd(line)
	}
	k := Conclusion{
		State:    Clean,
		Headline: "This route reads good from end to end.",
		Reasons: []string{"Every stage on it is cleared by a good reading behind it.",
			"The complaint then lies on another route or in another mode, or it comes and goes."},
	}
	// What is left, as long as something is at fault at all, lies elsewhere.
	for i := range f.Plan.Routes {
		if r := &f.Plan.Routes[i]; slices.ContainsFunc(r.Stages, func(s int) bool { return f.left[s] }) {
			k.GoTo = r.Key
			k.because("Not shown good yet: %s. Go on with the route %s.", reading.Listed(f.Plan.BlockTitles(f.left)), r.Name)
			break
		}
	}
	if j := f.clearedAt(len(f.Route.Stages) - 1); j != nil && j.Times < 2 && f.onRoute(j) {
		k.Next = f.repeat(j, "the complaint says otherwise: once more, before it is taken for good")
	}
	return k
}

// badEntry finds a reading that shows the signal bad where it is fed in.
func (f *finder) badEntry() *reading.Judged {
	for _, j := range f.evidence {
		if f.onRoute(j) && j.At == j.From && j.Verdict.Bad() {
			return j
		}
	}
	return nil
}

// between states in a sentence which readings enclose the suspects.
func (f *suspicion) between(bad []*reading.Judged) []string {
	var out []string
	lo, hi := f.suspects[0], f.suspects[len(f.suspects)-1]
	if j := f.clearedAt(lo - 1); j != nil {
		out = append(out, fmt.Sprintf("%s: up to there the signal is good.", j.Told()))
	} else if lo == 0 {
		out = append(out, fmt.Sprintf("The signal is fed in at %s.", f.PointName(0)))
	}
	for _, j := range bad {
		if f.onRoute(j) && j.At == hi+1 {
			return append(out, fmt.Sprintf("%s: the fault is before it.", j.Told()))
		}
	}
	for _, j := range bad {
		if !f.onRoute(j) && f.waysTo(j).Any[f.Route.Stages[hi]] {
			return append(out, fmt.Sprintf("%s on %s too: the fault is in what both ways share.", j.Told(), j.Route.Name))
		}
	}
	if j := f.clearedAt(hi + 1); j != nil {
		return append(out, fmt.Sprintf("%s: from %s on it is good.", j.Told(), f.Plan.Points[j.Route.Points[j.From]].Name))
	}
	return append(out, fmt.Sprintf("The complaint says that it is wrong at %s.", f.PointName(len(f.Route.Points)-1)))
}

// clearedAt finds what shows the stage at a position of the route good.
func (f *finder) clearedAt(at int) *reading.Judged {
	if at < 0 || at >= len(f.Route.Stages) {
		return nil
	}
	return f.clearing(f.Route.Stages[at])
}

// elsewhere: what is left lies on other routes.
func (f *suspicion) elsewhere() Conclusion {
	k := Conclusion{State: Elsewhere, Headline: "The fault is not on this route."}
	k.because("What is left: %s.", strings.Join(f.Plan.BlockTitles(f.left), ", "))
	// First the way on which the next reading lies, then the one that was found bad, then others that pass what is left.
	routes := []*sheet.Route{}
	if r, _ := f.situation().NextOn(); r != nil {
		routes = append(routes, r)
	}
	for _, j := range f.bad() {
		routes = append(routes, j.Route)
	}
	for i := range f.Plan.Routes {
		routes = append(routes, &f.Plan.Routes[i])
	}
	for _, r := range routes {
		if slices.ContainsFunc(r.Stages, func(s int) bool { return f.left[s] }) {
			k.GoTo = r.Key
			k.because("Go on with the route %s.", r.Name)
			break
		}
	}
	return k
}

func (f *finder) stageAt(at int) *sheet.PlanStage { return &f.Plan.Stages[f.Route.Stages[at]] }

// repeat proposes to take a reading once more, as it was taken.
func (f *suspicion) repeat(j *reading.Judged, why string) *planning.Probe {
	p := f.situation().Propose(&planning.Access{Route: j.Route, From: j.From, At: j.At, Lifted: sheet.None}, "again", why)
	p.Injected, p.Without = j.Reading.Injected, append([]string{}, j.Reading.Without...)
	if len(p.Without) > 0 {
		p.Facts = append([]planning.Fact{{Label: "Without", Text: strings.Join(p.Without, ", ")}}, p.Facts...)
	}
	return p
}

// span names the suspects from the first to the last on the way.
func (f *suspicion) span() string {
	return fmt.Sprintf("%s to %s", f.stageAt(f.suspects[0]).Name, f.stageAt(f.suspects[len(f.suspects)-1]).Name)
}

// amongOthers tells whether the one suspect of the route is less likely than all that is left besides it and what it
// needs itself, and something can be read that parts them.
func (f *suspicion) amongOthers() bool {
	at := f.suspects[0]
	own := f.pathsFrom(f.Route.Mode, f.Route.Points[at], f.Route.Points[at+1], nil).Any
	others := 0.0
	for k, left := range f.meant() {
		if left && !own[k] {
			others += f.believed[k]
		}
	}
	if others <= f.believed[f.Route.Stages[at]] {
		return false
	}
	_, parts := f.situation().NextOn()
	return parts
}

// single: one suspect is left. It is named when a bad reading has shown it.
func (f *suspicion) single(bad []*reading.Judged) Conclusion {
	at := f.suspects[0]
	stage := f.stageAt(at)
	k := Conclusion{State: Tracing, Reasons: f.between(bad)}
	shown := f.movedBy(f.Route.Stages[at]) != nil || slices.ContainsFunc(bad, func(j *reading.Judged) bool {
		return f.waysTo(j).Any[f.Route.Stages[at]] || f.pullsDown(f.evidence, j, f.Route.Stages[at])
	})
	if !shown {
		k.Headline = fmt.Sprintf("Only %s is left. Show that it is bad.", stage.Name)
		why := fmt.Sprintf("so far only the complaint speaks against %s", stage.Name)
		k.Next = f.situation().Propose(f.situation().OwnAccess(at+1), "confirm", why)
		return k
	}
	k.State, k.Stage = Named, stage.Name
	k.Headline = fmt.Sprintf("The fault is in %s%s.", stage.Name, f.orItsLines(at))
	f.gainTold(&k, at)
	k.Grounds = f.grounds(at)
	k.settle()
	for _, line := range stage.Lines {
		if f.line(line).bad() {
			return f.blameLine(k, line, stage.Name)
		}
	}
	if line := f.badLine(); line != sheet.None { // of another stage in the same loop, or of what makes a signal it needs
		return f.blameAlone(k, line)
	}
	return k
}

// gainTold says what the gain of a stage reads, where both its sides were read.
func (f *suspicion) gainTold(k *Conclusion, at int) {
	m, g := f.measuredGain(at), f.Route.Gains[at]
	if m == nil {
		return
	}
	k.because("Its gain reads %s where the sheet has %s: %s.", quantity.SignedDB(*m), quantity.SignedDB(g), quantity.SignedDB(*m-g))
	if tol := f.Route.Levels[at+1].Tolerance; *m-g >= -tol.Low && *m-g <= tol.High {
		k.because("That gain is within tolerance: the shortfall is spread over several stages, or a level was misread.")
	}
}

// orItsLines names the supplies and controls of a stage that nobody has read, and that are
// about as likely: ", or its rail +12 V".
func (f *suspicion) orItsLines(at int) string {
	var names []string
	for _, line := range f.stageAt(at).Lines {
		k := len(f.Plan.Stages) + line
		if l := f.line(line); f.left[k] && !l.good() && !l.bad() && f.believed[k] >= nearly*f.believed[f.Route.Stages[at]] {
			names = append(names, f.Plan.LineTitle(line))
		}
	}
	if len(names) == 0 {
		return ""
	}
	return ", or its " + reading.Listed(names)
}

// tracing: several stages of the route are suspect.
func (f *suspicion) tracing(bad []*reading.Judged) Conclusion {
	if line := f.badLine(); line != sheet.None {
		return f.blameAlone(Conclusion{Reasons: f.between(bad)}, line)
	}
	n := len(f.suspects)
	k := Conclusion{
		State:    Tracing,
		Headline: fmt.Sprintf("%d stages are suspect, from %s to %s.", n, f.stageAt(f.suspects[0]).Name, f.stageAt(f.suspects[n-1]).Name),
		Reasons:  f.between(bad),
	}
	if n == 1 {
		k.Headline = fmt.Sprintf("%s is suspect, and more so what is left beside this route.", f.stageAt(f.suspects[0]).Name)
	}
	if k.Next, k.Options = f.situation().Next(); k.Next != nil {
		return k
	}
	k.State = Stuck
	if refused := f.situation().RefusedCuts(); len(refused) > 0 {
		k.Reasons = append(k.Reasons, refused...)
		k.Headline = fmt.Sprintf("The points that would part %s are above what this instrument stands.", f.span())
		return k
	}
	if rail := f.ring(); rail != nil {
		k.keepGoing(rail)
		return k
	}
	k.Headline = fmt.Sprintf("Within %s the sheet has no point with an expected level.", f.span())
	k.because("Add a level or a gain between these stages to the sheet, or feed a signal in further down.")
	return k
}

// ring finds a rail that is left and that a suspect needs which makes it itself; nil where none is.
func (f *suspicion) ring() *sheet.PlanRail {
	for line := range f.Plan.Rails {
		if !f.left[len(f.Plan.Stages)+line] || f.Plan.Rails[line].Signal < 0 {
			continue
		}
		for _, at := range f.suspects {
			needs := f.pathsFrom(f.Route.Mode, f.Route.Points[at], f.Route.Points[at+1], nil).Any
			if needs[len(f.Plan.Stages)+line] && f.Plan.LinePaths(line).Any[f.Route.Stages[at]] {
				return &f.Plan.Rails[line]
			}
		}
	}
	return nil
}
