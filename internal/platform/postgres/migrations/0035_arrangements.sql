-- +goose Up
-- How somebody reads a folder's register.
CREATE TABLE arrangements (
  person_id uuid NOT NULL REFERENCES people,
  folder_id uuid NOT NULL REFERENCES all_items ON DELETE CASCADE,
  arrangement jsonb NOT NULL,
  PRIMARY KEY (person_id, folder_id)
);
CREATE INDEX arrangements_folder ON arrangements (folder_id);
