package store

import (
	"context"
	"encoding/json"

	"steptrace/core/pin"
)

// The pictures of a sheet stand beside its revisions: a pin that was moved is right for earlier jobs too.

// maxPictures is on one sheet, with those taken out.
const maxPictures = 200

func scanPicture(row scanner) (p pin.Picture, err error) {
	var about []byte
	if err := row.Scan(&about); err != nil {
		return p, noRows(err)
	}
	return p, json.Unmarshal(about, &p)
}

// Pictures lists the pictures of a sheet as they came, with those that were taken out.
func (s *Store) Pictures(ctx context.Context, sheet int64) ([]pin.Picture, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT about FROM picture WHERE sheet = ? ORDER BY serial", sheet)
	return collect(rows, err, scanPicture)
}

// Picturing is how many pictures a sheet has.
func (s *Store) Picturing(ctx context.Context, sheet int64) (n int, err error) {
	err = s.reads.QueryRowContext(ctx, "SELECT count(*) FROM picture WHERE sheet = ? AND NOT coalesce(about ->> 'struck', 0)", sheet).
		Scan(&n)
	return n, err
}

// Pictured is a picture with its files.
type Pictured struct {
	pin.Picture
	Files Files
}

// AddPicture keeps a picture with its files. Sent twice it is kept once.
func (s *Store) AddPicture(ctx context.Context, sheet int64, p pin.Picture, files Files) error {
	return s.inTx(ctx, func(tx runner) error { return addPicture(ctx, tx, sheet, p, files) })
}

func addPicture(ctx context.Context, tx runner, sheet int64, p pin.Picture, files Files) error {
	var there, all int
	err := tx.QueryRowContext(ctx, "SELECT count(*), coalesce(sum(id = ?), 0) FROM picture WHERE sheet = ?", p.ID, sheet).
		Scan(&all, &there)
	if err != nil || there > 0 {
		return err
	}
	if all >= maxPictures {
		return ErrFull
	}
	about, err := json.Marshal(p)
	if err != nil {
		return err
	}
	res, err := tx.ExecContext(ctx, "INSERT INTO picture (sheet, id, about) VALUES (?, ?, ?)", sheet, p.ID, string(about))
	if err != nil {
		return err
	}
	serial, err := res.LastInsertId()
	if err != nil {
		return err
	}
	touched(ctx, tx, Touched{Sheet: sheet})
	return putFiles(ctx, tx, serial, files)
}

// putFiles keeps files in the place of those of their roles; one that is nil was made of the file before, and is gone.
func putFiles(ctx context.Context, tx runner, serial int64, files Files) error {
	for role, data := range files {
		var err error
		if data == nil {
			_, err = tx.ExecContext(ctx, "DELETE FROM picture_file WHERE serial = ? AND role = ?", serial, role)
		} else {
			_, err = tx.ExecContext(
				ctx,
				"INSERT INTO picture_file (serial, role, data) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET data = excluded.data",
				serial, role, data,
			)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// ChangePicture changes what is said of a picture, or its pins; with files it is replaced by others.
func (s *Store) ChangePicture(ctx context.Context, sheet int64, id string, f func(*pin.Picture) error, files Files) error {
	return s.inTx(ctx, func(tx runner) error {
		var serial int64
		var about []byte
		err := tx.QueryRowContext(ctx, "SELECT serial, about FROM picture WHERE sheet = ? AND id = ?", sheet, id).Scan(&serial, &about)
		if err != nil {
			return noRows(err)
		}
		var p pin.Picture
		if err := json.Unmarshal(about, &p); err != nil {
			return err
		}
		if err := f(&p); err != nil {
			return err
		}
		if about, err = json.Marshal(p); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "UPDATE picture SET about = ? WHERE serial = ?", string(about), serial); err != nil {
			return err
		}
		touched(ctx, tx, Touched{Sheet: sheet})
		return putFiles(ctx, tx, serial, files)
	})
}

// SheetPicture gives the file of a sheet's picture, or its preview.
func (s *Store) SheetPicture(ctx context.Context, sheet int64, id string, preview bool) (data []byte, err error) {
	role := received
	if preview {
		role = Preview
	}
	err = s.reads.QueryRowContext(
		ctx,
		"SELECT f.data FROM picture p JOIN picture_file f ON f.serial = p.serial AND f.role = ? WHERE p.sheet = ? AND p.id = ?",
		role, sheet, id,
	).Scan(&data)
	return data, noRows(err)
}
