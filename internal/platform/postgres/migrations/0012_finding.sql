-- +goose Up
-- Names are found by parts of their words without reading them all.
CREATE EXTENSION IF NOT EXISTS pg_trgm;
CREATE INDEX items_words ON items USING gin (name_key gin_trgm_ops) WHERE kind = 'document' AND deleted_at IS NULL;

-- What refers to something that is deleted for good is found by an index.
CREATE INDEX access_requests_item ON access_requests (item_id);
CREATE INDEX former_numbers_item ON former_numbers (item_id);
CREATE INDEX invitation_links_dossier ON invitation_links (dossier_id) WHERE dossier_id IS NOT NULL;
CREATE INDEX link_received_item ON link_received (item_id);
CREATE INDEX pins_item ON pins (item_id);
CREATE INDEX uploads_folder ON uploads (folder_id);
CREATE INDEX uploads_item ON uploads (item_id) WHERE item_id IS NOT NULL;
CREATE INDEX versions_link ON versions (actor_link) WHERE actor_link IS NOT NULL;
CREATE INDEX versions_moved ON versions (moved_to) WHERE moved_to IS NOT NULL;
CREATE INDEX visit_looks_item ON visit_looks (item_id);
CREATE INDEX scopes_dossier ON scopes (dossier_id);
CREATE INDEX group_members_of ON group_members (group_id);

-- What is held by somebody until a moment, over all server processes.
CREATE TABLE leases (
  token text PRIMARY KEY,
  name text NOT NULL UNIQUE,
  deep boolean NOT NULL,
  holder text NOT NULL,
  note text NOT NULL DEFAULT '',
  until timestamptz,
  claimed_until timestamptz
);

-- +goose Down
DROP TABLE leases;
DROP INDEX items_words, access_requests_item, former_numbers_item, invitation_links_dossier, link_received_item, pins_item, uploads_folder,
  uploads_item, versions_link, versions_moved, visit_looks_item, scopes_dossier, group_members_of;
DROP EXTENSION pg_trgm;
