package links

import (
	"tabularis/core/register"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/doors/web/contract"
)

func finding(code string, f sensitive.Found) contract.SensitiveFinding {
	return contract.SensitiveFinding{
		Item:     f.Item.ID,
		Ref:      register.Ref{Code: code, Number: *f.Item.Number}.String(),
		Document: f.Item.Name,
		Kind:     contract.SensitiveFindingKind(f.Kind),
		Name:     f.Name,
		N:        f.N,
		Page:     f.Page,
		Line:     f.Line,
		Shown:    f.Shown,
	}
}
