-- +goose Up
-- Who has a document in hand. That it is one alone is said by the lease.
CREATE TABLE checkouts (
  item_id uuid PRIMARY KEY REFERENCES all_items,
  lease text NOT NULL REFERENCES leases (token) ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  since timestamptz NOT NULL,
  note text NOT NULL DEFAULT '',
  back_at timestamptz,
  keeps boolean NOT NULL DEFAULT false,
  version int NOT NULL,
  reminded_at timestamptz
);
CREATE INDEX checkouts_lease ON checkouts (lease);
CREATE INDEX checkouts_person ON checkouts (person_id, since);

-- Who wants to be told when it is free.
CREATE TABLE checkout_waits (
  item_id uuid NOT NULL REFERENCES checkouts ON DELETE CASCADE,
  person_id uuid NOT NULL REFERENCES people,
  PRIMARY KEY (item_id, person_id)
);
