-- +goose Up
-- What a register says of a document's last event stands with the document.
ALTER TABLE items
  ADD COLUMN last_at timestamptz,
  ADD COLUMN last_kind text NOT NULL DEFAULT '',
  ADD COLUMN last_by text NOT NULL DEFAULT '',
  ADD COLUMN last_outside boolean NOT NULL DEFAULT false,
  ADD COLUMN last_version int;
UPDATE items i SET last_at = e.at, last_kind = e.kind, last_by = coalesce((SELECT name FROM people p WHERE p.id = e.person_id), ''), last_outside = e.outside, last_version = e.version
  FROM events e WHERE e.id = i.last_event_id AND i.kind = 'document';

-- +goose Down
ALTER TABLE items DROP COLUMN last_at, DROP COLUMN last_kind, DROP COLUMN last_by, DROP COLUMN last_outside, DROP COLUMN last_version;
