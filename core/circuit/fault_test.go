package circuit

import (
	"cmp"
	"context"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"steptrace/internal/trial"
)

// spreadOut is a circuit as one of many is really built: resistors off by up to 5 %,
// capacitors by 10 %, gains by 30 %.
func spreadOut(rng *rand.Rand, n *Net) *Net {
	out := n.copied()
	for i := range out.elements {
		off := func(field int, most float64) {
			out.set(i, field, out.elements[i].v[field]*(1+most*(2*rng.Float64()-1)))
		}
		switch out.elements[i].is.kind {
		case Resistor:
			off(main, 0.05)
		case Capacitor:
			off(main, 0.1)
		case NPN, PNP:
			off(bf, 0.3)
		}
	}
	return out
}

func written(x float64) string { return strconv.FormatFloat(x, 'g', -1, 64) }

// often is how often one is tried: of those that are followed through time, of which each takes a second, fewer.
func often(runs int, n *Net) int {
	if n.followed() {
		return max(1, runs/12)
	}
	return runs
}

// tally counts faults that show, and how they came out.
type tally struct{ shown, first, three int }

// Single faults of all kinds in every family that ships and in those that random stages are
// made of, in sets as they are really built, read at every node with a meter off by up to 1 %:
// DC, the signal, the ripple, how it swings. Of a part whose value has drifted any other value is the
// same fault. The true fault comes first, or in the first group,
// that of those which the readings cannot tell from the first.
func TestTheTrueFaultComesFirst(t *testing.T) {
	rng := rand.New(rand.NewPCG(55, 5))
	var circuits []*Circuit
	for _, name := range slices.Sorted(maps.Keys(families)) {
		for range trial.Runs(16) {
			circuits = append(circuits, stage(rng, name))
		}
	}
	for _, f := range Families() {
		n, _ := (&Circuit{Parts: f.Parts}).Read()
		for range trial.Runs(often(16, n)) {
			circuits = append(circuits, &Circuit{Name: f.Name, Parts: f.Parts})
		}
	}
	kinds, total := map[Kind]*tally{}, tally{}
	for _, c := range circuits {
		whole, problems := c.Read()
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		faults := whole.Faults()
		f := faults[rng.IntN(len(faults))]
		readings, ok := readOff(rng, spreadOut(rng, whole).With(f))
		if !ok {
			continue
		}
		r, problems := c.rank(context.Background(), readings, Past{})
		if len(problems) > 0 {
			t.Fatal(c.Name, problems)
		}
		if !r.shows(f) {
			continue
		}
		hidden := Ranked{Faults: []Fault{f}}
		at := slices.IndexFunc(r.ranked, func(x Ranked) bool {
			return x.is(&hidden) || f.drifts && len(x.Faults) == 1 && x.Faults[0].part == f.part && x.Faults[0].drifts
		})
		kind := whole.parts[f.part].Kind
		if kinds[kind] == nil {
			kinds[kind] = &tally{}
		}
		first := at >= 0 && r.ranked[at].Group == 0
		for _, x := range []*tally{kinds[kind], &total} {
			x.shown++
			if first {
				x.first++
			}
			if first || at >= 0 && at < 3 {
				x.three++
			}
		}
		if !first && testing.Verbose() {
			t.Logf("%s, %s %s: came %d, first %s", c.Name, f.Part, f.What, at+1, r.ranked[0].String())
		}
	}
	for _, kind := range slices.Sorted(maps.Keys(kinds)) {
		k := kinds[kind]
		t.Logf("%-12s %3d shown, %3d first, %3d in the first three", kind, k.shown, k.first, k.three)
	}
	t.Logf(
		"all: %d shown, %d first (%.1f %%), %d in the first three (%.1f %%)",
		total.shown,
		total.first,
		100*float64(total.first)/float64(total.shown),
		total.three,
		100*float64(total.three)/float64(total.shown),
	)
	if total.shown < 100 || total.first*100 < 95*total.shown || total.three*1000 < 985*total.shown {
		t.Error("too often another fault comes first")
	}
}

// shows tells whether a fault changes what was read by more than the parts' spread.
func (r *ranking) shows(f Fault) bool {
	f.at, f.Share = nil, 1 // of the severity that it has
	healthy, faulty := r.tried(), r.tried(f)
	return !math.IsInf(healthy.log, -1) && !math.IsInf(faulty.log, -1) && r.apart(&healthy, &faulty) > 4
}

// A wrong value explains what no failure does: it is found from a bias and from a frequency, with
// the value that somebody may have fitted.
func TestAsIf(t *testing.T) {
	for _, x := range []struct {
		family, part, fitted string
		field                float64 // the wrong value
		read                 []look
	}{
		{"Common emitter", "R1", "56 kΩ", 56e3, []look{{what: DC, node: 4}, {what: DC, node: 3}}},
		{"Oscillator, LC", "C3", "1 nF", 1e-9, []look{{what: Frequency, node: 0}, {what: DC, node: 1}}},
		{"Oscillator, crystal", "R3", "4.7 kΩ", 4.7e3, []look{{what: DC, node: 1}, {what: DC, node: 2}}},
	} {
		n := family(t, x.family)
		at := slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == x.part })
		wrong := n.With(Fault{part: at, change: set(main, x.field)}).view(nil)
		if !wrong.stand() {
			t.Fatal(x.family)
		}
		var readings []NodeReading
		for _, l := range x.read {
			l.to, l.part = ground, -1
			v := wrong.predict(&l, swingShare).value
			readings = append(readings, NodeReading{What: l.what, Node: n.Nodes[l.node], Value: written(v)})
		}
		d, problems := (&Circuit{Parts: n.parts}).Diagnose(context.Background(), readings, Past{})
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		for i, a := range d.AsIf {
			if slices.ContainsFunc(d.AsIf[:i], func(b AsIf) bool { return a.Part == b.Part }) {
				t.Errorf("%s: %s is told of twice", x.family, a.Part)
			}
		}
		for i := range d.Ranked {
			if slices.ContainsFunc(d.Ranked[:i], func(b Ranked) bool { return d.Ranked[i].Says == b.Says }) {
				t.Errorf("%s: %s is ranked twice", x.family, d.Ranked[i].Says)
			}
		}
		k := slices.IndexFunc(d.AsIf, func(a AsIf) bool { return a.Part == x.part })
		if k < 0 || d.AsIf[k].Nearest != x.fitted || !d.AsIf[k].Fitted {
			t.Errorf("%s: %+v", x.family, d.AsIf)
		}
	}
}

// Two faults are named where no single one explains the readings.
func TestTwoFaults(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 22))
	n := family(t, "Common emitter")
	pick := func(part, what string) Fault {
		all := n.Faults()
		return all[slices.IndexFunc(all, func(f Fault) bool { return f.Part == part && f.What == what })]
	}
	for _, x := range [][2]Fault{{pick("C2", "open"), pick("R2", "open")}, {pick("R3", "drifted high"), pick("C2", "open")},
		{pick("C1", "open"), pick("R4", "drifted high")}} {
		readings, ok := readOff(rng, n.With(x[0], x[1]))
		if !ok {
			t.Fatal(x)
		}
		d, problems := (&Circuit{Parts: n.parts}).Diagnose(context.Background(), readings, Past{})
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		both := Ranked{Faults: []Fault{x[0], x[1]}}
		turned := Ranked{Faults: []Fault{x[1], x[0]}}
		if first := &d.Ranked[0]; !d.Explained || !first.is(&both) && !first.is(&turned) {
			t.Errorf("%s: first %s", both.String(), first.String())
		}
	}
}

// Readings that cannot be are named with the reading and the node, and nothing hostile makes
// a NaN of anything.
func TestBadReadings(t *testing.T) {
	n := family(t, "Common emitter")
	c := &Circuit{Parts: n.parts}
	for says, r := range map[string]NodeReading{
		"no node \"x\"":           {What: DC, Node: "x", Value: "1"},
		"no part \"R99\"":         {What: Alone, Part: "R99", Value: "1k"},
		"to itself":               {What: DC, Node: "out", To: "out", Value: "1"},
		"not a voltage":           {What: DC, Node: "out", Value: "3 kHz"},
		"no frequency above zero": {What: Gain, Node: "out", Value: "2", Hz: "-1"},
		"at which frequency":      {What: Gain, Node: "out", Value: "2"},
		"below zero":              {What: Ohms, Node: "out", Value: "-3"},
		"no error of a meter":     {What: DC, Node: "out", Value: "3", Error: "4 V"},
		"nothing that is read":    {What: "smell", Node: "out", Value: "3"},
		"no value of its own":     {What: Alone, Part: "V1", Value: "3"},
		"cannot be":               {What: DC, Node: "out", Value: "1e30"},
	} {
		if _, problems := c.Diagnose(context.Background(), []NodeReading{r}, Past{}); len(problems) != 1 ||
			problems[0].Where != "reading 1" ||
			!strings.Contains(problems[0].Message, says) {
			t.Errorf("%v: %v does not say %q", r, problems, says)
		}
	}
	for _, value := range []string{"0", "1e-12", "1e14", "-1e9"} {
		d, problems := c.Diagnose(
			context.Background(),
			[]NodeReading{
				{What: DC, Node: "out", Value: value},
				{What: Gain, Node: "out", Hz: "1 GHz", Value: "none"},
				{What: Ohms, Node: "base", Value: "open"},
			},
			Past{},
		)
		if len(problems) > 0 {
			t.Fatal(value, problems)
		}
		for _, x := range d.Ranked {
			if math.IsNaN(x.Weight) || math.IsNaN(x.Off) || slices.ContainsFunc(x.Predicted, math.IsNaN) {
				t.Errorf("%s: %+v", value, x)
			}
		}
	}
}

// Beginning with two readings at the exit, and then taking what is proposed until one part is
// named, the part is the right one.
func TestProposalsNameThePart(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 77))
	tried, right, wrong, taken := 0, 0, 0, 0
	for _, fam := range Families() {
		c := &Circuit{Name: fam.Name, Parts: fam.Parts}
		whole, _ := c.Read()
		faults := whole.Faults()
		for range often(12, whole) {
			f := faults[rng.IntN(len(faults))]
			set := spreadOut(rng, whole).With(f).view(nil, f.part)
			if !set.stand() {
				continue
			}
			answer := func(p Proposal) NodeReading {
				r := NodeReading{What: p.What, Node: p.Node, Part: p.Part, Hz: p.Hz, Value: "0"}
				if p.What == Checked {
					r.Value = Good
				}
				l, err := whole.look(&r)
				if err != nil {
					t.Fatal(err)
				}
				v := set.predict(&l, swingShare).value
				switch {
				case p.What == Checked && v == 1:
					r.Value = Bad
				case p.What == Ohms && v >= mostOhms:
					r.Value = "open"
				case p.What != Checked:
					r.Value = written(v * (1 + 0.01*(2*rng.Float64()-1)))
				}
				return r
			}
			exit := "out"
			if !slices.Contains(whole.Nodes, exit) {
				exit = "collector"
			}
			readings := []NodeReading{answer(Proposal{What: DC, Node: exit})}
			switch {
			case strings.HasPrefix(fam.Name, "Oscillator"):
				readings = append(readings, answer(Proposal{What: Frequency, Node: "out"}))
			case fam.Name == "Rectifier and reservoir":
				readings = append(readings, answer(Proposal{What: Ripple, Node: "out"}))
			default:
				if slices.ContainsFunc(fam.Parts, func(p Part) bool { return p.Kind == Signal }) {
					readings = append(
						readings,
						answer(
							Proposal{
								What: Gain,
								Node: "out",
								Hz:   cmp.Or(map[string]string{"IF stage": "455 kHz", "Trap": "4.5 MHz"}[fam.Name], "1 kHz"),
							},
						),
					)
				}
			}
			r, problems := c.rank(context.Background(), readings, Past{})
			if len(problems) > 0 {
				t.Fatal(fam.Name, problems)
			}
			if !r.shows(f) {
				continue // the complaint would have been another
			}
			tried++
			for range 15 {
				next := r.next()
				if len(next) == 0 {
					break
				}
				readings = append(readings, answer(next[0]))
				taken++
				if r, problems = c.rank(context.Background(), readings, Past{}); len(problems) > 0 {
					t.Fatal(fam.Name, problems)
				}
			}
			hidden := Ranked{Faults: []Fault{f}}
			switch {
			case r.named() && r.replaced(&r.ranked[0]) == r.replaced(&hidden):
				right++
			case r.named():
				wrong++
				fallthrough
			default:
				if testing.Verbose() {
					t.Logf("%s, %s %s: first %s (%.2f)", fam.Name, f.Part, f.What, r.ranked[0].String(), r.ranked[0].Weight)
				}
			}
		}
	}
	t.Logf(
		"%d faults: %d named right (%.1f %%), %d wrong, %.1f readings each after the first two",
		tried,
		right,
		100*float64(right)/float64(tried),
		wrong,
		float64(taken)/float64(tried),
	)
	if tried < 100 || right*10 < 9*tried {
		t.Error("too few parts are named")
	}
}

// stage is a stage of a family between its supplies, fed from a signal and loaded.
func stage(rng *rand.Rand, family string) *Circuit {
	b := &builder{rng: rng}
	b.add(Voltage, "15", nil, "p", "0")
	b.add(Voltage, "-15", nil, "m", "0")
	b.add(Signal, "", nil, "in", "0")
	b.add(Resistor, "600", nil, "in", "first")
	out := families[family](b, "first")
	b.add(Resistor, "47k", nil, out, "0")
	return &Circuit{Name: family, Parts: b.parts}
}

// readOff reads DC and the gain at 1 kHz at every node, behind mains windings the ripple
// and of what has no signal the frequency, with a meter off by up to 1 %.
func readOff(rng *rand.Rand, n *Net) (readings []NodeReading, ok bool) {
	v := n.view(nil)
	if !v.stand() {
		return nil, false
	}
	read := func(r NodeReading, l look) {
		x := v.predict(&l, swingShare).value
		r.Value = written(x * (1 + 0.01*(2*rng.Float64()-1)))
		readings = append(readings, r)
	}
	has := func(k Kind) bool { return slices.ContainsFunc(n.parts, func(p Part) bool { return p.Kind == k }) }
	for i, node := range n.Nodes {
		if slices.ContainsFunc(n.parts, func(p Part) bool { return sortOf(p.Kind).role.feeds() && slices.Contains(p.Nodes, node) }) {
			continue
		}
		read(NodeReading{What: DC, Node: node}, look{what: DC, node: i, to: ground, part: -1})
		switch {
		case has(Signal):
			read(
				NodeReading{What: Gain, Node: node, Hz: "1 kHz"},
				look{what: Gain, node: i, to: ground, from: ground, part: -1, hz: 1000},
			)
		case has(Alternating):
			read(NodeReading{What: Ripple, Node: node}, look{what: Ripple, node: i, to: ground, part: -1})
		}
	}
	if !has(Signal) && !has(Alternating) {
		read(NodeReading{What: Frequency, Node: n.Nodes[0]}, look{what: Frequency, node: 0, to: ground, part: -1})
	}
	return readings, true
}

func BenchmarkRankFortyParts(b *testing.B)   { benchmarkRank(b, 1) }
func BenchmarkRankHundredFifty(b *testing.B) { benchmarkRank(b, 4) }

// benchmarkRank ranks stages of some forty parts, one behind the other.
func benchmarkRank(b *testing.B, times int) {
	r := &builder{rng: rand.New(rand.NewPCG(1, 1))}
	r.add(Voltage, "15", nil, "p", "0")
	r.add(Voltage, "-15", nil, "m", "0")
	r.add(Signal, "", nil, "in", "0")
	r.add(Resistor, "600", nil, "in", "first")
	at := "first"
	for range times {
		for _, name := range []string{"common emitter", "direct coupled", "class-AB output", "common emitter", "long-tailed pair"} {
			at = families[name](r, at)
		}
	}
	c := &Circuit{Parts: r.parts}
	n, problems := c.Read()
	if len(problems) > 0 {
		b.Fatal(problems)
	}
	faulty := n.With(n.Faults()[40])
	rest, err := faulty.Rest()
	if err != nil {
		b.Fatal(err)
	}
	response, err := faulty.Respond(rest, []float64{1000})
	if err != nil {
		b.Fatal(err)
	}
	var readings []NodeReading
	for _, node := range n.Nodes[:12] {
		readings = append(readings, NodeReading{What: DC, Node: node, Value: written(rest.Volts[node])})
	}
	readings = append(readings, NodeReading{What: Gain, Node: at, Hz: "1 kHz", Value: written(response[0].Gain[at])})
	b.Logf("%d parts, %d faults", len(c.Parts), len(n.Faults()))
	for b.Loop() {
		if r, _ := c.rank(context.Background(), readings, Past{}); len(r.ranked) == 0 {
			b.Fatal("nothing")
		}
	}
}
