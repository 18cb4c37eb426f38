package planning

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Way is a way of working through the suspects. Practitioners differ, and each
// may have the reasons on their side; what a way costs is shown, not judged.
type Way string

// Words implements exchange.Enumerated.
func (Way) Words() []string { return exchange.WordsOf(Ways()) }

// The ways of working.
const (
	Halve    Way = "halve"    // the plan with the least expected time
	Front    Way = "front"    // from the entry on
	Back     Way = "back"     // from the exit backwards
	Supplies Way = "supplies" // the rails first, then halve
	Reach    Way = "reach"    // whatever is reached quickest
	Weakest  Way = "weak"     // the likeliest suspect first
	Touches  Way = "touch"    // a touch at each point, from the exit backwards
)

// workingWays are the ways of working with their names, in the order offered.
var workingWays = []struct {
	way        Way
	name, note string
}{
	{Halve, "halve it", "the plan with the least time to expect"},
	{Front, "front to back", "from the entry on, each point in turn"},
	{Back, "back to front", "from the exit backwards"},
	{Supplies, "supplies first", "every rail the suspects need, then halve"},
	{Reach, "easiest reach first", "whatever the probe gets to quickest"},
	{Weakest, "weak spots first", "the likeliest suspect first"},
	{Touches, "touch from the exit", "a finger or the tip at each point, heard at the exit; no instrument"},
}

// WayCost is a way of working with what it costs from here on this route: on
// average over the suspects by their weight, and at worst. Minutes count the
// reach of each point and the reading.
type WayCost struct {
	Way          Way     `json:"way"`
	Name         string  `json:"name"`
	Note         string  `json:"note"`
	Probes       float64 `json:"probes"`
	Minutes      float64 `json:"minutes"`
	WorstProbes  int     `json:"worstProbes"`
	WorstMinutes float64 `json:"worstMinutes"`
}

// Ways are the ways of working, in the order offered.
func Ways() []Way {
	var out []Way
	for _, w := range workingWays {
		out = append(out, w.way)
	}
	return out
}

// WayList names the ways of working in a sentence.
func WayList() string {
	var names []string
	for _, w := range Ways() {
		names = append(names, string(w))
	}
	last := len(names) - 1
	return strings.Join(names[:last], ", ") + " or " + names[last]
}

// KnownWay tells whether a way of working is one of these; nothing said is Halve.
func KnownWay(w Way) bool {
	return w == "" || slices.Contains(Ways(), w)
}

// weights are the blocks' shares of belief; they sum to 1.
func (t *Situation) weights() []float64 {
	out := make([]float64, len(t.blocks()))
	sum := 0.0
	for i, block := range t.blocks() {
		out[i] = max(t.Believed[block], 1e-9)
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// Next proposes what to read next in the way of working that was chosen, and lists what else could be
// read; nil where nothing parts the suspects.
func (t *Situation) Next() (*Probe, []Option) {
	if shown := t.linesShown(); t.Way == Supplies && len(shown) > 0 {
		return t.ProposeLine(shown[0], "supplies first: suspects need it, and nobody has read it"), []Option{}
	}
	if t.Way == Touches {
		if p := t.nextTouch(); p != nil {
			return p, []Option{}
		}
	}
	s := t.searched()
	i := s.choose(t.Way, s.all(), s.start)
	if i < 0 {
		return nil, []Option{}
	}
	i = t.driversFirst(s, i)
	options := t.options(s, i)
	c := &s.checks[i]
	o := options[0]
	why := fmt.Sprintf("%s; about %s", t.partsText(c), minutes(o.Minutes))
	if o.Total > o.Minutes+0.25 {
		why += fmt.Sprintf(", and about %s in all to what is at fault", minutes(o.Total))
	}
	var p *Probe
	if c.line == sheet.None {
		p = t.Propose(&c.probe, "split", why)
	} else {
		p = t.ProposeLine(c.line, why)
	}
	p.Bits, p.Minutes = o.Bits, o.Minutes
	return p, options
}

// NextOn is the route on which the next reading lies, without more of it; nil for a rail or a control. Ok is false where
// nothing parts the suspects.
func (t *Situation) NextOn() (r *sheet.Route, ok bool) {
	s := t.searched()
	i := s.choose(t.Way, s.all(), s.start)
	if i < 0 {
		return nil, false
	}
	return s.checks[i].probe.Route, true
}

// Option is something that can be read next: what it tells, and what it costs
// from here. Total is the time to expect to what is at fault when it is taken first.
type Option struct {
	Point   string  `json:"point"`
	Does    string  `json:"does"` // the whole of it, in a few words
	IfGood  string  `json:"ifGood"`
	IfBad   string  `json:"ifBad"`
	Bits    float64 `json:"bits"`
	Minutes float64 `json:"minutes"`
	Total   float64 `json:"total"`
}

// mostOptions is how many are listed.
const mostOptions = 6

// options ranks what can be read next: what was chosen first, then by what each
// tells a minute.
func (t *Situation) options(s *search, chosen int) []Option {
	order := make([]int, 0, len(s.checks))
	rate := make([]float64, len(s.checks))
	for i := range s.checks {
		c := &s.checks[i]
		if m, _ := s.set(s.start, c); c.parting(s.all()) {
			rate[i] = s.bits(s.all(), c) / m
			order = append(order, i)
		}
	}
	rate[chosen] = math.Inf(1)
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(rate[b], rate[a]) })
	out := make([]Option, 0, mostOptions)
	for _, i := range order[:min(mostOptions, len(order))] {
		out = append(out, t.option(s, i))
	}
	return out
}

// option tells what a check tells and costs.
func (t *Situation) option(s *search, i int) Option {
	c := &s.checks[i]
	m, _ := s.set(s.start, c)
	good, bad := t.leaves(c.probe.splits)
	point, does := "", ""
	if c.line == sheet.None {
		point, does = t.Plan.Points[c.probe.Point()].Name, t.does(&c.probe)
	} else {
		point, does = t.Plan.LineName(c.line), t.readLine(c.line)
	}
	return Option{
		Point:   point,
		Does:    does,
		IfGood:  t.counted(good),
		IfBad:   t.counted(bad),
		Bits:    s.bits(s.all(), c),
		Minutes: m,
		Total:   s.from(t.Way, i, s.all(), s.start).Minutes,
	}
}

// readLine names the reading of a line: "Read rail +24 V", "Read the ripple of rail +24 V".
func (t *Situation) readLine(line int) string {
	if slices.Contains(t.Rippling, line) {
		return "Read the ripple of " + t.Plan.LineTitle(line)
	}
	return "Read " + t.Plan.LineTitle(line)
}

// linesWanted lists the rails and controls among the blocks.
func (t *Situation) linesWanted() []int {
	var out []int
	for _, block := range t.blocks() {
		if line := block - len(t.Plan.Stages); line >= 0 {
			out = append(out, line)
		}
	}
	return out
}

// linesShown lists the lines that suspects need and nobody has read, and that a signal has shown good: who begins
// with the supplies reads these too.
func (t *Situation) linesShown() []int {
	var out []int
	for _, line := range t.Unread {
		if !slices.Contains(t.blocks(), len(t.Plan.Stages)+line) &&
			slices.ContainsFunc(t.Suspects, func(at int) bool { return slices.Contains(t.stageAt(at).Lines, line) }) {
			out = append(out, line)
		}
	}
	return out
}

// linePoint is where a line is measured; empty where nothing is said.
func (t *Situation) linePoint(line int) string {
	if line < len(t.Plan.Rails) {
		return t.Plan.Rails[line].Point
	}
	return t.Plan.Controls[line-len(t.Plan.Rails)].Point
}

// lineMinutes is what it takes to read a line: its place's own, where it has one.
func (t *Situation) lineMinutes(line int) float64 {
	out := ProbeMinutes
	if point, ok := t.Plan.PointIndex(t.linePoint(line)); ok {
		out += t.Plan.Points[point].Minutes
	}
	return out
}

// ProposeLine writes out the reading of a line.
func (t *Situation) ProposeLine(line int, why string) *Probe {
	name, point := t.Plan.LineName(line), t.linePoint(line)
	asked, due, q := "Read ", "", t.Plan.LineReads(line)
	if line < len(t.Plan.Rails) {
		due = t.Plan.Rails[line].Due()
	} else {
		due = quantity.Rounded(t.Plan.Controls[line-len(t.Plan.Rails)].Volts, quantity.Volt)
	}
	if slices.Contains(t.Rippling, line) {
		asked, due, q = "Read the ripple of ", reading.MostRipple(&t.Plan.Rails[line]), sheet.AC
	}
	p := &Probe{Point: name, At: -1, Quantity: q, Purpose: "supply", Minutes: t.lineMinutes(line), Without: []string{},
		Sentence: []Span{
			{asked + t.Plan.LineKind(line) + " ", ""},
			{name, "point"},
			{" and expect ", ""},
			{due, "value"},
			{".", ""},
		}}
	if point != "" {
		p.Facts = append(p.Facts, Fact{"Measured at", point})
	}
	p.Facts = append(p.Facts, Fact{"Why here", why})
	return p
}

// costs works out what each way of working costs from here.
func (t *Situation) Costs() []WayCost {
	out := []WayCost{}
	s := t.searched()
	for _, w := range workingWays {
		var c WayCost
		if w.way == Touches {
			if c = t.touchCost(); c.Probes == 0 {
				continue // no point of the route may be touched, or nothing would be heard
			}
		} else {
			c = s.run(w.way, s.all(), s.start)
		}
		if w.way == Supplies {
			n := len(t.linesShown())
			c.Probes += float64(n)
			c.WorstProbes += n
			for _, line := range t.linesShown() {
				c.Minutes += t.lineMinutes(line)
				c.WorstMinutes += t.lineMinutes(line)
			}
		}
		c.Way, c.Name, c.Note = w.way, w.name, w.note
		out = append(out, c)
	}
	return out
}

// whatIf says which suspects a good and a bad reading at a position of the route would leave; empty
// where it would tell nothing of them.
func (t *Situation) WhatIf(at int) (good, bad string) {
	if at == 0 || t.Plan.Points[t.Route.Points[at]].Source {
		return "", ""
	}
	left, rest := t.leaves(t.splits(t.OwnAccess(at)))
	if len(left) == 0 || len(rest) == 0 {
		return "", ""
	}
	return t.counted(left), t.counted(rest)
}

// leaves parts the blocks: those that are left if what splits them reads good,
// and if it reads bad.
func (t *Situation) leaves(splits []bool) (good, bad []int) {
	for i, block := range t.blocks() {
		if splits[i] {
			bad = append(bad, block)
		} else {
			good = append(good, block)
		}
	}
	return good, bad
}

// counted names blocks as a choice.
func (t *Situation) counted(blocks []int) string {
	names := make([]string, len(blocks))
	for i, k := range blocks {
		names[i] = t.Plan.BlockName(k)
	}
	return reading.Listed(names)
}
