-- +goose Up
-- Decisions: what is asked of people about documents, one after the other, and the routes by which that
-- happens by itself.
ALTER TABLE practice ADD COLUMN calendar jsonb;
ALTER TABLE practice ADD COLUMN decides_by_mail boolean NOT NULL DEFAULT true;

-- When somebody is away, and who stands in for them.
CREATE TABLE absences (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people,
  from_day date NOT NULL,
  to_day date NOT NULL CHECK (to_day >= from_day),
  substitute_id uuid REFERENCES people
);
CREATE INDEX absences_person ON absences (person_id, to_day);

CREATE TABLE routes (
  id uuid PRIMARY KEY,
  -- A route without a folder is a model of the practice.
  folder_id uuid REFERENCES all_items ON DELETE CASCADE,
  name text NOT NULL,
  -- With whose rights it acts.
  placed_by uuid NOT NULL REFERENCES people,
  is_on boolean NOT NULL DEFAULT false,
  -- Why it was stopped, where it was not switched off by hand.
  stopped text NOT NULL DEFAULT '',
  draft jsonb,
  edition int NOT NULL DEFAULT 0,
  created_at timestamptz NOT NULL,
  changed_at timestamptz NOT NULL,
  -- Since when it is no longer there; what travelled along it stays.
  removed_at timestamptz
);
CREATE INDEX routes_folder ON routes (folder_id);

-- What runs go along stays as it was when they began.
CREATE TABLE editions (
  id uuid PRIMARY KEY,
  route_id uuid REFERENCES routes ON DELETE CASCADE,
  number int NOT NULL,
  definition jsonb NOT NULL,
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL
);
CREATE UNIQUE INDEX editions_route ON editions (route_id, number) WHERE route_id IS NOT NULL;

-- By which events routes that are on are started, in a folder and what lies below it.
CREATE TABLE route_starts (
  route_id uuid NOT NULL REFERENCES routes ON DELETE CASCADE,
  position int NOT NULL,
  trigger text NOT NULL,
  folder_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  PRIMARY KEY (route_id, position)
);
CREATE INDEX route_starts_folder ON route_starts (folder_id, trigger);

-- What has started a route already, so that nothing starts it twice.
CREATE TABLE route_begun (
  route_id uuid NOT NULL REFERENCES routes ON DELETE CASCADE,
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  cause text NOT NULL,
  PRIMARY KEY (route_id, item_id, cause)
);
CREATE INDEX route_begun_item ON route_begun (item_id);

CREATE TABLE runs (
  id uuid PRIMARY KEY,
  edition_id uuid NOT NULL REFERENCES editions,
  item_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  -- The document's dossier, as it was when the run was looked at last.
  dossier_id uuid NOT NULL,
  -- Whose rights count for what is done by itself.
  acts_for uuid NOT NULL REFERENCES people,
  starter_id uuid REFERENCES people,
  status text NOT NULL,
  stop int NOT NULL,
  held text NOT NULL DEFAULT '',
  version int NOT NULL,
  sha256 bytea NOT NULL,
  -- Who has it back, where it was returned.
  back_to uuid REFERENCES people,
  started_at timestamptz NOT NULL,
  since timestamptz NOT NULL,
  ended_at timestamptz,
  -- The number of its newest event, and when something is due by itself.
  seq int NOT NULL,
  wake_at timestamptz,
  -- How many routes have started each other up to it.
  depth int NOT NULL DEFAULT 0
);
CREATE INDEX runs_edition ON runs (edition_id, started_at);
CREATE INDEX runs_item ON runs (item_id, started_at);
CREATE INDEX runs_open ON runs (item_id) WHERE ended_at IS NULL;
CREATE INDEX runs_dossier ON runs (dossier_id) WHERE ended_at IS NULL;
CREATE INDEX runs_wake ON runs (wake_at) WHERE wake_at IS NOT NULL;
CREATE INDEX runs_back ON runs (back_to) WHERE ended_at IS NULL AND back_to IS NOT NULL;
CREATE INDEX runs_starter ON runs (starter_id, started_at);

CREATE TABLE run_events (
  run_id uuid NOT NULL REFERENCES runs ON DELETE CASCADE,
  seq int NOT NULL,
  at timestamptz NOT NULL,
  body jsonb NOT NULL,
  PRIMARY KEY (run_id, seq)
);

-- Who is asked where runs stand now, and who decided what where they stood.
CREATE TABLE run_asked (
  run_id uuid NOT NULL REFERENCES runs ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  waits boolean NOT NULL,
  since timestamptz NOT NULL,
  due timestamptz,
  late boolean NOT NULL,
  PRIMARY KEY (run_id, person_id)
);
CREATE INDEX run_asked_person ON run_asked (person_id, due) WHERE waits;
CREATE TABLE run_said (
  run_id uuid NOT NULL REFERENCES runs ON DELETE CASCADE,
  seq int NOT NULL,
  person_id uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL,
  PRIMARY KEY (run_id, seq)
);
CREATE INDEX run_said_person ON run_said (person_id, at);

-- How long runs stood at each stop.
CREATE TABLE run_passed (
  run_id uuid NOT NULL REFERENCES runs ON DELETE CASCADE,
  visit int NOT NULL,
  stop int NOT NULL,
  since timestamptz NOT NULL,
  till timestamptz NOT NULL,
  how text NOT NULL,
  person_id uuid REFERENCES people,
  PRIMARY KEY (run_id, visit, stop)
);

-- What has become of documents by decisions: a state counts for the content that it was decided on.
CREATE TABLE item_states (
  item_id uuid PRIMARY KEY REFERENCES all_items ON DELETE CASCADE,
  run_id uuid NOT NULL REFERENCES runs ON DELETE CASCADE,
  state text NOT NULL CHECK (state IN ('review', 'approved', 'issued')),
  sha256 bytea NOT NULL,
  at timestamptz NOT NULL
);
CREATE INDEX item_states_run ON item_states (run_id);

-- A way to decide from a mail, once.
CREATE TABLE decision_ways (
  token_sha256 bytea PRIMARY KEY,
  run_id uuid NOT NULL REFERENCES runs ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  visit int NOT NULL,
  ends_at timestamptz NOT NULL,
  used_at timestamptz
);
CREATE INDEX decision_ways_run ON decision_ways (run_id);
