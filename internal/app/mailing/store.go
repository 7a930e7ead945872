package mailing

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/mailing"
	"tabularis/internal/platform/postgres"
)

// Password is one by which a mail program signs in, with what becomes of its mails.
type Password struct {
	ID        uuid.UUID  `db:"id"`
	PersonID  uuid.UUID  `db:"person_id"`
	Name      string     `db:"name"`
	SHA256    []byte     `db:"secret_sha256"`
	Over      int64      `db:"over_bytes"`
	Numbers   bool       `db:"numbers"`
	Holds     bool       `db:"holds"`
	CreatedAt time.Time  `db:"created_at"`
	UsedAt    *time.Time `db:"used_at"`
}

// Settings are what becomes of its mails.
func (p Password) Settings() mailing.Settings {
	return mailing.Settings{Over: p.Over, Numbers: p.Numbers, Holds: p.Holds}
}

func addPassword(ctx context.Context, q postgres.Q, p Password) error {
	return postgres.Exec(ctx, q, `INSERT INTO mail_passwords (id, person_id, name, secret_sha256, over_bytes, numbers, holds, created_at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		p.ID, p.PersonID, p.Name, p.SHA256, p.Over, p.Numbers, p.Holds, p.CreatedAt)
}

func passwordsOf(ctx context.Context, q postgres.Q, person uuid.UUID) (all []Password, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM mail_passwords WHERE person_id = $1 ORDER BY created_at, id`, person)
}

// passwordBy finds the password of whoever has an account, and notes that it was used.
func passwordBy(ctx context.Context, q postgres.Q, sha256 []byte, email string, now time.Time) (p Password, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `UPDATE mail_passwords w SET used_at = $3 FROM people p WHERE w.secret_sha256 = $1 AND p.id = w.person_id
		AND p.email_key = $2 AND p.deactivated_at IS NULL AND p.standing <> 'guest' RETURNING w.*`, sha256, email, now))
}

func setPassword(ctx context.Context, q postgres.Q, id, person uuid.UUID, s mailing.Settings) error {
	return postgres.ExecOne(ctx, q, `UPDATE mail_passwords SET over_bytes = $3, numbers = $4, holds = $5 WHERE id = $1 AND person_id = $2`, id, person, s.Over, s.Numbers, s.Holds)
}

func dropPassword(ctx context.Context, q postgres.Q, id, person uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM mail_passwords WHERE id = $1 AND person_id = $2`, id, person)
}

// Mailing is a mail that was taken.
type Mailing struct {
	ID         uuid.UUID   `db:"id"`
	PersonID   uuid.UUID   `db:"person_id"`
	At         time.Time   `db:"at"`
	State      string      `db:"state"`
	Sender     string      `db:"sender"`
	Subject    string      `db:"subject"`
	SHA256     []byte      `db:"sha256"`
	TransferID *uuid.UUID  `db:"transfer_id"`
	Template   []byte      `db:"template"`
	Mark       string      `db:"mark"`
	Lines      string      `db:"lines"`
	To         []Recipient `db:"-"`
}

// The states of a mail: its attachments are being taken, it waits to be confirmed, it goes, it has gone to
// everybody, or it was given up.
const (
	taking  = "taking"
	held    = "held"
	going   = "going"
	sent    = "sent"
	dropped = "dropped"
)

// Recipient is to whom a mail goes.
type Recipient struct {
	MailingID uuid.UUID  `db:"mailing_id"`
	Address   string     `db:"address"`
	SentAt    *time.Time `db:"sent_at"`
	Failed    *string    `db:"failed"`
}

func addMailing(ctx context.Context, q postgres.Q, m Mailing) error {
	if err := postgres.Exec(ctx, q, `INSERT INTO mailings (id, person_id, at, state, sender, subject, sha256, transfer_id, mark, lines) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
		m.ID, m.PersonID, m.At, m.State, m.Sender, m.Subject, m.SHA256, m.TransferID, m.Mark, m.Lines); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO mailing_recipients (mailing_id, address) SELECT $1, unnest($2::text[])`, m.ID, addresses(m.To))
}

func addresses(to []Recipient) []string {
	all := make([]string, len(to))
	for i, r := range to {
		all[i] = r.Address
	}
	return all
}

// lockSender lets the mails of one person be taken one after the other.
func lockSender(ctx context.Context, q postgres.Q, person uuid.UUID) error {
	return postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock(hashtext('mailing ' || $1::uuid::text))`, person)
}

// sameMail finds a mail that was taken already, since a moment.
func sameMail(ctx context.Context, q postgres.Q, person uuid.UUID, sha256 []byte, since time.Time) (m Mailing, err error) {
	return m, postgres.Found(q.GetContext(ctx, &m, `SELECT * FROM mailings WHERE person_id = $1 AND sha256 = $2 AND at > $3 AND state <> 'dropped' ORDER BY at DESC LIMIT 1`, person, sha256, since))
}

// countRecipients counts to how many somebody's mails went since a moment.
func countRecipients(ctx context.Context, q postgres.Q, person uuid.UUID, since time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM mailing_recipients r JOIN mailings m ON m.id = r.mailing_id WHERE m.person_id = $1 AND m.at > $2`, person, since)
}

// mailingOf finds somebody's mail, and holds its row within an act.
func mailingOf(ctx context.Context, q postgres.Q, id, person uuid.UUID, lock bool) (m Mailing, err error) {
	query := `SELECT * FROM mailings WHERE id = $1 AND person_id = $2`
	if lock {
		query += ` FOR UPDATE`
	}
	return m, postgres.Found(q.GetContext(ctx, &m, query, id, person))
}

func mailingByID(ctx context.Context, q postgres.Q, id uuid.UUID) (m Mailing, err error) {
	return m, postgres.Found(q.GetContext(ctx, &m, `SELECT * FROM mailings WHERE id = $1`, id))
}

func recipientsOf(ctx context.Context, q postgres.Q, id uuid.UUID) (all []Recipient, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM mailing_recipients WHERE mailing_id = $1 ORDER BY address`, id)
}

func setTransfer(ctx context.Context, q postgres.Q, id, transfer uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `UPDATE mailings SET transfer_id = $2 WHERE id = $1`, id, transfer)
}

// setState changes a mail's state where it is still what it was, or says not found.
func setState(ctx context.Context, q postgres.Q, id uuid.UUID, from, to string) error {
	return postgres.ExecOne(ctx, q, `UPDATE mailings SET state = $3, template = CASE WHEN $3 IN ('sent', 'dropped') THEN NULL ELSE template END WHERE id = $1 AND state = $2`, id, from, to)
}

func setTemplate(ctx context.Context, q postgres.Q, id uuid.UUID, template []byte) error {
	return postgres.ExecOne(ctx, q, `UPDATE mailings SET template = $2 WHERE id = $1`, id, template)
}

// delivered notes what became of a mail for a recipient, and lets what it holds go when that was the last.
func delivered(ctx context.Context, q postgres.Q, id uuid.UUID, to string, at *time.Time, failed *string) error {
	if err := postgres.ExecOne(ctx, q, `UPDATE mailing_recipients SET sent_at = $3, failed = $4 WHERE mailing_id = $1 AND address = $2`, id, to, at, failed); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `UPDATE mailings SET state = 'sent', template = NULL WHERE id = $1 AND state = 'going'
		AND NOT EXISTS (SELECT 1 FROM mailing_recipients WHERE mailing_id = $1 AND sent_at IS NULL AND failed IS NULL)`, id)
}

// stale lists mails of a state that nothing has become of since a moment.
func stale(ctx context.Context, q postgres.Q, state string, before time.Time) (all []Mailing, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM mailings WHERE state = $1 AND at < $2 ORDER BY at LIMIT 100`, state, before)
}

// heldOf lists the mails that wait for somebody.
func heldOf(ctx context.Context, q postgres.Q, person uuid.UUID) (all []Mailing, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM mailings WHERE person_id = $1 AND state = 'held' ORDER BY at DESC LIMIT 100`, person)
}
