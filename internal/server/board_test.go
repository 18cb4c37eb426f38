package server_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"

	"steptrace/core/pin"
	"steptrace/internal/server"
)

// snapshot is a grey JPEG of a size.
func snapshot(t testing.TB, width, height int) string {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, image.NewGray(image.Rect(0, 0, width, height)), nil); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

const manual = "%PDF-1.7\n%a manual\n"

func (w *workshop) board(path string) server.Board {
	w.t.Helper()
	return ask[server.Board](w, "GET", path, nil)
}

// A picture is taken in, called and turned otherwise, pinned, replaced, taken out and put back.
func TestAPictureWithItsPins(t *testing.T) {
	w := open(t)
	const at = "/api/sheets/4/board"
	for range 2 { // sent twice it is kept once
		w.must("POST", at+"?id=p1&name=amp+board&seen=parts", snapshot(t, 400, 300))
	}
	w.must("POST", at+"?id=m1&name=manual&seen=drawing", manual)
	b := w.board(at)
	if len(b.Pictures) != 2 || b.Pictures[0].Width != 400 || b.Pictures[1].Type != pin.PDF || b.Pictures[0].Asked[0].Name != "P1 L" {
		t.Fatalf("%+v", b)
	}
	w.must("POST", at+"/p1/pins", `{"changes":0,"name":"P1 L","x":0.25,"y":0.5}`)
	w.must("POST", at+"/m1/pins", `{"changes":0,"name":"P1 L","page":12,"x":0.25,"y":0.5}`)
	w.must("POST", at+"/p1/pins", `{"changes":0,"name":"rear screw","x":0.9,"y":0.5}`)
	w.must("PUT", at+"/p1", `{"name":"main board","seen":"copper","turn":3,"mirror":true,"struck":false}`)
	b = w.board(at)
	if p := b.Pictures[0]; p.Name != "main board" || p.Turn != 3 || !p.Mirror || len(p.Pins) != 2 || p.Pins[0].X != 0.25 ||
		p.Asked[0].Name == "P1 L" {
		t.Errorf("%+v", p)
	}
	if len(b.Places) != 2 || b.Places[0].Picture != "p1" {
		t.Errorf("the board is shown before the manual: %+v", b.Places)
	}
	// Of another shape: its pins are in doubt; who clicked on the one before is told.
	w.must("POST", at+"/p1", snapshot(t, 300, 400))
	if p := w.board(at).Pictures[0]; p.Changes != 1 || !p.Pins[0].Doubt || p.Height != 400 {
		t.Errorf("replaced: %+v", p)
	}
	status, says := w.detail("POST", at+"/p1/pins", `{"changes":0,"name":"A1 L","x":0.1,"y":0.1}`)
	if status != http.StatusConflict || !strings.Contains(says, "main board was replaced") {
		t.Errorf("%d %s", status, says)
	}
	w.must("POST", at+"/p1/pins", `{"changes":1,"name":"rear screw","x":0,"y":0,"out":true}`)
	w.must("PUT", at+"/p1", `{"name":"main board","seen":"copper","turn":3,"mirror":true,"struck":true}`)
	if b = w.board(at); len(b.Pictures) != 1 || len(b.Struck) != 1 || b.Places[0].Picture != "m1" {
		t.Errorf("taken out: %+v", b)
	}
	w.must("PUT", at+"/p1", `{"name":"main board","seen":"copper","turn":3,"mirror":true,"struck":false}`)
	if b = w.board(at); len(b.Pictures[0].Pins) != 1 {
		t.Errorf("put back: %+v", b.Pictures[0])
	}
	// Replaced by a manual it has no preview of what it was.
	w.must("POST", at+"/p1", manual)
	if status, _ := w.call("GET", at+"/p1/preview", ""); status != http.StatusNotFound {
		t.Errorf("preview of a manual: %d", status)
	}
	if status, data := w.call("GET", at+"/p1", ""); status != http.StatusOK || string(data) != manual {
		t.Errorf("%d %q", status, data)
	}
}

// How a pinned place stands follows the readings, also under the name that it has got since.
func TestPinsShowHowPlacesStand(t *testing.T) {
	w := open(t)
	marks := func() map[string]pin.Mark {
		out := map[string]pin.Mark{}
		for _, p := range w.board("/api/jobs/142/board").Pictures[0].Pins {
			out[p.Is] = p.Mark
		}
		return out
	}
	if m := marks(); m["C209 +"] != pin.Good || m["J7-2"] != pin.Bad || m["Q204 c"] != pin.Suspect || m["K1"] != pin.Known {
		t.Errorf("%v", m)
	}
	w.must("POST", "/api/jobs/142/readings", taken("1", "Q204 c", "70m"))
	if m := marks(); m["Q204 c"] != pin.Bad || m["S2-5"] == pin.Suspect {
		t.Errorf("with the make-up stage read: %v", m)
	}
	if _, status, said := w.grow(t, 142, 1, `"do":"name","at":"Q204 c","name":"T204 C"`); status != http.StatusOK {
		t.Fatal(said)
	}
	b := w.board("/api/jobs/142/board")
	i := slices.IndexFunc(b.Pictures[0].Pins, func(p server.PinView) bool { return p.Name == "Q204 c" })
	if p := b.Pictures[0].Pins[i]; p.Is != "T204 C" || p.Mark != pin.Bad {
		t.Errorf("renamed: %+v", p)
	}
}

// A sheet with its pictures goes out as one file and comes in the same.
func TestABundleReadsBackTheSame(t *testing.T) {
	w := open(t)
	_, out := w.call("GET", "/api/sheets/3/file.zip", "")
	var came server.SheetView
	if err := json.Unmarshal(w.must("POST", "/api/sheets/import", string(out)), &came); err != nil {
		t.Fatal(err)
	}
	_, back := w.call("GET", fmt.Sprintf("/api/sheets/%d/file.zip", came.ID), "")
	files := func(data []byte) map[string]string {
		z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
		if err != nil {
			t.Fatal(err)
		}
		out := map[string]string{}
		for _, f := range z.File {
			r, err := f.Open()
			if err != nil {
				t.Fatal(err)
			}
			text, err := io.ReadAll(r)
			if err != nil {
				t.Fatal(err)
			}
			out[f.Name] = string(text)
		}
		return out
	}
	first, second := files(out), files(back)
	if len(first) != 5 {
		t.Errorf("%d files", len(first))
	}
	for name, text := range first {
		if second[name] != text {
			t.Errorf("%s came back otherwise (%d and %d bytes)", name, len(text), len(second[name]))
		}
	}
	if a, b := w.board("/api/sheets/3/board"), w.board(fmt.Sprintf("/api/sheets/%d/board", came.ID)); len(a.Places) != len(b.Places) ||
		len(a.Places) < 20 {
		t.Errorf("%d places became %d", len(a.Places), len(b.Places))
	}
}

// A job's copy brings the photographs of the set along, with their pins; the manual stays. Where the sheet is
// here already its own pictures stand.
func TestAJobsCopyBringsThePictures(t *testing.T) {
	w := open(t)
	_, file := w.call("GET", "/api/jobs/142/file.json", "")
	there := empty(t)
	there.must("POST", "/api/jobs/import", string(file))
	a, b := w.board("/api/jobs/142/board"), there.board("/api/jobs/142/board")
	if len(b.Pictures) != 2 || len(b.Pictures[0].Pins) != len(a.Pictures[0].Pins) ||
		b.Pictures[0].Pins[0].Mark != a.Pictures[0].Pins[0].Mark {
		t.Errorf("%d pictures came", len(b.Pictures))
	}
	there.must("POST", "/api/jobs/import", string(file))
	if again := there.board("/api/sheets/1/board"); len(again.Pictures) != 2 {
		t.Errorf("brought twice: %d pictures", len(again.Pictures))
	}
	spoilt := strings.Replace(string(file), `"data": "`, `"data": "AAAA`, 1)
	if status, says := empty(t).detail("POST", "/api/jobs/import", spoilt); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "icture 1 of its sheet") {
		t.Errorf("%d %s", status, says)
	}
}

func bundled(t *testing.T, files map[string]string) string {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		f, err := z.Create(name)
		if err == nil {
			_, err = io.WriteString(f, text)
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// What is no picture, no bundle, or of no sense is refused with what to do, and nothing is half kept.
func TestHostilePictures(t *testing.T) {
	w := open(t)
	_, sheet := w.call("GET", "/api/sheets/4/file.json", "")
	list := func(picture string) string {
		return fmt.Sprintf(`{"format":"steptrace-pictures","version":1,"pictures":[%s]}`, picture)
	}
	one := `{"id":"a","name":"a","seen":"parts","type":"image/jpeg","added":"2026-11-23T09:00:00Z","pins":[%s],"file":"a.jpg"}`
	whole := bundled(
		t,
		map[string]string{"sheet.json": string(sheet), "pictures.json": list(fmt.Sprintf(one, "")), "a.jpg": snapshot(t, 4, 3)},
	)
	for _, x := range []struct {
		name, method, path, body string
		status                   int
		says                     string
	}{
		{"an SVG", "POST", "/api/sheets/4/board?id=a&name=a&seen=parts", "<svg xmlns='http://www.w3.org/2000/svg'/>", 422, "not a JPEG"},
		{"nothing", "POST", "/api/sheets/4/board?id=a&name=a&seen=parts", "", 422, "Nothing arrived"},
		{"half a picture", "POST", "/api/sheets/4/board?id=a&name=a&seen=parts", snapshot(t, 400, 300)[:900], 422, "breaks off"},
		{"no id", "POST", "/api/sheets/4/board?name=a&seen=parts", snapshot(t, 4, 3), 422, "needs an id"},
		{"no name", "POST", "/api/sheets/4/board?id=a&seen=parts", snapshot(t, 4, 3), 422, "has no name"},
		{"of no side", "POST", "/api/sheets/4/board?id=a&name=a&seen=inside", snapshot(t, 4, 3), 422, "shows parts, copper"},
		{"of no sheet", "POST", "/api/sheets/99/board?id=a&name=a&seen=parts", snapshot(t, 4, 3), 404, "no such entry"},
		{"pin beside", "POST", "/api/sheets/3/board/rt7-parts/pins", `{"changes":0,"name":"A","x":7,"y":0}`, 422, "beside the picture"},
		{"pin on a page of an image", "POST", "/api/sheets/3/board/rt7-parts/pins", `{"changes":0,"name":"A","page":2,"x":0,"y":0}`, 422,
			"an image's on none"},
		{"pin that is gone", "POST", "/api/sheets/3/board/rt7-parts/pins", `{"changes":0,"name":"A","x":0,"y":0,"out":true}`, 422,
			"not on this picture"},
		{"turned too far", "PUT", "/api/sheets/3/board/rt7-parts", `{"name":"a","seen":"parts","turn":4,"mirror":false,"struck":false}`,
			422, "0 to 3 quarters"},
		{"half a zip", "POST", "/api/sheets/import", whole[:len(whole)-40], 422, "breaks off"},
		{"a zip of something else", "POST", "/api/sheets/import", bundled(t, map[string]string{"a.txt": "x"}), 422, "no sheet.json in"},
		{"without its picture", "POST", "/api/sheets/import",
			bundled(t, map[string]string{"sheet.json": string(sheet), "pictures.json": list(fmt.Sprintf(one, ""))}), 422, "no a.jpg in"},
		{"picture that is none", "POST", "/api/sheets/import",
			bundled(t, map[string]string{"sheet.json": string(sheet), "pictures.json": list(fmt.Sprintf(one, "")), "a.jpg": "x"}), 422,
			"a.jpg: this is not"},
		{"picture that is a manual", "POST", "/api/sheets/import",
			bundled(t, map[string]string{"sheet.json": string(sheet), "pictures.json": list(fmt.Sprintf(one, "")), "a.jpg": manual}), 422,
			"though pictures.json says"},
		{"pins beside", "POST", "/api/sheets/import", bundled(t, map[string]string{"sheet.json": string(sheet), "a.jpg": snapshot(t, 4, 3),
			"pictures.json": list(fmt.Sprintf(one, `{"name":"A","x":-1,"y":0}`))}), 422, "beside the picture"},
		{"of another format", "POST", "/api/sheets/import",
			bundled(t, map[string]string{"sheet.json": string(sheet),
				"pictures.json": `{"format":"album","version":1,"pictures":[]}`}), 422, "album"},
		{"a thousand files", "POST", "/api/sheets/import", bundled(t, thousand()), 422, "up to 220"},
		{"a bomb", "POST", "/api/sheets/import",
			bundled(t, map[string]string{"sheet.json": strings.Repeat(" ", 200<<20)}), 422, "unfolds to"},
	} {
		if status, says := w.detail(x.method, x.path, x.body); status != x.status || !strings.Contains(says, x.says) {
			t.Errorf("%s: %d %q; want %d %q", x.name, status, says, x.status, x.says)
		}
	}
	if b := w.board("/api/sheets/4/board"); len(b.Pictures) > 0 {
		t.Errorf("something was kept: %+v", b.Pictures)
	}
	if _, data := w.call("GET", "/api/sheets", ""); bytes.Count(data, []byte(`"id"`)) != 5 {
		t.Errorf("something was half stored: %.300s", data)
	}
	w.must("POST", "/api/sheets/import", whole)
}

func thousand() map[string]string {
	out := map[string]string{}
	for i := range 1000 {
		out[fmt.Sprint(i)] = ""
	}
	return out
}

// Pins placed at once from two tabs are all there.
func TestTwoTabsPlacePins(t *testing.T) {
	w := open(t)
	var wg sync.WaitGroup
	for i := range 24 {
		wg.Go(func() {
			w.call("POST", "/api/sheets/3/board/rt7-copper/pins", fmt.Sprintf(`{"changes":0,"name":"S%d","x":0.5,"y":0.5}`, i))
		})
	}
	wg.Wait()
	n := 0
	for _, p := range w.board("/api/sheets/3/board").Pictures[1].Pins {
		if strings.HasPrefix(p.Name, "S") && !strings.Contains(p.Name, "-") {
			n++
		}
	}
	if n != 24 {
		t.Errorf("%d pins of 24", n)
	}
}
