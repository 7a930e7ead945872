-- +goose Up
-- Links by which papers come in, and by which outsiders work in a folder; a
-- readable address; and how soon the sender is told.
ALTER TABLE links DROP CONSTRAINT links_kind_check;
ALTER TABLE links
  ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out', 'intake')),
  ADD COLUMN slug text UNIQUE,
  ADD COLUMN tell text NOT NULL DEFAULT 'never' CHECK (tell IN ('each', 'daily', 'never')),
  -- Of what comes in: how many files and bytes, and which name endings.
  ADD COLUMN intake_files int,
  ADD COLUMN intake_bytes bigint,
  ADD COLUMN intake_endings text NOT NULL DEFAULT '',
  ADD COLUMN reminded_at timestamptz;

-- Papers that an intake waits for.
CREATE TABLE link_expected (
  link_id uuid NOT NULL REFERENCES links,
  position int NOT NULL,
  name text NOT NULL,
  PRIMARY KEY (link_id, position)
);

-- What came in through a link.
CREATE TABLE link_received (
  link_id uuid NOT NULL REFERENCES links,
  item_id uuid NOT NULL REFERENCES items,
  visit_id uuid NOT NULL REFERENCES visits,
  -- Which of the expected papers it is.
  paper int,
  name text NOT NULL,
  sha256 bytea NOT NULL,
  size bigint NOT NULL,
  at timestamptz NOT NULL,
  PRIMARY KEY (link_id, item_id)
);
CREATE INDEX link_received_visit ON link_received (visit_id);

-- An upload is a person's or a visit's.
ALTER TABLE uploads
  ALTER COLUMN person_id DROP NOT NULL,
  ADD COLUMN visit_id uuid REFERENCES visits,
  ADD COLUMN paper int,
  ADD CONSTRAINT uploads_whose CHECK ((person_id IS NULL) <> (visit_id IS NULL));
CREATE INDEX uploads_visit ON uploads (visit_id) WHERE visit_id IS NOT NULL;

ALTER TABLE visits
  ADD COLUMN name text NOT NULL DEFAULT '',
  ADD COLUMN note text NOT NULL DEFAULT '';

-- How long a visitor had which pages of a document before their eyes, as their
-- page says.
CREATE TABLE visit_looks (
  visit_id uuid NOT NULL REFERENCES visits,
  item_id uuid NOT NULL REFERENCES items,
  version int NOT NULL,
  -- Runs of pages: 1-4, 7.
  pages text NOT NULL DEFAULT '',
  seconds int NOT NULL DEFAULT 0,
  said_at timestamptz NOT NULL,
  PRIMARY KEY (visit_id, item_id, version)
);

-- +goose Down
DROP TABLE visit_looks;
ALTER TABLE visits DROP COLUMN name, DROP COLUMN note;
DELETE FROM uploads WHERE person_id IS NULL;
ALTER TABLE uploads DROP CONSTRAINT uploads_whose, DROP COLUMN visit_id, DROP COLUMN paper, ALTER COLUMN person_id SET NOT NULL;
DROP TABLE link_received, link_expected;
ALTER TABLE links DROP CONSTRAINT links_kind_check, DROP COLUMN slug, DROP COLUMN tell, DROP COLUMN intake_files, DROP COLUMN intake_bytes, DROP COLUMN intake_endings, DROP COLUMN reminded_at;
ALTER TABLE links ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out'));
