package soak

import (
	"math"
	"math/rand/v2"
	"testing"
)

// run is a heat sink in a cabinet: two masses and two paths, solved by small steps, with the ripple of a signal that
// moves, a sensor of so much noise that shows tenths or halves of a degree, and perhaps a bias that rises with the heat. It
// shares nothing with the curves that are fitted to it.
type run struct {
	every  float64
	shown  []Point
	true   []float64 // without noise, at the same times
	end    float64   // where it would come to rest
	tau    float64   // when 63 % of its rise is reached
	fault  float64   // when it came
	passes float64   // when it passes the limit; NaN: never
}

const limit = 70.0

// With one mass the inside follows at once: then the rise is of the first order, whatever the bias does. A fault after hours
// makes more heat from one moment to the next.
func drawnRun(rng *rand.Rand, hot bool, kind string) run {
	plain, fault := kind != "two masses", kind == "a fault after hours"
	for {
		room := 18 + 8*rng.Float64()
		sink := 700 + 1800*rng.Float64()            // J/K
		toAir := 0.5 + 1.2*rng.Float64()            // K/W from the sink to the inside
		cabinet := 3000 + 9000*rng.Float64()        // J/K
		toRoom := (0.1 + 0.3*rng.Float64()) * toAir // K/W
		if plain {
			toRoom = 1e-6
		}
		watts := 8 + 40*rng.Float64()
		grows := 0.004 * rng.Float64() / toAir // share of the watts more for each degree
		r := run{every: 10, passes: math.NaN()}
		const step, hours = 1.0, 5
		comes, by := math.Inf(1), 1.0
		if fault {
			comes, by = 3600*(1+2*rng.Float64()), 1.3+0.9*rng.Float64()
		}
		t1, t2 := room, room
		noise, shown := 0.1+0.3*rng.Float64(), 0.1
		if rng.IntN(3) == 0 {
			shown = 0.5
		}
		period, depth := 30+150*rng.Float64(), 0.3*rng.Float64()
		for t := 0.0; t < hours*3600; t += step {
			if t > comes {
				watts, comes = watts*by, math.Inf(1)
				r.fault = t
			}
			p := watts * (1 + grows*(t1-room)) * (1 + depth*math.Sin(2*math.Pi*t/period))
			flow := (t1 - t2) / toAir
			t1 += step * (p - flow) / sink
			if plain {
				t2 = room
			} else {
				t2 += step * (flow - (t2-room)/toRoom) / cabinet
			}
			if t1 > 300 {
				break
			}
			if math.IsNaN(r.passes) && t1 > limit {
				r.passes = t
			}
			if math.Mod(t, r.every) == 0 {
				r.true = append(r.true, t1)
				r.shown = append(r.shown, Point{t, math.Round((t1+noise*rng.NormFloat64())/shown) * shown})
			}
		}
		r.end = r.true[len(r.true)-1]
		for i, v := range r.true {
			if v > room+0.632*(r.end-room) {
				r.tau = float64(i) * r.every
				break
			}
		}
		if fault { // of the rise that it makes
			r.tau = sink * toAir
		}
		is := !math.IsNaN(r.passes)
		// One that comes to rest within half a degree of the limit is neither.
		if fault && hot && r.passes < r.fault+60 { // it was too hot before, or at once
			continue
		}
		if is == hot && math.Abs(r.end-limit) > 0.5 && r.end > room+8 && r.end < room+60 {
			return r
		}
	}
}

// called is when the end is first called unsafe, as it is watched: every two minutes, by what was shown so far.
func called(r *run) float64 {
	w := Watch{}
	for i := range r.shown {
		if i%12 != 11 {
			continue
		}
		p := r.shown[i]
		if p.V > limit || w.Early(r.shown[:i+1], Bound{Limit: limit, Most: true, By: 5 * 3600, Scale: 1}) {
			return p.T
		}
	}
	return math.NaN()
}

func TestUnsafeClimbsAreCalledEarly(t *testing.T) {
	for _, name := range []string{"one mass", "two masses", "a fault after hours"} {
		rng := rand.New(rand.NewPCG(17, 2))
		runs := 24
		early, wrong := 0, 0
		for range runs {
			r := drawnRun(rng, true, name)
			if at := called(&r); at <= r.passes-0.2*r.tau {
				early++
			}
			if r = drawnRun(rng, false, name); !math.IsNaN(called(&r)) {
				wrong++
			}
		}
		t.Logf("%s: called a fifth of the time constant before the limit in %.1f %% of %d; false alarms in %.1f %% of %d",
			name, 100*float64(early)/float64(runs), runs, 100*float64(wrong)/float64(runs), runs)
		least, most := 0.95, 0.02
		if name == "a fault after hours" { // the rest of the way is short then, and the old curve has to be given up first
			least, most = 0.85, 0.08
		}
		if float64(early) < least*float64(runs)-1 || float64(wrong) > most*float64(runs)+1 {
			t.Errorf("%s: too late, or too often", name)
		}
	}
}

func TestEndIsToldAfterOneTimeConstant(t *testing.T) {
	for _, name := range []string{"one mass", "two masses"} {
		rng := rand.New(rand.NewPCG(18, 4))
		runs := 24
		near, inside := 0, 0
		for i := range runs {
			r := drawnRun(rng, i%2 == 0, name)
			k := int(r.tau/r.every) + 1
			f, ok := Fit(r.shown[:k], 1)
			if !ok {
				continue
			}
			end := f.At(5 * 3600)
			if math.Abs(end.V-r.end) < 2 {
				near++
			}
			if math.Abs(end.V-r.end) < 2*end.Give {
				inside++
			}
		}
		t.Logf("%s: end told within 2 °C after one time constant in %.1f %%, within two of its own errors in %.1f %% of %d",
			name, 100*float64(near)/float64(runs), 100*float64(inside)/float64(runs), runs)
		sure, close := 0.5, 0.25
		if name == "one mass" {
			sure, close = 0.93, 0.9
		}
		if float64(inside) < sure*float64(runs)-1 || float64(near) < close*float64(runs)-1 {
			t.Errorf("%s: farther off than it says", name)
		}
	}
}
