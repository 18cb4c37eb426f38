package stripdown

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"
	"time"

	"steptrace/core/mend"
)

func TestOneLineIsAStep(t *testing.T) {
	for _, x := range []struct {
		kind Undone
		text string
		want Step
		says string
	}{
		{Screws, "4 M3×8 black, rear cover, lower two longer, " +
			"washers", Step{Count: 4, What: "M3×8 black", Where: "rear cover", Mind: "lower two longer", Washers: true},
			"4 × M3×8 black, rear cover, with washers"},
		{Screws, "4x M3", Step{Count: 4, What: "M3"}, "4 × M3"},
		{Screws, "hex standoff, under the mains board, " +
			"thread lock", Step{Count: 1, What: "hex standoff", Where: "under the mains board", Lock: true}, "hex standoff, under the " +
			"mains board, thread lock"},
		{Wires, "2 red/white, tag 7, J3-2 to P5-1, under " +
			"the loom", Step{Count: 2, What: "red/white", Colour: "red/white", Tag: "7", From: "J3-2", To: "P5-1", Mind: "under the loom"},
			"2 × red/white, tag 7, J3-2 to P5-1"},
		{Plug, "P4 6 way, main board to " +
			"front board", Step{Count: 1, What: "P4 6 way", From: "main board", To: "front board"}, "P4 6 way, main board to front board"},
		{Clips, " 2  plastic , front left, break easily, " +
			"warm them", Step{Count: 2, What: "plastic", Where: "front left", Mind: "break easily, warm them"}, "2 × plastic, front left"},
		{Board, "power board, soldered to chassis at 3 places, tilt " +
			"to lift", Step{Count: 1, What: "power board", Where: "soldered to chassis at 3 " +
			"places", Mind: "tilt to lift"}, "power board, soldered to chassis at 3 places"},
		{Renew, "heat paste, Q11 to Q16", Step{Count: 1, What: "heat paste", Where: "Q11 to Q16"}, "heat paste, Q11 to Q16"},
	} {
		got, err := Read(x.kind, x.text)
		x.want.Kind, x.want.Text = x.kind, x.text
		if err != nil || !reflect.DeepEqual(got, x.want) || got.Says() != x.says {
			t.Errorf("%s %q: %+v, %q, %v", x.kind, x.text, got, got.Says(), err)
		}
	}
	for _, x := range []struct {
		kind       Undone
		text, says string
	}{
		{Screws, "", "write what was undone"}, {Screws, "4", "4 of what?"}, {Screws, "0 M3", "cannot be counted"}, {Screws, "9999 M3",
			"cannot be counted"},
		{"bolt", "4 M3", "not a kind"}, {Screws, strings.Repeat("x", 301), "make two of it"}, {Screws, "M3 \xff", "one line"},
	} {
		var bad mend.Error
		if _, err := Read(x.kind, x.text); !errors.As(err, &bad) || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%s %q: %v, want %q", x.kind, x.text, err, x.says)
		}
	}
	keys := map[string]bool{}
	for _, s := range Sorts() {
		if keys[s.Key] || len(s.Key) != 1 {
			t.Errorf("the key %q is used twice or is none", s.Key)
		}
		keys[s.Key] = true
		if _, err := Read(s.Kind, s.Hint); err != nil {
			t.Errorf("the hint %q is no step: %v", s.Hint, err)
		}
	}
}

func steps(t *testing.T) []Step {
	t.Helper()
	var out []Step
	for i, x := range []struct {
		kind Undone
		text string
	}{{Screws, "6 M4×10, bottom"}, {Part, "bottom cover"}, {Screws, "4 M3×8 black, rear cover"}, {Plug, "P4, main board to front board"},
		{Screws, "3 M3×8 black, heat sink"}} {
		s, err := Read(x.kind, x.text)
		if err != nil {
			t.Fatal(err)
		}
		s.ID = fmt.Sprint(i)
		out = append(out, s)
	}
	return out
}

func TestReassemblyRunsBackwardsAndFindsTheMissingScrew(t *testing.T) {
	s := steps(t)
	a := Reassemble(s, nil)
	if a.Steps[0].Step.ID != "4" || a.Steps[4].Step.ID != "0" || a.Says != "Steps to go: 5 of 5." || len(a.Over) != 0 {
		t.Errorf("%s %+v", a.Says, a.Steps)
	}
	back := []Return{{Step: "4", Count: 3}, {Step: "3", Count: 1}, {Step: "2", Count: 3}, {Step: "1", Count: 1}}
	a = Reassemble(s, back)
	if len(a.Over) != 1 || a.Over[0] != "1 × M3×8 black, from rear cover" ||
		a.Says != "Steps to go: 1. Left over so far: 1 × M3×8 black, from rear cover." {
		t.Errorf("%s %v", a.Says, a.Over)
	}
	if a.Tallies[0] != (Tally{Screws, "M3×8 black", 7, 6, 1}) {
		t.Errorf("%+v", a.Tallies)
	}
	a = Reassemble(s, append(back, Return{Step: "0", Count: 6}))
	if !strings.HasPrefix(a.Says, "Everything was put back, but there is something left over: 1 × M3×8 black, from rear cover") {
		t.Error(a.Says)
	}
	a = Reassemble(s, append(back, Return{Step: "0", Count: 6}, Return{Step: "2", Count: 4}))
	if a.Says != "All is back in, and nothing is left over." {
		t.Error(a.Says)
	}
	// A step struck out is not looked for, and one taken out again is missing again.
	now := time.Now()
	s[2].Struck = &now
	if a = Reassemble(s, append(back, Return{Step: "0", Count: 6})); len(a.Steps) != 4 ||
		a.Says != "All is back in, and nothing is left over." {
		t.Errorf("%s", a.Says)
	}
	if a = Reassemble(s, append(back, Return{Step: "4", Count: 0})); a.Says != "Steps to go: 2 of 4." {
		t.Errorf("%s", a.Says)
	}
	if a = Reassemble(nil, nil); a.Says != "Nothing was taken apart." {
		t.Error(a.Says)
	}
}

// Whatever is taken out and put back, the tallies add up to the steps.
func TestTalliesAddUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 6))
	for range 500 {
		var all []Step
		var back []Return
		out, in := 0, 0
		for i := range 1 + rng.IntN(20) {
			n := 1 + rng.IntN(9)
			s, err := Read(Sorts()[rng.IntN(7)].Kind, fmt.Sprintf("%d %c, place %d", n, 'a'+rune(rng.IntN(3)), rng.IntN(3)))
			if err != nil {
				t.Fatal(err)
			}
			s.ID = fmt.Sprint(i)
			all = append(all, s)
			k := rng.IntN(n + 1)
			back = append(back, Return{Step: s.ID, Count: k})
			out, in = out+n, in+k
		}
		a := Reassemble(all, back)
		sumOut, sumIn, over := 0, 0, 0
		for _, x := range a.Tallies {
			sumOut, sumIn, over = sumOut+x.Out, sumIn+x.In, over+x.Over
		}
		if sumOut != out || sumIn != in || over != out-in || len(a.Steps) != len(all) {
			t.Fatalf("%d out, %d in; the tallies say %d, %d, %d", out, in, sumOut, sumIn, over)
		}
		if (a.Says == "All is back in, and nothing is left over.") != (out == in) {
			t.Fatal(a.Says)
		}
	}
}

func FuzzRead(f *testing.F) {
	for _, s := range Sorts() {
		f.Add(string(s.Kind), s.Hint)
	}
	f.Fuzz(func(t *testing.T, kind, text string) {
		s, err := Read(Undone(kind), text)
		if err == nil && (s.Count < 1 || s.Count > maxCount || s.Text != text) {
			t.Errorf("%q: %+v", text, s)
		}
	})
}
