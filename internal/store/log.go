package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"sync"
	"time"

	"steptrace/core/entry"
	"steptrace/core/job"
	"steptrace/core/replace"
	"steptrace/core/soak"
)

// Files belong to an entry, by their role, and are fetched only when they are asked for.
type Files map[string][]byte

// received is the role of a file as it came; the other files of an entry are made of it.
const received = "data"

// fill reads the entries of a job that come behind a serial number (0: all), but for those of a
// kind that is left out. It gives the last one's.
func fill(ctx context.Context, q querier, j *job.Job, number, behind int, without string) (last int, err error) {
	rows, err := q.QueryContext(
		ctx,
		"SELECT serial, kind, body FROM entry WHERE job = ? AND serial > ? AND kind <> ? ORDER BY serial",
		number,
		behind,
		without,
	)
	if err != nil {
		return 0, err
	}
	defer rows.Close()
	var name, body sql.RawBytes
	for last = behind; rows.Next(); {
		if err := rows.Scan(&last, &name, &body); err != nil {
			return 0, err
		}
		k, ok := job.Named(string(name))
		if !ok {
			return 0, fmt.Errorf("job %d has an entry of kind %q: this file was written by a newer Step Trace", number, name)
		}
		e := k.New()
		if err := json.Unmarshal(body, e); err != nil {
			return 0, fmt.Errorf("job %d, %s: %w", number, name, err)
		}
		k.Add(j, e)
	}
	return last, rows.Err()
}

// logs are those of the jobs worked on last, as read: what is noted comes behind, so that only
// that has to be read. Where an entry was changed, the whole is read anew.
type logs struct {
	mu   sync.Mutex
	list []readLog // the one read last at the end
}

type readLog struct {
	number, amended, last int
	entries               job.Job // its lists alone
}

// mostLogs is how many are held: those of the jobs on a few benches.
const mostLogs = 32

// log gives the entries of a job into it. They are shared: none of them may be changed.
func (s *Store) log(ctx context.Context, row *jobRow, into *job.Job) error {
	l := &s.logs
	l.mu.Lock()
	had := readLog{number: row.Number, amended: row.amended}
	i := slices.IndexFunc(l.list, func(x readLog) bool { return x.number == row.Number })
	if i >= 0 && l.list[i].amended == row.amended {
		had = l.list[i]
	}
	l.mu.Unlock()
	for _, k := range job.Kinds {
		k.Share(&had.entries, into)
	}
	last, err := fill(ctx, s.reads, into, row.Number, had.last, "")
	if err != nil {
		return err
	}
	got := readLog{number: row.Number, amended: row.amended, last: last}
	for _, k := range job.Kinds {
		k.Share(into, &got.entries)
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	l.list = slices.DeleteFunc(l.list, func(x readLog) bool {
		return x.number == row.Number && (x.amended < got.amended || x.amended == got.amended && x.last <= last)
	})
	if !slices.ContainsFunc(l.list, func(x readLog) bool { return x.number == row.Number }) {
		l.list = append(l.list, got)
	}
	if len(l.list) > mostLogs {
		l.list = slices.Delete(l.list, 0, 1)
	}
	return nil
}

// change is a change of one job: all of it is kept, or nothing.
type change struct {
	ctx      context.Context
	tx       runner
	number   int
	finished bool
	amended  int   // entries changed
	last     int64 // when the last entry was noted, microseconds of Unix time
}

// change runs a change of a job.
func (s *Store) change(ctx context.Context, number int, f func(c *change) error) error {
	return s.inTx(ctx, func(tx runner) error {
		c := &change{ctx: ctx, tx: tx, number: number}
		if err := tx.QueryRowContext(ctx, "SELECT finished IS NOT NULL, last FROM job WHERE "+
			"number = ?", number).Scan(&c.finished, &c.last); err != nil {
			return noRows(err)
		}
		if err := f(c); err != nil {
			return err
		}
		touched(ctx, tx, Touched{Job: number})
		_, err := tx.ExecContext(
			ctx,
			"UPDATE job SET last = ?, version = version + 1, amended = amended + ? WHERE number = ?",
			c.last,
			c.amended,
			number,
		)
		return err
	})
}

// onOpen runs a change that a finished job refuses.
func (s *Store) onOpen(ctx context.Context, number int, f func(c *change) error) error {
	return s.change(ctx, number, func(c *change) error {
		if c.finished {
			return ErrFinished
		}
		return f(c)
	})
}

// Note keeps an entry that was noted just now, with its files. Its time is put behind that
// of all others of the job: which round of readings something belongs to follows from the
// order, and clocks are set back. The same one sent twice is kept once; an id that belongs to
// another is refused with ErrTaken. A finished job takes what ends something.
func (s *Store) Note(ctx context.Context, number int, e entry.Entry, files Files) error {
	return s.change(ctx, number, func(c *change) error { return c.note(e, files) })
}

// NoteAll takes several down, and what they take out of the drawer, all of it or none.
func (s *Store) NoteAll(ctx context.Context, number int, entries []entry.Entry, taken []replace.Kept) error {
	return s.change(ctx, number, func(c *change) error {
		for _, e := range entries {
			if err := c.note(e, nil); err != nil {
				return err
			}
		}
		return takeOut(ctx, c.tx, taken)
	})
}

func (c *change) note(e entry.Entry, files Files) error {
	k := job.KindOf(e)
	there, err := c.kept(k, e, files)
	if there || err != nil {
		return err
	}
	if c.finished && !k.Late(e) {
		return ErrFinished
	}
	*e.Head().At = c.now(*e.Head().At)
	*e.Head().Who = sender(c.ctx).Who
	return c.add(k, e, files)
}

// now is when something is noted: behind all others of the job.
func (c *change) now(at time.Time) time.Time {
	if at.UnixMicro() <= c.last {
		at = time.UnixMicro(c.last + 1)
	}
	c.last = at.UnixMicro()
	return at.UTC()
}

// add keeps an entry as it is, behind those of the job.
func (c *change) add(k job.Kind, e entry.Entry, files Files) error {
	body, err := bodyOf(e)
	if err != nil {
		return err
	}
	id := *e.Head().ID
	_, err = c.tx.ExecContext(c.ctx, `INSERT INTO entry (job, serial, kind, id, body, struck)
		VALUES (?1, (SELECT coalesce(max(serial), 0) + 1 FROM entry WHERE job = ?1), ?2, ?3, ?4, ?5)`, c.number, k.Name(), id, string(body), !entry.Counts(e))
	for role, data := range files {
		if err != nil {
			return err
		}
		if x, ok := e.(*soak.Entry); ok && x.Begin != nil {
			err = c.logTable(x, data)
			continue
		}
		_, err = c.tx.ExecContext(
			c.ctx,
			"INSERT INTO file (job, kind, id, role, data) VALUES (?,?,?,?,?)",
			c.number,
			k.Name(),
			id,
			role,
			data,
		)
	}
	return err
}

// bodyOf is an entry as it is kept, without the file it came with.
func bodyOf(e entry.Entry) ([]byte, error) {
	if l, ok := e.(entry.Laden); ok {
		file := l.File()
		data := *file
		*file = nil
		defer func() { *file = data }()
	}
	return json.Marshal(e)
}

// find reads the body of an entry.
func (c *change) find(k job.Kind, id string) (entry.Entry, error) {
	var body []byte
	if err := c.tx.QueryRowContext(c.ctx, "SELECT body FROM entry WHERE job = ? AND kind = ? AND "+
		"id = ?", c.number, k.Name(), id).Scan(&body); err != nil {
		return nil, noRows(err)
	}
	e := k.New()
	return e, json.Unmarshal(body, e)
}

// kept tells whether the same entry was kept before: then sending it again does no harm.
// Another under its id is ErrTaken.
func (c *change) kept(k job.Kind, e entry.Entry, files Files) (bool, error) {
	was, err := c.find(k, *e.Head().ID)
	if errors.Is(err, ErrNotFound) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	before, err := restated(k, was, was)
	if err != nil {
		return false, err
	}
	now, err := restated(k, e, was)
	if err != nil {
		return false, err
	}
	same := bytes.Equal(before, now)
	if data, ok := files[received]; ok && same {
		var had []byte
		if had, err = file(c.ctx, c.tx, k.Name(), c.number, *e.Head().ID, received); err == nil {
			same = bytes.Equal(had, data)
		}
	}
	if err == nil && !same {
		err = ErrTaken
	}
	return true, err
}

// restated is what an entry says, apart from when, and from whether it was struck out since.
func restated(k job.Kind, e, was entry.Entry) ([]byte, error) {
	if r, ok := e.(entry.Restated); ok {
		return []byte(r.Restates()), nil
	}
	body, err := bodyOf(e)
	if err != nil {
		return nil, err
	}
	x := k.New()
	if err := json.Unmarshal(body, x); err != nil {
		return nil, err
	}
	*x.Head().At, *x.Head().Who = time.Time{}, ""
	if w, ok := x.(entry.Withdrawable); ok && !entry.Counts(was) {
		w.Withdraw(time.Time{}, "")
	}
	return json.Marshal(x)
}

// Strike withdraws an entry of a kind; it stays in the record.
func (s *Store) Strike(ctx context.Context, number int, kind, id, reason string) error {
	return s.onOpen(ctx, number, func(c *change) error { return c.strike(kind, id, reason) })
}

func (c *change) strike(kind, id, reason string) error {
	return c.amend(kind, id, func(e entry.Entry) error {
		w, ok := e.(entry.Withdrawable)
		if !ok {
			return ErrNotFound
		}
		if entry.Counts(e) { // struck out twice, the first reason stays
			w.Withdraw(time.Now().UTC(), reason)
		}
		return nil
	})
}

// amend changes what is kept of an entry.
func (c *change) amend(kind, id string, f func(e entry.Entry) error) error {
	k, ok := job.Named(kind)
	if !ok {
		return ErrNotFound
	}
	e, err := c.find(k, id)
	if err == nil {
		err = f(e)
	}
	if err != nil {
		return err
	}
	body, err := bodyOf(e)
	if err != nil {
		return err
	}
	c.amended++
	_, err = c.tx.ExecContext(
		c.ctx,
		"UPDATE entry SET body = ?, struck = ? WHERE job = ? AND kind = ? AND id = ?",
		string(body),
		!entry.Counts(e),
		c.number,
		kind,
		id,
	)
	return err
}

// File gives a file of an entry, by its role.
func (s *Store) File(ctx context.Context, number int, kind, id, role string) ([]byte, error) {
	return file(ctx, s.reads, kind, number, id, role)
}

func file(ctx context.Context, q querier, kind string, number int, id, role string) (data []byte, err error) {
	err = q.QueryRowContext(ctx, "SELECT data FROM file WHERE job = ? AND kind = ? AND id = ? AND role = ?", number, kind, id, role).
		Scan(&data)
	return data, noRows(err)
}
