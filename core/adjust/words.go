package adjust

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"steptrace/core/mend"
)

// placeText writes a place of a control: a share of its travel.
func placeText(place float64) string {
	const stop = 0.005
	switch {
	case place <= stop:
		return "the first stop"
	case place >= 1-stop:
		return "the last stop"
	}
	return fmt.Sprintf("%.0f %% of its travel", 100*place)
}

func shareText(share float64) string { return strconv.FormatFloat(100*share, 'f', 1, 64) + " %" }

// PlaceOf reads where a control stands, as a share of its travel: "40 %", "0.4", a clock's hour from 7 at one stop
// over 12 in the middle to 5 at the other ("10:30", "2 o'clock"), or turns from the first stop ("3 turns" of so many).
func PlaceOf(text string, turns float64) (float64, error) {
	t := strings.ToLower(strings.TrimSpace(text))
	wrong := mend.Errorf("%q is no place of a control: write 40 %%, a clock's hour from 7 to 5 (10:30), or 3 turns", text)
	number := func(s string) (float64, bool) {
		x, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(s), ",", ".", 1), 64)
		return x, err == nil
	}
	place := math.NaN()
	if s, ok := strings.CutSuffix(t, "%"); ok {
		if x, ok := number(s); ok {
			place = x / 100
		}
	} else if s, ok := cutAny(t, "turns", "turn"); ok {
		if x, ok := fraction(s); ok {
			place = x / turns
		}
	} else if hour, minute, ok := clockOf(t); ok {
		const first, around, full = 7, 12, 10 // hours: where the first stop is, of the clock, of the travel
		place = (math.Mod(hour-first+around, around) + minute/60) / full
	} else if x, ok := number(t); ok && x <= 1 {
		place = x
	}
	if !(place >= 0 && place <= 1) {
		return 0, wrong
	}
	return place, nil
}

func cutAny(s string, ends ...string) (string, bool) {
	for _, e := range ends {
		if before, ok := strings.CutSuffix(s, e); ok {
			return before, true
		}
	}
	return s, false
}

// fraction reads "3", "1/8", "2 1/4", "1.5".
func fraction(s string) (float64, bool) {
	total := 0.0
	fields := strings.Fields(strings.Replace(s, ",", ".", 1))
	for _, f := range fields {
		a, b, split := strings.Cut(f, "/")
		x, err := strconv.ParseFloat(a, 64)
		if err != nil {
			return 0, false
		}
		if split {
			y, err := strconv.ParseFloat(b, 64)
			if err != nil || y == 0 {
				return 0, false
			}
			x /= y
		}
		total += x
	}
	return total, len(fields) > 0
}

// clockOf reads "10:30", "2 o'clock".
func clockOf(t string) (hour, minute float64, ok bool) {
	s, said := cutAny(t, "o'clock", "o’clock")
	h, m, colon := strings.Cut(strings.TrimSpace(s), ":")
	if !said && !colon {
		return 0, 0, false
	}
	hour, err := strconv.ParseFloat(h, 64)
	if err == nil && colon {
		minute, err = strconv.ParseFloat(m, 64)
	}
	return hour, minute, err == nil && hour >= 1 && hour <= 12 && minute >= 0 && minute < 60
}
