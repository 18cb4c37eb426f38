package server_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"steptrace/core/repair"
	"steptrace/core/trace"
	"steptrace/internal/server"
)

// preamp is a sheet of two stages, with a relay and a reservoir.
const preamp = `{"format":"steptrace-sheet","version":1,"model":"PRE-4","points":[{"name":"IN","expect":[{"quantity":"ac","value":"5 mV"}]},{"name":"A","expect":[]},{"name":"OUT","expect":[]}],
"stages":[{"name":"TR1","kind":"amplifier","from":"IN","to":"A","gain":"40 dB","rails":["+18 V"]},{"name":"RL1","kind":"relay contact","from":"A","to":"OUT","gain":"0 dB"}],
"rails":[{"name":"+18 V","value":"18 V","fuse":"FS1"}],"reservoirs":[{"name":"C9","rail":"+18 V","farads":"2200 µF"}],"routes":[]}`

// repairing is a job on it.
type repairing struct {
	*workshop
	number, sent int
}

func newRepairing(w *workshop, sheetID int64) *repairing {
	return &repairing{w, ask[server.Opened](w, "POST", "/api/jobs", server.NewJob{Sheet: sheetID, Complaint: "very weak"}).Number, 0}
}

func (x *repairing) path(rest string) string { return fmt.Sprintf("/api/jobs/%d%s", x.number, rest) }

func (x *repairing) id() string {
	x.sent++
	return fmt.Sprint("x", x.sent)
}

func (x *repairing) read(point, text string) server.JobView {
	x.t.Helper()
	return ask[server.JobView](x.workshop, "POST", x.path("/readings"), json.RawMessage(taken(x.id(), point, text)))
}

func (x *repairing) note(e repair.Entry) server.JobView {
	x.t.Helper()
	e.ID = x.id()
	return ask[server.JobView](x.workshop, "POST", x.path("/repairs"), e)
}

// A set is traced, repaired, verified and finished with nothing struck out; what is open at
// the end is asked for.
func TestFromTheComplaintToShownRepaired(t *testing.T) {
	w := empty(t)
	id := ask[server.SheetView](w, "POST", "/api/sheets/import", json.RawMessage(preamp)).ID
	x := newRepairing(w, id)
	x.read("OUT", "4 mV")
	v := x.read("A", "4 mV")
	if v.Findings.Stage != "TR1" || len(v.StillOpen) != 1 || !strings.Contains(v.StillOpen[0].Text, "No repair is noted") {
		t.Fatalf("%s %+v", v.Findings.Headline, v.StillOpen)
	}
	// A jumper put in for a while counts with every reading of the signal, and has to come out.
	v = x.note(repair.Entry{Temporary: &repair.Temporary{What: repair.Jumper, Subject: "RL1"}})
	jumper := v.Repairs[0].ID
	v = x.read("OUT", "4.1 mV")
	if got := v.Findings.Readings[2].Reading.Without; len(got) != 1 || got[0] != "RL1" {
		t.Errorf("read without %v", got)
	}
	v = x.note(
		repair.Entry{
			Repair: &repair.Repair{
				Did:   repair.Replaced,
				Stage: "TR1",
				Parts: []repair.Part{{Name: "C3", Found: repair.Bad, Fitted: "10 µF"}, {Name: "R4", Found: repair.Precaution}},
			},
		},
	)
	if v.Round != 1 || v.Findings.State != trace.Verifying || v.Findings.Next.Point != "OUT" {
		t.Fatalf("round %d, %s, next %+v", v.Round, v.Findings.State, v.Findings.Next)
	}
	v = x.note(repair.Entry{Removed: &repair.Removed{Entry: jumper}})
	v = x.read("OUT", "498 mV")
	if v.Findings.State != trace.Repaired || v.Findings.Readings[3].Was != "4 mV" || len(v.StillOpen) != 0 {
		t.Fatalf("%s: %s; still open %+v", v.Findings.State, v.Findings.Headline, v.StillOpen)
	}
	// The set is on and charged: not yet.
	w.call("POST", x.path("/safety"), `{"id":"s1","kind":"on"}`)
	if status, says := w.detail("POST", x.path("/finish"), `{"outcome":"C3 open","stage":"TR1"}`); status != http.StatusConflict ||
		!strings.Contains(says, "The set is on") {
		t.Errorf("%d %s", status, says)
	}
	w.call("POST", x.path("/safety"), `{"id":"s2","kind":"off"}`)
	if status, says := w.detail("POST", x.path("/finish"), `{"outcome":"C3 open","stage":"TR1"}`); status != http.StatusConflict ||
		!strings.Contains(says, "measure C9") {
		t.Errorf("%d %s", status, says)
	}
	w.call("POST", x.path("/safety"), `{"id":"s3","kind":"residual","subject":"C9","text":"0.2 V"}`)
	if status, data := w.call("POST", x.path("/finish"), `{"outcome":"C3 open","stage":"TR1"}`); status != http.StatusOK {
		t.Errorf("%d %s", status, data)
	}
	// The file brings all of it along, and is traced alike.
	_, file := w.call("GET", x.path("/file.json"), "")
	again := ask[server.Opened](w, "POST", "/api/jobs/import", json.RawMessage(file)).Number
	v = ask[server.JobView](w, "GET", fmt.Sprintf("/api/jobs/%d", again), nil)
	if v.Findings.State != trace.Repaired || v.Round != 1 || len(v.Repairs) != 3 ||
		v.Repairs[1].Says != "Replaced: C3, now 10 µF (was bad); R4 (as a precaution) in TR1" {
		t.Errorf("brought: %s, %d entries", v.Findings.State, len(v.Repairs))
	}
}

// A repair that is struck out never was; one that did not help is followed by the next; a
// request sent twice is kept once.
func TestRepairsAreStruckOutAndFollowed(t *testing.T) {
	w := empty(t)
	x := newRepairing(w, ask[server.SheetView](w, "POST", "/api/sheets/import", json.RawMessage(preamp)).ID)
	x.read("OUT", "none")
	first := x.note(repair.Entry{Repair: &repair.Repair{Did: repair.Cleaned, Stage: "RL1"}}).Repairs[0]
	for range 2 {
		first.Entry.At = first.At.AddDate(0, 0, 1)
		if v := ask[server.JobView](w, "POST", x.path("/repairs"), first.Entry); len(v.Repairs) != 1 {
			t.Fatalf("%d entries of one sent twice", len(v.Repairs))
		}
	}
	v := x.read("OUT", "none")
	if v.Round != 1 || v.Findings.State != trace.Tracing || v.Findings.Stages[0].Weight < v.Findings.Stages[1].Weight {
		t.Errorf("%s: %+v", v.Findings.State, v.Findings.Stages)
	}
	v = x.note(
		repair.Entry{
			Repair: &repair.Repair{Did: repair.Replaced, Stage: "TR1", Parts: []repair.Part{{Name: "TR1", Found: repair.Bad}}},
		},
	)
	if v.Round != 2 {
		t.Errorf("round %d", v.Round)
	}
	v = ask[server.JobView](w, "POST", x.path("/repairs/"+v.Repairs[1].ID+"/strike"), struct{}{})
	if v.Round != 1 || len(v.Repairs) != 2 || !v.Repairs[1].Struck {
		t.Errorf("round %d after one is struck out: %+v", v.Round, v.Repairs)
	}
	// What does not matter is done without, in words.
	key := v.Findings.Verify[0].Key
	if status, says := w.detail("POST", x.path("/waive"), fmt.Sprintf(`{"stage":"","key":%q,"reason":"x"}`,
		key)); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "not missing") {
		t.Errorf("what reads wrong was waived: %d %s", status, says)
	}
}

// The model learns from parts that failed; not from a wrong part that somebody had fitted,
// nor from a lead put right.
func TestTheModelLearnsRealFailures(t *testing.T) {
	weight := func(did repair.Did, found repair.Found) float64 {
		w := empty(t)
		id := ask[server.SheetView](w, "POST", "/api/sheets/import", json.RawMessage(preamp)).ID
		if did != "" {
			x := newRepairing(w, id)
			x.read("OUT", "none")
			x.note(repair.Entry{Repair: &repair.Repair{Did: did, Stage: "TR1", Parts: []repair.Part{{Name: "R4", Found: found}}}})
			x.read("OUT", "500 mV")
			if status, data := w.call("POST", x.path("/finish"), `{"outcome":"R4","stage":"TR1"}`); status != http.StatusOK {
				t.Fatalf("%d %s", status, data)
			}
		}
		return newRepairing(w, id).read("OUT", "none").Findings.Stages[0].Weight
	}
	plain := weight("", "")
	for _, c := range []struct {
		did   repair.Did
		found repair.Found
		more  bool
	}{{repair.Replaced, repair.Bad, true}, {repair.Replaced, repair.Wrong, false}, {repair.Replaced, repair.Precaution, false},
		{repair.PutRight, repair.Bad, false}} {
		if got := weight(c.did, c.found); got > plain+1e-9 != c.more {
			t.Errorf("%s, found %s: TR1 weighs %.3f in the next job, %.3f without", c.did, c.found, got, plain)
		}
	}
}
