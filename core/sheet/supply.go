package sheet

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"steptrace/core/quantity"
)

// PlanRail is a rail with its numbers. Zero means that the sheet does not say.
type PlanRail struct {
	*Rail
	Volts float64 // DC; rms where it alternates
	// Alternates tells that the rail is an alternating voltage, as most heaters have.
	Alternates bool
	Tolerance  quantity.Tolerance
	Source     Source
	RippleV    float64 // highest peak to peak on a good set
	RippleHz   float64
	LoadA      float64
	Ohms       float64 // least resistance to ground on a good set that is off
	Parent     int     // the rail it is made from; -1 where it comes from a winding
	Signal     int     // the point whose signal it is made from, as those of a line output are; -1 for none
	Order      int
}

// PlanReservoir is a reservoir with its numbers. Rail is -1 where it is on none.
type PlanReservoir struct {
	*Reservoir
	Rail        int
	Farads      float64
	Volts       float64
	BleederOhms float64 // 0 where there is none
}

// Place is a place on a rail's copper, with its numbers. Before indexes
// Plan.Places; -1 at the beginning of the rail.
type Place struct {
	*Track
	Rail    int
	Before  int
	Ohms    float64 // of the copper from the place before
	Minutes float64
}

// Rectifiers are the ways to make DC that a sheet may name.
var rectifiers = []string{"half wave", "full wave", "switching"}

const (
	// LiftMinutes is what unsoldering one leg costs where nobody wrote it down.
	LiftMinutes = 3.0
	// copperOhms stands for a piece of track of unknown resistance: 20 mm of
	// 2 mm wide, 35 µm copper (ρ = 17.2 nΩ·m gives 4.9 mΩ).
	copperOhms = 0.005
)

func (w *planner) rails() {
	for i := range w.plan.Sheet.Rails {
		r := &w.plan.Sheet.Rails[i]
		path, where := "rails/"+strconv.Itoa(i), "rail "+r.Name
		if r.Name == "" {
			where = fmt.Sprintf("rail %d", i+1)
			w.add(Blocking, where, path+"/name", "a rail needs a name, for example +24 V")
		} else {
			w.lineNamed(where, path+"/name", r.Name, i)
		}
		w.plan.Rails = append(w.plan.Rails, w.rail(where, path, r))
	}
	for i := range w.plan.Rails {
		r := &w.plan.Rails[i]
		if parent, ok := w.plan.lineIndex[r.From]; ok {
			r.Parent = parent
		} else if point, ok := w.plan.pointIndex[r.From]; ok {
			r.Signal = point
		}
	}
}

// Reads is what a rail is read in: DC volts, or AC volts where it alternates.
func (r *PlanRail) Reads() Quantity {
	if r.Alternates {
		return AC
	}
	return DC
}

// Due writes the voltage that is due: "24 V", "6.3 Vrms".
func (r *PlanRail) Due() string {
	if r.Alternates {
		return quantity.Value{SI: r.Volts, Unit: quantity.Volt, Form: quantity.RMS}.Short(3)
	}
	return quantity.Rounded(r.Volts, quantity.Volt)
}

// LineReads is what a rail or a control is read in.
func (p *Plan) LineReads(line int) Quantity {
	if line < len(p.Rails) {
		return p.Rails[line].Reads()
	}
	return DC
}

// MostRipple is the highest ripple of a good set, volts peak to peak: as the sheet states it, or what is usual. A reservoir
// is chosen to leave a twentieth or less of its volts at full load; what a regulator or a second filter is behind, a hundredth.
func (r *PlanRail) MostRipple() (pp float64, from Source) {
	const reservoir, smoothed = 0.05, 0.01
	switch volts := math.Abs(r.Volts); {
	case r.RippleV > 0:
		return r.RippleV, FromManual
	case r.Parent >= 0 || r.Regulator != "":
		return smoothed * volts, Usual
	default:
		return reservoir * volts, Usual
	}
}

// rail reads the numbers of one rail.
func (w *planner) rail(where, path string, r *Rail) PlanRail {
	pr := PlanRail{Rail: r, Parent: -1, Signal: -1}
	v, err := quantity.ParseAs(r.Value, quantity.Volt)
	if err != nil {
		w.add(Blocking, where, path+"/value", "%v", err)
	} else if v.SI == 0 {
		w.add(Blocking, where, path+"/value", "a rail of 0 V is ground: leave it out")
	}
	pr.Volts = v.SI
	if pr.Alternates = err == nil && v.Form != quantity.Unstated && v.Form != quantity.DC; pr.Alternates {
		if pr.Volts, err = quantity.Sine.Convert(v.SI, v.Form, quantity.RMS); err != nil || v.SI < 0 {
			w.add(Blocking, where, path+"/value", "an alternating voltage is above zero, for example 6.3 Vac, not %q", r.Value)
		}
	}
	from, stated := sourceOf(r.Tolerance)
	pr.Source = from
	pr.Tolerance = w.tolerance(where, path+"/tolerance", stated, quantity.Volt, toleranceFrom(from, railTolerance, quantity.Volt))
	pr.RippleV = w.ripple(where, path, r.Ripple)
	pr.RippleHz = w.positive(where, path+"/rippleFrequency", r.RippleFrequency, quantity.Hertz)
	pr.LoadA = w.positive(where, path+"/load", r.Load, quantity.Ampere)
	pr.Ohms = w.positive(where, path+"/ohms", r.Ohms, quantity.Ohm)
	if r.Rectifier != "" && r.RectifierKind() == "" {
		w.add(
			Doubtful,
			where,
			path+"/rectifier",
			"%q does not say how it rectifies: begin with %s",
			r.Rectifier,
			strings.Join(rectifiers, ", "),
		)
	}
	switch r.Up {
	case "", WithMains, WithStart:
	default:
		w.add(Blocking, where, path+"/up", "%q is not when a rail comes up: write mains or start", r.Up)
	}
	if text := strings.TrimSpace(r.Order); text != "" {
		n, err := strconv.Atoi(text)
		if err != nil || n < 1 || n > maxPoints {
			w.add(
				Blocking,
				where,
				path+"/order",
				"%q is no place in an order: write 1 for the first rail to come up, 2 for the next",
				r.Order,
			)
		} else {
			pr.Order = n
		}
	}
	return pr
}

// ripple reads a ripple, understood peak to peak.
func (w *planner) ripple(where, path, text string) float64 {
	if strings.TrimSpace(text) == "" {
		return 0
	}
	v, err := quantity.ParseAs(text, quantity.Volt)
	if err == nil && v.Form == quantity.Unstated {
		v.Form = quantity.PeakPeak
	}
	if err == nil {
		// Ripple is near a sawtooth, whose crest is a triangle's.
		v.SI, err = quantity.Triangle.Convert(v.SI, v.Form, quantity.PeakPeak)
	}
	if err != nil || v.SI <= 0 {
		w.add(Blocking, where, path+"/ripple", "ripple is an AC voltage above zero, for example 400 mVpp, not %q", text)
		return 0
	}
	return v.SI
}

// positive reads an optional value above zero; 0 where there is none.
func (w *planner) positive(where, path, text string, unit quantity.Unit) float64 {
	x := w.number(where, path, text, unit, 0)
	if x < 0 || x == 0 && strings.TrimSpace(text) != "" {
		w.add(Blocking, where, path, "%s must be above zero; leave it empty where it is not known", text)
		return 0
	}
	return x
}

// rectifierWords are other words for the ways to rectify.
var rectifierWords = map[string]string{
	"bridge":        "full wave",
	"full-wave":     "full wave",
	"fullwave":      "full wave",
	"centre tap":    "full wave",
	"center tap":    "full wave",
	"two diodes":    "full wave",
	"four diodes":   "full wave",
	"half-wave":     "half wave",
	"halfwave":      "half wave",
	"single diode":  "half wave",
	"one diode":     "half wave",
	"smps":          "switching",
	"flyback":       "switching",
	"switch mode":   "switching",
	"switched mode": "switching",
	"line output":   "switching",
}

// RectifierKind is how the rail is rectified: "half wave", "full wave",
// "switching", or nothing.
func (r *Rail) RectifierKind() string {
	text := strings.ToLower(strings.Join(strings.Fields(r.Rectifier), " "))
	for _, kind := range rectifiers {
		if strings.HasPrefix(text, kind) {
			return kind
		}
	}
	for word, kind := range rectifierWords {
		if strings.HasPrefix(text, word) {
			return kind
		}
	}
	return ""
}

// PlaceName names a place on a rail's copper as readings do: "+24 V @ C301 +".
func (p *Plan) PlaceName(place int) string {
	return p.Rails[p.Places[place].Rail].Name + " @ " + p.Places[place].Place
}

// PlaceIndex finds a place by that name.
func (p *Plan) PlaceIndex(name string) (int, bool) {
	for i := range p.Places {
		if p.Places[i].Rail >= 0 && p.PlaceName(i) == name {
			return i, true
		}
	}
	return 0, false
}

// CanBeOut tells whether something of this name can be swapped for a good one,
// lifted or opened: a stage, a reservoir, a link, or what hangs on a track.
func (p *Plan) CanBeOut(name string) bool {
	return slices.ContainsFunc(p.Stages, func(s PlanStage) bool { return s.Name == name || slices.Contains(s.Was, name) }) ||
		len(p.FuseRails(name)) > 0 ||
		slices.ContainsFunc(p.Reservoirs, func(c PlanReservoir) bool { return c.Name == name }) ||
		slices.ContainsFunc(p.Places, func(t Place) bool { return t.Opens == name && name != "" || slices.Contains(t.Hangs, name) })
}

// FuseRails lists the rails that a fuse feeds, with those made from them.
func (p *Plan) FuseRails(fuse string) []int {
	var out []int
	for i := range p.Rails {
		if fuse != "" && slices.ContainsFunc(p.Feeds(i), func(f int) bool { return p.Rails[f].Fuse == fuse }) {
			out = append(out, i)
		}
	}
	return out
}

func (w *planner) reservoirs() {
	seen := map[string]bool{}
	for i := range w.plan.Sheet.Reservoirs {
		c := &w.plan.Sheet.Reservoirs[i]
		path, where := "reservoirs/"+strconv.Itoa(i), "reservoir "+c.Name
		switch {
		case c.Name == "":
			where = fmt.Sprintf("reservoir %d", i+1)
			w.add(Blocking, where, path+"/name", "a reservoir capacitor needs a name, for example C20")
		case seen[c.Name]:
			w.add(Blocking, where, path+"/name", "two reservoirs are called %s: rename one", c.Name)
		}
		seen[c.Name] = true
		pc := PlanReservoir{Reservoir: c, Rail: -1}
		if c.Rail != "" {
			r, ok := w.plan.RailIndex(c.Rail)
			if !ok {
				w.add(Blocking, where, path+"/rail", "it stands on a rail called %s, which the sheet does not have", c.Rail)
			} else {
				pc.Rail, pc.Volts = r, math.Abs(w.plan.Rails[r].Volts)
			}
		}
		pc.Farads = w.positive(where, path+"/farads", c.Farads, quantity.Farad)
		if c.Farads == "" {
			w.add(Blocking, where, path+"/farads", "a reservoir needs its capacitance, for example 4700 µF: its energy follows from it")
		}
		if v := w.number(where, path+"/volts", c.Volts, quantity.Volt, 0); v != 0 {
			pc.Volts = math.Abs(v)
		} else if pc.Volts == 0 {
			w.add(Blocking, where, path+"/volts", "say what it is charged to, or which rail it stands on")
		}
		pc.BleederOhms = w.positive(where, path+"/bleeder", c.Bleeder, quantity.Ohm)
		w.plan.Reservoirs = append(w.plan.Reservoirs, pc)
	}
}

func (w *planner) tracks() {
	type place struct {
		rail int
		name string
	}
	at := map[place]int{}
	for i := range w.plan.Sheet.Tracks {
		t := &w.plan.Sheet.Tracks[i]
		path, where := "tracks/"+strconv.Itoa(i), "place "+t.Place
		pl := Place{Track: t, Rail: -1, Before: -1, Ohms: copperOhms, Minutes: LiftMinutes}
		if r, ok := w.plan.RailIndex(t.Rail); ok {
			pl.Rail = r
		} else {
			w.add(Blocking, where, path+"/rail", "it lies on a rail called %q, which the sheet does not have", t.Rail)
		}
		key := place{pl.Rail, t.Place}
		if _, twice := at[key]; twice || t.Place == "" {
			w.add(Blocking, where, path+"/place", "each place on a rail needs a name of its own")
		}
		switch before, ok := at[place{pl.Rail, t.After}]; {
		case t.After == "":
			if slices.ContainsFunc(w.plan.Places, func(x Place) bool { return x.Rail == pl.Rail && x.Before < 0 }) {
				w.add(Blocking, where, path+"/after", "rail %s has a first place already: say which place this one comes after", t.Rail)
			}
		case !ok:
			w.add(
				Blocking,
				where,
				path+"/after",
				"%s is not a place of this rail that stands above: list the places from the supply outwards",
				t.After,
			)
		default:
			pl.Before = before
		}
		if x := w.positive(where, path+"/ohms", t.Ohms, quantity.Ohm); x > 0 {
			pl.Ohms = x
		}
		if x := w.positive(where, path+"/minutes", t.Minutes, quantity.None); x > 0 {
			pl.Minutes = x
		}
		at[key] = i
		w.plan.Places = append(w.plan.Places, pl)
	}
}

// isBlock tells whether a stage, a rail or a control has a name.
func (w *planner) isBlock(name string) bool {
	_, isLine := w.plan.lineIndex[name]
	return isLine || slices.ContainsFunc(w.plan.Stages, func(st PlanStage) bool { return st.Name == name })
}

// care checks what the sheet says of dangers and usual faults.
func (w *planner) care() {
	for i, h := range w.plan.Sheet.Hazards {
		if !slices.Contains(HazardKinds, h.Kind) {
			w.add(
				Blocking,
				"hazard "+h.Kind,
				fmt.Sprintf("hazards/%d/kind", i),
				"%q is not a known danger: use %s",
				h.Kind,
				strings.Join(HazardKinds, ", "),
			)
		}
	}
	for i, c := range w.plan.Sheet.Complaints {
		where := fmt.Sprintf("complaint %q", c.Says)
		if strings.TrimSpace(c.Says) == "" {
			w.add(Blocking, where, fmt.Sprintf("complaints/%d/says", i), "say how owners tell it")
		}
		for _, name := range c.PointsAt {
			if !w.isBlock(name) {
				w.add(
					Blocking,
					where,
					fmt.Sprintf("complaints/%d/pointsAt", i),
					"%q is neither a stage, a rail nor a control of this sheet",
					name,
				)
			}
		}
	}
	for i, s := range w.plan.Sheet.WeakSpots {
		if !w.isBlock(s.Stage) {
			w.add(
				Blocking,
				"weak spot "+s.What,
				fmt.Sprintf("weakSpots/%d/stage", i),
				"%q is neither a stage, a rail nor a control of this sheet",
				s.Stage,
			)
		}
		if s.What == "" {
			w.add(Blocking, "weak spot in "+s.Stage, fmt.Sprintf("weakSpots/%d/what", i), "say what the usual fault is")
		}
	}
	w.modifications()
}

// Hang adds what hangs on a rail to the sheet, at a place of its copper; without one at its
// first. A rail of which the sheet has no copper gets a first place, where the stages that need
// it hang too. The sheet itself is left as it is. The error says what is wrong with a name.
func (s *Sheet) Hang(p *Plan, rail, place string, names []string) (*Sheet, error) {
	k, ok := p.RailIndex(rail)
	if !ok {
		return nil, fmt.Errorf("the sheet has no rail called %q", rail)
	}
	out := *s
	out.Tracks = slices.Clone(s.Tracks)
	at := slices.IndexFunc(out.Tracks, func(t Track) bool {
		return t.Rail == rail && (t.Place == place || place == "" && t.After == "")
	})
	switch {
	case at < 0 && place != "":
		return nil, fmt.Errorf("%s has no place called %q on its copper", rail, place)
	case at < 0:
		first := Track{Rail: rail, Place: cmp.Or(p.Rails[k].Point, rail)}
		for i := range p.Stages {
			if slices.Contains(p.Stages[i].Rails, k) {
				first.Hangs = append(first.Hangs, p.Stages[i].Name)
			}
		}
		at = len(out.Tracks)
		out.Tracks = append(out.Tracks, first)
	}
	t := &out.Tracks[at]
	t.Hangs = slices.Clone(t.Hangs)
	added := false
	for _, name := range names {
		name = strings.TrimSpace(name)
		if name == "" || utf8.RuneCountInString(name) > maxHangs || strings.Contains(name, ";") {
			return nil, fmt.Errorf("%q is no name of a part: up to %d characters, without a semicolon", name, maxHangs)
		}
		if !slices.Contains(t.Hangs, name) {
			t.Hangs, added = append(t.Hangs, name), true
		}
	}
	if !added {
		return nil, errors.New("all of it hangs there already")
	}
	return &out, nil
}

// maxHangs is how long the name of something on a rail may be.
const maxHangs = 40
