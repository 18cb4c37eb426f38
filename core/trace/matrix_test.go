package trace

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// tangled is a set with shared and split routes: a few entries, a few exits,
// modes that switch stages in and out, rails made from rails.
func tangled(rng *rand.Rand) *sheet.Sheet {
	s := &sheet.Sheet{Model: "tangled"}
	n := 4 + rng.IntN(7)
	for i := range n {
		s.Points = append(s.Points, sheet.Point{Name: fmt.Sprintf("p%d", i)})
	}
	rails := 1 + rng.IntN(4)
	for i := range rails {
		r := sheet.Rail{Name: fmt.Sprintf("r%d", i), Value: fmt.Sprintf("%d V", 5+i)}
		if i > 0 && rng.IntN(2) == 0 {
			r.From = fmt.Sprintf("r%d", rng.IntN(i))
		}
		s.Rails = append(s.Rails, r)
	}
	for i := 1; i < n; i++ {
		if i < 3 && rng.IntN(2) == 0 {
			continue // another entry
		}
		for range 1 + rng.IntN(2) {
			st := sheet.Stage{
				Name: fmt.Sprintf("s%d", len(s.Stages)),
				From: fmt.Sprintf("p%d", max(0, i-1-rng.IntN(min(i, 4)))),
				To:   fmt.Sprintf("p%d", i),
			}
			if rng.IntN(3) == 0 {
				st.Modes = []string{[]string{"disc", "tape", "bypass"}[rng.IntN(3)]}
			}
			if rng.IntN(2) == 0 {
				st.Rails = []string{fmt.Sprintf("r%d", rng.IntN(rails))}
			}
			s.Stages = append(s.Stages, st)
		}
	}
	return s
}

// live is the enumeration that the matrix is compared with. It knows nothing of
// routes: it looks which stages carry a signal from one point to another.
type live struct {
	s    *sheet.Sheet
	mode string
}

func (l live) carries(st *sheet.Stage, dead string, without []string) bool {
	if st.Kind == "feedback" || len(st.Modes) > 0 && !slices.Contains(st.Modes, l.mode) {
		return false
	}
	return slices.Contains(without, st.Name) || !l.needs(st, dead) && !l.looped(st, dead, without)
}

// needs tells whether a stage goes down with a block.
func (l live) needs(st *sheet.Stage, dead string) bool {
	if st.Name == dead {
		return true
	}
	for _, name := range slices.Concat(st.Rails, st.Needs) {
		if slices.ContainsFunc(l.s.Points, func(p sheet.Point) bool { return p.Name == name }) {
			if dead != "" && !l.arrives(name, dead) {
				return true
			}
			continue
		}
		for name != "" {
			if name == dead {
				return true
			}
			name = l.madeFrom(name)
		}
	}
	return false
}

// madeFrom is the rail or control that a line is made from.
func (l live) madeFrom(line string) string {
	for _, r := range l.s.Rails {
		if r.Name == line && strings.HasPrefix(r.From, "r") {
			return r.From
		}
	}
	for _, c := range l.s.Controls {
		if c.Name == line && c.From != "a key" {
			return c.From
		}
	}
	return ""
}

// arrives tells whether a signal that begins by itself reaches a point.
func (l live) arrives(point, dead string) bool {
	for i := range l.s.Stages {
		st := &l.s.Stages[i]
		if st.To == point && l.carries(st, dead, nil) && (st.From == "" || l.arrives(st.From, dead)) {
			return true
		}
	}
	return false
}

// looped tells whether a stage goes down because another in the same closed loop does.
func (l live) looped(st *sheet.Stage, dead string, without []string) bool {
	if dead == "" {
		return false
	}
	for i := range l.s.Stages {
		fb := &l.s.Stages[i]
		if fb.Kind != "feedback" || slices.Contains(without, fb.Name) {
			continue
		}
		inside := l.around(fb.To, fb.From)
		if slices.Contains(inside, st) &&
			slices.ContainsFunc(inside, func(x *sheet.Stage) bool { return !slices.Contains(without, x.Name) && l.needs(x, dead) }) {
			return true
		}
	}
	return false
}

// around lists the stages on any way from a point to another.
func (l live) around(from, to string) []*sheet.Stage {
	var out []*sheet.Stage
	for i := range l.s.Stages {
		st := &l.s.Stages[i]
		if st.Kind == "feedback" || st.From != from {
			continue
		}
		rest := l.around(st.To, to)
		if st.To == to || len(rest) > 0 {
			out = append(append(out, st), rest...)
		}
	}
	return out
}

// ways counts the ways from a point to another with a block dead.
func (l live) ways(from, to, dead string, without []string) int {
	if from == to {
		return 1
	}
	n := 0
	for i := range l.s.Stages {
		if st := &l.s.Stages[i]; st.From == from && l.carries(st, dead, without) {
			n += l.ways(st.To, to, dead, without)
		}
	}
	return n
}

// shows lists what a set with one dead or ailing block can show in a cell.
func (l live) shows(from, to, dead string, without []string) []quantity.Word {
	whole, rest := l.ways(from, to, "", without), l.ways(from, to, dead, without)
	switch {
	case rest == whole:
		return []quantity.Word{quantity.OK}
	case rest == 0:
		return []quantity.Word{quantity.Nothing, quantity.Weak}
	}
	return []quantity.Word{quantity.Weak}
}

// The matrix leaves exactly the blocks that enumeration leaves, on random sets
// with a random fault and random cells tried.
func TestMatrixMatchesEnumeration(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 1))
	sheets, cells, swapped, least := 0, 0, 0, 0
	for sheets < 1500 {
		s := tangled(rng)
		plan, problems := s.Plan()
		if sheet.Blocked(problems) || len(plan.Routes) == 0 || len(plan.Routes) >= 150 {
			continue
		}
		sheets++
		c := Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
		var names []string
		for k, on := range c.onRoutes() {
			if on {
				names = append(names, strings.TrimPrefix(plan.BlockTitle(k), "rail "))
			}
		}
		fault := names[rng.IntN(len(names))]
		left := slices.Clone(names)
		var readings []reading.Reading
		for i, row := range c.Matrix(nil, nil).Rows {
			for k, cell := range row.Cells {
				if !cell.There || rng.IntN(3) == 0 {
					continue
				}
				var without []string
				if rng.IntN(4) == 0 {
					without = []string{plan.Stages[rng.IntN(len(plan.Stages))].Name}
					swapped++
				}
				l := live{s, row.Mode}
				possible := l.shows(row.Entry, cell.Exit, fault, without)
				word := possible[rng.IntN(len(possible))]
				left = slices.DeleteFunc(left, func(name string) bool {
					return !slices.Contains(l.shows(row.Entry, cell.Exit, name, without), word)
				})
				readings = append(
					readings,
					reading.Reading{
						ID:       fmt.Sprint(i, " ", k),
						Point:    cell.Exit,
						Quantity: sheet.AC,
						Word:     word,
						Mode:     row.Mode,
						Injected: &reading.Injection{At: row.Entry},
						Without:  without,
						Taken:    time.Unix(int64(len(readings)), 0),
					},
				)
				cells++
			}
		}
		m := c.Matrix(readings, nil)
		var got []string
		for _, x := range m.Left {
			got = append(got, x.Name)
		}
		slices.Sort(got)
		slices.Sort(left)
		if !slices.Equal(got, left) || !slices.Contains(got, fault) {
			t.Fatalf("fault %s, marks %v: the matrix leaves %v, enumeration %v\n%s", fault, readings, got, left, s.WriteJSON())
		}
		if len(got) < len(names) {
			least++
		}
		checkMarks(t, c, &m, readings)
	}
	t.Logf("%d sheets, %d cells, %d with a swapped stage; suspects were cleared on %d", sheets, cells, swapped, least)
	if cells < 3000 || swapped < 500 || least < 1000 {
		t.Error("too little was tried")
	}
}

// checkMarks: every mark stands in its cell, and what a cell foretells comes true.
func checkMarks(t *testing.T, c Case, m *Matrix, readings []reading.Reading) {
	t.Helper()
	marked := 0
	for _, row := range m.Rows {
		for _, cell := range row.Cells {
			if cell.Mark != quantity.NoWord {
				marked++
			}
		}
	}
	if marked != len(readings) {
		t.Fatalf("%d cells marked by %d readings", marked, len(readings))
	}
	if m.Best == nil {
		return
	}
	row := m.Rows[m.Best.Row]
	cell := row.Cells[m.Best.Cell]
	try := func(word quantity.Word) int {
		r := reading.Reading{
			ID:       "try",
			Point:    cell.Exit,
			Quantity: sheet.AC,
			Word:     word,
			Mode:     row.Mode,
			Injected: &reading.Injection{At: row.Entry},
			Without:  row.Without,
		}
		return len(c.Matrix(append(slices.Clone(readings), r), nil).Left)
	}
	if got, want := try(quantity.OK), len(m.Left)-len(cell.Clears); got != want {
		t.Fatalf("if it works %d are left, foretold were %d", got, want)
	}
	if got := try(quantity.Nothing); got != len(cell.Leaves) {
		t.Fatalf("if nothing comes %d are left, foretold were %d", got, len(cell.Leaves))
	}
	if got := try(quantity.Weak); got != len(cell.Partly) {
		t.Fatalf("if it is weak %d are left, foretold were %d", got, len(cell.Partly))
	}
}

// headphones is an amplifier with two inputs, loudspeakers and headphones.
func headphones(t *testing.T) Case {
	t.Helper()
	return open(t, &sheet.Sheet{Model: "amplifier",
		Points: []sheet.Point{
			{Name: "disc in"},
			{Name: "aux in"},
			{Name: "selector"},
			{Name: "driver"},
			{Name: "speakers"},
			{Name: "phones"},
		},
		Stages: []sheet.Stage{{Name: "disc preamp", From: "disc in", To: "selector", Modes: []string{"disc"}, Rails: []string{"+15 V"}},
			{Name: "aux switch", From: "aux in", To: "selector", Modes: []string{"aux"}},
			{Name: "power amp", From: "selector", To: "driver", Rails: []string{"+35 V"}},
			{
				Name:  "speaker relay",
				From:  "driver",
				To:    "speakers",
				Rails: []string{"+24 V"},
			}, {Name: "phones resistor", From: "driver", To: "phones"}},
		Rails: []sheet.Rail{
			{Name: "+35 V", Value: "35 V"},
			{Name: "+15 V", Value: "15 V", From: "+35 V"},
			{Name: "+24 V", Value: "24 V"},
		}})
}

func heard(mode, entry, exit string, word quantity.Word) reading.Reading {
	return reading.Reading{
		ID:       mode + exit,
		Point:    exit,
		Quantity: sheet.AC,
		Word:     word,
		Mode:     mode,
		Injected: &reading.Injection{At: entry},
	}
}

func leftOf(m Matrix) string {
	var names []string
	for _, x := range m.Left {
		names = append(names, x.Name)
	}
	return strings.Join(names, ", ")
}

// Working headphones with dead loudspeakers clear all that the two share.
func TestHeadphonesClearWhatIsShared(t *testing.T) {
	c := headphones(t)
	m := c.Matrix(nil, nil)
	if m.Blocks != 8 || len(m.Left) != 8 {
		t.Fatalf("%d of %d blocks are left before anything was tried", len(m.Left), m.Blocks)
	}
	m = c.Matrix([]reading.Reading{heard("disc", "disc in", "speakers", quantity.Nothing)}, nil)
	if got := leftOf(m); got != "disc preamp, power amp, speaker relay, +35 V, +15 V, +24 V" {
		t.Errorf("after dead loudspeakers: %s", got)
	}
	if m.Best == nil || m.Best.Why == "" {
		t.Fatal("nothing to try next")
	}
	dead, fine := heard("disc", "disc in", "speakers", quantity.Nothing), heard("disc", "disc in", "phones", quantity.OK)
	m = c.Matrix([]reading.Reading{dead, fine}, nil)
	if got := leftOf(m); got != "speaker relay, +24 V" {
		t.Errorf("after working headphones: %s", got)
	}
	// The bench, on the route to the loudspeakers, says the same.
	route, ok := c.Plan.Route("disc|disc in|speakers")
	if !ok {
		t.Fatal("no such route")
	}
	c.Route = route
	f := c.Find([]reading.Reading{dead, fine})
	if f.State != Named || f.Stage != "speaker relay" ||
		!slices.ContainsFunc(f.Grounds, func(g Ground) bool { return g.Point == "+24 V" && g.Proof == Lacking }) {
		t.Errorf("%s %q, grounds %v", f.State, f.Stage, f.Grounds)
	}
	// And on the route to the headphones, that it is not there.
	c.Route, _ = c.Plan.Route("disc|disc in|phones")
	if f = c.Find([]reading.Reading{dead, fine}); f.State != Elsewhere || f.GoTo != "disc|disc in|speakers" ||
		!strings.Contains(strings.Join(f.Reasons, " "), "speaker relay") {
		t.Errorf("%s: %s %v", f.State, f.Headline, f.Reasons)
	}
}

// A rail read good is no suspect any more, nor is what it is made from.
func TestGoodRailIsCleared(t *testing.T) {
	c := headphones(t)
	dead := heard("disc", "disc in", "speakers", quantity.Nothing)
	rail := reading.Reading{ID: "rail", Point: "+15 V", Quantity: sheet.DC, SI: 15.1, Form: quantity.DC}
	if got := leftOf(c.Matrix([]reading.Reading{dead, rail}, nil)); got != "disc preamp, power amp, speaker relay, +24 V" {
		t.Errorf("with +15 V good: %s", got)
	}
	rail.SI = 3
	if got := leftOf(c.Matrix([]reading.Reading{dead, rail}, nil)); got != "disc preamp, power amp, speaker relay, +35 V, +15 V, +24 V" {
		t.Errorf("with +15 V low: %s", got)
	}
}

// A swapped unit that cures the fault puts it into what was swapped.
func TestSwappedUnitIsEvidence(t *testing.T) {
	c := headphones(t)
	cured := heard("disc", "disc in", "speakers", quantity.OK)
	cured.ID, cured.Without = "swap", []string{"power amp"}
	m := c.Matrix([]reading.Reading{heard("disc", "disc in", "speakers", quantity.Nothing), cured}, nil)
	if got := leftOf(m); got != "power amp" {
		t.Errorf("left are %s", got)
	}
	if len(m.Rows) != 4 {
		t.Errorf("%d rows, want one for each entry as it is and swapped", len(m.Rows))
	}
}

// What is silent together without a shared stage is fed together.
func TestSharedRailExplainsTwoDeadWays(t *testing.T) {
	c := open(t, &sheet.Sheet{Model: "two ways", Points: []sheet.Point{{Name: "in"}, {Name: "left"}, {Name: "right"}},
		Stages: []sheet.Stage{
			{Name: "left amp", From: "in", To: "left", Rails: []string{"+9 V"}},
			{Name: "right amp", From: "in", To: "right", Rails: []string{"+9 V"}},
		},
		Rails: []sheet.Rail{{Name: "+9 V", Value: "9 V"}}})
	f := c.Find([]reading.Reading{heard("", "in", "left", quantity.Nothing), heard("", "in", "right", quantity.Nothing)})
	if f.State != Supply || !strings.Contains(f.Headline, "rail +9 V") || len(f.Grounds) != 1 || f.Grounds[0].Point != "+9 V" ||
		f.Grounds[0].Proof != Lacking {
		t.Errorf("%s: %s %v", f.State, f.Headline, f.Grounds)
	}
}

// Marks that contradict each other are both shown, with what would have to be true.
func TestContradictingMarks(t *testing.T) {
	c := headphones(t)
	for _, x := range []struct {
		name     string
		readings []reading.Reading
		says     []string
	}{
		{"works where it cannot", []reading.Reading{heard("aux", "aux in", "phones", quantity.Nothing), heard("disc", "disc in", "phones",
			quantity.OK), heard("aux", "aux in", "speakers", quantity.OK)},
			[]string{"phones absent, from aux in in aux", "phones found good, from disc in in disc", "speakers found good, from aux in " +
				"in aux", "was misjudged, it is in aux switch"}},
		{"two faults", []reading.Reading{heard("disc", "disc in", "phones", quantity.Weak),
			heard("aux", "aux in", "speakers", quantity.Nothing),
			heard("aux", "aux in", "phones", quantity.OK)},
			[]string{"phones low, from disc in in disc", "speakers absent, from aux in in aux", "there are two faults"}},
		{"nothing is wrong", []reading.Reading{heard("disc", "disc in", "speakers", quantity.OK),
			heard("aux", "aux in", "speakers", quantity.OK),
			heard("aux", "aux in", "phones", quantity.OK)},
			[]string{"All that was tried works"}},
	} {
		m := c.Matrix(x.readings, nil)
		if len(m.Left) > 0 {
			t.Errorf("%s: %s is left", x.name, leftOf(m))
		}
		said := strings.Join(m.Clash, " ")
		for _, want := range x.says {
			if !strings.Contains(said, want) {
				t.Errorf("%s: %q does not say %q", x.name, said, want)
			}
		}
	}
}

// What is heard and what is read at an exit as it should be are both tried; what is off, swapped or of before a repair is
// not tried now.
func TestTriedAreMarksAndLevelsAtExits(t *testing.T) {
	c := open(t, sheettest.Stereo())
	c.Round = 1
	read := func(point, text string, round int) reading.Reading {
		r, err := c.Take(reading.Aim{Point: point, Quantity: sheet.AC}, text)
		if err != nil {
			t.Fatal(err)
		}
		r.Round, r.ID = round, point+text
		return r
	}
	heard := read("R3", "none", 0)
	heard.Injected = &reading.Injection{At: "R0"}
	got := c.Tried([]reading.Reading{heard, read("L3", "1.02 V", 1), read("R3", "200 mV", 1)})
	want := []Tried{{Entry: "L0", Exit: "L3", Mark: quantity.OK}, {Entry: "R0", Exit: "R3", Was: quantity.Nothing}}
	if !slices.Equal(got, want) {
		t.Errorf("%+v", got)
	}
}
