// Package sheet knows the service sheet: what a manual says of one model,
// written down so that a program can trace by it.
//
// A Sheet is the document. Its values are texts as typed ("19.1 mV", "+28 dB",
// "5 %"), so that a half-written sheet can be kept and mended. Sheet.Plan
// reads them into numbers, finds the routes a signal takes, and reports every
// problem with the place where it stands.
//
//	plan, problems := s.Plan()
package sheet

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/exchange"
)

// Format and Version mark the files this package writes.
const (
	Format  = "steptrace-sheet"
	Version = 1
)

// Sheet is a service sheet as written.
type Sheet struct {
	Format   string `json:"format" jsonschema:"enum=steptrace-sheet"`
	Version  int    `json:"version" jsonschema:"enum=1"`
	Maker    string `json:"maker,omitempty"`
	Model    string `json:"model"`
	Kind     string `json:"kind,omitempty" jsonschema:"description=what the set is: tape deck\\, receiver\\, amplifier"`
	Note     string `json:"note,omitempty"`
	Settings string `json:"settings,omitempty" jsonschema:"description=how the controls stand for the expected values"`
	// The lists are never null in a file that Step Trace writes.
	Points []Point     `json:"points"`
	Stages []Stage     `json:"stages"`
	Rails  []Rail      `json:"rails"`
	Routes []RouteName `json:"routes"`
	// What only some sheets have is left out of a file where there is none.
	Controls   []Control   `json:"controls,omitempty"`
	Reservoirs []Reservoir `json:"reservoirs,omitempty"`
	Tracks     []Track     `json:"tracks,omitempty"`
	Hazards    []Hazard    `json:"hazards,omitempty"`
	WeakSpots  []WeakSpot  `json:"weakSpots,omitempty"`
	Complaints []Complaint `json:"complaints,omitempty"`
	Circuits   []Circuit   `json:"circuits,omitempty"`
	// What the workshop changes in sets of this model.
	Modifications []Modification `json:"modifications,omitempty"`
	Adjustments   []Adjustment   `json:"adjustments,omitempty"`
	Closing       []Closing      `json:"closing,omitempty"` // what is measured before they go back
}

// Name is the maker and model in one.
func (s *Sheet) Name() string {
	if s.Maker == "" {
		return s.Model
	}
	return s.Maker + " " + s.Model
}

// Is tells whether what is said of the kind of set has one of some words in it, in small letters.
func (s *Sheet) Is(words ...string) bool {
	kind := strings.ToLower(s.Kind + " " + s.Note)
	return slices.ContainsFunc(words, func(w string) bool { return strings.Contains(kind, w) })
}

// Point is a place where a probe can go. Name is the label printed on the
// board; Drawing the one on the drawing, since the two often disagree.
type Point struct {
	Name    string        `json:"name"`
	Drawing string        `json:"drawing,omitempty"`
	Note    string        `json:"note,omitempty" jsonschema:"description=what or where it is\\, in a few words"`
	Source  string        `json:"source,omitempty" jsonschema:"description=source resistance seen by a probe\\, for example 10k"`
	Minutes string        `json:"minutes,omitempty" jsonschema:"description=minutes to get a probe there"`
	Hazard  string        `json:"hazard,omitempty" jsonschema:"description=what to beware of at this point"`
	Twin    string        `json:"twin,omitempty" jsonschema:"description=the same place in the other channel"`
	Peak    string        `json:"peak,omitempty" jsonschema:"description=highest voltage to ground with pulses\\, for example 1.2 kV\\, where it is above what is expected here"`
	Was     []string      `json:"was,omitempty" jsonschema:"description=names that it had before"`
	Expect  []Expectation `json:"expect"`
}

// Quantity is what is measured at a point.
type Quantity string

// Words implements exchange.Enumerated.
func (Quantity) Words() []string {
	return exchange.WordsOf(append(slices.Clone(Quantities), "", TrackVolts, Provocation))
}

// The quantities a sheet states. AC is the level of the signal, on a rail its ripple.
const (
	AC         Quantity = "ac"
	DC         Quantity = "dc"
	Frequency  Quantity = "frequency"
	Resistance Quantity = "resistance" // to ground, with the set off
	Current    Quantity = "current"
	Power      Quantity = "power" // of the signal
	Deviation  Quantity = "deviation"
	Distortion Quantity = "distortion" // the most that a good set has
	// Temperature of a part, warmed up.
	Temperature Quantity = "temperature"
	// TrackVolts is read along a rail's copper while a limited current is fed
	// into it from outside, the set off. No sheet states it.
	TrackVolts Quantity = "track"
	// Provocation is something done to make a fault come or go, and what came of
	// it. No sheet states it.
	Provocation Quantity = "provocation"
)

// Expectation is what a good set shows at a point, and under which conditions.
// Drive is the generator level at the route's entry where it differs from the
// entry's own expected level.
type Expectation struct {
	Quantity       Quantity `json:"quantity" jsonschema:"enum=ac,enum=dc,enum=frequency,enum=resistance,enum=current,enum=power,enum=deviation,enum=distortion,enum=temperature"`
	Value          string   `json:"value"`
	Tolerance      string   `json:"tolerance,omitempty"`
	Shape          string   `json:"shape,omitempty" jsonschema:"description=sine (understood when empty)\\, square\\, triangle\\, or another word"`
	Picture        string   `json:"picture,omitempty" jsonschema:"description=name of a waveform picture"`
	Mode           string   `json:"mode,omitempty"`
	Drive          string   `json:"drive,omitempty"`
	DriveFrequency string   `json:"driveFrequency,omitempty"`
	Settings       string   `json:"settings,omitempty"`
}

// Stage is a block between two points. Limit is the level it clips at ("7 V")
// or the range over which its gain is controlled ("agc 40 dB"). Modes are the
// settings in which it carries the signal; none means all. An oscillator begins
// nowhere; feedback leads back, from a later point to an earlier one.
type Stage struct {
	Name  string   `json:"name"`
	Kind  string   `json:"kind,omitempty"`
	From  string   `json:"from"`
	To    string   `json:"to"`
	Gain  string   `json:"gain,omitempty"`
	Limit string   `json:"limit,omitempty"`
	Rails []string `json:"rails,omitempty"`
	Needs []string `json:"needs,omitempty" jsonschema:"description=controls\\, grounds\\, and points whose signal it needs"`
	Modes []string `json:"modes,omitempty"`
	Note  string   `json:"note,omitempty"`
	Was   []string `json:"was,omitempty" jsonschema:"description=names that it had before"`
}

// Kinds are the sorts of stage a sheet may name.
var Kinds = []string{"amplifier", "filter", "equaliser", "mixer", "oscillator", "detector", "control", "switch", "relay contact",
	"connector", "cable", "joint", "wire", "transformer", "speaker", "head", "aerial", feedbackKind, "other"}

// IsContact tells whether a kind of stage is made of contacts and joints.
func IsContact(kind string) bool {
	return slices.Contains([]string{"switch", "relay contact", "connector", "cable", "joint", "wire"}, kind)
}

// Kinds that the path treats otherwise: one begins by itself, one leads back.
const oscillator, feedbackKind = "oscillator", "feedback"

// Rail is a supply line. Point says where it is measured. From is the winding
// it comes from, the rail it is made from by a regulator of its own, or the point
// whose signal it is rectified from, as those of a line output are.
type Rail struct {
	Name            string   `json:"name"`
	Value           string   `json:"value" jsonschema:"description=24 V; 6.3 Vac where it alternates"`
	Tolerance       string   `json:"tolerance,omitempty"`
	Point           string   `json:"point,omitempty"`
	Ripple          string   `json:"ripple,omitempty" jsonschema:"description=highest on a good set\\, peak to peak"`
	RippleFrequency string   `json:"rippleFrequency,omitempty"`
	Load            string   `json:"load,omitempty" jsonschema:"description=current it gives\\, for example 350 mA"`
	Ohms            string   `json:"ohms,omitempty" jsonschema:"description=least resistance to ground on a good set that is off"`
	From            string   `json:"from,omitempty" jsonschema:"description=winding\\, another rail\\, or a point whose signal it is made from"`
	Fuse            string   `json:"fuse,omitempty"`
	Rectifier       string   `json:"rectifier,omitempty" jsonschema:"description=half wave\\, full wave or switching; the parts' names may follow"`
	Regulator       string   `json:"regulator,omitempty"`
	Up              Arrival  `json:"up,omitempty" jsonschema:"enum=mains,enum=start"`
	Order           string   `json:"order,omitempty" jsonschema:"description=1 for the first to come up"`
	Note            string   `json:"note,omitempty"`
	Was             []string `json:"was,omitempty" jsonschema:"description=names that it had before"`
}

// Arrival says when a rail comes up.
type Arrival string

// With the mains (in standby, where the set has one), or only once the set is
// told to start. Nothing said means with the mains.
const (
	WithMains Arrival = "mains"
	WithStart Arrival = "start"
)

// Reservoir is a capacitor that keeps its charge after the set is off. Volts
// is what it is charged to; left out, its rail's voltage.
type Reservoir struct {
	Name    string `json:"name"`
	Rail    string `json:"rail,omitempty"`
	Farads  string `json:"farads"`
	Volts   string `json:"volts,omitempty"`
	Bleeder string `json:"bleeder,omitempty" jsonschema:"description=resistance that empties it by itself"`
	Note    string `json:"note,omitempty"`
}

// Track is a place on a rail's copper: which place it comes after, the
// resistance between the two, what hangs there. The first place of a rail has
// no place before it. Opens is a link or plug before the place that can be opened.
type Track struct {
	Rail    string   `json:"rail"`
	Place   string   `json:"place"`
	After   string   `json:"after,omitempty"`
	Ohms    string   `json:"ohms,omitempty" jsonschema:"description=of the copper from the place before\\, for example 4 mΩ"`
	Opens   string   `json:"opens,omitempty"`
	Hangs   []string `json:"hangs,omitempty" jsonschema:"description=parts and stages fed there"`
	Minutes string   `json:"minutes,omitempty" jsonschema:"description=to lift one of them"`
}

// Hazard is something in the set that can hurt. Kind is one of HazardKinds.
type Hazard struct {
	Kind  string `json:"kind"`
	Where string `json:"where,omitempty"`
	Note  string `json:"note,omitempty"`
}

// HazardKinds are the sorts of danger a sheet may name.
var HazardKinds = []string{
	"mains",
	"hot chassis",
	"reservoir",
	"pulses",
	"picture tube",
	"rf power",
	"sharp edges",
	"hot parts",
	"leaking fluid",
	"battery",
	"lead and fumes",
}

// WeakSpot is a usual fault of the model. Stage is the stage or rail it is in;
// Symptom is how owners describe it, several ways with ; between.
type WeakSpot struct {
	Stage   string `json:"stage"`
	What    string `json:"what"`
	Symptom string `json:"symptom,omitempty"`
	Check   string `json:"check,omitempty" jsonschema:"description=the cheap check that shows it"`
}

// Complaint is what owners say of such a set, several ways with ; between, and the stages, rails and
// controls that it points at.
type Complaint struct {
	Says     string   `json:"says"`
	PointsAt []string `json:"pointsAt"`
}

// Circuit is what a stage, or a rail's supply, is made of. A node that has the name of a
// point, or of a rail, is that place.
type Circuit struct {
	Stage string         `json:"stage"`
	Parts []circuit.Part `json:"parts"`
}

// RouteName gives the people's name for the route between two points.
type RouteName struct {
	Name string `json:"name"`
	From string `json:"from"`
	To   string `json:"to"`
	Mode string `json:"mode,omitempty"`
}

// Severity tells whether a sheet can be traced by in spite of a problem.
type Severity string

// Words implements exchange.Enumerated.
func (Severity) Words() []string { return exchange.WordsOf([]Severity{Blocking, Doubtful}) }

// Blocking problems must be mended before tracing; doubtful ones are shown.
const (
	Blocking Severity = "error"
	Doubtful Severity = "warning"
)

// Problem is one thing wrong with a sheet. Where is for people; Path points
// into the document ("points/3/expect/0/value").
type Problem struct {
	Severity Severity `json:"severity" jsonschema:"enum=error,enum=warning"`
	Where    string   `json:"where"`
	Path     string   `json:"path"`
	Message  string   `json:"message"`
}

// Blocking finds the problem that keeps a point, a rail or a control from being judged,
// among those of a plan.
func (p *Plan) Blocking(name string, problems []Problem) (Problem, bool) {
	path := ""
	if i, ok := p.PointIndex(name); ok {
		path = fmt.Sprintf("points/%d/", i)
	}
	if i, ok := p.LineIndex(name); ok && i < len(p.Rails) {
		path = fmt.Sprintf("rails/%d/", i)
	} else if ok {
		path = fmt.Sprintf("controls/%d/", i-len(p.Rails))
	}
	i := slices.IndexFunc(problems, func(x Problem) bool {
		return x.Severity == Blocking && path != "" && strings.HasPrefix(x.Path, path)
	})
	if i < 0 {
		return Problem{}, false
	}
	return problems[i], true
}

// Blocked tells whether any of the problems keeps the sheet from being used.
func Blocked(problems []Problem) bool {
	for _, p := range problems {
		if p.Severity == Blocking {
			return true
		}
	}
	return false
}
