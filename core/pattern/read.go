package pattern

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/sheet"
)

// reader reads a pattern's file line by line.
type reader struct {
	p     *Pattern
	table *table // nil before the first heading
}

// Read reads a pattern's file. Errors are *exchange.FileError.
func Read(data []byte) (*Pattern, error) {
	r := csv.NewReader(bytes.NewReader(data))
	r.FieldsPerRecord, r.TrimLeadingSpace = -1, true
	x := reader{p: &Pattern{each: map[string]*each{}}}
	for {
		cells, err := r.Read()
		if err == io.EOF {
			break
		}
		line := 0
		if err == nil {
			line, _ = r.FieldPos(0)
			for i := range cells {
				cells[i] = strings.TrimSpace(cells[i])
			}
			err = x.record(line, cells)
		}
		if err != nil {
			return nil, &exchange.FileError{Line: line, Problem: err.Error()}
		}
	}
	if x.p.Name == "" || len(x.p.tables) == 0 {
		return nil, exchange.Wrong("a pattern begins with its name, and has a table")
	}
	return x.p, nil
}

// record takes one line. A heading begins with each and when, a line of a table has what these say.
func (x *reader) record(line int, cells []string) error {
	switch {
	case len(cells) > 2 && cells[0] == "each" && cells[1] == "when":
		x.p.tables = append(x.p.tables, table{heading: cells[2:]})
		x.table = &x.p.tables[len(x.p.tables)-1]
		return nil
	case x.table == nil:
		return x.headLine(cells)
	case len(cells) < 3:
		return fmt.Errorf("a line of a table begins with what it is repeated over, and when it is there")
	case len(cells)-2 > len(x.table.heading):
		return fmt.Errorf("%d cells where the heading has %d", len(cells)-2, len(x.table.heading))
	}
	when, err := conditionOf(cells[1])
	if err != nil {
		return err
	}
	out := row{line: line, each: strings.Fields(cells[0]), when: when, cells: cells[2:]}
	if err := x.known(out.each, when); err != nil {
		return err
	}
	for _, cell := range out.cells {
		if err := x.knownIn(cell); err != nil {
			return err
		}
	}
	x.table.rows = append(x.table.rows, out)
	return nil
}

// known tells whether all that a row is repeated over, and that it asks for, is there.
func (x *reader) known(names []string, when condition) error {
	for _, name := range names {
		if x.p.each[name] == nil {
			return fmt.Errorf("nothing is called %q: a line each,%s,… says over what", name, name)
		}
	}
	for _, t := range when {
		o, ok := x.p.option(t.key)
		if !ok {
			return fmt.Errorf("there is no option %q", t.key)
		}
		for _, v := range t.anyOf {
			if !slices.Contains(o.Choices, v) {
				return fmt.Errorf("%q is no choice of %s", v, t.key)
			}
		}
	}
	return nil
}

// knownIn checks the names and the conditions within a cell.
func (x *reader) knownIn(cell string) error {
	for _, part := range strings.Split(cell, ";") {
		_, names, when, err := itemOf(part)
		if err == nil {
			err = x.known(names, when)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// headLine takes a line before the tables.
func (x *reader) headLine(cells []string) error {
	value := ""
	if len(cells) > 1 {
		value = cells[1]
	}
	switch cells[0] {
	case "pattern":
		x.p.Name = value
	case "group":
		x.p.Group = value
	case "words":
		x.p.Words = sheet.ListOf(value)
	case "note", "settings":
		x.p.head = append(x.p.head, [2]string{cells[0], value})
	case "option":
		return x.optionLine(cells)
	case "choose":
		return x.chooseLine(cells)
	case "each":
		return x.eachLine(cells)
	default:
		return fmt.Errorf("%q is nothing that stands before a pattern's tables", cells[0])
	}
	return nil
}

var counted = regexp.MustCompile(`^(\d+)\.\.(\d+)$`)

// optionLine takes "option,relay,Output relay,yes;no" or "option,voices,Voices,1..8,6". The first
// choice is the usual one unless another is named.
func (x *reader) optionLine(cells []string) error {
	if len(cells) < 4 {
		return fmt.Errorf("an option has a key, what is asked, and choices")
	}
	o := Option{Key: cells[1], Ask: cells[2], Choices: sheet.ListOf(cells[3]), words: map[string][]string{}}
	if m := counted.FindStringSubmatch(cells[3]); m != nil {
		o.From, _ = strconv.Atoi(m[1])
		o.To, _ = strconv.Atoi(m[2])
		o.Choices = nil
		for n := o.From; n <= o.To; n++ {
			o.Choices = append(o.Choices, strconv.Itoa(n))
		}
	}
	if len(o.Choices) == 0 {
		return fmt.Errorf("option %s has no choices", o.Key)
	}
	if o.Usual = o.Choices[0]; len(cells) > 4 {
		o.Usual = cells[4]
	}
	if !slices.Contains(o.Choices, o.Usual) {
		return fmt.Errorf("option %s: %q is not among its choices", o.Key, o.Usual)
	}
	x.p.Options = append(x.p.Options, o)
	return nil
}

// chooseLine takes "choose,channels,one,mono;single channel".
func (x *reader) chooseLine(cells []string) error {
	if len(cells) < 4 {
		return fmt.Errorf("choose names an option, a choice, and the words for it")
	}
	o, ok := x.p.option(cells[1])
	if !ok || !slices.Contains(o.Choices, cells[2]) {
		return fmt.Errorf("there is no option %s with %s", cells[1], cells[2])
	}
	o.words[cells[2]] = sheet.ListOf(cells[3])
	return nil
}

// eachLine takes "each,side,channels,two,side=left;s=L,side=right;s=R" or "each,voice,voices,count,v".
func (x *reader) eachLine(cells []string) error {
	if len(cells) < 5 {
		return fmt.Errorf("each has a name, an option, a choice of it, and items")
	}
	name, key, choice := cells[1], cells[2], cells[3]
	o, ok := x.p.option(key)
	if !ok {
		return fmt.Errorf("there is no option %q", key)
	}
	e := x.p.each[name]
	if e == nil {
		e = &each{option: key, items: map[string][]vars{}}
		x.p.each[name] = e
	}
	if choice == "count" {
		e.count = cells[4]
		return nil
	}
	if !slices.Contains(o.Choices, choice) {
		return fmt.Errorf("%q is no choice of %s", choice, key)
	}
	for _, cell := range cells[4:] {
		item := vars{}
		for _, part := range sheet.ListOf(cell) {
			k, v, ok := strings.Cut(part, "=")
			if !ok {
				return fmt.Errorf("%q is no item: write name=text", part)
			}
			item[strings.TrimSpace(k)] = strings.TrimSpace(v)
		}
		e.items[choice] = append(e.items[choice], item)
	}
	return nil
}
