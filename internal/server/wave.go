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
	// Against what is due, where that was said.
	Comparison *wave.Comparison `json:"comparison" jsonschema:"nullable"`
	Low        []float64        `json:"low"`
	High       []float64        `json:"high"`
	// The first few periods; the whole where it has none. Due is the sine that was
	// due, laid under it at its phase; empty where there is none.
	Few Piece     `json:"few"`
	Due []float64 `json:"due"`
}

// Piece is a part of a waveform, for drawing.
type Piece struct {
	Seconds float64   `json:"seconds"`
	Low     []float64 `json:"low"`
	High    []float64 `json:"high"`
}

// fewPeriods are drawn in detail, in as many parts as a curve needs.
const fewPeriods, fewParts = 4, 400

// waveform reads a captured waveform, sent as the file it is, and measures it.
func (s *Server) waveform(w http.ResponseWriter, r *http.Request) {
	o, err := waveOptions(r)
	var rms, hz, mains float64
	if err == nil {
		rms, hz, mains, err = described(r)
	}
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
		view := ChannelView{Name: ch.Name, Unit: ch.Unit, Figures: ch.Measure(c.Rate), Due: []float64{}}
		view.Low, view.High = ch.Envelope(drawn)
		few := len(ch.Samples)
		if f, ok := view.Find("frequency"); ok && f.Value > 0 {
			few = min(few, max(int(fewPeriods*c.Rate/f.Value), 16))
		}
		part := wave.Channel{Samples: ch.Samples[:few]}
		view.Few.Seconds = float64(few) / c.Rate
		view.Few.Low, view.Few.High = part.Envelope(fewParts)
		if rms > 0 && hz > 0 && hz < c.Rate/2.5 {
			ref := wave.Described(rms, hz, c.Rate)
			if found, ok := wave.Compare(ch, &ref, c.Rate, c.Rate, mains); ok {
				view.Comparison = &found
				due := wave.Channel{Samples: found.Due(few)}
				if len(due.Samples) > 0 {
					view.Due, _ = due.Envelope(fewParts)
				}
			}
		}
		v.Channels = append(v.Channels, view)
	}
	send(w, r, v)
}

// described reads the level and the frequency that are due, as typed, zero where
// nothing was said, and the mains frequency of the place.
func described(r *http.Request) (rms, hz, mains float64, err error) {
	q := r.URL.Query()
	if text := q.Get("level"); text != "" {
		v, err := quantity.ParseAs(text, quantity.Volt)
		if err == nil {
			rms, err = quantity.Sine.Convert(v.SI, v.Form, quantity.RMS)
		}
		if err != nil {
			return 0, 0, 0, err
		}
	}
	mains = wave.MainsHz
	if err := values(wanted{"frequency", q.Get("frequency"), quantity.Hertz, &hz}, wanted{"mains", q.Get("mains"), quantity.Hertz, &mains}); err != nil {
		return 0, 0, 0, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	if !(mains >= 1 && mains <= 1000) {
		return 0, 0, 0, problem(http.StatusUnprocessableEntity, "Not understood", "The mains has 50 or 60 Hz in most places: say so, for example 60 Hz.")
	}
	return rms, hz, mains, nil
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
