-- +goose Up
-- What was done to the set, what was put in for a while, what was done without at the end;
-- body is the entry in JSON.
CREATE TABLE repair (
    serial INTEGER PRIMARY KEY,
    id     TEXT    NOT NULL,
    job    INTEGER NOT NULL REFERENCES job (number),
    body   TEXT    NOT NULL,
    struck TEXT,
    UNIQUE (job, id)
) STRICT;

-- +goose Down
DROP TABLE repair;
