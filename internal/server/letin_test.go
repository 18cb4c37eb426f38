package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"steptrace/internal/door"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// network is a workshop as others in its network reach it, by a name it was told. Addresses are those for documentation (RFC 5737).
type network struct {
	*workshop
	words string
}

func beyond(t *testing.T) *network {
	t.Helper()
	w := open(t)
	w.server = server.New(w.store, fstest.MapFS{
		"index.html": {Data: []byte("<!doctype html>the pages")}, "assets/a.js": {Data: []byte("1")},
	}, &door.Door{Names: []string{"bench.test"}, Port: "4780"})
	t.Cleanup(w.server.Close)
	w.train()
	words, err := w.server.Words(t.Context())
	if err != nil || len(strings.Fields(words)) != 5 {
		t.Fatal(words, err)
	}
	return &network{w, words}
}

// visitor is a device in the network, with what its browser keeps.
type visitor struct {
	*network
	from    string
	cookies map[string]string
}

func (n *network) visitor(from string) *visitor {
	return &visitor{n, from, map[string]string{}}
}

// ask sends a request as the device's browser would; with is what else stands in its head, by pairs.
func (d *visitor) ask(method, path, body string, with ...string) *http.Response {
	r := httptest.NewRequest(method, "http://bench.test:4780"+path, strings.NewReader(body))
	r.RemoteAddr = d.from + ":40000"
	for name, value := range d.cookies {
		r.AddCookie(&http.Cookie{Name: name, Value: value}) //nolint:gosec // a request's
	}
	for i := 0; i+1 < len(with); i += 2 {
		if r.Header.Set(with[i], with[i+1]); with[i] == "Host" {
			r.Host = with[i+1]
		}
	}
	if strings.HasSuffix(path, "/changes") { // which goes on until nobody asks any more
		ctx, cancel := context.WithTimeout(context.Background(), 50*time.Millisecond)
		defer cancel()
		r = r.WithContext(ctx)
	}
	rec := httptest.NewRecorder()
	d.handler.ServeHTTP(rec, r)
	res := rec.Result()
	for _, c := range res.Cookies() {
		d.cookies[c.Name] = c.Value
	}
	return res
}

func (d *visitor) enter(form url.Values) (status int, page string) {
	res := d.ask("POST", "/enter", form.Encode(), "Content-Type", "application/x-www-form-urlencoded")
	data, err := io.ReadAll(res.Body)
	if err != nil {
		d.t.Fatal(err)
	}
	return res.StatusCode, string(data)
}

// in lets a device in by the words.
func (n *network) in(from, initials string) *visitor {
	n.t.Helper()
	d := n.visitor(from)
	status, page := d.enter(url.Values{"words": {n.words}, "initials": {initials}, "name": {"bench " + from}})
	if status != http.StatusSeeOther {
		n.t.Fatal(status, page)
	}
	return d
}

// of puts something into the places of a route's address.
func of(path string) string {
	return "/api" + strings.NewReplacer("{number}", "145", "{id}", "1", "{picture}", "p", "{name}", "n", "{point}", "x").Replace(path)
}

// Without the words nothing is answered in the network: no route, no page, no script; and no page of another name or place is.
func TestNothingIsServedWithoutTheWords(t *testing.T) {
	n := beyond(t)
	stranger, friend := n.visitor("192.0.2.9"), n.in("192.0.2.10", "mk")
	for _, route := range server.Routes {
		if res := stranger.ask(route.Method, of(route.Path), ""); res.StatusCode != http.StatusUnauthorized {
			t.Errorf("%s %s: %d", route.Method, route.Path, res.StatusCode)
		}
		if res := friend.ask(route.Method, of(route.Path), "", "Host", "elsewhere.test"); res.StatusCode != http.StatusMisdirectedRequest {
			t.Errorf("by another name: %s %s: %d", route.Method, route.Path, res.StatusCode)
		}
		for _, with := range [][]string{{"Sec-Fetch-Site", "cross-site"}, {"Origin", "http://elsewhere.test"}} {
			res := friend.ask(route.Method, of(route.Path), "", with...)
			// A question by Origin alone is a browser's own way to ask for what it may not read; nothing is changed by it.
			if res.StatusCode != http.StatusForbidden && (route.Method != "GET" || with[0] != "Origin") {
				t.Errorf("from elsewhere: %s %s %v: %d", route.Method, route.Path, with, res.StatusCode)
			}
		}
	}
	for _, route := range server.Routes { // practice is behind the same door
		if res := stranger.ask(route.Method, "/practise"+of(route.Path), ""); res.StatusCode != http.StatusUnauthorized {
			t.Errorf("practice: %s %s: %d", route.Method, route.Path, res.StatusCode)
		}
	}
	for path, status := range map[string]int{
		"/practise/": 303, "/practise/assets/a.js": 401,
		"/": 303, "/index.html": 303, "/assets/a.js": 401, "/favicon.ico": 401, "/enter": 200,
	} {
		if res := stranger.ask("GET", path, ""); res.StatusCode != status {
			t.Errorf("%s: %d", path, res.StatusCode)
		}
	}
	for _, path := range []string{"/", "/assets/a.js", "/api/jobs", "/practise/", "/practise/api/training"} {
		if res := friend.ask("GET", path, ""); res.StatusCode != http.StatusOK {
			t.Errorf("let in, %s: %d", path, res.StatusCode)
		}
	}
}

// Sessions that are guessed, used after they were ended or sent out, or over, let nobody in.
func TestSessionsThatAreNoneLetNobodyIn(t *testing.T) {
	n := beyond(t)
	for _, guess := range []string{"", "x", strings.Repeat("A", 43), "' OR 1=1 --"} {
		d := n.visitor("192.0.2.9")
		d.cookies["steptrace"] = guess
		if res := d.ask("GET", "/api/jobs", ""); res.StatusCode != http.StatusUnauthorized {
			t.Errorf("%q: %d", guess, res.StatusCode)
		}
	}
	left := n.in("192.0.2.10", "mk")
	kept := left.cookies["steptrace"]
	if res := left.ask("POST", "/api/leave", "{}", "Content-Type", "application/json"); res.StatusCode != http.StatusOK {
		t.Fatal(res.StatusCode)
	}
	left.cookies["steptrace"] = kept
	out := n.in("192.0.2.11", "al")
	shown := ask[server.DoorView](n.workshop, "GET", "/api/door", nil)
	if len(shown.Devices) != 1 || shown.Devices[0].Name != "bench 192.0.2.11" || shown.Words != n.words {
		t.Fatalf("%+v", shown)
	}
	if out.ask("GET", "/api/jobs", "").StatusCode != http.StatusOK {
		t.Error("not in")
	}
	shown = ask[server.DoorView](n.workshop, "POST", "/api/door/devices/"+shown.Devices[0].ID+"/out", map[string]any{})
	over := n.in("192.0.2.12", "os")
	list, err := n.store.Devices(t.Context())
	if err != nil || len(shown.Devices) != 0 || len(list) != 1 {
		t.Fatal(list, shown, err)
	}
	list[0].Until = time.Now().Add(-time.Second)
	unseen := n.in("192.0.2.13", "un")
	away, err := n.store.Devices(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for i := range away {
		if away[i].Name == "bench 192.0.2.13" {
			list = append(list, away[i])
			list[1].Seen = time.Now().AddDate(0, 0, -46)
		}
	}
	for _, d := range list {
		if err := n.store.PutDevice(t.Context(), d); err != nil {
			t.Fatal(err)
		}
	}
	words := n.in("192.0.2.14", "wo")
	if _, err := n.server.NewWords(t.Context()); err != nil {
		t.Fatal(err)
	}
	for why, d := range map[string]*visitor{"left": left, "sent out": out, "over": over, "not seen": unseen, "other words": words} {
		if res := d.ask("GET", "/api/jobs", ""); res.StatusCode != http.StatusUnauthorized {
			t.Errorf("%s: %d", why, res.StatusCode)
		}
	}
}

// Words are matched as people write them; wrong ones are counted, and soon not looked at any more.
func TestWordsAreTried(t *testing.T) {
	n := beyond(t)
	loose := n.visitor("192.0.2.9")
	loosely := " " + strings.ToUpper(strings.ReplaceAll(n.words, " ", "-")) + " "
	if status, _ := loose.enter(url.Values{"words": {loosely}}); status != http.StatusSeeOther {
		t.Error(status)
	}
	guesses := n.visitor("192.0.2.10")
	for i := range 10 {
		if status, page := guesses.enter(url.Values{"words": {fmt.Sprint("wrong ", i)}}); status != http.StatusUnauthorized ||
			!strings.Contains(page, "not the words") {
			t.Fatalf("%d: %d %s", i, status, page)
		}
	}
	if status, page := guesses.enter(url.Values{"words": {n.words}}); status != http.StatusTooManyRequests ||
		!strings.Contains(page, "Wait a minute") {
		t.Errorf("the right words after ten wrong ones: %d", status)
	}
	if status, page := n.visitor("192.0.2.11").enter(url.Values{"words": {n.words}, "name": {strings.Repeat("n", 61)}}); status != 422 ||
		!strings.Contains(page, "up to 60") {
		t.Errorf("%d", status)
	}
	if hash, err := n.store.Passphrase(t.Context()); err != nil || !strings.HasPrefix(hash, "$argon2id$") ||
		strings.Contains(hash, n.words) {
		t.Error(hash, err)
	}
	if again, err := n.server.Words(t.Context()); err != nil || again != "" {
		t.Error("made twice", err)
	}
}

// A code for a job lets in for its pictures and readings alone; one for everything is good once, and given at the machine itself.
func TestACodeLetsInForOneJob(t *testing.T) {
	n := beyond(t)
	code := func(of server.Invitation) string {
		v := ask[server.PhoneView](n.workshop, "POST", "/api/invite", of)
		if len(v.Ways) == 0 || !strings.HasPrefix(v.Ways[0].Address, "http://bench.test:4780/enter?code=") ||
			!strings.HasPrefix(v.Ways[0].QR, "data:image/png;base64,") {
			t.Fatalf("%+v", v)
		}
		_, k, _ := strings.Cut(v.Ways[0].Address, "code=")
		return k
	}
	phone := n.visitor("192.0.2.20")
	k := code(server.Invitation{Job: 145})
	if page, err := io.ReadAll(phone.ask("GET", "/enter?code="+k, "").Body); err != nil || !strings.Contains(string(page), "No. 145") {
		t.Fatalf("%s %v", page, err)
	}
	if status, page := phone.enter(url.Values{"code": {k}, "initials": {"ph"}}); status != http.StatusSeeOther {
		t.Fatal(status, page)
	}
	for _, route := range server.Routes {
		if route.Name == "leave" || route.Name == "callMe" {
			continue // which would have it be another
		}
		status := phone.ask(route.Method, of(route.Path), "").StatusCode
		if refused := status == http.StatusForbidden; refused == route.Guest {
			t.Errorf("%s %s: %d", route.Method, route.Path, status)
		}
		if route.Guest && strings.Contains(route.Path, "{number}") {
			another := strings.Replace(of(route.Path), "145", "139", 1)
			if status := phone.ask(route.Method, another, "").StatusCode; status != http.StatusForbidden {
				t.Errorf("another job, %s %s: %d", route.Method, route.Path, status)
			}
		}
	}
	for _, path := range []string{"/practise/", "/practise/api/training", "/practise/api/jobs/145"} {
		if status := phone.ask("GET", path, "").StatusCode; status != http.StatusForbidden {
			t.Errorf("practice, %s: %d", path, status)
		}
	}
	before := n.job(t, 145)
	point := before.Findings.Points[0].Name
	res := phone.ask("POST", "/api/jobs/145/readings", taken("by-phone", point, "1 V"), "Content-Type", "application/json")
	if res.StatusCode != http.StatusOK {
		data, _ := io.ReadAll(res.Body)
		t.Fatalf("%d %s", res.StatusCode, data)
	}
	j, err := n.store.Job(t.Context(), 145)
	if err != nil || j.Readings[len(j.Readings)-1].Who != "ph" {
		t.Errorf("%+v %v", j.Readings[len(j.Readings)-1], err)
	}
	if res := phone.ask("POST", "/api/send?id=ph&name=from+a+phone&seen=copper", snapshot(t, 8, 6)); res.StatusCode != 200 {
		t.Error(res.StatusCode)
	}
	if b := n.board(fmt.Sprintf("/api/sheets/%d/board", j.Sheet.ID)); b.Pictures[len(b.Pictures)-1].Name != "from a phone" {
		t.Errorf("%+v", b.Pictures)
	}
	full := code(server.Invitation{})
	for i, want := range []int{http.StatusSeeOther, http.StatusUnauthorized} {
		if status, _ := n.visitor("192.0.2.21").enter(url.Values{"code": {full}}); status != want {
			t.Errorf("%d: %d", i, status)
		}
	}
	friend := n.in("192.0.2.22", "mk")
	if res := friend.ask("POST", "/api/invite", "{}", "Content-Type", "application/json"); res.StatusCode != http.StatusForbidden {
		t.Error(res.StatusCode)
	}
	for _, route := range server.Routes {
		if route.Name == "leave" {
			continue
		}
		if status := friend.ask(route.Method, of(route.Path), "").StatusCode; route.Here != (status == http.StatusForbidden) &&
			route.Name != "invite" {
			t.Errorf("%s %s: %d", route.Method, route.Path, status)
		}
	}
}

// What arrives from the machine itself through something that passes on for others is not from here; with encryption, plain words are
// not even looked at.
func TestWhatIsPassedOnIsNotFromHere(t *testing.T) {
	n := beyond(t)
	here := n.visitor("127.0.0.1")
	if res := here.ask("GET", "/api/jobs", "", "Host", "127.0.0.1:4780"); res.StatusCode != http.StatusOK {
		t.Error(res.StatusCode)
	}
	passed := []string{"Host", "localhost", "X-Forwarded-For", "192.0.2.7"}
	for _, with := range [][]string{{"Host", "bench.test"}, passed, {"Host", "localhost", "Forwarded", "for=192.0.2.7"}} {
		if res := here.ask("GET", "/api/jobs", "", with...); res.StatusCode != http.StatusUnauthorized {
			t.Errorf("%v: %d", with, res.StatusCode)
		}
	}
	n.handler = server.New(n.store, fstest.MapFS{}, &door.Door{Names: []string{"bench.test"}, Encrypted: true}).Handler()
	if res := here.ask("GET", "/enter?code=1", ""); res.StatusCode != 307 ||
		res.Header.Get("Location") != "https://bench.test:4780/enter?code=1" {
		t.Error(res.StatusCode, res.Header)
	}
	if status, _ := here.enter(url.Values{"words": {n.words}}); status != http.StatusUpgradeRequired {
		t.Error(status)
	}
	n.handler = server.New(n.store, fstest.MapFS{}, nil).Handler()
	if res := here.ask("GET", "/api/jobs", "", passed...); res.StatusCode != http.StatusForbidden {
		t.Error(res.StatusCode)
	}
}

// Entries keep the initials of the device that they came from, whatever is sent as such; and sent again by another they are the same.
func TestEntriesKeepWhoNotedThem(t *testing.T) {
	n := beyond(t)
	a, b := n.in("192.0.2.30", "mk"), n.in("192.0.2.31", "al")
	note := `{"id":"w1","wait":{"for":"part","what":"C9"},"who":"xx"}`
	for _, d := range []*visitor{a, b} {
		if res := d.ask("POST", "/api/jobs/145/waits", note, "Content-Type", "application/json"); res.StatusCode != http.StatusOK {
			data, _ := io.ReadAll(res.Body)
			t.Fatalf("%s", data)
		}
	}
	j, err := n.store.Job(t.Context(), 145)
	if last := j.Waits[len(j.Waits)-1]; err != nil || last.ID != "w1" || last.Who != "mk" {
		t.Errorf("%+v %v", last, err)
	}
	ask[server.Me](n.workshop, "PUT", "/api/me", server.Named{Initials: "hr"})
	if status, data := n.call("POST", "/api/jobs/145/waits", `{"id":"w2","wait":{"for":"owner","what":"an answer"}}`); status != 200 {
		t.Fatalf("%s", data)
	}
	file := n.file(145)
	for id, who := range map[string]string{"w1": "mk", "w2": "hr"} {
		for _, note := range file.Job.Waits {
			if note.ID == id && note.Who != who {
				t.Errorf("%s: %q", id, note.Who)
			}
		}
	}
	var m server.Me
	if err := json.NewDecoder(a.ask("GET", "/api/me", "").Body).Decode(&m); err != nil || m.Here || m.Initials != "mk" ||
		m.Name != "bench 192.0.2.30" {
		t.Errorf("%+v %v", m, err)
	}
}

// Copies have neither the words nor devices in them: whoever was sent out does not come back with one.
func TestCopiesLetNobodyIn(t *testing.T) {
	n := beyond(t)
	n.in("192.0.2.10", "mk")
	copied := t.TempDir() + "/copy.db"
	if _, err := n.store.CopyTo(t.Context(), copied); err != nil {
		t.Fatal(err)
	}
	db, err := store.Open(t.Context(), copied)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Close() }()
	list, err := db.Devices(t.Context())
	if _, missing := db.Passphrase(t.Context()); err != nil || len(list) > 0 || missing == nil {
		t.Error(list, missing, err)
	}
}
