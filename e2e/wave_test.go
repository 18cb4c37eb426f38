package e2e

import (
	bits "encoding/binary"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"steptrace/e2e/browser"
)

// A captured waveform is dropped on the bench; what it does not say is asked for
// and said; one of its figures becomes the reading.
func TestAWaveformIsDroppedAndTakenAsTheReading(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	drop := func(name, text string) string {
		return fmt.Sprintf(
			`(() => { const d = new DataTransfer(); d.items.add(new File([%q], %q)); window.dispatchEvent(new DragEvent('drop', { dataTransfer: d, cancelable: true })); return true })()`,
			text,
			name,
		)
	}
	var table strings.Builder
	table.WriteString("CH1 (mV)\n")
	for i := range 2000 {
		fmt.Fprintf(&table, "%.3f\n", 246*math.Sin(2*math.Pi*float64(i)/50)) // 174 mV rms
	}
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.Until(drop("scope.csv", "time,v\n0,1\n1,OL\n2,3\n")),
		tab.See("A captured waveform"),
		tab.See(`line 3: "1,OL" is no line of 2 numbers`),
	)
	must(
		t,
		tab.Until(drop("scope.csv", table.String())),
		tab.See("neither times nor an interval are given"),
		tab.Write("Between samples", "20 us"),
		tab.Button("Read it so"),
	)
	must(
		t,
		tab.See("1 channel of 2000 samples, 50000 samples a second"),
		tab.See("sine fit after IEEE 1057"),
		tab.See("1 kHz"),
		tab.Until(`document.querySelector('svg[aria-label="CH1, tone"] path') !== null`),
	)
	must(
		t,
		tab.Until(
			`[...document.querySelectorAll('[aria-label=Figures] tr')].find((r) => r.innerText.startsWith('rms without DC')).querySelector('button').click() === undefined`,
		),
	)
	must(
		t,
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.Until(`document.querySelector('#entry').value === '0.173948 Vrms'`),
		tab.See("low, −17.2 dB"),
		tab.Click("#entry"),
		tab.Keys("\r"),
		tab.Until(evidence+` === 6`),
	)
}

// Against what the sheet has at the aimed point the defect is named, with its
// evidence, and logged as a word.
func TestAClippedWaveformIsNamed(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	var table strings.Builder
	table.WriteString("time,v\n")
	for i := range 20000 {
		fmt.Fprintf(
			&table,
			"%.6f,%.4f\n",
			float64(i)*2e-5,
			min(1.78*math.Sin(2*math.Pi*float64(i)/50+0.4), 1.1),
		) // 1.26 V rms at 1 kHz, clipped on top
	}
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.Until(`document.querySelector('label[for=entry]').innerText === 'Q206 c'`),
	)
	must(
		t,
		tab.Until(
			fmt.Sprintf(
				`(() => { const d = new DataTransfer(); d.items.add(new File([%q], 'top.csv')); window.dispatchEvent(new DragEvent('drop', { dataTransfer: d, cancelable: true })); return true })()`,
				table.String(),
			),
		),
	)
	must(
		t,
		tab.See("Against the sheet: a sine of 3.56 Vpp, 1 kHz"),
		tab.See("clipped on top"),
		tab.See("a leaky coupling capacitor"),
		tab.Button("log “clipped on top at 1.1 V” at Q206 c"),
	)
	must(
		t,
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.Until(`document.querySelector('#entry').value === 'clipped on top at 1.1 V'`),
		tab.Click("#entry"),
		tab.Keys("\r"),
		tab.Until(evidence+` === 6`),
		tab.See("clipped on top at 1.1 V"),
	)
}

// traceLive lets hands and instruments take what is proposed for job 142, until its stage is found.
func traceLive(t *testing.T, tab *browser.Tab) {
	t.Helper()
	aim := `document.querySelector('label[for=entry]').innerText`
	practice := `document.querySelector('[data-test=practice]').innerText`
	for n := range 8 {
		found, err := browser.Ask[bool](
			tab,
			`document.querySelector('[data-test=headline]') !== null && document.body.innerText.includes('Found')`,
		)
		must(t, err)
		if found {
			break
		}
		must(
			t,
			tab.Keys("b"),
			tab.Until(practice+`.includes('probe on ' + `+aim+`)`),
			tab.Keys("e"),
			tab.Until(practice+`.includes('sine, 1 kHz, 2 mV')`),
			tab.Keys("t"),
			tab.Until(fmt.Sprintf(evidence+" === %d", 6+n)),
		)
	}
}

// A demo set is traced live, by keys alone: hands put the probe there (b), the generator
// is set (e), the instrument takes the reading (t), until the stage is found; the
// captures stand one under the other afterwards.
func TestADemoSetIsTracedLive(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.See("take it"),
		tab.Keys("t"),
		tab.See("The practice probe is nowhere. Put it on Q206 c first (key b), as hands would."),
	)
	traceLive(t, tab)
	must(t, tab.See("Q204 make-up"), tab.Until(`document.querySelector('[data-test=headline]').innerText.includes('Q204 make-up')`))
	must(
		t,
		tab.Keys("g6"),
		tab.See("In the order of the route"),
		tab.Until(`document.querySelectorAll('[aria-label=Captures] li').length >= 2`),
		tab.See("Against the sheet"),
	)
	must(
		t,
		tab.Click(`[aria-label=Captures] li:nth-child(1) button`),
		tab.Click(`[aria-label=Captures] li:nth-child(2) [aria-label^=Stack]`),
		tab.Until(`document.querySelectorAll('svg[aria-label$=", tone"] path').length >= 4`),
	)
	must(t, tab.Keys("a"), tab.Keys("b"), tab.See("time between"), tab.See("as one period"))
	must(
		t,
		tab.Keys("+"),
		tab.Keys("+"),
		tab.Keys(kb.ArrowRight),
		tab.Keys(kb.Home),
		tab.Keys(kb.End),
		tab.Keys(kb.ArrowDown),
		tab.See("What is left when"),
		tab.Keys("s"),
		tab.Until(`document.querySelector('svg[aria-label=Spectrum] path') !== null`),
	)
}

// A fault that is drawn and not told is told when asked for; a second scope that is off
// is named with its address, and logs nothing.
func TestInstrumentsAreListedAndAsked(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.See("take it"),
		tab.Keys("l"),
		tab.See("practice scope"),
		tab.Button("ask it"),
		tab.See("Step Trace,practice scope,0,1"),
	)
	must(
		t,
		tab.Button("Draw a fault, do not tell"),
		tab.See("Something is wrong with it, and is not told."),
		tab.Button("Tell it"),
		tab.Until(`!document.body.innerText.includes('is not told')`),
	)
	must(t, tab.Button("capacitance"), tab.See("practice tester: it is over its range, or has nothing to measure"))
	must(
		t,
		tab.Button("Add one"),
		tab.Write("Name", "old scope"),
		tab.Write("Address in the network", "127.0.0.1"),
		tab.Button("Keep"),
		tab.See("is no address: write the host and the port"),
	)
	must(
		t,
		tab.Write("Address in the network", "127.0.0.1:64999"),
		tab.Button("Keep"),
		tab.See("127.0.0.1:64999"),
		tab.Keys("\x1b"),
		tab.Until(`document.querySelector('dialog[open]') === null`),
	)
	must(t, tab.Keys("t"), tab.See("old scope: nothing answers at 127.0.0.1:64999"), tab.Until(evidence+" === 5"))
}

// tone is a WAV of a sine, 16 bits at 48 kHz, two seconds long.
func tone(t *testing.T, hz, peak float64) string {
	t.Helper()
	const rate, n = 48000, 96000
	le := bits.LittleEndian
	b := le.AppendUint32([]byte("RIFF"), 36+2*n)
	b = le.AppendUint32(append(b, "WAVEfmt "...), 16)
	b = le.AppendUint16(le.AppendUint16(b, 1), 1)
	b = le.AppendUint32(le.AppendUint32(b, rate), 2*rate)
	b = le.AppendUint16(le.AppendUint16(b, 2), 16)
	b = le.AppendUint32(append(b, "data"...), 2*n)
	for i := range n {
		b = le.AppendUint16(b, uint16(int16(math.Round(32767*peak*math.Sin(2*math.Pi*hz*float64(i)/rate)))))
	}
	path := filepath.Join(t.TempDir(), "tone.wav")
	must(t, os.WriteFile(path, b, 0o600))
	return path
}

// With nothing but a computer: a signal is played and muted, its output calibrated; the
// microphone, at which a sine of a quarter of full scale arrives, is listened to and
// calibrated against a known level; what was heard is kept and logged.
func TestInjectAndRecordByTheComputersSound(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800, tone(t, 1000, 0.25))
	must(
		t,
		tab.Go(p.url+"/#/jobs/142"),
		tab.See("Suspects, 5"),
		tab.Keys("y"),
		tab.See("Through a coupling capacitor rated for the voltage"),
		tab.See("Never into a set whose chassis is connected to the mains"),
	)
	must(
		t,
		tab.Write("Level", "100 mV"),
		tab.Button("Play"),
		tab.See("calibrate it once (on the bench, key y), or where it can be, say the level in dB under full scale"),
		tab.Write("Level", "-20 dB"),
		tab.Button("Play"),
		tab.See("Playing: sine 1 kHz, -20 dB."),
	)
	must(t, tab.Button("Mute"), tab.See("Muted: sine 1 kHz"), tab.Button("Sound again"), tab.See("Playing: sine 1 kHz"))
	must(
		t,
		tab.Click("[aria-label='Feed in'] summary"),
		tab.Write("A meter at the output shows", "350 mVrms"),
		tab.Click("[aria-label='Feed in'] details button:last-of-type"),
		tab.See("Full scale is 990 mVpk, as calibrated"),
	)
	must(t, tab.Write("Level", "100 mV"), tab.Button("Play this instead"), tab.See("Playing: sine 1 kHz, 100 mV."))
	heard := `document.querySelector('[data-test=heard]')?.innerText ?? ''`
	must(t, tab.Click("[aria-label=Listen] button"), tab.Until(`/^0\.17[0-9]+ FS rms, (1|0.9999|1.0000)[0-9]* kHz/.test(`+heard+`)`))
	// Left open, listening goes on; a known level makes volts of it, and the defect is named.
	must(
		t,
		tab.Click("[aria-label=Listen] summary"),
		tab.Write("Now at the input", "1.26 V"),
		tab.Click("[aria-label=Listen] details button"),
		tab.Until(`document.querySelector('[aria-label=Listen] summary').innerText.includes('as calibrated')`),
	)
	// (On a machine that stalls the recording has gaps, and so has what is made of it.)
	must(t, tab.Until(`/^(1\.[0-5][0-9]*) V rms/.test(`+heard+`)`), tab.See("as it should be"))
	must(
		t,
		tab.Button("Take what was heard at Q206 c"),
		tab.See("A captured waveform"),
		tab.See("Every sample is multiplied by"),
		tab.Button("Keep it at Q206 c"),
		tab.See("Kept at Q206 c"),
	)
	must(
		t,
		tab.Click(`dialog[open] [aria-label="Read rms without DC at Q206 c"]`),
		tab.Until(`document.querySelector('dialog[open]') === null`),
		tab.See("within"),
		tab.Click("#entry"),
		tab.Keys("\r"),
		tab.Until(evidence+` === 6`),
	)
	must(
		t,
		tab.Click(`[aria-label=Evidence] a`),
		tab.See("sound input.wav, taken"),
		tab.Until(`document.querySelectorAll('[aria-label=Captures] li').length === 1`),
	)
	// What is played is in sight and muted in every view; it opens with what is fed in, asked for once.
	must(
		t,
		tab.See("Playing: sine 1 kHz, 100 mV"),
		tab.Keys("z"),
		tab.See("Muted: sine 1 kHz, 100 mV"),
		tab.Keys("g5"),
		tab.See("Muted: sine 1 kHz, 100 mV"),
		tab.Until(`document.getElementById('entry') !== null`),
	)
	must(
		t,
		tab.Keys("i"),
		tab.See("What is fed in"),
		tab.Choose("dialog[open] select", "C209 +"),
		tab.Write("Level", "20 mV"),
		tab.Write("Frequency", "1 kHz"),
		tab.Button("Set"),
		tab.Until(`document.querySelector('dialog[open]') === null`),
	)
	must(
		t,
		tab.Until(`(performance.clearResourceTimings(), true)`),
		tab.Keys("y"),
		tab.Until(`[...document.querySelectorAll('dialog[open] input')].some((i) => i.value === '0.02 Vrms')`),
	)
	time.Sleep(700 * time.Millisecond) // long enough for it to ask again, if it did
	if n, err := browser.Ask[int](tab,
		`performance.getEntriesByType('resource').filter((r) => r.name.includes('sound/levels')).length`); err != nil ||
		n != 1 {
		t.Errorf("what is known of the devices is asked for %d times, %v", n, err)
	}
}
