package chart

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// A level diagram names the blocks of a chain with what comes out of each: two rows, one block a line, or
// name and level in turn.

// Reference is what plain decibels of a level diagram count from.
type Reference string

// The references.
const (
	DBu   Reference = "dBu" // 0.775 V: dBm in older papers of sound sets
	DBV   Reference = "dBV"
	First Reference = "first" // the level of the first block
)

// References lists them, in the order they are offered.
var References = []Reference{DBu, DBV, First}

// Level is what comes out of a block. At is the point of the sheet where it is read; empty where none is
// of its name.
type Level struct {
	Block string `json:"block"`
	At    string `json:"at"`
	Text  string `json:"text"`
	Value string `json:"value"`
	Line  int    `json:"line"`
	Doubt string `json:"doubt"`

	db float64 // against 1 V
}

// Levels are a level diagram as it was read.
type Levels struct {
	Levels []Level  `json:"levels"`
	Missed []Missed `json:"missed"`
	Plain  bool     `json:"plain"` // decibels stand in it without a reference
}

// mostGain is how much two neighbours of a chain may differ, in dB, before a lost decimal point is likelier
// than such a stage: more than the gain of any one block of a level diagram.
const mostGain = 66.0

var (
	levelText = regexp.MustCompile(`^[-+−–]?\d+(?:[.,]\d+)?\s*(?:dB[umV]?|[µumk]?V(?:rms|pp|p-p)?|[µum]V)$`)
	inTurn    = regexp.MustCompile(`[-+−–]?\d+(?:[.,]\d+)?\s*(?:dB[umV]?|[µumk]?V(?:rms|pp|p-p)?)(?:$|\s)`)
)

// unitOf parts a number from its unit.
var unitOf = regexp.MustCompile(`^([-+\d.]+)\s*(\D.*)$`)

func isLevel(text string) bool { return levelText.MatchString(strings.TrimSpace(text)) }

// ReadLevels reads a level diagram for a sheet; reference is what plain decibels count from.
func ReadLevels(text string, plan *sheet.Plan, reference Reference) Levels {
	out := Levels{Levels: []Level{}, Missed: []Missed{}}
	var heads []string // a row of names that waits for its row of levels
	headLine := 0
	lines := strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n")
	miss := func(line int, text, why string) {
		out.Missed = append(out.Missed, Missed{line, strings.TrimSpace(text), why})
	}
	for i, line := range lines[:min(len(lines), mostLines)] {
		if line = plainlyLevel(line); strings.TrimSpace(line) == "" || len(line) > mostWide {
			continue
		}
		cells := cutLevels(line)
		levels := 0
		for _, c := range cells {
			if isLevel(c) {
				levels++
			}
		}
		switch {
		case levels == len(cells) && heads != nil && len(cells) <= len(heads):
			for k, c := range cells {
				out.add(heads[k], c, i+1)
			}
			if len(cells) < len(heads) {
				miss(headLine, strings.Join(heads[len(cells):], ", "), "no level stands under it")
			}
			heads = nil
		case levels == 0:
			if heads != nil {
				miss(headLine, strings.Join(heads, " "), "no levels stand below it")
			}
			heads, headLine = cells, i+1
		case levels*2 == len(cells) && inPairs(cells):
			for k := 0; k < len(cells); k += 2 {
				out.add(cells[k], cells[k+1], i+1)
			}
		default:
			miss(i+1, line, "names and levels do not pair")
		}
	}
	if heads != nil {
		miss(headLine, strings.Join(heads, " "), "no levels stand below it")
	}
	out.work(plan, reference)
	return out
}

// plainlyLevel takes arrows and rules between blocks out.
func plainlyLevel(line string) string {
	if rule.MatchString(line) {
		return ""
	}
	return strings.NewReplacer("→", "   ", "-->", "   ", "->", "   ", "=>", "   ", "[", " ", "]", "   ").
		Replace(leaders.ReplaceAllString(line, "   "))
}

// cutLevels cuts a line into names and levels.
func cutLevels(line string) []string {
	var cells []string
	switch {
	case strings.ContainsAny(line, "|;\t"):
		cells = strings.FieldsFunc(line, func(c rune) bool { return c == '|' || c == ';' || c == '\t' })
	case gap.MatchString(strings.TrimSpace(line)):
		cells = gap.Split(strings.TrimSpace(line), -1)
	default:
		cells = []string{line}
	}
	var out []string
	for _, c := range cells {
		c = strings.TrimSpace(c)
		// "preamp 12 mV tone 3 mV": levels in turn with names.
		for c != "" {
			at := inTurn.FindStringIndex(c)
			if at == nil || at[0] == 0 && at[1] >= len(c) {
				out = append(out, strings.Trim(c, " :=,"))
				break
			}
			if name := strings.Trim(c[:at[0]], " :=,"); name != "" {
				out = append(out, name)
			}
			out = append(out, strings.TrimSpace(c[at[0]:at[1]]))
			c = strings.TrimSpace(c[at[1]:])
		}
	}
	return slices.DeleteFunc(out, func(c string) bool { return c == "" })
}

func inPairs(cells []string) bool {
	for k, c := range cells {
		if isLevel(c) != (k%2 == 1) {
			return false
		}
	}
	return true
}

func (l *Levels) add(block, text string, line int) {
	l.Levels = append(l.Levels, Level{Block: block, Text: text, Line: line})
}

// work finds the places on the sheet and works the levels out.
func (l *Levels) work(plan *sheet.Plan, reference Reference) {
	first := math.NaN()
	for i := range l.Levels {
		x := &l.Levels[i]
		x.At = placeOf(plan, x.Block)
		db, value, plain, err := levelOf(x.Text, reference, first)
		l.Plain = l.Plain || plain
		if err != nil {
			x.Doubt = err.Error()
			continue
		}
		if math.IsNaN(first) {
			first = db
		}
		x.db, x.Value = db, value
		if i > 0 && l.Levels[i-1].Value != "" {
			if step := db - l.Levels[i-1].db; math.Abs(step) > mostGain {
				x.Doubt = fmt.Sprintf(
					"%.0f dB from the block before are more than one makes: a lost decimal point, or another unit?",
					step,
				)
			}
		}
		for _, before := range l.Levels[:i] {
			if x.At != "" && before.At == x.At {
				x.Doubt = x.At + " has a level already"
			}
		}
	}
}

// levelOf reads a level: in dB against 1 V, as it is typed, and whether its decibels have no reference.
func levelOf(text string, reference Reference, first float64) (db float64, value string, plain bool, err error) {
	t := strings.NewReplacer("−", "-", "–", "-", "p-p", "pp", ",", ".").Replace(strings.ReplaceAll(text, " ", ""))
	if n, ok := strings.CutSuffix(t, "dB"); ok {
		plain = true
		switch {
		case reference != First:
			t = n + string(reference)
		case math.IsNaN(first):
			return 0, "", true, fmt.Errorf("decibels against the first block: that needs a level in volts")
		default:
			v, err := quantity.ParseAs(n+"dB", quantity.Decibel)
			if err != nil {
				return 0, "", true, err
			}
			t = quantity.Value{SI: math.Pow(10, (first+v.SI)/20), Unit: quantity.Volt}.Short(4)
		}
	}
	t = strings.Replace(t, "dBm", "dBu", 1) // into 600 Ω the same
	v, err := quantity.ParseAs(t, quantity.Volt)
	if err != nil {
		return 0, "", plain, err
	}
	rms, err := quantity.Sine.Convert(v.SI, v.Form, quantity.RMS)
	if err != nil || rms <= 0 {
		return 0, "", plain, fmt.Errorf("%s is no level of a signal", text)
	}
	return quantity.DB(rms, 1), unitOf.ReplaceAllString(t, "$1 $2"), plain, nil
}

// placeOf is where on a sheet the output of a block is read: the point of its name, the end of the stage of
// its name, or of the only one whose name has all its words.
func placeOf(plan *sheet.Plan, block string) string {
	if i, ok := plan.PointCalled(block); ok {
		return plan.Points[i].Name
	}
	want := strings.Fields(strings.ToLower(block))
	found := sheet.None
	for k := range plan.Stages {
		name := strings.ToLower(plan.Stages[k].Name)
		if name == strings.Join(want, " ") {
			return plan.Points[plan.Stages[k].To].Name
		}
		has := strings.FieldsFunc(name, func(c rune) bool { return c == ' ' || c == ',' })
		if !slices.ContainsFunc(want, func(w string) bool { return !slices.Contains(has, w) }) {
			if found != sheet.None {
				return "" // two of them: somebody has to say which
			}
			found = k
		}
	}
	if found == sheet.None {
		return ""
	}
	return plan.Points[plan.Stages[found].To].Name
}
