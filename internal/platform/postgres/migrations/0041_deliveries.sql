-- +goose Up
-- Addresses that colleagues publish, at which anybody outside may send them files. What comes lies
-- in a dossier of its own that nobody has access to, until it is accepted.
ALTER TABLE all_dossiers DROP CONSTRAINT dossiers_kind_check;
ALTER TABLE all_dossiers ADD CONSTRAINT dossiers_kind_check CHECK (kind IN ('client', 'internal', 'desk', 'outgoing', 'incoming'));
CREATE UNIQUE INDEX dossiers_incoming ON all_dossiers (created_by) WHERE kind = 'incoming';
CREATE SEQUENCE incoming_numbers;

ALTER TABLE links DROP CONSTRAINT links_kind_check;
ALTER TABLE links ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out', 'working', 'intake', 'transfer', 'address'));
ALTER TABLE practice ALTER COLUMN outward_kinds SET DEFAULT '{hand-out,working,intake,transfer,address}';
UPDATE practice SET outward_kinds = array_append(outward_kinds, 'address');

-- How much may wait to be accepted, over the whole practice.
ALTER TABLE practice ADD COLUMN deliveries_bytes bigint DEFAULT 100000000000;

CREATE TABLE addresses (
  link_id uuid PRIMARY KEY REFERENCES links,
  person_id uuid NOT NULL REFERENCES people,
  -- The public key for which senders seal what they send: an X25519 recipient of age.
  recipient text NOT NULL DEFAULT ''
);
CREATE INDEX addresses_person ON addresses (person_id);

CREATE TABLE deliveries (
  id uuid PRIMARY KEY,
  link_id uuid NOT NULL REFERENCES addresses,
  visit_id uuid NOT NULL REFERENCES visits,
  person_id uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL,
  name text NOT NULL,
  email text NOT NULL,
  message text NOT NULL,
  -- The sealed list of what is in it, where it is sealed for the recipient.
  manifest bytea,
  decided_at timestamptz,
  accepted boolean NOT NULL DEFAULT false
);
CREATE INDEX deliveries_link ON deliveries (link_id);
CREATE INDEX deliveries_visit ON deliveries (visit_id);
CREATE INDEX deliveries_waiting ON deliveries (person_id, at) WHERE decided_at IS NULL;
CREATE INDEX deliveries_decided ON deliveries (person_id, decided_at);

CREATE TABLE delivery_files (
  delivery_id uuid NOT NULL REFERENCES deliveries,
  position int NOT NULL,
  item_id uuid REFERENCES all_items ON DELETE SET NULL,
  name text NOT NULL,
  size bigint NOT NULL,
  sha256 bytea NOT NULL,
  media_type text NOT NULL,
  -- Why one should think twice before opening it.
  caution text NOT NULL DEFAULT '',
  PRIMARY KEY (delivery_id, position)
);
CREATE INDEX delivery_files_item ON delivery_files (item_id);
