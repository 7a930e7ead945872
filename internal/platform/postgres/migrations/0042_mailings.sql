-- +goose Up
-- Passwords by which somebody's mail program signs in, each with what becomes of its mails.
CREATE TABLE mail_passwords (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people,
  name text NOT NULL,
  secret_sha256 bytea NOT NULL UNIQUE,
  over_bytes bigint NOT NULL,
  numbers boolean NOT NULL,
  holds boolean NOT NULL,
  created_at timestamptz NOT NULL,
  used_at timestamptz
);
CREATE INDEX mail_passwords_person ON mail_passwords (person_id, created_at);

-- Mails that were taken, on their way to recipients.
CREATE TABLE mailings (
  id uuid PRIMARY KEY,
  person_id uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL,
  state text NOT NULL CHECK (state IN ('taking', 'held', 'going', 'sent', 'dropped')),
  sender text NOT NULL,
  subject text NOT NULL,
  -- Which mail it is: one that is handed over again is not sent twice.
  sha256 bytea NOT NULL,
  transfer_id uuid REFERENCES transfers,
  -- What goes on, sealed, with the places of its note; nothing once it has gone.
  template bytea,
  mark text NOT NULL,
  lines text NOT NULL
);
CREATE INDEX mailings_person ON mailings (person_id, at);
CREATE INDEX mailings_transfer ON mailings (transfer_id);
CREATE INDEX mailings_open ON mailings (at) WHERE state IN ('taking', 'held', 'going');

CREATE TABLE mailing_recipients (
  mailing_id uuid NOT NULL REFERENCES mailings,
  address text NOT NULL,
  sent_at timestamptz,
  -- Why it cannot be delivered.
  failed text,
  PRIMARY KEY (mailing_id, address)
);

-- A transfer that waits for its mail to be confirmed: nobody was told of it, and it is not out.
ALTER TABLE transfers ADD COLUMN waits boolean NOT NULL DEFAULT false;
