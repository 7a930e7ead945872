-- +goose Up
-- Papers that parties bring with their signatures, sealed, until they are filed beside what all have signed.
CREATE TABLE signing_papers (
  signing_id uuid NOT NULL REFERENCES signings ON DELETE CASCADE,
  party integer NOT NULL,
  place integer NOT NULL,
  name text NOT NULL,
  media_type text NOT NULL,
  size integer NOT NULL CHECK (size > 0),
  sha256 bytea NOT NULL,
  paper bytea NOT NULL,
  brought_at timestamptz NOT NULL,
  PRIMARY KEY (signing_id, place)
);

-- +goose Down
DROP TABLE signing_papers;
