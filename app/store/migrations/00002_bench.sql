-- +goose Up
-- Files of hourly weather, by the sum of their content; gzip.
CREATE TABLE weather (
    sum  TEXT    PRIMARY KEY,
    name TEXT    NOT NULL,
    data BLOB    NOT NULL,
    at   INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- What a version came to over a year, as it was worked out then.
CREATE TABLE results (
    id       INTEGER PRIMARY KEY,
    version  INTEGER NOT NULL REFERENCES versions(id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    program  TEXT    NOT NULL, -- version of the program that worked it out
    figures  TEXT    NOT NULL, -- JSON
    at       INTEGER NOT NULL,
    UNIQUE (version, revision, program)
) STRICT;

-- What lies in the shed: one row a thing or lot of things, as JSON of core/sizing.
CREATE TABLE stock (
    id    INTEGER PRIMARY KEY,
    kind  TEXT    NOT NULL,
    item  TEXT    NOT NULL,
    at    INTEGER NOT NULL
) STRICT;

-- Browsers elsewhere that were let in; tokens are kept as their sums.
CREATE TABLE devices (
    id    INTEGER PRIMARY KEY,
    name  TEXT    NOT NULL,
    token TEXT    NOT NULL UNIQUE,
    at    INTEGER NOT NULL,
    seen  INTEGER NOT NULL
) STRICT;
