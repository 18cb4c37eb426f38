package trace

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/symptom"
)

// Which block is at fault is a matter of belief: a hypothesis is a block with an
// effect, and each piece of evidence makes it more or less likely (Bayes' rule).
//
//	P(block, effect | readings) ∝ prior(block) · share(effect | kind) · Π P(verdict | effect, in the way or not)
//
// The prior of a block is the mean of a Dirichlet distribution: pseudo-counts
// from the rate of its kind, plus one for every earlier job of the model that
// ended there.

// effect is how a block misbehaves.
type effect int

const (
	dead effect = iota
	weak
	strong
	distorting
	noisy
	humming
	offTune
	comesAndGoes
	effects // how many there are
)

// said is what a reading says, as far as its likelihood goes. Vague is a number against what is no
// more than usual.
type said struct {
	verdict reading.Verdict
	vague   bool
}

// saidBy is what a reading says.
func saidBy(j *reading.Judged) said { return said{j.Verdict, j.Vague()} }

// inTheWay is the likelihood of what a reading says with the faulty block in the way.
func inTheWay(e effect, what said) float64 {
	v := what.verdict
	if v == reading.Partly {
		v = reading.Low // another word for the same
	}
	if what.vague && (e == weak || e == strong) {
		// A level that is off and still usual is told as within.
		off := map[effect]reading.Verdict{weak: reading.Low, strong: reading.High}[e]
		switch v {
		case reading.Within:
			return (1-misread)*shows[e][off]*usualHides + misread*overlooked
		case off:
			return (1-misread)*shows[e][off]*(1-usualHides) + misread*(1-overlooked)*mistaken[v]
		}
	}
	if !v.Bad() {
		return (1-misread)*shows[e][v] + misread*overlooked
	}
	return (1-misread)*shows[e][v] + misread*(1-overlooked)*mistaken[v]
}

// besides is the likelihood of a verdict with the faulty block not in the way:
// good, or misread.
func besides(v reading.Verdict) float64 {
	if v == reading.Partly {
		v = reading.Low
	}
	if !v.Bad() {
		return 1 - misread
	}
	return misread * mistaken[v]
}

// History is what is known of a model and of this set besides the sheet: how many
// earlier jobs ended in each stage or rail, which usual faults the complaint
// speaks of, what the set went through (keys of pasts), and which blocks somebody
// worked on before.
type History struct {
	Found  map[string]int
	Lent   map[string]int // as found, in jobs of other workshops
	Fits   map[string]bool
	Past   []string
	Worked map[string]bool
	Told   map[string]string // by block: the words of the complaint that point at it
	Back   map[string]string // by block: which earlier repair of this very set was there
}

// priors gives the prior of every block, summing to 1.
func (c Case) priors() []float64 {
	p := c.Plan
	rate := make([]float64, p.Blocks())
	sum := 0.0
	for k := range rate {
		name := p.BlockName(k)
		rate[k] = blockRate(p, k)
		for i := range p.Sheet.WeakSpots {
			if p.Sheet.WeakSpots[i].Stage == name {
				rate[k] *= weakSpot
				if c.History.Fits[name] {
					rate[k] *= fitting
				}
				break
			}
		}
		for _, l := range c.lived(k) {
			rate[k] *= l.times
		}
		sum += rate[k]
	}
	total, lent := 0.0, c.lent()
	for k := range rate {
		name := p.BlockName(k)
		rate[k] = pseudoJobs*rate[k]/sum + float64(c.History.Found[name]) + lent*float64(c.History.Lent[name])
		total += rate[k]
	}
	for k := range rate {
		rate[k] /= total
	}
	return rate
}

// jobsKnown is how many jobs the priors go by: what the general rates are worth, its own, and those that were lent.
func (c Case) jobsKnown() float64 {
	out := pseudoJobs
	for _, n := range c.History.Found {
		out += float64(n)
	}
	for _, n := range c.History.Lent {
		out += c.lent() * float64(n)
	}
	return out
}

// lent is what a job of another workshop weighs.
func (c Case) lent() float64 {
	of := 0
	for _, n := range c.History.Lent {
		of += n
	}
	if of == 0 {
		return 0
	}
	return min(lentJob, lentMost/float64(of))
}

// life is something in the set's life that makes a block likelier to fail.
type life struct {
	what  string
	times float64
}

// lived lists what in the set's life makes a block likelier to fail.
func (c Case) lived(block int) []life {
	var out []life
	for _, past := range c.History.Past {
		if times, ok := pasts[past][kindOf(c.Plan, block)]; ok {
			out = append(out, life{past, times})
		}
	}
	if says := c.History.Told[c.Plan.BlockName(block)]; says != "" {
		out = append(out, life{fmt.Sprintf("\u201c%s\u201d points at it", says), toldOf})
	}
	if c.History.Worked[c.Plan.BlockName(block)] {
		out = append(out, life{"worked on before", workedOn})
	}
	if repair := c.History.Back[c.Plan.BlockName(block)]; repair != "" {
		out = append(out, life{repair, cameBack})
	}
	return out
}

// KnownPast tells whether something in a set's life weighs in the reasoning.
func KnownPast(key string) bool { return pasts[key] != nil }

// kindOf is the kind of a stage; "rail" and "line" stand for rails and controls.
func kindOf(p *sheet.Plan, block int) string {
	switch line := block - len(p.Stages); {
	case line >= len(p.Rails):
		return "line"
	case line >= 0:
		return "rail"
	}
	return p.Stages[block].Kind
}

// blockRate is how often a block fails against an amplifier stage.
func blockRate(p *sheet.Plan, block int) float64 {
	switch line := block - len(p.Stages); {
	case line >= len(p.Rails):
		return controlRate
	case line >= 0:
		return railRate
	}
	if rate, ok := kindRate[p.Stages[block].Kind]; ok {
		return rate
	}
	return otherRate
}

// blockShares are how a block fails, by effect.
func blockShares(p *sheet.Plan, block int) [effects]float64 { return shares[rowOfBlock(p, block)] }

// belief is the posterior of every block given the evidence, summing to 1.
// Readings of one place under several conditions count each for itself, and so
// do readings taken again that agree.
func (f *finder) belief(evidence []*reading.Judged) []float64 {
	out, _ := normalised(f.logs(f.pieces(evidence)))
	return out
}

// logEvidence is the logarithm of how likely the evidence is at all, whatever is
// at fault.
func (f *finder) logEvidence(evidence []*reading.Judged) float64 {
	_, total := normalised(f.logs(f.pieces(evidence)))
	return total
}

// piece is a piece of evidence as the belief takes it: a verdict of one reading,
// of a line or of a provocation, so often in a row. Row gives the logarithms of
// its likelihood with a block at fault, by effect.
type piece struct {
	judged *reading.Judged // nil: a line
	line   int
	times  float64
	row    func(block int) *[effects]float64
	says   string // what it is, where it is neither a reading nor a line
}

// pieces lists what the belief goes by.
func (f *finder) pieces(evidence []*reading.Judged) []piece {
	out := make([]piece, 0, len(evidence))
	bad := spoiled(evidence)
	for _, j := range evidence {
		if own := j.Reading.Quantity.Aspect(); j.At == j.From || own != sheet.AC && !j.Verdict.Bad() && !slices.Contains(bad, own) {
			continue
		}
		out = append(out, piece{judged: j, times: j.Times, row: f.rows(j, saidBy(j), bad)})
		if b := j.Before; b != nil {
			out = append(out, piece{judged: b, times: b.Times, row: f.rows(j, saidBy(b), bad)})
		}
	}
	out = append(out, f.linePieces()...)
	out = append(out, f.biasPieces()...)
	out = append(out, f.noticedPieces()...)
	for _, j := range f.provocations() {
		out = append(out, piece{judged: j, times: 1, row: func(k int) *[effects]float64 {
			var row [effects]float64
			for e := range effects {
				p := f.moved(j, k, e)
				if j.Reading.Word == reading.Unmoved {
					p = 1 - p
				}
				row[e] = math.Log(p)
			}
			return &row
		}})
	}
	return out
}

// linePieces lists what was read of rails and controls: of a line and of all that it is made from; against all other blocks
// a bad one speaks as a misreading would. In a set that hums right volts leave it open that a rail hums, and its ripple speaks
// of that alone.
func (f *finder) linePieces() []piece {
	var out []piece
	for i := range f.Plan.Lines() {
		line, w := f.line(i), f.Plan.LinePaths(i)
		tell := func(v reading.Verdict, times float64, speaks func(e effect) bool) {
			l := likelihoodsOf[said{verdict: v}]
			of := func(row [effects]float64) *[effects]float64 {
				for e := range effects {
					if !speaks(e) {
						row[e] = l.besides[e]
					}
				}
				return &row
			}
			every, any := of(l.every), of(l.any)
			out = append(out, piece{line: i, times: times, row: func(k int) *[effects]float64 {
				switch {
				case w.Every[k]:
					return every
				case w.Any[k]:
					return any
				}
				return &l.besides
			}})
		}
		line.eachTime(func(v reading.Verdict, times float64) {
			tell(v, times, func(e effect) bool { return e != humming || v.Bad() || !line.hums })
		})
		if line.hums && line.Ripple != "" {
			tell(line.Rippling, line.rippleTimes, func(e effect) bool { return e == humming })
		}
	}
	return out
}

// Its rows are in the order of the effects here.
var _ = [1]struct{}{}[len(symptom.Row{})-int(effects)]

// noticedPieces lists what the set shows by itself, in its screen, its sound and its lamps, of this round.
func (f *finder) noticedPieces() []piece {
	var out []piece
	for _, n := range f.Noticed {
		likely := n.Likely(f.Plan)
		if likely == nil {
			continue
		}
		rows := make([][effects]float64, len(likely))
		for k := range rows {
			for e := range rows[k] {
				rows[k][e] = math.Log(likely[k][e])
			}
		}
		out = append(out, piece{says: n.Says(), times: 1, row: func(k int) *[effects]float64 { return &rows[k] }})
	}
	return out
}

// rows gives the likelihoods of a verdict at the place of a piece of evidence, with the
// aspects that are bad somewhere: where it is good, it speaks of some effects only.
func (f *finder) rows(j *reading.Judged, what said, bad []sheet.Quantity) func(block int) *[effects]float64 {
	w := f.waysTo(j)
	l := likelihoodsOf[what]
	plain := func(k int) *[effects]float64 {
		switch {
		case w.Every[k]:
			return &l.every
		case w.Any[k]:
			return &l.any
		case f.loads(k, j):
			return &l.behind
		}
		return &l.besides
	}
	if hinted := f.hinted(j); hinted != nil && what == saidBy(j) {
		misreading := math.Exp(l.besides[0])
		return func(k int) *[effects]float64 {
			base := plain(k)
			times := hinted(k)
			if times == 1 || !w.Every[k] && !w.Any[k] {
				return base
			}
			row := *base
			for e := range effects {
				row[e] = hint(row[e], (1-overlooked)*misreading, times)
			}
			return &row
		}
	}
	if what.verdict.Bad() || len(bad) == 0 {
		return plain
	}
	return func(k int) *[effects]float64 {
		row := *plain(k)
		for e := range effects {
			if !f.speaksOf(j, k, e, bad) {
				row[e] = l.besides[e]
			}
		}
		return &row
	}
}

// prior gives the priors, worked out once.
func (f *finder) prior() []float64 {
	if f.priorOf == nil {
		f.priorOf = f.priors()
		if f.Round > 0 {
			sum := 0.0
			for k := range f.priorOf {
				f.priorOf[k] *= f.since(k)
				sum += f.priorOf[k]
			}
			for k := range f.priorOf {
				f.priorOf[k] /= sum
			}
		}
	}
	return f.priorOf
}

// logs are the logarithms of prior times likelihood of every block and effect, by some pieces of
// evidence.
func (f *finder) logs(pieces []piece) [][effects]float64 {
	prior := f.prior()
	logs := make([][effects]float64, len(prior))
	for k := range logs {
		share := blockShares(f.Plan, k)
		for e := range effects {
			logs[k][e] = math.Log(prior[k] * max(share[e], 1e-6))
		}
	}
	for _, p := range pieces {
		for k := range logs {
			row := p.row(k)
			for e := range effects {
				logs[k][e] += p.times * row[e]
			}
		}
	}
	return logs
}

// normalised turns the logarithms of blocks and effects into shares of the
// blocks that sum to 1, and gives the logarithm of their sum.
func normalised(logs [][effects]float64) (out []float64, logTotal float64) {
	best := math.Inf(-1)
	for k := range logs {
		for e := range effects {
			best = max(best, logs[k][e])
		}
	}
	out = make([]float64, len(logs))
	total := 0.0
	for k := range out {
		for e := range effects {
			out[k] += math.Exp(logs[k][e] - best)
		}
		total += out[k]
	}
	for k := range out {
		out[k] /= total
	}
	return out, best + math.Log(total)
}

// logLikelihoods is how likely a verdict is under each effect of a block, by
// where the block stands: not on the way, on every way, on one of several, or
// right behind the point that was read. Logarithms.
type logLikelihoods struct{ besides, every, any, behind [effects]float64 }

// likelihoodsOf are those of all that readings say, worked out once.
var likelihoodsOf = func() map[said]*logLikelihoods {
	out := map[said]*logLikelihoods{}
	for _, v := range reading.Verdicts {
		for _, vague := range []bool{false, true} {
			l := likelihoods(said{v, vague})
			out[said{v, vague}] = &l
		}
	}
	return out
}()

// likelihoods works them out for a verdict.
func likelihoods(what said) logLikelihoods {
	var l logLikelihoods
	v := what.verdict
	good := besides(v)
	for e := range effects {
		in := inTheWay(e, what)
		l.besides[e] = math.Log(good)
		l.every[e] = math.Log(in)
		l.behind[e] = math.Log((1-loading)*good + loading*inTheWay(weak, what))
		if v == reading.Absent {
			l.any[e] = math.Log(misread * mistaken[reading.Absent])
		} else {
			l.any[e] = math.Log(wholeWay*good + (1-wholeWay)*max(in, inTheWay(weak, what)/2))
		}
	}
	return l
}

// loads tells whether a block comes right behind the point that was read.
func (f *finder) loads(block int, j *reading.Judged) bool {
	return block < len(f.Plan.Stages) && f.Plan.Stages[block].From == j.Route.Points[j.At]
}
