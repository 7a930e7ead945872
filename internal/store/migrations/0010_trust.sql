-- +goose Up
-- Content that brought down the process that read it, and what was being done: it
-- is not tried again.
CREATE TABLE awkward (
  sha256 bytea NOT NULL,
  op text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (sha256, op)
);

-- +goose Down
DROP TABLE awkward;
