package wave

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"runtime"
	"strconv"
	"strings"
	"unicode/utf8"

	"steptrace/core/beside"
)

// A table is text as scopes, loggers and spreadsheets write it: lines of numbers
// with a separator, and before them anything: names and values, headings, a row of
// units. Nothing is assumed of the order of what stands before; the first line of
// numbers that go on begins the samples.

// shape is how the lines of a table are written.
type shape struct {
	separator byte // ',' ';' '\t'; ' ' for any blanks
	decimal   byte
	columns   int
}

// table is a text being read.
type table struct {
	data  []byte
	shape shape
	end   byte     // of a line: LF, or CR where there is no other
	first int      // line of the first samples, from 0
	at    int      // byte where it begins
	head  []string // the lines before
}

// looked is how many lines are looked at to find out how a table is written.
const looked = 400

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
	columns, err := t.samples(ctx, c)
	if err != nil {
		return nil, err
	}
	return c, t.finish(c, columns, o)
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
	best, most := shape{}, -1
	var from int
	for _, sep := range []byte{'\t', ';', ',', ' '} {
		for _, decimal := range []byte{'.', ','} {
			if decimal == sep || o.Decimal != "" && decimal != o.Decimal[0] {
				continue
			}
			s := shape{sep, decimal, 0}
			first, rows := s.fits(t, starts)
			// A comma in one column of numbers may as well part two; read as parts it
			// would need two whole numbers in every line.
			if rows > most || rows == most && s.columns > best.columns && sep != ' ' {
				best, most, from = s, rows, first
			}
		}
	}
	if most <= 0 {
		return wrong(1, "no lines of numbers were found: a table of samples has at least two, with commas, semicolons or tabs between")
	}
	t.shape, t.first, t.at = best, from, starts[from]
	for _, at := range starts[:from] {
		line, _ := t.next(at, len(t.data))
		t.head = append(t.head, string(line))
	}
	if !utf8.Valid(t.data[:t.at]) {
		for i := range t.head {
			t.head[i] = strings.ToValidUTF8(t.head[i], "?")
		}
	}
	return nil
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
	if count < 2 || last+1 >= len(t.head) {
		return
	}
	broken := strings.TrimSpace(t.head[last+1])
	if len(broken) > 40 {
		broken = broken[:40] + "…"
	}
	c.say("Lines %d to %d hold numbers too and are left out, for line %d cannot be read: %q. Mend it to have all.",
		first+1, last+1, last+2, broken)
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

// stretch is a part of the lines, read by itself.
type stretch struct {
	columns [][]float64
	lines   int
	wrong   string // what is wrong with line number lines; empty: nothing
	cut     bool   // the last line is cut off and left out
}

// leastStretch is how many bytes are worth reading beside others.
const leastStretch = 1 << 20

// samples reads all lines from the first of them on, long texts in parts beside each
// other.
func (t *table) samples(ctx context.Context, c *Capture) ([][]float64, error) {
	parts := max(1, min(runtime.GOMAXPROCS(0), (len(t.data)-t.at)/leastStretch))
	read := make([]stretch, parts)
	var reading beside.Work
	from := t.at
	for i := range read {
		to := t.at + (len(t.data)-t.at)*(i+1)/parts
		if nl := bytes.IndexByte(t.data[to:], t.end); i == parts-1 || nl < 0 {
			to = len(t.data)
		} else {
			to += nl + 1
		}
		to = max(to, from) // a long line may have gone beyond
		start := from
		reading.Go(func() { read[i] = t.stretch(ctx, start, to) })
		from = to
	}
	reading.Wait()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	columns := read[0].columns
	line := t.first
	for i := range read {
		line += read[i].lines
		switch {
		case read[i].wrong != "":
			return nil, wrong(line, "%s", read[i].wrong)
		case read[i].cut && i == 0 && len(columns[0]) < 2:
			return nil, wrong(line, "it is cut off, and there is no other line of samples")
		case read[i].cut:
			c.say("The last line is cut off and is left out.")
		}
		if i == 0 {
			continue
		}
		for k := range columns {
			columns[k] = append(columns[k], read[i].columns[k]...)
		}
	}
	if len(columns[0])*len(columns) > MaxSamples {
		return nil, wrong(line, "more than %d samples: cut the recording", MaxSamples)
	}
	return columns, nil
}

// linesBetween is how many lines are read between two looks at whether anybody waits for them.
const linesBetween = 4096

// stretch reads the lines of a part of the text, unless the context ends.
func (t *table) stretch(ctx context.Context, from, to int) (s stretch) {
	n := t.shape.columns
	// A guess at the number of lines keeps the columns from being moved about; the first
	// part has room for all.
	line, _ := t.next(from, to)
	room := to
	if from == t.at {
		room = len(t.data)
	}
	guess := min((room-from)/max(len(line), 1)+2, MaxSamples/n)
	s.columns = make([][]float64, n)
	for i := range s.columns {
		s.columns[i] = make([]float64, 0, guess)
	}
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
		case len(s.columns[0])*n >= MaxSamples:
			s.wrong = fmt.Sprintf("more than %d samples: cut the recording", MaxSamples)
			return s
		}
		for i, x := range row {
			s.columns[i] = append(s.columns[i], x)
		}
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

// finish tells time from channels, and applies names and units.
//
// Long: what a table left unsaid, one thing after the other.
func (t *table) finish(c *Capture, columns [][]float64, o Options) error {
	headings, units := t.headings()
	interval, from := t.interval()
	if o.Interval != 0 {
		interval, from = o.Interval, "what was said"
	}
	is, u := t.firstColumn(columns, headings, units)
	if is == theTime {
		step, err := even(columns[0], t.first)
		if err != nil {
			return err
		}
		c.Start = columns[0][0] * u.times
		if o.Interval == 0 { // the head may round it
			interval, from = step*u.times, "the time column"
		}
	}
	if is != aChannel {
		columns = columns[1:]
		headings, units = headings[min(1, len(headings)):], units[min(1, len(units)):]
	}
	switch {
	case len(columns) > maxChannels:
		return wrong(t.first+1, "%d channels: up to %d can be read", len(columns), maxChannels)
	case interval == 0:
		return wrong(t.first+1, "neither times nor an interval are given: say how many seconds lie between two samples")
	case !(interval >= 1/float64(maxRate) && interval <= 1/minRate):
		return wrong(t.first+1, "%g seconds between two samples cannot be", interval)
	case len(columns[0]) < 2:
		return wrong(t.first+1, "one sample is no waveform")
	}
	c.Rate = 1 / interval
	c.say(
		"%d %s of %d samples, %.6g samples a second, from %s.",
		len(columns),
		plural(len(columns), "channel"),
		len(columns[0]),
		c.Rate,
		from,
	)
	mark := map[byte]string{'.': "point", ',': "comma"}[t.shape.decimal]
	if t.shape.columns > 1 {
		c.say(
			"Columns are parted by %s, decimals by a %s.",
			map[byte]string{',': "commas", ';': "semicolons", '\t': "tabs", ' ': "blanks"}[t.shape.separator],
			mark,
		)
	} else {
		c.say("Decimals are parted by a %s.", mark)
	}
	if factor := t.factor(); factor != "" && o.Factor == 0 {
		c.say("The file speaks of a probe of %s; its samples are taken to allow for that.", factor)
	}
	for i, samples := range columns {
		ch := Channel{Name: fmt.Sprintf("channel %d", i+1), Samples: samples}
		u := unit{times: 1}
		if i < len(headings) && headings[i] != "" {
			found, name, ok := unitIn(headings[i])
			if ch.Name = name; ok {
				u = found
			}
		}
		if i < len(units) && units[i].base != "" {
			u = units[i]
		}
		ch.Unit = u.base
		if u.times != 1 {
			for k := range samples {
				samples[k] *= u.times
			}
		}
		c.Channels = append(c.Channels, ch)
	}
	if o.Unit != "" {
		return c.units(o.Unit)
	}
	if c.Channels[0].Unit == "" {
		c.say("No unit is given: volts are assumed.")
		return c.units("V")
	}
	return nil
}

// first is what the first column holds.
type first int

const (
	aChannel first = iota
	theTime
	numbers // of the samples: 0, 1, 2
)

// firstColumn tells what the first column is: the time where it is called so, is in
// a unit of time, or rises evenly while there are others.
func (t *table) firstColumn(columns [][]float64, headings []string, units []unit) (first, unit) {
	u := unit{"s", 1}
	if len(columns) < 2 {
		return aChannel, u
	}
	word := ""
	if len(headings) > 0 {
		found, name, ok := unitIn(headings[0])
		if word = strings.ToLower(name); ok {
			u = found
		}
	}
	if len(units) > 0 && units[0].base != "" {
		u = units[0]
	}
	switch {
	case u.base != "s":
		return aChannel, u
	case u.times != 1 || strings.Contains(word, "time") || word == "t" || word == "s":
		return theTime, u
	}
	if _, err := even(columns[0], 0); err != nil {
		return aChannel, u
	}
	if start := columns[0][0]; (start == 0 || start == 1) && columns[0][1] == start+1 {
		return numbers, u
	}
	return theTime, u
}

// even gives the step of a column that rises evenly; lines are numbered from first.
// Printed times are rounded to some six digits: each may be off by that and by half
// a step, and the whole must come out even.
func even(times []float64, first int) (step float64, err error) {
	n := len(times)
	if n < 2 {
		return 0, wrong(first+1, "one sample is no waveform")
	}
	step = (times[n-1] - times[0]) / float64(n-1)
	if !(step > 0) || math.IsInf(step, 0) {
		return 0, wrong(first+1, "the time does not rise")
	}
	within := 0.6*step + 1e-6*(times[n-1]-times[0])
	for i, x := range times {
		if math.Abs(x-times[0]-float64(i)*step) > within {
			worst := 1 // where the step is furthest from the mean
			for k := 1; k < n; k++ {
				if math.Abs(times[k]-times[k-1]-step) > math.Abs(times[worst]-times[worst-1]-step) {
					worst = k
				}
			}
			return 0, wrong(first+worst+1, "the time is not even here: samples at uneven times cannot be read; resample the recording")
		}
	}
	return step, nil
}
