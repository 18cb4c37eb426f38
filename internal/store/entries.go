package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"steptrace/core/inside"
	"steptrace/core/repair"
)

// entries is a table of entries of one kind: each is kept whole as JSON, beside its id and
// whether it was struck out.
type entries[E any] struct {
	table string
	parts func(e *E) (id string, at *time.Time, struck *bool)
}

var (
	insideEntries = entries[inside.Entry]{"inside", func(e *inside.Entry) (string, *time.Time, *bool) { return e.ID, &e.At, &e.Struck }}
	repairEntries = entries[repair.Entry]{"repair", func(e *repair.Entry) (string, *time.Time, *bool) { return e.ID, &e.At, &e.Struck }}
)

// list gives those of a job, in the order they were noted.
func (t entries[E]) list(ctx context.Context, q querier, number int) ([]E, error) {
	rows, err := q.QueryContext(ctx, fmt.Sprintf("SELECT body, struck IS NOT NULL FROM %s WHERE job = ? ORDER BY serial", t.table), number)
	return collect(rows, err, func(r scanner) (e E, err error) {
		var body string
		var struck bool
		if err := r.Scan(&body, &struck); err != nil {
			return e, err
		}
		err = json.Unmarshal([]byte(body), &e)
		_, _, to := t.parts(&e)
		*to = struck
		return e, err
	})
}

// note keeps one that was noted just now. The same one sent twice is kept once, whenever it
// comes again.
func (t entries[E]) note(ctx context.Context, tx *sql.Tx, number int, e E) error {
	id, at, _ := t.parts(&e)
	when := *at
	*at = time.Time{}
	content, err := json.Marshal(e)
	if err != nil {
		return err
	}
	there, err := kept(ctx, tx, fmt.Sprintf("SELECT json_set(body, '$.at', '0001-01-01T00:00:00Z') FROM %s WHERE job = ? AND id = ?", t.table), number, id, string(content))
	if there || err != nil {
		return err
	}
	if *at, err = afterAll(ctx, tx, number, when); err != nil {
		return err
	}
	return t.add(ctx, tx, number, &e)
}

// add keeps one as it is.
func (t entries[E]) add(ctx context.Context, tx *sql.Tx, number int, e *E) error {
	keep := *e
	id, at, struck := t.parts(&keep)
	var when any
	if *struck {
		when = stamp(time.Now())
	}
	*at, *struck = at.UTC(), false
	body, err := json.Marshal(keep)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, fmt.Sprintf("INSERT INTO %s (id, job, body, struck) VALUES (?,?,?,?)", t.table), id, number, string(body), when)
	return err
}

// strike withdraws one; it stays in the record.
func (t entries[E]) strike(ctx context.Context, tx *sql.Tx, number int, id string) error {
	res, err := tx.ExecContext(ctx, fmt.Sprintf("UPDATE %s SET struck = coalesce(struck, ?) WHERE job = ? AND id = ?", t.table), stamp(time.Now()), number, id)
	return changed(res, err)
}

// afterAll gives a time that lies behind what was noted of a job so far: which round of
// readings something belongs to follows from the order, and clocks are set back.
func afterAll(ctx context.Context, tx *sql.Tx, number int, at time.Time) (time.Time, error) {
	for _, query := range []string{
		"SELECT taken FROM reading WHERE job = ? ORDER BY serial DESC LIMIT 1",
		"SELECT json_extract(body, '$.at') FROM inside WHERE job = ? ORDER BY serial DESC LIMIT 1",
		"SELECT json_extract(body, '$.at') FROM repair WHERE job = ? ORDER BY serial DESC LIMIT 1",
	} {
		var text string
		err := tx.QueryRowContext(ctx, query, number).Scan(&text)
		if errors.Is(err, sql.ErrNoRows) {
			continue
		}
		last := time.Time{}
		if err == nil {
			last, err = parseStamp(text)
		}
		if err != nil {
			return at, err
		}
		if !at.After(last) {
			at = last.Add(time.Microsecond)
		}
	}
	return at, nil
}
