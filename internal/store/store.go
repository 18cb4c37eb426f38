// Package store keeps sheets, jobs and readings in one SQLite file. What a
// method has returned without an error is on disk: the journal is written
// ahead (WAL) and synced at every commit (synchronous=FULL).
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"time"

	"github.com/gofrs/flock"
	_ "modernc.org/sqlite" // registers the driver "sqlite"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNotFound says that there is no such sheet, job or reading.
var ErrNotFound = errors.New("not found")

// ErrStale says that somebody else saved the sheet in between.
var ErrStale = errors.New("changed in between")

// ErrFull says that no more of a kind is kept at one place.
var ErrFull = errors.New("full")

// ErrFinished says that a finished job takes no more readings.
var ErrFinished = errors.New("job is finished")

// ErrTaken says that the id belongs to another reading already.
var ErrTaken = errors.New("id is taken")

// Store is the open database. Reads run side by side; there is one writer.
type Store struct {
	read, write *sql.DB
	// What they are asked and told, as prepared statements; they go with the databases.
	reads, writes *statements
	worked        worked
	logs          logs
	followers     followers
	path          string
	held          *flock.Flock
}

// Open opens the file, creates it where it is missing, and brings its tables up to date. A file that is not Step Trace's, is of a later
// one, damaged, or in use is refused untouched, with a *Refused. Where there are copies, one is made before the tables are changed.
func Open(ctx context.Context, path string, copies ...*Copies) (s *Store, err error) {
	held, err := lock(path)
	if err != nil {
		return nil, err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, held.Unlock())
		}
	}()
	if _, err := finish(path); err != nil { // a restore that was cut off
		return nil, err
	}
	if err := begin(ctx, path); err != nil {
		return nil, err
	}
	write, err := openWrites(path)
	if err != nil {
		return nil, err
	}
	if err := upToDate(ctx, write, copies); err != nil {
		return nil, errors.Join(fmt.Errorf("the file %s cannot be used as Step Trace's database: %w", path, err), write.Close())
	}
	read, err := openReads(path)
	if err != nil {
		return nil, errors.Join(err, write.Close())
	}
	return &Store{
		read: read, write: write, reads: &statements{db: read}, writes: &statements{db: write}, path: path, held: held,
	}, nil
}

func dsn(path, extra string) string {
	u := url.URL{Scheme: "file", Opaque: (&url.URL{Path: path}).EscapedPath()}
	u.RawQuery = "_pragma=busy_timeout(5000)&_pragma=journal_mode(WAL)&_pragma=foreign_keys(1)&_pragma=synchronous(FULL)" + extra
	return u.String()
}

func openWrites(path string) (*sql.DB, error) {
	db, err := sql.Open("sqlite", dsn(path, "&_txlock=immediate"))
	if err == nil {
		db.SetMaxOpenConns(1)
	}
	return db, err
}

func openReads(path string) (*sql.DB, error) {
	db, err := sql.Open("sqlite", dsn(path, "&_pragma=query_only(1)"))
	if err == nil {
		const readers = 4
		db.SetMaxOpenConns(readers)
	}
	return db, err
}

// begin makes the file where there is none, under another name until it has its tables: what is cut off leaves none that is empty. One
// that is there is examined.
func begin(ctx context.Context, path string) error {
	if _, err := os.Stat(path); !errors.Is(err, fs.ErrNotExist) {
		return Examine(path)
	}
	part := path + making
	if err := remove(part); err != nil {
		return err
	}
	db, err := openWrites(part)
	if err != nil {
		return err
	}
	if err := errors.Join(upToDate(ctx, db, nil), db.Close()); err != nil {
		return errors.Join(fmt.Errorf("%s cannot be made: %w", path, err), remove(part))
	}
	return errors.Join(os.Rename(part, path), synced(filepath.Dir(path)))
}

// Folder is where the file is.
func (s *Store) Folder() string { return filepath.Dir(s.path) }

// Close ends all use of the file.
func (s *Store) Close() error { return errors.Join(s.read.Close(), s.write.Close(), s.held.Unlock()) }

// inTx runs f in one transaction: all of it is kept, or nothing.
func (s *Store) inTx(ctx context.Context, f func(tx runner) error) error {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	t := &txn{Tx: tx, statements: s.writes}
	defer func() { _ = tx.Rollback() }() // does nothing after Commit
	if err := f(t); err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return err
	}
	s.followers.tell(t.touched)
	t.behind(ctx)
	return nil
}

func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }

func parseStamp(text string) (time.Time, error) { return time.Parse(time.RFC3339Nano, text) }

// querier is what both a database and a transaction offer.
type querier interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

// runner is what both a transaction with prepared statements and one without offer.
type runner interface {
	querier
	ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error)
}

// scanner is what both a row and rows offer.
type scanner interface{ Scan(dest ...any) error }

func noRows(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// collect reads all rows with one scan function.
func collect[T any](rows *sql.Rows, err error, scan func(scanner) (T, error)) ([]T, error) {
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	out := []T{}
	for rows.Next() {
		v, err := scan(rows)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, rows.Err()
}
