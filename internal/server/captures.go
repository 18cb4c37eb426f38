package server

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/trace"
	"steptrace/core/wave"
	"steptrace/internal/store"
)

// CaptureHead is a captured waveform of a job, as a list shows it.
type CaptureHead struct {
	ID         string           `json:"id"`
	Name       string           `json:"name"`
	Taken      time.Time        `json:"taken"`
	Struck     bool             `json:"struck"`
	Good       bool             `json:"good"`
	Mode       string           `json:"mode"`
	Injected   *trace.Injection `json:"injected" jsonschema:"nullable"`
	Instrument string           `json:"instrument"`
	Settings   string           `json:"settings"`
	Rate       float64          `json:"rate"`
	Samples    int              `json:"samples"`
	Seconds    float64          `json:"seconds"`
	Channels   []CaptureChannel `json:"channels"`
}

// CaptureChannel is one channel of it, and the point it was taken at.
type CaptureChannel struct {
	Name  string `json:"name"`
	Unit  string `json:"unit"`
	Point string `json:"point"`
}

// CapturesView is all captures of a job. Points are those of the route being traced,
// in its order.
type CapturesView struct {
	Head
	Points   []string      `json:"points"`
	Captures []CaptureHead `json:"captures"`
}

func headOf(c *store.Capture) CaptureHead {
	h := CaptureHead{ID: c.ID, Name: c.Name, Taken: c.Taken, Struck: c.Struck, Good: c.Good, Mode: c.Mode, Injected: c.Injected, Instrument: c.Instrument, Settings: c.Settings,
		Rate: c.Read.Rate, Samples: c.Samples, Seconds: float64(c.Samples) / c.Read.Rate, Channels: []CaptureChannel{}}
	for i, ch := range c.Read.Channels {
		h.Channels = append(h.Channels, CaptureChannel{ch.Name, ch.Unit, c.Point(i)})
	}
	return h
}

func (s *Server) captures(r *http.Request) (CapturesView, error) {
	j, err := load(r, s.store.JobHead)
	if err != nil {
		return CapturesView{}, err
	}
	v := CapturesView{Head: head(&j), Points: []string{}, Captures: []CaptureHead{}}
	if c, ok := j.Case(j.Sheet.Plan); ok {
		for _, at := range c.Route.Points {
			v.Points = append(v.Points, c.Plan.Points[at].Name)
		}
	}
	all, err := s.store.Captures(r.Context(), j.Number)
	for i := range all {
		v.Captures = append(v.Captures, headOf(&all[i]))
	}
	return v, err
}

// received takes a capture as the body. The address carries its name, the points of
// its channels, what is said beside the file, and the conditions.
func (s *Server) received(w http.ResponseWriter, r *http.Request) (*job.Capture, *wave.Capture, error) {
	base, err := s.tracing(r)
	if err != nil {
		return nil, nil, err
	}
	q := r.URL.Query()
	said, err := waveOptions(q)
	if err != nil {
		return nil, nil, err
	}
	var conditions Conditions
	if text := q.Get("conditions"); text != "" {
		if err := json.Unmarshal([]byte(text), &conditions); err != nil {
			return nil, nil, problem(http.StatusBadRequest, "Not understood", "The conditions are JSON as in a reading. docs/api.md shows them.")
		}
	}
	c, err := conditions.under(base)
	if err != nil {
		return nil, nil, err
	}
	data, err := body(w, r, maxCapture)
	if err != nil {
		return nil, nil, err
	}
	read, err := wave.Read(data, said)
	if err != nil {
		return nil, nil, err
	}
	capture := &job.Capture{ID: q.Get("id"), Name: strings.TrimSpace(q.Get("name")), Points: q["point"], Said: said, Mode: c.Route.Mode,
		Injected: c.Injected, Instrument: c.Instrument, Settings: q.Get("settings"), Taken: time.Now(), Data: data}
	return capture, read, capture.Check(c.Plan)
}

// keepCapture keeps a capture; the address carries its id, made by the sender.
func (s *Server) keepCapture(w http.ResponseWriter, r *http.Request) {
	kept, err := func() (Kept, error) {
		if err := sent(r.URL.Query().Get("id")); err != nil {
			return Kept{}, err
		}
		capture, read, err := s.received(w, r)
		if err != nil {
			return Kept{}, err
		}
		number, err := intParam(r, "number")
		if err != nil {
			return Kept{}, err
		}
		return Kept{capture.ID}, s.store.AddCapture(r.Context(), number, capture, read)
	}()
	if err != nil {
		fail(w, r, err)
		return
	}
	send(w, r, kept)
}

// readCapture reads and compares a capture without keeping it.
func (s *Server) readCapture(w http.ResponseWriter, r *http.Request) {
	v, err := func() (WaveView, error) {
		capture, read, err := s.received(w, r)
		if err != nil {
			return WaveView{}, err
		}
		number, err := intParam(r, "number")
		if err != nil {
			return WaveView{}, err
		}
		open := &openCapture{Capture: store.Capture{Capture: *capture, Job: number, Read: *read, Samples: len(read.Channels[0].Samples)}}
		return waveView(read, func(i int, ch *wave.Channel) (ChannelView, error) {
			l := &looking{openCapture: open, channel: i}
			q := r.URL.Query()
			var err error
			if l.site, err = siteOf(q); err == nil {
				err = s.references(r, l, q)
			}
			var ref *wave.Reference
			if err == nil && l.ref != nil {
				ref, err = l.ref()
			}
			if err != nil {
				return ChannelView{}, err
			}
			return channelView(ch, read.Rate, ref, l.says, l.site), nil
		})
	}()
	if err != nil {
		fail(w, r, err)
		return
	}
	send(w, r, v)
}

// ReferenceChoice is something a channel can be compared with.
type ReferenceChoice struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// Seen is what was measured of one channel of a kept capture, and of it against a
// reference.
type Seen struct {
	ChannelView
	Reference  string            `json:"reference"`  // key of what it was compared with; empty: nothing
	References []ReferenceChoice `json:"references"` // the likeliest first
	Spectrum   wave.Spectrum     `json:"spectrum"`
	Understood []string          `json:"understood"`
	Between    []wave.Figure     `json:"between"` // of the second channel against the first
	Rises      float64           `json:"rises"`   // seconds from the first sample to where it first rises through its middle
}

// looking is a channel of a kept capture that is looked at, with a reference.
type looking struct {
	*openCapture
	channel int
	site    wave.Site
	choices []ReferenceChoice
	key     string // of the reference; empty: none
	says    string // what it is, or why there is none
	ref     func() (*wave.Reference, error)
}

// look finds the channel in the address, and its reference.
func (s *Server) look(r *http.Request) (*looking, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return nil, err
	}
	c, err := s.capture(r.Context(), number, chi.URLParam(r, "id"))
	if err != nil {
		return nil, err
	}
	q := r.URL.Query()
	l := &looking{openCapture: c}
	if text := q.Get("channel"); text != "" {
		if l.channel, err = strconv.Atoi(text); err != nil || l.channel < 0 || l.channel >= len(c.Read.Channels) {
			return nil, problem(http.StatusUnprocessableEntity, "No such channel", fmt.Sprintf("The capture has %d channels, numbered from 0.", len(c.Read.Channels)))
		}
	}
	if l.site, err = siteOf(q); err != nil {
		return nil, err
	}
	if err := s.references(r, l, q); err != nil {
		return nil, err
	}
	return l, nil
}

// references lists what a channel can be compared with, and takes the one asked for,
// or the likeliest.
func (s *Server) references(r *http.Request, l *looking, q url.Values) error {
	base, err := s.tracing(r)
	if err != nil {
		return err
	}
	point := l.Point(l.channel)
	refs := map[string]func() (*wave.Reference, error){}
	add := func(key, name string, ref func() (*wave.Reference, error)) {
		if refs[key] == nil {
			refs[key] = ref
			l.choices = append(l.choices, ReferenceChoice{key, name})
		}
	}
	made := func(d wave.Description) func() (*wave.Reference, error) {
		return func() (*wave.Reference, error) {
			ref, err := d.Reference(l.Read.Rate)
			if err != nil {
				err = problem(http.StatusUnprocessableEntity, "No reference", err.Error())
			}
			return &ref, err
		}
	}
	described, err := describedBy(q)
	if err != nil {
		return err
	}
	if described != nil {
		add("described", inWords(*described), made(*described))
	}
	l.says = "nothing to compare with: say at which point it was taken"
	if point != "" {
		due, why, ok := base.Due(trace.Reading{Point: point, Mode: l.Mode, Injected: l.Injected, Instrument: scopeOf(l.Instrument)})
		l.says = why
		if ok {
			for _, rail := range due.Rails {
				l.site.Rails = append(l.site.Rails, wave.Rail{Name: rail.Name, Volts: rail.Volts})
			}
			l.site.LowDB, l.site.HighDB = due.LowDB, due.HighDB
			pp, err := due.Shape.Convert(due.RMS, quantity.RMS, quantity.PeakPeak)
			switch {
			case err != nil:
				l.says = fmt.Sprintf("the sheet calls the signal here %q, which is not generated: compare with a good capture", string(due.Shape))
			case due.Hz == 0:
				l.says = "the sheet gives no frequency here"
			default:
				d := wave.Description{Shape: due.Shape, PeakPeak: pp, Hz: due.Hz}
				add("sheet", "the sheet: "+inWords(d), made(d))
			}
		}
		if err := s.captured(r, l, base, point, add); err != nil {
			return err
		}
	}
	switch key := q.Get("against"); {
	case key == "none":
		l.says = "compared with nothing"
		return nil
	case key != "" && refs[key] == nil:
		return problem(http.StatusUnprocessableEntity, "No such reference", "What this was to be compared with is not there, or no longer. Reload the page and pick another.")
	case key != "":
		l.key = key
	case len(l.choices) > 0:
		l.key = l.choices[0].Key
	}
	if l.key != "" {
		l.ref = refs[l.key]
		l.says = l.choices[slices.IndexFunc(l.choices, func(c ReferenceChoice) bool { return c.Key == l.key })].Name
	}
	return nil
}

// captured adds the captures that a channel at a point can be compared with: good
// ones of the same point of this model, and the twin's of this job.
func (s *Server) captured(r *http.Request, l *looking, base trace.Case, point string, add func(key, name string, ref func() (*wave.Reference, error))) error {
	j, err := load(r, s.store.JobHead)
	if err != nil {
		return err
	}
	good, err := s.store.GoodCaptures(r.Context(), j.Sheet.ID)
	if err != nil {
		return err
	}
	own, err := s.store.Captures(r.Context(), j.Number)
	if err != nil {
		return err
	}
	twin := ""
	if at, ok := base.Plan.PointIndex(point); ok && base.Plan.Points[at].Twin >= 0 {
		twin = base.Plan.Points[base.Plan.Points[at].Twin].Name
	}
	each := func(list []store.Capture, wanted, name string) {
		for i := range list {
			c := &list[i]
			if c.Struck || wanted == "" || c.Mode != l.Mode {
				continue
			}
			for k := range c.Read.Channels {
				if c.Point(k) != wanted || c.Job == l.Job && c.ID == l.ID && k == l.channel {
					continue
				}
				from, id := c.Job, c.ID
				where := ""
				if from != l.Job {
					where = fmt.Sprintf(", job %d", from)
				}
				add(fmt.Sprintf("%d/%s/%d", from, id, k), fmt.Sprintf("%s %s, %s%s", name, wanted, c.Taken.Format("2 Jan 15:04"), where), func() (*wave.Reference, error) {
					other, err := s.capture(r.Context(), from, id)
					if err != nil {
						return nil, err
					}
					return &wave.Reference{Channel: other.Read.Channels[k], Rate: other.Read.Rate}, nil
				})
			}
		}
	}
	each(good, point, "good capture at")
	each(own, twin, "twin")
	each(good, twin, "good twin")
	slices.Reverse(own)
	each(own, point, "earlier at")
	return nil
}

// scopeOf is the instrument where it is a scope, or else the usual one: nothing else
// takes a waveform.
func scopeOf(instrument string) string {
	if in := trace.InstrumentFor(instrument); in.Scope {
		return in.Key
	}
	return trace.Instruments()[0].Key
}

// workKey names what was worked out of a channel.
func (l *looking) workKey() string { return fmt.Sprintf("%d %s %+v", l.channel, l.key, l.site) }

// compare compares the channel with its reference; nil where there is none.
func (l *looking) compare() (*compared, error) {
	if l.ref == nil {
		return nil, nil
	}
	ref, err := l.ref()
	if err != nil {
		return nil, err
	}
	return l.against(l.channel, ref, l.site, l.workKey()+l.says), nil
}

// spectrumParts are more than a screen has columns.
const spectrumParts = 900

func (s *Server) seeCapture(r *http.Request) (Seen, error) {
	l, err := s.look(r)
	if err != nil {
		return Seen{}, err
	}
	ch := &l.Read.Channels[l.channel]
	v := Seen{Reference: l.key, References: l.choices, Understood: l.Read.Understood, Between: []wave.Figure{}}
	if v.References == nil {
		v.References = []ReferenceChoice{}
	}
	c, err := l.compare()
	if err != nil {
		return Seen{}, err
	}
	v.ChannelView = ChannelView{Name: ch.Name, Unit: ch.Unit, Figures: l.measured(l.channel, l.site, l.workKey()), Against: l.says}
	if c != nil {
		v.Comparison = &c.Comparison
	}
	n := len(ch.Samples)
	v.Whole = strip(ch, l.overview(l.channel), l.Read.Rate, c, 0, n, drawn)
	v.Few = strip(ch, l.overview(l.channel), l.Read.Rate, c, 0, few(&v.Figures, l.Read.Rate, n), fewParts)
	v.Spectrum = ch.Spectrum(l.Read.Rate, spectrumParts)
	v.Rises = ch.Rises() / l.Read.Rate
	if len(l.Read.Channels) > 1 {
		v.Between = l.Read.Between(0, 1).List
	}
	return v, nil
}

// mostParts is how many parts of a stretch are given at most.
const mostParts = 4000

func (s *Server) stripOf(r *http.Request) (Strip, error) {
	l, err := s.look(r)
	if err != nil {
		return Strip{}, err
	}
	q := r.URL.Query()
	n := float64(l.Samples)
	start, end, parts := 0.0, n/l.Read.Rate, drawn
	err = values(wanted{"from", q.Get("from"), quantity.Second, &start}, wanted{"to", q.Get("to"), quantity.Second, &end})
	if text := q.Get("parts"); err == nil && text != "" {
		parts, err = strconv.Atoi(text)
	}
	if err != nil {
		return Strip{}, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	from := int(max(0, min(n-1, math.Round(start*l.Read.Rate))))
	to := int(max(float64(from)+1, min(n, math.Round(end*l.Read.Rate))))
	parts = max(1, min(mostParts, parts))
	c, err := l.compare()
	if err != nil {
		return Strip{}, err
	}
	return strip(&l.Read.Channels[l.channel], l.overview(l.channel), l.Read.Rate, c, from, to, parts), nil
}

// Stretch is what is read at two times of a channel, and between them.
type Stretch struct {
	List []wave.Figure `json:"list"`
}

func (s *Server) stretch(r *http.Request) (Stretch, error) {
	l, err := s.look(r)
	if err != nil {
		return Stretch{}, err
	}
	var a, b float64
	q := r.URL.Query()
	if err := values(wanted{"a", q.Get("a"), quantity.Second, &a}, wanted{"b", q.Get("b"), quantity.Second, &b}); err != nil {
		return Stretch{}, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	return Stretch{l.Read.Channels[l.channel].Stretch(l.Read.Rate, a, b)}, nil
}

func (s *Server) captureFile(w http.ResponseWriter, r *http.Request) {
	number, err := intParam(r, "number")
	if err != nil {
		fail(w, r, err)
		return
	}
	name, data, err := s.store.CaptureFile(r.Context(), number, chi.URLParam(r, "id"))
	if err != nil {
		fail(w, r, err)
		return
	}
	if name == "" {
		name = "capture"
	}
	attach(w, "application/octet-stream", name, data)
}

func (s *Server) strikeCapture(r *http.Request, _ Nothing) (CapturesView, error) {
	return s.changeCapture(r, func(number int, id string) error { return s.store.StrikeCapture(r.Context(), number, id) })
}

// GoodCapture says whether a capture is one to compare later ones with.
type GoodCapture struct {
	Good bool `json:"good"`
}

func (s *Server) markCapture(r *http.Request, req GoodCapture) (CapturesView, error) {
	return s.changeCapture(r, func(number int, id string) error { return s.store.MarkCapture(r.Context(), number, id, req.Good) })
}

func (s *Server) changeCapture(r *http.Request, act func(number int, id string) error) (CapturesView, error) {
	number, err := intParam(r, "number")
	if err == nil {
		err = act(number, chi.URLParam(r, "id"))
	}
	if err != nil {
		return CapturesView{}, err
	}
	return s.captures(r)
}
