package e2e

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"steptrace/e2e/browser"
)

// file writes something into a file of its own.
func file(t *testing.T, name string, data []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	must(t, os.WriteFile(path, data, 0o600))
	return path
}

// pdf writes a file of so many empty pages, with more in its trailer; after ISO 32000-1, 7.5.
func pdf(pages int, trailer string, more ...string) []byte {
	var b bytes.Buffer
	var at []int
	object := func(text string) {
		at = append(at, b.Len())
		fmt.Fprintf(&b, "%d 0 obj\n%s\nendobj\n", len(at), text)
	}
	b.WriteString("%PDF-1.4\n")
	var kids strings.Builder
	for i := range pages {
		fmt.Fprintf(&kids, "%d 0 R ", 3+i)
	}
	object("<</Type /Catalog /Pages 2 0 R>>")
	object(fmt.Sprintf("<</Type /Pages /Count %d /Kids [%s]>>", pages, kids.String()))
	for range pages {
		object("<</Type /Page /Parent 2 0 R /MediaBox [0 0 800 600]>>")
	}
	for _, text := range more {
		object(text)
	}
	start := b.Len()
	fmt.Fprintf(&b, "xref\n0 %d\n0000000000 65535 f \n", len(at)+1)
	for _, x := range at {
		fmt.Fprintf(&b, "%010d 00000 n \n", x)
	}
	fmt.Fprintf(&b, "trailer\n<</Size %d /Root 1 0 R %s>>\nstartxref\n%d\n%%%%EOF\n", len(at)+1, trailer, start)
	return b.Bytes()
}

func upload(t *testing.T, tab *browser.Tab, path string) {
	t.Helper()
	must(t, tab.Upload(`[data-test=board-file]`, path))
}

// A set without a sheet gets a photograph; by keys alone its places are marked, one asked for after the
// other; then the bench shows where to probe, a click on a place aims there, and each shows how it stands.
func TestThePictureKnowsWhereThePointsAre(t *testing.T) {
	p := start(t)
	number := begun(t, p, "subwoofer plate", "no sound")
	board := image.NewRGBA(image.Rect(0, 0, 900, 600))
	for i := range board.Pix {
		board.Pix[i] = uint8(i * 7)
	}
	board.Set(1, 1, color.White)
	var data bytes.Buffer
	must(t, jpeg.Encode(&data, board, nil))

	tab := open(t, 1280, 800)
	job := fmt.Sprintf("%s/#/jobs/%d", p.url, number)
	must(t, tab.Go(job), tab.See("Next probe"), tab.Keys("P"), tab.See("No picture of this set yet"))
	upload(t, tab, file(t, "board.jpg", data.Bytes()))
	must(t, tab.Until(`document.querySelector('[data-test=picture] img')?.naturalWidth === 900`))
	// Marking: the cross is moved, Enter places, the next name is asked for.
	asked := `document.querySelector('[data-test=asked] .figure')?.innerText`
	must(t, tab.Keys("m"), tab.Until(asked+` !== undefined`))
	var names []string
	for i := range 4 {
		name, err := browser.Ask[string](tab, asked)
		must(t, err)
		names = append(names, name)
		must(t, tab.Keys(strings.Repeat(kb.ArrowRight, 3+i)), tab.Keys("\r"), tab.Until(fmt.Sprintf(asked+` !== %q`, name)))
	}
	must(t, tab.Keys("\b"), tab.Until(fmt.Sprintf(asked+` === %q`, names[3])), tab.Keys("k"), tab.Keys("m"))
	must(t, tab.Until(`document.querySelectorAll('[data-test=pin]').length === 3`))
	// A place is aimed at by a click, read by words, and shows it.
	pin := func(name string) string { return fmt.Sprintf(`[data-test=pin][aria-label^=%q]`, name) }
	must(t, tab.Click(pin(names[1])), tab.Until(fmt.Sprintf(`document.querySelector('label[for=entry]').innerText === %q`, names[1])))
	must(t, tab.Keys("/"), tab.Keys("ok\r"), tab.Until(fmt.Sprintf(`document.querySelector('%s')?.dataset.mark === 'good'`,
		strings.ReplaceAll(pin(names[1]), `"`, `\"`))))
	// Tapped somewhere: the nearest place that a reading can speak of.
	must(
		t,
		tab.Keys("p"),
		tab.See("Click where it was tapped"),
		tab.Click(pin(names[2])),
		tab.See("What moves the fault"),
		tab.Keys("\x1b"),
	)
	// The same picture beside the sentence of the bench, and the place kept through a reload.
	must(t, tab.Keys("P"), tab.See("Suspects"))
	for range 8 {
		if there, err := browser.Ask[bool](tab, `document.querySelector('[data-test=where]') !== null`); err != nil || there {
			must(t, err)
			break
		}
		must(t, tab.Keys("n"))
	}
	must(t, tab.Go(job+"/pictures"), tab.Reload(), tab.Until(`document.querySelectorAll('[data-test=pin]').length === 3`))
	// Pasted, and dropped: two more, and what was there stays.
	held := fmt.Sprintf(`const held = new DataTransfer();
		held.items.add(new File([Uint8Array.from(atob(%q), (c) => c.charCodeAt(0))], 'b.jpg', { type: 'image/jpeg' }));`,
		base64.StdEncoding.EncodeToString(data.Bytes()))
	for i, event := range []string{
		`window.dispatchEvent(new ClipboardEvent('paste', { clipboardData: held }))`,
		`document.querySelector('[aria-label=Pictures]').dispatchEvent(new DragEvent('drop', { dataTransfer: held, bubbles: true }))`,
	} {
		_, err := browser.Ask[bool](tab, fmt.Sprintf(`(() => { %s return %s })()`, held, event))
		must(t, err, tab.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label=Pictures] [aria-pressed]').length === %d`, i+2)))
	}
}

// A manual's pages: the library is fetched when one is opened; 900 pages, a locked file, one that is broken.
func TestAManualsPages(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	fetched := `performance.getEntriesByType('resource').some((e) => e.name.includes('pdf'))`
	must(t, tab.Go(p.url+"/#/sheets/3/pictures"), tab.See("drawing"), tab.Until(`!`+fetched))
	must(t, tab.Button("drawing"), tab.Until(`document.querySelector('canvas')?.dataset.drawn === '1'`), tab.Until(fetched))
	must(t, tab.Until(`document.querySelector('[data-test=pages]').innerText === '2'`))
	// What is drawn is dark on white: not an empty page.
	dark, err := browser.Ask[float64](tab, `(() => { const c = document.querySelector('canvas');
		const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data; let n = 0;
		for (let i = 0; i < d.length; i += 4) if (d[i] < 100) n++; return n / (d.length / 4) })()`)
	must(t, err)
	if dark < 0.001 || dark > 0.2 {
		t.Errorf("%.4f of the page is dark", dark)
	}
	upload(t, tab, file(t, "long.pdf", pdf(900, "")))
	must(t, tab.Until(`document.querySelector('[data-test=pages]')?.innerText === '900'`))
	must(
		t,
		tab.Fill(`input[aria-label=Page]`, "871"),
		tab.Keys("\r"),
		tab.Until(`document.querySelector('canvas')?.dataset.drawn === '871'`),
	)
	locked := "/Encrypt 4 0 R /ID [<00112233445566778899aabbccddeeff> <00112233445566778899aabbccddeeff>]"
	key := strings.Repeat("a7", 32)
	upload(t, tab, file(t, "locked.pdf", pdf(1, locked, fmt.Sprintf("<</Filter /Standard /V 1 /R 2 /P -4 /O <%s> /U <%s>>>", key, key))))
	must(t, tab.See("locked with a password"))
	upload(t, tab, file(t, "broken.pdf", []byte("%PDF-1.7\nnothing more")))
	must(t, tab.See("This PDF is damaged"))
	upload(t, tab, file(t, "drawing.svg", []byte("<svg xmlns='http://www.w3.org/2000/svg'/>")))
	must(t, tab.See("drawing.svg: This is not a JPEG"))
	// With all that the first manual is shown still.
	must(t, tab.Button("drawing"), tab.Until(`document.querySelector('canvas')?.dataset.drawn === '1'`))
}
