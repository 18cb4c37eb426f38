package sheet

import (
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/mend"
)

// Growing is what can be done to a sheet at the bench.
type Growing string

// Words implements exchange.Enumerated.
func (Growing) Words() []string {
	return exchange.WordsOf(
		[]Growing{Naming, Dividing, Removing, Expecting, AddingEntry, AddingExit, AddingRail, AddingControl, Alike, Taking},
	)
}

// What can be done.
const (
	Naming        Growing = "name"    // a point, stage, rail or control gets the name that the set has for it
	Dividing      Growing = "divide"  // a stage falls into several; without these in two, at a point of that name
	Removing      Growing = "remove"  // a stage that this set does not have: its two points are one
	Expecting     Growing = "expect"  // what is due somewhere
	AddingEntry   Growing = "entry"   // a further way in
	AddingExit    Growing = "exit"    // a further way out
	AddingRail    Growing = "rail"    // a supply that a stage needs
	AddingControl Growing = "control" // a control that a stage needs
	Taking        Growing = "take"    // values of the manual, many at a time
	Alike         Growing = "alike"   // another channel, board or voice like one that there is
)

// Growth is one change. At is the point, stage or line that it is made at; of Expecting, From says where
// the value comes from; of Alike, names with From in them are repeated with Name in its place.
type Growth struct {
	Do       Growing  `json:"do"`
	At       string   `json:"at"`
	Name     string   `json:"name,omitempty"`
	Into     []Piece  `json:"into,omitempty"`
	Quantity Quantity `json:"quantity,omitempty"`
	Value    string   `json:"value,omitempty"`
	Mode     string   `json:"mode,omitempty"`
	From     string   `json:"from,omitempty"`
	Values   []Due    `json:"values,omitempty"` // of Taking
}

// Piece is a part of a divided stage, and the point behind it; of the last piece that is the stage's own.
type Piece struct {
	Name  string `json:"name"`
	Kind  string `json:"kind,omitempty"`
	Point string `json:"point,omitempty"`
}

const (
	mostPieces = 12
	mostName   = 80
	mostValues = 2000
)

// Grown gives the sheet with a change made; the sheet itself stays as it is. Errors are those a person
// can mend (mend.Error), and then nothing is changed.
func (s *Sheet) Grown(g Growth) (*Sheet, error) {
	out, err := ReadJSON(s.WriteJSON())
	if err != nil {
		return nil, err
	}
	plan, _ := out.Plan()
	x := &grower{s: out, plan: plan}
	if g.Name = strings.Join(strings.Fields(g.Name), " "); len(g.Name) > mostName {
		return nil, mend.Errorf("a name has up to %d characters", mostName)
	}
	does := map[Growing]func(Growth) error{Naming: x.name, Dividing: x.divide, Removing: x.remove, Expecting: x.expect,
		AddingEntry: x.entry, AddingExit: x.exit, AddingRail: x.line, AddingControl: x.line, Alike: x.alike, Taking: x.take}[g.Do]
	if does == nil {
		return nil, mend.Errorf("%q is nothing that can be done to a sheet at the bench", g.Do)
	}
	if err := does(g); err != nil {
		return nil, err
	}
	known := blockingOf(s)
	for _, p := range blockingOf(out) {
		if !slices.Contains(known, p) {
			return nil, mend.Errorf("%s", p)
		}
	}
	return out, nil
}

// blockingOf lists what keeps a sheet from being used.
func blockingOf(s *Sheet) []string {
	_, problems := s.Plan()
	var out []string
	for _, p := range problems {
		if p.Severity == Blocking {
			out = append(out, p.Where+": "+strings.TrimSuffix(p.Message, "."))
		}
	}
	return out
}

// grower changes a sheet.
type grower struct {
	s    *Sheet
	plan *Plan // of the sheet before
}

func (x *grower) point(name string) *Point {
	if i, ok := x.plan.PointIndex(name); ok {
		return &x.s.Points[i]
	}
	return nil
}

func (x *grower) stage(name string) (int, error) {
	i := slices.IndexFunc(x.s.Stages, func(s Stage) bool { return s.Name == name })
	if i < 0 {
		return 0, mend.Errorf("the sheet has no stage %q", name)
	}
	return i, nil
}

// free refuses a name that something has or had.
func (x *grower) free(name string) error {
	if name == "" {
		return mend.Errorf("give it a name")
	}
	if _, ok := x.plan.PointCalled(name); ok {
		return mend.Errorf("a point is called %s already", name)
	}
	if len(x.plan.BlocksCalled(name)) > 0 {
		return mend.Errorf("a stage, rail or control is called %s already", name)
	}
	return nil
}

// name gives a point, stage, rail or control the name that the set has for it.
func (x *grower) name(g Growth) error {
	if g.Name == g.At {
		return nil
	}
	if p := x.point(g.At); p != nil {
		i, called := x.plan.PointCalled(g.Name)
		if called && x.s.Points[i].Name != p.Name || len(x.plan.BlocksCalled(g.Name)) > 0 || g.Name == "" {
			return x.free(g.Name)
		}
		p.Was = renamed(p.Was, p.Name, g.Name)
		x.each(p.Name, g.Name)
		return nil
	}
	called := x.plan.BlocksCalled(g.At)
	if len(called) != 1 {
		return mend.Errorf("%q is neither a point, a stage, a rail nor a control of this sheet", g.At)
	}
	if again := x.plan.BlocksCalled(g.Name); len(again) != 1 || again[0] != called[0] {
		if err := x.free(g.Name); err != nil {
			return err
		}
	}
	var was *[]string
	switch line := called[0] - len(x.s.Stages); {
	case line < 0:
		was = &x.s.Stages[called[0]].Was
	case line < len(x.s.Rails):
		was = &x.s.Rails[line].Was
	default:
		was = &x.s.Controls[line-len(x.s.Rails)].Was
	}
	*was = renamed(*was, g.At, g.Name)
	x.each(g.At, g.Name)
	return nil
}

// renamed adds a name to those that something had.
func renamed(was []string, old, name string) []string {
	out := slices.DeleteFunc(slices.Clone(was), func(w string) bool { return w == name })
	if !slices.Contains(out, old) {
		out = append(out, old)
	}
	return out
}

// each writes another name wherever the sheet speaks of a point, stage or line.
func (x *grower) each(old, name string) {
	change := func(texts ...*string) {
		for _, t := range texts {
			if *t == old {
				*t = name
			}
		}
	}
	in := func(list []string) {
		for i := range list {
			change(&list[i])
		}
	}
	s := x.s
	for i := range s.Points {
		change(&s.Points[i].Name, &s.Points[i].Twin)
	}
	for i := range s.Stages {
		st := &s.Stages[i]
		change(&st.Name, &st.From, &st.To)
		in(st.Rails)
		in(st.Needs)
	}
	for i := range s.Rails {
		change(&s.Rails[i].Name, &s.Rails[i].From)
	}
	for i := range s.Controls {
		change(&s.Controls[i].Name, &s.Controls[i].From)
	}
	for i := range s.Routes {
		change(&s.Routes[i].From, &s.Routes[i].To)
	}
	for i := range s.Reservoirs {
		change(&s.Reservoirs[i].Rail)
	}
	for i := range s.Tracks {
		change(&s.Tracks[i].Rail)
		in(s.Tracks[i].Hangs)
	}
	for i := range s.WeakSpots {
		change(&s.WeakSpots[i].Stage)
	}
	for i := range s.Modifications {
		change(&s.Modifications[i].Stage)
	}
	for i := range s.Adjustments {
		change(&s.Adjustments[i].Stage, &s.Adjustments[i].Volts, &s.Adjustments[i].Measure)
	}
	for i := range s.Closing {
		change(&s.Closing[i].At, &s.Closing[i].Other, &s.Closing[i].From)
	}
	for i := range s.Complaints {
		in(s.Complaints[i].PointsAt)
	}
	for i := range s.Circuits {
		change(&s.Circuits[i].Stage)
		for k := range s.Circuits[i].Parts {
			in(s.Circuits[i].Parts[k].Nodes)
		}
	}
}

// remove takes a stage out that this set does not have. Its two points become one, under the name of
// the one behind it.
func (x *grower) remove(g Growth) error {
	at, err := x.stage(g.At)
	if err != nil {
		return err
	}
	old := x.s.Stages[at]
	x.s.Stages = slices.Delete(x.s.Stages, at, at+1)
	x.forget(old.Name)
	behind := slices.ContainsFunc(x.s.Stages, func(s Stage) bool { return s.To == old.To })
	if old.From == "" || behind { // it was one of several ways
		return nil
	}
	from := slices.IndexFunc(x.s.Points, func(p Point) bool { return p.Name == old.From })
	to := slices.IndexFunc(x.s.Points, func(p Point) bool { return p.Name == old.To })
	if from < 0 || to < 0 {
		return nil
	}
	if len(x.s.Points[to].Expect) == 0 {
		x.s.Points[to].Expect = x.s.Points[from].Expect
	}
	x.s.Points[to].Was = renamed(append(x.s.Points[to].Was, x.s.Points[from].Was...), old.From, old.To)
	gone := x.s.Points[from].Name
	x.s.Points = slices.Delete(x.s.Points, from, from+1)
	x.each(gone, old.To)
	return nil
}

// forget takes a stage's name out of what pointed at it.
func (x *grower) forget(name string) {
	s := x.s
	s.WeakSpots = slices.DeleteFunc(s.WeakSpots, func(w WeakSpot) bool { return w.Stage == name })
	s.Circuits = slices.DeleteFunc(s.Circuits, func(c Circuit) bool { return c.Stage == name })
	for i := range s.Modifications {
		if s.Modifications[i].Stage == name {
			s.Modifications[i].Stage = ""
		}
	}
	for i := range s.Adjustments {
		if s.Adjustments[i].Stage == name {
			s.Adjustments[i].Stage = ""
		}
	}
	for i := range s.Complaints {
		s.Complaints[i].PointsAt = slices.DeleteFunc(s.Complaints[i].PointsAt, func(n string) bool { return n == name })
	}
}

// expect writes down what is due at a point, on a rail or a control, and where that comes from.
func (x *grower) expect(g Growth) error {
	from := Source(g.From)
	if !slices.Contains([]Source{FromManual, FromGood, FromCircuit, Usual}, from) {
		return mend.Errorf("%q is no source of a value", g.From)
	}
	if line, ok := x.plan.LineIndex(g.At); ok {
		if line < len(x.s.Rails) {
			x.s.Rails[line].Value, x.s.Rails[line].Tolerance = g.Value, from.Written("")
		} else {
			c := &x.s.Controls[line-len(x.s.Rails)]
			c.Value, c.Tolerance = g.Value, from.Written("")
		}
		return nil
	}
	p := x.point(g.At)
	if p == nil {
		return mend.Errorf("%q is neither a point, a rail nor a control of this sheet", g.At)
	}
	e := Expectation{Quantity: g.Quantity, Value: g.Value, Tolerance: from.Written(""), Mode: g.Mode}
	i := slices.IndexFunc(p.Expect, func(o Expectation) bool { return o.Quantity == g.Quantity && o.Mode == g.Mode })
	switch { // nothing said: the same, from somewhere else
	case g.Value == "" && i >= 0:
		e.Value = p.Expect[i].Value
	case g.Value == "" && g.Quantity == AC:
		e.Value = x.workedOut(g.At)
	}
	if e.Value == "" {
		return mend.Errorf("say what is due at %s: nothing is known there yet", g.At)
	}
	if i < 0 {
		p.Expect = append(p.Expect, e)
		return nil
	}
	e.Shape, e.Picture, e.Settings = p.Expect[i].Shape, p.Expect[i].Picture, p.Expect[i].Settings
	p.Expect[i] = e
	return nil
}

// workedOut is the level at a point as the gains give it; empty where they do not.
func (x *grower) workedOut(point string) string {
	i, _ := x.plan.PointIndex(point)
	for k := range x.plan.Routes {
		r := &x.plan.Routes[k]
		if at, ok := r.At(i); ok && r.Levels[at].Known {
			return r.Levels[at].Nominal()
		}
	}
	return ""
}

// entry adds a further way in, that leads to a point.
func (x *grower) entry(g Growth) error {
	to := x.point(g.At)
	if to == nil {
		return mend.Errorf("the sheet has no point %q", g.At)
	}
	if err := x.free(g.Name); err != nil {
		return err
	}
	x.s.Stages = append(x.s.Stages, Stage{Name: g.Name + " to " + to.Name, Kind: "switch", From: g.Name, To: to.Name, Modes: modes(g.Mode)})
	x.s.Points = append(x.s.Points, Point{Name: g.Name})
	return nil
}

// exit adds a further way out, from a point.
func (x *grower) exit(g Growth) error {
	from := x.point(g.At)
	if from == nil {
		return mend.Errorf("the sheet has no point %q", g.At)
	}
	if err := x.free(g.Name); err != nil {
		return err
	}
	x.s.Stages = append(
		x.s.Stages,
		Stage{Name: from.Name + " to " + g.Name, Kind: "connector", From: from.Name, To: g.Name, Modes: modes(g.Mode)},
	)
	x.s.Points = append(x.s.Points, Point{Name: g.Name})
	return nil
}

func modes(mode string) []string {
	if mode == "" {
		return nil
	}
	return []string{mode}
}

// line adds a rail or a control that a stage needs; one of the name that there is already is only
// needed by it now.
func (x *grower) line(g Growth) error {
	at, err := x.stage(g.At)
	if err != nil {
		return err
	}
	st := &x.s.Stages[at]
	_, known := x.plan.LineIndex(g.Name)
	if !known {
		if err := x.free(g.Name); err != nil {
			return err
		}
	}
	source := Source(g.From).Written("")
	if g.Do == AddingRail {
		if !known {
			x.s.Rails = append(x.s.Rails, Rail{Name: g.Name, Value: g.Value, Tolerance: source})
		}
		if !slices.Contains(st.Rails, g.Name) {
			st.Rails = append(st.Rails, g.Name)
		}
		return nil
	}
	if !known {
		x.s.Controls = append(x.s.Controls, Control{Name: g.Name, Does: "enable", Value: g.Value, Tolerance: source})
	}
	if !slices.Contains(st.Needs, g.Name) {
		st.Needs = append(st.Needs, g.Name)
	}
	return nil
}
