package sheet

import (
	"fmt"
	"slices"
	"strings"
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

// Heard are the routes that end where something can be heard or seen: what only other stages hear, an oscillator's signal, is
// none.
func (p *Plan) Heard() []Route {
	return slices.DeleteFunc(slices.Clone(p.Routes), func(r Route) bool {
		last := r.Points[len(r.Points)-1]
		return slices.ContainsFunc(p.Stages, func(s PlanStage) bool { return slices.Contains(s.Signals, last) })
	})
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
