package substitute

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"steptrace/core/device"
	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// Stack is several junctions in series in one body, which hold the bias of an output stage and follow its heat.
type Stack struct {
	Junctions int     `json:"junctions"`
	Amps      float64 `json:"amps,omitempty"`
	// Of is the single diode that it is made of; nil: it is one body.
	Of *device.Type `json:"-"`
}

// junctionVolts is what a silicon junction drops at a few milliamperes, by which one that is named by its volts is counted, and
// mostJunctions how many such a body has at most.
const (
	junctionVolts = 0.65
	mostJunctions = 6
)

var (
	biasDiode   = regexp.MustCompile(`(?i)^bias(?: diode)?\s*`)
	ofJunctions = regexp.MustCompile(`(?i)^of (\d)\b`)
)

// StackOf reads one as one speaks of it: "bias diode of 2, 50 mA", "bias diode 1.3 V 20 mA". The error can be mended by a person.
func StackOf(typed string) (Stack, error) {
	var s Stack
	const form = "how many junctions, or its volts: bias diode of 2, 50 mA; bias diode 1.3 V 20 mA"
	rest := biasDiode.ReplaceAllString(strings.TrimSpace(typed), "")
	if m := ofJunctions.FindStringSubmatch(rest); m != nil {
		s.Junctions, _ = strconv.Atoi(m[1]) // a digit
		rest = rest[len(m[0]):]
	}
	for _, w := range wordsOf(strings.ReplaceAll(rest, ",", " ")) {
		v, err := quantity.Parse(w, quantity.Volt)
		switch {
		case err != nil:
			return s, mend.Errorf("%q: %s", w, form)
		case v.Unit == quantity.Volt && s.Junctions == 0:
			s.Junctions = int(math.Round(v.SI / junctionVolts))
		case v.Unit == quantity.Ampere && s.Amps == 0 && v.SI > 0:
			s.Amps = v.SI
		default:
			return s, mend.Errorf("%q: %s", w, form)
		}
	}
	if s.Junctions < 1 || s.Junctions > mostJunctions {
		return s, mend.Errorf("it has 1 to %d junctions. Say %s", mostJunctions, form)
	}
	return s, nil
}

// inSeries is how several of a single diode are spoken of: "2 x 1N4148 in series".
var inSeries = regexp.MustCompile(`(?i)^(\d) ?[x×] ?(\S+) in series$`)

// SeriesOf reads several single diodes in series.
func SeriesOf(table *device.Table, typed string) (Stack, bool) {
	m := inSeries.FindStringSubmatch(strings.TrimSpace(typed))
	if m == nil {
		return Stack{}, false
	}
	t, _, ok := table.Find(m[2])
	n, _ := strconv.Atoi(m[1]) // a digit
	return Stack{Junctions: n, Of: t}, ok && t.Name != ""
}

// Says writes single ones in series as they are read.
func (s Stack) Says() string { return fmt.Sprintf("%d x %s in series", s.Junctions, s.Of.Name) }

// Made are the usual ways to make one: of small-signal diodes, and of rectifiers.
func (s Stack) Made(table *device.Table) []Stack {
	var out []Stack
	for _, name := range []string{"1N4148", "1N4002"} {
		if t, _, ok := table.Find(name); ok {
			out = append(out, Stack{Junctions: s.Junctions, Of: t})
		}
	}
	return out
}

// StackFor judges single diodes in series, or another body, in the place of such a body.
//
// Source: each silicon junction drops alike at a current (textbook); that it has to be as warm as the output pair, since that is
// what it is there for, and that the bias is set anew, the trade.
func StackFor(before, after Stack) Verdict {
	v := begin()
	if after.Junctions != before.Junctions {
		v.no("%d junctions in place of %d: the bias would be off by %s", after.Junctions, before.Junctions,
			quantity.Rounded(junctionVolts*math.Abs(float64(after.Junctions-before.Junctions)), quantity.Volt))
	}
	if t := after.Of; t != nil {
		schottky := strings.Contains(t.Row.Note, "Schottky")
		switch {
		case t.Kind != device.Diode && t.Kind != device.Rectifier:
			v.no("%s is a %s", t.Name, t.Kind)
		case t.Row.Material == "germanium" || schottky:
			v.no("%s drops less than a silicon junction", t.Name)
		}
		v.atLeast("current", before.Amps, t.Amps, quantity.Ampere)
		v.change("%d in series, all the same way round, as short as they can be", after.Junctions)
		v.change("held against the sink or the case of the output pair with paste, insulated: the bias follows its heat by them")
		if t.Kind == device.Rectifier {
			v.mind("a rectifier drops some 50 mV less at a few milliamperes than a small diode: fewer milliamperes of bias at first")
		}
	}
	v.mind("bias at its least before power, then set anew, cold and warm")
	return v.settle()
}
