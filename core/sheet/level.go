package sheet

import (
	"fmt"
	"math"

	"steptrace/core/quantity"
)

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

// radioHz is from where on a mixer or detector makes another frequency of what it gets: below, a mixer adds
// up sounds, and a decoder hands the lines of a picture on.
const radioHz = 100e3

// convertsFrequency tells whether a kind of stage gives out another radio frequency than it gets, or none.
func convertsFrequency(kind string) bool { return kind == "mixer" || kind == "detector" }

func (w *planner) statedLevels(r *Route) {
	entry := math.NaN()
	hz := 0.0
	for i, at := range r.Points {
		l, driveV := w.plan.stated(at, r.Mode)
		if l.Hz == 0 && (i == 0 || hz < radioHz || !convertsFrequency(w.plan.Stages[r.Stages[i-1]].Kind)) {
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
