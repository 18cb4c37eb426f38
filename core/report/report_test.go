package report

import (
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/repair"
	"steptrace/core/shop"
)

// Every usual failure of every kind of part in the usual circuits has plain words; none of the trade's words is left.
func TestEveryFailureHasPlainWords(t *testing.T) {
	seen := map[string]bool{}
	for _, family := range circuit.Families() {
		parts := family.Between("in", "out")
		c := circuit.Circuit{Parts: parts}
		net, problems := c.Read()
		if net == nil {
			t.Fatal(problems)
		}
		for _, f := range net.Faults() {
			i := slices.IndexFunc(parts, func(p circuit.Part) bool { return p.Name == f.Part })
			kind := circuit.Kind("")
			if i >= 0 {
				kind = parts[i].Kind
			}
			if says := troubleOf(f.What); strings.Contains(says, f.What) {
				t.Errorf("%s: %q has no plain words", kind, f.What)
			}
			if x := thingOf(f.Part, kind); kind != "" && x.name == "a part" {
				t.Errorf("a %s is nothing in plain words", kind)
			}
			seen[f.What] = true
		}
	}
	if len(seen) < 30 {
		t.Errorf("%d failures only", len(seen))
	}
}

func TestPartsByTheirLetters(t *testing.T) {
	for name, want := range map[string]string{"C61": "a capacitor", "TR4": "a transistor", "IC301": "a chip", "F1": "a fuse",
		"VR2":     "a control",
		"strip 3": "a part", "Q7b": "a transistor"} {
		if got := thingOf(name, "").name; got != want {
			t.Errorf("%s: %s, want %s", name, got, want)
		}
	}
}

func whole() *Facts {
	day := time.Date(2026, 11, 10, 15, 0, 0, 0, time.UTC)
	return &Facts{
		Complaint: "Right side is dead", Finished: day,
		Failures: []Failure{{"output, right", "C7", circuit.Capacitor, "leaky"}, {"", "Q3", "", ""}, {"mains switch", "", "", ""}},
		Repairs: []repair.Repair{
			{Did: repair.Replaced, Stage: "output, right", Parts: []repair.Part{
				{Name: "C7", Found: repair.Bad, Fitted: "100 µF"}, {Name: "C8", Found: repair.Precaution}}},
			{Did: repair.Cleaned, Stage: "mains switch"},
		},
		Adjusted: []string{
			"idle current, right to 18 mV",
		}, Soak: &Soak{Seconds: 9600, Note: "into a dummy load", Fine: true}, Shown: 2, Checks: 9,
		Left: []string{"one lamp is dim"},
	}
}

func TestReportIsMadeOfTheRecord(t *testing.T) {
	s := shop.Usual()
	text := map[string]string{}
	for _, x := range Make(whole(), &s, nil).Sections {
		text[x.Key] = x.Text
	}
	for key, want := range map[string]string{
		Told: "“Right side is dead”",
		Wrong: "In the section called “output, right” a capacitor (C7), which stores charge and lets only what changes through, let " +
			"current seep through that it has to hold back. A transistor (Q3), by which a small current steers a large one, had failed. " +
			"In the section called “mains switch” the cause was found.",
		Done: "C7 (100 µF): renewed. C8: renewed as a precaution, since it ages alike. Mains switch: cleaned. " +
			"Set anew: idle current, right to 18 mV.",
		Proved: "After the repair it was measured again where it had been wrong, and was right. " +
			"It ran for 2 hours and 40 minutes, into a dummy load, while its temperatures were watched: all stayed within what " +
			"is allowed. 9 checks were made before it left the bench, and were right.",
		Left: "One lamp is dim.", Cost: "",
		Warranty: "6 months, until 10 May 2027, on the work and the parts that were renewed; not on other faults, " +
			"nor on damage from outside.",
	} {
		if text[key] != want {
			t.Errorf("%s: %q", key, text[key])
		}
	}
}

// What a person writes stands in the place of what is made, until it is taken back; a section can be left out.
func TestSectionsAreAPersons(t *testing.T) {
	s := shop.Usual()
	long := strings.Repeat("نعم، عمل جيد جدا\n", 30)
	entries := []Entry{
		{ID: "a", Section: Wrong, Text: "A small part had aged."}, {ID: "b", Section: Done, Text: long},
		{ID: "c", Section: Proved, LeftOut: true}, {ID: "d", Section: Wrong, Text: "no", Struck: true},
		{ID: "e", Section: Care, Text: "x"}, {ID: "f", Section: Care},
	}
	for i := range entries {
		if err := Take(&entries[i]); err != nil {
			t.Error(err)
		}
	}
	by := map[string]Section{}
	for _, x := range Make(whole(), &s, entries).Sections {
		by[x.Key] = x
	}
	if by[Wrong].Text != "A small part had aged." || !by[Wrong].Edited || by[Wrong].Made == "" || by[Done].Text != long ||
		!by[Proved].LeftOut ||
		by[Care].Edited ||
		by[Care].Text != by[Care].Made {
		t.Errorf("%+v", by)
	}
	for _, e := range []Entry{{Section: "poem", Text: "x"}, {Section: Wrong, Text: strings.Repeat("x", maxText+1)},
		{Section: Wrong, Text: "\xff"}} {
		if Take(&e) == nil {
			t.Errorf("%.20q is taken", e.Text)
		}
	}
}

func TestHours(t *testing.T) {
	for seconds, want := range map[float64]string{600: "10 minutes", 3600: "an hour", 7200: "2 hours",
		5400: "an hour and 30 minutes", 9601: "2 hours and 40 minutes"} {
		if got := hours(seconds); got != want {
			t.Errorf("%g: %s", seconds, got)
		}
	}
}

// Quarters of an hour that have begun, and parts as often as they went in: 1 h 50 min are 2 h at 46, 92; two of 1.20 and one
// of 0.35.
func TestCostIsReckoned(t *testing.T) {
	s := shop.Usual()
	f := whole()
	f.Worked = 110 * time.Minute
	f.Parts = []Priced{{"C7", 2, "1,20 €"}, {"C8", 1, "0.35"}, {"Q3", 1, ""}}
	if got := f.cost(&s); got != "" {
		t.Errorf("without the price of an hour: %q", got)
	}
	s.Rate = "46"
	costs := func(entries ...Entry) bool {
		for _, x := range Make(f, &s, entries).Sections {
			if x.Key == Cost {
				return !x.LeftOut
			}
		}
		return false
	}
	if costs() || !costs(Entry{Section: Cost}) || costs(Entry{Section: Cost}, Entry{Section: Cost, LeftOut: true}) {
		t.Error("what it costs is told to an owner where somebody wants it, and only then")
	}
	want := "Work: 2 h at 46\u00a0€ an hour, 92\u00a0€. Parts: C7 2.40\u00a0€, C8 0.35\u00a0€. Together 94.75\u00a0€, without Q3."
	if got := f.cost(&s); got != want {
		t.Errorf("%q", got)
	}
}
