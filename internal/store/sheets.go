package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"sync"
	"time"

	"steptrace/core/sheet"
)

// worked keeps sheets worked out, by id and revision. A revision never changes,
// so nothing here grows stale; it only has to be kept from growing too large.
type worked struct {
	mu sync.Mutex
	at map[sheetKey]workedSheet
}

type sheetKey struct {
	id       int64
	revision int
}

type workedSheet struct {
	document *sheet.Sheet
	plan     *sheet.Plan
	problems []sheet.Problem
}

// maxWorked is how many sheets are kept; a workshop has a few dozen in use.
const maxWorked = 200

func (w *worked) out(k sheetKey, text string) (workedSheet, error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if x, ok := w.at[k]; ok {
		return x, nil
	}
	document, err := sheet.ReadJSON([]byte(text))
	if err != nil {
		return workedSheet{}, fmt.Errorf("sheet %d: %w", k.id, err)
	}
	x := workedSheet{document: document}
	x.plan, x.problems = document.Plan()
	if len(w.at) >= maxWorked || w.at == nil {
		w.at = map[sheetKey]workedSheet{}
	}
	w.at[k] = x
	return x, nil
}

// Sheet is a stored sheet, worked out. It is shared: nothing in it may be
// changed.
type Sheet struct {
	ID       int64
	Revision int
	Document *sheet.Sheet
	Plan     *sheet.Plan
	Problems []sheet.Problem
	Saved    time.Time
	Jobs     int  // that use it
	Own      bool // made for one job: in no list until it is kept
}

const sheetColumns = `SELECT s.id, r.revision, r.document, r.saved, (SELECT count(*) FROM job j WHERE j.sheet = s.id),
	s.own
	FROM sheet s JOIN sheet_revision r ON r.sheet = s.id `

func (s *Store) scanSheet(row scanner) (Sheet, error) {
	var x Sheet
	var document, saved string
	if err := row.Scan(&x.ID, &x.Revision, &document, &saved, &x.Jobs, &x.Own); err != nil {
		return x, noRows(err)
	}
	done, err := s.worked.out(sheetKey{x.ID, x.Revision}, document)
	if err != nil {
		return x, err
	}
	x.Document, x.Plan, x.Problems = done.document, done.plan, done.problems
	x.Saved, err = parseStamp(saved)
	return x, err
}

// Sheet gives a sheet as it is now.
func (s *Store) Sheet(ctx context.Context, id int64) (Sheet, error) {
	return s.scanSheet(s.reads.QueryRowContext(ctx, sheetColumns+"WHERE r.revision = s.revision AND s.id = ?", id))
}

// SheetAt gives a sheet as it was at a revision.
func (s *Store) SheetAt(ctx context.Context, id int64, revision int) (Sheet, error) {
	return s.scanSheet(s.reads.QueryRowContext(ctx, sheetColumns+"WHERE s.id = ? AND r.revision = ?", id, revision))
}

// AddSheet stores a new sheet as its revision 1, with the pictures it brings along.
func (s *Store) AddSheet(ctx context.Context, document *sheet.Sheet, pictures ...Pictured) (id int64, err error) {
	key := under(ctx)
	err = s.inTx(ctx, func(tx runner) error {
		if id, err = numbered(ctx, tx, "SELECT id FROM sheet WHERE key = ?", key); err != nil || id != 0 {
			return err
		}
		id, err = addPictured(ctx, tx, key, document, false, pictures)
		return err
	})
	return id, err
}

// addPictured stores a new sheet with its pictures, under its sender's id.
func addPictured(ctx context.Context, tx runner, key string, document *sheet.Sheet, own bool, pictures []Pictured) (int64, error) {
	id, err := addSheet(ctx, tx, key, document, own)
	for _, p := range pictures {
		if err == nil {
			err = addPicture(ctx, tx, id, p.Picture, p.Files)
		}
	}
	return id, err
}

// addSheet stores a new sheet; own where it was made for one job.
func addSheet(ctx context.Context, tx runner, key string, document *sheet.Sheet, own bool) (int64, error) {
	res, err := tx.ExecContext(ctx, "INSERT INTO sheet (revision, own, key) VALUES (1, ?, ?)", own, key)
	if err != nil {
		return 0, err
	}
	id, err := res.LastInsertId()
	if err != nil {
		return 0, err
	}
	return id, addRevision(ctx, tx, id, 1, document)
}

func addRevision(ctx context.Context, tx runner, id int64, revision int, document *sheet.Sheet) error {
	text, saved := document.WriteJSON(), stamp(time.Now())
	touched(ctx, tx, Touched{Sheet: id})
	if _, err := tx.ExecContext(ctx, "INSERT INTO sheet_revision (sheet, revision, document, saved) VALUES (?, "+
		"?, ?, ?)", id, revision, string(text), saved); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "UPDATE job SET version = version + 1 WHERE sheet = ? AND finished IS NULL", id); err != nil {
		return err
	}
	return sayOfSheet(ctx, tx, id, document, text, saved)
}

// keepSheet lets a sheet that was made for one job stand in the lists, for its model.
func keepSheet(ctx context.Context, tx runner, id int64) error {
	_, err := tx.ExecContext(ctx, "UPDATE sheet SET own = 0 WHERE id = ?", id)
	return err
}

// ChangeSheet stores a new revision of a sheet, if it still stands at the
// revision that was changed; otherwise ErrStale.
func (s *Store) ChangeSheet(ctx context.Context, id int64, revision int, document *sheet.Sheet) error {
	return s.inTx(ctx, func(tx runner) error { return changeSheet(ctx, tx, id, revision, document) })
}

// SaveSheet is ChangeSheet of somebody who took the trouble to write a sheet: it is for the model.
func (s *Store) SaveSheet(ctx context.Context, id int64, revision int, document *sheet.Sheet) error {
	return s.inTx(ctx, func(tx runner) error {
		if err := changeSheet(ctx, tx, id, revision, document); err != nil {
			return err
		}
		return keepSheet(ctx, tx, id)
	})
}

func changeSheet(ctx context.Context, tx runner, id int64, revision int, document *sheet.Sheet) error {
	var now int
	if err := tx.QueryRowContext(ctx, "SELECT revision FROM sheet WHERE id = ?", id).Scan(&now); err != nil {
		return noRows(err)
	}
	if now != revision {
		return savedBefore(ctx, tx, id, revision, document)
	}
	if _, err := tx.ExecContext(ctx, "UPDATE sheet SET revision = ? WHERE id = ?", revision+1, id); err != nil {
		return err
	}
	return addRevision(ctx, tx, id, revision+1, document)
}

// savedBefore tells whether what is sent was saved already, its answer lost: then it is what came behind the revision that was changed,
// and still stands. Otherwise somebody else saved the sheet: ErrStale.
func savedBefore(ctx context.Context, tx runner, id int64, revision int, document *sheet.Sheet) error {
	var text string
	err := tx.QueryRowContext(ctx, "SELECT r.document FROM sheet s JOIN sheet_revision r ON r.sheet = s.id AND r.revision = s.revision "+
		"WHERE s.id = ? AND s.revision = ?", id, revision+1).Scan(&text)
	if errors.Is(err, sql.ErrNoRows) || err == nil && text != string(document.WriteJSON()) {
		return ErrStale
	}
	return err
}

// TakeBack makes a sheet as it was before the last change that was not taken back yet: a revision of its
// own, so that nothing is lost. ErrNotFound: it has always been like that.
func (s *Store) TakeBack(ctx context.Context, id int64, revision int) error {
	return s.inTx(ctx, func(tx runner) error {
		var back int
		err := tx.QueryRowContext(ctx, "SELECT back FROM sheet_revision WHERE sheet = ? AND revision = ?", id, revision).Scan(&back)
		if err != nil {
			return noRows(err)
		}
		to := cmp.Or(back, revision) - 1
		var text string
		err = tx.QueryRowContext(ctx, "SELECT document FROM sheet_revision WHERE sheet = ? AND revision = ?", id, to).Scan(&text)
		if err != nil {
			return noRows(err)
		}
		document, err := sheet.ReadJSON([]byte(text))
		if err != nil {
			return err
		}
		if err := changeSheet(ctx, tx, id, revision, document); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE sheet_revision SET back = ? WHERE sheet = ? AND revision = ?", to, id, revision+1)
		return err
	})
}
