package sheet

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/quantity"
)

// Control is what a stage needs besides supply and signal: a line that tells it
// to pass, mute, tune, select or set its gain, or the ground it stands on.
// Value is its DC voltage while the signal passes, Worked what it becomes while
// somebody does what By says. From is the rail or the control it is made from,
// or, in words, what drives it.
type Control struct {
	Name      string   `json:"name"`
	Does      string   `json:"does"`
	Value     string   `json:"value,omitempty" jsonschema:"description=DC voltage while the signal passes; a ground may leave it out"`
	Tolerance string   `json:"tolerance,omitempty"`
	Point     string   `json:"point,omitempty" jsonschema:"description=where it is measured"`
	Worked    string   `json:"worked,omitempty" jsonschema:"description=DC voltage while it is worked"`
	By        string   `json:"by,omitempty" jsonschema:"description=how it is worked\\, for example MUTE held"`
	From      string   `json:"from,omitempty" jsonschema:"description=rail or control it is made from\\, or what drives it"`
	Note      string   `json:"note,omitempty"`
	Was       []string `json:"was,omitempty" jsonschema:"description=names that it had before"`
}

// ControlDoes are the things a control may do to the stages that need it.
var ControlDoes = []string{"enable", "mute", "gain", "tune", "select", groundControl}

const groundControl = "ground"

// PlanControl is a control with its numbers. Parent is the line it is made
// from; -1 where it comes from elsewhere.
type PlanControl struct {
	*Control
	Volts     float64
	Tolerance quantity.Tolerance
	Source    Source
	Moves     bool // the sheet says what it becomes when it is worked
	Worked    float64
	// Of the voltage while it is worked.
	WorkedTolerance quantity.Tolerance
	Parent          int
}

// Lines are the rails and behind them the controls: what stages need besides
// the signal that comes along their route.

// LineName names a line as people do.
func (p *Plan) LineName(line int) string {
	if line < len(p.Rails) {
		return p.Rails[line].Name
	}
	return p.Controls[line-len(p.Rails)].Name
}

// LineIndex finds a line by name.
func (p *Plan) LineIndex(name string) (int, bool) {
	i, ok := p.lineIndex[name]
	return i, ok
}

// LineKind is what a line is: rail, control or ground.
func (p *Plan) LineKind(line int) string {
	switch {
	case line < len(p.Rails):
		return "rail"
	case p.Controls[line-len(p.Rails)].Does == "ground":
		return "ground"
	}
	return "control"
}

// parent is the line that another is made from; -1 where it comes from elsewhere.
func (p *Plan) parent(line int) int {
	if line < len(p.Rails) {
		return p.Rails[line].Parent
	}
	return p.Controls[line-len(p.Rails)].Parent
}

// Feeds lists a line and the lines it is made from, itself first.
func (p *Plan) Feeds(line int) []int {
	var out []int
	for at := line; at >= 0 && !slices.Contains(out, at); at = p.parent(at) {
		out = append(out, at)
	}
	return out
}

// lineLoop gives the lines of a loop that begins at one, by name, or nil.
func (p *Plan) lineLoop(start int) []string {
	names := []string{p.LineName(start)}
	for _, at := range p.Feeds(start)[1:] {
		names = append(names, p.LineName(at))
	}
	if p.parent(p.Feeds(start)[len(names)-1]) != start {
		return nil
	}
	return append(names, names[0])
}

// unloop cuts the lines that feed themselves, and says so.
func (w *planner) unloop() {
	for line := range len(w.plan.Rails) + len(w.plan.Controls) {
		loop := w.plan.lineLoop(line)
		if loop == nil {
			continue
		}
		const message = "it feeds itself: %s. Name what it really comes from"
		text := strings.Join(loop, " from ")
		if i := line - len(w.plan.Rails); i >= 0 {
			w.add(Blocking, "control "+loop[0], fmt.Sprintf("controls/%d/from", i), message, text)
			w.plan.Controls[i].Parent = -1
		} else {
			w.add(Blocking, "rail "+loop[0], fmt.Sprintf("rails/%d/from", line), message, text)
			w.plan.Rails[line].Parent = -1
		}
	}
}

// lineNamed enters the name of a line, which no point and no other line may have.
func (w *planner) lineNamed(where, path, name string, line int) {
	if _, ok := w.plan.lineIndex[name]; ok {
		w.add(Blocking, where, path, "two lines are called %s, rails and controls together: rename one", name)
	} else if _, ok := w.plan.pointIndex[name]; ok {
		w.add(Blocking, where, path, "a point is called %s too: rename one", name)
	} else {
		w.plan.lineIndex[name] = line
	}
}

func (w *planner) controls() {
	p := w.plan
	for i := range p.Sheet.Controls {
		c := &p.Sheet.Controls[i]
		path, where := "controls/"+strconv.Itoa(i), "control "+c.Name
		if c.Name == "" {
			where = fmt.Sprintf("control %d", i+1)
			w.add(Blocking, where, path+"/name", "a control needs a name, for example MUTE")
		} else {
			w.lineNamed(where, path+"/name", c.Name, len(p.Rails)+i)
		}
		if !slices.Contains(ControlDoes, c.Does) {
			w.add(Blocking, where, path+"/does", "%q is nothing a control does: use %s", c.Does, strings.Join(ControlDoes, ", "))
		}
		pc := PlanControl{Control: c, Parent: -1, Moves: strings.TrimSpace(c.Worked) != ""}
		if strings.TrimSpace(c.Value) == "" && c.Does != groundControl {
			w.add(Blocking, where, path+"/value", "say its DC voltage while the signal passes, for example 4.8 V")
		}
		pc.Volts = w.number(where, path+"/value", c.Value, quantity.Volt, 0)
		pc.Worked = w.number(where, path+"/worked", c.Worked, quantity.Volt, 0)
		from, stated := sourceOf(c.Tolerance)
		pc.Source = from
		t := w.tolerance(where, path+"/tolerance", stated, quantity.Volt, toleranceFrom(from, biasTolerance, quantity.Volt))
		pc.Tolerance, pc.WorkedTolerance = at(t, pc.Volts), at(t, pc.Worked)
		if strings.TrimSpace(c.From) == "" && c.Does != groundControl {
			w.add(
				Doubtful,
				where,
				path+"/from",
				"nothing drives it: name the rail or control it is made from, or what drives it. Until then a bad reading ends at the "+
					"line itself",
			)
		}
		if pc.Moves && strings.TrimSpace(c.By) == "" {
			w.add(
				Doubtful,
				where,
				path+"/by",
				"it becomes %s when it is worked, but nobody can tell how: say by what, for example MUTE held",
				c.Worked,
			)
		}
		p.Controls = append(p.Controls, pc)
	}
	for i := range p.Controls {
		if parent, ok := p.lineIndex[p.Controls[i].From]; ok {
			p.Controls[i].Parent = parent
		}
	}
	w.unloop()
}

// at is a tolerance at a voltage: a share of nothing is nothing.
func at(t quantity.Tolerance, volts float64) quantity.Tolerance {
	if volts == 0 && t.Unit == quantity.Ratio {
		return zeroTolerance
	}
	return t
}

// needs finds what a stage needs besides rails: controls, and points whose
// signal it needs, such as an oscillator's.
func (w *planner) needs(ps *PlanStage, where, path string) {
	for j, name := range ps.Stage.Needs {
		if line, ok := w.plan.lineIndex[name]; ok {
			ps.Lines = append(ps.Lines, line)
		} else if point, ok := w.plan.pointIndex[name]; ok {
			ps.Signals = append(ps.Signals, point)
		} else {
			w.add(Blocking, where, fmt.Sprintf("%s/needs/%d", path, j), "it needs %s, which is neither a control nor a point of "+
				"this sheet", name)
		}
	}
}

// Loop is what a feedback stage closes: the stages from the point it leads back
// to up to the point it starts at. While it is closed, a fault anywhere in it
// shows everywhere in it.
type Loop struct {
	Feedback int   // stage
	Inside   []int // stages
}

// loops finds what each feedback stage goes around.
func (w *planner) loops(out [][]int) {
	p := w.plan
	for i := range p.Stages {
		fb := &p.Stages[i]
		if !fb.Returns() || fb.From < 0 || fb.To < 0 {
			continue
		}
		inside := map[int]bool{}
		p.reaches(out, fb.To, fb.From, map[int]bool{}, inside)
		if len(inside) == 0 {
			w.add(
				Blocking,
				"stage "+fb.Name,
				fmt.Sprintf("stages/%d/to", i),
				"it feeds %s back to %s, but no stage leads from there to %s: exchange From and To, or call it another kind",
				fb.Stage.From,
				fb.Stage.To,
				fb.Stage.From,
			)
			continue
		}
		loop := Loop{Feedback: i}
		for s := range p.Stages {
			if inside[s] {
				loop.Inside = append(loop.Inside, s)
			}
		}
		p.Loops = append(p.Loops, loop)
	}
}

// reaches collects the stages on any way from a point to another.
func (p *Plan) reaches(out [][]int, at, to int, seen, inside map[int]bool) bool {
	if at == to {
		return true
	}
	if done, ok := seen[at]; ok {
		return done
	}
	seen[at] = false
	for _, s := range out[at] {
		if p.reaches(out, p.Stages[s].To, to, seen, inside) {
			inside[s], seen[at] = true, true
		}
	}
	return seen[at]
}

// Returns tells whether the stage leads back, from a later point to an earlier
// one: it closes a loop and lies on no route.
func (s *PlanStage) Returns() bool { return s.Kind == feedbackKind }
