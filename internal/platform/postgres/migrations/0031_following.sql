-- +goose Up
-- Of what kind an event is, by whom and whether from outside stands beside its scope, too:
-- an event never changes that, and whoever sees little finds what is narrowed down without
-- reading all of it.
ALTER TABLE event_scopes ADD COLUMN kind text, ADD COLUMN person_id uuid, ADD COLUMN outside boolean NOT NULL DEFAULT false;
UPDATE event_scopes w SET kind = e.kind, person_id = e.person_id, outside = e.outside FROM events e WHERE e.id = w.event_id;
ALTER TABLE event_scopes ALTER COLUMN kind SET NOT NULL, ALTER COLUMN outside DROP DEFAULT;
CREATE INDEX event_scopes_kind ON event_scopes (scope_id, kind, event_id DESC);
CREATE INDEX event_scopes_person ON event_scopes (scope_id, person_id, event_id DESC) WHERE person_id IS NOT NULL;
CREATE INDEX event_scopes_outside ON event_scopes (scope_id, event_id DESC) WHERE outside;
CREATE INDEX events_kind ON events (kind, id DESC);
CREATE INDEX events_group ON events (split_part(kind, '.', 1), id DESC);
CREATE INDEX events_person ON events (person_id, id DESC) WHERE person_id IS NOT NULL;
CREATE INDEX events_outside ON events (id DESC) WHERE outside;
CREATE INDEX events_at ON events (at);

-- What somebody follows or has muted: documents, and dossiers by their tops.
CREATE TABLE followed (
  person_id uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  muted boolean NOT NULL,
  since timestamptz NOT NULL,
  PRIMARY KEY (person_id, item_id)
);
CREATE INDEX followed_item ON followed (item_id);

-- Up to when followers were told by notice of what happened.
CREATE TABLE followers_told (
  only_one boolean PRIMARY KEY DEFAULT true CHECK (only_one),
  at timestamptz NOT NULL
);
INSERT INTO followers_told (at) VALUES ('2026-01-01T00:00:00Z');

-- Filters of the activity that somebody keeps under a name.
CREATE TABLE kept_filters (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  name text NOT NULL,
  name_key text NOT NULL,
  filter jsonb NOT NULL,
  UNIQUE (person_id, name_key)
);

-- The digest: how often, of what, by whose clock, and up to when it was sent.
ALTER TABLE people
  ADD COLUMN timezone text NOT NULL DEFAULT '',
  ADD COLUMN digest text NOT NULL DEFAULT '' CHECK (digest IN ('', 'daily', 'weekly')),
  ADD COLUMN digest_followed boolean NOT NULL DEFAULT false,
  ADD COLUMN digest_at timestamptz;
CREATE INDEX people_digest ON people (digest_at) WHERE digest <> '';

-- Visitors of a link that says so say something to what it hands out: a remark is a person's
-- or a visitor's, who is named as far as they are known.
ALTER TABLE links ADD COLUMN may_remark boolean NOT NULL DEFAULT false;
ALTER TABLE remarks
  ALTER COLUMN person_id DROP NOT NULL,
  ADD COLUMN link_id uuid REFERENCES links ON DELETE CASCADE,
  ADD COLUMN visit_id uuid,
  ADD COLUMN visitor text NOT NULL DEFAULT '',
  ADD CHECK (num_nonnulls(person_id, link_id) = 1);
CREATE INDEX remarks_link ON remarks (link_id, at DESC);
