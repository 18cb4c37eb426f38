package e2e

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"steptrace/core/circuit"
	"steptrace/core/sheet"
	"steptrace/e2e/browser"
)

// broken is a demo stage's circuit with a part's failure in it, to read from.
func broken(t *testing.T, file, stage, part, what string) *circuit.Net {
	t.Helper()
	data, err := os.ReadFile("../demo/sheets/" + file + ".json")
	if err != nil {
		t.Fatal(err)
	}
	s, err := sheet.ReadJSON(data)
	if err != nil {
		t.Fatal(err)
	}
	plan, _ := s.Plan()
	c, ok := plan.Circuit(stage)
	if !ok {
		t.Fatalf("no circuit of %s", stage)
	}
	all := c.Net.Faults()
	return c.Net.With(all[slices.IndexFunc(all, func(f circuit.Fault) bool { return f.Part == part && f.What == what })])
}

const (
	insideSays = `document.querySelector('[data-test=inside-says]').innerText`
	turned     = `document.querySelector('main[aria-busy=false]') !== null` // the stage that was chosen is there
	noted      = `document.querySelectorAll('[aria-label=Noted] button[aria-label^=Strike]').length`
	proposed   = `(document.querySelector('[data-test=inside-next]')?.innerText ?? '').split('\n')[0]`
	heading    = `([...document.querySelectorAll('h2')].map((h) => h.innerText).find((t) => t === 'To be sure') ?? '')`
	noDialog   = `document.querySelector('dialog[open]') === null`
)

// follow does what is proposed inside a stage, reading by reading, until a part is named; it reads
// from the broken circuit.
func follow(t *testing.T, tab *browser.Tab, net *circuit.Net, entry, part string) {
	t.Helper()
	for n := range 10 {
		sure, err := browser.Ask[string](tab, heading)
		must(t, err)
		if sure != "" {
			return
		}
		aimed, err := browser.Ask[string](tab, `document.querySelector('label[for=entry]').innerText.replaceAll('\n', ' ')`)
		must(t, err)
		place, what, _ := strings.Cut(aimed, "  ")
		if what == "" {
			i := strings.LastIndex(aimed, " DC volts")
			if i < 0 {
				i = strings.LastIndex(aimed, " gain")
			}
			if i < 0 {
				i = strings.LastIndex(aimed, " ohms")
			}
			if i < 0 {
				i = strings.LastIndex(aimed, " good or bad")
			}
			place, what = aimed[:i], aimed[i+1:]
		}
		r := circuit.NodeReading{Node: strings.TrimSpace(place)}
		text := ""
		switch {
		case strings.HasPrefix(what, "DC"):
			r.What = circuit.DC
		case strings.HasPrefix(what, "ohms"):
			r.What = circuit.Ohms
		case strings.HasPrefix(what, "gain"):
			r.What = circuit.Gain
			r.Hz, err = browser.Ask[string](tab, `document.querySelector('[aria-label="at frequency"]').value`)
			must(t, err)
		default:
			text = "good"
			if r.Node == part {
				text = "bad"
			}
		}
		if text == "" {
			var ok bool
			if text, ok = net.Shows(entry, r); !ok {
				t.Fatalf("%q cannot be read", aimed)
			}
		}
		must(
			t,
			tab.Keys("w"),
			tab.Until(`document.activeElement.id === 'entry'`),
			tab.Keys(text+"\r"),
			tab.Until(fmt.Sprintf("%s === %d", noted, n+1)),
		)
	}
	t.Fatal("no part is named after ten readings")
}

// From the complaint to the stage by live instruments, then inside it by what is proposed, to
// the part: checked, condemned, and in the outcome.
func TestFromComplaintToPart(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	aim := `document.querySelector('label[for=entry]').innerText`
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects, 5"), tab.See("take it"))
	traceLive(t, tab)
	must(
		t,
		tab.See("Q204 make-up"),
		tab.See("Look inside it"),
		tab.Keys("g7"),
		tab.Until(`document.querySelector('select[aria-label=Stage]').value === 'Q204 make-up'`),
	)
	// What the bench has read counts: the gain. The meter's own key takes the DC.
	must(
		t,
		tab.See("from the bench"),
		tab.See("dB computed"),
		tab.Keys(kb.ArrowUp+kb.ArrowUp+kb.ArrowUp+kb.ArrowUp+kb.ArrowUp+kb.ArrowUp+kb.ArrowUp+kb.ArrowDown),
		tab.Until(aim+`.startsWith('Q204 c')`),
	)
	must(
		t,
		tab.Keys("t"),
		tab.Until(`document.activeElement.id === 'entry' && document.activeElement.value.endsWith(' V')`),
		tab.Keys("\r"),
		tab.Until(noted+` === 1`),
	)
	must(
		t,
		tab.Until(insideSays+`.startsWith('C212 open')`),
		tab.Until(`document.querySelector('svg[aria-label^="Computed signal"] path + path') !== null`),
	)
	must(t, tab.See("as captured last"))
	// Live, nothing is measured with ohms; the check that makes it sure is kept with its verdict.
	must(
		t,
		tab.Until(heading+` === 'To be sure'`),
		tab.Click(`[data-test=inside-next]`),
		tab.See("Check a part"),
		tab.See("Discharge it through a resistor"),
	)
	must(
		t,
		tab.Choose("dialog[open] label:nth-of-type(1) select", "aluminium"),
		tab.Write("Measured", "0.2 nF"),
		tab.See("it is open, or nearly"),
		tab.Button("Keep it"),
		tab.Until(noDialog),
		tab.See("C212 checked: it is open, or nearly"),
		tab.See("✕ bad"),
	)
	must(
		t,
		tab.Keys("k"),
		tab.See("Condemn a part"),
		tab.Until(`[...document.querySelectorAll('dialog[open] input')].some((i) => i.value === 'C212')`),
		tab.Button("Condemn"),
		tab.See("What was done to it"),
	)
	// It stands after a reload; it is renewed, and the bench verifies.
	must(
		t,
		tab.Reload(),
		tab.See("C212 condemned: open."),
		tab.Keys("a"),
		tab.See("What was done to it"),
		tab.Until(
			`document.querySelector('[aria-label="Part 1"]')?.value === 'C212' && document.querySelector('[aria-label="Fitted 1"]').value === '100 µF'`,
		),
	)
	must(
		t,
		tab.Button("Take it down"),
		tab.See("After the repair"),
		tab.Until(aim+` === 'J7-2'`),
		tab.Keys("1.25\r"),
		tab.See("Shown repaired"),
	)
	must(
		t,
		tab.Keys("f"),
		tab.Until(`document.querySelector('dialog[open] textarea').value.startsWith('C212 in Q204 make-up: open. Replaced: C212')`),
		tab.See("The set is on"),
		tab.Keys("\x1b"),
		tab.Until(noDialog),
	)
	// Inside, the ranking begins anew with the part as fitted.
	must(
		t,
		tab.Keys("g7"),
		tab.See("before the repair"),
		tab.Until(
			`document.querySelector('[data-test=condemned]') === null && document.querySelector('[aria-label=Explanations]') === null`,
		),
	)
}

// A relay that clicks and does not connect: the proposals go from its coil to its contact.
func TestInsideARelay(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	net := broken(t, "tavrin-sa-22", "K1 contact, left", "K1", "open in its contact")
	must(
		t,
		tab.Go(p.url+"/#/jobs/147"),
		tab.See("take it"),
		tab.Keys("g7"),
		tab.Until(`document.querySelector('select[aria-label=Stage]').value === 'K1 contact, left'`),
		tab.Until(`document.querySelector("[data-test=inside-next]") !== null`),
	)
	follow(t, tab, net, "TP L", "K1")
	must(
		t,
		tab.Until(insideSays+`.startsWith('K1 open in its contact')`),
		tab.Keys("c"),
		tab.See("Relay"),
		tab.Write("Contact, pulled", "OL"),
		tab.See("pulled, it does not connect"),
		tab.Button("Keep it"),
		tab.Until(noDialog),
		tab.See("K1 checked: contact"),
	)
}

// A user's own stage: its circuit begun from a family, a value changed, a wrong one named, readings
// typed by hand, two tabs and a kill in between.
func TestAnOwnStagesCircuit(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	stage := `document.querySelector('select[aria-label=Stage]').value`
	must(
		t,
		tab.Go(p.url+"/#/jobs/142/inside"),
		tab.Until(stage+` !== ''`),
		tab.Choose("select[aria-label=Stage]", "Q210 monitor buffer"),
		tab.Until(turned),
		tab.See("It has no circuit yet"),
	)
	must(
		t,
		tab.Keys("e"),
		tab.See("Begin from"),
		tab.Choose("dialog[open] select", "Emitter follower"),
		tab.Button("Put it in"),
		tab.Until(`document.querySelectorAll('dialog[open] tbody tr').length === 11`),
		tab.Until(`document.querySelector('[data-test=stands]') !== null`),
	)
	must(
		t,
		tab.Fill(`input[data-cell="0.3"]`, "15"),
		tab.Fill(`input[data-cell="4.3"]`, "abc"),
		tab.See("R1:"),
		tab.Fill(`input[data-cell="4.3"]`, "82k"),
		tab.Until(`document.querySelector('[data-test=stands]')?.innerText.includes('15 V')`),
	)
	must(
		t,
		tab.Button("Keep it in the sheet"),
		tab.Until(noDialog),
		tab.Until(`document.querySelectorAll('[aria-label^="Circuit of"] [aria-label^="R1, resistor 82k"]').length === 1`),
	)
	other, err := tab.Another()
	must(t, err)
	watch(t, other)
	must(
		t,
		other.Go(p.url+"/#/jobs/142/inside"),
		other.Until(stage+` !== ''`),
		other.Choose("select[aria-label=Stage]", "Q210 monitor buffer"),
		other.Until(turned),
		other.See("R1"),
	)
	// The other tab changes a value while this one's is being typed: this one is refused, and keeps what was typed.
	must(
		t,
		tab.Keys("e"),
		tab.See("Begin from"),
		tab.Fill(`input[data-cell="4.3"]`, "91k"),
		other.Keys("e"),
		other.See("Begin from"),
		other.Fill(`input[data-cell="5.3"]`, "47k"),
		other.Button("Keep it in the sheet"),
		other.Until(noDialog),
	)
	must(
		t,
		tab.Button("Keep it in the sheet"),
		tab.See("saved elsewhere"),
		tab.Until(`document.querySelector('input[data-cell="4.3"]').value === '91k'`),
		tab.Keys("\x1b"),
		tab.Until(noDialog),
	)
	must(
		t,
		tab.Reload(),
		tab.Until(stage+` !== ''`),
		tab.Choose("select[aria-label=Stage]", "Q210 monitor buffer"),
		tab.Until(turned),
		tab.Until(
			`document.querySelectorAll('[aria-label^="Circuit of"] [aria-label^="R1, resistor 82k"], [aria-label^="Circuit of"] [aria-label^="R2, resistor 47k"]').length === 2`,
		),
	)
	must(
		t,
		tab.Keys("n"),
		tab.Keys("12"),
		tab.Until(`document.activeElement.id === 'entry'`),
		tab.Keys(" kHz\r"),
		tab.See("this is a frequency, not a voltage"),
	)
	must(t, tab.Fill("#entry", "11.9"), tab.Click("#entry"), tab.Keys("\r"), tab.Until(noted+` === 1`))
	p.kill()
	p.run()
	must(
		t,
		tab.Go(p.url+"/#/jobs/142/inside"),
		tab.Reload(),
		tab.Until(stage+` !== ''`),
		tab.Choose("select[aria-label=Stage]", "Q210 monitor buffer"),
		tab.Until(turned),
		tab.Until(noted+` === 1`),
		tab.Keys("x"),
		tab.Until(noted+` === 0`),
	)
	// What moves the fault, without a reading.
	must(
		t,
		tab.Keys("p"),
		tab.See("What moves the fault"),
		tab.Write("Part, or place on the board", "Q1"),
		tab.Click(`dialog[open] input[value=cool]`),
		tab.Button("It went away"),
		tab.See("Q1: cool, the fault goes"),
		tab.Click(`dialog[open] input[value=tap]`),
		tab.Button("Nothing changed"),
		tab.See("Q1: tap changes nothing"),
		tab.Keys("\x1b"),
		tab.Until(noDialog),
		tab.See("a semiconductor"),
	)
}
