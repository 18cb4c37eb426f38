package server_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/wait"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// everything is a workshop as it can be compared: each job as its file, with its sheet as it stands for it, and the rest by its lists.
func everything(t *testing.T, w *workshop) map[string]string {
	t.Helper()
	out := map[string]string{}
	jobs, err := w.store.KeptJobs(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, k := range jobs {
		_, data := w.call("GET", fmt.Sprintf("/api/jobs/%d/file.json", k.Number), "")
		out["job "+k.Key] = string(data)
	}
	sheets, err := w.store.KeptSheets(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, k := range sheets {
		all, err := w.store.Revisions(t.Context(), k.ID)
		if err != nil {
			t.Fatal(err)
		}
		for i, r := range all {
			out[fmt.Sprintf("sheet %s/%d", k.Key, i+1)] = fmt.Sprintf(
				"%s %d %v %s",
				r.Saved.Format(time.RFC3339Nano),
				r.Back,
				k.Own,
				r.Document.WriteJSON(),
			)
		}
		pictures, err := w.store.Pictures(t.Context(), k.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range pictures {
			data, err := w.store.SheetPicture(t.Context(), k.ID, p.ID, false)
			if err != nil {
				t.Fatal(err)
			}
			out["picture "+k.Key+"/"+p.ID] = fmt.Sprintf("%+v %d bytes", p.Pins, len(data))
		}
	}
	for _, path := range []string{"/api/drawer", "/api/shop.json", "/api/types.csv", "/api/experience.json"} {
		_, data := w.call("GET", path, "")
		out[path] = string(data)
	}
	return out
}

func differ(t *testing.T, what string, got, want map[string]string) {
	t.Helper()
	for k, x := range want {
		if got[k] != x {
			t.Errorf("%s: %s differs: %.300s\nwant %.300s", what, k, got[k], x)
		}
	}
	if len(got) != len(want) {
		t.Errorf("%s: %d things, want %d", what, len(got), len(want))
	}
}

func (w *workshop) whole() []byte {
	w.t.Helper()
	status, data := w.call("GET", "/api/whole.zip", "")
	if status != http.StatusOK {
		w.t.Fatalf("%d %.300s", status, data)
	}
	return data
}

func (w *workshop) takeWhole(data []byte) (out server.WholeTaken) {
	w.t.Helper()
	status, answer := w.call("POST", "/api/whole", string(data))
	if err := json.Unmarshal(answer, &out); err != nil || status != http.StatusOK {
		w.t.Fatalf("%d %.500s", status, answer)
	}
	return out
}

// The workshop goes out and into an empty one, whole and under the same numbers; taken in again nothing is doubled. Into one that has
// jobs of its own, its jobs come beside those, under numbers that are free; what has gone on since on either side is neither lost nor
// doubled.
func TestAWholeWorkshopGoesOutAndIn(t *testing.T) {
	from := open(t)
	grown := ask[server.JobView](from, "GET", "/api/jobs/148", nil)
	if _, status, says := from.grow(t, 148, grown.Revision, `"do":"rename","at":"`+grown.Spots[0].Name+`","name":"renamed"`); status >= 500 {
		t.Fatal(status, says)
	}
	want := everything(t, from)
	data := from.whole()
	into := empty(t)
	first := into.takeWhole(data)
	if first.Jobs != 9 || first.Here != 0 || len(first.Refused)+len(first.Moved) > 0 {
		t.Fatalf("%+v", first)
	}
	differ(t, "into an empty one", everything(t, into), want)
	again := into.takeWhole(data)
	if again.Jobs != 0 || again.Here != 9 || again.Sheets != 0 || again.Other != 0 || len(again.Refused) > 0 {
		t.Errorf("again: %+v", again)
	}
	differ(t, "again", everything(t, into), want)

	other := open(t) // the demo's jobs, under the same numbers, though others
	before := everything(t, other)
	taken := other.takeWhole(data)
	if taken.Jobs != 9 || len(taken.Moved) != 9 || len(taken.Refused) > 0 {
		t.Errorf("beside others: %+v", taken)
	}
	after := everything(t, other)
	for k, x := range before {
		if strings.HasPrefix(k, "job ") && after[k] != x {
			t.Errorf("%s was changed", k)
		}
	}
	if jobs, err := other.store.KeptJobs(t.Context()); err != nil || len(jobs) != 18 {
		t.Errorf("%d jobs, %v", len(jobs), err)
	}

	// Both go on: a sheet gets another revision there, a job an entry here.
	if _, data := from.call("POST", "/api/jobs/145/waits", `{"id":"later","wait":{"for":"part","what":"C9"}}`); !bytes.Contains(
		data,
		[]byte("C9"),
	) {
		t.Fatalf("%s", data)
	}
	if _, data := from.call("POST", "/api/jobs", `{"set":"subwoofer plate","pattern":"subwoofer plate","complaint":"dead"}`); !bytes.Contains(
		data,
		[]byte("number"),
	) {
		t.Fatalf("%s", data)
	}
	more := into.takeWhole(from.whole())
	if more.Jobs != 1 || more.Here != 9 || more.Sheets != 1 {
		t.Errorf("later: %+v", more)
	}
}

// Sheets that went on in one workshop, or in both, are put together by what they have in common.
func TestSheetsThatWentOnArePutTogether(t *testing.T) {
	a, b := empty(t), empty(t)
	model := func(w *workshop, id int64, name string) {
		t.Helper()
		x, err := w.store.Sheet(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		d := *x.Document
		d.Model = name
		if err := w.store.SaveSheet(t.Context(), id, x.Revision, &d); err != nil {
			t.Fatal(err)
		}
	}
	id, err := a.store.AddSheet(t.Context(), invented(rand.New(rand.NewPCG(1, 2)), 1, 6))
	if err != nil {
		t.Fatal(err)
	}
	b.takeWhole(a.whole())
	model(a, id, "second")
	b.takeWhole(a.whole())
	if all, err := b.store.Revisions(t.Context(), 1); err != nil || len(all) != 2 || all[1].Document.Model != "second" {
		t.Fatalf("the later revision is not there: %d %v", len(all), err)
	}
	model(b, 1, "third")
	a.takeWhole(b.whole())
	if all, err := a.store.Revisions(t.Context(), id); err != nil || len(all) != 3 {
		t.Fatalf("%d %v", len(all), err)
	}
	model(a, id, "here")
	model(b, 1, "there")
	for range 2 {
		if out := a.takeWhole(b.whole()); len(out.Refused) > 0 {
			t.Errorf("%+v", out)
		}
	}
	sheets, err := a.store.KeptSheets(t.Context())
	if err != nil || len(sheets) != 2 {
		t.Fatalf("%+v %v", sheets, err)
	}
	var names []string
	for _, k := range sheets {
		x, err := a.store.Sheet(t.Context(), k.ID)
		if err != nil {
			t.Fatal(err)
		}
		names = append(names, x.Document.Model)
	}
	if !slices.Equal(names, []string{"here", "there"}) {
		t.Errorf("%v", names)
	}
}

// altered is a zip with some of its files changed.
func altered(t *testing.T, data []byte, change func(name string, was []byte) []byte) []byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	files := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		was, err := io.ReadAll(r)
		if err != nil {
			t.Fatal(err)
		}
		if now := change(f.Name, was); now != nil {
			files[f.Name] = string(now)
		}
	}
	return []byte(bundled(t, files))
}

// Half files, and files that lie, are refused in words; what can be taken is, each thing whole.
func TestHostileWorkshops(t *testing.T) {
	data := open(t).whole()
	index := func(f func(x map[string]any)) func(string, []byte) []byte {
		return func(name string, was []byte) []byte {
			if name != "index.json" {
				return was
			}
			var x map[string]any
			if err := json.Unmarshal(was, &x); err != nil {
				t.Fatal(err)
			}
			f(x)
			out, err := json.Marshal(x)
			if err != nil {
				t.Fatal(err)
			}
			return out
		}
	}
	for name, x := range map[string]struct {
		data    []byte
		status  int
		says    string
		jobs    int
		refused int
	}{
		"cut off": {data[:len(data)/2], 422, "breaks off", 0, 0},
		"empty":   {nil, 422, "breaks off", 0, 0},
		"no index": {altered(t, data, func(n string, b []byte) []byte { return pick(n != "index.json", b) }), 422,
			"no index.json", 0, 0},
		"a later format": {altered(t, data, index(func(x map[string]any) { x["version"] = 2 })), 422, "steptrace-whole 2", 0, 0},
		"another key":    {altered(t, data, index(func(x map[string]any) { x["more"] = 1 })), 422, "more", 0, 0},
		"a job is missing": {altered(t, data, func(n string, b []byte) []byte { return pick(n != "jobs/145.json", b) }), 200,
			"no jobs/145.json", 8, 1},
		"a job is broken": {altered(t, data, func(n string, b []byte) []byte {
			if n == "jobs/145.json" {
				return b[:len(b)/2]
			}
			return b
		}), 200, "job No. 145", 8, 1},
		"no types": {altered(t, data, func(n string, b []byte) []byte { return pick(n != "types.csv", b) }), 200, "no types.csv", 9, 1},
		"no keys": {altered(t, data, index(func(x map[string]any) {
			for _, j := range x["jobs"].([]any) {
				j.(map[string]any)["key"] = ""
			}
		})), 200, "Its key", 0, 9},
		"climbing out": {altered(t, data, index(func(x map[string]any) {
			x["jobs"].([]any)[0].(map[string]any)["file"] = "../../etc/passwd"
		})), 200, "There is no ../../etc/passwd", 8, 1},
	} {
		w := empty(t)
		status, answer := w.call("POST", "/api/whole", string(x.data))
		if status != x.status || !strings.Contains(string(answer), x.says) {
			t.Errorf("%s: %d %.400s", name, status, answer)
			continue
		}
		jobs, err := w.store.KeptJobs(t.Context())
		if err != nil || len(jobs) != x.jobs {
			t.Errorf("%s: %d jobs are there, want %d", name, len(jobs), x.jobs)
		}
		var out server.WholeTaken
		if err := json.Unmarshal(answer, &out); status == 200 && (err != nil || len(out.Refused) != x.refused) {
			t.Errorf("%s: %d refused, want %d: %v", name, len(out.Refused), x.refused, out.Refused)
		}
	}
}

func pick(keep bool, b []byte) []byte {
	if keep {
		return b
	}
	return nil
}

// A job whose entries were noted by several people comes with their initials.
func TestInitialsGoAlong(t *testing.T) {
	w := open(t)
	ctx := store.From(t.Context(), store.Sender{Who: "mk"})
	e := &wait.Entry{ID: "by-mk", At: time.Now(), Wait: &wait.Wait{For: wait.Part, What: "C9"}}
	if err := w.store.Note(ctx, 145, e, nil); err != nil {
		t.Fatal(err)
	}
	into := empty(t)
	into.takeWhole(w.whole())
	a, b := w.file(145), into.file(145)
	if !reflect.DeepEqual(a.Waits, b.Waits) || a.Waits[len(a.Waits)-1].Who != "mk" {
		t.Errorf("%+v\n%+v", a.Waits, b.Waits)
	}
	same(t, "145", &b.Job, &a.Job)
}
