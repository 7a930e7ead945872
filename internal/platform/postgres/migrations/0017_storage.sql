-- +goose Up
-- Storage is limited for the practice, and for each dossier and each person in it;
-- without a number, by the disk.
ALTER TABLE practice RENAME COLUMN room_bytes TO storage_bytes;
ALTER TABLE practice
  ADD COLUMN dossier_bytes bigint CHECK (dossier_bytes > 0),
  ADD COLUMN person_bytes bigint CHECK (person_bytes > 0);
ALTER TABLE room_used RENAME TO storage_used;

-- What the versions of a dossier take, and those that a person brought in. Content
-- that several have counts for each; the practice keeps it once.
CREATE TABLE storage_of (
  owner uuid PRIMARY KEY,
  bytes bigint NOT NULL
);
INSERT INTO storage_of (owner, bytes)
  SELECT i.dossier_id, sum(v.size) FROM versions v JOIN all_items i ON i.id = v.item_id WHERE v.moved_to IS NULL GROUP BY 1
  UNION ALL SELECT v.actor_id, sum(v.size) FROM versions v WHERE v.moved_to IS NULL AND v.actor_id IS NOT NULL GROUP BY 1;

-- Who added what is counted for whoever asks of their own.
CREATE INDEX items_makers ON all_items (created_by) WHERE kind = 'document' AND deleted_at IS NULL;

-- A statement counts once for all its rows, in one order, so that two never wait for each other.
-- +goose StatementBegin
CREATE FUNCTION count_storage() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'INSERT' THEN
    INSERT INTO storage_of AS s (owner, bytes)
      SELECT owner, sum(size) FROM (
        SELECT i.dossier_id AS owner, n.size FROM now_rows n JOIN all_items i ON i.id = n.item_id WHERE n.moved_to IS NULL
        UNION ALL SELECT n.actor_id, n.size FROM now_rows n WHERE n.moved_to IS NULL AND n.actor_id IS NOT NULL) w
      GROUP BY owner ORDER BY owner
      ON CONFLICT (owner) DO UPDATE SET bytes = s.bytes + excluded.bytes;
  ELSIF TG_OP = 'DELETE' THEN
    INSERT INTO storage_of AS s (owner, bytes)
      SELECT owner, -sum(size) FROM (
        SELECT i.dossier_id AS owner, w.size FROM was_rows w JOIN all_items i ON i.id = w.item_id WHERE w.moved_to IS NULL
        UNION ALL SELECT w.actor_id, w.size FROM was_rows w WHERE w.moved_to IS NULL AND w.actor_id IS NOT NULL) o
      GROUP BY owner ORDER BY owner
      ON CONFLICT (owner) DO UPDATE SET bytes = s.bytes + excluded.bytes;
  ELSE
    INSERT INTO storage_of AS s (owner, bytes)
      SELECT owner, sum(size) FROM (
        SELECT i.dossier_id AS owner, n.size FROM now_rows n JOIN all_items i ON i.id = n.item_id WHERE n.moved_to IS NULL
        UNION ALL SELECT n.actor_id, n.size FROM now_rows n WHERE n.moved_to IS NULL AND n.actor_id IS NOT NULL
        UNION ALL SELECT i.dossier_id, -w.size FROM was_rows w JOIN all_items i ON i.id = w.item_id WHERE w.moved_to IS NULL
        UNION ALL SELECT w.actor_id, -w.size FROM was_rows w WHERE w.moved_to IS NULL AND w.actor_id IS NOT NULL) o
      GROUP BY owner HAVING sum(size) <> 0 ORDER BY owner
      ON CONFLICT (owner) DO UPDATE SET bytes = s.bytes + excluded.bytes;
  END IF;
  RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER versions_stored AFTER INSERT ON versions REFERENCING NEW TABLE AS now_rows FOR EACH STATEMENT EXECUTE FUNCTION count_storage();
CREATE TRIGGER versions_removed AFTER DELETE ON versions REFERENCING OLD TABLE AS was_rows FOR EACH STATEMENT EXECUTE FUNCTION count_storage();
CREATE TRIGGER versions_changed AFTER UPDATE ON versions REFERENCING OLD TABLE AS was_rows NEW TABLE AS now_rows FOR EACH STATEMENT EXECUTE FUNCTION count_storage();

-- +goose Down
DROP TRIGGER versions_changed ON versions;
DROP TRIGGER versions_removed ON versions;
DROP TRIGGER versions_stored ON versions;
DROP FUNCTION count_storage();
DROP INDEX items_makers;
DROP TABLE storage_of;
ALTER TABLE storage_used RENAME TO room_used;
ALTER TABLE practice DROP COLUMN person_bytes, DROP COLUMN dossier_bytes;
ALTER TABLE practice RENAME COLUMN storage_bytes TO room_bytes;
