package present

import (
	"tabularis/core/versions"
	"tabularis/internal/doors/web/contract"
)

// KeepRule presents which versions are kept.
func KeepRule(r versions.Rule) contract.KeepRule {
	return contract.KeepRule{Months: r.Months, Then: contract.KeepRuleThen(r.Then), Last: r.Last}
}
