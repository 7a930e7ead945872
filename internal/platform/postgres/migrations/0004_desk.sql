-- +goose Up
-- A desk is a person's private dossier.
ALTER TABLE dossiers DROP CONSTRAINT dossiers_kind_check;
ALTER TABLE dossiers ADD CONSTRAINT dossiers_kind_check CHECK (kind IN ('client', 'internal', 'desk'));
CREATE UNIQUE INDEX dossiers_desks ON dossiers (created_by) WHERE kind = 'desk';
CREATE SEQUENCE desk_numbers;

-- Register numbers that documents had before they were moved to another dossier.
-- They are never given out again and still lead to the document.
CREATE TABLE former_numbers (
  dossier_id uuid NOT NULL REFERENCES dossiers,
  number int NOT NULL,
  item_id uuid NOT NULL REFERENCES items,
  PRIMARY KEY (dossier_id, number)
);

-- What concerns somebody, and needs no answer.
CREATE TABLE notices (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL,
  kind text NOT NULL,
  by_name text NOT NULL DEFAULT '',
  what text NOT NULL DEFAULT '',
  path text NOT NULL DEFAULT '',
  seen_at timestamptz
);
CREATE INDEX notices_person ON notices (person_id, at DESC, id DESC);

-- When somebody last did something in a dossier.
CREATE INDEX events_actors ON events (dossier_id, person_id, at DESC);

-- When the practice is removed, if it is to be.
ALTER TABLE practice ADD COLUMN removal_at timestamptz;

-- +goose Down
ALTER TABLE practice DROP COLUMN removal_at;
DROP INDEX events_actors;
DROP TABLE notices, former_numbers;
DROP SEQUENCE desk_numbers;
DROP INDEX dossiers_desks;
DELETE FROM dossiers WHERE kind = 'desk';
ALTER TABLE dossiers DROP CONSTRAINT dossiers_kind_check;
ALTER TABLE dossiers ADD CONSTRAINT dossiers_kind_check CHECK (kind IN ('client', 'internal'));
