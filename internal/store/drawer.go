package store

import (
	"context"
	"encoding/json"

	"steptrace/core/device"
	"steptrace/core/replace"
)

// Types lists the workshop's own types of parts.
func (s *Store) Types(ctx context.Context) ([]device.Row, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT row FROM device_type ORDER BY name")
	return collect(rows, err, func(r scanner) (row device.Row, err error) {
		var text string
		if err = r.Scan(&text); err == nil {
			err = json.Unmarshal([]byte(text), &row)
		}
		return row, err
	})
}

// PutTypes keeps types, in place of those of their names: all of them or none.
func (s *Store) PutTypes(ctx context.Context, rows []device.Row) error {
	return s.inTx(ctx, func(tx runner) error {
		for i := range rows {
			text, err := json.Marshal(&rows[i])
			if err == nil {
				_, err = tx.ExecContext(ctx, `INSERT INTO device_type (name, row) VALUES (?,?)
					ON CONFLICT (name) DO UPDATE SET row = excluded.row`, rows[i].Type, string(text))
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// RemoveType takes one away; the table's own of that name counts again.
func (s *Store) RemoveType(ctx context.Context, name string) error {
	return s.inTx(ctx, func(tx runner) error {
		res, err := tx.ExecContext(ctx, "DELETE FROM device_type WHERE name = ?", name)
		return changed(res, err)
	})
}

// Drawer lists what lies in the workshop's drawer.
func (s *Store) Drawer(ctx context.Context) ([]replace.Kept, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT what, count, place, price FROM drawer ORDER BY what")
	return collect(rows, err, func(r scanner) (k replace.Kept, err error) {
		return k, r.Scan(&k.What, &k.Count, &k.Place, &k.Price)
	})
}

// takeOut takes so many of what out of the drawer; of what there are fewer nothing is left.
func takeOut(ctx context.Context, tx runner, taken []replace.Kept) error {
	for _, k := range taken {
		_, err := tx.ExecContext(ctx, "UPDATE drawer SET count = count - ? WHERE what = ?", k.Count, k.What)
		if err == nil {
			_, err = tx.ExecContext(ctx, "DELETE FROM drawer WHERE what = ? AND count <= 0", k.What)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// PutDrawer keeps how many of what there are; of none nothing stays.
func (s *Store) PutDrawer(ctx context.Context, kept []replace.Kept) error {
	return s.inTx(ctx, func(tx runner) error {
		for _, k := range kept {
			var err error
			if k.Count == 0 {
				_, err = tx.ExecContext(ctx, "DELETE FROM drawer WHERE what = ?", k.What)
			} else {
				_, err = tx.ExecContext(ctx, `INSERT INTO drawer (what, count, place, price) VALUES (?,?,?,?)
					ON CONFLICT (what) DO UPDATE SET count = excluded.count, place = excluded.place, price = excluded.price`, k.What, k.Count, k.Place, k.Price)
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// Schools are those that the workshop's jobs were done by, the latest of all first.
func (s *Store) Schools(ctx context.Context) ([]replace.School, error) {
	rows, err := s.reads.QueryContext(ctx, `SELECT body ->> 'school' FROM entry WHERE kind = 'replacing' AND struck = 0
		AND body ->> 'school' <> '' ORDER BY body ->> 'at' DESC LIMIT 60`)
	return collect(rows, err, func(r scanner) (school replace.School, err error) { return school, r.Scan(&school) })
}

// Replaced is what stood and what was chosen in its place in every job that ended with a repair, job by job.
func (s *Store) Replaced(ctx context.Context) ([][]replace.Entry, error) {
	rows, err := s.reads.QueryContext(ctx, `SELECT e.job, e.body FROM entry e JOIN job j ON j.number = e.job
		WHERE e.kind = 'replacing' AND e.struck = 0 AND j.finished IS NOT NULL
		AND EXISTS (SELECT 1 FROM entry r WHERE r.job = e.job AND r.kind = 'repairs' AND r.struck = 0)
		AND (e.body ->> '$.subject.part' <> '' OR e.body ->> '$.chosen.part' <> '') ORDER BY e.job, e.serial`)
	type noted struct {
		job  int
		body string
	}
	list, err := collect(rows, err, func(r scanner) (n noted, err error) { return n, r.Scan(&n.job, &n.body) })
	var out [][]replace.Entry
	for i, n := range list {
		var e replace.Entry
		if err == nil {
			err = json.Unmarshal([]byte(n.body), &e)
		}
		if i == 0 || list[i-1].job != n.job {
			out = append(out, nil)
		}
		out[len(out)-1] = append(out[len(out)-1], e)
	}
	return out, err
}
