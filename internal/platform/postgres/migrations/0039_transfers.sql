-- +goose Up
-- Transfers: frozen copies for a while. They lie in a dossier of their sender's that is in no
-- list, a folder for each, and are reached by a link of a kind of its own.
ALTER TABLE all_dossiers DROP CONSTRAINT dossiers_kind_check;
ALTER TABLE all_dossiers ADD CONSTRAINT dossiers_kind_check CHECK (kind IN ('client', 'internal', 'desk', 'outgoing'));
CREATE UNIQUE INDEX dossiers_outgoing ON all_dossiers (created_by) WHERE kind = 'outgoing';
CREATE SEQUENCE outgoing_numbers;
-- What is in no list is left out where it is gathered what somebody sees.
ALTER TABLE access_stamps ADD COLUMN unlisted boolean NOT NULL DEFAULT false;

ALTER TABLE links DROP CONSTRAINT links_kind_check;
ALTER TABLE links ADD CONSTRAINT links_kind_check CHECK (kind IN ('hand-out', 'working', 'intake', 'transfer'));
ALTER TABLE practice ALTER COLUMN outward_kinds SET DEFAULT '{hand-out,working,intake,transfer}';
UPDATE practice SET outward_kinds = array_append(outward_kinds, 'transfer');

CREATE TABLE transfers (
  link_id uuid PRIMARY KEY REFERENCES links,
  folder_id uuid NOT NULL REFERENCES all_items,
  sender_id uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL,
  -- After how many days the sender is told of who has not fetched.
  tell_days int NOT NULL,
  destroyed_at timestamptz
);
CREATE INDEX transfers_folder ON transfers (folder_id);
CREATE INDEX transfers_sender ON transfers (sender_id, created_at);
CREATE INDEX transfers_kept ON transfers (created_at) WHERE destroyed_at IS NULL;

-- The files as they were announced, in order; each is a document once it is here.
CREATE TABLE transfer_files (
  id uuid PRIMARY KEY,
  link_id uuid NOT NULL REFERENCES transfers,
  position int NOT NULL,
  name text NOT NULL,
  size bigint NOT NULL,
  item_id uuid REFERENCES all_items,
  UNIQUE (link_id, position)
);
CREATE INDEX transfer_files_item ON transfer_files (item_id);

-- What became of it for each recipient, by the address to which their copy of the link went;
-- the empty one is whoever has the copied link.
CREATE TABLE transfer_recipients (
  link_id uuid NOT NULL REFERENCES transfers,
  address text NOT NULL,
  told_at timestamptz,
  opened_at timestamptz,
  reminded_at timestamptz,
  -- When the sender was told that they have not fetched, and they that it ends.
  missed_at timestamptz,
  warned_at timestamptz,
  PRIMARY KEY (link_id, address)
);

-- Which parts of a file went to a recipient.
CREATE TABLE transfer_fetches (
  file_id uuid NOT NULL REFERENCES transfer_files ON DELETE CASCADE,
  address text NOT NULL,
  begun_at timestamptz NOT NULL,
  parts int8multirange NOT NULL DEFAULT '{}',
  done_at timestamptz,
  PRIMARY KEY (file_id, address)
);

-- What is read by others while it arrives, and which announced file it is.
ALTER TABLE uploads ADD COLUMN readable boolean NOT NULL DEFAULT false, ADD COLUMN announced_id uuid REFERENCES transfer_files ON DELETE CASCADE;
CREATE INDEX uploads_announced ON uploads (announced_id);
