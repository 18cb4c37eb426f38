package supply

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Hunt is the search for a short on a rail: what hangs on it and what is left
// of that, what to lift next, and where millivolts along the track put it.
type Hunt struct {
	Hangs  []Hanging `json:"hangs"`
	Lift   *Lift     `json:"lift" jsonschema:"nullable"` // what to lift next
	Says   string    `json:"says"`
	Proved bool      `json:"proved"` // Says names the short: with it lifted it is gone
	Places []Place   `json:"places"`
	Found  *Found    `json:"found" jsonschema:"nullable"` // by millivolts
	Doubt  string    `json:"doubt"`                       // why the millivolts say nothing yet
	// Warm says which part takes the current that is fed in, by what grew warm; empty where
	// nothing did.
	Warm string `json:"warm"`
}

// Hanging is something that is fed by the rail.
type Hanging struct {
	Name   string `json:"name"`
	Place  string `json:"place"`
	Behind string `json:"behind"` // the nearest link that cuts it off
	Left   bool   `json:"left"`   // may be the short
	Felt   string `json:"felt"`   // as it was felt, or read in °C, with a current fed in
}

// Lift is a proposal: disconnect these, then read the rail in ohms.
type Lift struct {
	Names    []string `json:"names"` // what to note with the reading
	Sentence string   `json:"sentence"`
	Why      string   `json:"why"`
	Minutes  float64  `json:"minutes"`
}

// Place is a place on the copper with the newest reading there, in volts
// against any one reference.
type Place struct {
	Name  string   `json:"name"` // as a reading names it
	Label string   `json:"label"`
	Read  string   `json:"read"`
	Volts *float64 `json:"volts" jsonschema:"nullable"`
}

// readMinutes is what an ohms reading costs besides lifting.
const readMinutes = 1.0

// group is what one act disconnects.
type group struct {
	names   []string // what a reading says was taken out
	members []int    // of hangs
	minutes float64
	text    string
}

func (x *explainer) hunt(rail int) *Hunt {
	h := &Hunt{Hangs: []Hanging{}, Places: []Place{}}
	groups := x.hanging(rail, h)
	x.lifted(rail, h, groups)
	x.propose(rail, h, groups)
	x.millivolts(rail, h)
	x.felt(h)
	return h
}

// warmer is by how much (K) a part has to be warmer than the coolest for it to be the one that
// takes the current: more than two hands, or two places on one board, differ.
const warmer = 5.0

// felt takes what grew warm while a current was fed into the rail.
func (x *explainer) felt(h *Hunt) {
	warm, degrees := "", map[string]float64{}
	for i := range h.Hangs {
		o := &h.Hangs[i]
		for k := range x.judged {
			j := &x.judged[k]
			r := &j.Reading
			if r.Struck || j.Superseded || r.Point != o.Name || r.Quantity != sheet.Temperature {
				continue
			}
			o.Felt = j.Understood
			switch r.Word {
			case quantity.Warm:
				warm = o.Name
			case quantity.NoWord:
				degrees[o.Name] = r.SI
			}
		}
	}
	if warm == "" && len(degrees) > 1 {
		coolest := math.Inf(1)
		for _, c := range degrees {
			coolest = min(coolest, c)
		}
		for _, o := range h.Hangs { // of two as warm the first
			if c, read := degrees[o.Name]; read && c-coolest >= warmer && (warm == "" || c > degrees[warm]) {
				warm = o.Name
			}
		}
	}
	if warm != "" {
		h.Warm = fmt.Sprintf("%s grows warm: it takes the current. Lift it, and read the rail to ground; the short goes with it.", warm)
	}
}

// hanging lists what hangs on a rail: by the layout where the sheet has one,
// otherwise the stages that need the rail and its reservoirs.
func (x *explainer) hanging(rail int, h *Hunt) []group {
	var groups []group
	at := map[int][]int{} // place -> hangs
	add := func(name, place, behind string, minutes float64) {
		if slices.ContainsFunc(h.Hangs, func(o Hanging) bool { return o.Name == name }) {
			return
		}
		groups = append(groups, group{[]string{name}, []int{len(h.Hangs)}, minutes, "Lift " + name})
		h.Hangs = append(h.Hangs, Hanging{Name: name, Place: place, Behind: behind, Left: true})
	}
	for i := range x.plan.Places {
		p := &x.plan.Places[i]
		if p.Rail != rail {
			continue
		}
		behind := ""
		for up := i; up >= 0 && behind == ""; up = x.plan.Places[up].Before {
			behind = x.plan.Places[up].Opens
		}
		first := len(h.Hangs)
		for _, name := range p.Hangs {
			add(name, p.Place, behind, p.Minutes)
		}
		for k := first; k < len(h.Hangs); k++ {
			at[i] = append(at[i], k)
		}
	}
	for k := range x.plan.Reservoirs {
		if x.plan.Reservoirs[k].Rail == rail {
			add(x.plan.Reservoirs[k].Name, "", "", sheet.LiftMinutes)
		}
	}
	if len(at) == 0 {
		for k := range x.plan.Stages {
			if slices.Contains(x.plan.Stages[k].Rails, rail) {
				add(x.plan.Stages[k].Name, "", "", sheet.LiftMinutes)
			}
		}
	}
	// A link cuts off all that lies behind it.
	for i := range x.plan.Places {
		p := &x.plan.Places[i]
		if p.Rail != rail || p.Opens == "" {
			continue
		}
		g := group{names: []string{p.Opens}, minutes: p.Minutes, text: "Open " + p.Opens}
		for k := range x.plan.Places {
			if slices.Contains(x.upTo(k), i) {
				g.members = append(g.members, at[k]...)
			}
		}
		slices.Sort(g.members)
		groups = append(groups, g)
	}
	return groups
}

// upTo lists the places from one back to the beginning of its rail.
func (x *explainer) upTo(place int) []int {
	var out []int
	for at := place; at >= 0; at = x.plan.Places[at].Before {
		out = append(out, at)
	}
	return out
}

// lifted takes the readings with something lifted: where the short went, it was
// in that; where it stayed, it was not.
func (x *explainer) lifted(rail int, h *Hunt, groups []group) {
	r := &x.plan.Rails[rail]
	for i := range x.judged {
		j := &x.judged[i]
		if j.Reading.Struck || j.Superseded || j.Reading.Point != r.Name || len(j.Reading.Without) == 0 {
			continue
		}
		gone, ok := x.gone(rail, j)
		if !ok {
			continue
		}
		in := map[int]bool{}
		for _, g := range groups {
			if slices.Contains(j.Reading.Without, g.names[0]) {
				for _, m := range g.members {
					in[m] = true
				}
			}
		}
		for k := range h.Hangs {
			h.Hangs[k].Left = h.Hangs[k].Left && in[k] == gone
		}
	}
}

// gone tells whether a reading shows the short gone. Ohms are compared with the
// sheet's least, or with what the rail read before anything was lifted.
func (x *explainer) gone(rail int, j *reading.Judged) (gone, ok bool) {
	switch j.Reading.Quantity {
	case x.plan.Rails[rail].Reads():
		return j.Verdict == reading.Within, j.Verdict != reading.Unjudged
	case sheet.Resistance:
		if x.plan.Rails[rail].Ohms > 0 {
			return j.Verdict == reading.Within, true
		}
		if o := x.seen[rail].ohms; o != nil {
			return j.Reading.SI > reading.ShortGone*max(o.Reading.SI, 0.1), true
		}
	}
	return false, false
}

// propose picks what to lift next: most bits for its minutes.
func (x *explainer) propose(rail int, h *Hunt, groups []group) {
	n := 0
	for _, o := range h.Hangs {
		if o.Left {
			n++
		}
	}
	switch n {
	case 0:
		h.Says = "Nothing that the sheet has on this rail is left: it is the copper, a part the sheet does not show, or a reading with " +
			"something lifted was wrong."
		return
	case 1:
		only := h.Hangs[slices.IndexFunc(h.Hangs, func(o Hanging) bool { return o.Left })].Name
		h.Says = fmt.Sprintf("Only %s is left: lift it and test it.", only)
		for i := range x.judged {
			j := &x.judged[i]
			if !j.Reading.Struck && j.Reading.Point == x.plan.Rails[rail].Name && slices.Equal(j.Reading.Without, []string{only}) {
				if gone, ok := x.gone(rail, j); ok && gone {
					h.Says, h.Proved = fmt.Sprintf(
						"%s is the short: with it lifted %s reads %s.",
						only,
						j.Reading.Point,
						j.Understood,
					), true
				}
			}
		}
		return
	}
	h.Says = fmt.Sprintf("%d things on this rail may be the short.", n)
	best := 0.0
	for _, g := range groups {
		in := 0
		for _, m := range g.members {
			if h.Hangs[m].Left {
				in++
			}
		}
		if in == 0 || in == n {
			continue
		}
		p := float64(in) / float64(n)
		bits := -p*math.Log2(p) - (1-p)*math.Log2(1-p)
		minutes := g.minutes + readMinutes
		if bits/minutes > best {
			best = bits / minutes
			h.Lift = &Lift{Names: g.names, Sentence: g.text + ", then read the rail to ground.", Minutes: minutes,
				Why: fmt.Sprintf("if the short goes, it is in %s; if it stays, %d others are left", behind(in, h, g), n-in)}
		}
	}
}

func behind(in int, h *Hunt, g group) string {
	if in > 3 {
		return fmt.Sprintf("one of %d things there", in)
	}
	var names []string
	for _, m := range g.members {
		if h.Hangs[m].Left {
			names = append(names, h.Hangs[m].Name)
		}
	}
	return strings.Join(names, " or ")
}

// millivolts takes the readings along the copper and finds where the current leaves it.
func (x *explainer) millivolts(rail int, h *Hunt) {
	read := map[int]float64{}
	feed, amps := -1, 0.0
	for i := range x.plan.Places {
		p := &x.plan.Places[i]
		if p.Rail != rail {
			continue
		}
		out := Place{Name: x.plan.PlaceName(i), Label: p.Place}
		for k := range x.judged {
			j := &x.judged[k]
			if j.Reading.Struck || j.Superseded || j.Reading.Point != out.Name || j.Reading.Quantity != sheet.TrackVolts ||
				j.Reading.Injected == nil {
				continue
			}
			at, ok := x.plan.PlaceIndex(j.Reading.Injected.At)
			if !ok {
				continue
			}
			if at != feed || j.Reading.Injected.Level != amps {
				clear(read) // fed otherwise since: what was read before does not count with it
				for m := range h.Places {
					h.Places[m].Volts, h.Places[m].Read = nil, ""
				}
				feed, amps = at, j.Reading.Injected.Level
			}
			v := j.Reading.SI
			read[i], out.Volts, out.Read = v, &v, j.Understood
		}
		h.Places = append(h.Places, out)
	}
	if len(read) == 0 {
		return
	}
	found, err := Locate(x.copper(rail), feed, amps, read)
	if err != nil {
		h.Doubt = err.Error()
		return
	}
	found.describe(x.plan, h)
	h.Found = &found
}

// copper gives the places of one rail as a tree.
func (x *explainer) copper(rail int) []Segment {
	out := make([]Segment, len(x.plan.Places))
	for i := range x.plan.Places {
		p := &x.plan.Places[i]
		out[i] = Segment{Before: p.Before, Ohms: p.Ohms}
		if p.Rail != rail {
			out[i].Before = -2
		}
	}
	return out
}

// describe says in words where the short is.
func (f *Found) describe(p *sheet.Plan, h *Hunt) {
	from, to := p.Places[f.From].Place, p.Places[f.To].Place
	near := f.From
	if f.Share > 0.5 {
		near = f.To
	}
	f.Near = p.Places[near].Place
	const at = 0.08 // of a segment: as good as at its end
	switch {
	case f.From == f.To || f.Share < at || f.Share > 1-at:
		f.Sentence = fmt.Sprintf("The current leaves the track at %s.", f.Near)
	default:
		f.Sentence = fmt.Sprintf("The current leaves the track between %s and %s, %.0f %% of the way.", from, to, 100*f.Share)
	}
	var names []string
	for _, o := range h.Hangs {
		if o.Left && (o.Place == f.Near || o.Place == from && f.Share < 1-at || o.Place == to && f.Share > at) {
			names = append(names, o.Name)
		}
	}
	if len(names) > 0 {
		f.Sentence += fmt.Sprintf(" There hang %s.", strings.Join(names, ", "))
	}
}
