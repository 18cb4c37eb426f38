package store

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"github.com/google/uuid"

	"steptrace/core/job"
	"steptrace/core/sheet"
	"steptrace/core/training"
)

// Drawn is a set that is practised on, and how far it is.
type Drawn struct {
	Number   int
	Case     training.Case
	Progress training.Progress
}

// AddDrawn opens a job on a case, and gives its number.
func (s *Store) AddDrawn(ctx context.Context, j *job.Job, document *sheet.Sheet, c *training.Case) (number int, err error) {
	body, err := json.Marshal(c)
	if err != nil {
		return 0, err
	}
	return s.addOnce(ctx, func(under context.Context, tx runner) (int, error) {
		id, err := addPictured(ctx, tx, uuid.NewString(), document, true, nil)
		if err != nil {
			return 0, err
		}
		number, err := addJob(under, tx, j, id, nil)
		if err == nil {
			_, err = tx.ExecContext(ctx, `INSERT INTO training (job, drawn, progress) VALUES (?, ?, '{}')`, number, string(body))
		}
		return number, err
	})
}

func scanDrawn(r scanner) (d Drawn, err error) {
	var body, progress string
	if err = r.Scan(&d.Number, &body, &progress); err != nil {
		return d, noRows(err)
	}
	if err = json.Unmarshal([]byte(body), &d.Case); err == nil {
		err = json.Unmarshal([]byte(progress), &d.Progress)
	}
	return d, err
}

// Drawn is what a job practises on; ErrNotFound where it is no such job.
func (s *Store) Drawn(ctx context.Context, number int) (Drawn, error) {
	return scanDrawn(s.reads.QueryRowContext(ctx, `SELECT job, drawn, progress FROM training WHERE job = ?`, number))
}

// AllDrawn lists those that were drawn last, the newest first.
func (s *Store) AllDrawn(ctx context.Context, most int) ([]Drawn, error) {
	rows, err := s.reads.QueryContext(ctx, `SELECT job, drawn, progress FROM training ORDER BY job DESC LIMIT ?`, most)
	return collect(rows, err, scanDrawn)
}

// PutProgress changes how far a case is, by f, which is told when that is: after all that was noted before.
func (s *Store) PutProgress(ctx context.Context, number int, f func(p *training.Progress, at time.Time) error) error {
	return s.change(ctx, number, func(c *change) error {
		d, err := scanDrawn(c.tx.QueryRowContext(ctx, `SELECT job, drawn, progress FROM training WHERE job = ?`, number))
		if err == nil {
			err = f(&d.Progress, c.now(time.Now()))
		}
		if err != nil {
			return err
		}
		body, err := json.Marshal(d.Progress)
		if err == nil {
			_, err = c.tx.ExecContext(ctx, `UPDATE training SET progress = ? WHERE job = ?`, string(body), number)
		}
		return err
	})
}

// Answer keeps a quick one that was answered; the same one sent twice is kept once.
func (s *Store) Answer(ctx context.Context, a training.Answered) error {
	body, err := json.Marshal(a)
	if err != nil {
		return err
	}
	return s.inTx(ctx, func(tx runner) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO quick (id, at, who, body) VALUES (?, ?, ?, ?) ON CONFLICT (id) DO NOTHING`,
			a.ID, stamp(a.At), sender(ctx).Who, string(body))
		return err
	})
}

// Answers lists those of one person, in order, the last of them where there are many.
func (s *Store) Answers(ctx context.Context, most int) ([]training.Answered, error) {
	rows, err := s.reads.QueryContext(ctx, `SELECT body FROM quick WHERE who = ? ORDER BY serial DESC LIMIT ?`, sender(ctx).Who, most)
	out, err := collect(rows, err, func(r scanner) (a training.Answered, err error) {
		var body string
		if err = r.Scan(&body); err == nil {
			err = json.Unmarshal([]byte(body), &a)
		}
		return a, err
	})
	slices.Reverse(out)
	return out, err
}

// FinishedJobs lists the numbers of finished jobs that say where it was, the newest first.
func (s *Store) FinishedJobs(ctx context.Context, most int) ([]int, error) {
	rows, err := s.reads.QueryContext(
		ctx,
		`SELECT number FROM job WHERE finished IS NOT NULL AND stage <> '' ORDER BY number DESC LIMIT ?`,
		most,
	)
	return collect(rows, err, func(r scanner) (n int, err error) { return n, r.Scan(&n) })
}
