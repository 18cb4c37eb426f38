package store

import (
	"context"
	"database/sql"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// ours marks Step Trace's files in the header of the database (application_id): "StTr". Its schema's version stands there too
// (user_version), so that a file of a later program is known before anything of it is touched.
const ours = 0x53745472

// header is what is read of a database file's first hundred bytes (sqlite.org/fileformat2.html).
const (
	headerSize   = 100
	headerMagic  = "SQLite format 3\x00"
	userVersion  = 60
	applicatedBy = 68
)

// Refused says why a file cannot be used, and what to do. The file is as it was.
type Refused struct{ Path, Why string }

func (e *Refused) Error() string { return e.Path + " " + e.Why }

// Mendable marks it as something a person can put right.
func (e *Refused) Mendable() {}

// Examine tells whether a file can be used as the database: a *Refused where it is of another program, of a later version, empty or
// damaged. A file that is not there can. It changes nothing.
func Examine(path string) error {
	head, size, err := headOf(path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil
	case err != nil:
		return err
	case size == 0:
		return &Refused{path, "is empty. Put a copy back in its place (steptrace restore), or move it away to begin anew"}
	case size < headerSize || string(head[:len(headerMagic)]) != headerMagic:
		return &Refused{path, "is no database of Step Trace, or its beginning is damaged. Put a copy back (steptrace restore), " +
			"or name another file with -data"}
	}
	version, by := binary.BigEndian.Uint32(head[userVersion:]), binary.BigEndian.Uint32(head[applicatedBy:])
	switch {
	case by == ours && int64(version) > newest():
		return &Refused{path, fmt.Sprintf("was made by a later Step Trace (its tables have version %d, this program knows up to %d). "+
			"Start the later program; nothing was changed", version, newest())}
	case by == ours:
		return nil
	case by != 0:
		return &Refused{path, "belongs to another program. Name Step Trace's own file with -data"}
	}
	return examineTables(path)
}

func headOf(path string) (head []byte, size int64, err error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, 0, err
	}
	defer func() { err = errors.Join(err, f.Close()) }()
	info, err := f.Stat()
	if err != nil {
		return nil, 0, err
	}
	head = make([]byte, headerSize)
	if _, err := io.ReadFull(f, head); err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return nil, 0, err
	}
	return head, info.Size(), nil
}

// examineTables looks at the tables of a file that does not say whose it is, as Step Trace's did not at first. It takes no lock and
// writes nothing beside it (immutable).
func examineTables(path string) (err error) {
	u := url.URL{Scheme: "file", Opaque: (&url.URL{Path: path}).EscapedPath(), RawQuery: "mode=ro&immutable=1"}
	db, err := sql.Open("sqlite", u.String())
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	var all, own int
	row := db.QueryRowContext(context.Background(), `SELECT count(*), coalesce(sum(name IN ('goose_db_version', 'sheet', 'job')), 0)
		FROM sqlite_master WHERE type = 'table'`)
	if err := row.Scan(&all, &own); err != nil {
		return &Refused{path, "is damaged: " + Explain(err)}
	}
	const all3 = 3
	if all > 0 && own < all3 {
		return &Refused{path, "belongs to another program. Name Step Trace's own file with -data"}
	}
	return nil
}

// Explain tells what is wrong with the file, or its disk, in words that say what to do; empty where an error says nothing of these.
func Explain(err error) string {
	var e *sqlite.Error
	if !errors.As(err, &e) {
		return ""
	}
	const primary = 0xff // the rest of a code is detail
	switch e.Code() & primary {
	case sqlite3.SQLITE_FULL:
		return "The disk is full: nothing more can be kept. Make room on it, then try again. What was confirmed before is safe."
	case sqlite3.SQLITE_READONLY:
		return "The file can only be read. Let the program write to it and to its folder, then try again. " +
			"What was confirmed before is safe."
	case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
		return "Another program holds the file. Close what uses it, then try again. What was confirmed before is safe."
	case sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
		return "The file is damaged. Stop here, and put the last copy back (steptrace restore): what is typed from now on may be lost."
	case sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN:
		return "The disk does not answer as it should. See whether it is there and not worn out, then try again."
	}
	return ""
}
