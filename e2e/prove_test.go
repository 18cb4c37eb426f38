package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"steptrace/e2e/browser"
)

// twoChannels is a set of no demo, with bias and offset of both channels to be set.
const twoChannels = `{"format":"steptrace-sheet","version":1,"model":"Brulle D2","kind":"stereo power amplifier",
"points":[{"name":"IN L","expect":[{"quantity":"ac","value":"1 V"},{"quantity":"frequency","value":"1 kHz"}]},{"name":"OUT L","twin":"OUT R"},
{"name":"IN R","expect":[{"quantity":"ac","value":"1 V"},{"quantity":"frequency","value":"1 kHz"}]},{"name":"OUT R"}],
"stages":[{"name":"amplifier, left","kind":"amplifier","from":"IN L","to":"OUT L","gain":"26 dB","rails":["+45 V"]},
{"name":"amplifier, right","kind":"amplifier","from":"IN R","to":"OUT R","gain":"26 dB","rails":["+45 V"]}],
"rails":[{"name":"+45 V","value":"45 V","load":"2 A"},{"name":"-45 V","value":"-45 V","load":"2 A"}],"routes":[],
"adjustments":[
{"name":"idle current, left","kind":"bias","turn":"P1","measure":"across R11","target":"18 mV","tolerance":"3 mV","ohms":"0R22",
 "volts":"+45 V","conditions":["input shorted","no load"],"warm":"0.05","twin":"idle current, right"},
{"name":"offset, left","kind":"offset","turn":"P2","measure":"OUT L","target":"0 V","after":["idle current, left"]},
{"name":"idle current, right","kind":"bias","turn":"P3","measure":"across R31","target":"18 mV","tolerance":"3 mV","ohms":"0R22","volts":"+45 V"},
{"name":"offset, right","kind":"offset","turn":"P4","measure":"OUT R","target":"0 V","after":["idle current, right"]}]}`

const (
	saysNow  = `document.querySelector('[data-test=says]').innerText`
	headline = `document.querySelector('[data-test=headline]').innerText`
	setCount = `document.querySelector('[data-test=count]').innerText`
)

// logged is how many values a soak has, over all its traces.
func logged(t *testing.T, p *program, number int) (n int) {
	t.Helper()
	var log struct {
		Traces []struct{ T []float64 }
	}
	getJSON(t, fmt.Sprintf("%s/api/jobs/%d/soak/log", p.url, number), &log)
	for _, x := range log.Traces {
		n += len(x.T)
	}
	return n
}

// From a repair through warm-up, idle current and offset of both channels to a soak in simulated time, in which one channel
// is made to climb: by keys alone; the program is killed in between, and nothing that was logged is lost.
//
// Long: the story from end to end.
func TestFromTheRepairToASoakThatIsStopped(t *testing.T) {
	p := start(t, "-practice")
	var sheet struct {
		ID int64 `json:"id"`
	}
	var opened struct{ Number int }
	if !postJSON(t, p.url+"/api/sheets/import", twoChannels, &sheet) ||
		!postJSON(t, p.url+"/api/jobs", fmt.Sprintf(`{"sheet":%d,"complaint":"right side dead, repaired before"}`, sheet.ID), &opened) {
		t.Fatal("no job")
	}
	job := fmt.Sprintf("%s/api/jobs/%d", p.url, opened.Number)
	var view struct{}
	repaired := `{"id":"q1","at":"2026-11-20T10:00:00Z","repair":{"did":"replaced","stage":"amplifier, right","parts":[{"name":"Q32","found":"bad"}]}}`
	hot := `{"fault":{"block":"amplifier, right","effect":"runs hot","size":2.6},"draw":false,"reveal":false}`
	if !postJSON(t, job+"/repairs", repaired, &view) || !postJSON(t, job+"/practice", hot, &view) {
		t.Fatal("no repair, or no fault")
	}
	tab := open(t, 1280, 800)
	must(
		t,
		tab.Go(fmt.Sprintf("%s/#/jobs/%d", p.url, opened.Number)),
		tab.See("Brulle D2"),
		tab.Keys("ga"),
		tab.Until(saysNow+`.startsWith('First: input shorted')`),
	)
	must(t, tab.Keys("  "), tab.Until(saysNow+`.startsWith('Read R11 before P1 is touched')`))
	must(t, tab.Keys("150 mA"), tab.See("33 mV"), tab.Keys("\r"), tab.See("6.75 W in each"))
	must(t, tab.Until(saysNow+`.includes('has to warm up')`), tab.Keys("h"), tab.Until(saysNow+`.includes('warm up for another')`),
		tab.Reload(), tab.Until(saysNow+`.includes('Turn P1 slowly')`))
	// What is off is left so only with a reason; what is right, with one key.
	must(t, tab.Keys("s"), tab.Until(`document.activeElement.ariaLabel === 'Why it is left so'`), tab.Keys(kb.Escape))
	must(t, tab.Keys("17.6m\r"), tab.Until(`document.querySelector('[data-test=value]').innerText.includes('17.6 mV')`), tab.Keys("s"),
		tab.Until(setCount+`.startsWith('1 of 4')`), tab.See("OUT L"))
	must(t, tab.Keys("3m\r"), tab.Until(saysNow+`.startsWith('It is right')`), tab.Keys("s"), tab.Until(setCount+`.startsWith('2 of 4')`))
	must(t, tab.See("17.6 mV"), tab.Keys("18.4m\r"), tab.Until(saysNow+`.startsWith('It is right')`), tab.Keys("s"),
		tab.Until(setCount+`.startsWith('3 of 4')`))
	must(
		t,
		tab.Keys("-5m\r"),
		tab.Until(saysNow+`.startsWith('It is right')`),
		tab.Keys("s"),
		tab.Until(setCount+`.startsWith('4 of 4')`),
	)
	must(t, tab.Keys("i"), tab.See("is expected from the mains"), tab.Keys(kb.Escape))

	must(
		t,
		tab.Keys("g9"),
		tab.See("hours of proving"),
		tab.Keys("b"),
		tab.See("Cold start"),
		tab.Until(`document.querySelectorAll('svg path').length > 3`),
	)
	must(
		t,
		tab.Until(`[...document.querySelectorAll('[aria-label="What else is logged"] .figure')].some((x) => x.innerText.includes('V'))`),
	)
	// The plug is pulled while it is logged.
	for logged(t, p, opened.Number) < 100 {
		time.Sleep(100 * time.Millisecond)
	}
	kept := logged(t, p, opened.Number)
	p.kill()
	p.run("-practice")
	if got := logged(t, p, opened.Number); got < kept {
		t.Fatalf("%d values were logged, %d are there after the kill", kept, got)
	}
	if !postJSON(t, job+"/practice", hot, &view) {
		t.Fatal("no fault")
	}
	must(t, tab.Reload(), tab.See("the program was not running"))
	must(t, tab.See("the drive was stopped: heat sink right has passed its limit"), tab.See("above heat sink left"))
	must(t, tab.Keys("t"), tab.Keys("fan put on\r"), tab.See("fan put on"), tab.Keys("zu"), tab.Keys("c"),
		tab.See("the drive goes on"), tab.Keys("e"), tab.Until(headline+` === 'Ended by hand.'`))
	if table := getText(t, job+"/soak/"+soakID(t, job)+"/log.csv"); len(table) < 1000 || table[:8] != "seconds," {
		t.Errorf("the table: %.100s", table)
	}
	closeBy(t, tab)
	var stands struct {
		Items []struct{ Name, State string }
	}
	getJSON(t, job+"/closing", &stands)
	for _, x := range stands.Items {
		if x.State != "right" {
			t.Errorf("%s is %s", x.Name, x.State)
		}
	}
	must(t, tab.Keys("l"), tab.Keys("d"), tab.Resize(390, 844), tab.Reload(), tab.See("Ended by hand."))
}

// closeBy makes the closing measurements of that set, by keys: what was set is there already; what is wrong is said and
// struck out again; instruments take what needs nothing moved; what has no limit is judged; the rest is tried.
func closeBy(t *testing.T, tab *browser.Tab) {
	t.Helper()
	const how = `document.querySelector('[data-test=how]').innerText`
	asks := func(text string) error { return tab.Until(how + `.includes('` + text + `')`) }
	must(t, tab.Keys("l"), tab.See("Measured or tried"), asks("takes from the mains"))
	must(t, tab.Keys("95 W\r"), tab.Until(saysNow+`.startsWith('1 not as it should be: idle power: 95 W, 16 W to 26 W.')`),
		tab.Keys(kb.ArrowUp), tab.Until(how+`.includes('mains')`), tab.Keys("x"), tab.Until(saysNow+`.startsWith('14 of 16 still')`))
	must(t, tab.Keys("21 kHz"), tab.See("a frequency"), tab.Keys("\r"), tab.Keys(kb.Escape)) // is not kept
	must(t, tab.Reload(), asks("takes from the mains"), tab.Keys("21 W\r"))
	must(t, asks("left at OUT L"), tab.Keys("k"), asks("left at OUT R"), tab.Keys("k"), asks("flatten"))
	must(t, tab.Keys("21.2 V good\r"), asks("until OUT R"), tab.Keys("21.4 V good\r"), asks("distortion"))
	must(t, tab.Keys("0.04\r"), asks("distortion and noise at OUT R"), tab.Keys("0.05 %\r"), asks("50 Hz, 1 kHz, 15 kHz"))
	must(t, tab.Keys("k"), asks("into IN R, at 50 Hz"), tab.Keys("k"), asks("read OUT L, then OUT R"))
	must(t, tab.Keys("19.8 0.02 V\r"), asks("read OUT R, then OUT L"), tab.Keys("20 V; 19 mV\r"), asks("With IN L"))
	must(t, tab.Keys("y"), asks("With IN R"), tab.Keys("y"), asks("complaint"), tab.Keys("y"), tab.See("All is as it should be."))
}

func soakID(t *testing.T, job string) string {
	t.Helper()
	var v struct{ ID string }
	getJSON(t, job+"/soak", &v)
	return v.ID
}
