package decisions

import (
	"context"
	"encoding/hex"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/looks"
	"tabularis/core/route"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/secret"
)

// telling tells of what has happened to a run: the record, whom it concerns here, and by mail.
type telling struct {
	*Service
	tx       *act.Tx
	t        *travel
	practice practice.Practice
	zone     *time.Location
	people   map[uuid.UUID]accounts.Person
}

func (s *Service) tell(ctx context.Context, tx *act.Tx, t *travel) (err error) {
	w := &telling{Service: s, tx: tx, t: t, people: map[uuid.UUID]accounts.Person{}}
	if w.practice, w.zone, err = practice.PracticeZone(ctx, tx); err != nil {
		return err
	}
	// What was true as each of them happened.
	r := route.Replay(t.had)
	for _, e := range t.Events {
		was := r
		r = r.Apply(e)
		if err := w.event(ctx, e, was, r); err != nil {
			return err
		}
	}
	return nil
}

// event tells of one thing that happened to the run.
func (w *telling) event(ctx context.Context, e route.Event, was, now route.Run) error {
	if err := w.record(ctx, e, was); err != nil {
		return err
	}
	switch e.Kind {
	case route.EvCame, route.EvAsked, route.EvTook:
		for _, a := range e.Asks {
			if a.Due != nil && (e.Kind != route.EvTook || a.Person != *e.By) {
				if err := w.asks(ctx, a.Asked, *a.Due, now, ""); err != nil {
					return err
				}
			}
		}
	case route.EvTurn:
		return w.asks(ctx, route.Asked{Person: *e.To}, *e.Due, now, "")
	case route.EvHanded:
		if e.Due != nil {
			return w.asks(ctx, route.Asked{Person: *e.To, For: e.From}, *e.Due, now, e.Note)
		}
	case route.EvBack:
		return w.returned(ctx, e, was)
	case route.EvReminded:
		return w.one(ctx, *e.To, notices.DecisionReminded, now, letters.DecisionReminds, nil)
	case route.EvLate:
		return w.late(ctx, e, now)
	case route.EvQuestion:
		return w.question(ctx, e, now)
	case route.EvHeld, route.EvEnd:
		return w.over(ctx, e, now)
	}
	return nil
}

// recorded are the kinds of events by what happened to a run.
var recorded = map[route.EventKind]events.Of[events.Deciding]{
	route.EvTook: events.DecisionTakenBack, route.EvHanded: events.DecisionHandedOn, route.EvQuestion: events.DecisionQuestion, route.EvHeld: events.RunHeld,
}

func (w *telling) record(ctx context.Context, e route.Event, was route.Run) error {
	kind, known := recorded[e.Kind]
	data := w.about(was)
	var by events.Actor
	switch e.Kind {
	case route.EvStarted:
		kind, known, data.Doing, data.Stop = events.RunStarted, true, "", 0
		if w.t.edition.RouteID == nil {
			kind, data.Doing = events.DecisionAsked, string(w.t.Definition.Stops[0].Cases[0].Do)
		}
	case route.EvSaid:
		kind, known = events.DecisionGiven, true
		if e.Said.Verdict == route.Returns {
			kind = events.DecisionReturned
		}
		data.SHA256, data.Pages, data.Seen = e.Said.Content.SHA256, e.Said.Of, looks.Pages(e.Said.Pages).String()
	case route.EvResumed:
		kind, known = events.RunHandedIn, was.Back != nil
	case route.EvLeft:
		kind, known, data.Reason = events.RunSkipped, e.How == route.Skipped, e.Note
	case route.EvEnd:
		known = e.Status != route.Ended
		kind = map[route.Status]events.Of[events.Deciding]{route.Done: events.RunDone, route.Lapsed: events.RunLapsed, route.CalledOff: events.RunCalledOff}[e.Status]
		data.Reason, data.Doing, data.Stop = e.Note, "", 0
	case route.EvHanded:
		to, err := w.person(ctx, *e.To)
		if err != nil {
			return err
		}
		data.Person = to.Name
	case route.EvHeld:
		data.Reason = string(e.Reason)
	}
	if !known {
		return nil
	}
	if e.By == nil && w.t.edition.RouteID != nil && (w.tx.Actor.Person == nil || w.tx.Actor.Route != "") {
		by = events.Actor{Kind: events.ByRoute}
	}
	return w.tx.Record(ctx, act.Event{What: kind.With(data), By: by, Dossier: w.t.at.DossierID, Item: &w.t.ItemID, Version: w.t.Run.Content.Version})
}

// about is what every event of a run says.
func (w *telling) about(r route.Run) events.Deciding {
	d := events.Deciding{Name: w.t.at.Item.Name, SHA256: hex.EncodeToString(w.t.SHA256)}
	if w.t.edition.RouteID != nil {
		d.Route = w.t.Definition.Name
	}
	if r.Visit > 0 {
		d.Stop, d.Doing = r.At.Stop+1, string(w.t.Definition.Stops[r.At.Stop].Cases[r.At.Case].Do)
	}
	return d
}

func (w *telling) person(ctx context.Context, id uuid.UUID) (accounts.Person, error) {
	if p, known := w.people[id]; known {
		return p, nil
	}
	p, err := accounts.PersonByID(ctx, w.tx, id)
	w.people[id] = p
	return p, err
}

// path is the page on which a run stands.
func path(run uuid.UUID) string { return "/decisions/" + run.String() }

// notice tells somebody here, unless they did it themselves.
func (w *telling) notice(ctx context.Context, to uuid.UUID, kind notices.Kind, what string) error {
	if me := w.tx.Actor.Person; me != nil && me.ID == to && w.tx.Actor.Route == "" {
		return nil
	}
	return notices.Add(ctx, w.tx, to, kind, what, path(w.t.ID))
}

// letter is what all letters about a run say.
func (w *telling) letter(r route.Run) letters.Decision {
	l := letters.Decision{Number: w.t.at.Ref(), Name: w.t.at.Item.Name, Version: r.Content.Version, SHA256: r.Content.SHA256, Route: w.t.Definition.Name, Address: w.BaseURL + path(w.t.ID)}
	if w.t.edition.RouteID == nil {
		l.Route = ""
	}
	if r.Visit > 0 {
		a := w.t.Definition.Stops[r.At.Stop].Cases[r.At.Case]
		l.Doing, l.Instructions = string(a.Do), a.Instructions
	}
	if me := w.tx.Actor.Person; me != nil && w.tx.Actor.Route == "" {
		l.By = me.Name
	}
	return l
}

func (w *telling) send(ctx context.Context, to accounts.Person, l letters.Decision) error {
	if me := w.tx.Actor.Person; to.DeactivatedAt != nil || me != nil && me.ID == to.ID && w.tx.Actor.Route == "" {
		return nil
	}
	return w.tx.Send(ctx, letters.Mail{To: to.Email, ToName: to.Name, Language: to.Language, Practice: w.practice.Name, Letter: l})
}

// one tells one person, here and by a letter, to which fill adds what it says besides.
func (w *telling) one(ctx context.Context, person uuid.UUID, kind notices.Kind, r route.Run, what letters.DecisionWhat, fill func(l *letters.Decision)) error {
	to, err := w.person(ctx, person)
	if err != nil {
		return err
	}
	if err := w.notice(ctx, person, kind, w.t.at.Item.Name); err != nil {
		return err
	}
	l := w.letter(r)
	l.What = what
	if fill != nil {
		fill(&l)
	}
	return w.send(ctx, to, l)
}

// asks tells somebody that it is their turn.
func (w *telling) asks(ctx context.Context, a route.Asked, due time.Time, r route.Run, note string) error {
	instead := ""
	if a.For != nil {
		person, err := w.person(ctx, *a.For)
		if err != nil {
			return err
		}
		instead = person.Name
	}
	way, err := w.way(ctx, a.Person, r)
	if err != nil {
		return err
	}
	return w.one(ctx, a.Person, notices.DecisionAsked, r, letters.DecisionAsks, func(l *letters.Decision) {
		l.Note, l.For, l.Way = note, instead, way
		if !due.IsZero() {
			l.Due = due.In(w.zone).Format("2006-01-02 15:04")
		}
	})
}

// way makes a way to decide from the mail, where the practice allows it: for decisions, and for one time.
func (w *telling) way(ctx context.Context, person uuid.UUID, r route.Run) (string, error) {
	if do := w.t.Definition.Stops[r.At.Stop].Cases[r.At.Case].Do; !w.practice.DecidesByMail || do != route.Approve && do != route.Review && do != route.Work {
		return "", nil
	}
	token := secret.Token()
	return w.BaseURL + "/decide/" + token, addWay(ctx, w.tx, secret.Hash(token), w.t.ID, person, r.Visit, w.tx.Now.Add(wayLasts))
}

// wayLasts is how long a way in a mail can be used.
const wayLasts = 14 * 24 * time.Hour

func (w *telling) returned(ctx context.Context, e route.Event, was route.Run) error {
	return w.one(ctx, *e.To, notices.DecisionReturned, was, letters.DecisionReturned, func(l *letters.Decision) { l.Note = w.saidBy(*e.By) })
}

// saidBy is the reason that somebody has just given.
func (w *telling) saidBy(person uuid.UUID) string {
	for i := len(w.t.Events) - 1; i >= 0; i-- {
		if s := w.t.Events[i].Said; s != nil && s.Person == person {
			return s.Note
		}
	}
	return ""
}

// late tells whoever is late, and those who are to be told of it.
func (w *telling) late(ctx context.Context, e route.Event, r route.Run) error {
	if err := w.one(ctx, *e.To, notices.DecisionLate, r, letters.DecisionLate, nil); err != nil {
		return err
	}
	late, err := w.person(ctx, *e.To)
	if err != nil {
		return err
	}
	a := w.t.Definition.Stops[r.At.Stop].Cases[r.At.Case]
	for _, person := range w.t.Resolve(a.LateTell) {
		if err := w.one(ctx, person, notices.DecisionLateOther, r, letters.DecisionLateOther, func(l *letters.Decision) { l.For = late.Name }); err != nil {
			return err
		}
	}
	return nil
}

// question brings what somebody asks to whoever brought the document and whoever asked for the decision.
func (w *telling) question(ctx context.Context, e route.Event, r route.Run) error {
	told := map[uuid.UUID]bool{uuid.Nil: true, *e.By: true}
	for _, person := range []uuid.UUID{r.Author, r.Starter} {
		if told[person] {
			continue
		}
		told[person] = true
		if err := w.one(ctx, person, notices.DecisionQuestion, r, letters.DecisionQuestion, func(l *letters.Decision) { l.Note = e.Note }); err != nil {
			return err
		}
	}
	return nil
}

// over tells whoever began a run that it has come to its end, or does not go on; without anybody who
// began it, whoever brought the document.
func (w *telling) over(ctx context.Context, e route.Event, r route.Run) error {
	to := r.Starter
	if to == uuid.Nil {
		to = r.Author
	}
	kind, what := notices.DecisionDone, letters.DecisionDone
	switch {
	case e.Kind == route.EvHeld:
		kind, what = notices.RunHeld, letters.DecisionHeld
	case e.Status != route.Done:
		kind, what = notices.DecisionOver, letters.DecisionOver
	}
	return w.one(ctx, to, kind, r, what, func(l *letters.Decision) {
		l.Note, l.Reason = e.Note, string(e.Reason)
		if e.Status != "" {
			l.Reason = string(e.Status)
		}
	})
}
