package sheet

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode/utf8"

	"steptrace/core/exchange"
)

// aliases are other headings that people give the columns.
var aliases = map[string]string{
	"test point": "point", "testpoint": "point", "tp": "point", "board": "point", "board label": "point",
	"drawing label": "drawing", "description": "note", "what it is": "note", "side note": "note",
	"stage into it": "stage", "block": "stage", "gain db": "gain", "signal": "ac", "level": "ac", "expected": "ac", "ac level": "ac",
	"v ac":      "ac",
	"tolerance": "tol", "±": "tol", "freq": "frequency", "v dc": "dc", "bias": "dc", "dc volts": "dc", "dc tolerance": "dctol",
	"± dc": "dctol", "± frequency": "hztol", "frequency tolerance": "hztol",
	"ohm": "ohms", "resistance": "ohms", "ohms, off": "ohms", "rails": "needs", "mode": "modes", "source resistance": "source",
	"beware of": "hazard", "beware": "hazard",
	"access": "minutes", "min": "minutes", "measured at": "railpoint", "volts": "value", "drive frequency": "drivefrequency",
	"generator":   "drive",
	"capacitance": "farads", "on rail": "onrail", "charged to": "volts", "controls": "also", "also needs": "also", "driven from": "driven",
	"worked by": "by", "usual fault": "weak", "told by": "symptom", "points at": "pointsat", "told as": "says",
}

// keyColumns mark the heading row of each table: all of them must be there.
// The path table stands last, since its heading may hold nearly any column.
var keyColumns = []struct {
	table string
	keys  []string
	least int // known columns that a heading row has
}{
	{expectedTable, []string{"at", "quantity", "value"}, 3},
	{railsTable, []string{"rail", "value"}, 2},
	{controlsTable, []string{"control", "does"}, 2},
	{reservoirsTable, []string{"reservoir", "farads"}, 2},
	{tracksTable, []string{"place", "onrail"}, 2},
	{hazardsTable, []string{"danger", "where"}, 2},
	{weakTable, []string{"weak", "in"}, 2},
	{complaintsTable, []string{"says", "pointsat"}, 2},
	{modifiedTable, []string{"modified", "reason"}, 2},
	{adjustTable, []string{"adjust", "turn"}, 2},
	{closingTable, []string{"closing", "checks"}, 2},
	{circuitsTable, []string{"part", "nodes"}, 3},
	{routesTable, []string{"route", "from", "to"}, 3},
	{stagesTable, []string{"stage", "from", "to"}, 3},
	{pathTable, []string{"point"}, 2},
}

// ReadCSV reads a sheet from text as spreadsheets write and copy it: commas,
// semicolons or tabs, with or without a byte order mark, either line end. Each
// table starts with a row of headings; lines "model,RT-7" may stand before.
// Headings that are not known are left out and reported. Errors are *exchange.FileError.
func ReadCSV(data []byte) (Tables, []Problem, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		return Tables{}, nil, &exchange.FileError{
			Problem: "this is not text in UTF-8: save the table as CSV UTF-8, or copy it from the spreadsheet",
		}
	}
	if err := exchange.Table(data); err != nil {
		return Tables{}, nil, err
	}
	r := newCSV(data, separator(data))
	reader := csvReader{tables: EmptyTables()}
	for {
		record, err := r.Read()
		if err == io.EOF {
			break
		}
		if err != nil {
			var parse *csv.ParseError
			if errors.As(err, &parse) {
				return Tables{}, nil, &exchange.FileError{Line: parse.StartLine, Problem: csvProblem(parse)}
			}
			return Tables{}, nil, &exchange.FileError{Problem: err.Error()}
		}
		line, _ := r.FieldPos(0)
		if err := reader.record(line, record); err != nil {
			return Tables{}, nil, err
		}
	}
	if !reader.any {
		return Tables{}, nil, &exchange.FileError{
			Problem: "no heading row was found: the first row names the columns, for example point, stage, gain, ac, tol, frequency, dc",
		}
	}
	return reader.tables, reader.problems, nil
}

func csvProblem(e *csv.ParseError) string {
	if errors.Is(e.Err, csv.ErrQuote) || errors.Is(e.Err, csv.ErrBareQuote) {
		return "a quotation mark that opens or closes nothing: a cell with quotes needs them doubled"
	}
	return e.Err.Error()
}

// separator picks the one under which the first heading row has most known
// columns, looking no further than a sheet's heading lines reach.
func separator(data []byte) rune {
	const headLines = 50
	best, most := ',', 0
	for _, c := range []rune{',', ';', '\t'} {
		r := newCSV(data, c)
		probe := csvReader{tables: EmptyTables()}
		for range headLines {
			record, err := r.Read()
			if err != nil {
				break
			}
			if probe.heading(1, record) {
				if n := len(probe.columns) - len(probe.problems); n > most {
					best, most = c, n
				}
				break
			}
		}
	}
	return best
}

func newCSV(data []byte, separator rune) *csv.Reader {
	r := csv.NewReader(bytes.NewReader(data))
	r.Comma = separator
	r.FieldsPerRecord = -1
	r.TrimLeadingSpace = separator != '\t'
	return r
}

type csvReader struct {
	tables   Tables
	problems []Problem
	any      bool
	table    *Table
	columns  []int // of each field of the file: index in the table's columns, or -1
}

func (r *csvReader) record(line int, fields []string) error {
	empty := true
	for i := range fields {
		fields[i] = exchange.Plain(strings.TrimSpace(fields[i]))
		empty = empty && fields[i] == ""
	}
	if empty {
		return nil
	}
	if r.heading(line, fields) {
		r.any = true
		return nil
	}
	if r.table == nil {
		return r.headLine(line, fields)
	}
	out := make([]string, len(r.table.Columns))
	for i, f := range fields {
		switch {
		case i < len(r.columns) && r.columns[i] >= 0:
			out[r.columns[i]] = f
		case i >= len(r.columns) && f != "":
			return &exchange.FileError{
				Line: line,
				Problem: fmt.Sprintf(
					"%d cells where the heading has %d: a value with a comma in it needs quotation marks, or use semicolons between "+
						"the cells",
					len(fields),
					len(r.columns),
				),
			}
		}
	}
	r.table.Rows = append(r.table.Rows, out)
	r.table.lines = append(r.table.lines, line)
	return nil
}

// headLine reads "model,RT-7" and the like.
func (r *csvReader) headLine(line int, fields []string) error {
	value := ""
	if len(fields) > 1 {
		value = fields[1]
	}
	switch strings.ToLower(fields[0]) {
	case "maker":
		r.tables.Maker = value
	case "model":
		r.tables.Model = value
	case "kind":
		r.tables.Kind = value
	case "note":
		r.tables.Note = value
	case "settings":
		r.tables.Settings = value
	default:
		return &exchange.FileError{
			Line: line,
			Problem: fmt.Sprintf(
				"%q stands before any heading row: the first row names the columns, for example point, stage, gain, ac, tol, frequency, dc",
				fields[0],
			),
		}
	}
	return nil
}

// heading takes the fields as a heading row if they hold the key columns of a
// table, and begins that table.
func (r *csvReader) heading(line int, fields []string) bool {
	for _, k := range keyColumns {
		t := r.tables.table(k.table)
		columns, known := make([]int, len(fields)), 0
		found := map[string]bool{}
		for i, f := range fields {
			columns[i] = columnOf(t, strings.ToLower(strings.Join(strings.Fields(f), " ")))
			if columns[i] >= 0 {
				found[t.Columns[columns[i]].Name] = true
				known++
			}
		}
		if known < k.least || slices.ContainsFunc(k.keys, func(key string) bool { return !found[key] }) {
			continue
		}
		r.table, r.columns = t, columns
		for i, f := range fields {
			if columns[i] < 0 && f != "" {
				r.problems = append(r.problems, Problem{Doubtful, fmt.Sprintf("line %d", line), t.Name,
					fmt.Sprintf("the column %q is not one Step Trace knows and is left out", f)})
			}
		}
		return true
	}
	return false
}

func columnOf(t *Table, name string) int {
	find := func(n string) int { return slices.IndexFunc(t.Columns, func(c Column) bool { return c.Name == n }) }
	if i := find(name); i >= 0 {
		return i
	}
	if alias, ok := aliases[name]; ok {
		return find(alias)
	}
	return -1
}

// WriteCSV writes the sheet with commas between cells. ReadCSV and FromTables
// give the same sheet back. Tables without rows are left out.
func (s *Sheet) WriteCSV() []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	t := s.Tables()
	for _, head := range [][2]string{{"maker", t.Maker}, {"model", t.Model}, {"kind", t.Kind}, {"note", t.Note}, {"settings", t.Settings}} {
		if head[1] != "" {
			_ = w.Write([]string{head[0], exchange.Cell(head[1])})
		}
	}
	for i, table := range t.Tables {
		if len(table.Rows) == 0 && i > 0 {
			continue
		}
		used := usedColumns(table)
		_ = w.Write([]string{})
		_ = w.Write(pick(columnNames(table), used))
		for _, r := range table.Rows {
			cells := pick(r, used)
			for k := range cells {
				cells[k] = exchange.Cell(cells[k])
			}
			_ = w.Write(cells)
		}
	}
	w.Flush()
	return b.Bytes()
}

// usedColumns leaves out columns that are empty throughout, except those that
// make the heading row known again.
func usedColumns(t Table) []int {
	var used []int
	for i, c := range t.Columns {
		key := false
		for _, k := range keyColumns {
			key = key || k.table == t.Name && slices.Contains(k.keys, c.Name)
		}
		if key || c.Name == "note" || slices.ContainsFunc(t.Rows, func(r []string) bool { return r[i] != "" }) {
			used = append(used, i)
		}
	}
	return used
}

func columnNames(t Table) []string {
	out := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		out[i] = c.Name
	}
	return out
}

func pick(row []string, columns []int) []string {
	out := make([]string, len(columns))
	for i, c := range columns {
		out[i] = row[c]
	}
	return out
}
