package server

import (
	"context"
	"net/http"

	"steptrace/core/exchange"
	"steptrace/core/shop"
)

// ShopView is what holds for the whole workshop.
type ShopView struct {
	Shop   shop.Settings `json:"shop"`
	Papers []shop.Paper  `json:"papers"`
}

func (s *Server) shop(r *http.Request) (ShopView, error) {
	settings, err := s.store.Shop(r.Context())
	return ShopView{settings, []shop.Paper{shop.A4, shop.Letter}}, err
}

// ImportShop takes the workshop's settings from a file.
func (s *Server) ImportShop(ctx context.Context, data []byte) error {
	settings := shop.Usual()
	if err := exchange.Decode(data, &settings); err != nil {
		return err
	}
	if err := settings.Check(); err != nil {
		return err
	}
	return s.store.PutShop(ctx, settings)
}

func (s *Server) keepShop(r *http.Request, req shop.Settings) (ShopView, error) {
	if err := req.Check(); err != nil {
		return ShopView{}, err
	}
	if err := s.store.PutShop(r.Context(), req); err != nil {
		return ShopView{}, err
	}
	return s.shop(r)
}
