package store

import (
	"context"
	"database/sql"
	"errors"
	"net/url"
	"time"
)

// Device is one that was let in. Job and Sheet say what for alone; both 0: for everything. Until is when it has to ask anew.
type Device struct {
	ID, Name, Initials string
	Job                int
	Sheet              int64
	Since, Seen, Until time.Time
}

// Limited tells whether a device was let in for one job or sheet alone.
func (d *Device) Limited() bool { return d.Job != 0 || d.Sheet != 0 }

const deviceColumns = "SELECT id, name, initials, job, sheet, since, seen, until FROM device "

func scanDevice(row scanner) (d Device, err error) {
	var since, seen, until string
	if err := row.Scan(&d.ID, &d.Name, &d.Initials, &d.Job, &d.Sheet, &since, &seen, &until); err != nil {
		return d, noRows(err)
	}
	var errs [3]error
	d.Since, errs[0] = parseStamp(since)
	d.Seen, errs[1] = parseStamp(seen)
	d.Until, errs[2] = parseStamp(until)
	return d, errors.Join(errs[:]...)
}

// Devices are those that were let in, the one seen last first; those whose time is over are forgotten.
func (s *Store) Devices(ctx context.Context) ([]Device, error) {
	if _, err := s.write.ExecContext(ctx, "DELETE FROM device WHERE until <= ?", stamp(time.Now())); err != nil {
		return nil, err
	}
	rows, err := s.reads.QueryContext(ctx, deviceColumns+"ORDER BY seen DESC")
	return collect(rows, err, scanDevice)
}

// Device gives one by its id.
func (s *Store) Device(ctx context.Context, id string) (Device, error) {
	return scanDevice(s.reads.QueryRowContext(ctx, deviceColumns+"WHERE id = ?", id))
}

// PutDevice keeps a device, new or changed.
func (s *Store) PutDevice(ctx context.Context, d Device) error {
	_, err := s.write.ExecContext(ctx, `INSERT INTO device (id, name, initials, job, sheet, since, seen, until) VALUES (?,?,?,?,?,?,?,?)
		ON CONFLICT DO UPDATE SET name = excluded.name, initials = excluded.initials, seen = excluded.seen, until = excluded.until`,
		d.ID, d.Name, d.Initials, d.Job, d.Sheet, stamp(d.Since), stamp(d.Seen), stamp(d.Until))
	return err
}

// SeenDevice notes when a device was there, if it still is let in.
func (s *Store) SeenDevice(ctx context.Context, id string, at time.Time) error {
	_, err := s.write.ExecContext(ctx, "UPDATE device SET seen = ? WHERE id = ?", stamp(at), id)
	return err
}

// SendOut has a device be let in no more.
func (s *Store) SendOut(ctx context.Context, id string) error {
	return changed(s.write.ExecContext(ctx, "DELETE FROM device WHERE id = ?", id))
}

// Passphrase gives the hash of the words that let in; ErrNotFound where there are none yet.
func (s *Store) Passphrase(ctx context.Context) (hash string, err error) {
	return hash, noRows(s.reads.QueryRowContext(ctx, "SELECT hash FROM passphrase").Scan(&hash))
}

// SetPassphrase keeps another, and sends all out who were let in by the one before.
func (s *Store) SetPassphrase(ctx context.Context, hash string) error {
	return s.inTx(ctx, func(tx runner) error {
		for _, from := range []string{"session", "device WHERE id <> '" + ThisMachine + "'", "passphrase"} {
			if _, err := tx.ExecContext(ctx, "DELETE FROM "+from); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO passphrase (one, hash) VALUES (1, ?)", hash)
		return err
	})
}

// ThisMachine is the id of the machine that the program runs on, among the devices.
const ThisMachine = "here"

// Sessions keeps sessions for the library that makes them (github.com/alexedwards/scs); their tokens come hashed.
type Sessions struct{ *Store }

// FindCtx implements scs.CtxStore.
func (s Sessions) FindCtx(ctx context.Context, token string) (data []byte, found bool, err error) {
	err = s.reads.QueryRowContext(ctx, "SELECT data FROM session WHERE token = ? AND until > ?", token, time.Now().Unix()).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	return data, err == nil, err
}

// CommitCtx implements scs.CtxStore; those whose time is over go.
func (s Sessions) CommitCtx(ctx context.Context, token string, data []byte, until time.Time) error {
	return s.inTx(ctx, func(tx runner) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM session WHERE until <= ?", time.Now().Unix()); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO session (token, data, until) VALUES (?,?,?)
			ON CONFLICT DO UPDATE SET data = excluded.data, until = excluded.until`, token, data, until.Unix())
		return err
	})
}

// DeleteCtx implements scs.CtxStore.
func (s Sessions) DeleteCtx(ctx context.Context, token string) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM session WHERE token = ?", token)
	return err
}

// Find implements scs.Store.
func (s Sessions) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}

// Commit implements scs.Store.
func (s Sessions) Commit(token string, data []byte, until time.Time) error {
	return s.CommitCtx(context.Background(), token, data, until)
}

// Delete implements scs.Store.
func (s Sessions) Delete(token string) error { return s.DeleteCtx(context.Background(), token) }

// lockedOut takes out of a copy what lets in: whoever finds the copy is not to try words on it, and whoever was sent out since
// does not come back with it.
func lockedOut(ctx context.Context, path string) (err error) {
	u := url.URL{
		Scheme:   "file",
		Opaque:   (&url.URL{Path: path}).EscapedPath(),
		RawQuery: "_pragma=journal_mode(OFF)&_pragma=secure_delete(1)",
	}
	db, err := sql.Open("sqlite", u.String())
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	for _, table := range []string{"passphrase", "device", "session"} {
		var there int
		if err := db.QueryRowContext(ctx, "SELECT count(*) FROM sqlite_master WHERE name = ?", table).Scan(&there); err != nil {
			return err
		}
		if there == 0 {
			continue // it is of before there was any
		}
		if _, err := db.ExecContext(ctx, "DELETE FROM "+table); err != nil {
			return err
		}
	}
	return nil
}
