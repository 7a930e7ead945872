package reading

import (
	"bytes"
	"errors"
	"image"
	imagedraw "image/draw"
	_ "image/gif"  // its decoder
	_ "image/jpeg" // its decoder
	_ "image/png"  // its decoder
	"math"

	_ "golang.org/x/image/bmp" // its decoder
	xdraw "golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // its decoder

	"tabularis/internal/platform/pdf"
)

// pictures are the types of which a picture is drawn anew.
var pictures = map[string]bool{"image/png": true, "image/jpeg": true, "image/gif": true, "image/webp": true, "image/bmp": true}

// IsPicture reports whether pictures of a media type can be drawn.
func IsPicture(mediaType string) bool { return pictures[mediaType] }

const (
	// maxPixels is how many pixels a picture may have that is drawn.
	maxPixels = 64 << 20
	// maxDrawn is how large a drawn page is at most, in bytes of its pixels.
	maxDrawn = 48 << 20
	// maxSide is how many pixels a drawn page has at most along a side.
	maxSide = 8192
	// enlarged is how long the longer side of a small picture becomes, in pixels:
	// there has to be space for a mark.
	enlarged = 400
)

var errPicture = errors.New("the picture cannot be read")

func pictureSize(raw []byte) (pdf.Size, error) {
	c, _, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil || c.Width < 1 || c.Height < 1 || c.Width > maxPixels/c.Height {
		return pdf.Size{}, errPicture
	}
	return pdf.Size{Width: float64(c.Width), Height: float64(c.Height)}, nil
}

// drawPicture draws a picture anew on white. Only a small one becomes larger than
// it is.
func drawPicture(raw []byte, width int) (*image.RGBA, error) {
	size, err := pictureSize(raw)
	if err != nil {
		return nil, err
	}
	from, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		return nil, errPicture
	}
	w, h := within(size, width)
	to := image.NewRGBA(image.Rect(0, 0, w, h))
	imagedraw.Draw(to, to.Bounds(), image.White, image.Point{}, imagedraw.Src)
	xdraw.ApproxBiLinear.Scale(to, to.Bounds(), from, from.Bounds(), imagedraw.Over, nil)
	return to, nil
}

// grown is how large a picture is shown: as it is, unless it is too small.
func grown(size pdf.Size) pdf.Size {
	by := max(1, enlarged/max(size.Width, size.Height))
	return pdf.Size{Width: size.Width * by, Height: size.Height * by}
}

// within is how large a picture is drawn in a width: in its own proportions, no
// larger than it is shown, and with no more pixels than are taken.
func within(size pdf.Size, width int) (w, h int) {
	size = grown(size)
	scale := min(1, float64(width)/size.Width, maxSide/size.Height, math.Sqrt(maxDrawn/4/(size.Width*size.Height)))
	return max(1, int(size.Width*scale)), max(1, int(size.Height*scale))
}
