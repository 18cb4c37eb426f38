package past

import (
	"reflect"
	"strings"
	"testing"

	"steptrace/core/circuit"
)

func finished(set, day string, ends ...End) Job {
	return Job{
		Set: set, Kind: "mixer", Finished: day, Complaint: "silent on " + day, Was: "was " + day, Ends: ends,
		Work: Minutes{Trace: 30, Replace: 30}, Usual: Minutes{Trace: 20, Replace: 20}, Mistaken: []string{}, Prices: []Price{},
	}
}

// What failed is counted by block and part, here and elsewhere, the most often first, with what is known of each; a job with two bad
// parts of one block counts for both, one with the same end twice for it once.
func TestAPageCountsWhatFailed(t *testing.T) {
	q := End{"output", "amplifier", "Q5", "shorted"}
	r := End{"output", "amplifier", "R9", "open"}
	k := End{"mute", "relay contact", "", ""}
	a := Own{11, finished("Orlo M-8", "2026-02-03", q, r, q)}
	b := Own{14, finished("Orlo M-8", "2026-05-06", q)}
	b.Back, b.Mistaken, b.Work = true, []string{"mute"}, Minutes{Trace: 100}
	c := Own{12, finished("Orlo M-8", "2026-03-04", k)}
	d := Own{9, finished("Orlo M-8", "2025-03-04")}
	d.GaveUp, d.Work = true, Minutes{}
	lent := []Lent{{"Far Bench", finished("Orlo M-8", "2024-01-01", k)}, {"Far Bench", finished("Orlo M-8", "2024-01-02", k)}}
	lent[0].Mistaken = []string{"output"}
	p := Of([]Own{a, b, c, d}, lent)
	if p.Says != "4 jobs here, and 2 jobs that others lent: 2 of 6 times it was Q5 in output." || p.Jobs != 4 || p.Lent != 2 ||
		p.Back != 1 || p.GaveUp != 1 || p.Minutes != 60 || !reflect.DeepEqual(p.Whose, []Whose{{"Far Bench", 2}}) {
		t.Errorf("%+v", p)
	}
	want := []Fault{
		{
			Block: "output", Part: "Q5", What: "shorted", Times: 2, After: []string{"silent on 2026-05-06", "silent on 2026-02-03"},
			Minutes: 80, Mistaken: []string{"mute"}, Back: 1, Jobs: []int{14, 11},
		},
		{
			Block: "mute", Times: 1, Lent: 2, After: []string{"silent on 2026-03-04", "silent on 2024-01-01", "silent on 2024-01-02"},
			Minutes: 60, Mistaken: []string{"output"}, Jobs: []int{12},
		},
		{
			Block: "output", Part: "R9", What: "open", Times: 1, After: []string{"silent on 2026-02-03"}, Minutes: 60, Mistaken: []string{},
			Jobs: []int{11},
		},
	}
	if !reflect.DeepEqual(p.Faults, want) {
		t.Errorf("%+v", p.Faults)
	}
	if len(p.Listed) != 4 || p.Listed[0].Number != 14 || p.Listed[3].Number != 9 {
		t.Errorf("%+v", p.Listed)
	}
	if kinds := OfKind([]Own{a, b, c}, nil); kinds.Faults[0].Block != "amplifier" || kinds.Faults[0].Part != "transistor" ||
		kinds.Faults[0].Times != 2 {
		t.Errorf("%+v", kinds.Faults)
	}
	if empty := Of(nil, nil); !strings.HasPrefix(empty.Says, "No job of it is finished yet") || empty.Faults == nil ||
		empty.Listed == nil {
		t.Errorf("%+v", empty)
	}
	if got := Ended(lent); !reflect.DeepEqual(got, map[string]int{"mute": 2}) {
		t.Error(got)
	}
}

// Names that may be one model, spelt otherwise, and those that are not.
func TestModelsSpeltAlike(t *testing.T) {
	for _, x := range []struct {
		a, b string
		want bool
	}{
		{"Orlo M-8", "ORLO M 8", true}, {"Orlo M-8", "Orlo M8", true}, {"Orlo M-8", "Orlo M-9", false}, {"Orlo M-8", "Orlo M-88", false},
		{"Venner AT-310", "Vener AT-310", true}, {"Venner AT-310", "Fenner AT310", true}, {"Venner AT-310", "Venner AD-311", false},
		{"Venner AT-310", "Vennar AD-310", false}, {"M-8", "N-8", false}, {"", "Orlo", false}, {"Örlo Größe 2", "örlo grösse 2", false},
		{"Örlo 2400", "Orlo 2400", true}, {"音響 8000", "音響8000", true},
	} {
		if got := Alike(x.a, x.b); got != x.want {
			t.Errorf("%s and %s: %v", x.a, x.b, got)
		}
		if got := Alike(x.b, x.a); got != x.want {
			t.Errorf("%s and %s: %v", x.b, x.a, got)
		}
	}
}

func TestClassesOfParts(t *testing.T) {
	for name, want := range map[string]Class{
		"C212": Small, "R9": Small, "Q5": Small, "IC3": Chip, "K1": Moving, "RV2": Moving, "T1": Wound, "LS1": Wound,
		"P3": Moving, "?": Small,
	} {
		if got := ClassOf(name, ""); got != want {
			t.Errorf("%s is a %s", name, got)
		}
	}
	for kind, want := range map[circuit.Kind]Class{
		circuit.Regulator: Strong, circuit.OpAmp: Chip, circuit.Windings: Wound, circuit.Joint: Solder,
	} {
		if got := ClassOf("C1", kind); got != want {
			t.Errorf("a %s is a %s", kind, got)
		}
	}
}

// What is lent reads back the same; without complaints nothing of them is in it. What cannot be so is refused whole, with words.
func TestLentAndTakenBack(t *testing.T) {
	jobs := []Job{finished("Orlo M-8", "2026-02-03", End{"output", "amplifier", "Q5", "shorted"})}
	jobs[0].Prices = []Price{{Small, 0.02}}
	f := Make("Far Bench", jobs, true)
	back, err := Read(f.WriteJSON())
	if err != nil || !reflect.DeepEqual(back, f) || back.Jobs[0].Hash() != jobs[0].Hash() {
		t.Errorf("%v %+v", err, back)
	}
	if text := string(Make("Far Bench", jobs, false).WriteJSON()); strings.Contains(text, "silent") || jobs[0].Complaint == "" {
		t.Error(text)
	}
	for want, change := range map[string]func(f *File){
		"its format is":         func(f *File) { f.Format = "steptrace-job" },
		"version 2":             func(f *File) { f.Version = 2 },
		"whose it is":           func(f *File) { f.Workshop = " " },
		"no jobs":               func(f *File) { f.Jobs = nil },
		"which set":             func(f *File) { f.Jobs[0].Set = "" },
		"text is too long":      func(f *File) { f.Jobs[0].Ends[0].What = strings.Repeat("x", 2001) },
		"is no day":             func(f *File) { f.Jobs[0].Finished = "in spring" },
		"more ended":            func(f *File) { f.Jobs[0].Mistaken = make([]string, 51) },
		"where it ended":        func(f *File) { f.Jobs[0].Ends = nil },
		"minutes are not those": func(f *File) { f.Jobs[0].Work = Minutes{"dance": 3} },
		"not those of a step":   func(f *File) { f.Jobs[0].Usual = Minutes{Trace: -1} },
		"a price is none":       func(f *File) { f.Jobs[0].Prices = []Price{{Small, 1e9}} },
		"more than 5000 jobs":   func(f *File) { f.Jobs = make([]Job, 5001) },
	} {
		f := Make("Far Bench", []Job{finished("Orlo M-8", "2026-02-03", End{Block: "output"})}, true)
		change(f)
		data := f.WriteJSON()
		if _, err := Read(data); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%v, want %q", err, want)
		}
	}
	for _, half := range []string{"", "{", `{"format":"steptrace-experience","version":1,"workshop":"x","jobs":[{"set":"x"`, "[]", "null"} {
		if _, err := Read([]byte(half)); err == nil {
			t.Errorf("%q is taken", half)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add(Make("Far Bench", []Job{finished("Orlo M-8", "2026-02-03", End{"output", "amplifier", "Q5", "shorted"})}, true).WriteJSON())
	f.Add(
		[]byte(
			`{"format":"steptrace-experience","version":1,"workshop":"w","jobs":[{"set":"a","kind":"","gaveUp":true,"work":{"trace":1}}]}`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		file, err := Read(data)
		if err != nil {
			return
		}
		if _, err := Read(file.WriteJSON()); err != nil {
			t.Fatalf("what was read is not read back: %v", err)
		}
		var own []Own
		for i, j := range file.Jobs {
			own = append(own, Own{i, j})
		}
		Of(own, nil)
		OfKind(own, nil)
	})
}
