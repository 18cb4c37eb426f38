package supply

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// A short is found in as few lifts as halving by segment allows, wherever it is.
func TestShortIsCorneredByLifting(t *testing.T) {
	c := receiver(t)
	hangs := []string{"C31", "amp", "C40", "IC5", "IC6"}
	for _, bad := range hangs {
		texts := []string{"off: +12 V = 0.4 ohm"}
		lifts := 0
		for {
			h := read(t, c, texts...)["+12 V"].Hunt
			if h == nil {
				t.Fatal("no hunt on a shorted rail")
			}
			if h.Lift == nil {
				if h.Says != fmt.Sprintf("Only %s is left: lift it and test it.", bad) &&
					!(h.Proved && strings.HasPrefix(h.Says, bad+" is the short")) {
					t.Errorf("short in %s: %s", bad, h.Says)
				}
				break
			}
			gone := slices.Contains(h.Lift.Names, bad) || h.Lift.Names[0] == "plug P4" && slices.Contains(hangs[2:], bad)
			ohms := "0.4 ohm"
			if gone {
				ohms = "130 ohm"
			}
			texts = append(texts, fmt.Sprintf("off: +12 V = %s / %s", ohms, h.Lift.Names[0]))
			if lifts++; lifts > 4 {
				t.Fatalf("short in %s: still lifting after %v", bad, texts)
			}
		}
		if lifts == 0 || lifts > 3 {
			t.Errorf("short in %s: %d lifts", bad, lifts)
		}
	}
	// A plug that opens half of it comes before any soldering.
	if h := read(t, c, "off: +12 V = 0.4 ohm")["+12 V"].Hunt; h.Lift == nil || h.Lift.Names[0] != "plug P4" ||
		!strings.HasPrefix(h.Lift.Sentence, "Open plug P4") {
		t.Errorf("lift first %+v", h.Lift)
	}
}

// board is random copper, and a short somewhere on it: at a share of the way
// along the segment that leads to a place.
type board struct {
	copper []Segment
	short  int
	share  float64
	ohms   float64 // of the short itself
}

func randomBoard(rng *rand.Rand) board {
	n := 4 + rng.IntN(9)
	b := board{copper: []Segment{{Before: -1}}, ohms: rng.Float64() * 0.5}
	for i := 1; i < n; i++ {
		b.copper = append(b.copper, Segment{Before: max(0, i-1-rng.IntN(2)), Ohms: 0.002 + 0.01*rng.Float64()})
	}
	b.short = 1 + rng.IntN(n-1)
	b.share = rng.Float64()
	return b
}

// volts solves the copper as a network of resistors: a node is put where the
// short is, and Kirchhoff's current law is relaxed until nothing changes.
func (b board) volts(feed int, amps float64) []float64 {
	n := len(b.copper) + 1 // the last node is the short
	type link struct {
		a, b int
		g    float64
	}
	var links []link
	for i, s := range b.copper {
		switch {
		case s.Before < 0:
		case i == b.short:
			links = append(links, link{s.Before, n - 1, 1 / max(s.Ohms*b.share, 1e-9)}, link{n - 1, i, 1 / max(s.Ohms*(1-b.share), 1e-9)})
		default:
			links = append(links, link{s.Before, i, 1 / s.Ohms})
		}
	}
	// Gaussian elimination on the node equations, ground at the far side of the short.
	m := make([][]float64, n)
	for i := range m {
		m[i] = make([]float64, n+1)
	}
	m[feed][n] = amps
	m[n-1][n-1] += 1 / max(b.ohms, 1e-6)
	for _, l := range links {
		m[l.a][l.a] += l.g
		m[l.b][l.b] += l.g
		m[l.a][l.b] -= l.g
		m[l.b][l.a] -= l.g
	}
	for i := range n {
		p := i
		for k := i; k < n; k++ {
			if math.Abs(m[k][i]) > math.Abs(m[p][i]) {
				p = k
			}
		}
		m[i], m[p] = m[p], m[i]
		for k := range n {
			if k != i {
				f := m[k][i] / m[i][i]
				for c := i; c <= n; c++ {
					m[k][c] -= f * m[i][c]
				}
			}
		}
	}
	out := make([]float64, n-1)
	for i := range out {
		out[i] = m[i][n] / m[i][i]
	}
	return out
}

// hops counts the segments between the true place of a short and the found one.
func (b board) near(f Found) bool {
	ends := func(i int) []int { return []int{i, b.copper[i].Before} }
	for _, e := range ends(b.short) {
		if e == f.From || e == f.To {
			return true // the same segment, or one that touches it
		}
	}
	return false
}

// The place of a short within one segment, on random copper solved as a
// network, with a meter that is off by up to 0.1 mV at every place.
func TestShortIsLocatedByMillivolts(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 3))
	exact, tried := 0, 2000
	worst := 0.0
	for range tried {
		b := randomBoard(rng)
		feed := rng.IntN(len(b.copper))
		v := b.volts(feed, 1)
		read := map[int]float64{}
		for i, x := range v {
			read[i] = math.Round((x+(rng.Float64()*2-1)*1e-4)*1e6) / 1e6
		}
		f, err := Locate(b.copper, feed, 1, read)
		if err != nil {
			var none mend.Error
			if spread := slices.Max(v) - slices.Min(v); errors.As(err, &none) && spread < leastDrop+2e-4 {
				continue // fed in right at the short: nothing drops
			}
			t.Fatalf("%+v fed at %d, %v: %v", b, feed, read, err)
		}
		if f.From == f.To && slices.Max(v)-slices.Min(v) < leastDrop+2e-4 {
			continue
		}
		if !b.near(f) {
			t.Fatalf(
				"short before place %d (%.0f %%), found %+v; copper %+v, fed at %d, volts %v",
				b.short,
				100*b.share,
				f,
				b.copper,
				feed,
				read,
			)
		}
		share := f.Share
		if f.From == b.short {
			share = 1 - share // found walking towards the root
		}
		if on := f.From + f.To; on == b.short+b.copper[b.short].Before && b.copper[max(f.From, f.To)].Before == min(f.From, f.To) {
			exact++
			worst = max(worst, math.Abs(share-b.share)*b.copper[b.short].Ohms)
		}
	}
	t.Logf("%d of %d on the very segment, then at most %.2f mΩ off; the rest on a segment that touches it", exact, tried, 1000*worst)
	if exact < tried*8/10 {
		t.Errorf("only %d of %d on the very segment", exact, tried)
	}
}

func TestWhatCannotBeLocatedSaysWhy(t *testing.T) {
	copper := []Segment{{Before: -1}, {Before: 0, Ohms: 0.01}, {Before: 1, Ohms: 0.01}}
	for _, x := range []struct {
		feed int
		amps float64
		read map[int]float64
		says string
	}{
		{-1, 1, map[int]float64{0: 1, 1: 2}, "where the current is fed in"},
		{0, 0, map[int]float64{0: 1, 1: 2}, "how much"},
		{0, 1, map[int]float64{0: 1}, "two places"},
		{0, 1, map[int]float64{1: 0.1, 2: 0.1001}, "feed in more current"},
	} {
		var none mend.Error
		if _, err := Locate(copper, x.feed, x.amps, x.read); !errors.As(err, &none) || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%+v: %v", x, err)
		}
	}
	// A short within a segment, by hand: 1 A over 10 mΩ and then 4 of 10 mΩ.
	f, err := Locate(copper, 0, 1, map[int]float64{0: 0.114, 1: 0.104, 2: 0.100})
	if err != nil || f.From != 1 || f.To != 2 || math.Abs(f.Share-0.4) > 1e-6 {
		t.Errorf("%+v, %v", f, err)
	}
}

// Readings typed along the track put the short between two places, and name
// what hangs there.
func TestMillivoltsOnTheRail(t *testing.T) {
	c := receiver(t)
	c.Power = reading.PowerOff
	c.Injected = &reading.Injection{At: "+12 V @ IC2 out", Level: 1}
	h := read(t, c, "+12 V = 0.4 ohm", "+12 V @ IC2 out = 19.1m", "+12 V @ C31 + = 13.0m", "+12 V @ P4-1 = 8.1m",
		"+12 V @ C40 + = 0.1m")["+12 V"].Hunt
	if h.Found == nil || h.Found.Near != "C40 +" ||
		!strings.Contains(h.Found.Sentence, "leaves the track at C40 +. There hang C40, IC5, IC6") {
		t.Errorf("%+v %s", h.Found, h.Doubt)
	}
	if len(h.Places) != 4 || h.Places[3].Read != "100 µV" {
		t.Errorf("%+v", h.Places)
	}
}

func BenchmarkLocate(b *testing.B) {
	rng := rand.New(rand.NewPCG(8, 3))
	x := randomBoard(rng)
	read := map[int]float64{}
	for i, v := range x.volts(0, 1) {
		read[i] = v
	}
	for b.Loop() {
		if _, err := Locate(x.copper, 0, 1, read); err != nil {
			b.Fatal(err)
		}
	}
}

// What grows warm while a current is fed in takes it; cold ones and small differences say nothing.
func TestWhatGrowsWarm(t *testing.T) {
	c := receiver(t)
	for name, x := range map[string]struct {
		texts []string
		warm  string
	}{
		"felt":       {[]string{"off: +12 V = 0.6 ohm", "off: C40 = cold", "off: IC5 = warm"}, "IC5 grows warm"},
		"in degrees": {[]string{"off: +12 V = 0.6 ohm", "off: C40 = 24 °C", "off: IC5 = 25.5 °C", "off: IC6 = 38 °C"}, "IC6 grows warm"},
		"alike":      {[]string{"off: +12 V = 0.6 ohm", "off: C40 = 24 °C", "off: IC5 = 25.5 °C"}, ""},
		"cold":       {[]string{"off: +12 V = 0.6 ohm", "off: C40 = cold"}, ""},
	} {
		r := read(t, c, x.texts...)["+12 V"]
		if r.Hunt == nil || !strings.HasPrefix(r.Hunt.Warm, x.warm) || x.warm == "" && r.Hunt.Warm != "" {
			t.Errorf("%s: %+v", name, r.Hunt)
		}
	}
	for _, bad := range []string{"ok", "4 V"} {
		if _, err := c.Take(reading.Aim{Point: "C40"}, bad); err == nil {
			t.Errorf("%q is read of a part", bad)
		}
	}
}

// What hangs on a rail is added to the sheet on the spot, with the stages that need it where the
// sheet had no copper.
func TestHang(t *testing.T) {
	c := receiver(t)
	s := c.Plan.Sheet
	added, err := s.Hang(c.Plan, "-24 V", "", []string{"C91", "Q7 driver"})
	if err != nil || len(added.Tracks) != len(s.Tracks)+1 {
		t.Fatal(err, added)
	}
	plan, problems := added.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	c.Plan, c.Route = plan, &plan.Routes[0]
	r := read(t, c, "off: -24 V = 0.2 ohm")["-24 V"]
	names := []string{}
	for _, h := range r.Hunt.Hangs {
		names = append(names, h.Name)
	}
	if !slices.Equal(names, []string{"C91", "Q7 driver"}) {
		t.Errorf("on it hang %v", names)
	}
	if more, err := added.Hang(plan, "+12 V", "C40 +", []string{"C44"}); err != nil || !slices.Contains(more.Tracks[3].Hangs, "C44") ||
		slices.Contains(added.Tracks[3].Hangs, "C44") {
		t.Error(err, more)
	}
	for says, x := range map[string][]string{"no rail": {"+99 V", "", "C1"}, "no place": {"+12 V", "nowhere", "C1"}, "no name": {"+12 V",
		"", " "}, "already": {"+12 V", "C31 +", "C31"}} {
		if _, err := s.Hang(receiver(t).Plan, x[0], x[1], x[2:]); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%v: %v", x, err)
		}
	}
}

// While a rail is shorted nothing that needs power is asked for; what is lifted next is, until the
// short is gone with one thing lifted.
func TestAShortComesBeforePower(t *testing.T) {
	c := receiver(t)
	asks := func(texts ...string) (all []string) {
		for _, r := range Explain(c.Plan, find(t, c, texts...)) {
			for _, n := range r.Next {
				all = append(all, fmt.Sprintf("%s %s %v", n.Point, n.Quantity, n.Without))
			}
		}
		return all
	}
	if got := asks("+5 V standby = 5.02"); !slices.Contains(got, "+24 V dc []") {
		t.Errorf("no short yet, and asked for is %q", got)
	}
	got := asks("+5 V standby = 5.02", "off: +12 V = 0.4 ohm")
	if len(got) == 0 || slices.ContainsFunc(got, func(s string) bool { return !strings.HasPrefix(s, "+12 V resistance [") }) {
		t.Errorf("with +12 V shorted, asked for is %q", got)
	}
	// Repaired, the short has to be shown gone before anything needs power; then the rails come again.
	readings := taken(t, c, "+5 V standby = 5.02", "off: +12 V = 0.4 ohm")
	c.Round, c.Repairs = 1, []trace.Renewed{{Round: 1, Blocks: []string{"+12 V"}}}
	after := func(more ...reading.Reading) (all []string) {
		found := c.Find(append(slices.Clone(readings), more...))
		for _, r := range Explain(c.Plan, &found) {
			for _, n := range r.Next {
				all = append(all, fmt.Sprintf("%s %s", n.Point, n.Quantity))
			}
		}
		return all
	}
	if got := after(); !slices.Equal(got, []string{"+12 V resistance"}) {
		t.Errorf("after the repair, asked for is %q", got)
	}
	off := c
	off.Power = reading.PowerOff
	gone := taken(t, off, "off: +12 V = 340 ohm")[0]
	gone.ID = "gone"
	if got := after(gone); !slices.Contains(got, "+5 V standby dc") {
		t.Errorf("the short is gone, and asked for is %q", got)
	}
	c.Round, c.Repairs = 0, nil
	r := read(t, c, "off: +12 V = 0.4 ohm", "off: +12 V = 300 ohm / C31")["+12 V"]
	if r.Hunt == nil || !r.Hunt.Proved || !strings.HasPrefix(r.Says, "C31 is the short") {
		t.Errorf("%s %+v", r.Says, r.Hunt)
	}
}
