package e2e

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// A captured waveform is dropped on the bench; what it does not say is asked for
// and said; one of its figures becomes the reading.
func TestAWaveformIsDroppedAndTakenAsTheReading(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	drop := func(name, text string) string {
		return fmt.Sprintf(`(() => { const d = new DataTransfer(); d.items.add(new File([%q], %q)); window.dispatchEvent(new DragEvent('drop', { dataTransfer: d, cancelable: true })); return true })()`, text, name)
	}
	var table strings.Builder
	table.WriteString("CH1 (mV)\n")
	for i := range 2000 {
		fmt.Fprintf(&table, "%.3f\n", 246*math.Sin(2*math.Pi*float64(i)/50)) // 174 mV rms
	}
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects, 5"), tab.Until(drop("scope.csv", "time,v\n0,1\n1,OL\n2,3\n")), tab.See("A captured waveform"), tab.See(`line 3: "1,OL" is no line of 2 numbers`))
	must(t, tab.Until(drop("scope.csv", table.String())), tab.See("neither times nor an interval are given"), tab.Write("Between samples", "20 us"), tab.Button("Read it so"))
	must(t, tab.See("1 channel of 2000 samples, 50000 samples a second"), tab.See("sine fit after IEEE 1057"), tab.See("1 kHz"), tab.Until(`document.querySelector('svg[aria-label="CH1, tone"] path') !== null`))
	must(t, tab.Until(`[...document.querySelectorAll('[aria-label=Figures] tr')].find((r) => r.innerText.startsWith('rms without DC')).querySelector('button').click() === undefined`))
	must(t, tab.Until(`document.querySelector('dialog[open]') === null`), tab.Until(`document.querySelector('#entry').value === '0.173948 Vrms'`), tab.See("low, −17.2 dB"), tab.Click("#entry"), tab.Keys("\r"), tab.Until(evidence+` === 5`))
}

// Against what the sheet has at the aimed point the defect is named, with its
// evidence, and logged as a word.
func TestAClippedWaveformIsNamed(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	var table strings.Builder
	table.WriteString("time,v\n")
	for i := range 20000 {
		fmt.Fprintf(&table, "%.6f,%.4f\n", float64(i)*2e-5, min(1.78*math.Sin(2*math.Pi*float64(i)/50+0.4), 1.1)) // 1.26 V rms at 1 kHz, clipped on top
	}
	must(t, tab.Go(p.url+"/#/jobs/142"), tab.See("Suspects, 5"), tab.Until(`document.querySelector('label[for=entry]').innerText === 'Q206 c'`))
	must(t, tab.Until(fmt.Sprintf(`(() => { const d = new DataTransfer(); d.items.add(new File([%q], 'top.csv')); window.dispatchEvent(new DragEvent('drop', { dataTransfer: d, cancelable: true })); return true })()`, table.String())))
	must(t, tab.See("Against the sheet: a sine of 3.56 Vpp, 1 kHz"), tab.See("clipped on top"), tab.See("a leaky coupling capacitor"), tab.Button("log “distorted” at Q206 c"))
	must(t, tab.Until(`document.querySelector('dialog[open]') === null`), tab.Until(`document.querySelector('#entry').value === 'distorted'`), tab.Click("#entry"), tab.Keys("\r"), tab.Until(evidence+` === 5`))
}
