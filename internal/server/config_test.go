package server

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

func TestConfiguration(t *testing.T) {
	secret := filepath.Join(t.TempDir(), "password")
	if err := os.WriteFile(secret, []byte("from a file\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	whole := map[string]string{"TABULARIS_DATABASE_URL": "postgres://x", "TABULARIS_BASE_URL": "https://papers.example/", "TABULARIS_SMTP_ADDRESS": "mail:587", "TABULARIS_MAIL_FROM": "a@b.example",
		"TABULARIS_SMTP_PASSWORD_FILE": secret, "TABULARIS_TRUSTED_PROXIES": "10.0.0.1, 192.0.2.0/24"}
	read := func(change map[string]string, flags map[string]string) (Config, error) {
		return Read(func(n string) (string, bool) { v, ok := flags[n]; return v, ok }, func(n string) string {
			if v, ok := change[n]; ok {
				return v
			}
			return whole[n]
		})
	}
	c, err := read(nil, map[string]string{"listen": "0.0.0.0:80"})
	if err != nil || !c.Secure || c.BaseURL != "https://papers.example" || c.Mail.Password != "from a file" || c.Listen != "0.0.0.0:80" || c.KeyFile != "data/keys/master.key" || len(c.TrustedProxies) != 2 || c.MaxUpload != 100<<30 {
		t.Errorf("read %+v, %v", c, err)
	}
	for name, bad := range map[string]string{"TABULARIS_DATABASE_URL": "", "TABULARIS_BASE_URL": "papers.example", "TABULARIS_MAX_UPLOAD": "-1", "TABULARIS_SMTP_PLAIN": "maybe", "TABULARIS_TRUSTED_PROXIES": "everybody", "TABULARIS_SMTP_USER_FILE": "/no/such/file"} {
		if _, err := read(map[string]string{name: bad}, nil); err == nil || !strings.Contains(err.Error(), name) {
			t.Errorf("%s=%q: %v", name, bad, err)
		}
	}
}

func TestEverySettingIsDocumented(t *testing.T) {
	doc, err := os.ReadFile("../../docs/operations.md")
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range Settings() {
		row := "| `" + s.Variable() + "` | " + s.Meaning + " | " + map[bool]string{true: "required", false: "`" + s.Default + "`"}[s.Required] + " |"
		if s.Default == "" && !s.Required {
			row = "| `" + s.Variable() + "` | " + s.Meaning + " | |"
		}
		if !strings.Contains(string(doc), row) {
			t.Errorf("docs/operations.md lacks the row\n%s", row)
		}
	}
}
