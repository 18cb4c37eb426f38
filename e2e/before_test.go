package e2e

import (
	"bufio"
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"steptrace/e2e/browser"
)

// amplifierText is a table as pasted: an amplifier with two inputs, loudspeaker
// and headphones, its rails, a reservoir, dangers and a usual fault.
const amplifierText = "point,note,stage,from,gain,ac,frequency,modes,needs,minutes,peak\n" +
	"DIN 3,disc in,,,,5 mV,1 kHz,,,1,\n" +
	"AUX 1,aux in,,,,200 mV,1 kHz,,,1,\n" +
	"SEL,selector,disc preamp,DIN 3,32 dB,200 mV,,disc,+15 V,1,\n" +
	"VOL,volume wiper,volume,SEL,-6 dB,,,,,1,\n" +
	"DRV,driver out,driver,VOL,20 dB,,,,+40 V,2,\n" +
	"OUT,amplifier out,power pair,DRV,12 dB,,,,+40 V,2,900 V\n" +
	"SPK,loudspeaker,speaker relay,OUT,0 dB,,,,+24 V,1,\n" +
	"HP,headphones,headphone resistor,OUT,-20 dB,,,,,1,\n\n" +
	"stage,from,to,gain,modes\n" +
	"aux switch,AUX 1,SEL,0 dB,aux\n\n" +
	"rail,value,feed,fuse,rectifier,ripple,ripplehz,load,railohms,regulator,order,up\n" +
	"+40 V,40 V,T1 3-4,F1,full wave D1 to D4,1 Vpp,100 Hz,0.5 A,150,,1,\n" +
	"+15 V,15 V,+40 V,,,,,,90,Q9,2,\n" +
	"+24 V,24 V,T1 5-6,,half wave D7,,,,,,3,start\n\n" +
	"reservoir,farads,onrail,bleeder\n" +
	"C1,4700 µF,+40 V,2k2\n\n" +
	"danger,where\n" +
	"mains,fuse holder\n" +
	"sharp edges,heat sink\n\n" +
	"weak,in,symptom,check\n" +
	"burnt relay contact,speaker relay,loudspeaker dead,tap the relay\n"

// openJob pastes the sheet and opens a job on it; it ends at the bench of job 1.
func openJob(t *testing.T, p *program, tab *browser.Tab) {
	t.Helper()
	must(
		t,
		tab.Go(p.url+"/#/sheets/new"),
		tab.Button("Paste a table"),
		tab.Fill("dialog textarea", amplifierText),
		tab.Button("Take it over"),
		tab.See("Taken over"),
		tab.Write("Model", "VX-2"),
		tab.Button("Save"),
		tab.See("Saved."),
		tab.Button("New job"),
		tab.See("Begins with your sheet"),
		tab.Fill(
			"textarea",
			"The loudspeaker is dead, with records.",
		),
		tab.Button("Open the job"),
		tab.See("With no probe at all"),
		tab.Keys("g"),
		tab.Keys("5"),
		tab.See("Next probe"),
	)
}

const (
	power  = `document.querySelector('[data-test=power]').innerText.trim().split('\n').pop().trim()`
	toTry  = `document.querySelector('[data-test=try]')?.innerText`
	isLeft = `document.querySelector('[data-test=left]').innerText.replace(/\s+/g, ' ')`
)

// From intake to the first probe with the keyboard alone, the power state right
// at every step.
func TestIntakeToFirstProbeByKeyboard(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	openJob(t, p, tab)
	must(
		t,
		tab.See("Cheap check first: tap the relay"),
		tab.Keys("g"),
		tab.Keys("1"),
		tab.See("With no probe at all"),
		tab.Until(power+` === 'Power not said'`),
	)

	// A note, then what still works, cell by cell; the cursor follows what tells most.
	must(
		t,
		tab.Keys("e"),
		tab.Until(`document.activeElement.tagName === 'TEXTAREA'`),
		tab.Keys("30 years in a damp hall"),
		tab.Keys("\x1b"),
		tab.Until(`document.activeElement.tagName !== 'TEXTAREA'`),
	)
	at := `document.querySelector('table [aria-pressed=true]').getAttribute('aria-label')`
	set := map[string]string{"DIN 3 disc to SPK": "x", "DIN 3 disc to HP": "w", "AUX 1 aux to SPK": "x", "AUX 1 aux to HP": "w"}
	tried := 0
	for ; ; tried++ {
		// The server gives the next cell only while it tells anything.
		best, err := browser.Ask[bool](tab, toTry+`.startsWith('Try ')`)
		must(t, err)
		if !best {
			break
		}
		if tried == 4 {
			t.Fatal("still trying after every cell")
		}
		label, err := browser.Ask[string](tab, at)
		must(t, err)
		cell, _, _ := strings.Cut(label, ":")
		must(
			t,
			tab.Keys(set[cell]),
			tab.Until(fmt.Sprintf(`document.querySelector('[aria-label^=%q]').getAttribute('aria-label') !== %q`, cell, label)),
		)
	}
	must(t, tab.Until(isLeft+` === 'Suspects, 2 of 10: speaker relay, rail +24 V'`))
	if tried > 3 {
		t.Errorf("%d cells tried for two suspects", tried)
	}

	// Made safe: unplugged, every caution ticked, the reservoir measured.
	must(
		t,
		tab.Keys("n"),
		tab.See("Before you open it or switch it on: 6 to go."),
		tab.See("4700 µF at 40 V"),
		tab.See("Local codes and licensed practice come first"),
	)
	must(
		t,
		tab.Keys("o"),
		tab.See("How does the set stand?"),
		tab.Keys("1"),
		tab.Until(power+` === 'Off'`),
		tab.See("not shown discharged: measure C1"),
	)
	for i := range 6 {
		must(
			t,
			tab.Keys(" "),
			tab.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label=Cautions] [aria-pressed=true]').length === %d`, i+1)),
		)
	}
	must(t, tab.See("Every caution of this set is ticked."))
	must(
		t,
		tab.Keys("m"),
		tab.Until(`document.activeElement.dataset.residual === 'C1'`),
		tab.Keys("0\r"),
		tab.See("Was C1 measured?"),
		tab.Until(power+` === 'Off'`),
	)
	must(
		t,
		tab.Keys("\x1b"),
		tab.Until(`document.activeElement.dataset.residual === 'C1' && document.querySelector('[data-test=confirm]') === null`),
	)
	must(
		t,
		tab.Fill("input[data-residual]", ""),
		tab.Keys("14 V\r"),
		tab.See("14 V measured"),
		tab.Until(power+` === 'Off'`),
		tab.Until(`document.activeElement === document.body`),
	)
	must(
		t,
		tab.Keys("m"),
		tab.Keys("0.8 V\r"),
		tab.See("C1 was measured already: 14 V"),
		tab.Until(`document.activeElement.dataset.test === 'confirm'`),
		tab.Keys("\r"),
		tab.Until(power+` === 'Discharged'`),
	)

	// Opened up: one key a step.
	must(t, tab.Keys("n"), tab.See("Nothing undone yet"))
	for i, line := range []string{"s4 M3×8 black, cover, lower two longer\r", "cP2 5 way, main board to front board\r"} {
		must(
			t,
			tab.Keys(line[:1]),
			tab.Until(`document.activeElement.id === 'step'`),
			tab.Keys(line[1:]),
			tab.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label=Steps] > li [aria-label^=Strike]').length === %d`, i+1)),
			tab.Keys("\x1b"),
		)
	}
	must(t, tab.See("4 × M3×8 black, cover"), tab.See("lower two longer"))

	// Supplies: on, then the rails in the order they come up.
	must(
		t,
		tab.Keys("o"),
		tab.Keys("3"),
		tab.Until(power+` === 'Live'`),
		tab.Keys("g"),
		tab.Keys("4"),
		tab.See("Read +40 V"),
		tab.Until(power+` === 'Live'`),
	)
	aimed := `document.querySelector('label[for=entry]').innerText`
	must(
		t,
		tab.Until(aimed+` === '+40 V'`),
		tab.Keys("40.6\r"),
		tab.Until(aimed+` === '+15 V'`),
		tab.Keys("15.1\r"),
		tab.Until(aimed+` === '+24 V'`),
		tab.Keys("24.4\r"),
		tab.Until(aimed+` !== '' && document.querySelectorAll('[aria-label=Evidence] button[aria-label^=Strike]').length === 3`),
	)

	// One stage is left before any probe; the first one shows it bad.
	must(
		t,
		tab.Keys("g"),
		tab.Keys("5"),
		tab.See("Probe SPK and expect 3.99 V"),
		tab.Until(power+` === 'Live'`),
		tab.Until(aimed+` === 'SPK'`),
		tab.Keys("0.4m\r"),
		tab.See("The fault is in speaker relay."),
		tab.See("it was read once, and a fault in"),
	)
	condemn(t, tab, map[string]string{"+24 V": "24.3", "+15 V": "15.1", "+40 V": "40.5", "SPK": "0.4m", "DIN 3": "5m", "HP": "wok"})
	must(t, tab.See("speaker relay is condemned."), tab.See("Its rail +24 V is good"))

	// Ohms in a live set are refused, with what to do.
	must(t, tab.Keys(kb.Home), tab.Keys("47 ohm"), tab.See("this set is live"), tab.Keys("\x1b"))
	// Switched off again: what was measured before does not count any more.
	must(t, tab.Keys("o"), tab.Keys("1"), tab.Until(power+` === 'Off'`), tab.Reload(), tab.Until(power+` === 'Off'`))
	p.stop()
	p.run()
	must(
		t,
		tab.Reload(),
		tab.Until(power+` === 'Off'`),
		tab.Keys("g"),
		tab.Keys("1"),
		tab.Until(isLeft+` === 'Suspects, 1 of 10: speaker relay'`),
	)
	must(t, tab.Until(`document.querySelector('textarea').value === '30 years in a damp hall'`))
}

// A point with pulses above the probe's rating is marked, not proposed, and the
// probe that would do is named.
func TestPulsesAreNotProposed(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	openJob(t, p, tab)
	must(
		t,
		tab.Go(p.url+"/#/jobs/1/safe"),
		tab.See("Not with the scope, ×10 probe"),
		tab.See("OUT: up to 900 V here"),
		tab.See("take the scope, ×100 probe"),
		tab.See("High-voltage pulses"),
	)
	must(t, tab.Go(p.url+"/#/jobs/1"), tab.Click(`button[aria-label^="Aim at OUT"]`), tab.See("up to 900 V here"))
	must(t, tab.Keys("3.1"), tab.See("mind: up to 900 V here"))
}

// Marks that contradict each other are both shown, with what would have to be true.
func TestContradictingMarksAreShown(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	openJob(t, p, tab)
	must(t, tab.Go(p.url+"/#/jobs/1/intake"), tab.See("With no probe at all"))
	for cell, key := range map[string]string{"DIN 3 disc to HP": "x", "AUX 1 aux to HP": "w", "DIN 3 disc to SPK": "w"} {
		must(
			t,
			tab.Click(fmt.Sprintf("[aria-label^=%q]", cell)),
			tab.Keys(key),
			tab.Until(fmt.Sprintf(`!document.querySelector('[aria-label^=%q]').getAttribute('aria-label').includes('not tried')`, cell)),
		)
	}
	must(
		t,
		tab.See("No single fault does all of this"),
		tab.See("HP absent, from DIN 3 in disc"),
		tab.See("SPK found good, from DIN 3 in disc"),
		tab.See("was misjudged, it is in"),
	)
	// The mark taken back, it fits again.
	must(
		t,
		tab.Click(`[aria-label^="DIN 3 disc to HP"]`),
		tab.Keys(kb.Backspace),
		tab.Until(`document.querySelector('[data-test=clash]') === null || !document.body.innerText.includes('No single fault')`),
	)
	// A unit swapped in is a row of its own.
	must(
		t,
		tab.Keys("u"),
		tab.Click(`dialog[open] input[value="power pair"]`),
		tab.Button("Add the row"),
		tab.See("a good one for power pair"),
	)
}

// photograph writes a JPEG to a file.
func photograph(t *testing.T) (path string, data []byte) {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 800, 600))
	for i := range 600 {
		m.Set(i, i, color.RGBA{200, 80, 20, 255})
	}
	var b bytes.Buffer
	must(t, jpeg.Encode(&b, m, nil))
	path = filepath.Join(t.TempDir(), "photo.jpg")
	must(t, os.WriteFile(path, b.Bytes(), 0o600))
	return path, b.Bytes()
}

// Put together again, the record finds the missing screw and where it belongs.
// Pictures are kept with their step; what is no picture is refused.
func TestReassemblyFindsTheMissingScrew(t *testing.T) {
	p := start(t)
	tab := open(t, 1280, 800)
	openJob(t, p, tab)
	must(t, tab.Go(p.url+"/#/jobs/1/open"), tab.See("Nothing undone yet"))
	for i, line := range []string{"s6 M4×10, bottom", "pbottom plate", "w2 red, tag 7, J3-2 to P5-1", "s4 M3×8 black, rear cover"} {
		must(
			t,
			tab.Keys(line[:1]),
			tab.Until(`document.activeElement.id === 'step'`),
			tab.Keys(line[1:]+"\r"),
			tab.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label^="Strike out step"]').length === %d`, i+1)),
			tab.Keys("\x1b"),
		)
	}
	must(
		t,
		tab.Keys("s"),
		tab.Keys("4\r"),
		tab.See("4 of what?"),
		tab.Until(`document.querySelector('#step').value === '4'`),
		tab.Keys("\x1b"),
	)

	// Pictures.
	photo, data := photograph(t)
	notes := filepath.Join(t.TempDir(), "notes.jpg")
	must(t, os.WriteFile(notes, []byte("not a picture at all"), 0o600))
	must(t, tab.Upload("[aria-label=Steps] li input[data-test=picture]", notes), tab.See("This is not a JPEG, PNG or WebP picture"))
	must(
		t,
		tab.Upload("[aria-label=Steps] li input[data-test=picture]", photo),
		tab.Until(`document.querySelector('[aria-label=Steps] li img')?.naturalWidth === 360`),
	)
	half := filepath.Join(t.TempDir(), "half.jpg")
	must(t, os.WriteFile(half, data[:len(data)/2], 0o600))
	must(t, tab.Upload("[aria-label=Steps] li input[data-test=picture]", half), tab.See("The picture breaks off"))
	uploadCutOff(t, p, data)
	must(t, tab.Reload(), tab.Until(`document.querySelectorAll('[aria-label=Steps] img').length === 1`))

	// Back together: the last comes first; of the four screws three turn up.
	says := `document.querySelector('[data-test=assembly]').innerText`
	must(t, tab.Until(says+` === 'Steps to go: 4 of 4.'`), tab.Keys("-"), tab.Until(says+`.includes('1 × M3×8 black, from rear cover')`))
	must(t, tab.Keys(kb.ArrowDown))
	for i := range 3 { // the cursor goes on by itself
		must(
			t,
			tab.Keys(" "),
			tab.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label="Back in"] [aria-pressed=true]').length === %d`, i+1)),
		)
	}
	must(t, tab.Until(says+` === 'Everything was put back, but there is something left over: 1 × M3×8 black, from rear cover.'`))
	p.stop()
	p.run()
	must(t, tab.Reload(), tab.Until(says+`.includes('1 × M3×8 black, from rear cover')`))
	must(
		t,
		tab.Click(`[aria-label="4 × M3×8 black, rear cover: 3 of 4 back in"]`),
		tab.Until(says+` === 'All is back in, and nothing is left over.'`),
	)
}

// uploadCutOff begins to send a picture and breaks off in the middle, as a phone
// does that loses the network.
func uploadCutOff(t *testing.T, p *program, data []byte) {
	t.Helper()
	c, err := net.Dial("tcp", p.port)
	must(t, err)
	defer c.Close()
	_, err = fmt.Fprintf(c, "POST /api/jobs/1/pictures?id=cut HTTP/1.1\r\nHost: %s\r\nContent-Length: %d\r\n\r\n", p.port, len(data))
	must(t, err)
	_, err = c.Write(data[:len(data)/3])
	must(t, err, c.(*net.TCPConn).CloseWrite())
	answer, err := bufio.NewReader(c).ReadString('\n')
	if err != nil || !strings.Contains(answer, "400") {
		t.Errorf("a picture cut off is answered %q, %v", answer, err)
	}
}

// The short on the demo television's rail, found by lifting and by millivolts.
func TestShortIsHuntedOnTheScreen(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/148/supplies"),
		tab.See("F502 is blown, and something blew it"),
		tab.See("Open plug P7, then read the rail to ground."),
	)
	must(
		t,
		tab.Button("plug P7 is out: read the rail"),
		tab.See("with plug P7 lifted, bridged or swapped"),
		tab.Keys("58\r"),
		tab.See("Open choke L620"),
	)
	must(
		t,
		tab.Button("choke L620 is out: read the rail"),
		tab.Keys("1.4\r"),
		tab.Until(`document.querySelector('[data-test=lift]')?.innerText.startsWith('Lift C61')`),
		tab.Button("nothing is lifted"),
	)

	// Millivolts along the copper: 1 A in at F502, the current leaves at C610 +.
	for place, text := range map[string]string{"F502": "34m", "C531 +": "29.1m", "P7-2": "23m", "C610 +": "15m", "L620": "15.1m"} {
		must(
			t,
			tab.Click(fmt.Sprintf("button[aria-label=%q]", "Aim at "+place)),
			tab.Keys(text+"\r"),
			tab.Until(fmt.Sprintf(`!document.querySelector('button[aria-label=%q]').innerText.includes('not read')`, "Aim at "+place)),
		)
	}
	must(
		t,
		tab.Until(
			`document.querySelector('[data-test=found]')?.innerText.startsWith('The current leaves the track at C610 +. There hang C610, C611, IC601 IF')`,
		),
	)
	// Volts of a rail in a set that is off are not judged, and it says why.
	must(t, tab.Click(`button[aria-label="Aim at rail B+"]`), tab.Keys("104"), tab.See("the set was off"))
}

// The views before the first probe are no wider than a phone.
func TestPhoneWidthBeforeTheProbe(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 390, 844)
	for _, page := range []string{"/#/jobs/147/intake", "/#/jobs/148/safe", "/#/jobs/142/open", "/#/jobs/148/supplies"} {
		must(t, tab.Go(p.url+page), tab.Until(`document.querySelector('h1') !== null && document.querySelector('main') !== null`))
		wide, err := browser.Ask[int](tab, "document.documentElement.scrollWidth")
		must(t, err)
		if wide > 390 {
			t.Errorf("%s is %d pixels wide on a phone of 390", page, wide)
		}
	}
	must(t, tab.Go(p.url+"/#/jobs/142/open"), tab.Button("Together again"), tab.See("Steps to go"))
}

// A screen that shows what there is comes to rest: it does not go on asking the server.
func TestScreensComeToRest(t *testing.T) {
	const asked = `performance.getEntriesByType('resource').filter((e) => e.name.includes('/api/')).length`
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	for _, page := range []string{"", "sheets", "jobs/141", "jobs/147/intake", "jobs/148/safe", "jobs/142/open", "jobs/141/inside",
		"jobs/141/signals", "jobs/148/supplies", "jobs/141/waiting"} {
		must(t, tab.Go(p.url+"/#/"+page), tab.Reload(), tab.Until(`document.querySelector('main') !== null && `+asked+` > 0`))
		time.Sleep(time.Second)
		before, err := browser.Ask[int](tab, asked)
		must(t, err)
		time.Sleep(time.Second)
		after, err := browser.Ask[int](tab, asked)
		must(t, err)
		if after > before+2 { // what takes longer may come in between
			t.Errorf("%q asked %d times in a second that nobody did anything", page, after-before)
		}
	}
}
