-- +goose Up
-- What a workshop has in common for all who look: units, currency.
CREATE TABLE settings (
  name  TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT, WITHOUT ROWID;
