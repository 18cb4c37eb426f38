package circuit

import (
	"cmp"
	"context"
	"math"
	"runtime"
	"slices"
	"sync/atomic"

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
	Off       float64   `json:"off"`       // rms of how far each reading is off, in its spreads

	view   *view
	sigmas []float64
	log    float64
}

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
	// hopeless is how much less likely (as a logarithm) what is not looked at further is
	// than the best: one in e⁴⁰ can no longer come first.
	hopeless = 40
	// aside is the distance, in spreads, within which two predictions cannot be told apart.
	aside = 2.0
	// unexplained is the rms, in spreads, beyond which what comes first does not explain
	// the readings; two faults have to explain them within the other, and three times better.
	unexplained, explained = 3.0, 1.5
	// pairing is how many leading faults two are made of at most, and pairRate how likely a
	// second fault is beside the first; pairWork is how much work that may be, as steps of
	// elimination.
	pairing, pairRate, pairWork = 12, 1e-3, 4e8
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
	if healthy.stand() {
		r.known = healthy.x
		if slices.ContainsFunc(r.looks, func(l look) bool { return l.what == Frequency }) {
			r.share = net.swingSpread(healthy)
		}
	}
	all := []Ranked{{log: math.Log(healthyRate), view: healthy}}
	for _, f := range net.Faults() {
		all = append(all, Ranked{Faults: []Fault{f}, log: r.prior([]Fault{f})})
	}
	r.ranked = r.weigh(all, math.Inf(1))
	r.fit()
	if len(r.looks) > 0 && len(r.ranked) > 0 && r.ranked[0].Off > unexplained {
		if two := r.weigh(r.pairs(), explained); len(two) > 0 && two[0].Off < min(explained, r.ranked[0].Off/3) {
			r.ranked = r.together(two)
		}
	}
	if len(r.ranked) == 0 {
		return nil, []Problem{{"the circuit", ErrUnsettled.Error()}}
	}
	r.group()
	for i := range r.ranked {
		x := &r.ranked[i]
		x.Shows = []string{}
		for k := range r.looks {
			x.Shows = append(x.Shows, r.looks[k].text(x.Predicted[k], net.parts))
		}
	}
	return r, nil
}

// together weighs more that explains the readings beside what came before.
func (r *ranking) together(more []Ranked) []Ranked {
	return shares(append(r.ranked, more...))
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
			log += one + math.Log(pairRate)
		}
	}
	return log
}

// pairs are the leading single faults, each with every other of another part.
func (r *ranking) pairs() []Ranked {
	var out []Ranked
	all := r.net.Faults()
	work := float64(len(all)) * math.Pow(float64(r.net.size), 3)
	leading := r.ranked[:min(len(r.ranked), pairing, int(pairWork/work))]
	for i := range leading {
		if len(leading[i].Faults) != 1 {
			continue
		}
		first := leading[i].Faults[0]
		for _, second := range all {
			one := Ranked{Faults: []Fault{second}}
			twice := slices.ContainsFunc(leading[:i], func(x Ranked) bool { return x.is(&one) })
			if second.part != first.part && !twice {
				faults := []Fault{first, second}
				out = append(out, Ranked{Faults: faults, log: r.prior(faults)})
			}
		}
	}
	return out
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
	if r.net.Alternates() {
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
// hopeless, or further off than most, is left out, and so is what does not come to rest. The
// likeliest comes first.
func (r *ranking) weigh(all []Ranked, most float64) []Ranked {
	for i := range all {
		all[i].Predicted, all[i].sigmas, all[i].Off = make([]float64, len(r.looks)), make([]float64, len(r.looks)), 0
	}
	for pass := range passes {
		r.each(len(all), func(i int) { r.try(&all[i], pass) })
		best := math.Inf(-1)
		for i := range all {
			best = max(best, all[i].log)
		}
		all = slices.DeleteFunc(all, func(x Ranked) bool { return !(x.log > best-hopeless) || x.Off > most*most*float64(len(r.looks)) })
	}
	for i := range all {
		all[i].Off = math.Sqrt(all[i].Off / float64(max(len(r.looks), 1)))
	}
	return shares(all)
}

// shares sorts by how likely each is, and makes shares of that.
func shares(all []Ranked) []Ranked {
	slices.SortStableFunc(all, func(a, b Ranked) int { return cmp.Compare(b.log, a.log) })
	sum := 0.0
	for i := range all {
		all[i].Weight = math.Exp(all[i].log - all[0].log)
		sum += all[i].Weight
	}
	for i := range all {
		all[i].Weight /= sum
		all[i].Says = all[i].String()
	}
	return all
}

// try adds to one what the readings of a pass come to.
func (r *ranking) try(x *Ranked, pass int) {
	if x.view == nil {
		x.view = r.viewOf(x.Faults)
	}
	for i := range r.looks {
		l := &r.looks[i]
		if r.pass(l) != pass {
			continue
		}
		if l.standing() && !x.view.stand() {
			x.log = math.Inf(-1)
			return
		}
		x.Predicted[i], x.sigmas[i] = x.view.predict(l, r.share)
		log, off := l.likely(x.Predicted[i], x.sigmas[i])
		x.log += log
		x.Off += off * off
	}
}

// tried is one with the readings of so many passes predicted.
func (r *ranking) tried(upTo int, faults ...Fault) Ranked {
	x := Ranked{Faults: faults, Predicted: make([]float64, len(r.looks)), sigmas: make([]float64, len(r.looks))}
	for pass := range upTo {
		r.try(&x, pass)
	}
	return x
}

func (r *ranking) viewOf(faults []Fault) *view {
	if len(faults) == 0 {
		return r.net.view(r.known)
	}
	bad := make([]int, len(faults))
	for i, f := range faults {
		bad[i] = f.part
	}
	return r.net.With(faults...).view(r.known, bad...)
}

// group numbers those that the readings cannot tell apart, from 0: each is in the group of
// the first that predicts every reading within two spreads of it.
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

// alike tells whether no reading so far tells two apart.
func (r *ranking) alike(a, b *Ranked) bool { return r.alikeBy(a, b, aside) }

func (r *ranking) alikeBy(a, b *Ranked, spreads float64) bool {
	for i := range r.looks {
		if distance(&r.looks[i], a.Predicted[i], a.sigmas[i], b.Predicted[i], b.sigmas[i]) > spreads {
			return false
		}
	}
	return true
}

// distance is how far two predictions of a reading are apart, in the smaller spread.
func distance(l *look, a, sa, b, sb float64) float64 {
	if l.what == Checked || l.what == Shape {
		if a == b {
			return 0
		}
		return 2 * aside
	}
	at := *l
	at.value = a
	_, one := at.likely(b, sb)
	at.value = b
	_, other := at.likely(a, sa)
	return max(math.Abs(one), math.Abs(other))
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
