package present

import (
	"encoding/hex"
	"strings"

	"tabularis/core/linkgate"
	"tabularis/internal/app/transfers"
	"tabularis/internal/doors/web/contract"
)

// Transfer is a transfer as its sender sees it.
func Transfer(t transfers.Transfer) contract.Transfer {
	state := "open"
	if t.State != linkgate.None {
		state = string(t.State)
	}
	all, here := t.Bytes()
	out := contract.Transfer{Id: t.LinkID, FolderId: t.FolderID, Name: t.Link.Name, Sealed: Some(contract.TransferSeal(t.Link.Sealed)), State: contract.TransferState(state), Address: Some(t.Address), Sentence: Sentence(t.Sentence), Message: t.Link.Message,
		CreatedAt: t.CreatedAt, EndedAt: t.Link.EndedAt, DestroyedAt: t.DestroyedAt, Bytes: all, Received: here, TellAfterDays: t.TellDays}
	if t.Link.Until != nil {
		out.Until = *t.Link.Until
	}
	out.Files = Each(t.Files, func(f transfers.File) contract.TransferFile {
		return contract.TransferFile{Id: f.ID, Name: f.Name, Size: f.Size, Received: f.Received, Here: f.Here(), Document: f.ItemID, Sha256: Some(hex.EncodeToString(f.SHA256))}
	})
	out.Recipients = Each(t.Recipients, func(r transfers.Recipient) contract.TransferRecipient {
		var which *[]string
		if r.Which != "" {
			names := strings.Split(r.Which, "\n")
			which = &names
		}
		return contract.TransferRecipient{Address: r.Address, ToldAt: r.Told, OpenedAt: r.Opened, Begun: r.Begun, Fetched: r.Files, Which: which, BegunAt: r.BegunAt, FetchedAt: r.DoneAt, RemindedAt: r.Reminded}
	})
	return out
}
