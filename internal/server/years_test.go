package server_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// years is how large a workshop is made.
type years struct{ sheets, jobs, readings int }

var (
	makers = strings.Fields(
		"Aldren Boskamp Cernik Dravel Ekelund Fossby Gantner Hollin Istrel Jorvik Kestner Lomax Morell Nyberg Ostrom Perrin",
	)
	kinds      = []string{"stereo amplifier", "table receiver", "tape deck", "phono stage", "guitar amplifier", "picture monitor"}
	complaints = strings.Fields(
		"hums crackles weak silent distorts whistles fades drifts smells clicks dead noisy left right warm cold evening",
	)
)

// invented is a set of k stages in a row, on one rail.
func invented(r *rand.Rand, n, k int) *sheet.Sheet {
	s := &sheet.Sheet{
		Maker: makers[n%len(makers)],
		Model: fmt.Sprintf("%c%c-%d", 'A'+r.IntN(26), 'A'+r.IntN(26), n),
		Kind:  kinds[r.IntN(len(kinds))],
		Rails: []sheet.Rail{
			{Name: "+15 V", Value: "15 V"},
		},
		Points: []sheet.Point{
			{
				Name:   "J1",
				Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}},
			},
		},
	}
	for i := range k {
		from, to := s.Points[i].Name, fmt.Sprintf("Q%d c", i+1)
		s.Points = append(s.Points, sheet.Point{Name: to, Expect: []sheet.Expectation{}})
		s.Stages = append(
			s.Stages,
			sheet.Stage{
				Name:  fmt.Sprintf("Q%d stage", i+1),
				Kind:  "amplifier",
				From:  from,
				To:    to,
				Gain:  fmt.Sprintf("%d dB", r.IntN(12)-4),
				Needs: []string{"+15 V"},
			},
		)
	}
	return s
}

// fill makes a workshop of years: most of its jobs are finished, each with its readings, some
// found inside a stage, most repaired.
func (y years) fill(t testing.TB, db *store.Store) {
	t.Helper()
	ctx := context.Background()
	r := rand.New(rand.NewPCG(20, 26))
	ids, sets := make([]int64, y.sheets), make([]*sheet.Sheet, y.sheets)
	for n := range ids {
		var err error
		sets[n] = invented(r, n, 6+r.IntN(10))
		if ids[n], err = db.AddSheet(ctx, sets[n]); err != nil {
			t.Fatal(err)
		}
	}
	at := time.Date(2016, 1, 4, 8, 0, 0, 0, time.UTC)
	for n := range y.jobs {
		k := r.IntN(y.sheets)
		set := sets[k]
		broken := r.IntN(len(set.Stages))
		j := job.Job{
			Complaint: complaints[r.IntN(len(complaints))] + " " + complaints[r.IntN(len(complaints))],
			Opened:    at,
			Stage:     set.Stages[broken].Name,
			Intake:    intake.Notes{{ID: "n", Field: "works", Text: "the " + complaints[r.IntN(len(complaints))] + " side", At: at}},
		}
		for i := range y.readings / y.jobs {
			at = at.Add(time.Minute)
			p := 1 + r.IntN(len(set.Points)-1)
			read := reading.Reading{
				ID:         fmt.Sprint("r", i),
				Point:      set.Points[p].Name,
				Quantity:   sheet.AC,
				Text:       "12.3 mV",
				SI:         0.0123,
				Form:       quantity.RMS,
				Instrument: "scope10",
				Taken:      at,
			}
			if p > broken {
				read.Text, read.SI = "0.4 mV", 0.0004
			}
			j.Readings = append(j.Readings, job.Logged{Reading: read})
		}
		at = at.Add(time.Minute)
		part := fmt.Sprintf("C%d", 100+r.IntN(400))
		if n%2 == 0 {
			j.Inside = []inside.Entry{
				{ID: "i", Stage: j.Stage, At: at, Condemned: &inside.Condemned{Part: part, What: "open", Why: []string{"read so"}}},
			}
		}
		j.Repairs = []repair.Entry{
			{
				ID:     "q",
				At:     at,
				Repair: &repair.Repair{Did: repair.Replaced, Stage: j.Stage, Parts: []repair.Part{{Name: part, Found: repair.Bad}}},
			},
		}
		if n%50 != 0 {
			done := at
			j.Finished, j.Outcome = &done, part+" open in "+j.Stage
		}
		if _, err := db.AddJob(ctx, &j, ids[k], nil); err != nil {
			t.Fatal(err)
		}
	}
}

// opened is a server on a database file.
func opened(t testing.TB, path string) *workshop {
	t.Helper()
	db, err := store.Open(context.Background(), path)
	if err != nil {
		t.Fatal(err)
	}
	s := server.New(db, fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}}, nil)
	return &workshop{t, db, s, s.Handler()}
}

func (w *workshop) must(method, path, body string) []byte {
	w.t.Helper()
	status, data := w.call(method, path, body)
	if status != http.StatusOK {
		w.t.Fatalf("%s %s: %d %.300s", method, path, status, data)
	}
	return data
}

// A page of the shelf and of a search is small, however many jobs there are, and long chains
// do not swell it.
func TestThePageOfTheShelfIsSmall(t *testing.T) {
	w := empty(t)
	years{20, 130, 1300}.fill(t, w.store)
	r := rand.New(rand.NewPCG(1, 2))
	id, err := w.store.AddSheet(context.Background(), invented(r, 1, 60))
	if err != nil {
		t.Fatal(err)
	}
	for range 60 {
		ask[server.Opened](w, "POST", "/api/jobs", server.NewJob{Sheet: id, Complaint: "weak and crackles"})
	}
	if err := w.server.Freshen(context.Background()); err != nil {
		t.Fatal(err)
	}
	const most = 60_000
	for _, path := range []string{"/api/jobs", "/api/jobs?q=crack", "/api/jobs?place=finished", "/api/sheets"} {
		if data := w.must("GET", path, ""); len(data) > most {
			t.Errorf("%s: %d bytes", path, len(data))
		}
	}
	v := ask[server.Shelf](w, "GET", "/api/jobs", nil)
	if len(v.Jobs) != 50 || v.Bench != 63 || v.Finished != 127 || v.More == "" {
		t.Errorf("%d jobs of %d on the bench, %d finished", len(v.Jobs), v.Bench, v.Finished)
	}
	// It follows what is done.
	n := v.Jobs[0].Number
	w.must(
		"POST",
		fmt.Sprintf("/api/jobs/%d/waits", n),
		`{"id":"v","at":"2026-11-28T09:00:00Z","wait":{"for":"part","what":"BU-9 zebra"}}`,
	)
	found := ask[server.Shelf](w, "GET", "/api/jobs?q=zeb", nil)
	if len(found.Jobs) != 1 || found.Jobs[0].Number != n || found.Waiting != 1 ||
		!strings.Contains(found.Jobs[0].Waiting, "part: BU-9 zebra") {
		t.Errorf("%+v", found)
	}
	w.must("POST", fmt.Sprintf("/api/jobs/%d/waits", n), `{"id":"u","at":"2026-11-28T09:00:00Z","over":{"entry":"v"}}`)
	if found := ask[server.Shelf](w, "GET", "/api/jobs?q=zeb", nil); len(found.Jobs) != 0 || found.Waiting != 0 {
		t.Errorf("what has come is waited for: %+v", found)
	}
}

// BenchmarkWorkshopOfYears is the whole in figures: 10,000 jobs, 2,000 sheets, a million
// readings. Making it takes minutes, so it runs only when it is asked for (make bench).
func BenchmarkWorkshopOfYears(b *testing.B) {
	if os.Getenv("STEPTRACE_FULL") == "" {
		b.Skip("runs in make bench")
	}
	path := filepath.Join(b.TempDir(), "years.db")
	w := opened(b, path)
	years{2000, 10_000, 1_000_000}.fill(b, w.store)
	if err := w.server.Freshen(context.Background()); err != nil {
		b.Fatal(err)
	}
	for name, path := range map[string]string{"shelf": "/api/jobs", "finished": "/api/jobs?place=finished",
		"search a part": "/api/jobs?q=c123", "search a common word": "/api/jobs?q=crackles",
		"search two words": "/api/jobs?q=hums+gant", "search one letter": "/api/jobs?q=c", "sheets": "/api/sheets",
		"search sheets": "/api/sheets?q=tape", "open a job": "/api/jobs/4321"} {
		b.Run(name, func(b *testing.B) {
			var size int
			for b.Loop() {
				size = len(w.must("GET", path, ""))
			}
			b.ReportMetric(float64(size)/1000, "kB")
		})
	}
	small := empty(b)
	years{1, 1, 100}.fill(b, small.store)
	log := func(w *workshop, number int) func(b *testing.B) {
		return func(b *testing.B) {
			w.must("POST", fmt.Sprintf("/api/jobs/%d/reopen", number), "{}")
			file := w.must("GET", fmt.Sprintf("/api/jobs/%d/file.json", number), "")
			posted := 0
			for b.Loop() {
				if posted++; posted%20 == 1 { // a copy takes over, so that the log stays near a hundred
					b.StopTimer()
					if _, err := fmt.Sscanf(string(w.must("POST", "/api/jobs/import", string(file))), `{"number":%d}`,
						&number); err != nil {
						b.Fatal(err)
					}
					b.StartTimer()
				}
				w.must("POST", fmt.Sprintf("/api/jobs/%d/readings", number), taken(fmt.Sprint("n", posted), "Q2 c", "1m"))
			}
		}
	}
	b.Run("log a reading", log(w, 4321))
	b.Run("log a reading in a small workshop", log(small, 1))
	b.Run("start", func(b *testing.B) {
		if err := w.store.Close(); err != nil {
			b.Fatal(err)
		}
		for b.Loop() {
			w := opened(b, path)
			w.must("GET", "/api/jobs", "")
			if err := w.store.Close(); err != nil {
				b.Fatal(err)
			}
		}
	})
}
