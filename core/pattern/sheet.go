package pattern

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"steptrace/core/sheet"
)

// Sheet makes a service sheet for what was chosen; what is not chosen is as usual. Its model is the
// pattern's name until a person gives another. Errors are those a person can mend (mend.Error).
func (p *Pattern) Sheet(chosen Chosen) (*sheet.Sheet, error) {
	chosen, err := p.settle(chosen)
	if err != nil {
		return nil, err
	}
	text, err := p.laidOut(chosen)
	if err != nil {
		return nil, err
	}
	tables, remarks, err := sheet.ReadCSV(text)
	if err != nil {
		return nil, fmt.Errorf("pattern %s: %w", p.Name, err)
	}
	if len(remarks) > 0 {
		return nil, fmt.Errorf("pattern %s: %s", p.Name, remarks[0].Message)
	}
	tables.Model, tables.Kind = p.Name, p.Name
	s, _ := sheet.FromTables(tables)
	usual(s)
	return s, nil
}

// laidOut writes the tables out for what was chosen, in the sheet's own table form.
func (p *Pattern) laidOut(chosen Chosen) ([]byte, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	for _, line := range p.head {
		_ = w.Write(line[:])
	}
	for _, t := range p.tables {
		_ = w.Write(t.heading)
		for _, together := range t.together() {
			for _, v := range p.over(together[0].each, chosen) {
				for _, r := range together {
					if !r.when.holds(chosen) {
						continue
					}
					cells, err := p.row(r, v, chosen)
					if err != nil {
						return nil, err
					}
					_ = w.Write(cells)
				}
			}
		}
	}
	w.Flush()
	return out.Bytes(), nil
}

// together gives the rows that are repeated as a whole: those that stand one below the other and are
// repeated over the same, so that a path stays together.
func (t *table) together() [][]row {
	var out [][]row
	for _, r := range t.rows {
		if n := len(out); n > 0 && slices.Equal(out[n-1][0].each, r.each) {
			out[n-1] = append(out[n-1], r)
		} else {
			out = append(out, []row{r})
		}
	}
	return out
}

// row writes the cells of a row for the texts that it is repeated with.
func (p *Pattern) row(r row, v vars, chosen Chosen) ([]string, error) {
	cells := make([]string, len(r.cells))
	for i, cell := range r.cells {
		text, err := p.filled(cell, v, chosen)
		if err != nil {
			return nil, fmt.Errorf("pattern %s, line %d: %w", p.Name, r.line, err)
		}
		cells[i] = text
	}
	return cells, nil
}

// asks is where a condition begins within a cell: a question in plain words is none.
var asks = regexp.MustCompile(`\?[a-z]+!?=`)

// itemOf takes one of a list apart: "{side} amp *side ?relay=yes" is there once for each side, where
// there is a relay.
func itemOf(text string) (plain string, names []string, when condition, err error) {
	if at := asks.FindStringIndex(text); at != nil {
		if when, err = conditionOf(text[at[0]+1:]); err != nil {
			return "", nil, nil, err
		}
		text = text[:at[0]]
	}
	words := strings.Fields(text)
	for len(words) > 0 && strings.HasPrefix(words[len(words)-1], "*") {
		names = append(names, words[len(words)-1][1:])
		words = words[:len(words)-1]
	}
	return strings.Join(words, " "), names, when, nil
}

// filled writes a cell for the texts of a row: what is not there goes, what is repeated is written
// out.
func (p *Pattern) filled(cell string, v vars, chosen Chosen) (string, error) {
	var out []string
	for _, part := range strings.Split(cell, ";") {
		plain, names, when, err := itemOf(part)
		if err != nil {
			return "", err
		}
		if !when.holds(chosen) {
			continue
		}
		for _, more := range p.over(names, chosen) {
			text, err := v.with(more).put(plain)
			if err != nil {
				return "", err
			}
			if text != "" {
				out = append(out, text)
			}
		}
	}
	return strings.Join(out, "; "), nil
}

var place = regexp.MustCompile(`\{(~?[a-z]+)\}`)

// put fills the places of a text. One that asks for the other of two where there is none is empty
// as a whole.
func (v vars) put(text string) (string, error) {
	var wrong error
	alone := false
	text = place.ReplaceAllStringFunc(text, func(at string) string {
		name := at[1 : len(at)-1]
		value, ok := v[name]
		switch {
		case ok:
			return value
		case strings.HasPrefix(name, "~"):
			alone = true
		default:
			wrong = fmt.Errorf("nothing says what %s is", at)
		}
		return ""
	})
	if alone {
		return "", wrong
	}
	return strings.Join(strings.Fields(text), " "), wrong
}

// usual marks every value of a sheet as what such sets usually have.
func usual(s *sheet.Sheet) {
	for i := range s.Points {
		for k := range s.Points[i].Expect {
			mark(&s.Points[i].Expect[k].Tolerance)
		}
	}
	for i := range s.Stages {
		if s.Stages[i].Gain != "" {
			mark(&s.Stages[i].Gain)
		}
	}
	for i := range s.Rails {
		mark(&s.Rails[i].Tolerance)
	}
	for i := range s.Controls {
		if s.Controls[i].Value != "" {
			mark(&s.Controls[i].Tolerance)
		}
	}
}

func mark(text *string) { *text = sheet.Usual.Written(*text) }
