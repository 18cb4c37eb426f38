package wave

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"steptrace/core/quantity"
)

// sweep is a tone whose frequency goes evenly one way, and its level on the way: the response of what it came through.
type sweep struct {
	first, last float64   // Hz
	hz, db      []float64 // the response, in bands of equal ratio, from low to high; dB against one unit rms
	level       float64   // dB, of the greatest part of it
	band        bool      // it is one of a tuned circuit: level is that of its top
}

const (
	sweepLength = 1 << 21 // samples
	// It has so many periods, goes over so much of an octave, and the frequencies rise or fall one after the other.
	sweepPeriods, leastRatio, inOrder = 24, 2.0, 0.97
	sweepHysteresis                   = 0.03 // of the peak: weaker parts are not counted by their crossings
	aroundPeriods                     = 9    // that a frequency is the median of
	bandsAnOctave                     = 24
	leastBands                        = 10
	cornerDB                          = 3.0  // dB, as a band's ends are told
	tellDB                            = 1.5  // what stands out of a response by more is told
	plateau                           = 0.25 // of the octaves, that lie near one level; fewer: it is a tuned circuit's
	plateauDB, plateauDeep            = 1.5, 12.0
	plateauTop                        = 0.85 // of those near it: a dome's level is that of its top
	mostPeaks                         = 3
)

// findSweep tells whether a waveform is a sweep, once or over and over; of several the widest is taken.
func findSweep(x []float64, l levels, rate float64) (sweep, bool) {
	x = x[:min(len(x), sweepLength)]
	up := risings(x, l.mean, sweepHysteresis*(l.high-l.low)/2)
	if len(up) < sweepPeriods {
		return sweep{}, false
	}
	at, logs := make([]float64, len(up)-1), make([]float64, len(up)-1)
	for i := range at {
		at[i] = (up[i] + up[i+1]) / 2
		logs[i] = math.Log(rate / (up[i+1] - up[i]))
	}
	logs = medians(logs, aroundPeriods)
	from, to := longestRun(logs)
	at, logs = at[from:to], logs[from:to]
	if len(logs) < sweepPeriods-1 || math.Abs(logs[len(logs)-1]-logs[0]) < math.Log(leastRatio) {
		return sweep{}, false
	}
	if math.Abs(evenly(ranks(logs))) < inOrder {
		return sweep{}, false
	}
	s := sweep{first: math.Exp(logs[0]), last: math.Exp(logs[len(logs)-1])}
	s.respond(x, rate, at, logs)
	if len(s.hz) < leastBands {
		return sweep{}, false
	}
	s.levelled()
	return s, true
}

// medians are the medians of so many values about each.
func medians(v []float64, around int) []float64 {
	out := make([]float64, len(v))
	near := make([]float64, 0, around)
	for i := range v {
		near = append(near[:0], v[max(0, i-around/2):min(len(v), i+around/2+1)]...)
		slices.Sort(near)
		out[i] = near[len(near)/2]
	}
	return out
}

// longestRun is the part of values that goes furthest one way without falling back by a third of an octave.
func longestRun(v []float64) (from, to int) {
	back := math.Log(2) / 3
	best := 0.0
	for _, sign := range []float64{1, -1} {
		start, top := 0, sign*v[0]
		for i := range v {
			if x := sign * v[i]; x < top-back {
				start, top = i, x
			} else if top = max(top, x); x-sign*v[start] > best {
				best, from, to = x-sign*v[start], start, i+1
			}
		}
	}
	return from, to
}

// respond works out the level in bands of equal ratio, over whole periods.
func (s *sweep) respond(x []float64, rate float64, at, logs []float64) {
	low, high := min(logs[0], logs[len(logs)-1]), max(logs[0], logs[len(logs)-1])
	band := math.Log(2) / bandsAnOctave
	// When it was in each: the first and the last time.
	first, last := map[int]float64{}, map[int]float64{}
	for i, v := range logs {
		k := int((v - low) / band)
		if _, ok := first[k]; !ok {
			first[k], last[k] = at[i], at[i]
		}
		first[k], last[k] = min(first[k], at[i]), max(last[k], at[i])
	}
	for _, k := range slices.Sorted(maps.Keys(first)) {
		f := low + (float64(k)+0.5)*band
		if f >= high {
			break
		}
		first, last := first[k], last[k]
		period := rate / math.Exp(f)
		half := max(1, math.Round((last-first)/period)) * period / 2
		a, b := int(math.Round((first+last)/2-half)), int(math.Round((first+last)/2+half))
		if a < 0 || b > len(x) || b-a < 4 {
			continue
		}
		own := sumUp(x[a:b])
		s.hz, s.db = append(s.hz, math.Exp(f)), append(s.db, decibels(own.ac))
	}
}

// levelled finds the level that most octaves have, or that of the top of a tuned circuit.
func (s *sweep) levelled() {
	top := slices.Max(s.db)
	most := 0
	for _, db := range s.db {
		if db < top-plateauDeep {
			continue
		}
		var near []float64
		for _, other := range s.db {
			if math.Abs(other-db) <= plateauDB {
				near = append(near, other)
			}
		}
		if len(near) > most {
			most, s.level = len(near), quantile(near, plateauTop)
		}
	}
	if float64(most) < plateau*float64(len(s.db)) {
		s.band, s.level = true, top
	}
}

// corners are the frequencies (Hz) beyond which the response stays 3 dB below its level; 0 where it does not fall so far.
func (s *sweep) corners() (low, high float64) {
	under := s.level - cornerDB
	n := len(s.db)
	for i := 0; i < n && s.db[i] < under; i++ {
		if i+1 < n && s.db[i+1] >= under {
			low = cross(s.hz[i], s.hz[i+1], s.db[i], s.db[i+1], under)
		}
	}
	for i := n - 1; i > 0 && s.db[i] < under; i-- {
		if s.db[i-1] >= under {
			high = cross(s.hz[i-1], s.hz[i], s.db[i-1], s.db[i], under)
		}
	}
	return low, high
}

// cross is the frequency at which a level is reached between two others, on a line in decibels over octaves.
func cross(a, b, from, to, level float64) float64 {
	return a * math.Pow(b/a, (level-from)/(to-from))
}

// standout is a place at which a response stands out.
type standout struct{ hz, db float64 }

// standouts are the peaks over the level, the highest first; and the dips between higher parts.
func (s *sweep) standouts() []standout {
	var out []standout
	for i := 1; i+1 < len(s.db); i++ {
		d := s.db[i] - s.level
		switch {
		case s.band && d < 0:
		case d > tellDB && s.db[i] >= s.db[i-1] && s.db[i] > s.db[i+1] && s.prominence(i, 1) > tellDB,
			d < -2*tellDB && s.db[i] <= s.db[i-1] && s.db[i] < s.db[i+1] && s.prominence(i, -1) > 2*tellDB:
			out = append(out, standout{s.hz[i], d})
		}
	}
	slices.SortFunc(out, func(a, b standout) int { return cmp.Compare(math.Abs(b.db), math.Abs(a.db)) })
	return out[:min(len(out), mostPeaks)]
}

// prominence is how far a response falls (sign 1) or rises (-1) from a place to either side, the less of both, before it
// comes back.
func (s *sweep) prominence(i int, sign float64) float64 {
	side := func(step int) float64 {
		far := 0.0
		for k := i + step; k >= 0 && k < len(s.db); k += step {
			d := sign * (s.db[i] - s.db[k])
			if d < 0 {
				break
			}
			far = max(far, d)
		}
		return far
	}
	return min(side(1), side(-1))
}

// response is it as it is drawn.
func (s *sweep) response() *Spectrum {
	return &Spectrum{Hz: s.hz, DB: s.db, Resolution: s.hz[0] * (math.Pow(2, 1.0/bandsAnOctave) - 1)}
}

func (s *sweep) figures(unit string, add adder) {
	const how = "level over whole periods, in half semitones"
	add("sweep", "sweep", s.last, "Hz", 0, "medians of nine periods").Text =
		quantity.Rounded(s.first, quantity.Hertz) + " to " + quantity.Rounded(s.last, quantity.Hertz)
	name := "level of most of it"
	if s.band {
		name = "level of its top"
	}
	add("level", name, quantity.Times(s.level), unit, 0, how).Text += " rms"
	low, high := s.corners()
	if low > 0 {
		add("lowcorner", "−3 dB below", low, "Hz", 0, how)
	}
	if high > 0 {
		add("highcorner", "−3 dB above", high, "Hz", 0, how)
	}
	if s.band && low > 0 && high > 0 {
		add("bandwidth", "bandwidth", high-low, "Hz", 0, "between the two")
		add("q", "Q", math.Sqrt(low*high)/(high-low), "", 0, "middle over bandwidth")
	}
	for i, o := range s.standouts() {
		key, what := "stands", "peak"
		if o.db < 0 {
			what = "dip"
		}
		if i > 0 {
			key += string(rune('1' + i))
		}
		add(key, what, o.hz, "Hz", 0, how).Text = quantity.SignedDB(o.db) + " at " + quantity.Rounded(o.hz, quantity.Hertz)
	}
}

// What a response may differ by.
const (
	responseDB = 3.0 // dB
	endBands   = 12  // half an octave: so much of an end has to be off
)

// sweep compares two responses; true where that says all.
func (c *comparing) sweep(due *sweep) bool {
	got, ok := findSweep(c.got.Samples, c.l, c.rate)
	if !ok {
		return false
	}
	var hz, off []float64
	for i, f := range got.hz {
		if db, ok := due.at(f); ok {
			hz, off = append(hz, f), append(off, got.db[i]-db)
		}
	}
	if len(off) < leastBands {
		return false
	}
	gain := median(off)
	c.GainDB = gain
	for i := range off {
		off[i] -= gain
	}
	text := func(i int) string {
		return quantity.SignedDB(off[i]) + " at " + quantity.Rounded(hz[i], quantity.Hertz)
	}
	n := len(off)
	low, high := 0, n // what is off by too much at the ends
	for low < n && off[low] < -responseDB {
		low++
	}
	for high > 0 && off[high-1] < -responseDB {
		high--
	}
	switch {
	case low >= endBands:
		c.found(LowsMissing, math.Min(1, -off[0]/20), "it falls below %s against the reference, %s",
			quantity.Rounded(hz[min(low, n-1)], quantity.Hertz), text(0))
	case n-high >= endBands:
		c.found(HighsMissing, math.Min(1, -off[n-1]/20), "it falls above %s against the reference, %s",
			quantity.Rounded(hz[max(high-1, 0)], quantity.Hertz), text(n-1))
	default:
		worst := 0
		for i := range off {
			if math.Abs(off[i]) > math.Abs(off[worst]) {
				worst = i
			}
		}
		if near := median(off[max(0, worst-1):min(n, worst+2)]); math.Abs(near) > responseDB {
			c.found(Uneven, math.Abs(near)/20, "%s against the reference", text(worst))
		}
	}
	return true
}

// at is the response at a frequency, between its bands; false beyond them.
func (s *sweep) at(hz float64) (db float64, ok bool) {
	k, exact := slices.BinarySearch(s.hz, hz)
	switch {
	case exact:
		return s.db[k], true
	case k == 0 || k == len(s.hz):
		return 0, false
	}
	share := math.Log(hz/s.hz[k-1]) / math.Log(s.hz[k]/s.hz[k-1])
	return s.db[k-1] + share*(s.db[k]-s.db[k-1]), true
}
