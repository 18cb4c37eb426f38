package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"io/fs"
	"sync"

	"github.com/pressly/goose/v3"

	"steptrace/core/mend"
	"steptrace/core/sheet"
	"steptrace/core/stripdown"
)

// byProgram are the migrations that SQL alone cannot do.
var byProgram = []*goose.Migration{
	goose.NewGoMigration(10, &goose.GoFunc{RunTx: readSteps}, nil),
	goose.NewGoMigration(12, &goose.GoFunc{RunTx: sayOfAll}, nil),
	goose.NewGoMigration(20, &goose.GoFunc{RunTx: putIn}, nil),
}

func provider(db *sql.DB) (*goose.Provider, error) {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectSQLite3, db, sub, goose.WithGoMigrations(byProgram...))
}

// newest is the version of the tables that this program makes.
var newest = sync.OnceValue(func() int64 {
	db, err := sql.Open("sqlite", ":memory:")
	if err != nil {
		panic(err) // the driver is built in
	}
	defer func() { _ = db.Close() }()
	p, err := provider(db)
	if err != nil {
		panic(err) // the migrations are built in
	}
	all := p.ListSources()
	return all[len(all)-1].Version
})

// Version is that of the tables that this program makes.
func Version() int64 { return newest() }

// upToDate brings the tables up to date, after a copy was made of what was there, and marks the file as Step Trace's.
func upToDate(ctx context.Context, db *sql.DB, copies []*Copies) error {
	p, err := provider(db)
	if err != nil {
		return err
	}
	now, err := p.GetDBVersion(ctx)
	if err != nil {
		return err
	}
	if now > newest() {
		return mend.Errorf("it was made by a later Step Trace (version %d of the tables, this program knows up to %d). Start that one",
			now, newest())
	}
	if now > 0 && now < newest() {
		for _, c := range copies {
			if _, err := c.make(ctx, db, upgrade); err != nil {
				return fmt.Errorf("no copy could be made before its tables are changed, so they were not: %w", err)
			}
		}
	}
	if err := putBefore(ctx, db, now); err != nil {
		return err
	}
	if _, err := p.Up(ctx); err != nil {
		return err
	}
	for name, want := range map[string]int64{"application_id": ours, "user_version": newest()} {
		var is int64
		if err := db.QueryRowContext(ctx, "PRAGMA "+name).Scan(&is); err != nil {
			return err
		}
		if is == want {
			continue
		}
		if _, err := db.ExecContext(ctx, fmt.Sprintf("PRAGMA %s = %d", name, want)); err != nil {
			return err
		}
	}
	return nil
}

// putBefore puts in what the migrations to come count on, in files that lack it for the reason below: the third came to have a table
// more, which the ninth takes over.
func putBefore(ctx context.Context, db *sql.DB, now int64) error {
	const has, takesOver = 3, 9
	if now < has || now >= takesOver {
		return nil
	}
	_, err := db.ExecContext(
		ctx,
		`CREATE TABLE IF NOT EXISTS waiver (serial INTEGER PRIMARY KEY, job INTEGER NOT NULL REFERENCES job (number),
		stage TEXT NOT NULL, ground TEXT NOT NULL, reason TEXT NOT NULL, at TEXT NOT NULL) STRICT`,
	)
	return err
}

// putIn puts in what files lack that were made while a migration was still being written: such a file has its number, and not all
// that it came to have. Migrations have not been changed since; a test holds them to that.
func putIn(ctx context.Context, tx *sql.Tx) error {
	for _, c := range []struct{ table, column, how string }{
		{"job", "amended", "INTEGER NOT NULL DEFAULT 0"},
		{"sheet_revision", "back", "INTEGER NOT NULL DEFAULT 0"},
		{"job", "ready", "INTEGER NOT NULL DEFAULT 0"},
	} {
		var there int
		row := tx.QueryRowContext(ctx, "SELECT count(*) FROM pragma_table_info(?) WHERE name = ?", c.table, c.column)
		if err := row.Scan(&there); err != nil {
			return err
		}
		if there > 0 {
			continue
		}
		if _, err := tx.ExecContext(ctx, "ALTER TABLE "+c.table+" ADD COLUMN "+c.column+" "+c.how); err != nil {
			return err
		}
	}
	_, err := tx.ExecContext(ctx, "CREATE INDEX IF NOT EXISTS job_ready ON job (number) WHERE ready")
	return err
}

// readSteps reads the lines of the steps that were kept as typed alone.
func readSteps(ctx context.Context, tx *sql.Tx) error {
	type kept struct {
		job, serial int
		step        stripdown.Step
	}
	rows, err := tx.QueryContext(ctx, "SELECT job, serial, body FROM entry WHERE kind = 'steps'")
	all, err := collect(rows, err, func(r scanner) (k kept, err error) {
		var body []byte
		if err := r.Scan(&k.job, &k.serial, &body); err != nil {
			return k, err
		}
		return k, json.Unmarshal(body, &k.step)
	})
	for _, k := range all {
		if err != nil {
			return err
		}
		var body []byte
		if err = k.step.Reread(); err == nil {
			body, err = json.Marshal(k.step)
		}
		if err == nil {
			_, err = tx.ExecContext(ctx, "UPDATE entry SET body = ? WHERE job = ? AND serial = ?", string(body), k.job, k.serial)
		}
	}
	return err
}

// sayOfAll keeps of the sheets what a list shows of them, and where finished jobs had failed.
// What jobs say on the shelf is made when it is first looked at.
func sayOfAll(ctx context.Context, tx *sql.Tx) error {
	type kept struct {
		id          int64
		text, saved string
	}
	rows, err := tx.QueryContext(
		ctx,
		"SELECT s.id, r.document, r.saved FROM sheet s JOIN sheet_revision r ON r.sheet = s.id AND r.revision = s.revision",
	)
	sheets, err := collect(rows, err, func(r scanner) (k kept, err error) { return k, r.Scan(&k.id, &k.text, &k.saved) })
	for _, k := range sheets {
		if err != nil {
			break
		}
		var document *sheet.Sheet
		if document, err = sheet.ReadJSON([]byte(k.text)); err == nil {
			err = sayOfSheet(ctx, tx, k.id, document, []byte(k.text), k.saved)
		}
	}
	if err != nil {
		return err
	}
	rows, err = tx.QueryContext(ctx, "SELECT number FROM job WHERE finished IS NOT NULL")
	finished, err := collect(rows, err, func(r scanner) (n int, err error) { return n, r.Scan(&n) })
	for _, n := range finished {
		if err == nil {
			err = noteEnd(ctx, tx, n)
		}
	}
	return err
}
