package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"modernc.org/sqlite"
)

// Copies are whole copies of the database in a folder, each checked after it was written; the latest Keep of the daily ones stay, and as
// many of those that were made before an upgrade.
type Copies struct {
	Folder string
	Keep   int
}

// Copy is one of them.
type Copy struct {
	Name  string
	At    time.Time
	Bytes int64
}

// Says tells of the last copy on a day. Loud: it is older than a week.
func (c *Copy) Says(now time.Time) (text string, loud bool) {
	const day, old = 24 * time.Hour, 7
	if days := int(now.Sub(c.At) / day); days > old {
		return fmt.Sprintf("The last copy is %d days old.", days), true
	}
	const mega = 1e6
	return fmt.Sprintf("Last copy %s, %.1f MB.", c.At.Local().Format("2 January 15:04"), float64(c.Bytes)/mega), false
}

const (
	copyPrefix = "steptrace-"
	copySuffix = ".db"
	upgrade    = "-before-upgrade"
	copyStamp  = "2006-01-02T150405"
	making     = ".making" // a copy that is being written: not one yet
)

// List gives the copies, the latest first. A folder that is not there has none.
func (c *Copies) List() ([]Copy, error) {
	entries, err := os.ReadDir(c.Folder)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	var out []Copy
	for _, e := range entries {
		name := e.Name()
		if !strings.HasPrefix(name, copyPrefix) || !strings.HasSuffix(name, copySuffix) {
			continue
		}
		text := strings.TrimSuffix(strings.TrimSuffix(strings.TrimPrefix(name, copyPrefix), copySuffix), upgrade)
		at, err := time.ParseInLocation(copyStamp, text, time.UTC)
		if err != nil {
			continue // somebody's own
		}
		info, err := e.Info()
		if err != nil {
			continue // it has gone in between
		}
		out = append(out, Copy{Name: name, At: at, Bytes: info.Size()})
	}
	slices.SortFunc(out, func(a, b Copy) int { return cmp.Or(b.At.Compare(a.At), strings.Compare(b.Name, a.Name)) })
	return out, nil
}

// Path is where a copy of a name lies. A name that is none of theirs is refused.
func (c *Copies) Path(name string) (string, error) {
	list, err := c.List()
	if err != nil {
		return "", err
	}
	if !slices.ContainsFunc(list, func(x Copy) bool { return x.Name == name }) {
		return "", ErrNotFound
	}
	return filepath.Join(c.Folder, name), nil
}

// Make copies the database while it is in use, and lets go of copies that are too old.
func (c *Copies) Make(ctx context.Context, s *Store) (out Copy, err error) {
	err = apart(s.path, func(db *sql.DB) (err error) {
		out, err = c.make(ctx, db, "")
		return err
	})
	return out, err
}

// apart opens a database for a copy, beside those who use it: they do not wait for it, nor it for them.
func apart(path string, do func(db *sql.DB) error) error {
	db, err := sql.Open("sqlite", dsn(path, ""))
	if err != nil {
		return err
	}
	db.SetMaxOpenConns(1)
	return errors.Join(do(db), db.Close())
}

func (c *Copies) make(ctx context.Context, db *sql.DB, why string) (out Copy, err error) {
	if err := os.MkdirAll(c.Folder, 0o750); err != nil {
		return out, err
	}
	out.At = time.Now().UTC().Truncate(time.Second)
	out.Name = copyPrefix + out.At.Format(copyStamp) + why + copySuffix
	if out.Bytes, err = copyTo(ctx, db, filepath.Join(c.Folder, out.Name)); err != nil {
		return Copy{}, err
	}
	return out, c.forget(why)
}

// forget removes the oldest copies of a sort beyond those that are kept, and what was left of copies that were cut off.
func (c *Copies) forget(why string) error {
	list, err := c.List()
	if err != nil {
		return err
	}
	kept := 0
	for _, x := range list {
		if strings.Contains(x.Name, upgrade) != (why != "") {
			continue
		}
		if kept++; kept > c.Keep {
			if err := os.Remove(filepath.Join(c.Folder, x.Name)); err != nil {
				return err
			}
		}
	}
	left, err := filepath.Glob(filepath.Join(c.Folder, copyPrefix+"*"+making))
	for _, name := range left {
		err = errors.Join(err, os.Remove(name))
	}
	return err
}

// CopyTo writes a whole copy of the database to a file that is not there yet, checks it, and gives its size. It comes into place whole,
// or not at all.
func (s *Store) CopyTo(ctx context.Context, path string) (size int64, err error) {
	// The file itself is not looked at: to close it once would let go of the locks that this program holds on it (POSIX).
	err = apart(s.path, func(db *sql.DB) (err error) {
		size, err = copyTo(ctx, db, path)
		return err
	})
	return size, err
}

// CopyOf does the same with a database that another program may be using.
func CopyOf(ctx context.Context, path, to string) (size int64, err error) {
	if _, err := os.Stat(path); err != nil {
		return 0, err
	}
	if err := Examine(path); err != nil {
		return 0, err
	}
	return (&Store{path: path}).CopyTo(ctx, to)
}

func copyTo(ctx context.Context, db *sql.DB, path string) (size int64, err error) {
	if _, err := os.Stat(path); err == nil {
		return 0, &Refused{path, "is there already: name a file that is not"}
	}
	part := path + making
	if err := remove(part); err != nil {
		return 0, err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, remove(part))
		}
	}()
	if err := pageByPage(ctx, db, part); err != nil {
		return 0, err
	}
	if err := lockedOut(ctx, part); err != nil {
		return 0, err
	}
	if err := Sound(ctx, part); err != nil {
		return 0, fmt.Errorf("the copy is not as it should be: %w", err)
	}
	if err := synced(part); err != nil {
		return 0, err
	}
	info, err := os.Stat(part)
	if err != nil {
		return 0, err
	}
	return info.Size(), errors.Join(os.Rename(part, path), synced(filepath.Dir(path)))
}

// pageByPage copies a database as it stands at the beginning, a piece at a time: after each it is synced and rests as long as that
// took, so that whoever keeps readings meanwhile does not wait for a disk that writes hundreds of megabytes.
func pageByPage(ctx context.Context, db *sql.DB, to string) (err error) {
	conn, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, conn.Close()) }()
	// One reading transaction over all of it: what is written meanwhile does not begin the copy anew.
	if _, err := conn.ExecContext(ctx, "BEGIN"); err != nil {
		return err
	}
	defer func() { _, _ = conn.ExecContext(context.WithoutCancel(ctx), "ROLLBACK") }() // it read only
	var n int
	if err := conn.QueryRowContext(ctx, "SELECT count(*) FROM sqlite_master").Scan(&n); err != nil {
		return err
	}
	return conn.Raw(func(driver any) (err error) {
		u := url.URL{
			Scheme:   "file",
			Opaque:   (&url.URL{Path: to}).EscapedPath(),
			RawQuery: "_pragma=journal_mode(OFF)&_pragma=synchronous(OFF)",
		}
		b, err := driver.(interface {
			NewBackup(uri string) (*sqlite.Backup, error)
		}).NewBackup(u.String())
		if err != nil {
			return err
		}
		defer func() { err = errors.Join(err, b.Finish()) }()
		const pages = 256 // a megabyte
		for more := true; more; {
			began := time.Now()
			if more, err = b.Step(pages); err != nil {
				return err
			}
			if err := synced(to); err != nil {
				return err
			}
			select {
			case <-ctx.Done():
				return ctx.Err()
			case <-time.After(time.Since(began)):
			}
		}
		return nil
	})
}

// Sound opens a file that nobody uses, and tells whether it is whole and Step Trace's: a *Refused where it is not. Nothing is written.
func Sound(ctx context.Context, path string) (err error) {
	if _, err := os.Stat(path); err != nil {
		return err
	}
	if err := Examine(path); err != nil {
		return err
	}
	u := url.URL{Scheme: "file", Opaque: (&url.URL{Path: path}).EscapedPath(), RawQuery: "mode=ro&immutable=1"}
	db, err := sql.Open("sqlite", u.String())
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	return quickCheck(ctx, db, path)
}

// quickCheck has SQLite look through all pages.
func quickCheck(ctx context.Context, db *sql.DB, path string) error {
	var says string
	if err := db.QueryRowContext(ctx, "PRAGMA quick_check(1)").Scan(&says); err != nil {
		return &Refused{path, "is damaged: " + cmp.Or(Explain(err), err.Error())}
	}
	if says != "ok" {
		return &Refused{path, "is damaged: " + says}
	}
	return nil
}

// Check looks through the database for damage that does not show by itself.
func (s *Store) Check(ctx context.Context) error { return quickCheck(ctx, s.read, s.path) }

// remove removes a file, and the side files of a database of that name; those that are not there are no error.
func remove(path string) error {
	for _, side := range sides {
		if err := os.Remove(path + side); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
	}
	return nil
}

// sides are the ends of the names of a database's files.
var sides = []string{"", "-wal", "-shm", "-journal"}

// synced has a file, or what a folder lists, on disk.
func synced(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	err = f.Sync()
	if errors.Is(err, errors.ErrUnsupported) || os.IsPermission(err) { // a folder, where the system has none of it
		err = nil
	}
	return errors.Join(err, f.Close())
}

// The ends of names that a restore uses: what comes is whole before anything is moved; what was there stays beside.
const (
	restoring = ".restoring"
	replaced  = ".replaced-"
)

// Restore puts a copy in the place of the database at a path, which nobody may use meanwhile. What was there is kept beside it under
// the name that is given back (empty: nothing was there). Cut off at any moment, either the old or the new is there whole: Open ends
// what was begun.
func Restore(ctx context.Context, path, from string) (kept string, err error) {
	l, err := lock(path)
	if err != nil {
		return "", err
	}
	defer func() { err = errors.Join(err, l.Unlock()) }()
	if err := Sound(ctx, from); err != nil {
		return "", err
	}
	if err := copyFile(from, path+restoring+making); err != nil {
		return "", err
	}
	if err := errors.Join(os.Rename(path+restoring+making, path+restoring), synced(filepath.Dir(path))); err != nil {
		return "", err
	}
	return finish(path)
}

// finish ends a restore whose copy is whole: the old goes aside with its side files, the new comes into place.
func finish(path string) (kept string, err error) {
	if _, err := os.Stat(path + restoring); errors.Is(err, fs.ErrNotExist) {
		return "", nil
	} else if err != nil {
		return "", err
	}
	aside := path + replaced + time.Now().UTC().Format(copyStamp)
	for _, side := range sides { // the database itself first: without it, what lies beside it is of nothing
		switch err := os.Rename(path+side, aside+side); {
		case err == nil && side == "":
			kept = aside
		case err != nil && !errors.Is(err, fs.ErrNotExist):
			return kept, err
		}
	}
	return kept, errors.Join(os.Rename(path+restoring, path), synced(filepath.Dir(path)))
}

// copyFile copies a file, synced.
func copyFile(from, to string) (err error) {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, in.Close()) }()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Sync(), out.Close())
}
