package trace

import (
	"math"
	"strings"
	"testing"

	"steptrace/core/reading"
	"steptrace/core/sheet/sheettest"
)

// Where the sheet is silent the good channel stands in, once something shows it
// good: the same reading is not judged before, and judged by it afterwards.
func TestTheGoodChannelStandsIn(t *testing.T) {
	l := logbook{t: t, c: side(t, open(t, sheettest.Stereo()), "L0")}
	last := func(f Findings) reading.Judged { return f.Readings[len(f.Readings)-1] }
	l.at("L3", "100 mV")
	if j := last(l.at("L2", "48 mV")); j.Verdict != reading.Unjudged || !strings.Contains(j.Note, "read its twin R2") {
		t.Errorf("%s: %s", j.Verdict, j.Note)
	}
	l.c = side(t, l.c, "R0")
	if j := last(l.at("R2", "480 mV")); j.Verdict != reading.Unjudged {
		t.Errorf("%s: %s", j.Verdict, j.Note)
	}
	f := l.c.Find(l.readings)
	if j := f.Readings[1]; j.Verdict != reading.Unjudged || !strings.Contains(j.Note, "nothing shows that channel good") {
		t.Errorf("%s: %s", j.Verdict, j.Note)
	}
	l.at("R3", "1 V")
	l.c = side(t, l.c, "L0")
	f = l.c.Find(l.readings)
	// 48 mV where its twin reads 480 mV: 20 dB down.
	if j := f.Readings[1]; j.Verdict != reading.Low || j.Twin != "R2" || math.Abs(*j.OffDB+20) > 1e-9 {
		t.Errorf("%s %v against %q", j.Verdict, j.OffDB, j.Twin)
	}
	if p := f.Points[2]; p.Twin != "R2" || p.Expected != "480 mV" || p.Verdict != reading.Low {
		t.Errorf("%+v", p)
	}
	// The good channel is not judged by the bad one, whatever it reads.
	if j := f.Readings[2]; j.Verdict != reading.Unjudged || j.Twin != "" {
		t.Errorf("%s against %q", j.Verdict, j.Twin)
	}
	if f.Stages[2].Standing != Aside || f.Stages[0].Standing != Suspect {
		t.Errorf("%s %s", f.Stages[0].Standing, f.Stages[2].Standing)
	}
	// DC too, within 15 %.
	l.c = side(t, l.c, "R0")
	l.at("R1", "6 V dc")
	l.c = side(t, l.c, "L0")
	if j := last(l.at("L1", "6.8 V dc")); j.Verdict != reading.Within || j.Twin != "R1" || j.Off != "+13.3 %" {
		t.Errorf("%s %s against %q", j.Verdict, j.Off, j.Twin)
	}
	if j := last(l.at("L1", "3 V dc")); j.Verdict != reading.Low || j.Off != "−50 %" {
		t.Errorf("%s %s", j.Verdict, j.Off)
	}
	// While it is typed it is judged the same.
	r, err := l.c.Take(reading.Aim{Point: "L1"}, "3 V dc")
	if err != nil {
		t.Fatal(err)
	}
	if j := l.c.JudgeAmong(l.readings, r); j.Verdict != reading.Low || j.Twin != "R1" {
		t.Errorf("%s against %q", j.Verdict, j.Twin)
	}
}

// The twin is among what has to be shown before a stage is condemned, and speaks
// against it where it is bad too.
func TestTheTwinIsAGround(t *testing.T) {
	s := sheettest.Stereo()
	for i := range s.Stages {
		s.Stages[i].Gain = "13.3333 dB"
	}
	l := logbook{t: t, c: side(t, open(t, s), "L0")}
	l.at("L1", "46 mV")
	f := l.at("L2", "20 mV")
	if !strings.Contains(proofs(f), "twin missing") {
		t.Fatalf("%s: %s", f.Headline, proofs(f))
	}
	l.c = side(t, l.c, "R0")
	l.at("R3", "1 V")
	l.c = side(t, l.c, "L0")
	if f = l.c.Find(l.readings); !strings.Contains(proofs(f), "twin shown") {
		t.Errorf("%s", proofs(f))
	}
	l.c = side(t, l.c, "R0")
	l.at("R2", "20 mV")
	l.c = side(t, l.c, "L0")
	if f = l.c.Find(l.readings); f.Stage != "" && !strings.Contains(proofs(f), "twin against") {
		t.Errorf("%s %s", f.Headline, proofs(f))
	}
}

func side(t *testing.T, c Case, name string) Case {
	t.Helper()
	for i := range c.Plan.Routes {
		if c.Plan.Points[c.Plan.Routes[i].Points[0]].Name == name {
			c.Route = &c.Plan.Routes[i]
			return c
		}
	}
	t.Fatal("no route from " + name)
	return c
}
