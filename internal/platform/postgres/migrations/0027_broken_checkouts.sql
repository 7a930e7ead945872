-- +goose Up
-- Whose check-out was broken, at which version: what they bring afterwards is kept apart if
-- the document has moved on.
CREATE TABLE broken_checkouts (
  item_id uuid NOT NULL REFERENCES all_items,
  person_id uuid NOT NULL REFERENCES people,
  version int NOT NULL,
  at timestamptz NOT NULL,
  PRIMARY KEY (item_id, person_id)
);
CREATE INDEX broken_checkouts_person ON broken_checkouts (person_id);
CREATE INDEX broken_checkouts_at ON broken_checkouts (at);
