package replace

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/device"
	"steptrace/core/inside"
	"steptrace/core/quantity"
	"steptrace/core/repair"
	"steptrace/core/sheet"
)

// About is what the replacing goes by.
type About struct {
	Plan    *sheet.Plan
	Inside  []inside.Entry
	Entries []Entry
	Repairs []repair.Entry
	Table   *device.Table
	Drawer  []Kept
}

// Part is a part that is to be replaced, and how that stands.
type Part struct {
	Part      string   `json:"part"`
	Stage     string   `json:"stage"`
	What      string   `json:"what"` // it has, where it is condemned
	Was       string   `json:"was"`  // what was there
	Sort      Sort     `json:"sort"`
	Duty      string   `json:"duty"`
	New       string   `json:"new"` // what goes in; empty: nothing is chosen
	Chosen    *Chosen  `json:"chosen,omitempty"`
	Fitted    bool     `json:"fitted"` // it is in, and noted as a repair
	Says      string   `json:"says"`
	Condemned bool     `json:"condemned"`
	Listed    bool     `json:"listed"` // it is renewed with others
	Tests     []Test   `json:"tests"`
	Advice    Advice   `json:"advice"`
	Why       string   `json:"why"` // of the advice
	Beside    []Beside `json:"beside"`
}

// View is what there is to see of the replacing.
type View struct {
	Says   string  `json:"says"` // the next thing to do, in a sentence
	Parts  []Part  `json:"parts"`
	At     int     `json:"at"` // which of them is looked at; -1 where there is none
	Offers []Offer `json:"offers"`
	// Tried is what was typed to be tried, judged.
	Tried *Offer `json:"tried,omitempty"`
	// Trouble is what stands in the way of judging.
	Trouble string      `json:"trouble"`
	Known   []Bar       `json:"known"` // of its duty, from the circuit
	Board   Board       `json:"board"`
	Boards  []Board     `json:"boards"`
	Steps   []Step      `json:"steps"`
	Orders  []OrderLine `json:"orders"`
	Words   string      `json:"words"` // that a duty may have
	Schools []Reasoned  `json:"schools"`
	// Circuits is what could be listed of the sheet's circuits.
	Circuits string `json:"circuits"`
}

// Reasoned is a school, and what speaks for it. Those of one group stand against one another.
type Reasoned struct {
	Group  int    `json:"group"`
	School School `json:"school"`
	Speaks string `json:"speaks"`
	Chosen bool   `json:"chosen"`
}

// Bar is a figure of a duty as the circuit has it.
type Bar struct {
	What string `json:"what"`
	Text string `json:"text"`
}

// OrderLine is something to be had: how many of it, for which parts.
type OrderLine struct {
	What   string   `json:"what"`
	Count  int      `json:"count"`
	For    []string `json:"for"`
	Drawer bool     `json:"drawer"` // it lies there
	Place  string   `json:"place"`
	Price  string   `json:"price"`
}

// subjects lists the parts that are to be replaced: those condemned inside stages, and those that were named.
func (a *About) subjects() []Part {
	var out []Part
	at := func(part string) int { return slices.IndexFunc(out, func(p Part) bool { return p.Part == part }) }
	for _, e := range a.Inside {
		if e.Condemned == nil || e.Struck {
			continue
		}
		p := Part{Part: e.Condemned.Part, Stage: e.Stage, What: e.Condemned.What, Condemned: true}
		if i := at(p.Part); i >= 0 {
			out[i] = p
		} else {
			out = append(out, p)
		}
	}
	for _, e := range a.Entries {
		switch {
		case e.Struck:
		case e.Subject != nil:
			s := e.Subject
			i := at(s.Part)
			switch {
			case s.Dropped && i >= 0:
				out = slices.Delete(out, i, i+1)
				continue
			case s.Dropped:
				continue
			case i < 0:
				out = append(out, Part{Part: s.Part})
				i = len(out) - 1
			}
			p := &out[i]
			p.Stage, p.Was, p.Duty = cmp.Or(s.Stage, p.Stage), cmp.Or(s.Was, p.Was), cmp.Or(s.Duty, p.Duty)
		case e.List != "":
			list, _ := lines(e.List) // it was checked when it was taken
			for _, s := range list {
				if at(s.Part) < 0 {
					out = append(out, Part{Part: s.Part, Was: s.Was, Duty: s.Duty, Listed: true})
				}
			}
		case e.Chosen != nil:
			if i := at(e.Chosen.Part); i >= 0 {
				out[i].New, out[i].Chosen = e.Chosen.New, e.Chosen
				out[i].Fitted = a.fitted(e.Chosen, e.At)
			}
		}
	}
	for i := range out {
		p := &out[i]
		p.Beside, p.Tests = []Beside{}, []Test{}
		if p.Stage == "" {
			p.Stage = a.stageOf(p.Part)
		}
		if c := a.inCircuit(p); c != nil {
			p.Was = cmp.Or(p.Was, wasOf(c))
			p.Sort = sortOf(c.Kind)
		}
	}
	return out
}

// fitted tells whether a repair noted later put it in.
func (a *About) fitted(c *Chosen, at time.Time) bool {
	return slices.ContainsFunc(a.Repairs, func(e repair.Entry) bool {
		return e.Repair != nil && !e.Struck && e.At.After(at) &&
			slices.ContainsFunc(e.Repair.Parts, func(p repair.Part) bool { return p.Name == c.Part && p.Fitted == c.New })
	})
}

// stageOf is the only stage whose circuit has a part of a name; empty where none has, or several.
func (a *About) stageOf(part string) string {
	out, count := "", 0
	for i := range a.Plan.Circuits {
		c := &a.Plan.Circuits[i]
		if c.Net != nil && slices.ContainsFunc(c.Circuit.Parts, func(p circuit.Part) bool { return p.Name == part && p.There() }) {
			out, count = c.Stage, count+1
		}
	}
	if count != 1 {
		return ""
	}
	return out
}

func (a *About) circuit(p *Part) *sheet.PlanCircuit {
	if pc, ok := a.Plan.Circuit(p.Stage); ok {
		return pc
	}
	return nil
}

// inCircuit is a part as its stage's circuit has it; nil where it has none.
func (a *About) inCircuit(p *Part) *circuit.Part {
	pc := a.circuit(p)
	if pc == nil {
		return nil
	}
	i := slices.IndexFunc(pc.Circuit.Parts, func(c circuit.Part) bool { return c.Name == p.Part })
	if i < 0 {
		return nil
	}
	return &pc.Circuit.Parts[i]
}

// wasOf is what a circuit says was there.
func wasOf(c *circuit.Part) string {
	if t := c.TypeOf(); t != "" {
		return t
	}
	switch c.Kind {
	case circuit.Capacitor, circuit.Resistor:
		rated := ""
		if w := c.Also["rated"]; w != "" {
			rated = " " + w
		}
		return c.Value + rated
	}
	return ""
}

func sortOf(k circuit.Kind) Sort {
	switch k {
	case circuit.Capacitor:
		return Capacitor
	case circuit.Resistor:
		return Resistor
	case circuit.NPN, circuit.PNP, circuit.NMOS, circuit.PMOS, circuit.NJFET, circuit.PJFET, circuit.Diode, circuit.Zener, circuit.OpAmp,
		circuit.Optocoupler:
		return Typed
	}
	return Unknown
}

// dutyOf is what a part has to do: what its circuit shows, and what was said of it, which goes before.
func (a *About) dutyOf(p *Part) (Duty, []Bar) {
	d, _ := DutyOf(p.Duty) // it was checked when it was taken
	bars := []Bar{}
	pc := a.circuit(p)
	if pc == nil || a.inCircuit(p) == nil {
		return d, bars
	}
	rest, err := pc.Net.Rest()
	if err != nil {
		return d, bars
	}
	i := slices.IndexFunc(rest.Parts, func(r circuit.PartRest) bool { return r.Name == p.Part })
	if i < 0 {
		return d, bars
	}
	r := &rest.Parts[i]
	span := spanOf(pc)
	if p.Sort == Typed && span > 0 {
		bars = append(bars, Bar{"between its supplies", quantity.Rounded(span, quantity.Volt)})
		if d.Volts == 0 {
			d.Volts = span
		}
	}
	if p.Sort != Typed {
		bars = append(bars, Bar{"across it at rest", quantity.Rounded(math.Abs(r.Volts), quantity.Volt)})
		if d.Volts == 0 && p.Sort == Capacitor {
			d.Volts = math.Abs(r.Volts)
		}
	}
	if r.Watts > 1e-4 {
		bars = append(bars, Bar{"heat at rest", quantity.Rounded(r.Watts, quantity.Watt)})
		if d.Watts == 0 && p.Sort == Resistor {
			d.Watts = r.Watts
		}
	}
	return d, bars
}

// ready is a part with all that is known of it: what was there, what it has to do, what was chosen, judged.
type ready struct {
	fitted
	duty Duty
	bars []Bar
	err  error // why what was there is not known
	// asItWas: no better kind of today is looked for.
	asItWas bool
}

// ready makes a part ready to be judged, and says what its tests came to.
func (a *About) ready(p *Part, of chosen) ready {
	d, bars := a.dutyOf(p)
	before, err := thingOf(a.Table, p.Was, p.Sort)
	if p.Sort == Unknown {
		p.Sort = before.sort
	}
	f := fitted{subject: p, before: before, sink: d.Sink, pad: of.has(Pad)}
	r := ready{fitted: f, duty: d, bars: bars, err: err, asItWas: of.has(AsItWas)}
	if p.New != "" {
		if r.after, _ = thingOf(a.Table, p.New, before.sort); r.after.sort != Unknown && before.sort == r.after.sort && err == nil {
			r.verdict = judge(&r.before, &r.after, &r.duty)
			p.Says = says(&r.verdict)
		}
	}
	a.test(p, &r.before, &r.after)
	p.advise(&r.before, of)
	return r
}

// chosen are the schools that the work is of, one of each group.
type chosen []School

func (c chosen) has(s School) bool { return slices.Contains(c, s) }

// schools are those chosen last, or the usual ones.
func (a *About) schools() chosen {
	out := make(chosen, len(schools))
	for i, group := range schools {
		out[i] = group[0].school
	}
	for _, e := range a.Entries {
		if e.School != "" && !e.Struck {
			out[groupOf(e.School)] = e.School
		}
	}
	return out
}

// Look works out how the replacing stands, and what may go in the place of a part; of the first that nothing is chosen for
// where none is named. Try is something to be judged for it.
//
// Long: one after the other, what its view has.
func Look(a About, part, try string) View {
	v := View{
		Parts:  a.subjects(),
		At:     -1,
		Offers: []Offer{},
		Known:  []Bar{},
		Boards: Boards,
		Steps:  []Step{},
		Orders: []OrderLine{},
		Words:  DutyWords,
	}
	for _, e := range a.Entries {
		if e.Board != "" && !e.Struck {
			v.Board = e.Board
		}
	}
	of := a.schools()
	for i, group := range schools {
		for _, s := range group {
			v.Schools = append(v.Schools, Reasoned{i, s.school, s.speaks, of.has(s.school)})
		}
	}
	v.Circuits = ofCircuits(a.Plan)
	var fits []fitted
	var look []Beside
	amps := ""
	for i := range v.Parts {
		p := &v.Parts[i]
		r := a.ready(p, of)
		if pc := a.circuit(p); pc != nil {
			p.Beside = beside(pc, p.Part, p.What)
			amps = cmp.Or(amps, drawn(pc))
		} else {
			p.Beside = byRule(&r.before, p.What)
		}
		for _, b := range p.Beside {
			if !slices.ContainsFunc(look, func(x Beside) bool { return x.Part == b.Part }) {
				look = append(look, b)
			}
		}
		fits = append(fits, r.fitted)
		if part == p.Part || part == "" && v.At < 0 && p.New == "" && p.Advice != Stays {
			v.At = i
			v.Known = r.bars
			v.offer(&a, &r, try)
		}
	}
	look = slices.DeleteFunc(look, func(b Beside) bool {
		return slices.ContainsFunc(v.Parts, func(p Part) bool { return p.Part == b.Part })
	})
	v.Steps = plan(fits, v.Board, look, reservoirs(a.Plan), amps)
	v.tick(a.Entries)
	if v.At < 0 && len(v.Parts) > 0 {
		return Look(a, v.worked(), try)
	}
	v.Orders = orders(&a, v.Parts)
	v.Says = v.next()
	return v
}

// offer lists what may go in the place of the part that is looked at.
func (v *View) offer(a *About, r *ready, try string) {
	before, d, err := &r.before, &r.duty, r.err
	p := &v.Parts[v.At]
	switch {
	case strings.TrimSpace(p.Was) == "":
		v.Trouble = "Say what was there: its type, or value and ratings as they are printed on it."
	case err != nil:
		v.Trouble = err.Error()
	}
	if v.Trouble != "" {
		return
	}
	v.Offers = offers(a.Table, left(a.Drawer, v.Parts, v.At), r)
	if strings.TrimSpace(try) == "" {
		return
	}
	after, err := thingOf(a.Table, try, before.sort)
	if err != nil {
		if after, err = thingOf(a.Table, try, Unknown); err != nil {
			v.Trouble = err.Error()
			return
		}
	}
	verdict := judge(before, &after, d)
	v.Tried = &Offer{New: strings.TrimSpace(try), Verdict: verdict, Says: says(&verdict)}
	if after.device != nil {
		v.Tried.About = aboutType(after.device)
		if after.rest == "" {
			v.Tried.New = after.device.Name
		}
	}
	for _, k := range left(a.Drawer, v.Parts, v.At) {
		t, _, ok := a.Table.Find(k.What)
		if strings.EqualFold(k.What, v.Tried.New) || ok && t == after.device {
			v.Tried.New, v.Tried.Drawer, v.Tried.Place = k.What, k.Count, k.Place
		}
	}
}

// worked is the part that the next step is about; the first where it is about none.
func (v *View) worked() string {
	for _, s := range v.Steps {
		if !s.Done && s.Part != "" {
			return s.Part
		}
	}
	return v.Parts[0].Part
}

// tick marks the steps that are done.
func (v *View) tick(entries []Entry) {
	for i := range v.Steps {
		for _, e := range entries {
			if e.Done != nil && !e.Struck && e.Done.Step == v.Steps[i].Key {
				v.Steps[i].Done, v.Steps[i].Entry, v.Steps[i].Note = true, e.ID, e.Done.Note
			}
		}
	}
}

// next is the next thing to do, in a sentence.
func (v *View) next() string {
	if len(v.Parts) == 0 {
		return "No part is condemned yet. Name one that is to be replaced, or condemn it inside its stage."
	}
	order := slices.Concat(v.Parts[v.At:v.At+1], v.Parts) // the one that is looked at first
	for i := range order {
		if p := &order[i]; p.New == "" && p.Advice != Stays {
			if strings.TrimSpace(p.Was) == "" {
				return fmt.Sprintf("Say what %s was.", p.Part)
			}
			return fmt.Sprintf("Choose what goes in the place of %s, %s.", p.Part, p.Was)
		}
	}
	for _, s := range v.Steps {
		if !s.Done {
			return s.Text + "."
		}
	}
	if len(v.Chosen()) == 0 {
		return "All of it is in: prove it at the bench."
	}
	return "All of it is done: note the repair, and prove it at the bench."
}

func reservoirs(p *sheet.Plan) []string {
	var out []string
	for i := range p.Reservoirs {
		out = append(out, p.Reservoirs[i].Name)
	}
	return out
}

// orders lists what has to be had, like with like.
func orders(a *About, parts []Part) []OrderLine {
	out := []OrderLine{}
	for i := range parts {
		c := parts[i].Chosen
		if c == nil || parts[i].Fitted {
			continue
		}
		k := slices.IndexFunc(out, func(l OrderLine) bool {
			return strings.EqualFold(l.What, c.New) && l.Drawer == (c.From == Drawer)
		})
		if k < 0 {
			line := OrderLine{What: c.New, For: []string{}, Drawer: c.From == Drawer, Price: c.Price}
			for _, d := range a.Drawer {
				if line.Drawer && strings.EqualFold(d.What, c.New) {
					line.Place = d.Place
				}
			}
			out = append(out, line)
			k = len(out) - 1
		}
		out[k].Count += c.Count
		out[k].For = append(out[k].For, parts[i].Part)
	}
	slices.SortStableFunc(out, func(a, b OrderLine) int { return cmp.Compare(boolean(a.Drawer), boolean(b.Drawer)) })
	return out
}

// Chosen lists the parts that something was chosen for, and that are not in yet.
func (v *View) Chosen() []Part {
	return slices.DeleteFunc(slices.Clone(v.Parts), func(p Part) bool { return p.New == "" || p.Fitted })
}

// Repairs are what is noted once parts are in: one of each stage, of many parts several.
func Repairs(parts []Part) []repair.Repair {
	const most = 100
	var out []repair.Repair
	for i := range parts {
		p := &parts[i]
		found := repair.Precaution
		if p.Condemned {
			found = repair.Bad
		}
		k := slices.IndexFunc(out, func(r repair.Repair) bool { return r.Stage == p.Stage && len(r.Parts) < most })
		if k < 0 {
			out = append(out, repair.Repair{Did: repair.Replaced, Stage: p.Stage})
			k = len(out) - 1
		}
		out[k].Parts = append(out[k].Parts, repair.Part{Name: p.Part, Found: found, Fitted: p.New})
	}
	return out
}

// left is what the drawer has still, with what was chosen for other parts taken out.
func left(drawer []Kept, parts []Part, but int) []Kept {
	out := slices.Clone(drawer)
	for _, k := range Taken(slices.Concat(parts[:but], parts[but+1:])) {
		if i := slices.IndexFunc(out, func(x Kept) bool { return strings.EqualFold(x.What, k.What) }); i >= 0 {
			out[i].Count = max(out[i].Count-k.Count, 0)
		}
	}
	return out
}

// Taken is how many of what parts take out of the drawer that are not in yet.
func Taken(parts []Part) []Kept {
	out := []Kept{}
	for i := range parts {
		c := parts[i].Chosen
		if c == nil || parts[i].Fitted || c.From != Drawer {
			continue
		}
		k := slices.IndexFunc(out, func(x Kept) bool { return strings.EqualFold(x.What, c.New) })
		if k < 0 {
			out = append(out, Kept{What: c.New})
			k = len(out) - 1
		}
		out[k].Count += c.Count
	}
	return out
}
