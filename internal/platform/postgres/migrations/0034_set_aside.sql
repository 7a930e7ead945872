-- +goose Up
-- A dossier that is set aside is out of the daily lists; all else stays.
ALTER TABLE all_dossiers ADD COLUMN set_aside_at timestamptz;
CREATE OR REPLACE VIEW dossiers AS SELECT id, code, name, subject, client, kind, last_number, last_event_id, created_by, created_at, set_aside_at FROM all_dossiers WHERE deleted_at IS NULL;
