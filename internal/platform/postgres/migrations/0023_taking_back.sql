-- +goose Up
-- When a visitor said that they were done with what they brought; until then they can take
-- it back.
ALTER TABLE link_received ADD COLUMN handed_at timestamptz;
UPDATE link_received SET handed_at = at;

-- An upload that waits for its turn becomes a document when whoever brings it asks for
-- that, or after a while: several files brought in together get their numbers in order.
ALTER TABLE uploads ADD COLUMN in_turn boolean NOT NULL DEFAULT false;
CREATE INDEX uploads_waiting ON uploads (touched_at) WHERE in_turn AND outcome = '' AND received = size;
