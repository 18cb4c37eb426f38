// Package desk is a bench of simulated instruments: servers on this machine's own
// loopback that speak the messages real ones do (IEEE 488.2, SCPI-99), connected to a
// simulated set (core/standin). Where the probe and the generator are connected is
// told to the desk, as hands would do it.
package desk

import (
	"errors"
	"fmt"
	"net"
	"sync"
	"time"

	"steptrace/core/quantity"
	"steptrace/core/standin"
	"steptrace/internal/instrument"
)

// Hands is what hands have done: which job's set is on the desk and how it is set,
// where the tip of the probe and the second one are, where the generator is connected.
type Hands struct {
	Job       int    `json:"job"`
	Mode      string `json:"mode"`
	On        bool   `json:"on"`
	Probe     string `json:"probe"`
	Second    string `json:"second"`
	Generator string `json:"generator"`
	// Inputs are where those of the logger are: its first, its second and so on.
	Inputs []string `json:"inputs,omitempty"`
	// Beside is what else of how it stands: whether it is warm, what good is in the place of something.
	Beside standin.Stand `json:"-"`
}

// Desk is the bench.
type Desk struct {
	mu        sync.Mutex
	hands     Hands
	set       *standin.Set // nil: nothing is connected
	generator output
	began     time.Time
	heat      standin.Heat
	speed     float64 // of the heat's time
	warmed    float64 // seconds of the heat's time until the last change of speed
	since     time.Time
	listeners []net.Listener
	serving   sync.WaitGroup
	conns     map[net.Conn]bool
	closed    bool
}

// output is how the generator is set.
type output struct {
	shape   string
	hz, rms float64
	on      bool
}

// Start opens the instruments on free ports of the loopback, and gives what a bench of
// instruments needs to reach them.
func Start() (*Desk, []instrument.Instrument, error) {
	d := &Desk{
		began:     time.Now(),
		since:     time.Now(),
		speed:     1,
		generator: output{shape: "SIN", hz: 1000, rms: 0.01},
		conns:     map[net.Conn]bool{},
	}
	var list []instrument.Instrument
	for _, x := range []struct {
		kind instrument.Role
		name string
		make func() device
	}{
		{instrument.Scope, "practice scope", func() device { return newScope(d) }},
		{instrument.Generator, "practice generator", func() device { return generator{d} }},
		{instrument.Meter, "practice meter", func() device { return meter{d} }},
		{instrument.Tester, "practice tester", func() device { return tester{d} }},
		{instrument.Logger, "practice logger", func() device { return logger{d} }},
	} {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return nil, nil, errors.Join(err, d.Close())
		}
		d.listeners = append(d.listeners, l)
		device := x.make()
		d.serving.Go(func() { d.serve(l, device) })
		list = append(
			list,
			instrument.Instrument{
				ID:      "practice-" + string(x.kind),
				Name:    x.name,
				Kind:    x.kind,
				Address: l.Addr().String(),
				Words:   instrument.Usual(x.kind),
				StandIn: true,
			},
		)
	}
	return d, list, nil
}

// Close takes all instruments down; a second time does nothing.
func (d *Desk) Close() error {
	d.mu.Lock()
	if d.closed {
		d.mu.Unlock()
		return nil
	}
	d.closed = true
	for c := range d.conns {
		_ = c.Close()
	}
	d.mu.Unlock()
	var err error
	for _, l := range d.listeners {
		err = errors.Join(err, l.Close())
	}
	d.serving.Wait()
	return err
}

// Connect puts a set on the desk, with the hands as they are then.
func (d *Desk) Connect(set *standin.Set, hands Hands) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if hands.Job != d.hands.Job { // another set, which is cold
		d.heat = standin.Heat{}
	}
	d.pass()
	d.set, d.hands = set, hands
}

// Run lets the time of the set's heat run so many times as fast as real time, from a time of its own on (seconds), with
// places that are warm already (°C).
func (d *Desk) Run(from, speed float64, warm map[string]float64) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.warmed, d.since, d.speed = from, time.Now(), speed
	d.heat = standin.WarmAt(from, warm)
}

// warmTime is how long the set's heat has had, in seconds of its own time. The desk is locked.
func (d *Desk) warmTime() float64 { return d.warmed + time.Since(d.since).Seconds()*d.speed }

// warmer is by how much what something measured hangs on is warmer than the room (°C). The desk is locked.
func (d *Desk) warmer(measured string) float64 {
	if d.set == nil {
		return 0
	}
	d.pass()
	return d.heat.Degrees(d.set.Side(measured)) - d.heat.Degrees("room")
}

// pass lets the heat come up to now. The desk is locked.
func (d *Desk) pass() {
	if d.set != nil {
		d.heat.Pass(d.set, d.stand(), d.warmTime())
	}
}

// Generating says how the generator is set.
func (d *Desk) Generating() string {
	d.mu.Lock()
	defer d.mu.Unlock()
	g := d.generator
	if !g.on {
		return "off"
	}
	return fmt.Sprintf("%s, %s, %s", shapes[g.shape], quantity.Rounded(g.hz, quantity.Hertz), quantity.Rounded(g.rms, quantity.Volt))
}

// Hands tells how things stand.
func (d *Desk) Hands() Hands {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.hands
}

// stand is how the set stands now, with what the generator gives.
func (d *Desk) stand() standin.Stand {
	s := d.hands.Beside
	s.On, s.Mode = d.hands.On, d.hands.Mode
	if d.hands.Generator != "" {
		s.Fed = &standin.Feed{At: d.hands.Generator, Shape: shapes[d.generator.shape], RMS: d.generator.rms, Hz: d.generator.hz}
		if !d.generator.on {
			s.Fed.RMS = 1e-12 // connected, and silent
		}
	}
	return s
}

// now is the time on the desk, in seconds.
func (d *Desk) now() float64 { return time.Since(d.began).Seconds() }
