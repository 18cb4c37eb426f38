package wave

import (
	"fmt"
	"math"
	"strings"
)

// What the columns of a table are: the time among them, its step, the names and the units of the others.

// longestName is as much of a channel's name as is kept, letters.
const longestName = 60

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
		if len(headings) > 0 && u.times == 1 && unknownUnit(headings[0]) {
			c.say("The unit of %q is not known: seconds are assumed.", headings[0])
		}
		if o.Interval == 0 { // the head may round it
			c.otherwise(interval, step*u.times)
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

// otherwise says where the head of a file gives another interval (seconds; 0: none) than was taken.
func (c *Capture) otherwise(said, taken float64) {
	const rounded = 0.02
	if said > 0 && math.Abs(said/taken-1) > rounded {
		c.say("Its head says %s between samples, its time column %s: the column is taken.", written(said, "s"), written(taken, "s"))
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
