package server_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"path/filepath"
	"strings"
	"testing"

	"steptrace/core/quantity"

	"steptrace/core/reading"
	"steptrace/core/standin"
	"steptrace/core/trace"
	"steptrace/core/wave"
	"steptrace/demo"
	"steptrace/internal/desk"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// practising is the demo workshop with the stand-ins.
func practising(t *testing.T) (*workshop, *desk.Desk) {
	t.Helper()
	w := open(t)
	d, list, err := desk.Start()
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		w.server.Close()
		if err := d.Close(); err != nil {
			t.Error(err)
		}
	})
	w.server.Practise(d, list, demo.Faults)
	w.train()
	return w, d
}

// train puts practice beside a workshop: a store and a desk of its own.
func (w *workshop) train() (*store.Store, *server.Server) {
	w.t.Helper()
	db, err := store.Open(context.Background(), filepath.Join(w.t.TempDir(), "practice.db"))
	if err != nil {
		w.t.Fatal(err)
	}
	d, list, err := desk.Start()
	if err != nil {
		w.t.Fatal(err)
	}
	s := w.server.Train(db, d, list)
	w.t.Cleanup(func() {
		s.Close()
		if err := errors.Join(d.Close(), db.Close()); err != nil {
			w.t.Error(err)
		}
	})
	w.handler = w.server.Handler()
	return db, s
}

func ask[T any](w *workshop, method, path string, body any) T {
	w.t.Helper()
	data, err := json.Marshal(body)
	if err != nil {
		w.t.Fatal(err)
	}
	status, answer := w.call(method, path, string(data))
	var out T
	if status != http.StatusOK || json.Unmarshal(answer, &out) != nil {
		w.t.Fatalf("%s %s: %d %s", method, path, status, answer)
	}
	return out
}

// A whole set is traced with live readings: hands move the probe and the generator
// where the proposals say, the instruments take what is there, and it ends at the stage
// that the simulated set has its fault in.
func TestASetIsTracedThroughTheStandIns(t *testing.T) {
	w, _ := practising(t)
	for _, number := range []int{142, 145, 147} {
		job := fmt.Sprintf("/api/jobs/%d", number)
		w.call("POST", job+"/safety", fmt.Sprintf(`{"id":"on%d","kind":"on"}`, number))
		v := ask[server.JobView](w, "GET", job, nil)
		taken := 0
		for ; v.Findings.Next != nil && taken < 12; taken++ {
			next := v.Findings.Next
			under := server.Conditions{Route: next.Route, Injected: next.Injected, Instrument: "scope10"}
			ask[server.PracticeView](w, "POST", job+"/hands", server.Connected{Probe: next.Point, Generator: true, Conditions: under})
			said := ask[server.Said](w, "POST", job+"/feed", under)
			if !strings.Contains(said.Text, "practice generator: SIN") {
				t.Errorf("the generator says %q", said.Text)
			}
			v = ask[server.JobView](
				w,
				"POST",
				job+"/take",
				server.Typed{
					ID:         fmt.Sprintf("t%d", taken),
					Aim:        reading.Aim{Point: next.Point, Quantity: next.Quantity},
					Without:    next.Without,
					Conditions: under,
				},
			)
		}
		if v.Findings.State != trace.Named || v.Findings.Stage != demo.Faults[number].Block {
			t.Errorf(
				"job %d: %s %q after %d readings, the fault is in %s",
				number,
				v.Findings.State,
				v.Findings.Stage,
				taken,
				demo.Faults[number].Block,
			)
		}
		kept := ask[server.CapturesView](w, "GET", job+"/captures", nil)
		last := v.Findings.Readings[len(v.Findings.Readings)-1].Reading
		if len(kept.Captures) == 0 || last.Capture == "" || !strings.Contains(last.Settings, "practice scope: ") ||
			!strings.Contains(last.Settings, "practice generator") {
			t.Errorf("job %d: %d captures, the last reading %+v", number, len(kept.Captures), last)
		}
		t.Logf("job %d: %d readings taken, %d captures", number, taken, len(kept.Captures))
	}
}

// Whichever stage of a route is weak, a new job on the set that follows the proposals
// ends at it.
func TestEveryStageIsFoundThroughTheStandIns(t *testing.T) {
	w, _ := practising(t)
	sheetID := ask[server.JobView](w, "GET", "/api/jobs/142", nil).SheetID
	for _, stage := range ask[server.JobView](w, "GET", "/api/jobs/142", nil).Findings.Stages {
		number := ask[server.Opened](w, "POST", "/api/jobs", server.NewJob{Sheet: sheetID, Complaint: "weak"}).Number
		job := fmt.Sprintf("/api/jobs/%d", number)
		ask[server.JobView](w, "PUT", job+"/bench", server.BenchSetting{Route: "tape|J2-4|J7-2", Instrument: "scope10"})
		ask[server.PracticeView](
			w,
			"POST",
			job+"/practice",
			server.Practising{Fault: standin.Fault{Block: stage.Name, Effect: standin.Weak}},
		)
		v := ask[server.JobView](w, "GET", job, nil)
		taken := 0
		for ; v.Findings.Next != nil && taken < 15; taken++ {
			next := v.Findings.Next
			under := server.Conditions{Route: next.Route, Injected: next.Injected, Instrument: "scope10"}
			ask[server.PracticeView](w, "POST", job+"/hands", server.Connected{Probe: next.Point, Generator: true, Conditions: under})
			ask[server.Said](w, "POST", job+"/feed", under)
			v = ask[server.JobView](
				w,
				"POST",
				job+"/take",
				server.Typed{
					ID:         fmt.Sprintf("t%d", taken),
					Aim:        reading.Aim{Point: next.Point, Quantity: next.Quantity},
					Without:    next.Without,
					Conditions: under,
				},
			)
		}
		if v.Findings.State != trace.Named || v.Findings.Stage != stage.Name {
			t.Errorf("%s is weak; %s %q after %d readings", stage.Name, v.Findings.State, v.Findings.Stage, taken)
		}
	}
}

// The stand-ins see what a fault of choice does: its defect is the reading.
func TestADefectThatIsTakenIsTheReading(t *testing.T) {
	w, _ := practising(t)
	const job = "/api/jobs/142"
	under := server.Conditions{Route: "tape|J2-4|J7-2", Instrument: "scope10"}
	for effect, reads := range map[standin.Effect]string{standin.Distorted: "clipped on top at 1.2 V", standin.Hum: "hum at 100 Hz",
		standin.Noisy: "hiss", standin.Dead: "none", standin.CuttingOut: "cuts out"} {
		ask[server.PracticeView](
			w,
			"POST",
			job+"/practice",
			server.Practising{Fault: standin.Fault{Block: "Q206 line amp", Effect: effect}},
		)
		ask[server.PracticeView](w, "POST", job+"/hands", server.Connected{Probe: "Q206 c", Conditions: under})
		v := ask[server.JobView](
			w,
			"POST",
			job+"/take",
			server.Typed{ID: string(effect), Aim: reading.Aim{Point: "Q206 c"}, Conditions: under},
		)
		last := v.Findings.Readings[len(v.Findings.Readings)-1].Reading
		got, _ := quantity.SeenIn(last.Text)
		want, shown := quantity.SeenIn(reads)
		near := math.Abs(got.At.SI-want.At.SI) <= 0.3*math.Abs(want.At.SI)
		if shown && (got.Detail != want.Detail || !near || last.Word != want.Word()) || !shown && last.Text != reads {
			t.Errorf("a stage that is %s reads %q", effect, last.Text)
		}
	}
	// A reservoir by the tester, once the set is off.
	w.call("POST", job+"/safety", `{"id":"off","kind":"off"}`)
	ask[server.PracticeView](w, "POST", job+"/hands", server.Connected{Probe: "C300", Conditions: under})
	if said := ask[server.Said](w, "POST", "/api/instruments/practice-tester/measure",
		server.ToMeasure{What: "capacitance"}); said.Text != "2.2 mF" &&
		said.Text != "2200 µF" {
		t.Errorf("C300 has %s", said.Text)
	}
	w.call("POST", job+"/safety", `{"id":"on again","kind":"on"}`)
	// Sent twice, it is taken once.
	again := ask[server.JobView](
		w,
		"POST",
		job+"/take",
		server.Typed{ID: string(standin.Dead), Aim: reading.Aim{Point: "Q206 c"}, Conditions: under},
	)
	if n := len(again.Findings.Readings); n != 10 {
		t.Errorf("%d readings", n)
	}
	// A rail's volts by the meter, and ohms refused while the set is live.
	ask[server.PracticeView](w, "POST", job+"/hands", server.Connected{Probe: "+24 V", Conditions: under})
	v := ask[server.JobView](
		w,
		"POST",
		job+"/take",
		server.Typed{ID: "rail", Aim: reading.Aim{Point: "+24 V", Quantity: "dc"}, Conditions: under},
	)
	if last := v.Findings.Readings[len(v.Findings.Readings)-1]; last.Verdict != reading.Within ||
		!strings.HasPrefix(last.Reading.Settings, "practice meter") {
		t.Errorf("%+v", last)
	}
	body := `{"id":"ohm","point":"+24 V","quantity":"resistance","conditions":{"route":"","injected":null,"instrument":"meter"}}`
	if status, says := w.detail("POST", job+"/take", body); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "set off") {
		t.Errorf("%d %s", status, says)
	}
}

// Two probes at once: the second channel is kept at its point, and the gain between them
// is the stage's.
func TestTwoProbesAtOnce(t *testing.T) {
	w, _ := practising(t)
	const job = "/api/jobs/142"
	under := server.Conditions{Route: "tape|J2-4|J7-2", Instrument: "scope10"}
	ask[server.PracticeView](w, "POST", job+"/practice", server.Practising{})
	two := server.ToTake{Typed: server.Typed{ID: "two", Aim: reading.Aim{Point: "Q204 c"}, Conditions: under}, Second: "C209 +"}
	body, _ := json.Marshal(two)
	ask[server.PracticeView](w, "POST", job+"/hands", server.Connected{Probe: "Q204 c", Conditions: under})
	if status, says := w.detail("POST", job+"/take", string(body)); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "second probe is nowhere. Put it on C209 + first") {
		t.Errorf("%d %s", status, says)
	}
	ask[server.PracticeView](w, "POST", job+"/hands", server.Connected{Probe: "Q204 c", Second: "C209 +", Conditions: under})
	ask[server.JobView](w, "POST", job+"/take", two)
	seen := ask[server.Seen](w, "GET", job+"/captures/ctwo?channel=1", nil)
	if seen.Reference != "sheet" || len(seen.Comparison.Defects) != 0 {
		t.Errorf("the second channel against %s: %+v", seen.Against, seen.Comparison)
	}
	f := wave.Figures{List: seen.Between}
	if gain, ok := f.Find("gain"); !ok || math.Abs(gain.Value+28) > 0.3 { // from the stage's output back to its input
		t.Errorf("%+v", seen.Between)
	}
}

// What goes wrong is told and nothing is logged: the probe elsewhere, the instruments
// taken down in the middle.
func TestNothingIsHalfTaken(t *testing.T) {
	w, d := practising(t)
	const job = "/api/jobs/142"
	before := len(ask[server.JobView](w, "GET", job, nil).Findings.Readings)
	take := `{"id":"x","point":"Q206 c","conditions":{"route":"tape|J2-4|J7-2","injected":null,"instrument":"scope10"}}`
	if status, says := w.detail("POST", job+"/take", take); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "Put it on Q206 c first") {
		t.Errorf("%d %s", status, says)
	}
	ask[server.PracticeView](
		w,
		"POST",
		job+"/hands",
		server.Connected{Probe: "Q206 c", Conditions: server.Conditions{Route: "tape|J2-4|J7-2"}},
	)
	if err := d.Close(); err != nil {
		t.Fatal(err)
	}
	if status, says := w.detail("POST", job+"/take", take); status != http.StatusBadGateway ||
		!strings.Contains(says, "practice scope: nothing answers at 127.0.0.1:") {
		t.Errorf("%d %s", status, says)
	}
	if after := len(ask[server.JobView](w, "GET", job, nil).Findings.Readings); after != before {
		t.Errorf("%d readings, before %d", after, before)
	}
	if kept := ask[server.CapturesView](w, "GET", job+"/captures", nil); len(kept.Captures) != 0 {
		t.Error("a capture is kept of what was not taken")
	}
	// Without a practice bench it is said; an instrument of one's own is kept, and asked.
	plain := open(t)
	if status, says := plain.detail("GET", job+"/practice", ""); status != http.StatusNotFound || !strings.Contains(says, "-practice") {
		t.Errorf("%d %s", status, says)
	}
	if status, says := plain.detail("POST", job+"/take", take); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "No scope is known") {
		t.Errorf("%d %s", status, says)
	}
	words := ask[server.InstrumentsView](plain, "GET", "/api/instruments", nil).Usual["meter"]
	in := map[string]any{
		"id":      "m",
		"name":    "bench meter",
		"kind":    "meter",
		"address": "127.0.0.1:64999",
		"words":   words,
		"standIn": false,
	}
	if v := ask[server.InstrumentsView](plain, "PUT", "/api/instruments/m", in); len(v.Instruments) != 1 ||
		v.Instruments[0].Name != "bench meter" {
		t.Errorf("%+v", v)
	}
	if status, says := plain.detail("POST", "/api/instruments/m/identify", "{}"); status != http.StatusBadGateway ||
		!strings.Contains(says, "bench meter: nothing answers") {
		t.Errorf("%d %s", status, says)
	}
	in["address"] = "nowhere"
	data, _ := json.Marshal(in)
	if status, says := plain.detail("PUT", "/api/instruments/m", string(data)); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "is no address") {
		t.Errorf("%d %s", status, says)
	}
}
