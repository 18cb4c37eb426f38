package soak

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// Verdict is what is said of a trace.
type Verdict string

// Within its limits; above or below one; it will be; too far from its twin; too fast; nothing was read for long; nothing
// was read yet.
const (
	Within Verdict = "within"
	Above  Verdict = "above"
	Below  Verdict = "below"
	Will   Verdict = "will pass"
	Parted Verdict = "apart"
	Fast   Verdict = "fast"
	Silent Verdict = "silent"
	None   Verdict = ""
)

// Words implements exchange.Enumerated.
func (Verdict) Words() []string {
	return exchange.WordsOf([]Verdict{Within, Above, Below, Will, Parted, Fast, Silent, None})
}

// unsafe tells whether it is one that stops the drive.
func (v Verdict) unsafe() bool { return v == Above || v == Below || v == Parted || v == Fast }

// TraceState is how a trace stands. Now is the mean of its last minute, End what its curve has at the end of the plan (nil:
// not told yet), Tau its time constant in seconds, Rate what it moves in ten minutes. Ahead is the curve to come, for
// drawing: Ahead[i] at AheadFrom + i·AheadStep seconds, with what it may be off at each.
type TraceState struct {
	Name    string        `json:"name"`
	What    What          `json:"what"`
	Unit    quantity.Unit `json:"unit"`
	Where   string        `json:"where"`
	Typed   bool          `json:"typed"`
	Due     bool          `json:"due"` // it has to be typed again
	Limits  []string      `json:"limits"`
	Most    *float64      `json:"most" jsonschema:"nullable"`
	Least   *float64      `json:"least" jsonschema:"nullable"`
	Seen    bool          `json:"seen"`
	Now     float64       `json:"now"`
	Text    string        `json:"text"`
	At      float64       `json:"at"`
	Verdict Verdict       `json:"verdict"`
	Says    string        `json:"says"`
	End     *Told         `json:"end" jsonschema:"nullable"`
	EndText string        `json:"endText"`
	Tau     float64       `json:"tau"`
	Rate    float64       `json:"rate"`

	AheadFrom float64   `json:"aheadFrom"`
	AheadStep float64   `json:"aheadStep"`
	Ahead     []float64 `json:"ahead"`
	Give      []float64 `json:"give"`
}

// State is how a soak stands at a time: what is said of it first, why that matters and what to look at, every trace. Stop:
// a limit is passed, and the drive should stop.
type State struct {
	T        float64      `json:"t"`
	Headline string       `json:"headline"`
	Why      string       `json:"why"`
	Look     string       `json:"look"`
	Bad      bool         `json:"bad"`
	Stop     bool         `json:"stop"`
	Traces   []TraceState `json:"traces"`
}

const (
	rateSpan  = 600.0 // s: rates are told over ten minutes
	aheadSize = 40
)

// scales are by how much things that are logged may be expected to move: for the curve's prior.
func (w What) scale(l Limits) float64 {
	switch {
	case w == Temperature:
		return 1
	case !math.IsNaN(l.Most) && l.Most != 0:
		return math.Abs(l.Most) / 40
	}
	return 0
}

// Judge tells how a soak stands t seconds after it began. Courses are those of the plan's traces; their watches remember.
func Judge(p *Planned, courses []Course, t float64) State {
	s := State{T: t, Traces: make([]TraceState, 0, len(p.Traces))}
	for i := range p.Traces {
		s.Traces = append(s.Traces, p.trace(i, courses, t))
	}
	s.sum(p)
	return s
}

// Ended tells how a soak stood that is over, t seconds after it began: what each trace came to, and which went beyond its
// limits, as its values say, and its events where a limit was one of rate or of a difference.
func Ended(p *Planned, courses []Course, events []Event, t float64) State {
	s := State{T: t, Traces: []TraceState{}, Headline: "Nothing went beyond its limits."}
	var beyond, came []string
	seen := false
	for i := range p.Traces {
		x, l := p.seen(i, &courses[i]), p.Limits[i]
		least, greatest := math.Inf(1), math.Inf(-1)
		for _, c := range courses[i].Points {
			least, greatest = math.Min(least, c.V), math.Max(greatest, c.V)
		}
		switch {
		case !x.Seen:
		case greatest > l.Most:
			x.Verdict = Above
			x.Says = fmt.Sprintf("came to %s, %s allowed", p.text(i, greatest), p.text(i, l.Most))
		case least < l.Least:
			x.Verdict = Below
			x.Says = fmt.Sprintf("fell to %s, %s at least", p.text(i, least), p.text(i, l.Least))
		default:
			x.Verdict, x.Says = Within, "came to "+p.text(i, greatest)
			if x.What == Temperature && !math.IsNaN(l.Most) {
				came = append(came, fmt.Sprintf("%s %s, %s allowed", x.Name, x.Says, p.text(i, l.Most)))
			}
		}
		passed := slices.IndexFunc(events, func(e Event) bool { return e.What == Passed && e.Trace == x.Name })
		switch {
		case x.Verdict.unsafe():
			beyond = append(beyond, x.Name+" "+x.Says)
		case passed >= 0:
			beyond = append(beyond, events[passed].Text)
		}
		seen = seen || x.Seen
		s.Traces = append(s.Traces, x)
	}
	s.Why = mend.Sentence(strings.Join(came, "; "))
	switch {
	case !seen:
		s.Bad, s.Headline = true, "Nothing was read: it proves nothing."
	case len(beyond) > 0:
		s.Bad, s.Headline = true, mend.Sentence(strings.Join(beyond, "; "))
	}
	return s
}

// seen is a trace with what was read of it last, before anything is said of that.
func (p *Planned) seen(i int, c *Course) TraceState {
	tr, l := &p.Traces[i], &p.Limits[i]
	out := TraceState{
		Name:   tr.Name,
		What:   tr.What,
		Unit:   tr.What.Unit(),
		Where:  tr.Where,
		Typed:  tr.Instrument == "",
		Limits: tr.limitTexts(),
		Says:   "nothing was read yet",
		Ahead:  []float64{},
		Give:   []float64{},
	}
	if !math.IsNaN(l.Most) {
		out.Most = &l.Most
	}
	if !math.IsNaN(l.Least) {
		out.Least = &l.Least
	}
	if n := len(c.Points); n > 0 {
		last := c.Points[n-1]
		out.Seen, out.Now, out.At, out.Text, out.Says = true, last.V, last.T, p.text(i, last.V), ""
		out.Rate = rateOf(c.Points)
	}
	return out
}

// Long: what may be said of one, the worst first.
func (p *Planned) trace(i int, courses []Course, t float64) TraceState {
	tr, l, c := &p.Traces[i], p.Limits[i], &courses[i]
	out := p.seen(i, c)
	since := t - out.At // of the beginning, where nothing was read
	out.Due = out.Typed && (!out.Seen || since >= p.RemindSeconds())
	switch {
	case since > p.patience(i):
		out.Verdict, out.Says = Silent, "nothing was read for "+Span(since)
		return out
	case !out.Seen:
		return out
	}
	p.ahead(&out, c, l, t)
	apart, word, known := p.apart(i, courses)
	// What is warmed may cool as fast as it will.
	fast := out.Rate > l.Rate || out.What != Temperature && -out.Rate > l.Rate
	above, high := c.beyond(func(v float64) bool { return v > l.Most }, out.Typed)
	below, low := c.beyond(func(v float64) bool { return v < l.Least }, out.Typed)
	switch {
	case high:
		out.Verdict, out.Says = Above, fmt.Sprintf("%s, %s allowed", p.text(i, above), p.text(i, l.Most))
	case low:
		out.Verdict, out.Says = Below, fmt.Sprintf("%s, %s at least", p.text(i, below), p.text(i, l.Least))
	case known && apart > l.Apart:
		out.Verdict = Parted
		out.Says = fmt.Sprintf("%s %s %s; %s allowed", p.text(i, apart), word, tr.Twin, p.text(i, l.Apart))
	case fast:
		out.Verdict, out.Says = Fast, fmt.Sprintf("%s in ten minutes; %s allowed", p.text(i, out.Rate), p.text(i, l.Rate))
	case out.Verdict == Will && out.EndText == "":
		out.Says = fmt.Sprintf("it goes beyond the %s that are allowed", p.text(i, l.Most))
	case out.Verdict == Will:
		out.Says = fmt.Sprintf("%s at the end, %s allowed", out.EndText, p.text(i, l.Most))
	default:
		out.Verdict = Within
		if out.EndText != "" {
			out.Says = out.EndText + " at the end"
		}
	}
	return out
}

// apart is how far a trace is above its twin; where that does not look back at it, how far to either side.
func (p *Planned) apart(i int, courses []Course) (far float64, word string, known bool) {
	twin := p.Twin[i]
	if twin < 0 {
		return 0, "", false
	}
	far, known = apartNow(courses[i].Points, courses[twin].Points)
	if far < 0 && p.Twin[twin] != i {
		return -far, "below", known
	}
	return far, "above", known
}

// alike is the stretch of the plan around a time in which the set is driven, or not, alike: what is logged follows one curve
// there.
func (p *Planned) alike(t float64) (from, to float64) {
	now, _, _ := p.Step(t)
	driven := func(i int) bool { return p.Steps[i].Do == Drive || p.Moves[i].Level > 0 }
	settled := func(i int) bool { return slices.Contains([]Do{Cold, Idle, Drive}, p.Steps[i].Do) }
	first, last := now, now
	for first > 0 && driven(first-1) == driven(now) && settled(first-1) && settled(now) {
		first--
	}
	for last+1 < len(p.Ends) && driven(last+1) == driven(now) && settled(last+1) && settled(now) {
		last++
	}
	if first > 0 {
		from = p.Ends[first-1]
	}
	return from, p.Ends[last]
}

// ahead tells the end early from the curve, where what is logged follows one.
func (p *Planned) ahead(out *TraceState, c *Course, l Limits, t float64) {
	scale := out.What.scale(l)
	from, end := p.alike(t)
	if scale == 0 || t >= end {
		return
	}
	begin, _ := slices.BinarySearchFunc(c.Points, from, func(x Point, t float64) int { return cmp.Compare(x.T, t) })
	f, ok := Fit(c.Points[begin:], scale)
	if !ok || !f.Holds {
		c.Watch.bad = false
		return
	}
	told := f.At(end)
	out.Tau = f.Tau()
	if told.Give < 12*scale { // else it is no more than a guess
		out.End = &told
		out.EndText = p.told(out, told)
		out.AheadFrom, out.AheadStep = t, (end-t)/(aheadSize-1)
		for i := range aheadSize {
			x := f.At(t + float64(i)*out.AheadStep)
			out.Ahead, out.Give = append(out.Ahead, x.V), append(out.Give, x.Give)
		}
	}
	if !math.IsNaN(l.Most) && c.Watch.early(f, Bound{Limit: l.Most, Most: true, By: end}, c.Points[len(c.Points)-1].T) {
		out.Verdict = Will
	}
}

// told writes an end with what it may be off.
func (p *Planned) told(out *TraceState, told Told) string {
	if out.What == Temperature {
		return fmt.Sprintf("%.0f °C ± %.0f", told.V, math.Max(1, math.Ceil(told.Give)))
	}
	return quantity.Value{SI: told.V, Unit: out.Unit}.Short(3)
}

// text writes a value of a trace: temperatures to a tenth below a hundred.
func (p *Planned) text(i int, v float64) string {
	unit := p.Traces[i].What.Unit()
	if unit == quantity.Celsius {
		return strings.TrimSuffix(fmt.Sprintf("%.1f", v), ".0") + " °C"
	}
	return quantity.Value{SI: v, Unit: unit}.Short(3)
}

func (t *Trace) limitTexts() []string {
	out := []string{}
	for _, l := range []struct{ text, words string }{
		{t.Most, "at most %s"}, {t.Least, "at least %s"}, {t.Apart, "%s from its twin"}, {t.Rate, "%s in ten minutes"},
	} {
		if text := strings.TrimSpace(l.text); text != "" {
			out = append(out, fmt.Sprintf(l.words, text))
		}
	}
	return out
}

// rateOf is what a trace moved in the last ten minutes, by a straight line through them; zero where less was seen than half
// of that.
func rateOf(points []Point) float64 {
	last := points[len(points)-1].T
	var n, st, sv, stt, stv float64
	first := last
	for i := len(points) - 1; i >= 0 && points[i].T >= last-rateSpan; i-- {
		x, v := points[i].T-last, points[i].V
		n, st, sv, stt, stv = n+1, st+x, sv+v, stt+x*x, stv+x*v
		first = points[i].T
	}
	det := n*stt - st*st
	if last-first < rateSpan/2 || det <= 0 {
		return 0
	}
	return (n*stv - st*sv) / det * rateSpan
}

// apartNow is how far a trace is above its twin, where both were read within the last minutes: the mean of what both have
// there.
func apartNow(points, other []Point) (float64, bool) {
	if len(other) == 0 {
		return 0, false
	}
	const near, few = 240.0, 3
	last := points[len(points)-1]
	from := last.T - near
	mean := func(all []Point) (float64, int) {
		sum, n := 0.0, 0
		for i := len(all) - 1; i >= 0 && all[i].T >= from; i-- {
			if all[i].T <= last.T {
				sum, n = sum+all[i].V, n+1
			}
		}
		return sum / float64(max(n, 1)), n
	}
	a, n := mean(points)
	b, m := mean(other)
	return a - b, n >= few && m >= few || n > 0 && m > 0 && len(points) < few+1
}

// sum says first what is worst.
func (s *State) sum(p *Planned) {
	rank := []Verdict{Above, Below, Parted, Fast, Will, Silent}
	worst := -1
	for i := range s.Traces {
		v := s.Traces[i].Verdict
		s.Stop = s.Stop || v.unsafe()
		k := slices.Index(rank, v)
		if k >= 0 && (worst < 0 || k < slices.Index(rank, s.Traces[worst].Verdict)) {
			worst = i
		}
	}
	if worst < 0 {
		s.fine()
		return
	}
	t := &s.Traces[worst]
	s.Bad = true
	switch t.Verdict {
	case Above, Below:
		s.Headline = fmt.Sprintf("%s has passed its limit: %s.", t.Name, t.Says)
	case Will:
		s.Headline = fmt.Sprintf("%s will pass its limit: %s.", t.Name, t.Says)
	case Parted:
		s.Headline = fmt.Sprintf("%s is %s.", t.Name, t.Says)
	case Fast:
		word := "climbs"
		if t.Rate < 0 {
			word = "falls"
		}
		s.Headline = fmt.Sprintf("%s %s too fast: %s.", t.Name, word, t.Says)
	case Silent:
		s.Headline = fmt.Sprintf("%s: %s.", t.Name, t.Says)
	}
	s.Why, s.Look = s.reasons(p, worst)
}

// fine says that nothing is wrong: what comes, what is to be typed next, or that nothing was read yet.
func (s *State) fine() {
	s.Headline = "All is within its limits."
	if !slices.ContainsFunc(s.Traces, func(t TraceState) bool { return t.Seen }) {
		s.Headline = "Nothing was read yet."
	}
	var come []string
	for i := range s.Traces {
		if t := &s.Traces[i]; t.What == Temperature && t.End != nil {
			come = append(come, fmt.Sprintf("%s comes to %s", t.Name, t.EndText))
		}
	}
	s.Why = mend.Sentence(strings.Join(come, "; "))
	if i := slices.IndexFunc(s.Traces, func(t TraceState) bool { return t.Due }); i >= 0 {
		s.Headline = "Read and type " + s.Traces[i].Name + "."
	}
}

// Notices are the events that follow from how a soak stands: limits that are passed, each of which stops the drive, and,
// while it is driven, limits that will be.
func (s *State) Notices(driven bool) []Event {
	var out []Event
	for i := range s.Traces {
		t := &s.Traces[i]
		e := Event{T: s.T, Trace: t.Name, Text: t.Name + ": " + t.Says}
		switch {
		case t.Verdict.unsafe():
			e.What = Passed
		case t.Verdict == Will && driven: // else it cools
			e.What = Foreseen
		default:
			continue
		}
		out = append(out, e)
	}
	return out
}

// reasons says why it matters, with what else moves beside it, and what to look at.
func (s *State) reasons(p *Planned, worst int) (why, look string) {
	t := &s.Traces[worst]
	if t.Verdict == Silent {
		return "Nothing is drawn where nothing was read, and no limit is watched there.",
			"Is the instrument on, in its place, and not asleep? What is typed has to be typed."
	}
	var beside []string
	if k := p.Twin[worst]; k >= 0 && s.Traces[k].Seen {
		d := t.Now - s.Traces[k].Now
		word := "above"
		if d < 0 {
			word = "below"
		}
		beside = append(beside, fmt.Sprintf("It is %s %s %s under the same drive", p.text(worst, math.Abs(d)), word, s.Traces[k].Name))
	}
	if t.Rate > 0 && t.What == Temperature {
		beside = append(beside, fmt.Sprintf("it climbs %s in ten minutes", p.text(worst, t.Rate)))
	}
	bias := false
	for i := range s.Traces {
		if x := &s.Traces[i]; x.What == Bias && x.Rate > 0.02*math.Abs(x.Now) && t.What == Temperature && sameSide(t.Name, x.Name) {
			beside = append(beside, x.Name+" climbs with it")
			bias = true
		}
	}
	why = mend.Sentence(strings.Join(beside, ", and "))
	if t.What == Temperature && bias {
		return why, "Look at the sensor on its heat sink and the insulators under its output pair: its idle current is not held."
	}
	return why, looks[t.What]
}

// looks are what is looked at where something of a sort goes beyond its limit.
var looks = map[What]string{
	Temperature: "Look at its drive frequency or its oscillation, at the insulators and paste under its transistors, at its idle current.",
	Offset:      "Look at the input pair and the feedback around it; what feeds a loudspeaker with DC burns it.",
	Supply:      "Look at the idle currents, and for something that leaks as it warms: electrolytics, output transistors.",
	Power:       "Look at the idle currents, and for something that leaks as it warms: electrolytics, output transistors.",
	Bias:        "Look at the sensor on the heat sink, its paste, and the trimmer's wiper.",
	Level:       "Follow the signal while it is warm: what has changed since it was cold?",
	Noise:       "A transistor or a joint that goes with the heat: cool the stages one by one.",
	Rail:        "Look at the regulator's heat and its drop; at the reservoir's ripple.",
}

// sameSide tells whether two traces are of the same board or channel, by the last word of their names.
func sameSide(a, b string) bool {
	last := func(s string) string {
		f := strings.Fields(s)
		return f[len(f)-1]
	}
	return strings.TrimSpace(a) != "" && strings.TrimSpace(b) != "" && last(a) == last(b)
}
