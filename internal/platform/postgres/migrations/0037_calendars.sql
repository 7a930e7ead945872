-- +goose Up
-- Secret addresses at which calendar programs read what ends for somebody.
CREATE TABLE calendars (
  person_id uuid PRIMARY KEY REFERENCES people,
  token_sha256 bytea NOT NULL UNIQUE,
  made_at timestamptz NOT NULL,
  read_at timestamptz
);
