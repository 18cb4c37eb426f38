-- +goose Up
ALTER TABLE reading ADD COLUMN capture TEXT NOT NULL DEFAULT '';  -- id of the capture it was read from
ALTER TABLE reading ADD COLUMN settings TEXT NOT NULL DEFAULT ''; -- of the instruments, as read back

CREATE TABLE capture (
    serial         INTEGER PRIMARY KEY,
    id             TEXT    NOT NULL,
    job            INTEGER NOT NULL REFERENCES job (number),
    name           TEXT    NOT NULL,
    points         TEXT    NOT NULL, -- of its channels, a JSON list of names
    said           TEXT    NOT NULL, -- beside the file, JSON
    mode           TEXT    NOT NULL,
    injected_at    TEXT,
    injected_level REAL    NOT NULL,
    injected_hz    REAL    NOT NULL,
    injected_touch INTEGER NOT NULL,
    instrument     TEXT    NOT NULL,
    settings       TEXT    NOT NULL,
    good           INTEGER NOT NULL, -- 1: one to compare later ones with
    taken          TEXT    NOT NULL,
    struck         TEXT,
    understood     TEXT    NOT NULL, -- what was read of it but for the samples, JSON
    count          INTEGER NOT NULL, -- samples of each channel
    samples        BLOB    NOT NULL, -- compact form, zstd
    received       BLOB    NOT NULL, -- the file as it came, zstd
    UNIQUE (job, id)
) STRICT;

-- +goose Down
DROP TABLE capture;
ALTER TABLE reading DROP COLUMN settings;
ALTER TABLE reading DROP COLUMN capture;
