package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"testing"
	"testing/fstest"
	"time"

	"github.com/google/uuid"
	"github.com/klauspost/compress/zstd"

	"steptrace/core/adjust"
	"steptrace/core/closing"
	"steptrace/core/entry"
	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/replace"
	"steptrace/core/report"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/stripdown"
	"steptrace/core/symptom"
	"steptrace/core/trace"
	"steptrace/core/wait"
	"steptrace/core/worth"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// wholeJob is a job with an entry of every kind, by which all kinds are tried.
func wholeJob(t *testing.T) *job.File {
	t.Helper()
	at := time.Date(2026, 11, 20, 9, 0, 0, 123456789, time.UTC)
	step, err := stripdown.Read(stripdown.Screws, "4 M3×8, cover")
	if err != nil {
		t.Fatal(err)
	}
	step.ID, step.Taken = "t1", at
	s := &sheet.Sheet{
		Format:     sheet.Format,
		Version:    sheet.Version,
		Model:      "X",
		Points:     []sheet.Point{{Name: "A", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "B"}},
		Stages:     []sheet.Stage{{Name: "S", From: "A", To: "B", Gain: "0 dB"}},
		Rails:      []sheet.Rail{{Name: "+9 V", Value: "9 V"}},
		Reservoirs: []sheet.Reservoir{{Name: "C1", Rail: "+9 V", Farads: "1000 µF"}},
		Adjustments: []sheet.Adjustment{
			{Name: "idle", Kind: "bias", Turn: "VR1", Measure: "across R5", Target: "21 mV", Conditions: []string{"no load"}},
		},
	}
	return &job.File{Sheet: job.SheetRef{Model: "X", Document: s}, Job: job.Job{Complaint: "weak", Opened: at,
		Intake: intake.Notes{
			{ID: "n1", Field: "works", Text: "lamps", At: at},
			{ID: "n2", Field: "works", Text: "lamps <&>\u2028", At: at},
		},
		Safety: []safety.Event{
			{ID: "e1", Kind: safety.Off, At: at},
			{ID: "e2", Kind: safety.Residual, Subject: "C1", Text: "1,3 V", SI: 1.3, At: at},
		},
		Steps: []stripdown.Step{step},
		Replacing: []replace.Entry{
			{ID: "x1", Subject: &replace.Subject{Part: "C7", Was: "47u 25v electrolytic", Duty: "coupling, 9 V"}, At: at},
			{ID: "x2", Chosen: &replace.Chosen{Part: "C7", New: "47u 35v electrolytic", From: replace.Order, Count: 1}, At: at},
			{ID: "x3", Done: &replace.Done{Step: "safe", Text: "Set off"}, At: at},
			{ID: "x4", Board: replace.Glass, At: at},
		},
		Returns:  []stripdown.Return{{ID: "b1", Step: "t1", Count: 3, At: at}},
		Pictures: []job.Picture{{ID: "p1", Step: "t1", Taken: at, Data: photo(t)}},
		Captures: []job.Capture{
			{
				ID:     "c1",
				Name:   "line.csv",
				Points: []string{"B"},
				Taken:  at,
				Good:   true,
				Data:   []byte("t (s),CH1 (V)\n0,0\n0.001,1\n0.002,0\n0.003,-1\n0.004,0\n0.005,1\n"),
			},
		},
		Readings: []job.Logged{
			{
				Reading: reading.Reading{
					ID:       "r1",
					Point:    "B",
					Quantity: sheet.AC,
					Text:     "0,9 V",
					SI:       0.9,
					Form:     "rms",
					Without:  []string{"S"},
					Capture:  "c1",
					Injected: &reading.Injection{At: "A", Level: 1.0 / 3, Hz: 1e6 / 7},
					Power:    reading.PowerOn,
					Taken:    at,
				},
			},
		},
		Inside: []inside.Entry{
			{ID: "i1", Stage: "S", At: at, Condemned: &inside.Condemned{Part: "C2", What: "open", Why: []string{"it was cracked"}}},
			{
				ID:       "i2",
				Stage:    "S",
				At:       at,
				Provoked: &inside.Provoked{Place: "C2", Act: "tap", Came: inside.Comes, Picture: "p1", X: 0.1234567890123, Y: 1e-7},
			},
		},
		Waivers: []job.Waived{{ID: "w1", Waiver: trace.Waiver{Stage: "S", Key: "load", Reason: "potted"}, At: at}},
		Repairs: []repair.Entry{
			{ID: "q1", At: at, Temporary: &repair.Temporary{What: repair.Jumper, Subject: "S"}},
			{ID: "q2", At: at, Removed: &repair.Removed{Entry: "q1"}},
		},
		Worthing: []worth.Entry{
			{ID: "v1", At: at, Seen: &worth.Seen{Key: "charred"}},
			{ID: "v2", At: at, Offer: &worth.Offer{What: worth.Board, Name: "PB-2", Price: "40 kr", Minutes: 35}},
			{ID: "v3", At: at, Estimate: &worth.Estimate{Low: "80", High: "140", Until: "2026-12-13", Text: "as it lies"}},
			{ID: "v4", At: at, Answer: &worth.Answer{GoOn: true, Most: "120", Note: "by mail"}},
			{ID: "v5", At: at, Decision: &worth.Decision{Choice: worth.Repair, Why: "the part is in the drawer"}},
		},
		Symptoms: []symptom.Entry{
			{ID: "y1", At: at, Noticed: symptom.Noticed{Key: "blinks", Count: 3, When: []symptom.When{symptom.Warm}}},
		},
		Adjusting: []adjust.Entry{
			{ID: "j1", At: at, Adjustment: "idle", Tick: &adjust.Tick{Condition: "no load"}},
			{ID: "j2", At: at, Warm: &adjust.Warm{}},
			{ID: "j3", At: at, Adjustment: "idle", Read: &adjust.Read{Text: "21 mV", SI: 0.021, Unit: "V", Position: "40 %", Place: 0.4}},
			{ID: "j4", At: at, Adjustment: "idle", Left: &adjust.Left{}},
			{ID: "j5", At: at, Setting: &adjust.Setting{Item: "sub-contrast", Of: "HDMI 1", Value: "14", How: adjust.AsFound}},
			{ID: "j6", At: at, Heat: &adjust.Heat{Watts: "18 W", Inside: "44 °C", Room: "23 °C"}},
		},
		Report: []report.Entry{
			{ID: "p1", At: at, Section: report.Wrong, Text: "A small part had aged."}, {ID: "p2", At: at, Section: report.Care,
				LeftOut: true},
		},
		Closing: []closing.Entry{
			{ID: "z1", At: at, Item: "hum, B", Text: "2 mV", By: "meter"},
			{ID: "z2", At: at, Item: "insulation", Without: "no tester"},
		},
		Soaks: []soak.Entry{
			{
				ID: "k1", At: at, Begin: &soak.Plan{
					Steps:  []soak.Step{{Name: "drive", Do: soak.Drive, Minutes: 60, Signal: &soak.Signal{Level: "1 V", From: "1 kHz"}}},
					Traces: []soak.Trace{{Name: "sink", What: soak.Temperature, Most: "70 °C"}},
				},
				Data: []byte("seconds,sink (°C)\n0,21.5\n60,22.25\n"),
			},
			{ID: "k2", At: at, Event: &soak.Event{Soak: "k1", T: 90, For: 30, What: soak.Gap, Trace: "sink", Text: "the meter slept"}},
			{ID: "k3", At: at, Over: &soak.Over{Soak: "k1", T: 3600, Done: true}},
		},
		Waits: []wait.Entry{
			{ID: "v1", At: at, Wait: &wait.Wait{For: wait.Part, What: "C2, 10 µF", Until: "2026-12-03"}},
			{ID: "v2", At: at, Over: &wait.Over{Entry: "v1", How: "the right one"}},
		},
	}}
}

func (w *workshop) take(f *job.File) int {
	w.t.Helper()
	number, err := w.server.ImportJob(context.Background(), f.WriteJSON())
	if err != nil {
		w.t.Fatal(err)
	}
	return number
}

func (w *workshop) file(number int) *job.File {
	w.t.Helper()
	status, data := w.call("GET", fmt.Sprintf("/api/jobs/%d/file.json", number), "")
	f, err := job.ReadJSON(data)
	if status != http.StatusOK || err != nil {
		w.t.Fatal(status, err)
	}
	return f
}

// same compares jobs kind by kind.
func same(t *testing.T, what string, got, want *job.Job) {
	t.Helper()
	for _, k := range job.Kinds {
		if g, w := k.All(got), k.All(want); !reflect.DeepEqual(g, w) {
			a, _ := json.Marshal(g)
			b, _ := json.Marshal(w)
			t.Errorf("%s: %s differ:\n%s\n%s", what, k.Name(), a, b)
		}
	}
}

// Each kind of entry is stored, read back, exported, brought into an empty workshop and found
// equal; struck out it goes the same way.
func TestEveryKindOfEntryGoesAllTheWay(t *testing.T) {
	want := wholeJob(t)
	for _, k := range job.Kinds {
		if len(k.All(&want.Job)) == 0 {
			t.Errorf("no entry of kind %s is tried: put one into wholeJob", k.Name())
		}
	}
	here := empty(t)
	n := here.take(want)
	same(t, "exported", &here.file(n).Job, &want.Job)
	there := empty(t)
	same(t, "brought in", &there.file(there.take(here.file(n))).Job, &want.Job)

	for _, k := range job.Kinds {
		for _, e := range k.All(&want.Job) {
			w, ok := e.(entry.Withdrawable)
			err := here.store.Strike(context.Background(), n, k.Name(), *e.Head().ID, "slipped")
			if ok != (err == nil) {
				t.Fatalf("striking out one of %s: %v", k.Name(), err)
			}
			if ok {
				w.Withdraw(time.Now(), "slipped")
			}
		}
	}
	struck := here.file(n)
	for _, k := range job.Kinds {
		for i, e := range k.All(&struck.Job) {
			if entry.Counts(e) != entry.Counts(k.All(&want.Job)[i]) {
				t.Errorf("of %s it is not told whether %s is struck out", k.Name(), *e.Head().ID)
			}
		}
	}
	there = empty(t)
	same(t, "struck out", &there.file(there.take(struck)).Job, &struck.Job)
}

// older is a workshop as an earlier version left it, with jobs as that version exported them.
func older(t *testing.T) *workshop {
	t.Helper()
	packed, err := os.ReadFile("testdata/older/workshop.db.zst")
	if err != nil {
		t.Fatal(err)
	}
	unpack, err := zstd.NewReader(nil)
	if err != nil {
		t.Fatal(err)
	}
	defer unpack.Close()
	data, err := unpack.DecodeAll(packed, nil)
	path := filepath.Join(t.TempDir(), "older.db")
	if err == nil {
		err = os.WriteFile(path, data, 0o600)
	}
	if err != nil {
		t.Fatal(err)
	}
	db, err := store.Open(context.Background(), path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		if err := db.Close(); err != nil {
			t.Error(err)
		}
	})
	s := server.New(db, fstest.MapFS{}, nil)
	return &workshop{t, db, s, s.Handler()}
}

// A database and exported jobs of an earlier version say here what they said there.
func TestOlderWorkshopsAreRead(t *testing.T) {
	w := older(t)
	for _, number := range []int{147, 149} {
		data, err := os.ReadFile(fmt.Sprintf("testdata/older/job-%d.json", number))
		if err != nil {
			t.Fatal(err)
		}
		exported, err := job.ReadJSON(data)
		if err != nil {
			t.Fatal(err)
		}
		kept := w.file(number)
		// What the earlier version did not export: ids of some, earlier notes of a field, what
		// was struck out of the pictures.
		for i := range exported.Steps {
			exported.Steps[i].Pictures = nil
		}
		if got, want := kept.Intake.Texts(), exported.Intake.Texts(); !reflect.DeepEqual(got, want) || len(want) == 0 {
			t.Errorf("job %d: intake %v, was %v", number, got, want)
		}
		kept.Intake, exported.Intake = nil, nil
		kept.Pictures = slices.DeleteFunc(kept.Pictures, func(p job.Picture) bool { return p.Struck })
		for i := range kept.Returns {
			kept.Returns[i].ID = ""
		}
		for i := range kept.Waivers {
			kept.Waivers[i].ID = ""
		}
		same(t, fmt.Sprintf("job %d", number), &kept.Job, &exported.Job)
		// Its file is taken as well, into an empty workshop.
		there := empty(t)
		n, err := there.server.ImportJob(context.Background(), data)
		if err != nil {
			t.Fatal(err)
		}
		again := there.file(n)
		if len(again.Readings) != len(kept.Readings) || len(again.Captures) != len(kept.Captures) ||
			!bytes.Equal(again.Captures[0].Data, kept.Captures[0].Data) ||
			len(again.Pictures) != len(kept.Pictures) {
			t.Errorf("job %d brought in: %d readings, %d captures", number, len(again.Readings), len(again.Captures))
		}
	}
	// It is worked on as before.
	n := ask[server.Opened](w, "POST", "/api/jobs", server.NewJob{Sheet: 4, Complaint: "dead"}).Number
	v := ask[server.JobView](
		w,
		"POST",
		fmt.Sprintf("/api/jobs/%d/repairs", n),
		repair.Entry{ID: uuid.NewString(), Repair: &repair.Repair{Did: repair.Cleaned, Where: "the switch"}},
	)
	if len(v.Repairs) != 1 {
		t.Errorf("%+v", v.Repairs)
	}
	if v := ask[server.JobView](w, "GET", "/api/jobs/149", nil); v.Finished == nil || v.Outcome == "" || len(v.Findings.Readings) == 0 {
		t.Errorf("%+v", v)
	}
}
