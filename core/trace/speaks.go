package trace

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// What speaks for a suspect and what against it is found by leaving out one piece
// of evidence at a time: the odds of the suspect with all evidence, over its odds
// without that piece.

// Speak is a piece of evidence for or against a suspect. Times is how many times
// likelier, or less likely, it makes it.
type Speak struct {
	Text  string  `json:"text"`
	For   bool    `json:"for"`
	Times float64 `json:"times"`
}

const (
	// tells is from which factor on a piece of evidence is worth a sentence.
	tells = 1.15
	// mostTimes is as much as a factor is told: beyond e²⁰ it says no more.
	mostTimes = 4.85e8
	// mostSpeaks is how many are listed of a suspect.
	mostSpeaks = 6
)

// speaks lists what speaks for and against each suspect of the route, by
// position among the suspects, the weightiest first.
func (f *suspicion) speaks(logs [][effects]float64) [][]Speak {
	out := make([][]Speak, len(f.suspects))
	pieces := f.pieces(f.evidence)
	best := math.Inf(-1)
	for k := range logs {
		best = max(best, slices.Max(logs[k][:]))
	}
	odds := func(weights []float64) []float64 {
		sum := 0.0
		for _, w := range weights {
			sum += w
		}
		of := make([]float64, len(f.suspects))
		for i, at := range f.suspects {
			w := weights[f.Route.Stages[at]]
			of[i] = max(w, 1e-300) / max(sum-w, 1e-300)
		}
		return of
	}
	// whole is the weight of each block and effect with all evidence, against the best.
	whole := make([][effects]float64, len(logs))
	all := make([]float64, len(logs))
	for k := range logs {
		for e := range effects {
			whole[k][e] = math.Exp(logs[k][e] - best)
			all[k] += whole[k][e]
		}
	}
	// weighed gives the weights of all blocks without a piece of evidence.
	weighed := func(p *piece) []float64 {
		w := make([]float64, len(logs))
		var last *[effects]float64 // neighbours mostly have the same row
		var gone [effects]float64
		for k := range logs {
			row := p.row(k)
			if row != last {
				last = row
				for e := range effects {
					gone[e] = math.Exp(min(-p.times*row[e], 600))
				}
			}
			for e := range effects {
				if whole[k][e] > 0 {
					w[k] += whole[k][e] * gone[e]
				} else { // too little to be held beside the best, until this is taken away
					w[k] += math.Exp(min(logs[k][e]-best-p.times*row[e], 600))
				}
			}
		}
		return w
	}
	with := odds(all)
	for n := range pieces {
		p := &pieces[n]
		for i, without := range odds(weighed(p)) {
			times := with[i] / without
			if times >= tells || times <= 1/tells {
				out[i] = append(out[i], Speak{Text: f.pieceText(p), For: times > 1, Times: min(max(times, 1/times), mostTimes)})
			}
		}
	}
	for i, at := range f.suspects {
		out[i] = append(out[i], f.known(f.Route.Stages[at])...)
		slices.SortStableFunc(out[i], func(a, b Speak) int { return cmp.Compare(b.Times, a.Times) })
		out[i] = out[i][:min(len(out[i]), mostSpeaks)]
	}
	return out
}

// pieceText says what a piece of evidence is.
func (f *finder) pieceText(p *piece) string {
	if p.says != "" {
		return p.says
	}
	if p.judged == nil {
		l := f.line(p.line)
		return fmt.Sprintf("%s reads %s", f.Plan.LineTitle(p.line), l.says())
	}
	text := p.judged.Told()
	if p.times > 1 {
		text += fmt.Sprintf(", %.0f times", p.times)
	}
	return text
}

// known says what is known of a block beforehand.
func (f *finder) known(block int) []Speak {
	name := f.Plan.BlockName(block)
	var out []Speak
	for i := range f.Plan.Sheet.WeakSpots {
		w := &f.Plan.Sheet.WeakSpots[i]
		if w.Stage != name {
			continue
		}
		s := Speak{Text: "a usual fault of this model: " + w.What, For: true, Times: weakSpot}
		if f.History.Fits[name] {
			s.Text += ", and the complaint fits it"
			s.Times *= fitting
		}
		out = append(out, s)
		break
	}
	switch times := f.since(block); {
	case f.Round == 0:
	case times == keptGood:
		out = append(out, Speak{Text: "shown good before the repair, and not touched since", Times: 1 / times})
	case times == renewed:
		out = append(out, Speak{Text: "renewed in a repair", Times: 1 / times})
	}
	for _, l := range f.lived(block) {
		out = append(out, Speak{Text: "by what was noted at intake: " + l.what, For: true, Times: l.times})
	}
	if n := f.History.Found[name]; n > 0 {
		out = append(
			out,
			Speak{Text: fmt.Sprintf("found at fault in %s of this model", jobs(n)), For: true, Times: f.taught(block, float64(n))},
		)
	}
	if n := f.History.Lent[name]; n > 0 {
		out = append(out, Speak{
			Text: fmt.Sprintf(
				"found at fault in %s that other workshops lent",
				jobs(n),
			), For: true, Times: f.taught(block, f.lent()*float64(n)),
		})
	}
	return out
}

// taught is how many times likelier so many jobs that ended in a block make it, against the same block with none of them.
func (f *finder) taught(block int, n float64) float64 {
	rate := f.prior()
	return rate[block] / (rate[block] - n/f.jobsKnown())
}

// jobs counts earlier jobs.
func jobs(n int) string {
	if n == 1 {
		return "one earlier job"
	}
	return fmt.Sprintf("%d earlier jobs", n)
}
