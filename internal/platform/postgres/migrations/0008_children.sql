-- +goose Up
-- What lies directly in a folder, of either kind: the other indexes hold documents
-- only. Without it a folder's last position, and everything below a folder, would be
-- looked for among all items.
CREATE INDEX items_parent ON items (parent_id, kind, position);

-- +goose Down
DROP INDEX items_parent;
