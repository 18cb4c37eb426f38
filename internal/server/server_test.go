package server_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"io"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"

	"github.com/go-chi/chi/v5"

	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/demo"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// workshop is a server with the demo workshop on a disk of its own.
type workshop struct {
	t       testing.TB
	store   *store.Store
	server  *server.Server
	handler http.Handler
}

func empty(t testing.TB) *workshop {
	t.Helper()
	db, err := store.Open(context.Background(), filepath.Join(t.TempDir(), "w.db"))
	if err != nil {
		t.Fatal(err)
	}
	s := server.New(db, fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}, "assets/a.js": {Data: []byte("1")}}, nil)
	t.Cleanup(func() {
		s.Close()
		if err := db.Close(); err != nil {
			t.Error(err)
		}
	})
	return &workshop{t, db, s, s.Handler()}
}

func open(t testing.TB) *workshop {
	w := empty(t)
	if err := demo.Fill(context.Background(), w.server); err != nil {
		t.Fatal(err)
	}
	return w
}

func (w *workshop) routes() chi.Routes { return w.handler.(chi.Routes) }

func (w *workshop) call(method, path, body string) (int, []byte) {
	return w.send(method, path, "", body)
}

// fromHere is a request from the machine itself.
func fromHere(method, url, body string) *http.Request {
	r := httptest.NewRequest(method, url, strings.NewReader(body))
	r.RemoteAddr = "127.0.0.1:40000"
	return r
}

// send calls with a content type.
func (w *workshop) send(method, path, kind, body string) (int, []byte) {
	r := fromHere(method, "http://127.0.0.1"+path, body)
	if kind != "" {
		r.Header.Set("Content-Type", kind)
	}
	rec := httptest.NewRecorder()
	w.handler.ServeHTTP(rec, r)
	data, err := io.ReadAll(rec.Body)
	if err != nil {
		w.t.Fatal(err)
	}
	return rec.Code, data
}

func (w *workshop) detail(method, path, body string) (int, string) {
	status, data := w.call(method, path, body)
	var p server.ProblemDetails
	if err := json.Unmarshal(data, &p); err != nil {
		w.t.Fatalf("%s %s: %s", method, path, data)
	}
	return status, p.Detail
}

func taken(id, point, text string) string {
	b, _ := json.Marshal(
		map[string]any{
			"id":         id,
			"point":      point,
			"text":       text,
			"conditions": map[string]any{"route": "", "injected": nil, "instrument": ""},
		},
	)
	return string(b)
}

func TestRefusalsSayWhatToDo(t *testing.T) {
	w := open(t)
	for _, c := range []struct {
		name, method, path, body string
		status                   int
		says                     string
	}{
		{"unreadable number", "POST", "/api/jobs/142/readings", taken("1", "J7-2", "31q"), 422, `"31q", character 3`},
		{"unknown point", "POST", "/api/jobs/142/readings", taken("1", "TP99", "31m"), 422, "neither a point, a rail nor a control"},
		{"no id", "POST", "/api/jobs/142/readings", taken("", "J7-2", "31m"), 422, "needs an id"},
		{"finished job", "POST", "/api/jobs/139/readings", taken("1", "J9-1", "31m"), 409, "back on the bench first"},
		{"unknown job", "GET", "/api/jobs/9", "", 404, "no job number 9"},
		{"job that is no number", "GET", "/api/jobs/one", "", 404, "is not a number"},
		{"unknown sheet", "GET", "/api/sheets/99", "", 404, "no service sheet number 99"},
		{"unknown reading", "POST", "/api/jobs/142/readings/zz/strike", `{"reason":""}`, 404, "no such entry"},
		{"unknown address", "GET", "/api/nothing", "", 404, "docs/api.md"},
		{"wrong method", "DELETE", "/api/jobs", "", 405, "does not work on"},
		{"half a body", "POST", "/api/jobs", `{"sheet": 1, "comp`, 400, "ends in the middle"},
		{"unknown field", "POST", "/api/jobs", `{"sheet": 1, "colour": 2}`, 400, "colour"},
		{"no complaint", "POST", "/api/jobs", `{"sheet": 1, "complaint": "  "}`, 422, "what is wrong with the set"},
		{"no such sheet for a job", "POST", "/api/jobs", `{"sheet": 77, "complaint": "x"}`, 422, "Say what the set is"},
		{"complaint too long", "POST", "/api/jobs", fmt.Sprintf(`{"sheet": 1, "complaint": %q}`, strings.Repeat("x", 2001)), 422,
			"shorten it"},
		{"body too large", "POST", "/api/jobs", strings.Repeat(" ", 1<<20+1), 413, "More than 1024 kB"},
		{"file too large", "POST", "/api/sheets/import", strings.Repeat("x,y\n", 3<<20), 413, "More than 8192 kB"},
		{"sheet file of junk", "POST", "/api/sheets/import", "\x00\x01\x02", 422, "not text"},
		{"sheet with a loop", "POST", "/api/sheets/import", "model,L\npoint,stage,from,ac\nA,,,1 V\nB,S,A,1 " +
			"V\n\nstage,from,to\nT,B,A\n", 422, "run in a loop"},
		{"job for a sheet that is not here", "POST", "/api/jobs/import",
			`{"format":"steptrace-job","version":1,"sheet":{"model":"?"},"number":1,"complaint":"x","opened":"2026-01-01T00:00:00Z","readings":[]}`, 422, "import that first"},
		{"job whose text is not its value", "POST", "/api/jobs/import", `{"format":"steptrace-job","version":1,"sheet":{"maker":"Ostrel","model":"RT-7"},"number":1,"complaint":"x","opened":"2026-01-01T00:00:00Z",
			"readings":[{"id":"1","point":"J7-2","quantity":"ac","text":"31m","si":31,"taken":"2026-01-01T00:00:00Z"}]}`, 422, `"31m" does not read as the value 31`},
		{"feeding in nowhere", "PUT", "/api/jobs/142/bench", `{"route":"","instrument":"","at":"nowhere","level":"","frequency":""}`, 422,
			"neither a point, a rail nor a control"},
		{"feeding in nothing", "PUT", "/api/jobs/142/bench", `{"route":"","instrument":"","at":"J2-4","level":"0","frequency":""}`, 422,
			"above zero"},
		{"unknown route", "PUT", "/api/jobs/142/bench", `{"route":"x","instrument":"","at":"","level":"","frequency":""}`, 422,
			"Reload the page"},
		{"foreign way", "PUT", "/api/jobs/142/bench", `{"route":"","instrument":"","way":"sideways","at":"","level":"","frequency":""}`,
			422, "is not a way of working"},
		{"finish without a word", "POST", "/api/jobs/142/finish", `{"outcome":"","stage":""}`, 422, "what it was"},
		{"intake of nothing known", "POST", "/api/jobs/142/intake", `{"field":"colour","text":"red"}`, 422, "not asked at intake"},
		{"cell that is not there", "POST", "/api/jobs/147/marks",
			`{"id":"1","mode":"aux","entry":"A1 L","exit":"LS R","without":[],"word":"ok"}`, 422, "No route runs"},
		{"mark that is none", "POST", "/api/jobs/147/marks",
			`{"id":"1","mode":"aux","entry":"A1 L","exit":"LS L","without":[],"word":"hum"}`, 422,
			"marked ok, weak, partly, none or cuts out"},
		{"swap of nothing known", "GET", "/api/jobs/147/intake?swap=the+lot", "", 422, "can be swapped or lifted"},
		{"never measured", "POST", "/api/jobs/148/safety", `{"id":"1","kind":"residual","subject":"C501","text":"0 V","confirmed":false}`,
			409, "Was C501 measured?"},
		{"residual in ohms", "POST", "/api/jobs/148/safety",
			`{"id":"1","kind":"residual","subject":"C501","text":"3 ohm","confirmed":false}`, 422, "not a voltage"},
		{"residual while live", "POST", "/api/jobs/142/safety",
			`{"id":"1","kind":"residual","subject":"C301","text":"3 V","confirmed":false}`, 422, "Switch it off"},
		{"event of a finished job", "POST", "/api/jobs/139/safety", `{"id":"1","kind":"on","subject":"","text":"","confirmed":false}`, 409,
			"back on the bench first"},
		{"discharge to nothing", "GET", "/api/jobs/148/safety?below=0+V", "", 422, "never falls to 0 V"},
		{"discharge in volts", "GET", "/api/jobs/148/safety?seconds=5+V", "", 422, "not a time"},
		{"step of no kind", "POST", "/api/jobs/142/strip", `{"id":"1","kind":"bolt","text":"4 M3"}`, 422, "not a kind of step"},
		{"four of nothing", "POST", "/api/jobs/142/strip", `{"id":"1","kind":"screws","text":"4"}`, 422, "4 of what?"},
		{"more back than came out", "POST", "/api/jobs/142/strip/demo-142-t1/back", `{"count":5}`, 422, "0 to 4 can go back"},
		{"unknown step", "POST", "/api/jobs/142/strip/zz/back", `{"count":1}`, 422, "did not come out"},
		{"no picture", "POST", "/api/jobs/142/pictures?id=p1", "hello", 422, "not a JPEG, PNG or WebP"},
		{"picture of no step", "GET", "/api/jobs/142/pictures/zz", "", 404, "no such entry"},
		{"picture too large", "POST", "/api/jobs/142/pictures?id=p1", strings.Repeat("x", 32<<20+1), 413, "More than 32768 kB"},
		{"ohms while live", "POST", "/api/jobs/142/readings", taken("1", "J7-2", "4k7 ohm"), 422, "this set is live"},
		{"lifted nothing known", "POST", "/api/jobs/142/readings",
			`{"id":"1","point":"J7-2","text":"31m","without":["C999"],"conditions":{"route":"","injected":null,"instrument":""}}`, 422,
			"can be swapped or lifted"},
		{"a rail that feeds itself", "POST", "/api/sheets/import", "model,R\npoint,stage,ac\nA,,1 V\nB,S,1 V\n\nrail,value,feed\n+5 V,5 " +
			"V,+9 V\n+9 V,9 V,+5 V\n", 422, "feeds itself: +5 V from +9 V from +5 V"},
		{"a ripple in ohms", "POST", "/api/ripple", `{"load":"1 A","frequency":"100 Hz","ripple":"3 ohm"}`, 422, "ripple: "},
		{"a short without current", "POST", "/api/short", `{"feed":0,"amps":"","places":[{"before":-1,"ohms":"","volts":"1 V"}]}`, 422,
			"Say where the current is fed in"},
		{"copper in a knot", "POST", "/api/short",
			`{"feed":0,"amps":"1 A","places":[{"before":1,"ohms":"1","volts":"1 V"},{"before":0,"ohms":"1","volts":"1 V"}]}`, 422,
			"from the supply outwards"},
		{"a mains of none", "POST", "/api/wave?mains=5000Hz", "0\n1\n2\n", 422, "The mains has 50 or 60 Hz"},
		{"time backwards", "POST", "/api/wave?interval=-1s", "0\n1\n2\n", 422, "above zero, for example"},
		{"a probe of nothing", "POST", "/api/wave?interval=1s&factor=0", "0\n1\n2\n", 422, "for example 10"},
		{"a level in hertz", "POST", "/api/wave?interval=1s&level=5Hz", "0\n1\n2\n", 422, "not a voltage"},
		{"no waveform", "POST", "/api/wave", "dear sir", 422, "no lines of numbers"},
		{"trace without a sheet", "POST", "/api/trace", `{"conditions":{"route":"","injected":null,"instrument":""},"readings":[]}`, 422,
			"Send the service sheet"},
	} {
		status, says := w.detail(c.method, c.path, c.body)
		if status != c.status || !strings.Contains(says, c.says) {
			t.Errorf("%s: %d %q; want %d, %q", c.name, status, says, c.status, c.says)
		}
	}
	// Nothing of all that was kept.
	if _, data := w.call("GET", "/api/jobs", ""); bytes.Count(data, []byte(`"complaint"`)) != 9 {
		t.Errorf("something was half stored: %.300s", data)
	}
	if _, data := w.call("GET", "/api/sheets", ""); bytes.Count(data, []byte(`"id"`)) != 5 {
		t.Errorf("something was half stored: %.300s", data)
	}
}

func TestOtherPagesAndHostsAreKeptOut(t *testing.T) {
	w := open(t)
	r := fromHere("POST", "http://127.0.0.1/api/jobs/142/reopen", "{}")
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	rec := httptest.NewRecorder()
	w.handler.ServeHTTP(rec, r)
	if rec.Code != http.StatusForbidden {
		t.Errorf("a page elsewhere may change jobs: %d", rec.Code)
	}
	r = fromHere("GET", "http://elsewhere.example/api/jobs", "")
	rec = httptest.NewRecorder()
	w.handler.ServeHTTP(rec, r)
	if rec.Code != http.StatusMisdirectedRequest {
		t.Errorf("another host name is answered: %d", rec.Code)
	}
}

func TestTheSameReadingTwiceIsKeptOnce(t *testing.T) {
	w := open(t)
	for range 2 {
		if status, data := w.call("POST", "/api/jobs/145/readings", taken("same", "LS1", "none")); status != 200 ||
			bytes.Count(data, []byte(`"id":"same"`)) != 1 {
			t.Fatalf("%d %s", status, data)
		}
	}
	if status, says := w.detail("POST", "/api/jobs/145/readings", taken("same", "LS1", "ok")); status != 409 ||
		!strings.Contains(says, "id of its own") {
		t.Errorf("another reading under the same id: %d %s", status, says)
	}
}

// Twenty tabs log at once; every reading that was acknowledged is there.
func TestManyTabsAtOnce(t *testing.T) {
	w := open(t)
	var wg sync.WaitGroup
	for tab := range 20 {
		wg.Go(func() {
			for i := range 5 {
				if status, data := w.call("POST", "/api/jobs/145/readings", taken(fmt.Sprintf("%d-%d", tab, i), "LS1",
					"none")); status != 200 {
					t.Errorf("%d %s", status, data)
				}
			}
		})
	}
	wg.Wait()
	if _, data := w.call("GET", "/api/jobs/145", ""); bytes.Count(data, []byte(`"taken"`)) != 100 {
		t.Errorf("%d readings of 100", bytes.Count(data, []byte(`"taken"`)))
	}
}

// A finished job keeps the sheet it was finished by, whatever is changed later.
func TestFinishedJobKeepsItsSheet(t *testing.T) {
	w := open(t)
	_, before := w.call("GET", "/api/jobs/139/file.json", "")
	var v server.SheetView
	if _, data := w.call("GET", "/api/sheets/1", ""); json.Unmarshal(data, &v) != nil {
		t.Fatal("no sheet")
	}
	v.Tables.Tables[0].Rows[10][6] = "70 V"
	body, _ := json.Marshal(server.SavedSheet{Revision: v.Revision, Tables: v.Tables})
	if status, data := w.call("PUT", "/api/sheets/1", string(body)); status != 200 ||
		!bytes.Contains(data, []byte("contradict by 3.1 dB")) {
		t.Errorf("the contradiction is not named: %d %s", status, data)
	}
	if _, after := w.call("GET", "/api/jobs/139/file.json", ""); !bytes.Equal(before, after) {
		t.Error("the finished job's sheet changed with the model's")
	}
}

// photo is a small picture.
func photo(t *testing.T) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 40, 30))); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// A job taken out as a file goes back in the same, into an empty workshop too.
func TestJobFilesTravel(t *testing.T) {
	from, to := open(t), empty(t)
	for path, step := range map[string]string{"p1": "", "p2": "demo-142-t3"} {
		if status, data := from.call("POST", "/api/jobs/142/pictures?id="+path+"&step="+step, string(photo(t))); status != 200 {
			t.Fatalf("picture: %d %s", status, data)
		}
	}
	for _, n := range []string{"139", "142", "145", "147", "148"} {
		_, file := from.call("GET", "/api/jobs/"+n+"/file.json", "")
		if status, data := to.call("POST", "/api/jobs/import", string(file)); status != 200 || string(data) != `{"number":`+n+`}` {
			t.Fatalf("%d %s", status, data)
		}
		if _, back := to.call("GET", "/api/jobs/"+n+"/file.json", ""); !bytes.Equal(file, back) {
			t.Errorf("job %s came back different:\n%s\n%s", n, file, back)
		}
	}
	// Taken in twice, it gets a number of its own and uses the same sheet.
	_, file := from.call("GET", "/api/jobs/142/file.json", "")
	if status, data := to.call("POST", "/api/jobs/import", string(file)); status != 200 || string(data) != `{"number":149}` {
		t.Errorf("second time: %d %s", status, data)
	}
	if status, data := to.call("GET", "/api/jobs/142/pictures/p2", ""); status != 200 || !bytes.Equal(data, photo(t)) {
		t.Errorf("the picture did not come along: %d", status)
	}
	if _, data := to.call("GET", "/api/sheets", ""); bytes.Count(data, []byte(`"name"`)) != 5 {
		t.Errorf("sheets were stored twice: %s", data)
	}
}

// A sheet that is broken while a job is open: the job says so and comes back.
// A sheet saved with cells that cannot be read leaves a running job what can be worked
// out, says what cannot, and takes no reading that could not be judged.
func TestJobOnABrokenSheet(t *testing.T) {
	w := open(t)
	v := ask[server.SheetView](w, "GET", "/api/sheets/2", nil)
	save := func(table string, row int, column, text string) (was string) {
		for i, tab := range v.Tables.Tables {
			at := slices.IndexFunc(tab.Columns, func(c sheet.Column) bool { return c.Name == column })
			if tab.Name == table {
				was, v.Tables.Tables[i].Rows[row][at] = tab.Rows[row][at], text
			}
		}
		v = ask[server.SheetView](w, "PUT", "/api/sheets/2", server.SavedSheet{Revision: v.Revision, Tables: v.Tables})
		return was
	}
	before := ask[server.JobView](w, "GET", "/api/jobs/145", nil)
	good := save("path", 3, "ac", "12 bananas")
	point := v.Tables.Tables[0].Rows[3][0]
	job := ask[server.JobView](w, "GET", "/api/jobs/145", nil)
	if job.Findings == nil || len(job.Problems) != 1 || !strings.Contains(job.Problems[0].Message, "bananas") ||
		len(job.Supplies) != len(before.Supplies) ||
		len(job.Findings.Readings) != len(before.Findings.Readings) {
		t.Errorf("what can be worked out is not there: %+v", job.Problems)
	}
	if status, says := w.detail("POST", "/api/jobs/145/readings", taken("1", point, "1 V")); status != 422 ||
		!strings.Contains(says, "bananas") ||
		!strings.Contains(says, "Mend that first") {
		t.Errorf("%d %s", status, says)
	}
	if status, data := w.call("POST", "/api/jobs/145/readings", taken("2", before.Supplies[0].Name, "12 V")); status != 200 {
		t.Errorf("a rail is not read: %s", data)
	}
	for _, path := range []string{"intake", "safety", "strip", "captures", "inside"} {
		if status, data := w.call("GET", "/api/jobs/145/"+path, ""); status != 200 {
			t.Errorf("%s: %s", path, data)
		}
	}
	save("path", 3, "ac", good)
	if job = ask[server.JobView](w, "GET", "/api/jobs/145", nil); len(job.Problems) != 0 ||
		job.Findings.Points[3].Expected != before.Findings.Points[3].Expected {
		t.Error("the job did not come back with its sheet")
	}
}

// Whatever arrives, the answer is a refusal that can be read, never a crash.
func TestJunkIsRefusedEverywhere(t *testing.T) {
	w := open(t)
	junk := []string{
		"",
		"null",
		"[]",
		"{}",
		"\"x\"",
		"{\"a\":",
		strings.Repeat("[", 20000),
		`{"tables":{"tables":[{"name":"path","columns":null,"rows":[["a"],null]}]},"route":"x"}`,
		`{"sheet":{"points":[{"name":"a","expect":null}],"stages":[{"from":"a","to":"a"}]},"readings":[{}]}`,
		`{"text":"\u0000","unit":"zz"}`,
		`{"number":-5}`,
		"point,ac\n,,,\n",
		"\xff\xfe",
	}
	paths := map[string][]string{}
	err := chi.Walk(w.routes(), func(method, route string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if strings.HasPrefix(route, "/api") && method != "GET" {
			paths[strings.NewReplacer("{number}", "142", "{id}", "3").Replace(strings.TrimSuffix(route, "/"))] = append(
				paths[route],
				method,
			)
		}
		return nil
	})
	if err != nil || len(paths) < 12 {
		t.Fatalf("%d routes: %v", len(paths), err)
	}
	for path, methods := range paths {
		for _, method := range methods {
			for _, body := range junk {
				status, data := w.call(method, path, body)
				if status >= 500 || !json.Valid(data) {
					t.Errorf("%s %s %.60q: %d %s", method, path, body, status, data)
				}
			}
		}
	}
}

// chain60 is a sheet of 60 blocks with a job of 200 readings on it.
func chain60(b testing.TB) *workshop {
	w := empty(b)
	s := &sheet.Sheet{Model: "chain"}
	for i := range 61 {
		s.Points = append(
			s.Points,
			sheet.Point{
				Name:   fmt.Sprintf("p%d", i),
				Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}},
			},
		)
		if i > 0 {
			s.Stages = append(
				s.Stages,
				sheet.Stage{Name: fmt.Sprintf("s%d", i), From: fmt.Sprintf("p%d", i-1), To: fmt.Sprintf("p%d", i), Gain: "0 dB"},
			)
		}
	}
	if status, data := w.call("POST", "/api/sheets/import", string(s.WriteJSON())); status != 200 {
		b.Fatalf("%s", data)
	}
	if status, data := w.call("POST", "/api/jobs", `{"sheet":1,"complaint":"weak"}`); status != 200 {
		b.Fatalf("%s", data)
	}
	for i := range 200 {
		if status, data := w.call("POST", "/api/jobs/1/readings", taken(fmt.Sprint("r", i), fmt.Sprintf("p%d", i%30),
			"10m")); status != 200 {
			b.Fatalf("%s", data)
		}
	}
	return w
}

// The target is under 10 ms from a reading posted to its answer, through the
// handler, with SQLite on disk: 60 blocks, 200 readings before it.
func BenchmarkPostReading(b *testing.B) {
	w := chain60(b)
	_, file := w.call("GET", "/api/jobs/1/file.json", "")
	number, posted := 1, 0
	for b.Loop() {
		if posted++; posted%20 == 0 {
			// A copy of the job takes over, so that the log stays near 200.
			b.StopTimer()
			if status, data := w.call("POST", "/api/jobs/import", string(file)); status != 200 {
				b.Fatalf("%s", data)
			}
			number++
			b.StartTimer()
		}
		if status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/readings", number), taken(fmt.Sprint("n", posted), "p45",
			"1m")); status != 200 {
			b.Fatalf("%s", data)
		}
	}
}

func BenchmarkEcho(b *testing.B) {
	w := chain60(b)
	for b.Loop() {
		if status, data := w.call("POST", "/api/jobs/1/echo", taken("", "p45", "1m")); status != 200 {
			b.Fatalf("%s", data)
		}
	}
}

// waived does without all that is open still in a job.
func waived(w *workshop, number int) string {
	var out []string
	for _, o := range ask[server.JobView](w, "GET", fmt.Sprintf("/api/jobs/%d", number), nil).StillOpen {
		data, _ := json.Marshal(repair.Without{Key: o.Key, Why: "not needed here"})
		out = append(out, string(data))
	}
	return strings.Join(out, ",")
}

// The pages are packed when the program is built, and go out so; whoever cannot unpack gets them plain.
func TestPagesArePacked(t *testing.T) {
	var z bytes.Buffer
	to := gzip.NewWriter(&z)
	if _, err := to.Write([]byte("<!doctype html>packed")); err != nil {
		t.Fatal(err)
	}
	if err := to.Close(); err != nil {
		t.Fatal(err)
	}
	w := empty(t)
	h := server.New(w.store, fstest.MapFS{"index.html.gz": {Data: z.Bytes()}, "assets/a.js.gz": {Data: z.Bytes()}}, nil).Handler()
	for path, kind := range map[string]string{"/": "text/html", "/index.html": "text/html", "/assets/a.js": "javascript"} {
		for _, packs := range []bool{true, false} {
			r := fromHere("GET", "http://localhost"+path, "")
			if packs {
				r.Header.Set("Accept-Encoding", "br, gzip")
			}
			rec := httptest.NewRecorder()
			h.ServeHTTP(rec, r)
			text := rec.Body.String()
			if packs {
				from, err := gzip.NewReader(rec.Body)
				if err != nil || rec.Header().Get("Content-Encoding") != "gzip" {
					t.Fatal(path, err, rec.Header())
				}
				data, err := io.ReadAll(from)
				if err != nil {
					t.Fatal(err)
				}
				text = string(data)
			}
			if rec.Code != http.StatusOK || text != "<!doctype html>packed" || !strings.Contains(rec.Header().Get("Content-Type"), kind) {
				t.Errorf("%s, packed %v: %d %q %s", path, packs, rec.Code, text, rec.Header())
			}
		}
	}
}
