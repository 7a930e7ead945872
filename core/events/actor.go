package events

import "github.com/google/uuid"

// ActorKind says what acted.
type ActorKind string

// What can act.
const (
	// ByPerson is somebody signed in, ByVisitor whoever came through a link.
	ByPerson  ActorKind = "person"
	ByVisitor ActorKind = "visitor"
	// ByRoute is a route or a rule, ByDevice an enrolled device, ByMail a mail that
	// came in, and BySystem the server itself.
	ByRoute  ActorKind = "route"
	ByDevice ActorKind = "device"
	ByMail   ActorKind = "mail"
	BySystem ActorKind = "system"
)

// Actor is who or what made a version, or did what an event tells.
type Actor struct {
	Kind ActorKind `db:"actor_kind"`
	// PersonID is the person, and nil for everything else.
	PersonID *uuid.UUID `db:"actor_id"`
	// LinkID is the link through which a visitor came.
	LinkID *uuid.UUID `db:"actor_link"`
	// Said is what a visitor, a device or a mail says of itself: not more than that.
	Said string `db:"actor_said"`
}

// Person is the actor that a person is.
func Person(id uuid.UUID) Actor { return Actor{Kind: ByPerson, PersonID: &id} }

// Visitor is whoever came through a link, with the address as far as it is known.
func Visitor(link uuid.UUID, said string) Actor {
	return Actor{Kind: ByVisitor, LinkID: &link, Said: said}
}
