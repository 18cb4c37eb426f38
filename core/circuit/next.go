package circuit

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"steptrace/core/quantity"
)

// Proposal is a reading that would tell faults apart: what it needs, what it is expected to
// tell (bits) and takes (minutes).
type Proposal struct {
	What     What    `json:"what"`
	Node     string  `json:"node,omitempty"`
	Part     string  `json:"part,omitempty"`
	Hz       string  `json:"hz,omitempty"`
	Needs    Needs   `json:"needs" jsonschema:"enum=power,enum=signal,enum=power off,enum=lifted leg,enum=part out"`
	Bits     float64 `json:"bits"`
	Minutes  float64 `json:"minutes"`
	Sentence string  `json:"sentence"`
	// Expect is what each leading fault would show, by group.
	Expect []Expect `json:"expect"`
}

// Needs is what a reading asks for.
type Needs string

// From nothing but a probe to the part on the bench.
const (
	NeedsPower  Needs = "power"
	NeedsSignal Needs = "signal"
	NeedsOff    Needs = "power off"
	NeedsLifted Needs = "lifted leg"
	NeedsOut    Needs = "part out"
)

// minutes that a reading takes at the bench: a probe set down, a generator beside it, the
// set off and its reservoirs empty, one leg unsoldered, a part out and tested.
var minutes = map[Needs]float64{NeedsPower: 1, NeedsSignal: 2, NeedsOff: 3, NeedsLifted: 6, NeedsOut: 9}

// Expect is a fault and what it would show, in SI.
type Expect struct {
	Fault string  `json:"fault"`
	Value float64 `json:"value"`
}

const (
	// certain is the share of the weight at which one part is named.
	certain = 0.95
	// considered is how many leading faults the next reading is chosen among, and
	// enough the share of the weight that is looked at.
	considered, enough = 40, 0.999
	// leastBits is what a reading has to tell to be worth its while.
	leastBits = 0.02
	mostNext  = 6
	expected  = 6
	usualHz   = 1000.0
)

// String names the faults in words.
func (r *Ranked) String() string {
	if len(r.Faults) == 0 {
		return "nothing wrong here"
	}
	text := ""
	for i, f := range r.Faults {
		if i > 0 {
			text += ", and "
		}
		text += f.Part + " " + f.What
		if f.As != "" {
			text += ", as " + f.As
		}
	}
	return text
}

// named tells whether the weight is on faults of one part, or of one package.
func (r *ranking) named() bool {
	by := map[string]float64{}
	for i := range r.ranked {
		by[r.replaced(&r.ranked[i])] += r.ranked[i].Weight
	}
	for _, w := range by {
		if w > certain {
			return true
		}
	}
	return false
}

// replaced is what would be replaced for a fault: its part, or the package that it is in.
func (r *ranking) replaced(x *Ranked) string {
	text := ""
	for _, f := range x.Faults {
		p := &r.net.parts[f.part]
		if p.In != "" {
			text += p.In + " "
		} else {
			text += p.Name + " "
		}
	}
	return text
}

// next weighs the readings that could be taken by how much each is expected to tell in its
// minutes: the fall of entropy over which part is to be replaced, were the reading what each
// fault in turn predicts.
func (r *ranking) next() []Proposal {
	out := []Proposal{}
	if r.named() {
		return r.confirm()
	}
	var left []*Ranked
	sum := 0.0
	for i := range r.ranked {
		if sum > enough || len(left) >= considered {
			break
		}
		left = append(left, &r.ranked[i])
		sum += r.ranked[i].Weight
	}
	proposals := r.possible(left)
	shows := make([][]predicted, len(left))
	r.each(len(left), func(i int) {
		for k := range proposals {
			p := predicted{noise: 1}
			if l := &proposals[k].look; !l.standing() || left[i].view().stand() {
				p = left[i].view().predict(l, r.share)
			}
			shows[i] = append(shows[i], p)
		}
	})
	r.each(len(proposals), func(k int) {
		of := make([]predicted, len(left))
		for i := range left {
			of[i] = shows[i][k]
		}
		r.judge(&proposals[k], left, of)
	})
	for i := range proposals {
		if proposals[i].Bits > leastBits {
			out = append(out, proposals[i].Proposal)
		}
	}
	slices.SortStableFunc(out, func(a, b Proposal) int { return cmp.Compare(b.Bits/b.Minutes, a.Bits/a.Minutes) })
	return out[:min(len(out), mostNext)]
}

// confirm is the check of the part that is named, by itself, unless it was made.
func (r *ranking) confirm() []Proposal {
	out := []Proposal{}
	if len(r.ranked[0].Faults) == 0 {
		return out
	}
	for _, p := range r.possible([]*Ranked{&r.ranked[0]}) {
		if p.What == Checked && len(out) == 0 {
			out = append(out, p.Proposal)
		}
	}
	return out
}

// possible is a reading that could be taken.
type possible struct {
	Proposal
	look look
}

// possible are the readings that were not yet taken: DC and the signal at every node,
// resistance from every node to ground and over every suspect, each suspect alone.
func (r *ranking) possible(left []*Ranked) []possible {
	var out []possible
	add := func(l look, p Proposal) {
		same := func(x look) bool {
			return x.what == l.what && x.node == l.node && x.to == l.to && x.part == l.part
		}
		if slices.ContainsFunc(r.looks, same) {
			return
		}
		l.error = usualError
		for _, known := range r.looks {
			if known.what == l.what && known.from == l.from && known.hz == l.hz {
				l.floor = known.floor
			}
		}
		p.What, p.Minutes, p.Expect = l.what, minutes[p.Needs], []Expect{}
		out = append(out, possible{p, l})
	}
	r.atNodes(add)
	r.themselves(left, add)
	return out
}

// atNodes adds what can be read at nodes.
func (r *ranking) atNodes(add func(look, Proposal)) {
	hz := usualHz
	for _, l := range r.looks {
		if l.what == Gain {
			hz = l.hz
		}
	}
	can := r.net.Readable()
	swings := "ripple"
	switch {
	case r.net.followed():
		swings = "swing, peak to peak,"
	case r.net.switches() != nil:
		swings = "rest of the carrier, peak to peak,"
	}
	told := slices.ContainsFunc(r.looks, func(l look) bool { return l.what == Frequency }) || !r.net.Runs()
	for i, name := range r.net.Nodes {
		live := func(what What, format string, args ...any) {
			if slices.Contains(can, what) {
				add(look{what: what, node: i, to: ground, part: -1},
					Proposal{Node: name, Needs: NeedsPower, Sentence: fmt.Sprintf(format, args...) + r.beware(i) + "."})
			}
		}
		if !told && i == r.widest {
			live(Frequency, "Read the frequency at %s", name)
		}
		live(DC, "Read DC at %s", name)
		if slices.Contains(can, Gain) && i != r.net.entry {
			add(look{what: Gain, node: i, to: ground, from: r.net.entry, part: -1, hz: hz}, Proposal{
				Node: name, Hz: hertz(hz), Needs: NeedsSignal,
				Sentence: fmt.Sprintf("Feed in %s, and read the gain at %s.", hertz(hz), name),
			})
		}
		live(Ripple, "Read the %s at %s", swings, name)
		live(Duty, "Read at %s for how much of its time it is high, in per cent", name)
		add(look{what: Ohms, node: i, to: ground, part: -1}, Proposal{
			Node: name, Needs: NeedsOff, Sentence: fmt.Sprintf("Power off and discharged: read ohms from %s to ground.", name),
		})
	}
}

// themselves adds the checks of each suspect by itself.
func (r *ranking) themselves(left []*Ranked, add func(look, Proposal)) {
	seen := map[int]bool{}
	for _, x := range left {
		for _, f := range x.Faults {
			if seen[f.part] {
				continue
			}
			seen[f.part] = true
			p := &r.net.parts[f.part]
			is := sortOf(p.Kind)
			needs, sentence := NeedsOut, fmt.Sprintf("Power off: take %s out, and check it.", p.Name)
			switch {
			case is.check == "chip":
				needs, sentence = NeedsLifted, fmt.Sprintf(
					"With power on, read the pins of %s: supply and ground, input, what steers it, "+
						"output; that again with its leg lifted.",
					p.Name,
				)
			case is.alone != "":
				needs, sentence = NeedsLifted, fmt.Sprintf("Power off: lift a leg of %s, and check %s.", p.Name, is.alone)
			}
			add(look{what: Checked, part: f.part, to: ground}, Proposal{Part: p.Name, Needs: needs, Sentence: sentence})
		}
	}
}

// beware is the caution about what swings further than a usual probe bears.
func (r *ranking) beware(node int) string {
	if r.good.turn == nil {
		return ""
	}
	if swings := r.good.swings(node, ground); swings > probeVolts {
		return fmt.Sprintf(" (some %s are there: only with a probe made for that, one hand, insulated clip)",
			quantity.Rounded(swings, quantity.Volt))
	}
	return ""
}

// probeVolts is what a usual divider probe bears, with something in hand: 600 V in small print, less at high frequencies.
const probeVolts = 300.0

func hertz(hz float64) string { return quantity.Rounded(hz, quantity.Hertz) }

// judge works out what a reading is expected to tell, for which each predicts something.
func (r *ranking) judge(p *possible, left []*Ranked, shows []predicted) {
	before := r.entropy(left, func(i int) float64 { return left[i].Weight })
	after, sum := 0.0, 0.0
	for i, x := range left {
		at := p.look
		at.value = shows[i].value
		after += x.Weight * r.entropy(left, func(k int) float64 {
			return left[k].Weight * math.Exp(at.likely(&shows[k]))
		})
		sum += x.Weight
	}
	p.Bits = before - after/sum
	for i, x := range left[:min(len(left), expected)] {
		p.Expect = append(p.Expect, Expect{x.String(), min(shows[i].value, mostOhms)})
	}
}

// entropy is that of what is to be replaced, in bits.
func (r *ranking) entropy(left []*Ranked, weight func(i int) float64) float64 {
	by := map[string]float64{}
	sum := 0.0
	for i, x := range left {
		w := weight(i)
		by[r.replaced(x)] += w
		sum += w
	}
	out := 0.0
	for _, w := range by {
		if w > 0 {
			out -= w / sum * math.Log2(w/sum)
		}
	}
	return out
}
