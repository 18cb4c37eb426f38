package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/chromedp/chromedp/kb"
)

// amplifier is a set of no demo: its output stage has a circuit, so that the part that failed stands in it.
const amplifier = `{"format":"steptrace-sheet","version":1,"model":"Marn 12","kind":"monaural amplifier",
"points":[{"name":"IN","expect":[{"quantity":"ac","value":"500 mV"},{"quantity":"frequency","value":"1 kHz"}]},{"name":"OUT"}],
"stages":[{"name":"output","kind":"amplifier","from":"IN","to":"OUT","gain":"0 dB","rails":["+18 V"]}],
"rails":[{"name":"+18 V","value":"18 V"}],"routes":[],
"reservoirs":[{"name":"C70","rail":"+18 V","farads":"2200 µF"}],
"circuits":[{"stage":"output","parts":[
{"name":"V1","kind":"voltage","nodes":["+","ground"],"value":"18 V"},{"name":"V2","kind":"voltage","nodes":["-","ground"],"value":"-18 V"},
{"name":"S1","kind":"signal","nodes":["gen","ground"]},{"name":"RS","kind":"resistor","nodes":["gen","IN"],"value":"600","in":"outside"},
{"name":"R1","kind":"resistor","nodes":["+","high"],"value":"2k2"},{"name":"D1","kind":"diode","nodes":["high","IN"]},
{"name":"D2","kind":"diode","nodes":["IN","low"]},{"name":"R2","kind":"resistor","nodes":["low","-"],"value":"2k2"},
{"name":"Q1","kind":"npn","nodes":["+","high","e1"],"also":{"type":"TIP31C"}},
{"name":"R3","kind":"resistor","nodes":["e1","OUT"],"value":"0.47","also":{"rated":"2 W"}},
{"name":"R4","kind":"resistor","nodes":["OUT","e2"],"value":"0.47","also":{"rated":"2 W"}},
{"name":"Q2","kind":"pnp","nodes":["-","low","e2"],"also":{"type":"TIP32C"}},
{"name":"RL","kind":"resistor","nodes":["OUT","ground"],"value":"8","in":"outside"}]}]}`

const (
	says  = `document.querySelector('[data-test=next-step]').innerText`
	chips = `[...document.querySelectorAll('ul[aria-label="To be replaced"] li')].map((li) => li.innerText).join('|')`
)

// From a condemned output transistor to an order list and a finished plan, by keys: what is offered, its partner, the work
// ticked step by step, the repair noted. A reload in the middle loses nothing.
//
// Long: the story from end to end.
func TestFromACondemnedTransistorToTheRepair(t *testing.T) {
	p := start(t)
	var sheet struct {
		ID int64 `json:"id"`
	}
	var opened struct{ Number int }
	if !postJSON(t, p.url+"/api/sheets/import", amplifier, &sheet) ||
		!postJSON(t, p.url+"/api/jobs", fmt.Sprintf(`{"sheet":%d,"complaint":"fuse goes"}`, sheet.ID), &opened) {
		t.Fatal("no job")
	}
	condemned := `{"id":"c1","stage":"output","condemned":{"part":"Q1","what":"shorted from collector to emitter","why":["0.2 ohm"]}}`
	var view struct{}
	if !postJSON(t, fmt.Sprintf("%s/api/jobs/%d/inside", p.url, opened.Number), condemned, &view) {
		t.Fatal("not condemned")
	}
	tab := open(t, 1280, 800)
	at := fmt.Sprintf("%s/#/jobs/%d/replace", p.url, opened.Number)
	must(t, tab.Go(at), tab.See("Choose what goes in the place of Q1, TIP31C."), tab.See("36 V"), tab.See("between its supplies"))
	// The circuit tells what the short took along.
	must(t, tab.Until(`document.querySelector('ul[aria-label=Beside]').innerText.includes('R3')`))

	// What it has to do; then one that lies about is judged before it is believed.
	must(
		t,
		tab.Keys("w"),
		tab.See("What it has to do and bear"),
		tab.Fill("form input[placeholder^='on a sink']", "on a sink, in a pair"),
		tab.Keys("\r"),
		tab.See("renew all that share the work with it"),
	)
	must(t, tab.Keys("e"), tab.Until(`document.activeElement.ariaLabel.startsWith('Something')`), tab.Keys("bd139\r"),
		tab.See("no: current: 3 A needed, it has 1.5 A"))
	// What does not fit is not taken by one slip of a key; who means it has it in the plan.
	must(t, tab.Keys("\r"), tab.See("BD139 does not fit. Once more takes it all the same"), tab.Until("!"+chips+`.includes('BD139')`))
	must(t, tab.Fill("input[aria-label^=Something]", "hx-99"), tab.Keys("\r"), tab.See("enter it among the types"))
	must(t, tab.Fill("input[aria-label^=Something]", "tip41c"), tab.Keys("\r"), tab.See("TIP41C: fits with a change"),
		tab.Until(`document.querySelector('svg[aria-label="legs B C E into holes B C E"]') !== null`), tab.Keys("\r"),
		tab.Until(chips+`.includes('Q1 → TIP41C')`))

	// Its partner, named by hand; the sheet knows what it is.
	must(t, tab.Keys(kb.Escape), tab.Keys("n"), tab.Until(`document.activeElement.placeholder === 'Q14'`), tab.Keys("Q2\r"),
		tab.Until(says+`.includes('Q2')`))
	must(t, tab.Reload(), tab.See("Choose what goes in the place of Q2, TIP32C."), tab.Keys("\r"), tab.See("Set off, unplugged"))
	must(t, tab.Keys("b"), tab.Until(`document.querySelector('ol[aria-label=Work]').innerText.includes('iron at 320 °C')`))
	must(t, tab.Until(`document.querySelector('ul[aria-label="To be had"]').innerText.includes('TIP41C')`))
	must(t, tab.Until(`document.querySelector('a[href$="replacing/order.csv"]') !== null`))
	order := getText(t, fmt.Sprintf("%s/api/jobs/%d/replacing/order.csv", p.url, opened.Number))
	if !strings.Contains(order, "TIP41C,1,Q1") {
		t.Errorf("order: %s", order)
	}

	// The work, step by step; one that was ticked by mistake is taken back.
	left := `[...document.querySelectorAll('ol[aria-label=Work] li')].filter((li) => !li.innerText.startsWith('✓')).length`
	must(t, tab.Keys("s"), tab.Until(says+`.startsWith('Picture')`), tab.Click(`button[aria-label^="Not done: Set off"]`),
		tab.Until(says+`.startsWith('Set off')`))
	must(t, tab.Keys(strings.Repeat("s", 20)), tab.Until(left+` === 0`), tab.See("All of it is done: note the repair"))
	must(t, tab.Keys("a"), tab.See("To be right after the repair"))
	must(t, tab.Go(at), tab.See("All of it is in: prove it at the bench."))
}

// generator is a set of no demo, whose oscillator charges and turns.
const generator = `{"format":"steptrace-sheet","version":1,"model":"Halm 3","kind":"tone generator",
"points":[{"name":"KEY","expect":[{"quantity":"dc","value":"9 V"}]},{"name":"OUT","expect":[{"quantity":"frequency","value":"1.12 kHz"}]}],
"stages":[{"name":"tone","kind":"oscillator","from":"KEY","to":"OUT","gain":"0 dB"}],"rails":[],"routes":[],
"circuits":[{"stage":"tone","parts":[
{"name":"V1","kind":"voltage","nodes":["+","ground"],"value":"9 V"},
{"name":"U1","kind":"timer","nodes":["ground","timing","OUT","+","control","timing","discharge","+"],"also":{"type":"555"}},
{"name":"R1","kind":"resistor","nodes":["+","discharge"],"value":"4k7"},
{"name":"R2","kind":"resistor","nodes":["discharge","timing"],"value":"27k"},
{"name":"C1","kind":"capacitor","nodes":["timing","ground"],"value":"22 nF"},
{"name":"C2","kind":"capacitor","nodes":["control","ground"],"value":"10 nF"},
{"name":"RL","kind":"resistor","nodes":["OUT","ground"],"value":"22k","in":"outside"}]}]}`

// A tone is too low: frequency and duty, typed where they are read, name the resistor and its value; in its place goes what was
// meant, and a plug is cleaned beside it. At a phone's width.
func TestAToneThatIsTooLow(t *testing.T) {
	p := start(t)
	var sheet struct {
		ID int64 `json:"id"`
	}
	var opened struct{ Number int }
	if !postJSON(t, p.url+"/api/sheets/import", generator, &sheet) ||
		!postJSON(t, p.url+"/api/jobs", fmt.Sprintf(`{"sheet":%d,"complaint":"tone too low"}`, sheet.ID), &opened) {
		t.Fatal("no job")
	}
	var view struct{}
	for id, read := range map[string]string{"f1": `"frequency","node":"OUT","value":"793 Hz"`, "d1": `"duty","node":"OUT","value":"52.8 %"`} {
		if !postJSON(t, fmt.Sprintf("%s/api/jobs/%d/inside", p.url, opened.Number),
			fmt.Sprintf(`{"id":%q,"stage":"tone","reading":{"what":%s}}`, id, read), &view) {
			t.Fatal("not read: " + read)
		}
	}
	tab := open(t, 390, 800)
	must(
		t,
		tab.Go(fmt.Sprintf("%s/#/jobs/%d/inside", p.url, opened.Number)),
		tab.See("R2 drifted high, as 38.9 kΩ"),
		tab.See("A 39 kΩ may have been fitted there"),
	)
	must(t, tab.Go(fmt.Sprintf("%s/#/jobs/%d/replace", p.url, opened.Number)), tab.See("No part is condemned yet"))
	must(
		t,
		tab.Keys("n"),
		tab.Until(`document.activeElement.placeholder === 'Q14'`),
		tab.Keys("R2\r"),
		tab.See("1 % of it moves the frequency"),
		tab.See("by −0.90 %"),
	)
	must(t, tab.Keys("n"), tab.Until(`document.activeElement.placeholder === 'Q14'`), tab.Keys("P3\r"), tab.See("Say what P3 was"))
	must(
		t,
		tab.Keys("w"),
		tab.See("What it has to do and bear"),
		tab.Fill("form input[placeholder^='2SC1815']", "connector, green"),
		tab.Keys("\r"),
		tab.Until(chips+`.includes('P3 → to be cleaned')`),
		tab.See("cleaned with isopropanol and a brush"),
	)
}

// Twenty-four electrolytics are renewed by keys: the list is pasted, all are chosen, each is ticked.
func TestABoardOfElectrolytics(t *testing.T) {
	const most = 150
	p := start(t)
	number := begun(t, p, "stereo amplifier", "hums and crackles")
	tab := open(t, 1280, 800)
	keys := 0
	press := func(text string) {
		t.Helper()
		keys += utf8.RuneCountInString(text)
		must(t, tab.Keys(text))
	}
	var lines []string
	for i := range 24 {
		what := []string{
			"47u 63v electrolytic; coupling, 30 V",
			"100u 35v electrolytic; supply line, 24 V",
			"2.2u 50v electrolytic; coupling, 12 V",
		}
		lines = append(lines, fmt.Sprintf("C%d %s", 101+i, what[i%len(what)]))
	}
	must(t, tab.Go(fmt.Sprintf("%s/#/jobs/%d/replace", p.url, number)), tab.See("No part is condemned yet"))
	press("l")
	must(t, tab.See("Renew many"))
	// Columns that ran together are named, and nothing is taken.
	must(t, tab.Fill("dialog textarea", "C10147u63v\n"+lines[1]), tab.Button("Keep the list"), tab.See(`Line 1, "C10147u63v"`))
	must(t, tab.Fill("dialog textarea", strings.Join(lines, "\n"))) // pasted
	keys += 2
	must(t, tab.Button("Keep the list"), tab.Until(noDialog), tab.See("0 of 24 chosen"))
	keys++
	// One is measured: it is bad, and says so.
	press("t")
	must(t, tab.Until(`document.activeElement.ariaLabel === 'What was measured of it'`))
	press("31u 4 ohm\r")
	must(t, tab.See("it has lost 34 % of its value"))
	press("f")
	must(t, tab.See("24 of 24 chosen"), tab.See("order list as CSV"))
	done := `[...document.querySelectorAll('ol[aria-label=Work] li')].filter((li) => li.innerText.startsWith('✓')).length`
	all := `document.querySelectorAll('ol[aria-label=Work] li').length`
	press(strings.Repeat("s", 28))
	must(t, tab.Until(done+` === `+all), tab.See("All of it is done: note the repair"))
	press("a")
	must(t, tab.Until(fmt.Sprintf(`location.hash === '#/jobs/%d'`, number)))
	t.Logf("%d keystrokes", keys)
	if keys >= most {
		t.Errorf("%d keystrokes", keys)
	}
	var job struct {
		Repairs []struct {
			Repair struct {
				Parts []struct{ Name, Fitted string }
			}
		}
	}
	getJSON(t, fmt.Sprintf("%s/api/jobs/%d", p.url, number), &job)
	if len(job.Repairs) != 1 || len(job.Repairs[0].Repair.Parts) != 24 || job.Repairs[0].Repair.Parts[2].Fitted != "2.2 µF 50 V film" {
		t.Errorf("%+v", job.Repairs)
	}
}

// A sum, typed as one speaks, from the shelf and in a job; and whether one part goes in the place of another.
func TestASumAsOneSpeaksIt(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	answer := `(document.querySelector('[data-test=sum]')?.innerText ?? '')`
	for _, place := range []string{"/#/", "/#/jobs/142/replace"} {
		must(t, tab.Go(p.url+place), tab.See("Ostrel RT-7"), tab.Keys("="), tab.Until(`document.activeElement.ariaLabel === 'A sum'`),
			tab.Keys("120k || 33k"), tab.Until(answer+`.includes('25.9 kΩ')`))
		must(t, tab.Fill("input[aria-label='A sum']", "2n3904 for bc547, 20 V, gain 60"), tab.Until(answer+`.includes('turned round')`))
		must(t, tab.Fill("input[aria-label='A sum']", "12 V to 18 V 30 mA"), tab.See("the larger first"))
		must(t, tab.Keys(kb.Escape), tab.Until(noDialog))
	}
	// What is typed on the shelf stays on the way into a job, and is kept there.
	must(t, tab.Go(p.url+"/#/"), tab.See("Ostrel RT-7"), tab.Keys("="), tab.Until(`document.activeElement.ariaLabel === 'A sum'`),
		tab.Keys("4k7 + 330"), tab.Until(answer+`.includes('5.03 kΩ')`), tab.Keys(kb.Escape), tab.Until(noDialog))
	must(t, tab.Go(p.url+"/#/jobs/142/replace"), tab.See("Sealed package"), tab.Keys("="), tab.Until(answer+`.includes('5.03 kΩ')`),
		tab.Until(`document.activeElement.ariaLabel === 'A sum'`), tab.Keys("\r"), tab.Until(answer+`.includes('Kept in No. 142')`),
		tab.Keys(kb.Escape), tab.Until(noDialog), tab.See("4k7 + 330"), tab.Click("button[aria-label='Strike out 4k7 + 330']"))
	// One is kept in the job that is open.
	worked := `(document.querySelector('ul[aria-label="Worked out"]')?.innerText ?? '')`
	must(
		t,
		tab.Keys("="),
		tab.Fill("input[aria-label='A sum']", "10 mV +34 dB"),
		tab.Until(answer+`.includes('Enter keeps it in No. 142')`),
		tab.Click("input[aria-label='A sum']"),
		tab.Keys("\r"),
		tab.Until(answer+`.includes('Kept in No. 142')`),
		tab.Keys(kb.Escape),
		tab.Until(worked+`.includes('10 mV +34 dB: 501 mV')`),
	)
	must(t, tab.Reload(), tab.Until(worked+`.includes('501 mV')`), tab.Click("button[aria-label='Strike out 10 mV +34 dB']"),
		tab.Until(worked+` === ''`))
}

// A part is judged from the shelf; what was typed of it stays on the way into a job, and is kept there at its stage.
func TestAPartCheckedFromTheShelf(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	verdict := `(document.querySelector('[data-test=verdict]')?.innerText ?? '')`
	must(
		t,
		tab.Go(p.url+"/#/"),
		tab.See("Ostrel RT-7"),
		tab.Keys("!"),
		tab.Choose("dialog[open] select", "Resistor"),
		tab.Write("Marked", "22k"),
		tab.Write("Measured", "31k"),
		tab.Until(verdict+`.includes('Bad') && `+verdict+`.includes('40.9 % more')`),
		tab.See("To keep it, go into a job"),
		tab.Keys(kb.Escape),
		tab.Until(noDialog),
	)
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Next probe"),
		tab.Keys("!"),
		tab.Until(verdict+`.includes('40.9 % more')`),
		tab.See("Name the part to keep it"),
		tab.Write("Part", "R290"),
		tab.Until(verdict+`.includes('40.9 % more')`),
		tab.Choose("dialog[open] select", "Q204 make-up"),
		tab.Button("Keep it in No. 142"),
		tab.Until(noDialog),
	)
	must(t, tab.Go(p.url+"/#/jobs/142/inside"), tab.See("Inside"), tab.Choose("main select", "Q204 make-up"), tab.See("R290 checked"))
}

// What the workshop changes stays with the model: made in one job with its circuit, it is there in the next job of that model.
// And a step of the work has a picture.
func TestAModificationStaysWithTheModel(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	listed := `(document.querySelector('ul[aria-label="Modifications of this model"]')?.innerText ?? '')`
	must(
		t,
		tab.Go(p.url+"/#/jobs/146/replace"),
		tab.See("radio stopper at the phono input"),
		tab.Keys("m"),
		tab.See("Modifications of Tavrin SA-22"),
		tab.See("behind R901"), // drawn
		tab.Button("Another"),
		tab.Write("What is changed", "slower mute"),
		tab.Choose("dialog[open] select", "tone board, left"),
		tab.Button("Keep it with the model"),
		tab.See("decides by the reason"),
		tab.Write("Why", "it thumps when it is switched on warm"),
		tab.Button("Keep it with the model"),
		tab.Until(listed+`.includes('slower mute') && `+listed+`.includes('made in this set')`),
		tab.Button("Draw its circuit"),
		tab.Choose("dialog[open]:last-of-type select", "RC filter"),
		tab.Button("Put it in"),
		tab.See("coupled"),
		tab.Button("Keep it in the sheet"),
	)
	must(t, tab.Go(p.url+"/#/jobs/147/replace"), tab.Until(listed+`.includes('slower mute') && !`+listed+`.includes('made in this')`),
		tab.Reload(), tab.Keys("m"), tab.Button("slower mute"), tab.See("first in No. 146"), tab.See("4.7 nF"),
		tab.Keys(kb.Escape), tab.Until(noDialog))

	picture := filepath.Join(t.TempDir(), "place.png")
	drawn, err := tab.Picture()
	if err == nil {
		err = os.WriteFile(picture, drawn, 0o600)
	}
	must(
		t,
		err,
		tab.Go(p.url+"/#/jobs/146/replace"),
		tab.Upload("[aria-label=Work] input[data-test=picture]", picture),
		tab.Until(`document.querySelector('[aria-label=Work] img')?.naturalHeight > 0`),
		tab.Keys("s"),
		tab.Until(`/✓[^▸]*[0-9]{2}:[0-9]{2}/.test(document.querySelector('[aria-label=Work]').innerText)`),
		tab.Reload(),
		tab.Until(`document.querySelector('[aria-label=Work] img')?.naturalHeight > 0`),
	)
}

// A sealed package of a circuit is told from its pins, held against what belongs there, and taken into the job.
func TestASealedPackageIsOpened(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	says := `(document.querySelector('[data-test=network]')?.innerText ?? '')`
	must(
		t,
		tab.Go(p.url+"/#/jobs/142/replace"),
		tab.See("Sealed package"),
		tab.Keys("x"),
		tab.See("N201 of right equaliser"),
		tab.Until(`document.activeElement.placeholder?.startsWith('1-2 10.1k')`),
		tab.Keys("1-2 6.75k; 2-3 6\r"),
		tab.Until(says+`.includes('cannot be told') || document.querySelector('dialog [role=alert]') !== null`),
		tab.Fill("dialog input", "1-2 6.75k; 2-3 690; 3-4 61n"),
		tab.Button("Find the values"),
		tab.Until(says+`.includes('Bad: N201c.') && `+says+`.includes('moves the gain')`),
		tab.Button("Keep the values inside its stage"),
		tab.See("this set is live"),
		tab.Button("Build it anew: onto the list"),
		tab.See("On the list of what is to be renewed"),
		tab.Keys(kb.Escape),
		tab.Until(noDialog),
		tab.See("N201c, 100nF"),
	)
}

// Parts for a list are clicked where they stand on the picture: a pin that is there tells its part, a new place keeps the one that
// is typed.
func TestAListIsMadeOnThePicture(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	click := func(x, y float64) string {
		return fmt.Sprintf(`(() => {
			const e = document.querySelector('[data-test=pick] [data-test=picture]');
			const img = e.querySelector('img')?.getBoundingClientRect();
			if (!img || img.width === 0) return false;
			const o = { bubbles: true, pointerId: 1, clientX: img.left + img.width * %g, clientY: img.top + img.height * %g };
			e.dispatchEvent(new PointerEvent('pointerdown', o));
			e.dispatchEvent(new PointerEvent('pointerup', o));
			e.dispatchEvent(new MouseEvent('click', o));
			return true;
		})()`, x, y)
	}
	list := `document.querySelector('dialog[open] textarea').value`
	typed := `document.activeElement.tagName === 'INPUT' && document.activeElement.value`
	var board struct {
		Pictures []struct {
			Seen string
			Pins []struct {
				Name string
				X, Y float64
			}
		}
	}
	getJSON(t, p.url+"/api/sheets/3/board", &board)
	pins := board.Pictures[0].Pins
	must(
		t,
		tab.Go(p.url+"/#/jobs/142/replace"),
		tab.See("Renew many"),
		tab.Keys("l"),
		tab.Button("By clicking on the picture"),
		tab.Until(click(pins[0].X, pins[0].Y)),
		tab.Until(typed+fmt.Sprintf(` === %q`, pins[0].Name+" ")),
		tab.Until(click(0.03, 0.95)),
		tab.Until(typed+` === ''`),
		tab.Keys("C977 22u 35v electrolytic; coupling\r"),
		tab.Until(list+` === 'C977 22u 35v electrolytic; coupling'`),
		tab.Until(click(0.03, 0.95)),
		tab.Until(typed+` === 'C977 '`),
		tab.Keys("47u 35v electrolytic\r"),
		tab.Until(list+` === 'C977 47u 35v electrolytic'`),
		tab.Button("Keep the list"),
		tab.Until(noDialog),
		tab.See("C977, 47u 35v electrolytic"),
	)
}

// What is ordered gets its price; how a chip that fails when it is hot is treated follows the school.
func TestAnOrderHasItsPrice(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/146/replace"),
		tab.See("what fits best, for all"),
		tab.Keys("n"),
		tab.Write("Part", "R77"),
		tab.Write("What was there", "3k3 2 W"),
		tab.Button("Keep it"),
		tab.Until(noDialog+` && document.querySelector('[data-test=next-step]').innerText.includes('R77')`),
		tab.Keys("\r"),
		tab.Until(`document.querySelector('[aria-label^="Price of"]') !== null`),
		tab.Fill(`[aria-label^="Price of"]`, "0.45"),
		tab.Reload(),
		tab.Until(`document.querySelector('[aria-label^="Price of"]')?.value === '0.45'`),
		tab.Keys("l"),
		tab.See("touch up a hot chip's joints"),
		tab.Click(`input[value="change the board"]`),
		tab.Keys(kb.Escape),
		tab.Until(noDialog),
		tab.Keys("n"),
		tab.Write("Part", "U9"),
		tab.Write("What was there", "hot chip"),
		tab.Button("Keep it"),
		tab.See("the same board, or one that the record"),
	)
}
