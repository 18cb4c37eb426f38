package store

import (
	"context"
	"database/sql"
	"encoding/json"

	"github.com/pressly/goose/v3"

	"steptrace/core/stripdown"
)

// byProgram are the migrations that SQL alone cannot do.
var byProgram = []*goose.Migration{
	goose.NewGoMigration(10, &goose.GoFunc{RunTx: readSteps}, nil),
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
