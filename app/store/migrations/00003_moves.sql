-- +goose Up
-- Which edit was in force at each revision of a version, and which page moved it there.
CREATE TABLE moves (
    version  INTEGER NOT NULL REFERENCES versions(id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    edit     INTEGER NOT NULL REFERENCES edits(id),
    page     TEXT    NOT NULL,
    PRIMARY KEY (version, revision)
) STRICT, WITHOUT ROWID;

INSERT INTO moves (version, revision, edit, page) SELECT version, revision, max(id), '' FROM edits GROUP BY version, revision;
INSERT OR REPLACE INTO moves (version, revision, edit, page) SELECT id, revision, head, '' FROM versions WHERE head IS NOT NULL;
