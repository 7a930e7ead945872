-- +goose Up
-- Visitors write through working links as well: what they write is known by their visit.
CREATE TABLE writing_outsiders (
  document_id uuid NOT NULL REFERENCES writings ON DELETE CASCADE,
  visit_id uuid NOT NULL,
  link_id uuid NOT NULL REFERENCES links ON DELETE CASCADE,
  name text NOT NULL,
  since timestamptz NOT NULL,
  PRIMARY KEY (document_id, visit_id)
);
CREATE INDEX writing_outsiders_link ON writing_outsiders (link_id);
ALTER TABLE writings DROP CONSTRAINT writings_last_by_fkey;
ALTER TABLE writing_batches DROP CONSTRAINT writing_batches_person_id_fkey;
COMMENT ON COLUMN writings.last_by IS 'a person, or a visit';
COMMENT ON COLUMN writing_batches.person_id IS 'a person, or a visit';

-- +goose Down
DROP TABLE writing_outsiders;
