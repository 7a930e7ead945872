package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"tabularis/core/keeping"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/core/scan"
	"tabularis/core/terms"
	"tabularis/core/working"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"
)

// Practice is the one practice that the installation serves.
type Practice struct {
	Name            string `db:"name"`
	Tagline         string `db:"tagline"`
	Timezone        string `db:"timezone"`
	Helper          string `db:"helper"`
	LongestLinkDays int    `db:"longest_link_days"`
	// ColleaguesMakeDossiers allows everybody in the practice to make dossiers;
	// otherwise administrators do.
	ColleaguesMakeDossiers bool `db:"colleagues_make_dossiers"`
	// GuestsByCode allows guests to come in by a one-time code, without a password.
	GuestsByCode bool `db:"guests_by_code"`
	// SecondFactorRequired asks everybody in the practice for a second factor.
	SecondFactorRequired bool `db:"second_factor_required"`
	// StorageBytes is how much content the practice may keep; nil means no limit.
	StorageBytes *int64 `db:"storage_bytes"`
	// DossierBytes and PersonBytes are how much each dossier's versions may take, and
	// those that one person brought in.
	DossierBytes *int64 `db:"dossier_bytes"`
	PersonBytes  *int64 `db:"person_bytes"`
	// RemovalAt is when the practice is removed, if it is to be.
	RemovalAt *time.Time `db:"removal_at"`
	// Sensitive is what is done about sensitive content that is given out: "off",
	// "warn" or "forbid". Patterns are the practice's own, and PatternsNumber tells
	// one set from the next.
	Sensitive      string          `db:"sensitive"`
	Patterns       json.RawMessage `db:"patterns"`
	PatternsNumber int             `db:"patterns_number"`
	// What is demanded of links, which kinds there may be, and the domains to which
	// nothing goes, or nothing else.
	OutwardRequired string     `db:"outward_required"`
	OutwardKinds    names.List `db:"outward_kinds"`
	OutwardShut     names.List `db:"outward_shut"`
	OutwardOnly     names.List `db:"outward_only"`
	// TransferDays and TransferBytes are how long a transfer lasts and how large it is at most; nil is as long as any link, and as large as one likes.
	TransferDays  *int   `db:"transfer_days"`
	TransferBytes *int64 `db:"transfer_bytes"`
	// DeliveriesBytes is how much of what was sent to published addresses may wait to be accepted; nil is as much as there is storage for.
	DeliveriesBytes *int64 `db:"deliveries_bytes"`
	// SealsForbidden forbids sealed transfers, OutwardSealedFor are domains to which they go in no other way.
	SealsForbidden   bool       `db:"seals_forbidden"`
	OutwardSealedFor names.List `db:"outward_sealed_for"`
	// KeepingDays is how long what is deleted or removed can be brought back.
	KeepingDays int `db:"keeping_days"`
	// SittingMinutes is after which pause a sitting of automatic saves has ended.
	SittingMinutes int `db:"sitting_minutes"`
	// NamedTerms are terms that have a name here, see terms.Own.
	NamedTerms json.RawMessage `db:"named_terms"`
	// Calendar is when the practice works, see working.Calendar; none is from Monday to Friday.
	Calendar *json.RawMessage `db:"calendar"`
	// DecidesByMail lets whoever is asked decide on a page behind a link in the mail, without signing in.
	DecidesByMail bool `db:"decides_by_mail"`
	// SigningConsent is to what whoever signs a paper agrees; empty is what is usual.
	SigningConsent string `db:"signing_consent"`
}

// WorkingCalendar is when the practice works; it still has to be set into the practice's zone.
func (p Practice) WorkingCalendar() (c working.Calendar, err error) {
	if p.Calendar == nil {
		return working.Usual(), nil
	}
	if err := json.Unmarshal(*p.Calendar, &c); err != nil {
		return c, fmt.Errorf("reading the practice's calendar: %w", err)
	}
	return c, nil
}

// MayMakeDossiers tells whether somebody may: guests may not, and colleagues not where
// the practice keeps it to its administrators.
func (p Practice) MayMakeDossiers(who accounts.Person) bool {
	return who.Inside() && (who.Administers() || p.ColleaguesMakeDossiers)
}

// Outward is what the practice lets out, and to whom.
func (p Practice) Outward() linkgate.Rules {
	return linkgate.Rules{Required: linkgate.Required(p.OutwardRequired), Kinds: p.OutwardKinds, Shut: p.OutwardShut, Only: p.OutwardOnly,
		SealsForbidden: p.SealsForbidden, SealedFor: p.OutwardSealedFor, LooksThrough: p.Sensitive == scan.Forbid}
}

// Keeping is for how long what is deleted or removed can be brought back.
func (p Practice) Keeping() keeping.Period { return keeping.Period(p.KeepingDays) }

// OwnTerms are the terms that have a name here.
func (p Practice) OwnTerms() (own []terms.Own, err error) {
	if err := json.Unmarshal(p.NamedTerms, &own); err != nil {
		return nil, fmt.Errorf("reading the practice's terms: %w", err)
	}
	return own, nil
}

// ThePractice returns the practice.
func ThePractice(ctx context.Context, q postgres.Q) (p Practice, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `SELECT name, tagline, timezone, helper, longest_link_days, colleagues_make_dossiers, guests_by_code, second_factor_required, storage_bytes, dossier_bytes, person_bytes, removal_at, sensitive, patterns, patterns_number, outward_required, outward_kinds, outward_shut, outward_only, transfer_days, transfer_bytes, deliveries_bytes, seals_forbidden, outward_sealed_for, named_terms, keeping_days, sitting_minutes, calendar, decides_by_mail, signing_consent
		FROM practice`))
}

// Letterhead is what stands in the margins of the practice's papers, with a line of what each is.
func Letterhead(ctx context.Context, q postgres.Q, line string) (*reading.Letterhead, error) {
	p, err := ThePractice(ctx, q)
	return &reading.Letterhead{House: p.Name, Tagline: p.Tagline, Line: line}, err
}

// PracticeZone returns the practice and its time zone.
func PracticeZone(ctx context.Context, q postgres.Q) (Practice, *time.Location, error) {
	p, err := ThePractice(ctx, q)
	if err != nil {
		return p, nil, err
	}
	zone, err := time.LoadLocation(p.Timezone)
	if err != nil {
		err = fmt.Errorf("reading the practice's time zone: %w", err)
	}
	return p, zone, err
}

// PutPractice makes or changes the practice.
func PutPractice(ctx context.Context, q postgres.Q, p Practice) error {
	return postgres.Exec(ctx, q, `INSERT INTO practice (name, tagline, timezone, helper, longest_link_days) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (only_one) DO UPDATE SET name = $1, tagline = $2, timezone = $3, helper = $4, longest_link_days = $5`,
		p.Name, p.Tagline, p.Timezone, p.Helper, p.LongestLinkDays)
}

// SetRules changes what the practice asks of accounts; nothing else of p counts.
func SetRules(ctx context.Context, q postgres.Q, p Practice) error {
	return postgres.Exec(ctx, q, `UPDATE practice SET colleagues_make_dossiers = $1, guests_by_code = $2, second_factor_required = $3, storage_bytes = $4,
		sensitive = $5, patterns_number = patterns_number + CASE WHEN patterns = $6::jsonb THEN 0 ELSE 1 END, patterns = $6::jsonb, longest_link_days = $7,
		outward_required = $8, outward_kinds = $9, outward_shut = $10, outward_only = $11, dossier_bytes = $12, person_bytes = $13, named_terms = $14::jsonb, keeping_days = $15, sitting_minutes = $16,
		seals_forbidden = $17, outward_sealed_for = $18, transfer_days = $19, transfer_bytes = $20, deliveries_bytes = $21, calendar = $22::jsonb, decides_by_mail = $23, signing_consent = $24`,
		p.ColleaguesMakeDossiers, p.GuestsByCode, p.SecondFactorRequired, p.StorageBytes, p.Sensitive, string(p.Patterns), p.LongestLinkDays, p.OutwardRequired, p.OutwardKinds.Kept(), p.OutwardShut.Kept(), p.OutwardOnly.Kept(),
		p.DossierBytes, p.PersonBytes, string(p.NamedTerms), p.KeepingDays, p.SittingMinutes, p.SealsForbidden, p.OutwardSealedFor.Kept(), p.TransferDays, p.TransferBytes, p.DeliveriesBytes, kept(p.Calendar), p.DecidesByMail, p.SigningConsent)
}

func kept(calendar *json.RawMessage) *string {
	if calendar == nil {
		return nil
	}
	text := string(*calendar)
	return &text
}

// SetRemoval says when the practice is removed, or with nil that it stays.
func SetRemoval(ctx context.Context, q postgres.Q, at *time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE practice SET removal_at = $1`, at)
}

// RemoveAll empties the database of everything but the practice's name and
// terms.
func RemoveAll(ctx context.Context, q postgres.Q) error {
	var tables []string
	if err := q.SelectContext(ctx, &tables, `SELECT quote_ident(tablename) FROM pg_tables WHERE schemaname = current_schema()
		AND tablename NOT LIKE 'river%' AND tablename NOT IN ('goose_db_version', 'practice', 'storage_used', 'access_stamps')`); err != nil {
		return err
	}
	for _, statement := range []string{
		`TRUNCATE ` + strings.Join(tables, ", "),
		`UPDATE storage_used SET bytes = 0`, `UPDATE practice SET removal_at = NULL`,
		`DELETE FROM access_stamps WHERE scope <> '` + guard.PeopleStamp.String() + `'`,
	} {
		if err := postgres.Exec(ctx, q, statement); err != nil {
			return err
		}
	}
	return guard.Bump(ctx, q, guard.PeopleStamp)
}
