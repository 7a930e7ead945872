-- +goose Up
-- Language and look stay with the account, on every device; empty means what the
-- device prefers.
ALTER TABLE people
  ADD COLUMN language text NOT NULL DEFAULT '' CHECK (language IN ('', 'en', 'de')),
  ADD COLUMN look text NOT NULL DEFAULT '' CHECK (look IN ('', 'light', 'dark'));

-- Folders that came in with what a visitor put in: into these, and no others, more of
-- the same visit goes.
CREATE TABLE visit_folders (
  visit_id uuid NOT NULL REFERENCES visits ON DELETE CASCADE,
  item_id uuid NOT NULL REFERENCES all_items,
  PRIMARY KEY (visit_id, item_id)
);
CREATE INDEX visit_folders_item ON visit_folders (item_id);

-- +goose Down
DROP TABLE visit_folders;
ALTER TABLE people DROP COLUMN look, DROP COLUMN language;
