-- +goose Up
-- Terms of links to which the practice gave a name, in the words in which they are typed.
ALTER TABLE practice ADD COLUMN named_terms jsonb NOT NULL DEFAULT '[]';

-- A level that is put together capability by capability is an own set.
ALTER TABLE grants RENAME COLUMN custom TO own_set;
UPDATE grants SET level = 'own-set' WHERE level = 'custom';
