package wave

import (
	"encoding/binary"
	"fmt"
	"math"
)

// A WAV is a RIFF file: chunks of a name, a size and a body, padded to even
// sizes. Multimedia Programming Interface and Data Specifications 1.0 (1991), and
// the extensible format of 2001.

// Sample formats of a WAV.
const (
	wavPCM        = 1
	wavFloat      = 3
	wavExtensible = 0xfffe
)

// mostWAVRate is more than any recorder of signals writes as a WAV, samples a second.
const mostWAVRate = 1e9

// wavFormat is its fmt chunk.
type wavFormat struct {
	kind, channels, bits int
	rate                 float64
	bytesASecond, frame  int // as the head says: the others tell what they must be
}

// readWAV reads PCM of 8 to 32 bits and floats of 32 and 64 bits. Sizes that lie
// are not believed: what is there is read.
func readWAV(data []byte, o Options) (*Capture, error) {
	if len(data) < 12 || string(data[8:12]) != "WAVE" {
		return nil, wrong(1, "this RIFF file holds no WAVE")
	}
	var format *wavFormat
	c := &Capture{}
	for at := 12; at+8 <= len(data); {
		name := string(data[at : at+4])
		size := int(binary.LittleEndian.Uint32(data[at+4:]))
		body := data[at+8:]
		cut := size > len(body)
		if !cut {
			body = body[:size]
		}
		switch name {
		case "fmt ":
			f, err := wavHead(body)
			if err != nil {
				return nil, err
			}
			format = f
		case "data":
			if format == nil {
				return nil, wrong(1, "byte %d: the samples come before their format", at)
			}
			if cut {
				c.say(
					"The file says that it has %d bytes of samples and has %d: it was cut off, or never finished. What is there is read.",
					size,
					len(body),
				)
			}
			return c, c.takeWAV(body, format, o)
		}
		if cut {
			break
		}
		at += 8 + size + size&1
	}
	return nil, wrong(1, "this WAV has no samples: it was cut off before them")
}

func wavHead(body []byte) (*wavFormat, error) {
	if len(body) < 16 {
		return nil, wrong(1, "the WAV's format is cut off")
	}
	f := &wavFormat{kind: int(binary.LittleEndian.Uint16(body)), channels: int(binary.LittleEndian.Uint16(body[2:])),
		rate: float64(binary.LittleEndian.Uint32(body[4:])), bits: int(binary.LittleEndian.Uint16(body[14:])),
		bytesASecond: int(binary.LittleEndian.Uint32(body[8:])), frame: int(binary.LittleEndian.Uint16(body[12:]))}
	if f.kind == wavExtensible {
		if len(body) < 40 {
			return nil, wrong(1, "the WAV's extended format is cut off")
		}
		f.kind = int(binary.LittleEndian.Uint16(body[24:])) // the subformat begins with the plain one
	}
	switch {
	case f.channels == 0 || f.channels > maxChannels:
		return nil, wrong(1, "%d channels: 1 to %d can be read", f.channels, maxChannels)
	case f.rate == 0:
		return nil, wrong(1, "the WAV says that it has no samples a second")
	case f.kind == wavPCM && (f.bits == 8 || f.bits == 16 || f.bits == 24 || f.bits == 32):
	case f.kind == wavFloat && (f.bits == 32 || f.bits == 64):
	default:
		return nil, wrong(
			1,
			"WAV samples of kind %d with %d bits: read are PCM of 8, 16, 24 and 32 bits and floats of 32 and 64; save it as one of these",
			f.kind,
			f.bits,
		)
	}
	return f, nil
}

// takeWAV turns the interleaved samples into channels at full scale 1.
func (c *Capture) takeWAV(body []byte, f *wavFormat, o Options) error {
	width := f.bits / 8
	frame := width * f.channels
	n := len(body) / frame
	switch {
	case n == 0:
		return wrong(1, "this WAV has no samples")
	case n == 1:
		return wrong(1, "one sample is no waveform")
	case f.rate > mostWAVRate && o.Interval == 0:
		return wrong(1, "%g samples a second is no rate of a WAV: say how many seconds lie between two samples", f.rate)
	case n*f.channels > MaxSamples:
		return wrong(1, "%d samples are more than the %d that can be read: cut the recording", n*f.channels, MaxSamples)
	}
	if rest := len(body) % frame; rest != 0 {
		c.say("The last %d bytes are no whole sample and are left out.", rest)
	}
	if f.frame != frame {
		c.say(
			"Its head says that a sample of all channels takes %d bytes; %d of %d bits take %d, which is taken.",
			f.frame,
			f.channels,
			f.bits,
			frame,
		)
	}
	if due := int(f.rate) * frame; f.bytesASecond != due {
		c.say(
			"Its head says %d bytes a second; %g samples of %d bytes are %d: the samples are taken at that rate.",
			f.bytesASecond,
			f.rate,
			frame,
			due,
		)
	}
	c.Rate = f.rate
	if o.Interval != 0 {
		c.Rate = 1 / o.Interval
		c.say("The samples are taken %s apart, as was said.", written(o.Interval, "s"))
	}
	c.Channels = make([]Channel, f.channels)
	for i := range c.Channels {
		c.Channels[i] = Channel{Name: []string{"left", "right"}[i&1], Unit: "FS", Samples: make([]float64, n)}
		if f.channels != 2 {
			c.Channels[i].Name = fmt.Sprintf("channel %d", i+1)
		}
	}
	take := sampler(f)
	for k := range n {
		for i := range c.Channels {
			at := k*frame + i*width
			x := take(body[at : at+width])
			if math.IsNaN(x) || math.IsInf(x, 0) {
				return wrong(1, "sample %d of %s is no number", k+1, c.Channels[i].Name)
			}
			c.Channels[i].Samples[k] = x
		}
	}
	kind := map[int]string{wavPCM: "bits", wavFloat: "bits of floating point"}[f.kind]
	c.say(
		"A WAV of %d %s, %d %s, %g samples a second. Levels are against full scale (FS).",
		f.bits,
		kind,
		f.channels,
		plural(f.channels, "channel"),
		f.rate,
	)
	if o.Unit != "" {
		return c.units(o.Unit)
	}
	return nil
}

// sampler gives the value of a sample from its bytes, little end first.
func sampler(f *wavFormat) func(b []byte) float64 {
	le := binary.LittleEndian
	switch {
	case f.kind == wavFloat && f.bits == 32:
		return func(b []byte) float64 { return float64(math.Float32frombits(le.Uint32(b))) }
	case f.kind == wavFloat:
		return func(b []byte) float64 { return math.Float64frombits(le.Uint64(b)) }
	case f.bits == 8: // unsigned
		return func(b []byte) float64 { return (float64(b[0]) - 128) / 128 }
	case f.bits == 16:
		return func(b []byte) float64 { return float64(int16(le.Uint16(b))) / (1 << 15) }
	case f.bits == 24:
		return func(b []byte) float64 {
			return float64(int32(uint32(b[0])<<8|uint32(b[1])<<16|uint32(b[2])<<24)>>8) / (1 << 23)
		}
	}
	return func(b []byte) float64 { return float64(int32(le.Uint32(b))) / (1 << 31) }
}

func plural(n int, word string) string {
	if n == 1 {
		return word
	}
	return word + "s"
}
