package e2e

import (
	"fmt"
	"strings"
	"testing"
)

// toWeigh is a job that was traced to two suspects, of a set of no demo.
const toWeigh = `{"format":"steptrace-job","version":1,"sheet":{"model":"Brulle D2","document":%s},"number":61,
"complaint":"Right side dead after the garden party","opened":"2026-11-20T09:00:00Z",
"readings":[{"id":"a1","point":"OUT R","quantity":"ac","text":"none","si":0,"word":"none","taken":"2026-11-20T09:10:00Z"}]}`

// Whether it is worth it, by keys alone: what it is worth, what the owner allows, what a board costs, what was seen; an estimate is
// given, waited for on the shelf, answered; it is decided, with the reason in the record. Then it ends, and its model has been taught.
func TestWorthItByKeys(t *testing.T) {
	p := start(t)
	put(
		t,
		p.url+"/api/shop",
		`{"name":"Bench at the mill","address":"","currency":"kr","rate":"60","months":6,"warranty":"","thanks":"","paper":"A4"}`,
	)
	var job struct{ Number int }
	if !postJSON(t, p.url+"/api/jobs/import", fmt.Sprintf(toWeigh, twoChannels), &job) {
		t.Fatal("no job")
	}
	tab := open(t, 1280, 800)
	at := fmt.Sprintf("%s/#/jobs/%d", p.url, job.Number)
	has := func(where, text string) error {
		return tab.Until(fmt.Sprintf(`document.querySelector('%s')?.innerText.includes(%q)`, where, text))
	}
	must(t, tab.Go(at), tab.See("Brulle D2"), tab.Keys("gv"), tab.See("What can be done"))
	for _, typed := range [][2]string{{"u", "150"}, {"l", "20"}, {"b", "70,-"}, {"t", "99.50"}} {
		must(
			t,
			tab.Keys(typed[0]),
			tab.Until(`document.activeElement.matches('input[data-field]')`),
			tab.Keys(typed[1]+"\r"),
			tab.Until(`!document.activeElement.matches('input')`),
		)
	}
	must(
		t,
		has(`[data-test=limits]`, "It will most likely cost more than the 20"),
		has(`[aria-label=Choices]`, "99.50"),
		has(`[aria-label=Choices]`, "most"),
	)
	must(
		t,
		tab.Keys("x"),
		tab.Until(`document.activeElement.type === 'checkbox'`),
		tab.Keys(" "),
		has(`[aria-label=Chances]`, "a board is charred"),
	)
	must(t, tab.Until(`(document.activeElement.blur(), true)`))
	// An estimate, and its answer.
	must(
		t,
		tab.Keys("e"),
		tab.Until(`document.activeElement.dataset.field === 'low'`),
		tab.Keys("\r"),
		tab.See("The owner is asked, and has not answered"),
	)
	must(t, tab.Go(p.url), tab.See("answer to the estimate of"), tab.Go(at+"/waiting"), tab.See("It waits for its owner"), tab.Keys("gv"))
	must(t, tab.See("The owner is asked"), tab.Keys("e"), tab.Until(`document.activeElement.dataset.field === 'most'`), tab.Keys("900\r"))
	must(t, has(`[data-test=limits]`, "It stays within the 900"), has(`[aria-label="Said and decided"]`, "go on, up to 900"))
	// The decision wants its reason.
	must(t, tab.Keys("\r"), tab.Until(`document.activeElement.dataset.field === 'why'`), tab.Keys("\r"), tab.See("The reason is empty"))
	must(t, tab.Keys("it was his father's\r"), has(`[aria-label="Said and decided"]`, "decided: Repair the part, it was his father's"))
	must(t, tab.Go(at+"/worth"), tab.See("decided"), tab.Resize(390, 844), tab.See("What can be done"),
		tab.Until(`document.documentElement.scrollWidth <= 390`), tab.Resize(1280, 800))
	// It ends, and the model has learnt; another workshop's jobs are taken in beside.
	finish := fmt.Sprintf("%s/api/jobs/%d/finish", p.url, job.Number)
	var view struct{}
	without := `[{"key":"no repair","text":"","why":"done at the owner's"}]`
	if !postJSON(t, finish, fmt.Sprintf(`{"outcome":"Q32 shorted","stage":"amplifier, right","without":%s}`, without), &view) {
		t.Fatal("not finished")
	}
	lent := `{"format":"steptrace-experience","version":1,"workshop":"Far Bench","jobs":[{"set":"BRULLE D-2","kind":"","finished":"2025-01-02",` +
		`"complaint":"one side dead","was":"","ends":[{"block":"amplifier, right","kind":"amplifier","part":"Q31"}],"work":{"trace":20},` +
		`"usual":{"trace":10},"mistaken":[],"prices":[]}]}`
	if !postJSON(t, p.url+"/api/experience", lent, &view) {
		t.Fatal("nothing lent")
	}
	must(t, tab.Go(at), tab.See("Brulle D2"), tab.Keys("g8"), tab.See("What it taught"), tab.Keys("t"), tab.See("what it taught"))
	must(
		t,
		has(`[data-test=says]`, "One job here, and one job that others lent"),
		has(`[aria-label="What failed"]`, "Q31 in amplifier, right"),
	)
	must(t, has(`[aria-label="Taken in"]`, "Far Bench: 1 job"), tab.Button("Take it out"), tab.See("counts no more"))
	must(t, has(`[data-test=says]`, "One job here: it was amplifier, right"))
	if body := getText(t, fmt.Sprintf("%s/api/jobs/%d/record.html", p.url, job.Number)); !strings.Contains(
		body,
		"decided: Repair the part",
	) {
		t.Error("the record does not tell of the decision")
	}
}
