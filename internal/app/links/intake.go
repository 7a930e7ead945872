package links

import (
	"context"
	"slices"

	"tabularis/core/items"

	"tabularis/core/fault"
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
	if w.Kind == linkgate.Fill {
		// What is asked is what the form asks now, and nothing of it leaves.
		w.Newest, w.MayDownload, w.Downloads = true, true, nil
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
	folder := len(p.items) == 1 && p.items[0].Kind == items.Folder
	return slices.DeleteFunc(kinds, func(k string) bool {
		return k == linkgate.Fill && !p.fillable || !folder && (k == linkgate.Working || k == linkgate.Intake)
	})
}

// fillable says whether what was chosen is one form, and refuses to let anything else be filled in.
func (s *Service) fillable(ctx context.Context, p *plan) (yes bool, err error) {
	if len(p.items) == 1 && p.items[0].Kind == items.Document && (p.wish.Kind == linkgate.Fill || p.wish.Kind == linkgate.HandOut) {
		yes, err = s.Asks(ctx, p.items[0])
		if err != nil && p.wish.Kind != linkgate.Fill && fault.Of(err).Kind != fault.Internal {
			err = nil // What cannot be read is given out as it is.
		}
	}
	if err == nil && !yes && p.wish.Kind == linkgate.Fill {
		err = errFillForm.In("items", "one document with fields is filled in")
	}
	return yes, err
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
