package links

import (
	"slices"

	"tabularis/core/items"

	"tabularis/core/intake"
	"tabularis/core/linkgate"
)

// checkKind refuses terms that do not belong to the kind of link, readable
// addresses that are none, and papers put into anything but one folder.
func (p *plan) checkKind() error {
	w := &p.wish
	if w.Slug != nil {
		if err := linkgate.Slug("slug", *w.Slug); err != nil {
			return err
		}
	}
	var err error
	if w.Tell, err = linkgate.ParseTelling("tell", string(w.Tell)); err != nil {
		return err
	}
	// Something is said to what is handed out.
	w.Remarks = w.Remarks && w.Kind == linkgate.HandOut
	if w.Kind == linkgate.Working {
		if len(p.items) != 1 || p.items[0].Kind != items.Folder {
			return errWorkingFolder.In("items", "outsiders work in one folder")
		}
		if !w.MayDownload {
			return errWorkingViewOnly.In("viewOnly", "who changes papers has to get them")
		}
		// What is worked on is always the newest.
		w.Newest = true
	}
	if w.Kind == linkgate.Transfer {
		// What lies there is frozen; that more may come is for the sender.
		w.Newest = true
	}
	if w.Kind != linkgate.Intake {
		w.Limits, w.Expected = intake.Limits{}, nil
		return nil
	}
	if len(p.items) != 1 || p.items[0].Kind != items.Folder {
		return errIntakeFolder.In("items", "papers are put into one folder")
	}
	if !w.MayDownload || w.Downloads != nil {
		return errIntakeGivesNothing.In("kind", "a link that takes papers in gives none out")
	}
	if err := w.Limits.Check(); err != nil {
		return err
	}
	if w.Limits.Endings, err = intake.Endings("intakeEndings", w.Limits.Endings); err != nil {
		return err
	}
	w.Expected, err = intake.Expected("expected", w.Expected)
	return err
}

// kinds are the kinds of link that what was chosen allows.
func (p plan) kinds() []string {
	kinds := slices.DeleteFunc(slices.Clone(p.practice.Outward().Kinds), func(k string) bool { return !slices.Contains(linkgate.Written, k) })
	if len(p.items) == 1 && p.items[0].Kind == items.Folder {
		return kinds
	}
	return slices.DeleteFunc(kinds, func(k string) bool { return k != linkgate.HandOut })
}

// intakeOffers are the terms of an intake that are not set.
func (p plan) intakeOffers() (offers []string) {
	if p.wish.Kind != linkgate.Intake {
		return nil
	}
	if p.wish.Limits.Files == nil {
		offers = append(offers, "intakeFiles")
	}
	if p.wish.Limits.Bytes == nil {
		offers = append(offers, "intakeBytes")
	}
	if len(p.wish.Limits.Endings) == 0 {
		offers = append(offers, "intakeEndings")
	}
	return offers
}
