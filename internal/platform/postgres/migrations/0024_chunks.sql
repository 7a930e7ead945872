-- +goose Up
-- Of what a further version changes only that is kept: own bytes lie in its place, the rest
-- stands in other blobs, as the recipe says. Source 0 of a recipe is the blob itself, others
-- are numbered by position.
ALTER TABLE blobs ADD COLUMN own bigint, ADD COLUMN recipe bytea, ADD COLUMN weighed boolean NOT NULL DEFAULT false, ADD COLUMN left_over boolean NOT NULL DEFAULT false;
UPDATE blobs SET own = size;
ALTER TABLE blobs ALTER COLUMN own SET NOT NULL, ADD CONSTRAINT blobs_own CHECK (own = size AND recipe IS NULL OR own < size AND recipe IS NOT NULL);
CREATE INDEX blobs_left ON blobs (sha256) WHERE left_over;

CREATE TABLE blob_sources (
  sha256 bytea NOT NULL REFERENCES blobs ON DELETE CASCADE,
  position int NOT NULL,
  source bytea NOT NULL REFERENCES blobs,
  PRIMARY KEY (sha256, position)
);
CREATE INDEX blob_sources_source ON blob_sources (source);

-- Places that nothing needs any more, but somebody may be reading still.
CREATE TABLE left_places (
  place uuid PRIMARY KEY,
  at timestamptz NOT NULL
);
CREATE INDEX left_places_at ON left_places (at);
