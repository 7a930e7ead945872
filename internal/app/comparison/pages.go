package comparison

import (
	"context"
	"hash/maphash"
	"image"
	"image/draw"

	"tabularis/core/diff"
	"tabularis/core/fault"
	"tabularis/internal/platform/reading"
)

const (
	// mostPages is how many pages of each side are laid beside each other.
	mostPages = 100
	// closely is how many pages both have together at most for each to be compared as it
	// is read; of more, smaller pictures are.
	closely           = 60
	small, asRead int = 240, 1100
)

// PagePairs are the pages of two sides beside each other, counted from 0.
type PagePairs struct {
	Pairs []diff.Pair
	// Same says which pairs look the same; Cut that there are more pages.
	Same []bool
	Cut  bool
}

// Drawn reports whether both can be laid beside each other as pictures.
func (s *Service) Drawn(c Compared) bool {
	return s.pages.Can(c.A.VType) && s.pages.Can(c.B.VType) && !c.Lines() && c.Table == nil
}

// Pages lays the pages of a pair beside each other.
func (s *Service) Pages(ctx context.Context, p Pair) (out PagePairs, err error) {
	c, err := s.sides(ctx, p)
	if err != nil {
		return out, err
	}
	a, b := s.source(ctx, c.A.Version()), s.source(ctx, c.B.Version())
	na, cutA, err := s.count(ctx, a)
	if err != nil {
		return out, err
	}
	nb, cutB, err := s.count(ctx, b)
	if err != nil {
		return out, err
	}
	width := asRead
	if na+nb > closely {
		width = small
	}
	out.Cut = cutA || cutB
	number := map[uint64]int32{}
	seed := maphash.MakeSeed()
	fa, err := s.faces(ctx, a, na, width, seed, number)
	if err != nil {
		return out, err
	}
	fb, err := s.faces(ctx, b, nb, width, seed, number)
	if err != nil {
		return out, err
	}
	out.Pairs = diff.Pairs(fa, fb)
	for _, pair := range out.Pairs {
		out.Same = append(out.Same, pair.A >= 0 && pair.B >= 0 && fa[pair.A] == fb[pair.B])
	}
	return out, nil
}

func (s *Service) count(ctx context.Context, of reading.Source) (n int, cut bool, err error) {
	o, err := s.pages.Outline(ctx, of)
	return min(len(o.Pages), mostPages), o.Cut || len(o.Pages) > mostPages, err
}

// faces numbers pages by how they look: the same number, the same look.
func (s *Service) faces(ctx context.Context, of reading.Source, n, width int, seed maphash.Seed, number map[uint64]int32) (out []int32, err error) {
	for page := range n {
		drawn, err := s.pages.Draw(ctx, of, page, width)
		if err != nil {
			return nil, err
		}
		p := points(drawn)
		sum := maphash.Bytes(seed, p.Points) ^ uint64(p.Width)
		if number[sum] == 0 {
			number[sum] = int32(len(number) + 1)
		}
		out = append(out, number[sum])
	}
	return out, nil
}

// points are a drawn page's.
func points(drawn image.Image) diff.Picture {
	rgba, ok := drawn.(*image.RGBA)
	if !ok || rgba.Stride != 4*rgba.Rect.Dx() {
		rgba = image.NewRGBA(image.Rect(0, 0, drawn.Bounds().Dx(), drawn.Bounds().Dy()))
		draw.Draw(rgba, rgba.Rect, drawn, drawn.Bounds().Min, draw.Src)
	}
	return diff.Picture{Width: rgba.Rect.Dx(), Height: rgba.Rect.Dy(), Points: rgba.Pix}
}

// Places are where two pages differ, in points of pages that are asRead wide.
type Places struct {
	Boxes         []diff.Box
	Width, Height int
}

// Places says where two pages of a pair differ, counted from 1.
func (s *Service) Places(ctx context.Context, p Pair, before, now int) (out Places, err error) {
	c, err := s.sides(ctx, p)
	if err != nil {
		return out, err
	}
	var two [2]diff.Picture
	for i, side := range []Side{c.A, c.B} {
		page := []int{before, now}[i]
		if page < 1 || page > mostPages {
			return out, fault.Missing()
		}
		drawn, err := s.pages.Draw(ctx, s.source(ctx, side.Version()), page-1, asRead)
		if err != nil {
			return out, err
		}
		two[i] = points(drawn)
	}
	out.Width, out.Height = max(two[0].Width, two[1].Width), max(two[0].Height, two[1].Height)
	return out, s.inTurn(ctx, func() { out.Boxes = diff.Pictures(two[0], two[1]) })
}
