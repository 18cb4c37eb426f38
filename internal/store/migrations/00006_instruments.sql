-- +goose Up
-- A person's own instruments, with their words for each action.
CREATE TABLE instrument (
    serial  INTEGER PRIMARY KEY,
    id      TEXT    NOT NULL UNIQUE,
    name    TEXT    NOT NULL,
    kind    TEXT    NOT NULL,
    address TEXT    NOT NULL,
    words   TEXT    NOT NULL
) STRICT;

-- What full scale of a computer's sound input or output is in volts; the last one of a
-- device counts.
CREATE TABLE sound_level (
    serial  INTEGER PRIMARY KEY,
    device  TEXT    NOT NULL,
    way     TEXT    NOT NULL, -- in, out
    volts   REAL    NOT NULL, -- peak
    written TEXT    NOT NULL
) STRICT;

-- +goose Down
DROP TABLE sound_level;
DROP TABLE instrument;
