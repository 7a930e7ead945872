-- +goose Up
-- Content that brought down the process that read it, and what was being done: it
-- is not tried again.
CREATE TABLE awkward (
  sha256 bytea NOT NULL,
  op text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (sha256, op)
);

-- Things of one name in a folder are told apart by a number, where whoever gave
-- the name does not see the other one.
ALTER TABLE items ADD COLUMN twin int NOT NULL DEFAULT 0;
DROP INDEX items_names;
CREATE UNIQUE INDEX items_names ON items (parent_id, name_key, twin) WHERE deleted_at IS NULL;

-- +goose Down
DROP INDEX items_names;
ALTER TABLE items DROP COLUMN twin;
CREATE UNIQUE INDEX items_names ON items (parent_id, name_key) WHERE deleted_at IS NULL;
DROP TABLE awkward;
