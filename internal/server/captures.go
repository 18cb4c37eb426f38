package server

import (
	"encoding/json"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/wave"
	"steptrace/internal/store"
)

// CaptureHead is a captured waveform of a job, as a list shows it.
type CaptureHead struct {
	ID         string             `json:"id"`
	Name       string             `json:"name"`
	Taken      time.Time          `json:"taken"`
	Struck     bool               `json:"struck"`
	Trouble    string             `json:"trouble"` // why it cannot be worked out; empty: it can
	Good       bool               `json:"good"`
	Mode       string             `json:"mode"`
	Injected   *reading.Injection `json:"injected" jsonschema:"nullable"`
	Instrument string             `json:"instrument"`
	Settings   string             `json:"settings"`
	Rate       float64            `json:"rate"`
	Samples    int                `json:"samples"`
	Seconds    float64            `json:"seconds"`
	Channels   []CaptureChannel   `json:"channels"`
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
	h := CaptureHead{
		ID:         c.ID,
		Name:       c.Name,
		Taken:      c.Taken,
		Struck:     c.Struck,
		Good:       c.Good,
		Mode:       c.Mode,
		Injected:   c.Injected,
		Instrument: c.Instrument,
		Settings:   c.Settings,
		Channels:   []CaptureChannel{},
	}
	if err := c.Read.Check(); err != nil {
		h.Trouble = err.Error()
	} else {
		h.Rate, h.Samples, h.Seconds = c.Read.Rate, c.Samples, float64(c.Samples)/c.Read.Rate
	}
	for i, ch := range c.Read.Channels {
		h.Channels = append(h.Channels, CaptureChannel{ch.Name, ch.Unit, c.Point(i)})
	}
	return h
}

func (s *Server) captures(r *http.Request) (CapturesView, error) {
	j, err := load(r, s.store.Job)
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
			return nil, nil, problem(
				http.StatusBadRequest,
				"Not understood",
				"The conditions are JSON as in a reading. docs/api.md shows them.",
			)
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
	read, err := wave.Read(r.Context(), data, said)
	if err != nil {
		return nil, nil, err
	}
	capture := &job.Capture{ID: q.Get("id"), Name: strings.TrimSpace(q.Get("name")), Points: q["point"], Said: said, Mode: c.Route.Mode,
		Injected: c.Injected, Instrument: c.Instrument, Settings: q.Get("settings"), Taken: time.Now(), Data: data}
	return capture, read, capture.Check(c.Plan)
}

// keepCapture keeps a capture; the address carries its id, made by the sender.
func (s *Server) keepCapture(w http.ResponseWriter, r *http.Request) (Kept, error) {
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
	if err := read.Prove(); err != nil {
		return Kept{}, err
	}
	files, err := store.OfCapture(capture.Data, read)
	if err != nil {
		return Kept{}, err
	}
	return Kept{capture.ID}, s.store.Note(r.Context(), number, capture, files)
}

// readCapture reads and compares a capture without keeping it.
func (s *Server) readCapture(w http.ResponseWriter, r *http.Request) (WaveView, error) {
	capture, read, err := s.received(w, r)
	if err != nil {
		return WaveView{}, err
	}
	number, err := intParam(r, "number")
	if err != nil {
		return WaveView{}, err
	}
	open := &openCapture{Capture: store.Capture{Capture: *capture, Job: number, Read: *read, Samples: len(read.Channels[0].Samples)}}
	return waveView(r.Context(), read, func(i int, ch *wave.Channel) (ChannelView, error) {
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

// saysNothing is what is said of a reference that a capture cannot be laid over.
const saysNothing = " says nothing of a waveform like this"

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
	c := l.compare()
	v.ChannelView = ChannelView{Name: ch.Name, Unit: ch.Unit, Figures: l.measured(l.channel, l.site, l.workKey()), Against: l.says}
	if c != nil {
		v.Comparison = &c.Comparison
	} else if l.ref != nil {
		v.Against += saysNothing
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
	return strip(&l.Read.Channels[l.channel], l.overview(l.channel), l.Read.Rate, l.compare(), from, to, parts), nil
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

func (s *Server) captureFile(w http.ResponseWriter, r *http.Request) error {
	number, err := intParam(r, "number")
	if err != nil {
		return err
	}
	name, data, err := s.store.CaptureFile(r.Context(), number, param(r, "id"))
	if err != nil {
		return err
	}
	if name == "" {
		name = "capture"
	}
	attach(w, "application/octet-stream", name, data)
	return nil
}

// GoodCapture says whether a capture is one to compare later ones with.
type GoodCapture struct {
	Good bool `json:"good"`
}

func (s *Server) markCapture(r *http.Request, req GoodCapture) (CapturesView, error) {
	number, err := intParam(r, "number")
	if err == nil {
		err = s.store.MarkCapture(r.Context(), number, param(r, "id"), req.Good)
	}
	if err != nil {
		return CapturesView{}, err
	}
	return s.captures(r)
}
