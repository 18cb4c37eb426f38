package inside

import (
	"math"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/trace"
)

// Wave is the signal at the stage's exit in time, at equal intervals (s): as it should be, and
// with what would explain the readings best (nothing where that is nothing). Drive is what
// comes in, volts rms; 0 where the circuit swings by itself, or by the mains.
type Wave struct {
	Node     string    `json:"node"`
	Interval float64   `json:"interval"`
	Drive    float64   `json:"drive"`
	Hz       float64   `json:"hz"`
	Healthy  []float64 `json:"healthy"`
	Faulty   []float64 `json:"faulty"`
	Fault    string    `json:"fault"`
	// Due is the level that the sheet has there, volts rms; 0: none. Measured is the capture taken
	// there last, turned so that it rises where the good one does; nothing where there is none.
	Due      float64   `json:"due"`
	Measured []float64 `json:"measured"`
}

const (
	wavePeriods = 3
	// settling is how many periods are let pass: what coupling capacitors do for longer
	// moves the level, not the shape.
	settling   = 12
	wavePoints = 301
	usualDrive = 0.01 // V rms, where the sheet has no level
)

// Waves follows the circuit of a stage that was looked into in time, driven as the sheet has it; ok is false where it has no exit,
// or does nothing.
func Waves(c trace.Case, v *View, r Record) (Wave, bool) {
	stage := v.Stage
	pc, ok := c.Plan.Circuit(stage)
	if !ok || !v.Circuit {
		return Wave{}, false
	}
	pc = r.fitted(pc)
	l := looking{Case: c, plan: pc, stage: stage, circuit: &circuit.Circuit{Parts: pc.Parts}}
	in, out, _, _, ok := l.ends()
	if !ok {
		if out, ok = l.node(stage); !ok { // a rail
			return Wave{}, false
		}
	}
	w := Wave{Node: out, Healthy: []float64{}, Faulty: []float64{}, Measured: []float64{}}
	if due, _, ok := c.Due(reading.Reading{Point: out, Mode: c.Route.Mode}); ok {
		w.Due = due.RMS
	}
	drive := circuit.Drive{Shape: quantity.Sine}
	rest, err := pc.Net.Rest()
	if err != nil {
		return Wave{}, false
	}
	if pc.Net.Signals() {
		w.Hz, w.Drive = usualHz, usualDrive
		if due, _, ok := c.Due(reading.Reading{Point: in, Mode: c.Route.Mode}); ok {
			w.Drive = due.RMS
			if due.Hz > 0 {
				w.Hz = due.Hz
			}
		}
		arrives := 1.0 // at the entry, of a volt at the source
		if r, err := pc.Net.Respond(rest, []float64{w.Hz}); err == nil && r[0].Gain[in] > 0 {
			arrives = r[0].Gain[in]
		}
		drive.Hz, drive.Peak = w.Hz, math.Sqrt2*w.Drive/arrives
	} else if w.Hz = pc.Net.Mains(); w.Hz == 0 {
		if w.Hz = pc.Net.Swing(rest); w.Hz == 0 {
			return Wave{}, false
		}
	}
	span := wavePeriods / w.Hz
	w.Interval = span / (wavePoints - 1)
	after := float64(max(settling, pc.Net.Settles())) / w.Hz
	w.Healthy, ok = pc.Net.Wave(drive, out, after, span, wavePoints)
	if !ok {
		return Wave{}, false
	}
	if d := v.Diagnosis; d != nil && len(v.Readings) > 0 && len(d.Ranked[0].Faults) > 0 {
		if faulty, ok := pc.Net.With(d.Ranked[0].Faults...).Wave(drive, out, after, span, wavePoints); ok {
			w.Faulty, w.Fault = faulty, d.Ranked[0].Says
		}
	}
	return w, true
}

// Lay puts captured samples beside, from where they rise through their mean; what is shorter than
// what is drawn, or never rises, is left out.
func (w *Wave) Lay(samples []float64, rate float64) {
	step := w.Interval * rate // samples from one point to the next
	need := int(math.Ceil(step*float64(len(w.Healthy)-1))) + 2
	rise, ok := rises(samples)
	begin, okHealthy := rises(w.Healthy)
	if !ok || !okHealthy || step <= 0 {
		return
	}
	period := rate / w.Hz
	from := rise - begin*step
	for from < 0 {
		from += period
	}
	if from+float64(need) > float64(len(samples)) {
		return
	}
	for i := range w.Healthy {
		at := from + float64(i)*step
		k := int(at)
		w.Measured = append(w.Measured, samples[k]+(at-float64(k))*(samples[k+1]-samples[k]))
	}
}

// rises is where a waveform first passes its mean upwards, from well below it.
func rises(samples []float64) (at float64, ok bool) {
	low, high, mean := math.Inf(1), math.Inf(-1), 0.0
	for _, v := range samples {
		low, high, mean = math.Min(low, v), math.Max(high, v), mean+v/float64(len(samples))
	}
	below := false
	for i, v := range samples {
		switch {
		case v < mean-0.1*(high-low):
			below = true
		case below && v >= mean:
			return float64(i-1) + (mean-samples[i-1])/(v-samples[i-1]), true
		}
	}
	return 0, false
}
