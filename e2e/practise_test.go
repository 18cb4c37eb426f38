package e2e

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"steptrace/core/training"
	"steptrace/e2e/browser"
	"steptrace/internal/server"
)

// dealt is a case that was drawn by a seed, and its address.
func dealt(t *testing.T, p *program, wish string) string {
	t.Helper()
	var opened server.Opened
	if !postJSON(t, p.url+"/practise/api/training", wish, &opened) {
		t.Fatalf("%s was not drawn", wish)
	}
	return fmt.Sprintf("%s/practise/#/jobs/%d", p.url, opened.Number)
}

// ready switches a case's set on by keys, with all that is to be minded seen to.
func ready(t *testing.T, tab *browser.Tab) {
	t.Helper()
	must(t, tab.Keys("g2"), tab.See("to go"))
	for range 12 {
		left, err := browser.Ask[bool](tab, `[...document.querySelectorAll('button')].some((b) => b.innerText.trim() === 'Done')`)
		must(t, err)
		if !left {
			break
		}
		n := `[...document.querySelectorAll('button')].filter((b) => b.innerText.trim() === 'Done').length`
		was, err := browser.Ask[int](tab, n)
		must(t, err)
		must(t, tab.Keys("\r"), tab.Until(fmt.Sprintf("%s === %d", n, was-1)))
	}
	must(t, tab.Keys("o"), tab.See("How does the set stand?"), tab.Keys("3"), tab.Until(noDialog), tab.See("Live"))
}

// putRight renews a part where the trace says, with the set off meanwhile.
func putRight(tab *browser.Tab, part string) error {
	return errors.Join(
		tab.Keys("o"),
		tab.See("How does the set stand?"),
		tab.Keys("1"),
		tab.Until(noDialog),
		tab.See("Off"),
		tab.Keys(
			"a",
		),
		tab.See("What was done to it"),
		tab.Fill(`[aria-label="Part 1"]`, part),
		tab.Button("Take it down"),
		tab.Until(noDialog),
		tab.Keys("o"),
		tab.See("How does the set stand?"),
		tab.Keys("3"),
		tab.Until(noDialog),
		tab.See("Live"),
	)
}

// readOn takes what is asked for, by keys alone, until a stage is condemned or a supply is named; it gives how many readings.
func readOn(t *testing.T, tab *browser.Tab) (readings int) {
	t.Helper()
	must(t, tab.Keys("g5"), tab.Until(`document.querySelector("#entry") !== null`))
	for n := 0; n < 40; n++ {
		done, err := browser.Ask[bool](tab, `document.body.innerText.includes('is condemned.')`)
		must(t, err)
		if done {
			return n
		}
		count := `document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length`
		was, err := browser.Ask[int](tab, count)
		must(t, err)
		must(t, tab.Keys("nt"), tab.Until(fmt.Sprintf("%s === %d", count, was+1)))
	}
	t.Fatal("nothing is condemned after forty readings")
	return 0
}

// A beginner's case by keys alone, from the shelf: what is unsafe is stopped, the set answers what is tried and taken, advice is shown; the
// stage is condemned and put right, it is tried again, and at the end it is told that it was found. Practice is marked on every view.
func TestABeginnersCaseByKeys(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url+"/#/"), tab.See("What is it?"), tab.Keys("\x1b"), tab.Until(`document.activeElement === document.body`),
		tab.Keys("p"), tab.See("A set comes in"))
	job := dealt(t, p, `{"level":"first steps","kind":"a stage","set":"phono stage","advice":"shown","seed":4}`)
	must(t, tab.Go(job+"/intake"), tab.See("Try it"), tab.See("Practice"))
	must(
		t,
		tab.Keys("t"),
		tab.See("switch it on first"),
		tab.Keys("o"),
		tab.See("How does the set stand?"),
		tab.Keys("3"),
		tab.Until(noDialog),
	)
	must(t, tab.Keys("t"), tab.Until(`document.querySelector('td button[aria-label*="not tried"]') === null ||
		document.querySelectorAll('td button b, td button svg').length > 0`))
	// Inside it is not read before it is made safe; that counts.
	must(
		t,
		tab.Keys("g5"),
		tab.Until(`document.querySelector("#entry") !== null`),
		tab.Keys("nt"),
		tab.See("Stopped, inside the live set"),
		tab.See("stopped once"),
	)
	ready(t, tab)
	readings := readOn(t, tab)
	must(
		t,
		putRight(tab, "X1"),
	)
	for _, view := range []string{"g3", "g4", "g7", "g9"} {
		must(t, tab.Keys(view), tab.Until(`document.querySelector('[data-test=practice-strip] [data-test=clock]') !== null`))
	}
	must(
		t,
		tab.Keys("gx"),
		tab.See("It is still being worked on"),
		tab.Keys("e"),
		tab.See("What was wrong"),
		tab.See("found, and put right"),
	)
	must(t, tab.See("Each reading, beside the best there was"), tab.See("Stopped before something unsafe"))
	// Once more, by the arrows: the chart and the map as they stood.
	replayed := func(n int) string {
		return fmt.Sprintf(`document.querySelector('[data-test=replayed] b').innerText.startsWith('%d of') &&
			document.querySelector('[aria-label="Once more"] svg[aria-label^="Map of the set"]') !== null`, n)
	}
	must(t, tab.Keys(strings.Repeat(kb.ArrowLeft, readings+3)), tab.Until(replayed(1)), tab.Keys(kb.ArrowRight), tab.Until(replayed(2)))
	t.Logf("%d readings", readings)
	must(t, tab.Go(p.url+"/#/"), tab.See("On the bench"))
	if text, err := browser.Ask[string](tab, `document.body.innerText`); err != nil || strings.Contains(text, "phono stage") {
		t.Errorf("practice stands on the workshop's shelf: %v", err)
	}
}

// A hard case, with an error in the manual, by keys, on a phone's width and dark: what is found by the proposals is put right.
func TestAHardCaseByKeys(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	job := dealt(t, p, `{"level":"hard","kind":"two faults","set":"headphone amplifier","advice":"shown","seed":16}`)
	must(t, tab.Go(job), tab.See("Practice"), tab.Keys("d"))
	ready(t, tab)
	must(t, tab.Keys("g1"), tab.See("Try it"))
	const untried = `document.querySelectorAll('td button[aria-label*="not tried"]').length`
	for range 2 {
		was, err := browser.Ask[int](tab, untried)
		must(t, err, tab.Keys("t"), tab.Until(fmt.Sprintf("%s === %d", untried, was-1)))
	}
	readOn(t, tab)
	must(t, tab.Keys(","), tab.See("In this practice"), tab.Keys("w"), tab.See("Let a quarter"), tab.Keys("\x1b"), tab.Until(noDialog))
	must(
		t,
		putRight(tab, "X1"),
	)
	readOn(t, tab) // the second one hid behind the first
	must(t, putRight(tab, "X2"))
	must(t, tab.Keys(","), tab.See("In this practice"), tab.Keys("e"), tab.See("What was wrong"))
	must(
		t,
		tab.Until(
			`[...document.querySelectorAll('[data-test=wrong]')].filter((x) => x.innerText.includes('found, and put right')).length === 2`,
		),
	)
	must(t, tab.Resize(390, 800), tab.Until(`document.documentElement.scrollWidth <= 390`))
}

// A finished job is practised on by one key, without its owner; the demo has practised.
func TestAFinishedJobIsWorkedAgainByOneKey(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/139/handback"),
		tab.See("Practise on it"),
		tab.See("Skelhaven harbour hall"),
		tab.Keys(","),
		tab.See("Try it"),
		tab.Until(`!document.body.innerText.includes('Skelhaven')`),
		tab.Keys("g0"),
		tab.See("Sets drawn before"),
	)
	must(t, tab.Until(`document.querySelectorAll('[aria-label=Cases] a').length >= 2`))
}

// Who wants to reads the instruments off: a key shows the trace beside the chart, on a phone above the field; what is typed then is the
// reading, and at the end it is told where something else was there.
func TestTheInstrumentsAreReadOffByOneself(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	job := dealt(t, p, `{"level":"first steps","kind":"a stage","set":"phono stage","advice":"shown","seed":4}`)
	must(t, tab.Go(job), tab.See("Practice"))
	ready(t, tab)
	must(
		t,
		tab.Keys("g5"),
		tab.Until(`document.querySelector("#entry") !== null`),
		tab.Keys(","),
		tab.See("In this practice"),
		tab.Keys("r"),
		tab.See("Have readings taken down again"),
		tab.Keys("\x1b"),
		tab.Until(noDialog),
	)
	const shown = `document.querySelector('[data-test=face] svg path') !== null`
	read := func(n int) string {
		return fmt.Sprintf(`document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === %d`, n)
	}
	must(t, tab.Keys("nt"), tab.Until(shown), tab.Until(`document.querySelector('[data-test=face]').getBoundingClientRect().bottom <
		document.querySelector('#entry').getBoundingClientRect().top`))
	must(t, tab.Keys("987 Vpp\r"), tab.Until(read(1)), tab.Until(`!(`+shown+`)`))
	must(
		t,
		tab.Resize(390, 800),
		tab.Keys("t"),
		tab.Until(`document.querySelector('[data-test=face]') !== null`),
		tab.Until(`document.documentElement.scrollWidth <= 390`),
	)
	must(
		t,
		tab.Resize(1280, 800),
		tab.Keys("gx"),
		tab.See("It is still being worked on"),
		tab.Keys("e"),
		tab.See("Read off wrongly: it showed"),
	)
}

// A quick one takes three keys from the page of practice: asked, answered, and the next.
func TestAQuickOneByKeys(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url+"/practise/"), tab.See("A set comes in"), tab.Keys("q"), tab.See("How you stand"))
	for range training.QuickKinds { // of each kind one
		must(t, tab.Until(`document.querySelectorAll('[aria-label=Choices] button').length === 4`), tab.Keys("2"),
			tab.Until(`document.querySelector('[data-test=why] p') !== null`), tab.See("✓ right"))
		must(t, tab.Until(`document.documentElement.scrollWidth <= 1280`), tab.Keys("n"),
			tab.Until(`document.querySelector('[data-test=why]') === null`))
	}
	must(t, tab.Until(`!document.querySelector('[aria-label=Skills]').innerText.includes('not yet')`))
	must(t, tab.Resize(390, 800), tab.Until(`document.documentElement.scrollWidth <= 390`))
}

// A lesson of the course draws its case; a case that has ended is handed on sealed and taken in anew, and its result is read by a teacher.
func TestACourseAndAClass(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url+"/practise/"), tab.See("A set comes in"), tab.Keys("c"), tab.See("Listen before you open"))
	must(
		t,
		tab.Keys("n"),
		tab.See("Try it"),
		tab.Keys("gx"),
		tab.See("It is still being worked on"),
		tab.Keys("e"),
		tab.See("not put right"),
	)
	must(t, tab.See("The program's own way"), tab.See("Hand it on, sealed"))
	folder := t.TempDir()
	for name, path := range map[string]string{"case.json": "case.json", "result.json": "result.json?who=first+trainee"} {
		must(t, os.WriteFile(filepath.Join(folder, name), []byte(getText(t, p.url+"/practise/api/jobs/1/training/"+path)), 0o600))
	}
	must(
		t,
		tab.Keys("n"),
		tab.See("A set comes in"),
		tab.Upload(`input[type=file]`, filepath.Join(folder, "case.json")),
		tab.See("Try it"),
	)
	must(t, tab.See("No. 2"), tab.Go(p.url+"/practise/#/class"), tab.See("One case for all"))
	must(t, tab.Upload(`input[type=file]`, filepath.Join(folder, "result.json")), tab.See("first trainee"), tab.See("0 of 1"))
	must(t, tab.Upload(`input[type=file]`, filepath.Join(folder, "case.json")), tab.See("this is no result: its format"))
}
