package supply

import (
	"math"
	"slices"

	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// Segment is the copper that leads to a place from the place Before, an index
// into the same list; -1 for the first place, -2 for one that does not belong.
type Segment struct {
	Before int
	Ohms   float64
}

// Found is where the current leaves the copper: at a share of the way (0 to 1)
// along the segment from one place to the next; the same place twice where
// there is no segment. Residual is what the readings differ from it, V rms.
type Found struct {
	From     int     `json:"from"`
	To       int     `json:"to"`
	Share    float64 `json:"share"`
	Residual float64 `json:"residual"`
	Sentence string  `json:"sentence"`
	Near     string  `json:"near"` // the nearest place
}

// leastDrop is the drop (V) along the copper below which a meter that shows
// 0.1 mV can place nothing.
const leastDrop = 0.0005

// Locate finds where a current (A) fed in at one place leaves a tree of copper,
// from the voltages read at some of its places against a common reference.
// Along the way from the feed to the short the voltage falls by I·R; behind the
// short and on every branch no current flows, so that the voltage there is that
// of the branching point (Kirchhoff). For each segment the position and the
// voltage of the short itself follow by least squares; the segment that leaves
// the smallest residual is taken. Errors are those a person can mend (mend.Error).
func Locate(copper []Segment, feed int, amps float64, read map[int]float64) (Found, error) {
	if feed < 0 || feed >= len(copper) || copper[feed].Before == -2 || !(amps > 0) {
		return Found{}, mend.Errorf("say where the current is fed in, and how much it is")
	}
	if len(read) < 2 {
		return Found{}, mend.Errorf("read the millivolts at two places or more")
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range read {
		low, high = min(low, v), max(high, v)
	}
	t := tree{copper, feed}
	if high-low < leastDrop {
		if _, ok := read[feed]; ok {
			return Found{From: feed, To: feed}, nil
		}
		return Found{}, mend.Errorf(
			"all places read the same within %s: feed in more current, or read at the feeding place too",
			quantity.Value{SI: leastDrop, Unit: quantity.Volt}.Short(2),
		)
	}
	best := Found{Residual: math.Inf(1)}
	for i, s := range copper {
		if s.Before < 0 {
			continue
		}
		// Seen from the feed, the segment is walked away from it.
		from, to := s.Before, i
		if t.through(i) {
			from, to = i, s.Before
		}
		share, residual := t.fit(from, to, s.Ohms, amps, read)
		if residual < best.Residual-1e-12 {
			best = Found{From: from, To: to, Share: share, Residual: residual}
		}
	}
	if math.IsInf(best.Residual, 1) {
		return Found{}, mend.Errorf("the sheet has only one place on this rail")
	}
	return best, nil
}

// tree is copper with a feeding place.
type tree struct {
	copper []Segment
	feed   int
}

// path lists the places from one back to the root.
func (t tree) path(at int) []int {
	var out []int
	for ; at >= 0; at = t.copper[at].Before {
		out = append(out, at)
	}
	return out
}

// through tells whether the way from the feed to the root passes the segment
// that leads to a place.
func (t tree) through(place int) bool { return slices.Contains(t.path(t.feed), place) }

// way lists the places from the feed to one, both included.
func (t tree) way(to int) []int {
	up, down := t.path(t.feed), t.path(to)
	for k, at := range up {
		if m := slices.Index(down, at); m >= 0 {
			out := append([]int{}, up[:k+1]...)
			for i := m - 1; i >= 0; i-- {
				out = append(out, down[i])
			}
			return out
		}
	}
	return nil
}

// ohms is the resistance along neighbouring places.
func (t tree) ohms(places []int) float64 {
	sum := 0.0
	for i := 1; i < len(places); i++ {
		a, b := places[i-1], places[i]
		if t.copper[b].Before == a {
			sum += t.copper[b].Ohms
		} else {
			sum += t.copper[a].Ohms
		}
	}
	return sum
}

// fit finds by least squares the share f of the segment from a to b, and the
// voltage of the short, that come nearest to the readings. Behind b the model
// reads v0; elsewhere v0 + I·(D + f·R − m), D being the resistance from the
// feed to a and m that to where the place's own way leaves the current's.
func (t tree) fit(a, b int, ohms, amps float64, read map[int]float64) (share, residual float64) {
	way := t.way(a)
	d := t.ohms(way)
	type row struct{ slope, known float64 } // reading = v0 + slope·f + known
	var rows []row
	var ys []float64
	for place, v := range read {
		to := t.way(place)
		if to == nil {
			continue
		}
		if slices.Contains(to, b) && slices.Index(to, a) == slices.Index(to, b)-1 {
			rows, ys = append(rows, row{}), append(ys, v)
			continue
		}
		common := 0
		for common < len(way) && common < len(to) && way[common] == to[common] {
			common++
		}
		m := t.ohms(way[:common])
		rows, ys = append(rows, row{amps * ohms, amps * (d - m)}), append(ys, v)
	}
	n := float64(len(rows))
	var sx, sxx, sy, sxy float64
	for i, r := range rows {
		y := ys[i] - r.known
		sx, sxx, sy, sxy = sx+r.slope, sxx+r.slope*r.slope, sy+y, sxy+r.slope*y
	}
	if det := n*sxx - sx*sx; det > 1e-18 {
		share = (n*sxy - sx*sy) / det
	}
	share = min(max(share, 0), 1)
	v0 := (sy - share*sx) / n
	for i, r := range rows {
		e := ys[i] - r.known - v0 - share*r.slope
		residual += e * e
	}
	return share, math.Sqrt(residual / n)
}
