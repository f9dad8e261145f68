-- +goose Up
ALTER TABLE heaters ADD COLUMN trashed INTEGER; -- ms since 1970 when it was put into the trash; NULL: it was not
