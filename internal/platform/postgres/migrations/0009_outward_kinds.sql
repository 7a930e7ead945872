-- +goose Up
-- Links by which papers come in, and by which outsiders work in a folder; readable addresses; and how soon the sender is
-- told.
ALTER TABLE links DROP CONSTRAINT links_kind_check;
ALTER TABLE links
  ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out', 'working', 'intake')),
  ADD COLUMN slug text UNIQUE,
  ADD COLUMN tell text NOT NULL DEFAULT 'never' CHECK (tell IN ('each', 'daily', 'never')),
  -- Of what comes in: how many files and bytes, and which name endings.
  ADD COLUMN intake_files int,
  ADD COLUMN intake_bytes bigint,
  ADD COLUMN intake_endings text NOT NULL DEFAULT '',
  ADD COLUMN reminded_at timestamptz,
  ADD COLUMN told_at timestamptz;

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

-- Whoever is sent a link by mail has an address of their own for it, so that
-- openings are told apart.
ALTER TABLE link_mails
  ADD COLUMN token_sha256 bytea UNIQUE,
  ADD COLUMN token_sealed bytea;

ALTER TABLE visits
  ADD COLUMN sent_to text NOT NULL DEFAULT '',
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

-- What the practice lets out, and to whom: lists are separated by blanks.
ALTER TABLE practice
  ADD COLUMN outward_required text NOT NULL DEFAULT 'nothing' CHECK (outward_required IN ('nothing', 'password', 'identity', 'either')),
  ADD COLUMN outward_kinds text NOT NULL DEFAULT 'hand-out working intake',
  ADD COLUMN outward_shut text NOT NULL DEFAULT '',
  ADD COLUMN outward_only text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE practice DROP COLUMN outward_required, DROP COLUMN outward_kinds, DROP COLUMN outward_shut, DROP COLUMN outward_only;
DROP TABLE visit_looks;
ALTER TABLE visits DROP COLUMN name, DROP COLUMN note, DROP COLUMN sent_to;
ALTER TABLE link_mails DROP COLUMN token_sha256, DROP COLUMN token_sealed;
DELETE FROM uploads WHERE person_id IS NULL;
ALTER TABLE uploads DROP CONSTRAINT uploads_whose, DROP COLUMN visit_id, DROP COLUMN paper, ALTER COLUMN person_id SET NOT NULL;
DROP TABLE link_received, link_expected;
ALTER TABLE links DROP CONSTRAINT links_kind_check, DROP COLUMN slug, DROP COLUMN tell, DROP COLUMN intake_files, DROP COLUMN intake_bytes, DROP COLUMN intake_endings, DROP COLUMN reminded_at, DROP COLUMN told_at;
ALTER TABLE links ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out'));
