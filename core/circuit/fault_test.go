package circuit

import (
	"math/rand/v2"
	"slices"
	"strconv"
	"testing"
)

// spreadOut is a circuit as one of many is really built: resistors off by up to 5 %,
// capacitors by 10 %, gains by 30 %.
func spreadOut(rng *rand.Rand, n *Net) *Net {
	out := n.copied()
	for i := range out.elements {
		off := func(field int, most float64) {
			out.set(i, field, out.elements[i].v[field]*(1+most*(2*rng.Float64()-1)))
		}
		switch out.elements[i].kind {
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

// Single faults of all kinds in every family, in sets as they are really built, read at
// every node with a meter off by up to 1 %, DC and the signal: the true fault comes first,
// or with those in the first group that no reading could tell from it.
func TestTheTrueFaultComesFirst(t *testing.T) {
	rng := rand.New(rand.NewPCG(55, 5))
	var names []string
	for name := range families {
		names = append(names, name)
	}
	slices.Sort(names)
	type tally struct{ shown, first, three int }
	kinds := map[Kind]*tally{}
	total := tally{}
	const rounds = 40
	for seed := range rounds * len(names) {
		c := stage(rng, names[seed%len(names)])
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
		r, problems := c.rank(readings)
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		hidden := Ranked{Faults: []Fault{f}}
		at := slices.IndexFunc(r.ranked, func(x Ranked) bool { return x.is(&hidden) })
		healthy := Ranked{view: whole.view(nil), Predicted: make([]float64, len(readings)), sigmas: make([]float64, len(readings))}
		r.try(&healthy, true)
		r.try(&healthy, false)
		faulty := Ranked{Faults: []Fault{f}, Predicted: make([]float64, len(readings)), sigmas: make([]float64, len(readings))}
		r.try(&faulty, true)
		if faulty.view == nil {
			continue
		}
		r.try(&faulty, false)
		if r.alikeBy(&healthy, &faulty, 4) {
			continue // it does not show
		}
		kind := whole.parts[f.part].Kind
		if kinds[kind] == nil {
			kinds[kind] = &tally{}
		}
		first := at >= 0 && r.ranked[at].Group == 0
		three := first || at >= 0 && at < 3
		for _, x := range []*tally{kinds[kind], &total} {
			x.shown++
			if first {
				x.first++
			}
			if three {
				x.three++
			}
		}
		if !first && testing.Verbose() {
			t.Logf("%s, %s %s: came %d, first %s", names[seed%len(names)], f.Part, f.What, at+1, r.ranked[0].String())
		}
	}
	for kind, k := range kinds {
		t.Logf("%-12s %3d shown, %3d first, %3d in the first three", kind, k.shown, k.first, k.three)
	}
	t.Logf("all: %d shown, %d first (%.1f %%), %d in the first three (%.1f %%)", total.shown, total.first, 100*float64(total.first)/float64(total.shown), total.three, 100*float64(total.three)/float64(total.shown))
	if total.first*100 < 95*total.shown || total.three*100 < 99*total.shown {
		t.Error("too often another fault comes first")
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
	return &Circuit{Parts: b.parts}
}

// readOff reads DC and the gain at 1 kHz at every node, with a meter off by up to 1 %.
func readOff(rng *rand.Rand, n *Net) (readings []Reading, ok bool) {
	rest, err := n.Rest()
	if err != nil {
		return nil, false
	}
	response, err := n.Respond(rest, []float64{1000})
	if err != nil {
		return nil, false
	}
	for _, node := range n.Nodes {
		if node == "p" || node == "m" || node == "in" {
			continue
		}
		off := func(x float64) string { return written(x * (1 + 0.01*(2*rng.Float64()-1))) }
		readings = append(readings, Reading{What: DC, Node: node, Value: off(rest.Volts[node])}, Reading{What: Gain, Node: node, Hz: "1 kHz", Value: off(response[0].Gain[node])})
	}
	return readings, true
}

func BenchmarkRankFortyParts(b *testing.B) {
	r := &builder{rng: rand.New(rand.NewPCG(1, 1))}
	r.add(Voltage, "15", nil, "p", "0")
	r.add(Voltage, "-15", nil, "m", "0")
	r.add(Signal, "", nil, "in", "0")
	r.add(Resistor, "600", nil, "in", "first")
	at := "first"
	for _, name := range []string{"common emitter", "direct coupled", "class-AB output", "common emitter", "long-tailed pair"} {
		at = families[name](r, at)
	}
	c := &Circuit{Parts: r.parts}
	n, problems := c.Read()
	if len(problems) > 0 {
		b.Fatal(problems)
	}
	rest, err := n.Rest()
	if err != nil {
		b.Fatal(err)
	}
	var readings []Reading
	for _, node := range n.Nodes[:12] {
		readings = append(readings, Reading{What: DC, Node: node, Value: written(rest.Volts[node])})
	}
	readings = append(readings, Reading{What: Gain, Node: at, Hz: "1 kHz", Value: "1"})
	b.Logf("%d parts, %d faults", len(c.Parts), len(n.Faults()))
	for b.Loop() {
		if r, _ := c.rank(readings); len(r.ranked) == 0 {
			b.Fatal("nothing")
		}
	}
}
