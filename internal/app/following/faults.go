package following

import "tabularis/core/fault"

// What is refused here.
var (
	errStance      = fault.Declare(fault.Invalid, "stance-unknown", "something is followed, muted, or neither")
	errThing       = fault.Declare(fault.Invalid, "not-followed", "documents and dossiers are followed, folders are not")
	errMany        = fault.Declare(fault.Invalid, "follows-many", "follow or mute at most … things")
	errEvery       = fault.Declare(fault.Invalid, "digest-unknown", "a digest comes daily, weekly or never")
	errZone        = fault.Declare(fault.Invalid, "zone-unknown", "there is no time zone …")
	errFiltersMany = fault.Declare(fault.Invalid, "filters-many", "keep at most … filters")
)
