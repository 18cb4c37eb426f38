package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"
	"unicode/utf8"
)

// From an empty workshop to the first thing to try, with no sheet and no manual: what the set is, in a
// few letters, what is wrong, and no more. A person strikes five keys a second.
func TestFromNothingToTheFirstProposal(t *testing.T) {
	const keysASecond, mostKeys, mostSeconds = 5, 60, 30
	tab := open(t, 1280, 800)
	for _, x := range []struct{ typed, complaint, pattern string }{
		{"stereo amp", "left side dead", "stereo amplifier"},
		{"flat tv", "sound but no picture", "flat television"},
		{"sub plate", "no sound, the lamp is on", "subwoofer plate"},
		{"valve guitar amp", "hums loud", "tube guitar combo"},
		{"cassette", "right channel does not record", "cassette deck"},
		{"bodypack", "receiver shows signal but silent", "wireless microphone transmitter"},
		{"4 voice synth", "voice 3 silent", "analogue synthesizer"},
		{"plastic thing with knobs", "nothing comes out", "any set: in, out, supply"},
	} {
		p := start(t) // an empty workshop for each
		began := time.Now()
		must(t, tab.Go(p.url), tab.See("no manual is needed"), tab.Until(`document.activeElement.id === 'set'`))
		must(t, tab.Keys(x.typed), tab.Until(fmt.Sprintf(
			`document.querySelector('[role=option][aria-selected=true] b')?.innerText === %q`, x.pattern)))
		must(t, tab.Keys("\r"), tab.Until(`document.activeElement.id === 'complaint'`))
		must(t, tab.Keys(x.complaint), tab.Keys("\r"), tab.See("With no probe at all"))
		// Something to do: a trial from outside, or where nothing parts what is left a first probe.
		must(t, tab.Until(`/^(Try|Probe|Switch|Feed|Read|Only) /.test(document.querySelector('[data-test=try]')?.innerText ?? '')`))
		keys := utf8.RuneCountInString(x.typed) + 2
		seconds := time.Since(began).Seconds() + float64(keys+utf8.RuneCountInString(x.complaint))/keysASecond
		t.Logf("%s: %d keys besides the complaint, %.0f s", x.typed, keys, seconds)
		if keys > mostKeys || seconds > mostSeconds {
			t.Errorf("%s: %d keys, %.0f s", x.typed, keys, seconds)
		}
		// Reload in the middle: the job is there, under what it is called.
		must(t, tab.Reload(), tab.See("With no probe at all"), tab.See(strings.TrimSuffix(x.complaint, ".")))
		p.kill()
	}
}

// begun opens a job from a pattern.
func begun(t *testing.T, p *program, pattern, complaint string) (number int) {
	t.Helper()
	var opened struct{ Number int }
	body := fmt.Sprintf(`{"pattern":%q,"set":"cellar box","complaint":%q}`, pattern, complaint)
	if !postJSON(t, p.url+"/api/jobs", body, &opened) {
		t.Fatal("the job was not opened")
	}
	return opened.Number
}

// What a set is like is found out while it is traced: by keys alone a point gets the board's name, a
// stage falls into its parts with what was read kept, and the change is taken back; another tab that still
// shows the sheet as it was loses nothing.
func TestTheSheetGrowsByKeys(t *testing.T) {
	p := start(t)
	number := begun(t, p, "subwoofer plate", "no sound")
	tab := open(t, 1280, 800)
	bench := fmt.Sprintf("%s/#/jobs/%d", p.url, number)
	must(t, tab.Go(bench), tab.See("Next probe"), tab.See("cellar box"))
	other, err := tab.Another()
	must(t, err)
	must(t, other.Go(bench), other.See("Next probe"))

	// A point, by the name on the board.
	must(t, tab.Keys("j"), tab.See("Aim at"), tab.Keys("limited\r"), tab.Until(noDialog))
	must(t, tab.Keys("G"), tab.See("Change the sheet, at limited"), tab.Keys("1"), tab.See("Its name"))
	must(t, tab.Fill("dialog input", "TP 12"), tab.Keys("\r"), tab.Until(noDialog), tab.See("TP 12"))
	must(t, tab.Fill("#entry", "ok"), tab.Click("#entry"), tab.Keys("\r"), tab.Until(`document.querySelector("#entry").value === ""`))

	// The other tab shows it by itself, and reads on there.
	must(
		t,
		other.See("TP 12"),
		other.Keys("j"),
		other.See("Aim at"),
		other.Keys("TP 12\r"),
		other.Until(noDialog),
		other.Fill("#entry", "none"),
		other.Click("#entry"),
		other.Keys("\r"),
		other.Until(`document.querySelector("#entry").value === ""`),
	)

	// What is left falls into its parts.
	must(t, tab.Reload(), tab.See("Next probe"), tab.Keys("G"), tab.See("Change the sheet"), tab.Keys("4"), tab.See("one a line"))
	must(
		t,
		tab.Choose("dialog select", "bass amplifier"),
		tab.Fill("dialog textarea", "coupling capacitor\ndriver board\noutput transistors"),
		tab.See("behind coupling capacitor"),
		tab.Button("Change the sheet"),
		tab.Until(noDialog),
		tab.See("output transistors"),
	)
	must(t, tab.Keys("z"), tab.Until(`!document.body.innerText.includes('output transistors')`), tab.See("bass amplifier"))
	var v struct {
		Findings struct {
			Readings []struct{ Reading struct{ Point, Word string } }
		}
	}
	must(t, tab.Keys("?"), tab.See("take the last change of the sheet back"))
	getJSON(t, fmt.Sprintf("%s/api/jobs/%d", p.url, number), &v)
	for _, r := range v.Findings.Readings {
		if r.Reading.Point != "TP 12" {
			t.Errorf("%+v", r)
		}
	}
	if len(v.Findings.Readings) != 2 {
		t.Errorf("%d readings", len(v.Findings.Readings))
	}
}

// Both channels of a stereo chain, eight points in each, with rails and controls, from a pattern and the
// manual's chart: some keys besides pasting. The clipboard is what the chart's field is filled with.
func TestAStereoChainFromAChart(t *testing.T) {
	const most = 150
	p := start(t)
	tab := open(t, 1280, 800)
	struck := 0
	keys := func(text string) error {
		struck += utf8.RuneCountInString(text)
		return tab.Keys(text)
	}
	must(t, tab.Go(p.url), tab.See("no manual is needed"), keys("stereo amp"), tab.Until(
		`document.querySelector('[role=option][aria-selected=true] b')?.innerText === 'stereo amplifier'`))
	must(
		t,
		keys("\r"),
		tab.Until(`document.activeElement.id === 'complaint'`),
		keys("left faint"),
		keys("\r"),
		tab.See("With no probe at all"),
	)
	must(t, keys("g5"), tab.See("Next probe"), keys("G"), tab.See("Change the sheet"), keys("c"), tab.See("Take them over"))
	var chart strings.Builder
	chart.WriteString("\tE\tB\tC\n")
	for side := 1; side <= 2; side++ {
		for n := range 8 {
			e := 0.5 + float64(n)
			fmt.Fprintf(&chart, "Q%d0%d\t%.2f\t%.2f\t%.1f\n", side, n+1, e, e+0.64, e+5)
		}
	}
	spoiled := strings.Replace(chart.String(), "1.50\t2.14", "1.50\t214", 1) // a lost point
	must(t, tab.Fill("dialog textarea", spoiled), tab.See("48 voltages of 16 parts, 1 in doubt"))
	must(t, tab.Button("2.14 V?"), tab.Until(`!document.body.innerText.includes("in doubt")`))
	struck++
	must(t, tab.Button("Take them over"), tab.Until(noDialog))
	struck++
	must(t, keys("j"), tab.See("Aim at"), keys("Q203 b"), keys("\r"), tab.Until(noDialog), tab.Fill("#entry", "2.0"), tab.Click("#entry"))
	must(t, tab.Until(`document.querySelector('[data-test=echo]')?.innerText.includes('low')`))
	struck += 3
	// What is usual at a point is what the manual says, by three keys; and a reading that is right is due.
	const away = `(document.activeElement.blur(), true)` // from the field, so that keys are commands
	must(t, tab.Fill("#entry", ""), tab.Click(`[aria-label^="Aim at L volume"]`), tab.Until(away), keys("G"),
		tab.See("Change the sheet, at L volume"), keys("m"), tab.See("so too"))
	must(t, tab.Button("Change the sheet"), tab.Until(noDialog))
	must(t, tab.Fill("#entry", "0.02"), tab.Click("#entry"), keys("\r"), tab.Until(`document.querySelector('#entry').value === ''`))
	must(t, tab.Click(`[aria-label^="Aim at L volume"]`), tab.Until(away), keys("G"), tab.See("Change the sheet, at L volume"),
		keys("r"), tab.See("This reading is right"))
	must(t, tab.Button("Change the sheet"), tab.Until(noDialog))
	struck += 8
	var v struct {
		Findings struct {
			Points []struct{ Name, Expected, Source string }
		}
		Routes []struct{ Key string }
		Spots  []struct{ Name, Kind string }
	}
	getJSON(t, p.url+"/api/jobs/1", &v)
	kinds := map[string]int{}
	for _, s := range v.Spots {
		kinds[s.Kind]++
	}
	t.Logf("%d keys: %d points, %d rails, %d controls, %d ways", struck, kinds["point"], kinds["rail"], kinds["control"], len(v.Routes))
	for _, p := range v.Findings.Points {
		if p.Name == "L volume" && (p.Expected != "20 mV" || p.Source != "good") {
			t.Errorf("%+v", p)
		}
	}
	if struck > most || kinds["point"] < 48+16 || kinds["rail"] < 4 || kinds["control"] < 2 {
		t.Errorf("%d keys for %v", struck, kinds)
	}
}

// A level diagram: levels go to the places of the sheet that have their blocks' names, the others where the
// person says; a chart of two conditions goes to the two modes that are called so.
func TestLevelsAndModesFromTheManual(t *testing.T) {
	p := start(t)
	number := begun(t, p, "cassette deck", "right faint")
	tab := open(t, 1280, 800)
	must(t, tab.Go(fmt.Sprintf("%s/#/jobs/%d", p.url, number)), tab.See("Next probe"))
	must(t, tab.Keys("G"), tab.See("Change the sheet"), tab.Keys("c"), tab.See("Volts or ohms of parts"))
	must(t, tab.Fill("dialog[open] textarea", "      play          record\n      E  B  C   E  B  C\nQ301  1.0 1.6 8   2.0 2.6 7"))
	must(t, tab.See("6 voltages of 1 parts"), tab.Button("Take them over"), tab.Until(noDialog))
	must(t, tab.Keys("G"), tab.See("Change the sheet"), tab.Keys("c"), tab.Button("Levels of blocks"))
	must(
		t,
		tab.Fill(`[aria-label^="The level diagram"]`, "left playback amplifier  bias trap\n-20 dB  1.2 V"),
		tab.See("Its decibels count from"),
	)
	must(t, tab.See("1 of 2 levels have their place"), tab.Button("Take them over"), tab.Until(noDialog))
	var v struct {
		Tables struct{ Tables []struct{ Rows [][]string } }
	}
	getJSON(t, fmt.Sprintf("%s/api/sheets/1", p.url), &v)
	text := fmt.Sprint(v)
	for _, want := range []string{"-20 dBu", "Q301 e", "1 V", "2 V"} {
		if !strings.Contains(text, want) {
			t.Errorf("the sheet has no %s: %s", want, text)
		}
	}
}
