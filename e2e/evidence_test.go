package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"

	"steptrace/e2e/browser"
)

// evidence counts the lines of the log that still count.
const evidence = `document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length`

// What is proposed on another route is read there, with the bench standing so,
// without leaving the route that is traced.
func TestTheOtherModeIsReadFirst(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/145"),
		tab.See("Switch to long wave, feed 316 µV in at L2 LW, probe LS1"),
		tab.Until(`document.querySelector('[data-test=otherwise]').innerText.includes('the set on Long wave')`),
	)
	must(
		t,
		tab.Keys("h"),
		tab.See("What can be read next"),
		tab.See("good leaves"),
		tab.Until(`document.querySelector('dialog[open]').contains(document.activeElement)`),
		tab.Keys("\x1b"),
		tab.Until(`document.querySelector('dialog[open]') === null`),
	)
	must(
		t,
		tab.Keys("w"),
		tab.Until(`document.activeElement.id === 'entry'`),
		tab.Keys("ok\r"),
		tab.See("Suspects, 1"),
		tab.Until(`document.querySelector('header select').selectedOptions[0].text.trim() === 'Medium wave'`),
	)
	must(
		t,
		tab.See("so far only the complaint speaks against S1 medium wave contact"),
		tab.See("Switch to medium wave, feed 316 µV in at L1 MW, probe S1 common"),
	)
	// The reading was taken on the other route.
	var job struct {
		Findings struct {
			Readings []struct {
				Reading struct{ Mode, Word string }
			}
		}
	}
	getJSON(t, p.url+"/api/jobs/145", &job)
	if r := job.Findings.Readings; len(r) != 1 || r[0].Reading.Mode != "long wave" || r[0].Reading.Word != "ok" {
		t.Errorf("%+v", r)
	}
}

// The map shows the whole set; a click there goes to a route that passes the stage.
func TestTheMapSwitchesTheRoute(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	route := `document.querySelector('header select').selectedOptions[0].text.trim()`
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.Until(`document.querySelector('[aria-label="The map of the whole set"] svg') !== null`),
		tab.Keys("m"),
		tab.See("The whole set"),
		tab.Until(route+` === 'Right channel, tape playing'`),
	)
	must(
		t,
		tab.Until(
			`document.querySelector('dialog[open] svg[role=img]').getAttribute('aria-label').startsWith('Map of the set: 5 suspect')`,
		),
	)
	must(t, tab.Click(`dialog[open] button[title^="Q104 make-up"]`), tab.Until(route+` === 'Left channel, tape playing'`))
	must(
		t,
		tab.Click(`dialog[open] button[title^="Q211 monitor buffer"]`),
		tab.Until(route+` !== 'Left channel, tape playing'`),
		tab.Keys("\x1b"),
		tab.Until(`document.querySelector('dialog[open]') === null`),
	)
}

// A fault that comes and goes: what moves it is taken down in a dialog, with the
// caution in sight, and the suspect it speaks for rises.
func TestWhatMovesTheFault(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.Keys(kb.End),
		tab.Keys("w"),
		tab.Until(`document.activeElement.id === 'entry'`),
		tab.Keys("cuts out\r"),
		tab.See("The fault comes and goes"),
	)
	must(
		t,
		tab.Keys("p"),
		tab.See("What moves the fault"),
		tab.See("With an insulated stick"),
		tab.Choose("dialog[open] select", "S2 right tape contact"),
	)
	must(
		t,
		tab.Click(`dialog[open] input[value=cool]`),
		tab.See("the spray also shrinks cracked joints"),
		tab.Click(`dialog[open] input[value=wiggle]`),
		tab.Button("The fault came"),
	)
	must(
		t,
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.See("wiggle: comes"),
		tab.Until(`document.querySelector('[aria-label=Suspects] li').innerText.includes('S2 right tape contact')`),
	)
	must(t, tab.See("wiggling S2 right tape contact makes the fault come"))
	n, err := browser.Ask[int](tab, evidence)
	must(t, err)
	must(t, tab.Reload(), tab.See("wiggle: comes"))
	if again, err := browser.Ask[int](tab, evidence); err != nil || again != n {
		t.Errorf("%d lines of evidence after a reload, %d before", again, n)
	}
}

// A control is aimed at and read as it stands and while it is worked, by keys
// alone; a finger is fed in where the voltage is low, and refused where it is not.
func TestControlsAndTouches(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	aimed := `document.querySelector('label[for=entry]').innerText`
	strip := `document.querySelector('[aria-label="Aim at control FM MUTE"]')`
	loggedAs := `document.querySelector('[data-test=logged-as]').innerText.replace(/\s+/g, ' ')`
	must(
		t,
		tab.Go(p.url+"/#/jobs/145"),
		tab.See("Suspects, 12"),
		tab.Keys("c"),
		tab.Until(aimed+` === 'AGC'`),
		tab.Keys("c"),
		tab.Until(aimed+` === 'FM MUTE'`),
		tab.Keys("4.9\r"),
		tab.Until(strip+`.innerText.includes('4.9 V')`),
	)
	must(
		t,
		tab.Keys("cc"),
		tab.Until(aimed+` === 'FM MUTE'`),
		tab.Until(loggedAs+`.includes('with MUTE held')`),
		tab.Keys("k"),
		tab.Until(loggedAs+`.includes('with MUTE held')`),
		tab.Keys("k"),
		tab.Until(loggedAs+`.includes('as it stands k')`),
		tab.Keys("k"),
		tab.Keys("4.8"),
		tab.See("high"),
		tab.Keys("\r"),
		tab.Until(strip+`.innerText.includes('▾ 4.8 V')`),
		tab.See("Control FM MUTE reads 4.9 V, and 4.8 V with MUTE held"),
	)
	must(
		t,
		tab.Keys("i"),
		tab.See("What is fed in"),
		tab.Choose("dialog[open] select", "R19 hot, AM audio"),
		tab.Click(`dialog[open] input[type=checkbox]`),
		tab.See("weak is right"),
		tab.Button("Set"),
		tab.See("a touch at R19 hot"),
	)
	must(
		t,
		tab.Go(p.url+"/#/jobs/148"),
		tab.See("Suspects"),
		tab.Keys("i"),
		tab.See("What is fed in"),
		tab.Until(
			`((s) => { s.selectedIndex = 1; s.dispatchEvent(new Event('change', { bubbles: true })); return true })(document.querySelector('dialog[open] select'))`,
		),
		tab.Click(`dialog[open] input[type=checkbox]`),
		tab.Button("Set"),
		tab.See("touched"),
	)
}
