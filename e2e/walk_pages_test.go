package e2e

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"steptrace/e2e/browser"
	"steptrace/internal/server"
)

// The walk through the pages.

// travel takes a job out as a file and brings it in again.
func (w *walker) travel(at func(string) string) {
	rec := httptest.NewRecorder()
	w.handler.ServeHTTP(rec, fromHere("GET", "http://127.0.0.1"+at("/file.json"), nil))
	var opened server.Opened
	if rec.Code == http.StatusOK && w.call("POST", "/api/jobs/import", rec.Body.String(), &opened) && len(w.jobs) < 16 {
		w.jobs = append(w.jobs, opened.Number)
	}
}

// press takes one step through the pages: keys as a hand in a hurry has them.
func (w *walker) press(tab *browser.Tab, url string, number int) string {
	switch w.rng.IntN(12) {
	case 0:
		view := w.some("", "", "/intake", "/safe", "/open", "/supplies", "/signals", "/inside")
		must(w.t, tab.Go(fmt.Sprintf("%s/#/jobs/%d%s", url, number, view)))
		return "go to " + view
	case 1:
		must(w.t, tab.Reload())
		return "reload"
	case 2, 3:
		keys := "g" + w.some("1", "2", "3", "4", "5", "6", "7")
		must(w.t, tab.Keys("\x1b"), tab.Keys(keys))
		return keys
	case 4, 5, 6, 7:
		text := texts[w.rng.IntN(len(texts))]
		must(w.t, tab.Keys(w.some("w", "/", "")), tab.Keys(text), tab.Keys("\r"))
		return "type " + text
	case 8:
		must(w.t, tab.Keys("\x1b"))
		return "Esc"
	}
	keys := w.some(
		"n",
		"s",
		"c",
		"k",
		"q",
		"i",
		"h",
		"u",
		"p",
		"m",
		"r",
		"x",
		"f",
		"a",
		"o",
		"o1",
		"o3",
		"d",
		"?",
		kb.ArrowLeft,
		kb.ArrowRight,
		kb.ArrowDown,
		kb.ArrowUp,
		kb.Home,
		kb.End,
		" ",
		"-",
		"m",
		"t",
		"b",
		"e",
		"\t",
		"\r",
		"a\r",
		"f\r",
		"x\r",
	)
	must(w.t, tab.Keys(keys))
	return "press " + keys
}

// A walk through the real pages: nothing breaks, no page is empty, and nothing that was
// once there is missing.
func TestAWalkThroughThePages(t *testing.T) {
	const steps, seed = 240, 5
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	w := &walker{t: t, rng: rand.New(rand.NewPCG(seed, 34))}
	for i := range 4 {
		data, err := json.Marshal(anySheet(w.rng, i))
		must(t, err)
		var v server.SheetView
		var opened server.Opened
		if postJSON(t, p.url+"/api/sheets/import", string(data), &v) &&
			postJSON(t, p.url+"/api/jobs", fmt.Sprintf(`{"sheet":%d,"complaint":"dead"}`, v.ID), &opened) {
			w.jobs = append(w.jobs, opened.Number)
		}
	}
	w.jobs = append(w.jobs, 142, 145, 146, 147, 148, 139)
	var done []string
	number := 0
	seen := map[int]map[string]bool{}
	for n := range steps {
		if n%20 == 0 {
			number = w.jobs[n/20%len(w.jobs)]
			must(t, tab.Go(fmt.Sprintf("%s/#/jobs/%d", p.url, number)), tab.Reload(), tab.See("No. "+fmt.Sprint(number)))
		}
		done = append(done, fmt.Sprintf("job %d: %s", number, w.press(tab, p.url, number)))
		fail := func(format string, args ...any) {
			t.Fatalf(
				"seed %d, step %d: %s\nlast steps: %s",
				seed,
				n,
				fmt.Sprintf(format, args...),
				strings.Join(done[max(0, len(done)-12):], "; "),
			)
		}
		if err := tab.Until("document.body.innerText.trim().length > 60"); err != nil { // it is there in a moment
			fail("%v; %s", err, tab.Wrong())
		}
		if wrong := tab.Wrong(); len(wrong) > 0 {
			fail("%s", wrong)
		}
		text, err := browser.Ask[string](tab, "document.body.innerText")
		if err != nil || strings.Contains(text, "This screen cannot be shown") || strings.Contains(text, "That did not work") {
			fail("the page says %q, %v", text, err)
		}
		var v server.JobView
		getJSON(t, fmt.Sprintf("%s/api/jobs/%d", p.url, number), &v)
		if v.Findings == nil {
			continue
		}
		there := map[string]bool{}
		for _, j := range v.Findings.Readings {
			there[j.Reading.ID] = true
			keep(seen, number, j.Reading.ID)
		}
		for id := range seen[number] {
			if !there[id] {
				fail("reading %s is missing", id)
			}
		}
	}
	t.Logf("%d steps through the pages, seed %d", steps, seed)
}

// A screen that breaks while it is drawn says so, with ways back: load again, take back what
// was logged last, the shelf. The tab is not watched: its console has to have the error.
func TestAScreenThatBreaksHasAWayBack(t *testing.T) {
	p := start(t, "-demo")
	tab, err := browser.Open(1280, 800)
	must(t, err)
	t.Cleanup(tab.Close)
	must(t, tab.Go(p.url+"/#/jobs/145"), tab.See("Suspects, 12"), tab.Keys("wnone\r"), tab.Until(lines+` === 1`))
	// As the server once answered: a list that is null, as long as a reading counts.
	must(t, tab.Until(`(() => {
		const real = window.fetch;
		window.fetch = async (...args) => {
			const response = await real(...args);
			if (!String(args[0]).endsWith('/api/jobs/145')) return response;
			const job = await response.json();
			if (job.findings.readings.some((j) => !j.reading.struck)) job.findings.stages.forEach((s) => (s.speaks = s.reasons = null));
			return new Response(JSON.stringify(job));
		};
		return true;
	})()`))
	must(
		t,
		tab.Until(`(window.dispatchEvent(new Event('focus')), document.body.innerText.includes('This screen cannot be shown'))`),
		tab.See("Nothing that was confirmed is lost"),
	)
	if wrong := tab.Wrong(); len(wrong) == 0 {
		t.Error("the console knows nothing of it")
	}
	must(t, tab.Button("Strike out the last reading"), tab.See("Suspects, 12"), tab.See("the screen could not show it"))
	must(t, tab.Keys("g0"), tab.See("On the bench"))
}
