-- +goose Up
-- What people say about a folder or document, in threads. The first remark of a thread is its own; the place stands with it,
-- as it was found in the newest version that was looked through.
CREATE TABLE remarks (
  id uuid PRIMARY KEY,
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  thread_id uuid NOT NULL REFERENCES remarks ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  said text NOT NULL,
  at timestamptz NOT NULL,
  edited_at timestamptz,
  version int,
  place jsonb,
  -- In which version the place was looked for last, and whether it was found there.
  sought_in int,
  found boolean NOT NULL DEFAULT true,
  removed_at timestamptz,
  resolved_at timestamptz,
  resolved_by uuid REFERENCES people
);
CREATE INDEX remarks_threads ON remarks (item_id, at DESC, id DESC) WHERE id = thread_id;
CREATE INDEX remarks_thread ON remarks (thread_id, at, id);
CREATE INDEX remarks_item ON remarks (item_id, at DESC);
CREATE INDEX remarks_person ON remarks (person_id, at DESC);
CREATE INDEX remarks_resolved_by ON remarks (resolved_by);
-- Whom a remark names, and whether they were told by mail.
CREATE TABLE remark_mentions (
  remark_id uuid NOT NULL REFERENCES remarks ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  mailed_at timestamptz,
  PRIMARY KEY (remark_id, person_id)
);
CREATE INDEX remark_mentions_person ON remark_mentions (person_id);
CREATE INDEX remark_mentions_due ON remark_mentions (person_id) WHERE mailed_at IS NULL;
CREATE TABLE remark_ticks (
  remark_id uuid NOT NULL REFERENCES remarks ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  PRIMARY KEY (remark_id, person_id)
);
CREATE INDEX remark_ticks_person ON remark_ticks (person_id);
-- Until when somebody has read what was said about a thing.
CREATE TABLE remark_looks (
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL,
  PRIMARY KEY (item_id, person_id)
);
CREATE INDEX remark_looks_person ON remark_looks (person_id);
