package quantity

import "testing"

// What is written of a waveform is read again, with its value; and what people type besides is understood.
func TestWhatAWaveformShowsIsReadAgain(t *testing.T) {
	for d, w := range Details() {
		for _, at := range []Value{{}, {SI: 8.2, Unit: Volt}, {SI: -3, Unit: Volt}, {SI: 2.3e6, Unit: Hertz}} {
			if w == Hum && at.Unit != None {
				continue // its frequency tells which: below
			}
			seen := Seen{d, at}
			got, ok := SeenIn(seen.String())
			if !ok || got.Detail != d || got.At.Unit != at.Unit || got.At.SI != at.SI {
				t.Errorf("%q is read as %+v, %t", seen.String(), got, ok)
			}
			e, err := ParseEntry(seen.String(), Volt)
			if err != nil || e.Word != w {
				t.Errorf("%q: %+v, %v; want %q", seen.String(), e, err, w)
			}
		}
	}
	for text, want := range map[string]Detail{
		"Clips on  top": ClippedTop, "hum at 50 Hz": HumMains, "hum at 60Hz": HumMains, "hum at 100 Hz": HumDouble,
		"hum at 120 Hz":         HumDouble,
		"oscillates at 2.3 MHz": Oscillation, "hiss": Hiss, "clipped on the bottom at -3.1 V": ClippedBottom,
		"ringing at 120 kHz": Ringing,
	} {
		if got, ok := SeenIn(text); !ok || got.Detail != want {
			t.Errorf("%q is %+v, %t", text, got, ok)
		}
	}
	for _, text := range []string{
		"", "distorted", "clipped on top at", "clipped on top at noon", "hum at Hz", "8.2 V", "at 8 V", "tilt at 5",
		"İİİİİİİİ at İ", "at", "at at",
	} {
		if got, ok := SeenIn(text); ok {
			t.Errorf("%q shows %+v", text, got)
		}
	}
}
