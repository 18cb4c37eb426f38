package training

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/sheet"
	"steptrace/core/standin"
)

// An owner tells what they notice, in their own words: not all of it, and nothing that is not so.

// sense is how something that comes out of a set is noticed.
type sense int

const (
	unnoticed sense = iota // by an owner; only instruments see it
	sound
	picture
	colour  // one of a picture's
	height  // what spreads a picture from top to bottom
	width   // from side to side, and what lights it
	holding // what makes it stand still
	light
	output // anything else that is used further on
)

// exitWords tell by the words in an exit's name, or in the note beside it, how it is noticed; the first that fits.
var exitWords = []struct {
	sense
	words []string
}{
	{height, []string{"field current", "field drive"}},
	{width, []string{"line current", "line drive"}},
	{holding, []string{"sync"}},
	{unnoticed, []string{"erase", "record head", "oscillator", "local", "reference", "clock", "carrier", "convergence"}},
	{colour, []string{"red ", "green ", "blue "}},
	{picture, []string{"picture", "screen", "video out"}},
	{light, []string{"light"}},
	{sound, []string{"phones", "speaker", "woofer", "tweeter", "line 1", "line 2", "sound"}},
	{output, []string{""}},
}

// exit is a way out of a set, as its owner calls it.
type exit struct {
	sense
	name string // of the point
	said string // "the left loudspeaker"
}

// exitOf is how an exit of a set is noticed, and what it is called.
func exitOf(plan *sheet.Plan, name string) exit {
	point, _ := plan.PointIndex(name)
	note := plan.Points[point].Note
	for _, x := range exitWords {
		for _, words := range []string{strings.ToLower(name) + " ", strings.ToLower(note) + " "} {
			if slices.ContainsFunc(x.words, func(w string) bool { return strings.Contains(words, w) }) {
				return exit{x.sense, name, calledOf(x.sense, name, note)}
			}
		}
	}
	return exit{output, name, calledOf(output, name, note)}
}

// called are what owners call exits, by how they are noticed and a word of their name; %s is the side, where there is one.
var called = []struct {
	sense sense
	word  string
	said  string
}{
	{picture, "", "the picture"},
	{height, "", "the picture"},
	{width, "", "the picture"},
	{holding, "", "the picture"},
	{light, "", "the light of the screen"},
	{sound, "phones", "the %sside of the headphones"},
	{sound, " speaker ", "the %sloudspeaker"},
	{sound, " sound ", "the sound"},
	{output, " recorded ", "what I record on the %sside"},
	{output, " out ", "the %soutput"},
	{output, " output ", "the %soutput"},
	{output, " load ", "the transmitter"},
}

// calledOf is what an owner calls an exit.
func calledOf(s sense, name, note string) string {
	if s == colour {
		return strings.ToLower(strings.Fields(name)[0])
	}
	side, lower := "", " "+strings.ToLower(name)+" "
	switch {
	case strings.HasPrefix(name, "L ") || strings.Contains(lower, " left "):
		side = "left "
	case strings.HasPrefix(name, "R ") || strings.Contains(lower, " right "):
		side = "right "
	}
	for _, c := range called {
		if c.sense != s || !strings.Contains(lower, c.word) ||
			strings.ContainsAny(name, "0123456789") { // one of several goes by its name
			continue
		}
		if strings.Contains(c.said, "%s") {
			return fmt.Sprintf(c.said, side)
		}
		return c.said
	}
	if note != "" && len(note) < len("the loudspeaker in the back") && s == sound {
		return "“" + name + "” (" + note + ")"
	}
	return "“" + name + "”"
}

// says are the ways to say how something is, %s being what comes out; several, so that not all owners speak alike.
var says = map[sense]map[As][]string{
	sound: {
		Silent:    {"Nothing comes from %s", "There is no sound at all from %s", "%s is dead"},
		Faint:     {"%s is far too quiet", "Only faint sound comes from %s"},
		Loud:      {"%s is much too loud"},
		Distorted: {"%s sounds distorted", "Everything from %s is harsh and distorted"},
		Humming:   {"%s hums", "There is a loud hum from %s"},
		Noisy:     {"%s hisses", "There is a lot of hiss from %s"},
		Crackling: {"%s crackles", "There is a crackle from %s"},
		Breaking:  {"%s cuts out every now and then", "%s keeps cutting out"},
		OffTune:   {"The pitch from %s is wrong"},
	},
	picture: {
		Silent:    {"There is no picture", "No picture any more"},
		Faint:     {"The picture is pale"},
		Loud:      {"The picture is far too strong"},
		Distorted: {"The picture is crushed, the bright parts are all alike"},
		Humming:   {"Dark bars stand in the picture"},
		Noisy:     {"There is a lot of snow in the picture"},
		Crackling: {"White flecks flash through the picture"},
		Breaking:  {"The picture cuts out every now and then"},
		OffTune:   {"The picture is all slanted lines"},
	},
	colour: {
		Silent:    {"All %s is missing from the picture"},
		Faint:     {"There is far too little %s in the picture"},
		Loud:      {"There is far too much %s in the picture"},
		Distorted: {"The bright %s in the picture is crushed"},
		Humming:   {"Dark bars stand in the %s of the picture"},
		Noisy:     {"The %s of the picture is full of snow"},
		Crackling: {"Flecks flash in the %s of the picture"},
		Breaking:  {"The %s of the picture cuts out every now and then"},
	},
	height: {
		Silent:    {"There is only one bright line across the screen"},
		Faint:     {"The picture is not tall enough"},
		Loud:      {"The picture is stretched from top to bottom"},
		Distorted: {"The picture is squeezed at the top or bottom"},
		Humming:   {"The picture bends"},
		Noisy:     {"The picture jitters up and down"},
		Crackling: {"The picture gives small jumps up and down"},
		Breaking:  {"The picture collapses to a line every now and then"},
		OffTune:   {"The picture rolls"},
	},
	width: {
		Silent:    {"The screen stays dark"},
		Faint:     {"The picture is not wide enough"},
		Loud:      {"The picture is stretched from side to side"},
		Distorted: {"The picture is squeezed at one side"},
		Humming:   {"The sides of the picture are wavy"},
		Noisy:     {"The sides of the picture are ragged"},
		Crackling: {"Small tears run through the sides of the picture"},
		Breaking:  {"The screen goes dark every now and then"},
		OffTune:   {"The picture is torn into slanted lines"},
	},
	holding: {
		Silent:    {"The picture does not hold still"},
		Faint:     {"The picture hardly holds still"},
		Distorted: {"The picture tears"},
		Humming:   {"The picture weaves from side to side"},
		Noisy:     {"The picture twitches"},
		Crackling: {"The picture gives small jumps to the side"},
		Breaking:  {"The picture slips every now and then"},
	},
	light: {
		Silent:    {"%s is out"},
		Faint:     {"%s is far too weak"},
		Breaking:  {"%s goes out every now and then"},
		Noisy:     {"%s flickers"},
		Crackling: {"%s flashes"},
		Humming:   {"%s flickers"},
	},
	output: {
		Silent:    {"Nothing comes out of %s", "%s is dead"},
		Faint:     {"%s is far too weak"},
		Loud:      {"%s is far too strong"},
		Distorted: {"%s is distorted"},
		Humming:   {"%s hums", "There is hum on %s"},
		Noisy:     {"%s is noisy"},
		Crackling: {"%s crackles", "There is a crackle on %s"},
		Breaking:  {"%s cuts out every now and then"},
		OffTune:   {"%s is off in frequency"},
	},
}

// claim is one thing that an owner says: that it is so at an exit, in some modes and from some entries; all of them where none is named.
type claim struct {
	exit
	as             As
	modes, entries []string
}

// Told is what the owner of a set says.
type Told struct {
	Complaint string `json:"complaint"`
	Shows     string `json:"shows,omitempty"` // what it does when it is first switched on, for the intake
}

// claims are all that could be said of what a set shows, what concerns most of it first.
func claims(plan *sheet.Plan, shown []Shown) []claim {
	var out []claim
	for _, s := range shown {
		x := exitOf(plan, s.Exit)
		if s.As == Fine || x.sense == unnoticed || len(says[x.sense][s.As]) == 0 {
			continue
		}
		i := slices.IndexFunc(out, func(c claim) bool { return c.name == s.Exit && c.as == s.As })
		if i < 0 {
			i = len(out)
			out = append(out, claim{exit: x, as: s.As})
		}
		out[i].modes = append(out[i].modes, s.Mode)
		out[i].entries = append(out[i].entries, s.Entry)
	}
	count := func(c claim) int { return len(c.modes) }
	slices.SortStableFunc(out, func(a, b claim) int { return count(b) - count(a) })
	for i := range out {
		out[i].narrow(shown)
	}
	return out
}

// narrow leaves of the modes and entries of a claim what has to be said: nothing, where it is so in all there are.
func (c *claim) narrow(shown []Shown) {
	all := 0
	var modes []string // in which it is so from every entry
	for _, s := range shown {
		if s.Exit != c.name {
			continue
		}
		all++
		if !slices.Contains(modes, s.Mode) && !slices.ContainsFunc(shown, func(x Shown) bool {
			return x.Exit == c.name && x.Mode == s.Mode && x.As != c.as
		}) {
			modes = append(modes, s.Mode)
		}
	}
	switch {
	case len(c.modes) == all:
		c.modes, c.entries = nil, nil
	case len(modes) > 0:
		c.modes, c.entries = modes, nil
	default:
		c.modes, c.entries = c.modes[:1], c.entries[:1]
	}
}

// words says it.
func (c *claim) words(rng *rand.Rand) string {
	ways := says[c.sense][c.as]
	text := ways[rng.IntN(len(ways))]
	if strings.Contains(text, "%s") {
		text = fmt.Sprintf(text, c.said)
	}
	if len(c.entries) > 0 {
		text += " with what comes in at " + c.entries[0]
	}
	if len(c.modes) > 0 && c.modes[0] != "" {
		text += " on " + strings.Join(c.modes, " and on ")
	}
	return mend.Sentence(text)
}

// comesAndGoes is what is said besides of a fault that is not there all the time.
var comesAndGoes = map[standin.When][]string{
	standin.Warm:  {"Cold it is all right; it begins after a while.", "For the first quarter of an hour nothing is wrong with it."},
	standin.Moved: {"A knock changes it, sometimes.", "It comes and goes as it likes."},
}

// beenOpen is what is said besides of what somebody's hands did.
var beenOpen = []string{"It has been so since somebody had it open.", "Someone had it apart before, and since then it is like that."}

// opinions are what owners say besides who have thought about it: it is theirs to say, and leads nowhere.
var opinions = []string{
	"The neighbour says that it is surely a fuse.", "I think that it began when we moved it.",
	"It was never quite as it used to be, anyway.", "Somebody looked at it before, and found nothing.",
}

// mostTold is how many things an owner tells, by how hard a case is.
var mostTold = map[Level]int{First: 2, Usual: 2, Long: 1, Hard: 1}

// tell has the owner tell of what a set shows; false where there is nothing to notice.
func (c *Case) tell(plan *sheet.Plan, shown []Shown, rng *rand.Rand) bool {
	all := claims(plan, shown)
	if len(all) == 0 {
		return false
	}
	var text []string
	for i := range all[:min(len(all), mostTold[c.Level])] {
		if words := all[i].words(rng); !slices.Contains(text, words) {
			text = append(text, words)
		}
	}
	for when, says := range comesAndGoes {
		if slices.ContainsFunc(c.Faults, func(f Fault) bool { return f.When == when }) {
			text = append(text, pick(rng, says))
		}
	}
	if c.Kind == InLead || c.Kind == ByOther {
		text = append(text, pick(rng, beenOpen))
	}
	if c.Level == Hard {
		text = append(text, pick(rng, opinions))
	}
	c.Told = Told{Complaint: strings.Join(text, " ")}
	return true
}
