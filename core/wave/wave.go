// Package wave knows captured waveforms: it reads them from files as scopes,
// loggers, spreadsheets and sound recorders write them, and measures them.
//
//	capture, err := wave.Read(ctx, data, wave.Options{})
//	figures := capture.Channels[0].Measure(capture.Rate)
package wave

import (
	"bytes"
	"context"
	"fmt"
	"math"

	"steptrace/core/exchange"
)

// Capture is a recorded waveform: channels sampled together at even steps.
type Capture struct {
	Rate     float64   `json:"rate"`  // samples a second
	Start    float64   `json:"start"` // seconds, of the first sample
	Channels []Channel `json:"channels"`
	// Understood says in sentences what was made of the file, and what was
	// assumed, for a person to confirm or correct.
	Understood []string `json:"understood"`

	from *table // while it is read
}

// Channel is one of them. Samples are in the base unit: volts, not millivolts.
// Full scale (1) stands for the clipping level of a sound file.
type Channel struct {
	Name    string    `json:"name"`
	Unit    string    `json:"unit"` // V, A, FS for full scale; empty: not said
	Samples []float64 `json:"-"`
}

// Seconds is how long the capture is.
func (c *Capture) Seconds() float64 {
	if len(c.Channels) == 0 {
		return 0
	}
	return float64(len(c.Channels[0].Samples)) / c.Rate
}

// Options correct what a file does not say, or says wrongly. Zero values leave it
// to the file.
type Options struct {
	Interval float64 `json:"interval,omitempty" jsonschema:"description=seconds between samples"`
	Factor   float64 `json:"factor,omitempty" jsonschema:"description=by which every sample is multiplied: 10 for a probe that was not allowed for"`
	Unit     string  `json:"unit,omitempty" jsonschema:"description=of the samples\\, for example mV"`
	Decimal  string  `json:"decimal,omitempty" jsonschema:"description=a point or a comma"`
}

// Limits against hostile files. MaxSamples in all channels together are 400 MB.
const (
	MaxSamples  = 50_000_000
	maxChannels = 16
	maxLine     = 64 << 10
	// maxRate is 100 times what the fastest scopes of a workshop reach; a logger at
	// minRate takes a sample in twelve days.
	minRate, maxRate = 1e-6, 1e12
	// mostSample is far above any voltage or current of a set (10 MV, 10 MA), and
	// leastSample far below what can be told from nothing.
	mostSample, leastSample = 1e7, 1e-15
)

// Read reads a capture from a file, a WAV or a table of text. Errors are
// *exchange.FileError, naming the line of a table; of a WAV, line 1. When the context ends, so does
// the reading, with its error.
func Read(ctx context.Context, data []byte, o Options) (*Capture, error) {
	c, err := read(ctx, data, o)
	if err != nil {
		return nil, err
	}
	defer func() { c.from = nil }() // and lets go of the file
	if o.Factor != 0 && o.Factor != 1 {
		for i := range c.Channels {
			for k := range c.Channels[i].Samples {
				c.Channels[i].Samples[k] *= o.Factor
			}
		}
		c.say("Every sample is multiplied by %g.", o.Factor)
	}
	if err := c.Check(); err != nil {
		return nil, err
	}
	return c, nil
}

// Check refuses what no probe can have seen: samples beyond any voltage, with their line,
// and times between them beyond any recorder's. What is too small to be told from nothing
// becomes nothing; squares of either would run over. Errors are *exchange.FileError.
func (c *Capture) Check() error {
	if !(c.Rate >= minRate && c.Rate <= maxRate) {
		return wrong(1, "%.4g samples a second cannot be", c.Rate)
	}
	for i := range c.Channels {
		ch := &c.Channels[i]
		for k, x := range ch.Samples {
			switch size := math.Abs(x); {
			case !(size <= mostSample):
				return wrong(
					c.lineOf(k),
					"sample %d of %s is %.4g %s: no voltage or current is like that. Is its unit another, or the factor",
					k+1,
					ch.Name,
					x,
					ch.Unit,
				)
			case size < leastSample:
				ch.Samples[k] = 0
			}
		}
	}
	return nil
}

// lineOf is the line of a sample: 1 where they have none.
func (c *Capture) lineOf(sample int) int {
	if c.from == nil {
		return 1
	}
	return c.from.lineOf(sample)
}

func read(ctx context.Context, data []byte, o Options) (*Capture, error) {
	switch {
	case len(data) == 0:
		return nil, wrong(1, "the file is empty")
	case bytes.HasPrefix(data, []byte("RIFF")) || bytes.HasPrefix(data, []byte("RF64")):
		return readWAV(data, o)
	case bytes.HasPrefix(data, []byte("PK\x03\x04")):
		return nil, wrong(1, "this is a zip archive: unpack it, and drop the CSV or WAV in it")
	case bytes.HasPrefix(data, []byte{0x1f, 0x8b}):
		return nil, wrong(1, "this file is compressed (gzip): unpack it, and drop the CSV or WAV in it")
	case bytes.HasPrefix(data, []byte{0xff, 0xfe}) || bytes.HasPrefix(data, []byte{0xfe, 0xff}):
		return nil, wrong(1, "this text is in UTF-16: save it as UTF-8, or as plain CSV")
	}
	return readTable(ctx, data, o)
}

func (c *Capture) say(format string, args ...any) {
	c.Understood = append(c.Understood, fmt.Sprintf(format, args...))
}

func wrong(line int, format string, args ...any) error {
	return &exchange.FileError{Line: line, Problem: fmt.Sprintf(format, args...)}
}
