package present

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
