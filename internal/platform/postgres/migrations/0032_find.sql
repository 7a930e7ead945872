-- +goose Up
CREATE EXTENSION IF NOT EXISTS btree_gin;

-- Every scope has a small number, given once and never again: what somebody may see is one
-- bit for each of them. How many folders were ever made in a dossier says whether there is one
-- that is not among the bits yet.
ALTER TABLE scopes ADD COLUMN no int GENERATED ALWAYS AS IDENTITY;
CREATE UNIQUE INDEX scopes_no ON scopes (no);
ALTER TABLE all_dossiers ADD COLUMN n_folders bigint NOT NULL DEFAULT 0;
-- +goose StatementBegin
CREATE FUNCTION count_folders() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE all_dossiers SET n_folders = n_folders + 1 WHERE id = NEW.dossier_id;
  RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER scopes_made AFTER INSERT ON scopes FOR EACH ROW WHEN (NEW.is_folder) EXECUTE FUNCTION count_folders();

-- What documents are found by: the words of a version, in windows of 50,000 in the order in which they came.
CREATE SEQUENCE text_numbers AS bigint MINVALUE 0 START 0;
CREATE TABLE texts (
  win int NOT NULL,
  seq bigint NOT NULL,
  item_id uuid NOT NULL,
  version int NOT NULL,
  -- Whether it is the version that counts, and whether it is there at all.
  counts boolean NOT NULL DEFAULT true,
  gone boolean NOT NULL DEFAULT false,
  scope_no int NOT NULL,
  dossier_id uuid NOT NULL,
  kind text NOT NULL,
  language text NOT NULL,
  by_id uuid,
  at timestamptz NOT NULL,
  size bigint NOT NULL,
  words tsvector COMPRESSION lz4 NOT NULL,
  PRIMARY KEY (win, seq)
) PARTITION BY LIST (win);
CREATE INDEX texts_scope ON texts (scope_no);
CREATE INDEX texts_words ON texts USING gin (dossier_id, words) WITH (gin_pending_list_limit = 512);

-- +goose StatementBegin
CREATE FUNCTION text_window(w int) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  IF to_regclass('texts_' || w) IS NULL THEN
    PERFORM pg_advisory_xact_lock(hashtext('texts'));
    EXECUTE format('CREATE TABLE IF NOT EXISTS texts_%s PARTITION OF texts FOR VALUES IN (%s)', w, w);
    -- What is there and whose it is changes without the words.
    EXECUTE format('ALTER TABLE texts_%s SET (fillfactor = 90, autovacuum_vacuum_insert_scale_factor = 0.05)', w);
    EXECUTE format('ALTER TABLE texts_%s ALTER COLUMN words SET STATISTICS 1000', w);
  END IF;
END $$;
-- +goose StatementEnd
SELECT text_window(0);

-- Where the words of a version are kept.
CREATE TABLE text_places (
  item_id uuid NOT NULL,
  version int NOT NULL,
  win int NOT NULL,
  seq bigint NOT NULL,
  -- A hash of the words that stand with the content: the name, what was said.
  beside bytea NOT NULL,
  PRIMARY KEY (item_id, version),
  FOREIGN KEY (item_id, version) REFERENCES versions (item_id, number) ON DELETE CASCADE
);

-- What is written in content, page by page, sealed.
CREATE TABLE bodies (
  sha256 bytea PRIMARY KEY REFERENCES blobs ON DELETE CASCADE,
  state text NOT NULL CHECK (state IN ('read', 'empty', 'unreadable', 'other')),
  pages int NOT NULL,
  paged boolean NOT NULL,
  sealed bytea,
  at timestamptz NOT NULL
);

-- The words follow what becomes of their document and version, in the same transaction.
-- +goose StatementBegin
CREATE FUNCTION texts_follow_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE texts t SET scope_no = s.no, dossier_id = NEW.dossier_id, gone = NEW.deleted_at IS NOT NULL OR v.removed_at IS NOT NULL
    FROM text_places p JOIN versions v ON v.item_id = p.item_id AND v.number = p.version, scopes s
    WHERE p.item_id = NEW.id AND t.win = p.win AND t.seq = p.seq AND s.id = NEW.scope_id;
  RETURN NULL;
END $$;
CREATE FUNCTION texts_follow_versions() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.sha256 IS NULL THEN
    DELETE FROM text_places WHERE item_id = NEW.item_id AND version = NEW.number;
    RETURN NULL;
  END IF;
  UPDATE texts t SET gone = NEW.removed_at IS NOT NULL OR i.deleted_at IS NOT NULL
    FROM text_places p JOIN all_items i ON i.id = p.item_id
    WHERE p.item_id = NEW.item_id AND p.version = NEW.number AND t.win = p.win AND t.seq = p.seq;
  RETURN NULL;
END $$;
CREATE FUNCTION texts_follow_places() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  DELETE FROM texts WHERE win = OLD.win AND seq = OLD.seq;
  RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER texts_follow AFTER UPDATE ON all_items FOR EACH ROW
  WHEN (NEW.kind = 'document' AND (OLD.scope_id <> NEW.scope_id OR OLD.dossier_id <> NEW.dossier_id OR (OLD.deleted_at IS NULL) <> (NEW.deleted_at IS NULL)))
  EXECUTE FUNCTION texts_follow_items();
CREATE TRIGGER texts_follow AFTER UPDATE ON versions FOR EACH ROW
  WHEN ((OLD.removed_at IS NULL) <> (NEW.removed_at IS NULL) OR (OLD.sha256 IS NULL) <> (NEW.sha256 IS NULL)) EXECUTE FUNCTION texts_follow_versions();
CREATE TRIGGER texts_follow AFTER DELETE ON text_places FOR EACH ROW EXECUTE FUNCTION texts_follow_places();

-- Words of names, by which typing errors are told.
CREATE TABLE name_words (word text PRIMARY KEY);
CREATE INDEX name_words_like ON name_words USING gin (word gin_trgm_ops);

-- Questions that somebody keeps, and up to what they were told of.
CREATE TABLE questions (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  name text NOT NULL,
  name_key text NOT NULL,
  question jsonb NOT NULL,
  seen_seq bigint NOT NULL,
  UNIQUE (person_id, name_key)
);

-- Tags: the practice's, and those that somebody has for themselves alone.
CREATE TABLE tags (
  id uuid PRIMARY KEY,
  name text NOT NULL,
  name_key text NOT NULL,
  person_id uuid REFERENCES people ON DELETE CASCADE,
  created_by uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL
);
CREATE UNIQUE INDEX tags_practice ON tags (name_key) WHERE person_id IS NULL;
CREATE UNIQUE INDEX tags_own ON tags (person_id, name_key) WHERE person_id IS NOT NULL;
CREATE TABLE item_tags (
  tag_id uuid NOT NULL REFERENCES tags ON DELETE CASCADE,
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  put_by uuid NOT NULL REFERENCES people,
  put_at timestamptz NOT NULL,
  PRIMARY KEY (item_id, tag_id)
);
CREATE INDEX item_tags_tag ON item_tags (tag_id, item_id);
