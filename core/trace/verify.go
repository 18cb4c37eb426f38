package trace

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// After a repair the bench verifies: what was wrong when the set came in is tried
// again, the complaint at the exits first, since that shows most at once; where there
// was a short, it has to be gone before power goes on again. Then what worked is tried,
// since a repair may have harmed it.

// due is one thing that has to be shown after a repair: how it reads as a ground, how
// it is read, in minutes from how the bench stands.
type due struct {
	Ground
	reach   *planning.Access // of a signal; nil: a line, a fuse, something at a point
	minutes float64
	worked  bool // it worked before
	was     *reading.Judged
	ways    *sheet.Paths // what a level depends on, which good readings elsewhere show as well
}

// verification lists what has to be shown, and how far it is.
func (f *suspicion) verification() []due {
	if f.Round == 0 {
		return nil
	}
	var all []due
	add := func(d due) {
		if !slices.ContainsFunc(all, func(o due) bool { return o.Key == d.Key }) {
			all = append(all, d)
		}
	}
	wrong := f.wrongBefore()
	for _, j := range wrong {
		for _, d := range f.shortGone(j) {
			add(d)
		}
	}
	for _, j := range wrong {
		if d, ok := f.rightAgain(j); ok {
			add(d)
		}
	}
	for _, j := range wrong {
		if d, ok := f.exitOf(j, all); ok {
			add(d)
		}
	}
	if len(all) == 0 { // nothing was read before: the complaint is all there is
		if d, ok := f.complaint(); ok {
			add(d)
		}
	}
	for _, j := range f.workedBefore() {
		add(f.stillWorks(j))
	}
	for i := range all {
		d := &all[i]
		f.prove(d)
		f.waive("", &d.Ground)
	}
	f.order(all)
	return all
}

// groundsOf are the grounds of what has to be shown.
func groundsOf(dues []due) []Ground {
	var out []Ground
	for i := range dues {
		out = append(out, dues[i].Ground)
	}
	return out
}

// Keys of what is verified begin with the round, so that what was waived after one
// repair is asked for again after the next.
func (f *finder) verifyKey(parts ...string) string {
	return fmt.Sprintf("round %d: %s", f.Round, strings.Join(parts, ", "))
}

// lastBefore lists the last reading of each place and condition in earlier rounds, as
// the set stood: nothing lifted, no finger as the generator.
func (f *finder) lastBefore() []*reading.Judged {
	var out []*reading.Judged
	seen := map[reading.Key]bool{}
	for _, past := range slices.Backward(f.past) {
		for i := range slices.Backward(past.judged) {
			j := &past.judged[i]
			r := &j.Reading
			k := reading.KeyOf(r)
			if r.Act != "" {
				k.Without = string(r.Act) // each thing that was done counts for itself
			}
			if r.Struck || j.Superseded || seen[k] || len(r.Without) > 0 || j.Touched() {
				continue
			}
			seen[k] = true
			out = append(out, j)
		}
	}
	slices.Reverse(out) // as they were taken
	return out
}

func (f *finder) wrongBefore() []*reading.Judged {
	return slices.DeleteFunc(f.lastBefore(), func(j *reading.Judged) bool { return !j.Verdict.Bad() })
}

// workedBefore lists the marks of what worked.
func (f *finder) workedBefore() []*reading.Judged {
	return slices.DeleteFunc(f.lastBefore(), func(j *reading.Judged) bool {
		_, mark := f.InMatrix(&j.Reading)
		return !mark || j.Route == nil || j.Verdict != reading.Within
	})
}

// shortGone: where a rail read as a short, or a fuse had gone, ohms come before power.
func (f *finder) shortGone(j *reading.Judged) []due {
	r := &j.Reading
	var rails []int
	if k, ok := f.Plan.RailIndex(r.Point); ok && r.Quantity == sheet.Resistance && r.Word == quantity.NoWord {
		rails = []int{k}
	}
	fuse := f.Plan.FuseRails(r.Point)
	rails = append(rails, fuse...)
	var out []due
	for _, k := range rails {
		name := f.Plan.Rails[k].Name
		text := fmt.Sprintf("The short on rail %s is gone: ohms to ground, set off", name)
		if len(fuse) > 0 {
			text = fmt.Sprintf("No short on rail %s behind the fuse %s: ohms to ground, set off", name, r.Point)
		}
		out = append(
			out,
			due{
				Ground:  Ground{Key: f.verifyKey("short", name), Text: text, Point: name, Quantity: sheet.Resistance, Safety: true},
				minutes: planning.ProbeMinutes,
				was:     j,
			},
		)
	}
	if len(fuse) > 0 {
		out = append(
			out,
			due{
				Ground: Ground{
					Key:      f.verifyKey("fuse", r.Point),
					Text:     fmt.Sprintf("The fuse %s is whole, of the same rating and kind", r.Point),
					Point:    r.Point,
					Quantity: sheet.Resistance,
					Safety:   true,
				},
				minutes: planning.ProbeMinutes,
				was:     j,
			},
		)
	}
	return out
}

// rightAgain: what read wrong reads right.
func (f *suspicion) rightAgain(j *reading.Judged) (due, bool) {
	r := &j.Reading
	d := due{Ground: Ground{Point: r.Point, Quantity: r.Quantity, Worked: r.Worked}, minutes: planning.ProbeMinutes, was: j}
	before := f.saidBefore(j)
	if r.Quantity == sheet.Provocation {
		d.Key = f.verifyKey("provoked", r.Point, string(r.Act))
		d.Text = fmt.Sprintf("%s changes nothing any more", mend.Capital(r.Done()))
		return d, true
	}
	if _, known := quantityWords[r.Quantity]; !known {
		return d, false // of a kind that shows nothing there
	}
	if line, ok := f.Plan.LineIndex(r.Point); ok {
		if r.Quantity == sheet.Resistance && line < len(f.Plan.Rails) {
			return d, false // asked for before power
		}
		with := ""
		if r.Worked {
			with = " with " + f.line(line).By
		}
		d.Key = f.verifyKey("line", r.Point, string(r.Quantity), with)
		name := f.Plan.LineTitle(line)
		if r.Quantity == sheet.AC {
			name = "the ripple of " + name
		}
		d.Text = fmt.Sprintf("%s%s is right again%s", mend.Capital(name), with, before)
		return d, true
	}
	point, ok := f.Plan.PointIndex(r.Point)
	if !ok {
		return d, false
	}
	d.minutes += f.Plan.Points[point].Minutes
	if entry, mark := f.InMatrix(r); mark && j.Route != nil {
		d.Key = f.verifyKey("mark", entry, r.Point, r.Mode)
		d.Text = fmt.Sprintf("%s from %s is right%s", r.Point, inMode(entry, r.Mode), before)
		f.reaching(&d, j)
		return d, true
	}
	if r.Quantity.OfSignal() {
		if j.Route == nil {
			d.Key = f.verifyKey("point", r.Point, string(r.Quantity), r.Mode)
			d.Text = fmt.Sprintf("%s is right again%s", r.Point, before)
			return d, true
		}
		d.Key = f.verifyKey("signal", r.Point, string(r.Quantity), r.Mode, f.fedAt(j))
		d.Text = fmt.Sprintf("%s at %s is right again%s", quantityWords[r.Quantity], r.Point, before)
		f.reaching(&d, j)
		if r.Quantity == sheet.AC {
			d.ways = f.pathsFrom(j.Route.Mode, j.Route.Points[j.From], j.Route.Points[j.At], nil)
		}
		return d, true
	}
	d.Key = f.verifyKey("point", r.Point, string(r.Quantity), r.Mode)
	d.Text = fmt.Sprintf("%s at %s is right again%s", quantityWords[r.Quantity], r.Point, before)
	return d, true
}

// quantityWords begin a sentence of a reading.
var quantityWords = map[sheet.Quantity]string{
	sheet.AC:          "The signal",
	sheet.DC:          "The DC voltage",
	sheet.Frequency:   "The frequency",
	sheet.Resistance:  "The resistance",
	sheet.Current:     "The current",
	sheet.Power:       "The power",
	sheet.Deviation:   "The deviation",
	sheet.Distortion:  "The distortion",
	sheet.Temperature: "The temperature",
}

// saidBefore tells what stood there before: ", it read 12 mV".
func (f *finder) saidBefore(j *reading.Judged) string {
	if j.Reading.Word != quantity.NoWord {
		return fmt.Sprintf("; before: %s", j.Reading.Word)
	}
	return fmt.Sprintf("; it read %s", j.Understood)
}

func inMode(name, mode string) string {
	if mode == "" {
		return name
	}
	return name + " in " + mode
}

// fedAt names where the signal of a reading was fed in.
func (f *finder) fedAt(j *reading.Judged) string { return f.Plan.Points[j.Route.Points[j.From]].Name }

// reaching sets down how a signal is read again as it was, and what that costs.
func (f *suspicion) reaching(d *due, j *reading.Judged) {
	d.reach = &planning.Access{Route: j.Route, From: j.From, At: j.At, Lifted: sheet.None}
	if j.Route == f.Route && f.Injected == nil && j.From == 0 {
		d.reach.Now = true
	}
	d.Route, d.Injected = j.Route.Key, j.Reading.Injected
	d.minutes += f.situation().ChangeMinutes(d.reach)
}

// exitOf: what came out wrong on the way of a reading has to come out right, unless a
// mark at that exit says so already.
func (f *suspicion) exitOf(j *reading.Judged, all []due) (due, bool) {
	if j.Route == nil || j.Reading.Quantity != sheet.AC {
		return due{}, false
	}
	exit := f.Plan.Points[j.Route.Points[len(j.Route.Points)-1]].Name
	if slices.ContainsFunc(all, func(d due) bool {
		return d.reach != nil && d.reach.From == 0 && d.reach.Route.Mode == j.Route.Mode && d.Point == exit
	}) {
		return due{}, false
	}
	return f.atExit(j.Route), true
}

// complaint: nothing was read before the repair, so that the exit of the route being
// traced has to show that the complaint is gone.
func (f *suspicion) complaint() (due, bool) {
	if len(f.Route.Points) == 0 {
		return due{}, false
	}
	return f.atExit(f.Route), true
}

// atExit: what comes out at the end of a route is right.
func (f *suspicion) atExit(r *sheet.Route) due {
	last := len(r.Points) - 1
	point := &f.Plan.Points[r.Points[last]]
	d := due{
		Ground: Ground{
			Key:      f.verifyKey("exit", point.Name, r.Mode),
			Text:     fmt.Sprintf("What comes out at %s is right", inMode(point.Name, r.Mode)),
			Point:    point.Name,
			Quantity: f.exitQuantity(r),
		},
		minutes: planning.ProbeMinutes + point.Minutes,
	}
	f.reaching(&d, &reading.Judged{Reading: reading.Reading{Injected: f.Entry(r)}, Route: r, At: last})
	return d
}

// exitQuantity is what tells at the end of a route that all of it works: the deviation where
// a carrier leaves it and something else came in; else the level, or what the sheet gives
// in its place.
func (f *finder) exitQuantity(r *sheet.Route) sheet.Quantity {
	last := len(r.Points) - 1
	stated := func(q sheet.Quantity) bool {
		_, ok := f.Plan.Expect(r.Points[last], q, r.Mode)
		return ok
	}
	switch {
	case stated(sheet.Deviation) && !f.Carrier(r, 0):
		return sheet.Deviation
	case f.Comparable(r, last, f.judged):
		return sheet.AC
	}
	for _, q := range []sheet.Quantity{sheet.Power, sheet.Deviation, sheet.Frequency, sheet.Distortion} {
		if stated(q) {
			return q
		}
	}
	return sheet.AC
}

// stillWorks: what worked before the repair works.
func (f *suspicion) stillWorks(j *reading.Judged) due {
	entry, _ := f.InMatrix(&j.Reading)
	d := due{
		Ground: Ground{
			Key:      f.verifyKey("mark", entry, j.Reading.Point, j.Reading.Mode),
			Text:     fmt.Sprintf("%s from %s works as before", j.Reading.Point, inMode(entry, j.Reading.Mode)),
			Point:    j.Reading.Point,
			Quantity: sheet.AC,
		},
		minutes: planning.ProbeMinutes,
		worked:  true,
		was:     j,
	}
	f.reaching(&d, j)
	d.ways = f.pathsFrom(j.Route.Mode, j.Route.Points[j.From], j.Route.Points[j.At], nil)
	return d
}

// prove looks for what shows it in the present round, or speaks against it.
func (f *finder) prove(d *due) {
	d.Proof = Lacking
	for i := range f.judged {
		j := &f.judged[i]
		if j.Reading.Struck || j.Superseded || !f.shows(d, j) {
			continue
		}
		if j.Verdict == reading.Unjudged && j.Reading.Act == "" && !d.free(&j.Reading) {
			continue
		}
		if d.Proof, d.Because = Shown, j.Told(); j.Verdict.Bad() {
			d.Proof = Against
		}
		if d.was != nil && d.was.Understood != j.Understood && d.was.Reading.Act == "" && !strings.Contains(d.Text, f.saidBefore(d.was)) {
			d.Because += ", before: " + d.was.Understood
		}
	}
	if d.Proof != Lacking || d.ways == nil {
		return
	}
	// Good readings further on show it as well.
	var by *reading.Judged
	for k, yes := range d.ways.Any {
		if !yes || k >= len(f.Plan.Stages) {
			continue
		}
		if by = f.clearing(k); by == nil {
			return
		}
	}
	if by != nil {
		d.Proof, d.Because = Shown, by.Told()
	}
}

// free tells whether ohms that the sheet has no figure for show a short gone, by what was read
// before.
func (d *due) free(r *reading.Reading) bool {
	if !d.Safety || r.Quantity != sheet.Resistance || r.Word != quantity.NoWord {
		return false
	}
	before := reading.DeadShortOhms
	if was := &d.was.Reading; was.Point == r.Point && was.Word == quantity.NoWord {
		before = max(before, was.SI)
	}
	return r.SI > reading.ShortGone*before
}

// shows tells whether a reading is one of what has to be shown.
func (f *finder) shows(d *due, j *reading.Judged) bool {
	r := &j.Reading
	if r.Point != d.Point || len(r.Without) > 0 {
		return false
	}
	switch {
	case d.Quantity == sheet.Provocation:
		return r.Act == d.was.Reading.Act
	case d.reach != nil:
		if j.Route == nil || j.Route.Mode != d.reach.Route.Mode || j.Touched() || r.Quantity != d.Quantity {
			return false
		}
		return j.Route.Points[j.From] == d.reach.Route.Points[d.reach.From]
	case r.Worked != d.Worked:
		return false
	case d.was != nil && d.was.Reading.Word != quantity.NoWord && r.Word == quantity.NoWord && r.Quantity == sheet.DC &&
		d.Quantity == sheet.AC:
		return true // a rail found without volts was taken down as a word
	}
	return r.Quantity == d.Quantity || r.Word != quantity.NoWord && d.was != nil && d.was.Reading.Word != quantity.NoWord
}

// order puts first what has to be safe before power goes on, then what shows most of
// what is missing a minute, the exits before what lies further up, and what worked last.
func (f *finder) order(all []due) {
	covers := func(d *due) float64 {
		n := 1.0
		if d.reach == nil {
			return n
		}
		w := f.pathsFrom(d.reach.Route.Mode, d.reach.Route.Points[d.reach.From], d.reach.Point(), nil)
		for i := range all {
			o := &all[i]
			if o.Key == d.Key || o.ways == nil || o.Proof != Lacking {
				continue
			}
			inside := true
			for k, yes := range o.ways.Any {
				inside = inside && (!yes || w.Any[k])
			}
			if inside {
				n++
			}
		}
		return n
	}
	rank := func(d *due) int {
		switch {
		case d.Safety:
			return 0
		case d.worked:
			return 2
		}
		return 1
	}
	rate := map[string]float64{}
	for i := range all {
		rate[all[i].Key] = covers(&all[i]) / all[i].minutes
	}
	slices.SortStableFunc(all, func(a, b due) int {
		return cmp.Or(cmp.Compare(rank(&a), rank(&b)), cmp.Compare(rate[b.Key], rate[a.Key]), cmp.Compare(depth(&b), depth(&a)))
	})
}

// depth is how far along its route something is read.
func depth(d *due) int {
	if d.reach == nil {
		return 0
	}
	return d.reach.At
}
