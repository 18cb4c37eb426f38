package part

import (
	"math"

	"steptrace/core/quantity"
)

// chipKind judges a chip in its place by its pins: it is condemned where it has all that it needs, does nothing of what it
// should, and nothing behind it holds it down (the trade's four readings, and its fifth).
var chipKind = Check{
	Name:  "chip",
	Title: "Chip, by its pins",
	Caution: "With power on: one hand, a clip or a needle on one pin at a time, and nothing that can bridge two. Power off, " +
		"mains plug out, reservoirs shown empty before a leg is lifted. Follow local rules; work inside mains-fed sets belongs to " +
		"those licensed for it.",
	Fields: []Field{
		choice(
			"kind",
			"It is",
			"op-amp",
			"comparator",
			"regulator",
			"timer",
			"switch",
			"controlled amplifier",
			"power amplifier",
			"another",
		),
		signedVolts("upper", "At its upper supply", "of a regulator its input"),
		signedVolts("lower", "At its lower supply", "or ground pin: 0"),
		{Name: "due", Title: "Between them by the manual", Hint: "24 V", unit: quantity.Volt},
		choice("input", "What comes in", "as it should", "not as it should", "nothing", "needs none"),
		choice("control", "What steers it", "moves as it should", "does not move", "has none"),
		choice("output", "What goes out", asItShould, "too little", "nothing", "stuck", "too much"),
		choice("freed", "The same with its leg lifted", asItShould, "too little", "nothing", "stuck", "too much"),
		signedVolts("plus", "At its plus input", "op-amp, comparator"),
		signedVolts("minus", "At its minus input", "op-amp, comparator"),
		signedVolts("out", "At its output", "volts"),
		signedVolts("should", "That should be", "of a regulator what it is for"),
		signedVolts("alone", "With its leg lifted", "volts"),
		choice("heat", "It is", "cool", "warm", "too hot to touch"),
	},
	judge: chip,
}

const asItShould = "as it should"

const (
	// supplyShare is how much of a supply is enough, and leastSupply what no chip does with, in volts.
	supplyShare, leastSupply = 0.9, 2.5
	// steers is from which volts between its inputs an amplifier without feedback goes to one end: offsets of good ones end at
	// some 10 mV.
	steers = 0.03
	// groundOff is what a ground pin may have at most against the set's ground, in volts.
	groundOff = 0.1
	// regulatorDrop is what a regulator of three legs needs above its output, and heldShare how near it holds that (data sheets
	// give 5 %).
	regulatorDrop, heldShare = 2.0, 0.05
)

func signedVolts(name, title, hint string) Field {
	return Field{Name: name, Title: title, Hint: hint, unit: quantity.Volt, signed: true}
}

func chip(g *given) Verdict {
	out := verdict(Unsure, "nothing was read yet")
	if len(g.numbers) == 0 && g.texts["output"] == "" {
		out.surer("its supply pins first, then what comes in, what steers it, what goes out")
		return out
	}
	if !g.fed(&out) {
		return out
	}
	switch g.texts["kind"] {
	case "regulator":
		if g.regulator(&out) {
			return out
		}
	case "op-amp", "comparator", "power amplifier":
		if g.compares(&out) {
			return out
		}
	}
	g.fourReadings(&out)
	return out
}

// fed tells whether a chip has its supply; where it has not, it says so.
func (g *given) fed(out *Verdict) bool {
	upper, known := g.number("upper")
	if !known {
		return true // what is missing is asked for at the end
	}
	lower := g.or("lower", 0)
	between := math.Abs(upper - lower)
	due, stated := g.number("due")
	if ground := math.Abs(lower); g.texts["kind"] == "regulator" && ground > groundOff && ground < 1 {
		*out = verdict(Unsure, "its ground leg has %s against ground: that joint or track first", inVolts(ground))
		return false
	}
	switch {
	case between < leastSupply:
		*out = verdict(Unsure, "it has no supply (%s): not the chip, until it has", inVolts(between))
		out.surer("the way of its supply: fuse, resistor, regulator, joint")
		return false
	case stated && between < supplyShare*due:
		*out = verdict(
			Unsure,
			"its supply is low: %s of %s. Is that what feeds it, or does the chip draw too much?",
			inVolts(between),
			inVolts(due),
		)
		out.surer(
			"its supply with the chip's supply leg lifted: if that rises to what it should be, the chip or what hangs on it draws too much",
		)
		return false
	}
	out.because("it has its supply: %s", inVolts(between))
	return true
}

// regulator judges one of three legs by its volts; done is false where they do not tell.
func (g *given) regulator(out *Verdict) (done bool) {
	in, okIn := g.number("upper")
	gives, okOut := g.number("out")
	should, okShould := g.number("should")
	if !okIn || !okOut || !okShould || should == 0 {
		return false
	}
	sign := math.Copysign(1, should)
	in, gives, should = sign*in, sign*gives, sign*should
	alone, freed := g.number("alone")
	alone *= sign
	held := func(x float64) bool { return math.Abs(x-should) <= heldShare*should }
	why := out.Why
	switch {
	case held(gives):
		*out = verdict(Good, "it holds %s", inVolts(gives))
	case in < should+regulatorDrop:
		*out = verdict(
			Unsure,
			"%s come in, and it needs %s: too little for it to hold anything",
			inVolts(in),
			inVolts(should+regulatorDrop),
		)
		out.surer("what feeds it")
	case gives > should:
		*out = verdict(
			Bad,
			"it lets %s through where it should hold %s: condemned, unless its ground leg is off ground",
			inVolts(gives),
			inVolts(should),
		)
		out.surer("its ground leg against ground, which should show nothing")
		out.because("what hangs on this rail has had %s: look at it before power goes on again", inVolts(gives))
	case !freed:
		*out = verdict(
			Unsure,
			"%s where it should hold %s, with enough coming in: either it, or what it feeds pulls it down",
			inVolts(gives),
			inVolts(should),
		)
		out.surer("its output with that leg lifted")
	case held(alone):
		*out = verdict(Good, "alone it holds %s: what it feeds pulls it down", inVolts(alone))
		out.surer("what hangs on the rail: capacitors first, then the loads one by one")
	default:
		*out = verdict(Bad, "%s come in, and alone it gives %s instead of %s: condemned", inVolts(in), inVolts(alone), inVolts(should))
	}
	out.Why = append(why, out.Why...)
	return true
}

// compares judges what its inputs tell an amplifier or a comparator to do; done is false where they do not tell.
func (g *given) compares(out *Verdict) (done bool) {
	plus, okPlus := g.number("plus")
	minus, okMinus := g.number("minus")
	at, okOut := g.number("out")
	upper, okUpper := g.number("upper")
	if !okPlus || !okMinus || !okOut || !okUpper {
		return false
	}
	lower := g.or("lower", 0)
	d, middle := plus-minus, (upper+lower)/2
	why := out.Why
	collector := g.texts["kind"] == "comparator"
	switch {
	case math.Abs(d) < steers && collector:
		*out = verdict(
			Unsure,
			"its inputs are within %s of each other: too near to tell what it should do",
			quantity.Rounded(steers, quantity.Volt),
		)
		out.surer("its output with one input pulled by a resistor of 10 kΩ, first up, then down")
	case math.Abs(d) < steers && at > lower+0.5 && at < upper-0.5:
		*out = verdict(
			Good,
			"it holds its inputs alike (%s apart) with its output in between: its loop works, at rest",
			quantity.Rounded(math.Abs(d), quantity.Volt),
		)
		out.limit("at rest says nothing of what it does with a signal")
	case math.Abs(d) < steers:
		*out = verdict(Unsure, "its inputs are alike and its output is at one end")
		out.surer("both inputs again, to the millivolt, and what its output feeds back")
	case d > 0 == (at > middle):
		*out = verdict(
			Good,
			"it does what its inputs tell it (plus %s, minus %s): what is wrong is around it",
			inSigned(plus),
			inSigned(minus),
		)
		out.surer("what should feed its output back to its minus input, or what drives its inputs apart")
	case collector && d > 0 && g.texts["freed"] == "" && at < middle:
		*out = verdict(Unsure, "its output is down though plus is above minus: either it, or nothing pulls its output up")
		out.surer("the resistor from its output to its supply, then its output with that leg lifted and 10 kΩ to its supply")
	default:
		*out = verdict(
			Bad,
			"its output has %s though plus (%s) is %s minus (%s): condemned, unless something from outside holds it there",
			inSigned(at),
			inSigned(plus),
			map[bool]string{true: "above", false: "below"}[d > 0],
			inSigned(minus),
		)
		if g.texts["freed"] == "" {
			out.surer("its output with that leg lifted")
		} else if g.texts["freed"] == asItShould {
			*out = verdict(Good, "with its output's leg lifted it does as it should: something behind it holds it")
		}
	}
	out.Why = append(why, out.Why...)
	return true
}

func inSigned(x float64) string { return quantity.Rounded(x, quantity.Volt) }

// fourReadings judges by what has been found at its pins in words.
func (g *given) fourReadings(out *Verdict) {
	why := out.Why
	input, control, output, freed := g.texts["input"], g.texts["control"], g.texts["output"], g.texts["freed"]
	set := func(j Judgement, format string, args ...any) {
		*out = verdict(j, format, args...)
		out.Why = append(out.Why, why...)
	}
	_, supply := g.number("upper")
	switch {
	case output == "":
		set(Unsure, "what goes out was not read yet")
		out.surer("its output, with the signal there that should be there")
	case output == asItShould:
		set(Good, "it gives what it should")
	case input == "not as it should" || input == "nothing":
		set(Unsure, "what comes in is not right: not the chip, until it is")
		out.surer("the stage before it")
	case control == "does not move":
		set(Unsure, "what steers it does not move: it may rightly do nothing")
		out.surer("where its control comes from, on a good twin beside it where there is one")
	case freed == asItShould:
		set(Good, "with its leg lifted it gives what it should: what is behind it pulls it down")
		out.surer("the load: what hangs on its output, one after the other")
	default:
		missing := []struct {
			is  bool
			say string
		}{
			{!supply, "its supply and ground, at its own pins"}, {input == "", "what comes in, at its own pin"},
			{control == "", "what steers it, and whether that moves as far as on a good twin"},
			{freed == "", "its output with that leg lifted, or with the next stage's coupling open"},
		}
		sure := []string{}
		for _, m := range missing {
			if m.is {
				sure = append(sure, m.say)
			}
		}
		if len(sure) > 0 {
			set(Unsure, "its output has %s, but it is not condemned yet", output)
			out.Sure = sure
			break
		}
		set(Bad, "supply good, input good, control as it should, output %s, with nothing behind it: condemned", output)
		if g.texts["heat"] == "too hot to touch" {
			out.because("and it is too hot to touch")
		}
		out.surer("a socket with the new one, where there is room for it")
	}
	if g.texts["heat"] == "too hot to touch" && out.Judgement != Bad {
		out.worse(Unsure, "it is too hot to touch: does it draw too much, swing by itself, or drive a short?")
	}
}
