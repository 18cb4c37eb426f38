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
	odd   bool     // some of their letters are not UTF-8
}

// longestName is as much of a channel's name as is kept, letters.
const longestName = 60

// manySamples take 30 MB and more.
const manySamples = 4_000_000

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
		if o.Interval == 0 && interval > 0 {
			defer func(said float64) { c.otherwise(said) }(interval)
		}
		step, err := even(columns[0], t.first)
		if err != nil {
			return err
		}
		c.Start = columns[0][0] * u.times
		if len(headings) > 0 && u.times == 1 && unknownUnit(headings[0]) {
			c.say("The unit of %q is not known: seconds are assumed.", headings[0])
		}
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
			if runes := []rune(ch.Name); len(runes) > longestName {
				ch.Name = string(runes[:longestName]) + "…"
				c.say("The name of channel %d is cut after %d letters.", i+1, longestName)
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
	for i := range c.Channels[1:] {
		if c.Channels[0].Unit != "" && c.Channels[i+1].Unit == "" {
			c.say("The unit of %s is not known: its samples are shown without one, or say what they are in.", c.Channels[i+1].Name)
		}
	}
	if c.Channels[0].Unit == "" {
		c.say("No unit is given: volts are assumed.")
		return c.units("V")
	}
	return nil
}

// otherwise says where the head of a file gives another interval than was taken.
func (c *Capture) otherwise(said float64) {
	const rounded = 0.02
	if c.Rate > 0 && math.Abs(said*c.Rate-1) > rounded {
		c.say("Its head says %s between samples, its time column %s: the column is taken.", written(said, "s"), written(1/c.Rate, "s"))
	}
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
	if at := gap(times); at > 0 {
		return 0, wrong(first+at+1, "the time is not even here: samples are missing, or come twice; cut the recording before or behind")
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

// gap finds where times that are otherwise even leave some out, or come back; 0 where they do not.
func gap(times []float64) int {
	const (
		alike = 0.02 // of a step: so well the times are known
		most  = 0.9  // of the steps are so, for others to stand out
		apart = 0.5
	)
	steps := make([]float64, 0, min(len(times), stepLooked))
	for i := 1; i < len(times) && len(steps) < stepLooked; i++ {
		steps = append(steps, times[i]-times[i-1])
	}
	usual := median(steps)
	same := 0
	for _, s := range steps {
		if math.Abs(s-usual) <= alike*usual {
			same++
		}
	}
	if usual <= 0 || float64(same) < most*float64(len(steps)) {
		return 0
	}
	for i := 1; i < len(times); i++ {
		if math.Abs(times[i]-times[i-1]-usual) > apart*usual {
			return i
		}
	}
	return 0
}
