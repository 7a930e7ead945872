package links

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"tabularis/core/scan"

	"tabularis/core/items"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/core/register"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sensitive"
)

// Wish is what somebody wants to give out, or to take in, and under which terms. No
// end with UntilSet means without one; without UntilSet the usual one. No kind is a
// hand-out.
type Wish struct {
	Items    []uuid.UUID
	Name     string
	UntilSet bool
	linkgate.Terms
	// Password is the password itself; none is none.
	Password string
	Language string
	// Expected are the papers that an intake waits for.
	Expected []string
	// Announced is how many files of a transfer are yet to arrive.
	Announced int
	transfer  bool
}

// Draft is what a link would be and do.
type Draft struct {
	Sentence     terms.Sentence
	Offers       []string
	Name, Title  string
	Files        int
	Bytes        int64
	LinkedBefore int
	Latest       time.Time
	Usual        time.Time
	// Own is when the right of whoever gives it out ends, if it does.
	Own *time.Time
	// Code is that of the dossier, Sensitive what was found, and Forbidden says that
	// it therefore cannot be given out.
	Code      string
	Sensitive sensitive.Report
	Forbidden bool
	// Refused is why it cannot be made like this, and Kinds what it could be.
	Refused error
	Kinds   []string
}

// plan is a checked wish.
type plan struct {
	wish     Wish
	practice practice.Practice
	zone     *time.Location
	// code is that of the dossier of what was chosen first, codes are those of all.
	code      string
	codes     map[uuid.UUID]string
	items     []items.Item
	documents []items.Placed
	name      string
	// own is when the right of whoever gives it out ends.
	own *time.Time
	// fillable says that what was chosen is a form.
	fillable bool
	// refused is a rule of the practice, or of what was chosen, that forbids the
	// terms as they are.
	refused error
}

// DraftTransfer says what a transfer of items, or of what lies in a folder, would mean.
func (s *Service) DraftTransfer(ctx context.Context, w Wish) (Draft, error) {
	w.Kind, w.transfer = linkgate.Transfer, true
	return s.Draft(ctx, w)
}

// Draft says what the wish would mean, before anything is made.
func (s *Service) Draft(ctx context.Context, w Wish) (Draft, error) {
	now := s.Acts.Now()
	p, err := s.check(ctx, s.Acts.DB, w, now)
	if err != nil {
		return Draft{}, err
	}
	d := Draft{Name: p.name, Title: p.title(), Files: len(p.documents), Latest: p.latest(now), Usual: p.usual(now), Own: p.own, Refused: p.refused, Kinds: p.kinds()}
	d.Sentence = p.sentence(p.voice(now))
	if w.Password == "" {
		d.Offers = append(d.Offers, "password")
	}
	if w.Openings == nil {
		d.Offers = append(d.Offers, "openings")
	}
	if w.Identify == linkgate.Anyone {
		d.Offers = append(d.Offers, "identify")
	}
	if len(w.Allowed) == 0 {
		d.Offers = append(d.Offers, "allowed")
	}
	d.Offers = append(d.Offers, p.intakeOffers()...)
	if w.Downloads == nil && p.wish.MayDownload && linkgate.GivesOut(p.wish.Kind) {
		d.Offers = append(d.Offers, "downloads")
	}
	if !w.Remarks && p.wish.Kind == linkgate.HandOut {
		d.Offers = append(d.Offers, "remarks")
	}
	if w.NotBefore == nil {
		d.Offers = append(d.Offers, "notBefore")
	}
	d.Code = p.code
	if d.Sensitive, err = s.Sensitive.Look(ctx, p.contents()); err != nil {
		return Draft{}, err
	}
	d.Forbidden = p.practice.Sensitive == scan.Forbid && len(d.Sensitive.Found) > 0
	folders := map[uuid.UUID][]items.Placed{}
	for _, doc := range p.documents {
		d.Bytes += doc.Size
		folders[*doc.ParentID] = append(folders[*doc.ParentID], doc)
	}
	for folder, docs := range folders {
		counts, err := Reaching(ctx, s.Acts.DB, folder, docs, now)
		if err != nil {
			return Draft{}, err
		}
		d.LinkedBefore += len(counts)
	}
	return d, nil
}

func (p plan) voice(now time.Time) terms.Voice {
	return terms.Voice{Language: p.wish.Language, Zone: p.zone, Now: now}
}

func (p plan) sentence(v terms.Voice) terms.Sentence {
	files, folder := len(p.documents), onlyFolder(p.items)
	if p.wish.transfer {
		files, folder = files+p.wish.Announced, ""
	}
	return terms.Link{Files: files, Folder: folder, Terms: p.wish.Terms}.Sentence(v)
}

func onlyFolder(given []items.Item) string {
	if len(given) == 1 && given[0].Kind == items.Folder {
		return given[0].Name
	}
	return ""
}

// title names what is given out by its register numbers: MER-24/031 and 033.
func (p plan) title() string {
	var parts []string
	var within uuid.UUID
	for _, i := range p.items {
		switch {
		case i.Kind == items.Folder:
			parts = append(parts, i.Name)
		case within != i.DossierID:
			parts, within = append(parts, register.Ref{Code: p.codes[i.DossierID], Number: *i.Number}.String()), i.DossierID
		default:
			parts = append(parts, fmt.Sprintf("%03d", *i.Number))
		}
		if len(parts) == 4 && len(p.items) > 4 {
			return fmt.Sprintf("%s, +%d", strings.Join(parts, ", "), len(p.items)-4)
		}
	}
	return strings.Join(parts, ", ")
}

// usual is two weeks from now at six in the evening, or the practice's limit.
func (p plan) usual(now time.Time) time.Time {
	y, m, d := now.In(p.zone).Date()
	t := time.Date(y, m, d+usualDays, terms.EndOfBusiness, 0, 0, 0, p.zone).UTC()
	if latest := p.latest(now); t.After(latest) {
		return latest
	}
	return t
}

// latest is the end of the last day that the practice allows, or when the right of
// whoever gives it out ends.
func (p plan) latest(now time.Time) time.Time {
	last := p.allowed(now)
	return *access.Earlier(&last, p.own)
}

func (p plan) allowed(now time.Time) time.Time {
	y, m, d := now.In(p.zone).Date()
	return time.Date(y, m, d+p.days(), 23, 59, 59, 0, p.zone).UTC()
}

// days is how many days it may last.
func (p plan) days() int {
	if most := p.practice.TransferDays; p.wish.transfer && most != nil {
		return min(*most, p.practice.LongestLinkDays)
	}
	return p.practice.LongestLinkDays
}

// check refuses what cannot be given out: nothing or too much chosen, items of
// several dossiers, items one may not share, ends in the past or after the
// practice's longest duration, limits out of range, short passwords.
func (s *Service) check(ctx context.Context, q postgres.Q, w Wish, now time.Time) (plan, error) {
	if w.Kind == "" {
		w.Kind = linkgate.HandOut
	}
	if w.transfer != (w.Kind == linkgate.Transfer) || !w.transfer && !slices.Contains(linkgate.Written, w.Kind) {
		return plan{}, fault.KindUnknown.In("kind", "%q is no kind of link", w.Kind)
	}
	p := plan{wish: w}
	p.wish.Terms.Password = w.Password != ""
	if len(w.Items) == 0 || len(w.Items) > 1000 {
		return p, fault.ItemsCount.In("items", "choose between 1 and 1000 items")
	}
	if w.Openings != nil && (*w.Openings < 1 || *w.Openings > maxOpenings) {
		return p, errOpeningsRange.In("openings", "a limit is between 1 and %d openings", maxOpenings)
	}
	if err := checkPassword(w.Password); err != nil {
		return p, err
	}
	err := p.checkVisitors()
	if err != nil {
		return p, err
	}
	if p.practice, p.zone, err = practice.PracticeZone(ctx, q); err != nil {
		return p, err
	}
	if err := s.choose(ctx, q, &p, now); err != nil {
		return p, err
	}
	if err := p.checkKind(); err != nil {
		return p, err
	}
	if p.fillable, err = s.fillable(ctx, &p); err != nil {
		return p, err
	}
	p.refused = p.checkRules(s.Pages.Can)
	t := &p.wish.Terms
	if !w.UntilSet {
		usual := p.usual(now)
		t.Until = &usual
	}
	if t.Until == nil || t.Until.After(p.allowed(now)) {
		return p, fault.UntilTooLate.In("until", "a link ends at the latest after %d days", p.days())
	}
	t.Until = access.Earlier(t.Until, p.own)
	if !t.Until.After(now) {
		return p, fault.UntilPast.In("until", "the end lies in the past")
	}
	if w.NotBefore != nil && !w.NotBefore.Before(*t.Until) {
		return p, errFromAfterUntil.In("notBefore", "the link would end before it begins")
	}
	p.name = p.suggestedName()
	if w.Name != "" {
		p.name, err = names.Check("name", w.Name)
	}
	return p, err
}

// checkVisitors refuses terms about visitors that make no sense. A list of
// addresses needs visitors who say theirs.
func (p *plan) checkVisitors() error {
	w := &p.wish
	if w.Downloads != nil && (*w.Downloads < 1 || *w.Downloads > maxOpenings) {
		return errDownloadsRange.In("downloads", "a limit is between 1 and %d downloads", maxOpenings)
	}
	var err error
	if w.Allowed, err = linkgate.Allowed("allowed", w.Allowed); err != nil {
		return err
	}
	if len(w.Allowed) > 0 && w.Identify == linkgate.Anyone {
		return errAllowedUnknown.In("allowed", "a list of addresses needs visitors who say who they are")
	}
	return nil
}

// checkRules says which rule of the practice, or which chosen document, does not
// go together with the terms.
func (p *plan) checkRules(drawable func(mediaType string) bool) error {
	if err := p.practice.Outward().Refuse(p.wish.Terms); err != nil {
		return err
	}
	return p.checkViewOnly(drawable)
}

// checkViewOnly refuses what cannot be drawn in pages where only that may be
// looked at.
func (p *plan) checkViewOnly(drawable func(mediaType string) bool) error {
	if p.wish.MayDownload {
		return nil
	}
	if p.wish.Downloads != nil {
		return errDownloadsViewOnly.In("downloads", "what is only looked at is not downloaded")
	}
	for _, d := range p.documents {
		if !drawable(d.MediaType) {
			return errCannotBeMarked.In("viewOnly", "%q cannot be shown in marked pages; leave it out or let it be downloaded", d.Name)
		}
	}
	return nil
}

func (s *Service) choose(ctx context.Context, q postgres.Q, p *plan, now time.Time) error {
	seen := map[uuid.UUID]bool{}
	for _, id := range p.wish.Items {
		if seen[id] {
			continue
		}
		seen[id] = true
		need := access.Share
		switch p.wish.Kind {
		case linkgate.Intake:
			need |= access.Add
		case linkgate.Working:
			need |= access.Add | access.Change
		case linkgate.Fill:
			need |= access.Fill
		}
		sight, err := s.Access.Item(ctx, q, id, need, now)
		if err != nil {
			return err
		}
		if err := s.bound(ctx, q, p, sight, now); err != nil {
			return err
		}
		// Copies can be of several dossiers; a link leads into one.
		if len(p.items) > 0 && p.items[0].DossierID != sight.Item.DossierID && !p.wish.transfer {
			return errItemsDossiers.In("items", "one link gives out items of one dossier")
		}
		if len(p.items) == 0 {
			p.code, p.codes = sight.Code, map[uuid.UUID]string{}
		}
		p.items = append(p.items, sight.Item)
		p.codes[sight.Item.DossierID] = sight.Code
		if sight.Item.Kind == items.Document {
			p.documents = append(p.documents, items.Placed{Item: sight.Item, Root: sight.Root, Zone: sight.Zone})
			continue
		}
		if p.wish.Kind == linkgate.Intake || p.wish.transfer && sight.ParentID == nil {
			continue // Nothing of it is given, or nothing is there yet.
		}
		below, err := tree.GivenUnder(ctx, q, id)
		if err != nil {
			return err
		}
		p.documents = append(p.documents, below...)
	}
	return nil
}

// bound bounds a link by what its maker may do with one of the items, and until
// when: nobody lets others do more than they may, or longer.
func (s *Service) bound(ctx context.Context, q postgres.Q, p *plan, item guard.Sight, now time.Time) error {
	have, err := s.Access.Held(ctx, q, item, act.Who(ctx).Person.ID, now)
	if err != nil {
		return err
	}
	give := access.See | access.Download
	switch {
	case p.wish.Kind == linkgate.Intake:
		give = access.Add
	case p.wish.Kind == linkgate.Working:
		give |= access.Add | access.Change
	case p.wish.Kind == linkgate.Fill:
		give = access.Fill
	case !p.wish.MayDownload || !have.Caps().Has(access.Download):
		give, p.wish.MayDownload = access.See, false
	}
	if p.wish.Remarks {
		give |= access.Remark
	}
	until, ok := have.Gives(give)
	if !ok {
		return fault.MoreThanOwn.New("nobody gives more than they may themselves")
	}
	p.own = access.Earlier(p.own, until)
	return nil
}

// checkPassword refuses passwords that are too short or too long; none is none.
func checkPassword(password string) error {
	switch {
	case password != "" && len(password) < minPassword:
		return fault.PasswordShort.In("password", "the password has at least %d characters", minPassword)
	case len(password) > maxPassword:
		return fault.PasswordLong.In("password", "the password has at most %d characters", maxPassword)
	}
	return nil
}

func (p plan) suggestedName() string {
	stem, _ := names.Split(p.items[0].Name)
	if len(p.items) > 1 {
		return fmt.Sprintf("%s +%d", stem, len(p.items)-1)
	}
	return stem
}
