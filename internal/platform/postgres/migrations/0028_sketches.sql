-- +goose Up
-- By which it is told that a document is likely a version of another (core/chunk). Whether
-- it is of the text or of the bytes stands with it: only like with like is compared.
CREATE TABLE sketches (
  sha256 bytea PRIMARY KEY REFERENCES blobs ON DELETE CASCADE,
  of_text boolean NOT NULL,
  sketch bytea NOT NULL
);
