// Package signing is how a paper is signed by its parties: who signs where and in which order, what they
// have to give, and a request as a machine driven by what they do and by a clock.
package signing

import (
	"time"

	"github.com/google/uuid"

	"tabularis/core/terms"
)

// Plan is what is asked: the parties, in their order, and the places where they sign.
type Plan struct {
	Parties []Party `json:"parties"`
	Places  []Place `json:"places"`
	// Each says that every party's act is signed by itself, one after the other; otherwise
	// the paper is signed once, when all have.
	Each bool `json:"each"`
	// Copies are addresses that get the signed paper beside the parties.
	Copies []string `json:"copies"`
}

// Party is whoever signs, or fills something in.
type Party struct {
	// Role is what they are in this paper: "the client".
	Role string `json:"role"`
	// Turn is when: those with the same number act at once, lower ones before.
	Turn int `json:"turn"`
	// Person is a colleague; anybody else has a name and an address.
	Person *uuid.UUID `json:"person,omitempty"`
	Name   string     `json:"name"`
	Email  string     `json:"email"`
	// Known is how surely they have to be known.
	Known Known `json:"known"`
	// Signs is false for whoever fills in and does not sign.
	Signs bool `json:"signs"`
	// MayHand says that they may hand their part to somebody else.
	MayHand bool `json:"mayHand"`
}

// Known is how surely somebody has to be known.
type Known string

// How somebody is known: by their link alone, a code by mail, an account.
const (
	ByLink   Known = "link"
	ByCode   Known = "code"
	BySignIn Known = "sign-in"
	// InPerson is before a colleague, on their device. It is not asked for but happens.
	InPerson Known = "in-person"
)

// Knowns are those that can be asked for.
var Knowns = []Known{ByLink, ByCode, BySignIn}

// Kind is what is done at a place.
type Kind string

// The kinds of places.
const (
	Signature Kind = "signature"
	Initials  Kind = "initials"
	SignedOn  Kind = "signed-on"
	Date      Kind = "date"
	Text      Kind = "text"
	Number    Kind = "number"
	Choice    Kind = "choice"
	Tick      Kind = "tick"
	// Paper is a file that is brought: its name stands there.
	Paper Kind = "paper"
	// Fixed is filled in beforehand, and the same for all.
	Fixed Kind = "fixed"
)

// Kinds are all kinds of places.
var Kinds = []Kind{Signature, Initials, SignedOn, Date, Text, Number, Choice, Tick, Paper, Fixed}

// Hand says that something is drawn, typed or pictured there.
func (k Kind) Hand() bool { return k == Signature || k == Initials }

// Given says that whoever acts there gives something.
func (k Kind) Given() bool { return k != SignedOn && k != Fixed }

// Box is a place on a page as it is shown, in parts of it, from its upper left corner.
type Box struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Place is where a party acts.
type Place struct {
	ID    int  `json:"id"`
	Party int  `json:"party"`
	Page  int  `json:"page"`
	Box   Box  `json:"box"`
	Kind  Kind `json:"kind"`
	// Must says that it has to be filled in.
	Must  bool   `json:"must"`
	Label string `json:"label"`
	// Most is how many letters may be written, 0 for as many as fit.
	Most    int      `json:"most"`
	Choices []string `json:"choices"`
	// Value is what stands in a fixed place.
	Value string `json:"value"`
}

// Limits of a plan.
const (
	MostParties = 20
	MostPlaces  = 400
	MostChoices = 30
	MostLetters = 2000
	MostLabel   = 200
	MostCopies  = 20
	// smallest is how wide and high a place is at least, in parts of the page.
	smallest = 0.008
)

// Letter is by which letter a party is known in a plan.
func Letter(party int) string {
	if party < 26 {
		return string(rune('A' + party))
	}
	return "A" + Letter(party-26)
}

// Of are the places of a party, in the order in which they are walked: page by page, from
// the top and from the left.
func (p Plan) Of(party int) (all []Place) {
	for _, at := range p.Ordered() {
		if at.Party == party && at.Kind != Fixed {
			all = append(all, at)
		}
	}
	return all
}

// Ends is when a request ends that is sent at a moment: so many days later, at six in the evening.
func Ends(from time.Time, days int, zone *time.Location) time.Time {
	y, m, d := from.In(zone).Date()
	return time.Date(y, m, d+days, terms.EndOfBusiness, 0, 0, 0, zone)
}
