package signature

import (
	"bytes"
	"context"
	"crypto"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"math/big"
	"net/http"
	"time"

	"github.com/digitorus/pkcs7"
	"github.com/digitorus/timestamp"
)

// mostAnswer is how much an authority may answer.
const mostAnswer = 1 << 20

// Stamper is a time-stamp authority that is asked over HTTP (RFC 3161, 3.4).
type Stamper struct {
	URL  string
	HTTP *http.Client
}

// Stamp gets a time stamp for a SHA-256 digest. A token for something else, or for another
// question, is refused.
func (s *Stamper) Stamp(ctx context.Context, digest []byte) ([]byte, error) {
	nonce, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 63))
	if err != nil {
		return nil, err
	}
	ask, err := (&timestamp.Request{HashAlgorithm: crypto.SHA256, HashedMessage: digest, Certificates: true, Nonce: nonce}).Marshal()
	if err != nil {
		return nil, fmt.Errorf("asking for a time stamp: %w", err)
	}
	answer, err := s.post(ctx, s.URL, "application/timestamp-query", ask)
	if err != nil {
		return nil, fmt.Errorf("asking for a time stamp: %w", err)
	}
	ts, err := timestamp.ParseResponse(answer)
	if err != nil {
		return nil, fmt.Errorf("reading a time stamp: %w", err)
	}
	if !bytes.Equal(ts.HashedMessage, digest) || ts.Nonce == nil || ts.Nonce.Cmp(nonce) != 0 {
		return nil, fmt.Errorf("the time stamp is for something else")
	}
	return ts.RawToken, nil
}

// StampEnds is until when the certificate of whoever gave a time stamp is good.
func StampEnds(token []byte) (time.Time, error) {
	read, err := pkcs7.Parse(token)
	if err != nil {
		return time.Time{}, fmt.Errorf("reading a time stamp: %w", err)
	}
	by := read.GetOnlySigner()
	if by == nil {
		return time.Time{}, errors.New("a time stamp does not say who gave it")
	}
	return by.NotAfter, nil
}

func (s *Stamper) post(ctx context.Context, url, kind string, body []byte) ([]byte, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, url, bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	req.Header.Set("Content-Type", kind)
	return answer(s.HTTP, req)
}

func answer(client *http.Client, req *http.Request) ([]byte, error) {
	resp, err := client.Do(req)
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	if resp.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("the authority answered %s", resp.Status)
	}
	return io.ReadAll(io.LimitReader(resp.Body, mostAnswer))
}
