-- +goose Up
-- Documents that go with those of heaters: the workshop's, which has no version, and that of each version's log. Their edits are only ever
-- added, as those of heaters are; revisions of all documents are numbers of one row, so that the latest edit of several is known.
CREATE TABLE documents (
  id       INTEGER PRIMARY KEY,
  version  INTEGER UNIQUE REFERENCES versions(id) ON DELETE CASCADE,
  head     INTEGER,
  revision INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE document_edits (
  id       INTEGER PRIMARY KEY,
  document INTEGER NOT NULL REFERENCES documents(id) ON DELETE CASCADE,
  parent   INTEGER REFERENCES document_edits(id),
  path     TEXT    NOT NULL,
  label    TEXT    NOT NULL,
  text     BLOB    NOT NULL, -- empty where nobody gave anything
  revision INTEGER NOT NULL,
  at       INTEGER NOT NULL
) STRICT;
CREATE INDEX document_edits_parent ON document_edits(parent);
CREATE INDEX document_edits_document ON document_edits(document, revision);

CREATE TABLE document_moves (
  document INTEGER NOT NULL REFERENCES documents(id) ON DELETE CASCADE,
  revision INTEGER NOT NULL,
  edit     INTEGER NOT NULL REFERENCES document_edits(id),
  page     TEXT    NOT NULL,
  PRIMARY KEY (document, revision)
) STRICT, WITHOUT ROWID;
