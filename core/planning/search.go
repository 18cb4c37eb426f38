package planning

import (
	"cmp"
	"math"
	"math/bits"
	"slices"

	"steptrace/core/sheet"
)

// The search for the fault among suspects is a tree of readings: each parts what
// is left in two. The tree with the least expected time is found exactly by
// dynamic programming over the sets of suspects that can be left, in every way
// the bench can stand meanwhile (Bellman's principle):
//
//	cost(left, setup) = min over checks of
//	    minutes(check, setup)·P(left) + cost(left ∩ parts, setup′) + cost(left \ parts, setup′)
//
// A bound cuts it short: isolating one of some suspects takes at least as many
// binary readings as their entropy has bits (Shannon), each at the least cost.

const (
	// exactUpTo is the number of groups of suspects up to which the tree is
	// exact. Above, the first readings are those that give the most information
	// a minute, until so few are left.
	exactUpTo = 16
	// mostStates bounds the work on sets so tangled that the bound does not help;
	// sets of 20 to 60 blocks with three modes need 150 on average, 410 at most.
	mostStates = 800
	// mostGroups is how many groups a set of bits holds; of more suspects
	// neighbours go together until few enough are left.
	mostGroups = 64
)

// check is something that can be read, and what it parts: the groups of suspects
// in parts are left if it reads bad, and cleared if it reads good.
type check struct {
	parts  uint64
	cost   float64 // minutes to reach and read it, the bench standing right
	feed   int     // which signal has to be fed in: an index into the search's feeds
	inside bool    // the set has to be open
	lifted int     // feedback stage to lift; sheet.None
	line   int     // a rail or control to read; sheet.None: a point of a route

	// Along the route being traced as it is; -1 elsewhere. Working front to back
	// goes by it.
	along int
	probe Access
}

// nowhere is the place of what is not on the route.
const nowhere = -1

// feed is where a signal comes in, and how the set is switched for it. No point
// means that it begins by itself.
type feed struct {
	mode  string
	point int
}

// setup is how the bench stands.
type setup struct {
	feed, lifted int
	open         bool
}

// search is the search among groups of suspects that no check parts further.
type search struct {
	weights []float64 // of the groups; they sum to 1
	logs    []float64 // of each weight w: w·log2 w
	places  []float64 // of the groups along the route: the mean position of their stages; nowhere for those off it
	checks  []check
	feeds   []feed
	start   setup

	byCost []int // the checks, the cheapest first
	known  map[leftSetup]planned
}

type leftSetup struct {
	left uint64
	at   setup
}

// planned is the best check for what is left, and what is to be expected from
// there on: minutes, times the weight of what is left. Where it is not settled,
// the cost is the least that it can be.
type planned struct {
	check   int // -1: nothing parts it
	cost    float64
	settled bool
}

// all is every group.
func (s *search) all() uint64 { return 1<<len(s.weights) - 1 }

// weight sums the weights of some groups.
func (s *search) weight(groups uint64) float64 {
	sum := 0.0
	for ; groups != 0; groups &= groups - 1 {
		sum += s.weights[bits.TrailingZeros64(groups)]
	}
	return sum
}

// bound is the least that isolating one of some groups can cost, times their
// weight: as many readings as their entropy has bits, the cheapest there are,
// each taken at most once. Cheapest holds the minutes of the so many cheapest
// together, from none on.
func (s *search) bound(groups uint64, cheapest []float64) float64 {
	if bits.OnesCount64(groups) < 2 {
		return 0
	}
	sum, logs := 0.0, 0.0
	for ; groups != 0; groups &= groups - 1 {
		g := bits.TrailingZeros64(groups)
		sum += s.weights[g]
		logs += s.logs[g]
	}
	entropy := math.Log2(sum) - logs/sum
	whole := min(max(int(entropy), 0), len(cheapest)-2)
	return sum * (cheapest[whole] + (entropy-float64(whole))*(cheapest[whole+1]-cheapest[whole]))
}

// cheapest sums the minutes of the cheapest checks that part what is left, each
// way to part it counted once.
func (s *search) cheapest(left uint64) []float64 {
	ways := make([]uint64, 0, len(s.byCost))
	out := append(make([]float64, 0, len(s.byCost)+1), 0)
	for _, i := range s.byCost {
		c := &s.checks[i]
		if !c.parting(left) {
			continue
		}
		way := left & c.parts
		if way&(left&-left) == 0 { // the side with the first group stands for both
			way = left &^ way
		}
		if !slices.Contains(ways, way) {
			ways = append(ways, way)
			out = append(out, out[len(out)-1]+c.cost)
		}
	}
	return out
}

// set gives the minutes of a check with the bench standing so, and how it stands
// afterwards.
func (s *search) set(at setup, c *check) (minutes float64, then setup) {
	minutes, then = c.cost, at
	if at.feed != c.feed {
		before, now := s.feeds[at.feed], s.feeds[c.feed]
		if before.mode != now.mode {
			minutes += ModeMinutes
		}
		if before.point != now.point && now.point != byItself {
			minutes += FeedMinutes
		}
		then.feed = c.feed
	}
	if c.inside && !at.open {
		minutes += OpenMinutes
		then.open = true
	}
	if c.lifted != at.lifted {
		minutes += LiftMinutes
		then.lifted = c.lifted
	}
	return minutes, then
}

// parting tells whether a check parts what is left.
func (c *check) parting(left uint64) bool {
	bad := left & c.parts
	return bad != 0 && bad != left
}

// noWorse tells whether a check costs no more than another that parts the same,
// however the bench stands: it needs nothing that the other does not.
func (c *check) noWorse(other *check) bool {
	const asItStands = 0 // the feed at the start
	return c.cost <= other.cost && (!c.inside || other.inside) && (c.feed == other.feed || c.feed == asItStands) &&
		(c.lifted == other.lifted || c.lifted == sheet.None)
}

// option is a check with what it costs at once and at least in all, and how the
// bench stands then.
type option struct {
	check            int
	first, bad, good float64 // now, and at least if it reads so
	then             setup
}

func (o *option) least() float64 { return o.first + o.bad + o.good }

// solve finds the check that begins the tree of least expected time, unless that
// takes limit or more. What no check parts stays together at no further cost.
func (s *search) solve(left uint64, at setup, limit float64) planned {
	if bits.OnesCount64(left) < 2 {
		return planned{check: -1, settled: true}
	}
	key := leftSetup{left, at}
	if p, ok := s.known[key]; ok && (p.settled || p.cost >= limit) {
		return p
	}
	const less = 1 - 1e-12
	floor := math.Inf(1) // the least that any option passed over can cost
	w := s.weight(left)
	cheapest := s.cheapest(left)
	options := make([]option, 0, len(s.checks))
	for i := range s.checks {
		c := &s.checks[i]
		if !c.parting(left) {
			continue
		}
		m, then := s.set(at, c)
		o := option{i, m * w, 0, 0, then}
		if o.first < limit {
			o.bad, o.good = s.bound(left&c.parts, cheapest), s.bound(left&^c.parts, cheapest)
		}
		if o.least() >= limit*less {
			floor = min(floor, o.least())
			continue
		}
		options = append(options, o)
	}
	if len(options) == 0 && math.IsInf(floor, 1) {
		return planned{check: -1, settled: true}
	}
	// The one with the most promise first.
	slices.SortStableFunc(options, func(a, b option) int { return cmp.Compare(a.least(), b.least()) })
	best := planned{check: -1, cost: limit}
	for _, o := range options {
		if o.least() >= best.cost*less {
			floor = min(floor, o.least())
			break
		}
		if len(s.known) >= mostStates && best.check >= 0 {
			break
		}
		parts := s.checks[o.check].parts
		if len(s.known) < mostStates {
			o.bad = s.solve(left&parts, o.then, (best.cost - o.first - o.good)).cost
			if o.least() < best.cost*less {
				o.good = s.solve(left&^parts, o.then, best.cost-o.first-o.bad).cost
			}
		}
		if o.least() >= best.cost*less {
			floor = min(floor, o.least())
			continue
		}
		best = planned{o.check, o.least(), true}
	}
	if best.check < 0 {
		best.cost = floor
	}
	s.known[key] = best
	return best
}

// newSearch sets a search up. Weights are above zero, and some check parts every
// two groups; where none does, the tree may be somewhat dearer than need be.
func newSearch(weights, places []float64, checks []check, feeds []feed, start setup) *search {
	s := &search{weights: weights, places: places, checks: checks, feeds: feeds, start: start, known: map[leftSetup]planned{}}
	for _, w := range weights {
		s.logs = append(s.logs, w*math.Log2(w))
	}
	for i := range checks {
		s.byCost = append(s.byCost, i)
	}
	slices.SortStableFunc(s.byCost, func(a, b int) int { return cmp.Compare(checks[a].cost, checks[b].cost) })
	return s
}

// bits is the information that a check is expected to give of what is left.
func (s *search) bits(left uint64, c *check) float64 {
	p := s.weight(left&c.parts) / s.weight(left)
	if p <= 0 || p >= 1 {
		return 0
	}
	return -p*math.Log2(p) - (1-p)*math.Log2(1-p)
}

// choose picks the check for what is left in a way of working; -1 where none
// parts it. Where a way along the route has no check there, the best of all is taken.
func (s *search) choose(w Way, left uint64, at setup) int {
	best := func(of func(c *check) bool, score func(c *check) float64) int {
		found, most := -1, math.Inf(-1)
		for i := range s.checks {
			c := &s.checks[i]
			if c.parting(left) && of(c) {
				if x := score(c); found < 0 || x > most+1e-12 {
					found, most = i, x
				}
			}
		}
		return found
	}
	along := func(c *check) bool { return c.along >= 0 }
	got := -1
	switch w {
	case Front:
		got = best(along, func(c *check) float64 { return -float64(c.along) })
	case Back:
		got = best(along, func(c *check) float64 { return float64(c.along) })
	case Supplies:
		got = best(func(c *check) bool { return c.line != sheet.None }, func(*check) float64 { return 0 }) // in the sheet's order
	case Reach:
		got = best(func(*check) bool { return true }, func(c *check) float64 {
			m, _ := s.set(at, c)
			return -m + s.bits(left, c)/1e3
		})
	case Weakest:
		heavy, most := 0, -1.0
		for g, x := range s.weights {
			if left&(1<<g) != 0 && x > most {
				heavy, most = g, x
			}
		}
		if s.places[heavy] == nowhere { // what shows it with as little else as can be
			got = best(
				func(c *check) bool { return c.parts&(1<<heavy) != 0 },
				func(c *check) float64 { return -s.weight(left & c.parts) },
			)
			break
		}
		// The point right behind the likeliest suspect, or else the one nearest to it.
		got = best(along, func(c *check) float64 { return -math.Abs(float64(c.along) - s.places[heavy] - 0.9) })
	}
	if got >= 0 {
		return got
	}
	if bits.OnesCount64(left) > exactUpTo {
		return s.telling(left, at)
	}
	// The plan is no dearer than taking what tells most a minute.
	return s.solve(left, at, s.quick(left, at)*(1+1e-9)).check
}

// telling is the check that tells most a minute; -1 for none.
func (s *search) telling(left uint64, at setup) int {
	found, most := -1, 0.0
	for i := range s.checks {
		if c := &s.checks[i]; c.parting(left) {
			m, _ := s.set(at, c)
			if x := s.bits(left, c) / m; found < 0 || x > most+1e-12 {
				found, most = i, x
			}
		}
	}
	return found
}

// quick is the cost of always taking what tells most a minute, times the weight
// of what is left.
func (s *search) quick(left uint64, at setup) float64 {
	i := s.telling(left, at)
	if i < 0 {
		return 0
	}
	c := &s.checks[i]
	m, then := s.set(at, c)
	return m*s.weight(left) + s.quick(left&c.parts, then) + s.quick(left&^c.parts, then)
}

// run gives what a way of working costs for what is left, on average over the
// groups by their weight and at worst.
func (s *search) run(w Way, left uint64, at setup) WayCost {
	i := s.choose(w, left, at)
	if i < 0 {
		return WayCost{}
	}
	return s.from(w, i, left, at)
}

// from gives what it costs to begin with a check.
func (s *search) from(w Way, i int, left uint64, at setup) WayCost {
	c := &s.checks[i]
	m, then := s.set(at, c)
	bad, good := s.run(w, left&c.parts, then), s.run(w, left&^c.parts, then)
	p := s.weight(left&c.parts) / s.weight(left)
	return WayCost{Probes: 1 + p*bad.Probes + (1-p)*good.Probes, Minutes: m + p*bad.Minutes + (1-p)*good.Minutes,
		WorstProbes: 1 + max(bad.WorstProbes, good.WorstProbes), WorstMinutes: m + max(bad.WorstMinutes, good.WorstMinutes)}
}
