package job

import (
	"reflect"
	"strings"
	"testing"
	"time"

	"steptrace/core/intake"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/stripdown"
	"steptrace/core/trace"
)

func plan(t *testing.T) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{
		Model:      "X",
		Points:     []sheet.Point{{Name: "A", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "B"}},
		Stages:     []sheet.Stage{{Name: "S", From: "A", To: "B", Gain: "0 dB"}},
		Rails:      []sheet.Rail{{Name: "+9 V", Value: "9 V"}},
		Reservoirs: []sheet.Reservoir{{Name: "C1", Rail: "+9 V", Farads: "1000 µF"}},
	}
	p, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	return p
}

func file() *File {
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	return &File{
		Format:  Format,
		Version: Version,
		Sheet:   SheetRef{Model: "X"},
		Job: Job{Number: 7, Complaint: "weak", Opened: at, Finished: &at, Outcome: "C1", Way: planning.Back,
			Injected: &reading.Injection{At: "A", Level: 0.5, Hz: 1000}, Readings: []Logged{
				{Reading: reading.Reading{ID: "1", Point: "B", Quantity: sheet.AC, Text: "0,9 V", SI: 0.9, Form: "rms", Taken: at}},
				{
					Reading: reading.Reading{
						ID:       "2",
						Point:    "+9 V",
						Quantity: sheet.DC,
						Text:     "8.8",
						SI:       8.8,
						Form:     "dc",
						Taken:    at,
						Struck:   true,
					},
					StruckReason: "slipped",
				},
				{
					Reading: reading.Reading{
						ID:       "3",
						Point:    "B",
						Quantity: sheet.AC,
						Text:     "hum",
						Word:     "hum",
						Power:    reading.PowerOn,
						Without:  []string{"S"},
						Taken:    at,
					},
				}},
			Waivers: []Waived{{ID: "w1", Waiver: trace.Waiver{Stage: "S", Key: "load", Reason: "potted"}, At: at}},
			Intake:  intake.Notes{{ID: "n1", Field: "works", Text: "the lamp", At: at}, {ID: "n2", Field: "past", Text: "damp", At: at}},
			Safety: []safety.Event{
				{ID: "e1", Kind: safety.Off, At: at},
				{ID: "e2", Kind: safety.Residual, Subject: "C1", Text: "0 V", At: at},
			},
			Steps: []stripdown.Step{
				{ID: "t1", Kind: stripdown.Screws, Text: "4 M3×8, cover", Count: 4, What: "M3×8", Where: "cover", Taken: at},
			},
			Returns:  []stripdown.Return{{ID: "b1", Step: "t1", Count: 4, At: at}},
			Pictures: []Picture{{ID: "p1", Step: "t1", Taken: at, Data: []byte{0xff, 0xd8}}}},
	}
}

func TestFileReadsBackTheSame(t *testing.T) {
	f := file()
	back, err := ReadJSON(f.WriteJSON())
	if err != nil || !reflect.DeepEqual(back, f) {
		t.Errorf("%v\n%+v\n%+v", err, back, f)
	}
	if err := back.Take(plan(t), nil); err != nil || !reflect.DeepEqual(back, f) {
		t.Errorf("%v\n%+v\n%+v", err, back, f)
	}
}

func TestBadFilesAreRefused(t *testing.T) {
	for name, c := range map[string]struct {
		edit func(f *File)
		says string
	}{
		"no complaint":     {func(f *File) { f.Complaint = "\n" }, "complaint is empty"},
		"long outcome":     {func(f *File) { f.Outcome = strings.Repeat("x", 2001) }, "longer than 2000"},
		"foreign way":      {func(f *File) { f.Way = "sideways" }, "not a way of working"},
		"waived for none":  {func(f *File) { f.Waivers[0].Reason = " " }, "reason is empty"},
		"waived never":     {func(f *File) { f.Waivers[0].At = time.Time{} }, "does not say when it was"},
		"never opened":     {func(f *File) { f.Opened = time.Time{} }, "when it was opened"},
		"negative number":  {func(f *File) { f.Number = -1 }, "below zero"},
		"unknown point":    {func(f *File) { f.Readings[0].Point = "Z" }, `reading 1: at Z: "Z" is neither`},
		"same id":          {func(f *File) { f.Readings[2].ID = "1" }, "reading 3: it needs an id of its own"},
		"never taken":      {func(f *File) { f.Readings[1].Taken = time.Time{} }, "reading 2: it does not say when"},
		"other value":      {func(f *File) { f.Readings[0].SI = 9 }, "does not read as the value 9"},
		"other word":       {func(f *File) { f.Readings[2].Word = "ok" }, `"hum" does not read`},
		"other quantity":   {func(f *File) { f.Readings[0].Quantity = sheet.Frequency }, "does not read as"},
		"fed in nowhere":   {func(f *File) { f.Readings[0].Injected = &reading.Injection{At: "Q"} }, `"Q" is neither`},
		"fed in less than": {func(f *File) { f.Readings[0].Injected = &reading.Injection{At: "A", Level: -1} }, "above zero"},
		"lifted nothing":   {func(f *File) { f.Readings[2].Without = []string{"Q9"} }, "can be swapped or lifted"},
		"unknown field":    {func(f *File) { f.Intake[0].Field = "colour" }, "not asked at intake"},
		"other count":      {func(f *File) { f.Steps[0].Count = 5 }, `"4 M3×8, cover" does not read as 5`},
		"two of one id":    {func(f *File) { f.Steps = append(f.Steps, f.Steps[0]) }, "step 2: it needs an id of its own"},
		"step never taken": {func(f *File) { f.Steps[0].Taken = time.Time{} }, "step 1: it does not say when"},
		"unreadable step":  {func(f *File) { f.Steps[0].Text = "4" }, "4 of what?"},
		"more back":        {func(f *File) { f.Returns[0].Count = 5 }, "0 to 4 can go back"},
		"picture astray":   {func(f *File) { f.Pictures[0].Step = "t9" }, "which is not there"},
		"other residual":   {func(f *File) { f.Safety[1].Text = "3 V" }, `"3 V" does not read as the value 0`},
		"residual of none": {func(f *File) { f.Safety[1].Subject = "C9" }, "not a reservoir"},
		"event never":      {func(f *File) { f.Safety[0].At = time.Time{} }, "does not say when"},
		"too many":         {func(f *File) { f.Readings = make([]Logged, 10001) }, "more than 10000"},
	} {
		f := file()
		c.edit(f)
		back, err := ReadJSON(f.WriteJSON())
		if err == nil {
			err = back.Take(plan(t), func() string { return "new" })
		}
		if err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v, want %q", name, err, c.says)
		}
	}
	for _, data := range []string{"", "{", `{"format":"steptrace-sheet","version":1}`, `{"format":"steptrace-job","version":2}`, "[]"} {
		if _, err := ReadJSON([]byte(data)); err == nil {
			t.Errorf("%q was read as a job", data)
		}
	}
}

func TestCaseFallsBackToAFirstRoute(t *testing.T) {
	j := &Job{Route: "a route that is gone"}
	if c, ok := j.Case(plan(t)); !ok || c.Route.Name != "A to B" {
		t.Errorf("%+v", c)
	}
	if _, ok := j.Case(&sheet.Plan{}); ok {
		t.Error("a plan without routes can be traced")
	}
}

// A touch needs a low voltage and a chassis that is not live.
func TestWhereATouchIsRefused(t *testing.T) {
	s := func() *sheet.Sheet {
		return &sheet.Sheet{
			Model:  "X",
			Points: []sheet.Point{{Name: "A", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "B", Peak: "180 V"}},
			Stages: []sheet.Stage{{Name: "S", From: "A", To: "B", Gain: "0 dB"}},
			Rails:  []sheet.Rail{{Name: "+9 V", Value: "9 V"}},
		}
	}
	hot := s()
	hot.Hazards = []sheet.Hazard{{Kind: "hot chassis"}}
	for _, c := range []struct {
		sheet *sheet.Sheet
		in    reading.Injection
		says  string
	}{
		{s(), reading.Injection{At: "A", Touch: true}, ""},
		{s(), reading.Injection{At: "B", Touch: true}, "up to 180 V here: this point must not be touched"},
		{s(), reading.Injection{At: "A", Touch: true, Level: 1}, "neither level nor frequency"},
		{hot, reading.Injection{At: "A", Touch: true}, "connected to the mains"},
		{s(), reading.Injection{At: "Q", Touch: true}, "neither a point"},
	} {
		p, _ := c.sheet.Plan()
		err := reading.CheckInjection(p, &c.in)
		if (err == nil) != (c.says == "") || err != nil && !strings.Contains(err.Error(), c.says) {
			t.Errorf("%+v: %v, want %q", c.in, err, c.says)
		}
	}
}

// Every list of a job is declared as a kind of entry.
func TestEveryListIsAKind(t *testing.T) {
	var j Job
	for i := range reflect.TypeFor[Job]().NumField() {
		field := reflect.TypeFor[Job]().Field(i)
		name, _, _ := strings.Cut(field.Tag.Get("json"), ",")
		if k, ok := Named(name); field.Type.Kind() == reflect.Slice && (!ok || reflect.TypeOf(k.New()).Elem() != field.Type.Elem()) {
			t.Errorf("%s is a list of a job and no kind of entry: declare it in Kinds", field.Name)
		}
	}
	for _, k := range Kinds {
		k.Add(&j, k.New())
		if len(k.All(&j)) != 1 || KindOf(k.New()) != k {
			t.Errorf("%s: %d", k.Name(), len(k.All(&j)))
		}
	}
	if n := j.Counts(); len(n) != len(Kinds) || n["readings"] != 1 {
		t.Errorf("%v", n)
	}
}
