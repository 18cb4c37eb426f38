package e2e

import (
	"bytes"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"steptrace/e2e/browser"

	"github.com/chromedp/chromedp/kb"
)

// handedBack is a job that was repaired and shown right, of a set of no demo.
const handedBack = `{"format":"steptrace-job","version":1,"sheet":{"model":"Brulle D2","document":%s},"number":51,
"complaint":"Right side dead after the garden party","opened":"2026-11-20T09:00:00Z",
"intake":{"owner":"Mrs Aldoun","serial":"D2-4471"},
"readings":[{"id":"a1","point":"OUT R","quantity":"ac","text":"none","si":0,"word":"none","taken":"2026-11-20T09:10:00Z"},
{"id":"a2","point":"OUT R","quantity":"ac","text":"19.8 V","si":19.8,"form":"rms","taken":"2026-11-21T10:10:00Z"},
{"id":"a3","point":"OUT R","quantity":"ac","text":"19.9 V","si":19.9,"form":"rms","taken":"2026-11-21T10:12:00Z"}],
"repairs":[{"id":"r1","at":"2026-11-21T10:00:00Z","repair":
{"did":"replaced","stage":"amplifier, right","parts":[{"name":"Q32","found":"bad","fitted":"TIP41C"}]}}]}`

// From what was shown repaired to the printed report: plain words, written otherwise by keys, the workshop's head, one or two
// pages of paper with nothing empty; and when the set comes back, the earlier job, its repair and its warranty are told.
func TestHandedBackAndComesBack(t *testing.T) {
	p := start(t)
	var job, again struct{ Number int }
	if !postJSON(t, p.url+"/api/jobs/import", fmt.Sprintf(handedBack, twoChannels), &job) {
		t.Fatal("no job")
	}
	tab := open(t, 1280, 800)
	page := func(text string) error {
		return tab.Until(fmt.Sprintf(`document.querySelector('iframe')?.contentDocument?.body?.innerText.includes(%q)`, text))
	}
	must(t, tab.Go(fmt.Sprintf("%s/#/jobs/%d", p.url, job.Number)), tab.See("Brulle D2"), tab.Keys("gh"))
	must(t, page("a transistor (Q32), by which a small current steers a large one, had failed"), page("Mrs Aldoun"))
	must(
		t,
		tab.Keys("w"),
		tab.See("An hour costs"),
		tab.Write("Its name", "Bench at the mill"),
		tab.Button("Keep it"),
		page("Bench at the mill"),
	)
	must(t, tab.Keys("e"), tab.Until(`document.activeElement.ariaLabel === 'What was wrong'`))
	must(t, tab.Keys(" It had run hot."), tab.Keys("\x1b"), page("had failed. It had run hot."), tab.See("as you wrote it"))
	must(t, tab.Keys("x"), tab.Until(`!document.querySelector('iframe').contentDocument.body.innerText.includes('What was wrong')`),
		tab.Keys("x"), page("It had run hot."), tab.Keys("m"), tab.Until(
			`!document.querySelector('iframe').contentDocument.body.innerText.includes('It had run hot')`))
	for paper, box := range map[string]string{"A4": "594.9", "letter": "612"} { // their widths in points
		shop := fmt.Sprintf(`{"name":"Bench at the mill","address":"","currency":"€","rate":"","months":6,"warranty":"on the work",`+
			`"thanks":"","paper":%q}`, paper)
		put(t, p.url+"/api/shop", shop)
		if pdf := printed(t, tab, fmt.Sprintf("%s/api/jobs/%d/report.html", p.url, job.Number)); onPages(pdf) != 1 ||
			!bytes.Contains(pdf, []byte("/MediaBox [0 0 "+box)) {
			t.Errorf("%s: %d pages", paper, onPages(pdf))
		}
	}
	// Finished, with what is open done without; then it is back.
	finish := fmt.Sprintf("%s/api/jobs/%d/finish", p.url, job.Number)
	var view struct{}
	if !postJSON(t, finish, `{"outcome":"Q32 shorted; renewed","stage":"amplifier, right"}`, &view) {
		t.Fatal("not finished")
	}
	// The next day's shelf: it stands ready, and leads to its report by keys.
	must(t, tab.Go(p.url), tab.See("ready to be fetched"), tab.Keys(kb.ArrowDown), tab.Until(`document.activeElement.dataset.day === '51'`),
		tab.Keys("\r"), tab.Until(`location.hash === '#/jobs/51/handback'`), page("Mrs Aldoun"))
	var sheets struct{ Sheets []struct{ ID int64 } }
	getJSON(t, p.url+"/api/sheets", &sheets)
	if !postJSON(t, p.url+"/api/jobs", fmt.Sprintf(`{"sheet":%d,"complaint":"right side dead again"}`, sheets.Sheets[0].ID), &again) {
		t.Fatal("no second job")
	}
	must(
		t,
		tab.Go(fmt.Sprintf("%s/#/jobs/%d/intake", p.url, again.Number)),
		tab.See("Whose it is"),
		tab.Click(
			`[placeholder="from the plate"]`,
		),
		tab.Keys("d2-4471\r"),
		tab.See("It was here before, by its serial number: No. 51"),
		tab.See("That repair is the first suspect: amplifier, right"),
		tab.See("Warranty on it until"),
	)
	until := time.Now().AddDate(0, 6, 0).Format("January 2006")
	must(
		t,
		tab.See(until),
		tab.Resize(390, 844),
		tab.Go(fmt.Sprintf("%s/#/jobs/%d/handback", p.url, again.Number)),
		tab.See("What it says"),
	)
}

func put(t *testing.T, url, body string) {
	t.Helper()
	r, err := http.NewRequest(http.MethodPut, url, strings.NewReader(body))
	must(t, err)
	r.Header.Set("Content-Type", "application/json")
	answer, err := http.DefaultClient.Do(r)
	must(t, err)
	defer func() { must(t, answer.Body.Close()) }()
	if answer.StatusCode != http.StatusOK {
		t.Fatal(answer.Status)
	}
}

// printed is a page as it comes out of the printer.
func printed(t *testing.T, tab *browser.Tab, url string) []byte {
	t.Helper()
	other, err := tab.Another()
	if err != nil {
		t.Fatal(err)
	}
	defer other.Close()
	must(t, other.Go(url))
	pdf, err := other.PDF()
	if err != nil {
		t.Fatal(err)
	}
	return pdf
}

// onPages is how many sheets of paper that is.
func onPages(pdf []byte) int { return bytes.Count(pdf, []byte("/Type /Page\n")) }
