-- +goose Up
-- How much content the practice may keep; without a number, as much as the disk holds.
ALTER TABLE practice ADD COLUMN room_bytes bigint CHECK (room_bytes > 0);

-- How much it keeps, counted in slots so that acts at the same time do not wait
-- for one row. Their sum counts.
CREATE TABLE room_used (
  slot int PRIMARY KEY,
  bytes bigint NOT NULL
);
INSERT INTO room_used (slot, bytes) SELECT n, CASE WHEN n = 0 THEN (SELECT coalesce(sum(size), 0) FROM blobs) ELSE 0 END FROM generate_series(0, 15) n;
CREATE INDEX uploads_open ON uploads (size) WHERE outcome = '';

-- An event keeps the scope of what it is about, so that the newest events of a
-- few folders are found without looking at all of them.
ALTER TABLE events ADD COLUMN scope_id uuid;
UPDATE events e SET scope_id = coalesce((SELECT i.scope_id FROM items i WHERE i.id = e.item_id), e.dossier_id);
CREATE INDEX events_scope ON events (scope_id, id DESC);

-- A scope counts the documents that are decided by it: a folder's without those
-- that are roots themselves, and one for each of these.
ALTER TABLE scopes SET (fillfactor = 80);
ALTER TABLE scopes
  ADD COLUMN n_documents int NOT NULL DEFAULT 0,
  ADD COLUMN n_bytes bigint NOT NULL DEFAULT 0,
  ADD COLUMN last_event_id bigint NOT NULL DEFAULT 0;
UPDATE scopes s SET last_event_id = e.last FROM (SELECT scope_id, max(id) AS last FROM events GROUP BY 1) e WHERE e.scope_id = s.id;
UPDATE scopes s SET n_documents = c.n, n_bytes = c.size
  FROM (SELECT scope_id, count(*) AS n, sum(size) AS size FROM items WHERE kind = 'document' AND deleted_at IS NULL GROUP BY 1) c WHERE c.scope_id = s.id;

DROP INDEX items_counters;

-- +goose Down
CREATE INDEX items_counters ON items (id) INCLUDE (n_documents, n_bytes) WHERE kind = 'folder' AND deleted_at IS NULL;
ALTER TABLE scopes DROP COLUMN n_documents, DROP COLUMN n_bytes, DROP COLUMN last_event_id;
ALTER TABLE events DROP COLUMN scope_id;
DROP INDEX uploads_open;
DROP TABLE room_used;
ALTER TABLE practice DROP COLUMN room_bytes;
