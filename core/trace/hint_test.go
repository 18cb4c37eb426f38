package trace

import (
	"math"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// wired is a row of an amplifier, a cable and an amplifier on +12 V.
func wired() *sheet.Sheet {
	s := sheettest.Chain(3, "0 dB")
	s.Rails = []sheet.Rail{{Name: "+12 V", Value: "12 V"}}
	for i, kind := range []string{"amplifier", "cable", "amplifier"} {
		s.Stages[i].Kind = kind
	}
	s.Stages[0].Rails, s.Stages[2].Rails = []string{"+12 V"}, []string{"+12 V"}
	return s
}

// believed is the belief in each block of wired once its end was read so.
func believed(t *testing.T, text string) map[string]float64 {
	t.Helper()
	plan, problems := wired().Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	c := Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
	r, err := c.Take(reading.Aim{Point: plan.Points[3].Name}, text)
	if err != nil {
		t.Fatal(err)
	}
	f := newFinder(c, []reading.Reading{r})
	out := map[string]float64{}
	for k, b := range f.belief(f.evidence) {
		out[plan.BlockName(k)] = b
	}
	return out
}

// The odds of two blocks move by as much as the table says one makes what is seen oftener than the other, but for the share
// of misreadings, which shows nothing of that.
func TestWhatIsSeenMovesTheOdds(t *testing.T) {
	plan, _ := wired().Plan()
	amplifier, cable := plan.Stages[0].Name, plan.Stages[1].Name
	for detail, word := range quantity.Details() {
		times := hints[detail]
		if times == nil {
			continue
		}
		if word == quantity.Crackle { // which says itself what it is
			word = quantity.Noisy
		}
		vague, seen := believed(t, string(word)), believed(t, string(detail))
		of := func(row string) float64 {
			if x, ok := times[row]; ok {
				return x
			}
			return 1
		}
		for name, row := range map[string]string{amplifier: "amplifier", cable: "contact"} {
			got := seen[name] / seen["+12 V"] / (vague[name] / vague["+12 V"])
			want := of(row) / of("rail")
			// One in twenty readings is wrong, and of those the fifth part shows another fault.
			if math.Abs(math.Log(got/want)) > 0.3*math.Abs(math.Log(want))+0.03 {
				t.Errorf("%s: %s against the supply moves by %.3g, the table says %.3g", detail, name, got, want)
			}
		}
	}
}

// Where it clips tells of the supply: far below it makes it likelier, near it less likely, than no figure does.
func TestWhereItClipsTellsOfTheSupply(t *testing.T) {
	low, none, near := believed(t, "clipped on both sides at 6.5 V"), believed(t, "clipped on both sides"),
		believed(t, "clipped on both sides at 11.6 V")
	if !(low["+12 V"] > none["+12 V"] && none["+12 V"] > near["+12 V"]) {
		t.Errorf("supply: %.3g at 6.5 V, %.3g without a figure, %.3g at 11.6 V", low["+12 V"], none["+12 V"], near["+12 V"])
	}
	mains, twice := believed(t, "hum at 50 Hz"), believed(t, "hum at 100 Hz")
	if mains["+12 V"] >= twice["+12 V"] {
		t.Errorf("supply: %.3g by 50 Hz, %.3g by 100 Hz", mains["+12 V"], twice["+12 V"])
	}
}
