package bench_test

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	tables "tabularis/core/table"
	"tabularis/internal/app/writing"
	"tabularis/internal/testkit"
)

// A table of 20,000 rows with a formula in each: opening it, one change with many others there, and what follows from it.
func BenchmarkTables(b *testing.B) {
	p := newPractice(b)
	const rows = 20_000
	var csv strings.Builder
	csv.WriteString("Frame,Strake,Side,Original,Measured,Allowed,Gauged\n")
	for i := range rows {
		fmt.Fprintf(&csv, "%d,D,port,10.0,%.1f,25,2026-11-09\n", i, 7+float64(i%30)/10)
	}
	doc := p.c.Upload(p.top, "", "Gaugings.csv", []byte(csv.String())).Document.Id
	ctx := p.As("ines")
	for b.Loop() {
		began := time.Now()
		seat, o, err := p.App.Web.Writing.Join(ctx, doc, uuid.NewString(), 0, 0)
		if err != nil {
			b.Fatal(err)
		}
		row("a table of 20,000 rows, opened first | a second", ms(time.Since(began)), "1000.00 ms", time.Since(began).Seconds(), "at most 1")
		version := o.Version
		set := func(cells ...tables.Entry) {
			one := map[string]any{"op": "set", "sheet": 0, "cells": cells}
			taken, err := seat.Send(ctx, version, testkit.Steps(one))
			if err != nil {
				b.Fatal(err)
			}
			version = taken.Version
		}
		began = time.Now()
		var cells []tables.Entry
		for i := range rows {
			cells = append(cells, tables.Entry{Row: i + 1, Column: 7, Text: fmt.Sprintf("=(D%d-E%d)/D%d*100", i+2, i+2, i+2)})
		}
		set(cells...)
		waits(b, seat, func(r []tables.Reckoned) bool { return len(r) >= rows })
		row("20,000 formulas written and reckoned | 10 s", ms(time.Since(began)), "10000.00 ms", time.Since(began).Seconds()/10, "at most 1")
		n := 0
		_, changed := percentile(b, 40, func() error {
			n++
			set(tables.Entry{Row: n, Column: 4, Text: fmt.Sprint(n)})
			waits(b, seat, func(r []tables.Reckoned) bool { return len(r) > 0 })
			return nil
		})
		row("one reading changed, its formula come to (p95) | 500 ms", ms(changed), "500.00 ms", changed.Seconds()/0.5, "at most 1")
		_, alone := percentile(b, 60, func() error {
			n++
			set(tables.Entry{Row: n, Column: 1, Text: fmt.Sprint("C", n)})
			return nil
		})
		_, durable := percentile(b, 60, func() error { return p.aDurableAct(context.Background(), doc) })
		row("one cell changed, until it stands (p95) | 50 ms + a durable act", ms(alone), ms(50*time.Millisecond+durable), float64(alone)/float64(50*time.Millisecond+durable), "at most 1")
		seat.Leave()
	}
}

// waits listens until formulas came to what is waited for.
func waits(b *testing.B, seat *writing.Seat, until func([]tables.Reckoned) bool) {
	b.Helper()
	enough := time.After(time.Minute)
	for {
		select {
		case m, ok := <-seat.Told():
			if !ok {
				b.Fatal("the page did not keep up")
			}
			if until(m.Sums) {
				return
			}
		case <-enough:
			b.Fatal("nothing was reckoned")
		}
	}
}
