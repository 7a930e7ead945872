package remarks

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/remarks"
	"tabularis/core/richtext"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/paper"
	"tabularis/internal/platform/reading"
)

// mostExported is how many remarks are written out.
const mostExported = 20000

// Columns are what Table writes of each remark.
var Columns = []string{"thread", "at", "by", "place", "version", "text", "edited", "resolved", "resolved by"}

// Table is all that was said about an item, in rows, and what the item is called. Times are
// in UTC.
func (s *Service) Table(ctx context.Context, item uuid.UUID) (rows [][]string, name string, err error) {
	all, name, err := s.everything(ctx, item)
	numbers := map[uuid.UUID]int{}
	for _, r := range all {
		if numbers[r.ThreadID] == 0 {
			numbers[r.ThreadID] = len(numbers) + 1
		}
		version := ""
		if r.Version != nil {
			version = strconv.Itoa(*r.Version)
		}
		by := ""
		if r.ResolvedOf != nil {
			by = *r.ResolvedOf
		}
		rows = append(rows, []string{strconv.Itoa(numbers[r.ThreadID]), r.At.Format(time.RFC3339), r.By, placeWords(r.Place), version, r.Said, stamp(r.EditedAt), stamp(r.ResolvedAt), by})
	}
	return rows, name, err
}

func stamp(at *time.Time) string {
	if at == nil {
		return ""
	}
	return at.UTC().Format(time.RFC3339)
}

// placeWords is a place in words.
func placeWords(raw []byte) string {
	var p remarks.Place
	if raw == nil || json.Unmarshal(raw, &p) != nil {
		return ""
	}
	var words []string
	if p.Page > 0 {
		words = append(words, fmt.Sprintf("page %d", p.Page))
	}
	if p.Kind == remarks.Cell {
		words = append(words, strings.TrimSpace(fmt.Sprintf("%s row %d, column %d", p.Sheet, p.Row, p.Column)))
	}
	if p.Words != "" {
		words = append(words, "“"+p.Words+"”")
	}
	return strings.Join(words, ", ")
}

// Word is the version of a word-processing document that counts, with the open remarks about it as its format has them. They
// leave with its content: whoever may not have that is refused.
func (s *Service) Word(ctx context.Context, item uuid.UUID) (raw []byte, name string, err error) {
	sighted, err := s.Access.Content(ctx, s.Acts.DB, item, 0, access.Download, s.Acts.Now())
	if err != nil {
		return nil, "", err
	}
	if sighted.Version().MediaType != office.Word {
		return nil, "", fault.Missing()
	}
	said, name, err := s.everything(ctx, item)
	if err != nil {
		return nil, "", err
	}
	held, err := s.Held(ctx, item)
	if err != nil {
		return nil, "", err
	}
	raw, err = s.Contents.Reader.Remarked(ctx, s.Contents.Source(ctx, sighted.Version(), act.Who(ctx).Person.ID.String()), open(said, held))
	return raw, names.Stem(name), err
}

// open are the threads that nobody resolved, with the words that they hold on to.
func open(said []Remark, held map[string]richtext.Held) (all []reading.Remark) {
	at := map[uuid.UUID]int{}
	for _, r := range said {
		i, begun := at[r.ThreadID]
		if !begun {
			i = len(all)
			if r.ID == r.ThreadID && r.ResolvedAt != nil {
				i = -1
			}
			at[r.ThreadID] = i
			if i >= 0 {
				all = append(all, reading.Remark{Held: heldBy(r, held)})
			}
		}
		if i >= 0 {
			all[i].Said = append(all[i].Said, reading.Said{By: r.By, At: r.At, Text: r.Said})
		}
	}
	return all
}

// heldBy are the words that a thread stands at: those that it holds on to, or those where it was said.
func heldBy(r Remark, held map[string]richtext.Held) richtext.Held {
	if h, holds := held[r.ThreadID.String()]; holds {
		return h
	}
	var p remarks.Place
	if r.Place == nil || json.Unmarshal(r.Place, &p) != nil {
		return richtext.Held{}
	}
	return richtext.Held{Words: p.Words}
}

// Paper writes all that was said about an item on pages.
func (s *Service) Paper(ctx context.Context, item uuid.UUID) (raw []byte, name string, err error) {
	all, name, err := s.everything(ctx, item)
	if err != nil {
		return nil, "", err
	}
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return nil, "", err
	}
	sheet := paper.Sheet{Title: name, Lines: []string{s.Acts.Now().In(zone).Format("2006-01-02 15:04 MST")}}
	for _, r := range all {
		if r.ID == r.ThreadID {
			head := placeWords(r.Place)
			if r.ResolvedOf != nil {
				head = strings.TrimSpace(head + " ✓ " + *r.ResolvedOf)
			}
			sheet.Runs = append(sheet.Runs, paper.Run{Text: "\n" + head + "\n", Style: paper.Underlined})
		}
		sheet.Runs = append(sheet.Runs, paper.Run{Text: fmt.Sprintf("%s, %s: %s\n", r.By, r.At.In(zone).Format("2006-01-02 15:04"), r.Said)})
	}
	raw, err = sheet.PDF()
	return raw, name, err
}

func (s *Service) everything(ctx context.Context, item uuid.UUID) ([]Remark, string, error) {
	sight, err := s.Access.Item(ctx, s.Acts.DB, item, access.See, s.Acts.Now())
	if err != nil {
		return nil, "", err
	}
	all, err := everything(ctx, s.Acts.DB, item, mostExported)
	return all, sight.Name, err
}
