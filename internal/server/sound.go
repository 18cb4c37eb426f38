package server

import (
	"context"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"

	"steptrace/core/job"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/wave"
)

// SoundLevel is what full scale of a computer's sound device is, in volts (peak): of its
// output or its input.
type SoundLevel struct {
	Device string  `json:"device"`
	Way    string  `json:"way" jsonschema:"enum=in,enum=out"`
	Volts  float64 `json:"volts"`
	Text   string  `json:"text"`
}

// SoundLevels is what is known of all devices, and what can be played.
type SoundLevels struct {
	Levels []SoundLevel      `json:"levels"`
	Shapes []wave.SoundShape `json:"shapes"`
}

func (s *Server) soundLevels(r *http.Request) (SoundLevels, error) {
	known, err := s.store.SoundLevels(r.Context())
	v := SoundLevels{Levels: []SoundLevel{}, Shapes: wave.SoundShapes}
	for of, volts := range known {
		v.Levels = append(
			v.Levels,
			SoundLevel{of[0], of[1], volts, quantity.Value{SI: volts, Unit: quantity.Volt, Form: quantity.Peak}.Short(3)},
		)
	}
	slices.SortFunc(v.Levels, func(a, b SoundLevel) int { return strings.Compare(a.Device+a.Way, b.Device+b.Way) })
	return v, err
}

// usualSoundDB is the level that is played where none is said, against full scale.
const usualSoundDB = -20.0

// sound gives a piece of sound to be played over and over, as a WAV: its shape,
// frequencies, level (in volts where the device was calibrated, or in dB against full
// scale) and the device's rate.
func (s *Server) sound(w http.ResponseWriter, r *http.Request) error {
	data, err := s.played(r)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "audio/wav")
	w.Header().Set("Cache-Control", "no-store")
	_, _ = w.Write(data) // the client may be gone
	return nil
}

// played is the piece of sound that the address asks for.
func (s *Server) played(r *http.Request) ([]byte, error) {
	q := r.URL.Query()
	sound := wave.Sound{Shape: wave.SoundShape(q.Get("shape")), Hz: 1000, Second: 7000, Peak: quantity.Times(usualSoundDB)}
	rate := 48000.0
	if err := values(wanted{"frequency", q.Get("frequency"), quantity.Hertz, &sound.Hz}, wanted{"second", q.Get("second"), quantity.Hertz,
		&sound.Second}, wanted{"rate", q.Get("rate"), quantity.Hertz, &rate}); err != nil {
		return nil, problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
	}
	if text := q.Get("level"); text != "" {
		v, err := quantity.Parse(text, quantity.Volt)
		if err != nil {
			return nil, err
		}
		switch v.Unit {
		case quantity.Decibel:
			sound.Peak = quantity.Times(v.SI)
		case quantity.Volt:
			if sound.Peak, err = s.peakOf(r.Context(), q.Get("device"), v); err != nil {
				return nil, err
			}
		default:
			return nil, problem(
				http.StatusUnprocessableEntity,
				"Not a level",
				"A level is in volts, for example 100 mV, or in dB under full scale, for example -20 dB.",
			)
		}
	}
	x, err := sound.Samples(rate)
	if err != nil {
		return nil, problem(http.StatusUnprocessableEntity, "Not played", mend.Sentence(err.Error()))
	}
	return wave.WriteWAV(x, rate), nil
}

// peakOf is a voltage as a share of full scale at an output that was calibrated.
func (s *Server) peakOf(ctx context.Context, device string, v quantity.Value) (float64, error) {
	known, err := s.store.SoundLevels(ctx)
	if err != nil {
		return 0, err
	}
	full, ok := known[[2]string{device, "out"}]
	if !ok {
		return 0, problem(
			http.StatusUnprocessableEntity,
			"Not calibrated",
			"What this output gives in volts is not known yet: calibrate it once (on the bench, key y), or where it can be, "+
				"say the level in dB under full scale, for example -20 dB.",
		)
	}
	peak, err := quantity.Sine.Convert(v.SI, v.Form, quantity.Peak)
	if err != nil {
		return 0, err
	}
	if peak > full {
		return 0, problem(
			http.StatusUnprocessableEntity,
			"Too much",
			fmt.Sprintf(
				"This output gives up to %s rms. Use less, or an amplifier behind.",
				quantity.Rounded(full/math.Sqrt2, quantity.Volt),
			),
		)
	}
	return peak / full, nil
}

// Calibration says what was measured at a sound output while a share of full scale was
// played, so that it is known in volts from then on.
type Calibration struct {
	Device   string  `json:"device"`
	Measured string  `json:"measured"` // as typed, of the sine that was played
	Peak     float64 `json:"peak"`     // of full scale, that was played
}

func deviceNamed(name string) error {
	if wrong := job.Text("device", name, false); wrong != "" {
		return problem(http.StatusUnprocessableEntity, "Device", wrong)
	}
	return nil
}

func (s *Server) calibrateOut(r *http.Request, req Calibration) (SoundLevels, error) {
	if err := deviceNamed(req.Device); err != nil {
		return SoundLevels{}, err
	}
	v, err := quantity.ParseAs(req.Measured, quantity.Volt)
	if err != nil {
		return SoundLevels{}, err
	}
	peak, err := quantity.Sine.Convert(v.SI, v.Form, quantity.Peak)
	if err != nil || !(peak > 1e-4 && peak < 100) || !(req.Peak > 0 && req.Peak <= 1) {
		return SoundLevels{}, problem(
			http.StatusUnprocessableEntity,
			"No calibration",
			"Measure the sine at the output with a meter or a scope, and type what it shows, for example 0.35 Vrms.",
		)
	}
	if err := s.store.SetSoundLevel(r.Context(), req.Device, "out", peak/req.Peak); err != nil {
		return SoundLevels{}, err
	}
	return s.soundLevels(r)
}

// calibrateIn takes a recording (the body, a WAV) of a known level, as typed, from which
// the input is known in volts from then on.
func (s *Server) calibrateIn(w http.ResponseWriter, r *http.Request) (SoundLevels, error) {
	q := r.URL.Query()
	if err := deviceNamed(q.Get("device")); err != nil {
		return SoundLevels{}, err
	}
	known, err := quantity.ParseAs(q.Get("known"), quantity.Volt)
	if err != nil {
		return SoundLevels{}, err
	}
	rms, err := quantity.Sine.Convert(known.SI, known.Form, quantity.RMS)
	if err != nil || !(rms > 1e-5 && rms < 100) {
		return SoundLevels{}, problem(
			http.StatusUnprocessableEntity,
			"No calibration",
			"Feed a known level into the input and type it, for example 100 mVrms.",
		)
	}
	data, err := body(w, r, maxCapture)
	if err != nil {
		return SoundLevels{}, err
	}
	c, err := wave.Read(r.Context(), data, wave.Options{})
	if err != nil {
		return SoundLevels{}, err
	}
	f := c.Channels[0].Measure(c.Rate, wave.Site{Mains: wave.MainsHz})
	ac, _ := f.Find("ac")
	peak, _ := f.Find("peak")
	const weak, full = 0.003, 0.99
	switch {
	case ac.Value < weak:
		return SoundLevels{}, problem(
			http.StatusUnprocessableEntity,
			"Too weak",
			"Hardly anything arrives at the input. Is it the right one, is it plugged in and turned up in the system's settings?",
		)
	case peak.Value > full:
		return SoundLevels{}, problem(
			http.StatusUnprocessableEntity,
			"Too strong",
			"The input is driven to its end. Feed in less, or turn it down in the system's settings.",
		)
	}
	if err := s.store.SetSoundLevel(r.Context(), q.Get("device"), "in", rms/ac.Value); err != nil {
		return SoundLevels{}, err
	}
	return s.soundLevels(r)
}
