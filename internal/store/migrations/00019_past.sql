-- +goose Up
-- What a finished job teaches, as JSON; made with its row on the shelf. All rows are made anew: they
-- tell of what was spent, too.
ALTER TABLE job ADD COLUMN teaches TEXT;
UPDATE job SET said = version + 1 WHERE said > 0;
CREATE INDEX job_teaches ON job (number) WHERE teaches IS NOT NULL;

-- Finished jobs of other workshops, as they lent them: whose, the model as it is compared, what it teaches. Each once.
CREATE TABLE lent (
    whose TEXT NOT NULL,
    hash  TEXT NOT NULL,
    model TEXT NOT NULL,
    taken TEXT NOT NULL,
    body  TEXT NOT NULL,
    PRIMARY KEY (whose, hash)
);
CREATE INDEX lent_model ON lent (model);

-- Sheets of one model that were written down twice: what was found by one counts for the other. Each is in one group.
CREATE TABLE joined (
    sheet INTEGER PRIMARY KEY REFERENCES sheet (id) ON DELETE CASCADE,
    model INTEGER NOT NULL -- the group, by the sheet that it began with
);
CREATE INDEX joined_model ON joined (model);

-- +goose Down
DROP TABLE joined;
DROP TABLE lent;
DROP INDEX job_teaches;
ALTER TABLE job DROP COLUMN teaches;
