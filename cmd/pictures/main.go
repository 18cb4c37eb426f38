// Command pictures takes the README's pictures from the demo workshop: one PNG
// of each main view, at 1280x800.
//
//	pictures docs/screenshots
package main

import (
	"context"
	"errors"
	"fmt"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/chromedp/kb"

	"steptrace/core/wave"
	"steptrace/demo"
	"steptrace/e2e/browser"
	"steptrace/internal/desk"
	"steptrace/internal/server"
	"steptrace/internal/store"
	"steptrace/web"
)

// settle is how long a page is given to finish drawing before its picture.
const settle = 700 * time.Millisecond

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: pictures FOLDER")
		os.Exit(2)
	}
	if err := run(os.Args[1]); err != nil {
		fmt.Fprintln(os.Stderr, "pictures:", err)
		os.Exit(1)
	}
}

// Long: a list of pictures, each from where the one before left off.
func run(folder string) (err error) {
	temp, err := os.MkdirTemp("", "steptrace-pictures")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(temp)) }()
	ctx := context.Background()
	db, err := store.Open(ctx, filepath.Join(temp, "demo.db"))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	pages, err := web.Pages()
	if err != nil {
		return err
	}
	s := server.New(db, pages, nil)
	if err := demo.Fill(ctx, s); err != nil {
		return err
	}
	d, list, err := desk.Start()
	if err != nil {
		return err
	}
	defer func() { s.Close(); err = errors.Join(err, d.Close()) }()
	s.Practise(d, list, demo.Faults)
	practice, err := store.Open(ctx, filepath.Join(temp, "practice.db"))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, practice.Close()) }()
	if err := s.Train(practice, d, list).Rehearse(ctx); err != nil {
		return err
	}
	site := httptest.NewServer(s.Handler())
	defer site.Close()

	heard, err := wave.Sound{Shape: wave.SoundSine, Hz: 1000, Peak: 0.2}.Samples(48000)
	if err != nil {
		return err
	}
	microphone := filepath.Join(temp, "tone.wav")
	if err := os.WriteFile(microphone, wave.WriteWAV(heard, 48000), 0o600); err != nil {
		return err
	}
	tab, err := browser.Open(1280, 800, microphone)
	if err != nil {
		return err
	}
	defer tab.Close()
	take := func(name string, steps ...error) error {
		if err := errors.Join(steps...); err != nil {
			return err
		}
		time.Sleep(settle)
		png, err := tab.Picture()
		if err != nil {
			return err
		}
		return os.WriteFile(filepath.Join(folder, name), png, 0o644)
	}
	bench := site.URL + "/#/jobs/142"
	return errors.Join(
		take("shelf.png", tab.Go(site.URL+"/#/"), tab.See("On the bench")),
		take("bench.png", tab.Go(bench), tab.See("Suspects, 5"), tab.Keys("195m"), tab.See("where 1.26 V is due")),
		take("bench-phone.png", tab.Keys("\x1b"), tab.Resize(390, 844), tab.Reload(), tab.See("Suspects, 5")),
		take("where.png", tab.Resize(1280, 800), tab.Go(bench+"/pictures"), tab.See("Next probe, where it is"), tab.Until(
			`['picture', 'where'].every((of) => document.querySelector('[data-test=' + of + '] img')?.complete === true)`)),
		// What follows is of a job in which a stage is named.
		errors.Join(tab.Go(bench), tab.Reload(), tab.See("Suspects, 5"), traced(tab), tab.See("The fault is in")),
		take("worth.png", tab.Go(site.URL+"/#/jobs/144/worth"), tab.See("What can be done"), tab.Keys("b"), tab.Until(
			`document.activeElement.dataset.field === 'board'`), tab.Keys("110\r"), tab.See("Change the board")),
		take("taught.png", tab.Go(site.URL+"/#/sheets/1/past"), tab.See("What failed in it")),
		take(
			"signals.png",
			tab.Go(site.URL+"/#/jobs/147/signals/w1"),
			tab.See("Against the sheet"),
			tab.Click(`[aria-label="Stack LS L"]`),
			tab.Until(`document.querySelectorAll('[role=application] svg').length === 2`),
			tab.Keys("ab"),
			tab.See("time between"),
		),
		take(
			"intake.png",
			tab.Keys("\x1b"),
			tab.Go(site.URL+"/#/jobs/145/intake"),
			tab.See("With no probe at all"),
			tab.Keys("w"),
			tab.See("works"),
		),
		take("safe.png", tab.Go(site.URL+"/#/jobs/148/safe"), tab.See("Before you open it")),
		take("supplies.png", tab.Go(site.URL+"/#/jobs/148/supplies"), tab.See("find the short")),
		take("sheet.png", tab.Go(site.URL+"/#/sheets/5"), tab.See("Points and stages")),
		take(
			"inside.png",
			tab.Go(site.URL+"/#/jobs/142/inside"),
			tab.See("Inside"),
			tab.Choose("select[aria-label=Stage]", "Q204 make-up"),
			tab.See("dB computed"),
			inner(tab, "7.7 V"),
			tab.See("C212 open"),
			tab.Until(`document.querySelector('svg[aria-label^="Computed signal"]') !== null`),
		),
		// What goes in the place of a part.
		take(
			"replace.png",
			tab.Go(site.URL+"/#/jobs/142/replace"),
			tab.See("No part is condemned yet"),
			tab.Keys("l"),
			tab.See("Renew many"),
			tab.Fill("dialog textarea", "C210 4.7u 35v electrolytic; coupling, 9 V\nC212 100u 16v electrolytic; bypass, 2 V"),
			tab.Button("Keep the list"),
			tab.Until(closed),
			tab.Keys("n"),
			tab.Until(`document.activeElement.placeholder === 'Q14'`),
			tab.Keys("Q204\r"),
			tab.See("BC549B: fits as it is"),
			tab.Keys("e"),
			tab.Until(`document.activeElement.ariaLabel?.startsWith('Something')`),
			tab.Keys("bf199\r"),
			tab.See("BF199: does not fit"),
		),
		take(
			"practise.png",
			tab.Keys("\x1b"),
			tab.Go(site.URL+"/practise/#/jobs/4/review"),
			tab.See("Once more, reading by reading"),
			tab.Until(`document.querySelector('[data-test=replayed]') !== null`),
		),
		take("adjust.png", tab.Go(site.URL+"/#/jobs/146/adjust"), tab.See("Turn VR301 slowly")),
		take("prove.png", tab.Go(site.URL+"/#/jobs/139/prove"), tab.See("Nothing went beyond its limits"),
			tab.Until(`document.querySelectorAll('svg path').length > 3`)),
		take("closing.png", tab.Keys("l"), tab.See("All is as it should be"), tab.Keys(kb.ArrowDown+kb.ArrowDown)),
		take("handback.png", tab.Go(site.URL+"/#/jobs/139/handback"), tab.See("What it says"), tab.Until(
			`document.querySelector('iframe')?.contentDocument?.body?.innerText.includes('What you told us')`)),
		// From nothing: begun with a pattern, and the manual's voltages pasted.
		take(
			"begin.png",
			tab.Keys("\x1b"),
			tab.Go(site.URL+"/#/jobs/new"),
			tab.See("What is it?"),
			tab.Keys("valve guitar amp"),
			tab.See("tube guitar combo"),
			tab.Keys("\r"),
			tab.See("Begins with what is usual"),
			tab.Keys("hums loud, and the reverb is gone"),
		),
	)
}

// inner reads DC at the second node from the top, inside a stage.
func inner(tab *browser.Tab, typed string) error {
	before, err := browser.Ask[int](tab, `document.querySelectorAll('[aria-label=Noted] li').length`)
	const turn = `document.querySelector('label[for=entry] button')`
	return errors.Join(
		err,
		tab.Keys(strings.Repeat(kb.ArrowUp, 9)+kb.ArrowDown),
		tab.Until(turn+`.innerText.startsWith('DC volts') || (`+turn+`.click(), false)`),
		tab.Keys(
			"w",
		),
		tab.Until(`document.activeElement.id === 'entry'`),
		tab.Keys(typed+"\r"),
		tab.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label=Noted] li').length === %d`, before+1)),
	)
}

// closed tells that no dialog is open.
const closed = `document.querySelector('dialog[open]') === null`

// weak is what the demo's tape deck reads at each point: Q204 loses 17.2 dB.
var weak = map[string]string{"Q204 c": "70m", "S2-5": "69m", "RV3 wiper": "27.6m", "Q206 c": "174m"}

// traced goes on from proposal to proposal until the stage is named.
func traced(tab *browser.Tab) error {
	for range len(weak) {
		point, err := browser.Ask[string](tab, `document.querySelector('label[for=entry]').innerText`)
		if err != nil {
			return err
		}
		readings := `document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length`
		n, err := browser.Ask[int](tab, readings)
		if err != nil {
			return err
		}
		if err := errors.Join(tab.Keys(weak[point]+"\r"), tab.Until(fmt.Sprintf("%s === %d", readings, n+1))); err != nil {
			return err
		}
		if done, err := browser.Ask[bool](tab, `document.body.innerText.includes('At fault')`); done || err != nil {
			return err
		}
	}
	return errors.New("the stage was not named")
}
