package signing

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/signing"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sharing"
	"tabularis/internal/platform/amend"
	"tabularis/internal/platform/ink"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/signature"
)

// room is how many bytes a signature value with its chain and time stamp may have.
const room = 16_000

// SealLeft lets papers be sealed whose sealing did not come to its end: an authority was away.
func (s *Service) SealLeft(ctx context.Context) error {
	ids, err := unsealed(ctx, s.Acts.DB, s.Acts.Now().Add(-time.Minute))
	if err != nil {
		return err
	}
	var failed []error
	for _, id := range ids {
		failed = append(failed, s.SealPaper(ctx, jobs.SealPaper{Signing: id}))
	}
	return errors.Join(failed...)
}

// SealPaper brings a paper up to what its parties have done: signed by the practice's key, stamped with the time, and in
// the end with all that proves it. What cannot be stamped is tried again; nothing unstamped is ever kept.
func (s *Service) SealPaper(ctx context.Context, job jobs.SealPaper) error {
	for {
		more, err := s.sealNext(ctx, job.Signing)
		switch {
		case fault.Is(err, fault.NotFound):
			return nil
		case err != nil:
			return errors.Join(err, s.trouble(ctx, job.Signing, err))
		case !more:
			return nil
		}
	}
}

// trouble notes why a paper does not come about, and tells its sender once.
func (s *Service) trouble(ctx context.Context, id uuid.UUID, why error) error {
	code := fault.Of(why).Code
	if fault.Of(why).Kind == fault.Internal || code == "" {
		code = "authority-away"
	}
	if errors.Is(why, signature.ErrWithdrawn) {
		code = "seal-withdrawn"
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.take(ctx, tx, id)
		if err != nil || !t.Request.Status.Alive() || t.Trouble == code {
			return err
		}
		t.Trouble = code
		if err := keep(ctx, tx, s.Keys, t.row, t.Seq, nil); err != nil {
			return err
		}
		return notices.Add(ctx, tx, t.SentBy, notices.SigningHeld, t.at.Name, "/signing/"+id.String())
	})
}

// sealNext seals what comes next: one party's act where each is sealed by itself, else all of them; more says that there is
// more to be sealed.
func (s *Service) sealNext(ctx context.Context, id uuid.UUID) (more bool, err error) {
	q := s.Acts.DB
	r, err := rowOf(ctx, q, id, false)
	if err != nil {
		return false, err
	}
	had, err := eventsOf(ctx, q, s.Keys, r)
	if err != nil {
		return false, err
	}
	p := &paperwork{Service: s, row: r, request: signing.Replay(had), acts: actsOf(had)}
	if !p.request.Status.Alive() || !p.due() {
		return false, nil
	}
	if s.Seal == nil || s.Stamper == nil {
		return false, errNoSeal.New("the practice has no key by which papers are signed")
	}
	if p.practice, p.zone, err = practice.PracticeZone(ctx, q); err != nil {
		return false, err
	}
	if p.at, _, err = guard.SightAnywhere(ctx, q, r.ItemID, s.Acts.Now()); err != nil {
		return false, err
	}
	raw, upto, err := p.make(ctx)
	if err != nil {
		return false, err
	}
	stored, err := s.Contents.Store(ctx, raw, pdfType, s.Acts.Now())
	if err != nil {
		return false, err
	}
	if p.request.Status == signing.Sealing && upto == len(p.acts) {
		p.papers, err = s.storePapers(ctx, id, p.acts)
	}
	if err == nil {
		err = s.Acts.Do(ctx, func(tx *act.Tx) error { return s.place(ctx, tx, p, stored, upto) })
	}
	more = err == nil && upto < len(p.acts)
	ended := stored.End(ctx, err)
	for _, one := range p.papers {
		ended = errors.Join(ended, one.stored.End(ctx, err))
	}
	return more, errors.Join(err, ended)
}

// actsOf are the parties' acts in their order.
func actsOf(all []signing.Event) (acts []signing.Event) {
	for _, e := range all {
		if e.Kind == signing.EvSigned {
			acts = append(acts, e)
		}
	}
	return acts
}

// place makes a sealed paper the document's next version, and finishes the request once it bears all acts.
func (s *Service) place(ctx context.Context, tx *act.Tx, p *paperwork, stored *tree.Stored, upto int) error {
	t, err := s.take(ctx, tx, p.row.ID)
	if err != nil {
		return err
	}
	if t.Sealed != p.Sealed || !t.Request.Status.Alive() {
		return fault.Missing() // Another process was quicker, or it was called off.
	}
	if err := s.revise(ctx, tx, t, stored); err != nil {
		return err
	}
	t.Sealed, t.LastStamp, t.RenewAt = upto, p.stamp, p.renewAt()
	if t.Request.Status != signing.Sealing || upto < len(t.Request.Parties) {
		return keep(ctx, tx, s.Keys, t.row, t.Seq, nil)
	}
	t.Finish()
	if err := s.settle(ctx, tx, t); err != nil {
		return err
	}
	if err := s.file(ctx, tx, t); err != nil {
		return err
	}
	return s.filePapers(ctx, tx, t, p.papers)
}

// revise makes a sealed paper the document's next version.
func (s *Service) revise(ctx context.Context, tx *act.Tx, t *travel, stored *tree.Stored) error {
	if err := stored.Keep(ctx, tx); err != nil {
		return err
	}
	return s.asSender(ctx, tx, t, func(ctx context.Context) error {
		ctx = context.WithValue(tree.Superseding(ctx), sealingKey{}, true)
		hand := tree.Person(s.Access, func() time.Time { return tx.Now }, t.SentBy)
		v, err := s.Items.Revise(ctx, tx, hand, t.at.Item, stored.Version, versions.Signed)
		t.SealedVersion, t.SealedSHA256, t.Trouble = v.Number, v.SHA256, ""
		t.at.Version, t.at.SHA256 = v.Number, v.SHA256
		return err
	})
}

// file moves the finished paper where its request says.
func (s *Service) file(ctx context.Context, tx *act.Tx, t *travel) error {
	if t.FileIn == nil || t.at.ParentID != nil && *t.at.ParentID == *t.FileIn {
		return nil
	}
	return s.asSender(ctx, tx, t, func(ctx context.Context) error {
		err := s.Sharing.MoveIn(ctx, tx, sharing.Move{Items: t.ids(), To: *t.FileIn})
		if refusedForGood(err) {
			return nil // It stays where it is; the board says so.
		}
		return err
	})
}

func (t *travel) ids() []uuid.UUID { return []uuid.UUID{t.ItemID} }

// refusedForGood says that something was refused, and did not fail.
func refusedForGood(err error) bool {
	return err != nil && fault.Of(err).Kind != fault.Internal && !postgres.Transient(err) && !postgres.Away(err)
}

// paperwork is a paper that is being sealed.
type paperwork struct {
	*Service
	row
	request signing.Request
	acts    []signing.Event
	at      guard.Located
	// practice is whose papers these are, and zone where.
	practice practice.Practice
	zone     *time.Location
	source   reading.Source
	sizes    []reading.Size
	// papers are those that parties brought, once all have signed.
	papers []filedPaper
	// kept says that the paper had been signed before it came: it is only ever appended to.
	kept bool
	// token is the last time stamp that was given, stamp the one that the whole paper bears.
	token, stamp []byte
}

// due says that something is to be sealed.
func (p *paperwork) due() bool {
	if p.request.Plan.Each {
		return p.Sealed < len(p.acts)
	}
	return p.request.Status == signing.Sealing
}

// make makes the next state of the paper, and says how many acts it bears.
func (p *paperwork) make(ctx context.Context) (raw []byte, upto int, err error) {
	if raw, err = p.begin(ctx); err != nil {
		return nil, 0, err
	}
	upto = len(p.acts)
	if p.request.Plan.Each {
		upto = p.Sealed + 1
		raw, err = p.act(ctx, raw, p.acts[p.Sealed])
	} else {
		raw, err = p.all(ctx, raw)
	}
	if err != nil {
		return nil, 0, err
	}
	if p.request.Status == signing.Sealing && upto == len(p.acts) {
		raw, err = p.prove(ctx, raw)
	}
	return raw, upto, err
}

// begin is the paper as it stands: what was sealed last, or the paper that was sent, readied.
func (p *paperwork) begin(ctx context.Context) ([]byte, error) {
	sent, err := p.Service.source(ctx, p.row)
	if err != nil {
		return nil, err
	}
	o, err := p.Service.Pages.Outline(ctx, sent)
	if err != nil {
		return nil, err
	}
	p.sizes, p.source = o.Pages, sent
	// A paper of a password of its own was opened by it just now.
	ready, err := p.Contents.Reader.Ready(ctx, sent, "")
	if err != nil {
		return nil, err
	}
	if p.kept = ready.Signed; p.Sealed == 0 {
		if p.request.Plan.Each && !p.kept {
			return p.withRooms(ctx, ready.Raw)
		}
		return ready.Raw, nil
	}
	b, err := tree.BlobByHash(ctx, p.Acts.DB, p.at.SHA256)
	if err != nil {
		return nil, err
	}
	return p.read(ctx, b)
}

func (p *paperwork) read(ctx context.Context, b items.Blob) ([]byte, error) {
	r, err := p.Contents.Read(ctx, b)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	raw := make([]byte, b.Size)
	_, err = io.ReadFull(r, raw)
	return raw, err
}

// withRooms adds evidence pages with room for all parties.
func (p *paperwork) withRooms(ctx context.Context, raw []byte) ([]byte, error) {
	sheets := ink.New()
	title, head, err := p.heading(ctx)
	if err != nil {
		return nil, err
	}
	added := sheets.Evidence(title, head, len(p.request.Parties), nil)
	out, _, err := p.amend(ctx, raw, sheets, reading.Changes{Added: added})
	return out, err
}

// amend appends to the paper; where it is to be signed, gap is where the value goes.
func (p *paperwork) amend(ctx context.Context, raw []byte, sheets *ink.Sheets, c reading.Changes) (out []byte, gap [2]int, err error) {
	if sheets != nil {
		if c.Sheets, err = sheets.Bytes(); err != nil {
			return nil, gap, err
		}
	}
	return p.Contents.Reader.Amend(ctx, reading.FromMemory(raw, p.source), c)
}

// places sets what a party gave on sheets, each at its place.
func (p *paperwork) places(sheets *ink.Sheets, e signing.Event) (all []reading.Placed) {
	given := map[int]signing.Value{}
	for _, v := range e.Signing.Values {
		given[v.Place] = v
	}
	for _, at := range p.request.Plan.Of(e.Party) {
		if one, ok := p.place(sheets, at, given[at.ID], e.Signing.At); ok {
			all = append(all, one)
		}
	}
	return all
}

func (p *paperwork) place(sheets *ink.Sheets, at signing.Place, v signing.Value, signed time.Time) (one reading.Placed, any bool) {
	size := p.sizes[at.Page-1]
	w, h := at.Box.W*size.Width, at.Box.H*size.Height
	one = reading.Placed{Page: at.Page, Box: at.Box, Name: fmt.Sprintf("Place %d", at.ID)}
	if at.Kind.Hand() {
		if v.Hand == nil {
			return one, false
		}
		one.Sheet, one.Value = sheets.Hand(*v.Hand, w, h), v.Hand.Typed
		return one, true
	}
	if one.Value = at.Words(v, signed, p.zone, p.Language); one.Value == "" {
		return one, false
	}
	if at.Kind == signing.Paper {
		one.Value = signing.Shortened(one.Value, func(words string) bool { return sheets.Fits(words, w, h) })
	}
	one.Sheet = sheets.Words(one.Value, w, h)
	return one, true
}

// fixed are what was filled in beforehand.
func (p *paperwork) fixed(sheets *ink.Sheets) (all []reading.Placed) {
	for _, at := range p.request.Plan.Places {
		if at.Kind == signing.Fixed {
			if one, ok := p.place(sheets, at, signing.Value{}, time.Time{}); ok {
				all = append(all, one)
			}
		}
	}
	return all
}

// all sets all that was given on the paper, adds the evidence, and seals it once.
func (p *paperwork) all(ctx context.Context, raw []byte) ([]byte, error) {
	sheets := ink.New()
	placed := p.fixed(sheets)
	for _, e := range p.acts {
		placed = append(placed, p.places(sheets, e)...)
	}
	c := reading.Changes{Drawn: placed}
	if p.kept {
		c = reading.Changes{Fields: placed}
	} else {
		title, head, err := p.heading(ctx)
		if err != nil {
			return nil, err
		}
		c.Added = sheets.Evidence(title, head, len(p.acts), p.entries())
	}
	raw, _, err := p.amend(ctx, raw, sheets, c)
	if err != nil {
		return nil, err
	}
	reason := "All parties have signed"
	if p.Language == "de" {
		reason = "Alle Parteien haben unterschrieben"
	}
	return p.sign(ctx, raw, nil, amend.Signature{Kind: amend.Detached, Name: p.practice.Name, Reason: reason, At: p.Acts.Now(), Room: room}, reading.Changes{})
}

// act adds what one party did, and signs it.
func (p *paperwork) act(ctx context.Context, raw []byte, e signing.Event) ([]byte, error) {
	sheets := ink.New()
	placed := p.places(sheets, e)
	if p.Sealed == 0 {
		placed = append(p.fixed(sheets), placed...)
	}
	party := p.request.Plan.Parties[e.Party]
	sign := amend.Signature{Kind: amend.Detached, Name: party.Name, Reason: p.how(e), At: e.Signing.At, Room: room}
	c := reading.Changes{}
	for _, one := range placed {
		if sign.Page == 0 && p.isSignature(one) {
			sign.Page, sign.Box, c.Shown = one.Page, one.Box, one.Sheet
			continue
		}
		c.Fields = append(c.Fields, one)
	}
	if !p.kept {
		page, box := ink.EntryBox(e.Party)
		c.Fields = append(c.Fields, reading.Placed{Sheet: sheets.Entry(p.entry(e)), Page: p.row.Pages + 1 + page, Box: box, Name: "Evidence " + signing.Letter(e.Party), Value: party.Name})
	}
	return p.sign(ctx, raw, sheets, sign, c)
}

func (p *paperwork) isSignature(one reading.Placed) bool {
	return slices.ContainsFunc(p.request.Plan.Places, func(at signing.Place) bool {
		return at.Kind == signing.Signature && one.Name == fmt.Sprintf("Place %d", at.ID)
	})
}

// sign appends a signature by the practice's key, with its time stamp.
func (p *paperwork) sign(ctx context.Context, raw []byte, sheets *ink.Sheets, sign amend.Signature, c reading.Changes) ([]byte, error) {
	c.Sign = &sign
	out, gap, err := p.amend(ctx, raw, sheets, c)
	if err != nil {
		return nil, err
	}
	v, err := p.Seal.Sign(covered(out, gap))
	if err != nil {
		return nil, err
	}
	if p.token, err = p.Stamper.Stamp(ctx, v.Sum()); err != nil {
		return nil, err
	}
	cms, err := v.CMS(p.token)
	if err != nil {
		return nil, err
	}
	return out, amend.Fill(out, gap, cms)
}

// covered is the digest of what a signature covers: everything but its own value.
func covered(raw []byte, gap [2]int) []byte {
	h := sha256.New()
	h.Write(raw[:gap[0]])
	h.Write(raw[gap[1]:])
	return h.Sum(nil)
}

// prove adds what proves the certificates, and stamps the whole with the time.
func (p *paperwork) prove(ctx context.Context, raw []byte) ([]byte, error) {
	proof, err := p.Stamper.Gather(ctx, p.Seal.Chain, p.token)
	if err != nil {
		return nil, err
	}
	return p.stamped(ctx, raw, proof)
}

// stamped sets a time stamp over the whole paper, with proof beside it.
func (p *paperwork) stamped(ctx context.Context, raw []byte, proof signature.Proof) ([]byte, error) {
	out, gap, err := p.amend(ctx, raw, nil, reading.Changes{Keep: &proof, Sign: &amend.Signature{Kind: amend.Stamped, Room: room}})
	if err != nil {
		return nil, err
	}
	if p.stamp, err = p.Stamper.Stamp(ctx, covered(out, gap)); err != nil {
		return nil, err
	}
	return out, amend.Fill(out, gap, p.stamp)
}
