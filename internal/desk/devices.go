package desk

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"sync"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/wave"
)

// overRange and nothing are what an instrument answers that has no value to give
// (SCPI-99: infinity, and not a number).
const overRange, nothing = "9.9E37", "9.91E37"

func text(x float64) string { return strconv.FormatFloat(x, 'E', 6, 64) }

func value(rest string, least, most float64) (float64, bool) {
	x, err := strconv.ParseFloat(rest, 64)
	return x, err == nil && x >= least && x <= most
}

// generator has one output.
type generator struct{ d *Desk }

// shapes are its names for them.
var shapes = map[string]quantity.Shape{"SIN": quantity.Sine, "SQU": quantity.Square, "TRI": quantity.Triangle}

func (g generator) do(header, rest string) (string, bool) {
	g.d.mu.Lock()
	defer g.d.mu.Unlock()
	out := &g.d.generator
	ok := true
	switch {
	case header == "*IDN?":
		return "Step Trace,practice generator,0,1", true
	case is(header, "SOURce:FUNCtion"):
		name := strings.ToUpper(rest)
		name = name[:min(len(name), 3)]
		if _, ok = shapes[name]; ok {
			out.shape = name
		}
	case is(header, "SOURce:FREQuency"):
		var hz float64
		if hz, ok = value(rest, 0.01, 200e6); ok {
			out.hz = hz
		}
	case is(header, "SOURce:VOLTage"):
		var rms float64
		if rms, ok = value(rest, 1e-7, 10); ok {
			out.rms = rms
		}
	case is(header, "OUTPut"):
		out.on = strings.EqualFold(rest, "ON") || rest == "1"
	case is(header, "SOURce:FREQuency?"):
		return text(out.hz), true
	case is(header, "SOURce:VOLTage?"):
		return text(out.rms), true
	default:
		return "", false
	}
	return "", ok
}

// scope has two channels of eight bits.
type scope struct {
	d        *Desk
	mu       sync.Mutex
	span     float64
	points   int
	channels [2]scopeChannel
}

type scopeChannel struct {
	volts   float64 // from bottom to top
	dc      bool
	factor  float64
	samples []byte
}

const (
	mostPoints = 200_000
	bits       = 256
)

func newScope(d *Desk) *scope {
	ch := scopeChannel{volts: 10, factor: 10}
	return &scope{d: d, span: 0.01, points: 10_000, channels: [2]scopeChannel{ch, ch}}
}

// Long: a case for each message.
func (s *scope) do(header, rest string) (string, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	channel := func(command string) *scopeChannel {
		n, ok := channelOf(header, command)
		if !ok || n < 1 || n > len(s.channels) {
			return nil
		}
		return &s.channels[n-1]
	}
	switch {
	case header == "*IDN?":
		return "Step Trace,practice scope,0,1", true
	case is(header, "INITiate"):
		s.take()
		return "", true
	case is(header, "SENSe:SWEep:TIME"):
		x, ok := value(rest, 1e-9, 100)
		if ok {
			s.span = x
		}
		return "", ok
	case is(header, "SENSe:SWEep:POINts"):
		x, ok := value(rest, 100, mostPoints)
		if ok {
			s.points = int(x)
		}
		return "", ok
	case is(header, "SENSe:SWEep:TIME?"):
		return text(s.span), true
	case is(header, "SENSe:SWEep:TINTerval?"):
		return text(s.span / float64(s.points)), true
	}
	if ch := channel("SENSe:VOLTage#:RANGe"); ch != nil {
		x, ok := value(rest, 1e-4, 5000)
		if ok {
			ch.volts = x
		}
		return "", ok
	}
	if ch := channel("SENSe:VOLTage#:RANGe?"); ch != nil {
		return text(ch.volts), true
	}
	if ch := channel("INPut#:COUPling"); ch != nil {
		ch.dc = strings.EqualFold(rest, "DC")
		return "", ch.dc || strings.EqualFold(rest, "AC")
	}
	if ch := channel("INPut#:ATTenuation"); ch != nil {
		x, ok := value(rest, 1, 1000)
		if ok {
			ch.factor = x
		}
		return "", ok
	}
	if ch := channel("TRACe#:SCALe?"); ch != nil {
		return text(ch.volts / bits), true
	}
	if ch := channel("TRACe#:OFFSet?"); ch != nil {
		return "0", true
	}
	if ch := channel("TRACe#:DATA?"); ch != nil {
		length := strconv.Itoa(len(ch.samples))
		return fmt.Sprintf("#%d%s%s", len(length), length, ch.samples), true
	}
	return "", false
}

// take takes a capture of what the two probes are on.
func (s *scope) take() {
	d := s.d
	d.mu.Lock()
	set, stand, probes, t0 := d.set, d.stand(), []string{d.hands.Probe, d.hands.Second}, d.now()
	d.mu.Unlock()
	rate := float64(s.points) / s.span
	for i := range s.channels {
		ch := &s.channels[i]
		ch.samples = make([]byte, s.points)
		if set == nil || probes[i] == "" {
			continue
		}
		x := set.Waveform(probes[i], stand, rate, s.points, t0)
		loading := reading.InstrumentFor("scope"+strconv.Itoa(int(ch.factor))).
			Loading(set.SourceOhms(probes[i]), set.Hz(probes[i], stand))
		mean := 0.0
		for _, v := range x {
			mean += v / float64(len(x))
		}
		step := ch.volts / bits
		for k, v := range x {
			if v *= loading; !ch.dc {
				v -= mean * loading
			}
			ch.samples[k] = byte(int8(max(-128, min(127, math.Round(v/step)))))
		}
	}
}

// meter reads true rms up to some 20 kHz, good to a tenth of a per cent.
type meter struct{ d *Desk }

const meterHz, meterError, leastToCount = 20e3, 0.001, 1e-3 // Hz, share, V

func (m meter) do(header, rest string) (string, bool) {
	if header == "*IDN?" {
		return "Step Trace,practice meter,0,1", rest == ""
	}
	m.d.mu.Lock()
	set, stand, probe, t0 := m.d.set, m.d.stand(), m.d.hands.Probe, m.d.now()
	warmer, warmTime := m.d.warmer(probe), m.d.warmTime()
	m.d.mu.Unlock()
	reads := func(x float64) string { return text(x * (1 + meterError*rand.NormFloat64())) }
	const rate, samples = 200e3, 40_000
	switch {
	case is(header, "MEASure:RESistance?"):
		if set == nil || probe == "" || stand.On {
			return overRange, true
		}
		return reads(set.Ohms(probe, stand)), true
	case set == nil || probe == "":
		if is(header, "MEASure:FREQuency?") {
			return nothing, true
		}
		return text(1e-5 * rand.NormFloat64()), is(header, "MEASure:VOLTage:DC?") || is(header, "MEASure:VOLTage:AC?")
	}
	in := reading.InstrumentFor("meterrms")
	hz := set.Hz(probe, stand)
	ac := 0.0
	if hz < rate/4 {
		ch := wave.Channel{Samples: set.Waveform(probe, stand, rate, samples, t0)}
		ac = ch.RMS() * in.Loading(set.SourceOhms(probe), hz) / math.Hypot(1, hz/(5*meterHz))
	}
	switch {
	case is(header, "MEASure:VOLTage:DC?"):
		return reads(set.Between(probe, stand, warmer, warmTime) * in.Loading(set.SourceOhms(probe), 0)), true
	case is(header, "MEASure:VOLTage:AC?"):
		return reads(ac), true
	case is(header, "MEASure:FREQuency?"):
		if hz == 0 || ac < leastToCount {
			return nothing, true
		}
		return text(hz), true
	}
	return "", false
}

// tester measures the capacitor that the probe is on.
type tester struct{ d *Desk }

func (t tester) do(header, _ string) (string, bool) {
	if header == "*IDN?" {
		return "Step Trace,practice tester,0,1", true
	}
	t.d.mu.Lock()
	set, stand, probe, on := t.d.set, t.d.stand(), t.d.hands.Probe, t.d.hands.On
	t.d.mu.Unlock()
	known := is(header, "MEASure:CAPacitance?") || is(header, "MEASure:ESR?") || is(header, "MEASure:RESistance?")
	if set == nil || on {
		return overRange, known
	}
	farads, ok := set.Farads(probe)
	switch {
	case is(header, "MEASure:RESistance?"):
		return text(set.Ohms(probe, stand)), true
	case !ok:
		return nothing, known
	case is(header, "MEASure:CAPacitance?"):
		return text(farads), true
	}
	const usualTau = 15e-6 // of a good electrolytic: its ESR times its capacitance, s
	return text(usualTau / farads), known
}

// logger has many inputs, each where hands have put it: a thermocouple, two hook clips, a clamp.
type logger struct{ d *Desk }

// loggerNoise is what a thermocouple is off by (°C), from one reading to the next.
const loggerNoise = 0.08

func (l logger) do(header, rest string) (string, bool) {
	if header == "*IDN?" {
		return "Step Trace,practice logger,0,1", rest == ""
	}
	if !is(header, "MEASure:TEMPerature?") && !is(header, "MEASure:VOLTage:DC?") && !is(header, "MEASure:VOLTage:AC?") &&
		!is(header, "MEASure:CURRent?") && !is(header, "MEASure:POWer?") {
		return "", false
	}
	input, err := strconv.Atoi(strings.TrimSuffix(strings.TrimPrefix(rest, "(@"), ")"))
	if err != nil || input < 1 {
		return "", false
	}
	d := l.d
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.set == nil || input > len(d.hands.Inputs) || d.hands.Inputs[input-1] == "" {
		return overRange, true
	}
	place, stand := d.hands.Inputs[input-1], d.stand()
	warmer := d.warmer(place)
	x := 0.0
	switch {
	case is(header, "MEASure:TEMPerature?"):
		return text(d.heat.Degrees(place) + loggerNoise*rand.NormFloat64()), true
	case is(header, "MEASure:CURRent?"):
		x = d.set.Draws(place, stand, warmer)
	case is(header, "MEASure:VOLTage:DC?"):
		x = d.set.Between(place, stand, warmer, d.warmTime())
	default:
		return overRange, true
	}
	return text(x * (1 + meterError*rand.NormFloat64())), true
}
