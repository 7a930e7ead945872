-- +goose Up
-- Who or what acted: a person, a visitor through a link, a route, a device, a mail, or the server.
ALTER TABLE events ADD COLUMN actor_kind text NOT NULL DEFAULT 'person'
  CHECK (actor_kind IN ('person', 'visitor', 'route', 'device', 'mail', 'system'));
UPDATE events SET actor_kind = 'visitor' WHERE outside;
UPDATE events SET actor_kind = 'system' WHERE person_id IS NULL AND NOT outside;

-- A version says who made it: a person, or a visitor, by the link through which they came and the address that they gave.
ALTER TABLE versions
  ADD COLUMN actor_kind text NOT NULL DEFAULT 'person' CHECK (actor_kind IN ('person', 'visitor', 'route', 'device', 'mail', 'system')),
  ADD COLUMN actor_link uuid REFERENCES links,
  ADD COLUMN actor_said text NOT NULL DEFAULT '';
ALTER TABLE versions RENAME COLUMN created_by TO actor_id;
-- What came in through links was written down as made by whoever gave the link out, or by nobody.
UPDATE versions v SET actor_kind = 'visitor', actor_id = NULL, actor_link = r.link_id, actor_said = w.email
  FROM link_received r JOIN visits w ON w.id = r.visit_id WHERE v.item_id = r.item_id AND v.number = 1;
UPDATE versions v SET actor_kind = 'visitor', actor_link = e.link_id, actor_said = coalesce(e.data ->> 'email', '')
  FROM events e WHERE e.kind = 'link.revised' AND e.item_id = v.item_id AND e.version = v.number AND v.actor_id IS NULL;
UPDATE versions SET actor_kind = 'system' WHERE actor_id IS NULL AND actor_kind = 'person';
ALTER TABLE versions ADD CONSTRAINT versions_actor CHECK ((actor_kind = 'person') = (actor_id IS NOT NULL) AND (actor_kind = 'visitor') = (actor_link IS NOT NULL));

-- +goose Down
ALTER TABLE versions DROP CONSTRAINT versions_actor;
ALTER TABLE versions RENAME COLUMN actor_id TO created_by;
ALTER TABLE versions DROP COLUMN actor_kind, DROP COLUMN actor_link, DROP COLUMN actor_said;
ALTER TABLE events DROP COLUMN actor_kind;
