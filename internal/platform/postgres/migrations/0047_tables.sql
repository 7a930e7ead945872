-- +goose Up
-- What kind of document is written: a text, or a table.
ALTER TABLE writings ADD media_type text NOT NULL DEFAULT 'text/markdown';
ALTER TABLE writings ALTER media_type DROP DEFAULT;

-- +goose Down
ALTER TABLE writings DROP media_type;
