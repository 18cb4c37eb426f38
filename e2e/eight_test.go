package e2e

import (
	"bytes"
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/trace"
	"steptrace/e2e/browser"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// Eight sets that have nothing in common but a fault: each comes in with a complaint, is
// traced by doing whatever is asked for next, repaired, shown repaired, and goes back,
// without anything struck out.

// patient is a set on the table as hands find it. What it shows is worked out here, from its
// wiring and from what each fault does, and never from the answers of the program.
type patient struct {
	name, complaint string
	sheet           string // as it is pasted
	route, way      string
	instrument      string
	marks           []mark // what the owner's complaint is at the exits, tried before anything is opened
	links           []link
	source          map[string]float64 // V rms at the entries, while the sheet's own signal is fed in
	shows           map[string]string  // "P4 dc" -> "4.1 V", while it is sound
	faults          []fault
	touched         bool // there is nothing but a finger and the speaker
	exit            string
	hunted          []planning.Probe               // what is read in the search for a short
	onSupplies      func(*testing.T, *browser.Tab) // the same on the screen
}

type mark struct{ entry, exit, word string }

// link is a stage as it is wired, with the gain that this very set has; of one setting of the
// set where it has several.
type link struct {
	stage, from, to string
	db              float64
	mode            string
}

// fault is one thing that is wrong until it is repaired.
type fault struct {
	shows  map[string]string  // instead of what a sound set shows; "P4 dc" -> "0.2 V"
	loses  map[string]float64 // dB that stages lose; nothing gets through at 200
	repair repair.Repair
}

const nothing = 200.0

// feeding is a signal on its way: where it comes in, in which setting of the set, past what.
type feeding struct {
	at, mode string
	volts    float64
	without  []string
	gone     int // faults mended
}

// level is the signal at a point, as it comes through the links; 0 where it does not.
func (p *patient) level(point string, in *feeding) float64 {
	if point == in.at {
		return in.volts
	}
	for _, l := range p.links {
		if l.to != point || l.mode != "" && l.mode != in.mode || slices.Contains(in.without, l.stage) {
			continue
		}
		v := p.level(l.from, in)
		if v == 0 {
			continue
		}
		db := l.db
		for _, f := range p.faults[in.gone:] {
			db -= f.loses[l.stage]
		}
		return v * math.Pow(10, db/20)
	}
	return 0
}

// finds is what a hand writes down for what is asked for, with the first faults gone.
func (p *patient) finds(t *testing.T, ask *planning.Probe, gone int) string {
	t.Helper()
	asked := strings.Join(append([]string{ask.Point, string(ask.Quantity)}, ask.Without...), " ")
	if ask.Worked {
		asked += " worked"
	}
	for _, f := range p.faults[gone:] {
		if text, ok := f.shows[asked]; ok {
			return text
		}
	}
	if text, ok := p.shows[asked]; ok {
		return text
	}
	if text, ok := p.shows[fmt.Sprintf("%s %s", ask.Point, ask.Quantity)]; ok && !ask.Worked {
		return text // whatever is lifted
	}
	if ask.Quantity != sheet.AC {
		t.Fatalf("%s: %s is asked for, which this set was not thought of: %+v", p.name, asked, ask)
	}
	route := strings.Split(cmp.Or(ask.Route, p.route), "|")
	in := feeding{at: route[1], mode: route[0], volts: p.source[route[1]], without: ask.Without, gone: gone}
	if i := ask.Injected; i != nil && i.At != "" {
		in.at, in.volts = i.At, cmp.Or(i.Level, p.source[i.At])
		if i.Touch {
			in.volts = 0.05
		}
	}
	v := p.level(ask.Point, &in)
	switch {
	case p.touched && ask.Point != p.exit:
		t.Fatalf("%s: there is nothing to read volts with, and %s is asked for", p.name, asked)
	case p.touched && v > 0.04:
		return "ok"
	case p.touched && v > 0.002:
		return "weak"
	case p.touched || v < 20e-6:
		return "none"
	}
	return fmt.Sprintf("%.3g mV", v*1000)
}

// hands do what is asked for, over the API or on the pages.
type hands interface {
	job() server.JobView
	read(ask *planning.Probe, text string)
	hunt() // along the copper of a rail that is shorted
	repair(r *repair.Repair)
	finish(outcome, stage string)
}

// asked is what comes next: what the bench proposes, or what is missing before the stage that
// is named is condemned.
func asked(v *server.JobView) *planning.Probe {
	f := v.Findings
	if f.Next != nil {
		return f.Next
	}
	for _, g := range f.Grounds {
		if g.Proof == trace.Lacking && g.Point != "" {
			return &planning.Probe{
				Point:    g.Point,
				Quantity: g.Quantity,
				Without:  g.Without,
				Worked:   g.Worked,
				Route:    g.Route,
				Injected: g.Injected,
			}
		}
	}
	return nil
}

// treat goes the whole way, and counts the readings.
func (p *patient) treat(t *testing.T, h hands) {
	t.Helper()
	taken := 0
	for gone := range len(p.faults) + 1 {
		for n := 0; ; n++ {
			v := h.job()
			ask := asked(&v)
			if v.Findings.State == trace.Repaired || ask == nil {
				break
			}
			if n == 25 {
				t.Fatalf("%s: after %d readings it still asks for %s %s: %s", p.name, n, ask.Point, ask.Quantity, v.Findings.Headline)
			}
			if ask.Quantity == sheet.Provocation {
				t.Fatalf("%s: %v", p.name, ask.Sentence)
			}
			text := p.finds(t, ask, gone)
			t.Logf(
				"%-10s %s %s%s on %q, without %v, in %+v: %s",
				v.Findings.State,
				ask.Point,
				ask.Quantity,
				map[bool]string{true: ", worked"}[ask.Worked],
				ask.Route,
				ask.Without,
				ask.Injected,
				text,
			)
			h.read(ask, text)
			taken++
		}
		v := h.job()
		if gone == len(p.faults) {
			if v.Findings.State != trace.Repaired {
				t.Fatalf("%s: with all repaired it says %q and asks for nothing", p.name, v.Findings.Headline)
			}
			break
		}
		at := p.faults[gone].repair.Stage
		t.Logf("%s: %s", p.name, v.Findings.Headline)
		if !strings.Contains(v.Findings.Headline, at) {
			t.Fatalf("%s: the fault is in %s, and it says %q %q", p.name, at, v.Findings.Headline, v.Findings.Reasons)
		}
		if p.onSupplies != nil {
			h.hunt()
		}
		h.repair(&p.faults[gone].repair)
		if v = h.job(); v.Findings.State != trace.Verifying || v.Round != gone+1 {
			t.Fatalf("%s: after the repair it says %q", p.name, v.Findings.Headline)
		}
	}
	h.finish("repaired", p.faults[len(p.faults)-1].repair.Stage)
	v := h.job()
	if v.Finished == nil || slices.ContainsFunc(v.Findings.Readings, func(j reading.Judged) bool { return j.Reading.Struck }) ||
		slices.ContainsFunc(v.Repairs, func(r server.NotedRepair) bool { return r.Struck }) {
		t.Fatalf("%s: finished %v", p.name, v.Finished)
	}
	t.Logf("%s: %d readings, %d repairs, shown repaired and back with its owner", p.name, taken, len(p.faults))
}

// script does it over the API.
type script struct {
	t       *testing.T
	p       *patient
	handler http.Handler
	number  int
	sent    int
}

func (s *script) call(method, path string, body, into any) {
	s.t.Helper()
	data, err := json.Marshal(body)
	must(s.t, err)
	if text, ok := body.(string); ok {
		data = []byte(text)
	}
	rec := httptest.NewRecorder()
	s.handler.ServeHTTP(rec, fromHere(method, "http://127.0.0.1"+path, bytes.NewReader(data)))
	if rec.Code != http.StatusOK {
		s.t.Fatalf("%s %s %.300s: %d %s", method, path, data, rec.Code, rec.Body)
	}
	if into != nil {
		must(s.t, json.Unmarshal(rec.Body.Bytes(), into))
	}
}

func (s *script) path(rest string) string { return fmt.Sprintf("/api/jobs/%d%s", s.number, rest) }

func (s *script) id() string {
	s.sent++
	return fmt.Sprint("s", s.sent)
}

func (s *script) job() (v server.JobView) {
	s.call("GET", s.path(""), nil, &v)
	return v
}

func (s *script) read(ask *planning.Probe, text string) {
	v := s.job()
	c := map[string]any{"route": v.Route, "injected": v.Injected, "instrument": v.Instrument}
	if ask.Route != "" {
		c["route"], c["injected"] = ask.Route, ask.Injected
	}
	without := ask.Without
	if without == nil {
		without = []string{}
	}
	s.call(
		"POST",
		s.path("/readings"),
		map[string]any{
			"id":         s.id(),
			"point":      ask.Point,
			"quantity":   ask.Quantity,
			"text":       text,
			"worked":     ask.Worked,
			"without":    without,
			"conditions": c,
		},
		nil,
	)
}

func (s *script) hunt() {
	for _, ask := range s.p.hunted {
		s.read(&ask, s.p.finds(s.t, &ask, 0))
	}
}

func (s *script) repair(r *repair.Repair) {
	s.call("POST", s.path("/repairs"), map[string]any{"id": s.id(), "at": "2026-03-02T09:00:00Z", "repair": r}, nil)
}

func (s *script) finish(outcome, stage string) {
	v := s.job()
	without := []map[string]string{}
	for _, o := range v.StillOpen {
		without = append(without, map[string]string{"key": o.Key, "text": o.Text, "why": "shown to the owner"})
	}
	if len(without) > 0 {
		s.t.Fatalf("still open: %+v", v.StillOpen)
	}
	s.call("POST", s.path("/finish"), map[string]any{"outcome": outcome, "stage": stage, "without": without}, nil)
}

// taken in: the sheet pasted, the job opened, what was tried at the exits marked, the bench set.
func (p *patient) admit(t *testing.T, s *script) {
	t.Helper()
	var v server.SheetView
	s.call("POST", "/api/sheets/import", p.sheet, &v)
	for _, x := range v.Check.Problems {
		t.Logf("%s: the sheet: %+v", p.name, x)
	}
	var opened server.Opened
	s.call("POST", "/api/jobs", map[string]any{"sheet": v.ID, "complaint": p.complaint}, &opened)
	s.number = opened.Number
	for _, m := range p.marks {
		s.call(
			"POST",
			s.path("/marks"),
			map[string]any{"id": s.id(), "mode": "", "entry": m.entry, "exit": m.exit, "without": []string{}, "word": m.word},
			nil,
		)
	}
	for _, r := range s.job().Routes {
		t.Logf("route %q: %s", r.Key, r.Name)
	}
	s.call(
		"PUT",
		s.path("/bench"),
		map[string]any{"route": p.route, "instrument": p.instrument, "way": p.way, "at": "", "level": "", "frequency": ""},
		nil,
	)
}

// All eight over the API.
func TestEightSetsGoHomeRepaired(t *testing.T) {
	for _, p := range patients() {
		t.Run(p.name, func(t *testing.T) {
			db, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "eight.db"))
			must(t, err)
			t.Cleanup(func() { _ = db.Close() })
			s := &script{t: t, p: p, handler: server.New(db, fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}}, nil).Handler()}
			p.admit(t, s)
			p.treat(t, s)
		})
	}
}

// pages does it on the screen, by keys where there are any.
type pages struct {
	t   *testing.T
	p   *patient
	url string
	tab *browser.Tab
}

func (g *pages) job() (v server.JobView) {
	getJSON(g.t, g.url+"/api/jobs/1", &v)
	return v
}

func (g *pages) read(ask *planning.Probe, text string) {
	g.t.Helper()
	words := map[string]string{"ok": "1", "weak": "2", "none": "3"}
	typed := text + "\r"
	switch _, word := words[text]; {
	case word && ask.Injected != nil && ask.Injected.Touch:
		typed = words[text]
	case word:
		typed = "w" + typed
	case text[0] == '-':
		typed = "/" + typed
	}
	must(g.t, g.tab.Until(noDialog), g.tab.Until(fmt.Sprintf(`document.querySelector('label[for=entry]')?.innerText === %q`, ask.Point)))
	n, err := browser.Ask[int](g.tab, evidence)
	must(g.t, err, g.tab.Keys(typed), g.tab.Until(fmt.Sprintf("%s === %d", evidence, n+1)))
	all := g.job().Findings.Readings
	r := all[len(all)-1].Reading
	if r.Quantity != ask.Quantity || r.Worked != ask.Worked ||
		!slices.Equal(r.Without, ask.Without) && len(r.Without)+len(ask.Without) > 0 {
		g.t.Fatalf("%s: asked for %+v, and the screen logged %+v", g.p.name, ask, r)
	}
}

func (g *pages) hunt() { g.p.onSupplies(g.t, g.tab) }

func (g *pages) repair(r *repair.Repair) {
	must(
		g.t,
		g.tab.Until(noDialog),
		g.tab.Keys("a"),
		g.tab.See("What was done to it"),
		g.tab.Until(fmt.Sprintf(`document.querySelector('dialog[open] select')?.value === %q`, r.Stage)),
		g.tab.Click(fmt.Sprintf(`dialog[open] input[value=%q]`, r.Did)),
	)
	for i, part := range r.Parts {
		must(
			g.t,
			g.tab.Fill(fmt.Sprintf(`[aria-label="Part %d"]`, i+1), part.Name),
			g.tab.Fill(fmt.Sprintf(`[aria-label="Fitted %d"]`, i+1), part.Fitted),
		)
	}
	must(g.t, g.tab.Button("Take it down"), g.tab.Until(noDialog), g.tab.See("After the repair"))
}

func (g *pages) finish(outcome, _ string) {
	must(
		g.t,
		g.tab.See("Shown repaired"),
		g.tab.Keys("f"),
		g.tab.Until(`document.querySelector('dialog[open] textarea')?.value !== ''`),
		g.tab.Fill("dialog[open] textarea", outcome),
		g.tab.Button("Finish"),
		g.tab.See("Back on the bench"),
	)
}

// Four of them on the screen, from the pasted sheet on.
func TestFourOfThemOnTheScreen(t *testing.T) {
	for _, p := range []*patient{voices(), deadScreen(), byTouch(), noPilot()} {
		t.Run(p.name, func(t *testing.T) {
			g := &pages{t: t, p: p, url: start(t).url, tab: open(t, 1280, 800)}
			g.admit()
			p.treat(t, g)
		})
	}
}

func (g *pages) admit() {
	t, tab, p := g.t, g.tab, g.p
	must(
		t,
		tab.Go(g.url+"/#/sheets/new"),
		tab.Button("Paste a table"),
		tab.Fill("dialog textarea", p.sheet),
		tab.Button("Take it over"),
		tab.See("Taken over"),
		tab.Until(noDialog),
		tab.Button("Save"),
		tab.See("Saved."),
		tab.Button("New job"),
	)
	must(t, tab.See("Begins with your sheet"), tab.Fill("textarea", p.complaint), tab.Button("Open the job"), tab.See("No. 1"))
	for _, m := range p.marks {
		cell := fmt.Sprintf(`[aria-label=%q]`, fmt.Sprintf("%s  to %s: not tried", m.entry, m.exit))
		must(
			t,
			tab.Click(cell),
			tab.Keys(map[string]string{"ok": "w", "weak": "f", "none": "x"}[m.word]),
			tab.Until(`document.querySelector('`+cell+`') === null`),
		)
	}
	must(t, tab.Keys("g5"), tab.Until(`document.querySelector('label[for=entry]') !== null`))
	if v := g.job(); len(v.Routes) > 1 && v.Route != p.route {
		i := slices.IndexFunc(v.Routes, func(r server.RouteChoice) bool { return r.Key == p.route })
		must(t, tab.Choose("header select", v.Routes[i].Name))
		for g.job().Route != p.route {
		}
	}
	if p.way != "" {
		v := g.job()
		i := slices.IndexFunc(v.Findings.Ways, func(w planning.WayCost) bool { return string(w.Way) == p.way })
		if i >= 0 {
			must(t, tab.Keys("h"), tab.See("From here, on this route"), tab.Keys(fmt.Sprint(i+1)), tab.Until(noDialog))
		}
	}
}
