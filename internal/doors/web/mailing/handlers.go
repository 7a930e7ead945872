package mailing

import (
	"context"

	rules "tabularis/core/mailing"
	"tabularis/internal/app/links"
	"tabularis/internal/app/mailing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of mailing.
type Handlers struct {
	*door.Door
	Mailing *mailing.Service
}

func program(p mailing.Password) contract.MailProgram {
	return contract.MailProgram{Id: p.ID, Name: p.Name, Over: p.Over, Numbers: p.Numbers, Holds: p.Holds, At: p.CreatedAt, Used: p.UsedAt}
}

// ListMailPrograms lists one's own.
func (h *Handlers) ListMailPrograms(ctx context.Context, _ ListMailProgramsRequestObject) (ListMailProgramsResponseObject, error) {
	all, err := h.Mailing.Passwords(ctx)
	out := ListMailPrograms200JSONResponse{Programs: present.Each(all, program)}
	if h.Mailing.Port != 0 {
		out.Host, out.Port = &h.Mailing.Host, &h.Mailing.Port
	}
	return out, err
}

// AddMailProgram makes a password for one.
func (h *Handlers) AddMailProgram(ctx context.Context, r AddMailProgramRequestObject) (AddMailProgramResponseObject, error) {
	p, spoken, err := h.Mailing.MakePassword(ctx, r.Body.Name, rules.Settings{Over: r.Body.Over, Numbers: r.Body.Numbers, Holds: r.Body.Holds})
	return AddMailProgram201JSONResponse{Program: program(p), Password: spoken}, err
}

// SetMailProgram changes what becomes of its mails.
func (h *Handlers) SetMailProgram(ctx context.Context, r SetMailProgramRequestObject) (SetMailProgramResponseObject, error) {
	return SetMailProgram204Response{}, h.Mailing.SetPassword(ctx, r.Id, rules.Settings{Over: r.Body.Over, Numbers: r.Body.Numbers, Holds: r.Body.Holds})
}

// RemoveMailProgram lets it sign in no more.
func (h *Handlers) RemoveMailProgram(ctx context.Context, r RemoveMailProgramRequestObject) (RemoveMailProgramResponseObject, error) {
	return RemoveMailProgram204Response{}, h.Mailing.DropPassword(ctx, r.Id)
}

func held(m mailing.Held) contract.HeldMail {
	out := contract.HeldMail{Id: m.ID, At: m.At, Subject: m.Subject, State: contract.HeldMailState(m.State)}
	out.To = present.Each(m.To, func(r mailing.Recipient) contract.MailRecipient {
		return contract.MailRecipient{Address: r.Address, Sent: r.SentAt, Failed: r.Failed}
	})
	if m.TransferID != nil {
		t := present.Transfer(m.Transfer)
		out.Transfer = &t
	}
	return out
}

// ListMails lists those that wait.
func (h *Handlers) ListMails(ctx context.Context, _ ListMailsRequestObject) (ListMailsResponseObject, error) {
	all, err := h.Mailing.List(ctx)
	return ListMails200JSONResponse(present.Each(all, held)), err
}

// GetMail shows one.
func (h *Handlers) GetMail(ctx context.Context, r GetMailRequestObject) (GetMailResponseObject, error) {
	m, err := h.Mailing.One(ctx, r.Id)
	return GetMail200JSONResponse(held(m)), err
}

// DiscardMail gives one up.
func (h *Handlers) DiscardMail(ctx context.Context, r DiscardMailRequestObject) (DiscardMailResponseObject, error) {
	return DiscardMail204Response{}, h.Mailing.Discard(ctx, r.Id)
}

// ConfirmMail sends one.
func (h *Handlers) ConfirmMail(ctx context.Context, r ConfirmMailRequestObject) (ConfirmMailResponseObject, error) {
	terms, err := present.Terms(r.Body)
	if err != nil {
		return nil, err
	}
	return ConfirmMail202Response{}, h.Mailing.Confirm(ctx, r.Id, links.Change{Name: present.Or(r.Body.Name, ""), Terms: terms, Password: r.Body.Password})
}
