package wave

import (
	"encoding/binary"
	"math"
	"testing"
)

// samplesOf makes samples of bytes, of a scope's eight bits or whatever sixty-four may be.
func samplesOf(data []byte, fine bool) []float64 {
	var out []float64
	if !fine {
		for _, b := range data {
			out = append(out, (float64(b)-128)/50)
		}
		return out
	}
	for ; len(data) >= 8; data = data[8:] {
		out = append(out, math.Float64frombits(binary.LittleEndian.Uint64(data)))
	}
	return out
}

// Whatever was captured, and whatever it is compared with: figures that are numbers, and no break. Among the first are a course that
// begins or ends flat, one sample, and silence.
func FuzzMeasureAndCompare(f *testing.F) {
	flat, ramp, tone, pulse := make([]byte, 200), make([]byte, 200), make([]byte, 200), make([]byte, 200)
	for i := range flat {
		flat[i] = 128
		ramp[i] = byte(min(i*3, 255))
		tone[i] = byte(128 + 100*math.Sin(float64(i)/6))
		pulse[i] = byte(28 + 200*(i/20%2))
	}
	ends := append(append([]byte{}, tone[:120]...), flat[:80]...)
	for _, a := range [][]byte{flat, ramp, tone, pulse, ends, flat[:1], tone[:7]} {
		for _, b := range [][]byte{flat, ramp, tone, pulse, ends, flat[:1]} {
			f.Add(a, b, false, 44100.0, 48000.0)
		}
	}
	f.Fuzz(func(t *testing.T, a, b []byte, fine bool, rateA, rateB float64) {
		x, y := Channel{Samples: samplesOf(a, fine)}, Channel{Samples: samplesOf(b, fine)}
		for _, c := range []Capture{{Rate: rateA, Channels: []Channel{x}}, {Rate: rateB, Channels: []Channel{y}}} {
			if n := len(c.Channels[0].Samples); n == 0 || n > 4000 || c.Check() != nil { // as each capture is checked that is kept
				return
			}
		}
		figures := x.Measure(rateA, Site{})
		for _, g := range figures.List {
			if math.IsNaN(g.Value) || math.IsInf(g.Value, 0) {
				t.Fatalf("%s is no number", g.Name)
			}
		}
		ref := &Reference{Channel: y, Rate: rateB}
		if c, ok := Compare(&x, rateA, ref, Site{}); ok && (math.IsNaN(c.GainDB) || math.IsNaN(c.Rest)) {
			t.Fatalf("%+v", c)
		}
		mask, err := MaskOf([]*Reference{ref, {Channel: x, Rate: rateA}, ref, ref, ref}, Site{})
		if err == nil && mask == nil {
			t.Fatal("neither a mask nor a reason")
		}
	})
}

// What is kept of samples is read back as it was; anything else is refused.
func FuzzUnpack(f *testing.F) {
	c := Capture{Rate: 1000, Channels: []Channel{{Samples: []float64{1, 2, 3}}, {Samples: []float64{-1, 0, 1}}}}
	f.Add(c.Pack())
	f.Add([]byte{255, 255, 255, 255, 255, 255, 255, 255, 0, 0})
	f.Fuzz(func(t *testing.T, data []byte) {
		got := Capture{Channels: make([]Channel, 2)}
		if err := got.Unpack(data); err != nil {
			return
		}
		if again := got.Pack(); len(again) != len(data) {
			t.Fatalf("%d bytes became %d", len(data), len(again))
		}
	})
}
