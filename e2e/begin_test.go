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
