package training

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"steptrace/core/pattern"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
)

// Waveforms at three places of a set: which stage is it, and what does it do?

// What a stage does that a few periods show, as one says it.
var does = map[standin.Effect]string{
	standin.Dead: "passes nothing", standin.Weak: "amplifies too little", standin.Distorted: "clips", standin.Noisy: "hisses",
	standin.Hum: "brings in hum",
}

const (
	shownSeconds = 0.02
	shownSamples = 400
)

func (q *Quick) whichStage(rng *rand.Rand) bool {
	names := [...][3]string{
		{"preamplifier", "tone stage", "output stage"}, {"microphone amplifier", "mixer stage", "line amplifier"},
		{"input buffer", "equaliser", "driver"},
	}[rng.IntN(3)]
	s := &sheet.Sheet{Model: "three stages", Points: []sheet.Point{{Name: "in", Expect: []sheet.Expectation{
		{Quantity: sheet.AC, Value: "20 mV"}, {Quantity: sheet.Frequency, Value: fmt.Sprintf("%d Hz", 400+100*rng.IntN(7))},
	}}}}
	from := "in"
	for i, name := range names {
		to := fmt.Sprintf("TP%d", i+1)
		s.Points = append(s.Points, sheet.Point{Name: to, Expect: []sheet.Expectation{}})
		s.Stages = append(
			s.Stages,
			sheet.Stage{Name: name, Kind: "amplifier", From: from, To: to, Gain: fmt.Sprintf("%d dB", 6+2*rng.IntN(5))},
		)
		from = to
	}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		return false
	}
	effects := []standin.Effect{standin.Dead, standin.Weak, standin.Distorted, standin.Noisy, standin.Hum}
	stage, effect := pick(rng, names[:]), pick(rng, effects)
	set, err := standin.New(plan, standin.Fault{Block: stage, Effect: effect})
	if err != nil {
		return false
	}
	good, _ := standin.New(plan)
	stand := standin.Stand{On: true, Fed: &standin.Feed{At: "in"}}
	for i, p := range s.Points {
		place := p.Name
		if i > 0 {
			place += ", behind the " + names[i-1]
		}
		rate := shownSamples / shownSeconds
		q.Traces = append(q.Traces, Trace{
			Name: place, Seconds: shownSeconds,
			Good: good.Waveform(p.Name, stand, rate, shownSamples, 0), Is: set.Waveform(p.Name, stand, rate, shownSamples, 0),
		})
	}
	choices := []string{fmt.Sprintf("%s %s", stage, does[effect])}
	for _, name := range names {
		for _, e := range effects {
			if name != stage || e != effect {
				choices = append(choices, fmt.Sprintf("%s %s", name, does[e]))
			}
		}
	}
	rest := choices[1:]
	rng.Shuffle(len(rest), func(a, b int) { rest[a], rest[b] = rest[b], rest[a] })
	at := slices.Index(names[:], stage)
	q.Ask = "Which stage is it, and what does it do?"
	q.about = string(effect)
	q.why = []string{
		because("at %s the waveform is still as it should be, at %s it is not: what happens between them is %s", s.Points[at].Name,
			s.Points[at+1].Name, stage),
		because("what it does there is that it %s; what comes after it hands that on", does[effect]),
	}
	return q.choose(rng, choices[:mostChoices]...)
}

// What was tried from outside: what can it still be?

func (q *Quick) whatIsLeft(rng *rand.Rand) bool {
	p := pick(rng, pattern.All())
	s, err := p.Sheet(pattern.Chosen{})
	if err != nil || p.Name == pattern.Unknown {
		return false
	}
	plan, problems := s.Printed().Plan()
	if all := cells(plan); sheet.Blocked(problems) || len(all) < 2 || len(all) > 8 {
		return false
	}
	fault := Fault{Block: plan.Stages[rng.IntN(len(plan.Stages))].Name, Effect: standin.Dead}
	t := trace.Case{Bench: reading.Bench{Plan: plan, Route: reading.FirstRoute(plan)}}
	set, err := standin.New(plan, fault)
	if err != nil {
		return false
	}
	var log []reading.Reading
	some := map[bool]bool{}
	for _, x := range cells(plan) {
		word := quantity.OK
		if set.Concerns(x.route, standin.Stand{On: true}) {
			word = quantity.Nothing
		}
		some[word == quantity.OK] = true
		r := reading.Reading{ID: fmt.Sprint(len(log)), Point: x.exit, Quantity: sheet.AC, Mode: x.mode, Word: word, Text: string(word)}
		if !plan.Points[x.route.Points[0]].Source {
			r.Injected = &reading.Injection{At: x.entry}
		}
		log = append(log, r)
		says := map[quantity.Word]string{quantity.OK: "works", quantity.Nothing: "nothing comes"}[word]
		q.Facts = append(q.Facts, Fact{Name: listed(x), Due: "", Reads: says, Off: word != quantity.OK})
	}
	if !some[true] || !some[false] {
		return false
	}
	left := t.Matrix(log, nil).Left
	isLeft := func(name string) bool {
		return slices.ContainsFunc(left, func(x trace.Suspected) bool { return x.Name == name })
	}
	if !isLeft(fault.Block) {
		return false
	}
	choices := []string{fault.Block}
	for i := range plan.Stages {
		if name := plan.Stages[i].Name; !isLeft(name) && onAWay(plan, i) {
			choices = append(choices, name)
		}
	}
	rest := choices[1:]
	rng.Shuffle(len(rest), func(a, b int) { rest[a], rest[b] = rest[b], rest[a] })
	if len(choices) < mostChoices {
		return false
	}
	q.Ask = fmt.Sprintf("A %s, tried from outside. Which of these can it still be?", p.Name)
	q.about = "the matrix"
	for _, name := range choices[1:mostChoices] {
		q.why = append(q.why, clearedBy(plan, name, log))
	}
	q.why = append(q.why, because("%s is on every way that gives nothing, and on none that works", fault.Block))
	return q.choose(rng, choices[:mostChoices]...)
}

// clearedBy tells by what a stage is cleared.
func clearedBy(plan *sheet.Plan, name string, log []reading.Reading) string {
	through := func(c cell) bool {
		return slices.ContainsFunc(c.route.Stages, func(s int) bool { return plan.Stages[s].Name == name })
	}
	for i, c := range cells(plan) {
		if log[i].Word == quantity.OK && through(c) {
			return because("%s is cleared: %s goes through it, and works", name, listed(c))
		}
	}
	for i, c := range cells(plan) {
		if log[i].Word != quantity.OK && !through(c) {
			return because("%s is cleared: %s gives nothing, and does not go through it", name, listed(c))
		}
	}
	return because("%s is cleared: what it makes is needed for something that works", name)
}

func listed(x cell) string {
	text := x.entry + " to " + x.exit
	if x.mode != "" {
		text += ", " + x.mode
	}
	return text
}

// onAWay tells whether a stage is on a way that can be tried.
func onAWay(plan *sheet.Plan, stage int) bool {
	return slices.ContainsFunc(cells(plan), func(c cell) bool { return slices.Contains(c.route.Stages, stage) })
}
