-- +goose Up
-- "items" is what is there. What was deleted stays in all_items until its period is over and is absent from every
-- statement in the same way, because no statement but the one that brings back names the table itself.
ALTER TABLE items RENAME TO all_items;
CREATE VIEW items AS SELECT * FROM all_items WHERE deleted_at IS NULL;

-- +goose Down
DROP VIEW items;
ALTER TABLE all_items RENAME TO items;
