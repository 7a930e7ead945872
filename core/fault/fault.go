// Package fault defines the errors that rules and use cases answer with.
//
// Every refusal has a kind, which fixes how it is answered on the wire, and a
// code, which is stable and by which an interface finds its words. Codes are
// declared once: by the package that refuses, or here where several do (codes.go).
package fault

import (
	"errors"
	"time"
)

// Kind says in which way something was refused.
type Kind int

const (
	// Internal is a failure of ours; its cause is logged and never shown.
	Internal Kind = iota
	// NotFound is also the answer for whatever a person may not see.
	NotFound
	// Unauthenticated means that nobody is signed in, or no longer.
	Unauthenticated
	// Forbidden means that the thing is visible but the act is not allowed.
	Forbidden
	// Conflict means that the state has changed or a name is taken.
	Conflict
	// Invalid means that the input cannot be accepted; Field says which.
	Invalid
	// Gone means that it was there and is no longer available.
	Gone
	// TooLarge means that a size or count limit is exceeded.
	TooLarge
	// Unavailable means that something needed is away for the moment; nothing was
	// changed.
	Unavailable
	// NoSpace means that there is no space left to store into.
	NoSpace
	// RateLimited means too many attempts; RetryAfter says when to come back.
	RateLimited
)

// Error is a refusal. Detail is a sentence in plain English for logs and
// programs; people are shown words found by Code.
type Error struct {
	Kind       Kind
	Code       string
	Field      string
	Detail     string
	RetryAfter time.Duration
	Cause      error
}

func (e *Error) Error() string {
	s := e.Code
	if e.Field != "" {
		s += " (" + e.Field + ")"
	}
	if e.Detail != "" {
		s += ": " + e.Detail
	}
	if e.Cause != nil {
		s += ": " + e.Cause.Error()
	}
	return s
}

func (e *Error) Unwrap() error { return e.Cause }

// Missing is the one answer for what does not exist and for what may not be seen.
func Missing() *Error { return notFound.New("there is nothing here for you") }

// SignedOut is the answer for whoever is not signed in, or no longer.
func SignedOut() *Error {
	return signedOut.New("nobody is signed in, or no longer")
}

// Refused says that a visible thing may not be acted on in this way.
func Refused(act string) *Error {
	return notAllowed.New("you may not %s here", act)
}

// Slow asks the caller to come back after d.
func Slow(d time.Duration) *Error {
	return tooManyTries.New("too many tries").Later(d)
}

// Of returns the refusal in err's chain, or an Internal one around err.
func Of(err error) *Error {
	var e *Error
	if errors.As(err, &e) {
		return e
	}
	return &Error{Kind: Internal, Code: "internal", Cause: err}
}

// Is reports whether err is a refusal of the kind.
func Is(err error, kind Kind) bool {
	var e *Error
	return errors.As(err, &e) && e.Kind == kind
}
