package trace

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
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

// weights are the suspects' shares of belief on this route; they sum to 1.
func (f *finder) weights() []float64 {
	out := make([]float64, len(f.suspects))
	sum := 0.0
	for i, at := range f.suspects {
		out[i] = max(f.believed[f.Route.Stages[at]], 1e-9)
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// split proposes the next probe in the way of working that was chosen; nil
// where nothing parts the suspects.
func (f *finder) split() *Probe {
	if f.Way == Supplies {
		if p := f.nextLine(); p != nil {
			return p
		}
	}
	if f.Way == Touches {
		if p := f.nextTouch(); p != nil {
			return p
		}
	}
	s := f.searched()
	i := s.choose(f.Way, s.all(), s.start)
	if i < 0 {
		return nil
	}
	f.out.Options = f.options(s, i)
	c := &s.checks[i]
	if p := f.driversFirst(c); p != nil {
		return p
	}
	o := f.out.Options[0]
	why := fmt.Sprintf("%s; about %s", f.partsText(c), minutes(o.Minutes))
	if o.Total > o.Minutes+0.25 {
		why += fmt.Sprintf(", and about %s in all to the faulty stage", minutes(o.Total))
	}
	p := f.propose(&c.probe, "split", why)
	p.Bits, p.Minutes = o.Bits, o.Minutes
	return p
}

// Option is something that can be read next: what it tells, and what it costs
// from here. Total is the time to expect to the faulty stage when it is taken first.
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
func (f *finder) options(s *search, chosen int) []Option {
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
		c := &s.checks[i]
		m, _ := s.set(s.start, c)
		good, bad := f.leaves(c.probe.splits)
		out = append(
			out,
			Option{
				Point:   f.Plan.Points[c.probe.point()].Name,
				Does:    f.does(&c.probe),
				IfGood:  f.counted(good),
				IfBad:   f.counted(bad),
				Bits:    s.bits(s.all(), c),
				Minutes: m,
				Total:   s.from(f.Way, i, s.all(), s.start).Minutes,
			},
		)
	}
	return out
}

// linesUnread lists the rails and controls that nobody has read.
func (f *finder) linesUnread() []int {
	var out []int
	for i := range f.countLines() {
		if f.line(i).Read == "" {
			out = append(out, i)
		}
	}
	return out
}

// linesWanted lists those of them that suspects need.
func (f *finder) linesWanted() []int {
	var out []int
	for _, i := range f.linesUnread() {
		if slices.ContainsFunc(f.suspects, func(at int) bool { return slices.Contains(f.stageAt(at).Lines, i) }) {
			out = append(out, i)
		}
	}
	return out
}

// nextLine proposes to read a line that suspects need; nil where all are read.
func (f *finder) nextLine() *Probe {
	wanted := f.linesWanted()
	if len(wanted) == 0 {
		return nil
	}
	needing := 0
	for _, at := range f.suspects {
		if slices.Contains(f.stageAt(at).Lines, wanted[0]) {
			needing++
		}
	}
	return f.proposeLine(wanted[0], fmt.Sprintf("supplies first: %d of the %d suspects need it", needing, len(f.suspects)))
}

// proposeLine writes out the reading of a line.
func (f *finder) proposeLine(line int, why string) *Probe {
	l := f.line(line)
	p := &Probe{Point: l.Name, At: -1, Quantity: sheet.DC, Purpose: "supply", Minutes: probeMinutes, Without: []string{},
		Sentence: []Span{
			{"Read " + strings.TrimSuffix(f.lineName(line), l.Name), ""},
			{l.Name, "point"},
			{" and expect ", ""},
			{l.Expected, "value"},
			{".", ""},
		}}
	if l.Point != "" {
		p.Facts = append(p.Facts, Fact{"Measured at", l.Point})
	}
	p.Facts = append(p.Facts, Fact{"Why here", why})
	return p
}

// costs works out what each way of working costs from here.
func (f *finder) costs() []WayCost {
	out := []WayCost{}
	if len(f.suspects) == 0 || f.out.State == Named {
		return out
	}
	s := f.searched()
	for _, w := range workingWays {
		var c WayCost
		if w.way == Touches {
			if c = f.touchCost(); c.Probes == 0 {
				continue // no point of the route may be touched, or nothing would be heard
			}
		} else {
			c = s.run(w.way, s.all(), s.start)
		}
		if w.way == Supplies {
			n := len(f.linesWanted())
			c.Probes += float64(n)
			c.WorstProbes += n
			c.Minutes += float64(n) * probeMinutes
			c.WorstMinutes += float64(n) * probeMinutes
		}
		c.Way, c.Name, c.Note = w.way, w.name, w.note
		out = append(out, c)
	}
	return out
}

// whatIf says for each point of the route which suspects a good and a bad
// reading there would leave.
func (f *finder) whatIf() {
	if len(f.suspects) < 2 || f.fleeting() {
		return // a good reading leaves them all, some less likely
	}
	for i := range f.out.Points {
		if i == 0 || f.Plan.Points[f.Route.Points[i]].Source {
			continue
		}
		good, bad := f.leaves(f.splits(f.ownAccess(i)))
		if len(good) > 0 && len(bad) > 0 { // otherwise it would tell nothing of these
			f.out.Points[i].IfGood, f.out.Points[i].IfBad = f.counted(good), f.counted(bad)
		}
	}
}

// leaves parts the suspects: those that are left if what splits them reads good,
// and if it reads bad.
func (f *finder) leaves(splits []bool) (good, bad []int) {
	for i, at := range f.suspects {
		if splits[i] {
			bad = append(bad, at)
		} else {
			good = append(good, at)
		}
	}
	return good, bad
}

// counted names stages by position as a choice.
func (f *finder) counted(positions []int) string {
	names := make([]string, len(positions))
	for i, p := range positions {
		names[i] = f.stageAt(p).Name
	}
	return listed(names)
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

// allows tells whether a fault in a block would let a piece of evidence come about.
func (f *finder) allows(j *reading.Judged, block int) bool {
	if j.At == j.From || !j.Verdict.Bad() && !f.Clears(j, f.asked) {
		return true
	}
	return allows(f.waysTo(j), j.Verdict, block)
}
