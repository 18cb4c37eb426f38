package sheet

import (
	"cmp"
	"slices"
	"strings"

	"steptrace/core/mend"
)

// kindsByWord are the kinds of stage that words in a name speak of, the more particular first.
var kindsByWord = []struct{ word, kind string }{
	{"coupling", "joint"}, {"capacitor", "joint"}, {"relay", "relay contact"}, {"contact", "switch"}, {"selector", "switch"},
	{"switch", "switch"}, {"plug", "connector"}, {"socket", "connector"}, {"connector", "connector"}, {"cable", "cable"},
	{"joint", "joint"}, {"resistor", "joint"}, {"wire", "wire"}, {"volume", "control"}, {"potentiometer", "control"},
	{"fader", "control"}, {"control", "control"}, {"crystal", "filter"}, {"filter", "filter"}, {"tone", "equaliser"},
	{"equaliser", "equaliser"}, {"mixer", "mixer"}, {"detector", "detector"}, {"transformer", "transformer"},
	{"amp", "amplifier"}, {"buffer", "amplifier"}, {"driver", "amplifier"}, {"transistor", "amplifier"}, {"tube", "amplifier"},
	{"speaker", "speaker"},
}

// KindOf guesses the kind of a stage from its name; other where it does not say.
func KindOf(name string) string {
	for _, x := range kindsByWord {
		if strings.Contains(strings.ToLower(name), x.word) {
			return x.kind
		}
	}
	return "other"
}

// gains are the kinds of stage that give the level; all others pass it on as it is.
var gains = []string{"amplifier", "mixer", "detector", "filter", "equaliser", "control", "transformer", "other", ""}

// divide lets a stage fall into several, one behind the other. All of them need what it needed. Its gain
// is that of the one piece that gives any; where there are several, what is due behind them stays as it
// was.
func (x *grower) divide(g Growth) error {
	at, err := x.stage(g.At)
	if err != nil {
		return err
	}
	old := x.s.Stages[at]
	if len(g.Into) == 0 && g.Name != "" { // in two, at a new point
		g.Into = []Piece{{Name: old.Name + ", first part", Point: g.Name}, {Name: old.Name + ", second part"}}
	}
	switch {
	case len(g.Into) < 2 || len(g.Into) > mostPieces:
		return mend.Errorf("a stage is divided into two to %d", mostPieces)
	case old.From == "":
		return mend.Errorf("%s begins by itself: add a stage behind it instead", old.Name)
	}
	x.keepLevel(at)
	into := kinds(g.Into, old.Kind)
	pieces := make([]Stage, len(into))
	var points []Point
	from := old.From
	for i, p := range into {
		to := old.To
		if i < len(into)-1 {
			to = cmp.Or(p.Point, "behind "+p.Name)
			points = append(points, Point{Name: to})
		}
		pieces[i] = Stage{Name: p.Name, Kind: p.Kind, From: from, To: to, Gain: gainOf(into, i, old.Gain), Rails: slices.Clone(old.Rails),
			Needs: slices.Clone(old.Needs), Modes: slices.Clone(old.Modes), Was: renamed(old.Was, old.Name, p.Name)}
		from = to
	}
	pieces[len(pieces)-1].Limit = old.Limit
	if err := x.fresh(old.Name, pieces); err != nil {
		return err
	}
	x.s.Stages = slices.Replace(x.s.Stages, at, at+1, pieces...)
	// What is new stands before the point that they lead to.
	to := slices.IndexFunc(x.s.Points, func(p Point) bool { return p.Name == old.To })
	x.s.Points = slices.Insert(x.s.Points, max(to, 0), points...)
	x.points(old.Name, pieces)
	return nil
}

// kinds gives the pieces of a stage their names and kinds. One of them does what the stage did.
func kinds(into []Piece, whole string) []Piece {
	out := make([]Piece, len(into))
	for i, p := range into {
		p.Name, p.Point = strings.TrimSpace(p.Name), strings.TrimSpace(p.Point)
		if p.Kind == "" {
			p.Kind = KindOf(p.Name)
		}
		out[i] = p
	}
	if gives(whole) && !slices.ContainsFunc(out, func(p Piece) bool { return gives(p.Kind) }) {
		out[0].Kind = whole
	}
	return out
}

// gives tells whether a kind of stage gives the level.
func gives(kind string) bool { return slices.Contains(gains, kind) }

// gainOf is the gain of one of the pieces: the whole of it for the one that gives any, the first where
// none does; nobody knows it where there are several.
func gainOf(into []Piece, i int, whole string) string {
	var giving []int
	for k := range into {
		if gives(into[k].Kind) {
			giving = append(giving, k)
		}
	}
	if len(giving) == 0 {
		giving = []int{0}
	}
	switch {
	case !slices.Contains(giving, i):
		return "0 dB"
	case len(giving) == 1:
		return whole
	}
	return ""
}

// fresh refuses pieces whose names, or whose points, are taken. One of them may keep the stage's name.
func (x *grower) fresh(old string, pieces []Stage) error {
	seen := map[string]bool{}
	for i, p := range pieces {
		names := []string{p.Name, p.To}
		if i == len(pieces)-1 {
			names = names[:1] // its point is the stage's own
		}
		for _, name := range names {
			if seen[name] {
				return mend.Errorf("two of the parts are called %s", name)
			}
			seen[name] = true
			if name == old {
				continue
			}
			if err := x.free(name); err != nil {
				return err
			}
		}
	}
	return nil
}

// points lets what pointed at a divided stage point at its parts: usual faults at the first, complaints
// at all.
func (x *grower) points(old string, pieces []Stage) {
	for i := range x.s.WeakSpots {
		if x.s.WeakSpots[i].Stage == old {
			x.s.WeakSpots[i].Stage = pieces[0].Name
		}
	}
	for i := range x.s.Modifications {
		if x.s.Modifications[i].Stage == old {
			x.s.Modifications[i].Stage = pieces[0].Name
		}
	}
	for i := range x.s.Adjustments {
		if x.s.Adjustments[i].Stage == old {
			x.s.Adjustments[i].Stage = pieces[0].Name
		}
	}
	for i := range x.s.Circuits {
		if x.s.Circuits[i].Stage == old {
			x.s.Circuits[i].Stage = pieces[0].Name
		}
	}
	for i := range x.s.Complaints {
		c := &x.s.Complaints[i]
		if k := slices.Index(c.PointsAt, old); k >= 0 {
			var names []string
			for _, p := range pieces {
				names = append(names, p.Name)
			}
			c.PointsAt = slices.Replace(c.PointsAt, k, k+1, names...)
		}
	}
	for i := range x.s.Tracks {
		if k := slices.Index(x.s.Tracks[i].Hangs, old); k >= 0 {
			x.s.Tracks[i].Hangs[k] = pieces[0].Name
		}
	}
}

// keepLevel writes down what is due behind a stage where it was worked out from its gain, so that it is
// due still when nobody knows how the gain is divided.
func (x *grower) keepLevel(stage int) {
	to := x.plan.Stages[stage].To
	for i := range x.plan.Routes {
		r := &x.plan.Routes[i]
		at := slices.Index(r.Stages, stage)
		if at < 0 {
			continue
		}
		l := r.Levels[at+1]
		p := &x.s.Points[to]
		has := slices.ContainsFunc(p.Expect, func(e Expectation) bool { return e.Quantity == AC && (e.Mode == "" || e.Mode == r.Mode) })
		if l.Known && !l.Stated && !has {
			p.Expect = append(p.Expect, Expectation{Quantity: AC, Value: l.Nominal(), Tolerance: l.Source.Written(""), Mode: r.Mode})
		}
	}
}
