package wave

import (
	"bytes"
	"context"
	"fmt"
	"runtime"
	"strconv"
	"strings"

	"steptrace/core/beside"
)

// A table is text as scopes, loggers and spreadsheets write it: lines of numbers
// with a separator, and before them anything: names and values, headings, a row of
// units. Nothing is assumed of the order of what stands before; the first line of
// numbers that go on begins the samples.

// table is a text being read.
type table struct {
	data  []byte
	shape shape
	end   byte     // of a line: LF, or CR where there is no other
	first int      // line of the first samples, from 0
	at    int      // byte where it begins
	head  []string // the lines before
	odd   bool     // some of their letters are not UTF-8
}

// manySamples take 30 MB and more.
const manySamples = 4_000_000

func readTable(ctx context.Context, data []byte, o Options) (*Capture, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if i := bytes.IndexByte(data[:min(len(data), 4096)], 0); i >= 0 {
		return nil, wrong(1, "byte %d: this is neither text nor a WAV", i)
	}
	if o.Decimal != "" && o.Decimal != "." && o.Decimal != "," {
		return nil, wrong(1, "a decimal mark is a point or a comma")
	}
	t := table{data: data, end: '\n'}
	if bytes.IndexByte(data, '\n') < 0 {
		t.end = '\r'
	}
	if err := t.begin(o); err != nil {
		return nil, err
	}
	c := &Capture{from: &t}
	t.sayLeftOut(c)
	t.sayCommas(c, o)
	if t.odd {
		c.say("Letters of its head that are not UTF-8 are shown as “?”.")
	}
	columns, err := t.samples(ctx, c)
	if err != nil {
		return nil, err
	}
	err = t.finish(c, columns, o)
	if len(columns) > len(c.Channels) && len(columns[0]) > manySamples {
		clear(columns)
		runtime.GC() // the times of many samples are not needed any more: what is measured finds room there
	}
	return c, err
}

// next gives the line that begins at a byte, and where the next begins, within the
// bytes before another. Lines end with LF, which a CR may stand before; or with CR alone,
// where the text has no LF.
func (t *table) next(at, to int) (line []byte, next int) {
	i := bytes.IndexByte(t.data[at:to], t.end)
	if i < 0 {
		return bytes.TrimSuffix(t.data[at:to], []byte{'\r'}), to
	}
	return bytes.TrimSuffix(t.data[at:at+i], []byte{'\r'}), at + i + 1
}

// sayLeftOut says what stands before the samples and looks like samples too: a line that cannot be read parts them.
func (t *table) sayLeftOut(c *Capture) {
	row := make([]float64, 0, maxChannels+1)
	first, last, count := -1, -1, 0
	for i, line := range t.head {
		var ok bool
		if row, ok = t.shape.numbers([]byte(line), row[:0]); ok && len(row) == t.shape.columns {
			if first < 0 {
				first = i
			}
			last = i
			count++
		}
	}
	switch n := len(t.head) - 1; {
	case count >= 2 && last < n:
		c.say("Lines %d to %d hold numbers too and are left out, for line %d cannot be read: %s. Mend it to have all.",
			first+1, last+1, last+2, clip([]byte(strings.TrimSpace(t.head[last+1]))))
	case n >= 0 && t.halfNumbers(t.head[n]):
		c.say("Line %d is left out: %s holds a number, and is no line of %d.", n+1, clip([]byte(t.head[n])), t.shape.columns)
	}
}

// halfNumbers tells whether a line of the head has as many cells as the samples, and a number first: names have none.
func (t *table) halfNumbers(line string) bool {
	cells := t.cells(line)
	if len(cells) != t.shape.columns || len(cells) < 2 {
		return false
	}
	_, ok := number(trimCell([]byte(cells[0])), t.shape.decimal)
	return ok
}

// stretch is a part of the lines, read by itself into its part of the columns.
type stretch struct {
	columns [][]float64 // room for all its lines
	count   int         // samples of each
	lines   int
	wrong   string // what is wrong with line number lines; empty: nothing
	cut     bool   // the last line is cut off and left out
}

// leastStretch is how many bytes are worth reading beside others.
const leastStretch = 1 << 20

// samples reads all lines from the first of them on, long texts in parts beside each
// other. Room is made once, by the number of lines.
func (t *table) samples(ctx context.Context, c *Capture) ([][]float64, error) {
	parts := max(1, min(runtime.GOMAXPROCS(0), (len(t.data)-t.at)/leastStretch))
	bounds, first := []int{t.at}, []int{0} // bytes, and lines before them
	for i := range parts {
		from := bounds[i]
		to := max(t.at+(len(t.data)-t.at)*(i+1)/parts, from) // a long line may have gone beyond
		if nl := bytes.IndexByte(t.data[to:], t.end); i == parts-1 || nl < 0 {
			to = len(t.data)
		} else {
			to += nl + 1
		}
		bounds = append(bounds, to)
		first = append(first, first[i]+bytes.Count(t.data[from:to], []byte{t.end}))
	}
	lines := first[parts] + 1 // the last need not end
	n := t.shape.columns
	if blank := bytes.Count(t.data[t.at:], []byte{t.end, t.end}); (lines-blank)*n > MaxSamples+n {
		return nil, wrong(t.first+MaxSamples/n+1, "more than %d samples: cut the recording", MaxSamples)
	}
	columns := make([][]float64, n)
	for k := range columns {
		columns[k] = make([]float64, min(lines, MaxSamples/n+1))
	}
	read := make([]stretch, parts)
	var reading beside.Work
	for i := range read {
		reading.Go(func() {
			end := first[i+1]
			if i == parts-1 {
				end = lines
			}
			room := make([][]float64, n)
			for k := range room {
				room[k] = columns[k][min(first[i], len(columns[k])):min(end, len(columns[k]))]
			}
			read[i] = t.stretch(ctx, bounds[i], bounds[i+1], room)
		})
	}
	reading.Wait()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	line, count := t.first, 0
	for i := range read {
		line += read[i].lines
		switch {
		case read[i].wrong != "":
			return nil, wrong(line, "%s", read[i].wrong)
		case read[i].cut && count+read[i].count < 2:
			return nil, wrong(line, "it is cut off, and there is no other line of samples")
		case read[i].cut:
			c.say("The last line is cut off and is left out.")
		}
		for k := range columns { // blank lines left room before
			copy(columns[k][count:], read[i].columns[k][:read[i].count])
		}
		count += read[i].count
	}
	for k := range columns {
		columns[k] = columns[k][:count]
	}
	return columns, nil
}

// linesBetween is how many lines are read between two looks at whether anybody waits for them.
const linesBetween = 4096

// stretch reads the lines of a part of the text into columns, unless the context ends.
func (t *table) stretch(ctx context.Context, from, to int, columns [][]float64) (s stretch) {
	n := t.shape.columns
	s.columns = columns
	row := make([]float64, 0, n+1)
	for at := from; at < to; {
		line, next := t.next(at, to)
		whole := next < len(t.data) || next > at+len(line)
		at = next
		if s.lines++; s.lines%linesBetween == 0 && ctx.Err() != nil {
			return s
		}
		if len(line) > maxLine {
			s.wrong = fmt.Sprintf("the line is longer than %d characters", maxLine)
			return s
		}
		if len(bytes.TrimSpace(line)) == 0 {
			continue
		}
		var ok bool
		row, ok = t.shape.numbers(line, row[:0])
		switch {
		case (!ok || len(row) != n) && !whole:
			s.cut = true
			return s
		case !ok:
			s.wrong = fmt.Sprintf("%s is no line of %d %s like those before", clip(line), n, plural(n, "number"))
			return s
		case len(row) != n:
			s.wrong = fmt.Sprintf("it has %d columns, those before have %d", len(row), n)
			return s
		case s.count == len(columns[0]):
			s.wrong = fmt.Sprintf("more than %d samples: cut the recording", MaxSamples)
			return s
		}
		for i, x := range row {
			columns[i][s.count] = x
		}
		s.count++
	}
	return s
}

// lineOf is the line of a sample: those from the first on that are not empty.
func (t *table) lineOf(sample int) int {
	n := t.first
	for at := t.at; at < len(t.data); n++ {
		line, next := t.next(at, len(t.data))
		if at = next; len(bytes.TrimSpace(line)) == 0 {
			continue
		}
		if sample--; sample < 0 {
			break
		}
	}
	return n + 1
}

func clip(line []byte) string {
	text := strings.ToValidUTF8(string(line[:min(len(line), 40)]), "?")
	if len(line) > 40 {
		text += "…"
	}
	return strconv.Quote(text)
}
