// Package instrument talks to scopes, generators, meters and component testers over
// the network, by messages of text (IEEE 488.2, SCPI-99). What is asked is the same for
// all; the words for it stand in a table of each instrument, which can be changed.
//
//	bench, words := instrument.NewBench(), instrument.Usual(instrument.Scope)
//	bench.Put(instrument.Instrument{ID: "s", Kind: instrument.Scope, Address: "192.0.2.7:5025", Words: words})
//	taken, err := bench.Capture(ctx, "s", instrument.View{Seconds: 0.01, Channels: []instrument.Channel{{Volts: 2}}})
//
// Nothing is kept of a conversation that failed; the next one connects anew.
package instrument

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"net"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"steptrace/core/quantity"
)

// Instrument is one on the bench: its name, how it is reached, its words. StandIn: it
// is simulated.
type Instrument struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Kind    Role   `json:"kind" jsonschema:"enum=scope,enum=generator,enum=meter,enum=tester,enum=logger"`
	Address string `json:"address"`
	Words   string `json:"words"`
	StandIn bool   `json:"standIn"`
	// Wide: its address may be outside of the workshop's network.
	Wide bool `json:"wide,omitempty"`
}

// Check tells whether an instrument can be used as it is described.
func (in *Instrument) Check() error {
	host, port, err := net.SplitHostPort(in.Address)
	n, bad := strconv.Atoi(port)
	const longest = 100
	switch {
	case strings.TrimSpace(in.Name) == "" || utf8.RuneCountInString(in.Name) > longest:
		return fmt.Errorf("give the instrument a name of up to %d characters", longest)
	case err != nil || host == "" || bad != nil || n < 1 || n > 65535 || len(in.Address) > longest:
		return fmt.Errorf("%q is no address: write the host and the port with a colon between, for example 192.168.1.20:5025", in.Address)
	}
	if err := portOf(port); err != nil && !in.StandIn {
		return err
	}
	_, err = ReadWords(in.Kind, in.Words)
	return err
}

// Bench is all instruments, with the connections to them.
type Bench struct {
	mu    sync.Mutex
	list  []Instrument
	links map[string]*link
}

// NewBench makes an empty bench.
func NewBench() *Bench { return &Bench{links: map[string]*link{}} }

// Put adds an instrument, or replaces the one with its id.
func (b *Bench) Put(in Instrument) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if at := slices.IndexFunc(b.list, func(x Instrument) bool { return x.ID == in.ID }); at >= 0 {
		b.list[at] = in
	} else {
		b.list = append(b.list, in)
	}
	b.let(in.ID)
}

// Remove takes one away.
func (b *Bench) Remove(id string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.list = slices.DeleteFunc(b.list, func(x Instrument) bool { return x.ID == id })
	b.let(id)
}

// let lets go of an instrument's connection; a conversation under way ends first.
func (b *Bench) let(id string) {
	if l := b.links[id]; l != nil {
		delete(b.links, id)
		go l.close()
	}
}

// List gives all instruments: a person's own first, stand-ins behind them.
func (b *Bench) List() []Instrument {
	b.mu.Lock()
	defer b.mu.Unlock()
	out := slices.Clone(b.list)
	slices.SortStableFunc(out, func(x, y Instrument) int {
		rank := map[bool]int{true: 1}
		return cmp.Compare(rank[x.StandIn], rank[y.StandIn])
	})
	return out
}

// First gives the first instrument of a kind.
func (b *Bench) First(kind Role) (Instrument, bool) {
	list := b.List()
	i := slices.IndexFunc(list, func(x Instrument) bool { return x.Kind == kind })
	if i < 0 {
		return Instrument{}, false
	}
	return list[i], true
}

// Close lets go of all connections.
func (b *Bench) Close() {
	b.mu.Lock()
	defer b.mu.Unlock()
	for id := range b.links {
		b.let(id)
	}
}

// saying is a conversation by an instrument's words.
type saying struct {
	*talk
	words Words
}

// with has a conversation with an instrument, which ends by asking whether it
// understood all.
func (b *Bench) with(ctx context.Context, id string, say func(s *saying) error) error {
	b.mu.Lock()
	at := slices.IndexFunc(b.list, func(x Instrument) bool { return x.ID == id })
	if at < 0 {
		b.mu.Unlock()
		return &Trouble{Name: "the bench", What: "this instrument is no longer there. Reload the page"}
	}
	in := b.list[at]
	l := b.links[id]
	if l == nil {
		l = &link{name: in.Name, address: in.Address, wide: in.Wide}
		b.links[id] = l
	}
	b.mu.Unlock()
	words, err := ReadWords(in.Kind, in.Words)
	if err != nil {
		return &Trouble{in.Name, err.Error(), err}
	}
	return l.converse(ctx, func(t *talk) error {
		s := &saying{t, words}
		if err := say(s); err != nil {
			return err
		}
		return s.understood()
	})
}

// understood asks for the last error.
func (s *saying) understood() error {
	w, ok := s.words["error"]
	if !ok {
		return nil
	}
	line, err := s.ask(w.message)
	if err != nil {
		return err
	}
	code, words, _ := strings.Cut(line, ",")
	if n, err := strconv.Atoi(strings.TrimSpace(code)); err != nil {
		return s.trouble(err, "it answers %q when asked for errors, which is not understood", clip(line))
	} else if n != 0 {
		return s.trouble(nil, "it did not do what it was told: %s (%d). Its table of messages may have words that it does not know",
			strings.Trim(words, `" `), n)
	}
	return nil
}

// say sends an action's message; nothing where the table has none. A message that
// answers is read, and what it says left alone.
func (s *saying) say(action string, with map[string]string) error {
	w, ok := s.words[action]
	switch {
	case !ok:
		return nil
	case w.answer == Silent:
		return s.tell(w.fill(with))
	}
	_, err := s.ask(w.fill(with))
	return err
}

// get asks an action's message for a number; false where the table has none.
func (s *saying) get(action string, with map[string]string) (float64, bool, error) {
	w, ok := s.words[action]
	if !ok {
		return 0, false, nil
	}
	x, err := s.number(w.fill(with))
	return x, true, err
}

// Identify asks what an instrument is.
func (b *Bench) Identify(ctx context.Context, id string) (text string, err error) {
	err = b.with(ctx, id, func(s *saying) error {
		if w, ok := s.words["identify"]; ok {
			if text, err = s.ask(w.message); err != nil {
				return err
			}
		}
		text = clip(text)
		return nil
	})
	return text, err
}

// View is how a scope is to look: over which time (seconds), with how many samples,
// and its channels.
type View struct {
	Seconds  float64
	Points   int
	Channels []Channel
}

// Channel is one channel of a scope: its range from bottom to top (V), whether it
// shows DC, the factor of its probe.
type Channel struct {
	Volts  float64
	DC     bool
	Factor float64
}

// Taken is what a scope took: samples in volts for each channel, the time between two
// (seconds), and how it was set, as read back.
type Taken struct {
	Interval float64
	Samples  [][]float64
	Settings string
}

func plain(x float64) string { return strconv.FormatFloat(x, 'g', 7, 64) }

// Capture sets a scope, takes a capture and fetches it.
func (b *Bench) Capture(ctx context.Context, id string, v View) (taken Taken, err error) {
	err = b.with(ctx, id, func(s *saying) error {
		taken = Taken{}
		coupling := map[bool]string{true: "DC", false: "AC"}
		if err := s.say("span", map[string]string{"seconds": plain(v.Seconds)}); err != nil {
			return err
		}
		if err := s.say("points", map[string]string{"points": strconv.Itoa(v.Points)}); err != nil {
			return err
		}
		var settings []string
		channels := make([]map[string]string, len(v.Channels))
		for i, ch := range v.Channels {
			channels[i] = map[string]string{
				"channel":  strconv.Itoa(i + 1),
				"volts":    plain(ch.Volts),
				"coupling": coupling[ch.DC],
				"factor":   plain(ch.Factor),
			}
			for _, action := range []string{"probe", "coupling", "range"} {
				if err := s.say(action, channels[i]); err != nil {
					return err
				}
			}
		}
		s.patience = messageTime + time.Duration(v.Seconds*float64(time.Second))
		for _, action := range []string{"take", "done"} {
			if err := s.say(action, nil); err != nil {
				return err
			}
		}
		interval, _, err := s.get("interval", nil)
		if err != nil {
			return err
		}
		if !(interval > 0) {
			return s.trouble(nil, "it says that %g seconds lie between two samples", interval)
		}
		taken.Interval = interval
		if span, ok, err := s.get("span is", nil); err != nil {
			return err
		} else if ok {
			settings = append(settings, quantity.Value{SI: span, Unit: quantity.Second}.Short(3)+" long")
		}
		for i, with := range channels {
			samples, err := s.channel(with)
			if err != nil {
				return err
			}
			if len(taken.Samples) > 0 && len(samples) != len(taken.Samples[0]) {
				return s.trouble(nil, "its channels have %d and %d samples", len(taken.Samples[0]), len(samples))
			}
			taken.Samples = append(taken.Samples, samples)
			volts, ok, err := s.get("range is", with)
			if err != nil {
				return err
			}
			text := fmt.Sprintf("channel %d %s", i+1, with["coupling"])
			if ok {
				text += ", " + quantity.Value{SI: volts, Unit: quantity.Volt}.Short(3) + " high"
			}
			settings = append(settings, text+", ×"+with["factor"])
		}
		taken.Settings = s.name + ": " + strings.Join(settings, "; ")
		return nil
	})
	return taken, err
}

// channel fetches the samples of one channel, in volts: value × scale + offset.
func (s *saying) channel(with map[string]string) ([]float64, error) {
	scale, _, err := s.get("scale", with)
	if err != nil {
		return nil, err
	}
	offset, _, err := s.get("offset", with)
	if err != nil {
		return nil, err
	}
	w := s.words["samples"]
	samples, err := s.samples(w.fill(with), w.answer)
	if err != nil {
		return nil, err
	}
	for i := range samples {
		samples[i] = samples[i]*scale + offset
	}
	return samples, nil
}

// Measure asks a meter or a tester for one value: dc, ac, frequency or resistance, in
// SI units, of a meter; capacitance, esr or resistance of a tester.
func (b *Bench) Measure(ctx context.Context, id, what string) (value float64, err error) {
	err = b.with(ctx, id, func(s *saying) error {
		x, ok, err := s.get(what, nil)
		if err == nil && !ok {
			err = s.trouble(nil, "its table of messages has none for %q", what)
		}
		value = x
		return err
	})
	return value, err
}

// Read asks an instrument for one value of one of its inputs, in SI units or °C: temperature, dc, ac, current, power. One
// without inputs has its only one.
func (b *Bench) Read(ctx context.Context, id, what string, input int) (value float64, err error) {
	err = b.with(ctx, id, func(s *saying) error {
		x, ok, err := s.get(what, map[string]string{"channel": strconv.Itoa(input)})
		switch {
		case err != nil:
			return err
		case !ok:
			return s.trouble(nil, "its table of messages has none for %q", what)
		case math.Abs(x) >= overRange:
			return s.trouble(nil, "nothing is at its input %d, or it is beyond its range", input)
		}
		value = x
		return nil
	})
	return value, err
}

// overRange is what instruments answer that have no value to give (SCPI-99: 9.9E37 and 9.91E37).
const overRange = 9.8e37

// Fed is what a generator is set to: level in volts rms.
type Fed struct {
	Shape string
	RMS   float64
	Hz    float64
}

// Feed sets a generator and switches it on; with nothing to feed it is switched off.
// It gives how it is set, as read back.
func (b *Bench) Feed(ctx context.Context, id string, fed *Fed) (settings string, err error) {
	err = b.with(ctx, id, func(s *saying) error {
		settings = s.name + ": off"
		if fed == nil {
			return s.say("off", nil)
		}
		with := map[string]string{"shape": fed.Shape, "hz": plain(fed.Hz), "volts": plain(fed.RMS)}
		for _, action := range []string{"shape", "frequency", "level", "on"} {
			if err := s.say(action, with); err != nil {
				return err
			}
		}
		hz, rms := fed.Hz, fed.RMS
		for action, into := range map[string]*float64{"frequency is": &hz, "level is": &rms} {
			if x, ok, err := s.get(action, nil); err != nil {
				return err
			} else if ok {
				*into = x
			}
		}
		const near = 0.02
		if math.Abs(hz/fed.Hz-1) > near || math.Abs(rms/fed.RMS-1) > near {
			return s.trouble(
				nil,
				"it was told %s and %s, and says it is set to %s and %s: it may not reach that far",
				quantity.Rounded(fed.Hz, quantity.Hertz),
				quantity.Rounded(fed.RMS, quantity.Volt),
				quantity.Rounded(hz, quantity.Hertz),
				quantity.Rounded(rms, quantity.Volt),
			)
		}
		settings = fmt.Sprintf(
			"%s: %s, %s, %s rms",
			s.name,
			fed.Shape,
			quantity.Rounded(hz, quantity.Hertz),
			quantity.Rounded(rms, quantity.Volt),
		)
		return nil
	})
	return settings, err
}
