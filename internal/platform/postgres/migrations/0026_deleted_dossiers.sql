-- +goose Up
-- "dossiers" is what is there; a deleted one stays in all_dossiers, and its code stays
-- taken.
ALTER TABLE dossiers RENAME TO all_dossiers;
ALTER TABLE all_dossiers ADD COLUMN deleted_at timestamptz;
CREATE VIEW dossiers AS SELECT id, code, name, subject, client, kind, last_number, last_event_id, created_by, created_at FROM all_dossiers WHERE deleted_at IS NULL;
