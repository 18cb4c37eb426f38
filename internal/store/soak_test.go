package store

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"steptrace/core/job"
	"steptrace/core/soak"
)

// begun is a store with a job, in which a soak may log.
func begun(tb testing.TB) (*Store, int) {
	tb.Helper()
	ctx := context.Background()
	s, err := Open(ctx, tb.TempDir()+"/soak.db")
	if err != nil {
		tb.Fatal(err)
	}
	tb.Cleanup(func() { _ = s.Close() })
	id, err := s.AddSheet(ctx, document("X"))
	if err != nil {
		tb.Fatal(err)
	}
	n, err := s.AddJob(ctx, &job.Job{Complaint: "hums", Opened: time.Now()}, id, nil)
	if err != nil {
		tb.Fatal(err)
	}
	return s, n
}

// What was logged comes back whole, and drawn together with the least, the greatest and the mean of every stretch; sent
// twice it counts once.
func TestSoakIsLogged(t *testing.T) {
	ctx := context.Background()
	s, n := begun(t)
	rng := rand.New(rand.NewPCG(1, 2))
	var all []soak.Value
	for i := range 5000 {
		all = append(all, soak.Value{Trace: 0, T: float64(i) * 2, V: 20 + rng.Float64()})
	}
	for i := 0; i < len(all); i += 100 {
		for range 2 { // the answer did not arrive
			if err := s.LogSoak(ctx, n, "x", all[i+99].T, time.Now(), all[i:i+100]); err != nil {
				t.Fatal(err)
			}
		}
	}
	if at, _, err := s.SoakAt(ctx, n, "x"); err != nil || at != 9998 {
		t.Error(at, err)
	}
	whole, err := s.SoakLog(ctx, n, "x", 0, 0, 1e6, true)
	if err != nil || len(whole) != len(all) {
		t.Fatal(len(whole), err)
	}
	drawn, err := s.SoakLog(ctx, n, "x", 0, 0, 10_000, false)
	if err != nil || len(drawn) > mostStretches {
		t.Fatal(len(drawn), err)
	}
	count := 0
	for _, d := range drawn {
		least, greatest, sum, k := math.Inf(1), math.Inf(-1), 0.0, 0
		for _, v := range all {
			if v.T >= d.T && v.T < d.T+64 {
				least, greatest, sum, k = math.Min(least, v.V), math.Max(greatest, v.V), sum+v.V, k+1
			}
		}
		if d.Least != least || d.Greatest != greatest || d.Count != k || math.Abs(d.Mean-sum/float64(k)) > 1e-9 {
			t.Fatalf("%+v, expected %g to %g, %d", d, least, greatest, k)
		}
		count += k
	}
	if count != len(all) {
		t.Errorf("%d of %d are drawn", count, len(all))
	}
	if near, err := s.SoakLog(ctx, n, "x", 0, 100, 200, false); err != nil || len(near) != 51 {
		t.Errorf("of a hundred seconds there are %d, %v", len(near), err)
	}
	if course, err := s.SoakCourse(ctx, n, "x", 0); err != nil || len(course) != 157 {
		t.Errorf("%d minutes, %v", len(course), err)
	}
}

// A year of ten million values in five traces, drawn whole, a month, a day, an hour of it.
func BenchmarkSoakDrawn(b *testing.B) {
	ctx := context.Background()
	s, n := begun(b)
	const traces, each, every = 5, 2_000_000, 15.75 // seconds: a year
	if err := s.LogSoak(ctx, n, "x", 0, time.Now(), nil); err != nil {
		b.Fatal(err)
	}
	fill := []string{
		fmt.Sprintf(
			`WITH RECURSIVE k(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM k WHERE i < %d), tr(j) AS (SELECT 0 UNION ALL SELECT j + 1
			FROM tr WHERE j < %d) INSERT INTO soak_log SELECT 1, j, 0, CAST(i * %g AS INTEGER), v, v, v, 1
			FROM (SELECT j, i, 40 + 10 * sin(i / 5000.0) + abs(random() %% 100) / 100.0 AS v FROM tr, k)`,
			each-1,
			traces-1,
			1000*every,
		),
	}
	for level := 1; level <= stretchLevel; level++ {
		fill = append(fill, fmt.Sprintf(`INSERT INTO soak_log SELECT soak, trace, %[1]d, at / %[2]d * %[2]d, min(least), max(greatest),
			sum(total), sum(count) FROM soak_log WHERE level = %[3]d GROUP BY soak, trace, at / %[2]d`, level, stretchOf(level), level-1))
	}
	for _, q := range fill {
		if _, err := s.write.ExecContext(ctx, q); err != nil {
			b.Fatal(err)
		}
	}
	year := each * every
	for name, span := range map[string]float64{"a year": year, "a month": year / 12, "a day": 86400, "an hour": 3600} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				for trace := range traces {
					from := year/2 - span/2
					if list, err := s.SoakLog(ctx, n, "x", trace, from, from+span, false); err != nil || len(list) == 0 {
						b.Fatal(len(list), err)
					}
				}
			}
		})
	}
}
