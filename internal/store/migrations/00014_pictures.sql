-- +goose Up
-- Pictures of a sheet, with the pins on them: about is a pin.Picture.
CREATE TABLE picture (
    serial  INTEGER PRIMARY KEY,
    sheet   INTEGER NOT NULL REFERENCES sheet (id),
    id      TEXT    NOT NULL,
    about   TEXT    NOT NULL,
    UNIQUE (sheet, id)
);

-- Their files, apart from what is said of them: that is read often, these are large.
CREATE TABLE picture_file (
    serial  INTEGER NOT NULL REFERENCES picture (serial),
    role    TEXT    NOT NULL,
    data    BLOB    NOT NULL,
    PRIMARY KEY (serial, role)
) WITHOUT ROWID;

-- +goose Down
DROP TABLE picture_file;
DROP TABLE picture;
