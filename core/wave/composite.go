package wave

import (
	"math"
	"slices"
)

// composite is a composite video signal: sync below, picture above. Line times and
// levels: ITU-R BT.1700 (64 µs and 63.556 µs a line, sync of 4.7 µs).
type composite struct {
	tip, blanking, white float64
	line, sync           float64 // seconds: a line, and its sync pulse
	spread               float64 // of the line's time from one to the next, seconds
	field                float64 // Hz; 0 where no two vertical syncs are there
	lines                int
}

const (
	leastVideoRate         = 2e6 // samples a second that show a sync pulse
	leastLines             = 8
	shortLine, longLine    = 60e-6, 67e-6
	shortSync, longSync    = 3.5e-6, 6.5e-6
	broadSync              = 15e-6 // from here on it is one of the vertical sync
	porchFrom, porchTo     = 0.6e-6, 3.2e-6
	pictureFrom, pictureTo = 10e-6, 61e-6
)

// findComposite tells whether a waveform is composite video with negative sync.
//
// Long: one pass, whose steps need what those before found.
func findComposite(x []float64, l levels, rate float64) (composite, bool) {
	if rate < leastVideoRate || l.high == l.low {
		return composite{}, false
	}
	x = x[:min(len(x), int(0.1*rate)+1)] // five fields
	// A sync pulse goes down through a level a sixth above the lowest, and up again.
	cut := l.low + (l.high-l.low)/6
	hold := (l.high - l.low) / 40
	var starts, widths []float64
	var wide []float64
	down := -1.0
	for i := 1; i < len(x); i++ {
		switch {
		case down < 0 && x[i-1] >= cut-hold && x[i] < cut-hold:
			down = float64(i-1) + (x[i-1]-cut+hold)/(x[i-1]-x[i])
		case down >= 0 && x[i] > cut:
			width := (float64(i) - down) / rate
			switch {
			case width >= shortSync && width <= longSync:
				starts, widths = append(starts, down/rate), append(widths, width)
			case width > broadSync && width < longLine:
				wide = append(wide, down/rate)
			}
			down = -1
		}
	}
	var times []float64
	for i := 1; i < len(starts); i++ {
		if d := starts[i] - starts[i-1]; d > shortLine && d < longLine {
			times = append(times, d)
		}
	}
	if len(times) < leastLines || len(times) < len(starts)*7/10 {
		return composite{}, false
	}
	c := composite{line: median(times), sync: median(widths), lines: len(times)}
	kept := times[:0]
	for _, d := range times {
		if math.Abs(d-c.line) < 0.01*c.line {
			kept = append(kept, d)
		}
	}
	line := sumUp(kept)
	c.line, c.spread = line.mean, line.ac
	var tips, porches, whites []float64
	stretch := func(from, to float64) []float64 {
		a, b := int(from*rate), int(to*rate)
		if a < 0 || b > len(x) || b <= a {
			return nil
		}
		return x[a:b]
	}
	for i, s := range starts {
		end := s + widths[i]
		if v := stretch(s+0.25*widths[i], s+0.75*widths[i]); v != nil {
			tips = append(tips, sumUp(v).mean)
		}
		if v := stretch(end+porchFrom, end+porchTo); v != nil { // the colour burst's mean is nothing
			porches = append(porches, sumUp(v).mean)
		}
		if v := stretch(s+pictureFrom, s+pictureTo); v != nil {
			whites = append(whites, quantile(v, 0.98))
		}
	}
	if len(tips) == 0 || len(porches) == 0 || len(whites) == 0 {
		return composite{}, false
	}
	c.tip, c.blanking, c.white = median(tips), median(porches), slices.Max(whites)
	var fields []float64
	for i := 1; i < len(wide); i++ {
		if d := wide[i] - wide[i-1]; d > 0.01 && d < 0.03 { // from the last of one to the first of the next
			fields = append(fields, d)
		}
	}
	if len(fields) > 0 {
		// Five broad pulses in half lines: from first to first are two lines more.
		c.field = 1 / (median(fields) + 2*c.line)
	}
	return c, c.blanking > c.tip
}

func (c *composite) figures(unit string, add adder) {
	const how = "median over the lines"
	add("tip", "sync tip", c.tip, unit, 0, how)
	add("blanking", "blanking", c.blanking, unit, 0, how+", on the back porch")
	add("white", "brightest", c.white, unit, 0, "highest of the lines, but for 2 % of each")
	add("sync", "sync height", c.blanking-c.tip, unit, 0, "blanking less tip")
	add("picture", "picture height", c.white-c.blanking, unit, 0, "brightest less blanking")
	add("linehz", "line frequency", 1/c.line, "Hz", c.spread/c.line/c.line/math.Sqrt(float64(c.lines)), "mean of the lines' times")
	add("syncwidth", "sync width", c.sync, "s", 0, how)
	if c.field > 0 {
		add("field", "field frequency", c.field, "Hz", 0, "from one vertical sync to the next")
	}
}
