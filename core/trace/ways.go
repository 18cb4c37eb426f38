package trace

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/sheet"
)

// Way is a way of working through the suspects. Practitioners differ, and each
// may have the reasons on their side; what a way costs is shown, not judged.
type Way string

// The ways of working.
const (
	Halve    Way = "halve"    // the plan with the least expected time
	Front    Way = "front"    // from the entry on
	Back     Way = "back"     // from the exit backwards
	Supplies Way = "supplies" // the rails first, then halve
	Reach    Way = "reach"    // whatever is reached quickest
	Weakest  Way = "weak"     // the likeliest suspect first
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

// KnownWay tells whether a way of working is one of these; nothing said is Halve.
func KnownWay(w Way) bool {
	return w == "" || slices.ContainsFunc(workingWays, func(x struct {
		way        Way
		name, note string
	}) bool {
		return x.way == w
	})
}

// exactUpTo is the number of suspects up to which the best plan is computed
// exactly; the work grows with its cube (128 suspects: 350,000 sums).
const exactUpTo = 128

// search is the search among suspects that stand in a row: their weights, and
// the probes that part them. The suspects before a probe's gap are left if it
// reads bad, those behind it if it reads good.
type search struct {
	weights []float64
	byGap   []*cut // by gap; nil where no point parts them
	first   [][]int
	cost    [][]float64
	sums    []float64 // of the weights before each suspect
}

func newSearch(weights []float64, cuts []cut) *search {
	n := len(weights)
	s := &search{weights: weights, byGap: make([]*cut, n+1), sums: make([]float64, n+1)}
	for i := range cuts {
		s.byGap[cuts[i].gap] = &cuts[i]
	}
	for i, w := range weights {
		s.sums[i+1] = s.sums[i] + w
	}
	if n <= exactUpTo {
		s.plan()
	}
	return s
}

// weight is that of the suspects a to b-1.
func (s *search) weight(a, b int) float64 { return s.sums[b] - s.sums[a] }

// plan finds for every run of suspects the probe that begins the plan with the
// least expected time to isolate one of them: exact dynamic programming, a run
// costs its first probe plus what its two parts cost, each weighted by its share
// (Bellman's principle). Suspects that no probe parts stay together at no
// further cost.
func (s *search) plan() {
	n := len(s.weights)
	s.cost, s.first = make([][]float64, n+1), make([][]int, n+1)
	for a := range s.cost {
		s.cost[a], s.first[a] = make([]float64, n+1), make([]int, n+1)
	}
	for width := 2; width <= n; width++ {
		for a := 0; a+width <= n; a++ {
			b := a + width
			least, at := math.Inf(1), -1
			for g := a + 1; g < b; g++ {
				c := s.byGap[g]
				if c == nil {
					continue
				}
				if x := c.cost*s.weight(a, b) + s.cost[a][g] + s.cost[g][b]; x < least*(1-1e-12) {
					least, at = x, g
				}
			}
			s.first[a][b] = at
			if at >= 0 {
				s.cost[a][b] = least
			}
		}
	}
}

// choose picks the gap to probe next among the suspects a to b-1; -1 for none.
func (s *search) choose(w Way, a, b int) int {
	best := -1
	better := func(g int, score func(g int) float64) {
		if s.byGap[g] != nil && (best < 0 || score(g) > score(best)+1e-12) {
			best = g
		}
	}
	switch w {
	case Front:
		for g := a + 1; g < b && best < 0; g++ {
			better(g, func(int) float64 { return 0 })
		}
	case Back:
		for g := b - 1; g > a && best < 0; g-- {
			better(g, func(int) float64 { return 0 })
		}
	case Reach:
		for g := a + 1; g < b; g++ {
			better(g, func(g int) float64 { return -s.byGap[g].cost + s.bits(a, g, b)/1e3 })
		}
	case Weakest:
		heavy := a
		for k := a; k < b; k++ {
			if s.weights[k] > s.weights[heavy] {
				heavy = k
			}
		}
		// The point right behind it, or else the one nearest to it.
		for g := a + 1; g < b; g++ {
			better(g, func(g int) float64 { return -math.Abs(float64(g-heavy) - 0.9) })
		}
	default:
		if s.first != nil {
			if b-a < 2 {
				return -1
			}
			return s.first[a][b]
		}
		for g := a + 1; g < b; g++ {
			better(g, func(g int) float64 { return s.bits(a, g, b) / s.byGap[g].cost })
		}
	}
	return best
}

// bits is the information that a probe at a gap is expected to give.
func (s *search) bits(a, g, b int) float64 {
	p := s.weight(a, g) / s.weight(a, b)
	if p <= 0 || p >= 1 {
		return 0
	}
	return -p*math.Log2(p) - (1-p)*math.Log2(1-p)
}

// run gives what a way costs for the suspects a to b-1.
func (s *search) run(w Way, a, b int) WayCost {
	g := s.choose(w, a, b)
	if g < 0 {
		return WayCost{}
	}
	bad, good := s.run(w, a, g), s.run(w, g, b)
	p := s.weight(a, g) / s.weight(a, b)
	c := s.byGap[g].cost
	return WayCost{Probes: 1 + p*bad.Probes + (1-p)*good.Probes, Minutes: c + p*bad.Minutes + (1-p)*good.Minutes,
		WorstProbes: 1 + max(bad.WorstProbes, good.WorstProbes), WorstMinutes: c + max(bad.WorstMinutes, good.WorstMinutes)}
}

// search sets the search among the suspects of the route up.
func (f *finder) search() *search { return newSearch(f.weights(), f.cuts()) }

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
// where no point parts the suspects.
func (f *finder) split() *Probe {
	if f.Way == Supplies {
		if p := f.nextLine(); p != nil {
			return p
		}
	}
	s := f.search()
	n := len(f.suspects)
	g := s.choose(f.Way, 0, n)
	if g < 0 {
		return nil
	}
	c := s.byGap[g]
	why := fmt.Sprintf("parts the %d suspects %d to %d, %.2g of a bit, in about %s", n, c.gap, n-c.gap, s.bits(0, g, n), minutes(c.cost))
	if total := s.run(f.Way, 0, n); total.Minutes > c.cost+0.25 {
		why += fmt.Sprintf("; about %s to the faulty stage from here", minutes(total.Minutes))
	}
	return f.propose(c.point, "split", why)
}

// linesWanted lists the rails and controls that suspects need and nobody has read.
func (f *finder) linesWanted() []int {
	var out []int
	for i := range f.countLines() {
		if f.line(i).Read == "" && slices.ContainsFunc(f.suspects, func(at int) bool { return slices.Contains(f.stageAt(at).Lines, i) }) {
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
	l := f.line(wanted[0])
	needing := 0
	for _, at := range f.suspects {
		if slices.Contains(f.stageAt(at).Lines, wanted[0]) {
			needing++
		}
	}
	p := &Probe{Point: l.Name, At: -1, Quantity: sheet.DC, Purpose: "supply", Minutes: probeMinutes, Without: []string{},
		Sentence: []Span{{"Read " + strings.TrimSuffix(f.lineName(wanted[0]), l.Name), ""}, {l.Name, "point"}, {" and expect ", ""}, {l.Expected, "value"}, {".", ""}}}
	if l.Point != "" {
		p.Facts = append(p.Facts, Fact{"Measured at", l.Point})
	}
	p.Facts = append(p.Facts, Fact{"Why here", fmt.Sprintf("supplies first: %d of the %d suspects need it", needing, len(f.suspects))})
	return p
}

// costs works out what each way of working costs from here.
func (f *finder) costs() []WayCost {
	out := []WayCost{}
	if len(f.suspects) == 0 || f.out.State == Named {
		return out
	}
	s := f.search()
	for _, w := range workingWays {
		c := s.run(w.way, 0, len(f.suspects))
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
		g, _ := slices.BinarySearch(f.suspects, f.behindLoop(i))
		if g == 0 || g == len(f.suspects) {
			continue // it would tell nothing of these
		}
		f.out.Points[i].IfGood = f.counted(f.suspects[g:])
		f.out.Points[i].IfBad = f.counted(f.suspects[:g])
	}
}

func (f *finder) counted(positions []int) string {
	if len(positions) == 1 {
		return f.stageAt(positions[0]).Name
	}
	if len(positions) <= 3 {
		return f.stageNames(positions)
	}
	return fmt.Sprintf("%d, %s to %s", len(positions), f.stageAt(positions[0]).Name, f.stageAt(positions[len(positions)-1]).Name)
}

// pair names the two blocks that together would explain every piece of
// evidence, the likeliest pair first; nothing where none does.
func (f *finder) pair() string {
	prior := f.priors()
	var candidates []int
	for k := range prior {
		if slices.ContainsFunc(f.bad(), func(j *Judged) bool { return f.waysTo(j).any[k] }) && !slices.ContainsFunc(f.evidence, func(j *Judged) bool { return !j.Verdict.Bad() && !f.allows(j, k) }) {
			candidates = append(candidates, k)
		}
	}
	best, names := 0.0, ""
	for i, a := range candidates {
		for _, b := range candidates[:i] {
			if prior[a]*prior[b] <= best || slices.ContainsFunc(f.bad(), func(j *Judged) bool { return !f.allows(j, a) && !f.allows(j, b) }) {
				continue
			}
			best = prior[a] * prior[b]
			names = blockName(f.Plan, b) + " and " + blockName(f.Plan, a)
		}
	}
	return names
}

// allows tells whether a fault in a block would let a piece of evidence come about.
func (f *finder) allows(j *Judged, block int) bool {
	if j.at == j.from || j.Reading.Quantity == sheet.Frequency && !j.Verdict.Bad() {
		return true
	}
	return f.waysTo(j).allows(j.Verdict, block)
}
