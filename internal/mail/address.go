package mail

import (
	"net/mail"
	"strings"

	"tabularis/core/fault"
)

// Address reads a mail address (RFC 5322), with a name before it or not. What
// could end a header, or leads to no domain, is refused for the field.
func Address(field, raw string) (*mail.Address, error) {
	a, err := mail.ParseAddress(strings.TrimSpace(raw))
	if err != nil || len(raw) > 320 || strings.ContainsAny(raw, "\r\n") || strings.ContainsAny(a.Address, "\r\n") || !strings.Contains(a.Address[strings.LastIndex(a.Address, "@"):], ".") {
		return nil, fault.Field(field, "address-form", "%q is not a mail address", raw)
	}
	return a, nil
}
