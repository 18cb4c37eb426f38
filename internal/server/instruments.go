package server

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/reference"
	"steptrace/core/sheet"
	"steptrace/core/trace"
	"steptrace/core/wave"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// Instruments readies the instruments that were kept.
func (s *Server) Instruments(ctx context.Context) error {
	list, err := s.store.Instruments(ctx)
	for _, in := range list {
		s.bench.Put(in)
	}
	return err
}

// InstrumentsView is all instruments, the table of messages that each kind begins with,
// and whether there is a practice bench.
type InstrumentsView struct {
	Instruments []instrument.Instrument    `json:"instruments"`
	Usual       map[instrument.Role]string `json:"usual"`
	Practice    bool                       `json:"practice"`
}

func (s *Server) instruments(*http.Request) (InstrumentsView, error) {
	v := InstrumentsView{Instruments: s.bench.List(), Usual: map[instrument.Role]string{}, Practice: s.practice != nil}
	if v.Instruments == nil {
		v.Instruments = []instrument.Instrument{}
	}
	for _, kind := range instrument.Roles {
		v.Usual[kind] = instrument.Usual(kind)
	}
	return v, nil
}

// own refuses to change a stand-in.
func (s *Server) own(id string) error {
	for _, in := range s.bench.List() {
		if in.ID == id && in.StandIn {
			return problem(
				http.StatusUnprocessableEntity,
				"A stand-in",
				"The practice instruments come with the program. Add one of your own instead.",
			)
		}
	}
	return nil
}

func (s *Server) putInstrument(r *http.Request, req instrument.Instrument) (InstrumentsView, error) {
	req.ID, req.StandIn = param(r, "id"), false
	req.Name, req.Address = strings.TrimSpace(req.Name), strings.TrimSpace(req.Address)
	err := sent(req.ID)
	if err == nil {
		err = s.own(req.ID)
	}
	if err != nil {
		return InstrumentsView{}, err
	}
	if err := req.Check(); err != nil {
		return InstrumentsView{}, problem(http.StatusUnprocessableEntity, "Not an instrument", err.Error())
	}
	if req.Wide && deviceOf(r) != nil {
		return InstrumentsView{}, problem(http.StatusForbidden, "Not from here",
			"That an instrument is outside of this network is allowed at the machine that the program runs on.")
	}
	if err := s.room(); err != nil {
		return InstrumentsView{}, err
	}
	if err := s.store.PutInstrument(r.Context(), req); err != nil {
		return InstrumentsView{}, err
	}
	s.bench.Put(req)
	return s.instruments(r)
}

// room tells whether there is any for another instrument.
func (s *Server) room() error {
	const most = 50
	if len(s.bench.List()) >= most {
		return problem(http.StatusUnprocessableEntity, "Too many", fmt.Sprintf("A bench has up to %d instruments.", most))
	}
	return nil
}

func (s *Server) removeInstrument(r *http.Request, _ Nothing) (InstrumentsView, error) {
	id := param(r, "id")
	err := s.own(id)
	if err == nil {
		err = s.store.RemoveInstrument(r.Context(), id)
	}
	if err != nil {
		return InstrumentsView{}, err
	}
	s.bench.Remove(id)
	return s.instruments(r)
}

// Said is what an instrument answered.
type Said struct {
	Text string `json:"text"`
}

func (s *Server) identify(r *http.Request, _ Nothing) (Said, error) {
	in, err := s.instrument(r)
	if err != nil {
		return Said{}, err
	}
	text, err := s.bench.Identify(r.Context(), in.ID)
	return Said{text}, err
}

// instrument is the one in the address.
func (s *Server) instrument(r *http.Request) (instrument.Instrument, error) {
	list := s.bench.List()
	i := slices.IndexFunc(list, func(in instrument.Instrument) bool { return in.ID == param(r, "id") })
	if i < 0 {
		return instrument.Instrument{}, store.ErrNotFound
	}
	return list[i], nil
}

// ToMeasure is one thing that a meter or a tester can measure.
type ToMeasure struct {
	What string `json:"what" jsonschema:"enum=dc,enum=ac,enum=frequency,enum=resistance,enum=capacitance,enum=esr"`
}

// measured are the units of what is measured.
var measured = map[string]quantity.Unit{
	"dc":          quantity.Volt,
	"ac":          quantity.Volt,
	"frequency":   quantity.Hertz,
	"resistance":  quantity.Ohm,
	"capacitance": quantity.Farad,
	"esr":         quantity.Ohm,
}

// measure asks a meter or a component tester for one value, and logs nothing.
func (s *Server) measure(r *http.Request, req ToMeasure) (Said, error) {
	in, err := s.instrument(r)
	if err != nil {
		return Said{}, err
	}
	unit, ok := measured[req.What]
	if !ok {
		return Said{}, problem(
			http.StatusUnprocessableEntity,
			"Not measured",
			fmt.Sprintf("%q is not measured: use dc, ac, frequency, resistance, capacitance or esr.", req.What),
		)
	}
	x, err := s.bench.Measure(r.Context(), in.ID, req.What)
	return Said{quantity.Value{SI: x, Unit: unit}.Short(4)}, err
}

// first gives the first instrument of a kind.
func (s *Server) first(kind instrument.Role) (instrument.Instrument, error) {
	in, ok := s.bench.First(kind)
	if !ok {
		return in, problem(
			http.StatusUnprocessableEntity,
			"No "+string(kind),
			fmt.Sprintf("No %s is known. Add yours under Instruments, with its address in the network.", kind),
		)
	}
	return in, nil
}

// taking is a reading that is being taken by an instrument.
type taking struct {
	trace.Case
	req      ToTake
	text     string // the reading as it is typed
	settings string
	capture  *job.Capture // nil: a plain value
	read     *wave.Capture
}

// ToTake is a reading that an instrument is to take: as one that is typed, but for its
// text. Second is where a scope's second probe is, whose channel is kept beside.
type ToTake struct {
	Typed
	Second string `json:"second,omitempty"`
	Mains  string `json:"mains,omitempty"` // frequency of the place, as typed; empty: 50 Hz
}

// takeReading has an instrument take what is aimed at, and logs it: a signal by the
// scope, with the capture; everything else by the meter.
func (s *Server) takeReading(r *http.Request, req ToTake) (JobView, error) {
	_, c, err := s.standing(r, &req.Typed)
	if err != nil {
		return JobView{}, err
	}
	j, err := load(r, s.store.Job)
	if err != nil {
		return JobView{}, err
	}
	number := j.Number
	if slices.ContainsFunc(j.Readings, func(x job.Logged) bool { return x.ID == req.ID }) {
		return s.job(r) // it was taken, and the answer did not arrive
	}
	if j.Finished != nil {
		return JobView{}, store.ErrFinished
	}
	switch {
	case s.training == nil:
		err = s.practiceReady(number, c, req.Point, req.Second)
	case !byDesk(c, &req.Typed):
		return s.logReading(r, req.Typed)
	default:
		err = s.layOut(r, c, &req)
	}
	if err != nil {
		return JobView{}, err
	}
	t := &taking{Case: c, req: req}
	q := cmp.Or(req.Quantity, sheet.AC)
	in := reading.InstrumentFor(c.Instrument)
	switch {
	case q != sheet.AC && q != sheet.DC && q != sheet.Frequency && q != sheet.Resistance:
		err = problem(http.StatusUnprocessableEntity, "Not by an instrument", "This is typed in, not taken by an instrument.")
	case in.Scope && (q == sheet.AC || q == sheet.Frequency):
		err = s.byScope(r.Context(), t, in, q)
	default:
		err = s.byMeter(r.Context(), t, q)
	}
	if err != nil {
		return JobView{}, err
	}
	t.settings = strings.Join(append([]string{t.settings}, s.fed(number)...), "; ")
	req.Text, req.Settings, req.Quantity = t.text, t.settings, q
	if t.capture != nil {
		req.Capture, t.capture.Settings = t.capture.ID, t.settings
	}
	reading, err := req.take(c, j.Repairs)
	if err != nil {
		return JobView{}, err
	}
	reading.ID, reading.Taken = req.ID, time.Now()
	return s.change(r, func(number int) error {
		if t.capture == nil {
			return s.store.Note(r.Context(), number, &job.Logged{Reading: reading}, nil)
		}
		files, err := store.OfCapture(t.capture.Data, t.read)
		if err != nil {
			return err
		}
		return s.store.Take(r.Context(), number, t.capture, files, reading)
	})
}

// byScope takes a capture: long and fine enough for what is due, its range made to fit.
//
// Long: a conversation, in which each answer is needed for what follows.
func (s *Server) byScope(ctx context.Context, t *taking, in reading.Instrument, q sheet.Quantity) error {
	scope, err := s.first(instrument.Scope)
	if err != nil {
		return err
	}
	site, err := siteOf(url.Values{"mains": {t.req.Mains}})
	if err != nil {
		return err
	}
	at := func(point string) reading.Reading {
		return reading.Reading{Point: point, Mode: t.Route.Mode, Injected: t.Injected, Instrument: t.Instrument}
	}
	due, unknown := reference.Due(t.Bench, at(t.req.Point), &site)
	view := instrument.View{Channels: []instrument.Channel{{Factor: in.Factor}}}
	view.Seconds, view.Points, view.Channels[0].Volts = wave.ViewOf(due.Hz, due.PeakPeak)
	points := []string{t.req.Point}
	if t.req.Second != "" {
		points = append(points, t.req.Second)
		second, _ := reference.Due(t.Bench, at(t.req.Second), &wave.Site{})
		_, _, volts := wave.ViewOf(0, second.PeakPeak)
		view.Channels = append(view.Channels, instrument.Channel{Factor: in.Factor, Volts: volts})
	}
	var taken instrument.Taken
	const tries = 5
	for range tries {
		if taken, err = s.bench.Capture(ctx, scope.ID, view); err != nil {
			return err
		}
		all := true
		for i := range view.Channels {
			better, fits := wave.Fits(taken.Samples[i], view.Channels[i].Volts)
			view.Channels[i].Volts = better
			all = all && fits
		}
		if all {
			break
		}
	}
	data := wave.Table(taken.Interval, taken.Samples)
	if t.read, err = wave.Read(ctx, data, wave.Options{}); err != nil {
		return problem(http.StatusBadGateway, "Not a waveform", scope.Name+" sent what is no waveform: "+err.Error())
	}
	if err := t.read.Prove(); err != nil {
		return err
	}
	ch := &t.read.Channels[0]
	figures := ch.Measure(t.read.Rate, site)
	var compared *wave.Comparison
	if unknown == "" {
		if ref, err := due.Reference(t.read.Rate); err == nil {
			if c, ok := wave.Compare(ch, t.read.Rate, &ref, site); ok {
				compared = &c
			}
		}
	}
	t.text = figures.Reading(compared)
	switch _, rail := t.Plan.RailIndex(t.req.Point); {
	case q == sheet.Frequency:
		f, ok := figures.Find("frequency")
		if !ok {
			return problem(
				http.StatusUnprocessableEntity,
				"No frequency",
				"Nothing that repeats is there, so that no frequency can be read. Type none if nothing is heard or seen.",
			)
		}
		t.text = f.Reading
	case rail: // its ripple
		f, _ := figures.Find("pp")
		t.text = f.Reading
	}
	t.settings = taken.Settings
	t.capture = &job.Capture{
		ID:         "c" + t.req.ID,
		Name:       strings.ReplaceAll(scope.Name, " ", "-") + ".csv",
		Points:     points,
		Mode:       t.Route.Mode,
		Injected:   t.Injected,
		Instrument: t.Instrument,
		Taken:      time.Now(),
		Data:       data,
	}
	return t.capture.Check(t.Plan)
}

// forms are how a meter's values are typed.
var forms = map[sheet.Quantity]struct{ what, form string }{
	sheet.AC: {
		"ac",
		"%.5g Vrms",
	}, sheet.DC: {"dc", "%.5g V dc"}, sheet.Frequency: {"frequency", "%.7g Hz"}, sheet.Resistance: {"resistance", "%.5g ohm"},
}

func (s *Server) byMeter(ctx context.Context, t *taking, q sheet.Quantity) error {
	meter, err := s.first(instrument.Meter)
	if err != nil {
		return err
	}
	if q == sheet.Resistance {
		if err := t.Power.MustBeOff("Ohms are read"); err != nil {
			return err
		}
	}
	x, err := s.bench.Measure(ctx, meter.ID, forms[q].what)
	if err != nil {
		return err
	}
	t.text, t.settings = fmt.Sprintf(forms[q].form, x), meter.Name
	return nil
}

// fed is how the generator was last set for a job.
func (s *Server) fed(number int) []string {
	s.feeding.mu.Lock()
	defer s.feeding.mu.Unlock()
	if text := s.feeding.settings[number]; text != "" {
		return []string{text}
	}
	return nil
}

// feed sets the generator to what is fed in: level and frequency as they are set, or the
// sheet's own.
func (s *Server) feed(r *http.Request, req Conditions) (Said, error) {
	base, err := s.tracing(r)
	if err != nil {
		return Said{}, err
	}
	number, err := intParam(r, "number")
	if err != nil {
		return Said{}, err
	}
	c, err := req.under(base)
	if err != nil {
		return Said{}, err
	}
	return s.feedFor(r.Context(), number, c)
}

// feedFor sets the generator for a case.
func (s *Server) feedFor(ctx context.Context, number int, c trace.Case) (Said, error) {
	generator, err := s.first(instrument.Generator)
	if err != nil {
		return Said{}, err
	}
	from := 0
	if c.Injected != nil {
		if c.Injected.Touch {
			return Said{}, problem(
				http.StatusUnprocessableEntity,
				"A touch",
				"A touch is made with a finger or the tip. Choose a level and a frequency to use the generator.",
			)
		}
		point, _ := c.Plan.PointIndex(c.Injected.At)
		at, ok := c.Route.At(point)
		if !ok {
			return Said{}, problem(
				http.StatusUnprocessableEntity,
				"Not on this route",
				c.Injected.At+" is not on the route being traced: its level and frequency are not known. Set the generator by hand.",
			)
		}
		from = at
	}
	level := c.Route.Levels[from]
	fed := instrument.Fed{Shape: shapeWords[level.Shape], Hz: level.Hz}
	if level.Known {
		fed.RMS = quantity.Times(level.DBV)
	}
	if c.Injected != nil {
		fed.RMS, fed.Hz = cmp.Or(c.Injected.Level, fed.RMS), cmp.Or(c.Injected.Hz, fed.Hz)
	}
	if fed.RMS == 0 || fed.Hz == 0 {
		return Said{}, problem(
			http.StatusUnprocessableEntity,
			"Not known",
			"The sheet gives no level or no frequency here. Say what is to be fed in (key i), then set the generator again.",
		)
	}
	if fed.Shape == "" {
		fed.Shape = shapeWords[quantity.Sine]
	}
	if busy := s.soaks.uses(0, func(x *soaking) bool { return x.plan.Feeds() }); busy != 0 {
		return Said{}, inUse(busy)
	}
	settings, err := s.bench.Feed(ctx, generator.ID, &fed)
	if err != nil {
		return Said{}, err
	}
	s.feeding.mu.Lock()
	defer s.feeding.mu.Unlock()
	s.feeding.settings[number] = settings
	return Said{settings}, nil
}

// shapeWords are the names of shapes to a generator (SCPI-99).
var shapeWords = map[quantity.Shape]string{quantity.Sine: "SIN", quantity.Square: "SQU", quantity.Triangle: "TRI"}

// troubled turns what an instrument did not do into a problem.
func troubled(err error) *ProblemDetails {
	var t *instrument.Trouble
	if errors.As(err, &t) {
		return problem(http.StatusBadGateway, "The instrument", t.Error()+".")
	}
	return nil
}
