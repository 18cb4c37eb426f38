package training_test

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/pattern"
	"steptrace/core/sheet"
	"steptrace/core/training"
)

// Quick ones of every kind, each solved anew from what is shown alone, by sums and rules that are not the program's: there is one right
// answer, and it is the one that is called right.
func TestQuickOnesHaveOneRightAnswer(t *testing.T) {
	t.Parallel()
	solve := map[training.QuickKind]func(q *training.Quick) []int{
		training.WhichPart: solvePart, training.WhichStage: solveStage, training.WhatIsLeft: solveLeft, training.WhichSupply: solveSupply,
		training.WhatIsIt: solveTransistor, training.WhatFits: solveFit,
	}
	each := cases(t, 600) / len(training.QuickKinds)
	for _, kind := range training.QuickKinds {
		places, solved := [4]int{}, 0
		for seed := range each {
			q, err := training.MakeQuick(kind, uint32(seed))
			if err != nil {
				t.Fatalf("%s, seed %d: %v", kind, seed, err)
			}
			right := q.Solved().Right
			places[right]++
			if len(q.Choices) != 4 || len(q.Solved().Why) == 0 || q.Ask == "" {
				t.Fatalf("%s, seed %d: %d choices, %q", kind, seed, len(q.Choices), q.Ask)
			}
			got := solve[kind](q)
			if got == nil { // a circuit with kinds of part that the small solver here does not know
				continue
			}
			solved++
			if !slices.Equal(got, []int{right}) {
				t.Errorf("%s, seed %d: %q is called right, solved: %v of %q; %+v", kind, seed, q.Choices[right], got, q.Choices, q.Facts)
			}
		}
		const enough = 80 // to see where the right one stands
		if each >= enough && slices.Min(places[:]) < each/8 || solved < each/3 {
			t.Errorf("%s: the right one stands at %v, %d solved", kind, places, solved)
		}
		t.Logf("%s: %d of %d solved by other sums", kind, solved, each)
	}
	if _, err := training.MakeQuick("which wire", 1); err == nil {
		t.Error("an unknown kind is asked")
	}
}

// volts reads "8.52 V", "-228 mV".
func figureOf(text string) float64 {
	fields := strings.Fields(text)
	x, _ := strconv.ParseFloat(fields[0], 64)
	if len(fields) > 1 {
		switch fields[1][0] {
		case 'm':
			x /= 1000
		case 'k':
			x *= 1000
		}
	}
	return x
}

// solveSupply tells by textbook rules: what is off says what it is.
func solveSupply(q *training.Quick) []int {
	off := map[string]bool{}
	for _, f := range q.Facts {
		off[f.Name] = math.Abs(figureOf(f.Reads)/figureOf(f.Due)-1) > 0.1
	}
	word := "capacitance"
	switch {
	case off["its frequency"]:
		word = "one side"
	case off["current drawn"]:
		word = "too much"
	case !off["ripple"]:
		word = "too little"
	}
	return having(q.Choices, word)
}

func having(choices []string, words ...string) []int {
	out := []int{}
	for i, c := range choices {
		if !slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(c, w) }) {
			out = append(out, i)
		}
	}
	return out
}

// solveTransistor counts which legs conduct.
func solveTransistor(q *training.Quick) []int {
	reads := map[[2]int]float64{}
	shorted, pairs := false, 0
	for _, f := range q.Facts {
		var a, b int
		if _, err := fmt.Sscanf(f.Name, "red on %d, black on %d", &a, &b); err != nil {
			return []int{}
		}
		if f.Reads != "open" {
			v := figureOf(f.Reads)
			reads[[2]int{a, b}] = v
			shorted = shorted || v < 0.1
			pairs++
		}
	}
	switch {
	case shorted:
		return having(q.Choices, "shorted")
	case pairs == 1:
		return having(q.Choices, "one junction")
	}
	for leg := 1; leg <= 3; leg++ {
		as, bs := 0, 0 // with red on it, with black on it
		for pair := range reads {
			if pair[0] == leg {
				as++
			}
			if pair[1] == leg {
				bs++
			}
		}
		if as == 2 {
			return having(q.Choices, "NPN", fmt.Sprintf("leg %d", leg), "good")
		}
		if bs == 2 {
			return having(q.Choices, "PNP", fmt.Sprintf("leg %d", leg), "good")
		}
	}
	return []int{}
}

// solveFit keeps to the plain rule: volts with a quarter to spare, and no less than four fifths of the value.
func solveFit(q *training.Quick) []int {
	value := func(text string) (farads, volts float64) {
		fields := strings.Fields(text)
		farads, _ = strconv.ParseFloat(fields[0], 64)
		volts, _ = strconv.ParseFloat(fields[2], 64)
		if fields[1] == "mF" {
			farads *= 1000
		}
		return farads, volts
	}
	old, _ := value(q.Facts[0].Reads)
	across := figureOf(q.Facts[2].Reads)
	out := []int{}
	for i, c := range q.Choices {
		if farads, volts := value(c); farads >= 0.8*old && volts >= 1.25*across {
			out = append(out, i)
		}
	}
	return out
}

// solveStage looks for the first place that is off, and at how: by level, by what of it is at 100 Hz, by how steep it is, by its top.
func solveStage(q *training.Quick) []int {
	rms := func(x []float64) float64 {
		sum := 0.0
		for _, v := range x {
			sum += v * v
		}
		return math.Sqrt(sum / float64(len(x)))
	}
	for i, tr := range q.Traces {
		n := len(tr.Is)
		rest := make([]float64, n)
		for k := range rest {
			rest[k] = tr.Is[k] - tr.Good[k]
		}
		if i == 0 || rms(rest) < 0.05*rms(tr.Good) {
			continue
		}
		re, im, steep := 0.0, 0.0, 0.0
		for k, v := range rest {
			at := 2 * math.Pi * 100 * tr.Seconds * float64(k) / float64(n)
			re, im = re+v*math.Cos(at), im+v*math.Sin(at)
			if k > 0 {
				steep += math.Abs(rest[k] - rest[k-1])
			}
		}
		hum := math.Hypot(re, im) * math.Sqrt2 / float64(n) / rms(rest)
		_, stage, _ := strings.Cut(tr.Name, "behind the ")
		does := "hisses"
		switch {
		case rms(tr.Is) < 0.01*rms(tr.Good):
			does = "passes nothing"
		case hum > 0.8:
			does = "hum"
		case slices.Max(tr.Is) < 0.7*slices.Max(tr.Good) && slices.Min(tr.Is) < 0.8*slices.Min(tr.Good):
			does = "clips"
		case slices.Max(tr.Is) < 0.5*slices.Max(tr.Good):
			does = "too little"
		}
		return having(q.Choices, stage, does)
	}
	return []int{}
}

// solveLeft goes along the ways of the sheet by itself: a stage is left that is on every way that gives nothing, or is needed on each of
// them, and is on none that works.
func solveLeft(q *training.Quick) []int {
	name, _, _ := strings.Cut(strings.TrimPrefix(q.Ask, "A "), ", tried")
	p, ok := pattern.ByName(name)
	if !ok {
		return []int{}
	}
	s, err := p.Sheet(pattern.Chosen{})
	if err != nil {
		return []int{}
	}
	plan, _ := s.Plan()
	out := []int{}
	for i, choice := range q.Choices {
		left := true
		for _, f := range q.Facts {
			all, every := 0, 0
			for k := range plan.Routes {
				r := &plan.Routes[k]
				title := plan.EntryName(r) + " to " + plan.Points[r.Points[len(r.Points)-1]].Name
				if r.Mode != "" {
					title += ", " + r.Mode
				}
				if title != f.Name {
					continue
				}
				if all++; needs(plan, r, choice) {
					every++
				}
			}
			if works := f.Reads == "works"; works && every == all || !works && every == 0 {
				left = false
			}
		}
		if left {
			out = append(out, i)
		}
	}
	return out
}

// needs tells whether a way goes through a stage, or through one that needs its signal.
func needs(plan *sheet.Plan, r *sheet.Route, name string) bool {
	seen := map[int]bool{}
	var need func(stage int) bool
	need = func(stage int) bool {
		if seen[stage] {
			return false
		}
		seen[stage] = true
		if plan.Stages[stage].Name == name {
			return true
		}
		points := slices.Clone(plan.Stages[stage].Signals)
		for _, line := range plan.Stages[stage].Lines {
			for ; line >= 0 && line < len(plan.Rails); line = plan.Rails[line].Parent {
				points = append(points, plan.Rails[line].Signal) // a rail that is made of a stage's pulses
			}
		}
		if from := plan.Stages[stage].From; !slices.Contains(r.Stages, stage) {
			points = append(points, from) // what makes it needs what comes before
		}
		for _, point := range points {
			for k := range plan.Stages {
				if point >= 0 && plan.Stages[k].To == point && need(k) {
					return true
				}
			}
		}
		return false
	}
	return slices.ContainsFunc(r.Stages, need)
}

// solvePart puts each fault that is offered into the circuit, solves it by a small solver of its own, and keeps those that give what was
// read; nil for circuits with kinds of part that it does not know.
func solvePart(q *training.Quick) []int {
	var parts []circuit.Part
	for _, f := range circuit.Families() {
		if f.Name == q.Circuit.Stage {
			parts = f.Parts
		}
	}
	off := make([]float64, len(q.Choices)) // the worst node, in what can be told apart
	for i, choice := range q.Choices {
		name, what, _ := strings.Cut(choice, " ")
		volts, ok := atRest(parts, name, what)
		if !ok {
			return nil
		}
		for _, n := range q.Circuit.Nodes {
			off[i] = math.Max(off[i], math.Abs(volts[n.Node]-*n.Measured)/math.Max(0.25, 0.12*math.Abs(*n.Measured)))
		}
	}
	// Its transistors are no others than textbooks', so that it does not hit the volts themselves; but one fits far better than the others.
	out := []int{}
	for i := range off {
		if off[i] <= 1.5*slices.Min(off) {
			out = append(out, i)
		}
	}
	return out
}
