package e2e

import (
	"testing"

	"steptrace/e2e/browser"
)

// A job is found among others by a word of it, is set aside until something comes, and stands
// on the shelf where that says, by keys alone.
func TestSetAsideAndFoundAgain(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	jobs := func(list string) string {
		return `[...document.querySelectorAll('ul[aria-label="` + list + `"] a[data-job]')].map((a) => a.dataset.job).join(' ')`
	}
	must(t, tab.Go(p.url), tab.Until(jobs("On the bench")+` === '148 147 146 144 142 141 140'`), tab.Until(jobs("Waiting")+` === '145'`))
	must(t, tab.Keys("/"), tab.Fill("input[type=search]", "left loud"), tab.Until(jobs("On the bench")+` === '147'`))
	must(t, tab.Until(`document.querySelectorAll('a[data-job]').length === 1`))
	must(t, tab.Fill("input[type=search]", "no such word"), tab.See("Nothing on the shelf has “no such word”"))
	must(t, tab.Keys("\x1b"), tab.Until(`document.querySelectorAll('a[data-job]').length === 9`), tab.Keys("\x1b"))
	for _, place := range []string{"148 147 146 144 142 141 140", "145", "139"} {
		must(
			t,
			tab.Keys("f"),
			tab.Until(`[...document.querySelectorAll('a[data-job]')].map((a) => a.dataset.job).join(' ') === '`+place+`'`),
		)
	}
	must(t, tab.Keys("f"), tab.Until(`document.querySelectorAll('a[data-job]').length === 9`))

	// Set aside: what for is asked, an empty answer is refused, what was typed stays.
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects"), tab.Keys("gw"), tab.See("It waits for nothing"))
	must(t, tab.Keys("e"), tab.Keys("\r"), tab.See("Say what it waits for"))
	must(t, tab.Keys("C212, 22 µF 35 V\r"), tab.See("It waits for one thing."), tab.See("part: C212, 22 µF 35 V"))
	must(t, tab.Go(p.url+"/#/"), tab.Until(jobs("Waiting")+` === '145 142'`), tab.See("Waits for part: C212, 22 µF 35 V"))
	must(t, tab.Keys("/"), tab.Fill("input[type=search]", "c212"), tab.Until(jobs("Waiting")+` === '142'`))
	// Who finishes it is led to what it waits for.
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects"), tab.Keys("f"), tab.See("Still waited for, part: C212"))
	must(t, tab.Click(`dialog[open] a[href$="/jobs/142/waiting"]`), tab.See("It waits for one thing."))
	// It has come; a reload in between loses nothing.
	must(
		t,
		tab.Go(p.url+"/#/jobs/142/waiting"),
		tab.Reload(),
		tab.See("It waits for one thing."),
		tab.Keys("c"),
		tab.See("It waits for nothing"),
	)
	must(t, tab.See("Before"), tab.Go(p.url+"/#/"), tab.Until(jobs("Waiting")+` === '145'`))
	// The key that opens a new job does not stand in its first field.
	must(t, tab.Keys("n"), tab.Until(`document.activeElement.id === 'set'`), tab.Keys("tape"))
	must(t, tab.Until(`document.activeElement.value === 'tape'`))
}

// The tray shows what is done and what is next; where there is no room for all names it keeps
// the keys, and on a phone one button leads to all views.
func TestTrayHasRoomForAll(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.Until(`document.querySelector('nav[aria-label=Views] [aria-current]').innerText.includes('Bench')`),
	)
	must(t, tab.Until(`document.querySelectorAll('nav[aria-label=Views] [aria-label=done]').length > 0`))
	whole := `(s => s.scrollWidth <= s.clientWidth)(document.querySelector('nav[aria-label=Views] span'))`
	named := `[...document.querySelectorAll('nav[aria-label=Views] a')].filter((a) => !a.querySelector('.sr-only')).length`
	must(t, tab.Until(whole), tab.Until(named+" > 8"))
	must(
		t,
		tab.Resize(860, 700),
		tab.Until(whole),
		tab.Until(named+" < 4"),
		tab.Keys("g6"),
		tab.Until(`location.hash.endsWith('/signals')`),
	)
	must(t, tab.Resize(400, 800), tab.Until(`document.querySelector('nav[aria-label="Views, in brief"]').offsetHeight > 40`))
	must(t, tab.Click(`nav[aria-label="Views, in brief"] button`), tab.See("Make safe"), tab.Click(`dialog[open] a[href$="/intake"]`))
	must(t, tab.Until(`location.hash.endsWith('/intake')`), tab.Until(`!document.querySelector('dialog[open]')`))
}

// Every view of a job lists its keys, and every hint on a button is one of them.
func TestEveryViewListsItsKeys(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	for key, view := range map[string]string{"1": "intake", "2": "safe", "3": "open", "4": "supplies", "5": "142", "6": "signals",
		"7": "inside", "w": "waiting", "v": "worth"} {
		must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects"), tab.Keys("g"+key), tab.Until(`location.hash.endsWith('/`+view+`')`))
		must(
			t,
			tab.Until(`document.querySelector('main') !== null`),
			tab.Keys("?"),
			tab.Until(`document.querySelectorAll('dialog[open] dt').length > 5`),
		)
		lost, err := browser.Ask[string](tab, `(() => {
			const listed = [...document.querySelectorAll('dialog[open] dt')].map((d) => d.innerText).join(' ');
			const hints = [...document.querySelectorAll('main button kbd')].map((k) => k.innerText.trim());
			return hints.filter((h) => h.length === 1 && !/[0-9]/.test(h) && !listed.includes(h)).join(' ');
		})()`)
		if err != nil || lost != "" {
			t.Errorf("%s: hints that the help does not have: %q, %v", view, lost, err)
		}
		must(t, tab.Keys("\x1b"), tab.Until(`!document.querySelector('dialog[open]')`))
	}
	// Hands that know the way do not wait for the next view: it gets what was pressed before it was there.
	must(
		t,
		tab.Go(p.url+"/#/jobs/142/signals"),
		tab.Until(`document.querySelector('nav[aria-label=Views] [aria-current]')?.innerText.includes('Signals')`),
	)
	must(t, tab.Keys("g53.3 V"), tab.Until(`document.activeElement.value === '3.3 V'`), tab.Keys("\x1b"))
}
