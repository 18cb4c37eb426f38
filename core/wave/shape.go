package wave

import (
	"bytes"
	"strings"
	"unicode/utf8"
)

// How a table is written is found out by its lines: what parts its cells, what its decimals, how many numbers stand in a line.

// shape is how the lines of a table are written.
type shape struct {
	separator byte // ',' ';' '\t'; ' ' for any blanks
	decimal   byte
	columns   int
}

// looked is how many lines are looked at to find out how a table is written.
const looked = 400

// begin finds how the table is written and where its samples begin: the first of
// at least two lines in a row, or the only line, that hold the same number of
// numbers and nothing else.
func (t *table) begin(o Options) error {
	var starts []int
	for at := 0; at < len(t.data) && len(starts) < looked; {
		line, next := t.next(at, len(t.data))
		if len(line) > maxLine {
			return wrong(len(starts)+1, "the line is longer than %d characters: this is no table of samples", maxLine)
		}
		starts = append(starts, at)
		at = next
	}
	best, from, most := t.shapeOf(starts, o)
	if most <= 0 {
		if line, n := t.tooWide(starts); n > 0 {
			return wrong(line+1, "%d columns: a time and up to %d channels can be read; save fewer", n, maxChannels)
		}
		return wrong(1, "no lines of numbers were found: a table of samples has at least two, with commas, semicolons or tabs between")
	}
	t.shape, t.first, t.at = best, from, starts[from]
	for _, at := range starts[:from] {
		line, _ := t.next(at, len(t.data))
		t.head = append(t.head, string(line))
	}
	if !utf8.Valid(t.data[:t.at]) {
		t.odd = true
		for i := range t.head {
			t.head[i] = strings.ToValidUTF8(t.head[i], "?")
		}
	}
	return nil
}

// shapeOf finds how lines are written: the way in which most of them in a row hold as many numbers; which of them is the
// first of those, and how many they are.
func (t *table) shapeOf(starts []int, o Options) (best shape, from, most int) {
	most = -1
	for _, sep := range []byte{'\t', ';', ',', ' '} {
		for _, decimal := range []byte{'.', ','} {
			if decimal == sep || o.Decimal != "" && decimal != o.Decimal[0] {
				continue
			}
			s := shape{sep, decimal, 0}
			first, rows := s.fits(t, starts)
			// A comma in one column of numbers may as well part two; read as parts it
			// would need two whole numbers in every line, and these must not look like digits behind a mark.
			if sep == ',' && s.columns == 2 && o.Decimal == "" && t.looksLikeDecimals(starts[first:min(first+rows, len(starts))]) {
				continue
			}
			if rows > most || rows == most && s.columns > best.columns && sep != ' ' {
				best, most, from = s, rows, first
			}
		}
	}
	return best, from, most
}

// looksLikeDecimals tells whether pairs of whole numbers with a comma between are one number each: behind the comma stand
// digits alone, as many in each line, with a nought in front here and there; or the head parts its cells otherwise.
func (t *table) looksLikeDecimals(starts []int) bool {
	digits, nought := -1, false
	for _, at := range starts {
		line, _ := t.next(at, len(t.data))
		whole, behind, _ := bytes.Cut(line, []byte{','})
		behind = trimCell(behind)
		if bytes.ContainsAny(line, ".eE\"") || len(trimCell(whole)) == 0 || len(behind) == 0 || behind[0] < '0' || behind[0] > '9' {
			return false
		}
		if digits >= 0 && digits != len(behind) {
			return t.partsOtherwise(starts[0])
		}
		digits = len(behind)
		nought = nought || len(behind) > 1 && behind[0] == '0'
	}
	return nought || t.partsOtherwise(starts[0])
}

// partsOtherwise tells whether the lines before a byte part their cells by semicolons or tabs, and never by commas.
func (t *table) partsOtherwise(before int) bool {
	head := t.data[:before]
	return bytes.ContainsAny(head, ";\t") && !bytes.ContainsRune(head, ',') ||
		bytes.Count(head, []byte{';'}) > bytes.Count(head, []byte{','})
}

// sayCommas says what commas were taken for, where they may be otherwise.
func (t *table) sayCommas(c *Capture, o Options) {
	switch s := t.shape; {
	case o.Decimal != "":
	case s.columns == 1 && s.decimal == ',':
		c.say("Commas are taken for decimal marks; where they part two columns, say that the decimal mark is a point.")
	case s.separator == ',' && s.columns > 1 && s.columns%2 == 0 && t.wholeNumbers():
		c.say(
			"Commas are taken to part %d columns of whole numbers; where they are decimal marks, say so, or part them by semicolons.",
			s.columns,
		)
	}
}

// wholeNumbers tells whether the first samples have no point.
func (t *table) wholeNumbers() bool {
	at := t.at
	for range looked {
		if at >= len(t.data) {
			break
		}
		line, next := t.next(at, len(t.data))
		if bytes.IndexByte(line, '.') >= 0 {
			return false
		}
		at = next
	}
	return true
}

// tooWide finds a line of more numbers than can be read, and how many it has; 0 where there is none.
func (t *table) tooWide(starts []int) (line, columns int) {
	for i, at := range starts {
		text, _ := t.next(at, len(t.data))
		for _, sep := range []byte{'\t', ';', ','} {
			if n := bytes.Count(text, []byte{sep}) + 1; n > maxChannels+1 {
				first, _, _ := bytes.Cut(text, []byte{sep})
				if _, ok := number(trimCell(first), '.'); ok {
					return i, n
				}
			}
		}
	}
	return 0, 0
}

// fits looks how well a table is written so: the first line of the longest run of
// lines of equally many numbers, and its length.
func (s *shape) fits(t *table, starts []int) (first, rows int) {
	row := make([]float64, 0, maxChannels+1)
	run, begun, columns := 0, 0, 0
	for i, at := range starts {
		line, _ := t.next(at, len(t.data))
		var ok bool
		row, ok = s.numbers(line, row[:0])
		switch {
		case ok && len(row) > 0 && (run == 0 || len(row) == columns):
			if run == 0 {
				begun, columns = i, len(row)
			}
			if run++; run > rows {
				first, rows, s.columns = begun, run, columns
			}
		case ok && len(row) > 0:
			begun, columns, run = i, len(row), 1
		case len(bytes.TrimSpace(line)) > 0:
			run = 0
		}
	}
	return first, rows
}

// numbers reads a line of numbers; false where something else stands in it. An
// empty last cell is left out.
func (s *shape) numbers(line []byte, row []float64) ([]float64, bool) {
	for at := 0; at <= len(line); {
		var cell []byte
		if s.separator == ' ' {
			for at < len(line) && (line[at] == ' ' || line[at] == '\t') {
				at++
			}
			if at == len(line) {
				break
			}
			end := at
			for end < len(line) && line[end] != ' ' && line[end] != '\t' {
				end++
			}
			cell, at = line[at:end], end+1
		} else {
			end := bytes.IndexByte(line[at:], s.separator)
			if end < 0 {
				end = len(line) - at
			}
			cell = line[at : at+end]
			at += end + 1
		}
		cell = trimCell(cell)
		if len(cell) == 0 {
			if at > len(line) && len(row) > 0 {
				break
			}
			return row, false
		}
		x, ok := number(cell, s.decimal)
		if !ok || len(row) > maxChannels {
			return row, false
		}
		row = append(row, x)
	}
	return row, true
}
