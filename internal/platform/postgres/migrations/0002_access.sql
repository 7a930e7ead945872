-- +goose Up
ALTER TABLE people DROP CONSTRAINT people_standing_check;
ALTER TABLE people ADD CONSTRAINT people_standing_check CHECK (standing IN ('proprietor', 'administrator', 'colleague', 'guest'));
ALTER TABLE people
  ADD COLUMN organisation text NOT NULL DEFAULT '',
  ADD COLUMN seen_at timestamptz,
  ADD COLUMN totp_sealed bytea,
  ADD COLUMN totp_step bigint NOT NULL DEFAULT 0;
CREATE UNIQUE INDEX people_one_proprietor ON people (standing) WHERE standing = 'proprietor' AND deactivated_at IS NULL;

ALTER TABLE practice
  ADD COLUMN colleagues_make_dossiers boolean NOT NULL DEFAULT true,
  ADD COLUMN guests_by_code boolean NOT NULL DEFAULT true,
  ADD COLUMN second_factor_required boolean NOT NULL DEFAULT false;

-- Groups hold people and other groups.
CREATE TABLE groups (
  id uuid PRIMARY KEY,
  name text NOT NULL,
  name_key text NOT NULL UNIQUE,
  created_by uuid REFERENCES people,
  created_at timestamptz NOT NULL
);
CREATE TABLE group_members (
  group_id uuid NOT NULL REFERENCES groups ON DELETE CASCADE,
  person_id uuid REFERENCES people,
  subgroup_id uuid REFERENCES groups ON DELETE CASCADE,
  created_by uuid REFERENCES people,
  created_at timestamptz NOT NULL,
  CHECK ((person_id IS NULL) <> (subgroup_id IS NULL)),
  CHECK (subgroup_id IS DISTINCT FROM group_id)
);
CREATE UNIQUE INDEX group_people ON group_members (group_id, person_id) WHERE person_id IS NOT NULL;
CREATE UNIQUE INDEX group_groups ON group_members (group_id, subgroup_id) WHERE subgroup_id IS NOT NULL;
CREATE INDEX group_members_person ON group_members (person_id);
CREATE INDEX group_members_group ON group_members (subgroup_id);

-- A grant's subject is a person (0), a group (1) or everyone in the practice (2,
-- with the nil id).
ALTER TABLE grants
  ADD COLUMN subject_kind smallint NOT NULL DEFAULT 0 CHECK (subject_kind IN (0, 1, 2)),
  ADD COLUMN subject_id uuid,
  ADD COLUMN custom int NOT NULL DEFAULT 0,
  ADD COLUMN onward boolean NOT NULL DEFAULT false,
  ADD COLUMN message text NOT NULL DEFAULT '',
  ADD COLUMN version int NOT NULL DEFAULT 1;
UPDATE grants SET subject_id = person_id, onward = level IN ('edit', 'manage');
ALTER TABLE grants ALTER COLUMN subject_id SET NOT NULL;
DROP INDEX grants_person;
ALTER TABLE grants DROP COLUMN person_id;
CREATE UNIQUE INDEX grants_subject_item ON grants (item_id, subject_kind, subject_id);
CREATE INDEX grants_subject ON grants (subject_id, created_at DESC, id DESC);
CREATE INDEX grants_ending ON grants (ends_at) WHERE ends_at IS NOT NULL;
CREATE INDEX grants_giver ON grants (created_by, created_at DESC, id DESC);

-- Items at which access may change: a dossier's top, closed items, and items
-- with grants of their own.
CREATE TABLE access_roots (
  id uuid PRIMARY KEY,
  parent_root_id uuid REFERENCES access_roots,
  dossier_id uuid NOT NULL REFERENCES dossiers DEFERRABLE INITIALLY DEFERRED,
  closed boolean NOT NULL DEFAULT false
);
CREATE INDEX access_roots_parent ON access_roots (parent_root_id);
CREATE INDEX access_roots_dossier ON access_roots (dossier_id);

-- Every folder, and every document that is a root itself. Other documents are
-- decided like the folder they lie in. A zone reaches from a closed root, or the
-- top, down to the next closed ones.
CREATE TABLE scopes (
  id uuid PRIMARY KEY,
  parent_id uuid,
  dossier_id uuid NOT NULL REFERENCES dossiers DEFERRABLE INITIALLY DEFERRED,
  root_id uuid NOT NULL,
  zone_id uuid NOT NULL,
  is_folder boolean NOT NULL
);
ALTER TABLE items ADD COLUMN scope_id uuid;
INSERT INTO access_roots (id, dossier_id) SELECT id, id FROM dossiers;
INSERT INTO scopes (id, parent_id, dossier_id, root_id, zone_id, is_folder) SELECT id, parent_id, dossier_id, dossier_id, dossier_id, true FROM items WHERE kind = 'folder';
UPDATE items SET scope_id = CASE kind WHEN 'folder' THEN id ELSE parent_id END;
ALTER TABLE items ALTER COLUMN scope_id SET NOT NULL;
CREATE INDEX scopes_parent ON scopes (parent_id);
CREATE INDEX scopes_root ON scopes (root_id);
CREATE INDEX scopes_zone ON scopes (zone_id);
-- Counting what may be seen reads folders' counters alone.
CREATE INDEX items_counters ON items (id) INCLUDE (n_documents, n_bytes) WHERE kind = 'folder' AND deleted_at IS NULL;
CREATE INDEX items_scope ON items (scope_id, last_event_id DESC) WHERE deleted_at IS NULL AND kind = 'document';

-- Who may see what has changed when a stamp has: one for each dossier, and one,
-- under the nil id, for people and groups.
CREATE TABLE access_stamps (
  scope uuid PRIMARY KEY,
  version bigint NOT NULL DEFAULT 1
);
INSERT INTO access_stamps (scope) SELECT id FROM dossiers UNION ALL SELECT '00000000-0000-0000-0000-000000000000'::uuid;

-- What concerns the practice, not one dossier, has no dossier.
ALTER TABLE events ALTER COLUMN dossier_id DROP NOT NULL;

-- One-time ways in: an invitation, a forgotten password, a guest's code. Of the
-- secret only its hash is kept.
CREATE TABLE entries (
  id uuid PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('invitation', 'password', 'code')),
  person_id uuid NOT NULL REFERENCES people,
  secret_sha256 bytea NOT NULL,
  goes_to text NOT NULL DEFAULT '',
  tries int NOT NULL DEFAULT 0,
  created_by uuid REFERENCES people,
  created_at timestamptz NOT NULL,
  expires_at timestamptz NOT NULL,
  used_at timestamptz
);
CREATE INDEX entries_person ON entries (person_id, kind, created_at DESC);
CREATE UNIQUE INDEX entries_secret ON entries (secret_sha256) WHERE kind <> 'code';

-- Invitation links: whoever has one, and an address that fits, may join.
CREATE TABLE invitation_links (
  id uuid PRIMARY KEY,
  token_sha256 bytea NOT NULL UNIQUE,
  token_sealed bytea NOT NULL,
  standing text NOT NULL CHECK (standing IN ('colleague', 'guest')),
  dossier_id uuid REFERENCES dossiers,
  level text NOT NULL DEFAULT '',
  domain text NOT NULL DEFAULT '',
  uses_limit int NOT NULL CHECK (uses_limit > 0),
  uses int NOT NULL DEFAULT 0,
  created_by uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL,
  expires_at timestamptz NOT NULL,
  ended_at timestamptz,
  CHECK (uses <= uses_limit)
);
CREATE TABLE invitation_uses (
  link_id uuid NOT NULL REFERENCES invitation_links,
  person_id uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL,
  PRIMARY KEY (link_id, person_id)
);

CREATE TABLE recovery_codes (
  person_id uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  code_sha256 bytea NOT NULL,
  used_at timestamptz,
  PRIMARY KEY (person_id, code_sha256)
);
CREATE TABLE passkeys (
  id bytea PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  name text NOT NULL,
  credential jsonb NOT NULL,
  created_at timestamptz NOT NULL,
  used_at timestamptz
);
CREATE INDEX passkeys_person ON passkeys (person_id);

ALTER TABLE sessions
  ADD COLUMN id uuid NOT NULL DEFAULT gen_random_uuid(),
  ADD COLUMN seen_at timestamptz,
  -- A password was right, and the second factor is still to come.
  ADD COLUMN half boolean NOT NULL DEFAULT false,
  ADD COLUMN challenge jsonb;
CREATE UNIQUE INDEX sessions_id ON sessions (id);
CREATE INDEX sessions_person ON sessions (person_id);

-- What somebody keeps at hand of what they were given, and since when they have
-- looked at the list.
CREATE TABLE pins (
  person_id uuid NOT NULL REFERENCES people,
  item_id uuid NOT NULL REFERENCES items,
  at timestamptz NOT NULL,
  PRIMARY KEY (person_id, item_id)
);
ALTER TABLE people ADD COLUMN given_seen_at timestamptz;

-- Who asked to be let in where. The answer does not tell whether it is there.
CREATE TABLE access_requests (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people,
  item_id uuid NOT NULL REFERENCES items,
  message text NOT NULL DEFAULT '',
  at timestamptz NOT NULL,
  answered_at timestamptz,
  answered_by uuid REFERENCES people,
  given boolean
);
CREATE UNIQUE INDEX access_requests_open ON access_requests (person_id, item_id) WHERE answered_at IS NULL;

-- +goose Down
DROP TABLE access_requests, pins, passkeys, recovery_codes, invitation_uses, invitation_links, entries, access_stamps, scopes, access_roots, group_members, groups;
