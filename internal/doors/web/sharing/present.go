package sharing

import (
	"context"

	"github.com/google/uuid"

	"tabularis/internal/app/sharing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/present"
)

func effect(e sharing.Effect) contract.Effect {
	out := contract.Effect{Name: e.Name, Outside: e.Outside, Invited: e.Invited, Gains: e.Gains, Loses: e.Loses, Changes: e.Caps, Could: e.Could}
	if !e.Invited {
		out.Person = present.Some(uuid.UUID(e.Person))
	}
	return out
}

func consequence(x sharing.Consequence) contract.Consequence {
	return contract.Consequence{Documents: x.Documents, Effects: present.Each(x.Effects, effect), Links: present.Some(x.Links)}
}

func given(ctx context.Context, l sharing.List) contract.Given {
	return contract.Given{Grants: present.Each(l.Grants, present.Grant(ctx)), Next: present.Some(l.Next), Since: l.Since}
}
