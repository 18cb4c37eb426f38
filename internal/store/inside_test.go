package store

import (
	"errors"
	"path/filepath"
	"reflect"
	"testing"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/inside"
	"steptrace/core/job"
)

// What is noted inside a stage is there after reopening, as it was written; sent twice it is
// kept once; and a part that finished jobs condemned is known of the model.
func TestInsideIsKept(t *testing.T) {
	path := filepath.Join(t.TempDir(), "w.db")
	s := open1(t, path)
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	at := time.Date(2026, 11, 25, 9, 0, 0, 123456789, time.UTC)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: at}, id, nil)
	must(t, err)
	entries := []inside.Entry{
		{
			ID:      "a",
			Stage:   "amp",
			At:      at,
			Reading: &circuit.NodeReading{What: circuit.DC, Node: "base <1> & \"2\"", Value: "4,7 kΩ µ\u2028\n"},
		},
		{
			ID:    "b",
			Stage: "amp",
			At:    at,
			Check: &inside.Check{Part: "Q1", Kind: "fuse", Given: map[string]string{"z": "1", "ohms": "OL", "a": "<"}},
		},
		{
			ID:       "c",
			Stage:    "amp",
			At:       at,
			Provoked: &inside.Provoked{Place: "edge", Act: "tap", Came: inside.Comes, Picture: "p", X: 0.1234567890123, Y: 1e-7},
		},
		{ID: "d", Stage: "amp", At: at, Condemned: &inside.Condemned{Part: "C2", What: "open", Why: []string{"reads 0", "tapped"}}},
	}
	for i := range entries {
		entries[i].At = at.Add(time.Duration(i) * time.Second)
		must(t, s.Note(ctx, n, &entries[i], nil))
		again := entries[i]
		again.At = at.Add(time.Minute)
		if err := s.Note(ctx, n, &again, nil); err != nil {
			t.Errorf("%s sent again: %v", again.ID, err)
		}
		again.Stage = "another"
		if err := s.Note(ctx, n, &again, nil); !errors.Is(err, ErrTaken) {
			t.Errorf("another %s: %v", again.ID, err)
		}
	}
	must(t, s.Strike(ctx, n, "inside", "b", ""))
	if err := s.Strike(ctx, n, "inside", "x", ""); !errors.Is(err, ErrNotFound) {
		t.Error(err)
	}
	known := func(want int) {
		t.Helper()
		failed, err := s.FailedParts(ctx, id, "amp")
		must(t, err)
		if failed["C2"] != want || len(failed) > 1 {
			t.Errorf("known: %v, not %d", failed, want)
		}
	}
	known(0) // the job is not finished
	must(t, s.Finish(ctx, n, "C2 open", "amp", nil))
	known(1)
	if err := s.Note(ctx, n, &inside.Entry{ID: "e", Stage: "amp"}, nil); !errors.Is(err, ErrFinished) {
		t.Error(err)
	}
	must(t, s.Close())

	s = open1(t, path)
	defer func() { must(t, s.Close()) }()
	entries[1].Struck = true
	got, err := s.Job(ctx, n)
	must(t, err)
	if !reflect.DeepEqual(got.Inside, entries) {
		t.Errorf("kept %+v", got.Inside)
	}
	// A job that is brought in with them has them too.
	m, err := s.AddJob(ctx, &job.Job{Complaint: "again", Opened: at, Finished: &at, Inside: entries}, id, nil)
	must(t, err)
	if got, err = s.Job(ctx, m); err != nil || !reflect.DeepEqual(got.Inside, entries) {
		t.Errorf("brought %+v, %v", got.Inside, err)
	}
	known(2)
}
