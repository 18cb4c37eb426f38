package supply

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// supplied is a random set of supplies: windings that feed several rails, fuses
// shared or not, rails made from rails.
func supplied(rng *rand.Rand) *sheet.Sheet {
	s := &sheet.Sheet{
		Model:  "supplied",
		Points: []sheet.Point{{Name: "in"}, {Name: "out"}},
		Stages: []sheet.Stage{{Name: "amp", From: "in", To: "out"}},
	}
	n := 2 + rng.IntN(6)
	for i := range n {
		r := sheet.Rail{Name: fmt.Sprintf("r%d", i), Value: fmt.Sprintf("%d V", 5+3*i), Ohms: "100"}
		if i > 0 && rng.IntN(3) == 0 {
			r.From = fmt.Sprintf("r%d", rng.IntN(i))
			r.Regulator = fmt.Sprintf("reg%d", i)
		} else {
			r.From = fmt.Sprintf("winding %d", rng.IntN(2))
			r.Rectifier = fmt.Sprintf("full wave D%d", i)
			if rng.IntN(2) == 0 {
				r.Fuse = fmt.Sprintf("F%d", rng.IntN(2))
			}
			if rng.IntN(3) == 0 {
				r.Regulator = fmt.Sprintf("reg%d", i)
			}
		}
		s.Rails = append(s.Rails, r)
	}
	return s
}

// parts lists what can be open on the way to a rail, as the sheet has it.
func parts(s *sheet.Sheet, name string) []string {
	i := slices.IndexFunc(s.Rails, func(r sheet.Rail) bool { return r.Name == name })
	r := s.Rails[i]
	own := []string{r.Fuse, r.Rectifier, r.Regulator}
	if strings.HasPrefix(r.From, "r") {
		own = append(own, parts(s, r.From)...)
	} else {
		own = append(own, r.From, "mains")
	}
	return slices.DeleteFunc(own, func(p string) bool { return p == "" })
}

// On random supplies with one part open, whatever rails are read: that part is
// never cleared, and a rail that it leaves dead names it, or the rail upstream
// that is dead as well.
func TestTheOpenPartIsNeverCleared(t *testing.T) {
	rng := rand.New(rand.NewPCG(12, 5))
	dead, named, narrowed := 0, 0, 0
	for range 2000 {
		s := supplied(rng)
		plan, problems := s.Plan()
		if sheet.Blocked(problems) {
			t.Fatal(problems)
		}
		c := trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0], Power: reading.PowerOn}}
		all := parts(s, s.Rails[rng.IntN(len(s.Rails))].Name)
		open := all[rng.IntN(len(all))]
		var texts []string
		for i, r := range s.Rails {
			if rng.IntN(4) == 0 {
				continue
			}
			volts := fmt.Sprintf("%s = %d V", r.Name, 5+3*i)
			if slices.Contains(parts(s, r.Name), open) {
				volts = r.Name + " = 0 V"
			}
			texts = append(texts, volts)
		}
		rails := read(t, c, texts...)
		for _, r := range s.Rails {
			x := rails[r.Name]
			if x.State != Missing {
				continue
			}
			dead++
			suspects := 0
			found := false
			for _, e := range x.Elements {
				name := e.Name
				if e.Kind == Mains {
					name = "mains"
				}
				hit := name == open || e.Kind == Parent && slices.Contains(parts(s, e.Name), open)
				if hit && e.Standing == Good {
					t.Fatalf("%s open, %v read: on %s it is cleared: %s\n%s", open, texts, r.Name, e.Why, s.WriteJSON())
				}
				if e.Standing == Suspect || e.Standing == Faulty {
					suspects++
					found = found || hit
				}
			}
			if !found {
				t.Fatalf("%s open, %v read: %s says %q\n%s", open, texts, r.Name, x.Says, s.WriteJSON())
			}
			named++
			if suspects < len(x.Elements) {
				narrowed++
			}
		}
	}
	t.Logf("%d dead rails, the open part among the suspects on %d, something cleared on %d", dead, named, narrowed)
	if dead < 2000 || narrowed < dead/2 {
		t.Error("too little was tried, or nothing is ever cleared")
	}
}

// layout is a random rail with links and parts.
func layout(rng *rand.Rand) (*sheet.Sheet, map[string]int) {
	s := &sheet.Sheet{
		Model:  "layout",
		Points: []sheet.Point{{Name: "in"}, {Name: "out"}},
		Stages: []sheet.Stage{{Name: "amp", From: "in", To: "out"}},
		Rails:  []sheet.Rail{{Name: "+5 V", Value: "5 V", Ohms: "60"}},
	}
	at := map[string]int{} // part -> place
	for i := range 2 + rng.IntN(8) {
		tr := sheet.Track{Rail: "+5 V", Place: fmt.Sprintf("p%d", i)}
		if i > 0 {
			tr.After = fmt.Sprintf("p%d", rng.IntN(i))
			if rng.IntN(3) == 0 {
				tr.Opens, tr.Minutes = fmt.Sprintf("link %d", i), "0.5"
			}
		}
		for k := range rng.IntN(3) {
			name := fmt.Sprintf("C%d%d", i, k)
			tr.Hangs = append(tr.Hangs, name)
			at[name] = i
		}
		s.Tracks = append(s.Tracks, tr)
	}
	return s, at
}

// behindLink tells whether a place lies behind an opened link.
func behindLink(s *sheet.Sheet, place int, link string) bool {
	for {
		if s.Tracks[place].Opens == link {
			return true
		}
		if s.Tracks[place].After == "" {
			return false
		}
		place = slices.IndexFunc(s.Tracks, func(t sheet.Track) bool { return t.Place == s.Tracks[place].After })
	}
}

// On random layouts the lifts that are proposed, answered from the layout, end
// at the shorted part, and never take more lifts than there are parts.
func TestEveryShortIsCornered(t *testing.T) {
	rng := rand.New(rand.NewPCG(21, 9))
	hunts, lifts, parts := 0, 0, 0
	for hunts < 400 {
		s, at := layout(rng)
		if len(at) < 2 {
			continue
		}
		hunts++
		plan, problems := s.Plan()
		if sheet.Blocked(problems) {
			t.Fatal(problems)
		}
		c := trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0], Power: reading.PowerOff}}
		var names []string
		for _, tr := range s.Tracks {
			names = append(names, tr.Hangs...)
		}
		bad := names[rng.IntN(len(names))]
		texts := []string{"+5 V = 0.8 ohm"}
		for n := 0; ; n++ {
			h := read(t, c, texts...)["+5 V"].Hunt
			if h == nil {
				t.Fatal("no hunt on a shorted rail")
			}
			if !slices.ContainsFunc(h.Hangs, func(o Hanging) bool { return o.Name == bad && o.Left }) {
				t.Fatalf("%s is shorted and cleared by %v\n%s", bad, texts, s.WriteJSON())
			}
			if h.Lift == nil {
				if !strings.HasPrefix(h.Says, "Only "+bad) && !strings.HasPrefix(h.Says, bad+" is the short") {
					t.Fatalf("%s is shorted: %s\n%v", bad, h.Says, texts)
				}
				break
			}
			if n > len(names) {
				t.Fatalf("%s is shorted: still lifting after %v", bad, texts)
			}
			ohms := "0.8 ohm"
			if what := h.Lift.Names[0]; what == bad || strings.HasPrefix(what, "link") && behindLink(s, at[bad], what) {
				ohms = "75 ohm"
			}
			texts = append(texts, fmt.Sprintf("+5 V = %s / %s", ohms, h.Lift.Names[0]))
			lifts++
		}
		parts += len(names)
	}
	t.Logf("%d shorts among %.1f parts each, %.2f lifts on average", hunts, float64(parts)/float64(hunts), float64(lifts)/float64(hunts))
	if float64(lifts)/float64(hunts) > 0.6*float64(parts)/float64(hunts) {
		t.Error("links do not help")
	}
}
