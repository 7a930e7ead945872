package activity

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/internal/app/activity"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// filter reads the stream's filter out of an address.
func filter(c *gin.Context) (f activity.Filter, err error) {
	f = activity.Filter{Dossier: c.Query("dossier"), About: c.Query("about"), Heed: c.Query("heed"), Kind: c.Query("kind")}
	for name, into := range map[string]*uuid.UUID{"person": &f.Person, "folder": &f.Folder} {
		if text := c.Query(name); text != "" {
			if *into, err = uuid.Parse(text); err != nil {
				return f, fault.Parameter.In(name, "the id has the wrong form")
			}
		}
	}
	if text := c.Query("since"); text != "" {
		if f.Since, err = time.Parse(time.RFC3339, text); err != nil {
			return f, fault.Parameter.In("since", "a moment is written like 2026-11-23T09:40:00Z")
		}
	}
	return f, nil
}

// table gives events out as CSV.
func (h *Handlers) table(c *gin.Context) {
	var rows [][]string
	h.exported(c, func(all []events.Named) error {
		for _, e := range all {
			rows = append(rows, row(e))
		}
		return nil
	}, func() {
		door.SendTable(c, "activity", []string{"number", "at", "kind", "by", "outside", "dossier", "document", "name", "version", "link", "network", "program", "details"}, rows)
	})
}

func row(e events.Named) []string {
	shown := present.Event(e)
	version, details := "", []string(nil)
	if e.Version != nil {
		version = fmt.Sprint(*e.Version)
	}
	data := present.Or(shown.Data, nil)
	for _, key := range slices.Sorted(maps.Keys(data)) {
		details = append(details, key+" "+data[key])
	}
	return []string{fmt.Sprint(e.ID), e.At.UTC().Format(time.RFC3339), e.Kind, e.Actor, fmt.Sprint(e.Outside), e.DossierCode, present.Or(shown.Ref, ""), present.Or(e.ItemName, ""), version,
		present.Or(e.LinkName, ""), e.Network, e.Agent, strings.Join(details, "; ")}
}

// lines gives events out as JSON Lines, each as the interface shows it.
func (h *Handlers) lines(c *gin.Context) {
	var out []byte
	h.exported(c, func(all []events.Named) error {
		for _, e := range all {
			line, err := json.Marshal(present.Event(e))
			if err != nil {
				return err
			}
			out = append(append(out, line...), '\n')
		}
		return nil
	}, func() {
		c.Header("Content-Disposition", door.Disposition("attachment", "activity.jsonl"))
		c.Data(200, "application/jsonl", out)
	})
}

func (h *Handlers) exported(c *gin.Context, each func([]events.Named) error, send func()) {
	f, err := filter(c)
	if err == nil {
		err = h.Activity.Export(c.Request.Context(), f, each)
	}
	if err != nil {
		h.Problem(c, err)
		return
	}
	send()
}
