package server_test

import (
	"net/http"
	"strings"
	"testing"

	"steptrace/core/device"
	"steptrace/core/replace"
	"steptrace/internal/server"
)

// What goes in comes out of the drawer when the repair is noted, once: a second time there is nothing left to note.
func TestTheDrawerGivesOnce(t *testing.T) {
	w := open(t)
	count := func() int {
		for _, k := range ask[server.DrawerView](w, "GET", "/api/drawer", nil).Kept {
			if k.What == "BC549B" {
				return k.Count
			}
		}
		return 0
	}
	before := count()
	note := func(e replace.Entry) server.ReplaceView {
		return ask[server.ReplaceView](w, "POST", "/api/jobs/142/replacing", e)
	}
	v := note(replace.Entry{ID: "a", Subject: &replace.Subject{Part: "Q204"}})
	if v.Parts[0].Was != "BC549B" || v.Parts[0].Stage != "Q204 make-up" || v.Offers[0].Drawer != before || before < 2 {
		t.Fatalf("%+v %+v", v.Parts, v.Offers)
	}
	// Something that was typed is found in the drawer, as it stands there.
	if v = ask[server.ReplaceView](w, "GET", "/api/jobs/142/replacing?part=Q204&try=bc549b", nil); v.Tried.New != "BC549B" ||
		v.Tried.Drawer != before {
		t.Errorf("%+v", v.Tried)
	}
	note(replace.Entry{ID: "b", Chosen: &replace.Chosen{Part: "Q204", New: "BC549B", From: replace.Drawer, Count: 2}})
	if v = ask[server.ReplaceView](w, "POST", "/api/jobs/142/replacing/fitted", server.Fitted{ID: "c"}); !v.Parts[0].Fitted ||
		!strings.HasPrefix(v.Says, "All of it is in") && v.Steps[0].Done {
		t.Errorf("%s %+v", v.Says, v.Parts)
	}
	if count() != before-2 {
		t.Errorf("%d of %d are left", count(), before)
	}
	status, says := w.detail("POST", "/api/jobs/142/replacing/fitted", `{"id":"d"}`)
	if status != http.StatusUnprocessableEntity || !strings.Contains(says, "Choose what goes") || count() != before-2 {
		t.Errorf("%d %s", status, says)
	}
}

// An own type is found, fills a circuit, and goes out and in again with the table; what cannot be is told with its line.
func TestOwnTypes(t *testing.T) {
	w := open(t)
	own := device.Row{Type: "HX-7", Kind: device.Transistor, Polarity: "npn", Gain: "100-400", Case: "TO-92", Legs: "E B C"}
	if v := ask[server.TypesView](w, "PUT", "/api/types", own); len(v.Types) != 1 || !v.Types[0].Own {
		t.Errorf("%+v", v)
	}
	if v := ask[server.TypesView](w, "GET", "/api/types?q=hx7", nil); len(v.Types) != 1 ||
		v.Types[0].Sure != "the workshop's own data" {
		t.Errorf("%+v", v)
	}
	_, table := w.call("GET", "/api/types.csv", "")
	if status, data := w.call("POST", "/api/types/read", string(table)); status != http.StatusOK {
		t.Errorf("the table does not come in again: %s", data)
	}
	for body, says := range map[string]string{
		`{"type":"","kind":"zener"}`:                   "name the type",
		`{"type":"X","kind":"nothing"}`:                "",
		`{"type":"X","kind":"zener","volts":"a lot"}`:  "Volts:",
		`{"type":"X","kind":"diode","legs":"A A"}`:     "each once",
		`{"type":"X","kind":"zener","watts":"3 W"}`:    "watts are told with where they hold",
		`{"type":"X","kind":"mosfet","polarity":"up"}`: "use n or p",
	} {
		if status, told := w.detail("PUT", "/api/types", body); status < 400 || !strings.Contains(told, says) {
			t.Errorf("%s: %d %s", body, status, told)
		}
	}
	for _, body := range []string{`{"lines":"BC547"}`, `{"kept":[{"what":"","count":1}]}`, `{"kept":[{"what":"x","count":-1}]}`} {
		if status, told := w.detail("PUT", "/api/drawer", body); status != http.StatusUnprocessableEntity || told == "" {
			t.Errorf("%s: %d %s", body, status, told)
		}
	}
}

// What a package tells of its parts is kept inside its stage, all of it and once; not while the set is live.
func TestAPackageIsKeptWhole(t *testing.T) {
	w := open(t)
	const asked = `{"id":"p","stage":"right equaliser","package":"N201","readings":"1-2 6.75k; 2-3 690; 3-4 61n"}`
	if status, says := w.detail("POST", "/api/jobs/142/sealed/keep", asked); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "live") {
		t.Errorf("%d %s", status, says)
	}
	kept := func() (out []string) {
		for _, e := range ask[server.InsideView](w, "GET", "/api/jobs/142/inside?stage=right+equaliser", nil).View.Entries {
			out = append(out, e.Says)
		}
		return out
	}
	if all := kept(); len(all) != 0 {
		t.Errorf("%v", all)
	}
	ask[server.SafetyView](w, "POST", "/api/jobs/142/safety", map[string]string{"id": "o", "kind": "off"})
	for range 2 {
		if status, says := w.detail("POST", "/api/jobs/142/sealed/keep", asked); status != http.StatusOK {
			t.Fatalf("%d %s", status, says)
		}
	}
	if all := kept(); len(all) != 3 || !strings.Contains(strings.Join(all, "; "), "N201c alone: 61 nF") {
		t.Errorf("%v", all)
	}
}
