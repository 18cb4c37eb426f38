-- +goose Up
-- What was read, checked, provoked and condemned inside a stage; body is the entry in JSON.
CREATE TABLE inside (
    serial INTEGER PRIMARY KEY,
    id     TEXT    NOT NULL,
    job    INTEGER NOT NULL REFERENCES job (number),
    body   TEXT    NOT NULL,
    struck TEXT,
    UNIQUE (job, id)
) STRICT;

-- +goose Down
DROP TABLE inside;
