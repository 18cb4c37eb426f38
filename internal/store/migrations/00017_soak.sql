-- +goose Up
-- What soaks log: values over time, of each trace as they were read (level 0) and drawn together in stretches that grow by four
-- (levels 1 on: of 64 s, 256 s and so on), so that hours and years are drawn alike fast. At is milliseconds since the soak began,
-- of a stretch its beginning. A soak is the entry that began it; t and wall are its own time and the clock's when it was
-- last read.
CREATE TABLE soak (
    id      INTEGER PRIMARY KEY,
    job     INTEGER NOT NULL REFERENCES job(number) ON DELETE CASCADE,
    entry   TEXT    NOT NULL,
    t       REAL    NOT NULL,
    wall    TEXT    NOT NULL,
    UNIQUE (job, entry)
);

CREATE TABLE soak_log (
    soak     INTEGER NOT NULL REFERENCES soak(id) ON DELETE CASCADE,
    trace    INTEGER NOT NULL,
    level    INTEGER NOT NULL,
    at       INTEGER NOT NULL,
    least    REAL    NOT NULL,
    greatest REAL    NOT NULL,
    total    REAL    NOT NULL,
    count    INTEGER NOT NULL,
    PRIMARY KEY (soak, trace, level, at)
) WITHOUT ROWID;

-- +goose Down
DROP TABLE soak_log;
DROP TABLE soak;
