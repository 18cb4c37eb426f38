package supply

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// judgeElements says which element explains how the rail stands, and what to
// read next.
func (x *explainer) judgeElements(i int, out *Rail) {
	mark := marker(out.Elements)
	x.cleared(i, mark)
	switch out.State {
	case Unread:
		out.Says = fmt.Sprintf("Read %s: %s is due, %s.", out.Name, out.Expected, out.Up)
		out.Next = append(out.Next, Check{out.Name, x.plan.Rails[i].Reads(), fmt.Sprintf("Read %s.", out.Name), []string{}})
	case Fine:
		for k := range out.Elements {
			out.Elements[k].Standing, out.Elements[k].Why = Good, ""
		}
		out.Says = fmt.Sprintf("%s is good.", out.Name)
		if x.seen[i].volts == nil {
			out.Next = append(out.Next, Check{out.Name, sheet.DC, fmt.Sprintf("Read %s too, not only its ripple.", out.Name), []string{}})
		}
	case Waiting:
		out.Says = fmt.Sprintf(
			"%s comes up only when the set is told to start; it is not missed before. Start it, then read again.",
			out.Name,
		)
	case Missing:
		x.missing(i, out, mark)
	case Low:
		x.low(i, out, mark)
	case High:
		x.high(i, out, mark)
	case Rippling:
		x.rippling(i, out, mark)
	case Shorted:
		if b := x.seen[i].bridged; x.pulledDown(i) {
			x.short(
				out,
				mark,
				fmt.Sprintf(
					"%s is pulled to %s with %s bridged, %s is due",
					out.Name,
					b.Understood,
					strings.Join(b.Reading.Without, " and "),
					out.Expected,
				),
			)
			break
		}
		x.short(out, mark, fmt.Sprintf("%s reads %s to ground with the set off, %s is due", out.Name, out.Ohms, x.seen[i].ohms.Expected))
	}
	if out.Says == "" {
		out.Says = x.left(out)
	}
}

// cleared marks what other rails and readings show good.
func (x *explainer) cleared(i int, mark func(Sort, Standing, string) bool) {
	r := &x.plan.Rails[i]
	for k := range x.plan.Rails {
		o := &x.plan.Rails[k]
		if k == i || !x.there(k) {
			continue
		}
		root := x.plan.Feeds(k)
		top := &x.plan.Rails[root[len(root)-1]]
		mark(Mains, Good, fmt.Sprintf("%s is there", o.Name))
		if r.Parent < 0 && r.From != "" && top.From == r.From {
			mark(Winding, Good, fmt.Sprintf("%s comes from it too", o.Name))
		}
		if slices.Contains(x.plan.FuseRails(r.Fuse), k) {
			mark(Fuse, Good, fmt.Sprintf("%s comes through it too", o.Name))
		}
		if slices.Contains(x.plan.Feeds(k), i) {
			mark(Load, Good, fmt.Sprintf("%s is made from it", o.Name))
		}
	}
	if fuse := x.fuses[r.Fuse]; fuse != nil && fuse.Verdict == reading.Within {
		mark(Fuse, Good, "it reads "+fuse.Understood)
	}
	if o := x.seen[i].ohms; o != nil && o.Verdict == reading.Within {
		mark(Load, Good, fmt.Sprintf("the rail reads %s to ground", o.Understood))
		mark(Reservoir, Good, fmt.Sprintf("the rail reads %s to ground", o.Understood))
	}
}

// short: something pulls the rail to ground.
func (x *explainer) short(out *Rail, mark func(Sort, Standing, string) bool, why string) {
	mark(Load, Suspect, "one of these is shorted, or the copper is")
	mark(Reservoir, Suspect, "it may be shorted")
	mark(Rectifier, Suspect, "a diode may be shorted")
	out.Says = why + ": find the short before a new fuse or more power."
}

// ask adds a check unless it has been made.
func ask(out *Rail, done bool, point string, q sheet.Quantity, text string) {
	if !done {
		out.Next = append(out.Next, Check{point, q, text, []string{}})
	}
}

// upstream: a rail it is made from is wrong itself.
func (x *explainer) upstream(i int, out *Rail, mark func(Sort, Standing, string) bool) bool {
	parent := x.plan.Rails[i].Parent
	if parent < 0 {
		return false
	}
	p := &x.plan.Rails[parent]
	switch state := x.states[parent]; {
	case slices.Contains([]State{Missing, Low, High, Shorted, Rippling}, state):
		mark(Parent, Faulty, fmt.Sprintf("it is %s itself", state))
		out.Says = fmt.Sprintf("%s is made from %s, which is %s: put that right first.", out.Name, p.Name, state)
		return true
	case state == Fine && x.seen[parent].volts != nil: // its ripple alone says nothing of its volts
		mark(Parent, Good, fmt.Sprintf("it reads %s", x.seen[parent].volts.Understood))
	default:
		ask(
			out,
			false,
			p.Name,
			p.Reads(),
			fmt.Sprintf("Read %s, which it is made from: %s is due.", p.Name, p.Due()),
		)
	}
	return false
}

func (x *explainer) missing(i int, out *Rail, mark func(Sort, Standing, string) bool) {
	r := &x.plan.Rails[i]
	s := &x.seen[i]
	if x.upstream(i, out, mark) {
		return
	}
	fuse := x.fuses[r.Fuse]
	b := s.bridged
	switch {
	case x.pulledDown(i):
		mark(Fuse, Faulty, "bridged for a test")
		x.short(
			out,
			mark,
			fmt.Sprintf("%s is pulled to %s with %s bridged", out.Name, b.Understood, strings.Join(b.Reading.Without, " and ")),
		)
		ask(
			out,
			s.ohms != nil,
			out.Name,
			sheet.Resistance,
			fmt.Sprintf("Take the bridge out, and read %s to ground in ohms, with the set off and discharged.", out.Name),
		)
		return
	case b != nil && b.Verdict == reading.Within:
		mark(Fuse, Faulty, "with it bridged the rail is there")
		out.Says = fmt.Sprintf(
			"With %s bridged, %s is there: the fuse had gone, and nothing holds the rail down now. A new one of the same rating and "+
				"kind, brought up slowly.",
			strings.Join(b.Reading.Without, " and "),
			out.Name,
		)
		return
	case fuse != nil && fuse.Verdict.Bad():
		mark(Fuse, Faulty, fmt.Sprintf("it reads %s", fuse.Understood))
		x.short(out, mark, fmt.Sprintf("%s is blown, and something blew it", r.Fuse))
		ask(
			out,
			s.ohms != nil,
			out.Name,
			sheet.Resistance,
			fmt.Sprintf("Read %s to ground in ohms, with the set off and discharged.", out.Name),
		)
		return
	case s.ohms != nil && s.ohms.Verdict == reading.Low:
		x.short(out, mark, fmt.Sprintf("%s reads %s to ground with the set off", out.Name, s.ohms.Understood))
		return
	case x.comesBack(i) != nil:
		x.short(out, mark, fmt.Sprintf("%s comes back with %s lifted", out.Name, strings.Join(x.comesBack(i).Reading.Without, ", ")))
		return
	}
	why := "open, it leaves the rail dead"
	for _, kind := range []Sort{Mains, Winding, Parent, Fuse, Rectifier, Regulator} {
		x.suspect(out, kind, why)
	}
	x.suspect(out, Load, "shorted, it pulls the rail down")
	x.suspect(out, Reservoir, "shorted, it pulls the rail down")
	if r.Fuse != "" {
		ask(
			out,
			fuse != nil,
			r.Fuse,
			sheet.Resistance,
			fmt.Sprintf(
				"Read the fuse %s in ohms, with the set off: below %s is whole.",
				r.Fuse,
				quantity.Rounded(reading.WholeFuseOhms, quantity.Ohm),
			),
		)
	}
	ask(
		out,
		s.ohms != nil,
		out.Name,
		sheet.Resistance,
		fmt.Sprintf("Read %s to ground in ohms, with the set off and discharged.", out.Name),
	)
}

// suspect marks the elements of a kind that nothing has cleared.
func (x *explainer) suspect(out *Rail, kind Sort, why string) {
	for k := range out.Elements {
		if e := &out.Elements[k]; e.Kind == kind && e.Standing == Open {
			e.Standing, e.Why = Suspect, why
		}
	}
}

func (x *explainer) low(i int, out *Rail, mark func(Sort, Standing, string) bool) {
	s := &x.seen[i]
	if x.upstream(i, out, mark) || x.ripples(i, out, mark) {
		return
	}
	switch {
	case s.ohms != nil && s.ohms.Verdict == reading.Low:
		x.short(out, mark, fmt.Sprintf("%s reads %s to ground with the set off", out.Name, s.ohms.Understood))
		return
	case x.comesBack(i) != nil:
		x.short(out, mark, fmt.Sprintf("%s comes back with %s lifted", out.Name, strings.Join(x.comesBack(i).Reading.Without, ", ")))
		return
	}
	x.suspect(out, Load, "it may draw too much")
	x.suspect(out, Regulator, "its reference or pass element may be off")
	if s.ripple == nil {
		x.suspect(out, Rectifier, "half of it may be open")
		x.suspect(out, Reservoir, "it may have lost capacitance")
	}
	x.suspect(out, Winding, "turns may be shorted")
	x.suspect(out, Mains, "the mains may be low")
	ask(out, s.ripple != nil, out.Name, sheet.AC, fmt.Sprintf("Read the ripple on %s, peak to peak.", out.Name))
	ask(
		out,
		s.ohms != nil,
		out.Name,
		sheet.Resistance,
		fmt.Sprintf("Read %s to ground in ohms, with the set off and discharged.", out.Name),
	)
}

func (x *explainer) high(i int, out *Rail, mark func(Sort, Standing, string) bool) {
	if x.upstream(i, out, mark) {
		return
	}
	if mark(Regulator, Suspect, "shorted through, or its reference is off") {
		out.Says = fmt.Sprintf(
			"%s is high: its regulator %s lets through too much. Switch off before more is lost.",
			out.Name,
			x.plan.Rails[i].Regulator,
		)
		return
	}
	mark(Load, Suspect, "what should load it may be off")
	mark(Mains, Suspect, "the mains may be high")
	out.Says = fmt.Sprintf("%s is high and has no regulator: its load is missing, or the mains is high.", out.Name)
	for k := range out.Needed {
		out.Says += fmt.Sprintf(" Is %s connected and drawing?", out.Needed[k])
		break
	}
}

func (x *explainer) rippling(i int, out *Rail, mark func(Sort, Standing, string) bool) {
	if x.upstream(i, out, mark) {
		return
	}
	x.ripples(i, out, mark)
}

// ripples explains too much ripple; false where there is none.
func (x *explainer) ripples(i int, out *Rail, mark func(Sort, Standing, string) bool) bool {
	r := &x.plan.Rails[i]
	s := &x.seen[i]
	if s.ripple == nil || !s.ripple.Verdict.Bad() {
		return false
	}
	if r.Parent >= 0 || r.Rectifier == "" && r.Regulator != "" {
		mark(Regulator, Suspect, "it lets ripple through")
		mark(Reservoir, Suspect, "it may have lost capacitance")
		out.Says = fmt.Sprintf("%s ripples behind a regulator: it is out of regulation, or the capacitor behind it is open.", out.Name)
		return true
	}
	hz := r.RippleHz
	if s.hz != nil {
		hz = s.hz.Reading.SI
		if r.RippleHz > 0 && math.Abs(hz/r.RippleHz-0.5) < halfTolerance/2 && r.RectifierKind() != "half wave" {
			mark(Rectifier, Faulty, "half of it is open")
			mark(Reservoir, Good, "")
			out.Says = fmt.Sprintf(
				"The ripple on %s runs at %s, half of what is due: half of the rectifier %s is open, or half of its winding.",
				out.Name,
				quantity.Rounded(hz, quantity.Hertz),
				r.Rectifier,
			)
			return true
		}
	} else if r.RippleHz > 0 && r.RectifierKind() != "half wave" {
		ask(out, false, out.Name, sheet.Frequency, fmt.Sprintf("Read the ripple's frequency: %s is due; half of that is half the "+
			"rectifier.", quantity.Rounded(r.RippleHz, quantity.Hertz)))
		x.suspect(out, Rectifier, "half of it may be open")
	}
	pp := s.ripple.Reading.RippleV()
	mark(Reservoir, Suspect, "it may have lost capacitance")
	x.suspect(out, Load, "it may draw too much")
	out.Says = fmt.Sprintf("%s ripples %s: its reservoir has lost capacitance, or the load draws too much.", out.Name, s.ripple.Understood)
	if r.LoadA > 0 && hz > 0 && pp > 0 {
		left := CapacitanceLeft(r.LoadA, hz, pp)
		out.Says = fmt.Sprintf(
			"%s ripples %s: at %s of load that leaves %s%s, if the load draws no more than it should.",
			out.Name,
			s.ripple.Understood,
			quantity.Rounded(r.LoadA, quantity.Ampere),
			quantity.Capacitance(left),
			x.ofNominal(i),
		)
	}
	return true
}

// ofNominal compares with the capacitance on the sheet.
func (x *explainer) ofNominal(i int) string {
	sum := 0.0
	for k := range x.plan.Reservoirs {
		if x.plan.Reservoirs[k].Rail == i {
			sum += x.plan.Reservoirs[k].Farads
		}
	}
	if sum == 0 {
		return ""
	}
	return " of the " + quantity.Capacitance(sum)
}

// left says which elements are still in question.
func (x *explainer) left(out *Rail) string {
	var names []string
	for _, e := range out.Elements {
		if e.Standing == Suspect || e.Standing == Faulty {
			names = append(names, e.Name)
		}
	}
	if len(names) == 0 {
		return fmt.Sprintf(
			"%s is %s, and all that the sheet knows of its chain is cleared: look at the wiring and joints between.",
			out.Name,
			out.State,
		)
	}
	return fmt.Sprintf("%s is %s: in question are %s.", out.Name, out.State, strings.Join(names, ", "))
}

// CapacitanceLeft gives the capacitance (F) that a ripple (V peak to peak) at a
// frequency (Hz) leaves under a load current (A). Between two peaks the load
// alone empties the reservoir: ΔV = I/(f·C), the conduction angle neglected, as
// in every text on capacitor-input rectifiers. It is 0 for what is not above zero.
func CapacitanceLeft(amps, hz, ripple float64) float64 {
	if !(amps > 0 && hz > 0 && ripple > 0) {
		return 0
	}
	return amps / (hz * ripple)
}
