package server

import (
	"net/http"
	"strconv"

	"steptrace/core/quantity"
	"steptrace/core/wave"
)

// maxCapture is for a captured waveform: ten million samples as a table.
const maxCapture = 256 << 20

// drawn is how many parts of a waveform are given for drawing: more than a screen
// has columns for it.
const drawn = 1200

// WaveView is what was understood of a capture, and what was measured.
type WaveView struct {
	Rate       float64       `json:"rate"` // samples a second
	Samples    int           `json:"samples"`
	Seconds    float64       `json:"seconds"`
	Understood []string      `json:"understood"`
	Channels   []ChannelView `json:"channels"`
}

// ChannelView is one channel of a capture. Low and high are the least and the
// greatest sample of equal parts, for drawing.
type ChannelView struct {
	Name string `json:"name"`
	Unit string `json:"unit"`
	wave.Figures
	Low  []float64 `json:"low"`
	High []float64 `json:"high"`
}

// waveform reads a captured waveform, sent as the file it is, and measures it.
func (s *Server) waveform(w http.ResponseWriter, r *http.Request) {
	o, err := waveOptions(r)
	if err != nil {
		fail(w, r, err)
		return
	}
	data, err := body(w, r, maxCapture)
	if err != nil {
		fail(w, r, err)
		return
	}
	c, err := wave.Read(data, o)
	if err != nil {
		fail(w, r, err)
		return
	}
	v := WaveView{Rate: c.Rate, Samples: len(c.Channels[0].Samples), Seconds: c.Seconds(), Understood: c.Understood, Channels: []ChannelView{}}
	for i := range c.Channels {
		ch := &c.Channels[i]
		low, high := ch.Envelope(drawn)
		v.Channels = append(v.Channels, ChannelView{Name: ch.Name, Unit: ch.Unit, Figures: ch.Measure(c.Rate), Low: low, High: high})
	}
	send(w, r, v)
}

// waveOptions reads what is said of a capture beside the file, as typed.
func waveOptions(r *http.Request) (o wave.Options, err error) {
	q := r.URL.Query()
	if err := values(wanted{"interval", q.Get("interval"), quantity.Second, &o.Interval}); err != nil {
		return o, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	if o.Interval < 0 {
		return o, problem(http.StatusUnprocessableEntity, "Not understood", "The time between two samples is above zero, for example 20 µs.")
	}
	if text := q.Get("factor"); text != "" {
		if o.Factor, err = strconv.ParseFloat(text, 64); err != nil || !(o.Factor > 1e-9 && o.Factor < 1e9) {
			return o, problem(http.StatusUnprocessableEntity, "Not understood", "The factor of the probe is a number above zero, for example 10.")
		}
	}
	o.Unit = q.Get("unit")
	if text := q.Get("decimal"); text != "" {
		o.Decimal = text[0]
	}
	return o, nil
}
