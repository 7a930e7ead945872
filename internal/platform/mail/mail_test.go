package mail

import (
	"context"
	"strings"
	"testing"
	"time"

	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/mail/standin"
)

func TestAMailArrivesAndIsKept(t *testing.T) {
	dir := t.TempDir()
	ctx, cancel := context.WithCancel(t.Context())
	box, err := standin.Start(ctx, dir, "127.0.0.1:0", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	s, err := New(Settings{Address: box.SMTP, From: "papers@halyard-rook.example", Plain: true})
	if err != nil {
		t.Fatal(err)
	}
	long := strings.Repeat("Ein langer Satz über Spanten und Stahl. ", 40)
	m := jobs.SendMail{To: "odile.charron@brackwater.example", ToName: "Odile Charron", From: "Halyard & Rook", ReplyTo: "ines.okafor@halyard-rook.example", Subject: "Schätzung für Spant 31", Text: long + "\nhttps://papers.example/l/abc-_123\n"}
	if err := s.Send(ctx, m); err != nil {
		t.Fatal(err)
	}
	got := box.Messages("odile")
	if len(got) != 1 || got[0].Subject != m.Subject || !strings.Contains(got[0].Text, "https://papers.example/l/abc-_123") || !strings.Contains(got[0].Text, "über Spanten") || !strings.Contains(got[0].From, "papers@halyard-rook.example") {
		t.Fatalf("arrived: %+v", got)
	}
	if time.Since(got[0].At) > time.Minute {
		t.Errorf("dated %s", got[0].At)
	}
	if len(box.Messages("somebody.else")) != 0 {
		t.Error("shown to somebody else")
	}
	cancel()
	again, err := standin.Start(t.Context(), dir, "127.0.0.1:0", "127.0.0.1:0")
	if err != nil || len(again.Messages("")) != 1 {
		t.Errorf("after a restart: %v", err)
	}
	if err := s.Send(t.Context(), jobs.SendMail{To: "not an address", From: "x", Subject: "x", Text: "x"}); err == nil {
		t.Error("sent to what is no address")
	}
}

func TestSettingsThatAreRefused(t *testing.T) {
	for _, address := range []string{"", "mail", "mail:port"} {
		if _, err := New(Settings{Address: address}); err == nil {
			t.Errorf("%q was taken", address)
		}
	}
}
