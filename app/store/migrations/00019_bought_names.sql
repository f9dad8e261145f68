-- +goose Up
-- What a thing that is bought was called on the list, for when the list has it no more.
ALTER TABLE bought ADD COLUMN name TEXT NOT NULL DEFAULT '';
