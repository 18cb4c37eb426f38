package trace

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// conclude names the state of the trace and what to do next.
//
// Long: the states a search can be in; the first that holds is told.
func (f *finder) conclude() {
	if j := f.badEntry(); j != nil {
		f.out.State = Source
		f.suspects = nil
		f.out.Headline = fmt.Sprintf("The signal is already wrong where it enters, at %s.", j.Reading.Point)
		f.out.Reasons = append(f.out.Reasons, j.Told()+".", "Put the source or the generator's setting right, then read this point again.")
		f.out.Next = f.repeat(j, "everything behind depends on it")
		return
	}
	if f.verified() {
		return
	}
	if len(f.Route.Stages) == 0 {
		f.linesAlone()
		return
	}
	bad := f.bad()
	fb, alone := f.feedbackAlone()
	switch n := len(f.suspects); {
	case n == 0 && len(bad) > 0 && alone:
		f.feedback(fb)
	case n == 0 && slices.Contains(f.left[:len(f.Plan.Stages)], true) && len(bad) > 0:
		f.elsewhere()
	case n == 0 && slices.Contains(f.left, true) && len(bad) > 0:
		f.supply()
	case n == 0 && len(bad) == 0 && f.firstBadLine() != sheet.None:
		f.odd(f.firstBadLine())
	case n == 0 && len(bad) == 0:
		f.out.State = Clean
		f.out.Headline = "This route reads good from end to end."
		f.out.Reasons = append(f.out.Reasons, "Every stage on it is cleared by a good reading behind it.",
			"The complaint then lies on another route or in another mode, or it comes and goes.")
		if j := f.clearedAt(len(f.Route.Stages) - 1); j != nil && j.Times < 2 && f.onRoute(j) {
			f.out.Next = f.repeat(j, "the complaint says otherwise: once more, before it is taken for good")
		}
	case n == 0:
		f.conflict()
	case n == 1:
		f.single(bad)
	default:
		f.tracing(bad)
	}
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
func (f *finder) between(bad []*reading.Judged) []string {
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
func (f *finder) elsewhere() {
	f.out.State = Elsewhere
	f.out.Headline = "The fault is not on this route."
	f.out.Reasons = append(f.out.Reasons, fmt.Sprintf("What is left: %s.", strings.Join(f.Plan.BlockTitles(f.left), ", ")))
	// The way that was found bad comes before others that pass what is left.
	routes := []*sheet.Route{}
	for _, j := range f.bad() {
		routes = append(routes, j.Route)
	}
	for i := range f.Plan.Routes {
		routes = append(routes, &f.Plan.Routes[i])
	}
	for _, r := range routes {
		if slices.ContainsFunc(r.Stages, func(s int) bool { return f.left[s] }) {
			f.out.GoTo = r.Key
			f.out.Reasons = append(f.out.Reasons, fmt.Sprintf("Go on with the route %s.", r.Name))
			return
		}
	}
}

// supply: no stage explains the readings by itself, but a rail does.
func (f *finder) supply() {
	f.out.State = Supply
	names := f.Plan.BlockTitles(f.left)
	f.out.Headline = fmt.Sprintf("No one stage explains this, but %s does.", strings.Join(names, " or "))
	f.out.Reasons = append(f.out.Reasons, "What fails together is fed together; what still works is fed otherwise.")
	for line := range f.Plan.Lines() {
		if f.left[len(f.Plan.Stages)+line] && f.line(line).Read == "" {
			f.out.Grounds = append(f.out.Grounds, f.lineGround(line))
		}
	}
	if top := f.badLine(); top != sheet.None && len(f.out.Grounds) == 0 {
		f.blameAlone(top)
	}
}

// firstBadLine is the first rail or control that was read bad, whatever it explains; sheet.None where
// there is none.
func (f *finder) firstBadLine() int {
	for line := range f.Plan.Lines() {
		if f.line(line).bad() {
			return line
		}
	}
	return sheet.None
}

// odd: a line reads bad, and yet the signal passes what hangs on it. It is read once more before
// it is believed.
func (f *finder) odd(line int) {
	f.out.State = Supply
	if f.askLineAgain(line) {
		f.out.Reasons = append(f.out.Reasons, "And yet the signal is good from end to end.")
		return
	}
	f.out.Line = f.line(line).Name
	f.out.Headline = fmt.Sprintf(
		"%s is not right, though the signal passes: it reads %s where %s is due.",
		reading.Capital(f.Plan.LineTitle(line)),
		f.line(line).says(),
		f.line(line).due(),
	)
}

// badLine is the line that is left and was read bad, the one furthest up of
// several; sheet.None where there is none.
func (f *finder) badLine() int {
	top := sheet.None
	for line := range f.Plan.Lines() {
		if f.left[len(f.Plan.Stages)+line] && f.line(line).bad() && (top == sheet.None || slices.Contains(f.Plan.Feeds(top), line)) {
			top = line
		}
	}
	return top
}

// blameAlone: a line explains all, and no one stage that hangs on it has to be named.
func (f *finder) blameAlone(line int) {
	if !f.askLineAgain(line) {
		f.out.Line = f.line(line).Name
		f.out.Headline = fmt.Sprintf("%s is at fault: what hangs on it fails together.", reading.Capital(f.Plan.LineTitle(line)))
	}
}

func (f *finder) stageAt(at int) *sheet.PlanStage { return &f.Plan.Stages[f.Route.Stages[at]] }

// conflict finds the reading that stands against the rest and asks for it again.
func (f *finder) conflict() {
	f.out.State = Conflict
	var odd []*reading.Judged
	var without [][]bool // what would be left without each
	for i, j := range f.evidence {
		if left := f.narrow(slices.Delete(slices.Clone(f.evidence), i, i+1)); slices.Contains(left, true) {
			odd, without = append(odd, j), append(without, left)
		}
	}
	if len(odd) == 0 {
		f.out.Headline = "No single fault explains these readings, even with any one of them left out."
		if j := f.leastRead(); j != nil {
			f.out.Reasons = append(f.out.Reasons, "More than one reading is off, or there are two faults. Read each once more.")
			f.out.Next = f.repeat(j, "no one fault fits; it was read once only")
		}
		f.twoFaults()
		return
	}
	// Any of them would resolve it. The one without which the rest is most
	// likely is asked for again; of equals the last, the easiest to repeat. What was read
	// twice is believed.
	last, most := -1, math.Inf(-1)
	for i, o := range odd {
		if o.Times >= 2 {
			continue
		}
		if l := f.logEvidence(slices.DeleteFunc(slices.Clone(f.evidence), func(x *reading.Judged) bool { return x == o })); l >= most-1e-9 {
			last, most = i, l
		}
	}
	if last < 0 {
		f.out.Headline = "The readings were taken twice and stay as they are: no single fault does all of this."
		for i, o := range odd {
			f.out.Reasons = append(
				f.out.Reasons,
				fmt.Sprintf("%s, twice. Without it, %s would be left.", o.Told(), reading.Listed(f.Plan.BlockTitles(without[i]))),
			)
		}
		f.twoFaults()
		return
	}
	j := odd[last]
	f.out.Headline = fmt.Sprintf("The reading at %s does not fit the rest.", j.Reading.Point)
	for i, o := range odd {
		f.out.Reasons = append(
			f.out.Reasons,
			fmt.Sprintf("%s. Without it, %s would be left.", o.Told(), reading.Listed(f.Plan.BlockTitles(without[i]))),
		)
	}
	if a, b, ok := f.pair(); ok {
		f.out.Reasons = append(
			f.out.Reasons,
			fmt.Sprintf("If all of them are right, it takes two faults: %s and %s.", f.Plan.BlockTitle(a), f.Plan.BlockTitle(b)),
		)
	}
	f.suspect(without[last])
	f.believed = f.belief(slices.DeleteFunc(slices.Clone(f.evidence), func(x *reading.Judged) bool { return x == j }))
	f.out.Next = f.repeat(j, "it contradicts the other readings")
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
func (f *finder) twoFaults() {
	a, b, ok := f.pair()
	if !ok {
		f.out.Reasons = append(
			f.out.Reasons,
			"Nor would two. The fault comes and goes, or a reading was taken under other conditions than it says: provoke it, and look "+
				"at how each was taken.",
		)
		return
	}
	f.out.Reasons = append(
		f.out.Reasons,
		fmt.Sprintf(
			"Two faults would explain all of them: %s and %s. Mend the first, and trace on.",
			f.Plan.BlockTitle(a),
			f.Plan.BlockTitle(b),
		),
	)
	left := make([]bool, f.Plan.Blocks())
	left[a], left[b] = true, true
	f.suspect(left)
	if f.out.Next == nil && len(f.suspects) > 1 {
		if p, options := f.situation().Next(); p != nil && f.taken(p) < 2 {
			f.out.Next, f.out.Options = p, options
		}
	}
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

// repeat proposes to take a reading once more, as it was taken.
func (f *finder) repeat(j *reading.Judged, why string) *planning.Probe {
	p := f.situation().Propose(&planning.Access{Route: j.Route, From: j.From, At: j.At, Lifted: sheet.None}, "again", why)
	p.Injected, p.Without = j.Reading.Injected, append([]string{}, j.Reading.Without...)
	if len(p.Without) > 0 {
		p.Facts = append([]planning.Fact{{Label: "Without", Text: strings.Join(p.Without, ", ")}}, p.Facts...)
	}
	return p
}

// span names the suspects from the first to the last on the way.
func (f *finder) span() string {
	return fmt.Sprintf("%s to %s", f.stageAt(f.suspects[0]).Name, f.stageAt(f.suspects[len(f.suspects)-1]).Name)
}

// single: one suspect is left. It is named when a bad reading has shown it.
func (f *finder) single(bad []*reading.Judged) {
	at := f.suspects[0]
	stage := f.stageAt(at)
	shown := f.movedBy(f.Route.Stages[at]) != nil || slices.ContainsFunc(bad, func(j *reading.Judged) bool {
		return f.waysTo(j).Any[f.Route.Stages[at]] || f.pullsDown(f.evidence, j, f.Route.Stages[at])
	})
	if !shown {
		f.out.State = Tracing
		f.out.Headline = fmt.Sprintf("Only %s is left. Show that it is bad.", stage.Name)
		f.out.Reasons = f.between(bad)
		f.out.Next = f.situation().
			Propose(f.situation().OwnAccess(at+1), "confirm", fmt.Sprintf("so far only the complaint speaks against %s", stage.Name))
		return
	}
	f.out.State, f.out.Stage = Named, stage.Name
	f.out.Headline = fmt.Sprintf("The fault is in %s%s.", stage.Name, f.orItsLines(at))
	f.out.Reasons = f.between(bad)
	if m, g := f.measuredGain(at), f.Route.Gains[at]; m != nil {
		f.out.Reasons = append(
			f.out.Reasons,
			fmt.Sprintf(
				"Its gain reads %s where the sheet has %s: %s.",
				quantity.SignedDB(*m),
				quantity.SignedDB(g),
				quantity.SignedDB(*m-g),
			),
		)
		if tol := f.Route.Levels[at+1].Tolerance; *m-g >= -tol.Low && *m-g <= tol.High {
			f.out.Reasons = append(
				f.out.Reasons,
				"That gain is within tolerance: the shortfall is spread over several stages, or a level was misread.",
			)
		}
	}
	f.condemn(at)
	for _, line := range stage.Lines {
		if f.line(line).bad() {
			f.blameLine(line, stage.Name)
			return
		}
	}
	if line := f.badLine(); line != sheet.None { // of another stage in the same loop, or of what makes a signal it needs
		f.out.State, f.out.Stage, f.out.Condemned = Supply, "", false
		f.blameAlone(line)
	}
}

// orItsLines names the supplies and controls of a stage that nobody has read, and that are
// about as likely: ", or its rail +12 V".
func (f *finder) orItsLines(at int) string {
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

// linesAlone: the set has no way for a signal on its sheet. Its rails and controls are
// read in turn, and the one furthest up that is bad is at fault.
func (f *finder) linesAlone() {
	if line := f.firstBadLine(); line != sheet.None {
		f.out.Headline = fmt.Sprintf(
			"%s reads %s where %s is due.",
			reading.Capital(f.Plan.LineTitle(line)),
			f.line(line).says(),
			f.line(line).due(),
		)
		f.blameLine(line, "")
		return
	}
	f.out.State = Tracing
	if wanted := f.linesUnread(); len(wanted) > 0 {
		f.out.Headline = fmt.Sprintf(
			"%s of the %d supplies and controls have been read.",
			count(f.Plan.Lines()-len(wanted)),
			f.Plan.Lines(),
		)
		f.out.Next = f.situation().ProposeLine(wanted[0], "the sheet shows no way for a signal: supplies and controls in turn")
		return
	}
	f.out.State = Clean
	f.out.Headline = "Every supply and control of this set reads good."
	f.out.Reasons = append(f.out.Reasons, "The sheet shows no way for a signal. Add the stages that these feed, or finish here.")
}

// count writes how many of something, in words where there are none.
func count(n int) string {
	if n == 0 {
		return "None"
	}
	return strconv.Itoa(n)
}

// blameLine: a line of the named stage was read bad, so the stage may be good. At
// fault is the line furthest up that is bad, once what it is made from was read. No
// stage is named where the line was read for itself.
func (f *finder) blameLine(line int, stage string) {
	f.out.State, f.out.Stage, f.out.Condemned = Supply, "", false
	top := line
	for _, up := range f.Plan.Feeds(line)[1:] {
		l := f.line(up)
		switch {
		case l.Read == "":
			f.out.Headline = fmt.Sprintf("%s is bad: read %s, which it is made from.", reading.Capital(f.Plan.LineTitle(top)), l.Name)
			f.out.Grounds = append([]Ground{f.lineGround(up)}, f.out.Grounds...)
			return
		case l.bad():
			top = up
			continue
		}
		if f.askLineAgain(up) {
			return
		}
		break
	}
	if f.askLineAgain(top) {
		return
	}
	f.out.Line = f.line(top).Name
	f.out.Headline = fmt.Sprintf("%s is at fault.", reading.Capital(f.Plan.LineTitle(top)))
	if stage != "" {
		f.out.Headline = fmt.Sprintf(
			"%s is at fault: %s has no %s to work with.",
			reading.Capital(f.Plan.LineTitle(top)),
			stage,
			f.lineKind(line),
		)
	}
	f.dropOthers()
	if top >= len(f.Plan.Rails) && f.Plan.Controls[top-len(f.Plan.Rails)].From == "" {
		f.out.Reasons = append(
			f.out.Reasons,
			"Nothing on the sheet drives it, so the trace ends here: find what does, and add it to the sheet.",
		)
	}
}

// dropOthers: where a line is at fault, what is not known of the stage that hangs on it is
// not asked for any more.
func (f *finder) dropOthers() {
	f.out.Grounds = slices.DeleteFunc(f.out.Grounds, func(g Ground) bool {
		_, line := f.Plan.LineIndex(g.Point)
		return g.Proof == Lacking && !line
	})
}

// askLineAgain asks for a second reading of a line that decides; false where it
// was read twice already.
func (f *finder) askLineAgain(line int) bool {
	l := f.line(line)
	worked := !l.Verdict.Bad() && l.Moving.Bad()
	if worked && l.movedTimes >= 2 || !worked && l.times >= 2 {
		return false
	}
	f.out.Headline = fmt.Sprintf(
		"%s reads %s. Read it once more before anything is done about it.",
		reading.Capital(f.Plan.LineTitle(line)),
		l.says(),
	)
	g := f.lineGround(line)
	g.Key, g.Proof, g.Because = "again "+l.Name, Lacking, ""
	g.Text, g.Worked = fmt.Sprintf("A second reading of %s agrees", l.Name), worked
	if worked {
		g.Text += ", with " + l.By
	}
	f.out.Grounds = append([]Ground{g}, f.out.Grounds...)
	return true
}

func (f *finder) tracing(bad []*reading.Judged) {
	f.out.State = Tracing
	n := len(f.suspects)
	f.out.Headline = fmt.Sprintf("%d stages are suspect, from %s to %s.", n, f.stageAt(f.suspects[0]).Name, f.stageAt(f.suspects[n-1]).Name)
	f.out.Reasons = f.between(bad)
	if f.out.Next, f.out.Options = f.situation().Next(); f.out.Next != nil {
		return
	}
	f.out.State = Stuck
	if refused := f.situation().RefusedCuts(); len(refused) > 0 {
		f.out.Reasons = append(f.out.Reasons, refused...)
		f.out.Headline = fmt.Sprintf("The points that would part %s are above what this instrument stands.", f.span())
		return
	}
	f.out.Headline = fmt.Sprintf("Within %s the sheet has no point with an expected level.", f.span())
	f.out.Reasons = append(f.out.Reasons, "Add a level or a gain between these stages to the sheet, or feed a signal in further down.")
}
