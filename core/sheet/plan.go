package sheet

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/quantity"
)

// Tolerances taken where the sheet gives none. They are what service manuals
// of the kind commonly print: levels to 2 dB, bias voltages to 10 %, supply
// rails to 5 %, tuned frequencies to 1 %, resistance in circuit to 20 %, and what
// depends on several parts and a setting, as currents do, to 20 %.
var (
	levelTolerance      = quantity.Tolerance{Low: 2, High: 2, Unit: quantity.Decibel}
	biasTolerance       = quantity.Tolerance{Low: 0.1, High: 0.1, Unit: quantity.Ratio}
	railTolerance       = quantity.Tolerance{Low: 0.05, High: 0.05, Unit: quantity.Ratio}
	frequencyTolerance  = quantity.Tolerance{Low: 0.01, High: 0.01, Unit: quantity.Ratio}
	resistanceTolerance = quantity.Tolerance{Low: 0.2, High: 0.2, Unit: quantity.Ratio}
	adjustedTolerance   = quantity.Tolerance{Low: 0.2, High: 0.2, Unit: quantity.Ratio}
	// distortionTolerance: what is stated is the most.
	distortionTolerance = quantity.Tolerance{Low: 1, High: 0, Unit: quantity.Ratio}
	warmTolerance       = quantity.Tolerance{Low: 10, High: 10, Unit: quantity.Celsius}
	// zeroTolerance, in volts, stands where 0 V is expected: a share of nothing is nothing.
	zeroTolerance = quantity.Tolerance{Low: 0.05, High: 0.05, Unit: quantity.Volt}
)

// resonators are the usual tolerances of what makes a frequency, by the word for it: a crystal
// with its trimming, temperature and age; a ceramic resonator as it is sold; a coil and a
// capacitor with their drift; a resistor of 5 % with a capacitor of 10 %.
var resonators = map[string]quantity.Tolerance{
	"crystal": {Low: 100e-6, High: 100e-6, Unit: quantity.Ratio},
	"ceramic": {Low: 0.005, High: 0.005, Unit: quantity.Ratio},
	"lc":      {Low: 0.02, High: 0.02, Unit: quantity.Ratio},
	"rc":      {Low: 0.1, High: 0.1, Unit: quantity.Ratio},
}

const (
	defaultMinutes = 1.0 // to reach a point whose access time nobody wrote down
	// contradiction is how far (dB) stated levels and a stated gain may part
	// before the sheet is doubted: printed values are rounded to two figures,
	// which is up to 0.4 dB at each end.
	contradiction = 1.0
	// Limits against hostile files; a large television has some 300 points.
	maxPoints = 2000
	maxRoutes = 200
)

// Plan is a sheet worked out: numbers for texts, indices for names, and the
// routes through it.
type Plan struct {
	Sheet  *Sheet
	Points []PlanPoint
	Stages []PlanStage
	Rails  []PlanRail
	Routes []Route

	Controls []PlanControl
	Loops    []Loop

	Reservoirs []PlanReservoir
	Circuits   []PlanCircuit
	Added      []PlanCircuit // the circuits of modifications, which the set may have or not
	Places     []Place       // along the rails' copper

	Adjustments []PlanAdjustment
	Closings    []PlanClosing

	pointIndex map[string]int
	linesNeed  []Paths        // by line
	lineIndex  map[string]int // rails, and behind them controls
}

// PlanPoint is a point with its numbers.
type PlanPoint struct {
	*Point
	SourceOhms float64
	Minutes    float64
	PeakVolts  float64 // highest to ground on a good set, as far as the sheet tells
	Expected   []Expected
	Twin       int  // the same place in the other channel; -1 where there is none
	Source     bool // no place for a probe: where an oscillator begins
}

// Expected is an expectation with its numbers. DriveV (V rms) and DriveHz are
// zero where the entry's own level and frequency hold.
type Expected struct {
	Quantity  Quantity
	Value     quantity.Value
	Tolerance quantity.Tolerance
	Source    Source
	Untold    bool // the sheet gives no tolerance: it is the usual one
	Shape     quantity.Shape
	Mode      string
	Settings  string
	Picture   string
	DriveV    float64
	DriveHz   float64
}

// Text writes what is expected, as it is read aloud: a frequency with all its digits, of
// distortion the most.
func (e *Expected) Text() string {
	switch {
	case e.Source == Usual && e.Quantity != Distortion:
		low, high := e.Tolerance.Bounds(e.Value.SI)
		return "usually " + Between(min(low, high), max(low, high), e.Value.Form, e.Value.Unit)
	case e.Quantity == Frequency:
		return quantity.Frequency(e.Value.SI)
	case e.Quantity == Distortion:
		return "at most " + e.Value.Short(3)
	}
	return e.Value.Short(3)
}

// PlanStage is a stage with its numbers. From and To index Plan.Points.
type PlanStage struct {
	*Stage
	From, To  int
	GainDB    float64
	GainKnown bool
	GainFrom  Source
	ClipDBV   float64 // highest output, dB against 1 V rms; +Inf where it does not clip
	AGCdB     float64 // range over which it holds its output; 0 where it does not
	Rails     []int   // into Plan.Rails
	Lines     []int   // the rails and controls it needs
	Signals   []int   // points whose signal it needs
}

// PointIndex finds a point by its board label, or else by its label on the
// drawing where only one point carries it.
func (p *Plan) PointIndex(name string) (int, bool) {
	if i, ok := p.pointIndex[name]; ok {
		return i, true
	}
	found := -1
	for i := range p.Points {
		if p.Points[i].Drawing == name && name != "" {
			if found >= 0 {
				return 0, false
			}
			found = i
		}
	}
	return max(found, 0), found >= 0
}

// Traceable tells whether there is anything to trace by the plan: a route, or where the
// set has no signal of its own at least a rail or a control.
func (p *Plan) Traceable() bool { return len(p.Routes)+len(p.Rails)+len(p.Controls) > 0 }

// RailIndex finds a rail by name.
func (p *Plan) RailIndex(name string) (int, bool) {
	i, ok := p.lineIndex[name]
	return i, ok && i < len(p.Rails)
}

// planner collects the problems while a sheet is worked out.
type planner struct {
	plan     *Plan
	problems []Problem
}

func (w *planner) add(s Severity, where, path, format string, args ...any) {
	w.problems = append(w.problems, Problem{s, where, path, fmt.Sprintf(format, args...)})
}

// Plan works the sheet out. The plan is complete only where no problem is
// Blocking; it is never nil, so that an unfinished sheet can still be drawn.
func (s *Sheet) Plan() (*Plan, []Problem) {
	w := &planner{plan: &Plan{Sheet: s, pointIndex: map[string]int{}, lineIndex: map[string]int{}}}
	if len(s.Points) > maxPoints || len(s.Stages) > maxPoints || len(s.Rails) > maxPoints || len(s.Tracks) > maxPoints ||
		len(s.Controls) > maxPoints {
		w.add(Blocking, "the sheet", "points", "more than %d entries: split the set into several sheets", maxPoints)
		return w.plan, w.problems
	}
	if strings.TrimSpace(s.Model) == "" {
		w.add(Blocking, "the sheet", "model", "a model name is needed, so that jobs can find it")
	}
	w.points()
	w.rails()
	w.controls()
	if len(s.Points) == 0 && w.plan.Traceable() {
		w.add(Doubtful, "the sheet", "points", "no points: only rails and controls can be traced by it")
	} else if len(s.Points) == 0 {
		w.add(Blocking, "the sheet", "points", "no points yet: add the first, or paste a table")
	}
	w.reservoirs()
	w.tracks()
	w.stages()
	w.care()
	w.circuits()
	w.adjustments()
	w.routes()
	w.closings()
	w.linePaths()
	return w.plan, w.problems
}

func (w *planner) points() {
	for i := range w.plan.Sheet.Points {
		p := &w.plan.Sheet.Points[i]
		path := "points/" + strconv.Itoa(i)
		where := "point " + p.Name
		if p.Name == "" {
			where = fmt.Sprintf("point %d", i+1)
			w.add(Blocking, where, path+"/name", "a point needs a name: use the label on the board")
		} else if first, ok := w.plan.pointIndex[p.Name]; ok {
			w.add(Blocking, where, path+"/name", "two points are called %s (lines %d and %d): rename one", p.Name, first+1, i+1)
		} else {
			w.plan.pointIndex[p.Name] = i
		}
		pp := PlanPoint{Point: p, Minutes: defaultMinutes, Twin: -1}
		pp.SourceOhms = w.number(where, path+"/source", p.Source, quantity.Ohm, 0)
		pp.Minutes = w.number(where, path+"/minutes", p.Minutes, quantity.None, defaultMinutes)
		if pp.Minutes < 0 || pp.SourceOhms < 0 {
			w.add(Blocking, where, path+"/minutes", "minutes and source resistance cannot be below zero")
			pp.Minutes, pp.SourceOhms = defaultMinutes, 0
		}
		for j := range p.Expect {
			if e, ok := w.expectation(where, fmt.Sprintf("%s/expect/%d", path, j), &p.Expect[j]); ok {
				if slices.ContainsFunc(pp.Expected, func(x Expected) bool {
					return x.Quantity == e.Quantity && x.Mode == e.Mode && x.DriveV == e.DriveV && x.DriveHz == e.DriveHz
				}) {
					w.add(
						Doubtful,
						where,
						fmt.Sprintf("%s/expect/%d/value", path, j),
						"a second %s value for the same conditions; the first is used",
						e.Quantity,
					)
				}
				pp.Expected = append(pp.Expected, e)
			}
		}
		pp.PeakVolts = max(pp.highest(), w.number(where, path+"/peak", p.Peak, quantity.Volt, 0))
		w.plan.Points = append(w.plan.Points, pp)
	}
	w.twins()
}

// twins finds the same places in the other channel. Said of one of two, it holds
// for both; of many identical voices each may name the same one.
func (w *planner) twins() {
	p := w.plan
	for i := range p.Points {
		name := p.Points[i].Point.Twin
		if name == "" {
			continue
		}
		where, path := "point "+p.Points[i].Name, fmt.Sprintf("points/%d/twin", i)
		switch other, ok := p.pointIndex[name]; {
		case !ok:
			w.add(Blocking, where, path, "its twin %s is no point of this sheet", name)
		case other == i:
			w.add(Blocking, where, path, "a point is not its own twin: name the same place in the other channel")
		default:
			p.Points[i].Twin = other
			if p.Points[other].Point.Twin == "" && p.Points[other].Twin < 0 {
				p.Points[other].Twin = i
			}
		}
	}
}

// highest is the largest voltage to ground that the expectations make: DC with
// the signal's peak on top.
func (p *PlanPoint) highest() float64 {
	dc, peak := 0.0, 0.0
	for _, e := range p.Expected {
		switch e.Quantity {
		case DC:
			dc = max(dc, math.Abs(e.Value.SI))
		case AC:
			// Convert cannot fail: the expectation was refused otherwise. A
			// shape with no crest factor of its own is at least a sine.
			x, err := e.Shape.Convert(e.Value.SI, e.Value.Form, quantity.Peak)
			if err != nil {
				x = e.Value.SI * math.Sqrt2
			}
			peak = max(peak, x)
		}
	}
	return dc + peak
}

// number reads an optional value of one unit.
func (w *planner) number(where, path, text string, unit quantity.Unit, missing float64) float64 {
	if strings.TrimSpace(text) == "" {
		return missing
	}
	v, err := quantity.ParseAs(text, unit)
	if err != nil {
		w.add(Blocking, where, path, "%v", err)
		return missing
	}
	return v.SI
}

// tolerance reads an optional tolerance that fits the unit of its value.
func (w *planner) tolerance(where, path, text string, unit quantity.Unit, missing quantity.Tolerance) quantity.Tolerance {
	if strings.TrimSpace(text) == "" {
		return missing
	}
	fallback := quantity.Ratio
	if missing.Unit == quantity.Decibel {
		fallback = quantity.Decibel
	}
	t, err := quantity.ParseTolerance(text, fallback)
	switch {
	case err != nil:
		w.add(Blocking, where, path, "tolerance: %v", err)
		return missing
	case t.Unit != quantity.Ratio && t.Unit != unit && (t.Unit != quantity.Decibel || missing.Unit != quantity.Decibel):
		w.add(Blocking, where, path, "a tolerance of %s does not fit %s", t, unit.Name())
		return missing
	case t.Unit == quantity.Ratio && t.Low >= 1 && missing.Unit == quantity.Decibel:
		w.add(Blocking, where, path, "a level cannot be 100 %% low and still be there: give the tolerance in dB")
		return missing
	}
	return t
}

// Long: what may be wrong with a value, one thing after the other.
func (w *planner) expectation(where, path string, x *Expectation) (Expected, bool) {
	unit, tolerance, ok := unitOf(x.Quantity)
	if !ok {
		w.add(Blocking, where, path+"/quantity", "%q is not a quantity: use %s", x.Quantity, QuantityList())
		return Expected{}, false
	}
	v, err := quantity.ParseAs(x.Value, unit)
	if err != nil {
		w.add(Blocking, where, path+"/value", "%v", err)
		return Expected{}, false
	}
	e := Expected{
		Quantity: x.Quantity,
		Value:    v,
		Shape:    quantity.Shape(strings.ToLower(strings.TrimSpace(x.Shape))),
		Mode:     x.Mode,
		Settings: x.Settings,
		Picture:  x.Picture,
	}
	switch {
	case x.Quantity == AC && v.Form == quantity.DC, x.Quantity == DC && v.Form != quantity.DC && v.Form != quantity.Unstated:
		w.add(Blocking, where, path+"/value", "%s is not %s", x.Value, quantityName(x.Quantity))
		return Expected{}, false
	case x.Quantity != DC && v.SI <= 0:
		w.add(Blocking, where, path+"/value", "%s must be above zero; leave it empty where nothing is expected", quantityName(x.Quantity))
		return Expected{}, false
	case x.Quantity == DC:
		e.Value.Form = quantity.DC
		if v.SI == 0 {
			tolerance = zeroTolerance
		}
	case x.Quantity == AC && v.Form == quantity.Unstated:
		e.Value.Form = quantity.RMS
	}
	if x.Quantity == AC {
		if _, err := e.Shape.Convert(1, e.Value.Form, quantity.RMS); err != nil {
			w.add(Blocking, where, path+"/shape", "%v: state the level in rms, or the shape as sine, square or triangle", err)
			return Expected{}, false
		}
	}
	var stated string
	e.Source, stated = sourceOf(x.Tolerance)
	if made, ok := resonators[strings.ToLower(stated)]; ok && x.Quantity == Frequency {
		e.Tolerance = made
	} else {
		e.Tolerance = w.tolerance(where, path+"/tolerance", stated, unit, toleranceFrom(e.Source, tolerance, unit))
		e.Untold = strings.TrimSpace(x.Tolerance) == ""
	}
	if v.SI == 0 && e.Tolerance.Unit == quantity.Ratio {
		e.Tolerance = zeroTolerance
	}
	e.DriveV = w.number(where, path+"/drive", x.Drive, quantity.Volt, 0)
	e.DriveHz = w.number(where, path+"/driveFrequency", x.DriveFrequency, quantity.Hertz, 0)
	if e.DriveV < 0 || e.DriveHz < 0 {
		w.add(Blocking, where, path+"/drive", "a generator's level and frequency are above zero")
		e.DriveV, e.DriveHz = 0, 0
	}
	return e, true
}

func (w *planner) stages() {
	seen := map[string]int{}
	for i := range w.plan.Sheet.Stages {
		s := &w.plan.Sheet.Stages[i]
		path, where := "stages/"+strconv.Itoa(i), "stage "+s.Name
		if s.Name == "" {
			where = fmt.Sprintf("stage %d, %s to %s", i+1, s.From, s.To)
			w.add(Blocking, where, path+"/name", "a stage needs a name, since it may be the one at fault")
		} else if first, ok := seen[s.Name]; ok {
			w.add(Blocking, where, path+"/name", "two stages are called %s (the %s and the %s): "+
				"rename one", s.Name, ordinal(first+1), ordinal(i+1))
		}
		seen[s.Name] = i
		ps := PlanStage{Stage: s, ClipDBV: math.Inf(1)}
		if s.From == "" && s.Kind == oscillator {
			ps.From = w.plan.sourceOf(s)
		} else {
			ps.From = w.end(where, path+"/from", "begins", s.From)
		}
		ps.To = w.end(where, path+"/to", "ends", s.To)
		if s.From == s.To && s.From != "" {
			w.add(Blocking, where, path+"/to", "it begins and ends at %s: a loop of one stage", s.From)
			ps.To = -1
		}
		if s.Kind != "" && !slices.Contains(Kinds, s.Kind) {
			w.add(
				Doubtful,
				where,
				path+"/kind",
				"%q is not a known kind; it counts as other. Known are %s",
				s.Kind,
				strings.Join(Kinds, ", "),
			)
		}
		if strings.TrimSpace(s.Gain) != "" {
			from, gain := sourceOf(s.Gain)
			db, err := quantity.ParseGain(gain)
			if err != nil {
				w.add(Blocking, where, path+"/gain", "gain: %v", err)
			} else {
				ps.GainDB, ps.GainKnown, ps.GainFrom = db, true, from
			}
		}
		w.limit(&ps, where, path+"/limit")
		for j, name := range s.Rails {
			r, ok := w.plan.RailIndex(name)
			if !ok {
				w.add(
					Blocking,
					where,
					fmt.Sprintf("%s/rails/%d", path, j),
					"it needs a rail called %s, which the sheet does not have",
					name,
				)
				continue
			}
			ps.Rails = append(ps.Rails, r)
		}
		ps.Lines = slices.Clone(ps.Rails)
		w.needs(&ps, where, path)
		w.plan.Stages = append(w.plan.Stages, ps)
	}
}

// sourceOf adds the place where an oscillator begins, which no probe reaches.
func (p *Plan) sourceOf(s *Stage) int {
	p.Points = append(p.Points, PlanPoint{Point: &Point{Name: s.Name + ", by itself"}, Source: true, Twin: -1})
	return len(p.Points) - 1
}

// end finds the point a stage begins or ends at; -1 where there is none.
func (w *planner) end(where, path, verb, name string) int {
	if i, ok := w.plan.pointIndex[name]; ok {
		return i
	}
	if name == "" {
		w.add(Blocking, where, path, "it %s nowhere: name a point", verb)
	} else {
		w.add(Blocking, where, path, "it %s at %s, which is not a point of this sheet", verb, name)
	}
	return -1
}

func (w *planner) limit(ps *PlanStage, where, path string) {
	text := strings.TrimSpace(ps.Limit)
	if text == "" {
		return
	}
	if rest, ok := strings.CutPrefix(strings.ToLower(text), "agc"); ok {
		v, err := quantity.ParseAs(rest, quantity.Decibel)
		if err != nil || v.SI <= 0 {
			w.add(Blocking, where, path, "automatic gain needs its range, for example agc 40 dB")
			return
		}
		ps.AGCdB = v.SI
		return
	}
	v, err := quantity.ParseAs(text, quantity.Volt)
	if err != nil || v.SI <= 0 || v.Form == quantity.DC {
		w.add(Blocking, where, path, "a limit is the highest output level (7 Vrms) or automatic gain (agc 40 dB), not %q", ps.Limit)
		return
	}
	rms, err := quantity.Sine.Convert(v.SI, v.Form, quantity.RMS)
	if err != nil {
		w.add(Blocking, where, path, "%v", err)
		return
	}
	ps.ClipDBV = quantity.DB(rms, 1)
}

func ordinal(n int) string {
	suffix := "th"
	if n%100 < 11 || n%100 > 13 {
		switch n % 10 {
		case 1:
			suffix = "st"
		case 2:
			suffix = "nd"
		case 3:
			suffix = "rd"
		}
	}
	return strconv.Itoa(n) + suffix
}
