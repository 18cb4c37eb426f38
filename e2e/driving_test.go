package e2e

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"

	"steptrace/e2e/browser"
)

// What the stories have in common: a browser, questions to the server, steps that each takes.

// must ends the test at the first step that fails.
func must(t *testing.T, errs ...error) {
	t.Helper()
	for _, err := range errs {
		if err != nil {
			t.Fatal(err)
		}
	}
}

func open(t *testing.T, width, height int, microphone ...string) *browser.Tab {
	t.Helper()
	tab, err := browser.Open(width, height, microphone...)
	if err != nil {
		t.Fatal(err)
	}
	watch(t, tab)
	return tab
}

// postJSON asks; true where it was answered with 200.
func postJSON(t *testing.T, url, body string, into any) bool {
	t.Helper()
	r, err := http.Post(url, "application/json", strings.NewReader(body))
	must(t, err)
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		return false
	}
	must(t, json.NewDecoder(r.Body).Decode(into))
	return true
}

// watch fails the test at its end where anything went wrong in a page.
func watch(t *testing.T, tab *browser.Tab) {
	t.Cleanup(func() {
		for _, wrong := range tab.Wrong() {
			t.Errorf("in the page: %s", wrong)
		}
		tab.Close()
	})
}

func getJSON(t *testing.T, url string, v any) {
	t.Helper()
	if err := json.Unmarshal([]byte(getText(t, url)), v); err != nil {
		t.Fatalf("%s: %v", url, err)
	}
}

func getText(t *testing.T, url string) string {
	t.Helper()
	r, err := http.Get(url)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	data, err := io.ReadAll(r.Body)
	if err != nil {
		t.Fatalf("%s: %v", url, err)
	}
	return string(data)
}

// condemn goes on reading what is asked for until the named stage is condemned:
// what decides is read twice.
func condemn(t *testing.T, tab *browser.Tab, values map[string]string) {
	t.Helper()
	for range 8 {
		must(t, tab.Until(`document.querySelector('dialog[open]') === null`))
		done, err := browser.Ask[bool](tab, `document.body.innerText.includes('is condemned.')`)
		must(t, err)
		if done {
			return
		}
		point, err := browser.Ask[string](tab, `document.querySelector('label[for=entry]').innerText`)
		must(t, err)
		readings := `document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length`
		n, err := browser.Ask[int](tab, readings)
		must(t, err)
		must(t, tab.Keys(values[point]+"\r"), tab.Until(fmt.Sprintf("%s === %d", readings, n+1)))
	}
	t.Fatal("it is not condemned after eight more readings")
}

// renew notes that a part was replaced where the trace says.
func renew(t *testing.T, tab *browser.Tab, part, fitted string) {
	t.Helper()
	must(
		t,
		tab.Until(noDialog),
		tab.Keys("a"),
		tab.See("What was done to it"),
		tab.Until(`document.querySelector('[aria-label="Part 1"]') !== null`),
		tab.Fill(
			`[aria-label="Part 1"]`,
			part,
		),
		tab.Fill(`[aria-label="Fitted 1"]`, fitted),
		tab.Button("Take it down"),
		tab.Until(noDialog),
	)
}

// verify reads what is asked for after a repair until it is shown: by point and what is read there.
func verify(t *testing.T, tab *browser.Tab, good map[string]string) {
	t.Helper()
	for range 30 {
		must(t, tab.Until(noDialog))
		done, err := browser.Ask[bool](
			tab,
			`document.querySelector('[data-test=headline]')?.innerText.startsWith('Shown repaired') ?? false`,
		)
		must(t, err)
		if done {
			return
		}
		aim, err := browser.Ask[string](
			tab,
			`document.querySelector('label[for=entry]').innerText + ' ' + (document.querySelector('[data-test=quantity]')?.innerText ?? '')`,
		)
		must(t, err)
		text, ok := good[aim]
		if !ok {
			t.Fatalf("nothing is known of %q", aim)
		}
		n, err := browser.Ask[int](tab, lines)
		must(t, err)
		must(t, tab.Keys(text+"\r"), tab.Until(fmt.Sprintf("%s === %d", lines, n+1)))
	}
	t.Fatal("it is not shown repaired after thirty readings")
}
