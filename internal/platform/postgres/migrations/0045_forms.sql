-- +goose Up
-- Forms: papers that are signed again and again, and sent to many at once.
CREATE TABLE signing_forms (
  id uuid PRIMARY KEY,
  -- The document on which it stands.
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  made_by uuid NOT NULL REFERENCES people,
  name text NOT NULL,
  description text NOT NULL DEFAULT '',
  -- Whether all colleagues who see the document use it.
  shared boolean NOT NULL DEFAULT false,
  -- What is being written, if it differs from the edition that counts.
  draft jsonb,
  edition int NOT NULL DEFAULT 0,
  created_at timestamptz NOT NULL,
  changed_at timestamptz NOT NULL,
  removed_at timestamptz
);
CREATE INDEX signing_forms_item ON signing_forms (item_id);

-- What requests are made of stays as it was when they were made.
CREATE TABLE signing_form_editions (
  form_id uuid NOT NULL REFERENCES signing_forms ON DELETE CASCADE,
  number int NOT NULL,
  definition jsonb NOT NULL,
  -- The version of the document that it stands on.
  version int NOT NULL,
  sha256 bytea NOT NULL,
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL,
  PRIMARY KEY (form_id, number)
);

-- To what whoever signs agrees, in the practice's own words.
ALTER TABLE practice ADD COLUMN signing_consent text NOT NULL DEFAULT '';

ALTER TABLE signings ADD COLUMN form_id uuid REFERENCES signing_forms ON DELETE SET NULL;
ALTER TABLE signings ADD COLUMN form_edition int NOT NULL DEFAULT 0;
-- The time stamp that the sealed paper bears last, and when another one is set over it.
ALTER TABLE signings ADD COLUMN last_stamp bytea;
ALTER TABLE signings ADD COLUMN renew_at timestamptz;
CREATE INDEX signings_renew ON signings (renew_at) WHERE renew_at IS NOT NULL;
CREATE INDEX signings_form ON signings (form_id, sent_at) WHERE form_id IS NOT NULL;

-- A form that is sent to many at once; for each a request of its own is made.
CREATE TABLE signing_batches (
  id uuid PRIMARY KEY,
  form_id uuid NOT NULL REFERENCES signing_forms ON DELETE CASCADE,
  edition int NOT NULL,
  folder_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  sent_by uuid NOT NULL REFERENCES people,
  -- What all of them say; sealed.
  terms bytea NOT NULL,
  sent_at timestamptz NOT NULL
);
CREATE INDEX signing_batches_form ON signing_batches (form_id);
CREATE INDEX signing_batches_folder ON signing_batches (folder_id);
CREATE INDEX signing_batches_sender ON signing_batches (sent_by, sent_at);

CREATE TABLE signing_batch_rows (
  batch_id uuid NOT NULL REFERENCES signing_batches ON DELETE CASCADE,
  row int NOT NULL,
  -- To whom, with which words; sealed, since people are named.
  body bytea NOT NULL,
  signing_id uuid REFERENCES signings ON DELETE SET NULL,
  -- Why no request came of it.
  refused text NOT NULL DEFAULT '',
  done_at timestamptz,
  PRIMARY KEY (batch_id, row)
);
CREATE INDEX signing_batch_rows_signing ON signing_batch_rows (signing_id) WHERE signing_id IS NOT NULL;
