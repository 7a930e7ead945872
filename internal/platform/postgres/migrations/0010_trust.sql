-- +goose Up
-- The states of hashes are sealed from now on, and forgotten when they are no longer
-- needed: they hold the last bytes of content.
UPDATE uploads SET hash_state = NULL WHERE outcome <> '';

-- Content that brought down the process that read it, and what was being done: it
-- is not tried again.
CREATE TABLE awkward (
  sha256 bytea NOT NULL,
  op text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (sha256, op)
);

-- A value sealed under the key file: a file that does not open it is not the one.
CREATE TABLE key_check (
  one boolean PRIMARY KEY DEFAULT true CHECK (one),
  sealed bytea NOT NULL
);

-- Things of one name in a folder are told apart by a number, where whoever gave
-- the name does not see the other one.
ALTER TABLE items ADD COLUMN twin int NOT NULL DEFAULT 0;
DROP INDEX items_names;
CREATE UNIQUE INDEX items_names ON items (parent_id, name_key, twin) WHERE deleted_at IS NULL;

-- Whoever listens on behalf of a session learns at once that it has ended, by
-- whatever way.
-- +goose StatementBegin
CREATE FUNCTION tell_session_ended() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('tabularis_news', json_build_object('person', OLD.person_id, 'session', true)::text);
  RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER sessions_ended AFTER DELETE ON sessions FOR EACH ROW EXECUTE FUNCTION tell_session_ended();

-- +goose Down
DROP TRIGGER sessions_ended ON sessions;
DROP FUNCTION tell_session_ended();
DROP INDEX items_names;
ALTER TABLE items DROP COLUMN twin;
CREATE UNIQUE INDEX items_names ON items (parent_id, name_key) WHERE deleted_at IS NULL;
DROP TABLE awkward, key_check;
