-- +goose Up
-- What the practice does about sensitive content that is given out, and its own
-- words and patterns for it. A new set of patterns gets the next number.
ALTER TABLE practice
  ADD COLUMN sensitive text NOT NULL DEFAULT 'warn' CHECK (sensitive IN ('off', 'warn', 'forbid')),
  ADD COLUMN patterns jsonb NOT NULL DEFAULT '[]',
  ADD COLUMN patterns_number int NOT NULL DEFAULT 0;

-- What was found in content, by its hash, with which patterns.
CREATE TABLE scans (
  sha256 bytea PRIMARY KEY REFERENCES blobs,
  patterns_number int NOT NULL,
  -- Whether its text could be read.
  readable boolean NOT NULL,
  scanned_at timestamptz NOT NULL
);
CREATE TABLE scan_findings (
  sha256 bytea NOT NULL REFERENCES scans ON DELETE CASCADE,
  kind text NOT NULL,
  name text NOT NULL,
  n int NOT NULL,
  -- Where the first one stands: a page, or else a line or row.
  page int,
  line int,
  shown text NOT NULL,
  PRIMARY KEY (sha256, kind, name)
);

-- +goose Down
DROP TABLE scan_findings, scans;
ALTER TABLE practice DROP COLUMN sensitive, DROP COLUMN patterns, DROP COLUMN patterns_number;
