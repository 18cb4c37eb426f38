package store

import (
	"context"
	"encoding/json"
	"time"

	"steptrace/core/past"
)

// mostPast is how many finished jobs are gone by at most, the latest: what was usual before them is not any more.
const mostPast = 3000

// group are the sheets of one model: those that were joined, or the one alone. It takes the sheet's id twice.
const group = "(SELECT sheet FROM joined WHERE model = (SELECT model FROM joined WHERE sheet = ?) UNION SELECT ?)"

// Past gives what the workshop's own finished jobs teach, the latest first.
func (s *Store) Past(ctx context.Context) ([]past.Own, error) {
	return s.past(ctx, "", mostPast)
}

// PastOf gives that of the jobs of one model, by one of its sheets.
func (s *Store) PastOf(ctx context.Context, sheetID int64) ([]past.Own, error) {
	return s.past(ctx, "AND sheet IN "+group, sheetID, sheetID, mostPast)
}

func (s *Store) past(ctx context.Context, where string, args ...any) ([]past.Own, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT number, teaches FROM job WHERE teaches IS NOT NULL "+where+
		" ORDER BY number DESC LIMIT ?", args...)
	return collect(rows, err, func(r scanner) (j past.Own, err error) {
		var text []byte
		if err := r.Scan(&j.Number, &text); err != nil {
			return j, err
		}
		return j, json.Unmarshal(text, &j.Job)
	})
}

// Lend takes in what another workshop's jobs teach, all or nothing; those that are there already count once. It gives how many are new.
func (s *Store) Lend(ctx context.Context, f *past.File) (taken int, err error) {
	err = s.inTx(ctx, func(tx runner) error {
		taken = 0
		for i := range f.Jobs {
			j := &f.Jobs[i]
			body, err := json.Marshal(j)
			if err != nil {
				return err
			}
			res, err := tx.ExecContext(ctx, "INSERT OR IGNORE INTO lent (whose, hash, model, taken, body) VALUES (?,?,?,?,?)",
				f.Workshop, j.Hash(), past.Key(j.Set), stamp(time.Now()), string(body))
			if err != nil {
				return err
			}
			n, err := res.RowsAffected()
			if err != nil {
				return err
			}
			taken += int(n)
		}
		return nil
	})
	return taken, err
}

// Lent gives what other workshops' jobs of a model teach, by its name; of all models where that is empty.
func (s *Store) Lent(ctx context.Context, model string) ([]past.Lent, error) {
	where, args := "", []any{}
	if model != "" {
		where, args = " WHERE model = ?", []any{past.Key(model)}
	}
	rows, err := s.reads.QueryContext(ctx, "SELECT whose, body FROM lent"+where+" ORDER BY whose, hash LIMIT 20000", args...)
	return collect(rows, err, func(r scanner) (j past.Lent, err error) {
		var text []byte
		if err := r.Scan(&j.Whose, &text); err != nil {
			return j, err
		}
		return j, json.Unmarshal(text, &j.Job)
	})
}

// GiveBack takes what another workshop lent out again.
func (s *Store) GiveBack(ctx context.Context, whose string) error {
	return s.inTx(ctx, func(tx runner) error {
		return changed(tx.ExecContext(ctx, "DELETE FROM lent WHERE whose = ?", whose))
	})
}

// Named is a sheet by its name.
type Named struct {
	ID   int64
	Name string
}

// SheetNames gives all sheets that are a model's, by their names.
func (s *Store) SheetNames(ctx context.Context) ([]Named, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT id, name FROM sheet WHERE own = 0 ORDER BY id")
	return collect(rows, err, func(r scanner) (x Named, err error) { return x, r.Scan(&x.ID, &x.Name) })
}

// Joined gives the other sheets of a model.
func (s *Store) Joined(ctx context.Context, sheetID int64) ([]Named, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT id, name FROM sheet WHERE id <> ? AND id IN "+group+" ORDER BY id",
		sheetID, sheetID, sheetID)
	return collect(rows, err, func(r scanner) (x Named, err error) { return x, r.Scan(&x.ID, &x.Name) })
}

// Join makes two sheets, with those that each is joined with, one model.
func (s *Store) Join(ctx context.Context, a, b int64) error {
	return s.inTx(ctx, func(tx runner) error {
		var there int
		if err := tx.QueryRowContext(ctx, "SELECT count(*) FROM sheet WHERE id IN (?, ?)", a, b).Scan(&there); err != nil {
			return err
		}
		if there != 2 {
			return ErrNotFound
		}
		for _, id := range []int64{a, b} {
			if _, err := tx.ExecContext(ctx, "INSERT OR IGNORE INTO joined (sheet, model) VALUES (?, ?)", id, id); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, `UPDATE joined SET model = (SELECT model FROM joined WHERE sheet = ?)
			WHERE model = (SELECT model FROM joined WHERE sheet = ?)`, a, b)
		return err
	})
}

// Part makes a sheet a model of its own again.
func (s *Store) Part(ctx context.Context, sheetID int64) error {
	return s.inTx(ctx, func(tx runner) error {
		return changed(tx.ExecContext(ctx, "DELETE FROM joined WHERE sheet = ?", sheetID))
	})
}
