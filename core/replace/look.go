package replace

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/device"
	"steptrace/core/inside"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/substitute"
)

// About is what the replacing goes by.
type About struct {
	Plan    *sheet.Plan
	Inside  []inside.Entry
	Entries []Entry
	Repairs []repair.Entry
	Table   *device.Table
	Drawer  []Kept
	// Schools are those that the workshop's jobs were done by, the latest first: they hold where a job says nothing.
	Schools []School
	// Swaps are modules that went in the place of others in jobs that ended with them in.
	Swaps []Swap
	// Pictures are those of the steps, by their keys.
	Pictures map[string][]string

	rests map[*sheet.PlanCircuit]*circuit.Rest // the circuits at rest, each solved once
}

// Part is a part that is to be replaced, and how that stands.
type Part struct {
	Part  string `json:"part"`
	Stage string `json:"stage"`
	What  string `json:"what"` // it has, where it is condemned
	Was   string `json:"was"`  // what was there
	Sort  Sort   `json:"sort"`
	Duty  string `json:"duty"`
	New   string `json:"new"` // what goes in; empty: nothing is chosen
	// Did is what it counts as in the record.
	Did       repair.Did `json:"did,omitempty"`
	Chosen    *Chosen    `json:"chosen,omitempty"`
	Against   bool       `json:"against"` // what goes in does not fit, and is taken all the same
	Fitted    bool       `json:"fitted"`  // it is in, and noted as a repair
	Says      string     `json:"says"`
	In        bool       `json:"in"` // its step is done: what is measured now is the new one
	Condemned bool       `json:"condemned"`
	Listed    bool       `json:"listed"` // it is renewed with others
	Tests     []Test     `json:"tests"`
	Advice    Advice     `json:"advice"`
	Why       string     `json:"why"` // of the advice
	Beside    []Beside   `json:"beside"`
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
	Sums    []Sum       `json:"sums"`
	// Circuits is what could be listed of the sheet's circuits.
	Circuits string `json:"circuits"`
}

// Sum is one that was kept, and the entry that has it.
type Sum struct {
	Worked
	Entry string `json:"entry"`
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

// ready is a part with all that is known of it: what was there, what it has to do, what was chosen, judged.
type ready struct {
	fitted
	duty Duty
	bars []Bar
	err  error // why what was there is not known
}

// ready makes a part ready to be judged, and says what its tests came to.
func (a *About) ready(p *Part, of chosen) ready {
	d, bars := a.dutyOf(p)
	before, err := thingOf(a.Table, p.Was, p.Sort)
	if p.Sort == Unknown {
		p.Sort = before.sort
	}
	if before.sort == Module {
		before.works = confirmed(a.Swaps, before.name)
	}
	f := fitted{subject: p, before: before, sink: d.Sink, under: d.Under, of: of}
	r := ready{fitted: f, duty: d, bars: bars, err: err}
	if m := before.mending; m != nil { // nothing goes in
		p.New, p.Did, p.Fitted = "to be "+m.to(), m.did, a.mended(p, m)
		if p.Fitted {
			p.New = string(m.did)
		}
		p.Says, p.Sort = p.New, Mending
		p.Tests, p.Advice = []Test{}, Renew
		return r
	}
	if p.New != "" {
		if r.after, _ = thingOf(a.Table, p.New, before.sort); r.after.sort != Unknown && before.sort == r.after.sort && err == nil {
			r.verdict = judge(&r.before, &r.after, &r.duty)
			p.Says, p.Against = says(&r.verdict), r.verdict.Grade == substitute.Unfit
		}
	}
	a.test(p, &r.before, &r.after)
	p.advise(&r.before, &d, of)
	return r
}

// chosen are the schools that the work is of, one of each group.
type chosen []School

func (c chosen) has(s School) bool { return slices.Contains(c, s) }

// schools are those chosen last in this job, or in the workshop, or the usual ones.
func (a *About) schools() chosen {
	out := make(chosen, len(schools))
	for i, group := range schools {
		out[i] = group[0].school
	}
	for _, s := range slices.Backward(a.Schools) {
		if g := groupOf(s); g >= 0 {
			out[g] = s
		}
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
		Sums:   []Sum{},
		Words:  DutyWords,
	}
	for _, e := range a.Entries {
		if e.Board != "" && !e.Struck {
			v.Board = e.Board
		}
		if e.Worked != nil && !e.Struck {
			v.Sums = append(v.Sums, Sum{*e.Worked, e.ID})
		}
	}
	of := a.schools()
	for i, group := range schools {
		for _, s := range group {
			v.Schools = append(v.Schools, Reasoned{i, s.school, s.speaks, of.has(s.school)})
		}
	}
	v.Circuits = ofCircuits(a.Plan)
	all := make([]ready, len(v.Parts))
	fits := make([]fitted, len(v.Parts))
	var look []Beside
	amps := ""
	for i := range v.Parts {
		p := &v.Parts[i]
		all[i] = a.ready(p, of)
		fits[i] = all[i].fitted
		if pc := a.circuit(p); pc != nil {
			p.Beside = beside(pc, a.rest(pc), p.Part, p.What)
			amps = cmp.Or(amps, drawn(pc, a.rest(pc)))
		} else {
			p.Beside = byRule(&all[i].before, p.What)
		}
		for _, b := range p.Beside {
			if !slices.ContainsFunc(look, func(x Beside) bool { return x.Part == b.Part }) {
				look = append(look, b)
			}
		}
	}
	look = slices.DeleteFunc(look, func(b Beside) bool {
		return slices.ContainsFunc(v.Parts, func(p Part) bool { return p.Part == b.Part })
	})
	if lamp := lampOf(a.Plan); lamp != "" {
		amps = strings.TrimPrefix(amps+"; "+lamp, "; ")
	}
	tube := slices.ContainsFunc(a.Plan.Sheet.Hazards, func(h sheet.Hazard) bool { return h.Kind == "picture tube" })
	v.Steps = plan(fits, v.Board, look, reservoirs(a.Plan), tube, amps)
	v.tick(a.Entries)
	for i := range v.Steps {
		v.Steps[i].Pictures = append([]string{}, a.Pictures[v.Steps[i].Key]...)
	}
	if v.At = v.lookedAt(part); v.At >= 0 {
		v.Known = all[v.At].bars
		v.offer(&a, &all[v.At], try)
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
	if before.rest != "" {
		v.Trouble = fmt.Sprintf("Taken as %s: what %s behind it says is not known.", before.device.Name, before.rest)
	}
	v.Offers = offers(a.Table, left(a.Drawer, v.Parts, v.At), r)
	offered := func(what string) bool {
		return slices.ContainsFunc(v.Offers, func(o Offer) bool { return o.New == what })
	}
	if c := p.Chosen; strings.TrimSpace(try) == "" && c != nil && !offered(c.New) {
		try = c.New // what was chosen is shown, however it was found
	}
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

// lookedAt is the part of a name; where there is none of it the first that nothing is chosen for, then the one that the next
// step is about, then the first. -1 where there are no parts.
func (v *View) lookedAt(part string) int {
	at := func(is func(p Part) bool) int { return slices.IndexFunc(v.Parts, is) }
	if i := at(func(p Part) bool { return p.Part == part }); i >= 0 {
		return i
	}
	if i := at(func(p Part) bool { return p.New == "" && p.Advice != Stays }); i >= 0 {
		return i
	}
	for _, s := range v.Steps {
		if !s.Done && s.Part != "" {
			return at(func(p Part) bool { return p.Part == s.Part })
		}
	}
	return min(len(v.Parts), 1) - 1
}

// tick marks the steps that are done, and the parts that are in by them.
func (v *View) tick(entries []Entry) {
	for i := range v.Steps {
		for _, e := range entries {
			if e.Done != nil && !e.Struck && e.Done.Step == v.Steps[i].Key {
				v.Steps[i].Done, v.Steps[i].Entry, v.Steps[i].Note = true, e.ID, e.Done.Note
				v.Steps[i].At = e.At.UTC().Format(time.RFC3339)
			}
		}
		for k := range v.Parts {
			if s := &v.Steps[i]; s.Done && s.Fits && s.Part == v.Parts[k].Part {
				v.Parts[k].In = true
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
