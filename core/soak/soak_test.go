package soak

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"
)

// long is an invented plan: two heat sinks, one typed, an offset.
func long(t *testing.T) *Planned {
	t.Helper()
	p := &Plan{
		Steps: []Step{
			{Name: "idle", Do: Idle, Minutes: 10},
			{Name: "drive", Do: Drive, Minutes: 120, Signal: &Signal{Level: "1 V", From: "50 Hz", To: "5 kHz", Sweep: 60, Rest: 30}},
		},
		Traces: []Trace{
			{Name: "sink A", What: Temperature, Twin: "sink B", Instrument: "m", Input: 1, Most: "65 °C", Apart: "6 °C", Rate: "20 °C"},
			{Name: "sink B", What: Temperature, Instrument: "m", Input: 2, Most: "65 °C"},
			{Name: "offset A", What: Offset, Most: "40 mV", Least: "-40 mV"},
		},
	}
	out, err := p.Read()
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func TestPlansAreRead(t *testing.T) {
	p := long(t)
	if p.Length() != 130*60 || p.Twin[0] != 1 || p.Twin[1] != -1 || p.Limits[2].Least != -0.04 || !math.IsNaN(p.Limits[1].Apart) {
		t.Errorf("%+v", p)
	}
	if step, since, running := p.Step(700); step != 1 || since != 600 || !running {
		t.Error(step, since, running)
	}
	if _, _, running := p.Step(130 * 60); running {
		t.Error("it runs beyond its end")
	}
	for text, change := range map[string]func(p *Plan){
		"1 to 40 steps":         func(p *Plan) { p.Steps = nil },
		"logs 1 to 32":          func(p *Plan) { p.Traces = nil },
		"more than none":        func(p *Plan) { p.Steps[0].Minutes = math.NaN() },
		"not a temperature":     func(p *Plan) { p.Traces[0].Most = "65 V" },
		"character":             func(p *Plan) { p.Traces[0].Most = "warm" },
		"is not logged":         func(p *Plan) { p.Traces[0].Twin = "sink C" },
		"two traces":            func(p *Plan) { p.Traces[1].Name = "sink A" },
		"is not above zero":     func(p *Plan) { p.Traces[0].Rate = "-3 °C" },
		"is not above at least": func(p *Plan) { p.Traces[2].Least = "50 mV" },
		"a level and a freq":    func(p *Plan) { p.Steps[1].Signal.From = "" },
		"cannot be fed in":      func(p *Plan) { p.Steps[1].Signal.Level = "5 kV" },
		"every 1 to 3600":       func(p *Plan) { p.Every = 0.2 },
		"nothing that is log":   func(p *Plan) { p.Traces[0].What = "mood" },
	} {
		q := *p.Plan
		q.Steps, q.Traces = slices.Clone(q.Steps), slices.Clone(q.Traces)
		signal := *q.Steps[1].Signal
		q.Steps[1].Signal = &signal
		change(&q)
		if _, err := q.Read(); err == nil || !strings.Contains(err.Error(), text) {
			t.Errorf("%v, expected %q", err, text)
		}
	}
}

// A sweep goes up and down again by octaves, and is silent between; at the middle of the way up it is at the geometric mean.
func TestSignalMoves(t *testing.T) {
	m := long(t).Moves[1]
	for at, want := range map[float64][2]float64{0: {1, 50}, 15: {1, 500}, 30: {1, 5000}, 45: {1, 500}, 70: {0, 50}, 90: {1, 50}} {
		if level, hz := m.At(at); level != want[0] || math.Abs(hz/want[1]-1) > 1e-9 {
			t.Errorf("%g s: %g V, %g Hz", at, level, hz)
		}
	}
}

// course is a rise of the first order from 20 °C, a point a minute.
func course(rise, tau, until float64) Course {
	var c Course
	for s := 0.0; s <= until; s += 60 {
		c.Points = append(c.Points, Point{s, 20 + rise*(1-math.Exp(-s/tau))})
	}
	return c
}

func TestWhatIsSaidOfASoak(t *testing.T) {
	p := long(t)
	offset := Course{Points: []Point{{0, 0.002}}}
	judge := func(a, b, c Course, at float64) State { return Judge(p, []Course{a, b, c}, at) }
	fine := course(25, 1500, 3000)
	if s := judge(fine, fine, Course{Points: []Point{{2900, 0.002}}}, 3000); s.Bad || s.Stop || s.Traces[0].End == nil ||
		math.Abs(s.Traces[0].End.V-45) > 2 {
		t.Errorf("%+v", s)
	}
	if s := judge(course(60, 1500, 3000), fine, offset, 3000); !s.Stop || s.Traces[0].Verdict != Above ||
		!strings.Contains(s.Headline, "sink A has passed its limit") || !strings.Contains(s.Why, "above sink B") {
		t.Errorf("%+v", s)
	}
	if s := judge(course(33, 1500, 3000), fine, offset, 3000); s.Traces[0].Verdict != Parted || !s.Stop {
		t.Errorf("%s: %s", s.Traces[0].Verdict, s.Headline)
	}
	p.Limits[0].Apart = math.NaN()
	if s := judge(course(60, 900, 660), fine, offset, 660); s.Traces[0].Verdict != Fast ||
		!strings.Contains(s.Headline, "climbs too fast") {
		t.Errorf("%s: %s", s.Traces[0].Verdict, s.Headline)
	}
	p.Limits[0].Rate = math.NaN()
	if s := judge(Course{Points: fine.Points[:20]}, fine, offset, 3000); s.Traces[0].Verdict != Silent ||
		!strings.Contains(s.Traces[0].Says, "nothing was read for") {
		t.Errorf("%s: %s", s.Traces[0].Verdict, s.Headline)
	}
	if s := judge(fine, fine, offset, 3000); !s.Traces[2].Due || !strings.Contains(s.Headline, "type offset A") {
		t.Errorf("what is typed is not asked for: %s", s.Headline)
	}
	if s := judge(fine, fine, Course{Points: []Point{{3000, -0.05}}}, 3000); s.Traces[2].Verdict != Below {
		t.Errorf("%+v", s.Traces[2])
	}
	// What will pass is called before it does, and stops nothing.
	courses, minutes := []Course{{}, fine, offset}, 0
	for _, x := range course(55, 1500, 7200).Points {
		courses[0].Points = append(courses[0].Points, x)
		if s := Judge(p, courses, x.T); s.Traces[0].Verdict == Will {
			if s.Stop || x.V > 65 || !strings.Contains(s.Headline, "will pass its limit") {
				t.Errorf("%+v", s)
			}
			minutes++
		}
	}
	if minutes < 10 {
		t.Errorf("called for %d minutes only", minutes)
	}
}

func TestWhatASoakCameTo(t *testing.T) {
	p := long(t)
	fine := course(25, 1500, 7200)
	s := Ended(p, []Course{fine, fine, {Points: []Point{{60, 0.002}}}}, nil, 7800)
	if s.Bad || s.Headline != "Nothing went beyond its limits." || !strings.Contains(s.Why, "Sink A came to 44.8 °C, 65 °C allowed") {
		t.Errorf("%+v", s)
	}
	s = Ended(p, []Course{course(60, 1500, 7200), fine, {Points: []Point{{60, -0.09}, {120, 0.002}}}}, nil, 7800)
	if !s.Bad || s.Headline != "Sink A came to 79.5 °C, 65 °C allowed; offset A fell to -90 mV, -40 mV at least." {
		t.Errorf("%s", s.Headline)
	}
}

// What was not read is never called fine; what went beyond a difference or a rate is told by its event.
func TestWhatWasNotReadIsNotFine(t *testing.T) {
	p := long(t)
	none := []Course{{}, {}, {}}
	if s := Judge(p, none, 30); s.Bad || s.Headline != "Read and type offset A." || s.Traces[0].Verdict != None {
		t.Errorf("%+v", s)
	}
	if s := Judge(p, none, 3000); !s.Bad || s.Traces[0].Verdict != Silent {
		t.Errorf("nothing was read for fifty minutes: %s", s.Headline)
	}
	if s := Ended(p, none, nil, 3000); !s.Bad || p.Watched(none, 3000) {
		t.Errorf("nothing was read at all: %s", s.Headline)
	}
	fine := course(25, 1500, 7200)
	events := []Event{{What: Passed, Trace: "sink A", Text: "sink A: 9 °C above sink B; 6 °C allowed"}}
	if s := Ended(p, []Course{fine, fine, {}}, events, 7800); !s.Bad || s.Headline != "Sink A: 9 °C above sink B; 6 °C allowed." {
		t.Errorf("%s", s.Headline)
	}
	if !p.Watched([]Course{fine, {}, {}}, 7250) || p.Watched([]Course{fine, {}, {}}, 7500) {
		t.Error("whether it was watched to its end")
	}
	// What cools fast is no climb, and a twin that does not look back is compared to both sides.
	down := Course{}
	for s := 0.0; s <= 1200; s += 60 {
		down.Points = append(down.Points, Point{s, 60 - s/20})
	}
	if s := Judge(p, []Course{down, down, {Points: []Point{{1200, 0}}}}, 1200); s.Traces[0].Verdict != Within {
		t.Errorf("cooling: %s, %s", s.Traces[0].Verdict, s.Traces[0].Says)
	}
	if s := Judge(p, []Course{{Points: fine.Points[:3]}, {Points: course(70, 100, 120).Points}, {}}, 120); s.Traces[0].Verdict != Parted ||
		!strings.Contains(s.Traces[0].Says, "below sink B") {
		t.Errorf("%s: %s", s.Traces[0].Verdict, s.Traces[0].Says)
	}
}

func TestCoursesAndBreaks(t *testing.T) {
	var c Course
	for s := 0.0; s < 3*Stretch; s += 16 {
		c.Add(s, s, false)
	}
	want := []Point{{48, 24}, {112, 88}, {176, 152}} // of 0, 16, 32, 48 and so on
	if !slices.Equal(c.Points, want) {
		t.Errorf("%v", c.Points)
	}
	// Of an instrument two in a row count, of what is typed the one; a spark is none, and no mean hides a jump.
	limit := func(v float64) bool { return v > 50 }
	for text, x := range map[string]struct {
		typed bool
		all   []float64
		want  bool
	}{
		"a spark": {false, []float64{2, 2, 90}, false}, "two": {false, []float64{2, 2, 2, 2, 90, 91}, true},
		"typed": {true, []float64{2, 2, 2, 90}, true}, "the first": {false, []float64{90}, true},
		"back": {false, []float64{90, 90, 2}, false},
	} {
		var c Course
		for i, v := range x.all {
			c.Add(float64(i), v, x.typed)
		}
		if last, got := c.beyond(limit, x.typed); got != x.want || last != x.all[len(x.all)-1] {
			t.Errorf("%s: %g, %t", text, last, got)
		}
	}
	p := long(t) // its instruments are read every 10 s: after 94 s something is missing
	if got := p.Breaks(0, []float64{0, 10, 104, 199, 209}, 0); !slices.Equal(got, []int{0, 3}) {
		t.Error(got)
	}
	if got := p.Breaks(0, []float64{0, 256, 512, 1024}, 256); !slices.Equal(got, []int{0, 3}) {
		t.Error(got)
	}
}

func TestClockGoesOnThroughSleepAndClocks(t *testing.T) {
	wall := time.Date(2026, 11, 3, 10, 0, 0, 0, time.UTC)
	c, steady := Clock{Speed: 1}, time.Duration(0)
	step := func(shown, passed time.Duration) (Lapse, bool) {
		wall = wall.Add(shown)
		steady += passed
		return c.Tick(wall, steady)
	}
	if _, lapsed := step(0, 0); lapsed {
		t.Error("it lapses at once")
	}
	if _, lapsed := step(10*time.Second, 10*time.Second); lapsed || c.T != 10 {
		t.Error(c.T)
	}
	if l, lapsed := step(time.Hour, 10*time.Second); !lapsed || c.T != 3610 || l.For != 3600 || !strings.Contains(l.Says, "slept") {
		t.Errorf("%g %+v", c.T, l)
	}
	if l, lapsed := step(-2*time.Hour, 10*time.Second); !lapsed || c.T != 3620 || !l.Back ||
		!strings.Contains(l.Says, "set back by 2 h") {
		t.Errorf("%g %+v", c.T, l)
	}
	if l, lapsed := c.Resume(3620, wall, wall.Add(20*time.Minute), 0); !lapsed || c.T != 3620+1200 || l.For != 1200 {
		t.Errorf("%g %+v", c.T, l)
	}
	if l, lapsed := c.Resume(3620, wall, wall.Add(-time.Minute), 0); !lapsed || c.T != 3620 || !l.Back {
		t.Errorf("%g %+v", c.T, l)
	}
	fast := Clock{Speed: 60}
	fast.Tick(wall, 0)
	fast.Tick(wall.Add(time.Second), time.Second)
	if fast.T != 60 {
		t.Error(fast.T)
	}
}

func TestTablesComeBackTheSame(t *testing.T) {
	p := long(t).Plan
	want := []Value{{0, 0, 20.5}, {1, 0, 20.25}, {0, 10.5, 21}, {2, 10.5, -0.0031}, {1, 20, 1e-7}}
	data := WriteTable(p, want)
	if first, _, _ := strings.Cut(string(data), "\n"); first != "seconds,sink A (°C),sink B (°C),offset A (V)" {
		t.Error(first)
	}
	got, err := ReadTable(p, data)
	if err != nil || !slices.Equal(got, want) {
		t.Errorf("%v %v", got, err)
	}
	for text, wrong := range map[string]string{
		"begins with a line": "seconds,sink A\n1,2\n",
		"no time within":     "seconds,a,b,c\n-1,2,,\n",
		"no value":           "seconds,a,b,c\n1,warm,,\n",
		"the log of a soak":  "seconds,a,b,c\n1,2\n",
	} {
		if _, err := ReadTable(p, []byte(wrong)); err == nil || !strings.Contains(err.Error(), text) {
			t.Errorf("%v, expected %q", err, text)
		}
	}
}
