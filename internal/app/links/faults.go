package links

import "tabularis/core/fault"

// What is refused here.
var (
	errAddressesCount     = fault.Declare(fault.Invalid, "addresses-count", "give between 1 and 20 addresses")
	errAllowedUnknown     = fault.Declare(fault.Invalid, "allowed-unknown", "a list of addresses needs visitors who say who they are")
	errCannotBeMarked     = fault.Declare(fault.Invalid, "cannot-be-marked", "… cannot be shown in marked pages; leave it out or let it be downloaded")
	errDownloadsRange     = fault.Declare(fault.Invalid, "downloads-range", "a limit is between 1 and … downloads")
	errDownloadsViewOnly  = fault.Declare(fault.Invalid, "downloads-view-only", "what is only looked at is not downloaded")
	errEndStays           = fault.Declare(fault.Conflict, "end-stays", "the link stays ended; make a new one")
	errFromAfterUntil     = fault.Declare(fault.Invalid, "from-after-until", "the link would end before it begins")
	errIntakeFolder       = fault.Declare(fault.Invalid, "intake-folder", "papers are put into one folder")
	errIntakeGivesNothing = fault.Declare(fault.Invalid, "intake-gives-nothing", "a link that takes papers in gives none out")
	errItemsDossiers      = fault.Declare(fault.Invalid, "items-dossiers", "one link gives out items of one dossier")
	errLinkHolds          = fault.Declare(fault.Conflict, "link-holds", "the link … gives this together with what stays; end it first")
	errNoLimit            = fault.Declare(fault.Conflict, "no-limit", "the link has ended or has no limit of openings")
	errNobodyToRemind     = fault.Declare(fault.Conflict, "nobody-to-remind", "nothing is missing, or the link was sent to nobody")
	errNotLookedThrough   = fault.Declare(fault.Conflict, "not-looked-through", "… documents have not been looked through yet; try again shortly")
	errOpeningsRange      = fault.Declare(fault.Invalid, "openings-range", "a limit is between 1 and … openings")
	errOpeningsUsed       = fault.Declare(fault.Invalid, "openings-used", "… openings are used already")
	errSlugTaken          = fault.Declare(fault.Conflict, "slug-taken", "this readable address is taken")
	errFillForm           = fault.Declare(fault.Invalid, "fill-form", "one document with fields is filled in")
	errWorkingFolder      = fault.Declare(fault.Invalid, "working-folder", "outsiders work in one folder")
	errWorkingViewOnly    = fault.Declare(fault.Invalid, "working-view-only", "who changes papers has to get them")
)
