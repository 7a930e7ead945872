-- +goose Up
-- How long what was deleted or removed can be brought back, in days.
ALTER TABLE practice ADD COLUMN keeping_days int NOT NULL DEFAULT 60 CHECK (keeping_days BETWEEN 1 AND 3650);

-- What was deleted by one act: an item, and what lay in it.
CREATE TABLE deletions (
  id uuid PRIMARY KEY,
  item_id uuid NOT NULL REFERENCES all_items,
  folder_id uuid NOT NULL REFERENCES all_items,
  folder_name text NOT NULL,
  documents int NOT NULL DEFAULT 0,
  folders int NOT NULL DEFAULT 0,
  bytes bigint NOT NULL DEFAULT 0,
  reason text NOT NULL DEFAULT '',
  deleted_by uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL
);
CREATE INDEX deletions_newest ON deletions (at DESC, id DESC);
CREATE INDEX deletions_item ON deletions (item_id);
CREATE INDEX deletions_folder ON deletions (folder_id);
CREATE INDEX deletions_by ON deletions (deleted_by, at DESC);

-- With which deletion an item went. One that is deleted and stands in none is
-- destroyed: only its name is left, for what has happened.
CREATE TABLE deleted_items (
  item_id uuid PRIMARY KEY REFERENCES all_items,
  deletion_id uuid NOT NULL REFERENCES deletions ON DELETE CASCADE
);
CREATE INDEX deleted_items_deletion ON deleted_items (deletion_id);

-- Links that ended with it: they live again only if whoever brings it back says so.
CREATE TABLE deleted_links (
  deletion_id uuid NOT NULL REFERENCES deletions ON DELETE CASCADE,
  link_id uuid NOT NULL REFERENCES links,
  PRIMARY KEY (deletion_id, link_id)
);
CREATE INDEX deleted_links_link ON deleted_links (link_id);

-- Of what is destroyed no content is left.
ALTER TABLE all_items DROP CONSTRAINT items_check;
ALTER TABLE all_items ADD CONSTRAINT items_check CHECK ((kind = 'document') = (number IS NOT NULL) AND (kind = 'document' OR sha256 IS NULL) AND (kind = 'folder' OR sha256 IS NOT NULL OR deleted_at IS NOT NULL));
