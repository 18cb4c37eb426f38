package server

import (
	"context"
	"fmt"
	"io"
	"mime"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/wave"
)

// maxCapture is for a captured waveform: ten million samples as a table.
const maxCapture = 256 << 20

// drawn is how many parts of a waveform are given for drawing, more than a screen has
// columns for it; fewPeriods are drawn in detail, in as many parts as a curve needs.
const drawn, fewPeriods, fewParts = 1200, 4, 400

// WaveView is what was understood of a capture, and what was measured.
type WaveView struct {
	Rate       float64       `json:"rate"` // samples a second
	Samples    int           `json:"samples"`
	Seconds    float64       `json:"seconds"`
	Understood []string      `json:"understood"`
	Channels   []ChannelView `json:"channels"`
	Between    []wave.Figure `json:"between"` // of the second channel against the first
}

// ChannelView is one channel of a capture.
type ChannelView struct {
	Name string `json:"name"`
	Unit string `json:"unit"`
	wave.Figures
	// Against a reference, where there is one.
	Comparison *wave.Comparison `json:"comparison" jsonschema:"nullable"`
	Against    string           `json:"against"` // the reference in words, or why there is none
	Whole      Strip            `json:"whole"`
	Few        Strip            `json:"few"` // the first few periods; the whole where it has none
}

// Strip is a stretch of a waveform, for drawing: the least and the greatest sample of
// equal parts of it. Due is what the reference allows there, aligned, with the
// tolerance of its level; Left what remains when the reference at the capture's own
// level is taken away. Both are empty where nothing could be laid under it, or the
// stretch is too long for that to show.
type Strip struct {
	From     float64   `json:"from"` // seconds from the first sample
	To       float64   `json:"to"`
	Low      []float64 `json:"low"`
	High     []float64 `json:"high"`
	DueLow   []float64 `json:"dueLow"`
	DueHigh  []float64 `json:"dueHigh"`
	LeftLow  []float64 `json:"leftLow"`
	LeftHigh []float64 `json:"leftHigh"`
	// Dots are the samples themselves where they are few, each in the middle of its interval:
	// low and high are then the band-limited course between them.
	Dots []float64 `json:"dots"`
}

const (
	// A stretch with fewer samples than a third of the parts is drawn by what lies between
	// them; up to mostDots are marked.
	sparse   = 3
	mostDots = 150
)

// mostLaid is the longest stretch, in samples, for which what is due is worked out.
const mostLaid = 120_000

// strip cuts samples from one to before another out of a channel.
func strip(ch *wave.Channel, o *wave.Overview, rate float64, against *compared, from, to, parts int) Strip {
	s := Strip{
		From:     float64(from) / rate,
		To:       float64(to) / rate,
		DueLow:   []float64{},
		DueHigh:  []float64{},
		LeftLow:  []float64{},
		LeftHigh: []float64{},
		Dots:     []float64{},
	}
	n := to - from
	drawn := func(o *wave.Overview, from int) (low, high []float64) {
		if sparse*n > parts || n < 2 {
			return o.Envelope(from, from+n, parts)
		}
		line := o.Between(from, from+n, parts)
		return line, line
	}
	s.Low, s.High = drawn(o, from)
	if sparse*n <= parts && n <= mostDots {
		s.Dots = ch.Samples[from:to]
	}
	if against == nil || n > mostLaid {
		return s
	}
	envelope := func(x []float64) (low, high []float64) {
		part := wave.Channel{Samples: x}
		return drawn(part.Overview(), 0)
	}
	if low, high := against.Allowed(from, n, against.site); len(low) > 0 {
		s.DueLow, _ = envelope(low)
		_, s.DueHigh = envelope(high)
		s.LeftLow, s.LeftHigh = envelope(against.Difference(ch, from, n))
	}
	return s
}

// compared is a comparison with what it was made with.
type compared struct {
	wave.Comparison
	site wave.Site
}

// waveform reads a captured waveform, or a pair of a capture and its reference, sent
// as the files they are, and measures it.
func (s *Server) waveform(w http.ResponseWriter, r *http.Request) (WaveView, error) {
	q := r.URL.Query()
	o, err := waveOptions(q)
	if err != nil {
		return WaveView{}, err
	}
	site, err := siteOf(q)
	if err != nil {
		return WaveView{}, err
	}
	described, err := describedBy(q)
	if err != nil {
		return WaveView{}, err
	}
	data, references, err := captured(w, r)
	if err != nil {
		return WaveView{}, err
	}
	c, err := wave.Read(r.Context(), data, o)
	if err != nil {
		return WaveView{}, err
	}
	var ref *wave.Reference
	against := ""
	switch {
	case len(references) > 0:
		if ref, against, err = sentAlong(r.Context(), references, site); err != nil {
			return WaveView{}, err
		}
	case described != nil:
		made, err := described.Reference(c.Rate)
		if err != nil {
			return WaveView{}, problem(http.StatusUnprocessableEntity, "No reference", err.Error())
		}
		ref, against = &made, inWords(*described)
	}
	return waveView(r.Context(), c, func(_ int, ch *wave.Channel) (ChannelView, error) {
		return channelView(ch, c.Rate, ref, against, site), nil
	})
}

// waveView is a capture with each of its channels, unless the context ends.
func waveView(ctx context.Context, c *wave.Capture, see func(i int, ch *wave.Channel) (ChannelView, error)) (WaveView, error) {
	v := WaveView{
		Rate:       c.Rate,
		Samples:    len(c.Channels[0].Samples),
		Seconds:    c.Seconds(),
		Understood: c.Understood,
		Channels:   []ChannelView{},
		Between:    []wave.Figure{},
	}
	for i := range c.Channels {
		if err := ctx.Err(); err != nil {
			return v, err
		}
		channel, err := see(i, &c.Channels[i])
		if err != nil {
			return v, err
		}
		v.Channels = append(v.Channels, channel)
	}
	if len(c.Channels) > 1 {
		v.Between = c.Between(0, 1).List
	}
	return v, nil
}

// sentAlong is a reference that came with a capture, or the mask of several.
func sentAlong(ctx context.Context, files [][]byte, site wave.Site) (ref *wave.Reference, against string, err error) {
	var all []*wave.Reference
	for _, data := range files {
		read, err := wave.Read(ctx, data, wave.Options{})
		if err != nil {
			return nil, "", problem(http.StatusUnprocessableEntity, "The reference cannot be read", "The reference: "+err.Error())
		}
		all = append(all, read.Reference(0))
	}
	if len(all) == 1 {
		return all[0], "the reference sent along", nil
	}
	mask, err := wave.MaskOf(all, site)
	if err != nil {
		return nil, "", problem(http.StatusUnprocessableEntity, "No mask", mend.Sentence(err.Error()))
	}
	return &mask.Reference, fmt.Sprintf("the mask of %d captures sent along", mask.Count), nil
}

// captured takes a capture as the body; or, as multipart form data, a capture and its
// references under these names.
func captured(w http.ResponseWriter, r *http.Request) (capture []byte, references [][]byte, err error) {
	if kind, _, _ := mime.ParseMediaType(r.Header.Get("Content-Type")); kind != "multipart/form-data" {
		capture, err = body(w, r, maxCapture)
		return capture, nil, err
	}
	r.Body = http.MaxBytesReader(w, r.Body, 2*maxCapture)
	parts, err := r.MultipartReader()
	if err != nil {
		return nil, nil, problem(http.StatusBadRequest, "Not understood", "The form is not readable: "+err.Error())
	}
	for {
		part, err := parts.NextPart()
		if err == io.EOF {
			break
		}
		var data []byte
		if err == nil {
			data, err = io.ReadAll(part)
		}
		if err != nil {
			return nil, nil, problem(
				http.StatusBadRequest,
				"Cut off",
				"The request broke off in the middle, or is too long. Send it again.",
			)
		}
		switch part.FormName() {
		case "capture":
			capture = data
		case "reference":
			references = append(references, data)
		default:
			return nil, nil, problem(
				http.StatusUnprocessableEntity,
				"Not understood",
				fmt.Sprintf("The form has a part %q: it takes a capture and a reference.", part.FormName()),
			)
		}
	}
	return capture, references, nil
}

// channelView measures a channel, and compares it with a reference where there is one.
func channelView(ch *wave.Channel, rate float64, ref *wave.Reference, against string, site wave.Site) ChannelView {
	v := ChannelView{Name: ch.Name, Unit: ch.Unit, Figures: ch.Measure(rate, site), Against: against}
	var c *compared
	if ref != nil {
		if found, ok := wave.Compare(ch, rate, ref, site); ok {
			c = &compared{found, site}
			v.Comparison = &found
		} else {
			v.Against += saysNothing
		}
	}
	n := len(ch.Samples)
	o := ch.Overview()
	v.Whole = strip(ch, o, rate, c, 0, n, drawn)
	v.Few = strip(ch, o, rate, c, 0, few(&v.Figures, rate, n), fewParts)
	return v
}

// few is how many samples the first few periods take.
func few(f *wave.Figures, rate float64, n int) int {
	if x, ok := f.Find("frequency"); ok && x.Value > 0 {
		return min(n, max(int(fewPeriods*rate/x.Value), 16))
	}
	return n
}

// inWords says what was described.
func inWords(d wave.Description) string {
	shape := d.Shape
	if shape == "" {
		shape = quantity.Sine
	}
	return fmt.Sprintf(
		"a %s of %s, %s",
		shape,
		quantity.Value{SI: d.PeakPeak, Unit: quantity.Volt, Form: quantity.PeakPeak}.Short(3),
		quantity.Rounded(d.Hz, quantity.Hertz),
	)
}

// describedBy reads the shape, the level and the frequency that are due, as typed;
// nil where the level or the frequency was not said.
func describedBy(q url.Values) (*wave.Description, error) {
	d := wave.Description{Shape: quantity.Shape(strings.TrimSpace(q.Get("shape")))}
	err := values(wanted{"frequency", q.Get("frequency"), quantity.Hertz, &d.Hz})
	level := q.Get("level")
	if err == nil && level != "" {
		var v quantity.Value
		if v, err = quantity.ParseAs(level, quantity.Volt); err == nil {
			d.PeakPeak, err = d.Shape.Convert(v.SI, v.Form, quantity.PeakPeak)
		}
	}
	if err != nil {
		return nil, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	if level == "" || d.Hz == 0 {
		return nil, nil
	}
	return &d, nil
}

// siteOf reads what is known of the place: the mains, a pilot, and supplies.
func siteOf(q url.Values) (wave.Site, error) {
	site := wave.Site{Mains: wave.MainsHz}
	if err := values(wanted{"mains", q.Get("mains"), quantity.Hertz, &site.Mains}, wanted{"pilot", q.Get("pilot"), quantity.Hertz,
		&site.Pilot}); err != nil {
		return site, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	if !(site.Mains >= 1 && site.Mains <= 1000) {
		return site, problem(
			http.StatusUnprocessableEntity,
			"Not understood",
			"The mains has 50 or 60 Hz in most places: say so, for example 60 Hz.",
		)
	}
	const mostRails = 20
	if len(q["rail"]) > mostRails {
		return site, problem(http.StatusUnprocessableEntity, "Too many", fmt.Sprintf("Name up to %d supplies.", mostRails))
	}
	for _, text := range q["rail"] {
		rail := wave.Rail{Name: "the supply of " + strings.TrimSpace(text)}
		if err := values(wanted{"rail", text, quantity.Volt, &rail.Volts}); err != nil {
			return site, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
		}
		site.Rails = append(site.Rails, rail)
	}
	return site, nil
}

// waveOptions reads what is said of a capture beside the file, as typed.
func waveOptions(q url.Values) (o wave.Options, err error) {
	if err := values(wanted{"interval", q.Get("interval"), quantity.Second, &o.Interval}); err != nil {
		return o, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	if o.Interval < 0 {
		return o, problem(
			http.StatusUnprocessableEntity,
			"Not understood",
			"The time between two samples is above zero, for example 20 µs.",
		)
	}
	if text := q.Get("factor"); text != "" {
		if o.Factor, err = strconv.ParseFloat(text, 64); err != nil || !(o.Factor > 1e-9 && o.Factor < 1e9) {
			return o, problem(
				http.StatusUnprocessableEntity,
				"Not understood",
				"The factor of the probe is a number above zero, for example 10.",
			)
		}
	}
	o.Unit, o.Decimal = q.Get("unit"), q.Get("decimal")
	return o, nil
}
