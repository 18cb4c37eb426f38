-- +goose Up
-- A sheet's documents are kept for every revision; the highest is in force.
CREATE TABLE sheet (
    id       INTEGER PRIMARY KEY,
    revision INTEGER NOT NULL
) STRICT;

CREATE TABLE sheet_revision (
    sheet    INTEGER NOT NULL REFERENCES sheet (id),
    revision INTEGER NOT NULL,
    document TEXT    NOT NULL,
    saved    TEXT    NOT NULL, -- UTC, RFC 3339
    PRIMARY KEY (sheet, revision)
) STRICT;

CREATE TABLE job (
    number         INTEGER PRIMARY KEY,
    sheet          INTEGER NOT NULL REFERENCES sheet (id),
    sheet_revision INTEGER, -- set when the job is finished: the sheet as it was then
    complaint      TEXT NOT NULL,
    opened         TEXT NOT NULL,
    finished       TEXT,
    outcome        TEXT NOT NULL DEFAULT '',
    stage          TEXT NOT NULL DEFAULT '',
    route          TEXT NOT NULL DEFAULT '',
    injected_at    TEXT, -- null: the sheet's own signal
    injected_level REAL NOT NULL DEFAULT 0, -- V rms
    injected_hz    REAL NOT NULL DEFAULT 0,
    instrument     TEXT NOT NULL DEFAULT ''
) STRICT;

-- Readings are never changed; striking one out only fills its last columns.
CREATE TABLE reading (
    serial         INTEGER PRIMARY KEY,
    id             TEXT    NOT NULL, -- given by whoever sent it, so that sending twice is harmless
    job            INTEGER NOT NULL REFERENCES job (number),
    point          TEXT    NOT NULL,
    quantity       TEXT    NOT NULL,
    text           TEXT    NOT NULL, -- as typed
    si             REAL    NOT NULL, -- V, Hz or ohms, by quantity
    form           TEXT    NOT NULL,
    word           TEXT    NOT NULL,
    mode           TEXT    NOT NULL,
    injected_at    TEXT,
    injected_level REAL    NOT NULL DEFAULT 0,
    injected_hz    REAL    NOT NULL DEFAULT 0,
    instrument     TEXT    NOT NULL,
    taken          TEXT    NOT NULL,
    struck         TEXT, -- when it was struck out
    struck_reason  TEXT    NOT NULL DEFAULT '',
    UNIQUE (job, id)
) STRICT;

CREATE INDEX reading_job ON reading (job, serial);

-- +goose Down
DROP TABLE reading;
DROP TABLE job;
DROP TABLE sheet_revision;
DROP TABLE sheet;
