package store

import (
	"context"
	"math"
	"time"

	"steptrace/core/soak"
)

// Stretch is what a trace showed from a time on, over so long (seconds; nothing of one value): the least, the greatest, the
// mean, of how many values.
type Stretch struct {
	T, Over  float64
	Least    float64
	Greatest float64
	Mean     float64
	Count    int
}

// The stretches that values are drawn together in: the first is that of a curve, each next one four times as long.
const (
	firstStretch = int64(1000 * soak.Stretch) // ms
	stretchLevel = 7
	stretchTimes = 4
)

func stretchOf(level int) int64 { return firstStretch << (2 * (level - 1)) }

// LogSoak keeps values of a soak that began with an entry, and how far it is: all of them are on disk when it returns, or
// none. A value that is there already stays as it is.
func (s *Store) LogSoak(ctx context.Context, number int, entry string, t float64, wall time.Time, values []soak.Value) error {
	return s.inTx(ctx, func(tx runner) error { return logSoak(ctx, tx, number, entry, t, wall, values) })
}

func logSoak(ctx context.Context, tx runner, number int, entry string, t float64, wall time.Time, values []soak.Value) error {
	var id int64
	err := tx.QueryRowContext(ctx, `INSERT INTO soak (job, entry, t, wall) VALUES (?,?,?,?)
		ON CONFLICT (job, entry) DO UPDATE SET t = max(t, excluded.t), wall = excluded.wall RETURNING id`,
		number, entry, t, stamp(wall)).Scan(&id)
	for i := range values {
		if err != nil {
			return err
		}
		err = logValue(ctx, tx, id, &values[i])
	}
	return err
}

// logTable takes the log of a soak that a job's file brings along.
func (c *change) logTable(e *soak.Entry, data []byte) error {
	values, err := soak.ReadTable(e.Begin, data)
	if err != nil || len(values) == 0 {
		return err
	}
	return logSoak(c.ctx, c.tx, c.number, e.ID, values[len(values)-1].T, e.At, values)
}

// most values of a log go into a job's file one by one; of more, the means of its minutes.
const mostWhole = 500_000

// SoakTable is all that a soak has logged, as a table; nothing where that is nothing.
func (s *Store) SoakTable(ctx context.Context, number int, e *soak.Entry) ([]byte, error) {
	var many int
	err := s.reads.QueryRowContext(ctx, `SELECT count(*) FROM (SELECT 1 FROM soak_log JOIN soak ON soak.id = soak_log.soak
		WHERE job = ? AND entry = ? AND level = 0 LIMIT ?)`, number, e.ID, mostWhole+1).Scan(&many)
	if err != nil || many == 0 {
		return nil, err
	}
	level := 0
	if many > mostWhole {
		level = 1
	}
	rows, err := s.reads.QueryContext(ctx, `SELECT trace, at, total / count FROM soak_log JOIN soak ON soak.id = soak_log.soak
		WHERE job = ? AND entry = ? AND level = ? ORDER BY at, trace`, number, e.ID, level)
	values, err := collect(rows, err, func(r scanner) (v soak.Value, err error) {
		var at int64
		err = r.Scan(&v.Trace, &at, &v.V)
		v.T = float64(at) / 1000
		return v, err
	})
	if err != nil {
		return nil, err
	}
	return soak.WriteTable(e.Begin, values), nil
}

func logValue(ctx context.Context, tx runner, id int64, v *soak.Value) error {
	at := int64(math.Round(1000 * v.T))
	res, err := tx.ExecContext(ctx, `INSERT INTO soak_log (soak, trace, level, at, least, greatest, total, count)
		VALUES (?1,?2,0,?3,?4,?4,?4,1) ON CONFLICT DO NOTHING`, id, v.Trace, at, v.V)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return err
	}
	for level := 1; level <= stretchLevel; level++ {
		long := stretchOf(level)
		if _, err := tx.ExecContext(ctx, `INSERT INTO soak_log (soak, trace, level, at, least, greatest, total, count)
			VALUES (?1,?2,?3,?4,?5,?5,?5,1) ON CONFLICT DO UPDATE SET least = min(least, excluded.least),
			greatest = max(greatest, excluded.greatest), total = total + excluded.total, count = count + 1`,
			id, v.Trace, level, at/long*long, v.V); err != nil {
			return err
		}
	}
	return nil
}

// SoakAt tells how far a soak is by its own time, and what the clock showed then. ErrNotFound where nothing was logged.
func (s *Store) SoakAt(ctx context.Context, number int, entry string) (t float64, wall time.Time, err error) {
	var text string
	err = s.reads.QueryRowContext(ctx, "SELECT t, wall FROM soak WHERE job = ? AND entry = ?", number, entry).Scan(&t, &text)
	if err != nil {
		return 0, wall, noRows(err)
	}
	wall, err = parseStamp(text)
	return t, wall, err
}

// mostStretches is how many of a trace are drawn at most: a screen has no more columns.
const mostStretches = 1500

// SoakLog gives a trace's values between two times (seconds), drawn together as far as a screen needs; with all, each one.
func (s *Store) SoakLog(ctx context.Context, number int, entry string, trace int, from, to float64, all bool) ([]Stretch, error) {
	level, a, b := 0, int64(1000*from), int64(math.Ceil(1000*to))
	if !all {
		var many int
		err := s.reads.QueryRowContext(ctx, `SELECT count(*) FROM (SELECT 1 FROM soak_log JOIN soak ON soak.id = soak_log.soak
			WHERE job = ? AND entry = ? AND trace = ? AND level = 0 AND at BETWEEN ? AND ? LIMIT ?)`,
			number, entry, trace, a, b, mostStretches+1).Scan(&many)
		if err != nil {
			return nil, err
		}
		if many > mostStretches {
			for level = 1; level < stretchLevel && (b-a)/stretchOf(level) > mostStretches; level++ {
			}
			a -= stretchOf(level)
		}
	}
	rows, err := s.reads.QueryContext(ctx, `SELECT at, least, greatest, total, count FROM soak_log JOIN soak ON soak.id = soak_log.soak
		WHERE job = ? AND entry = ? AND trace = ? AND level = ? AND at BETWEEN ? AND ? ORDER BY at`, number, entry, trace, level, a, b)
	return collect(rows, err, func(r scanner) (x Stretch, err error) {
		var at int64
		var total float64
		if err = r.Scan(&at, &x.Least, &x.Greatest, &total, &x.Count); err == nil {
			x.T, x.Mean = float64(at)/1000, total/float64(x.Count)
			if level > 0 {
				x.Over = float64(stretchOf(level)) / 1000
			}
		}
		return x, err
	})
}

// SoakCourse gives the means of a trace's first stretches, all of them, each at its end, for its curve.
func (s *Store) SoakCourse(ctx context.Context, number int, entry string, trace int) ([]soak.Point, error) {
	rows, err := s.reads.QueryContext(ctx, `SELECT at, total, count, t FROM soak_log JOIN soak ON soak.id = soak_log.soak
		WHERE job = ? AND entry = ? AND trace = ? AND level = 1 ORDER BY at`, number, entry, trace)
	return collect(rows, err, func(r scanner) (p soak.Point, err error) {
		var at, count int64
		var total, t float64
		if err = r.Scan(&at, &total, &count, &t); err == nil {
			p = soak.Point{T: min(float64(at)/1000+soak.Stretch, t), V: total / float64(count)}
		}
		return p, err
	})
}

// RunningSoaks lists the jobs that have a soak which began and is not over.
func (s *Store) RunningSoaks(ctx context.Context) ([]int, error) {
	rows, err := s.reads.QueryContext(ctx, `SELECT DISTINCT job FROM entry WHERE kind = 'soaks' AND struck = 0
		AND job IN (SELECT number FROM job WHERE finished IS NULL)`)
	return collect(rows, err, func(r scanner) (n int, err error) { return n, r.Scan(&n) })
}

// OfSoak are the files of a soak that a job's file brings along.
func OfSoak(data []byte) Files { return Files{received: data} }
