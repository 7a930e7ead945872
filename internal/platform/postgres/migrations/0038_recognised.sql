-- +goose Up
-- When what is written in pictures of pages was looked for in content without text.
ALTER TABLE bodies ADD COLUMN recognised_at timestamptz;
CREATE INDEX bodies_to_recognise ON bodies (at) WHERE state = 'empty' AND recognised_at IS NULL;
