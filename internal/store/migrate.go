package store

import (
	"context"
	"database/sql"
	"encoding/json"

	"github.com/pressly/goose/v3"

	"steptrace/core/sheet"
	"steptrace/core/stripdown"
)

// byProgram are the migrations that SQL alone cannot do.
var byProgram = []*goose.Migration{
	goose.NewGoMigration(10, &goose.GoFunc{RunTx: readSteps}, nil),
	goose.NewGoMigration(12, &goose.GoFunc{RunTx: sayOfAll}, nil),
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
