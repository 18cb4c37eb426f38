package wave

import (
	"math"
	"strings"
)

// cells parts a line of the head.
func (t *table) cells(line string) []string {
	switch {
	case t.shape.separator == ' ':
		return strings.Fields(line)
	case t.shape.columns == 1: // whatever parts the head does not part the samples
		line = strings.TrimRight(line, ";,\t ")
	}
	return strings.Split(line, string(t.shape.separator))
}

// headings finds the row of names right before the samples, and a row of units
// below or above it.
func (t *table) headings() (names []string, units []unit) {
	for i := len(t.head) - 1; i >= 0 && i >= len(t.head)-3; i-- {
		cells := t.cells(t.head[i])
		for len(cells) > t.shape.columns && strings.TrimSpace(cells[len(cells)-1]) == "" {
			cells = cells[:len(cells)-1]
		}
		if len(cells) != t.shape.columns || strings.TrimSpace(t.head[i]) == "" {
			continue
		}
		all := make([]unit, len(cells))
		isUnits := true
		for k, cell := range cells {
			u, ok := unitOf(cell)
			all[k] = u
			isUnits = isUnits && (ok || strings.TrimSpace(cell) == "")
		}
		switch {
		case isUnits && units == nil:
			units = all
		case !isUnits && names == nil && !t.isValue(t.head[i]) && !t.halfNumbers(t.head[i]):
			names = cells
		}
	}
	return names, units
}

// said parts a line of the head that gives a value: "Sample interval, 1e-6, s",
// "rate = 48 kHz". The separator of one column of samples is not known.
func (t *table) said(line string) []string {
	line = strings.TrimSpace(strings.TrimLeft(line, "#% "))
	for _, mark := range []string{"\t", ";", "=", ":", ","} {
		if strings.Contains(line, mark) {
			return strings.Split(line, mark)
		}
	}
	return []string{line}
}

// isValue tells whether a line of the head is a name with its value.
func (t *table) isValue(line string) bool {
	cells := t.said(line)
	if len(cells) < 2 {
		return false
	}
	_, _, ok := t.quantity(cells[1], "")
	return ok
}

// stated finds a value in the head by words that its name holds, and what stands
// behind it.
func (t *table) stated(words ...string) (value, more string) {
	for _, line := range t.head {
		cells := t.said(line)
		name := strings.ToLower(cells[0])
		for _, w := range words {
			if strings.Contains(name, w) && len(cells) > 1 {
				if len(cells) > 2 {
					more = strings.TrimSpace(cells[2])
				}
				return strings.TrimSpace(cells[1]), more
			}
		}
	}
	return "", ""
}

// interval finds the seconds between samples in the head, as an interval or as a
// rate; 0 where it is not there.
func (t *table) interval() (seconds float64, from string) {
	if text, more := t.stated("interval", "increment", "xincr", "delta t", "time step", "tstep"); text != "" {
		if x, u, ok := t.quantity(text, more); ok && x > 0 {
			return x * u.times, "the interval in its head"
		}
	}
	if text, more := t.stated("sample rate", "sampling rate", "samplerate", "sampling frequency", "samples per second"); text != "" {
		text = strings.TrimSuffix(strings.TrimSuffix(strings.TrimSpace(strings.TrimSuffix(text, "/s")), "Sa"), "Hz")
		scale := 1.0
		for prefix, times := range map[string]float64{"k": 1e3, "M": 1e6, "G": 1e9} {
			if rest, ok := strings.CutSuffix(strings.TrimSpace(text), prefix); ok {
				text, scale = rest, times
				break
			}
		}
		if x, _, ok := t.quantity(text, more); ok && x > 0 {
			return 1 / (x * scale), "the rate in its head"
		}
	}
	return 0, ""
}

// factor finds what the head says of a probe.
func (t *table) factor() string {
	text, _ := t.stated("probe", "attenuation")
	return text
}

// quantity reads a number with a unit behind it, or in the next cell.
func (t *table) quantity(text, more string) (x float64, u unit, ok bool) {
	text = strings.Trim(strings.TrimSpace(text), `"`)
	end := len(text)
	for end > 0 && strings.IndexByte("0123456789.,", text[end-1]) < 0 {
		end--
	}
	if x, ok = number([]byte(strings.TrimSpace(text[:end])), t.shape.decimal); !ok {
		x, ok = number([]byte(strings.TrimSpace(text[:end])), '.')
	}
	u = unit{"s", 1}
	for _, behind := range []string{text[end:], more} {
		if found, is := unitOf(behind); is {
			u = found
			break
		}
	}
	return x, u, ok && !math.IsInf(x, 0)
}
