package signing

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/signing"
	"tabularis/core/versions"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/preview"
)

// mostPaper is how large a paper may be that a party brings, mostPapers how large all of a request may be, in bytes.
const mostPaper, mostPapers = 20 << 20, 60 << 20

var (
	errPaperLarge = fault.Declare(fault.TooLarge, "paper-large", "a paper that is brought has at most 20 MB, all of a request 60 MB")
	errPaperEmpty = fault.Declare(fault.Invalid, "paper-empty", "the file is empty")
	errPaperGone  = fault.Declare(fault.Conflict, "paper-not-brought", "the paper is not there any more; bring it again")
)

// Brought is a paper that a party brought.
type Brought struct {
	Party, Place int
	Name         string
	MediaType    string
	Size         int
	SHA256       string
}

// Bring takes a paper that a party is asked for at a place; another one takes its place until they have signed.
func (s *Service) Bring(ctx context.Context, w Who, place int, name string, body io.Reader) (b Brought, err error) {
	if name, err = names.Check("name", strings.TrimSpace(name[strings.LastIndexAny(name, `/\`)+1:])); err != nil {
		return b, err
	}
	// Nothing is read from whoever may not.
	if err := s.as(ctx, w, func(_ *act.Tx, t *travel, k known) error { return t.Brings(k.party, place) }); err != nil {
		return b, err
	}
	raw, err := io.ReadAll(io.LimitReader(body, mostPaper+1))
	switch {
	case err != nil || len(raw) > mostPaper:
		return b, errPaperLarge.New("it has more than %d bytes", mostPaper)
	case len(raw) == 0:
		return b, errPaperEmpty.In("name", "the file is empty")
	}
	sum := sha256.Sum256(raw)
	kind := preview.MediaType(name, raw)
	err = s.as(ctx, w, func(tx *act.Tx, t *travel, k known) error {
		if err := t.Brings(k.party, place); err != nil {
			return err
		}
		b = Brought{k.party, place, name, kind, len(raw), hex.EncodeToString(sum[:])}
		return bring(ctx, tx, s.Keys, paperRow{SigningID: t.ID, Party: k.party, Place: place, Name: name, MediaType: kind, Size: len(raw), SHA256: sum[:], BroughtAt: t.Now}, raw)
	})
	return b, err
}

// brought refuses papers that are named and were not brought.
func brought(ctx context.Context, tx *act.Tx, t *travel, party int, values []signing.Value) error {
	rows, err := papersOf(ctx, tx, t.ID)
	if err != nil {
		return err
	}
	for _, v := range values {
		if v.SHA256 == "" {
			continue
		}
		if !slices.ContainsFunc(rows, func(r paperRow) bool {
			return r.Party == party && r.Place == v.Place && r.Name == v.Text && hex.EncodeToString(r.SHA256) == v.SHA256
		}) {
			return errPaperGone.In("values", "bring the paper of place %d again", v.Place)
		}
	}
	return nil
}

// Paper is a paper that a party brought, for whoever looks after the request.
func (s *Service) Paper(ctx context.Context, id uuid.UUID, place int) (b Brought, raw []byte, err error) {
	l, err := s.One(ctx, id)
	if err != nil {
		return b, nil, err
	}
	if !l.Manages {
		return b, nil, fault.Refused("see what parties bring")
	}
	r, err := paperAt(ctx, s.Acts.DB, id, place)
	if err != nil {
		return b, nil, err
	}
	raw, err = s.Keys.Open(r.Paper, paperPurpose)
	return r.brought(), raw, err
}

// Papers are those that parties have brought and that are not filed yet.
func (s *Service) Papers(ctx context.Context, id uuid.UUID) (all []Brought, err error) {
	rows, err := papersOf(ctx, s.Acts.DB, id)
	for _, r := range rows {
		all = append(all, r.brought())
	}
	return all, err
}

// filedPaper is one of those that are to be filed, with its content.
type filedPaper struct {
	paperRow
	stored *tree.Stored
}

// storePapers stores what the parties brought, where all have signed.
func (s *Service) storePapers(ctx context.Context, id uuid.UUID, given []signing.Event) (all []filedPaper, err error) {
	rows, err := papersOf(ctx, s.Acts.DB, id)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		if !slices.ContainsFunc(given, func(e signing.Event) bool {
			return slices.ContainsFunc(e.Signing.Values, func(v signing.Value) bool { return v.Place == r.Place && v.SHA256 != "" })
		}) {
			continue
		}
		if r, err = paperAt(ctx, s.Acts.DB, id, r.Place); err != nil {
			return all, err
		}
		raw, err := s.Keys.Open(r.Paper, paperPurpose)
		if err != nil {
			return all, err
		}
		stored, err := s.Contents.Store(ctx, raw, r.MediaType, s.Acts.Now())
		if err != nil {
			return all, err
		}
		all = append(all, filedPaper{r, stored})
	}
	return all, nil
}

// filePapers files what the parties brought beside the paper, by the sender's hand.
func (s *Service) filePapers(ctx context.Context, tx *act.Tx, t *travel, all []filedPaper) error {
	for _, p := range all {
		if err := p.stored.Keep(ctx, tx); err != nil {
			return err
		}
		err := s.asSender(ctx, tx, t, func(ctx context.Context) error {
			at, err := tree.ItemByID(ctx, tx, t.ItemID)
			if err != nil {
				return err
			}
			hand := tree.Person(s.Access, func() time.Time { return tx.Now }, t.SentBy)
			folder, err := hand.Into(ctx, tx, *at.ParentID)
			if err != nil {
				return err
			}
			_, err = s.Items.AddDocument(ctx, tx, hand, folder, tree.Arrival{Name: beside(at.Name, p.paperRow), Content: p.stored.Version, Origin: versions.Uploaded})
			return err
		})
		if refusedForGood(err) {
			continue // It stays with the request, where its sender has it.
		}
		if err != nil {
			return err
		}
		if err := dropPaper(ctx, tx, p.SigningID, p.Place); err != nil {
			return err
		}
	}
	return nil
}

// beside is the name of a paper that lies beside another one: of which, by whom, and what it is.
func beside(name string, p paperRow) string {
	long := fmt.Sprintf("%s, %s, %s", names.Stem(name), signing.Letter(p.Party), p.Name)
	if checked, err := names.Check("name", long); err == nil {
		return checked
	}
	return p.Name
}

func (r paperRow) brought() Brought {
	return Brought{r.Party, r.Place, r.Name, r.MediaType, r.Size, hex.EncodeToString(r.SHA256)}
}
