package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"time"

	"steptrace/core/job"
	"steptrace/core/sheet"
)

// A whole workshop, to be given out and taken in: what is the same sheet, or the same job, is known by its key.

// KeptSheet is a sheet of a workshop, with how many revisions it has.
type KeptSheet struct {
	ID       int64
	Key      string
	Own      bool
	Revision int
}

// KeptSheets lists all sheets, those of single jobs too.
func (s *Store) KeptSheets(ctx context.Context) ([]KeptSheet, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT id, key, own, revision FROM sheet ORDER BY id")
	return collect(rows, err, func(r scanner) (k KeptSheet, err error) { return k, r.Scan(&k.ID, &k.Key, &k.Own, &k.Revision) })
}

// KeptJob is a job of a workshop; Revision is that of its sheet which it was finished by, 0 where it is open.
type KeptJob struct {
	Number   int
	Key      string
	Sheet    int64
	Revision int
}

// KeptJobs lists all jobs.
func (s *Store) KeptJobs(ctx context.Context) ([]KeptJob, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT number, key, sheet, coalesce(sheet_revision, 0) FROM job ORDER BY number")
	return collect(rows, err, func(r scanner) (k KeptJob, err error) { return k, r.Scan(&k.Number, &k.Key, &k.Sheet, &k.Revision) })
}

// JobOf gives the number of the job with a key; ErrNotFound where there is none.
func (s *Store) JobOf(ctx context.Context, key string) (number int, err error) {
	return number, noRows(s.reads.QueryRowContext(ctx, "SELECT number FROM job WHERE key = ?", key).Scan(&number))
}

// Revision is a sheet as it was saved once. Back is the revision that it was taken back to; 0: it was not.
type Revision struct {
	Document *sheet.Sheet
	Saved    time.Time
	Back     int
}

// Revisions gives all revisions of a sheet, in order.
func (s *Store) Revisions(ctx context.Context, id int64) ([]Revision, error) {
	return revisions(ctx, s.reads, id)
}

func revisions(ctx context.Context, q querier, id int64) ([]Revision, error) {
	rows, err := q.QueryContext(ctx, "SELECT document, saved, back FROM sheet_revision WHERE sheet = ? ORDER BY revision", id)
	return collect(rows, err, func(r scanner) (x Revision, err error) {
		var document, saved string
		if err := r.Scan(&document, &saved, &x.Back); err != nil {
			return x, err
		}
		if x.Saved, err = parseStamp(saved); err != nil {
			return x, err
		}
		x.Document, err = sheet.ReadJSON([]byte(document))
		return x, err
	})
}

// TakeSheet takes in a sheet of another workshop, or of an earlier state of this one, with all its revisions and pictures. Where it is
// here with fewer revisions the others are put behind them; where it is here with more, it stays. Where it went another way here, what
// comes is a sheet of its own. Taken in again it is the same.
func (s *Store) TakeSheet(
	ctx context.Context,
	key string,
	own bool,
	all []Revision,
	pictures []Pictured,
) (id int64, fresh bool, err error) {
	err = s.inTx(ctx, func(tx runner) error {
		id, fresh, err = takeSheet(ctx, tx, key, own, all)
		for _, p := range pictures {
			if err == nil {
				err = addPicture(ctx, tx, id, p.Picture, p.Files)
			}
		}
		return err
	})
	return id, fresh, err
}

func takeSheet(ctx context.Context, tx runner, key string, own bool, all []Revision) (id int64, fresh bool, err error) {
	had := []Revision{}
	if id, err = numbered(ctx, tx, "SELECT id FROM sheet WHERE key = ?", key); err == nil && id != 0 {
		had, err = revisions(ctx, tx, id)
	}
	if err != nil {
		return 0, false, err
	}
	for i := range min(len(had), len(all)) {
		if string(had[i].Document.WriteJSON()) != string(all[i].Document.WriteJSON()) {
			return takeSheet(ctx, tx, parted(key, all), own, all)
		}
	}
	for i := len(had); i < len(all); i++ {
		if i == 0 {
			id, err = addSheet(ctx, tx, key, all[0].Document, own)
			fresh = true
		} else if err = changeSheet(ctx, tx, id, i, all[i].Document); err != nil {
			return 0, false, err
		}
		if err == nil {
			_, err = tx.ExecContext(ctx, "UPDATE sheet_revision SET saved = ?, back = ? WHERE sheet = ? AND revision = ?",
				stamp(all[i].Saved), all[i].Back, id, i+1)
		}
		if err != nil {
			return 0, false, err
		}
	}
	return id, fresh, nil
}

// parted is the key of a sheet that went two ways: it follows from what it holds, so that it is known again.
func parted(key string, all []Revision) string {
	h := sha256.New()
	for _, r := range all {
		_, _ = fmt.Fprintf(h, "%d\n", len(r.Document.WriteJSON())) // a hash takes all
		_, _ = h.Write(r.Document.WriteJSON())
	}
	const digits = 16
	return key + "/" + hex.EncodeToString(h.Sum(nil))[:digits]
}

// AddJobAt stores a job with all that belongs to it, under the key that is said in the context; a finished one pinned to a revision of
// its sheet. Fresh: it was not there.
func (s *Store) AddJobAt(
	ctx context.Context,
	j *job.Job,
	sheetID int64,
	revision int,
	brought Brought,
) (number int, fresh bool, err error) {
	number, err = s.addOnce(ctx, func(ctx context.Context, tx runner) (int, error) {
		fresh = true
		n, err := addJob(ctx, tx, j, sheetID, brought)
		if err == nil && revision != 0 {
			_, err = tx.ExecContext(ctx, "UPDATE job SET sheet_revision = ? WHERE number = ? AND finished IS NOT NULL", revision, n)
		}
		return n, err
	})
	return number, fresh, err
}

// JoinedPairs gives each sheet that is joined to a model, with the sheet that the model began with.
func (s *Store) JoinedPairs(ctx context.Context) ([][2]int64, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT sheet, model FROM joined ORDER BY model, sheet")
	return collect(rows, err, func(r scanner) (p [2]int64, err error) { return p, r.Scan(&p[0], &p[1]) })
}

// HasShop tells whether anything of the workshop was said yet.
func (s *Store) HasShop(ctx context.Context) (bool, error) {
	var one int
	err := s.reads.QueryRowContext(ctx, "SELECT 1 FROM shop").Scan(&one)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	return err == nil, err
}
