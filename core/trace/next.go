package trace

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

const (
	// probeMinutes is what a probe costs besides reaching its point: placing
	// the tip, setting the instrument, reading, writing down.
	probeMinutes = 1.0
)

// Span is a piece of a sentence; what the eye should catch is marked.
type Span struct {
	Text string `json:"text"`
	Mark string `json:"mark"`
}

// Fact is a labelled line under the sentence.
type Fact struct {
	Label string `json:"label"`
	Text  string `json:"text"`
}

// Probe is a proposal: where to probe next, with what, and why.
type Probe struct {
	Point    string         `json:"point"`
	At       int            `json:"at"` // position on the route
	Quantity sheet.Quantity `json:"quantity"`
	Purpose  string         `json:"purpose"`
	Sentence []Span         `json:"sentence"`
	Facts    []Fact         `json:"facts"`
	Minutes  float64        `json:"minutes"`
	Without  []string       `json:"without"` // what to lift for it
}

// cut is a probe that parts the suspects: those with an index below gap come
// before its point.
type cut struct {
	gap   int
	point int     // position on the route
	cost  float64 // minutes
}

// cuts finds the cheapest point in each gap between neighbouring suspects.
func (f *finder) cuts() []cut {
	var out []cut
	for g := 1; g < len(f.suspects); g++ {
		best := cut{gap: g, point: -1}
		for at := f.suspects[g-1] + 1; at <= f.suspects[g]; at++ {
			if !f.Route.Levels[at].Known || !f.mayProbe(at) || f.loopAt(at) != nil || f.Plan.Points[f.Route.Points[at]].Source {
				continue
			}
			cost := f.Plan.Points[f.Route.Points[at]].Minutes + probeMinutes
			if best.point < 0 || cost < best.cost {
				best.point, best.cost = at, cost
			}
		}
		if best.point >= 0 {
			out = append(out, best)
		}
	}
	return out
}

// refusedCut tells whether a point that parts the suspects is left out only for
// what the instrument bears; the reasons then say which.
func (f *finder) refusedCut() bool {
	found := false
	for at := f.suspects[0] + 1; at <= f.suspects[len(f.suspects)-1]; at++ {
		if why := f.refused(f.Route.Points[at], f.Route.Mode); why != "" && f.Route.Levels[at].Known {
			f.out.Reasons = append(f.out.Reasons, f.pointName(at)+": "+why+".")
			found = true
		}
	}
	return found
}

func minutes(m float64) string {
	text := strconv.FormatFloat(math.Round(m*2)/2, 'f', -1, 64)
	if text == "1" {
		return "1 minute"
	}
	return text + " minutes"
}

// propose writes out a probe at a position of the route.
func (f *finder) propose(at int, purpose, why string) *Probe {
	point := &f.Plan.Points[f.Route.Points[at]]
	level := f.Route.Levels[at]
	p := &Probe{Point: point.Name, At: at, Quantity: sheet.AC, Purpose: purpose, Minutes: point.Minutes + probeMinutes, Without: []string{}}
	verb := "Probe "
	if purpose == "again" {
		verb = "Read "
	}
	p.Sentence = []Span{{verb, ""}, {point.Name, "point"}}
	if purpose == "again" {
		p.Sentence = append(p.Sentence, Span{" again", ""})
	}
	if dbv, _ := f.expectNow(at); dbv != nil {
		p.Sentence = append(p.Sentence, Span{" and expect ", ""}, Span{sheet.LevelText(*dbv, level.Form, level.Shape), "value"})
		if level.Hz > 0 {
			p.Sentence = append(p.Sentence, Span{" at " + quantity.Rounded(level.Hz, quantity.Hertz), ""})
		}
		p.Facts = f.facts(at, point, level, *dbv)
	}
	p.Sentence = append(p.Sentence, Span{".", ""})
	if f.opened != noStage {
		f.openSentence(p)
	}
	p.Facts = append(p.Facts, Fact{"Why here", why})
	// What can hurt stands before how to do it.
	if mind := joined(point.Hazard, f.refused(f.Route.Points[at], f.Route.Mode)); mind != "" {
		p.Facts = slices.Insert(p.Facts, 0, Fact{"Mind", mind})
	}
	return p
}

func (f *finder) facts(at int, point *sheet.PlanPoint, level sheet.Level, dbv float64) []Fact {
	var out []Fact
	switch {
	case point.Drawing != "" && point.Note != "":
		out = append(out, Fact{"On the drawing", "point " + point.Drawing + ", " + point.Note})
	case point.Drawing != "":
		out = append(out, Fact{"On the drawing", "point " + point.Drawing})
	case point.Note != "":
		out = append(out, Fact{"Which is", point.Note})
	}
	if w := waveform(level); w != "" {
		out = append(out, Fact{"Waveform", w})
	}
	out = append(out, Fact{"With", setUp(InstrumentFor(f.Instrument), level, dbv)})
	set := level.Settings
	if set == "" {
		set = f.Plan.Sheet.Settings
	}
	if f.Power == PowerOff {
		set = joined("the set is off: switch it on first", set)
	}
	if feed := f.feed(at); feed != "" {
		if set != "" {
			set = feed + "; " + set
		} else {
			set = feed
		}
	}
	if set != "" {
		out = append(out, Fact{"Set", set})
	}
	return out
}

// waveform describes what is not a plain sine, or has a picture.
func waveform(level sheet.Level) string {
	text := ""
	if level.Shape != "" && level.Shape != quantity.Sine {
		text = string(level.Shape)
	}
	if level.Picture != "" {
		text = strings.TrimPrefix(text+", picture "+level.Picture, ", ")
	}
	return text
}

// feed says where the signal has to come in for a probe to tell anything.
func (f *finder) feed(at int) string {
	from, _ := f.now()
	if from < at || at == 0 {
		return ""
	}
	l := f.Route.Levels[0]
	if f.Plan.Points[f.Route.Points[0]].Source {
		return "feed nothing in"
	}
	if !l.Known {
		return "feed the signal in at " + f.pointName(0)
	}
	return fmt.Sprintf("feed %s in at %s", l.Text(), f.pointName(0))
}

// setUp proposes how to set the instrument: about six divisions high, two
// periods wide, in steps of 1, 2 and 5.
func setUp(in Instrument, level sheet.Level, dbv float64) string {
	if level.Hz > in.MaxHz {
		return fmt.Sprintf("a scope; a %s cannot be trusted at %s", in.Name, quantity.Rounded(level.Hz, quantity.Hertz))
	}
	if !in.Scope {
		return in.Name + ", AC volts"
	}
	pp, err := level.Shape.Convert(quantity.Times(dbv), quantity.RMS, quantity.PeakPeak)
	if err != nil {
		pp = 2 * math.Sqrt2 * quantity.Times(dbv)
	}
	text := fmt.Sprintf("%s, AC, %s", in.Name, quantity.Value{SI: stepUp(pp / 6), Unit: quantity.Volt}.Short(1))
	if level.Hz > 0 {
		text += fmt.Sprintf(" and %s", quantity.Value{SI: stepUp(2 / level.Hz / 10), Unit: quantity.Second}.Short(1))
	}
	return text + " a division"
}

// stepUp is the smallest 1, 2 or 5 times a power of ten that is not below x.
func stepUp(x float64) float64 {
	base := math.Pow(10, math.Floor(math.Log10(x)))
	for _, m := range []float64{1, 2, 5} {
		if m*base >= x*(1-1e-9) {
			return m * base
		}
	}
	return 10 * base
}
