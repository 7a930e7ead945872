package decisions

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/practice"
	"tabularis/internal/platform/paper"
)

// Columns are what Table writes of everything that happened to a run.
var Columns = []string{"at", "stop", "doing", "what", "by", "to", "verdict", "note", "version", "sha256", "seen", "pages", "due", "reason"}

// Table is the trail of a run in rows, and what its document is called. Times are in UTC.
func (s *Service) Table(ctx context.Context, run uuid.UUID) (rows [][]string, name string, err error) {
	shown, err := s.One(ctx, run)
	if err != nil {
		return nil, "", err
	}
	for _, e := range shown.Trail() {
		due := ""
		if e.Due != nil {
			due = e.Due.UTC().Format(time.RFC3339)
		}
		rows = append(rows, []string{e.At.UTC().Format(time.RFC3339), e.stop(), string(e.Do), string(e.Kind), e.By, strings.Join(e.To, "; "), string(e.Verdict), e.Note, number(e.Version), e.SHA256, e.Seen, number(e.Of), due, e.why()})
	}
	return rows, shown.Sight.Name, nil
}

// stop is a stop as people say it: 3a.
func (e Entry) stop() string {
	if e.Stop == 0 {
		return ""
	}
	name := strconv.Itoa(e.Stop)
	if e.Case > 0 {
		name += string(rune('a' + e.Case - 1))
	}
	return name
}

// why is the reason of what happened, or how it ended.
func (e Entry) why() string {
	for _, why := range []string{e.Reason, string(e.Status), string(e.How)} {
		if why != "" {
			return why
		}
	}
	return ""
}

func number(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

// Paper writes the trail of a run on pages.
func (s *Service) Paper(ctx context.Context, run uuid.UUID) (raw []byte, name string, err error) {
	rows, name, err := s.Table(ctx, run)
	if err != nil {
		return nil, "", err
	}
	shown, err := s.One(ctx, run)
	if err != nil {
		return nil, "", err
	}
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return nil, "", err
	}
	sheet := paper.Sheet{Title: name, Lines: []string{
		fmt.Sprintf("%s, version %d, SHA-256 %s", shown.Sight.Ref(), shown.Run.Content.Version, shown.Run.Content.SHA256),
		shown.Definition.Name + ", " + s.Acts.Now().In(zone).Format("2006-01-02 15:04 MST"),
	}}
	for i, e := range shown.Trail() {
		head := strings.TrimSpace(strings.Join([]string{e.At.In(zone).Format("2006-01-02 15:04"), e.stop(), string(e.Kind), string(e.Verdict), e.By}, "  "))
		sheet.Runs = append(sheet.Runs, paper.Run{Text: "\n" + head + "\n", Style: paper.Underlined})
		for at, value := range rows[i] {
			if at > 3 && at != 4 && value != "" {
				sheet.Runs = append(sheet.Runs, paper.Run{Text: Columns[at] + ": " + value + "\n"})
			}
		}
	}
	raw, err = sheet.PDF()
	return raw, name, err
}
