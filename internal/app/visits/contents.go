package visits

import (
	"context"
	"slices"
	"time"

	"tabularis/core/items"
	"tabularis/core/linkgate"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/register"
	"tabularis/core/terms"
	"tabularis/internal/app/checkout"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/platform/preview"
)

// Given is a document that a link gives, in the version that it gives.
type Given struct {
	items.Placed
	Give items.Version
	// Look is how it can be looked at.
	Look preview.Look
	// InHand says that somebody works on it and keeps others from downloading it meanwhile.
	InHand bool
}

// Contents is what a visitor sees of a link, in one of its folders.
type Contents struct {
	Link     links.Link
	Code     string
	Sender   accounts.Person
	Sentence terms.Sentence
	Way      []items.Item
	Folders  []items.Item
	Files    []Given
	Bytes    int64
	Count    int
	// KeptBack counts what the link would give, if it did not hold what must not
	// leave the practice.
	KeptBack int
	// ToSign says that what is given is to be signed by whoever has the link.
	ToSign bool
}

// Given shows what the link gives. folder is zero for the link's top.
func (s *Service) Given(ctx context.Context, v Visitor, folder uuid.UUID) (Contents, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	l, _, err := s.in(ctx, q, v)
	if err != nil {
		return Contents{}, err
	}
	c := Contents{Link: l}
	g, err := s.given(ctx, q, l)
	if err != nil {
		return c, err
	}
	for i, f := range g.files {
		g.files[i].Look = s.look(l, f)
		c.Bytes += f.Give.Size
	}
	c.Count, c.KeptBack = len(g.files), g.keptBack
	if l.Kind == linkgate.Transfer {
		c.Files = g.files // In whatever folders they were, they were sent together.
	} else if err := c.walk(ctx, q, g, folder); err != nil {
		return c, err
	}
	if c.Sender, err = accounts.PersonByID(ctx, q, l.CreatedBy); err != nil {
		return c, err
	}
	if s.Signs != nil {
		if c.ToSign, err = s.Signs(ctx, q, l.ID); err != nil {
			return c, err
		}
	}
	d, err := tree.DossierByID(ctx, q, l.DossierID)
	if err != nil {
		return c, err
	}
	c.Code = d.Code
	c.Sentence, err = s.sentence(ctx, q, l, g, now)
	return c, err
}

func (s *Service) sentence(ctx context.Context, q postgres.Q, l links.Link, g gift, now time.Time) (terms.Sentence, error) {
	_, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return nil, err
	}
	t := terms.Link{Files: len(g.files), Terms: l.Terms}
	if top := g.top(); top != nil {
		t.Folder = top.Name
	}
	var left *int
	if l.Terms.Openings != nil {
		n := max(0, *l.Terms.Openings-l.Openings)
		left = &n
	}
	return t.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: now}, left), nil
}

// gift is all that a link gives: the chosen items that still are, and every
// document among and below them.
type gift struct {
	chosen []guard.LinkItem
	files  []Given
	// keptBack counts what must not leave the practice.
	keptBack int
}

// top is the folder, when a single one was given.
func (g gift) top() *items.Item {
	if len(g.chosen) == 1 && g.chosen[0].Kind == items.Folder {
		return &g.chosen[0].Item
	}
	return nil
}

func (s *Service) given(ctx context.Context, q postgres.Q, l links.Link) (gift, error) {
	var g gift
	chosen, err := guard.LinkItems(ctx, q, []uuid.UUID{l.ID})
	if err != nil {
		return g, err
	}
	var pins map[uuid.UUID]items.Version
	if !l.Newest {
		pinned, err := PinnedVersions(ctx, q, l.ID)
		if err != nil {
			return g, err
		}
		pins = map[uuid.UUID]items.Version{}
		for _, p := range pinned {
			pins[p.ItemID] = p
		}
	}
	seen := map[uuid.UUID]bool{}
	add := func(i items.Placed) {
		give := items.Version{ItemID: i.ID, Number: i.Version, SHA256: i.SHA256, Size: i.Size, MediaType: i.MediaType, CreatedAt: i.CreatedAt}
		if pins != nil {
			pin, there := pins[i.ID]
			if !there {
				return
			}
			give = pin
		}
		if !seen[i.ID] {
			seen[i.ID] = true
			g.files = append(g.files, Given{Placed: i, Give: give})
		}
	}
	for _, c := range chosen {
		path, err := tree.PathOf(ctx, q, c.ID)
		if err != nil {
			return g, err
		}
		if len(path) == 0 {
			continue
		}
		g.chosen = append(g.chosen, c)
		if c.Kind == items.Document {
			add(items.Placed{Item: c.Item})
			continue
		}
		below, err := tree.GivenUnder(ctx, q, c.ID)
		if err != nil {
			return g, err
		}
		for _, d := range below {
			if len(chosen) > 1 {
				d.Way = c.Name + "/" + d.Way
			}
			add(d)
		}
	}
	if l.Newest {
		if err := s.keepBack(ctx, q, &g); err != nil {
			return g, err
		}
	}
	return g, markInHand(ctx, q, g.files)
}

// markInHand notes which documents somebody works on who keeps others from downloading
// them: whoever that is, a visitor is another.
func markInHand(ctx context.Context, q postgres.Q, files []Given) error {
	ids := make([]uuid.UUID, len(files))
	for i, f := range files {
		ids[i] = f.ID
	}
	kept, err := checkout.KeptFrom(ctx, q, ids, uuid.Nil)
	for i := range files {
		files[i].InHand = slices.Contains(kept, files[i].ID)
	}
	return err
}

// one is a document of a gift, without the rest of it: a page picture of one among ten
// thousand looks at that one. What is not given is not there.
func (s *Service) one(ctx context.Context, q postgres.Q, l links.Link, id uuid.UUID) (Given, error) {
	placed, err := tree.PlacedByID(ctx, q, id)
	if err != nil {
		return Given{}, err
	}
	path, err := tree.PathOf(ctx, q, id)
	if err != nil {
		return Given{}, err
	}
	chosen, err := guard.LinkItems(ctx, q, []uuid.UUID{l.ID})
	if err != nil {
		return Given{}, err
	}
	by := slices.IndexFunc(chosen, func(c guard.LinkItem) bool {
		// Closed things come with nothing but themselves.
		return c.ID == id || c.Kind == items.Folder && c.Zone == placed.Zone && slices.Contains(path, c.ID)
	})
	if placed.Kind != items.Document || len(path) == 0 || by < 0 {
		return Given{}, fault.Missing()
	}
	f := Given{Placed: placed, Give: items.Version{ItemID: id, Number: placed.Version, SHA256: placed.SHA256, Size: placed.Size, MediaType: placed.MediaType, CreatedAt: placed.CreatedAt}}
	g := gift{files: []Given{f}}
	if l.Newest {
		err = s.keepBack(ctx, q, &g)
	} else {
		g.files[0].Give, err = PinnedVersion(ctx, q, l.ID, id)
	}
	if err != nil {
		return Given{}, err
	}
	if len(g.files) == 0 {
		return Given{}, fault.Missing()
	}
	return g.files[0], markInHand(ctx, q, g.files)
}

// keepBack takes out of a gift what has come in since the link was made and must
// not leave the practice.
func (s *Service) keepBack(ctx context.Context, q postgres.Q, g *gift) error {
	content := func(f Given) sensitive.Content {
		return sensitive.Content{Item: f.Item, SHA256: f.Give.SHA256, Size: f.Give.Size, MediaType: f.Give.MediaType}
	}
	contents := make([]sensitive.Content, len(g.files))
	for i, f := range g.files {
		contents[i] = content(f)
	}
	passes, err := s.Sensitive.Passes(ctx, q, contents)
	if err != nil {
		return err
	}
	g.files = slices.DeleteFunc(g.files, func(f Given) bool { return !passes(content(f)) })
	g.keptBack = len(contents) - len(g.files)
	return nil
}

// walk fills in one folder of the gift, or its top.
func (c *Contents) walk(ctx context.Context, q postgres.Q, g gift, folder uuid.UUID) error {
	top := g.top()
	if folder == uuid.Nil && top == nil {
		for _, i := range g.chosen {
			if i.Kind == items.Folder {
				c.Folders = append(c.Folders, i.Item)
			}
		}
		for _, f := range g.files {
			if slices.ContainsFunc(g.chosen, func(i guard.LinkItem) bool { return i.ID == f.ID }) {
				c.Files = append(c.Files, f)
			}
		}
		return nil
	}
	if folder == uuid.Nil {
		folder = top.ID
	}
	if err := c.findWay(ctx, q, g, folder); err != nil {
		return err
	}
	children, err := tree.Children(ctx, q, folder)
	if err != nil {
		return err
	}
	if c.Link.Newest {
		c.Folders = children
		children = nil
	}
	for _, child := range children {
		below, err := tree.GivenUnder(ctx, q, child.ID)
		if err != nil {
			return err
		}
		gives := func(d items.Placed) bool {
			return slices.ContainsFunc(g.files, func(f Given) bool { return f.ID == d.ID })
		}
		if slices.ContainsFunc(below, gives) {
			c.Folders = append(c.Folders, child)
		}
	}
	for _, f := range g.files {
		if *f.ParentID == folder {
			c.Files = append(c.Files, f)
		}
	}
	return nil
}

// findWay refuses folders that the link does not give.
func (c *Contents) findWay(ctx context.Context, q postgres.Q, g gift, folder uuid.UUID) error {
	path, err := tree.ZonePathOf(ctx, q, folder)
	if err != nil {
		return err
	}
	slices.Reverse(path)
	from := slices.IndexFunc(path, func(id uuid.UUID) bool {
		return slices.ContainsFunc(g.chosen, func(i guard.LinkItem) bool { return i.ID == id && i.Kind == items.Folder })
	})
	if from < 0 {
		return fault.Missing()
	}
	for _, id := range path[from:] {
		f, err := tree.ItemByID(ctx, q, id)
		if err != nil {
			return err
		}
		c.Way = append(c.Way, f)
	}
	return nil
}

// Ref is the register number under which the practice speaks of a document.
func (c Contents) Ref(g Given) string {
	return register.Ref{Code: c.Code, Number: *g.Number}.String()
}

// look is how a document can be looked at under the link's terms: by its own
// bytes, or in pages, where nothing may be downloaded, downloads are counted, or
// only they show it.
func (s *Service) look(l links.Link, g Given) preview.Look {
	return s.Pages.Look(g.Give.MediaType, l.MayDownload && !g.InHand && (l.Terms.Downloads == nil || !s.Pages.Can(g.Give.MediaType)))
}
