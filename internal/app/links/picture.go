package links

import (
	"bytes"
	"context"
	"fmt"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
	"github.com/google/uuid"

	"tabularis/core/fault"
)

// pictureSize is the width and height of a QR code, in pixels.
const pictureSize = 296

// Picture returns the address of an open link as a QR code (ISO/IEC 18004), for
// those who may give it out: a PNG picture with the quiet zone around it left to
// the page.
func (s *Service) Picture(ctx context.Context, id uuid.UUID) ([]byte, error) {
	l, err := s.One(ctx, id)
	if err != nil {
		return nil, err
	}
	switch {
	case !l.MayEnd:
		return nil, fault.Refused("give this link out")
	case l.Address == "":
		return nil, fault.LinkOver.New("the link is no longer open")
	}
	code, err := qr.Encode(l.Address, qr.M, qr.Auto)
	if err != nil {
		return nil, fmt.Errorf("writing the address as a picture: %w", err)
	}
	if code, err = barcode.Scale(code, pictureSize, pictureSize); err != nil {
		return nil, fmt.Errorf("enlarging the picture: %w", err)
	}
	var out bytes.Buffer
	if err := png.Encode(&out, code); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
