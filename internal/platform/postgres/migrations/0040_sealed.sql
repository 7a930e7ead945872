-- +goose Up
-- Transfers that were sealed in their sender's browser: by what one opens, and the sealed list of
-- what is in it, with the names and the message.
ALTER TABLE links ADD COLUMN sealed text NOT NULL DEFAULT '' CHECK (sealed IN ('', 'key', 'passphrase'));
CREATE TABLE transfer_manifests (
  link_id uuid PRIMARY KEY REFERENCES transfers,
  content bytea NOT NULL,
  written_at timestamptz NOT NULL
);
-- Whether the practice lets transfers be sealed, and for whom it wants them to be.
ALTER TABLE practice ADD COLUMN seals_forbidden boolean NOT NULL DEFAULT false, ADD COLUMN outward_sealed_for text[] NOT NULL DEFAULT '{}';
-- How long a transfer lasts and how large it is at most.
ALTER TABLE practice ADD COLUMN transfer_days int, ADD COLUMN transfer_bytes bigint;
