-- +goose Up
-- Language and look stay with the account, on every device; empty means what the
-- device prefers.
ALTER TABLE people
  ADD COLUMN language text NOT NULL DEFAULT '' CHECK (language IN ('', 'en', 'de')),
  ADD COLUMN look text NOT NULL DEFAULT '' CHECK (look IN ('', 'light', 'dark'));

-- +goose Down
ALTER TABLE people DROP COLUMN look, DROP COLUMN language;
