package replace

import (
	"slices"
	"strings"
	"unicode"

	"steptrace/core/repair"
)

// Not all that is condemned is a part: a crack, a track that came loose, a leak, a plug. Such work has its own steps, and its own
// place in the order.
//
// Source: the trade; IPC-7721 names its procedures for boards and conductors by the same damages.

// mending is one sort of such work: the words that it begins with, what it counts as in the record, what comes before it, and its
// steps.
type mending struct {
	words []string
	did   repair.Did
	early bool // before parts come out: what eats the board goes first
	mind  string
	steps []string
	// otherwise are the steps by another school, where the trade differs.
	otherwise []string
	school    School
}

var mendings = []mending{
	{
		words: []string{"crack", "cracked board", "broken board"}, did: repair.Mended,
		mind: "Board dust is glass: a mask, and wiped up wet.",
		steps: []string{
			"both ends of the crack found under the glass, and stopped with a small hole where no track runs",
			"its faces cleaned, glued with epoxy, held flat until it is hard",
			"coating scraped off every cut track on both sides until the copper is bright, and tinned",
			"a thin wire over each of them, soldered a finger's width from the crack on either side",
			"each track measured across (0.1 Ω and no more) and against its neighbours (open), again while the board is flexed a little",
		},
	},
	{
		words: []string{"lifted track", "track", "burnt track", "copper"}, did: repair.Mended,
		mind: "A track burns by what it carried: that cause is found before power.",
		steps: []string{
			"what is loose or charred cut away to sound copper and clean board; charred board conducts, and is cut out",
			"the ends bared and tinned; a wire of the track's width, laid as it ran, soldered to both",
			"glued down with epoxy, and measured from end to end (0.1 Ω and no more)",
		},
	},
	{
		words: []string{"lifted pad", "pad"}, did: repair.Mended,
		steps: []string{
			"the pad laid back and glued, or cut off where it is torn",
			"the leg bent to the bared track it belongs to, or joined to it by a wire; no pull on it when it cools",
			"measured from the leg to the next part on that track",
		},
	},
	{
		words: []string{"solder bridge", "bridged joint"}, did: repair.PutRight,
		steps: []string{
			"the bridge taken off with braid and flux, and looked at under the glass",
			"ohms between the two places, set off: what the circuit has there, and not nothing",
		},
	},
	{
		words: []string{"reversed", "wrong way round", "fitted wrongly"}, did: repair.PutRight,
		mind: "A capacitor that stood the wrong way round is renewed, not turned; it may burst when power comes.",
		steps: []string{
			"how it stands pictured; the drawing, the print on the board and a good twin asked which way is right: prints err too",
			"out and in the right way round, or renewed where it had reversed volts on it",
			"what it may have taken along measured: what it fed, and what fed it",
		},
	},
	{
		words: []string{"missing", "not fitted", "left out"}, did: repair.PutRight,
		mind: "Many a place is left empty on purpose: for another market, or since a later drawing has it so.",
		steps: []string{
			"its pads looked at under the glass: solder that was never pierced, or torn out; a good twin and the latest drawing asked",
			"what belongs there fitted, measured before, polarity by the drawing and by where the tracks lead, not by the print alone",
			"the stage read with it and before: kept with the model where it was the factory's slip",
		},
	},
	{
		words: []string{"wrong part", "wrong value", "other value"}, did: repair.PutRight,
		mind: "A larger fuse or a resistor of another kind hides what blew the first: that is found before power.",
		steps: []string{
			"what is there read by itself, and what belongs there by the drawing, a good twin and the circuit's own sums",
			"what belongs there fitted; those beside it looked at too, since who fitted one wrongly fitted several",
			"the stage read with it: what was made up for it elsewhere (a control at its end) set back",
		},
	},
	{
		words: []string{"wrong print", "misprint", "print errs"}, did: repair.PutRight,
		steps: []string{
			"where the tracks lead told by ohms: plus of a supply, the line of a bar; a picture of it",
			"parts placed by the tracks, the print corrected with a pen that lasts",
			"kept with the model: the next one has it too",
		},
	},
	{
		words: []string{"cracked joint", "joint", "joints", "dry joint"}, did: repair.Resoldered,
		steps: []string{
			"old solder off the joint, leg and pad cleaned; fresh solder with flux until it has flown around the leg",
			"those beside it of like weight and heat too: they are as old",
			"a wiggle at the part, and a look under the glass when it is cold",
		},
	},
	{
		words: []string{"hot chip", "chip joints"}, did: repair.Resoldered,
		mind: "A hot chip and its sink burn a hand minutes later; never a whole board in an oven.",
		steps: []string{
			"board held where it is pressed, flux along the joints; each leg touched; one of balls warmed from below and above",
			"its sink and paste renewed, screws tight evenly",
			"run for as long as it took to fail before, cold and warm; where it comes again, the board is changed",
		},
		school: WholeBoard,
		otherwise: []string{
			"the same board, or one that the record or its maker confirms: number, revision and plugs compared, one by one",
			"what is kept in the old one written down first: firmware, adjustments, its service menu; carried over, or its memory chip " +
				"moved",
			"board in with fresh pads or paste on every sink, screws crosswise, cables as on the picture",
			"adjustments that go with it made, and run as long as the old one took to fail",
		},
	},
	{
		words: []string{"connector", "plug", "socket"}, did: repair.Cleaned,
		mind: "No abrasive on gold or tin: what shines then is the metal beneath, and tarnishes at once.",
		steps: []string{
			"unplugged, contacts looked at: green, dark, splayed; its joints on the board looked at too",
			"cleaned with isopropanol and a brush, no oil in it; springs bent back by a needle, in and out some ten times",
			"measured across (0.1 Ω and no more) while it is wiggled",
		},
	},
	{
		words: []string{"switch contacts", "contacts", "slider", "noisy control"}, did: repair.Cleaned,
		mind: "No contact spray into sealed relays, nor near high volts; spray burns until it has gone off.",
		steps: []string{
			"a cleaner for contacts, little of it, worked through its travel some twenty times; what runs out wiped off",
			"sealed ones and carbon tracks without oil; silver without sanding",
			"read over its whole travel: every position below 0.5 Ω, no dead spot",
		},
	},
	{
		words: []string{"electrolyte leak", "leaked capacitor", "electrolyte"}, did: repair.Cleaned, early: true,
		mind: "Gloves and glasses: what leaked burns skin and eyes.",
		steps: []string{
			"the capacitor out first; what leaked taken up with isopropanol and cotton, as far as it crept under other parts",
			"what is left is alkaline where it is green or white: a few drops of vinegar or citric acid until nothing foams, then water",
			"rinsed with distilled water, then isopropanol, dried warm; dark solder taken off and renewed, it takes no fresh one",
			"tracks and sleeves in reach measured from end to end: it eats them from inside",
		},
	},
	{
		words: []string{"battery leak", "battery"}, did: repair.Cleaned, early: true,
		mind: "Gloves and glasses: caustic. A lithium cell that is swollen goes out into the open, not into the bin.",
		steps: []string{
			"battery out; crumbs off dry with a brush, not blown",
			"alkaline cells: vinegar or citric acid until nothing foams; acid ones: baking soda in water until nothing foams; then much " +
				"distilled water",
			"isopropanol, dried warm; springs and tracks bared, tinned or renewed",
			"tracks and sleeves in reach measured from end to end",
		},
	},
	{
		words: []string{"coolant leak", "cooling fluid", "coolant", "fluid"}, did: repair.Cleaned, early: true,
		mind: "It conducts and corrodes, glycol is poison: gloves, no drain; no high volts on anything it wetted.",
		steps: []string{
			"where it came from found and shut: seal, hose, crack",
			"what it wetted rinsed with distilled water, then isopropanol, and dried warm for hours, under parts and in plugs too",
			"insulation of what it wetted measured before power: above 10 MΩ against ground",
		},
	},
	{
		words: []string{"glue", "adhesive"}, did: repair.Cleaned, early: true,
		mind: "Old glue that has turned brown conducts, and eats the legs under it.",
		steps: []string{
			"softened with isopropanol or warm air, and scraped off with wood, not steel",
			"legs and tracks under it looked at, green ones renewed",
			"ohms between the places it joined: above 10 MΩ, or what the circuit has",
		},
	},
	{
		words: []string{"coating", "lacquer"}, did: repair.Cleaned,
		mind: "Fumes of lacquer under an iron: scrape first, and an open window.",
		steps: []string{
			"scraped off where it is soldered, no more; what does not yield softened with the solvent of its kind on cotton",
			"after proving, and not before: the place cleaned of flux and coated again",
		},
	},
}

// to is what is to be done: "mended", "cleaned".
func (m *mending) to() string {
	if _, last, ok := strings.Cut(string(m.did), " "); ok { // "track mended", "wiring put right"
		return last
	}
	return string(m.did)
}

// MendingWords are what such work is called, for a person to read.
func MendingWords() string {
	var out []string
	for i := range mendings {
		out = append(out, mendings[i].words[0])
	}
	return strings.Join(out, ", ")
}

// mendingOf finds the work that a text begins with the words of; nil where it is none.
func mendingOf(typed string) *mending {
	apart := func(r rune) bool { return unicode.IsSpace(r) || strings.ContainsRune(",;:.()", r) }
	words := strings.FieldsFunc(strings.ToLower(typed), apart)
	said := " " + strings.Join(words, " ") + " "
	var found *mending
	long := 0
	for i := range mendings {
		for _, w := range mendings[i].words {
			if strings.HasPrefix(said, " "+w+" ") && len(w) > long {
				found, long = &mendings[i], len(w)
			}
		}
	}
	return found
}

// mended tells whether such work on something was noted as a repair.
func (a *About) mended(p *Part, m *mending) bool {
	return slices.ContainsFunc(a.Repairs, func(e repair.Entry) bool {
		return e.Repair != nil && !e.Struck && e.Repair.Did == m.did &&
			slices.ContainsFunc(e.Repair.Parts, func(x repair.Part) bool { return x.Name == p.Part })
	})
}

// mendingSteps are those of one, each by itself.
func (f *fitted) mendingSteps() []Step {
	p, m := f.subject, f.before.mending
	texts := m.steps
	if m.school != "" && f.of.has(m.school) {
		texts = m.otherwise
	}
	out := make([]Step, 0, len(texts))
	for i, text := range texts {
		s := Step{Key: "mend " + string(rune('a'+i)) + " " + p.Part, Part: p.Part, Text: p.Part + ": " + text}
		if i == 0 {
			s.Caution = m.mind
		}
		out = append(out, s)
	}
	out[len(out)-1].Fits = true
	return out
}
