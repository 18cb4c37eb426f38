package job

import (
	"reflect"
	"strings"
	"testing"
	"time"

	"steptrace/core/sheet"
	"steptrace/core/trace"
)

func plan(t *testing.T) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{Model: "X", Points: []sheet.Point{{Name: "A", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "B"}},
		Stages: []sheet.Stage{{Name: "S", From: "A", To: "B", Gain: "0 dB"}}, Rails: []sheet.Rail{{Name: "+9 V", Value: "9 V"}}}
	p, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	return p
}

func file() *File {
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	return &File{Format: Format, Version: Version, Sheet: SheetRef{Model: "X"}, Job: Job{Number: 7, Complaint: "weak", Opened: at, Finished: &at, Outcome: "C1",
		Injected: &trace.Injection{At: "A", Level: 0.5, Hz: 1000}, Readings: []Logged{
			{Reading: trace.Reading{ID: "1", Point: "B", Quantity: sheet.AC, Text: "0,9 V", SI: 0.9, Form: "rms", Taken: at}},
			{Reading: trace.Reading{ID: "2", Point: "+9 V", Quantity: sheet.DC, Text: "8.8", SI: 8.8, Form: "dc", Taken: at, Struck: true}, StruckReason: "slipped"},
			{Reading: trace.Reading{ID: "3", Point: "B", Quantity: sheet.AC, Text: "hum", Word: "hum", Taken: at}}}}}
}

func TestFileReadsBackTheSame(t *testing.T) {
	f := file()
	back, err := ReadJSON(f.WriteJSON())
	if err != nil || !reflect.DeepEqual(back, f) {
		t.Errorf("%v\n%+v\n%+v", err, back, f)
	}
	if err := back.Check(plan(t)); err != nil {
		t.Error(err)
	}
}

func TestBadFilesAreRefused(t *testing.T) {
	for name, c := range map[string]struct {
		edit func(f *File)
		says string
	}{
		"no complaint":     {func(f *File) { f.Complaint = "\n" }, "complaint is empty"},
		"long outcome":     {func(f *File) { f.Outcome = strings.Repeat("x", 2001) }, "longer than 2000"},
		"never opened":     {func(f *File) { f.Opened = time.Time{} }, "when it was opened"},
		"negative number":  {func(f *File) { f.Number = -1 }, "below zero"},
		"unknown point":    {func(f *File) { f.Readings[0].Point = "Z" }, `reading 1 at Z: "Z" is neither`},
		"same id":          {func(f *File) { f.Readings[2].ID = "1" }, "two readings have the id"},
		"never taken":      {func(f *File) { f.Readings[1].Taken = time.Time{} }, "when it was taken"},
		"other value":      {func(f *File) { f.Readings[0].SI = 9 }, "does not read as the value 9"},
		"other word":       {func(f *File) { f.Readings[2].Word = "ok" }, `"hum" does not read`},
		"other quantity":   {func(f *File) { f.Readings[0].Quantity = sheet.Frequency }, "does not read as"},
		"fed in nowhere":   {func(f *File) { f.Readings[0].Injected = &trace.Injection{At: "Q"} }, `"Q" is neither`},
		"fed in less than": {func(f *File) { f.Readings[0].Injected = &trace.Injection{At: "A", Level: -1} }, "above zero"},
		"too many":         {func(f *File) { f.Readings = make([]Logged, maxReadings+1) }, "more than 10000"},
	} {
		f := file()
		c.edit(f)
		back, err := ReadJSON(f.WriteJSON())
		if err == nil {
			err = back.Check(plan(t))
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
