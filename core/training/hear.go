package training

import (
	"math"
	"slices"

	"steptrace/core/mend"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/wave"
)

// Ears find half of the faults: what comes out of a set's exit can be listened to, with a programme or a tone played in.

// Heard is what can be listened to.
type Heard struct {
	Mode  string `json:"mode"`
	Entry string `json:"entry"`
	Exit  string `json:"exit"`
	Says  string `json:"says"`
}

// Hearable are the exits from which sound comes, in each mode and from each entry.
func Hearable(plan *sheet.Plan) []Heard {
	out := []Heard{}
	good, err := standin.New(plan)
	if err != nil {
		return out
	}
	for _, c := range cells(plan) {
		x := exitOf(plan, c.exit)
		hz := good.Hz(c.exit, c.fed(plan, standin.Stand{}))
		if (x.sense == sound || x.sense == output) && hz > lowestHz && hz < earHz {
			says := x.said
			if c.mode != "" {
				says += " on " + c.mode
			}
			out = append(out, Heard{c.mode, c.entry, c.exit, says})
		}
	}
	return out
}

const (
	lowestHz     = 60.0 // below, it is a supply's
	heardRate    = 22_050.0
	heardSeconds = 4.0
	// heardLevel is what a good set's level becomes, of full scale: there is room for what is too loud.
	heardLevel = 0.12
)

// Listen gives some seconds of what comes out of an exit as a WAV: with a programme played in, or a tone of the sheet's frequency.
// Errors can be mended by a person.
func (b *Bench) Listen(mode, entry, exit, signal string) ([]byte, error) {
	all := cells(b.Plan)
	i := slices.IndexFunc(all, func(c cell) bool { return c.mode == mode && c.entry == entry && c.exit == exit })
	if i < 0 {
		return nil, mend.Errorf("nothing leads from %s to %s here", entry, exit)
	}
	stand := all[i].fed(b.Plan, b.Stand)
	switch signal {
	case "", "programme":
		if stand.Fed == nil {
			stand.Fed = &standin.Feed{}
		}
		stand.Fed.Programme = programme
	case "tone":
	default:
		return nil, mend.Errorf("%q is not played: use programme or tone", signal)
	}
	n := int(heardSeconds * heardRate)
	x := b.Set.Waveform(exit, stand, heardRate, n, 0)
	good := wave.Channel{Samples: b.Good.Waveform(exit, all[i].fed(b.Plan, b.Stand), heardRate, n/4, 0)}
	by := heardLevel / math.Max(good.RMS(), 1e-6)
	mean := 0.0
	for _, v := range x {
		mean += v / float64(n)
	}
	for k, v := range x {
		x[k] = math.Max(-1, math.Min(1, by*(v-mean)))
	}
	return wave.WriteWAV(x, heardRate), nil
}

// The programme is a phrase of our own, of plucked tones over two held ones, in half a second each: loud and soft, high and low, so that
// distortion, hum, hiss and dropouts are told apart in it. 1 rms on average.
var phrase = [...][2]float64{
	{220, 440},
	{220, 554.4},
	{293.7, 587.3},
	{293.7, 440},
	{329.6, 659.3},
	{329.6, 493.9},
	{220, 554.4},
	{220, 440},
}

const (
	toneSeconds = 0.5
	pluckFall   = 5.0 // 1/s
	loudness    = 2.4 // brings the phrase to 1 rms
)

func programme(t float64) float64 {
	k := int(math.Floor(t/toneSeconds)) % len(phrase)
	if k < 0 {
		k += len(phrase)
	}
	at := t - toneSeconds*math.Floor(t/toneSeconds)
	held, plucked := phrase[k][0], phrase[k][1]
	fade := math.Min(1, math.Min(at, toneSeconds-at)/0.02)
	tone := func(hz float64) float64 {
		w := 2 * math.Pi * hz * t
		return math.Sin(w) + 0.4*math.Sin(2*w) + 0.2*math.Sin(3*w)
	}
	return loudness * fade * (0.22*tone(held) + 0.5*math.Exp(-pluckFall*at)*tone(plucked))
}
