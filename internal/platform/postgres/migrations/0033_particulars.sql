-- +goose Up
-- What a practice keeps about documents beside their content.
CREATE TABLE particulars (
  id uuid PRIMARY KEY,
  name text NOT NULL,
  name_key text NOT NULL,
  kind text NOT NULL CHECK (kind IN ('text', 'number', 'money', 'date', 'choice', 'person')),
  unit text NOT NULL,
  choices text[] NOT NULL,
  required boolean NOT NULL,
  -- None is all.
  dossier_kinds text[] NOT NULL,
  -- The order in which they stand.
  position int NOT NULL,
  created_by uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL
);
CREATE UNIQUE INDEX particulars_name ON particulars (name_key);

CREATE TABLE item_particulars (
  particular_id uuid NOT NULL REFERENCES particulars ON DELETE CASCADE,
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  -- The folder of the document: a register is read in the order of its values.
  folder_id uuid NOT NULL,
  value text NOT NULL,
  -- By these values of one particular are in order: numbers by the first, others by the second.
  number numeric NOT NULL,
  key text COLLATE "C" NOT NULL,
  person_id uuid REFERENCES people,
  set_by uuid NOT NULL REFERENCES people,
  set_at timestamptz NOT NULL,
  PRIMARY KEY (item_id, particular_id)
);
CREATE INDEX item_particulars_order ON item_particulars (particular_id, folder_id, number, key, item_id);

-- +goose StatementBegin
CREATE FUNCTION particulars_follow_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE item_particulars SET folder_id = NEW.parent_id WHERE item_id = NEW.id;
  RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER particulars_follow AFTER UPDATE OF parent_id ON all_items FOR EACH ROW
  WHEN (NEW.kind = 'document' AND OLD.parent_id IS DISTINCT FROM NEW.parent_id) EXECUTE FUNCTION particulars_follow_items();
