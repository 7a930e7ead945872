package present

import (
	"bytes"
	"cmp"
	"encoding/json"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
)

// Each turns a list into another; an empty list stays a list.
func Each[A, B any](all []A, fn func(A) B) []B {
	out := make([]B, len(all))
	for i, a := range all {
		out[i] = fn(a)
	}
	return out
}

// some points at a value unless it is empty.
// list is a list that is never absent.
func List[T any](all []T) []T { return append([]T{}, all...) }

func Some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

// Or is the value pointed at, or the other one.
func Or[T any](p *T, other T) T {
	if p == nil {
		return other
	}
	return *p
}

// Through turns a value into one of another type that is written in the same way as JSON, as a rule and
// its contract are.
func Through[T any](v any) (out T, err error) {
	raw, err := json.Marshal(v)
	if err != nil {
		return out, err
	}
	return out, json.Unmarshal(raw, &out)
}

// NamedIds presents names by their ids, in the order of names.
func NamedIds(names map[uuid.UUID]string) []contract.NamedId {
	all := make([]contract.NamedId, 0, len(names))
	for id, name := range names {
		all = append(all, contract.NamedId{Id: id, Name: name})
	}
	slices.SortFunc(all, func(a, b contract.NamedId) int {
		return cmp.Or(strings.Compare(a.Name, b.Name), bytes.Compare(a.Id[:], b.Id[:]))
	})
	return all
}
