-- +goose Up
-- A version that is deleted can be put back: when it was deleted, ms; 0 while it counts.
ALTER TABLE versions ADD COLUMN gone INTEGER NOT NULL DEFAULT 0;
