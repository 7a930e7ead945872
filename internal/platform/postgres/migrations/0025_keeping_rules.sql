-- +goose Up
-- Which versions are kept: by the practice, where no dossier is named, or by a dossier for
-- itself. Without a row every version is kept for ever.
CREATE TABLE version_rules (
  dossier_id uuid REFERENCES dossiers,
  months int NOT NULL CHECK (months >= 0),
  after text NOT NULL CHECK (after IN ('none', 'daily', 'weekly', 'monthly')),
  last int NOT NULL CHECK (last >= 0)
);
CREATE UNIQUE INDEX version_rules_dossier ON version_rules (dossier_id) NULLS NOT DISTINCT;

-- After which pause a sitting has ended, in minutes.
ALTER TABLE practice ADD COLUMN sitting_minutes int NOT NULL DEFAULT 30 CHECK (sitting_minutes BETWEEN 1 AND 1440);

-- What somebody put back by hand is not removed by a rule again.
ALTER TABLE versions ADD COLUMN held boolean NOT NULL DEFAULT false;

-- An upload that a program made by itself, while somebody worked.
ALTER TABLE uploads ADD COLUMN saved boolean NOT NULL DEFAULT false;
