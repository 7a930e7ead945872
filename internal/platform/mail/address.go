package mail

import (
	"net/mail"
	"strings"
	"unicode"

	"tabularis/core/address"
	"tabularis/core/fault"
)

// Address reads a mail address (RFC 5322), with a name before it or not, and
// returns it as mail is sent to it. What could end a header, leads to no domain, or
// would pass for another address is refused for the field.
func Address(field, raw string) (*mail.Address, error) {
	a, err := mail.ParseAddress(strings.TrimSpace(raw))
	if err != nil || len(raw) > 320 || strings.ContainsFunc(a.Name, unicode.IsControl) {
		return nil, fault.AddressForm.In(field, "%q is not a mail address", raw)
	}
	if a.Address, err = address.Check(field, a.Address); err != nil {
		return nil, err
	}
	return a, nil
}
