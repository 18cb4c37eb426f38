package wave

import (
	"math"
	"math/cmplx"
	"slices"
)

// composite is a composite video signal: sync on one side, picture on the other. Line times and
// levels: ITU-R BT.1700 (64 µs and 63.556 µs a line, sync of 4.7 µs, 30 % of the whole height).
type composite struct {
	tip, blanking, white float64 // as they stand in the signal
	turned               bool    // its sync is on top
	line, sync           float64 // seconds: a line, and its sync pulse
	spread               float64 // of the line's time from one to the next, seconds
	field                float64 // Hz; 0 where no two vertical syncs are there
	lines                int
	uneven               float64   // how much tips and porches vary, a share of the sync's height
	noise                float64   // rms, at the sync tips
	hum                  float64   // peak of what lifts and lowers the tips with the mains; 0 where the view is too short to tell
	humTimes             int       // of the mains' frequency
	starts               []float64 // of the syncs, seconds
	mean                 []float64 // a line from sync to sync, lineBins long, the mean of all whole ones of the picture
	steps                []float64 // levels of a staircase, from left to right, over blanking; nil where there is none
}

const (
	leastVideoRate = 1e6    // samples a second that show a sync pulse
	mostVideoRate  = 25e6   // that show all of it that counts
	glanced        = 5.5e-3 // seconds: more than the lines of a vertical sync, which have no picture
	subcarrier     = 0.3e-6 // seconds: over so long a mean leaves nothing of a colour subcarrier to speak of
	// A line oscillator that runs free is off by a tenth and more.
	shortLine, longLine = 48e-6, 84e-6
	shortSync, longSync = 0.045, 0.095 // of a line
	broadSync           = 15e-6        // from here on it is one of the vertical sync
	// Blanking is looked at behind the burst, and before the sync: shares of a line.
	porchFrom, porchTo     = 0.053, 0.068
	frontFrom, frontTo     = 0.018, 0.006
	behindFrom, behindTo   = 0.006, 0.014 // before the burst
	finePorch              = 200.0        // samples a line that show it
	pictureFrom, pictureTo = 0.165, 0.97
	surelyLines            = 8    // from here on regular times say all
	flatShare              = 0.14 // of the sync's height: how even its tips are, and the porches behind them
	frontShare             = 0.3  // of it: how far apart the blanking before it and behind it may be
	someWhite              = 0.15 // of the sync's height: less picture is none
	fiveFields             = 0.1  // seconds
	lineBins               = 512
	someHum                = 0.02 // of the whole height
	leaning                = 0.45 // of the sync's height, that no porch rises by
)

// findComposite tells whether a waveform is composite video, with its sync below or on top.
func findComposite(raw []float64, l levels, rate, mains float64) (composite, bool) {
	if rate < leastVideoRate || l.high == l.low || float64(len(raw)) < 1.1*shortLine*rate {
		return composite{}, false
	}
	// Most of what is looked at is none: some lines tell.
	c, ok := eitherWay(raw[:min(len(raw), int(glanced*rate)+1)], rate)
	if ok && float64(len(raw)) > glanced*rate {
		c, ok = eitherWay(raw[:min(len(raw), int(fiveFields*rate)+1)], rate)
	}
	if ok {
		c.unrest(raw, rate, mains)
	}
	return c, ok
}

// eitherWay finds a composite signal with its sync below or on top.
func eitherWay(raw []float64, rate float64) (composite, bool) {
	x, rate := forLines(raw, rate)
	c, below := syncBelow(x, rate)
	if t, above := syncBelow(turnedOver(x), rate); above && (!below || t.better(&c)) {
		t.turned, t.tip, t.blanking, t.white = true, -t.tip, -t.blanking, -t.white
		return t, true
	}
	return c, below
}

// forLines is as much of samples as shows lines and their syncs: at no higher rate than that needs, and without a colour
// subcarrier.
func forLines(x []float64, rate float64) ([]float64, float64) {
	by := max(1, int(rate/mostVideoRate))
	rate /= float64(by)
	return smoothed(thinned(x, by), int(math.Round(subcarrier*rate))), rate
}

// turnedOver is a waveform upside down.
func turnedOver(x []float64) []float64 {
	out := make([]float64, len(x))
	for i, v := range x {
		out[i] = -v
	}
	return out
}

// smoothed is the mean over so many samples about each.
func smoothed(x []float64, over int) []float64 {
	if over < 2 {
		return x
	}
	out := make([]float64, len(x))
	sum, from, to := 0.0, 0, 0
	for i := range x {
		for ; to < min(i+over/2+1, len(x)); to++ {
			sum += x[to]
		}
		for ; from < i-(over-1)/2; from++ {
			sum -= x[from]
		}
		out[i] = sum / float64(to-from)
	}
	return out
}

// lowest is the least of the samples within so many to either side of each.
func lowest(x []float64, within int) []float64 {
	out := make([]float64, len(x))
	queue := make([]int, 0, 2*within+1) // of rising samples
	to := 0
	for i := range x {
		for ; to < min(i+within+1, len(x)); to++ {
			for len(queue) > 0 && x[queue[len(queue)-1]] >= x[to] {
				queue = queue[:len(queue)-1]
			}
			queue = append(queue, to)
		}
		for queue[0] < i-within {
			queue = queue[1:]
		}
		out[i] = x[queue[0]]
	}
	return out
}

// syncs are pulses below a level: from and to in seconds.
type syncs struct{ from, to []float64 }

// syncBelow finds a composite signal with its sync below.
func syncBelow(x []float64, rate float64) (composite, bool) {
	// Hum and a picture's own mean lift and lower all of it: what counts is the height over the lowest nearby.
	floor := lowest(x, int(0.75*longLine*rate))
	over := make([]float64, len(x))
	for i, v := range x {
		over[i] = v - floor[i]
	}
	height := quantile(over, 0.99)
	best, found := composite{}, false
	for _, share := range []float64{0.17, 0.11, 0.07, 0.045, 0.24} { // a sync that is cut off is low
		cut := share * height
		var narrow, broad syncs
		down := -1.0
		for i := 1; i < len(over); i++ {
			switch {
			case over[i-1] >= cut && over[i] < cut:
				down = float64(i-1) + (over[i-1]-cut)/(over[i-1]-over[i])
			case down >= 0 && over[i-1] < cut && over[i] >= cut:
				up := float64(i-1) + (cut-over[i-1])/(over[i]-over[i-1])
				at, end := down/rate, up/rate
				switch width := end - at; {
				case width > shortSync*shortLine && width < longSync*longLine:
					narrow.from, narrow.to = append(narrow.from, at), append(narrow.to, end)
				case width > broadSync && width < longLine:
					broad.from, broad.to = append(broad.from, at), append(broad.to, end)
				}
				down = -1
			}
		}
		if c, ok := linesOf(x, rate, narrow, broad); ok && (!found || c.better(&best)) {
			best, found = c, true
		}
	}
	if found {
		best.whole(x, rate)
	}
	return best, found && !best.sawtooth()
}

// better tells whether it has more lines than another way to see the same, or as many and evener ones.
func (c *composite) better(other *composite) bool {
	return c.lines > other.lines || c.lines == other.lines && c.uneven < other.uneven
}

// linesOf takes pulses for line syncs; false where they are none.
//
// Long: one pass, whose steps need what those before found.
func linesOf(x []float64, rate float64, s, broad syncs) (composite, bool) {
	var times []float64
	var starts, widths []float64
	for i := range s.from {
		near := false
		for k := i - 1; k <= i+1; k += 2 {
			if k < 0 || k >= len(s.from) {
				continue
			}
			if d := math.Abs(s.from[k] - s.from[i]); d > shortLine && d < longLine {
				near = true
				if k > i {
					times = append(times, d)
				}
			}
		}
		if near {
			starts, widths = append(starts, s.from[i]), append(widths, s.to[i]-s.from[i])
		}
	}
	if len(times) == 0 || len(starts) < len(s.from)*6/10 {
		return composite{}, false
	}
	c := composite{line: median(times), sync: median(widths), lines: len(times), starts: starts}
	if c.sync < shortSync*c.line || c.sync > longSync*c.line {
		return c, false
	}
	kept := times[:0]
	for _, d := range times {
		if math.Abs(d-c.line) < 0.01*c.line {
			kept = append(kept, d)
		}
	}
	if len(kept) < len(times)*8/10 || len(kept) == 0 {
		return c, false
	}
	line := sumUp(kept)
	c.line, c.spread = line.mean, line.ac
	var tips, porches, fronts, behind, whites, even []float64
	within := func(from, to float64) []float64 {
		a, b := int(math.Ceil(from*rate)), int(to*rate)+1
		if b <= a { // no sample is there: the nearest
			a = int((from + to) / 2 * rate)
			b = a + 1
		}
		if a < 0 || b > len(x) {
			return nil
		}
		return x[a:b]
	}
	for i, at := range starts {
		end := at + widths[i]
		if v := within(at+0.2*widths[i], at+0.8*widths[i]); v != nil {
			tips, even = append(tips, sumUp(v).mean), append(even, sumUp(v).ac)
		}
		if v := within(end+porchFrom*c.line, end+porchTo*c.line); v != nil {
			porches = append(porches, sumUp(v).mean)
		}
		if v := within(end+behindFrom*c.line, end+behindTo*c.line); v != nil {
			behind = append(behind, sumUp(v).mean)
		}
		if v := within(at-frontFrom*c.line, at-frontTo*c.line); v != nil {
			fronts = append(fronts, sumUp(v).mean)
		}
		if v := within(at+pictureFrom*c.line, at+pictureTo*c.line); v != nil {
			whites = append(whites, quantile(v, 0.98))
		}
	}
	if len(tips) == 0 || len(porches) == 0 || len(fronts) == 0 || len(whites) == 0 {
		return c, false
	}
	c.tip, c.blanking, c.white = median(tips), median(porches), slices.Max(whites)
	if level := median(behind); c.line*rate > finePorch && math.Abs(level-c.blanking) > frontShare*(c.blanking-c.tip) {
		return c, false // it goes on rising behind its lowest: a sawtooth
	}
	height := c.blanking - c.tip
	if height <= 0 || c.white-c.blanking < someWhite*height || math.Abs(median(fronts)-c.blanking) > frontShare*height {
		return c, false
	}
	c.uneven = max(median(even), sumUp(tips).ac, sumUp(porches).ac) / height
	if len(times) < surelyLines && c.uneven > flatShare {
		return c, false
	}
	c.field = fieldsOf(broad.from)
	return c, true
}

// fieldsOf is the field frequency (Hz) from the broad pulses of the vertical syncs; 0 where there are not two of these.
func fieldsOf(broad []float64) float64 {
	const apart = 0.008 // seconds, at least, from one vertical sync to the next
	var firsts, fields []float64
	var counts []int
	for i, at := range broad {
		if i == 0 || at-broad[i-1] > apart {
			firsts, counts = append(firsts, at), append(counts, 0)
		}
		counts[len(counts)-1]++
	}
	for i := 1; i < len(firsts); i++ {
		// One that the capture begins or ends in lacks some.
		if d := firsts[i] - firsts[i-1]; d < 0.04 && counts[i-1] == counts[i] {
			fields = append(fields, d)
		}
	}
	if len(fields) == 0 {
		return 0
	}
	return 1 / sumUp(fields).mean
}

// whole works out the mean line, and the steps that it has.
func (c *composite) whole(x []float64, rate float64) {
	const mostLines = 400
	c.mean = make([]float64, lineBins)
	n := 0.0
	for _, at := range c.starts {
		from, step := at*rate, c.line*rate/lineBins
		if from+c.line*rate > float64(len(x)-2) || n >= mostLines {
			continue
		}
		n++
		for k := range c.mean {
			v, _ := cubic(x, from+float64(k)*step)
			c.mean[k] += v
		}
	}
	if n == 0 {
		c.mean = nil
		return
	}
	for k := range c.mean {
		c.mean[k] /= n
	}
	c.steps = stairs(pictureOf(c.mean), c.blanking, c.white)
}

// sawtooth tells whether a line goes on rising where its porch should stand still.
func (c *composite) sawtooth() bool {
	if c.mean == nil {
		return false
	}
	end := int(c.sync / c.line * lineBins)
	level := func(from, to float64) float64 { return median(c.mean[end+int(from*lineBins) : end+int(to*lineBins)]) }
	height := math.Abs(c.blanking - c.tip)
	return math.Abs(level(0.06, 0.08)-level(0.012, 0.03)) > leaning*height
}

// pictureOf is the part of a mean line that the picture has.
func pictureOf(mean []float64) []float64 {
	n := float64(len(mean))
	return mean[int(pictureFrom*n):int(pictureTo*n)]
}

// stairs finds the levels, over blanking, at which the picture part of a line stands still for a while, where they go one way.
func stairs(v []float64, blanking, white float64) []float64 {
	const (
		wide  = 4    // bins over which it stands still
		still = 0.03 // of the picture's height
		leans = 0.02 // of the height, from its end to its end
		least = 4    // steps
		apart = 0.03 // of the height, at least, from one to the next
	)
	height := white - blanking
	var levels []float64
	for i := 0; i+wide <= len(v); {
		low, high := extremes(v[i : i+wide])
		if high-low > still*height {
			i++
			continue
		}
		to := i + wide
		for to < len(v) && math.Abs(v[to]-median(v[i:to])) < still*height {
			to++
		}
		level := median(v[i:to]) - blanking
		if slope, _ := trend(v[i:to]); math.Abs(slope)*float64(to-i) > leans*height { // a ramp
			i = to
			continue
		}
		if n := len(levels); n == 0 || math.Abs(level-levels[n-1]) > apart*height {
			if to-i >= 2*wide {
				levels = append(levels, level)
			}
		}
		i = to
	}
	// The blanking before and behind is no step.
	for len(levels) > 0 && math.Abs(levels[len(levels)-1]) < apart*height {
		levels = levels[:len(levels)-1]
	}
	for len(levels) > 0 && math.Abs(levels[0]) < apart*height {
		levels = levels[1:]
	}
	if len(levels) < least {
		return nil
	}
	for i := 2; i < len(levels); i++ {
		if (levels[i]-levels[i-1])*(levels[1]-levels[0]) <= 0 {
			return nil
		}
	}
	return levels
}

// unrest works out the noise and the hum of the sync tips, where nothing should move.
func (c *composite) unrest(x []float64, rate, mains float64) {
	var squares, n float64
	var at, tips []float64
	for _, from := range c.starts {
		a, b := int(math.Ceil((from+0.2*c.sync)*rate)), int((from+0.8*c.sync)*rate)+1
		if b > len(x) || b-a < 2 {
			continue
		}
		l := sumUp(x[a:b])
		squares += l.ac * l.ac * float64(b-a)
		n += float64(b - a - 1)
		at, tips = append(at, from), append(tips, l.mean)
	}
	if n > 0 {
		c.noise = math.Sqrt(squares / n)
	}
	if len(at) < surelyLines || mains <= 0 || at[len(at)-1]-at[0] < 1.2/mains {
		return
	}
	mean := sumUp(tips).mean
	for times := 1; times <= 2; times++ { // they are taken at even times but for the vertical syncs
		var turn complex128
		for i, v := range tips {
			turn += cmplx.Rect(v-mean, 2*math.Pi*mains*float64(times)*at[i])
		}
		if a := 2 * cmplx.Abs(turn) / float64(len(tips)); a > c.hum {
			c.hum, c.humTimes = a, times
		}
	}
}

// rises are the steps of a staircase from black on, as shares of the whole: what is darkest is a step over blanking too.
func (c *composite) rises() []float64 {
	levels := append([]float64{0}, slices.Sorted(slices.Values(c.steps))...)
	out := make([]float64, 0, len(levels))
	for i := 1; i < len(levels); i++ {
		out = append(out, (levels[i]-levels[i-1])/levels[len(levels)-1])
	}
	return out
}

func (c *composite) figures(unit string, add adder) {
	const how = "median over the lines"
	side := ""
	if c.turned {
		side = ": it is turned over, its sync is on top"
	}
	height := func(from, to float64) float64 { return math.Abs(to - from) }
	add("sync", "sync height", height(c.tip, c.blanking), unit, 0, "blanking against tip"+side)
	add("picture", "picture height", height(c.blanking, c.white), unit, 0, "brightest against blanking")
	add("syncshare", "sync of the whole", c.share(), "%", 0, "30 % by the standard, with a full white")
	add("linehz", "line frequency", 1/c.line, "Hz", c.spread/c.line/c.line/math.Sqrt(float64(c.lines)), "mean of the lines' times")
	if c.field > 0 {
		add("field", "field frequency", c.field, "Hz", 0, "from one vertical sync to the next")
	}
	add("tip", "sync tip", c.tip, unit, 0, how)
	add("blanking", "blanking", c.blanking, unit, 0, how+", on the back porch")
	add("white", "brightest", c.white, unit, 0, "brightest of the lines, but for 2 % of each")
	add("syncwidth", "sync width", c.sync, "s", 0, how)
	if c.noise > 0 {
		add("noise", "noise", c.noise, unit, 0, "on the sync tips").Text += " rms"
	}
	if whole := height(c.tip, c.white); c.hum > someHum*whole {
		add("hum", "hum", 2*c.hum, unit, 0, "how the mains, or twice that, lifts and lowers the sync tips").Text += "pp"
	}
	if c.steps != nil {
		r := c.rises()
		least, most := extremes(r)
		whole := height(c.blanking, c.white)
		add("steps", "steps of the picture", float64(len(c.steps)), "", 0, "levels at which a mean line stands still")
		add("leaststep", "smallest step", least*whole, unit, 0, "between levels next to each other, the darkest against blanking")
		add("moststep", "largest step", most*whole, unit, 0, "between levels next to each other, the darkest against blanking")
	}
}

// share is the sync's of the whole height.
func (c *composite) share() float64 { return (c.blanking - c.tip) / (c.white - c.tip) }
