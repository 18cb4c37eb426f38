package demo

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"steptrace/core/circuit"
	"steptrace/core/inside"
	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/supply"
	"steptrace/core/trace"
	"steptrace/core/wave"
)

func sheets(t *testing.T) map[string]*sheet.Plan {
	t.Helper()
	out := map[string]*sheet.Plan{}
	err := each("sheets", func(_ string, data []byte) error {
		s, err := sheet.ReadJSON(data)
		if err != nil {
			return err
		}
		plan, problems := s.Plan()
		for _, p := range problems {
			t.Errorf("%s: %s: %s", s.Name(), p.Where, p.Message)
		}
		out[s.Maker+"|"+s.Model] = plan
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// Every level on every route follows from the entry's by adding the gains, to
// what rounding to three figures allows. The sums are done here.
func TestLevelsFollowFromGains(t *testing.T) {
	plans := sheets(t)
	if len(plans) != 5 {
		t.Fatalf("%d sheets", len(plans))
	}
	for name, plan := range plans {
		for _, r := range plan.Routes {
			level := math.NaN()
			if plan.Points[r.Points[0]].Source {
				continue // an oscillator's level is not made by gains
			}
			for i, at := range r.Points {
				for _, e := range plan.Points[at].Expect {
					if e.Quantity != sheet.AC {
						continue
					}
					v, err := quantity.ParseAs(e.Value, quantity.Volt)
					if err != nil {
						t.Fatal(err)
					}
					form := v.Form
					if form == quantity.Unstated {
						form = quantity.RMS
					}
					rms, err := quantity.Shape(e.Shape).Convert(v.SI, form, quantity.RMS)
					if err != nil {
						t.Fatal(err)
					}
					stated := 20 * math.Log10(rms)
					if i == 0 {
						level = stated
					}
					if math.Abs(stated-level) > 0.05 {
						t.Errorf("%s, %s: %s is stated %.2f dBV, the gains make %.2f", name, r.Name, plan.Points[at].Name, stated, level)
					}
				}
				if i < len(r.Stages) {
					db, err := quantity.ParseGain(plan.Stages[r.Stages[i]].Gain)
					if err != nil {
						t.Fatal(err)
					}
					level += db
				}
			}
		}
	}
}

// The readings of the demo jobs are those of a set with the named fault, read
// with a meter good to 0.5 dB; and tracing on by Step Trace's own proposals,
// answered from that fault, ends at its stage.
func TestJobsComeFromTheirFaults(t *testing.T) {
	plans := sheets(t)
	entries, err := files.ReadDir("jobs")
	if err != nil || len(entries) != len(Faults) {
		t.Fatalf("%d jobs, %v", len(entries), err)
	}
	for _, entry := range entries {
		data, err := files.ReadFile("jobs/" + entry.Name())
		if err != nil {
			t.Fatal(err)
		}
		f, err := job.ReadJSON(data)
		if err != nil {
			t.Fatal(err)
		}
		fault := Faults[f.Number]
		if d := f.Sheet.Document; d != nil { // begun from a pattern
			plans[f.Sheet.Maker+"|"+f.Sheet.Model], _ = d.Plan()
		}
		if err := f.Take(plans[f.Sheet.Maker+"|"+f.Sheet.Model], uuid.NewString); err != nil {
			t.Errorf("%s: %v", entry.Name(), err)
		}
		if fault.Effect != standin.Weak { // in no stage, or not all the time
			continue
		}
		f.Readings, f.Repairs = asItCameIn(f), nil
		plan := plans[f.Sheet.Maker+"|"+f.Sheet.Model]
		c, ok := f.Case(plan)
		if !ok || c.Route.Key != f.Route {
			t.Fatalf("%s: no route %q", entry.Name(), f.Route)
		}
		broken := slices.IndexFunc(c.Route.Stages, func(s int) bool { return plan.Stages[s].Name == fault.Block })
		level := func(at int) float64 {
			dbv := c.Route.Levels[at].DBV
			if at > broken {
				dbv -= fault.Size
			}
			return dbv
		}
		for _, r := range f.Readings {
			p, _ := plan.PointIndex(r.Point)
			at, on := c.Route.At(p)
			if r.Quantity != sheet.AC || r.Word != "" || !on {
				continue
			}
			if off := 20*math.Log10(r.SI) - level(at); math.Abs(off) > 0.5 {
				t.Errorf("%s: %s %s is %.2f dB off what the fault gives", entry.Name(), r.Point, r.Text, off)
			}
		}
		c.Power = reading.PowerOn // switched on to go on
		log := f.Plain(plan)
		found := c.Find(log)
		for range 10 {
			if found.State != trace.Tracing {
				break
			}
			asked := c
			asked.Route, _ = plan.Route(found.Next.Route)
			asked.Injected = found.Next.Injected
			point, _ := plan.PointIndex(found.Next.Point)
			at, _ := asked.Route.At(point)
			dbv := asked.Route.Levels[at].DBV
			if asked.Injected == nil &&
				slices.ContainsFunc(asked.Route.Stages[:at], func(s int) bool { return plan.Stages[s].Name == fault.Block }) {
				dbv -= fault.Size
			}
			v := quantity.Value{SI: quantity.Times(dbv), Unit: quantity.Volt, Form: quantity.RMS}
			r, err := asked.Take(reading.Aim{Point: found.Next.Point}, v.Short(3))
			if err != nil {
				t.Fatal(err)
			}
			log = append(log, r)
			found = c.Find(log)
		}
		if found.State != trace.Named || found.Stage != fault.Block {
			t.Errorf("%s: %s %q after %d readings, the fault is in %s", entry.Name(), found.State, found.Stage, len(log), fault.Block)
		}
		if f.Finished != nil && !strings.Contains(f.Stage, fault.Block) {
			t.Errorf("%s was finished as %q", entry.Name(), f.Stage)
		}
	}
}

// jobFile is a job of the demo.
func jobFile(t *testing.T, name string) *job.File {
	t.Helper()
	data, err := files.ReadFile("jobs/" + name)
	if err != nil {
		t.Fatal(err)
	}
	f, err := job.ReadJSON(data)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

// opened is one with its case.
func opened(t *testing.T, plans map[string]*sheet.Plan, name string) (*job.File, trace.Case) {
	t.Helper()
	f := jobFile(t, name)
	c, ok := f.Case(plans[f.Sheet.Maker+"|"+f.Sheet.Model])
	if !ok {
		t.Fatal("no route")
	}
	return f, c
}

// asItCameIn are a job's readings of the set as it was before anything was done to it.
func asItCameIn(f *job.File) []job.Logged {
	return slices.DeleteFunc(
		slices.Clone(f.Readings),
		func(r job.Logged) bool { return len(f.Repairs) > 0 && r.Taken.After(f.Repairs[0].At) },
	)
}

// One job was shown repaired before it went back, with nothing open; one is on the way: what
// reads right again is that of a sound set, and the rest is asked for.
func TestRepairsAreShown(t *testing.T) {
	plans := sheets(t)
	for name, want := range map[string]trace.State{"0139-corvane-hl-120.json": trace.Repaired, "0146-tavrin-sa-22.json": trace.Verifying} {
		f, c := opened(t, plans, name)
		plan := c.Plan
		if err := f.Take(plan, uuid.NewString); err != nil {
			t.Errorf("%s: %v", name, err)
		}
		found := c.Find(f.Plain(plan))
		if found.State != want {
			t.Errorf("%s: %s: %s", name, found.State, found.Headline)
		}
		if open := f.StillOpen(plan, &found); want == trace.Repaired && len(open) > 0 {
			t.Errorf("%s went back with %+v", name, open)
		}
		for _, r := range f.Readings[len(asItCameIn(f)):] {
			p, _ := plan.PointIndex(r.Point)
			if at, on := c.Route.At(p); r.Quantity == sheet.AC && (!on || math.Abs(20*math.Log10(r.SI)-c.Route.Levels[at].DBV) > 0.5) {
				t.Errorf("%s: after the repair %s reads %s", name, r.Point, r.Text)
			}
		}
	}
}

// One job is at the matrix: it alone leaves two suspects. In another a rail is
// shorted, and the search for what shorts it is still to be made.
func TestJobsBeforeTheFirstProbe(t *testing.T) {
	plans := sheets(t)
	f, c := opened(t, plans, "0147-tavrin-sa-22.json")
	m := c.Matrix(f.Plain(c.Plan), nil)
	if len(m.Left) != 2 || m.Left[0].Name != "K1 contact, left" || m.Left[1].Name != "S2 speaker switch, left" {
		t.Errorf("the matrix leaves %v", m.Left)
	}
	f, c = opened(t, plans, "0148-wexlow-pt-9.json")
	found := c.Find(f.Plain(c.Plan))
	for _, r := range supply.Explain(c.Plan, &found) {
		if r.Name != "+12 V" {
			continue
		}
		if r.State != supply.Missing || r.Hunt == nil || r.Hunt.Lift == nil || r.Hunt.Lift.Names[0] != "plug P7" || len(r.Hunt.Hangs) != 8 {
			t.Errorf("%+v", r)
		}
	}
	for name, plan := range plans {
		if len(plan.Rails) == 0 || len(plan.Reservoirs) == 0 || len(plan.Sheet.Hazards) == 0 || len(plan.Sheet.WeakSpots) == 0 {
			t.Errorf("%s lacks rails, reservoirs, hazards or weak spots", name)
		}
	}
}

// The simulated set of every sheet, in order, shows at every point of every route the
// level that the sheet has there, and its DC.
func TestSimulatedSetsShowTheirSheets(t *testing.T) {
	for name, plan := range sheets(t) {
		set, err := standin.New(plan, standin.Fault{})
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range plan.Routes {
			stand := standin.Stand{On: true, Mode: r.Mode, Fed: &standin.Feed{At: plan.Points[r.Points[0]].Name}}
			oscillator := plan.Points[r.Points[0]].Source // it swings whatever is fed in elsewhere
			if oscillator {
				stand.Fed.At = plan.Points[plan.Routes[0].Points[0]].Name
			}
			for i, at := range r.Points {
				level := r.Levels[i]
				if !level.Known || oscillator && i != 1 {
					continue
				}
				hz := level.Hz
				if hz == 0 {
					hz = 1000
				}
				point := plan.Points[at].Name
				ch := wave.Channel{Samples: set.Waveform(point, stand, 50*hz, 20_000, 0.3)}
				if off := 20*math.Log10(ch.RMS()) - level.DBV; math.Abs(off) > 0.5 {
					t.Errorf("%s, %s: %s is %.2f dB off its sheet", name, r.Name, point, off)
				}
				if e, ok := plan.Expect(at, sheet.DC, r.Mode); ok && math.Abs(set.Volts(point, stand)-e.Value.SI) > 1e-9 {
					t.Errorf("%s: %s stands at %g V", name, point, set.Volts(point, stand))
				}
			}
		}
	}
}

// The captures that a demo job brings show what its fault leaves: of each point the signal
// as the sheet has it before the fault, and nothing behind it.
func TestCapturesComeFromTheirFaults(t *testing.T) {
	plans := sheets(t)
	f := jobFile(t, "0147-tavrin-sa-22.json")
	plan := plans["Tavrin|SA-22"]
	if err := f.Take(plan, uuid.NewString); err != nil || len(f.Captures) != 3 {
		t.Fatal(len(f.Captures), err)
	}
	c, _ := f.Case(plan)
	for _, capture := range f.Captures {
		read, err := wave.Read(context.Background(), capture.Data, capture.Said)
		if err != nil {
			t.Fatal(err)
		}
		due, why, ok := c.Due(reading.Reading{Point: capture.Points[0], Mode: capture.Mode, Instrument: capture.Instrument})
		if !ok {
			t.Fatalf("%s: %s", capture.Points[0], why)
		}
		off := 20 * math.Log10(max(read.Channels[0].RMS(), 1e-9)/due.RMS)
		if behind := capture.Points[0] == "LS L"; behind && off > -Faults[147].Size+6 || !behind && math.Abs(off) > 0.5 {
			t.Errorf("%s is %.1f dB off what is due", capture.Points[0], off)
		}
	}
}

// Picture signals, a supply that comes up, a sweep and a mask: the demo's captures are what their sheets and readings say.
func TestCapturesAreOfTheirKinds(t *testing.T) {
	read := func(c *job.Capture) (*wave.Capture, wave.Figures) {
		got, err := wave.Read(context.Background(), c.Data, c.Said)
		if err != nil {
			t.Fatal(c.Name, err)
		}
		return got, got.Channels[0].Measure(got.Rate, wave.Site{Mains: wave.MainsHz})
	}
	is := func(c *job.Capture, f *wave.Figures, kind wave.Character, figures map[string]float64) {
		t.Helper()
		if f.Kind != kind {
			t.Errorf("%s is %s", c.Name, f.Kind)
		}
		for key, want := range figures {
			if x, ok := f.Find(key); !ok || math.Abs(x.Value/want-1) > 0.03 {
				t.Errorf("%s: %s is %s, not %g", c.Name, key, x.Text, want)
			}
		}
	}
	var good []*wave.Reference
	hall := jobFile(t, "0139-corvane-hl-120.json")
	for i := range hall.Captures {
		c := &hall.Captures[i]
		got, f := read(c)
		if c.Good {
			is(c, &f, wave.Tone, map[string]float64{"ac": 20, "frequency": 1000}) // as the sheet has T2-1
			good = append(good, got.Reference(0))
		} else {
			is(c, &f, wave.Swept, map[string]float64{"level": 20, "sweep": 6000})
		}
	}
	for i := range good {
		others := slices.Delete(slices.Clone(good), i, i+1)
		m, err := wave.MaskOf(others, wave.Site{Mains: wave.MainsHz})
		if err != nil {
			t.Fatal(err)
		}
		if c, ok := wave.Compare(&good[i].Channel, good[i].Rate, &m.Reference, wave.Site{Mains: wave.MainsHz}); !ok || len(c.Defects) > 0 {
			t.Errorf("good capture %d: %+v", i+1, c.Defects)
		}
	}
	monitor := jobFile(t, "0140-hesper-club-monitor.json")
	for i := range monitor.Captures {
		c := &monitor.Captures[i]
		_, f := read(c)
		if c.Points[0] == "+26 V" {
			is(c, &f, wave.Once, map[string]float64{"final": 25.6}) // as it was read
			continue
		}
		is(c, &f, wave.Video, map[string]float64{"linehz": 15625, "sync": 0.3, "picture": 0.7, "steps": 7}) // 1 V, as the sheet has it
	}
}

// Each faulty stage has its circuit: following Step Trace's own proposals inside it, with
// readings computed from the fault, ends at the part that has failed.
func TestInsideEndsAtThePart(t *testing.T) {
	plans := sheets(t)
	for number, name := range map[int]string{139: "Corvane|HL-120", 142: "Ostrel|RT-7", 145: "Fennick|MR-41", 147: "Tavrin|SA-22",
		148: "Wexlow|PT-9"} {
		plan, fault := plans[name], Faults[number]
		if number == 148 { // its rail was shorted by a capacitor, and the fuse went
			fault = standin.Fault{Block: "+12 V", Part: "C611", What: "shorted"}
		}
		pc, ok := plan.Circuit(fault.Block)
		if !ok {
			t.Errorf("%s has no circuit of %s", name, fault.Block)
			continue
		}
		all := pc.Net.Faults()
		broken := pc.Net.With(
			all[slices.IndexFunc(all, func(f circuit.Fault) bool { return f.Part == fault.Part && f.What == fault.What })],
		)
		if number == 148 {
			broken = broken.With(all[slices.IndexFunc(all, func(f circuit.Fault) bool { return f.Part == "F502" && f.What == "open" })])
		}
		c := trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
		for i := range plan.Routes { // the route that the stage lies on
			if slices.ContainsFunc(plan.Routes[i].Stages, func(k int) bool { return plan.Stages[k].Name == fault.Block }) {
				c.Route = &plan.Routes[i]
				break
			}
		}
		var entries []inside.Entry
		if number == 148 { // as the bench has read it: a fuse that went is a symptom
			short := circuit.NodeReading{What: circuit.Ohms, Node: "+12 V"}
			short.Value, _ = broken.Shows("", short)
			entries = []inside.Entry{{ID: "short", Stage: fault.Block, Reading: &short}}
		}
		var v *inside.View
		for step := range 12 {
			var err error
			if v, err = inside.Look(context.Background(), c, fault.Block, inside.Record{Entries: entries}); err != nil || !v.Circuit {
				t.Fatal(name, err, v.Problems)
			}
			if len(v.Diagnosis.Next) == 0 {
				break
			}
			p := v.Diagnosis.Next[0]
			r := circuit.NodeReading{What: p.What, Node: p.Node, Part: p.Part, Hz: p.Hz}
			if p.What == circuit.Checked {
				r.Value = circuit.Good
				if p.Part == fault.Part || number == 148 && p.Part == "F502" {
					r.Value = circuit.Bad
				}
			} else if r.Value, ok = broken.Shows(v.Entry, r); !ok {
				t.Fatal(name, r)
			}
			entries = append(entries, inside.Entry{ID: fmt.Sprint(step), Stage: fault.Block, Reading: &r})
		}
		named := slices.ContainsFunc(v.Diagnosis.Ranked[0].Faults, func(f circuit.Fault) bool { return f.Part == fault.Part })
		t.Logf("%d %s: %s after %d readings", number, fault.Block, v.Says, len(entries))
		if !named || !v.Diagnosis.Explained {
			for _, e := range entries {
				t.Log(inside.Says(e.Reading))
			}
			t.Errorf("%d %s: %s, not %s %s", number, fault.Block, v.Says, fault.Part, fault.What)
		}
	}
}

// A simulated set with one part failed shows what its stage's circuit does with it: the loss
// behind it, the DC and the ohms at its nodes.
func TestASimulatedPartFails(t *testing.T) {
	plan := sheets(t)["Ostrel|RT-7"]
	good, err := standin.New(plan, standin.Fault{})
	if err != nil {
		t.Fatal(err)
	}
	on := standin.Stand{On: true, Mode: "tape"}
	rms := func(s *standin.Set, at string) float64 {
		return (&wave.Channel{Samples: s.Waveform(at, on, 100e3, 20000, 0)}).RMS()
	}
	dried, err := standin.New(plan, Faults[142])
	if err != nil {
		t.Fatal(err)
	}
	// Without C212 the whole of R216 + R217 stands in the emitter: (110 + 750 + r)/(110 + r), r = 26 mV / 2 mA.
	want := 20 * math.Log10((110+750+13)/(110+13.0))
	if loss := 20 * math.Log10(rms(good, "Q204 c")/rms(dried, "Q204 c")); math.Abs(loss-want) > 0.2 {
		t.Errorf("a loss of %.2f dB, not %.2f", loss, want)
	}
	if v := dried.Volts("Q204 e", on); math.Abs(v-1.7) > 0.1 {
		t.Errorf("%g V at the emitter", v)
	}
	shorted, err := standin.New(plan, standin.Fault{Block: "Q204 make-up", Part: "R214", What: "open"})
	if err != nil {
		t.Fatal(err)
	}
	if v, before := shorted.Volts("Q204 c", on), good.Volts("Q204 c", on); v > before/2 { // it saturates
		t.Errorf("%g V at the collector, %g V before", v, before)
	}
	if r := dried.Ohms("Q204 e", standin.Stand{}); math.Abs(r-860) > 20 { // R216 and R217
		t.Errorf("%g ohms at the emitter", r)
	}
	if _, err := standin.New(plan, standin.Fault{Block: "Q204 make-up", Part: "R999", What: "open"}); err == nil {
		t.Error("a part that is not there fails")
	}
}
