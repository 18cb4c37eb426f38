package circuit

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"testing"
)

// spreadOut is a circuit as one of many is really built: resistors off by up to 5 %,
// capacitors by 10 %, gains by 30 %.
func spreadOut(rng *rand.Rand, c *Circuit) *Circuit {
	out := *c
	out.Parts = slices.Clone(c.Parts)
	for i := range out.Parts {
		p := &out.Parts[i]
		off := func(most float64) float64 { return 1 + most*(2*rng.Float64()-1) }
		switch p.Kind {
		case Resistor:
			p.Value = times1(p, off(0.05))
		case Capacitor:
			p.Value = times1(p, off(0.1))
		case NPN, PNP:
			if bf, err := strconv.ParseFloat(p.Also["bf"], 64); err == nil {
				p.Also = with(p.Also, "bf", written(bf*off(0.3)))
			}
		}
	}
	return &out
}

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
		b := &builder{rng: rng}
		b.add(Voltage, "15", nil, "p", "0")
		b.add(Voltage, "-15", nil, "m", "0")
		b.add(Signal, "", nil, "in", "0")
		b.add(Resistor, "600", nil, "in", "first")
		out := families[names[seed%len(names)]](b, "first")
		b.add(Resistor, "47k", nil, out, "0")
		c := &Circuit{Parts: b.parts}
		faults := c.Faults()
		f := faults[rng.IntN(len(faults))]
		built := spreadOut(rng, c)
		net, problems := built.With(f).Read()
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		rest, err := net.Rest()
		if err != nil {
			continue
		}
		response, err := net.Respond(rest, []float64{1000})
		if err != nil {
			continue
		}
		whole, _ := c.Read()
		var readings []Reading
		for _, node := range whole.Nodes {
			if node == "p" || node == "m" || node == "in" {
				continue
			}
			off := func() float64 { return 1 + 0.01*(2*rng.Float64()-1) }
			readings = append(readings, Reading{Node: node, Value: rest.Volts[node] * off()}, Reading{Node: node, Hz: 1000, Value: response[0].Gain[node] * off()})
		}
		ranked, problems := c.Rank(readings)
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		at := slices.IndexFunc(ranked, func(r Ranked) bool { return r.Part == f.Part && r.What == f.What })
		healthy := slices.IndexFunc(ranked, func(r Ranked) bool { return r.Part == "" })
		if at < 0 || healthy < 0 {
			continue
		}
		_, spread, _ := c.predict(readings, nil)
		alike := func(x, y Ranked, by float64) bool {
			for i := range readings {
				sigma := math.Hypot(spread[i], 0.01*math.Abs(x.Predicted[i]))
				if math.Abs(x.Predicted[i]-y.Predicted[i]) > by*sigma {
					return false
				}
			}
			return true
		}
		if alike(ranked[at], ranked[healthy], 4) {
			continue // it does not show
		}
		part := c.Parts[slices.IndexFunc(c.Parts, func(p Part) bool { return p.Name == f.Part })].Kind
		if kinds[part] == nil {
			kinds[part] = &tally{}
		}
		k := kinds[part]
		first := at == 0 || alike(ranked[0], ranked[at], 2)
		three := first || at < 3
		for _, x := range []*tally{k, &total} {
			x.shown++
			if first {
				x.first++
			}
			if three {
				x.three++
			}
		}
		if !first && testing.Verbose() {
			t.Logf("%s, %s %s: came %d, first %s %s", names[seed%len(names)], f.Part, f.What, at+1, ranked[0].Part, ranked[0].What)
		}
	}
	for kind, k := range kinds {
		t.Logf("%-12s %3d shown, %3d first, %3d in the first three", kind, k.shown, k.first, k.three)
	}
	t.Logf("all: %s", fmt.Sprintf("%d shown, %d first (%.1f %%), %d in the first three (%.1f %%)", total.shown, total.first, 100*float64(total.first)/float64(total.shown), total.three, 100*float64(total.three)/float64(total.shown)))
	if total.first*100 < 95*total.shown || total.three*100 < 99*total.shown {
		t.Error("too often another fault comes first")
	}
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
		readings = append(readings, Reading{Node: node, Value: rest.Volts[node]})
	}
	readings = append(readings, Reading{Node: at, Hz: 1000, Value: 1})
	b.Logf("%d parts, %d faults", len(c.Parts), len(c.Faults()))
	for b.Loop() {
		if ranked, _ := c.Rank(readings); len(ranked) == 0 {
			b.Fatal("nothing")
		}
	}
}
