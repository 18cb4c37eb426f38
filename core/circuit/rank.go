package circuit

import (
	"cmp"
	"context"
	"math"
	"runtime"
	"slices"
	"sync/atomic"

	"gonum.org/v1/gonum/floats"

	"steptrace/core/beside"
)

// Ranked is what may be wrong, with how well it explains what was read: one fault, two, or
// none. Those of one Group cannot be told apart by the readings so far.
type Ranked struct {
	Faults    []Fault   `json:"faults"`
	Says      string    `json:"says"`
	Group     int       `json:"group"`
	Weight    float64   `json:"weight"`    // share of all, 0 to 1
	Predicted []float64 `json:"predicted"` // for each reading
	Shows     []string  `json:"shows"`     // the same as texts
	Off       float64   `json:"off"`       // rms of how far all readings are off, weighed together, in their spreads

	grades   []*grade // from one end of its severities to the other
	best     stretch
	weighing *weighing
	stood    []float64 // with the grade before
	prior    float64
	log      float64
	told     float64 // the part of log that the figures read say, beside what was found in words
}

// view is the net as what it predicts best has it.
func (x *Ranked) view() *view { return x.grades[x.best.nearest()].view }

// is tells whether both name the same faults.
func (r *Ranked) is(other *Ranked) bool {
	return slices.EqualFunc(r.Faults, other.Faults, func(a, b Fault) bool { return a.Part == b.Part && a.What == b.What })
}

const (
	// healthyRate is how likely it is that nothing is wrong, beside a resistor's whole
	// rate of failing: the trace has named this stage.
	healthyRate = 1.0
	// again is by how many times its rate a part is likelier for each time that it failed in
	// another of the model: the trade's "look up the usual faults first", in a round figure.
	again = 5.0
	// afresh is what is left of a part's rate once it was renewed: a new part is bad, or the
	// wrong one, about one time in five of those in which an old one is.
	afresh = 0.2
	// worthHalving is so much of one that is met at none of its grades, before the other readings are looked at.
	worthHalving = 1e5
	// hopeless is how much less likely (as a logarithm) what is not looked at further is
	// than the best: one in e⁴⁰ can no longer come first.
	hopeless = 40
	// leastBlur is by how much less a reading says than its spread alone would have it: found on circuits whose parts, faults
	// and meters are off by more than is supposed here, so that what is called 80 % is right in 80 %.
	leastBlur = 1.25
	// aside is the distance, in spreads, within which two predictions cannot be told apart.
	aside = 2.0
	// unexplained is the rms, in spreads, beyond which what comes first does not explain
	// the readings; two faults have to explain them within the other, and three times better.
	unexplained, explained = 3.0, 1.5
)

// Diagnosis is what may be wrong with a circuit by its readings.
type Diagnosis struct {
	Ranked []Ranked `json:"ranked"`
	// Explained tells whether what comes first explains the readings.
	Explained bool `json:"explained"`
	// AsIf are values of parts that would explain the readings, the best first.
	AsIf []AsIf `json:"asIf"`
	// Next is what to read next, the best first; nothing where one part is left.
	Next []Proposal `json:"next"`
}

// Diagnose ranks the usual faults of every part, and that there is none, by the readings:
// how likely each is to fail so, times how well it predicts what was read, given the spread
// that the parts' tolerances make of it and the meter's error. Where no single one explains
// the readings it tries two. It adds values of parts that would explain them, and the
// readings that would tell those apart that are left. A circuit or a reading that has problems
// gives those. When the context ends, so does the work, and that is the problem then.
func (c *Circuit) Diagnose(ctx context.Context, readings []NodeReading, past Past) (d *Diagnosis, problems []Problem) {
	defer func() {
		switch with := recover().(type) {
		case nil:
		case calledOff:
			d, problems = nil, []Problem{{"the circuit", "nobody waits for this any more"}}
		default:
			panic(with)
		}
	}()
	r, problems := c.rank(ctx, readings, past)
	if len(problems) > 0 {
		return nil, problems
	}
	d = &Diagnosis{Ranked: r.ranked, AsIf: r.asIf, Next: r.next()}
	d.Explained = len(r.looks) > 0 && r.ranked[0].Off <= unexplained
	if d.AsIf == nil {
		d.AsIf = []AsIf{}
	}
	return d, nil
}

// Past is what is known of a circuit's parts beside the readings: how often each has failed
// in others of the model, and which were renewed in this one.
type Past struct {
	Failed  map[string]int
	Renewed []string
}

// times is how many times likelier that makes a part to be bad.
func (p *Past) times(part string) float64 {
	if slices.Contains(p.Renewed, part) {
		return afresh
	}
	return 1 + again*float64(p.Failed[part])
}

// ranking is a circuit with its readings and what was made of them.
type ranking struct {
	ctx    context.Context
	net    *Net
	looks  []look
	known  []float64 // how it stands in order; nil where it does not come to rest so
	share  float64   // how far a frequency may be off
	good   *view     // the net in order
	widest int       // the node that moves most, of one that runs by itself
	usual  []float64 // what each reading spreads by where all is in order
	past   Past
	ranked []Ranked
	asIf   []AsIf
}

// rank works the order out.
func (c *Circuit) rank(ctx context.Context, readings []NodeReading, past Past) (*ranking, []Problem) {
	net, problems := c.Read()
	if len(problems) > 0 {
		return nil, problems
	}
	r := &ranking{ctx: ctx, net: net, share: swingShare, past: past}
	if r.looks, problems = net.looks(readings); len(problems) > 0 {
		return nil, problems
	}
	healthy := net.view(nil)
	r.good = healthy
	if healthy.stand() {
		r.known = healthy.x
		if healthy.turn != nil {
			r.widest = healthy.turn.widest(len(net.Nodes))
		}
		if slices.ContainsFunc(r.looks, func(l look) bool { return l.what == Frequency }) {
			r.share = net.swingSpread(healthy)
		}
	}
	for i := range r.looks {
		r.scale(&r.looks[i], healthy)
	}
	r.usual = make([]float64, len(r.looks))
	for i := range r.looks {
		l := &r.looks[i]
		if r.usual[i] = 1; !l.standing() || healthy.x != nil {
			p := healthy.predict(l, r.share)
			r.usual[i] = max(p.sigma(), leastVolts)
		}
	}
	all := []Ranked{r.candidate()}
	for _, f := range net.Faults() {
		all = append(all, r.candidate(f))
	}
	r.ranked = r.weigh(all, math.Inf(1))
	r.fit()
	if len(r.looks) > 0 && len(r.ranked) > 0 && r.ranked[0].Off > unexplained && !net.followed() {
		if two := r.two(); len(two) > 0 && two[0].Off < min(explained, r.ranked[0].Off/3) {
			r.ranked = shares(append(r.ranked, two...))
		}
	}
	if len(r.ranked) == 0 {
		return nil, []Problem{{"the circuit", ErrUnsettled.Error()}}
	}
	r.group()
	for i := range r.ranked {
		x := &r.ranked[i]
		x.Shows, x.Predicted = []string{}, []float64{}
		for k := range r.looks {
			value := x.grades[x.best.nearest()].by[k].value
			x.Predicted, x.Shows = append(x.Predicted, value), append(x.Shows, r.looks[k].text(value, net.parts))
		}
	}
	return r, nil
}

// scale puts a reading on the scale on which it is weighed: a gain is told from a floor that lies by so much higher
// as less of the signal comes to where it is told from.
func (r *ranking) scale(l *look, healthy *view) {
	from := 1.0
	if l.what == Gain && l.from != ground && healthy.x != nil {
		healthy.respond(l.hz)
		from = healthy.from(l)
	}
	l.floor = l.floorOf(from)
	l.at = l.scaled()
}

// candidate is what may be wrong, with all its severities; of two faults the second has the one that was found.
func (r *ranking) candidate(faults ...Fault) Ranked {
	x := Ranked{Faults: faults, prior: r.prior(faults)}
	if len(faults) > 0 && faults[0].at != nil && faults[0].found == 0 {
		for _, g := range faults[0].grades {
			x.grades = append(x.grades, &grade{x: g})
		}
	} else {
		x.grades = []*grade{{}}
	}
	return x
}

// prior is how likely faults are before anything was read, as a logarithm.
func (r *ranking) prior(faults []Fault) float64 {
	log := math.Log(healthyRate)
	for i, f := range faults {
		p := &r.net.parts[f.part]
		one := math.Log(f.Share * sortOf(p.Kind).rate * r.past.times(p.Name))
		if i == 0 {
			log = one
		} else {
			log += one + math.Log(r.net.beside(faults[0], f))
		}
	}
	return log
}

// each does something for each of n, beside each other.
func (r *ranking) each(n int, do func(i int)) {
	var doing beside.Work
	var next atomic.Int64
	for range runtime.GOMAXPROCS(0) {
		doing.Go(func() {
			for i := int(next.Add(1)) - 1; i < n && r.ctx.Err() == nil; i = int(next.Add(1)) - 1 {
				do(i)
			}
		})
	}
	doing.Wait()
	if r.ctx.Err() != nil {
		panic(calledOff{})
	}
}

// calledOff is what the work breaks off with when nobody waits for it; Diagnose catches it.
type calledOff struct{}

// passes of readings, from what costs least: what needs no net at all; then DC or, of a net
// that has to be followed through cycles of the mains, what is read with the power off; then
// the rest, and what has to be followed in time.
const passes = 4

func (r *ranking) pass(l *look) int {
	early := DC
	if r.net.goesOn() {
		early = Ohms
	}
	switch l.what {
	case Alone, Checked:
		return 0
	case early:
		return 1
	case Shape: // has to be followed in time
		return passes - 1
	}
	return 2
}

// weigh predicts the readings by each, first those that cost little; what these make
// hopeless, or further off than most, is left out, and so is what does not come to rest. Where a severity between two
// grades meets them, that is looked for. The likeliest comes first.
func (r *ranking) weigh(all []Ranked, most float64) []Ranked {
	for pass := range passes {
		r.each(len(all), func(i int) { r.try(&all[i], pass) })
		worth := map[int]float64{1: worthHalving, passes - 1: refined}[pass]
		if worth == 0 {
			worth = refinedEarly
		}
		if pass > 0 {
			best := likeliest(all)
			r.each(len(all), func(i int) {
				if all[i].log > best-worth {
					r.refine(&all[i], pass)
				}
				if x := &all[i]; pass == passes-1 && x.log > best-told && len(x.Faults) == 1 && x.Faults[0].drifts &&
					len(x.grades) > 1 {
					r.closely(x, pass)
				}
			})
		}
		best := likeliest(all)
		all = slices.DeleteFunc(all, func(x Ranked) bool {
			return !(x.log > best-hopeless) || x.best.square > most*most*float64(len(r.looks))
		})
	}
	for i := range all {
		x := &all[i]
		x.Off = math.Sqrt(x.best.square / float64(max(len(r.looks), 1)))
		if len(x.Faults) > 0 && x.Faults[0].at != nil && x.Faults[0].found == 0 {
			x.Faults[0] = x.Faults[0].of(x.severity())
		}
	}
	return shares(all)
}

func likeliest(all []Ranked) float64 {
	best := math.Inf(-1)
	for i := range all {
		best = max(best, all[i].log)
	}
	return best
}

// shares sorts by how likely each is, and makes shares of that. What figures say counts less than it would if tolerances,
// severities and meters were as they are supposed to be (leastBlur); where even the best does not quite fit, less still (after
// Birge). How often parts fail, and what was found in words, counts in full.
func shares(all []Ranked) []Ranked {
	if len(all) == 0 {
		return all
	}
	blur := leastBlur
	best := slices.MaxFunc(all, func(a, b Ranked) int { return cmp.Compare(a.log, b.log) })
	blur = max(blur, best.Off)
	says := func(x *Ranked) float64 { return x.log - x.told*(1-1/blur) }
	slices.SortStableFunc(all, func(a, b Ranked) int { return cmp.Compare(says(&b), says(&a)) })
	sum := 0.0
	for i := range all {
		all[i].Weight = math.Exp(says(&all[i]) - says(&all[0]))
		sum += all[i].Weight
	}
	for i := range all {
		all[i].Weight /= sum
		all[i].Says = all[i].String()
	}
	return all
}

// try predicts the readings of a pass with every severity of one, and weighs all so far.
func (r *ranking) try(x *Ranked, pass int) {
	x.grades = slices.DeleteFunc(x.grades, func(g *grade) bool { return !r.predict(x, g, pass) })
	if len(x.grades) == 0 {
		x.log = math.Inf(-1)
		return
	}
	r.meet(x, pass)
}

// predictUpTo adds what a grade predicts for the readings up to a pass; false where it does not come to rest.
func (r *ranking) predictUpTo(x *Ranked, g *grade, upTo int) bool {
	for pass := range upTo + 1 {
		if !r.predict(x, g, pass) {
			return false
		}
	}
	return true
}

// predict adds what a grade of one predicts for the readings of a pass; false where it does not come to rest.
func (r *ranking) predict(x *Ranked, g *grade, pass int) bool {
	if g.by == nil {
		g.by = make([]predicted, len(r.looks))
		faults := slices.Clone(x.Faults)
		if g.x > 0 {
			faults[0] = faults[0].of(g.x)
		}
		g.view = r.viewOf(faults, x.stood)
	}
	for i := range r.looks {
		l := &r.looks[i]
		if r.pass(l) != pass {
			continue
		}
		if l.standing() {
			if !g.view.stand() {
				return false
			}
			x.stood = g.view.x
		}
		g.by[i] = g.view.shows(l, r.share)
	}
	return true
}

// tried is one with all readings predicted.
func (r *ranking) tried(faults ...Fault) Ranked {
	x := r.candidate(faults...)
	for pass := range passes {
		if r.try(&x, pass); math.IsInf(x.log, -1) {
			break
		}
		if pass > 0 {
			r.refine(&x, pass)
		}
	}
	return x
}

// viewOf is how the net stands with faults in it, looked for from how it stood with one like them; nil: in order.
func (r *ranking) viewOf(faults []Fault, like []float64) *view {
	if like == nil {
		like = r.known
	}
	if len(faults) == 0 {
		return r.net.view(like)
	}
	bad := make([]int, len(faults))
	for i, f := range faults {
		bad[i] = f.part
	}
	return r.net.With(faults...).view(like, bad...)
}

// group numbers those that the readings cannot tell apart, from 0: each is in the group of
// the first from which what it predicts, all readings together, is less than two spreads away.
func (r *ranking) group() {
	groups := 0
	for i := range r.ranked {
		x := &r.ranked[i]
		x.Group = -1
		for k := range i {
			if first := &r.ranked[k]; first.Group > x.Group && r.alike(first, x) {
				x.Group = first.Group
				break
			}
		}
		if x.Group < 0 {
			x.Group = groups
			groups++
		}
	}
}

// alike tells whether the readings so far, all together, do not tell two apart.
func (r *ranking) alike(a, b *Ranked) bool { return r.apart(a, b) <= aside }

// apart is how far two are apart in all that was read, in the spreads of the first.
func (r *ranking) apart(a, b *Ranked) float64 {
	for i := range r.looks {
		if p, q := &a.grades[a.best.nearest()].by[i], &b.grades[b.best.nearest()].by[i]; p.discrete && p.value != q.value {
			return 2 * aside
		}
	}
	w := a.weighing
	return math.Sqrt(w.square(floats.SubTo(make([]float64, len(w.of)), w.at, b.weighing.at)))
}

// swingSpread is the share by which a good circuit's frequency varies with what its parts may
// be.
func (n *Net) swingSpread(healthy *view) float64 {
	about := n.Swing(&Rest{x: healthy.x})
	if about == 0 {
		return swingShare
	}
	sum := 0.0
	for i := range n.elements {
		for _, s := range n.elements[i].is.spread {
			if n.elements[i].is.moved == nil || s.field != main || n.parts[n.elements[i].part].Kind != n.elements[i].is.kind {
				continue
			}
			varied := n.copied()
			varied.set(i, main, varied.elements[i].v[main]*(1+s.share))
			if hz := varied.Swing(&Rest{x: healthy.x}); hz > 0 {
				sum += (hz/about - 1) * (hz/about - 1)
			}
		}
	}
	return max(math.Sqrt(sum), 1e-5)
}
