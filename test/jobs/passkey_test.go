package jobs_test

import (
	"strings"
	"testing"

	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// A passkey is added and then is the second factor, with a device that answers
// as a real one does.
func TestAPasskeyAsSecondFactor(t *testing.T) {
	t.Parallel()
	local := func(url string) string { return strings.Replace(url, "127.0.0.1", "localhost", 1) }
	k := testkit.New(t, func(c *server.Config) { c.BaseURL = local(c.BaseURL) })
	ines := sits(t, k, 1280, 800)
	ines.url = local(ines.url)
	ines.does(ines.Authenticator())
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/me"), ines.Click(".rows button::Add a passkey"), ines.Type("#key-name", "my key"), ines.Click("form .btn-primary::Add a passkey"), ines.SeeText("Your recovery codes"), ines.Click("button::I have kept them"))
	ines.does(ines.See(".news, .quiet"), ines.Click("button.who-button"), ines.Click("[role=menuitem]::Sign out"), ines.See("#email"))
	ines.does(ines.Type("#email", "ines.okafor@halyard-rook.example"), ines.Type("#password", testkit.Password))
	ines.count("signing in with password and passkey, after the address", 2, func() {
		ines.does(ines.Click("button[type=submit]"), ines.SeeText("Show your passkey"), ines.Click("button::Use the passkey"), ines.See("h2::My dossiers"))
	})
	ines.does(ines.opens("/me"), ines.SeeText("my key"))
}
