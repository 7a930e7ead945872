-- +goose Up
-- Documents that are written together. Their text is a state, and the steps since.
CREATE TABLE writings (
  document_id uuid PRIMARY KEY REFERENCES all_items ON DELETE CASCADE,
  -- How many steps there have ever been; each is one further.
  version bigint NOT NULL,
  -- The text after so many steps, sealed.
  state_version bigint NOT NULL,
  state bytea NOT NULL,
  -- The version of the document that the text began with, or became last; and after how
  -- many steps that was.
  base int NOT NULL,
  kept_version bigint NOT NULL,
  last_by uuid REFERENCES people,
  last_at timestamptz,
  -- Until when somebody is taken to be there, unless it is said anew.
  here_until timestamptz,
  -- When it was last tried in vain to make a version of it.
  tried_at timestamptz,
  -- Whoever writes has said that what is decided on the document is superseded by it.
  supersedes boolean NOT NULL DEFAULT false
);
CREATE INDEX writings_unkept ON writings (last_at) WHERE version > kept_version;
CREATE INDEX writings_last_by ON writings (last_by);

-- Steps that came together, as they were carried to where they stand, sealed.
CREATE TABLE writing_batches (
  document_id uuid NOT NULL REFERENCES writings ON DELETE CASCADE,
  version bigint NOT NULL,
  count int NOT NULL CHECK (count > 0),
  -- Which open page sent them, by which it knows its own again.
  client text NOT NULL,
  person_id uuid NOT NULL REFERENCES people,
  steps bytea NOT NULL,
  at timestamptz NOT NULL,
  PRIMARY KEY (document_id, version)
);
CREATE INDEX writing_batches_person ON writing_batches (person_id);
CREATE INDEX writing_batches_at ON writing_batches (at);

-- The text of a version with all that its file cannot hold, sealed.
CREATE TABLE written_versions (
  item_id uuid NOT NULL,
  number int NOT NULL,
  state bytea NOT NULL,
  PRIMARY KEY (item_id, number),
  FOREIGN KEY (item_id, number) REFERENCES versions ON DELETE CASCADE
);

-- What is destroyed is destroyed here, too.
-- +goose StatementBegin
CREATE FUNCTION writing_follows_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  DELETE FROM writings WHERE document_id = NEW.id;
  RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER writing_follows AFTER UPDATE OF sha256 ON all_items FOR EACH ROW
  WHEN (NEW.kind = 'document' AND OLD.sha256 IS NOT NULL AND NEW.sha256 IS NULL) EXECUTE FUNCTION writing_follows_items();
-- +goose StatementBegin
CREATE FUNCTION writing_follows_versions() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  DELETE FROM written_versions WHERE item_id = NEW.item_id AND number = NEW.number;
  RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER writing_follows AFTER UPDATE OF sha256 ON versions FOR EACH ROW
  WHEN (OLD.sha256 IS NOT NULL AND NEW.sha256 IS NULL) EXECUTE FUNCTION writing_follows_versions();

-- +goose Down
DROP TRIGGER writing_follows ON versions;
DROP FUNCTION writing_follows_versions();
DROP TRIGGER writing_follows ON all_items;
DROP FUNCTION writing_follows_items();
DROP TABLE written_versions;
DROP TABLE writing_batches;
DROP TABLE writings;
