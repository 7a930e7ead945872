package present

import (
	core "tabularis/core/particulars"
	"tabularis/internal/app/particulars"
	"tabularis/internal/doors/web/contract"
)

// Definition presents what a practice defines.
func Definition(d core.Definition) contract.Particular {
	p := contract.Particular{Id: d.ID, Name: d.Name, Kind: contract.ParticularKind(d.Kind), Unit: Some(d.Unit), Required: Some(d.Required)}
	if len(d.Choices) > 0 {
		p.Choices = &d.Choices
	}
	if len(d.DossierKinds) > 0 {
		kinds := Each(d.DossierKinds, func(k string) contract.DossierKind { return contract.DossierKind(k) })
		p.DossierKinds = &kinds
	}
	return p
}

// Particular presents what stands in a particular of a document.
func Particular(f particulars.Field) contract.ParticularValue {
	return contract.ParticularValue{Particular: Definition(f.Definition), Value: Some(f.Value), Person: Some(f.Person)}
}
