package worth

import (
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat"

	"steptrace/core/money"
	"steptrace/core/past"
)

// An estimate is drawn: some thousand ways that the rest of the job can go, each with one of the suspects at fault (by its share
// of the suspicion), a class of part (by what fails in such a block), and how far this job goes from what is usual. For that one
// of the workshop's own finished jobs is taken, its steps as they went together, blurred a little (a smoothed bootstrap, Efron
// 1979; bandwidth after Silverman 1986); what is usual counts as pseudoJobs of them, with a spread of its own and now and then a
// second fault behind the first. A step that has begun and is not over took longer than it has by now. The draws are the same each
// time for the same facts.

const draws = 4000

// drawn is how the rest of a job can go: minutes from here, what parts cost, and whether they are to be had.
type drawn struct {
	minutes, parts, had float64
}

// pace is how the steps of a job went against what is usual.
type pace [len(past.Steps)]float64

// drawer draws rests of a job.
type drawer struct {
	f     *Facts
	rng   *rand.Rand
	own   []pace
	blur  float64
	price map[past.Class][]float64 // what was paid against what is usual
}

func newDrawer(f *Facts) *drawer {
	d := &drawer{f: f, rng: rand.New(rand.NewPCG(1, 2)), price: map[past.Class][]float64{}}
	var all []float64
	for i := range f.Past {
		j := &f.Past[i]
		if r, total, ok := paceOf(j); ok {
			d.own = append(d.own, r)
			all = append(all, total)
		}
		for _, p := range j.Prices {
			if usual := classes[p.Class].hours; usual > 0 && p.Hours > 0 {
				d.price[p.Class] = append(d.price[p.Class], p.Hours/usual)
			}
		}
	}
	if n := len(all); n > 1 {
		d.blur = 1.06 * stat.StdDev(all, nil) * math.Pow(float64(n), -0.2)
	}
	return d
}

// paceOf is how a finished job went; total is the logarithm of all of it against what is usual. A step of which nothing is usual went as
// the whole did; one that nothing was noted of took no time of its own, it is within the others.
func paceOf(j *past.Job) (r pace, total float64, ok bool) {
	worked, usual := 0.0, 0.0
	for _, s := range past.Steps {
		if j.Usual[s] > 0 {
			worked += j.Work[s]
			usual += j.Usual[s]
		}
	}
	if worked <= 0 || j.GaveUp {
		return r, 0, false
	}
	for i, s := range past.Steps {
		r[i] = worked / usual
		if j.Usual[s] > 0 {
			r[i] = j.Work[s] / j.Usual[s]
		}
	}
	return r, math.Log(worked / usual), true
}

// factor is a factor about 1 (its mean), lognormal.
func (d *drawer) factor(sd float64) float64 { return math.Exp(sd*d.rng.NormFloat64() - sd*sd/2) }

// pace draws how a job goes.
func (d *drawer) pace() pace {
	n := float64(len(d.own))
	if d.rng.Float64() < n/(n+pseudoJobs) {
		r := d.own[d.rng.IntN(len(d.own))]
		all := math.Exp(d.blur * d.rng.NormFloat64())
		for i := range r {
			r[i] *= all
		}
		return r
	}
	var r pace
	all := d.factor(jobSpread)
	more := 0.0
	if d.rng.Float64() < second {
		more = again
	}
	for i, s := range past.Steps {
		r[i] = all * d.factor(stepSpread[s]) * d.f.paceTyped(s)
		if s != past.Prepare {
			r[i] *= 1 + more
		}
	}
	return r
}

// pick draws one of so many by their shares, which sum to 1; the last of them where rounding leaves none.
func (d *drawer) pick(n int, share func(i int) float64) int {
	at := d.rng.Float64()
	for i := range n {
		if at -= share(i); at <= 0 {
			return i
		}
	}
	return n - 1
}

// kind draws of what kind the block at fault is; empty where there is no suspect.
func (d *drawer) kind() string {
	i := d.pick(len(d.f.Suspects), func(i int) float64 { return d.f.Suspects[i].Share })
	if i < 0 {
		return ""
	}
	return d.f.Suspects[i].Kind
}

// rest draws how the rest goes.
func (d *drawer) rest() drawn {
	w := workOf(d.kind())
	out := drawn{minutes: d.minutes(d.f.rest(w), d.f.whole(w))}
	out.parts, out.had = d.parts(w)
	return out
}

// minutes draws how long it takes, by what is usual of what is left of each step and of the whole of it.
func (d *drawer) minutes(usual, whole past.Minutes) (out float64) {
	const tries = 20
	for range tries {
		r := d.pace()
		out = 0
		longer := true
		for i, s := range past.Steps {
			if d.f.Used[s] > 0 && usual[s] > 0 && s != past.Trace { // begun: the plan tells of tracing what is left
				left := r[i]*whole[s] - d.f.Used[s]
				if left <= 0 {
					longer = false
					left = r[i] * usual[s] / 2 // it took longer than ever before: nobody knows
				}
				out += left
			} else {
				out += r[i] * usual[s]
			}
		}
		if longer {
			break
		}
	}
	return out
}

// board draws how long it takes to change a board, minutes by itself, and to find which one it is where nobody knows.
func (d *drawer) board(minutes float64) Range {
	usual := past.Minutes{past.Prepare: d.f.Prepare, past.Trace: d.f.Trace, past.Replace: minutes, past.Prove: d.f.Prove}
	whole := past.Minutes{past.Prepare: takeIn + openUp, past.Replace: minutes, past.Prove: d.f.ProveWhole}
	all := make([]float64, draws)
	for i := range all {
		all[i] = d.minutes(usual, whole)
	}
	return rangeOf(all)
}

// parts draws what parts will cost in money (hours of work where nobody knows what an hour costs), and how likely they are to be had.
func (d *drawer) parts(w work) (cost, had float64) {
	had = 1
	if len(d.f.Parts) > 0 {
		for i := range d.f.Parts {
			p := &d.f.Parts[i]
			if !p.Drawer {
				had *= chosenHad
			}
			if p.Price == 0 { // what has one is among what was bought
				cost += d.priced(p.Class) * float64(max(1, p.Count))
			}
		}
		return cost, had
	}
	if d.f.Fitted {
		return 0, 1
	}
	class := w.parts[d.pick(len(w.parts), func(i int) float64 { return w.parts[i].of })].class
	return d.priced(class), classes[class].had
}

// priced draws the price of a part.
func (d *drawer) priced(c past.Class) float64 {
	if typed := d.f.Prices[c]; typed > 0 {
		return float64(typed) * d.factor(priceSpread/2)
	}
	usual := classes[c].hours * d.f.hour()
	if usual == 0 {
		return 0
	}
	own := d.price[c]
	n := float64(len(own))
	if d.rng.Float64() < n/(n+pseudoJobs) {
		const blur = 0.15
		return usual * own[d.rng.IntN(len(own))] * math.Exp(blur*d.rng.NormFloat64())
	}
	return usual * d.factor(priceSpread)
}

// hour is what an hour costs, in hundredths; where nobody said it is one hour.
func (f *Facts) hour() float64 {
	if f.Rate > 0 {
		return float64(f.Rate)
	}
	return 1
}

// Range is what four of five lie in, and the middle: one in ten is below, one in ten above. Says tells it in words.
type Range struct {
	Low  float64 `json:"low"`
	Mid  float64 `json:"mid"`
	High float64 `json:"high"`
	Says string  `json:"says"`
	mean float64
}

func rangeOf(x []float64) Range {
	if len(x) == 0 {
		return Range{}
	}
	sorted := slices.Sorted(slices.Values(x))
	at := func(p float64) float64 { return sorted[int(math.Round(p*float64(len(sorted)-1)))] }
	const low, mid, high = 0.1, 0.5, 0.9
	return Range{Low: at(low), Mid: at(mid), High: at(high), mean: stat.Mean(sorted, nil)}
}

// amount is a number of hundredths as money.
func amount(x float64) money.Amount { return money.Amount(math.Round(x)) }
