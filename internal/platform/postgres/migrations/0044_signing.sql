-- +goose Up
-- Signing: papers on their way to their parties.
CREATE TABLE signings (
  id uuid PRIMARY KEY,
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  sent_by uuid NOT NULL REFERENCES people,
  status text NOT NULL,
  message text NOT NULL DEFAULT '',
  language text NOT NULL,
  -- What is signed: this content, and how many pages it has.
  version int NOT NULL,
  sha256 bytea NOT NULL,
  pages int NOT NULL,
  -- The paper's own password, where it has one.
  paper_password bytea,
  -- Where the signed paper is moved.
  file_in uuid REFERENCES all_items ON DELETE SET NULL,
  sent_at timestamptz NOT NULL,
  since timestamptz NOT NULL,
  until timestamptz NOT NULL,
  ended_at timestamptz,
  wake_at timestamptz,
  seq int NOT NULL,
  -- How many acts the paper bears by now, and as which version; and why it does not come on.
  sealed int NOT NULL DEFAULT 0,
  sealed_version int NOT NULL DEFAULT 0,
  sealed_sha256 bytea,
  trouble text NOT NULL DEFAULT ''
);
CREATE INDEX signings_item ON signings (item_id, sent_at);
CREATE UNIQUE INDEX signings_alive ON signings (item_id) WHERE ended_at IS NULL;
CREATE INDEX signings_sender ON signings (sent_by, sent_at);
CREATE INDEX signings_wake ON signings (wake_at) WHERE wake_at IS NOT NULL;
CREATE INDEX signings_file_in ON signings (file_in) WHERE file_in IS NOT NULL;
CREATE INDEX signings_since ON signings (since);

-- What happened; sealed, since it holds what parties gave.
CREATE TABLE signing_events (
  signing_id uuid NOT NULL REFERENCES signings ON DELETE CASCADE,
  seq int NOT NULL,
  at timestamptz NOT NULL,
  body bytea NOT NULL,
  PRIMARY KEY (signing_id, seq)
);

-- Who the parties are now, by which way they come in, and what they have filled in so far.
CREATE TABLE signing_parties (
  signing_id uuid NOT NULL REFERENCES signings ON DELETE CASCADE,
  party int NOT NULL,
  name text NOT NULL,
  person_id uuid REFERENCES people,
  link_id uuid REFERENCES links ON DELETE SET NULL,
  waits boolean NOT NULL,
  done boolean NOT NULL,
  kept bytea,
  PRIMARY KEY (signing_id, party)
);
CREATE INDEX signing_parties_person ON signing_parties (person_id) WHERE person_id IS NOT NULL;
CREATE UNIQUE INDEX signing_parties_link ON signing_parties (link_id) WHERE link_id IS NOT NULL;
