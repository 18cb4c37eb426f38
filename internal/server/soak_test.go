package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/soak"
	"steptrace/core/standin"
	"steptrace/internal/server"
)

// plan is one of two heat sinks that the practice logger reads, under a signal, in simulated time.
func plan(speed float64) soak.Plan {
	const logger = "practice-logger"
	return soak.Plan{
		Every: 5,
		Speed: speed,
		Steps: []soak.Step{
			{Name: "drive", Do: soak.Drive, Minutes: 300, Signal: &soak.Signal{Level: "250 mV", From: "50 Hz", To: "2 kHz", Sweep: 60}},
		},
		Traces: []soak.Trace{
			{Name: "left", What: soak.Temperature, Instrument: logger, Input: 1, Twin: "right", Apart: "6 °C"},
			{Name: "right", What: soak.Temperature, Instrument: logger, Input: 2, Twin: "left", Apart: "6 °C"},
		},
	}
}

const soakJob = "/api/jobs/147"

// until asks for the soak until something is so, or half a minute has passed.
func until(t *testing.T, w *workshop, what string, is func(v *server.SoakView) bool) server.SoakView {
	t.Helper()
	for began := time.Now(); time.Since(began) < 30*time.Second; time.Sleep(20 * time.Millisecond) {
		if v := ask[server.SoakView](w, "GET", soakJob+"/soak", nil); is(&v) {
			return v
		}
	}
	t.Fatalf("waited in vain for %s", what)
	return server.SoakView{}
}

func happened(v *server.SoakView, what soak.Happened) bool {
	for _, e := range v.Events {
		if e.What == what {
			return true
		}
	}
	return false
}

// A channel that runs hot: the difference is told with its reason, and the generator is off at once, whatever the next turn
// brings; it goes on when it is told so, and is off when the soak is ended.
func TestALimitStopsTheGenerator(t *testing.T) {
	w, d := practising(t)
	ask[server.PracticeView](w, "POST", soakJob+"/practice",
		server.Practising{Fault: standin.Fault{Block: "power amplifier, right", Effect: standin.Hot, Size: 3}})
	ask[server.SoakView](w, "POST", soakJob+"/soak", server.ToSoak{ID: "k", Plan: plan(600)})
	until(t, w, "the drive", func(v *server.SoakView) bool { return v.Feeding != "" && d.Generating() != "off" })
	// Nobody else has the generator meanwhile, and nobody takes the set away.
	for path, body := range map[string]string{
		"/api/jobs/142/hands": `{"probe":"J2-4","generator":true,"conditions":{}}`,
		"/api/jobs/142/feed":  `{}`,
		"/api/jobs/142/soak":  `{"id":"other","plan":{"steps":[{"name":"","do":"idle","minutes":5}],"traces":[{"name":"a","what":"temperature","instrument":"practice-logger","input":1}]}}`,
	} {
		if status, answer := w.call("POST", path, body); status != http.StatusUnprocessableEntity ||
			!strings.Contains(string(answer), "No. 147") {
			t.Errorf("%s: %d %s", path, status, answer)
		}
	}
	v := until(t, w, "a limit", func(v *server.SoakView) bool { return happened(v, soak.Stopped) })
	if !happened(&v, soak.Passed) || v.Driven || !strings.Contains(v.State.Headline, "above left; 6 °C allowed") {
		t.Errorf("%s, %+v", v.State.Headline, v.Events)
	}
	if d.Generating() != "off" {
		t.Errorf("the generator still gives %s", d.Generating())
	}
	ask[server.SoakView](w, "POST", soakJob+"/soak/do", server.SoakDoing{Do: "on"})
	until(t, w, "the second stop", func(v *server.SoakView) bool { return happened(v, soak.WentOn) && !v.Driven })
	v = ask[server.SoakView](w, "POST", soakJob+"/soak/do", server.SoakDoing{Do: "end"})
	if v.Running || v.Through || v.Ended != "ended by hand" || !strings.Contains(v.State.Headline, "above left; 6 °C allowed") {
		t.Errorf("%s: %s", v.Ended, v.State.Headline)
	}
	if d.Generating() != "off" {
		t.Errorf("after the end the generator gives %s", d.Generating())
	}
}

// An instrument that is gone: no value is invented, silence is told, and the gap is noted when the soak ends, though the
// instrument never came back.
func TestAnInstrumentThatIsGone(t *testing.T) {
	w, d := practising(t)
	ask[server.SoakView](w, "POST", soakJob+"/soak", server.ToSoak{ID: "k", Plan: plan(600)})
	until(t, w, "values", func(v *server.SoakView) bool { return v.State.Traces[0].Seen })
	if err := d.Close(); err != nil {
		t.Fatal(err)
	}
	v := until(t, w, "silence", func(v *server.SoakView) bool { return v.State.Traces[0].Verdict == soak.Silent })
	if !v.State.Bad || !strings.Contains(v.State.Headline, "nothing was read for") {
		t.Error(v.State.Headline)
	}
	log := ask[server.SoakLog](w, "GET", soakJob+"/soak/log", nil)
	v = ask[server.SoakView](w, "POST", soakJob+"/soak/do", server.SoakDoing{Do: "end"})
	if after := ask[server.SoakLog](w, "GET", soakJob+"/soak/log", nil); len(after.Traces[0].T) != len(log.Traces[0].T) {
		t.Errorf("%d values, then %d, of an instrument that is gone", len(log.Traces[0].T), len(after.Traces[0].T))
	}
	if !happened(&v, soak.Gap) {
		t.Errorf("no gap among %+v", v.Events)
	}
}

// What is typed counts each time, however quickly; one that cannot be read is refused with what would be.
func TestWhatIsTypedIntoASoak(t *testing.T) {
	w := open(t)
	typed := soak.Plan{
		Steps:  []soak.Step{{Name: "idle", Do: soak.Idle, Minutes: 60}},
		Traces: []soak.Trace{{Name: "sink", What: soak.Temperature, Most: "70 °C"}},
	}
	v := ask[server.SoakView](w, "POST", soakJob+"/soak", server.ToSoak{ID: "k", Plan: typed})
	if v.State.Headline != "Read and type sink." {
		t.Error(v.State.Headline)
	}
	for _, text := range []string{"31 °C", "31.5 °C", "32"} {
		ask[server.SoakView](w, "POST", soakJob+"/soak/value", server.SoakValue{Trace: "sink", Text: text})
	}
	if log := ask[server.SoakLog](w, "GET", soakJob+"/soak/log", nil); len(log.Traces[0].T) != 3 {
		t.Errorf("three were typed, %d are there", len(log.Traces[0].T))
	}
	if status, answer := w.call("POST", soakJob+"/soak/value", `{"trace":"sink","text":"warm"}`); status != http.StatusUnprocessableEntity ||
		!strings.Contains(string(answer), "Understood are") {
		t.Errorf("%d %s", status, answer)
	}
	v = ask[server.SoakView](w, "POST", soakJob+"/soak/value", server.SoakValue{Trace: "sink", Text: "71 °C"})
	if !happened(&v, soak.Stopped) || !strings.Contains(v.Events[len(v.Events)-1].Text, "take the signal away by hand") {
		t.Errorf("nothing is fed in by the plan, and nobody is told to take it away: %+v", v.Events)
	}
}

// A soak goes on after the program was started anew, and one that nobody watched to its end did not go through. Brought to
// another workshop in a job's file it does not run on there.
func TestASoakIsTakenUpAgain(t *testing.T) {
	w := open(t)
	typed := soak.Plan{
		Steps:  []soak.Step{{Name: "idle", Do: soak.Idle, Minutes: 0.03}},
		Traces: []soak.Trace{{Name: "sink", What: soak.Temperature}},
	}
	ask[server.SoakView](w, "POST", soakJob+"/soak", server.ToSoak{ID: "k", Plan: typed})
	elsewhere := empty(t)
	status, file := w.call("GET", soakJob+"/file.json", "")
	if status != http.StatusOK {
		t.Fatal(status)
	}
	n, err := elsewhere.server.ImportJob(context.Background(), file)
	if err != nil {
		t.Fatal(err)
	}
	if v := ask[server.SoakView](elsewhere, "GET", fmt.Sprintf("/api/jobs/%d/soak", n), nil); v.Running ||
		!strings.Contains(v.Ended, "written to a file") {
		t.Errorf("%+v", v)
	}
	w.server.Close() // in the middle
	time.Sleep(2 * time.Second)
	again := server.New(w.store, nil, nil)
	defer again.Close()
	if err := again.Soak(context.Background()); err != nil {
		t.Fatal(err)
	}
	w.server, w.handler = again, again.Handler()
	v := until(t, w, "its end", func(v *server.SoakView) bool { return !v.Running })
	if v.Through || v.State.Headline != "Nothing was read: it proves nothing." {
		t.Errorf("%+v", v)
	}
}

// A signal that the computer's sound plays: what it gives is known only of an output that was calibrated; while the page is
// heard of it is fed in, and when it is closed that is a gap, told when it is back.
func TestASoakPlayedAsSound(t *testing.T) {
	w, _ := practising(t)
	p := plan(0)
	p.By, p.Every = soak.BySound, 1
	ask[server.SoakView](w, "POST", soakJob+"/soak", server.ToSoak{ID: "k", Plan: p})
	const round = soakJob + "/soak/sound?step=0&rate=8000&device=default"
	if code, text := w.detail("GET", round, ""); code != http.StatusUnprocessableEntity || !strings.Contains(text, "calibrate it once") {
		t.Errorf("%d %s", code, text)
	}
	known := `{"device":"default","measured":"700 mV","peak":0.5}`
	if code, body := w.call("POST", "/api/sound/levels/out", known); code != http.StatusOK {
		t.Fatal(code, string(body))
	}
	// 250 mV rms of 1.98 V full scale, 60 s of it in 16 or 32 bits.
	if code, body := w.call("GET", round, ""); code != http.StatusOK || len(body) < 60*8000*2 || string(body[:4]) != "RIFF" {
		t.Errorf("%d, %d bytes", code, len(body))
	}
	if code, _ := w.call("GET", soakJob+"/soak/sound?step=7", ""); code != http.StatusNotFound {
		t.Errorf("of no step: %d", code)
	}
	sounding := func(what string, is func(v *server.SoakView) bool) {
		t.Helper()
		for began := time.Now(); time.Since(began) < 30*time.Second; time.Sleep(50 * time.Millisecond) {
			if v := ask[server.SoakView](w, "GET", soakJob+"/soak?sounding=1", nil); is(&v) {
				return
			}
		}
		t.Fatalf("waited in vain for %s", what)
	}
	sounding("the signal", func(v *server.SoakView) bool { return v.Feeding != "" })
	until(t, w, "silence", func(v *server.SoakView) bool { return v.Feeding == "" })
	sounding("the gap", func(v *server.SoakView) bool {
		return slices.ContainsFunc(v.Events, func(e soak.Event) bool {
			return e.What == soak.Gap && strings.HasPrefix(e.Text, "its signal was not played")
		})
	})
	fast := plan(60)
	fast.By = soak.BySound
	body := fmt.Sprintf(`{"id":"x","plan":%s}`, string(mustJSON(t, fast)))
	if code, text := w.detail("POST", "/api/jobs/146/soak", body); code != http.StatusUnprocessableEntity ||
		!strings.Contains(text, "real time") {
		t.Errorf("%d %s", code, text)
	}
}

func mustJSON(t *testing.T, x any) []byte {
	t.Helper()
	data, err := json.Marshal(x)
	if err != nil {
		t.Fatal(err)
	}
	return data
}
