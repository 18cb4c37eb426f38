package training_test

import (
	"encoding/json"
	"reflect"
	"strings"
	"testing"
	"time"

	"steptrace/core/exchange"
	"steptrace/core/training"
)

// A case goes out and comes in the same, its answer not to be read in the file; one that was cut, altered, is of another kind or of a later
// version is refused in words, and never half taken.
func TestACaseGoesOutAndComesIn(t *testing.T) {
	t.Parallel()
	c := drawn(t, training.Usual, 12)
	c.Advice = training.Asked
	data := c.WriteFile()
	back, err := training.ReadFile(data)
	if err != nil {
		t.Fatal(err)
	}
	a := exchange.Encode(c)
	if b := exchange.Encode(back); string(a) != string(b) {
		t.Errorf("it came back otherwise:\n%s\n%s", a, b)
	}
	if strings.Contains(string(data), `"faults"`) || strings.Contains(string(data), `"block"`) {
		t.Errorf("the answer can be read in the file: %.300s", data)
	}
	var f map[string]any
	if err := json.Unmarshal(data, &f); err != nil {
		t.Fatal(err)
	}
	with := func(key string, value any) []byte {
		g := map[string]any{}
		for k, v := range f {
			g[k] = v
		}
		g[key] = value
		out, _ := json.Marshal(g)
		return out
	}
	other := drawn(t, training.Usual, 13)
	var o map[string]any
	if err := json.Unmarshal(other.WriteFile(), &o); err != nil {
		t.Fatal(err)
	}
	sealed := f["sealed"].(string)
	for says, file := range map[string][]byte{
		"later Step Trace": with("version", 2), "no case": with("format", "steptrace-job"), "altered": with("sealed", o["sealed"]),
		"cut or changed": with("sealed", sealed[:len(sealed)/2]), "changed on the way": with("sealed", "???"), "": []byte("{"),
	} {
		if _, err := training.ReadFile(file); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", says, err)
		}
	}
}

// A result goes out and comes in the same; figures that cannot be are refused.
func TestAResultGoesOutAndComesIn(t *testing.T) {
	t.Parallel()
	w := begun(t)
	for _, p := range []string{"p8", "p1", "p4", "p6"} {
		w.read(p)
	}
	w.replace("s3")
	r := w.c.Review(w.plan, &w.j, &training.Progress{})
	got := w.c.Result(r, "trainee one", time.Unix(1e9, 0))
	if got.Found != 0 || got.Faults != 1 || got.InVain != 1 || got.Probes != 4 || got.Lost < 1 ||
		!strings.HasPrefix(got.Costliest, "p1") {
		t.Errorf("%+v", got)
	}
	data, _ := json.Marshal(got)
	back, err := training.ReadResult(data)
	if err != nil || !reflect.DeepEqual(got, back) {
		t.Errorf("%v: %+v", err, back)
	}
	for _, change := range []func(*training.Result){
		func(r *training.Result) { r.Format = "x" }, func(r *training.Result) { r.Version = 9 }, func(r *training.Result) { r.Found = 7 },
		func(r *training.Result) { r.Minutes = -1 }, func(r *training.Result) { r.Who = strings.Repeat("x", 100) },
	} {
		bad := got
		change(&bad)
		data, _ := json.Marshal(bad)
		if _, err := training.ReadResult(data); err == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
}
