-- +goose Up
-- Folders are found by parts of their names, too.
CREATE INDEX items_folder_words ON all_items USING gin (name_key gin_trgm_ops) WHERE kind = 'folder' AND deleted_at IS NULL;

-- +goose Down
DROP INDEX items_folder_words;
