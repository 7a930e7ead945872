-- +goose Up
-- How a visitor has to be known, and who may come in: addresses and domains,
-- separated by blanks.
ALTER TABLE links
  ADD COLUMN identify text NOT NULL DEFAULT 'none' CHECK (identify IN ('none', 'stated', 'confirmed', 'signed-in')),
  ADD COLUMN allowed text NOT NULL DEFAULT '';

-- Who a visitor is, and how surely that is known.
ALTER TABLE visits
  ADD COLUMN email text NOT NULL DEFAULT '',
  ADD COLUMN known text NOT NULL DEFAULT 'none';

-- The code that an address was sent last for a link.
CREATE TABLE link_codes (
  link_id uuid NOT NULL REFERENCES links,
  email_key text NOT NULL,
  code_sha256 bytea NOT NULL,
  made_at timestamptz NOT NULL,
  tries int NOT NULL DEFAULT 0,
  PRIMARY KEY (link_id, email_key)
);

-- +goose Down
DROP TABLE link_codes;
ALTER TABLE visits DROP COLUMN email, DROP COLUMN known;
ALTER TABLE links DROP COLUMN identify, DROP COLUMN allowed;
