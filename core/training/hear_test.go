package training_test

import (
	"context"
	"slices"
	"testing"

	"steptrace/core/pattern"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/training"
	"steptrace/core/wave"
)

// What is played has the defect that was drawn: the sound of each set, with a tone played in, is read back from its file and measured
// beside that of a good one.
func TestWhatIsHeardHasTheDefectThatWasDrawn(t *testing.T) {
	t.Parallel()
	kinds := map[standin.Effect][]wave.DefectKind{
		standin.Dead: {
			wave.AbsentSignal,
		}, standin.Weak: {wave.LowLevel}, standin.Noisy: {wave.Noise}, standin.Hum: {wave.HumDouble}, standin.Crackling: {wave.Crackle},
		standin.Distorted: {
			wave.ClippedTop,
			wave.ClippedBoth,
			wave.ClippedBottom,
			wave.Distortion,
		}, standin.CuttingOut: {wave.CuttingOut},
	}
	effects := []standin.Effect{
		standin.Dead,
		standin.Weak,
		standin.Noisy,
		standin.Hum,
		standin.Distorted,
		standin.CuttingOut,
		standin.Crackling,
	}
	right, all := 0, 0
	sounds := func(b *training.Bench, h training.Heard) *wave.Capture {
		data, err := b.Listen(h.Mode, h.Entry, h.Exit, "tone")
		if err != nil {
			t.Fatal(err)
		}
		c, err := wave.Read(context.Background(), data, wave.Options{})
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	wanted := cases(t, 48)
	for n := 0; all < wanted; n++ {
		p := pattern.All()[n%len(pattern.All())]
		s, err := p.Sheet(pattern.Chosen{})
		if err != nil {
			t.Fatal(err)
		}
		plan, _ := s.Printed().Plan()
		heard := training.Hearable(plan)
		if len(heard) == 0 {
			continue
		}
		h := heard[n/len(pattern.All())%len(heard)]
		stage := plan.Stages[(7*n)%len(plan.Stages)].Name
		effect := effects[n%len(effects)]
		set, err := standin.New(plan, training.Fault{Block: stage, Effect: effect})
		if err != nil {
			t.Fatal(err)
		}
		good, _ := standin.New(plan)
		at := slices.IndexFunc(plan.Routes, func(r sheet.Route) bool { // of ways side by side the first is simulated
			return r.Mode == h.Mode && plan.EntryName(&r) == h.Entry && plan.Points[r.Points[len(r.Points)-1]].Name == h.Exit
		})
		if !set.Concerns(&plan.Routes[at], standin.Stand{On: true}) {
			continue
		}
		all++
		is := sounds(&training.Bench{Plan: plan, Set: set, Good: good}, h)
		was := sounds(&training.Bench{Plan: plan, Set: good, Good: good}, h)
		c, ok := wave.Compare(&is.Channels[0], is.Rate, was.Reference(0), wave.Site{Mains: 50, LowDB: 5, HighDB: 5})
		found := false
		for _, d := range c.Defects {
			for _, k := range kinds[effect] {
				found = found || d.Kind == k
			}
		}
		if ok && found {
			right++
		} else {
			t.Logf("%s, %s is %s, heard at %s: %v %+v", p.Name, stage, effect, h.Says, ok, c.Defects)
		}
	}
	if share := float64(right) / float64(all); share < 0.98 {
		t.Errorf("%d of %d sounds have their defect: %.3f", right, all, share)
	}
	t.Logf("%d of %d sounds have their defect", right, all)
	plan, _ := pattern.All()[0].Sheet(pattern.Chosen{})
	p, _ := plan.Plan()
	set, _ := standin.New(p)
	for _, x := range [][4]string{{"no mode", "in", "out", ""}, {"", "", "", "birdsong"}} {
		if _, err := (&training.Bench{Plan: p, Set: set, Good: set}).Listen(x[0], x[1], x[2], x[3]); err == nil {
			t.Errorf("%q is played", x)
		}
	}
}
