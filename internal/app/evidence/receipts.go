package evidence

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/evidence"
	"tabularis/core/linkgate"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/archive"
	"tabularis/internal/platform/paper"
)

// Receipt says who came through a link, and what they opened and fetched.
type Receipt struct {
	Practice string    `json:"practice"`
	Link     string    `json:"link"`
	For      string    `json:"for,omitempty"`
	Written  string    `json:"written"`
	Taken    []Takings `json:"taken"`
}

// Takings is one thing that somebody did: when, who and how surely that is known, what,
// and of a file its version by hash.
type Takings struct {
	At      string `json:"at"`
	Who     string `json:"who"`
	Known   string `json:"known"`
	What    string `json:"what"`
	File    string `json:"file,omitempty"`
	Version int    `json:"version,omitempty"`
	SHA256  string `json:"sha256,omitempty"`
	Network string `json:"network,omitempty"`
	// Place is where the event stands in the log.
	Place int64 `json:"place"`
}

// taken are the kinds of events that a receipt lists, with their words.
var taken = map[string]string{
	events.LinkOpened.Name: "opened the link", events.LinkViewed.Name: "looked at", events.LinkFetched.Name: "fetched", events.LinkFetchedAll.Name: "fetched everything",
	events.LinkReceived.Name: "sent in", events.LinkRevised.Name: "sent a new version of", events.LinkHandedIn.Name: "handed in",
}

// surely are the words for how it is known who somebody was.
var surely = map[string]string{
	"": "not known: whoever had the link", linkgate.Stated.String(): "as they stated", linkgate.Confirmed.String(): "by a code that was sent to that address", linkgate.SignedIn.String(): "signed in",
}

// Receipt writes a receipt of a link, or of what one recipient did with it, on paper and
// for programs, signed, with the proofs. It is for whoever may share what the link gives.
func (s *Service) Receipt(ctx context.Context, link uuid.UUID, recipient string) (out tree.Chosen, err error) {
	if err := s.Access.Link(ctx, s.Acts.DB, link, access.See|access.Share, s.Acts.Now()); err != nil {
		return out, err
	}
	return out, s.inTurn(ctx, func() error {
		out, err = s.receipt(ctx, link, recipient)
		return err
	})
}

func (s *Service) receipt(ctx context.Context, link uuid.UUID, recipient string) (tree.Chosen, error) {
	q := s.Acts.DB
	l, err := links.LinkByID(ctx, q, link)
	if err != nil {
		return tree.Chosen{}, err
	}
	b, err := s.gather(ctx, Subject{Link: &link}, func(e events.Named) bool {
		return taken[e.Kind] != "" && (recipient == "" || isOf(e, recipient))
	})
	if err != nil {
		return tree.Chosen{}, err
	}
	r := Receipt{Practice: b.Practice, Link: l.Name, For: recipient, Written: b.Written, Taken: []Takings{}}
	b.Subject = l.Name
	for i := len(b.shown) - 1; i >= 0; i-- {
		r.Taken = append(r.Taken, takings(b.shown[i], b.zone))
	}
	places(&r, b.Bundle)
	entries, err := s.signedReceipt(ctx, r)
	if err != nil {
		return tree.Chosen{}, err
	}
	proofs, err := s.written(b)
	return tree.Chosen{Name: "receipt " + l.Name, Entries: append(entries, proofs...)}, err
}

// isOf reports whether somebody is known by an address, or came by their copy.
func isOf(e events.Named, recipient string) bool {
	data := events.MapOf(e.Data)
	return strings.EqualFold(data["email"], recipient) || strings.EqualFold(data["copy"], recipient)
}

func takings(e events.Named, zone *time.Location) Takings {
	data := events.MapOf(e.Data)
	t := Takings{At: e.At.In(zone).Format("2006-01-02 15:04:05 MST"), Who: data["email"], What: taken[e.Kind], File: data["name"], SHA256: data["sha256"], Network: e.Network}
	if t.Who == "" {
		t.Who = "somebody"
	}
	known := surely[data["known"]]
	if data["copy"] != "" {
		known += "; by the copy sent to " + data["copy"]
	}
	t.Known = known
	if e.Version != nil {
		t.Version = *e.Version
	}
	return t
}

// places says where each of the events stands; both are in their order.
func places(r *Receipt, b evidence.Bundle) {
	for i := range min(len(r.Taken), len(b.Events)) {
		r.Taken[i].Place = b.Events[i].Index
	}
}

// signedReceipt is a receipt in two forms, and a note signed by the log's key that names
// the hashes of both.
func (s *Service) signedReceipt(ctx context.Context, r Receipt) ([]archive.Entry, error) {
	raw, err := json.MarshalIndent(r, "", " ")
	if err != nil {
		return nil, fmt.Errorf("writing a receipt: %w", err)
	}
	sheet := paper.Sheet{Title: "Receipt: " + r.Link, Lines: []string{r.Practice + ", written " + r.Written, "The file receipt.txt beside this one is signed and names its hash."}}
	for _, t := range r.Taken {
		sheet.Runs = append(sheet.Runs, paper.Run{Text: fmt.Sprintf("%s  %s %s %s", t.At, t.Who, t.What, t.File)})
		if t.Version > 0 {
			sheet.Runs = append(sheet.Runs, paper.Run{Text: fmt.Sprintf(", version %d, SHA-256 %s", t.Version, t.SHA256)})
		}
		sheet.Runs = append(sheet.Runs, paper.Run{Text: "\n    who: " + t.Known + "; from " + t.Network + "\n"})
	}
	pdf, err := sheet.PDF()
	if err != nil {
		return nil, err
	}
	text := evidence.ReceiptText(map[string][]byte{evidence.ReceiptPaper: pdf, evidence.ReceiptFile: raw})
	last, err := newest(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	l, err := theLog(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	signed, err := evidence.Sign(text, s.key(l.Origin, last.Generation))
	return []archive.Entry{s.text(evidence.ReceiptPaper, pdf), s.text(evidence.ReceiptFile, raw), s.text(evidence.ReceiptNote, []byte(signed))}, err
}
