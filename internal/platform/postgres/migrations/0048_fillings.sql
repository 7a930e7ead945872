-- +goose Up
-- Documents that ask something, as of a version; fields is how many fields that has, and may be none.
CREATE TABLE fillable (
  document_id uuid PRIMARY KEY REFERENCES all_items ON DELETE CASCADE,
  version     integer NOT NULL,
  fields      integer NOT NULL,
  sheet       bytea NOT NULL,
  -- Where what is handed in is filed; beside the document where nothing is said.
  folder_id   uuid REFERENCES all_items ON DELETE SET NULL,
  handed      integer NOT NULL DEFAULT 0
);
CREATE INDEX fillable_folder ON fillable (folder_id) WHERE folder_id IS NOT NULL;

-- What somebody answers. who is by what they come back to it.
CREATE TABLE fillings (
  id            uuid PRIMARY KEY,
  document_id   uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  who           text NOT NULL,
  person_id     uuid REFERENCES people,
  link_id       uuid REFERENCES links ON DELETE SET NULL,
  email         text NOT NULL DEFAULT '',
  known         text NOT NULL DEFAULT '',
  name          text NOT NULL DEFAULT '',
  answers       bytea NOT NULL,
  begun_at      timestamptz NOT NULL,
  kept_at       timestamptz NOT NULL,
  number        integer,
  handed_at     timestamptz,
  handed        bytea,
  version       integer,
  paper_id      uuid REFERENCES all_items ON DELETE SET NULL,
  paper_sha256  bytea,
  taken_at      timestamptz,
  taken_by      uuid REFERENCES people
);
CREATE UNIQUE INDEX fillings_open ON fillings (document_id, who) WHERE taken_at IS NULL;
CREATE INDEX fillings_who ON fillings (document_id, who, begun_at);
CREATE UNIQUE INDEX fillings_number ON fillings (document_id, number) WHERE number IS NOT NULL;
CREATE INDEX fillings_paper ON fillings (paper_id) WHERE paper_id IS NOT NULL;
CREATE INDEX fillings_begun ON fillings (kept_at) WHERE number IS NULL;
CREATE INDEX fillings_link ON fillings (link_id) WHERE link_id IS NOT NULL;
CREATE INDEX fillings_person ON fillings (person_id) WHERE person_id IS NOT NULL;

ALTER TABLE links DROP CONSTRAINT links_kind_check;
ALTER TABLE links ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out', 'working', 'intake', 'transfer', 'address', 'fill'));
ALTER TABLE practice ALTER COLUMN outward_kinds SET DEFAULT '{hand-out,working,intake,fill,transfer,address}';
-- Who lets papers be handed in lets forms be.
UPDATE practice SET outward_kinds = outward_kinds || '{fill}' WHERE 'intake' = ANY (outward_kinds);

-- +goose Down
UPDATE practice SET outward_kinds = array_remove(outward_kinds, 'fill');
ALTER TABLE practice ALTER COLUMN outward_kinds SET DEFAULT '{hand-out,working,intake,transfer,address}';
DELETE FROM links WHERE kind = 'fill';
ALTER TABLE links DROP CONSTRAINT links_kind_check;
ALTER TABLE links ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out', 'working', 'intake', 'transfer', 'address'));
DROP TABLE fillings;
DROP TABLE fillable;
