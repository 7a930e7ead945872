// Package storage limits how much content is kept: by the practice, in a dossier, and
// of what one person brought in.
package storage

import "tabularis/core/fault"

// Share is how much somebody keeps, how much more has been announced by open uploads,
// and how much it may be at most, if there is a limit. All in bytes.
type Share struct {
	Used      int64  `db:"used"`
	Announced int64  `db:"announced"`
	Limit     *int64 `db:"most"`
}

// Left is how much more may be taken in; nil without a limit.
func (s Share) Left() *int64 {
	if s.Limit == nil {
		return nil
	}
	left := max(0, *s.Limit-s.Used-s.Announced)
	return &left
}

// Holds reports whether so many further bytes fit.
func (s Share) Holds(size int64) bool {
	left := s.Left()
	return left == nil || size <= *left
}

// Shares are whose storage something takes that comes in: the practice's always, a
// dossier's, and a person's where one of the practice's own people brings it.
type Shares struct {
	Practice, Dossier, Person Share
}

// Limited reports whether any of them has a limit.
func (s Shares) Limited() bool {
	return s.Practice.Limit != nil || s.Dossier.Limit != nil || s.Person.Limit != nil
}

// Take refuses what does not fit, by the limit that is reached.
func (s Shares) Take(size int64) error {
	switch {
	case !s.Practice.Holds(size):
		return full(errPracticeFull)
	case !s.Dossier.Holds(size):
		return full(errDossierFull)
	case !s.Person.Holds(size):
		return full(errPersonFull)
	}
	return nil
}

// Left is how much more fits at all; nil without a limit.
func (s Shares) Left() (least *int64) {
	for _, share := range []Share{s.Practice, s.Dossier, s.Person} {
		if left := share.Left(); left != nil && (least == nil || *left < *least) {
			least = left
		}
	}
	return least
}

// full says no numbers: whoever may only add, or comes through a link, is not to
// learn from it how much there is.
func full(d fault.Code) error {
	return d.In("size", "there is no storage left for so much")
}

// Check refuses limits that are none.
func Check(field string, limit *int64) error {
	if limit != nil && *limit <= 0 {
		return errStorageForm.In(field, "a limit is a number of bytes above zero")
	}
	return nil
}
