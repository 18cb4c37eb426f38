// Package e2e drives the real program through its real pages.
package e2e

import (
	"fmt"
	"io"
	"net/http"
	"path/filepath"
	"regexp"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"steptrace/e2e/browser"
)

// sheetText is a table as copied from a spreadsheet: a phono amplifier with one
// unreadable value, to be mended on the screen.
const sheetText = "Point\tDrawing\tDescription\tStage\tKind\tGain\tSignal\tFrequency\tDC\tRails\tMinutes\n" +
	"P101\tA\tcartridge in\t\t\t\t5 mV\t1 kHz\t\t\t1\n" +
	"P102\tB\tfirst pair\tTR101 pair\tamplifier\t20 dB\t50 mV\t\t3,6 V\t+18 V\t1\n" +
	"P103\tC\tafter correction\tRIAA network\tequaliser\t-6 dB\t25 mVq\t\t\t\t1\n" +
	"P104\tD\tsecond pair\tTR103 pair\tamplifier\t26 dB\t500 mV\t\t9 V\t+18 V\t1\n" +
	"P105\tE\tfilter out\trumble filter\tfilter\t0 dB\t500 mV\t\t\t\t1\n" +
	"P106\tF\tline out\toutput buffer\tamplifier\t0 dB\t500 mV\t\t\t+18 V\t1\n\n" +
	"Rail\tValue\n+18 V\t18 V\n"

// The whole way of a new user: paste a sheet, mend it, open a job, trace with a
// wrong entry and a restart in the middle, end at the right stage, finish.
func TestFromPastedSheetToNamedStage(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url), tab.See("no manual is needed"))

	// The sheet.
	must(t, tab.Go(p.url+"/#/sheets/new"), tab.Button("Paste a table"), tab.Fill("dialog textarea", sheetText), tab.Button("Take it over"),
		tab.See("Taken over"), tab.See(`point P103: "25 mVq", character 5`), tab.See("not a unit"))
	must(t, tab.Button("Save"), tab.See("Give the sheet a model name"))
	must(t, tab.Until(`document.querySelector('input[data-cell="2.6"]').value === '25 mVq'`)) // nothing typed was lost
	must(t, tab.Until(`document.querySelector('input[data-cell="2.6"]').getAttribute('aria-invalid') === 'true'`))
	must(t, tab.Write("Maker", "Brannock"), tab.Write("Model", "PH-3"))
	must(t, tab.Button("Save"), tab.See("It needs mending before a job can use it"))
	must(t, tab.Fill(`input[data-cell="2.6"]`, "25 mV"), tab.Until(`!document.body.innerText.includes('not a unit')`))
	must(t, tab.Button("Save"), tab.See("Saved."), tab.Button("New job"))

	// The job: refused without a complaint, then opened.
	must(t, tab.See("Begins with your sheet"), tab.Button("Open the job"), tab.See("Write down what is wrong with the set"))
	must(t, tab.Fill("textarea", "One side of the record plays very low."), tab.Button("Open the job"))
	must(
		t,
		tab.See("Brannock PH-3"),
		tab.See("With no probe at all"),
		tab.Keys("g"),
		tab.Keys("5"),
		tab.See("Suspects, 5"),
		tab.See("Next probe"),
	)

	// The fault: TR103 pair loses 19 dB. Typed with nothing focused.
	set := map[string]string{"P101": "5.0m", "P102": "50.5m", "P103": "24.8m", "P104": "56m", "P105": "56m", "P106": "55m"}
	aimed := `document.querySelector('label[for=entry]').innerText`
	typeIn := func(text string) { must(t, tab.Keys(text)) }
	first, err := browser.Ask[string](tab, aimed)
	must(t, err)
	must(t, tab.Until(`document.querySelector('[data-test=next]').innerText.startsWith('Probe `+first+` and expect')`))

	// A wrong entry: said so while typing and again on Enter; the text stays.
	typeIn("31q")
	must(
		t,
		tab.See(`"31q", character 3`),
		tab.Keys("\r"),
		tab.Until(`document.querySelector('[role=alert]')?.innerText.includes('character 3')`),
	)
	must(
		t,
		tab.Until(`document.querySelector('#entry').value === '31q'`),
		tab.Keys("\x1b"),
		tab.Until(`document.querySelector('#entry').value === ''`),
	)

	typeIn(set[first])
	must(t, tab.Until(`document.querySelector('[data-test=echo]') !== null`)) // the verdict while typing
	must(t, tab.Reload(), tab.Until(`document.querySelector('#entry')?.value === '`+set[first]+`'`))
	must(
		t,
		tab.Click("#entry"),
		tab.Keys("\r"),
		tab.Until(
			`document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === 1 && document.querySelector('#entry').value === ''`,
		),
	)

	// The server goes away in the middle: the text stays, the message says what to do.
	p.stop()
	second, err := browser.Ask[string](tab, aimed)
	must(t, err)
	typeIn(set[second])
	must(
		t,
		tab.Keys("\r"),
		tab.See("Step Trace does not answer"),
		tab.Until(`document.querySelector('#entry').value === '`+set[second]+`'`),
	)
	p.run()
	must(
		t,
		tab.Click("#entry"),
		tab.Keys("\r"),
		tab.Until(`document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === 2`),
	)

	for n := 3; ; n++ {
		done, err := browser.Ask[bool](tab, `document.body.innerText.includes('The fault is in')`)
		must(t, err)
		if done {
			break
		}
		if n > 5 {
			t.Fatal("no stage named after five readings")
		}
		point, err := browser.Ask[string](tab, aimed)
		must(t, err)
		typeIn(set[point] + "\r")
		must(t, tab.Until(`document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === `+fmt.Sprint(n)))
	}
	must(
		t,
		tab.See("The fault is in TR103 pair."),
		tab.See("P103 reads 24.8 mV"),
		tab.See("P104 reads 56 mV"),
		tab.See("Its rail +18 V is good"),
	)

	// The rail, aimed at by key; then it is no longer missing.
	must(
		t,
		tab.Until(aimed+` === '+18 V'`),
		tab.Keys(kb.Home),
		tab.Until(aimed+` === 'P101'`),
		tab.Keys("s"),
		tab.Until(aimed+` === '+18 V'`),
	)
	typeIn("17.9\r")
	must(t, tab.Until(`document.body.innerText.includes('Its rail +18 V is good: it reads 17.9 V.')`))

	// The rest of what condemning asks for: one read, one done without, with its reason.
	must(
		t,
		tab.Button("The DC voltage at P104 is read: 9 V is due"),
		tab.Until(aimed+` === 'P104'`),
		tab.Keys("4.1\r"),
		tab.See("4.1 V, low, −54 % DC"),
	)
	must(
		t,
		tab.Click(`button[aria-label^="Do without: rumble filter"]`),
		tab.Button("Do without"),
		tab.See("Say why it can be done without"),
		tab.Write("Why it can", "its input is a 1 M grid leak"),
		tab.Button("Do without"),
		tab.See("waived, its input is a 1 M grid leak."),
	)
	set["+18 V"] = "17.9"
	condemn(t, tab, set)
	must(t, tab.See("TR103 pair is condemned."), tab.See("waived, its input is a 1 M grid leak."))

	// Stopped and started: all is still there.
	p.stop()
	p.run()
	must(t, tab.Reload(), tab.See("TR103 pair is condemned."), tab.See("17.9 V"), tab.See("its input is a 1 M grid leak"))

	// Finished as it is, it would be told what is open still.
	must(
		t,
		tab.Keys("f"),
		tab.See("No repair is noted"),
		tab.Until(`document.activeElement?.tagName === 'TEXTAREA'`),
		tab.Keys("C112 open"),
		tab.Button("Finish"),
		tab.Until(`document.querySelector('dialog[open] [role=alert]') !== null`),
		tab.Keys("\x1b"),
		tab.Until(noDialog),
	)

	// Repaired: the bench asks for what was wrong, the exit first, and what it reads stands beside what it read.
	renew(t, tab, "C112", "47 µF 25 V")
	must(t, tab.See("To be right after the repair"), tab.See("Replaced: C112, now 47 µF 25 V (was bad) in TR103 pair"))
	verify(t, tab, map[string]string{"P104 DC volts": "9.1", "P105 signal": "490m", "P106 signal": "488m"})
	must(t, tab.See("P106 reads 488 mV"), tab.See("before 4.1 V"))
	p.stop()
	p.run()
	must(t, tab.Reload(), tab.See("Shown repaired"))

	// Finished from the keyboard.
	must(
		t,
		tab.Keys("f"),
		tab.Until(`document.querySelector('dialog[open] textarea')?.value.startsWith('Replaced: C112')`),
		tab.Button("Finish"),
		tab.See("Back on the bench"),
	)
	must(t, tab.Go(p.url+"/#/"), tab.See("Replaced: C112"), tab.See("Finished"))
}

// lines of the log, struck or not.
const lines = `document.querySelectorAll('[aria-label=Evidence] > li').length`

// Points are aimed at by click and by arrow, readings struck out and kept,
// what is fed in changes what is expected; all on the demo's half-traced deck.
func TestBenchByKeyAndClick(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	aimed := `document.querySelector('label[for=entry]').innerText`
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects, 5"), tab.Until(aimed+` === 'Q206 c'`))
	must(t, tab.Click(`button[aria-label^="Aim at RV3 wiper"]`), tab.Until(aimed+` === 'RV3 wiper'`))
	must(
		t,
		tab.Keys(kb.ArrowRight),
		tab.Until(aimed+` === 'Q206 c'`),
		tab.Keys(kb.ArrowLeft+kb.ArrowLeft),
		tab.Until(aimed+` === 'S2-5'`),
		tab.Keys(kb.Home),
		tab.Until(aimed+` === 'J2-4'`),
	)
	must(t, tab.Keys("n"), tab.Until(aimed+` === 'Q206 c'`))

	// Typed faster than it can be answered: what is cut short is no trouble.
	must(t, tab.Keys("0.0314159265358979"), tab.Until(`document.querySelector('[data-test=echo]')?.innerText.includes('low')`),
		tab.Until(`document.querySelector('section [role=alert]') === null`), tab.Keys("\x1b"))

	// Strike out the reading at the exit: the suspects grow again, the line stays.
	must(
		t,
		tab.Click(`button[aria-label="Strike out J7-2 174 mV"]`),
		tab.Fill("dialog[open] input", "slipped off"),
		tab.Button("Strike out"),
	)
	must(t, tab.See("struck out: slipped off"), tab.See("Suspects, 5"), tab.Until(`!document.body.innerText.includes('low −17.2 dB')`))

	// 10 dB less fed in: 10 dB less expected.
	must(
		t,
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.Keys("i"),
		tab.Choose("dialog[open] select", "J2-4"),
		tab.Write("Level", "0.6 mV"),
		tab.Button("Set"),
	)
	must(t, tab.See("600 µV at J2-4"), tab.Until(`document.querySelector('[data-test=next]').innerText.includes('378 mV')`))

	// A level that is none is refused in the dialog, which stays.
	must(
		t,
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.Keys("i"),
		tab.Write("Level", "5 kHz"),
		tab.Button("Set"),
		tab.See("this is a frequency, not a voltage"),
		tab.Button("Cancel"),
	)

	// The other route, and the dark version; both still there after a reload.
	must(t, tab.Choose("header select", "Left channel, tape"), tab.See("Q101 pair"), tab.Keys("d"), tab.Reload(), tab.See("Q101 pair"),
		tab.Until(`document.documentElement.classList.contains('dark')`))
	must(t, tab.Keys("?"), tab.See("aim at what is asked for next"))
}

// Two tabs log at once: both readings are kept, and each tab comes to see both.
func TestTwoTabs(t *testing.T) {
	p := start(t, "-demo")
	one := open(t, 1280, 800)
	must(t, one.Go(p.url+"/#/jobs/145"), one.See("Suspects, 12"))
	two, err := one.Another()
	must(t, err)
	watch(t, two)
	must(t, two.Go(p.url+"/#/jobs/145"), two.See("Suspects, 12"))
	must(
		t,
		one.Click("#entry"),
		one.Keys("ok\r"),
		one.Until(`document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === 1`),
	)
	must(
		t,
		two.Click("#entry"),
		two.Keys("ok\r"),
		two.Until(`document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === 2`),
	)
	must(
		t,
		one.Until(
			`(window.dispatchEvent(new Event('focus')), document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === 2)`,
		),
	)

	// The same sheet changed in both: the second is told, and keeps its text.
	must(
		t,
		one.Go(p.url+"/#/sheets/2"),
		one.Write("What it is", "radio one"),
		two.Go(p.url+"/#/sheets/2"),
		two.Write("What it is", "radio two"),
	)
	must(
		t,
		one.Button("Save"),
		one.See("Saved."),
		two.Button("Save"),
		two.See("saved elsewhere"),
		two.Until(`document.querySelector('[data-written]').value === 'radio two'`),
	)
}

// Bad addresses and files: each says what is wrong and what to do.
func TestWhatCannotBeShownSaysWhy(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/9999"),
		tab.See("There is no job number 9999"),
		tab.Button("To the shelf of jobs"),
		tab.See("On the bench"),
	)
	must(t, tab.Go(p.url+"/#/jobs/abc"), tab.See("is not a number"))
	must(t, tab.Go(p.url+"/#/sheets/77"), tab.See("There is no service sheet number 77"))
	must(t, tab.Go(p.url+"/#/nowhere/at/all"), tab.See("There is no such page"))
	must(
		t,
		tab.Go(p.url+"/#/sheets/new"),
		tab.Button("Paste a table"),
		tab.Fill("dialog textarea", "point,ac\nA,\"3 mV\nB,4 mV"),
		tab.Button("Take it over"),
		tab.See(
			"line 2: a quotation mark",
		),
		tab.See("Nothing was taken over"),
		tab.Until(`document.querySelector('dialog textarea').value.includes('B,4 mV')`),
	)
	must(
		t,
		tab.Fill("dialog textarea", "point,stage,from,ac\nA,,,3 mV\nB,S1,A,3 mV\nC,S2,B,3 mV\n\nstage,from,to\nback,C,B\n"),
		tab.Button("Take it over"),
		tab.See("the stages run in a loop: B to C to B"),
	)
}

// On a phone's width nothing is wider than the screen, and a reading can be
// typed and logged by touch.
func TestPhoneWidth(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 390, 844)
	for _, page := range []string{"/#/", "/#/jobs/142", "/#/sheets", "/#/sheets/3", "/#/jobs/new"} {
		must(t, tab.Go(p.url+page), tab.Until(`document.querySelector('h1') !== null`))
		wide, err := browser.Ask[int](tab, "document.documentElement.scrollWidth")
		must(t, err)
		if wide > 390 {
			t.Errorf("%s is %d pixels wide on a phone of 390", page, wide)
		}
	}
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects, 5"), tab.Click("#entry"), tab.Keys("1.26\r"), tab.See("within 0 dB"))
}

// First page under 250 kB of script as it goes over the wire.
func TestFirstPageIsSmall(t *testing.T) {
	p := start(t)
	page := getText(t, p.url+"/")
	// What the page names is fetched with it; views and dialogs that are asked for later are not.
	files := regexp.MustCompile(`assets/[\w-]+\.js`).FindAllString(page, -1)
	total := 0
	for _, f := range files {
		r, err := http.NewRequest(http.MethodGet, p.url+"/assets/"+filepath.Base(f), nil)
		must(t, err)
		r.Header.Set("Accept-Encoding", "gzip")
		res, err := http.DefaultTransport.RoundTrip(r)
		must(t, err)
		if res.Header.Get("Content-Encoding") != "gzip" {
			t.Errorf("%s is not compressed", f)
		}
		n, err := io.Copy(io.Discard, res.Body)
		must(t, err, res.Body.Close())
		total += int(n)
	}
	styles := regexp.MustCompile(`assets/[\w-]+\.css`).FindAllString(page, -1)
	for _, f := range styles {
		if size := len(getText(t, p.url+"/"+f)); size > 90_000 {
			t.Errorf("%s has %d bytes: is more of the control library scanned than is used?", f, size)
		}
	}
	t.Logf("%d scripts with the first page: %d kB compressed", len(files), total/1000)
	if len(files) < 2 || len(styles) == 0 || total > 250_000 {
		t.Errorf("%d bytes of script", total)
	}
}

// A dialog that is opened again the moment it was closed stays open: the news that the one before
// was closed comes late.
func TestADialogIsOpenedAgainAtOnce(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects, 5"))
	for range 8 {
		must(
			t,
			tab.Keys("h"),
			tab.Until(`document.querySelector('dialog[open]') !== null`),
			tab.Keys("\x1b"),
			tab.Until(noDialog),
			tab.Keys("h"),
			tab.Until(`document.querySelector('dialog[open]') !== null`),
		)
		time.Sleep(60 * time.Millisecond)
		gone, err := browser.Ask[bool](tab, noDialog)
		must(t, err)
		if gone {
			t.Fatal("it went away again")
		}
		must(t, tab.Keys("\x1b"), tab.Until(noDialog))
	}
}

// The way of working is chosen by key with its cost in sight, changes the next
// probe at once, and stays with the job.
func TestWayOfWorkingIsChosenByKey(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	next := `document.querySelector('[data-test=next]').innerText`
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects, 5"), tab.See("halve it"), tab.See("Good would leave"))
	must(
		t,
		tab.Keys("h"),
		tab.See("Way of working"),
		tab.See("back to front"),
		tab.See("at worst"),
		tab.Keys("3"),
		tab.Until(next+`.startsWith('Probe Q206 c')`),
		tab.See("Good would leave K1 mute, right; bad, one of 4 from Q204 make-up to Q206 line amp."),
	)
	must(
		t,
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.Keys("h"),
		tab.See("Way of working"),
		tab.Keys("4"),
		tab.Until(next+`.startsWith('Read rail +15 V R and expect 15 V')`),
		tab.Until(`document.querySelector('label[for=entry]').innerText === '+15 V R'`),
	)
	must(t, tab.Reload(), tab.Until(next+`.startsWith('Read rail +15 V R')`), tab.Keys("14.9\r"), tab.Until(next+`.startsWith('Probe ')`))
}

// A jumper across a stage, typed on the bench: good now, so the fault was
// between its ends.
func TestJumperIsEvidence(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	aimed := `document.querySelector('label[for=entry]').innerText`
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.Keys("u"),
		tab.Click(`dialog[open] input[value="S2 right tape contact"]`),
		tab.Click(`dialog[open] input[value="RV3 level"]`),
		tab.Button("Read with it"),
	)
	must(
		t,
		tab.See("with S2 right tape contact, RV3 level lifted, bridged or swapped"),
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.Keys(kb.End),
		tab.Until(aimed+` === 'J7-2'`),
	)
	must(
		t,
		tab.Keys("w"),
		tab.Until(`document.activeElement.id === 'entry'`),
		tab.Keys("ok\r"),
		tab.See("Suspects, 2"),
		tab.Until(
			`[...document.querySelectorAll('[aria-label=Suspects] li')].slice(0, 2).every((li) => /S2 right tape contact|RV3 level/.test(li.innerText))`,
		),
	)
	// All is back for the next reading.
	must(
		t,
		tab.Until(`document.querySelector('[data-test=without]') === null`),
		tab.See("no longer with S2 right tape contact, RV3 level lifted"),
		tab.Button("It is as it was"),
		tab.See("with S2 right tape contact, RV3 level lifted, bridged or swapped"),
	)
}

// Where the fault is not on the route that is being traced, the bench says so
// and goes on with the one it is on.
func TestGoesOnWithTheRightRoute(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/147"),
		tab.See("Suspects, 2"),
		tab.Choose("header select", "Aux to left headphone"),
		tab.See("The fault is not on this route."),
		tab.See("K1 contact, left, S2 speaker switch, left"),
	)
	must(
		t,
		tab.Until(
			`[...document.querySelectorAll('button')].some((b) => b.innerText.startsWith('Go on with Aux to left loudspeaker') && (b.click(), true))`,
		),
		tab.See("Suspects, 2"),
		tab.See("Probe K1-4"),
	)
}
