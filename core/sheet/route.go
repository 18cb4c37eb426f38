package sheet

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// Route is one way through the set for a signal, in a mode. Points has one
// more entry than Stages: stage i leads from point i to point i+1.
type Route struct {
	Key    string // stays the same while the sheet's names do
	Name   string
	Mode   string
	Points []int
	Stages []int
	Levels []Level   // expected on a good set, one per point
	Gains  []float64 // of each stage on this route in dB; NaN where unknown
}

// Level is the signal expected at a point of a route under the sheet's own
// drive.
type Level struct {
	Known     bool
	Stated    bool    // printed on the sheet, not worked out from gains
	DBV       float64 // dB against 1 V rms
	Tolerance quantity.Tolerance
	Source    Source
	Form      quantity.Form // as the sheet states it; rms where worked out
	Shape     quantity.Shape
	Hz        float64 // 0 where unknown
	Settings  string
	Picture   string
}

// Text writes the level as a person would read it off.
func (l Level) Text() string { return l.TextAt(l.DBV) }

// Nominal writes its middle: what a generator is set to, even where the sheet knows only what is usual.
func (l Level) Nominal() string { return LevelText(l.DBV, l.Form, l.Shape) }

// TextAt writes it as it is under another drive, or to another instrument (dB against 1 V rms): a
// usual level as the band in which it lies.
func (l Level) TextAt(dbv float64) string {
	if l.Source != Usual {
		return LevelText(dbv, l.Form, l.Shape)
	}
	low, errLow := l.Shape.Convert(quantity.Times(dbv-l.Tolerance.Low), quantity.RMS, l.Form)
	high, errHigh := l.Shape.Convert(quantity.Times(dbv+l.Tolerance.High), quantity.RMS, l.Form)
	form := l.Form
	if errLow != nil || errHigh != nil {
		low, high, form = quantity.Times(dbv-l.Tolerance.Low), quantity.Times(dbv+l.Tolerance.High), quantity.RMS
	}
	if form == quantity.RMS {
		form = quantity.Unstated
	}
	return "usually " + Between(low, high, form, quantity.Volt)
}

// LevelText writes a level in dB against 1 V rms in another form, to three
// figures.
func LevelText(dbv float64, form quantity.Form, shape quantity.Shape) string {
	x, err := shape.Convert(quantity.Times(dbv), quantity.RMS, form)
	if err != nil {
		x, form = quantity.Times(dbv), quantity.RMS
	}
	v := quantity.Value{SI: x, Unit: quantity.Volt}
	if form != quantity.RMS {
		v.Form = form
	}
	return v.Short(3)
}

// EntryName names where a route begins: its first point, or the stage that makes a signal by itself.
func (p *Plan) EntryName(r *Route) string {
	if len(r.Stages) > 0 && p.Points[r.Points[0]].Source {
		return p.Stages[r.Stages[0]].Name
	}
	return p.Points[r.Points[0]].Name
}

// EntryIndex finds the point where a route of an entry begins, by that entry's name.
func (p *Plan) EntryIndex(name string) (int, bool) {
	for i := range p.Routes {
		if p.EntryName(&p.Routes[i]) == name {
			return p.Routes[i].Points[0], true
		}
	}
	return 0, false
}

// Route finds a route by its key, or by one that it had when its ends were called otherwise.
func (p *Plan) Route(key string) (*Route, bool) {
	find := func(key string) (*Route, bool) {
		i := slices.IndexFunc(p.Routes, func(r Route) bool { return r.Key == key })
		if i < 0 {
			return nil, false
		}
		return &p.Routes[i], true
	}
	if r, ok := find(key); ok {
		return r, true
	}
	parts := strings.Split(key, "|")
	for i := 1; i < len(parts); i++ {
		parts[i] = p.NowOf(parts[i])
	}
	return find(strings.Join(parts, "|"))
}

// At finds a point (index into Plan.Points) on the route.
func (r *Route) At(point int) (int, bool) {
	i := slices.Index(r.Points, point)
	return i, i >= 0
}

// Modes lists the modes named by any stage, in order; one empty mode where
// none is named.
func (p *Plan) Modes() []string {
	var modes []string
	for i := range p.Stages {
		for _, m := range p.Stages[i].Modes {
			if !slices.Contains(modes, m) {
				modes = append(modes, m)
			}
		}
	}
	if len(modes) == 0 {
		return []string{""}
	}
	return modes
}

func (s *PlanStage) carries(mode string) bool {
	return len(s.Modes) == 0 || slices.Contains(s.Modes, mode)
}

// routes finds the loops, the dangling points and the routes of every mode.
//
// Long: one walk through the set, which needs all that it has met.
func (w *planner) routes() {
	p := w.plan
	modes := p.Modes()
	out := make([][]int, len(p.Points)) // stages leaving each point, in any mode
	into := make([]int, len(p.Points))
	for i := range p.Stages {
		s := &p.Stages[i]
		if s.From < 0 || s.To < 0 || s.Returns() {
			continue
		}
		out[s.From] = append(out[s.From], i)
		into[s.To]++
	}
	for i := range p.Points {
		if len(out[i]) == 0 && into[i] == 0 && p.Points[i].Name != "" && len(p.Points) > 1 && p.PartOf(i) == "" {
			w.add(
				Doubtful,
				"point "+p.Points[i].Name,
				fmt.Sprintf("points/%d/name", i),
				"no stage leads to it or away from it, so no route passes it",
			)
		}
		for j, e := range p.Points[i].Expected {
			if e.Mode != "" && !slices.Contains(modes, e.Mode) {
				w.add(
					Doubtful,
					"point "+p.Points[i].Name,
					fmt.Sprintf("points/%d/expect/%d/mode", i, j),
					"no stage has a mode called %s",
					e.Mode,
				)
			}
		}
	}
	for _, mode := range modes {
		if loop := w.loop(out, mode); loop != nil {
			names := make([]string, len(loop))
			for i, at := range loop {
				names[i] = p.Points[at].Name
			}
			w.add(
				Blocking,
				"the path",
				"stages",
				"the stages run in a loop: %s. Give the stage that leads back the kind feedback, or treat what is inside the loop as "+
					"one stage",
				strings.Join(names, " to "),
			)
			return
		}
	}
	w.loops(out)
	for _, mode := range modes {
		ends := w.leadsOut(out, mode)
		for i := range p.Points {
			if into[i] == 0 && len(out[i]) > 0 && ends[i] {
				w.walk(out, ends, mode, []int{i}, nil)
			}
		}
	}
	if len(p.Routes) >= maxRoutes {
		w.add(
			Doubtful,
			"the path",
			"stages",
			"more than %d routes: only the first %d are kept. Split the set into several sheets",
			maxRoutes,
			maxRoutes,
		)
	}
	if len(p.Routes) == 0 && len(p.Points) > 0 && p.Traceable() {
		w.add(
			Doubtful,
			"the path",
			"stages",
			"no route runs from an entry to an exit: only rails, controls and single points can be traced by it. For a signal's way, "+
				"add the stages between the points",
		)
	} else if len(p.Routes) == 0 && len(p.Points) > 0 {
		w.add(Blocking, "the path", "stages", "no route runs from an entry to an exit: add the stages between the points")
	}
	w.unreached(out, into)
	w.nameRoutes()
	w.levels()
}

// unreached doubts points that stages lead to or from, but no signal passes in
// any one mode.
func (w *planner) unreached(out [][]int, into []int) {
	p := w.plan
	passed := make([]bool, len(p.Points))
	for i := range p.Routes {
		for _, at := range p.Routes[i].Points {
			passed[at] = true
		}
	}
	for i := range p.Points {
		if !passed[i] && (len(out[i]) > 0 || into[i] > 0) && len(p.Routes) > 0 && len(p.Routes) < maxRoutes {
			w.add(
				Doubtful,
				"point "+p.Points[i].Name,
				fmt.Sprintf("points/%d/name", i),
				"in no mode does a signal pass it from an entry to an exit: look at the modes of the stages before and behind it",
			)
		}
	}
}

// loop returns the points of a loop in a mode, first and last the same, or nil.
func (w *planner) loop(out [][]int, mode string) []int {
	const (
		unseen = iota
		open
		done
	)
	p := w.plan
	state := make([]int, len(p.Points))
	var path []int
	var visit func(at int) []int
	visit = func(at int) []int {
		state[at] = open
		path = append(path, at)
		for _, s := range out[at] {
			to := p.Stages[s].To
			if !p.Stages[s].carries(mode) {
				continue
			}
			if state[to] == open {
				return append(slices.Clone(path[slices.Index(path, to):]), to)
			}
			if state[to] == unseen {
				if found := visit(to); found != nil {
					return found
				}
			}
		}
		path = path[:len(path)-1]
		state[at] = done
		return nil
	}
	for i := range p.Points {
		if state[i] == unseen {
			if found := visit(i); found != nil {
				return found
			}
		}
	}
	return nil
}

// leadsOut tells for each point whether an exit can be reached from it in a
// mode. An exit is a point that no stage leaves in any mode, so that a branch
// which the mode cuts off is not taken for the end of a route.
func (w *planner) leadsOut(out [][]int, mode string) []bool {
	p := w.plan
	const unseen, no, yes = 0, 1, 2
	state := make([]int, len(p.Points))
	var visit func(at int) bool
	visit = func(at int) bool {
		if state[at] == unseen {
			state[at] = no
			if len(out[at]) == 0 {
				state[at] = yes
			}
			for _, s := range out[at] {
				if p.Stages[s].carries(mode) && visit(p.Stages[s].To) {
					state[at] = yes
				}
			}
		}
		return state[at] == yes
	}
	ends := make([]bool, len(p.Points))
	for i := range ends {
		ends[i] = visit(i)
	}
	return ends
}

// walk follows the stages of a mode from the last of points to every exit.
// Only points that lead out are entered, so that the work is bounded by the
// routes found, whatever the sheet looks like.
func (w *planner) walk(out [][]int, ends []bool, mode string, points, stages []int) {
	p := w.plan
	if len(p.Routes) >= maxRoutes {
		return
	}
	at := points[len(points)-1]
	if len(out[at]) == 0 {
		p.Routes = append(p.Routes, Route{Mode: mode, Points: slices.Clone(points), Stages: slices.Clone(stages)})
		return
	}
	for _, s := range out[at] {
		if to := p.Stages[s].To; ends[to] && p.Stages[s].carries(mode) {
			w.walk(out, ends, mode, append(points, to), append(stages, s))
		}
	}
}

func (w *planner) nameRoutes() {
	p := w.plan
	used := map[string]int{}
	for i := range p.Routes {
		r := &p.Routes[i]
		from, to := p.Points[r.Points[0]].Name, p.Points[r.Points[len(r.Points)-1]].Name
		r.Key = strings.Join([]string{r.Mode, from, to}, "|")
		used[r.Key]++
		r.Name = from + " to " + to
		if r.Mode != "" {
			r.Name = r.Mode + ", " + r.Name
		}
		for _, n := range p.Sheet.Routes {
			if n.From == from && n.To == to && (n.Mode == r.Mode || n.Mode == "") {
				r.Name = n.Name
			}
		}
		if n := used[r.Key]; n > 1 {
			r.Key = fmt.Sprintf("%s|%d", r.Key, n)
			r.Name = fmt.Sprintf("%s, way %d", r.Name, n)
		}
	}
	for i, n := range p.Sheet.Routes {
		if !slices.ContainsFunc(p.Routes, func(r Route) bool {
			return p.Points[r.Points[0]].Name == n.From && p.Points[r.Points[len(r.Points)-1]].Name == n.To &&
				(n.Mode == "" || n.Mode == r.Mode)
		}) {
			w.add(Doubtful, "route "+n.Name, fmt.Sprintf("routes/%d/from", i), "no route runs from %s to %s", n.From, n.To)
		}
	}
}

// levels works out the expected level at each point of each route, and doubts
// the sheet where stated levels and gains contradict each other.
func (w *planner) levels() {
	said := map[string]bool{}
	for i := range w.plan.Routes {
		r := &w.plan.Routes[i]
		r.Levels = make([]Level, len(r.Points))
		r.Gains = make([]float64, len(r.Stages))
		for j, s := range r.Stages {
			r.Gains[j] = math.NaN()
			if st := &w.plan.Stages[s]; st.GainKnown {
				r.Gains[j] = st.GainDB
			}
		}
		w.statedLevels(r)
		w.compareGains(r, said)
		w.deriveLevels(r)
	}
}

// bestFor picks the expectation of a quantity that holds in a mode.
func bestFor(expected []Expected, q Quantity, mode string) (Expected, bool) {
	for _, want := range []string{mode, ""} {
		for _, e := range expected {
			if e.Quantity == q && e.Mode == want {
				return e, true
			}
		}
	}
	return Expected{}, false
}

// Expect gives what is expected of a quantity at a point in a mode.
func (p *Plan) Expect(point int, q Quantity, mode string) (Expected, bool) {
	return bestFor(p.Points[point].Expected, q, mode)
}

func (w *planner) statedLevels(r *Route) {
	entry := math.NaN()
	hz := 0.0
	for i, at := range r.Points {
		l, driveV := w.plan.stated(at, r.Mode)
		if l.Hz == 0 {
			l.Hz = hz
		}
		hz = l.Hz
		if i == 0 && l.Known {
			entry = l.DBV
		}
		if driveV > 0 && !math.IsNaN(entry) {
			// Stated for another drive: moved to the route's own, dB for dB.
			l.DBV += entry - quantity.DB(driveV, 1)
		}
		r.Levels[i] = l
	}
}

// stated is the level that the sheet prints at a point in a mode, and the generator's
// level (V rms) that it is printed for, where that is not the entry's own.
func (p *Plan) stated(point int, mode string) (l Level, driveV float64) {
	l = Level{Tolerance: levelTolerance, Form: quantity.RMS, Shape: quantity.Sine}
	if f, ok := p.Expect(point, Frequency, mode); ok {
		l.Hz = f.Value.SI
	}
	e, ok := p.Expect(point, AC, mode)
	if !ok {
		return l, 0
	}
	// Convert cannot fail: the expectation was refused otherwise.
	rms, _ := e.Shape.Convert(e.Value.SI, e.Value.Form, quantity.RMS)
	l.Known, l.Stated = true, true
	l.DBV = quantity.DB(rms, 1)
	l.Form, l.Shape = e.Value.Form, e.Shape
	l.Tolerance = inDecibels(e.Tolerance, e.Value.SI)
	l.Settings, l.Picture, l.Source = e.Settings, e.Picture, e.Source
	return l, e.DriveV
}

// LevelOff is the level printed at a point that lies on no route; false where there is
// none, or it holds for a generator at another place.
func (p *Plan) LevelOff(point int, mode string) (Level, bool) {
	l, driveV := p.stated(point, mode)
	return l, l.Known && driveV == 0
}

// inDecibels restates a tolerance of a level (nominal in its own unit) in dB.
func inDecibels(t quantity.Tolerance, nominal float64) quantity.Tolerance {
	if t.Unit == quantity.Decibel {
		return t
	}
	low, high := t.Bounds(nominal)
	out := quantity.Tolerance{Low: math.Inf(1), High: quantity.DB(high, nominal), Unit: quantity.Decibel}
	if low > 0 {
		out.Low = quantity.DB(nominal, low)
	}
	return out
}

// after gives the level (dB against 1 V rms) behind a stage for a level before
// it, on a set in order.
func (s *PlanStage) after(in, gain float64) float64 { return min(in+gain, s.ClipDBV) }

// compareGains goes from each stated level to the next and compares the gains
// between them. A single unknown gain is worked out from the levels.
func (w *planner) compareGains(r *Route, said map[string]bool) {
	last := -1
	for i := range r.Levels {
		if !r.Levels[i].Stated {
			continue
		}
		if last >= 0 {
			w.compareSpan(r, last, i, said)
		}
		last = i
	}
}

func (w *planner) compareSpan(r *Route, a, b int, said map[string]bool) {
	p := w.plan
	level, unknown := r.Levels[a].DBV, -1
	vague := r.Levels[a].Source == Usual || r.Levels[b].Source == Usual // which contradicts nothing
	sum := 0.0
	for i := a; i < b; i++ {
		if math.IsNaN(r.Gains[i]) {
			if unknown >= 0 {
				return
			}
			unknown = i
			continue
		}
		sum += r.Gains[i]
		vague = vague || p.Stages[r.Stages[i]].GainFrom == Usual
		level = p.Stages[r.Stages[i]].after(level, r.Gains[i])
	}
	stated := r.Levels[b].DBV - r.Levels[a].DBV
	if unknown >= 0 {
		r.Gains[unknown] = stated - sum
		return
	}
	off := r.Levels[b].DBV - level
	if math.Abs(off) <= contradiction || vague {
		return
	}
	stage := &p.Stages[r.Stages[b-1]]
	where := "stage " + stage.Name
	names := stage.Name + " is given"
	if b-a > 1 {
		first := &p.Stages[r.Stages[a]]
		where = fmt.Sprintf("stages %s to %s", first.Name, stage.Name)
		names = "the stages between are given"
	}
	message := fmt.Sprintf(
		"%s %s, but %s at %s and %s at %s make %s: they contradict by %.1f dB",
		names,
		quantity.SignedDB(level-r.Levels[a].DBV),
		p.Points[r.Points[a]].Name,
		r.Levels[a].Text(),
		p.Points[r.Points[b]].Name,
		r.Levels[b].Text(),
		quantity.SignedDB(stated),
		math.Abs(off),
	)
	if said[where+message] {
		return
	}
	said[where+message] = true
	w.add(Doubtful, where, fmt.Sprintf("stages/%d/gain", r.Stages[b-1]), "%s", message)
}

// deriveLevels fills levels that the sheet does not state from the gains,
// forwards from the last known level and then backwards from the next.
func (w *planner) deriveLevels(r *Route) {
	for i := 1; i < len(r.Levels); i++ {
		if g := r.Gains[i-1]; !r.Levels[i].Known && r.Levels[i-1].Known && !math.IsNaN(g) {
			r.Levels[i].derive(w.plan.Stages[r.Stages[i-1]].after(r.Levels[i-1].DBV, g),
				vaguer(r.Levels[i-1].Source, w.plan.Stages[r.Stages[i-1]].GainFrom))
		}
	}
	for i := len(r.Levels) - 2; i >= 0; i-- {
		if g := r.Gains[i]; !r.Levels[i].Known && r.Levels[i+1].Known && !math.IsNaN(g) {
			r.Levels[i].derive(r.Levels[i+1].DBV-g, vaguer(r.Levels[i+1].Source, w.plan.Stages[r.Stages[i]].GainFrom))
		}
	}
	for i := range r.Gains {
		if math.IsNaN(r.Gains[i]) && r.Levels[i].Known && r.Levels[i+1].Known {
			r.Gains[i] = r.Levels[i+1].DBV - r.Levels[i].DBV
		}
	}
}

// derive sets a level that is worked out from others.
func (l *Level) derive(dbv float64, from Source) {
	l.Known, l.DBV, l.Source = true, dbv, from
	l.Tolerance = toleranceFrom(from, levelTolerance, quantity.Volt)
}

// Drive gives the level expected at point to of the route (dB against 1 V rms)
// when a level is fed in at point from, on a set in order. Levels follow the
// input dB for dB, up to a stage that clips or holds its output by automatic
// gain. It reports false where the sheet knows too little.
func (p *Plan) Drive(r *Route, from int, dbv float64, to int) (float64, bool) {
	if !r.Levels[from].Known || !r.Levels[to].Known {
		return 0, false
	}
	shift := dbv - r.Levels[from].DBV
	for i := from; i < to; i++ {
		s := &p.Stages[r.Stages[i]]
		if s.AGCdB > 0 {
			// Above the sheet's drive and down to the end of its range the
			// output stays; below, it falls dB for dB.
			shift = min(shift+s.AGCdB, 0)
		}
		if !r.Levels[i+1].Known {
			continue
		}
		shift = min(shift, max(s.ClipDBV-r.Levels[i+1].DBV, 0))
	}
	return r.Levels[to].DBV + shift, true
}
