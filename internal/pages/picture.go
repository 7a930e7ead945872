package pages

import (
	"image"
	"image/draw"
	_ "image/gif"  // its decoder
	_ "image/jpeg" // its decoder
	_ "image/png"  // its decoder

	_ "golang.org/x/image/bmp" // its decoder
	xdraw "golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // its decoder

	"tabularis/internal/pdf"
)

// pictures are the types of which a picture is drawn anew.
var pictures = map[string]bool{"image/png": true, "image/jpeg": true, "image/gif": true, "image/webp": true, "image/bmp": true}

// maxPixels is how many pixels a picture may have that is drawn.
const maxPixels = 64 << 20

func pictureSize(s Source) (pdf.Size, error) {
	r, err := s.Open()
	if err != nil {
		return pdf.Size{}, err
	}
	defer r.Close()
	c, _, err := image.DecodeConfig(r)
	if err != nil || c.Width < 1 || c.Height < 1 || c.Width > maxPixels/c.Height {
		return pdf.Size{}, unshowable()
	}
	return pdf.Size{Width: float64(c.Width), Height: float64(c.Height)}, nil
}

// drawPicture draws a picture anew, never larger than it is, on white.
func drawPicture(s Source, width int) (*image.RGBA, error) {
	size, err := pictureSize(s)
	if err != nil {
		return nil, err
	}
	r, err := s.Open()
	if err != nil {
		return nil, err
	}
	defer r.Close()
	from, _, err := image.Decode(r)
	if err != nil {
		return nil, unshowable()
	}
	width = min(width, int(size.Width))
	to := image.NewRGBA(image.Rect(0, 0, width, max(1, int(float64(width)*size.Height/size.Width))))
	draw.Draw(to, to.Bounds(), image.White, image.Point{}, draw.Src)
	xdraw.ApproxBiLinear.Scale(to, to.Bounds(), from, from.Bounds(), draw.Over, nil)
	return to, nil
}
