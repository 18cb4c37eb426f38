package training_test

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/training"
	"steptrace/internal/trial"
)

// cases is how many are drawn: more with STEPTRACE_CASES.
func cases(t *testing.T, usual int) int {
	t.Helper()
	if n, err := strconv.Atoi(os.Getenv("STEPTRACE_CASES")); err == nil {
		return n
	}
	return trial.Runs(usual)
}

// drawn draws a case of a level by a seed.
func drawn(t *testing.T, level training.Level, seed uint64, from ...training.Source) *training.Case {
	t.Helper()
	if len(from) == 0 {
		from = training.Sources()
	}
	c, err := training.Draw(context.Background(), training.Wish{Level: level, Seed: seed}, from)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// Cases of all levels from all patterns and families: each shows at an exit, says so in words that are true of all that it shows, and is
// found by the program's own proposals, with as many paths as faults; the same seed gives the same one.
func TestCasesShowAreToldAndCanBeSolved(t *testing.T) {
	t.Parallel()
	n := cases(t, 40)
	from, kinds := map[string]int{}, map[training.Level]int{}
	var took []time.Duration
	for seed := range n {
		level := training.Levels[seed%len(training.Levels)]
		c := drawn(t, level, uint64(seed))
		from[c.From]++
		kinds[level]++
		plan, err := c.Plan()
		if err != nil {
			t.Fatal(err)
		}
		set, good, err := c.Set(plan, c.Faults)
		if err != nil {
			t.Fatal(err)
		}
		shown := training.Shows(set, good, plan, standin.Stand{Warm: true})
		if !slices.ContainsFunc(shown, func(s training.Shown) bool { return s.As != training.Fine }) {
			t.Errorf("seed %d: %+v shows nowhere", seed, c.Faults)
		}
		if wrong := untrue(c.Told.Complaint, shown, plan); wrong != "" {
			t.Errorf("seed %d, %s, %+v: %q: %s (%+v)", seed, c.From, c.Faults, c.Told.Complaint, wrong, shown)
		}
		begin := time.Now()
		best, err := c.Solve()
		took = append(took, time.Since(begin)/time.Duration(len(c.Faults)))
		if err != nil || len(best) != len(c.Faults) {
			t.Errorf("seed %d: %d of %d faults found by the proposals: %v", seed, len(best), len(c.Faults), err)
		}
	}
	slices.Sort(took)
	t.Logf("%d cases of %d kinds of set, by level %v; a plan takes %s, of a hundred 95 at most %s, all %s", n, len(from), kinds,
		took[n/2], took[n*95/100], took[n-1])
	a, _ := json.Marshal(drawn(t, training.Usual, 5))
	if b, _ := json.Marshal(drawn(t, training.Usual, 5)); string(a) != string(b) {
		t.Error("one seed gives two cases")
	}
}

// Words of owners, each for what may be meant by it: written down from the point of view of who reads it, not of what makes it.
var meant = []struct {
	words string
	as    []training.As
}{
	{"hisses", []training.As{training.Noisy}}, {"hiss from", []training.As{training.Noisy}}, {"noisy", []training.As{training.Noisy}},
	{"snow", []training.As{training.Noisy}}, {"jitters", []training.As{training.Noisy}}, {"ragged", []training.As{training.Noisy}},
	{"twitches", []training.As{training.Noisy}}, {"flickers", []training.As{training.Noisy, training.Humming}},
	{"crackle", []training.As{training.Crackling}}, {"flecks", []training.As{training.Crackling}},
	{"small jumps", []training.As{training.Crackling}}, {"small tears", []training.As{training.Crackling}},
	{"flashes", []training.As{training.Crackling}},
	{"hum", []training.As{training.Humming}}, {"bars stand", []training.As{training.Humming}}, {"bends", []training.As{training.Humming}},
	{"wavy", []training.As{training.Humming}}, {"weaves", []training.As{training.Humming}},
	{"every now and then", []training.As{training.Breaking}}, {"cutting out", []training.As{training.Breaking}},
	{"distorted", []training.As{training.Distorted}}, {"crushed", []training.As{training.Distorted}},
	{"squeezed", []training.As{training.Distorted}}, {"tears", []training.As{training.Distorted}},
	{"pitch", []training.As{training.OffTune}}, {"off in frequency", []training.As{training.OffTune}},
	{"rolls", []training.As{training.OffTune}}, {"slanted lines", []training.As{training.OffTune}},
	{"too loud", []training.As{training.Loud}}, {"too strong", []training.As{training.Loud}}, {"too much", []training.As{training.Loud}},
	{"stretched", []training.As{training.Loud}},
	{
		"too quiet",
		[]training.As{training.Faint},
	}, {"faint sound", []training.As{training.Faint}}, {"too weak", []training.As{training.Faint}},
	{"pale", []training.As{training.Faint}}, {"too little", []training.As{training.Faint}}, {"not tall", []training.As{training.Faint}},
	{"not wide", []training.As{training.Faint}}, {"hardly holds", []training.As{training.Faint}},
	{
		"nothing comes",
		[]training.As{training.Silent},
	}, {"no sound", []training.As{training.Silent}}, {"is dead", []training.As{training.Silent}},
	{"no picture", []training.As{training.Silent}}, {"is missing", []training.As{training.Silent}},
	{"one bright line", []training.As{training.Silent}}, {"stays dark", []training.As{training.Silent}},
	{"not hold still", []training.As{training.Silent}}, {"is out", []training.As{training.Silent}},
}

// besides are the beginnings of what owners say that is of no exit.
var besides = []string{
	"cold it is", "for the first", "a knock", "it comes and goes", "the neighbour", "i think", "it was never", "somebody looked",
	"it has been so since", "someone had it apart",
}

// exitsSaid tells which exits of a set the words of a sentence can mean.
func exitsSaid(sentence string, plan *sheet.Plan, name string) bool {
	point, _ := plan.PointIndex(name)
	s, exit, note := strings.ToLower(sentence), strings.ToLower(name), strings.ToLower(plan.Points[point].Note)
	if strings.Contains(s, "“") {
		return strings.Contains(s, "“"+exit+"”")
	}
	left, right := strings.Contains(s, "left"), strings.Contains(s, "right")
	is := func(words ...string) bool {
		return slices.ContainsFunc(words, func(w string) bool { return strings.Contains(exit, w) || strings.Contains(note, w) })
	}
	side := (!left || strings.HasPrefix(name, "L ")) && (!right || strings.HasPrefix(name, "R "))
	switch {
	case strings.Contains(s, "headphones"):
		return side && is("phones", "headphone")
	case strings.Contains(s, "loudspeaker"):
		return side && is("speaker")
	case strings.Contains(s, " light "):
		return is("light")
	case strings.Contains(s, "top") || strings.Contains(s, "tall") || strings.Contains(s, "line across") || strings.Contains(s, "rolls") ||
		strings.Contains(s, "bends") || strings.Contains(s, "up and down") || strings.Contains(s, "collapses"):
		return is("field")
	case strings.Contains(s, "screen") || strings.Contains(s, "sides of") ||
		strings.Contains(s, "side to side") && strings.Contains(s, "stretched") ||
		strings.Contains(s, "wide") || strings.Contains(s, "one side") || strings.Contains(s, "torn"):
		return is("line ")
	case strings.Contains(s, "still") || strings.Contains(s, "tears") || strings.Contains(s, "weaves") || strings.Contains(s, "twitches") ||
		strings.Contains(s, "slips"):
		return is("sync")
	case strings.Contains(s, "picture"):
		for _, colour := range []string{"red", "green", "blue"} {
			if strings.Contains(s, colour) {
				return is(colour)
			}
		}
		return is("picture", "screen", "video")
	case strings.Contains(s, "record on"):
		return side && is("recorded")
	case strings.Contains(s, "transmitter"):
		return exit == "load"
	case strings.Contains(s, "sound"):
		return is("sound")
	case strings.Contains(s, "output"):
		return side && is("out")
	}
	return false
}

// modesSaid are the modes that the end of a sentence names: "on FM and on AM".
func modesSaid(sentence string, shown []training.Shown) (modes []string) {
	_, rest, more := strings.Cut(sentence, " on ")
	for ; more; _, rest, more = strings.Cut(rest, " on ") {
		modes = strings.Split(rest, " and on ")
		if !slices.ContainsFunc(modes, func(name string) bool {
			return !slices.ContainsFunc(shown, func(s training.Shown) bool { return s.Mode == name })
		}) {
			return modes
		}
	}
	return nil
}

// untrue says what of a complaint is not so; empty where all of it is. It reads the sentences, and looks in what the set shows.
func untrue(complaint string, shown []training.Shown, plan *sheet.Plan) string {
	told := 0
	for _, sentence := range strings.SplitAfter(complaint, ". ") {
		sentence = strings.TrimSuffix(strings.TrimSpace(sentence), ".")
		lower := strings.ToLower(sentence)
		if slices.ContainsFunc(besides, func(x string) bool { return strings.HasPrefix(lower, x) }) {
			continue
		}
		told++
		k := slices.IndexFunc(meant, func(m struct {
			words string
			as    []training.As
		}) bool {
			return strings.Contains(lower, m.words)
		})
		if k < 0 {
			return fmt.Sprintf("nobody understands %q", sentence)
		}
		found := false
		for _, s := range shown {
			if !exitsSaid(sentence, plan, s.Exit) {
				continue
			}
			if modes := modesSaid(sentence, shown); len(modes) > 0 && !slices.Contains(modes, s.Mode) {
				continue
			}
			_, entry, ok := strings.Cut(sentence, "comes in at ")
			if entry, _, _ = strings.Cut(entry, " on "); ok && entry != s.Entry {
				continue
			}
			found = true
			if !slices.Contains(meant[k].as, s.As) {
				return fmt.Sprintf("%q, but %s from %s on %q is %s", sentence, s.Exit, s.Entry, s.Mode, s.As)
			}
		}
		if !found {
			return fmt.Sprintf("%q is of no exit", sentence)
		}
	}
	if told == 0 {
		return "nothing is told"
	}
	return ""
}

// Every source makes a sheet that can be worked on, whatever is drawn of it.
func TestEverySourceMakesASheet(t *testing.T) {
	t.Parallel()
	for _, from := range training.Sources() {
		for seed := range uint64(3) {
			s, err := from.Sheet(rand.New(rand.NewPCG(seed, 1)))
			if err != nil {
				t.Errorf("%s: %v", from.Name, err)
				continue
			}
			if plan, problems := s.Plan(); sheet.Blocked(problems) || len(plan.Routes) == 0 {
				t.Errorf("%s: %v", from.Name, problems)
			}
		}
	}
}

// What cannot be drawn is refused in words: no such level, no such kind, nothing to draw from, a set in which nothing of the kind shows.
func TestWhatCannotBeDrawn(t *testing.T) {
	t.Parallel()
	dumb := training.OfSheet(&sheet.Sheet{Model: "a box", Points: []sheet.Point{{Name: "in"}, {Name: "out"}},
		Stages: []sheet.Stage{{Name: "a wire", From: "in", To: "out"}}})
	for _, x := range []struct {
		wish training.Wish
		from []training.Source
		says string
	}{
		{training.Wish{Level: "easy"}, training.Sources(), "no level"},
		{training.Wish{Level: training.First, Kind: "gremlins"}, training.Sources(), "no kind"},
		{training.Wish{Level: training.First}, nil, "nothing to draw"},
		{training.Wish{Level: training.Usual, Kind: training.InSupply}, []training.Source{dumb}, "choose another"},
	} {
		if _, err := training.Draw(context.Background(), x.wish, x.from); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%+v: %v", x.wish, err)
		}
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := training.Draw(ctx, training.Wish{Level: training.First}, training.Sources()); err == nil {
		t.Error("it draws on for nobody")
	}
}
