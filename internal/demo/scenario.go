package demo

import (
	"fmt"
	"time"

	"tabularis/core/particulars"

	said "tabularis/core/remarks"
)

// colleague is a person of the demo practice.
type colleague struct {
	name, role, email, phone, standing string
	// seen is how many days ago they were here last.
	seen int
}

var colleagues = map[string]colleague{
	"ines":   {"Ines Okafor", "principal surveyor", "ines.okafor@halyard-rook.example", "07700 900126", "proprietor", 0},
	"tomasz": {"Tomasz Rehn", "senior surveyor", "tomasz.rehn@halyard-rook.example", "07700 900127", "colleague", 0},
	"priya":  {"Priya Valdane", "naval architect", "priya.valdane@halyard-rook.example", "07700 900128", "colleague", 1},
	"luca":   {"Luca Ferrante", "surveyor", "luca.ferrante@halyard-rook.example", "07700 900129", "colleague", 0},
	"hanne":  {"Hanne Solvik", "practice manager", "hanne.solvik@halyard-rook.example", "07700 900110", "administrator", 3},
}

// outsider is somebody from outside whom a colleague invited; entered is how
// many days ago they came in first, or -1.
type outsider struct {
	name, organisation, email, by string
	invited, entered              int
}

var outsiders = map[string]outsider{
	"odile":   {"Odile Charron", "Brackwater Ferries", "odile.charron@brackwater.example", "hanne", 27, 26},
	"bram":    {"Bram Teague", "Brackwater Ferries", "bram.teague@brackwater.example", "hanne", 27, 20},
	"sunniva": {"Sunniva Aker", "Dunlin Mutual", "sunniva.aker@dunlin.example", "ines", 25, 25},
	"callum":  {"Callum Wray", "owner of the Aurelie", "callum.wray@aurelie.example", "tomasz", 12, 11},
	"marit":   {"Marit Juhl", "Pelham Dry Dock", "marit.juhl@pelham-dock.example", "luca", 4, -1},
}

// circles are the groups of the demo.
var circles = []struct {
	name    string
	members []string
}{
	{"Survey team", []string{"tomasz", "priya", "luca"}},
	{"Insurers", []string{"sunniva"}},
}

// letting is access given in the demo: to people or a group, on a dossier's folder or
// document, or on all of it; days is after how many days from now it ends.
type letting struct {
	dossier, item string
	to            []string
	level, by     string
	ago, days     int
}

var lettings = []letting{
	{"MER-24", "Reports", []string{"Insurers"}, "remark", "ines", 13, 25},
	{"MER-24", "Issued", []string{"odile", "bram"}, "view", "hanne", 24, 0},
	{"MER-24", "Condition survey report.pdf", []string{"odile", "bram"}, "view", "priya", 4, 11},
	{"MER-24", "Condition survey report.pdf", []string{"sunniva"}, "remark", "priya", 4, 11},
	{"MER-24", "Repair/The yard", []string{"marit"}, "view", "luca", 4, 2},
	{"MER-24", "Reports/Working papers", []string{"Survey team"}, "edit", "ines", 14, 0},
	{"MER-24", "Second surveyor’s notes.md", []string{"Survey team"}, "edit", "ines", 6, 0},
	{"DUN-07", "Advice", []string{"Insurers"}, "remark", "ines", 22, 0},
	{"AUR-03", "Instruction/Instructions", []string{"callum"}, "deposit", "tomasz", 12, 11},
	{"AUR-03", "Letter of engagement.pdf", []string{"callum"}, "view", "tomasz", 12, 11},
	{"HR-05", "", []string{"everyone"}, "view", "luca", 40, 0},
}

// shut are the items that are closed in the demo, by whom and when.
var shut = []struct {
	dossier, item, by string
	ago               int
}{
	{"MER-24", "Reports/Working papers", "ines", 14},
	{"MER-24", "Second surveyor’s notes.md", "ines", 6},
	{"MER-24", "Fee note, first stage.pdf", "hanne", 4},
}

// body is a dossier of the demo.
type body struct {
	code, name, subject, client, kind string
	owner                             string
	members                           map[string]string
	folders                           []string
	ago                               int
	vessel                            string
}

var surveyFolders = []string{"Instruction/Engagement", "Instruction/Instructions", "Readings/Hull thickness", "Readings/Photographs", "Reports/Working papers", "For release", "Issued", "Repair/Estimates", "Repair/The yard", "Correspondence"}

var bodies = []body{
	{"MER-24", "Corran Lass", "Survey and side-shell repair", "Brackwater Ferries", "client", "ines", map[string]string{"tomasz": "edit", "priya": "edit", "luca": "edit", "hanne": "manage"},
		append(append([]string{}, surveyFolders...), "Correspondence/Dunlin Mutual", "Correspondence/Brackwater"), 40, "Ferry Corran Lass"},
	{"AUR-03", "Aurelie", "Survey before purchase", "Callum Wray", "client", "tomasz", map[string]string{"ines": "manage", "hanne": "manage"}, surveyFolders[:7], 22, "Trawler Aurelie"},
	{"PEL-11", "Pellew", "Docking of the tug", "Pelham Dry Dock", "client", "ines", map[string]string{"luca": "edit", "priya": "edit", "hanne": "manage"}, surveyFolders, 33, "Tug Pellew"},
	{"BRK-19", "Corran Lass, annual survey", "Fourth year", "Brackwater Ferries", "client", "tomasz", map[string]string{"ines": "manage", "luca": "edit", "hanne": "view"}, surveyFolders[:7], 58, "Ferry Corran Lass"},
	{"DUN-07", "Claims advice", "Frames, fenders, moorings", "Dunlin Mutual", "client", "ines", map[string]string{"priya": "edit", "hanne": "manage"}, []string{"Instruction", "Claims/Fenders", "Claims/Moorings", "Advice", "Correspondence"}, 51, "Ferry Corran Lass"},
	{"HR-02", "Practice papers", "Terms, fees, patterns", "", "internal", "hanne", map[string]string{"ines": "manage", "tomasz": "view", "priya": "view", "luca": "view"}, []string{"Terms", "Fees", "Forms", "Minutes"}, 60, ""},
	{"HR-05", "Gauges and their calibration", "", "", "internal", "luca", map[string]string{"ines": "view", "tomasz": "edit", "priya": "edit"}, []string{"Certificates", "Method"}, 47, ""},
}

// paper is a document of the demo; each element of ago is a version, in days
// before today. from names its author, then those of further versions in turn.
type paper struct {
	dossier, folder, name, kind string
	from                        []string
	ago                         []int
}

func one(dossier, folder, name, kind, from string, ago ...int) paper {
	return paper{dossier, folder, name, kind, []string{from}, ago}
}

// papersOf lists the documents of all dossiers.
func papersOf() []paper {
	all := []paper{
		{"MER-24", "Reports", "Condition survey report.pdf", "report", []string{"luca", "luca", "tomasz", "priya"}, []int{12, 9, 5, 0}},
		{"MER-24", "Reports", "Thickness, frames 12–44.csv", "csv", []string{"luca", "tomasz"}, []int{9, 6, 3}},
		{"MER-24", "Reports", "Repair estimate, hull.xlsx", "estimate", []string{"luca", "priya"}, []int{14, 11, 8, 7, 4, 2, 1}},
		{"MER-24", "Reports", "Repair estimate, deck.xlsx", "estimate", []string{"luca"}, []int{13, 10, 3}},
		{"MER-24", "Reports", "Reply to Dunlin Mutual.md", "note", []string{"priya", "ines"}, []int{1, 0}},
		one("MER-24", "Reports", "Valuation certificate.pdf", "letter", "ines", 6, 1),
		one("MER-24", "Reports", "Second surveyor’s notes.md", "note", "tomasz", 7, 6, 4, 1, 0),
		one("MER-24", "Reports", "Preliminary findings.pdf", "short", "ines", 16, 14, 10),
		one("MER-24", "Reports", "Interview with the master and the chief engineer about the grounding, 11 Nov.md", "note", "hanne", 12, 3),
		one("MER-24", "Reports", "Frame 31, extra readings.csv", "csv", "luca", 3),
		one("MER-24", "Reports", "Survey plan.pdf", "short", "ines", 24, 20),
		one("MER-24", "Reports", "Fee note, first stage.pdf", "fee", "hanne", 5),
		one("MER-24", "Reports", "Docking report, spring.pdf", "short", "priya", 6),
		one("MER-24", "Reports", "Hammer test, frame 31.wav", "sound", "luca", 8),
		one("MER-24", "Reports", "Ballast pump, starting.webm", "video", "luca", 8),
		one("MER-24", "Reports/Working papers", "Draft findings, side shell.md", "note", "priya", 8, 6),
		one("MER-24", "Reports/Working papers", "Questions for the yard.md", "note", "luca", 7),
		one("MER-24", "Reports/Working papers", "Weights and moments.xlsx", "estimate", "priya", 6),
		one("MER-24", "Reports", "Gauging sheet, bottom shell.csv", "csv", "luca", 9, 8, 6),
		one("MER-24", "Reports", "Findings, first look.md", "note", "luca", 30),
		one("MER-24", "Correspondence/Brackwater", "Letter to Brackwater, another wording.md", "note", "ines", 27, 26),
		one("MER-24", "Correspondence/Dunlin Mutual", "Letter to Dunlin Mutual, notice of claim.pdf", "letter", "ines", 15),
		one("MER-24", "Correspondence/Dunlin Mutual", "Letter to Dunlin Mutual, frames gauged twice.pdf", "letter", "ines", 4),
		one("MER-24", "Correspondence/Brackwater", "Letter to Brackwater, access to the vessel.pdf", "letter", "hanne", 28),
		one("MER-24", "Correspondence/Brackwater", "Letter to Brackwater, dates of docking.pdf", "letter", "hanne", 18),
		one("MER-24", "Issued", "Interim report.pdf", "report", "ines", 11),
		one("MER-24", "Repair/The yard", "Steel list for Pelham Dry Dock.csv", "csv", "priya", 6, 2),
		one("MER-24", "For release", "Statement of facts.pdf", "short", "tomasz", 1),
		one("MER-24", "Reports", "Hull survey, complete report.pdf", "long", "ines", 2, 1),
		one("MER-24", "Readings/Hull thickness", "Record of readings, all strakes.pdf", "record", "luca", 10),
		one("MER-24", "Instruction/Instructions", "Class certificate, scanned.pdf", "scan", "hanne", 37),
		one("MER-24", "Correspondence/Brackwater", "Schreiben an das Hafenamt, Liegeplatz.pdf", "german", "hanne", 27, 25),
		one("MER-24", "Correspondence/Brackwater", "Docking confirmed, mail of Odile Charron.eml", "mail", "ines", 17),
		one("DUN-07", "Instruction", "Standing instruction.pdf", "letter", "ines", 50),
		one("DUN-07", "Instruction", "Framework agreement 2027, draft.docx", "agreement", "ines", 13, 8),
		one("DUN-07", "Advice", "Advice on fender loads.pdf", "report", "priya", 30, 21),
		one("DUN-07", "Advice", "Advice on mooring lines.pdf", "report", "priya", 16),
		one("DUN-07", "Correspondence", "Letter to Sunniva Aker, reserves.pdf", "letter", "ines", 9),
		one("HR-02", "Terms", "Terms of business.pdf", "letter", "hanne", 60, 31),
		one("HR-02", "Fees", "Scale of fees.xlsx", "estimate", "hanne", 59, 20),
		one("HR-02", "Forms", "Letter of engagement, form.md", "form", "hanne", 55, 12),
		one("HR-02", "Forms", "Survey instruction, form.md", "note", "hanne", 55),
		one("HR-05", "Method", "How we gauge.md", "note", "luca", 46, 12),
		one("HR-05", "Method", "Couplant trials.csv", "csv", "luca", 30),
	}
	for _, d := range []struct{ code, lead, helper string }{{"MER-24", "ines", "luca"}, {"AUR-03", "tomasz", "tomasz"}, {"PEL-11", "ines", "luca"}, {"BRK-19", "tomasz", "luca"}} {
		all = append(all, survey(d.code, d.lead, d.helper)...)
	}
	for i := range 8 {
		all = append(all, one("DUN-07", "Claims/Fenders", fmt.Sprintf("Fender %d, after contact.png", i+1), "photo", "priya", 33-i%2))
	}
	for i, m := range []string{"bow", "breast", "spring", "stern"} {
		all = append(all, one("DUN-07", "Claims/Moorings", "Loads on the "+m+" line.csv", "csv", "priya", 18+i))
	}
	for i := range 6 {
		all = append(all, one("HR-05", "Certificates", fmt.Sprintf("Gauge %d, certificate.pdf", 41+i), "letter", "luca", 45-3*i))
		all = append(all, one("HR-02", "Minutes", fmt.Sprintf("Minutes, week %d.md", 42+i), "note", "hanne", 43-7*i))
	}
	return all
}

// survey is what every survey dossier holds.
func survey(code, lead, helper string) []paper {
	start := map[string]int{"MER-24": 38, "AUR-03": 20, "PEL-11": 31, "BRK-19": 56}[code]
	all := []paper{
		one(code, "Instruction/Engagement", "Letter of engagement.pdf", "engagement", lead, start),
		one(code, "Instruction/Engagement", "Conditions of survey.pdf", "letter", lead, start),
		one(code, "Instruction/Instructions", "Survey instruction.md", "note", lead, start-1, start-3),
		one(code, "Instruction/Instructions", "Class records, extract.pdf", "short", helper, start-2),
	}
	for i, s := range []string{"bottom shell", "side shell, port", "side shell, starboard", "main deck", "bulkhead 24"} {
		all = append(all, one(code, "Readings/Hull thickness", "Thickness, "+s+".csv", "csv", helper, start-6-i, max(1, start-10-i)))
	}
	for i := range 9 {
		all = append(all, one(code, "Readings/Photographs", fmt.Sprintf("Tank 4, frame %d.png", 24+2*i), "photo", helper, start-7))
	}
	if code != "MER-24" {
		all = append(all,
			one(code, "Reports", "Condition survey report.pdf", "report", helper, start-12, start-15),
			one(code, "Reports", "Findings, first look.md", "note", helper, start-9))
	}
	if code == "MER-24" || code == "PEL-11" {
		all = append(all,
			one(code, "Repair/Estimates", "Estimate, plate renewal.xlsx", "estimate", helper, start-14, start-16),
			one(code, "Repair/Estimates", "Estimate, coating.xlsx", "estimate", helper, start-15),
			one(code, "Repair/The yard", "Docking plan.pdf", "short", lead, start-17))
	}
	return all
}

// given is a link of the demo and what became of it.
type given struct {
	dossier  string
	items    []string
	name     string
	by       string
	ago      int
	clock    string
	days     int
	password string
	openings int
	newest   bool
	sent     string
	message  string
	visits   []visit
	ended    int
	// only lets it only be viewed, by who states this address.
	only string
	// expected are the papers that an intake waits for.
	expected []string
}

// visit is a visitor's act: from where, when, what was looked at or fetched.
type visit struct {
	ago          int
	clock        string
	network      string
	agent        string
	looks, takes []string
	wrong        int
}

// handedIn is what the yard put in, by the expected paper's name.
var handedIn = []string{"Class certificate", "Invoices of the last docking"}

const (
	onWindows = "Firefox, Windows"
	onPhone   = "Safari, iPhone"
	onMac     = "Safari, macOS"
)

var gifts = []given{
	{dossier: "MER-24", items: []string{"Condition survey report.pdf"}, name: "Class surveyor", by: "ines", ago: 3, clock: "16:20", days: 7, password: "quay-lantern-47", openings: 3, newest: true,
		visits: []visit{{0, "05:58", "203.0.113.24", onWindows, []string{"Condition survey report.pdf"}, nil, 1}}},
	{dossier: "MER-24", items: []string{"Condition survey report.pdf", "Repair estimate, hull.xlsx"}, name: "Draft for yard", by: "ines", ago: 1, clock: "15:02", days: 12, openings: 5, sent: "marit.juhl@pelham-dock.example",
		message: "Dear Marit, here is the draft survey of the Corran Lass with our estimate for the side shell. Please look at frames 24 to 38 before we speak on Thursday.",
		visits:  []visit{{1, "17:31", "198.51.100.7", onMac, []string{"Condition survey report.pdf", "Repair estimate, hull.xlsx"}, []string{"Repair estimate, hull.xlsx"}, 0}}},
	{dossier: "MER-24", items: []string{"Readings/Photographs"}, name: "Photographs, tank 4", by: "luca", ago: 6, clock: "09:40", days: 7, openings: 5, newest: true, sent: "odile.charron@brackwater.example", message: "Dear Odile, the pictures of tank 4 as promised.",
		visits: []visit{{6, "10:12", "203.0.113.88", onWindows, []string{"Tank 4, frame 30.png", "Tank 4, frame 32.png", "Tank 4, frame 34.png"}, nil, 0}, {5, "08:03", "203.0.113.88", onWindows, []string{"Tank 4, frame 36.png"}, nil, 0}, {3, "19:22", "198.51.100.61", onPhone, nil, nil, 0}, {0, "04:31", "203.0.113.88", onWindows, nil, []string{"Tank 4, frame 30.png"}, 0}}},
	{dossier: "MER-24", items: []string{"Preliminary findings.pdf"}, name: "Findings for the insurer", by: "ines", ago: 9, clock: "11:15", days: 34, sent: "sunniva.aker@dunlin.example", message: "Dear Sunniva, our preliminary findings on the side shell.",
		visits: []visit{{9, "13:44", "192.0.2.90", onWindows, []string{"Preliminary findings.pdf"}, []string{"Preliminary findings.pdf"}, 0}, {7, "09:05", "192.0.2.90", onWindows, []string{"Preliminary findings.pdf"}, nil, 0}, {2, "07:55", "192.0.2.91", onPhone, []string{"Preliminary findings.pdf"}, nil, 0}}},
	{dossier: "MER-24", items: []string{"Interim report.pdf"}, name: "Interim report for Brackwater", by: "hanne", ago: 11, clock: "14:10", days: 6, sent: "bram.teague@brackwater.example",
		visits: []visit{{10, "08:20", "203.0.113.88", onWindows, []string{"Interim report.pdf"}, []string{"Interim report.pdf"}, 0}}},
	{dossier: "MER-24", items: []string{"Docking plan.pdf", "Estimate, coating.xlsx"}, name: "Papers for the painters", by: "luca", ago: 10, clock: "10:00", days: 30, ended: 8,
		visits: []visit{{9, "12:30", "198.51.100.140", onPhone, []string{"Docking plan.pdf"}, nil, 0}}},
	{dossier: "PEL-11", items: []string{"Docking plan.pdf"}, name: "Docking plan, one look", by: "ines", ago: 8, clock: "09:10", days: 20, openings: 1, sent: "marit.juhl@pelham-dock.example",
		visits: []visit{{8, "09:52", "198.51.100.7", onMac, []string{"Docking plan.pdf"}, []string{"Docking plan.pdf"}, 0}, {6, "16:01", "198.51.100.9", onPhone, nil, nil, 0}}},
	{dossier: "PEL-11", items: []string{"Readings/Hull thickness"}, name: "Readings of the Pellew", by: "luca", ago: 4, clock: "13:20", days: 21, newest: true,
		visits: []visit{{3, "10:40", "198.51.100.7", onMac, []string{"Thickness, main deck.csv"}, []string{"Thickness, main deck.csv"}, 0}}},
	{dossier: "PEL-11", items: []string{"Repair/The yard"}, name: "Papers for the tug", by: "ines", ago: 3, clock: "10:05", days: 11, sent: "marit.juhl@pelham-dock.example", expected: []string{"Class certificate", "Invoices of the last docking", "Docking plan and shell expansion", "Gas-free certificate"},
		message: "Before we board the Pellew we need four papers from the yard. Send them in any order; you may come back.", visits: []visit{{2, "14:20", "198.51.100.7", onMac, nil, nil, 0}}},
	{dossier: "MER-24", items: []string{"Condition survey report.pdf", "Repair estimate, hull.xlsx"}, name: "Report, to look at", by: "ines", ago: 2, clock: "09:30", days: 9, newest: true, only: "sunniva.aker@dunlin.example", sent: "sunniva.aker@dunlin.example",
		message: "Dear Sunniva, the report before its approval. Please do not pass it on.", visits: []visit{{1, "11:12", "192.0.2.90", onWindows, []string{"Condition survey report.pdf"}, nil, 0}, {0, "03:40", "192.0.2.90", onWindows, []string{"Repair estimate, hull.xlsx"}, nil, 0}}},
	{dossier: "AUR-03", items: []string{"Letter of engagement.pdf", "Conditions of survey.pdf"}, name: "Aurelie offer", by: "tomasz", ago: 5, clock: "17:00", days: 7, password: "harbour-copper-12", sent: "callum.wray@aurelie.example", message: "Dear Callum, our letter of engagement for the survey of the Aurelie.",
		visits: []visit{{2, "20:14", "203.0.113.201", onPhone, []string{"Letter of engagement.pdf"}, nil, 2}}},
	{dossier: "DUN-07", items: []string{"Advice on fender loads.pdf"}, name: "Advice on fenders", by: "priya", ago: 19, clock: "10:30", days: 40, sent: "sunniva.aker@dunlin.example",
		visits: []visit{{18, "11:00", "192.0.2.90", onWindows, []string{"Advice on fender loads.pdf"}, []string{"Advice on fender loads.pdf"}, 0}}},
	{dossier: "HR-02", items: []string{"Terms of business.pdf"}, name: "Terms of business", by: "hanne", ago: 30, clock: "09:00", days: 85, newest: true,
		visits: []visit{{25, "10:10", "203.0.113.24", onWindows, []string{"Terms of business.pdf"}, nil, 0}, {14, "15:33", "198.51.100.201", onPhone, []string{"Terms of business.pdf"}, []string{"Terms of business.pdf"}, 0}, {6, "08:41", "192.0.2.17", onMac, []string{"Terms of business.pdf"}, nil, 0}}},
}

// when is a moment of the demo: so many days before now at a time of day, and
// never in the future.
func when(now time.Time, ago int, clock string) time.Time {
	t, err := time.Parse("15:04", clock)
	if err != nil {
		panic(err) // the scenario's own times
	}
	y, m, d := now.Date()
	at := time.Date(y, m, d-ago, t.Hour(), t.Minute(), 0, 0, now.Location())
	for !at.Before(now.Add(-2 * time.Minute)) {
		at = at.Add(-time.Hour)
	}
	return at
}

// discarding is a document that was deleted, so many days ago.
type discarding struct {
	dossier, item, by, reason string
	ago                       int
	clock                     string
}

var discarded = []discarding{
	{"MER-24", "Findings, first look.md", "luca", "double of the preliminary findings", 25, "11:20"},
	{"MER-24", "Letter to Brackwater, another wording.md", "ines", "sent in another wording", 20, "15:05"},
	{"MER-24", "Gauging sheet, bottom shell.csv", "luca", "double of the thickness readings", 1, "16:41"},
}

// jotting is what was said of a version: a name, or a note.
type jotting struct {
	dossier, item   string
	version         int
	by, title, note string
	ago             int
	removed         bool
}

// jottings are notes and names of versions.
var jottings = []jotting{
	{dossier: "MER-24", item: "Repair estimate, hull.xlsx", version: 2, by: "luca", note: "steel list of the yard", ago: 11},
	{dossier: "MER-24", item: "Repair estimate, hull.xlsx", version: 3, by: "luca", removed: true, ago: 7},
	{dossier: "MER-24", item: "Repair estimate, hull.xlsx", version: 5, by: "luca", title: "As sent to Dunlin Mutual", ago: 3},
	{dossier: "MER-24", item: "Repair estimate, hull.xlsx", version: 7, by: "luca", note: "prices as of Friday", ago: 0},
	{dossier: "MER-24", item: "Thickness, frames 12–44.csv", version: 2, by: "tomasz", note: "frame 31 from the second gauging", ago: 5},
}

// taggings are tags that somebody put on documents, for everybody or for themselves.
var taggings = []struct {
	dossier, by string
	own         bool
	names       []string
	items       []string
	ago         int
}{
	{"MER-24", "luca", false, []string{"class"}, []string{"Thickness, frames 12–44.csv", "Condition survey report.pdf", "Valuation certificate.pdf"}, 4},
	{"MER-24", "priya", false, []string{"to be renewed"}, []string{"Repair estimate, hull.xlsx", "Repair estimate, deck.xlsx"}, 3},
	{"MER-24", "ines", true, []string{"for Thursday"}, []string{"Condition survey report.pdf"}, 1},
}

// kept is what the practice keeps about documents beside their content.
var kept = []particulars.Definition{
	{Name: "Estimate", Kind: particulars.Money, Unit: "EUR", DossierKinds: []string{"client"}},
	{Name: "Surveyed on", Kind: particulars.Date},
	{Name: "Answers for it", Kind: particulars.Person},
	{Name: "Vessel", Kind: particulars.Choice, Choices: []string{"afloat", "in dock", "laid up"}},
}

// noted is what stands in them, by their names.
var noted = []struct {
	dossier, item, by string
	values            map[string]string
	// surveyed is so many days ago; ago is when it was noted.
	surveyed, ago int
}{
	{"MER-24", "Condition survey report.pdf", "ines", map[string]string{"Estimate": "312400", "Answers for it": "ines", "Vessel": "in dock"}, 9, 4},
	{"MER-24", "Repair estimate, hull.xlsx", "luca", map[string]string{"Estimate": "184250", "Answers for it": "luca"}, 0, 3},
	{"MER-24", "Repair estimate, deck.xlsx", "luca", map[string]string{"Estimate": "41380.5", "Answers for it": "luca"}, 0, 3},
	{"MER-24", "Fee note, first stage.pdf", "hanne", map[string]string{"Estimate": "6900", "Answers for it": "hanne"}, 0, 4},
	{"MER-24", "Thickness, frames 12–44.csv", "tomasz", map[string]string{"Vessel": "in dock"}, 6, 3},
	{"MER-24", "Preliminary findings.pdf", "ines", map[string]string{"Vessel": "afloat"}, 16, 9},
}

// holding is a document that somebody has in hand, since so many days, and means to give
// back after so many hours.
type holding struct {
	dossier, item, by, note string
	ago, hours              int
	clock                   string
}

var holdings = []holding{
	{"MER-24", "Docking report, spring.pdf", "priya", "to correct the tank", 5, 48, "15:10"},
	{"MER-24", "Repair estimate, deck.xlsx", "luca", "new steel prices", 0, 6, "22:12"},
	{"MER-24", "Reply to Dunlin Mutual.md", "ines", "the figures of frame 31", 0, 7, "22:31"},
}

// saying is a remark, so many days ago, with what was answered; @ names people by their keys.
type saying struct {
	dossier, item, by, text string
	place                   *said.Place
	ago                     int
	clock                   string
	answers                 []saying
	resolved                bool
}

var sayings = []saying{
	{dossier: "MER-24", item: "Condition survey report.pdf", by: "luca", ago: 1, clock: "09:20", text: "Which longitudinals does the shaded part reach? @tomasz",
		place:   &said.Place{Kind: said.Area, Page: 1, X: 0.53, Y: 0.222, Width: 0.135, Height: 0.05},
		answers: []saying{{by: "tomasz", ago: 0, clock: "07:55", text: "Second to fourth. @ines, will you say so in 4.2 as well?"}}},
	{dossier: "MER-24", item: "Condition survey report.pdf", by: "sunniva", ago: 2, clock: "16:31", text: "Is this the **old indent**?",
		place:   &said.Place{Kind: said.Point, Page: 1, X: 0.685, Y: 0.247},
		answers: []saying{{by: "tomasz", ago: 1, clock: "08:10", text: "Yes, of 2019; it was measured again."}}},
	{dossier: "MER-24", item: "Condition survey report.pdf", by: "priya", ago: 0, clock: "08:01", text: "32 now, with the second gauging. I change it in version 5.", place: &said.Place{Kind: said.Page, Page: 3}},
	{dossier: "MER-24", item: "Condition survey report.pdf", by: "hanne", ago: 3, clock: "10:12", text: "The client's name is spelled with one t.", place: &said.Place{Kind: said.Page, Page: 1}, resolved: true},
	{dossier: "MER-24", item: "Repair estimate, hull.xlsx", by: "ines", ago: 0, clock: "08:20", text: "Are the steel prices those of Friday, @luca?"},
}
