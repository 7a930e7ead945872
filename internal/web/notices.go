package web

import (
	"context"

	"tabularis/internal/app/notices"

	c "tabularis/internal/web/contract"
)

// ListNotices shows what concerns whoever asks.
func (s *Server) ListNotices(ctx context.Context, _ c.ListNoticesRequestObject) (c.ListNoticesResponseObject, error) {
	all, err := s.Notices.Mine(ctx)
	return c.ListNotices200JSONResponse(each(all, func(n notices.Notice) c.Notice {
		return c.Notice{Id: n.ID, At: n.At, Kind: c.NoticeKind(n.Kind), By: n.By, What: n.What, Path: n.Path, Seen: n.SeenAt != nil}
	})), err
}

// SawNotices marks all as seen.
func (s *Server) SawNotices(ctx context.Context, _ c.SawNoticesRequestObject) (c.SawNoticesResponseObject, error) {
	return c.SawNotices204Response{}, s.Notices.Seen(ctx)
}
