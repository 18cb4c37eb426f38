package e2e

import (
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/demo"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// walker takes steps in one workshop.
type walker struct {
	t       *testing.T
	rng     *rand.Rand
	handler http.Handler
	jobs    []int
	on      int // the job that it is at
	steps   int
	taken   int                     // requests that changed something
	kept    map[int]map[string]bool // acknowledged readings, by job
	noted   map[int]map[string]bool // acknowledged repairs
	last    string
}

func newWalker(t *testing.T, seed uint64) *walker {
	t.Helper()
	db, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "walk.db"))
	must(t, err)
	t.Cleanup(func() { _ = db.Close() })
	s := server.New(db, fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}}, nil)
	must(t, demo.Fill(t.Context(), s))
	w := &walker{
		t:       t,
		rng:     rand.New(rand.NewPCG(seed, 12)),
		handler: s.Handler(),
		jobs:    []int{139, 142, 145, 146, 147, 148},
		kept:    map[int]map[string]bool{},
		noted:   map[int]map[string]bool{},
	}
	for i := range 6 {
		data, err := json.Marshal(anySheet(w.rng, i))
		must(t, err)
		var v server.SheetView
		if !w.call("POST", "/api/sheets/import", string(data), &v) {
			continue // it may well have a fault that blocks it
		}
		var opened server.Opened
		if w.call("POST", "/api/jobs", fmt.Sprintf(`{"sheet":%d,"complaint":"no sound, then weak"}`, v.ID), &opened) {
			w.jobs = append(w.jobs, opened.Number)
		}
	}
	return w
}

// call asks; true where it was answered with 200. What answers otherwise has to be a refusal
// in words.
func (w *walker) call(method, path, body string, into any) bool {
	w.t.Helper()
	w.last = fmt.Sprintf("%s %s %.300s", method, path, body)
	rec := httptest.NewRecorder()
	w.handler.ServeHTTP(rec, fromHere(method, "http://127.0.0.1"+path, strings.NewReader(body)))
	data := rec.Body.Bytes()
	if rec.Code >= 500 {
		w.t.Fatalf("step %d: %s: %d %s", w.steps, w.last, rec.Code, data)
	}
	if rec.Code != http.StatusOK {
		var p server.ProblemDetails
		if json.Unmarshal(data, &p) != nil || p.Detail == "" && len(p.Problems) == 0 {
			w.t.Fatalf("step %d: %s: %d without words: %s", w.steps, w.last, rec.Code, data)
		}
		return false
	}
	if method != "GET" {
		w.taken++
	}
	if into != nil {
		if err := json.Unmarshal(data, into); err != nil {
			w.t.Fatalf("step %d: %s: %v in %.200s", w.steps, w.last, err, data)
		}
	}
	return true
}

func (w *walker) some(of ...string) string { return of[w.rng.IntN(len(of))] }

// texts are what hands type, right and wrong.
var texts = []string{
	"ok",
	"none",
	"weak",
	"partly",
	"open",
	"warm",
	"cold",
	"over range",
	"hum",
	"noisy",
	"crackle",
	"distorted",
	"cuts out",
	"10m",
	"9.8 mV",
	"1 V",
	"300 mVpp",
	"-20 dBV",
	"0",
	"12",
	"-11",
	"4.1",
	"1 kHz",
	"455k",
	"0.2 ohm",
	"330",
	"OL",
	"1e300",
	"31q",
	"",
	"5 A",
	"12 bananas",
	"3,3 V",
	"-3",
	"tap comes",
	"cool nothing",
	"25.11 kHz",
	"0.4 %",
	"35 W",
	"48 °C",
	"2.4 kHz deviation",
	"130 mA",
	"12 dB",
	"1e-300 V",
	"∞",
}

// job is the job as the bench has it now, which is the check of everything that was done.
func (w *walker) job(number int) server.JobView {
	w.t.Helper()
	var v server.JobView
	if !w.call("GET", fmt.Sprintf("/api/jobs/%d", number), "", &v) {
		w.t.Fatalf("step %d: job %d cannot be seen", w.steps, number)
	}
	if v.Findings == nil {
		return v
	}
	for id := range w.kept[number] {
		if !slices.ContainsFunc(v.Findings.Readings, func(j reading.Judged) bool { return j.Reading.ID == id }) {
			w.t.Fatalf("step %d: reading %s of job %d was acknowledged and is missing", w.steps, id, number)
		}
	}
	for id := range w.noted[number] {
		if !slices.ContainsFunc(v.Repairs, func(r server.NotedRepair) bool { return r.ID == id }) {
			w.t.Fatalf("step %d: repair %s of job %d was acknowledged and is missing", w.steps, id, number)
		}
	}
	return v
}

func keep(of map[int]map[string]bool, number int, id string) {
	if of[number] == nil {
		of[number] = map[string]bool{}
	}
	of[number][id] = true
}

// step does one thing in one job, and looks at the job afterwards.
func (w *walker) step() {
	w.t.Helper()
	w.steps++
	if w.on == 0 || w.rng.IntN(15) == 0 { // stays with a job for a while
		w.on = w.jobs[w.rng.IntN(len(w.jobs))]
	}
	number := w.on
	v := w.job(number)
	at := func(rest string) string { return fmt.Sprintf("/api/jobs/%d%s", number, rest) }
	places := w.places(&v)
	place := places[w.rng.IntN(len(places))]
	id := fmt.Sprintf("w%d", w.steps)
	quote := func(s string) string { data, _ := json.Marshal(s); return string(data) }
	conditions := w.conditions(&v)
	switch w.rng.IntN(26) {
	case 0, 1, 2, 3, 4, 5, 6, 7: // what is proposed, or anything else
		text, quantity, worked, without := texts[w.rng.IntN(len(texts))], w.some(
			"",
			"",
			"ac",
			"dc",
			"frequency",
			"resistance",
			"deviation",
			"power",
			"distortion",
			"temperature",
			"current",
			"track",
			"onPart",
		), false, []string{}
		if f := v.Findings; f != nil && f.Next != nil && w.rng.IntN(3) > 0 {
			place, quantity, worked, without = f.Next.Point, string(f.Next.Quantity), f.Next.Worked, f.Next.Without
			if f.Next.Injected == nil || w.rng.IntN(2) == 0 {
				data, _ := json.Marshal(server.Conditions{Route: f.Next.Route, Injected: f.Next.Injected, Instrument: v.Instrument})
				conditions = string(data)
			}
			text = w.some("ok", "none", "10m", "12", "tap nothing", text)
			if f.Next.Injected != nil && f.Next.Injected.Touch {
				text = w.some("ok", "weak", "none", "crackle")
			}
		}
		data, _ := json.Marshal(without)
		body := fmt.Sprintf(
			`{"id":%q,"point":%s,"quantity":%q,"text":%s,"without":%s,"worked":%t,"conditions":%s}`,
			id,
			quote(place),
			quantity,
			quote(text),
			data,
			worked,
			conditions,
		)
		w.call("POST", at("/echo"), body, nil)
		if w.call("POST", at("/readings"), body, nil) {
			keep(w.kept, number, id)
			w.call("POST", at("/readings"), body, nil) // the answer got lost
		}
	case 8:
		if f := v.Findings; f != nil && len(f.Readings) > 0 {
			w.call("POST", at("/readings/"+f.Readings[w.rng.IntN(len(f.Readings))].Reading.ID+"/strike"), `{"reason":"slipped"}`, nil)
		}
	case 9:
		route := ""
		if len(v.Routes) > 0 {
			route = v.Routes[w.rng.IntN(len(v.Routes))].Key
		}
		w.call(
			"PUT",
			at("/bench"),
			fmt.Sprintf(
				`{"route":%s,"instrument":%q,"way":%q,"at":%s,"level":%q,"frequency":%q}`,
				quote(route),
				w.some("scope10", "meter", "scope1", "odd"),
				w.some(
					"halve",
					"front",
					"back",
					"supplies",
					"reach",
					"weak",
					"touch",
					"touch",
					"sideways",
				),
				quote(w.some("", place)),
				w.some("", "touch", "2 mV", "-3"),
				w.some("", "1 kHz"),
			),
			nil,
		)
	case 10:
		w.mark(at, id)
	case 11:
		w.call(
			"POST",
			at("/safety"),
			fmt.Sprintf(
				`{"id":%q,"kind":%q,"subject":%s,"text":%q,"confirmed":%t}`,
				id,
				w.some("on", "off", "standby", "residual", "tick", "untick"),
				quote(w.some("mains", "C90", "C91", "C501")),
				w.some("0", "3 V", "41"),
				w.rng.IntN(2) == 0,
			),
			nil,
		)
	case 12:
		w.call(
			"POST",
			at("/strip"),
			fmt.Sprintf(
				`{"id":%q,"kind":%q,"text":%q}`,
				id,
				w.some("screws", "plug", "part", "glue"),
				w.some("4 M3, cover", "P2 5 way, main to front", "0 of", "knob"),
			),
			nil,
		)
		var strip server.StripView
		if w.call("GET", at("/strip"), "", &strip); len(strip.Steps) > 0 {
			w.call(
				"POST",
				at("/strip/"+strip.Steps[w.rng.IntN(len(strip.Steps))].ID+w.some("/back", "/back", "/strike")),
				`{"count":1}`,
				nil,
			)
		}
	case 13, 14:
		w.repair(at, number, id, &v, place)
	case 15:
		w.inside(at, id)
	case 16:
		if f := v.Findings; f != nil {
			for _, g := range append(f.Grounds, f.Verify...) {
				w.call(
					"POST",
					at("/waive"),
					fmt.Sprintf(`{"stage":%s,"key":%s,"reason":"potted"}`, quote(w.some(f.Stage, "")), quote(g.Key)),
					nil,
				)
				break
			}
		}
	case 17:
		w.finish(at, &v)
	case 18:
		w.spoil(v.SheetID)
	case 19:
		w.call(
			"POST",
			at("/intake"),
			fmt.Sprintf(
				`{"field":%q,"text":%q}`,
				w.some("age", "repairs", "past", "works", "colour"),
				w.some("old", "S1 changed", "damp;heat", ""),
			),
			nil,
		)
	case 20:
		w.call(
			"POST",
			at("/captures?"+url.Values{"id": {id}, "name": {"x.csv"}, "point": {place}, "conditions": {conditions}}.Encode()),
			"time,CH1 (V)\n0,0\n1e-4,0.5\n2e-4,1\n3e-4,0.4\n4e-4,0\n",
			nil,
		)
	case 21:
		w.travel(at)
	case 22:
		rail := "+5 V"
		if n := len(v.Supplies); n > 0 {
			rail = v.Supplies[w.rng.IntN(n)].Name
		}
		w.call(
			"POST",
			at("/hangs"),
			fmt.Sprintf(
				`{"rail":%s,"names":[%q,%q]}`,
				quote(rail),
				w.some("C81", "Q12", ""),
				w.some("C81", "IC3", "a very long name, with a comma"),
			),
			nil,
		)
	default:
		w.call(
			"GET",
			at(w.some("/intake", "/safety", "/strip", "/captures", "/inside", "/inside/wave", "/repairs", "/file.json", "/practice")),
			"",
			nil,
		)
	}
	w.job(number)
}

// places are all names that can be read in a job, and one that cannot.
func (w *walker) places(v *server.JobView) []string {
	out := []string{"nowhere", "F0"}
	if v.Findings == nil {
		return out
	}
	for _, p := range v.Findings.Points {
		out = append(out, p.Name, p.Name)
	}
	for _, l := range append(v.Findings.Rails, v.Findings.Controls...) {
		out = append(out, l.Name)
	}
	for _, s := range v.Findings.Stages {
		out = append(out, s.Name)
	}
	return out
}

func (w *walker) conditions(v *server.JobView) string {
	c := server.Conditions{Route: v.Route, Injected: v.Injected, Instrument: w.some("scope10", "meter", "")}
	if len(v.Routes) > 0 && w.rng.IntN(4) == 0 {
		c.Route = v.Routes[w.rng.IntN(len(v.Routes))].Key
	}
	data, _ := json.Marshal(c)
	return string(data)
}

func (w *walker) mark(at func(string) string, id string) {
	var v server.IntakeView
	if !w.call("GET", at("/intake"), "", &v) || v.Matrix == nil || len(v.Matrix.Rows) == 0 {
		return
	}
	row := v.Matrix.Rows[w.rng.IntN(len(v.Matrix.Rows))]
	cell := row.Cells[w.rng.IntN(len(row.Cells))]
	data, _ := json.Marshal(server.Mark{ID: id, Mode: row.Mode, Entry: row.Entry, Exit: cell.Exit, Without: row.Without, Word: "ok"})
	w.call(
		"POST",
		at("/marks"),
		strings.Replace(string(data), `"word":"ok"`, `"word":"`+w.some("ok", "weak", "partly", "cuts out", "none", "", "loud")+`"`, 1),
		nil,
	)
}

func (w *walker) repair(at func(string) string, number int, id string, v *server.JobView, place string) {
	stage, _ := json.Marshal(w.some("", place))
	body := ""
	switch w.rng.IntN(4) {
	case 0, 1:
		body = fmt.Sprintf(
			`"repair":{"did":%q,"stage":%s,"parts":[{"name":"C1","found":%q,"fitted":"10 µF"}]}`,
			w.some("replaced", "cleaned", "re-soldered", "kicked"),
			stage,
			w.some("bad", "wrong", "precaution"),
		)
	case 2:
		body = fmt.Sprintf(`"temporary":{"what":%q,"subject":%s}`, w.some("jumper", "fuse bridged", "lifted"), stage)
	default:
		entry := ""
		for _, r := range v.Repairs {
			entry = r.ID
		}
		body = fmt.Sprintf(`"removed":{"entry":%q}`, entry)
		if entry != "" && w.rng.IntN(3) == 0 {
			w.call("POST", at("/repairs/"+entry+"/strike"), "{}", nil)
		}
	}
	if w.call("POST", at("/repairs"), fmt.Sprintf(`{"id":%q,"at":"2026-11-24T10:00:00Z",%s}`, id, body), nil) {
		keep(w.noted, number, id)
	}
}

func (w *walker) inside(at func(string) string, id string) {
	var v server.InsideView
	if !w.call("GET", at("/inside"), "", &v) {
		return
	}
	stage := v.Stages[w.rng.IntN(len(v.Stages))].Stage
	if !w.call("GET", at("/inside?stage="+url.QueryEscape(stage)), "", &v) {
		return
	}
	node, part := "x", "R1"
	if n := len(v.View.Nodes); n > 0 {
		node = v.View.Nodes[w.rng.IntN(n)].Node
	}
	if n := len(v.View.Parts); n > 0 {
		part = v.View.Parts[w.rng.IntN(n)].Name
	}
	to := node
	if n := len(v.View.Nodes); n > 0 {
		to = w.some("", v.View.Nodes[w.rng.IntN(n)].Node)
	}
	q := func(s string) string { data, _ := json.Marshal(s); return string(data) }
	body := w.some(
		fmt.Sprintf(`"reading":{"what":"dc","node":%s,"value":%q}`, q(node), w.some("0.2", "12 V", "none")),
		fmt.Sprintf(
			`"reading":{"what":%q,"node":%s,"to":%s,"value":%q}`,
			w.some("ohms", "dc"),
			q(node),
			q(to),
			w.some("4k7", "open", "0.3", "1.2 V"),
		),
		fmt.Sprintf(
			`"check":{"part":%s,"kind":%q,"given":{"value":"4k7","measured":%q}}`,
			q(part),
			w.some("resistor", "capacitor", "continuity", "diode", "relay"),
			w.some("4k6", "OL", "0", "10 µF", "x"),
		),
		fmt.Sprintf(`"provoked":{"place":%s,"act":%q,"came":%q}`, q(part), w.some("tap", "cool"), w.some("comes", "goes", "nothing")),
		fmt.Sprintf(`"condemned":{"part":%s,"what":"open","why":["reads open"],"found":%q}`, q(part), w.some("bad", "wrong", "")),
	)
	w.call(
		"POST",
		"/api/part",
		fmt.Sprintf(
			`{"kind":%q,"given":{"value":"4k7","measured":%q},"job":%d,"stage":%s,"part":%s}`,
			w.some("resistor", "capacitor", "continuity"),
			w.some("4k6", "OL", "0", "12 bananas"),
			w.on,
			q(stage),
			q(part),
		),
		nil,
	)
	w.call("POST", at("/inside"), fmt.Sprintf(`{"id":%q,"stage":%s,"at":"2026-11-24T10:00:00Z",%s}`, id, q(stage), body), nil)
}

func (w *walker) finish(at func(string) string, v *server.JobView) {
	if v.Finished != nil {
		w.call("POST", at("/reopen"), "{}", nil)
		return
	}
	without := []map[string]string{}
	for _, o := range v.StillOpen {
		if w.rng.IntN(4) > 0 {
			without = append(without, map[string]string{"key": o.Key, "text": o.Text, "why": "goes back so"})
		}
	}
	data, _ := json.Marshal(without)
	w.call("POST", at("/finish"), fmt.Sprintf(`{"outcome":"C1 open","stage":%q,"without":%s}`, w.some("", "S1", "S2"), data), nil)
}

// spoil changes a cell of a sheet that jobs run on, and sometimes mends it again.
func (w *walker) spoil(id int64) {
	path := fmt.Sprintf("/api/sheets/%d", id)
	var v server.SheetView
	if !w.call("GET", path, "", &v) {
		return
	}
	i := w.rng.IntN(len(v.Tables.Tables))
	if len(v.Tables.Tables[i].Rows) == 0 {
		return
	}
	k := w.rng.IntN(len(v.Tables.Tables[i].Rows))
	column := w.rng.IntN(len(v.Tables.Tables[i].Rows[k]))
	was := v.Tables.Tables[i].Rows[k][column]
	v.Tables.Tables[i].Rows[k][column] = w.some("12 bananas", "", "P1", "5 V", "-3")
	data, _ := json.Marshal(server.SavedSheet{Revision: v.Revision, Tables: v.Tables})
	v = server.SheetView{}
	if !w.call("PUT", path, string(data), &v) {
		return
	}
	if w.rng.IntN(4) > 0 { // mended at once, after a look at it
		for _, n := range w.jobs {
			w.job(n)
		}
		data, _ = json.Marshal(server.SavedSheet{Revision: v.Revision, Tables: mended(v.Tables, i, k, column, was)})
		w.call("PUT", path, string(data), nil)
	}
}

// mended puts a text back into its cell; where the row became another by what stood there,
// the sheet is left as it is.
func mended(t sheet.Tables, table, row, column int, text string) sheet.Tables {
	if row < len(t.Tables[table].Rows) {
		t.Tables[table].Rows[row][column] = text
	}
	return t
}

// Thousands of steps over the API.
func TestAWalkOverTheAPI(t *testing.T) {
	const seeds, steps = 20, 300
	all := 0
	for seed := range uint64(seeds) {
		t.Run(fmt.Sprintf("seed %d", seed), func(t *testing.T) {
			t.Parallel()
			w := newWalker(t, seed)
			for range steps {
				w.step()
			}
			if w.taken < steps/2 {
				t.Errorf("of %d steps %d changed anything", steps, w.taken)
			}
			t.Logf("%d steps, %d of them with changes, %d jobs, %d readings kept", steps, w.taken, len(w.jobs), len(w.kept))
		})
		all += steps
	}
	t.Logf("%d steps, seeds 0 to %d", all, seeds-1)
}

// fromHere is a request from the machine itself, to a handler that is asked without a network.
func fromHere(method, url string, body io.Reader) *http.Request {
	r := httptest.NewRequest(method, url, body)
	r.RemoteAddr = "127.0.0.1:40000"
	return r
}
