package demo

import (
	"context"
	"fmt"
	"math"
	"time"

	"github.com/google/uuid"

	core "tabularis/core/signing"
	"tabularis/internal/app/signing"
	"tabularis/internal/platform/jobs"
)

// sign sends some papers to their parties: one is signed by all, one waits for Ines, one for somebody outside.
func (l *loader) sign() {
	ids := map[string]uuid.UUID{}
	odile := core.Party{Role: "the owners", Name: "Odile Charron", Email: "odile.charron@brackwater.example", Known: core.ByLink, Signs: true, MayHand: true}
	bram := core.Party{Role: "the operators", Name: "Bram Teague", Email: "bram.teague@brackwater.example", Known: core.ByCode, Signs: true}
	ines := core.Party{Role: "the principal", Person: ptrTo(l.people["ines"].ID), Known: core.BySignIn, Signs: true}
	send := func(ago int, clock, who, item string, each bool, parties ...core.Party) {
		l.plan(when(l.now, ago, clock), func(ctx context.Context) error {
			for i := range parties {
				parties[i].Turn = i + 1
			}
			w := signing.Wish{Document: l.item("MER-24", item), Days: 14, Message: "As we agreed on board; please sign at the end.", Plan: core.Plan{Parties: parties, Places: places(len(parties)), Each: each}}
			var err error
			if ids[item], err = l.Signing.Send(l.as(ctx, who), w); err != nil {
				return fmt.Errorf("sending %s: %w", item, err)
			}
			return nil
		})
	}
	act := func(at time.Time, who, item string, party, beside int, name string) {
		l.plan(at, func(ctx context.Context) error {
			pages := make([]int, 20)
			for i := range pages {
				pages[i] = i + 1
			}
			k := signing.Kept{Values: []core.Value{{Place: 2*party + 1, Hand: scrawl(name)}}, Pages: pages}
			if err := l.Signing.Sign(l.as(ctx, who), signing.Who{Signing: ids[item], Party: beside}, k, true); err != nil {
				return fmt.Errorf("%s signs %s: %w", name, item, err)
			}
			return nil
		})
	}
	send(6, "14:02", "ines", "Survey plan.pdf", false, ines, bram)
	act(when(l.now, 6, "14:10"), "ines", "Survey plan.pdf", 0, -1, "Ines Okafor")
	act(when(l.now, 5, "15:19"), "ines", "Survey plan.pdf", 1, 1, "Bram Teague")
	l.plan(l.now.Add(-2*time.Minute), func(ctx context.Context) error {
		return l.Signing.SealPaper(ctx, jobs.SealPaper{Signing: ids["Survey plan.pdf"]})
	})
	send(3, "08:30", "ines", "Interim report.pdf", true, bram, ines)
	act(when(l.now, 1, "08:40"), "ines", "Interim report.pdf", 0, 0, "Bram Teague")
	l.form(ines)
	send(1, "16:05", "ines", "Fee note, first stage.pdf", false, odile, ines)
}

// form makes a form of the letter of engagement, and sends it to the owner of the trawler.
func (l *loader) form(ines core.Party) {
	l.plan(when(l.now, 4, "11:08"), func(ctx context.Context) error {
		ines.Turn = 2
		f := core.Form{Days: 14, Message: "Dear [[name B]], here is our letter of engagement for the [[vessel]]; please sign at the end.", Plan: core.Plan{Parties: []core.Party{ines, {Role: "the client", Turn: 1, Known: core.ByCode, Signs: true, MayHand: true}}}}
		ctx = l.as(ctx, "ines")
		id, err := l.Signing.MakeForm(ctx, l.item("HR-02", "Letter of engagement, form.md"), "Letter of engagement", f)
		if err != nil {
			return fmt.Errorf("making a form: %w", err)
		}
		made, err := l.Signing.OneForm(ctx, id)
		if err != nil {
			return err
		}
		if err := l.Signing.WriteForm(ctx, id, signing.Written{Name: made.Name, Description: "For every new survey", Shared: true, Form: f, Seen: made.ChangedAt}); err != nil {
			return err
		}
		if err := l.Signing.ReleaseForm(ctx, id); err != nil {
			return fmt.Errorf("letting a form count: %w", err)
		}
		row := core.Row{People: []core.Party{{Name: "Callum Wray", Email: "callum.wray@aurelie.example"}}, Values: map[string]string{"vessel": "trawler Aurelie", "fee": "4,850"}}
		_, err = l.Signing.UseForm(ctx, signing.Use{Form: id, Folder: l.item("AUR-03", "Instruction/Engagement"), Rows: []core.Row{row}})
		if err != nil {
			return fmt.Errorf("sending a form: %w", err)
		}
		return nil
	})
}

// places are two for each party, at the foot of the first page.
func places(parties int) (all []core.Place) {
	for i := range parties {
		box := core.Box{X: 0.1 + 0.42*float64(i), Y: 0.86, W: 0.24, H: 0.045}
		day := core.Box{X: box.X + 0.25, Y: 0.88, W: 0.14, H: 0.025}
		all = append(all, core.Place{ID: 2*i + 1, Party: i, Page: 1, Box: box, Kind: core.Signature, Must: true}, core.Place{ID: 2*i + 2, Party: i, Page: 1, Box: day, Kind: core.SignedOn})
	}
	return all
}

// scrawl is a made-up signature: a few waves, as many as the name has letters.
func scrawl(name string) *core.Hand {
	h := &core.Hand{Height: 0.32}
	var stroke []core.Point
	steps := 12 * len(name)
	for i := range steps {
		x := float64(i) / float64(steps)
		letter := name[i*len(name)/steps]
		stroke = append(stroke, core.Point{X: 0.06 + 0.86*x, Y: 0.17 + 0.1*wave(float64(i)/6*(1+float64(letter%5)/6))*(1-0.5*x), P: 0.4 + 0.3*wave(float64(i)/17)})
	}
	h.Strokes = [][]core.Point{stroke, {{X: 0.1, Y: 0.27, P: 0.3}, {X: 0.5, Y: 0.26, P: 0.5}, {X: 0.86, Y: 0.24, P: 0.2}}}
	return h
}

// wave swings between -1 and 1.
func wave(x float64) float64 { return math.Sin(x) }
