-- +goose Up
-- Up to which event somebody has looked at what is new: in the look before this one, and now.
CREATE TABLE today_looks (
  person_id uuid PRIMARY KEY REFERENCES people,
  before_event bigint NOT NULL,
  before_at timestamptz NOT NULL,
  last_event bigint NOT NULL,
  last_at timestamptz NOT NULL
);
