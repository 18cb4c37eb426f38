package e2e

import (
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"steptrace/core/sheet"
	"steptrace/e2e/browser"
)

// A sheet typed cell by cell with the keyboard alone, then cells pasted in,
// a row taken out, saved, and had back as a file that reads the same.
func TestSheetByKeyboard(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url+"/#/sheets"), tab.See("No service sheets yet"), tab.Keys("n"), tab.See("Type the first point"))
	must(t, tab.Write("Model", "T-1"), tab.Click(`input[data-cell="0.0"]`))
	must(
		t,
		tab.Keys("IN\r"),
		tab.Until(`document.activeElement.dataset.cell === '1.0'`),
		tab.Keys("OUT"+kb.ArrowUp),
		tab.Until(`document.activeElement.dataset.cell === '0.0'`),
	)
	must(
		t,
		tab.Fill(`input[data-cell="0.6"]`, "10 mV"),
		tab.Fill(`input[data-cell="1.3"]`, "only stage"),
		tab.Fill(`input[data-cell="1.5"]`, "20 dB"),
	)
	must(t, tab.See("only stage"), tab.See("+20 dB")) // drawn as it is typed

	// Two more rows from a spreadsheet, without headings, into the cell under OUT.
	must(t, tab.Until(`(() => {
		const cell = document.querySelector('input[data-cell="2.0"]');
		const data = new DataTransfer();
		data.setData('text/plain', 'X1\t7\tfirst\tsecond stage\nX2\t8\tlast\tthird stage\n');
		cell.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
		return true;
	})()`), tab.Until(`document.querySelector('input[data-cell="3.3"]')?.value === 'third stage'`))
	must(t, tab.Click(`button[aria-label="Remove row 4"]`), tab.Until(`document.querySelector('input[data-cell="3.3"]').value === ''`))

	// Reloaded before it is saved: still there, and said not to be saved.
	must(
		t,
		tab.Reload(),
		tab.See("it is not saved yet"),
		tab.Until(`document.querySelector('input[data-cell="2.3"]')?.value === 'second stage'`),
	)
	must(
		t,
		tab.Click(`input[data-cell="0.0"]`),
		tab.Until(`(dispatchEvent(new KeyboardEvent('keydown', { key: 's', ctrlKey: true, bubbles: true })), true)`),
		tab.See("Saved."),
	)

	r, err := http.Get(p.url + "/api/sheets/1/file.json")
	must(t, err)
	defer r.Body.Close()
	data := make([]byte, 1<<16)
	n, _ := r.Body.Read(data)
	s, err := sheet.ReadJSON(data[:n])
	must(t, err)
	if len(s.Points) != 3 || len(s.Stages) != 2 || s.Stages[1].From != "OUT" || s.Stages[1].To != "X1" {
		t.Errorf("%+v", s)
	}
}

// A sheet comes in as a file through the screen, is mended in place, and goes
// out as CSV.
func TestSheetFromAFile(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	file := filepath.Join(t.TempDir(), "set.csv")
	must(
		t,
		os.WriteFile(
			file,
			[]byte("\ufeffmodel;FX-9\r\npoint;stage;gain;ac;dc\r\nA;;;1,5 V;\r\nB;pad;-6 dB;0,75 V;12 V\r\nB;pad 2;-6 dB;;\r\n"),
			0o600,
		),
	)
	must(t, tab.Go(p.url+"/#/sheets/new"), tab.See("Type the first point"), tab.Upload("input[type=file]", file), tab.See("Taken over"))
	must(
		t,
		tab.See("two points are called B (lines 2 and 3)"),
		tab.Fill(`input[data-cell="2.0"]`, "C"),
		tab.Until(`!document.body.innerText.includes('two points are called')`),
	)
	must(t, tab.Button("Save"), tab.See("Saved."))
	wrong := filepath.Join(t.TempDir(), "photo.csv")
	must(t, os.WriteFile(wrong, []byte{0xff, 0xd8, 0xff, 0xe0, 0, 0x10}, 0o600))
	must(
		t,
		tab.Upload("input[type=file]", wrong),
		tab.See("this is not text in UTF-8"),
		tab.Until(`document.querySelector('input[data-cell="2.0"]').value === 'C'`),
	)
	// The levels that the sheet does not state are drawn from the gains.
	expected, err := browser.Ask[string](tab, `document.querySelector('svg[role=img]').getAttribute('aria-label')`)
	must(t, err)
	if expected != "Step chart: A 1.5 V; B 750 mV; C 376 mV" {
		t.Errorf("drawn: %q", expected)
	}
}

// From the shelf to a named stage without touching the mouse, on the receiver
// that is silent on the medium wave: what still works is evidence too.
func TestReceiverByKeyboardAlone(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	aimed := `document.querySelector('label[for=entry]').innerText`
	must(
		t,
		tab.Go(p.url),
		tab.Until(`document.querySelector('a[data-job="145"]') !== null`),
		tab.Keys(strings.Repeat(kb.ArrowDown, 9)), // past what is late, which stands first
		tab.Until(`document.activeElement.dataset.job === '145'`),
		tab.Keys("\r"),
		tab.See("Suspects, 12"),
	)
	// The long wave plays: the word is typed at its loudspeaker, on its route.
	turnTo := func(route string) {
		for range 12 {
			now, err := browser.Ask[string](tab, `(s => s.options[s.selectedIndex].text.trim())(document.querySelector('header select'))`)
			must(t, err)
			if now == route {
				return
			}
			must(
				t,
				tab.Keys("r"),
				tab.Until(
					fmt.Sprintf(`(s => s.options[s.selectedIndex].text.trim())(document.querySelector('header select')) !== %q`, now),
				),
			)
		}
		t.Fatalf("no route %q by turning", route)
	}
	turnTo("Long wave")
	must(
		t,
		tab.See("L2 LW"),
		tab.Keys(kb.End),
		tab.Until(aimed+` === 'LS1'`),
		tab.Keys("w"),
		tab.Until(`document.activeElement.id === 'entry'`),
		tab.Keys("ok\r"),
		tab.See("reads good from end to end"),
	)
	turnTo("Medium wave")
	must(
		t,
		tab.See("Suspects, 1"),
		tab.Until(aimed+` === 'S1 common'`),
		tab.Keys("0\r"),
		tab.See("The fault is in S1 medium wave contact."),
	)
	must(t, tab.Keys("g"), tab.Keys("0"), tab.See("On the bench"), tab.See("The fault is in S1 medium wave contact."))
}
