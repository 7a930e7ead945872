-- +goose Up
-- By which scope it is decided who may see an event stands beside it: it changes with access, and an event never does.
CREATE TABLE event_scopes (
  event_id bigint PRIMARY KEY REFERENCES events,
  scope_id uuid NOT NULL
);
INSERT INTO event_scopes (event_id, scope_id) SELECT id, scope_id FROM events WHERE scope_id IS NOT NULL;
CREATE INDEX event_scopes_scope ON event_scopes (scope_id, event_id DESC);
ALTER TABLE events DROP COLUMN scope_id;

-- What an event says is never changed after it was written, and none is taken out.
-- +goose StatementBegin
CREATE FUNCTION events_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'what an event says does not change';
END
$$;
-- +goose StatementEnd
CREATE TRIGGER events_stay BEFORE UPDATE OR DELETE ON events FOR EACH ROW EXECUTE FUNCTION events_stay();

-- +goose Down
DROP TRIGGER events_stay ON events;
DROP FUNCTION events_stay();
ALTER TABLE events ADD COLUMN scope_id uuid;
UPDATE events e SET scope_id = s.scope_id FROM event_scopes s WHERE s.event_id = e.id;
CREATE INDEX events_scope ON events (scope_id, id DESC);
DROP TABLE event_scopes;
