package pattern

import (
	"slices"
	"strings"
	"testing"

	"steptrace/core/sheet"
)

// combinations lists all that can be chosen of a pattern; of a number its ends and the usual one.
func combinations(p *Pattern) []Chosen {
	out := []Chosen{{}}
	for _, o := range p.Options {
		choices := o.Choices
		if o.To > 0 {
			choices = slices.Compact(slices.Sorted(slices.Values([]string{o.Choices[0], o.Usual, o.Choices[len(o.Choices)-1]})))
		}
		var next []Chosen
		for _, c := range out {
			for _, choice := range choices {
				more := Chosen{o.Key: choice}
				for k, v := range c {
					more[k] = v
				}
				next = append(next, more)
			}
		}
		out = next
	}
	return out
}

// Every pattern, whatever is chosen of it, is a sheet that can be traced by, with nothing doubtful
// but what it says itself, and all of its values are usual ones.
func TestEveryPatternIsAWholeSheet(t *testing.T) {
	for _, p := range All() {
		for _, chosen := range combinations(p) {
			s, err := p.Sheet(chosen)
			if err != nil {
				t.Fatal(err)
			}
			plan, problems := s.Plan()
			for _, x := range problems {
				t.Errorf("%s %v: %s: %s", p.Name, chosen, x.Where, x.Message)
			}
			if !plan.Traceable() || len(plan.Routes) == 0 {
				t.Errorf("%s %v: no way for a signal", p.Name, chosen)
			}
			for k := range plan.Stages {
				onRoute := slices.ContainsFunc(plan.Routes, func(r sheet.Route) bool { return slices.Contains(r.Stages, k) })
				if !onRoute && !plan.Stages[k].Returns() {
					t.Errorf("%s %v: no route passes %s", p.Name, chosen, plan.Stages[k].Name)
				}
			}
			for i := range plan.Points {
				for _, e := range plan.Points[i].Expected {
					if e.Source != sheet.Usual {
						t.Errorf("%s: %s at %s is from %q", p.Name, e.Quantity, plan.Points[i].Name, e.Source)
					}
				}
			}
			if t.Failed() {
				return
			}
		}
	}
}

// What is typed of a set finds its pattern, with the options that the words speak of.
func TestWordsFindThePattern(t *testing.T) {
	for words, want := range map[string]string{
		"stereo amp":           "stereo amplifier",
		"integrated amplifier": "stereo amplifier",
		"phono preamp":         "phono stage",
		"mono integrated":      "stereo amplifier",
		"receiver, no am":      "receiver with tuner",
		"pa amp dead":          "power amplifier",
	} {
		found := Nearest(words, 3)
		if len(found) == 0 || found[0].Pattern.Name != want {
			t.Errorf("%q finds %v", words, found)
		}
	}
	if found := Nearest("mono integrated", 1); found[0].Chosen["channels"] != "one" {
		t.Errorf("mono chooses %v", found[0].Chosen)
	}
	if found := Nearest("plastic thing with knobs", 3); len(found) != 0 {
		t.Errorf("words that tell nothing find %v", found)
	}
	if found := Nearest("zzz qqq", 3); len(found) != 0 {
		t.Errorf("nonsense finds %v", found)
	}
}

// A pattern's file that is not right is refused with its line.
func TestBrokenPatternsAreRefused(t *testing.T) {
	const head = "pattern,x\noption,relay,Relay,yes;no\neach,side,relay,yes,s=L\n"
	const table = "each,when,point,stage\n"
	for text, want := range map[string]string{
		"":                               "begins with its name",
		"pattern,x\n":                    "has a table",
		"colour,red\n":                   "nothing that stands before",
		head + table + "arm,,p,\n":       `line 5: nothing is called "arm"`,
		head + table + ",door=open,p,\n": `line 5: there is no option "door"`,
		head + table + ",relay=may,p,\n": `line 5: "may" is no choice`,
		head + table + ",relay,p,\n":     "no condition",
		head + table + ",,p,s,more\n":    "3 cells where the heading has 2",
		head + table + ",,p *arm,s\n":    `nothing is called "arm"`,
		"option,relay\n":                 "an option has",
		"option,n,N,1..3,7\n":            "not among its choices",
		"each,side,door,yes,s=L\n":       `no option "door"`,
		head + "each,side,relay,may,s\n": `no choice of relay`,
		head + "each,side,relay,yes,s\n": "write name=text",
		"choose,relay,yes,with\n":        "no option relay",
	} {
		_, err := Read([]byte(text))
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v, want %q", text, err, want)
		}
	}
	p, err := Read([]byte(head + table + "side,,{t} p,s\n,,q,s\n"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := p.Sheet(nil); err == nil || !strings.Contains(err.Error(), "nothing says what {t} is") {
		t.Errorf("an unknown place: %v", err)
	}
	for _, chosen := range []Chosen{{"door": "open"}, {"relay": "perhaps"}} {
		if _, err := p.Sheet(chosen); err == nil {
			t.Errorf("%v was taken", chosen)
		}
	}
}

// Every option that is asked makes a difference.
func TestEveryOptionMatters(t *testing.T) {
	for _, p := range All() {
		for _, o := range p.Options {
			made := map[string]bool{}
			for _, choice := range o.Choices {
				s, err := p.Sheet(Chosen{o.Key: choice})
				if err != nil {
					t.Fatal(err)
				}
				made[string(s.WriteJSON())] = true
			}
			if len(made) != len(o.Choices) {
				t.Errorf("%s: %q makes %d sheets of %d choices", p.Name, o.Ask, len(made), len(o.Choices))
			}
		}
	}
}

// A maker, a model or a nickname names a set; what kind of set it is does not, though a name has it too.
func TestWordsThatNameASet(t *testing.T) {
	for _, x := range []struct {
		words, name string
		want        bool
	}{
		{"ostrel", "Ostrel RT-7", true},
		{"the ost", "Ostrel RT-7", true},
		{"rt 7", "Ostrel RT-7", true},
		{"stereo amplifier ostrel", "Ostrel RT-7", true},
		{"stereo amp", "Ostrel stereo amplifier", false},
		{"cassette", "Ostrel cassette deck", false},
		{"marrow", "Ostrel RT-7", false},
		{"", "Ostrel RT-7", false},
	} {
		if got := Names(x.words, x.name); got != x.want {
			t.Errorf("%q of %q: %t", x.words, x.name, got)
		}
	}
}
