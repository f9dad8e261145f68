-- +goose Up
CREATE TABLE heaters (
    id       INTEGER PRIMARY KEY,
    created  INTEGER NOT NULL, -- ms since 1970
    current  INTEGER           -- version on the bench
) STRICT;

CREATE TABLE versions (
    id       INTEGER PRIMARY KEY,
    heater   INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
    name     TEXT    NOT NULL,
    head     INTEGER,                      -- the edit that is in force
    revision INTEGER NOT NULL DEFAULT 0,   -- counts every move of head
    UNIQUE (heater, name)
) STRICT;

-- Edits are only ever added. Undo moves a version's head to a parent, redo to
-- the youngest child.
CREATE TABLE edits (
    id       INTEGER PRIMARY KEY,
    version  INTEGER NOT NULL REFERENCES versions(id) ON DELETE CASCADE,
    parent   INTEGER REFERENCES edits(id),
    path     TEXT    NOT NULL,
    label    TEXT    NOT NULL,
    document BLOB    NOT NULL,
    revision INTEGER NOT NULL,
    at       INTEGER NOT NULL
) STRICT;
CREATE INDEX edits_parent ON edits(parent);
CREATE INDEX edits_version ON edits(version, revision);

-- Readings: one block a series and UTC day.
CREATE TABLE readings (
    heater INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
    series TEXT    NOT NULL,
    day    INTEGER NOT NULL, -- days since 1970
    count  INTEGER NOT NULL,
    block  BLOB    NOT NULL,
    PRIMARY KEY (heater, series, day)
) STRICT, WITHOUT ROWID;

CREATE TABLE imports (
    id     INTEGER PRIMARY KEY,
    heater INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
    name   TEXT    NOT NULL,
    read   INTEGER NOT NULL,
    added  INTEGER NOT NULL,
    at     INTEGER NOT NULL
) STRICT;

-- What an import's blocks were before it; NULL where there was none.
CREATE TABLE import_blocks (
    import INTEGER NOT NULL REFERENCES imports(id) ON DELETE CASCADE,
    series TEXT    NOT NULL,
    day    INTEGER NOT NULL,
    count  INTEGER,
    before BLOB,
    PRIMARY KEY (import, series, day)
) STRICT, WITHOUT ROWID;

-- Files looked at but not yet taken in.
CREATE TABLE uploads (
    id     INTEGER PRIMARY KEY,
    heater INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
    name   TEXT    NOT NULL,
    data   BLOB    NOT NULL,
    at     INTEGER NOT NULL
) STRICT;
