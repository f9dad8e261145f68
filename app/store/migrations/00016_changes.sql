-- +goose Up
-- Numbers of changes that added something, so that one which a phone sends again after the program was stopped is made once.
CREATE TABLE changes (
  number TEXT PRIMARY KEY,
  at     INTEGER NOT NULL  -- ms
) STRICT, WITHOUT ROWID;
CREATE INDEX changes_at ON changes(at);
