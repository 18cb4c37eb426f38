package wave

import (
	"encoding/binary"
	"errors"
	"math"
)

// The compact form of samples, for keeping: the number of channels and of samples of
// each (uint32, little-endian), then channel by channel each sample as a float32,
// the first bytes of all of them, the second ones and so on: so laid they compress to
// a fraction, since neighbours differ little. A float32 has 24 bits; the finest
// converters of a workshop have as many.

const packHead = 8

// Pack writes the samples of all channels, which are equally many, in compact form.
func (c *Capture) Pack() []byte {
	n := len(c.Channels[0].Samples)
	out := make([]byte, packHead+4*n*len(c.Channels))
	binary.LittleEndian.PutUint32(out, uint32(len(c.Channels)))
	binary.LittleEndian.PutUint32(out[4:], uint32(n))
	for k := range c.Channels {
		planes := out[packHead+4*n*k:]
		for i, v := range c.Channels[k].Samples {
			bits := math.Float32bits(float32(v))
			planes[i], planes[n+i], planes[2*n+i], planes[3*n+i] = byte(bits), byte(bits>>8), byte(bits>>16), byte(bits>>24)
		}
	}
	return out
}

// errPacked says that a compact form is damaged.
var errPacked = errors.New("the samples that were kept are damaged")

// Unpack fills in the samples of a capture's channels from their compact form.
func (c *Capture) Unpack(packed []byte) error {
	if len(packed) < packHead {
		return errPacked
	}
	channels, n := int(binary.LittleEndian.Uint32(packed)), int(binary.LittleEndian.Uint32(packed[4:]))
	if channels != len(c.Channels) || n < 1 || channels*n > MaxSamples || len(packed) != packHead+4*n*channels {
		return errPacked
	}
	for k := range c.Channels {
		planes := packed[packHead+4*n*k:]
		samples := make([]float64, n)
		for i := range samples {
			bits := uint32(planes[i]) | uint32(planes[n+i])<<8 | uint32(planes[2*n+i])<<16 | uint32(planes[3*n+i])<<24
			samples[i] = float64(math.Float32frombits(bits))
		}
		c.Channels[k].Samples = samples
	}
	return nil
}
