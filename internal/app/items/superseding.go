package items

import "context"

type supersedingKey struct{}

// Superseding returns a context in which somebody has said that what is decided on a document may be
// superseded by what they do.
func Superseding(ctx context.Context) context.Context {
	return context.WithValue(ctx, supersedingKey{}, true)
}

// Upholding returns a context in which nobody has said so, whatever they said.
func Upholding(ctx context.Context) context.Context {
	return context.WithValue(ctx, supersedingKey{}, nil)
}

// Supersedes reports whether somebody has said so.
func Supersedes(ctx context.Context) bool { return ctx.Value(supersedingKey{}) != nil }
