package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"steptrace/core/inside"
)

// Inside gives what was noted inside the stages of a job, in order.
func (s *Store) Inside(ctx context.Context, number int) ([]inside.Entry, error) {
	rows, err := s.read.QueryContext(ctx, "SELECT body, struck IS NOT NULL FROM inside WHERE job = ? ORDER BY serial", number)
	return collect(rows, err, func(r scanner) (e inside.Entry, err error) {
		var body string
		var struck bool
		if err := r.Scan(&body, &struck); err != nil {
			return e, err
		}
		err = json.Unmarshal([]byte(body), &e)
		e.Struck = struck
		return e, err
	})
}

// NoteInside keeps an entry. The same one sent twice is kept once, whenever it comes again.
func (s *Store) NoteInside(ctx context.Context, number int, e inside.Entry) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		content := e
		content.At = time.Time{}
		body, err := json.Marshal(content)
		if err != nil {
			return err
		}
		there, err := kept(ctx, tx, "SELECT json_set(body, '$.at', '0001-01-01T00:00:00Z') FROM inside WHERE job = ? AND id = ?", number, e.ID, string(body))
		if there || err != nil {
			return err
		}
		return addInside(ctx, tx, number, &e)
	})
}

func addInside(ctx context.Context, tx *sql.Tx, number int, e *inside.Entry) error {
	var struck any
	if e.Struck {
		struck = stamp(time.Now())
	}
	kept := *e
	kept.Struck, kept.At = false, e.At.UTC()
	body, err := json.Marshal(kept)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, "INSERT INTO inside (id, job, body, struck) VALUES (?,?,?,?)", e.ID, number, string(body), struck)
	return err
}

// StrikeInside withdraws an entry; it stays in the record.
func (s *Store) StrikeInside(ctx context.Context, number int, id string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, "UPDATE inside SET struck = coalesce(struck, ?) WHERE job = ? AND id = ?", stamp(time.Now()), number, id)
		return changed(res, err)
	})
}

// FailedParts counts how often each part of a stage was condemned in finished jobs of a sheet.
func (s *Store) FailedParts(ctx context.Context, sheetID int64, stage string) (map[string]int, error) {
	type failed struct {
		part  string
		times int
	}
	rows, err := s.read.QueryContext(ctx, `SELECT json_extract(i.body, '$.condemned.part'), count(DISTINCT j.number) FROM inside i JOIN job j ON j.number = i.job
		WHERE j.sheet = ? AND j.finished IS NOT NULL AND i.struck IS NULL AND json_extract(i.body, '$.condemned.part') IS NOT NULL AND json_extract(i.body, '$.stage') = ? GROUP BY 1`, sheetID, stage)
	all, err := collect(rows, err, func(r scanner) (f failed, err error) { return f, r.Scan(&f.part, &f.times) })
	out := map[string]int{}
	for _, f := range all {
		out[f.part] = f.times
	}
	return out, err
}
