package server

import (
	"context"
	"math"
	"net/http"
	"strconv"

	"steptrace/core/exchange"
	"steptrace/core/money"
	"steptrace/core/past"
	"steptrace/core/shop"
	"steptrace/core/worth"
)

// ShopView is what holds for the whole workshop.
type ShopView struct {
	Shop   shop.Settings `json:"shop"`
	Papers []shop.Paper  `json:"papers"`
	// Times and Prices are what can be said of them, with what holds where nothing is said: minutes, and amounts where an hour has a price.
	Times  []UsualTime  `json:"times"`
	Prices []UsualPrice `json:"prices"`
}

// UsualTime is a step of the work and its minutes.
type UsualTime struct {
	Step  past.Step `json:"step"`
	Name  string    `json:"name"`
	Usual string    `json:"usual"`
}

// UsualPrice is a class of part and what one costs.
type UsualPrice struct {
	Class past.Class `json:"class"`
	Usual string     `json:"usual"`
}

func (s *Server) shop(r *http.Request) (ShopView, error) {
	settings, err := s.store.Shop(r.Context())
	v := ShopView{Shop: settings, Papers: []shop.Paper{shop.A4, shop.Letter}}
	for _, step := range past.Steps {
		v.Times = append(v.Times, UsualTime{step, step.Done(), strconv.Itoa(int(worth.UsualTimes()[step]))})
	}
	rate, _ := money.Read(settings.Rate) // none, where it cannot be read
	for _, c := range past.Classes {
		usual := ""
		if rate > 0 {
			usual = money.Amount(math.Round(worth.UsualPrices()[c] * float64(rate))).Text("")
		}
		v.Prices = append(v.Prices, UsualPrice{c, usual})
	}
	return v, err
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

// shopFile is the settings as a file.
func (s *Server) shopFile(w http.ResponseWriter, r *http.Request) error {
	settings, err := s.store.Shop(r.Context())
	if err != nil {
		return err
	}
	attach(w, "application/json", "workshop.json", exchange.Encode(settings))
	return nil
}

// readShop takes them from one.
func (s *Server) readShop(w http.ResponseWriter, r *http.Request) (ShopView, error) {
	data, err := body(w, r, maxBody)
	if err == nil {
		err = s.ImportShop(r.Context(), data)
	}
	if err != nil {
		return ShopView{}, err
	}
	return s.shop(r)
}
