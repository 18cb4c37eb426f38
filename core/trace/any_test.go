package trace

import (
	"encoding/json"
	"fmt"
	"math"
	"math/bits"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
	"steptrace/internal/trial"
)

// Every fault in every chain of up to 64 equal stages is named in at most
// ceil(log2 n)+1 readings: halving is optimal and the last one confirms.
func TestChainIsIsolatedInLog2Readings(t *testing.T) {
	t.Parallel()
	most := 0
	longest := trial.Runs(64)
	for n := 1; n <= longest; n++ {
		c := open(t, sheettest.Chain(n, "0 dB"))
		limit := bits.Len(uint(n-1)) + 1
		for fault := range n {
			b := bench{c: c, fault: fault, loss: 20}
			f := c.Find(nil)
			for f.State == Tracing && b.n <= limit {
				f = b.read(t, f.Next.Point)
			}
			if f.State != Named || f.Stage != fmt.Sprintf("s%d", fault) || b.n > limit {
				t.Fatalf("%d stages, fault in s%d: %s %q after %d readings, limit %d", n, fault, f.State, f.Stage, b.n, limit)
			}
			most = max(most, b.n)
		}
	}
	t.Logf("at most %d readings for any fault in any chain up to %d stages", most, longest)
}

// Whatever readings come, findings are whole: no NaN (JSON would refuse it),
// no panic, weights that sum to one, and the same answer twice.
func TestAnyReadingsGiveWholeFindings(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(3, 1))
	texts := []string{"none", "ok", "hum", "0", "10 mV", "1 kV", "1e-300", "3 Vpp", "1 kHz", "5 V dc", "weak", "4k7 ohm", "-3 V dc"}
	for range 400 {
		s := sheettest.Chain(1+rng.IntN(8), []string{"", "0 dB", "40 dB"}[rng.IntN(3)])
		s.Rails = []sheet.Rail{{Name: "+9 V", Value: "9 V"}}
		c := open(t, s)
		var log []reading.Reading
		for range rng.IntN(12) {
			c.Injected = nil
			if rng.IntN(3) == 0 {
				c.Injected = &reading.Injection{At: fmt.Sprintf("p%d", rng.IntN(9)), Level: rng.Float64(), Hz: float64(rng.IntN(3)) * 1000}
			}
			point := fmt.Sprintf("p%d", rng.IntN(len(s.Points)))
			if rng.IntN(6) == 0 {
				point = "+9 V"
			}
			c.Instrument = []string{"", "meter"}[rng.IntN(2)]
			r, err := c.Take(reading.Aim{Point: point}, texts[rng.IntN(len(texts))])
			if err != nil {
				continue
			}
			r.Struck = rng.IntN(8) == 0
			log = append(log, r)
		}
		f := c.Find(log)
		a, err := json.Marshal(f)
		if err != nil {
			t.Fatal(err)
		}
		if b, _ := json.Marshal(c.Find(log)); string(a) != string(b) {
			t.Fatal("two different answers to one question")
		}
		sum := 0.0
		for _, st := range f.Stages {
			sum += st.Weight
		}
		for _, l := range append(slices.Clone(f.Rails), f.Controls...) {
			sum += l.Weight
		}
		if f.Headline == "" || sum > 1+1e-9 || (f.State == Tracing && f.Next == nil) {
			t.Fatalf("%s %q, weights %g, %+v", f.State, f.Headline, sum, f.Next)
		}
	}
}

// A set with one seeded fault, read without error in any order, at any level
// and from any place of injection: the faulty stage is never cleared, no other
// is ever named, nothing is said to contradict, and reading every point ends at
// the right name.
func TestAnyOrderOfReadingsEndsAtTheFault(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(17, 23))
	for round := range 600 {
		n := 1 + rng.IntN(20)
		s := sheettest.Chain(n, "0 dB")
		for i := range s.Stages {
			s.Stages[i].Gain = fmt.Sprintf("%d dB", rng.IntN(31)-15)
		}
		c := open(t, s)
		fault, loss := rng.IntN(n), 4+rng.Float64()*50
		name := fmt.Sprintf("s%d", fault)
		type probe struct{ from, at int }
		var probes []probe
		for at := range n + 1 {
			probes = append(probes, probe{0, at})
			if at > 0 && rng.IntN(2) == 0 {
				probes = append(probes, probe{rng.IntN(at), at})
			}
		}
		rng.Shuffle(len(probes), func(a, b int) { probes[a], probes[b] = probes[b], probes[a] })
		var log []reading.Reading
		var f Findings
		for _, p := range probes {
			// What is fed in is up to 10 dB off the sheet's level there.
			fed := c.Route.Levels[p.from].DBV + rng.Float64()*20 - 10
			c.Injected = &reading.Injection{At: fmt.Sprintf("p%d", p.from), Level: quantity.Times(fed), Hz: 1000}
			out := fed + c.Route.Levels[p.at].DBV - c.Route.Levels[p.from].DBV
			if p.from <= fault && fault < p.at {
				out -= loss
			}
			r, err := c.Take(
				reading.Aim{Point: fmt.Sprintf("p%d", p.at)},
				quantity.Value{SI: quantity.Times(out), Unit: quantity.Volt, Form: quantity.RMS}.String(),
			)
			if err != nil {
				t.Fatal(err)
			}
			log = append(log, r)
			f = c.Find(log)
			if f.Stages[fault].Standing == Cleared || f.State == Conflict || f.State == Source || f.State == Named && f.Stage != name {
				t.Fatalf("round %d, fault in %s: %s %q, it is %s", round, name, f.State, f.Stage, f.Stages[fault].Standing)
			}
		}
		if f.State != Named || f.Stage != name {
			t.Fatalf("round %d: everything was read, and the fault in %s is %s %q", round, name, f.State, f.Headline)
		}
		if g := f.Stages[fault].MeasuredDB; g != nil && math.Abs(*g-(*f.Stages[fault].GainDB-loss)) > 1e-6 {
			t.Fatalf("round %d: gain measured %g, true %g", round, *g, *f.Stages[fault].GainDB-loss)
		}
	}
}

// On whole sets with everything that sets have, whatever is logged of any kind:
// findings are whole, say something, and are the same twice.
func TestAnythingOnAWholeSetGivesWholeFindings(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(6, 66))
	states := map[State]int{}
	for range 300 {
		s := wholeSet(rng)
		for i := range s.Points {
			if rng.IntN(5) == 0 {
				s.Points[i].Expect = append(s.Points[i].Expect, sheet.Expectation{Quantity: sheet.DC, Value: "6 V"})
			}
			if rng.IntN(6) == 0 {
				s.Points[i].Twin = s.Points[(i+1)%len(s.Points)].Name
			}
		}
		for i := range s.Stages {
			if rng.IntN(4) == 0 {
				s.Stages[i].Gain = ""
			}
		}
		c := open(t, s)
		c.History = History{Found: map[string]int{s.Stages[0].Name: 1}, Fits: map[string]bool{}}
		var log []reading.Reading
		take := func(aim reading.Aim, text string) {
			r, err := c.Take(aim, text)
			if err != nil {
				return // refused is fine
			}
			if rng.IntN(8) == 0 {
				r.Without = []string{s.Stages[rng.IntN(len(s.Stages))].Name}
			}
			log = append(log, r)
		}
		for range rng.IntN(25) {
			c.Route = &c.Plan.Routes[rng.IntN(len(c.Plan.Routes))]
			c.Injected = nil
			point := s.Points[rng.IntN(len(s.Points))].Name
			switch rng.IntN(8) {
			case 0:
				c.Injected = &reading.Injection{At: point, Touch: rng.IntN(2) == 0}
			case 1:
				take(
					reading.Aim{Point: s.Stages[rng.IntN(len(s.Stages))].Name, Quantity: sheet.Provocation},
					[]string{"tap comes", "cool goes", "heat nothing"}[rng.IntN(3)],
				)
			case 2:
				take(
					reading.Aim{Point: c.Plan.LineName(rng.IntN(len(c.Plan.Rails) + len(c.Plan.Controls)))},
					[]string{"5 V", "0", "1 V", "ok"}[rng.IntN(4)],
				)
			case 3:
				take(reading.Aim{Point: point, Quantity: sheet.DC}, []string{"6 V", "0.2 V", "-3 V"}[rng.IntN(3)])
			}
			take(reading.Aim{Point: point}, []string{"none", "ok", "hum", "weak", "cuts out", "100 mV", "3 mV", "2 V", "0"}[rng.IntN(9)])
		}
		c.Injected = nil
		f := c.Find(log)
		states[f.State]++
		a, err := json.Marshal(f) // refuses NaN and infinity
		if err != nil {
			t.Fatal(err)
		}
		if b, _ := json.Marshal(c.Find(log)); string(a) != string(b) {
			t.Fatal("two different answers to one question")
		}
		if f.Headline == "" || (f.State == Tracing && f.Next == nil) || len(f.Map) != len(s.Stages) {
			t.Fatalf("%s %q %+v", f.State, f.Headline, f.Next)
		}
	}
	if len(states) < 4 {
		t.Errorf("only these states came about: %v", states)
	}
}
