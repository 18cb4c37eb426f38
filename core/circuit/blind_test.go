package circuit_test

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/circuit"
	"steptrace/internal/trial"
)

// How the ranking comes out on sets that it does not suppose (blind_sets_test.go).

// usualIn is how often a kind of part fails beside others, and how, roughly as books on reliability have it; in the sets of
// the second kind faults are as frequent.
var usualIn = map[circuit.Kind]map[string]float64{
	circuit.Resistor:  {"open": 0.5, "drifted": 0.42, "shorted": 0.05},
	circuit.Capacitor: {"open": 1, "shorted": 1.2, "leaky": 0.8, "low in capacitance": 0.5, "of high ESR": 0.5},
	circuit.NPN:       usualTransistor, circuit.PNP: usualTransistor,
	circuit.Diode: usualDiode, circuit.Zener: usualDiode,
	circuit.NJFET:    {"shorted from drain to source": 1.2, "leaky at its gate": 0.8, "open at its source": 0.4},
	circuit.OpAmp:    {"stuck at its upper supply": 1, "stuck at its lower supply": 1, "dead, its output open": 0.8},
	circuit.Pot:      {"open at its wiper": 2, "open at one end": 1},
	circuit.Contact:  {"open": 3, "resistive": 2},
	circuit.Joint:    {"open": 2, "resistive": 1},
	circuit.Inductor: {"open": 0.3, "shorted in its turns": 0.3},
	circuit.Relay:    {"open in its coil": 1},
}

var usualTransistor = map[string]float64{
	"shorted from collector to emitter": 1,
	"shorted from base to emitter":      0.4,
	"shorted from collector to base":    0.4,
	"open at its base":                  0.3,
	"open at its collector":             0.3,
	"open at its emitter":               0.3,
	"of little gain":                    0.2,
	"leaky from collector to base":      0.1,
	"leaky from collector to emitter":   0.1,
}

var usualDiode = map[string]float64{"shorted": 1, "open": 0.6, "leaky": 0.3}

// drawFault picks a part and what happens to it: any alike, or as often as usual.
func (w *iron) drawFault(asUsual bool) (at int, what string) {
	total := 0.0
	for i := range w.parts {
		if w.parts[i].In == circuit.Outside {
			continue
		}
		names := make([]string, 0, 9)
		for name := range breaks[w.parts[i].Kind] {
			names = append(names, name)
		}
		slices.Sort(names)
		for _, name := range names {
			weight := 1 / float64(len(names))
			if asUsual {
				weight = usualIn[w.parts[i].Kind][name]
			}
			if total += weight; w.rng.Float64()*total < weight {
				at, what = i, name
			}
		}
	}
	return at, what
}

// outcome is how faults came out that show.
type outcome struct {
	all, first, three int
	two, wide         int
	said, right       [10]float64 // by tenths of what it says of the part that it puts first
	count             [10]int
	kinds             map[string]*[3]int
}

// add takes one diagnosis in.
func (o *outcome) add(key, part, what string, d *circuit.Diagnosis) (where int, first bool) {
	where = slices.IndexFunc(d.Ranked, func(x circuit.Ranked) bool { return len(x.Faults) == 1 && same(x.Faults[0], part, what) })
	first = where >= 0 && d.Ranked[where].Group == 0
	if o.kinds[key] == nil {
		o.kinds[key] = &[3]int{}
	}
	o.all++
	o.kinds[key][0]++
	if first {
		o.first++
		o.kinds[key][1]++
	}
	if first || where >= 0 && where < 3 {
		o.three++
		o.kinds[key][2]++
	}
	if len(d.Ranked[0].Faults) == 2 {
		o.two++
	}
	shares := map[string]float64{}
	for _, x := range d.Ranked {
		if x.Group == 0 {
			o.wide++
		}
		name := "?"
		if len(x.Faults) == 1 {
			name = x.Faults[0].Part
		}
		shares[name] += x.Weight
	}
	best, most := "", 0.0
	for name, x := range shares {
		if x > most {
			best, most = name, x
		}
	}
	bin := min(int(10*most), 9)
	o.count[bin]++
	o.said[bin] += most
	if best == part {
		o.right[bin]++
	}
	return where, first
}

// blindRun draws so many faults in every circuit.
func blindRun(t *testing.T, rng *rand.Rand, runs int, asUsual bool) *outcome {
	o := &outcome{kinds: map[string]*[3]int{}}
	list := blinds(t)
	for i := range list {
		b := &list[i]
		mean, sd, ok := b.usual(rng)
		if !ok {
			t.Fatal(b.name, "does not settle")
		}
		whole, _ := (&circuit.Circuit{Parts: b.parts}).Read()
		for left, tries := runs, 0; left > 0 && tries < 8*runs; tries++ {
			w := &iron{rng: rng, parts: slices.Clone(b.parts)}
			at, what := w.drawFault(asUsual)
			w.spread(whole)
			p := w.parts[at]
			breaks[p.Kind][what](w, whole, &p)
			w.parts[at] = p
			readings, ok := w.read(b, b.nodes())
			if !ok {
				continue
			}
			shown := 0.0
			given := make([]circuit.NodeReading, len(readings))
			for k, r := range readings {
				shown = max(shown, math.Abs(r.x-mean[k])/math.Hypot(sd[k], 0.004+0.01*math.Abs(mean[k])))
				given[k] = r.NodeReading
			}
			if shown < 4.5 {
				continue // nobody would have looked for it here
			}
			left--
			d, problems := (&circuit.Circuit{Name: b.name, Parts: b.parts}).Diagnose(context.Background(), given, circuit.Past{})
			if len(problems) > 0 {
				t.Fatal(b.name, p.Name, what, problems)
			}
			where, first := o.add(string(p.Kind)+" "+what, p.Name, what, d)
			if !first && testing.Verbose() {
				t.Logf(
					"%s: %s %s came %d; first %s, %.2f, off %.2f",
					b.name,
					p.Name,
					what,
					where+1,
					d.Ranked[0].Says,
					d.Ranked[0].Weight,
					d.Ranked[0].Off,
				)
			}
		}
	}
	return o
}

func (o *outcome) share(n int) float64 { return 100 * float64(n) / float64(max(o.all, 1)) }

func (o *outcome) tell(t *testing.T, name string) {
	keys := make([]string, 0, len(o.kinds))
	for k := range o.kinds {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	for _, k := range keys {
		t.Logf("%-45s %3d, %3d first, %3d within three", k, o.kinds[k][0], o.kinds[k][1], o.kinds[k][2])
	}
	for i, n := range o.count {
		if n > 0 {
			t.Logf("said %.0f %%: right %.0f %% of %d", 100*o.said[i]/float64(n), 100*o.right[i]/float64(n), n)
		}
	}
	t.Logf(
		"%s, %d faults: %.1f %% first or inseparable from it, %.1f %% with it or within three; two faults offered in %.1f %%; "+
			"%.1f in the first group",
		name,
		o.all,
		o.share(o.first),
		o.share(o.three),
		o.share(o.two),
		float64(o.wide)/float64(o.all),
	)
}

// The true fault comes first, or cannot be told from what does; two are hardly ever offered for one; and what is said to
// be likely by so many in a hundred is right so often, where parts fail as often as they do.
func TestBlindRanking(t *testing.T) {
	rng := rand.New(rand.NewPCG(151, 15))
	alike := blindRun(t, rng, trial.Runs(32), false)
	alike.tell(t, "any fault alike")
	if slack := 400 / math.Sqrt(float64(alike.all)) / 7; alike.share(alike.first) < 97-slack || alike.share(alike.three) < 98.5-slack ||
		alike.share(alike.two) > 2 {
		t.Error("too often another comes first")
	}
	usual := blindRun(t, rng, trial.Runs(120), true)
	usual.tell(t, "as often as they fail")
	for i := 5; i < 10; i++ {
		n := float64(usual.count[i])
		if n < 60 {
			continue
		}
		said, right := usual.said[i]/n, usual.right[i]/n
		if chance := 2.5 * math.Sqrt(said*(1-said)/n); math.Abs(said-right) > 0.03+chance {
			t.Errorf("what it calls %.0f %% is right in %.0f %% of %.0f", 100*said, 100*right, n)
		}
	}
}
