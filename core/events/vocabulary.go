package events

import (
	"reflect"
	"strings"
)

// keysOf lists the keys of data, from the JSON names of a struct's fields.
func keysOf[D any]() (keys []string) {
	var walk func(t reflect.Type)
	walk = func(t reflect.Type) {
		for i := range t.NumField() {
			f := t.Field(i)
			if f.Anonymous {
				walk(f.Type)
				continue
			}
			name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			keys = append(keys, name)
		}
	}
	walk(reflect.TypeFor[D]())
	return keys
}

// What events say beside their ids. Numbers are written as text, so that all data
// are text.
type (
	// Nothing is said beside that it happened.
	Nothing struct{}
	// Name is what it was called at that moment.
	Name struct {
		Name string `json:"name,omitempty"`
	}
	// Renaming is from one name to another.
	Renaming struct {
		From string `json:"from,omitempty"`
		To   string `json:"to,omitempty"`
	}
	// Recasting is what a dossier is called and about from now on, and what it was
	// called before.
	Recasting struct {
		From    string `json:"from,omitempty"`
		To      string `json:"to,omitempty"`
		Subject string `json:"subject,omitempty"`
		Client  string `json:"client,omitempty"`
		Kind    string `json:"kind,omitempty"`
	}
	// Tagging is which of the practice's tags a document bears from now on, and which no
	// longer, by their names.
	Tagging struct {
		Name  string `json:"name,omitempty"`
		Put   string `json:"put,omitempty"`
		Taken string `json:"taken,omitempty"`
	}
	// Particulars is what stands in particulars of a document from now on, as people read it.
	Particulars struct {
		Name   string `json:"name,omitempty"`
		Values string `json:"values,omitempty"`
	}
	// Moving says where to, and the register number that it had elsewhere.
	Moving struct {
		Name string `json:"name,omitempty"`
		To   string `json:"to,omitempty"`
		Was  string `json:"was,omitempty"`
	}
	// Versioning is a version of a document: its name and note, of one that came in the
	// SHA-256 of its content in hexadecimal, and of one that was brought back, from which.
	Versioning struct {
		Name   string `json:"name,omitempty"`
		Title  string `json:"title,omitempty"`
		Note   string `json:"note,omitempty"`
		From   int    `json:"from,omitempty,string"`
		SHA256 string `json:"sha256,omitempty"`
	}
	// Remarking is a remark, by its id, on something.
	Remarking struct {
		Name   string `json:"name,omitempty"`
		Remark string `json:"remark,omitempty"`
	}
	// Count is how many.
	Count struct {
		N int `json:"n,omitempty,string"`
	}
	// Erasing is an event of which what may be personal was erased, by its number.
	Erasing struct {
		Event int64 `json:"event,omitempty,string"`
	}
	// Arriving is a document that came in, with the SHA-256 of its content in hexadecimal.
	Arriving struct {
		Name   string `json:"name,omitempty"`
		SHA256 string `json:"sha256,omitempty"`
	}
	// Thinning is how many versions of a document a rule let go.
	Thinning struct {
		Name     string `json:"name,omitempty"`
		Versions int    `json:"versions,omitempty,string"`
	}
	// Holding is a document that is in somebody's hand: what for, and until when (RFC
	// 3339); of one that was taken away from them, whose and why.
	Holding struct {
		Name   string `json:"name,omitempty"`
		Note   string `json:"note,omitempty"`
		Until  string `json:"until,omitempty"`
		Person string `json:"person,omitempty"`
	}
	// Deleting is what was deleted, with how many documents, and why. By the deletion's
	// id it can be brought back.
	Deleting struct {
		Name      string `json:"name,omitempty"`
		Documents int    `json:"documents,omitempty,string"`
		Deletion  string `json:"deletion,omitempty"`
		Note      string `json:"note,omitempty"`
	}
	// Apart is a document that a version became, with its running number.
	Apart struct {
		Name   string `json:"name,omitempty"`
		Number int    `json:"number,omitempty,string"`
	}
	// Giving is access as it was given: to whom (nobody named is everyone), at which
	// level or with which capabilities, until when (RFC 3339).
	Giving struct {
		To    string `json:"to"`
		Level string `json:"level,omitempty"`
		May   string `json:"may,omitempty"`
		Until string `json:"until,omitempty"`
	}
	// PersonNamed is about a person.
	PersonNamed struct {
		Person string `json:"person,omitempty"`
	}
	// Standing is a person with their standing in the practice.
	Standing struct {
		Person   string `json:"person,omitempty"`
		Standing string `json:"standing,omitempty"`
	}
	// Factor is a person with one of their factors.
	Factor struct {
		Person string `json:"person,omitempty"`
		Factor string `json:"factor,omitempty"`
	}
	// Membering is a person who was let into a dossier at a level.
	Membering struct {
		Person string `json:"person,omitempty"`
		Level  string `json:"level,omitempty"`
	}
	// HandingOver is a dossier that passes from one person to another.
	HandingOver struct {
		From string `json:"from,omitempty"`
		To   string `json:"to,omitempty"`
	}
	// Membership is a group and one of its members.
	Membership struct {
		Name   string `json:"name,omitempty"`
		Member string `json:"member,omitempty"`
	}
	// ByGroup is a group by which a person came in.
	ByGroup struct {
		Name   string `json:"name,omitempty"`
		Person string `json:"person,omitempty"`
	}
	// LinkNamed is the link's name at that moment.
	LinkNamed struct {
		Link string `json:"link,omitempty"`
	}
	// LinkTerms are a link's terms, as a sentence.
	LinkTerms struct {
		LinkNamed
		Terms string `json:"terms,omitempty"`
	}
	// LinkSent is where a link went.
	LinkSent struct {
		LinkNamed
		To string `json:"to,omitempty"`
	}
	// Transferring is something of which a copy was sent, and what the transfer is called.
	Transferring struct {
		Name     string `json:"name,omitempty"`
		Transfer string `json:"transfer,omitempty"`
	}
	// LinkMissing are papers that a link still waits for.
	LinkMissing struct {
		LinkNamed
		Missing string `json:"missing,omitempty"`
	}
	// LinkLimit is how many openings a link has now.
	LinkLimit struct {
		LinkNamed
		Limit int `json:"limit,omitempty,string"`
	}
	// Visit is a visitor as far as they are known: their address and how surely,
	// and to whom the copy of the link went by which they came.
	Visit struct {
		LinkNamed
		Email string `json:"email,omitempty"`
		Known string `json:"known,omitempty"`
		Copy  string `json:"copy,omitempty"`
	}
	// Opening is which opening it was, of how many.
	Opening struct {
		Visit
		Opening int `json:"opening,omitempty,string"`
		Limit   int `json:"limit,omitempty,string"`
	}
	// Refusal is why a visitor was not let in.
	Refusal struct {
		LinkNamed
		Reason string `json:"reason,omitempty"`
	}
	// VisitItem is something that a visitor changed, with the SHA-256 that it has now.
	VisitItem struct {
		Visit
		Name   string `json:"name,omitempty"`
		SHA256 string `json:"sha256,omitempty"`
	}
	// VisitFile is a file that a visitor brought, looked at or fetched, with its
	// SHA-256 in hexadecimal and the id of the visit.
	VisitFile struct {
		Visit
		Name    string `json:"name,omitempty"`
		SHA256  string `json:"sha256,omitempty"`
		VisitID string `json:"visit,omitempty"`
	}
	// VisitFiles are so many files.
	VisitFiles struct {
		Visit
		Files int `json:"files,omitempty,string"`
	}
	// FillingNamed is a form that was handed in: which of its answers it is, and by whom.
	FillingNamed struct {
		Name   string `json:"name,omitempty"`
		Number int    `json:"number,omitempty,string"`
		Person string `json:"person,omitempty"`
		SHA256 string `json:"sha256,omitempty"`
	}
	// HandingIn is what a visitor says at the end of handing papers in.
	HandingIn struct {
		Visit
		Files  int    `json:"files,omitempty,string"`
		Person string `json:"person,omitempty"`
		Note   string `json:"note,omitempty"`
	}
	// Deciding is a run of a document: by which route, at which stop, on the content with which
	// SHA-256; who else is concerned, and why it does not go on.
	Deciding struct {
		Name   string `json:"name,omitempty"`
		Route  string `json:"route,omitempty"`
		Stop   int    `json:"stop,omitempty,string"`
		Doing  string `json:"doing,omitempty"`
		SHA256 string `json:"sha256,omitempty"`
		Person string `json:"person,omitempty"`
		Reason string `json:"reason,omitempty"`
		// Seen are the pages that had been looked at, of how many.
		Seen  string `json:"seen,omitempty"`
		Pages int    `json:"pages,omitempty,string"`
	}
	// Signing is a paper that goes to its parties: which of them it is about and how surely they were known,
	// on the content with which SHA-256, and why it ended.
	Signing struct {
		Name   string `json:"name,omitempty"`
		Person string `json:"person,omitempty"`
		Letter string `json:"letter,omitempty"`
		Known  string `json:"known,omitempty"`
		SHA256 string `json:"sha256,omitempty"`
		Result string `json:"result,omitempty"`
		Reason string `json:"reason,omitempty"`
		// Seen are the pages that had been looked at, of how many.
		Seen  string `json:"seen,omitempty"`
		Pages int    `json:"pages,omitempty,string"`
		// Form is of which it was made, in which edition.
		Form    string `json:"form,omitempty"`
		Edition int    `json:"edition,omitempty,string"`
	}
	// Routing is a route, and its edition.
	Routing struct {
		Route   string `json:"route,omitempty"`
		Edition int    `json:"edition,omitempty,string"`
		Reason  string `json:"reason,omitempty"`
	}
	// Delivering is what somebody outside sent to a published address.
	Delivering struct {
		Email  string `json:"email"`
		Person string `json:"person"`
		Files  int    `json:"files,string"`
	}
)

// The dossiers and what is in them.
var (
	DossierMade    = declare[Name](Kind{Name: "dossier.made", About: OfDossier})
	DossierChanged = declare[Recasting](Kind{Name: "dossier.changed", About: OfDossier})
	// DossierKeeping is that it was said which versions are kept in a dossier.
	DossierKeeping  = declare[Nothing](Kind{Name: "dossier.keeping", About: OfDossier})
	DossierSetAside = declare[Nothing](Kind{Name: "dossier.set-aside", About: OfDossier})
	DossierTakenUp  = declare[Nothing](Kind{Name: "dossier.taken-up", About: OfDossier})
	FolderMade      = declare[Name](Kind{Name: "folder.made", About: OfItem})
	FolderRenamed   = declare[Renaming](Kind{Name: "folder.renamed", About: OfItem})
	FolderMoved     = declare[Moving](Kind{Name: "folder.moved", About: OfItem, EndsViews: true, Moves: true})
	FolderPlaced    = declare[Name](Kind{Name: "folder.placed", About: OfItem})
	FolderMovedAway = declare[Name](Kind{Name: "folder.moved-away", About: OfItem, EndsViews: true})
	DocumentAdded   = declare[Arriving](Kind{Name: "document.added", About: OfItem})
	DocumentApart   = declare[Arriving](Kind{Name: "document.apart", About: OfItem})
	DocumentRenamed = declare[Renaming](Kind{Name: "document.renamed", About: OfItem})
	TransferMade    = declare[Transferring](Kind{Name: "transfer.made", About: OfItem})
	// DeliveryAccepted is that what came from outside was put into a folder, DeliveryRefused that it
	// was destroyed.
	DeliveryAccepted    = declare[Delivering](Kind{Name: "delivery.accepted", About: OfItem})
	DeliveryRefused     = declare[Delivering](Kind{Name: "delivery.refused", About: OfDossier})
	DocumentTagged      = declare[Tagging](Kind{Name: "document.tagged", About: OfItem})
	DocumentParticulars = declare[Particulars](Kind{Name: "document.particulars", About: OfItem})
	DocumentMoved       = declare[Moving](Kind{Name: "document.moved", About: OfItem, EndsViews: true, Moves: true})
	DocumentMovedAway   = declare[Name](Kind{Name: "document.moved-away", About: OfItem, EndsViews: true})
	DossierDeleted      = declare[Deleting](Kind{Name: "dossier.deleted", About: OfItem, EndsViews: true})
	DossierBroughtBack  = declare[Moving](Kind{Name: "dossier.brought-back", About: OfItem})
	DossierDestroyed    = declare[Deleting](Kind{Name: "dossier.destroyed", About: OfItem})
	FolderDeleted       = declare[Deleting](Kind{Name: "folder.deleted", About: OfItem, EndsViews: true})
	FolderBroughtBack   = declare[Moving](Kind{Name: "folder.brought-back", About: OfItem})
	FolderDestroyed     = declare[Deleting](Kind{Name: "folder.destroyed", About: OfItem})
	DocumentDeleted     = declare[Deleting](Kind{Name: "document.deleted", About: OfItem, EndsViews: true})
	DocumentBroughtBack = declare[Moving](Kind{Name: "document.brought-back", About: OfItem})
	DocumentDestroyed   = declare[Deleting](Kind{Name: "document.destroyed", About: OfItem})
	VersionAdded        = declare[Versioning](Kind{Name: "version.added", About: OfItem})
	VersionSeparated    = declare[Apart](Kind{Name: "version.separated", About: OfItem})
	DocumentCheckedOut  = declare[Holding](Kind{Name: "document.checked-out", About: OfItem})
	DocumentCheckedIn   = declare[Holding](Kind{Name: "document.checked-in", About: OfItem})
	DocumentTakenBack   = declare[Holding](Kind{Name: "document.taken-back", About: OfItem})
	VersionBroughtBack  = declare[Versioning](Kind{Name: "version.brought-back", About: OfItem})
	VersionNamed        = declare[Versioning](Kind{Name: "version.named", About: OfItem})
	VersionNoted        = declare[Versioning](Kind{Name: "version.noted", About: OfItem})
	VersionRemoved      = declare[Versioning](Kind{Name: "version.removed", About: OfItem, EndsViews: true})
	// VersionThinned is that versions were removed by a keeping rule.
	VersionThinned  = declare[Thinning](Kind{Name: "version.thinned", About: OfItem})
	VersionRestored = declare[Versioning](Kind{Name: "version.restored", About: OfItem})
	AccessGiven     = declare[Giving](Kind{Name: "access.given", About: OfItem})
	AccessChanged   = declare[Giving](Kind{Name: "access.changed", About: OfItem, EndsViews: true})
	AccessEnded     = declare[Giving](Kind{Name: "access.ended", About: OfItem, EndsViews: true})
	AccessClosed    = declare[Name](Kind{Name: "access.closed", About: OfItem, EndsViews: true})
	AccessOpened    = declare[Name](Kind{Name: "access.opened", About: OfItem})
	AccessViewedAs  = declare[PersonNamed](Kind{Name: "access.viewed-as", About: OfDossier})
	AccessByGroup   = declare[ByGroup](Kind{Name: "access.by-group", About: OfDossier})
	// memberAdded was recorded before access stood on items: it can be read, and is not
	// recorded any more.
	_                = declare[Membering](Kind{Name: "member.added", About: OfDossier})
	AccessHandedOver = declare[HandingOver](Kind{Name: "access.handed-over", About: OfDossier})
)

// What people say about things.
var (
	RemarkWritten  = declare[Remarking](Kind{Name: "remark.written", About: OfItem})
	RemarkChanged  = declare[Remarking](Kind{Name: "remark.changed", About: OfItem})
	RemarkRemoved  = declare[Remarking](Kind{Name: "remark.removed", About: OfItem})
	RemarkResolved = declare[Remarking](Kind{Name: "remark.resolved", About: OfItem})
	RemarkReopened = declare[Remarking](Kind{Name: "remark.reopened", About: OfItem})
)

// Papers that are signed by their parties.
var (
	SigningSent      = declare[Signing](Kind{Name: "signing.sent", About: OfItem, Inside: true})
	SigningSigned    = declare[Signing](Kind{Name: "signing.signed", About: OfItem, Inside: true})
	SigningDeclined  = declare[Signing](Kind{Name: "signing.declined", About: OfItem, Inside: true})
	SigningChanged   = declare[Signing](Kind{Name: "signing.changed", About: OfItem, Inside: true})
	SigningCorrected = declare[Signing](Kind{Name: "signing.corrected", About: OfItem, Inside: true})
	SigningReminded  = declare[Signing](Kind{Name: "signing.reminded", About: OfItem, Inside: true})
	SigningCalledOff = declare[Signing](Kind{Name: "signing.called-off", About: OfItem, Inside: true})
	SigningExpired   = declare[Signing](Kind{Name: "signing.expired", About: OfItem, Inside: true})
	// SigningFinished is that all have signed and the signed paper stands.
	SigningFinished = declare[Signing](Kind{Name: "signing.finished", About: OfItem, Inside: true})
	// SigningForm is that an edition of a form counts that stands on a document.
	SigningForm = declare[Signing](Kind{Name: "signing.form", About: OfItem, Inside: true})
)

// Decisions on documents, and the routes that bring them about.
var (
	DecisionAsked     = declare[Deciding](Kind{Name: "decision.asked", About: OfItem, Inside: true})
	DecisionGiven     = declare[Deciding](Kind{Name: "decision.given", About: OfItem, Inside: true})
	DecisionReturned  = declare[Deciding](Kind{Name: "decision.returned", About: OfItem, Inside: true})
	DecisionTakenBack = declare[Deciding](Kind{Name: "decision.taken-back", About: OfItem, Inside: true})
	DecisionHandedOn  = declare[Deciding](Kind{Name: "decision.handed-on", About: OfItem, Inside: true})
	DecisionQuestion  = declare[Deciding](Kind{Name: "decision.question", About: OfItem, Inside: true})
	RunStarted        = declare[Deciding](Kind{Name: "run.started", About: OfItem, Inside: true})
	RunHandedIn       = declare[Deciding](Kind{Name: "run.handed-in", About: OfItem, Inside: true})
	RunSkipped        = declare[Deciding](Kind{Name: "run.skipped", About: OfItem, Inside: true})
	RunHeld           = declare[Deciding](Kind{Name: "run.held", About: OfItem, Inside: true})
	RunLapsed         = declare[Deciding](Kind{Name: "run.lapsed", About: OfItem, Inside: true})
	RunCalledOff      = declare[Deciding](Kind{Name: "run.called-off", About: OfItem, Inside: true})
	// RunDone is that a run has come to its end: what it decided counts for the content.
	RunDone         = declare[Deciding](Kind{Name: "run.done", About: OfItem, Inside: true})
	RouteSwitchedOn = declare[Routing](Kind{Name: "route.on", About: OfItem, Inside: true})
	// RouteSwitchedOff is that a route starts nothing any more; by itself where the reason says so.
	RouteSwitchedOff = declare[Routing](Kind{Name: "route.off", About: OfItem, Inside: true})
	RouteRemoved     = declare[Routing](Kind{Name: "route.removed", About: OfItem, Inside: true})
)

// FillingHandedIn is that a form was filled in and handed in; what it became is a document of its own.
var FillingHandedIn = declare[FillingNamed](Kind{Name: "filling.handed-in", About: OfItem, Inside: true})

// Links, and what happens through them.
var (
	LinkMade           = declare[LinkTerms](Kind{Name: "link.made", About: OfLink})
	LinkChanged        = declare[LinkTerms](Kind{Name: "link.changed", About: OfLink, EndsViews: true})
	LinkReopened       = declare[LinkNamed](Kind{Name: "link.reopened", About: OfLink})
	LinkEnded          = declare[LinkNamed](Kind{Name: "link.ended", About: OfLink, EndsViews: true})
	LinkOpeningGranted = declare[LinkLimit](Kind{Name: "link.opening-granted", About: OfLink})
	LinkSentTo         = declare[LinkSent](Kind{Name: "link.sent", About: OfLink})
	LinkReminded       = declare[LinkMissing](Kind{Name: "link.reminded", About: OfLink})
	LinkOpened         = declare[Opening](Kind{Name: "link.opened", About: OfLink, Outside: true, TellsSender: true, Tidings: true})
	LinkRefused        = declare[Refusal](Kind{Name: "link.refused", About: OfLink, Outside: true, TellsSender: true})
	LinkRemarked       = declare[VisitFile](Kind{Name: "link.remarked", About: OfLink, Outside: true})
	LinkViewed         = declare[VisitFile](Kind{Name: "link.viewed", About: OfLink, Outside: true})
	LinkFetched        = declare[VisitFile](Kind{Name: "link.fetched", About: OfLink, Outside: true, TellsSender: true, Tidings: true})
	LinkFetchedAll     = declare[VisitFiles](Kind{Name: "link.fetched-all", About: OfLink, Outside: true, TellsSender: true, Tidings: true})
	// LinkWithdrawn is that a visitor took back what they had brought.
	LinkWithdrawn = declare[VisitFile](Kind{Name: "link.withdrawn", About: OfLink, Outside: true, TellsSender: true})
	LinkReceived  = declare[VisitFile](Kind{Name: "link.received", About: OfLink, Outside: true, TellsSender: true, Tidings: true})
	LinkRevised   = declare[VisitItem](Kind{Name: "link.revised", About: OfLink, Outside: true, TellsSender: true, Tidings: true})
	LinkHandedIn  = declare[HandingIn](Kind{Name: "link.handed-in", About: OfLink, Outside: true, TellsSender: true, Tidings: true})
)

// Accounts, groups and the practice.
var (
	AccountInvited       = declare[Standing](Kind{Name: "account.invited"})
	AccountEntered       = declare[PersonNamed](Kind{Name: "account.entered"})
	AccountJoined        = declare[Standing](Kind{Name: "account.joined"})
	AccountPasswordSet   = declare[PersonNamed](Kind{Name: "account.password-set"})
	AccountFactorSet     = declare[Factor](Kind{Name: "account.factor-set"})
	AccountFactorRemoved = declare[Factor](Kind{Name: "account.factor-removed"})
	AccountStanding      = declare[Standing](Kind{Name: "account.standing"})
	AccountDeactivated   = declare[PersonNamed](Kind{Name: "account.deactivated", EndsViews: true})
	AccountReactivated   = declare[PersonNamed](Kind{Name: "account.reactivated"})
	AccountLinkMade      = declare[Standing](Kind{Name: "account.link-made"})
	AccountLinkEnded     = declare[Nothing](Kind{Name: "account.link-ended"})
	GroupMade            = declare[Name](Kind{Name: "group.made"})
	GroupRemoved         = declare[Name](Kind{Name: "group.removed", EndsViews: true})
	GroupJoined          = declare[Membership](Kind{Name: "group.joined"})
	GroupLeft            = declare[Membership](Kind{Name: "group.left", EndsViews: true})
	PracticeRules        = declare[Nothing](Kind{Name: "practice.rules"})
	PracticeRemoval      = declare[Nothing](Kind{Name: "practice.removal"})
	PracticeParticulars  = declare[Nothing](Kind{Name: "practice.particulars"})
	PracticeKept         = declare[Nothing](Kind{Name: "practice.kept"})
	PracticeWitnesses    = declare[Count](Kind{Name: "practice.witnesses"})
	PracticeErased       = declare[Erasing](Kind{Name: "practice.erased"})
)
