-- +goose Up
-- Lists are arrays.
ALTER TABLE links ALTER COLUMN allowed DROP DEFAULT, ALTER COLUMN allowed TYPE text[] USING array_remove(string_to_array(allowed, ' '), ''), ALTER COLUMN allowed SET DEFAULT '{}';
ALTER TABLE links ALTER COLUMN intake_endings DROP DEFAULT, ALTER COLUMN intake_endings TYPE text[] USING array_remove(string_to_array(intake_endings, ' '), ''), ALTER COLUMN intake_endings SET DEFAULT '{}';
ALTER TABLE practice ALTER COLUMN outward_kinds DROP DEFAULT, ALTER COLUMN outward_kinds TYPE text[] USING array_remove(string_to_array(outward_kinds, ' '), ''), ALTER COLUMN outward_kinds SET DEFAULT '{hand-out,working,intake}';
ALTER TABLE practice ALTER COLUMN outward_shut DROP DEFAULT, ALTER COLUMN outward_shut TYPE text[] USING array_remove(string_to_array(outward_shut, ' '), ''), ALTER COLUMN outward_shut SET DEFAULT '{}';
ALTER TABLE practice ALTER COLUMN outward_only DROP DEFAULT, ALTER COLUMN outward_only TYPE text[] USING array_remove(string_to_array(outward_only, ' '), ''), ALTER COLUMN outward_only SET DEFAULT '{}';

-- +goose Down
ALTER TABLE practice ALTER COLUMN outward_only DROP DEFAULT, ALTER COLUMN outward_only TYPE text USING array_to_string(outward_only, ' '), ALTER COLUMN outward_only SET DEFAULT '';
ALTER TABLE practice ALTER COLUMN outward_shut DROP DEFAULT, ALTER COLUMN outward_shut TYPE text USING array_to_string(outward_shut, ' '), ALTER COLUMN outward_shut SET DEFAULT '';
ALTER TABLE practice ALTER COLUMN outward_kinds DROP DEFAULT, ALTER COLUMN outward_kinds TYPE text USING array_to_string(outward_kinds, ' '), ALTER COLUMN outward_kinds SET DEFAULT 'hand-out working intake';
ALTER TABLE links ALTER COLUMN intake_endings DROP DEFAULT, ALTER COLUMN intake_endings TYPE text USING array_to_string(intake_endings, ' '), ALTER COLUMN intake_endings SET DEFAULT '';
ALTER TABLE links ALTER COLUMN allowed DROP DEFAULT, ALTER COLUMN allowed TYPE text USING array_to_string(allowed, ' '), ALTER COLUMN allowed SET DEFAULT '';
