package present

import (
	"encoding/hex"
	"encoding/json"

	"tabularis/core/fault"
	"tabularis/core/intake"
	"tabularis/core/linkgate"
	"tabularis/core/register"
	"tabularis/internal/app/links"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/app/visits"
	"tabularis/internal/doors/web/contract"
)

// Terms are the terms in a body: the same part of the contract in all that have them.
func Terms(body any) (linkgate.Terms, error) {
	var t contract.Terms
	raw, err := json.Marshal(body)
	if err == nil {
		err = json.Unmarshal(raw, &t)
	}
	if err != nil {
		return linkgate.Terms{}, err
	}
	out := linkgate.Terms{NotBefore: t.NotBefore, Until: t.Until, Openings: t.Openings, Downloads: t.Downloads, MayDownload: !Or(t.ViewOnly, false), Remarks: Or(t.Remarks, false),
		Allowed: Or(t.Allowed, nil), Tell: linkgate.Telling(Or(t.Tell, "")),
		Limits: intake.Limits{Files: t.IntakeFiles, Bytes: t.IntakeBytes, Endings: Or(t.IntakeEndings, nil)}}
	if slug := Or(t.Slug, ""); slug != "" {
		out.Slug = &slug
	}
	out.Identify, err = linkgate.ParseIdentity("identify", string(Or(t.Identify, "")))
	return out, err
}

// LinkDraft is what a link would be and do.
func LinkDraft(d links.Draft) contract.LinkDraft {
	return contract.LinkDraft{
		Sentence:     Sentence(d.Sentence),
		Offers:       Each(d.Offers, func(o string) contract.LinkDraftOffers { return contract.LinkDraftOffers(o) }),
		Name:         d.Name,
		Title:        d.Title,
		Files:        d.Files,
		Bytes:        d.Bytes,
		LinkedBefore: d.LinkedBefore,
		LatestUntil:  d.Latest,
		OwnUntil:     d.Own,
		UsualUntil:   d.Usual,
		Sensitive: Each(
			d.Sensitive.Found,
			func(f sensitive.Found) contract.SensitiveFinding { return finding(d.Code, f) },
		),
		Unread:    d.Sensitive.Unread,
		Left:      d.Sensitive.Left,
		Forbidden: d.Forbidden,
		Refused:   refused(d.Refused),
		Kinds:     Each(d.Kinds, func(k string) contract.LinkKind { return contract.LinkKind(k) }),
	}
}

func refused(err error) *contract.TermRefused {
	if err == nil {
		return nil
	}
	f := fault.Of(err)
	return &contract.TermRefused{Code: f.Code, Term: f.Field}
}

func finding(code string, f sensitive.Found) contract.SensitiveFinding {
	return contract.SensitiveFinding{
		Item:     f.Item.ID,
		Ref:      register.Ref{Code: code, Number: *f.Item.Number}.String(),
		Document: f.Item.Name,
		Kind:     contract.SensitiveFindingKind(f.Kind),
		Name:     f.Name,
		N:        f.N,
		Page:     f.Page,
		Line:     f.Line,
		Shown:    f.Shown,
	}
}

// LinkFile is a document as a link gives it.
func LinkFile(c visits.Contents, f visits.Given) contract.LinkFile {
	return contract.LinkFile{
		Id:        f.ID,
		Name:      f.Name,
		Ref:       c.Ref(f),
		Size:      f.Give.Size,
		MediaType: f.Give.MediaType,
		Look:      contract.Look(f.Look),
		InHand:    Some(f.InHand),
		Version:   f.Give.Number,
		At:        f.Give.CreatedAt,
		Sha256:    hex.EncodeToString(f.Give.SHA256),
	}
}
