-- +goose Up
-- What people say of a version: a name, by which it is found and always kept, and a note.
-- Of one that was brought back, from which; of one that was removed, by whom.
ALTER TABLE versions
  ADD COLUMN title text NOT NULL DEFAULT '',
  ADD COLUMN note text NOT NULL DEFAULT '',
  ADD COLUMN back_from int,
  ADD COLUMN removed_by uuid REFERENCES people;
CREATE UNIQUE INDEX versions_title ON versions (item_id, lower(title)) WHERE title <> '';
CREATE INDEX versions_removed ON versions (removed_at) WHERE sha256 IS NOT NULL AND moved_to IS NULL;

-- An upload can be meant for a document, as a version of it, with a note.
ALTER TABLE uploads
  ADD COLUMN document_id uuid REFERENCES all_items,
  ADD COLUMN note text NOT NULL DEFAULT '';
CREATE INDEX uploads_document ON uploads (document_id) WHERE document_id IS NOT NULL;

-- Of a version that was removed for good its number is left, which nobody gets again.
ALTER TABLE versions ALTER COLUMN sha256 DROP NOT NULL, ADD CONSTRAINT versions_content CHECK (sha256 IS NOT NULL OR removed_at IS NOT NULL);
