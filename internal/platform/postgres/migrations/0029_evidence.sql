-- +goose Up
-- What happened is sealed into a log that only grows (core/evidence). Events that wait for it stand here by the act that records them.
CREATE TABLE unsealed_events (event_id bigint PRIMARY KEY);
INSERT INTO unsealed_events (event_id) SELECT id FROM events;

-- Where an event stands in the log, and the secret under which its fields are sealed. Of one that was erased the secret is
-- forgotten and what was sealed is kept. There is no reference to events: that one is gone has to be found out.
CREATE TABLE sealed_events (
  place bigint PRIMARY KEY,
  event_id bigint NOT NULL UNIQUE,
  secret bytea,
  kept jsonb,
  CHECK ((secret IS NULL) <> (kept IS NULL))
);
CREATE TABLE evidence_log (
  one boolean PRIMARY KEY DEFAULT true CHECK (one),
  origin text NOT NULL,
  size bigint NOT NULL DEFAULT 0,
  told_on date
);
CREATE TABLE evidence_tiles (
  level int NOT NULL,
  n bigint NOT NULL,
  hashes bytea NOT NULL,
  PRIMARY KEY (level, n)
);
CREATE TABLE evidence_keys (
  generation int PRIMARY KEY,
  verifier text NOT NULL,
  since timestamptz NOT NULL
);
CREATE TABLE checkpoints (
  size bigint PRIMARY KEY,
  at timestamptz NOT NULL,
  generation int NOT NULL REFERENCES evidence_keys,
  signed text NOT NULL
);
CREATE INDEX checkpoints_generation ON checkpoints (generation);
CREATE TABLE evidence_checks (
  at timestamptz PRIMARY KEY,
  findings jsonb NOT NULL
);
CREATE TABLE witnesses (
  email text PRIMARY KEY,
  named_by uuid NOT NULL REFERENCES people,
  named_at timestamptz NOT NULL
);
CREATE INDEX witnesses_named_by ON witnesses (named_by);

-- What an event says is never changed, but what may be personal in it can be erased: the log still agrees by what was sealed of it.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION events_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'UPDATE' AND current_setting('tabularis.erasing', true) = 'yes' AND NEW.agent = '' AND NEW.network = '' AND NEW.data = '{}' AND NEW.person_id IS NULL
    AND (NEW.id, NEW.at, NEW.kind, NEW.actor_kind, NEW.outside) = (OLD.id, OLD.at, OLD.kind, OLD.actor_kind, OLD.outside)
    AND (NEW.dossier_id, NEW.item_id, NEW.version, NEW.link_id) IS NOT DISTINCT FROM (OLD.dossier_id, OLD.item_id, OLD.version, OLD.link_id) THEN
    RETURN NEW;
  END IF;
  RAISE EXCEPTION 'what an event says does not change';
END
$$;
-- +goose StatementEnd
