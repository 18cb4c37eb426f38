package wave

import (
	"strings"
)

// unit is a unit of a column: its base, and how many of that one is.
type unit struct {
	base  string // V, A, s, Hz, FS
	times float64
}

var unitPrefixes = map[string]float64{"": 1, "p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "μ": 1e-6, "m": 1e-3, "k": 1e3, "M": 1e6}

// unitOf reads a unit as headings have it: "mV", "(ms)", "[V]", "Volt", "seconds".
func unitOf(text string) (unit, bool) {
	t := strings.Trim(strings.TrimSpace(text), "()[]\"' ")
	for long, short := range map[string]string{"second": "s", "sec": "s", "volt": "V", "ampere": "A", "amp": "A"} {
		if word := strings.TrimSuffix(strings.ToLower(t), "s"); word == long {
			return unit{short, 1}, true
		}
	}
	for _, base := range []string{"V", "A", "s", "FS"} {
		if prefix, ok := strings.CutSuffix(t, base); ok {
			if times, ok := unitPrefixes[prefix]; ok {
				return unit{base, times}, true
			}
		}
	}
	return unit{}, false
}

// unitIn finds a unit inside a heading: "CH1 (mV)", "time/ms", "Volts".
func unitIn(heading string) (u unit, name string, ok bool) {
	name = strings.Trim(strings.TrimSpace(heading), `"'`)
	for _, marks := range []string{"()", "[]"} {
		a, b := strings.LastIndexByte(name, marks[0]), strings.LastIndexByte(name, marks[1])
		if a >= 0 && b > a {
			if u, ok = unitOf(name[a+1 : b]); ok {
				return u, strings.TrimSpace(name[:a]), true
			}
		}
	}
	if i := strings.LastIndexAny(name, "/,"); i >= 0 {
		if u, ok = unitOf(name[i+1:]); ok {
			return u, strings.TrimSpace(name[:i]), true
		}
	}
	u, ok = unitOf(name)
	return u, name, ok
}

// unknownUnit tells whether a heading has something in brackets that is no unit.
func unknownUnit(heading string) bool {
	_, name, ok := unitIn(heading)
	return !ok && strings.ContainsAny(name, "([")
}

// units takes the samples of every channel to be in a unit.
func (c *Capture) units(text string) error {
	u, ok := unitOf(text)
	if !ok || u.base == "s" {
		return wrong(1, "%q is no unit of samples: say for example mV, V or mA", text)
	}
	for i := range c.Channels {
		ch := &c.Channels[i]
		ch.Unit = u.base
		for k := range ch.Samples {
			ch.Samples[k] *= u.times
		}
	}
	c.say("The samples are taken to be in %s.", strings.TrimSpace(text))
	return nil
}
