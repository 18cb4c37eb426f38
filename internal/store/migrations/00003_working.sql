-- +goose Up
ALTER TABLE job ADD COLUMN way TEXT NOT NULL DEFAULT ''; -- of working; empty: halve it

-- A ground for condemning a stage that is done without, and why.
CREATE TABLE waiver (
    serial INTEGER PRIMARY KEY,
    job    INTEGER NOT NULL REFERENCES job (number),
    stage  TEXT    NOT NULL,
    ground TEXT    NOT NULL,
    reason TEXT    NOT NULL,
    at     TEXT    NOT NULL
) STRICT;
CREATE INDEX waiver_job ON waiver (job, serial);

-- +goose Down
DROP TABLE waiver;
ALTER TABLE job DROP COLUMN way;
