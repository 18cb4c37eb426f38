package worth

import (
	"math"
	"strings"
	"testing"
	"time"

	"steptrace/core/money"
	"steptrace/core/past"
)

var noon = time.Date(2026, 11, 29, 12, 0, 0, 0, time.UTC)

// begun is a job at its beginning: an hour costs 50, two suspects.
func begun() Facts {
	return Facts{
		Now: noon, Rate: 5000, Currency: "kr", Prepare: 22, Trace: 30, Prove: 50, ProveWhole: 50,
		Suspects: []Suspect{{"Q9", "amplifier", 0.8}, {"J4", "joint", 0.2}},
	}
}

func at(e Entry) Entry {
	e.At = noon
	return e
}

func choice(t *testing.T, v *View, c Choice) *Stand {
	t.Helper()
	for i := range v.Choices {
		if v.Choices[i].Choice == c {
			return &v.Choices[i]
		}
	}
	t.Fatalf("no %s among the choices", c)
	return nil
}

// What was seen lowers each chance by the figure that stands beside it, and nothing else; taken back, it does not.
func TestHindrancesLowerTheChances(t *testing.T) {
	f := begun()
	before := Look(&f, nil)
	if got := before.Works; math.Abs(got-before.Chances[0].Is*before.Chances[1].Is*before.Chances[2].Is) > 1e-12 {
		t.Errorf("it works in %g", got)
	}
	for _, h := range Hindrances() {
		seen := []Entry{at(Entry{ID: "1", Seen: &Seen{Key: h.Key}})}
		v := Look(&f, seen)
		for i, times := range []float64{h.Found, h.Had, h.Lasts} {
			if got := v.Chances[i].Is / before.Chances[i].Is; math.Abs(got-times) > 1e-12 {
				t.Errorf("%s leaves %g of %s, not %g", h.Name, got, v.Chances[i].Key, times)
			}
			if told := strings.Contains(v.Chances[i].Why, h.Name); told != (times < 1) {
				t.Errorf("%s: %s", h.Name, v.Chances[i].Why)
			}
		}
		if v = Look(&f, append(seen, at(Entry{ID: "2", Seen: &Seen{Key: h.Key, Not: true}}))); v.Works != before.Works {
			t.Errorf("%s taken back leaves %g", h.Name, v.Works)
		}
	}
}

// The money of the choices is what one reckons by hand: a board's price with its minutes, what another set costs; what is left is the
// worth times the chance, less that.
func TestChoicesAreReckoned(t *testing.T) {
	f := begun()
	f.Value, f.Named = 40000, true
	f.Suspects = []Suspect{{"Q9", "amplifier", 1}}
	f.Used = past.Minutes{past.Prepare: 30, past.Trace: 30}
	f.Prepare, f.Trace = 0, 0
	v := Look(&f, []Entry{
		at(
			Entry{ID: "1", Offer: &Offer{What: Board, Price: "90", Minutes: 60}},
		), at(Entry{ID: "2", Offer: &Offer{What: Another, Price: "120,-"}}),
	})
	if v.Spent != 5000 { // an hour
		t.Errorf("%g are spent", v.Spent)
	}
	board := choice(t, &v, Board)
	// An hour at the board and 50 minutes to prove it, and now and then a second fault behind: 15 % of times, 0.8 of it again.
	minutes := (60 + 50) * (1 + 0.15*0.8)
	if got := board.Minutes.mean; math.Abs(got/minutes-1) > 0.02 {
		t.Errorf("a board takes %g minutes on average, reckoned %g", got, minutes)
	}
	for _, of := range [][2]float64{
		{board.Cost.Low, board.Minutes.Low}, {board.Cost.Mid, board.Minutes.Mid}, {board.Cost.High, board.Minutes.High},
	} {
		if want := 9000 + of[1]/60*5000; math.Abs(of[0]-want) > 1e-6 {
			t.Errorf("a board costs %g, reckoned %g", of[0], want)
		}
	}
	if want := board.Works*40000 - (9000 + board.Minutes.mean/60*5000); math.Abs(*board.Leaves-want) > 1e-6 {
		t.Errorf("a board leaves %g, reckoned %g", *board.Leaves, want)
	}
	other := choice(t, &v, Another)
	if other.Cost.Mid != 12000 || math.Abs(*other.Leaves-(0.85*40000-12000)) > 1e-6 || other.Cost.Says != "120\u00a0kr" {
		t.Errorf("another set: %+v %g", other.Cost, *other.Leaves)
	}
	if leave := choice(t, &v, Leave); *leave.Leaves != 0 || leave.Cost.High != 0 {
		t.Errorf("leaving it: %+v", leave)
	}
	best := 0
	for _, c := range v.Choices {
		if c.Best {
			best++
			for _, o := range v.Choices {
				if o.Leaves != nil && *o.Leaves > *c.Leaves {
					t.Errorf("%s is called the best, %s leaves more", c.Name, o.Name)
				}
			}
		}
	}
	if best != 1 {
		t.Errorf("%d are the best", best)
	}
	if mid := v.Cost.Mid - v.Spent - choice(t, &v, Repair).Cost.Mid; math.Abs(mid) > 1e-6 {
		t.Errorf("the repair and what is spent are not the whole: %g", mid)
	}
}

// Nothing is told in money where nobody said what an hour costs, and nothing of a limit where none was agreed.
func TestWhatIsNotKnownIsNotTold(t *testing.T) {
	f := begun()
	f.Rate, f.Value = 0, 40000
	v := Look(&f, nil)
	if v.Known || v.Limits != "" || strings.Contains(v.Says, "kr") || choice(t, &v, Repair).Cost != nil ||
		choice(t, &v, Repair).Leaves != nil {
		t.Errorf("%s %s", v.Says, v.Limits)
	}
	if open := choice(t, &v, Board).Open; open != "what a board costs" {
		t.Error(open)
	}
	f = Facts{Now: noon}
	if v := Look(&f, nil); !strings.HasPrefix(v.Says, "About") { // nothing at all is known
		t.Error(v.Says)
	}
}

// The limit: far away, near, likely passed, passed; the owner's answer stands for what was noted before.
func TestTheOwnersLimit(t *testing.T) {
	f := begun()
	for limit, want := range map[money.Amount]string{
		1e6: "It stays within the 10 000 kr", 9000: "It will most likely", 1: "most likely cost more than the 0.01",
	} {
		f.Limit = limit
		if v := Look(&f, nil); !strings.Contains(strings.ReplaceAll(strings.ReplaceAll(v.Limits, "\u202f", " "), "\u00a0", " "), want) {
			t.Errorf("%d: %s", limit, v.Limits)
		}
	}
	f.Used = past.Minutes{past.Prepare: 120}
	f.Limit = 9900
	if v := Look(&f, nil); !strings.HasPrefix(v.Limits, "What is spent has passed") {
		t.Error(v.Limits)
	}
	answer := []Entry{at(Entry{ID: "1", Answer: &Answer{GoOn: true, Most: "300"}})}
	for at, want := range map[time.Time]string{noon.Add(-time.Hour): "300", noon.Add(time.Hour): "80", {}: "300"} {
		if got := Allowed(answer, "80", at); got != want {
			t.Errorf("%s are allowed where 80 was noted at %v, want %s", got, at, want)
		}
	}
	if got := Allowed(nil, "80", noon); got != "80" {
		t.Errorf("%s are allowed", got)
	}
	for spent, want := range map[money.Amount]string{7900: "", 8100: "has come to 81", 10100: "above the 100"} {
		if text, passed := Near(spent, 10000, "kr"); want == "" && text != "" || !strings.Contains(text, want) ||
			passed != (spent > 10000) {
			t.Errorf("%d: %q", spent, text)
		}
	}
}

// An estimate waits for its answer, and so does the owner who is asked; a decision ends that.
func TestTheOwnerIsWaitedFor(t *testing.T) {
	estimate := at(Entry{ID: "1", Estimate: &Estimate{Low: "80", High: "140", Until: "2026-12-13"}})
	if w := Waits([]Entry{estimate}); w == nil || w.Wait.What != "answer to the estimate of 80 to 140" || w.Wait.Until != "2026-12-13" {
		t.Errorf("%+v", w)
	}
	ask := at(Entry{ID: "2", Decision: &Decision{Ask, "it passes his limit"}})
	if w := Waits([]Entry{ask}); w == nil || w.Wait.What != "whether to go on" {
		t.Errorf("%+v", w)
	}
	for name, then := range map[string]Entry{
		"an answer": {ID: "3", Answer: &Answer{GoOn: true}}, "a decision": {ID: "3", Decision: &Decision{Repair, "he is a friend"}},
	} {
		if w := Waits([]Entry{estimate, ask, at(then)}); w != nil {
			t.Errorf("after %s: %+v", name, w)
		}
	}
	struck := estimate
	struck.Struck = true
	if w := Waits([]Entry{struck}); w != nil {
		t.Errorf("%+v", w)
	}
}

// What cannot be so is refused in words.
func TestEntriesAreChecked(t *testing.T) {
	for want, e := range map[string]Entry{
		"is of one kind":          {},
		"nothing that is asked":   {Seen: &Seen{Key: "ghosts"}},
		"a board, or another set": {Offer: &Offer{What: Leave}},
		"0 to 6000 minutes":       {Offer: &Offer{What: Board, Minutes: -1}},
		"no amount of money":      {Offer: &Offer{What: Another, Price: "cheap"}},
		"two amounts":             {Estimate: &Estimate{Low: "10"}},
		"lower amount":            {Estimate: &Estimate{Low: "100", High: "90"}},
		"is no day":               {Estimate: &Estimate{Low: "10", High: "90", Until: "soon"}},
		"nothing that can be":     {Decision: &Decision{Choice: "burn", Why: "x"}},
		"reason is empty":         {Decision: &Decision{Choice: Leave, Why: " "}},
		"longer than 1000":        {Answer: &Answer{Note: strings.Repeat("ä", 1001)}},
	} {
		if err := Take(&e); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%v, want %q", err, want)
		}
	}
	for want, e := range map[string]Entry{
		"a board is charred":                           {Seen: &Seen{Key: "charred"}},
		"not so: parts are missing":                    {Seen: &Seen{Key: "missing", Not: true}},
		"a board PB-2 would cost 40":                   {Offer: &Offer{What: Board, Name: "PB-2", Price: "40"}},
		"another set: not to be had":                   {Offer: &Offer{What: Another}},
		"estimate given: 1.200,50 to 1.900":            {Estimate: &Estimate{Low: "1.200,50", High: "1.900"}},
		"the owner says: go on, up to 90, by mail":     {Answer: &Answer{GoOn: true, Most: "90", Note: "by mail"}},
		"the owner says: do not go on":                 {Answer: &Answer{}},
		"decided: Not worth it, the board is charcoal": {Decision: &Decision{Leave, "the board is charcoal"}},
	} {
		if err := Take(&e); err != nil || e.Says() != want {
			t.Errorf("%v %q, want %q", err, e.Says(), want)
		}
	}
}

// Times, amounts and chances, as one speaks of them.
func TestAsOneSpeaks(t *testing.T) {
	for m, want := range map[float64]string{
		1: "a few minutes", 7: "5 minutes", 43: "45 minutes", 58: "an hour", 95: "1½ hours", 165: "2¾ hours", 600: "10 hours",
	} {
		if got := About(m); got != want {
			t.Errorf("%g minutes are %s, want %s", m, got, want)
		}
	}
	if got := Between(20, 40); got != "20 to 40 minutes" {
		t.Error(got)
	}
	if got := Between(50, 130); got != "50 minutes to 2¼ hours" {
		t.Error(got)
	}
	f := Facts{Currency: "kr"}
	for cents, want := range map[float64]string{
		730: "7\u00a0kr", 4710: "45\u00a0kr", 18630: "190\u00a0kr", 123456: "1\u202f200\u00a0kr", -9000: "−90\u00a0kr",
	} {
		if got := f.money(cents); got != want {
			t.Errorf("%g: %s, want %s", cents, got, want)
		}
	}
	for p, want := range map[float64]string{0.99: "nearly every case", 0.62: "6 of 10 cases", 0.02: "hardly any case"} {
		if got := InTen(p); got != want {
			t.Errorf("%g: %s", p, got)
		}
	}
}

// A workshop's own jobs are gone by: one that takes twice as long as usual is told twice as long.
func TestAWorkshopsOwnPace(t *testing.T) {
	f := begun()
	usual := Look(&f, nil)
	for range 60 {
		u := Usual("amplifier", 1, 30, 50)
		w := past.Minutes{}
		for _, s := range past.Steps {
			w[s] = 2 * u[s]
		}
		f.Past = append(f.Past, past.Job{Usual: u, Work: w})
	}
	slow := Look(&f, nil)
	if r := slow.Left.Mid / usual.Left.Mid; r < 1.9 || r > 2.4 {
		t.Errorf("%.2f times as long", r)
	}
	if !strings.Contains(slow.Basis, "60 finished jobs") {
		t.Error(slow.Basis)
	}
	f.Past, f.Times = nil, map[past.Step]float64{
		past.Trace: 90, past.Inside: 40, past.Replace: 36, past.Prove: 2 * usualOf(past.Prove), past.Prepare: 44,
	}
	if typed := Look(&f, nil); math.Abs(typed.Left.Mid/usual.Left.Mid-2) > 0.05 {
		t.Errorf("typed twice: %.2f times as long", typed.Left.Mid/usual.Left.Mid)
	}
}

func BenchmarkLook(b *testing.B) {
	f := begun()
	for range 300 {
		u := Usual("amplifier", 1, 30, 50)
		f.Past = append(f.Past, past.Job{Usual: u, Work: u})
	}
	for b.Loop() {
		Look(&f, nil)
	}
}
