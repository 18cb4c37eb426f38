package wave_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/wave"
	"steptrace/internal/trial"
)

// composite is a picture signal by its timetable (ITU-R BT.1700): what stands at any time from the first vertical sync on.
type composite struct {
	line, sync, white float64 // seconds; volts under blanking; volts over it
	blanking          float64 // volts
	perField          float64 // lines
	burst, sub        float64 // V, Hz
	picture           func(along, row float64) float64
	colour            bool // of the bars
	turned            bool
	noise             float64
	rng               *rand.Rand
}

func (c *composite) at(t float64) float64 {
	lines := t / c.line
	field := math.Mod(lines, c.perField)
	v := 0.0
	switch along := part(lines) * 64; { // in shares of a line of 64
	case field < 2.5 && part(2*lines)*32 < 27.3: // broad pulses in half lines
		v = -c.sync
	case field < 2.5:
	case field < 5 && part(2*lines)*32 < 2.35: // equalising pulses
		v = -c.sync
	case field < 5:
	case along < 4.7:
		v = -c.sync
	case along > 5.6 && along < 7.85 && field > 7:
		v = c.burst * sine(c.sub*t)
	case along > 10.5 && along < 62.5 && field > 22:
		v = c.white * c.picture((along-10.5)/52, math.Floor(field))
		if c.colour {
			v += c.white * []float64{0, 0.31, 0.44, 0.41, 0.41, 0.44, 0.31, 0}[min(int((along-10.5)/52*8), 7)] * sine(c.sub*t)
		}
	}
	if c.turned {
		v = -v
	}
	return c.blanking + v + c.noise*c.rng.NormFloat64()
}

// pictures are what a generator or a programme shows, along a line and down the rows, 0 to 1.
var pictures = []struct {
	name  string
	of    func(rng *rand.Rand) func(along, row float64) float64
	steps int
}{
	{"staircase", func(rng *rand.Rand) func(float64, float64) float64 {
		n := float64(5 + rng.IntN(6))
		return func(a, _ float64) float64 { return (math.Floor(a*n*0.9999) + 1) / n }
	}, 1},
	{"bars", func(*rand.Rand) func(float64, float64) float64 {
		y := []float64{1, 0.886, 0.701, 0.587, 0.413, 0.299, 0.114, 0}
		return func(a, _ float64) float64 { return y[min(int(a*8), 7)] }
	}, 1},
	{"ramp", func(*rand.Rand) func(float64, float64) float64 { return func(a, _ float64) float64 { return a } }, 0},
	{"window", func(rng *rand.Rand) func(float64, float64) float64 {
		from, to := 0.15+0.3*rng.Float64(), 0.6+0.35*rng.Float64()
		return func(a, _ float64) float64 {
			if a > from && a < to {
				return 1
			}
			return 0.05
		}
	}, 0},
	{"programme", func(rng *rand.Rand) func(float64, float64) float64 {
		var f, p [5]float64
		for k := range f {
			f[k], p[k] = 1+15*rng.Float64(), rng.Float64()
		}
		return func(a, row float64) float64 {
			v := 0.5
			for k := range f {
				v += 0.16 * sine(f[k]*a+p[k]+0.002*row)
			}
			return max(0.02, min(1, v))
		}
	}, 0},
}

func newComposite(rng *rand.Rand, picture int) *composite {
	c := &composite{line: 64e-6, sync: 0.3, white: 0.7, perField: 312.5, burst: 0.15, sub: 4.43361875e6, rng: rng}
	if rng.IntN(3) == 0 {
		c.line, c.perField, c.sub = 63.5556e-6, 262.5, 3.579545e6
	}
	if rng.IntN(4) == 0 {
		c.burst = 0
	}
	scale := math.Pow(10, -0.3+1.3*rng.Float64())
	c.sync, c.white, c.burst = c.sync*scale, c.white*scale, c.burst*scale
	c.blanking = scale * (2*rng.Float64() - 0.5)
	c.turned = rng.IntN(4) == 0
	c.noise = 0.004 * scale * rng.Float64()
	c.picture = pictures[picture].of(rng)
	c.colour = pictures[picture].name == "bars" && c.burst > 0
	return c
}

// view takes some lines of it as a scope shows them, from anywhere in the picture; or whole fields, with more memory.
func (c *composite) view(lines float64, count, bits int, fill float64) (wave.Channel, float64) {
	from := (40 + 200*c.rng.Float64()) * c.line
	rate := float64(count) / (lines * c.line)
	if rate < 3*c.sub {
		c.colour = false
	}
	raw := make([]float64, count)
	whole := (c.sync + c.white) / fill
	step := whole / math.Pow(2, float64(bits))
	for i := range raw {
		raw[i] = step * math.Round(c.at(from+float64(i)/rate)/step)
	}
	return wave.Channel{Unit: "V", Samples: raw}, rate
}

func (c *composite) anyView() (wave.Channel, float64) {
	lines := 2.15 * math.Pow(8, c.rng.Float64())
	count := max(500+c.rng.IntN(2000), int(lines*120))
	return c.view(lines, count, 8+c.rng.IntN(5), 0.35+0.55*c.rng.Float64())
}

// What scopes show of picture signals, from two lines on: their kind, levels and times.
func TestBlindVideoFigures(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(153, 1))
	right, all := map[string]int{}, map[string]int{}
	say := func(name string, ok bool) {
		all[name]++
		if ok {
			right[name]++
		}
	}
	for range trial.Runs(40) {
		for k, p := range pictures {
			c := newComposite(rng, k)
			off := 0.85 + 0.3*rng.Float64() // a line oscillator that runs free
			if rng.IntN(2) == 0 {
				c.line *= off
			}
			ch, rate := c.anyView()
			long := rng.IntN(4) == 0
			if long { // fields, by a scope with memory or a recorder of pictures
				ch, rate = c.view(720, 720*(130+rng.IntN(100)), 8, 0.7)
			}
			f := ch.Measure(rate, wave.Site{Mains: 50})
			say(p.name+" kind", f.Kind == wave.Video)
			if f.Kind != wave.Video {
				if testing.Verbose() {
					t.Logf(
						"%s is %s: %d samples at %.3g, line %.3g, turned %t, long %t, burst %.2g",
						p.name,
						f.Kind,
						len(ch.Samples),
						rate,
						c.line,
						c.turned,
						long,
						c.burst,
					)
				}
				continue
			}
			sign := 1.0
			if c.turned {
				sign = -1
			}
			whole := c.sync + c.white
			brightest := 0.0
			for i := range 500 {
				for _, row := range []float64{60, 120, 180, 240} {
					brightest = max(brightest, c.picture(float64(i)/500, row))
				}
			}
			for key, due := range map[string]float64{
				"tip": c.blanking - sign*c.sync, "blanking": c.blanking, "sync": c.sync, "picture": c.white * brightest,
				"linehz": 1 / c.line, "syncwidth": 4.7 / 64 * c.line,
			} {
				if key == "picture" && p.name == "programme" {
					continue // a few per cent of a line may be brighter
				}
				got, ok := f.Find(key)
				within := map[string]float64{"linehz": 0.002 * due, "syncwidth": 0.05*due + 0.7/rate}[key]
				if within == 0 {
					within = 0.035 * whole
				}
				ok = ok && math.Abs(got.Value-due) <= within
				say("video "+key, ok)
				if !ok && testing.Verbose() {
					t.Logf(
						"%s %s: %.4g for %.4g (%d samples, %.3g lines, turned %t, long %t)",
						p.name,
						key,
						got.Value,
						due,
						len(ch.Samples),
						float64(len(ch.Samples))/rate/c.line,
						c.turned,
						long,
					)
				}
			}
			if long {
				got, ok := f.Find("field")
				say("video field", ok && math.Abs(got.Value*c.line*c.perField-1) < 0.003)
			}
			if p.steps > 0 && rate*c.line > 200 {
				want := map[float64]bool{}
				for i := range 500 {
					want[c.picture((float64(i)+0.5)/500, 60)] = true
				}
				got, ok := f.Find("steps")
				n := float64(len(want))
				ok = ok && (got.Value == n || got.Value == n-1 && want[0]) // the darkest may be at blanking
				say("video steps", ok)
				if !ok && testing.Verbose() {
					t.Logf(
						"%s: %.4g steps for %.4g, %d samples of %.3g lines, noise %.2g",
						p.name,
						got.Value,
						n,
						len(ch.Samples),
						float64(len(ch.Samples))/rate/c.line,
						c.noise/whole,
					)
				}
			}
		}
	}
	tell(t, "video figures", right, all, 0.975)
}

// Pairs of picture signals.
func TestBlindVideoDefects(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(153, 2))
	right, all := map[string]int{}, map[string]int{}
	spoilt := []struct {
		kind wave.DefectKind
		by   func(c *composite)
	}{
		{"", func(*composite) {}},
		{wave.LowLevel, func(c *composite) {
			k := math.Pow(10, -(4+12*rng.Float64())/20)
			c.sync, c.white, c.burst, c.noise = c.sync*k, c.white*k, c.burst*k, c.noise*k
		}},
		{wave.HighLevel, func(c *composite) {
			k := math.Pow(10, (4+4*rng.Float64())/20)
			c.sync, c.white, c.burst, c.noise = c.sync*k, c.white*k, c.burst*k, c.noise*k
		}},
		{wave.SyncClipped, func(c *composite) { c.sync *= 0.2 + 0.4*rng.Float64() }},
		{wave.SyncMissing, func(c *composite) { c.sync = 0 }},
		{wave.Crushed, func(c *composite) {
			of, at := c.picture, 0.35+0.25*rng.Float64()
			c.picture = func(a, row float64) float64 { v := of(a, row); return min(v, at) + 0.1*max(v-at, 0) }
		}},
		{wave.WrongFrequency, func(c *composite) { c.line *= 1 + (0.02+0.1*rng.Float64())*float64(2*rng.IntN(2)-1) }},
		{wave.Noise, func(c *composite) { c.noise = (c.sync + c.white) * (0.04 + 0.08*rng.Float64()) }},
	}
	for _, d := range spoilt {
		for k, p := range pictures {
			if p.name == "programme" && d.kind == wave.Crushed {
				continue // of another picture nobody can tell
			}
			for range trial.Runs(14) {
				c := newComposite(rng, k)
				ref, refRate := c.anyView()
				d.by(c)
				got, rate := c.anyView()
				found, ok := wave.Compare(&got, rate, &wave.Reference{Channel: ref, Rate: refRate}, wave.Site{Mains: 50})
				name := string(d.kind) + ", " + p.name
				first := wave.DefectKind("")
				if len(found.Defects) > 0 {
					first = found.Defects[0].Kind
				}
				if first == wave.WrongFrequency && d.kind == first {
					f := got.Measure(rate, wave.Site{Mains: 50})
					hz, err := quantity.ParseAs(f.Reading(&found), quantity.Hertz)
					if err != nil || math.Abs(hz.SI*c.line-1) > 0.01 {
						t.Errorf("a line of %g s is read as %q", c.line, f.Reading(&found))
					}
				}
				all[name]++
				if ok && first == d.kind {
					right[name]++
				} else if testing.Verbose() {
					lines := func(x wave.Channel, rate float64) float64 { return float64(len(x.Samples)) / rate / c.line }
					t.Logf("%s: %s; %.3g lines, turned %t, noise %.3g; reference %.3g", name, kindsOf(found), lines(got, rate), c.turned,
						c.noise/(c.sync+c.white), lines(ref, refRate))
				}
			}
		}
	}
	tell(t, "video pairs", right, all, 0.965)
}
