package training

import (
	"math"
	"runtime"
	"slices"
	"sync/atomic"

	"steptrace/core/beside"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/wave"
)

// As is how what comes out of a set is, as one notices it.
type As string

// What is noticed at an exit.
const (
	Fine      As = "fine"
	Silent    As = "silent"
	Faint     As = "weak"
	Loud      As = "too loud"
	Distorted As = "distorted"
	Humming   As = "hums"
	Noisy     As = "noisy"
	Crackling As = "crackles"
	Breaking  As = "cuts out"
	OffTune   As = "off in frequency"
)

// marks are the words by which the matrix of the intake takes it down.
var marks = map[As]quantity.Word{
	Fine: quantity.OK, Silent: quantity.Nothing, Faint: quantity.Weak, Loud: quantity.Partly, Distorted: quantity.Partly,
	Humming: quantity.Partly, Noisy: quantity.Partly, Crackling: quantity.Partly, Breaking: quantity.CutsOut, OffTune: quantity.Partly,
}

// Mark is the word by which the matrix of the intake takes it down.
func (a As) Mark() quantity.Word { return marks[a] }

// Shown is how a set works from an entry to an exit in a mode.
type Shown struct {
	Mode, Entry, Exit string
	As                As
}

// bad tells whether anything is noticed.
func (s Shown) bad() bool { return s.As != Fine }

// Shows tries a set out, in every mode, from every entry to every exit, and compares what comes out with what comes out of a good one.
func Shows(set, good *standin.Set, plan *sheet.Plan, stand standin.Stand) []Shown {
	all := cells(plan)
	out := make([]Shown, len(all))
	at := atomic.Int64{}
	var work beside.Work
	for range runtime.GOMAXPROCS(0) {
		work.Go(func() {
			for i := at.Add(1) - 1; i < int64(len(all)); i = at.Add(1) - 1 {
				c := &all[i]
				out[i] = Shown{c.mode, c.entry, c.exit, c.tried(set, good, plan, stand)}
			}
		})
	}
	work.Wait()
	return out
}

// cell is one way to try a set: a mode, an entry, an exit.
type cell struct {
	mode, entry, exit string
	route             *sheet.Route
}

// cells are those that can be tried from outside: a signal of the set's own is an entry only where nothing else comes to its exit.
func cells(plan *sheet.Plan) []cell {
	var out []cell
	from := func(r *sheet.Route) bool { return !plan.Points[r.Points[0]].Source }
	for i := range plan.Routes {
		r := &plan.Routes[i]
		c := cell{r.Mode, plan.EntryName(r), plan.Points[r.Points[len(r.Points)-1]].Name, r}
		if slices.ContainsFunc(out, func(x cell) bool { return x.mode == c.mode && x.entry == c.entry && x.exit == c.exit }) {
			continue
		}
		if !from(r) && slices.ContainsFunc(plan.Routes, func(x sheet.Route) bool {
			return from(&x) && x.Mode == r.Mode && x.Points[len(x.Points)-1] == r.Points[len(r.Points)-1]
		}) {
			continue
		}
		out = append(out, c)
	}
	return out
}

// fed is how the set stands with the signal of a cell.
func (c *cell) fed(plan *sheet.Plan, stand standin.Stand) standin.Stand {
	stand.On, stand.Mode, stand.Fed = true, c.mode, nil
	if first := &plan.Points[c.route.Points[0]]; !first.Source {
		stand.Fed = &standin.Feed{At: first.Name}
	}
	return stand
}

// What is noticed: half of the level or twice as much is heard by anybody; below a hundredth nothing is left.
const (
	faintDB, loudDB, silentDB = 5.0, 5.0, 36.0
	// earHz is the highest frequency of which the ear, or a record of some tenths of a second, follows the course.
	earHz = 5e3
	// earSeconds is how long is listened: longer than what cuts out takes to do so once.
	earSeconds = 0.55
	earSamples = 8_250
	// Moments of a fault that cuts out: gone, and there.
	gone, there = 0.05, 0.2
)

// tried is how what arrives compares with what arrives in a good set.
func (c *cell) tried(set, good *standin.Set, plan *sheet.Plan, stand standin.Stand) As {
	stand = c.fed(plan, stand)
	if !set.Concerns(c.route, stand) {
		return Fine
	}
	hz := good.Hz(c.exit, stand)
	if hz == 0 {
		return Fine // nothing comes there in a good one either
	}
	if hz > earHz {
		return c.glimpsed(set, good, stand, hz)
	}
	rate := earSamples / earSeconds
	take := func(s *standin.Set) wave.Channel {
		return wave.Channel{Unit: "V", Samples: s.Waveform(c.exit, stand, rate, earSamples, 0)}
	}
	is, was := take(set), take(good)
	if as := levels(is.RMS(), was.RMS()); as == Silent {
		return as
	}
	return compared(&is, &was, rate)
}

// glimpsed compares two short looks at what is too fast to be followed, one of them when what cuts out is gone.
func (c *cell) glimpsed(set, good *standin.Set, stand standin.Stand, hz float64) As {
	rate, n := 40*hz, 4000
	take := func(s *standin.Set, at float64) wave.Channel {
		return wave.Channel{Unit: "V", Samples: s.Waveform(c.exit, stand, rate, n, at)}
	}
	is, was := take(set, there), take(good, there)
	if as := levels(is.RMS(), was.RMS()); as == Silent {
		return as
	}
	if out := take(set, gone); levels(out.RMS(), is.RMS()) == Silent {
		return Breaking
	}
	return compared(&is, &was, rate)
}

func levels(is, was float64) As {
	switch db := quantity.DB(math.Max(is, 1e-12), math.Max(was, 1e-12)); {
	case db < -silentDB:
		return Silent
	case db < -faintDB:
		return Faint
	case db > loudDB:
		return Loud
	}
	return Fine
}

// defects are what the names of defects are noticed as.
var defects = map[wave.DefectKind]As{
	wave.AbsentSignal: Silent, wave.LowLevel: Faint, wave.HighLevel: Loud, wave.WrongFrequency: OffTune,
	wave.ClippedTop: Distorted, wave.ClippedBottom: Distorted, wave.ClippedBoth: Distorted,
	wave.Crossover: Distorted, wave.Distortion: Distorted,
	wave.HumMains: Humming, wave.HumDouble: Humming, wave.Noise: Noisy, wave.Crackle: Crackling, wave.CuttingOut: Breaking,
}

// compared names what is wrong with a waveform beside that of a good set.
func compared(is, was *wave.Channel, rate float64) As {
	ref := &wave.Reference{Channel: *was, Rate: rate}
	c, ok := wave.Compare(is, rate, ref, wave.Site{Mains: mains, LowDB: faintDB, HighDB: loudDB})
	if ok {
		for _, d := range c.Defects {
			if as, ok := defects[d.Kind]; ok {
				return as
			}
		}
	}
	return levels(is.RMS(), was.RMS())
}

// mains is the frequency of the place that practice is in.
const mains = 50
