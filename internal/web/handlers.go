package web

import (
	"context"
	"encoding/hex"
	"strings"

	"tabularis/core/items"
	practices "tabularis/internal/app/practice"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/intake"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/links"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/reading"
	"tabularis/internal/secret"
	c "tabularis/internal/web/contract"
)

var _ c.StrictServerInterface = (*Server)(nil)

// GetPractice shows what the sign-in page needs.
func (s *Server) GetPractice(ctx context.Context, _ c.GetPracticeRequestObject) (c.GetPracticeResponseObject, error) {
	p, err := practices.ThePractice(ctx, s.Acts.DB)
	return c.GetPractice200JSONResponse(practice(p)), err
}

// GetToday shows the landing page.
func (s *Server) GetToday(ctx context.Context, _ c.GetTodayRequestObject) (c.GetTodayResponseObject, error) {
	t, err := s.Today.Today(ctx)
	return c.GetToday200JSONResponse{
		Dossiers:   each(t.Dossiers, dossierRow),
		News:       each(t.News, event),
		EndsSoon:   each(t.EndsSoon, link),
		AccessEnds: each(t.AccessEnds, grant(ctx)),
		Requests:   each(t.Requests, request),
		Bytes:      t.Bytes,
		RoomLeft:   t.RoomLeft,
	}, err
}

// ListDossiers lists the dossiers one is in.
func (s *Server) ListDossiers(ctx context.Context, _ c.ListDossiersRequestObject) (c.ListDossiersResponseObject, error) {
	all, err := s.Dossiers.Mine(ctx)
	return c.ListDossiers200JSONResponse(each(all, dossierRow)), err
}

// MakeDossier makes a dossier.
func (s *Server) MakeDossier(ctx context.Context, r c.MakeDossierRequestObject) (c.MakeDossierResponseObject, error) {
	b := r.Body
	made, err := s.Dossiers.Make(ctx, dossiers.New{Code: b.Code, Name: b.Name, Kind: string(b.Kind), Client: or(b.Client, ""), Subject: or(b.Subject, "")})
	return c.MakeDossier201JSONResponse(dossierRow(made)), err
}

// OpenDesk shows the desk of whoever asks.
func (s *Server) OpenDesk(ctx context.Context, _ c.OpenDeskRequestObject) (c.OpenDeskResponseObject, error) {
	desk, err := s.Dossiers.Desk(ctx)
	if err != nil {
		return nil, err
	}
	return c.OpenDesk200JSONResponse(dossierRow(desk)), nil
}

// GetDossier opens a dossier.
func (s *Server) GetDossier(ctx context.Context, r c.GetDossierRequestObject) (c.GetDossierResponseObject, error) {
	other, err := s.Dossiers.As(ctx, r.Code, r.Params.As, true)
	if err != nil {
		return nil, err
	}
	o, err := s.Dossiers.Open(other, r.Code)
	if err != nil {
		return nil, err
	}
	shows := map[uuid.UUID]bool{}
	if or(r.Params.Compare, false) {
		for _, f := range o.Folders {
			shows[f.ID] = true
		}
		if o, err = s.Dossiers.Open(ctx, r.Code); err != nil {
			return nil, err
		}
	}
	out := c.GetDossier200JSONResponse{
		Id:      o.ID,
		Code:    o.Code,
		Name:    o.Name,
		Subject: o.Subject,
		Client:  o.Client,
		Kind:    c.DossierKind(o.Kind),
		Branch:  o.Branch,
		Ends:    o.Ends,
		Folders: each(o.Folders, folder),
		May:     capNames(o.Caps),
	}
	for i, f := range out.Folders {
		out.Folders[i].Hidden = some(len(shows) > 0 && !shows[f.Id])
	}
	if len(o.Folders) > 0 {
		out.Documents, out.Bytes = o.Folders[0].Below, o.Folders[0].Size
	}
	return out, nil
}

// MakeFolder makes a folder.
func (s *Server) MakeFolder(ctx context.Context, r c.MakeFolderRequestObject) (c.MakeFolderResponseObject, error) {
	f, err := s.Dossiers.MakeFolder(ctx, r.Id, r.Body.Name)
	return c.MakeFolder201JSONResponse(folder(f)), err
}

const (
	usualPage   = 200
	longestPage = 500
)

// GetRegister reads a page of a folder's register.
func (s *Server) GetRegister(ctx context.Context, r c.GetRegisterRequestObject) (c.GetRegisterResponseObject, error) {
	limit, err := limited(r.Params.Limit, usualPage, longestPage)
	if err != nil {
		return nil, err
	}
	other, err := s.Dossiers.AsIn(ctx, r.Id, r.Params.As)
	if err != nil {
		return nil, err
	}
	compare := r.Params.As != nil && or(r.Params.Compare, false)
	if !compare {
		ctx = other
	}
	p, err := s.Dossiers.Register(ctx, r.Id, string(or(r.Params.Order, "event")), or(r.Params.After, ""), limit)
	hides := func(dossiers.Row) bool { return false }
	if err == nil && compare {
		hides, err = s.Dossiers.Hides(other, p.Dossier)
	}
	rows := each(p.Rows, func(d dossiers.Row) c.DocumentRow {
		row := c.DocumentRow{
			Id:        d.ID,
			Number:    *d.Number,
			Ref:       documents.Place{Item: d.Item, Code: p.Code}.Ref(),
			Name:      d.Name,
			Size:      d.Size,
			MediaType: d.MediaType,
			Version:   d.Version,
			Door:      door(d.Links, d.Door, d.Closed),
			Hidden:    some(hides(d)),
		}
		if d.Last != nil {
			e := event(*d.Last)
			row.LastEvent = &e
		}
		return row
	})
	return c.GetRegister200JSONResponse{Rows: rows, Next: some(p.Next), Total: p.Total, Bytes: p.Bytes, Linked: p.Linked}, err
}

func limited(asked *int, usual, most int) (int, error) {
	n := or(asked, usual)
	if n < 1 || n > most {
		return 0, fault.Field("limit", "limit-range", "ask for between 1 and %d rows", most)
	}
	return n, nil
}

// RenameItem gives a folder or document another name.
func (s *Server) RenameItem(ctx context.Context, r c.RenameItemRequestObject) (c.RenameItemResponseObject, error) {
	return c.RenameItem204Response{}, s.Dossiers.Rename(ctx, r.Id, r.Body.Name)
}

// GetDocument shows the slip.
func (s *Server) GetDocument(ctx context.Context, r c.GetDocumentRequestObject) (c.GetDocumentResponseObject, error) {
	d, err := s.Documents.Open(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	shown, err := s.Links.Show(ctx, d.Links)
	return c.GetDocument200JSONResponse(slip(d, shown)), err
}

// PreviewDocument prepares text.
func (s *Server) PreviewDocument(ctx context.Context, r c.PreviewDocumentRequestObject) (c.PreviewDocumentResponseObject, error) {
	p, err := s.Documents.Preview(ctx, r.Id, or(r.Params.Version, 0))
	return c.PreviewDocument200JSONResponse(prepared(p)), err
}

// SeparateVersion keeps a version apart.
func (s *Server) SeparateVersion(ctx context.Context, r c.SeparateVersionRequestObject) (c.SeparateVersionResponseObject, error) {
	p, err := s.Documents.Separate(ctx, r.Id, r.Number)
	if err != nil {
		return nil, err
	}
	return c.SeparateVersion201JSONResponse(place(p)), nil
}

// FindByNumber finds a document by its register number.
func (s *Server) FindByNumber(ctx context.Context, r c.FindByNumberRequestObject) (c.FindByNumberResponseObject, error) {
	p, err := s.Documents.ByNumber(ctx, r.Code, r.Number)
	if err != nil {
		return nil, err
	}
	return c.FindByNumber200JSONResponse(place(p)), nil
}

// Find looks for dossiers and documents.
func (s *Server) Find(ctx context.Context, r c.FindRequestObject) (c.FindResponseObject, error) {
	words := strings.Fields(r.Params.Q)
	out := c.Find200JSONResponse{Dossiers: []c.DossierRow{}, Documents: []c.Place{}}
	if len(words) == 0 || len(words) > 10 {
		return out, nil
	}
	if code, number, ok := strings.Cut(r.Params.Q, "/"); ok {
		var n int
		if _, err := scanNumber(number, &n); err == nil {
			if p, err := s.Documents.ByNumber(ctx, code, n); err == nil {
				out.Documents = append(out.Documents, place(p))
			}
		}
	}
	found, err := s.Documents.Find(ctx, words, 12)
	if err != nil {
		return nil, err
	}
	out.Documents = append(out.Documents, each(found, place)...)
	mine, err := s.Dossiers.Mine(ctx)
	for _, d := range mine {
		text := names.Key(d.Code + " " + d.Name + " " + d.Client + " " + d.Subject)
		if matchesAll(text, words) && len(out.Dossiers) < 6 {
			out.Dossiers = append(out.Dossiers, dossierRow(d))
		}
	}
	return out, err
}

func matchesAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, names.Key(w)) {
			return false
		}
	}
	return true
}

// GetUploadOutcome tells what became of an upload; one that is complete but not
// yet finished is finished now.
func (s *Server) GetUploadOutcome(ctx context.Context, r c.GetUploadOutcomeRequestObject) (c.GetUploadOutcomeResponseObject, error) {
	u, err := s.Uploads.Find(ctx, r.Id)
	if err == nil && u.Outcome == "" {
		u, err = s.Uploads.Finish(ctx, r.Id)
	}
	if err != nil {
		return nil, err
	}
	slip, err := s.Documents.Open(ctx, *u.ItemID)
	if err != nil {
		return nil, err
	}
	separable := u.Outcome == "version" && slip.Separable(u.Version)
	return c.GetUploadOutcome200JSONResponse{
		Outcome:   c.UploadOutcomeOutcome(u.Outcome),
		Document:  place(documents.Place{Item: slip.Item, Code: slip.Code}),
		Version:   u.Version,
		Separable: &separable,
	}, nil
}

func wish(t *c.LinkTerms) links.Wish {
	return links.Wish{
		Items:     t.Items,
		Name:      or(t.Name, ""),
		UntilSet:  t.Until != nil,
		Until:     t.Until,
		Openings:  t.Openings,
		Password:  or(t.Password, ""),
		Newest:    or(t.Newest, false),
		Language:  string(or(t.Language, "en")),
		NotBefore: t.NotBefore,
		Downloads: t.Downloads,
		ViewOnly:  or(t.ViewOnly, false),
		Identify:  string(or(t.Identify, "")),
		Allowed:   or(t.Allowed, nil),
		Kind: string(
			or(t.Kind, ""),
		),
		Slug:     or(t.Slug, ""),
		Tell:     string(or(t.Tell, "")),
		Expected: or(t.Expected, nil),
		Limits:   intake.Limits{Files: t.IntakeFiles, Bytes: t.IntakeBytes, Endings: or(t.IntakeEndings, nil)},
	}
}

// DraftLink says what terms would mean.
func (s *Server) DraftLink(ctx context.Context, r c.DraftLinkRequestObject) (c.DraftLinkResponseObject, error) {
	d, err := s.Links.Draft(ctx, wish(r.Body))
	return c.DraftLink200JSONResponse{
		Sentence:     parts(d.Sentence),
		Offers:       each(d.Offers, func(o string) c.LinkDraftOffers { return c.LinkDraftOffers(o) }),
		Name:         d.Name,
		Title:        d.Title,
		Files:        d.Files,
		Bytes:        d.Bytes,
		LinkedBefore: d.LinkedBefore,
		LatestUntil:  d.Latest,
		OwnUntil:     d.Own,
		UsualUntil:   d.Usual,
		Sensitive: each(
			d.Sensitive.Found,
			func(f sensitive.Found) c.SensitiveFinding { return finding(d.Code, f) },
		),
		Unread:    d.Sensitive.Unread,
		Left:      d.Sensitive.Left,
		Forbidden: d.Forbidden,
		Refused:   refused(d.Refused),
		Kinds:     each(d.Kinds, func(k string) c.LinkKind { return c.LinkKind(k) }),
	}, err
}

// MakeLink makes a link.
func (s *Server) MakeLink(ctx context.Context, r c.MakeLinkRequestObject) (c.MakeLinkResponseObject, error) {
	l, err := s.Links.Make(ctx, wish(r.Body))
	return c.MakeLink201JSONResponse(link(l)), err
}

// ChangeLink sets a link's terms anew.
func (s *Server) ChangeLink(ctx context.Context, r c.ChangeLinkRequestObject) (c.ChangeLinkResponseObject, error) {
	b := r.Body
	l, err := s.Links.Change(
		ctx,
		r.Id,
		links.Change{
			Name:      b.Name,
			Until:     &b.Until,
			NotBefore: b.NotBefore,
			Openings:  b.Openings,
			Downloads: b.Downloads,
			ViewOnly:  or(b.ViewOnly, false),
			Slug:      or(b.Slug, ""),
			Tell:      string(or(b.Tell, "")),
			Limits:    intake.Limits{Files: b.IntakeFiles, Bytes: b.IntakeBytes, Endings: or(b.IntakeEndings, nil)},
			Identify:  string(or(b.Identify, "")),
			Allowed:   or(b.Allowed, nil),
			Password:  b.Password,
		},
	)
	return c.ChangeLink200JSONResponse(link(l)), err
}

// OfferPassword makes up a password.
func (s *Server) OfferPassword(context.Context, c.OfferPasswordRequestObject) (c.OfferPasswordResponseObject, error) {
	return c.OfferPassword200JSONResponse{Password: secret.Spoken()}, nil
}

// ListLinks lists links of one's dossiers.
func (s *Server) ListLinks(ctx context.Context, r c.ListLinksRequestObject) (c.ListLinksResponseObject, error) {
	var out c.ListLinks200JSONResponse
	state := or(r.Params.State, c.ListLinksParamsStateOpen)
	for _, over := range []bool{false, true} {
		if over && state == c.ListLinksParamsStateOpen || !over && state == c.ListLinksParamsStateOver {
			continue
		}
		all, err := s.Links.List(ctx, over, or(r.Params.Mine, false), or(r.Params.Dossier, ""))
		if err != nil {
			return nil, err
		}
		out = append(out, each(all, link)...)
	}
	if out == nil {
		out = c.ListLinks200JSONResponse{}
	}
	return out, nil
}

// GetLink shows a link's record.
func (s *Server) GetLink(ctx context.Context, r c.GetLinkRequestObject) (c.GetLinkResponseObject, error) {
	l, events, err := s.Links.Record(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	looks, err := s.Links.Looks(ctx, r.Id)
	noted := func(l links.VisitLook) c.LookNoted {
		return c.LookNoted{Visit: l.VisitID.String(), ItemId: l.ItemID, Version: l.Version, Pages: l.Pages, Seconds: l.Seconds}
	}
	return c.GetLink200JSONResponse{Link: link(l), Events: each(events, event), Looks: each(looks, noted)}, err
}

// EndLink ends a link.
func (s *Server) EndLink(ctx context.Context, r c.EndLinkRequestObject) (c.EndLinkResponseObject, error) {
	return c.EndLink204Response{}, s.Links.End(ctx, r.Id)
}

// GrantOpening lets one more visit in.
func (s *Server) GrantOpening(ctx context.Context, r c.GrantOpeningRequestObject) (c.GrantOpeningResponseObject, error) {
	if err := s.Links.GrantOpening(ctx, r.Id); err != nil {
		return nil, err
	}
	l, err := s.Links.One(ctx, r.Id)
	return c.GrantOpening200JSONResponse(link(l)), err
}

// MailLink mails a link.
func (s *Server) MailLink(ctx context.Context, r c.MailLinkRequestObject) (c.MailLinkResponseObject, error) {
	return c.MailLink202Response{}, s.Links.Mail(ctx, r.Id, r.Body.To, or(r.Body.Message, ""))
}

// ListActivity reads the stream.
func (s *Server) ListActivity(ctx context.Context, r c.ListActivityRequestObject) (c.ListActivityResponseObject, error) {
	p := r.Params
	limit, err := limited(p.Limit, 100, 200)
	if err != nil {
		return nil, err
	}
	f := activity.Filter{Dossier: or(p.Dossier, ""), About: string(or(p.About, "everything")), Before: or(p.Before, 0), Limit: limit}
	if p.Person != nil {
		f.Person = *p.Person
	}
	if p.Since != nil {
		f.Since = *p.Since
	}
	st, err := s.Activity.Stream(ctx, f)
	return c.ListActivity200JSONResponse{Events: each(st.Events, event), People: each(st.People, person), More: st.More}, err
}

// ArriveAtLink shows a link's front.
func (s *Server) ArriveAtLink(ctx context.Context, r c.ArriveAtLinkRequestObject) (c.ArriveAtLinkResponseObject, error) {
	f, err := s.Visits.Arrive(ctx, visitor(ctx.(*gin.Context), r.Token))
	if err != nil {
		return nil, err
	}
	return c.ArriveAtLink200JSONResponse{
		Kind:          c.LinkKind(f.Link.Kind),
		Open:          f.Open,
		NeedsPassword: f.NeedsPassword,
		Identify:      c.Identity(f.Link.Identify),
		KnownAs:       some(f.KnownAs),
		Practice:      f.Practice,
		Tagline:       f.Tagline,
		Sender:        &f.Sender,
		Language:      &f.Link.Language,
	}, nil
}

// OpenLink lets a visitor in.
func (s *Server) OpenLink(ctx context.Context, r c.OpenLinkRequestObject) (c.OpenLinkResponseObject, error) {
	token, l, err := s.Visits.Open(
		ctx,
		visitor(ctx.(*gin.Context), r.Token),
		visits.Claim{Password: or(r.Body.Password, ""), Email: or(r.Body.Email, ""), Code: or(r.Body.Code, "")},
	)
	if err != nil {
		return nil, err
	}
	if token != "" {
		life := linkgate.VisitLength
		if l.Until != nil {
			life = min(life, l.Until.Sub(s.Acts.Now()))
		}
		s.setCookie(ctx, visitCookie+l.ID.String(), token, life)
	}
	return c.OpenLink204Response{}, nil
}

// SendLinkCode sends a visitor a code.
func (s *Server) SendLinkCode(ctx context.Context, r c.SendLinkCodeRequestObject) (c.SendLinkCodeResponseObject, error) {
	return c.SendLinkCode202Response{}, s.Visits.SendCode(ctx, visitor(ctx.(*gin.Context), r.Token), r.Body.Email)
}

// GetLinkContents shows what a link gives.
func (s *Server) GetLinkContents(ctx context.Context, r c.GetLinkContentsRequestObject) (c.GetLinkContentsResponseObject, error) {
	got, err := s.Visits.Given(ctx, visitor(ctx.(*gin.Context), r.Token), or(r.Params.Folder, [16]byte{}))
	if err != nil {
		return nil, err
	}
	folders := func(i items.Item) c.LinkFolder { return c.LinkFolder{Id: i.ID, Name: i.Name} }
	out := c.GetLinkContents200JSONResponse{
		Name:     got.Link.Name,
		Sender:   person(got.Sender),
		Message:  got.Link.Message,
		Sentence: parts(got.Sentence),
		Newest:   got.Link.Newest,
		ViewOnly: !got.Link.MayDownload,
		MayAdd:   got.Link.Kind == linkgate.Working,
		Language: got.Link.Language,
		Way:      each(got.Way, folders),
		Folders:  each(got.Folders, folders),
		Bytes:    got.Bytes,
		Count:    got.Count,
		KeptBack: some(got.KeptBack),
		Files:    []c.LinkFile{},
	}
	for _, f := range got.Files {
		out.Files = append(
			out.Files,
			c.LinkFile{
				Id:        f.ID,
				Name:      f.Name,
				Ref:       got.Ref(f),
				Size:      f.Give.Size,
				MediaType: f.Give.MediaType,
				Look:      c.Look(f.Look),
				Version:   f.Give.Number,
				At:        f.Give.CreatedAt,
				Sha256:    hex.EncodeToString(f.Give.SHA256),
			},
		)
	}
	return out, nil
}

// PreviewLinkDocument prepares text of a document that a link gives.
func (s *Server) PreviewLinkDocument(ctx context.Context, r c.PreviewLinkDocumentRequestObject) (c.PreviewLinkDocumentResponseObject, error) {
	p, err := s.Visits.Preview(ctx, visitor(ctx.(*gin.Context), r.Token), r.Id)
	return c.PreviewLinkDocument200JSONResponse(prepared(p)), err
}

func refused(err error) *c.TermRefused {
	if err == nil {
		return nil
	}
	f := fault.Of(err)
	return &c.TermRefused{Code: f.Code, Term: f.Field}
}

// RemindOfPapers reminds outsiders of what is missing.
func (s *Server) RemindOfPapers(ctx context.Context, r c.RemindOfPapersRequestObject) (c.RemindOfPapersResponseObject, error) {
	return c.RemindOfPapers204Response{}, s.Links.Remind(ctx, r.Id)
}

// GetIntake shows what a link takes in.
func (s *Server) GetIntake(ctx context.Context, r c.GetIntakeRequestObject) (c.GetIntakeResponseObject, error) {
	in, err := s.Visits.Intake(ctx, visitor(ctx.(*gin.Context), r.Token))
	return c.GetIntake200JSONResponse(visitIntake(in)), err
}

// HandIn ends handing papers in.
func (s *Server) HandIn(ctx context.Context, r c.HandInRequestObject) (c.HandInResponseObject, error) {
	in, err := s.Visits.HandIn(
		ctx,
		visitor(ctx.(*gin.Context), r.Token),
		visits.Signed{Name: or(r.Body.Name, ""), Email: or(r.Body.Email, ""), Note: or(r.Body.Note, "")},
	)
	return c.HandIn200JSONResponse(visitIntake(in)), err
}

func visitIntake(in visits.Intake) c.VisitIntake {
	out := c.VisitIntake{
		Name:     in.Link.Name,
		Sender:   person(in.Sender),
		Message:  in.Link.Message,
		Sentence: parts(in.Sentence),
		Language: in.Link.Language,
		Expected: each(in.Expected, expected),
		Endings:  list(in.Left.Endings),
		Files:    in.Left.Files,
		Bytes:    in.Left.Bytes,
		Email:    in.Visit.Email,
		Received: []c.ReceivedFile{},
	}
	for _, r := range in.Received {
		f := c.ReceivedFile{Name: r.Name, Size: r.Size, Sha256: hex.EncodeToString(r.SHA256), At: r.At}
		if r.Paper != nil && *r.Paper < len(in.Expected) {
			f.Paper = &in.Expected[*r.Paper].Name
		}
		out.Received = append(out.Received, f)
	}
	return out
}

func expected(p links.ExpectedPaper) c.ExpectedPaper {
	return c.ExpectedPaper{Name: p.Name, Here: p.Here}
}

// OutlineLinkDocument says which pages a document has.
func (s *Server) OutlineLinkDocument(ctx context.Context, r c.OutlineLinkDocumentRequestObject) (c.OutlineLinkDocumentResponseObject, error) {
	o, err := s.Visits.Outline(ctx, visitor(ctx.(*gin.Context), r.Token), r.Id)
	if err != nil {
		return nil, err
	}
	size := func(p reading.Size) c.PageSize { return c.PageSize{Width: p.Width, Height: p.Height} }
	return c.OutlineLinkDocument200JSONResponse{Pages: each(o.Pages, size), Cut: o.Cut}, nil
}

// NoteLook notes how long a visitor looked at what.
func (s *Server) NoteLook(ctx context.Context, r c.NoteLookRequestObject) (c.NoteLookResponseObject, error) {
	return c.NoteLook204Response{}, s.Visits.Look(ctx, visitor(ctx.(*gin.Context), r.Token), r.Id, visits.Looked{Pages: r.Body.Pages, Seconds: r.Body.Seconds})
}
