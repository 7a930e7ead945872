package demo

import (
	"bytes"
	"context"
	"fmt"

	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
)

// delivered is what somebody outside sent to Ines's address, how many days ago.
type delivered struct {
	by, message string
	ago         int
	clock       string
	files       []enclosed
}

type enclosed struct {
	name string
	data []byte
}

const addressOfInes = "ines-okafor"

func (l *loader) deliveries() {
	l.plan(when(l.now, 20, "10:10"), func(ctx context.Context) error {
		_, err := l.Deliveries.Publish(l.as(ctx, "ines"), addressOfInes, "en")
		return err
	})
	p := newPapers(11)
	for _, d := range []delivered{
		{"sunniva", "The policy schedule for the Corran Lass, as you asked on the telephone.", 2, "16:40", []enclosed{
			{"Policy schedule, Corran Lass.pdf", p.report("Policy schedule", "Ferry Corran Lass", l.now, "short", 0)}}},
		{"odile", "Photographs our second engineer took at the berth this morning, and the bunker figures. The last one came from the yard, we have not opened it.", 0, "08:20", []enclosed{
			{"Frame 31, port.jpg", p.photograph()}, {"Frame 32, port.jpg", p.photograph()}, {"Bunkers, November.csv", []byte("Day,Tonnes\n2026-11-20,11.4\n2026-11-23,9.8\n")}, {"Yard quotation.pdf", []byte("<!DOCTYPE html>\n<html><title>Quotation</title></html>\n")}}},
	} {
		l.plan(when(l.now, d.ago, d.clock), func(ctx context.Context) error { return l.deliver(l.as(ctx, d.by), d) })
	}
}

// deliver lets somebody come in by their account, bring files and send them off.
func (l *loader) deliver(ctx context.Context, d delivered) error {
	who := visits.Visitor{Link: addressOfInes}
	token, link, err := l.Visits.Open(ctx, who, visits.Claim{})
	if err != nil {
		return fmt.Errorf("coming to an address: %w", err)
	}
	who.Visits = map[string]string{link.ID.String(): token}
	for _, f := range d.files {
		if _, err := l.Uploads.Put(l.Visits.Bringing(ctx, who), uploads.Wish{Name: f.name, Size: int64(len(f.data))}, bytes.NewReader(f.data)); err != nil {
			return fmt.Errorf("sending %q: %w", f.name, err)
		}
	}
	_, err = l.Visits.HandIn(ctx, who, visits.Signed{Name: outsiders[d.by].name, Note: d.message})
	return err
}
