-- +goose Up
-- The workshop's own types of parts: row is a device.Row. What lies in its drawer: what as it is written on it.
CREATE TABLE device_type (
    name    TEXT PRIMARY KEY COLLATE NOCASE,
    row     TEXT NOT NULL
) WITHOUT ROWID;

CREATE TABLE drawer (
    what    TEXT    PRIMARY KEY COLLATE NOCASE,
    count   INTEGER NOT NULL,
    place   TEXT    NOT NULL,
    price   TEXT    NOT NULL
) WITHOUT ROWID;

-- +goose Down
DROP TABLE drawer;
DROP TABLE device_type;
