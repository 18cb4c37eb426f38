// Package chart reads voltage and resistance charts as manuals print them: rows of parts with the legs of
// each, or the other way about, several conditions side by side, parts on a line, the pins of a circuit;
// and level diagrams (level.go); pasted from a text that a scanner read, or typed.
//
//	c := chart.Read("      E    B    C\nQ101  1.2  1.8  8.4")
//	c.Cells // Q101 e 1.2 V, Q101 b 1.8 V, Q101 c 8.4 V
//
// What is not understood is named with its line, and a value that contradicts the physics of its part is
// doubted (doubt.go). Nothing is taken over here.
package chart

import (
	"regexp"
	"slices"
	"strings"
	"unicode"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Cell is a value of a leg under a condition. Text is as it stood, Value as it is understood, with its
// unit. Doubt says why it may be wrong, and Likely what was probably meant.
type Cell struct {
	Part      string `json:"part"`
	Leg       string `json:"leg"`  // e, b, c; s, g, d; k, a, g1; a pin's number
	Name      string `json:"name"` // of a pin
	Condition string `json:"condition"`
	// Quantity is DC, or the resistance to ground with the set off.
	Quantity sheet.Quantity `json:"quantity"`

	Text   string `json:"text"`
	Value  string `json:"value"`
	Line   int    `json:"line"`
	Doubt  string `json:"doubt"`
	Likely string `json:"likely"`

	si float64
}

// Point is what the leg is called as a point of a sheet.
func (c *Cell) Point() string { return c.Part + " " + c.Leg }

// Missed is a line of which something was not understood.
type Missed struct {
	Line int    `json:"line"`
	Text string `json:"text"`
	Why  string `json:"why"`
}

// Chart is what was read. Conditions are those under which it states values, none where it says none; one
// may be without a name.
type Chart struct {
	Cells      []Cell   `json:"cells"`
	Conditions []string `json:"conditions"`
	Missed     []Missed `json:"missed"`
}

// mostChart bounds a chart: lines, and characters in a line.
const mostLines, mostWide = 2000, 2000

// Read reads a chart.
func Read(text string) Chart {
	r := &reader{ohms: inOhms(text), out: Chart{Cells: []Cell{}, Conditions: []string{}, Missed: []Missed{}}}
	lines := strings.Split(strings.ReplaceAll(strings.ReplaceAll(text, "\r\n", "\n"), "\r", "\n"), "\n")
	for i, line := range lines[:min(len(lines), mostLines)] {
		r.line = i + 1
		if len(line) > mostWide {
			r.miss(line[:40], "the line is too long for a chart")
			continue
		}
		line = plainly(line)
		if fields := split(line); len(fields) > 0 {
			r.read(line, fields)
		}
	}
	r.unused()
	if len(lines) > mostLines {
		r.miss("", "a chart has up to 2000 lines: what comes behind is left out")
	}
	r.finish()
	return r.out
}

// reader reads line by line.
type reader struct {
	out      Chart
	line     int
	ohms     bool     // it is a chart of resistances
	above    []column // of the heading in force
	kind     heading
	part     string   // of which pins are listed
	last     string   // the part of the last value
	over     []string // conditions that stood above a heading, and their line
	overLine int
}

// heading is what a heading's columns are.
type heading int

const (
	none  heading = iota
	legs          // a part a row
	parts         // a leg a row
	pins          // pin, name, volts
)

// column is one of a heading: the leg, or the part, and the condition it holds under.
type column struct{ leg, part, condition string }

func (r *reader) miss(text, why string) {
	r.out.Missed = append(r.out.Missed, Missed{r.line, strings.TrimSpace(text), why})
}

var (
	leaders = regexp.MustCompile(`\.{2,}|…+|_{2,}`)
	joined  = regexp.MustCompile(`\b([A-Za-z]{1,3}\d{1,4})[-/.]([A-Za-z]{1,2}\d?)\b`)
	rule    = regexp.MustCompile(`^[\s|:+=-]+$`)
	comma   = regexp.MustCompile(`^[^\t|; ]*,[^\t|;]*$`)
)

// plainly takes out what only leads the eye: dots between columns, rules between rows, brackets about legs,
// and the dash between a part and its leg.
func plainly(line string) string {
	if rule.MatchString(line) {
		return ""
	}
	line = leaders.ReplaceAllString(line, "   ")
	line = strings.NewReplacer("(", " ", ")", " ").Replace(line)
	return joined.ReplaceAllStringFunc(line, func(at string) string {
		if m := joined.FindStringSubmatch(at); legOf(m[2]) != "" {
			return m[1] + " " + m[2]
		}
		return at
	})
}

var gap = regexp.MustCompile(`\t+| {2,}`)

// split takes a line apart at tabs, bars, semicolons, or gaps; where there is none at spaces. A comma
// between digits is a decimal one.
func split(line string) []string {
	line = strings.TrimRight(line, " \t")
	if strings.TrimSpace(line) == "" {
		return nil
	}
	out := cut(line)
	if len(out) > 2 && len(out[0]) < 4 && pinName.MatchString(out[1]) && isPart(out[0]+out[1]) && !isPart(out[0]) {
		out = append([]string{out[0] + out[1]}, out[2:]...) // Q 101
	}
	for i := range out {
		out[i] = strings.TrimSpace(out[i])
	}
	for len(out) > 0 && out[len(out)-1] == "" {
		out = out[:len(out)-1]
	}
	return out
}

// cut is what a line is cut into, whatever it is.
func cut(line string) []string {
	letters := !strings.ContainsAny(line, "0123456789")
	switch bare := strings.Trim(strings.TrimSpace(line), "|"); {
	case comma.MatchString(line) && (letters || strings.Contains(line, ".") || strings.Count(line, ",") > 2):
		return strings.Split(line, ",")
	case strings.Contains(line, "| |"), strings.Contains(line, "||"):
		return strings.Split(bare, "|")
	case strings.ContainsAny(line, "|;"):
		return strings.FieldsFunc(bare, func(c rune) bool { return c == '|' || c == ';' })
	case strings.Contains(line, "\t"):
		return strings.Split(line, "\t")
	case gap.MatchString(bare):
		out := gap.Split(strings.TrimSpace(line), -1)
		if strings.HasPrefix(line, "  ") {
			out = append([]string{""}, out...)
		}
		return loose(out)
	}
	return strings.Fields(line)
}

// loose takes cells apart that hold several numbers, or a name and numbers, with one space between.
func loose(cells []string) []string {
	var out []string
	for _, c := range cells {
		words := strings.Fields(c)
		if len(words) > 1 &&
			(isValue(words[len(words)-1]) && isPart(words[0]) || !slices.ContainsFunc(words, func(w string) bool { return !isValue(w) }) ||
				!slices.ContainsFunc(words, func(w string) bool { return legOf(w) == "" })) {
			out = append(out, words...)
		} else {
			out = append(out, c)
		}
	}
	return out
}

// read takes one line.
func (r *reader) read(line string, fields []string) {
	switch {
	case r.onALine(line):
	case r.isLegs(fields):
	case r.isPins(fields):
	case r.isParts(fields):
	case r.kind == pins && r.pin(fields):
	case isPart(fields[0]) && len(fields) == 1:
		r.part, r.kind = name(fields[0]), pins
	case r.kind == legs && r.row(fields):
	case r.kind == parts && r.legRow(fields):
	case r.merged(fields):
	case columns(fields):
	case r.isOver(fields):
		r.unused()
		r.over, r.overLine = fields, r.line
	default:
		r.miss(line, "neither a heading nor values of a part that is known")
	}
}

// legNames are how manuals write the legs of parts.
var legNames = map[string]string{
	"e": "e", "em": "e", "emitter": "e", "b": "b", "base": "b", "c": "c", "col": "c", "coll": "c", "collector": "c",
	"s": "s", "source": "s", "g": "g", "gate": "g", "grid": "g", "d": "d", "drain": "d",
	"k": "k", "cathode": "k", "a": "a", "anode": "a", "p": "a", "plate": "a", "g1": "g1", "g2": "g2", "screen": "g2", "g3": "g3",
}

// legOf is the leg that a heading means; empty where it means none.
func legOf(text string) string {
	return legNames[strings.ToLower(strings.Trim(text, " .:()"))]
}

var (
	partName = regexp.MustCompile(`^[A-Za-z]{1,4}[-. ]?\d{1,4}[A-Za-z]?$`)
	pinName  = regexp.MustCompile(`^\d{1,3}$`)
)

// isPart tells whether a text names a part: Q101, TR 3, IC2, V1A.
func isPart(text string) bool {
	text = strings.Trim(text, " .:")
	return partName.MatchString(text) && legOf(text) == ""
}

// name writes a part's name as one word.
func name(text string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", ".", "", "-", "").Replace(strings.Trim(text, " .:")))
}

// isLegs takes a heading of legs: "Tr E B C", or several times over for several conditions.
func (r *reader) isLegs(fields []string) bool {
	first := 0
	if legOf(fields[0]) == "" || len(fields) > 1 && isPart(fields[0]) {
		first = 1
	}
	if len(fields)-first < 2 {
		return false
	}
	if isPart(fields[0]) && inARow(fields[1:]) && (r.kind != legs || r.part != "") { // IC5 1 2 3, and a row of volts below
		r.kind, r.part, r.above = legs, name(fields[0]), []column{{}}
		for _, f := range fields[1:] {
			r.above = append(r.above, column{leg: f})
		}
		return true
	}
	numbered := true
	for _, f := range fields[first:] {
		if legOf(f) == "" && !pinName.MatchString(f) {
			return false
		}
		numbered = numbered && pinName.MatchString(f)
	}
	if numbered && (first == 0 || isPart(fields[0]) || !inARow(fields[first:])) {
		return false
	}
	r.kind, r.part, r.above = legs, "", []column{{}}
	seen := map[string]int{}
	for _, f := range fields[first:] {
		leg := legOf(f)
		if leg == "" {
			leg = f
		}
		r.above = append(r.above, column{leg: leg, condition: r.condition(seen[leg])})
		seen[leg]++
	}
	r.over = nil
	return true
}

// inARow tells whether pins are counted up from 1.
func inARow(fields []string) bool { return len(fields) > 1 && fields[0] == "1" && fields[1] == "2" }

// unused names conditions that no heading came for.
func (r *reader) unused() {
	if r.over != nil {
		r.out.Missed = append(
			r.out.Missed,
			Missed{r.overLine, strings.Join(r.over, " "), "neither a heading nor values of a part that is known"},
		)
		r.over = nil
	}
}

// condition is the one that stood above the heading for its first, second and further round.
func (r *reader) condition(round int) string {
	var over []string
	for _, o := range r.over {
		if o != "" {
			over = append(over, o)
		}
	}
	if round < len(over) {
		return over[round]
	}
	if round == 0 {
		return ""
	}
	return "condition " + string(rune('1'+round))
}

// isOver tells whether a line may be conditions above a heading: words, no values.
func (r *reader) isOver(fields []string) bool {
	return !slices.ContainsFunc(fields, func(f string) bool { return f != "" && (isValue(f) || isPart(f) || legOf(f) != "") })
}

// isParts takes a heading of parts, a leg a row: "      Q101 Q102 Q103".
func (r *reader) isParts(fields []string) bool {
	rest := fields
	if !isPart(fields[0]) {
		rest = fields[1:]
	}
	if len(rest) < 2 || slices.ContainsFunc(rest, func(f string) bool { return !isPart(f) }) {
		return false
	}
	r.kind, r.above = parts, []column{{}}
	for _, f := range rest {
		r.above = append(r.above, column{part: name(f)})
	}
	return true
}

// isPins takes a heading of pins: "Pin Name Volts".
func (r *reader) isPins(fields []string) bool {
	low := func(i int) string { return strings.ToLower(strings.Trim(fields[i], " .:")) }
	if len(fields) < 2 || !strings.HasPrefix(low(0), "pin") {
		return false
	}
	last := low(len(fields) - 1)
	if !strings.HasPrefix(last, "v") && !strings.HasPrefix(last, "dc") && !strings.HasPrefix(last, "ohm") &&
		!strings.HasPrefix(last, "res") {
		return false
	}
	r.kind, r.above = pins, make([]column, len(fields))
	return true
}

// row takes a part with the values of its legs.
func (r *reader) row(fields []string) bool {
	part := r.part
	if part == "" ||
		!slices.Contains(
			[]string{"", "v", "volts", "dc", "voltage", "ohms", "resistance"},
			strings.ToLower(strings.Trim(fields[0], " .:")),
		) {
		if !isPart(fields[0]) || len(fields) < 2 {
			return false
		}
		part = name(fields[0])
	}
	if len(fields) > len(r.above) {
		r.miss(strings.Join(fields, " "), "more values than legs in the heading")
		fields = fields[:len(r.above)]
	}
	for i, f := range fields[1:] {
		r.cell(part, r.above[i+1].leg, "", r.above[i+1].condition, f)
	}
	return true
}

// merged takes a leg with its value, a row each, of a part that stands before the first of them.
func (r *reader) merged(fields []string) bool {
	fields = slices.DeleteFunc(slices.Clone(fields), func(f string) bool { return f == "" })
	part := r.last
	if len(fields) == 3 && isPart(fields[0]) {
		part, fields = name(fields[0]), fields[1:]
	}
	if part == "" || len(fields) != 2 || legOf(fields[0]) == "" || !isValue(fields[1]) {
		return false
	}
	r.cell(part, legOf(fields[0]), "", "", fields[1])
	return true
}

// columns tells whether a line only says what the columns below it are.
func columns(fields []string) bool {
	says := []string{
		"part",
		"ref",
		"device",
		"transistor",
		"tr",
		"leg",
		"terminal",
		"electrode",
		"pin",
		"volts",
		"voltage",
		"v",
		"dc",
		"ohms",
	}
	return !slices.ContainsFunc(fields, func(f string) bool { return !slices.Contains(says, strings.ToLower(strings.Trim(f, " .:"))) })
}

// legRow takes a leg with its values at all parts.
func (r *reader) legRow(fields []string) bool {
	leg := legOf(fields[0])
	if leg == "" && pinName.MatchString(fields[0]) {
		leg = fields[0]
	}
	if leg == "" {
		return false
	}
	for i, f := range fields[1:min(len(fields), len(r.above))] {
		r.cell(r.above[i+1].part, leg, "", "", f)
	}
	return true
}

// pin takes a pin with its name, where it has one, and its volts.
func (r *reader) pin(fields []string) bool {
	if len(fields) < 2 || !pinName.MatchString(fields[0]) || r.part == "" {
		return false
	}
	called := ""
	if len(fields) > 2 {
		called = strings.Join(fields[1:len(fields)-1], " ")
	}
	r.cell(r.part, fields[0], called, "", fields[len(fields)-1])
	return true
}

var (
	lineHead = regexp.MustCompile(`^\s*([A-Za-z]{1,4}[-. ]?\d{1,4}[A-Za-z]?)\s*[:,]?\s+(.*)$`)
	lineLeg  = regexp.MustCompile(
		`([A-Za-z]{1,9}\d?|\bpin\s*\d{1,3})\s*[=:]?\s*([-+−]?[0-9OoIl|SB][0-9OoIl|SB.,]*(?:\s*m?V|[kKMR]\d*)?(?:\s*[ΩΩ])?)(?:\b|\s|$)`,
	)
)

// onALine takes "Q101 E 1.2 B 1.8 C 8.4", "Q101: E=1.2V, B=1.8V".
func (r *reader) onALine(line string) bool {
	m := lineHead.FindStringSubmatch(line)
	if m == nil || !isPart(m[1]) {
		return false
	}
	found := lineLeg.FindAllStringSubmatch(m[2], -1)
	if len(found) == 0 ||
		slices.ContainsFunc(
			found,
			func(f []string) bool { return legOf(f[1]) == "" && !strings.HasPrefix(strings.ToLower(f[1]), "pin") },
		) {
		return false
	}
	rest := lineLeg.ReplaceAllString(m[2], "")
	if strings.ContainsFunc(rest, func(c rune) bool { return unicode.IsLetter(c) || unicode.IsDigit(c) }) {
		return false
	}
	for _, f := range found {
		leg := legOf(f[1])
		if leg == "" {
			leg = strings.TrimSpace(f[1][3:])
		}
		r.cell(name(m[1]), leg, "", "", f[2])
	}
	return true
}

// empty are what manuals write where there is nothing to say.
var empty = []string{"", "-", "--", "—", "–", "*", "n/a", "nc", "n.c."}

// cell takes down a value.
func (r *reader) cell(part, leg, called, condition, text string) {
	if slices.Contains(empty, strings.ToLower(text)) {
		return
	}
	c := Cell{Part: part, Leg: leg, Name: called, Condition: condition, Text: text, Line: r.line, Quantity: sheet.DC}
	var slipped, ok bool
	if r.ohms {
		if isOpen(text) {
			r.miss(part+" "+leg+": "+text, "more than a meter shows: a sheet states no such resistance")
			return
		}
		c.Quantity = sheet.Resistance
		if c.si, slipped, ok = ohms(text); !ok {
			r.miss(part+" "+leg+": "+text, "not a resistance")
			return
		}
		c.Value = quantity.Value{SI: c.si, Unit: quantity.Ohm}.Short(4)
	} else {
		if c.si, slipped, ok = volts(text); !ok {
			r.miss(part+" "+leg+": "+text, "not a voltage")
			return
		}
		c.Value = written(c.si)
	}
	if slipped {
		c.Doubt = "letters stood for digits: read as " + c.Value
	}
	if condition != "" && !slices.Contains(r.out.Conditions, condition) {
		r.out.Conditions = append(r.out.Conditions, condition)
	}
	r.last = part
	r.out.Cells = append(r.out.Cells, c)
}
