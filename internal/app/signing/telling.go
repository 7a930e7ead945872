package signing

import (
	"context"
	"encoding/hex"
	"time"

	"tabularis/core/events"
	"tabularis/core/linkgate"
	"tabularis/core/looks"
	"tabularis/core/signing"
	"tabularis/core/terms"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
)

// telling tells of what happened to a request within its act.
type telling struct {
	*Service
	tx       *act.Tx
	t        *travel
	practice practice.Practice
	zone     *time.Location
	sender   accounts.Person
}

// recorded are the kinds of events by what happened.
var recorded = map[signing.EventKind]events.Of[events.Signing]{
	signing.EvSent: events.SigningSent, signing.EvSigned: events.SigningSigned, signing.EvDeclined: events.SigningDeclined, signing.EvHanded: events.SigningChanged, signing.EvChanged: events.SigningChanged,
	signing.EvCorrected: events.SigningCorrected, signing.EvProlonged: events.SigningCorrected, signing.EvCalledOff: events.SigningCalledOff, signing.EvExpired: events.SigningExpired, signing.EvFinished: events.SigningFinished,
}

func (s *Service) tell(ctx context.Context, tx *act.Tx, t *travel) (err error) {
	w := &telling{Service: s, tx: tx, t: t}
	if w.practice, w.zone, err = practice.PracticeZone(ctx, tx); err != nil {
		return err
	}
	if w.sender, err = accounts.PersonByID(ctx, tx, t.SentBy); err != nil {
		return err
	}
	reminded := false
	for _, e := range t.Events {
		reminded = reminded || e.Kind == signing.EvReminded
		if err := w.record(ctx, e); err != nil {
			return err
		}
		if err := w.one(ctx, e); err != nil {
			return err
		}
	}
	if reminded {
		return w.recordAs(ctx, events.SigningReminded.With(w.about()))
	}
	return nil
}

// about is what every event of a request says.
func (w *telling) about() events.Signing {
	return events.Signing{Name: w.t.at.Name, SHA256: hex.EncodeToString(w.t.SHA256)}
}

func (w *telling) record(ctx context.Context, e signing.Event) error {
	kind, known := recorded[e.Kind]
	if !known {
		return nil
	}
	data := w.about()
	data.Reason = e.Reason
	switch e.Kind {
	case signing.EvSigned, signing.EvDeclined, signing.EvHanded, signing.EvChanged:
		data.Person, data.Letter = w.t.Request.Plan.Parties[e.Party].Name, signing.Letter(e.Party)
	case signing.EvFinished:
		data.Result = hex.EncodeToString(w.t.at.SHA256)
	}
	if e.Signing != nil {
		data.Known, data.Seen, data.Pages = string(e.Signing.Known), looks.Pages(e.Signing.Pages).String(), w.t.Pages
	}
	return w.recordAs(ctx, kind.With(data))
}

// recordAs records by whoever acts: somebody signed in, a visitor by their way in, or nobody.
func (w *telling) recordAs(ctx context.Context, what events.Said) error {
	return w.tx.Record(ctx, act.Event{What: what, By: w.by(), Dossier: w.t.at.DossierID, Item: &w.t.ItemID, Version: w.t.Version})
}

func (w *telling) by() (by events.Actor) {
	if w.tx.Actor.Person != nil {
		return by
	}
	for _, e := range w.t.Events {
		one := w.t.seats[e.Party]
		if one.LinkID != nil && (e.Kind == signing.EvSigned || e.Kind == signing.EvDeclined || e.Kind == signing.EvHanded) {
			return events.Visitor(*one.LinkID, w.t.Request.Plan.Parties[e.Party].Email)
		}
	}
	return by
}

// one tells those whom something concerns.
func (w *telling) one(ctx context.Context, e signing.Event) error {
	switch e.Kind {
	case signing.EvTurn:
		return w.party(ctx, e.Party, letters.SigningAsks, notices.SigningAsked, "")
	case signing.EvReminded:
		return w.party(ctx, e.Party, letters.SigningReminds, notices.SigningReminded, "")
	case signing.EvHanded, signing.EvChanged:
		return w.changed(ctx, e)
	case signing.EvProlonged:
		for _, i := range w.t.Request.Waiting() {
			if err := w.party(ctx, i, letters.SigningAsks, notices.SigningAsked, ""); err != nil {
				return err
			}
		}
	case signing.EvDeclined, signing.EvCalledOff, signing.EvExpired:
		return w.over(ctx, e)
	case signing.EvFinished:
		return w.finished(ctx)
	}
	return nil
}

// letter is what every letter of a request says.
func (w *telling) letter(what letters.SigningWhat) letters.Signing {
	return letters.Signing{What: what, Sender: letters.Sender{Name: w.sender.Name, Role: w.sender.Role, Email: w.sender.Email}, Number: w.t.at.Ref(), Name: w.t.at.Name, Message: w.t.Message,
		Until: terms.Voice{Language: w.t.Language, Zone: w.zone, Now: w.tx.Now}.Moment(w.t.Request.Until), Address: w.BaseURL + "/signing/" + w.t.ID.String()}
}

// party tells a party: by notice and mail where they are signed in, else by mail alone, with their way in.
func (w *telling) party(ctx context.Context, i int, what letters.SigningWhat, notice notices.Kind, reason string) error {
	p := w.t.Request.Plan.Parties[i]
	l := w.letter(what)
	l.Reason, l.Fills = reason, !p.Signs
	if p.Person != nil {
		to, err := accounts.PersonByID(ctx, w.tx, *p.Person)
		if err != nil {
			return err
		}
		if err := notices.Add(ctx, w.tx, to.ID, notice, w.t.at.Name, "/signing/"+w.t.ID.String()); err != nil {
			return err
		}
		return w.tx.Send(ctx, letters.Mail{To: to.Email, ToName: to.Name, Language: to.Language, Practice: w.practice.Name, Letter: l})
	}
	l.Outside = true
	if link := w.t.seats[i].LinkID; link != nil {
		way, err := links.LinkByID(ctx, w.tx, *link)
		if err != nil {
			return err
		}
		if l.Address, err = w.Links.AddressOf(way); err != nil {
			return err
		}
		l.Password = way.PasswordHash != ""
	}
	return w.tx.Send(ctx, letters.Mail{To: p.Email, ToName: p.Name, Language: w.t.Language, Practice: w.practice.Name, ReplyTo: w.sender.Email, Letter: l})
}

// changed tells whoever had a part that somebody else has it, and that one, if it is their turn.
func (w *telling) changed(ctx context.Context, e signing.Event) error {
	was := w.t.was.Plan.Parties[e.Party]
	l := w.letter(letters.SigningPassed)
	l.Other, l.Outside = w.t.Request.Plan.Parties[e.Party].Name, was.Person == nil
	if err := w.tx.Send(ctx, letters.Mail{To: was.Email, ToName: was.Name, Language: w.t.Language, Practice: w.practice.Name, ReplyTo: w.sender.Email, Letter: l}); err != nil {
		return err
	}
	if !w.t.Request.Parties[e.Party].Turn {
		return nil
	}
	return w.party(ctx, e.Party, letters.SigningAsks, notices.SigningAsked, "")
}

// over tells everybody who was asked, and whoever sent it, that it came to nothing.
func (w *telling) over(ctx context.Context, e signing.Event) error {
	what := map[signing.EventKind]letters.SigningWhat{signing.EvDeclined: letters.SigningDeclined, signing.EvCalledOff: letters.SigningCalledOff, signing.EvExpired: letters.SigningExpired}[e.Kind]
	for i, st := range w.t.was.Parties {
		if e.Kind == signing.EvDeclined && i == e.Party || !st.Turn && st.Signed == nil {
			continue
		}
		l := w.letter(what)
		p := w.t.Request.Plan.Parties[i]
		l.Reason, l.Outside = e.Reason, p.Person == nil
		if err := w.tx.Send(ctx, letters.Mail{To: p.Email, ToName: p.Name, Language: w.t.Language, Practice: w.practice.Name, ReplyTo: w.sender.Email, Letter: l}); err != nil {
			return err
		}
	}
	if w.tx.Actor.Person != nil && w.tx.Actor.Person.ID == w.sender.ID {
		return nil
	}
	l := w.letter(what)
	if l.Reason = e.Reason; e.Kind == signing.EvDeclined {
		l.Other = w.t.Request.Plan.Parties[e.Party].Name
	}
	return w.toSender(ctx, notices.SigningOver, l)
}

func (w *telling) toSender(ctx context.Context, notice notices.Kind, l letters.Signing) error {
	if err := notices.Add(ctx, w.tx, w.sender.ID, notice, w.t.at.Name, "/signing/"+w.t.ID.String()); err != nil {
		return err
	}
	return w.tx.Send(ctx, letters.Mail{To: w.sender.Email, ToName: w.sender.Name, Language: w.sender.Language, Practice: w.practice.Name, Letter: l})
}

// finished gives the signed paper to everybody who signed, and to who gets a copy.
func (w *telling) finished(ctx context.Context) error {
	var outside []string
	for _, p := range w.t.Request.Plan.Parties {
		if p.Person == nil {
			outside = append(outside, p.Email)
			continue
		}
		if *p.Person == w.sender.ID {
			continue
		}
		to, err := accounts.PersonByID(ctx, w.tx, *p.Person)
		if err != nil {
			return err
		}
		if err := notices.Add(ctx, w.tx, to.ID, notices.SigningDone, w.t.at.Name, "/signing/"+w.t.ID.String()); err != nil {
			return err
		}
		if err := w.tx.Send(ctx, letters.Mail{To: to.Email, ToName: to.Name, Language: to.Language, Practice: w.practice.Name, Letter: w.letter(letters.SigningDone)}); err != nil {
			return err
		}
	}
	outside = append(outside, w.t.Request.Plan.Copies...)
	if err := w.copies(ctx, outside); err != nil {
		return err
	}
	return w.toSender(ctx, notices.SigningDone, w.letter(letters.SigningDone))
}

// copies makes one link to the signed paper and sends it to those outside, by the rights of whoever sent the paper; without
// these, or against the rules of the practice, they are left to be given by hand.
func (w *telling) copies(ctx context.Context, to []string) error {
	if len(to) == 0 {
		return nil
	}
	return w.asSender(ctx, w.tx, w.t, func(ctx context.Context) error {
		wish := links.Wish{Items: w.t.ids(), Name: short(w.t.at.Name), Language: w.t.Language}
		wish.Terms = linkgate.Terms{Kind: linkgate.HandOut, MayDownload: true, Tell: linkgate.TellNever}
		l, err := w.Links.MakeIn(ctx, w.tx, wish, "")
		if refusedForGood(err) {
			return nil
		}
		if err != nil {
			return err
		}
		address, err := w.Links.AddressOf(l)
		if err != nil {
			return err
		}
		for _, one := range to {
			if !w.practice.Outward().Reaches(one) {
				continue // The practice has other rules by now.
			}
			letter := w.letter(letters.SigningDone)
			letter.Outside, letter.Address = true, address
			if err := w.tx.Send(ctx, letters.Mail{To: one, Language: w.t.Language, Practice: w.practice.Name, ReplyTo: w.sender.Email, Letter: letter}); err != nil {
				return err
			}
		}
		return nil
	})
}
