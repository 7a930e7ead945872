package demo

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	core "tabularis/core/fillings"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/fillings"
	"tabularis/internal/app/links"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
)

// instructionForm asks an owner what a surveyor has to know before coming aboard.
const instructionForm = `# Survey instruction

Before we come aboard, please tell us where she lies and what you want to know. Ten minutes will do; you may stop and come back.

## The vessel

Name of the vessel: <input name="vessel" type="text" required>

Kind: <input name="kind" type="text" data-choices="trawler&#10;tug&#10;coaster&#10;yacht&#10;barge&#10;other" required>

Length <input name="length" type="number" min="3" max="400" required> m, built in <input name="built" type="number" min="1850" max="2026">

Port of registry: <input name="port" type="text">

## Where she lies

Berth or yard: <input name="berth" type="text" required>

Afloat or ashore: <input name="afloat" type="text" data-choices="afloat&#10;ashore&#10;both" required>

Who has the keys: <input name="keys" type="text" title="name, telephone" required>

First day aboard: <input name="day" type="date" title="we need two working days" min="+2" required>

## What the survey is for

Purpose: <input name="purpose" type="text" data-choices="purchase&#10;insurance&#10;damage&#10;class" required>

What is to be looked at: <input name="extent" type="text" title="hull, machinery, rigging, papers" required>

Report to: <input name="report" type="text" title="you, your bank, your insurer">

## What is known

Groundings, collisions, fires, repairs: <input name="known" type="text">

<input name="insured" type="checkbox" aria-label="She is insured at present">
`

// instructed is somebody who fills the form in by its link: on which day before, how far, and whether it was handed in.
type instructed struct {
	name, email string
	ago         int
	clock       string
	answers     core.Answers
	handsIn     bool
	taken       bool
}

var instructions = []instructed{
	{"Isa Breck", "isa.breck@corran.example", 6, "10:12", core.Answers{"vessel": "Corran Lass", "kind": "trawler", "length": "19.8", "built": "1987", "port": "Corran", "berth": "Slipway 2, Corran", "afloat": "ashore",
		"keys": "Harbour office, 07700 900311", "purpose": "insurance", "extent": "hull below the waterline", "report": "our insurer", "known": "wheelhouse renewed in 2019", "insured": core.Ticked}, true, true},
	{"Jory Penn", "jory.penn@brackwater.example", 2, "15:40", core.Answers{"vessel": "Pellew", "kind": "tug", "length": "28", "built": "2004", "port": "Tessaly", "berth": "Tug berth, north pier", "afloat": "afloat",
		"keys": "On board, the mate", "purpose": "class", "extent": "hull, machinery", "known": "none known"}, true, false},
	{"Callum Wray", "callum.wray@aurelie.example", 0, "10:41", core.Answers{"vessel": "Aurelie", "kind": "trawler", "length": "24.6", "built": "1998", "port": "Tessaly", "berth": "Fish quay, berth 7, Tessaly", "purpose": "purchase",
		"extent": "hull, machinery by look only", "report": "to me and my bank", "known": "grounded in 2021, repaired"}, false, false},
}

// instruct lets owners fill in a form by a link.
func (l *loader) instruct() {
	var form uuid.UUID
	var made links.Shown
	l.plan(when(l.now, 8, "09:20"), func(ctx context.Context) error {
		ctx = l.as(ctx, "tomasz")
		u, err := l.Uploads.Put(ctx, uploads.Wish{Folder: l.item("AUR-03", "Instruction/Instructions"), Name: "Survey instruction.md", Size: int64(len(instructionForm))}, strings.NewReader(instructionForm))
		if err != nil {
			return fmt.Errorf("laying a form down: %w", err)
		}
		form = *u.ItemID
		l.documents["AUR-03 Survey instruction.md"] = form
		until := l.now.AddDate(0, 0, 11)
		until = time.Date(until.Year(), until.Month(), until.Day(), 18, 0, 0, 0, time.UTC)
		made, err = l.Links.Make(ctx, links.Wish{Name: "Survey instruction", Items: []uuid.UUID{form}, UntilSet: true, Language: "en", Terms: linkgate.Terms{Kind: linkgate.Fill, Until: &until, MayDownload: true, Identify: linkgate.Stated, Tell: linkgate.TellDaily}})
		if err != nil {
			return fmt.Errorf("giving a form out: %w", err)
		}
		return l.Links.Mail(ctx, made.ID, []string{"callum.wray@aurelie.example"}, "Dear Callum, before we come aboard, please tell us where the Aurelie lies and what you want to know. Ten minutes will do; you may stop and come back.")
	})
	for _, i := range instructions {
		l.plan(when(l.now, i.ago, i.clock), func(ctx context.Context) error { return l.fillIn(ctx, form, made.Address, i) })
	}
}

func (l *loader) fillIn(ctx context.Context, form uuid.UUID, address string, i instructed) error {
	visiting := act.As(ctx, act.Actor{Network: "192.0.2.77", Agent: "a browser"})
	who := visits.Visitor{Link: address[strings.LastIndex(address, "/")+1:]}
	token, link, err := l.Visits.Open(visiting, who, visits.Claim{Email: i.email})
	if err != nil {
		return fmt.Errorf("opening a form: %w", err)
	}
	who.Visits = map[string]string{link.ID.String(): token}
	if i.handsIn {
		// Two working days later, whenever that is.
		i.answers["day"] = l.clock.Now().AddDate(0, 0, 8).Format(time.DateOnly)
	}
	f, err := l.Fillings.Keep(visiting, fillings.Who{Visitor: &who}, i.answers, false)
	if err != nil || !i.handsIn {
		return err
	}
	if _, err = l.Fillings.HandIn(visiting, fillings.Who{Visitor: &who}, f.Version, i.name); err != nil || !i.taken {
		return err
	}
	asTomasz := l.as(ctx, "tomasz")
	r, err := l.Fillings.Handed(asTomasz, form, 0)
	if err != nil {
		return err
	}
	return l.Fillings.TakeUp(asTomasz, form, r.Rows[0].ID)
}
