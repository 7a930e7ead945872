-- +goose Up
CREATE TABLE practice (
  only_one boolean PRIMARY KEY DEFAULT true CHECK (only_one),
  name text NOT NULL,
  tagline text NOT NULL DEFAULT '',
  timezone text NOT NULL DEFAULT 'UTC',
  helper text NOT NULL DEFAULT '',
  longest_link_days int NOT NULL DEFAULT 90 CHECK (longest_link_days > 0)
);

CREATE TABLE people (
  id uuid PRIMARY KEY,
  email text NOT NULL,
  email_key text NOT NULL UNIQUE,
  name text NOT NULL,
  role text NOT NULL DEFAULT '',
  phone text NOT NULL DEFAULT '',
  standing text NOT NULL CHECK (standing IN ('administrator', 'colleague')),
  password_hash text NOT NULL DEFAULT '',
  created_at timestamptz NOT NULL,
  deactivated_at timestamptz
);

CREATE TABLE sessions (
  token_sha256 bytea PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  created_at timestamptz NOT NULL,
  expires_at timestamptz NOT NULL,
  network text NOT NULL DEFAULT '',
  agent text NOT NULL DEFAULT ''
);
CREATE INDEX sessions_expiry ON sessions (expires_at);

CREATE TABLE dossiers (
  id uuid PRIMARY KEY,
  code text NOT NULL UNIQUE,
  name text NOT NULL,
  subject text NOT NULL DEFAULT '',
  client text NOT NULL DEFAULT '',
  kind text NOT NULL CHECK (kind IN ('client', 'internal')),
  last_number int NOT NULL DEFAULT 0,
  last_event_id bigint NOT NULL DEFAULT 0,
  created_by uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL
);

-- Stored content: where it lies, and its own key, sealed under the key file.
CREATE TABLE blobs (
  sha256 bytea PRIMARY KEY CHECK (length(sha256) = 32),
  size bigint NOT NULL CHECK (size >= 0),
  place uuid NOT NULL UNIQUE,
  sealed_key bytea NOT NULL,
  created_at timestamptz NOT NULL
);

-- Folders and documents. A dossier's top is the folder with the dossier's id.
-- What the register shows of the counting version is kept here too.
CREATE TABLE items (
  id uuid PRIMARY KEY,
  dossier_id uuid NOT NULL REFERENCES dossiers DEFERRABLE INITIALLY DEFERRED,
  parent_id uuid REFERENCES items,
  kind text NOT NULL CHECK (kind IN ('folder', 'document')),
  name text NOT NULL,
  name_key text NOT NULL,
  position int NOT NULL DEFAULT 0,
  number int,
  version int NOT NULL DEFAULT 0,
  sha256 bytea REFERENCES blobs,
  size bigint NOT NULL DEFAULT 0,
  media_type text NOT NULL DEFAULT '',
  -- Of a folder: how many documents lie directly in it, and their size.
  n_documents int NOT NULL DEFAULT 0,
  n_bytes bigint NOT NULL DEFAULT 0,
  last_event_id bigint NOT NULL DEFAULT 0,
  created_by uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL,
  deleted_at timestamptz,
  CHECK ((kind = 'document') = (number IS NOT NULL AND sha256 IS NOT NULL))
);
CREATE UNIQUE INDEX items_names ON items (parent_id, name_key) WHERE deleted_at IS NULL;
CREATE UNIQUE INDEX items_numbers ON items (dossier_id, number);
CREATE INDEX items_by_event ON items (parent_id, last_event_id DESC, id DESC) WHERE deleted_at IS NULL AND kind = 'document';
CREATE INDEX items_by_number ON items (parent_id, number, id) WHERE deleted_at IS NULL AND kind = 'document';
CREATE INDEX items_by_size ON items (parent_id, size DESC, id DESC) WHERE deleted_at IS NULL AND kind = 'document';
CREATE INDEX items_folders ON items (dossier_id, position) WHERE deleted_at IS NULL AND kind = 'folder';
CREATE INDEX items_blobs ON items (sha256);

CREATE TABLE versions (
  item_id uuid NOT NULL REFERENCES items,
  number int NOT NULL CHECK (number > 0),
  sha256 bytea NOT NULL REFERENCES blobs,
  size bigint NOT NULL,
  media_type text NOT NULL,
  origin text NOT NULL,
  created_by uuid REFERENCES people,
  created_at timestamptz NOT NULL,
  removed_at timestamptz,
  moved_to uuid REFERENCES items,
  PRIMARY KEY (item_id, number)
);
CREATE INDEX versions_blobs ON versions (sha256);

CREATE TABLE grants (
  id uuid PRIMARY KEY,
  item_id uuid NOT NULL REFERENCES items,
  person_id uuid NOT NULL REFERENCES people,
  level text NOT NULL,
  ends_at timestamptz,
  created_by uuid REFERENCES people,
  created_at timestamptz NOT NULL,
  UNIQUE (item_id, person_id)
);
CREATE INDEX grants_person ON grants (person_id, created_at DESC);

CREATE TABLE uploads (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people,
  folder_id uuid NOT NULL REFERENCES items,
  path text NOT NULL DEFAULT '',
  name text NOT NULL,
  size bigint NOT NULL CHECK (size >= 0),
  received bigint NOT NULL DEFAULT 0,
  apart boolean NOT NULL DEFAULT false,
  sealed_key bytea NOT NULL,
  nonce bytea NOT NULL,
  hash_state bytea,
  expected_sha256 bytea,
  media_type text NOT NULL DEFAULT '',
  created_at timestamptz NOT NULL,
  touched_at timestamptz NOT NULL,
  outcome text NOT NULL DEFAULT '',
  item_id uuid REFERENCES items,
  version int NOT NULL DEFAULT 0
);
CREATE INDEX uploads_touched ON uploads (touched_at);

CREATE TABLE links (
  id uuid PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('hand-out')),
  name text NOT NULL,
  token_sha256 bytea NOT NULL UNIQUE,
  token_sealed bytea NOT NULL,
  dossier_id uuid NOT NULL REFERENCES dossiers,
  created_by uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL,
  not_before timestamptz,
  until timestamptz,
  openings_limit int,
  openings int NOT NULL DEFAULT 0,
  downloads_limit int,
  downloads int NOT NULL DEFAULT 0,
  password_hash text NOT NULL DEFAULT '',
  may_download boolean NOT NULL,
  newest boolean NOT NULL,
  language text NOT NULL DEFAULT 'en',
  message text NOT NULL DEFAULT '',
  last_opened_at timestamptz,
  ended_at timestamptz,
  ended_by uuid REFERENCES people,
  CHECK (openings_limit IS NULL OR openings <= openings_limit)
);
CREATE INDEX links_dossier ON links (dossier_id, created_at DESC, id DESC);
CREATE INDEX links_living ON links (dossier_id, until) WHERE ended_at IS NULL;

-- What was chosen: documents, or folders with all that is in them.
CREATE TABLE link_items (
  link_id uuid NOT NULL REFERENCES links,
  item_id uuid NOT NULL REFERENCES items,
  position int NOT NULL,
  PRIMARY KEY (link_id, item_id)
);
CREATE INDEX link_items_item ON link_items (item_id);

-- For a link that gives this version: every document it gives, with the version.
CREATE TABLE link_versions (
  link_id uuid NOT NULL REFERENCES links,
  item_id uuid NOT NULL REFERENCES items,
  version int NOT NULL,
  PRIMARY KEY (link_id, item_id)
);
CREATE INDEX link_versions_item ON link_versions (item_id);

CREATE TABLE link_mails (
  link_id uuid NOT NULL REFERENCES links,
  address text NOT NULL,
  at timestamptz NOT NULL,
  PRIMARY KEY (link_id, address)
);

CREATE TABLE visits (
  id uuid PRIMARY KEY,
  link_id uuid NOT NULL REFERENCES links,
  token_sha256 bytea NOT NULL UNIQUE,
  opened_at timestamptz NOT NULL,
  network text NOT NULL DEFAULT '',
  agent text NOT NULL DEFAULT ''
);
CREATE INDEX visits_link ON visits (link_id, opened_at DESC);

-- What a visit has looked at and fetched, so that each is told once.
CREATE TABLE visit_acts (
  visit_id uuid NOT NULL REFERENCES visits,
  act text NOT NULL,
  item_id uuid NOT NULL,
  version int NOT NULL,
  PRIMARY KEY (visit_id, act, item_id, version)
);

-- Wrong passwords in a row, by what was tried and from where.
CREATE TABLE tries (
  key text PRIMARY KEY,
  failures int NOT NULL,
  last_at timestamptz NOT NULL
);

CREATE TABLE events (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at timestamptz NOT NULL,
  kind text NOT NULL,
  person_id uuid REFERENCES people,
  outside boolean NOT NULL DEFAULT false,
  dossier_id uuid NOT NULL REFERENCES dossiers,
  item_id uuid REFERENCES items,
  version int,
  link_id uuid REFERENCES links,
  network text NOT NULL DEFAULT '',
  agent text NOT NULL DEFAULT '',
  data jsonb NOT NULL DEFAULT '{}'
);
CREATE INDEX events_dossier ON events (dossier_id, id DESC);
CREATE INDEX events_item ON events (item_id, id DESC);
CREATE INDEX events_link ON events (link_id, id DESC);

-- +goose Down
DROP TABLE events, tries, visit_acts, visits, link_mails, link_versions, link_items, links, uploads, grants, versions, items, blobs, dossiers, sessions, people, practice;
