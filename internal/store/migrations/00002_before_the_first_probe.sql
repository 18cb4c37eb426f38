-- +goose Up
ALTER TABLE reading ADD COLUMN power TEXT NOT NULL DEFAULT '';   -- off, standby, on; empty: not said
ALTER TABLE reading ADD COLUMN without TEXT NOT NULL DEFAULT ''; -- swapped or lifted, a JSON list of names

-- What was noted when the set came in, by field. Text replaced is kept.
CREATE TABLE intake (
    serial  INTEGER PRIMARY KEY,
    job     INTEGER NOT NULL REFERENCES job (number),
    field   TEXT    NOT NULL,
    text    TEXT    NOT NULL,
    written TEXT    NOT NULL
) STRICT;
CREATE INDEX intake_job ON intake (job, serial);

-- What was switched, measured and ticked off to make the set safe.
CREATE TABLE safety_event (
    serial  INTEGER PRIMARY KEY,
    id      TEXT    NOT NULL,
    job     INTEGER NOT NULL REFERENCES job (number),
    kind    TEXT    NOT NULL,
    subject TEXT    NOT NULL,
    text    TEXT    NOT NULL, -- a residual voltage as typed
    si      REAL    NOT NULL, -- V
    at      TEXT    NOT NULL,
    UNIQUE (job, id)
) STRICT;

-- How the set came apart; the line as typed says all.
CREATE TABLE strip_step (
    serial INTEGER PRIMARY KEY,
    id     TEXT    NOT NULL,
    job    INTEGER NOT NULL REFERENCES job (number),
    kind   TEXT    NOT NULL,
    text   TEXT    NOT NULL,
    taken  TEXT    NOT NULL,
    struck TEXT,
    UNIQUE (job, id)
) STRICT;

-- How many of a step went back in; the last one of a step counts.
CREATE TABLE strip_return (
    serial INTEGER PRIMARY KEY,
    job    INTEGER NOT NULL,
    step   TEXT    NOT NULL,
    count  INTEGER NOT NULL,
    at     TEXT    NOT NULL,
    FOREIGN KEY (job, step) REFERENCES strip_step (job, id)
) STRICT;
CREATE INDEX strip_return_job ON strip_return (job, serial);

CREATE TABLE picture (
    serial  INTEGER PRIMARY KEY,
    id      TEXT    NOT NULL,
    job     INTEGER NOT NULL REFERENCES job (number),
    step    TEXT    NOT NULL, -- id of a strip-down step; empty: of the set as it came in
    type    TEXT    NOT NULL,
    taken   TEXT    NOT NULL,
    struck  TEXT,
    preview BLOB    NOT NULL, -- JPEG
    data    BLOB    NOT NULL,
    UNIQUE (job, id)
) STRICT;

-- +goose Down
DROP TABLE picture;
DROP TABLE strip_return;
DROP TABLE strip_step;
DROP TABLE safety_event;
DROP TABLE intake;
ALTER TABLE reading DROP COLUMN without;
ALTER TABLE reading DROP COLUMN power;
