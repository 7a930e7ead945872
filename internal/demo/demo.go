// Package demo fills a practice with the made-up scenario: real files, several
// weeks of history by several people, and links in every state. All of it goes
// through the use cases, at the moments it is said to have happened.
package demo

import (
	"bytes"
	"cmp"
	"context"
	_ "embed"
	"fmt"
	"hash/fnv"
	"io"
	"slices"
	"strings"
	"time"

	"tabularis/internal/doors/web"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/remarks"
	"tabularis/internal/app/tags"
	"tabularis/internal/app/versions"

	"github.com/google/uuid"

	rules "tabularis/core/access"
	"tabularis/core/checkout"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/links"
	"tabularis/internal/app/people"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/secret"
)

// Password is what every colleague of the demo signs in with.
const Password = "tessaly-harbour"

//go:embed files/ballast-pump.webm
var video []byte

// Clock is a clock that can be set.
type Clock struct{ at time.Time }

// Now is the moment that was set last, or the present.
func (c *Clock) Now() time.Time {
	if c.at.IsZero() {
		return time.Now()
	}
	return c.at
}

type loader struct {
	*web.Server
	clock     *Clock
	now       time.Time
	people    map[string]accounts.Person
	groups    map[string]uuid.UUID
	dossiers  map[string]uuid.UUID
	folders   map[string]uuid.UUID
	documents map[string]uuid.UUID
	steps     []step
	progress  func(done, all int)
}

// step is something that happened at a moment.
type step struct {
	at time.Time
	do func(ctx context.Context) error
}

// Load fills an empty practice. progress, which may be nil, is told how far it
// has come. The clock must be the one that the server's acts use.
func Load(ctx context.Context, s *web.Server, passwords *secret.Passwords, clock *Clock, progress func(done, all int)) error {
	l := &loader{Server: s, clock: clock, now: time.Now().UTC(), people: map[string]accounts.Person{}, groups: map[string]uuid.UUID{}, dossiers: map[string]uuid.UUID{}, folders: map[string]uuid.UUID{}, documents: map[string]uuid.UUID{}, progress: progress}
	defer func() { clock.at = time.Time{} }()
	if err := l.practice(ctx, passwords); err != nil {
		return fmt.Errorf("making the practice: %w", err)
	}
	for _, b := range bodies {
		l.plan(when(l.now, b.ago, "08:30"), func(ctx context.Context) error { return l.body(ctx, b) })
	}
	for i, p := range papersOf() {
		for v := range p.ago {
			clockTime := fmt.Sprintf("%02d:%02d", 9+(i*3+v*2)%8, (i*17+v*29)%60)
			l.plan(when(l.now, p.ago[v], clockTime), func(ctx context.Context) error { return l.paper(ctx, p, v) })
		}
	}
	for key, o := range outsiders {
		l.plan(when(l.now, o.invited, "08:40"), func(ctx context.Context) error { return l.invite(ctx, key, o) })
	}
	for _, c := range circles {
		l.plan(when(l.now, 25, "09:10"), func(ctx context.Context) error { return l.group(ctx, c.name, c.members) })
	}
	for _, a := range lettings {
		l.plan(when(l.now, a.ago, "16:40"), func(ctx context.Context) error { return l.access(ctx, a) })
	}
	for _, c := range shut {
		l.plan(when(l.now, c.ago, "16:55"), func(ctx context.Context) error {
			return l.Sharing.SetClosed(l.as(ctx, c.by), l.item(c.dossier, c.item), true)
		})
	}
	for _, g := range taggings {
		l.plan(when(l.now, g.ago, "08:20"), func(ctx context.Context) error {
			w := tags.Wish{Put: g.names, Own: g.own}
			for _, name := range g.items {
				w.Documents = append(w.Documents, l.item(g.dossier, name))
			}
			return l.Tags.Set(l.as(ctx, g.by), w)
		})
	}
	l.plan(when(l.now, 24, "11:30"), func(ctx context.Context) error { return l.define(l.as(ctx, "hanne")) })
	for _, n := range noted {
		l.plan(when(l.now, n.ago, "16:10"), func(ctx context.Context) error {
			return l.note(l.as(ctx, n.by), l.item(n.dossier, n.item), n.surveyed, n.values)
		})
	}
	for _, r := range jottings {
		l.plan(when(l.now, r.ago, "17:20"), func(ctx context.Context) error { return l.jot(l.as(ctx, r.by), r) })
	}
	for _, s := range sayings {
		var thread uuid.UUID
		l.plan(when(l.now, s.ago, s.clock), func(ctx context.Context) (err error) {
			thread, err = l.say(ctx, s, l.item(s.dossier, s.item), nil)
			return err
		})
		for _, a := range s.answers {
			l.plan(when(l.now, a.ago, a.clock), func(ctx context.Context) error {
				_, err := l.say(ctx, a, l.item(s.dossier, s.item), &thread)
				return err
			})
		}
	}
	for _, h := range holdings {
		l.plan(when(l.now, h.ago, h.clock), func(ctx context.Context) error {
			back := l.clock.Now().Add(time.Duration(h.hours) * time.Hour)
			return l.Checkout.Take(l.as(ctx, h.by), []uuid.UUID{l.item(h.dossier, h.item)}, checkout.Terms{Note: h.note, Back: &back})
		})
	}
	for _, d := range discarded {
		l.plan(when(l.now, d.ago, d.clock), func(ctx context.Context) error {
			_, _, err := l.Deletion.Delete(l.as(ctx, d.by), []uuid.UUID{l.item(d.dossier, d.item)}, d.reason)
			return err
		})
	}
	for _, g := range gifts {
		l.give(g)
	}
	l.deliveries()
	l.decide()
	l.sign()
	l.together()
	l.gauge()
	l.instruct()
	for _, s := range sendings {
		l.send(s)
	}
	for ago := range sealedDays {
		l.plan(when(l.now, ago, "06:00"), l.Evidence.SealAll)
	}
	if err := l.run(ctx); err != nil {
		return err
	}
	if err := l.Evidence.SetWitnesses(l.as(ctx, "hanne"), []string{colleagues["hanne"].email}); err != nil {
		return fmt.Errorf("naming a witness: %w", err)
	}
	return l.Evidence.Check(ctx)
}

// sealedDays is for how many days the demo's log is sealed each morning.
const sealedDays = 35

func (l *loader) plan(at time.Time, do func(ctx context.Context) error) {
	l.steps = append(l.steps, step{at, do})
}

func (l *loader) run(ctx context.Context) error {
	slices.SortStableFunc(l.steps, func(a, b step) int { return a.at.Compare(b.at) })
	all := len(l.steps)
	for i := 0; i < len(l.steps); i++ {
		l.clock.at = l.steps[i].at
		if err := l.steps[i].do(ctx); err != nil {
			return fmt.Errorf("at %s: %w", l.steps[i].at.Format(time.DateTime), err)
		}
		if l.progress != nil {
			l.progress(i+1, all)
		}
	}
	return nil
}

// namedTerms are those that the practice named.
const namedTerms = `[{"name": "as for insurers", "words": "two weeks, password, without download"}, {"name": "drafts for the yard", "words": "a week, five openings, newest version"}]`

func (l *loader) practice(ctx context.Context, passwords *secret.Passwords) error {
	err := practice.PutPractice(ctx, l.Acts.DB, practice.Practice{Name: "Halyard & Rook", Tagline: "marine surveyors, Tessaly", Timezone: "UTC", LongestLinkDays: 90,
		Helper: "Hanne Solvik, practice manager, hanne.solvik@halyard-rook.example, 07700 900110"})
	if err != nil {
		return err
	}
	if err := putNamedTerms(ctx, l.Acts.DB, namedTerms); err != nil {
		return err
	}
	hash, err := passwords.Hash(ctx, Password)
	if err != nil {
		return err
	}
	for key, c := range colleagues {
		p := accounts.Person{ID: uuid.Must(uuid.NewV7()), Email: c.email, EmailKey: sessions.Key(c.email), Name: c.name, Role: c.role, Phone: c.phone, Standing: c.standing, PasswordHash: hash, CreatedAt: l.now.AddDate(0, -6, 0)}
		if err := people.AddPerson(ctx, l.Acts.DB, p); err != nil {
			return err
		}
		l.people[key] = p
		if err := putSeen(ctx, l.Acts.DB, p.ID, when(l.now, c.seen, "17:10"), when(l.now, 15, "09:00")); err != nil {
			return err
		}
	}
	return nil
}

// as is the context in which a colleague acts from the office.
func (l *loader) as(ctx context.Context, who string) context.Context {
	p := l.people[who]
	return act.As(ctx, act.Actor{Person: &p, Network: "192.0.2.41", Agent: "Firefox, Linux"})
}

// let gives access on an item; what may be edited may be passed on.
func (l *loader) let(ctx context.Context, item uuid.UUID, level rules.Level, until *time.Time, to ...sharing.Recipient) error {
	return l.Sharing.Give(ctx, sharing.Wish{Items: []uuid.UUID{item}, To: to, Terms: sharing.Terms{Level: level, Onward: level == rules.LevelEdit, Until: until}})
}

// invite makes the account of somebody from outside; most of them have come in
// since.
func (l *loader) invite(ctx context.Context, key string, o outsider) error {
	p, err := l.People.InviteByMail(l.as(ctx, o.by), people.Invitation{Name: o.name, Email: o.email, Organisation: o.organisation, Standing: accounts.Guest})
	if err != nil {
		return err
	}
	l.people[key] = p
	if o.entered < 0 {
		return nil
	}
	return sessions.NoteSignIn(ctx, l.Acts.DB, p.ID, when(l.now, o.entered, "10:20"))
}

func (l *loader) group(ctx context.Context, name string, members []string) error {
	ctx = l.as(ctx, "hanne")
	g, err := l.People.MakeGroup(ctx, name)
	if err != nil {
		return err
	}
	l.groups[name] = g.ID
	for _, m := range members {
		id := l.people[m].ID
		if err := l.People.AddMember(ctx, g.ID, people.Member{Person: &id}); err != nil {
			return err
		}
	}
	return nil
}

func (l *loader) access(ctx context.Context, a letting) error {
	var to []sharing.Recipient
	for _, who := range a.to {
		switch id, isGroup := l.groups[who]; {
		case who == "everyone":
			to = append(to, sharing.Recipient{Kind: rules.Everyone})
		case isGroup:
			to = append(to, sharing.Recipient{Kind: rules.Group, ID: id})
		default:
			to = append(to, sharing.Recipient{ID: l.people[who].ID})
		}
	}
	var until *time.Time
	if a.days > 0 {
		y, m, d := l.now.Date()
		end := time.Date(y, m, d+a.days, 18, 0, 0, 0, time.UTC)
		until = &end
	}
	return l.let(l.as(ctx, a.by), l.item(a.dossier, a.item), rules.Level(a.level), until, to...)
}

// item finds a document or folder of a dossier by its name; none is its top.
func (l *loader) item(dossier, name string) uuid.UUID {
	if name == "" {
		return l.dossiers[dossier]
	}
	if id, ok := l.documents[dossier+" "+name]; ok {
		return id
	}
	return l.folders[dossier+" "+name]
}

func (l *loader) jot(ctx context.Context, r jotting) error {
	of := &versions.Service{Acts: l.Acts, Items: l.Uploads.Items}
	document := l.item(r.dossier, r.item)
	switch {
	case r.removed:
		return of.Remove(ctx, document, r.version)
	case r.title != "":
		return of.Describe(ctx, document, r.version, &r.title, nil)
	}
	return of.Describe(ctx, document, r.version, nil, &r.note)
}

// say says something about an item, and settles what is settled.
func (l *loader) say(ctx context.Context, s saying, item uuid.UUID, thread *uuid.UUID) (uuid.UUID, error) {
	w := remarks.Wish{Text: s.text, Place: s.place, Thread: thread}
	for key, p := range l.people {
		if strings.Contains(w.Text, "@"+key) {
			w.Text, w.Named = strings.ReplaceAll(w.Text, "@"+key, "@"+p.Name), append(w.Named, p.ID)
		}
	}
	id, err := l.Remarks.Write(l.as(ctx, s.by), item, w)
	if err == nil && s.resolved {
		err = l.Remarks.Resolve(l.as(ctx, "luca"), id, true)
	}
	return id, err
}

func (l *loader) body(ctx context.Context, b body) error {
	ctx = l.as(ctx, b.owner)
	made, err := l.Dossiers.Make(ctx, dossiers.New{Code: b.code, Particulars: items.Particulars{Name: b.name, Kind: b.kind, Client: b.client, Subject: b.subject}})
	if err != nil {
		return err
	}
	l.dossiers[b.code] = made.ID
	for _, who := range []string{"ines", "tomasz", "priya", "luca", "hanne"} {
		if level, in := b.members[who]; in {
			if err := l.let(ctx, made.ID, rules.Level(level), nil, sharing.Recipient{ID: l.people[who].ID}); err != nil {
				return err
			}
		}
	}
	for _, path := range b.folders {
		parent, way := made.ID, ""
		for part := range strings.SplitSeq(path, "/") {
			way = strings.TrimPrefix(way+"/"+part, "/")
			if id, there := l.folders[b.code+" "+way]; there {
				parent = id
				continue
			}
			f, err := l.Dossiers.MakeFolder(ctx, parent, part)
			if err != nil {
				return err
			}
			parent = f.ID
			l.folders[b.code+" "+way] = f.ID
		}
	}
	return nil
}

func (l *loader) paper(ctx context.Context, p paper, version int) error {
	data := l.bytes(p, version)
	ctx = l.as(ctx, p.from[version%len(p.from)])
	u, err := l.Uploads.Put(ctx, uploads.Wish{Folder: l.folders[p.dossier+" "+p.folder], Name: p.name, Size: int64(len(data))}, bytes.NewReader(data))
	if err != nil {
		return fmt.Errorf("%s in %s: %w", p.name, p.dossier, err)
	}
	l.documents[p.dossier+" "+p.name] = *u.ItemID
	return nil
}

// bytes makes the content of a version.
func (l *loader) bytes(p paper, version int) []byte {
	vessel := "Ferry Corran Lass"
	for _, b := range bodies {
		if b.code == p.dossier && b.vessel != "" {
			vessel = b.vessel
		}
	}
	// Each paper has a chance of its own, the same for all its versions.
	seed := fnv.New64a()
	_, _ = seed.Write([]byte(p.dossier + p.name))
	maker := newPapers(seed.Sum64())
	author := colleagues[p.from[0]]
	title, _, _ := strings.Cut(p.name, ".")
	at := l.clock.Now()
	switch p.kind {
	case "csv":
		return maker.readingsCSV(12, 44, version)
	case "photo":
		return maker.photograph()
	case "sound":
		return maker.sound()
	case "video":
		return video
	case "estimate":
		return maker.estimate(vessel, version, at)
	case "engagement":
		return maker.engagement(vessel, cmp.Or(l.client(p.dossier), "the client"), author.name, at)
	case "letter":
		return maker.letter(letterTo, title+", "+vessel, letterText+strings.Repeat(letterMore, version), author.name+"\n"+author.role, at)
	case "german":
		return maker.letter(germanTo, title, germanText+strings.Repeat(germanReply, version), author.name+"\n"+author.role, at)
	case "fee":
		return maker.letter(letterTo, title+", "+vessel, feeText, author.name+"\n"+author.role, at)
	case "scan":
		return maker.scanned(title, scannedLines, at)
	case "mail":
		attached := maker.letter("Halyard & Rook\nTessaly", "Confirmation of docking", mailText, "Odile Charron\nfleet manager", at)
		return maker.email("Odile Charron <odile.charron@brackwater.example>", author.name+" <"+author.email+">", title, mailText, "Confirmation of docking.pdf", attached, at)
	case "agreement":
		return agreement(version)
	case "form":
		return []byte(formText + strings.Repeat(formMore, version) + formEnd)
	case "note":
		return maker.note(title, append(noteText[:len(noteText):len(noteText)], noteMore[:version]...)...)
	}
	return maker.report(title, vessel, at, p.kind, version)
}

// client is for whom a dossier's work is done.
func (l *loader) client(code string) string {
	for _, b := range bodies {
		if b.code == code {
			return b.client
		}
	}
	return ""
}

// give plans a link and what became of it.
func (l *loader) give(g given) {
	var made links.Shown
	at := when(l.now, g.ago, g.clock)
	l.plan(at, func(ctx context.Context) error {
		ctx = l.as(ctx, g.by)
		y, m, d := at.Date()
		until := time.Date(y, m, d+g.days, 18, 0, 0, 0, time.UTC)
		w := links.Wish{Name: g.name, UntilSet: true, Password: g.password, Language: "en", Expected: g.expected, Terms: linkgate.Terms{Until: &until, Newest: g.newest, MayDownload: g.only == ""}}
		if g.only != "" {
			w.Identify = linkgate.Stated
		}
		if g.expected != nil {
			w.Kind, w.Tell = linkgate.Intake, linkgate.TellEach
		}
		if g.openings > 0 {
			w.Openings = &g.openings
		}
		for _, item := range g.items {
			w.Items = append(w.Items, l.item(g.dossier, item))
		}
		var err error
		if made, err = l.Links.Make(ctx, w); err != nil || g.sent == "" {
			return err
		}
		return l.Links.Mail(ctx, made.ID, []string{g.sent}, g.message)
	})
	for _, v := range g.visits {
		l.plan(when(l.now, v.ago, v.clock), func(ctx context.Context) error { return l.visit(ctx, g, v, made.Address) })
	}
	if g.ended > 0 {
		l.plan(when(l.now, g.ended, "08:15"), func(ctx context.Context) error { return l.Links.End(l.as(ctx, g.by), made.ID) })
	}
}

func (l *loader) visit(ctx context.Context, g given, v visit, address string) error {
	ctx = act.As(ctx, act.Actor{Network: v.network, Agent: v.agent})
	who := visits.Visitor{Link: address[strings.LastIndex(address, "/")+1:]}
	for range v.wrong {
		if _, _, err := l.Visits.Open(ctx, who, visits.Claim{Password: "not this one"}); !fault.Is(err, fault.Forbidden) {
			return fmt.Errorf("a wrong password gave %w", err)
		}
	}
	token, link, err := l.Visits.Open(ctx, who, visits.Claim{Password: g.password, Email: g.only})
	if fault.Is(err, fault.Gone) {
		return nil // the link is used up or over: that is its story
	}
	if err != nil {
		return fmt.Errorf("opening %q: %w", g.name, err)
	}
	who.Visits = map[string]string{link.ID.String(): token}
	switch {
	case g.expected != nil:
		return l.handIn(ctx, who)
	case g.only != "":
		return l.lookAt(ctx, g, v, who)
	}
	for fetch, names := range map[bool][]string{false: v.looks, true: v.takes} {
		for _, name := range names {
			f, err := l.Visits.File(ctx, who, l.documents[g.dossier+" "+name], fetch)
			if err != nil {
				return fmt.Errorf("reading %s through %q: %w", name, g.name, err)
			}
			if _, err := io.Copy(io.Discard, f); err != nil {
				return err
			}
			if err := f.Close(); err != nil {
				return err
			}
		}
	}
	return nil
}

// handIn hands some of the expected papers in.
func (l *loader) handIn(ctx context.Context, who visits.Visitor) error {
	for _, name := range handedIn {
		data := newPapers(7).report(name, "Tug Pellew", l.clock.Now(), "short", 0)
		if _, err := l.Uploads.Put(l.Visits.Bringing(ctx, who), uploads.Wish{Name: strings.ToLower(name) + ", pellew.pdf", Size: int64(len(data))}, bytes.NewReader(data)); err != nil {
			return fmt.Errorf("handing %q in: %w", name, err)
		}
	}
	_, err := l.Visits.HandIn(ctx, who, visits.Signed{Name: "Marit Juhl", Email: "marit.juhl@pelham-dock.example", Note: "The docking plan follows on Monday."})
	return err
}

// lookAt looks at marked pages, and some minutes later says how long.
func (l *loader) lookAt(ctx context.Context, g given, v visit, who visits.Visitor) error {
	for _, name := range v.looks {
		id := l.documents[g.dossier+" "+name]
		o, err := l.Visits.Outline(ctx, who, id)
		if err != nil {
			return fmt.Errorf("looking at %s: %w", name, err)
		}
		looked := visits.Looked{Seconds: 200}
		for n := range min(len(o.Pages), 4) {
			looked.Pages = append(looked.Pages, n+1)
		}
		l.plan(l.clock.Now().Add(4*time.Minute), func(context.Context) error { return l.Visits.Look(ctx, who, id, looked) })
	}
	return nil
}
