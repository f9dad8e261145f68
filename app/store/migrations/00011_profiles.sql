-- +goose Up
-- How a logger's files are read, as it was confirmed at an import: by what their tables look like.
CREATE TABLE profiles (
  shape   TEXT PRIMARY KEY, -- the names of the columns and the sign between them
  mapping TEXT    NOT NULL, -- JSON of a formats.Mapping
  at      INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
