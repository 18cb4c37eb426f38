package e2e

import (
	"fmt"
	"testing"
	"unicode/utf8"
)

// A set with a screen and a complaint that says nothing: what is seen is chosen by keys from small drawings,
// and the bench begins where that points; it stands among what was read, and is taken back.
func TestWhatIsSeenIsEvidence(t *testing.T) {
	p := start(t)
	number := begun(t, p, "transistor colour television", "faulty")
	tab := open(t, 1280, 800)
	job := fmt.Sprintf("%s/#/jobs/%d", p.url, number)
	must(t, tab.Go(job+"/intake"), tab.See("what it shows by itself"))
	const typed = "sc2\r" // the dialog, the third drawing, once warm, noted
	must(t, tab.Keys(typed[:1]), tab.See("Seen on the screen"), tab.See("one bright line, flat"))
	must(t, tab.Keys(typed[1:2]), tab.See("Of their faults so many show it"), tab.See("field output stage"))
	must(t, tab.Keys(typed[2:3]), tab.Keys(typed[3:]), tab.See("one bright line, flat, once warm"), tab.Keys("\x1b"))
	must(t, tab.Until(noDialog), tab.See("It shows: one bright line, flat, once warm"))
	t.Logf("%d keys", utf8.RuneCountInString(typed))
	// Every drawing of the list is drawn, none twice the same.
	must(t, tab.Go(job), tab.See("Next probe"), tab.See("+26 V"), tab.Keys("S"), tab.See("Seen on the screen"))
	for _, sense := range []string{"Seen on the screen", "Heard", "Lamps"} {
		must(t, tab.Button(sense), tab.Until(`(() => {
			const all = [...document.querySelectorAll('[aria-label="What is noticed"] svg')].map((s) => s.innerHTML.trim());
			return all.length > 3 && new Set(all).size === all.length && all.every((s) => s.includes('d=') || s.includes('<text'));
		})()`))
	}
	must(t, tab.Click(`[aria-label^="Strike out one bright line"]`), tab.Until(`document.querySelector('li .line-through') !== null`))
	must(t, tab.Keys("\x1b"), tab.Until(noDialog))
}
