package server

import (
	"net/http"
	"strings"
	"time"

	"steptrace/core/mend"
	"steptrace/core/pin"
	"steptrace/core/sheet"
	"steptrace/internal/picture"
	"steptrace/internal/store"
)

// PinView is a pin with what its name is now, and how that stands.
type PinView struct {
	pin.Pin
	Is   string   `json:"is"` // its name now: the sheet may have given it another since
	Mark pin.Mark `json:"mark"`
}

// PictureView is a picture of a set with its pins. Asked are names without a pin on it.
type PictureView struct {
	pin.Picture
	Pins  []PinView   `json:"pins"`
	Asked []pin.Asked `json:"asked"`
}

// Board is the pictures of a set. Of a job they show how each place stands.
type Board struct {
	Sheet    int64         `json:"sheet"`
	Set      string        `json:"set"`
	Pictures []PictureView `json:"pictures"`
	Struck   []pin.Picture `json:"struck"` // taken out, to be put back
	Places   []pin.Place   `json:"places"` // where each name is shown best
}

func board(x *store.Sheet, route string, pictures []pin.Picture, marks pin.Marks) Board {
	out := Board{Sheet: x.ID, Set: x.Document.Name(), Pictures: []PictureView{}, Struck: []pin.Picture{},
		Places: pin.Places(x.Plan, pictures)}
	for _, p := range pictures {
		if p.Struck {
			out.Struck = append(out.Struck, p)
			continue
		}
		v := PictureView{Picture: p, Pins: []PinView{}, Asked: pin.Ask(x.Plan, route, pictures, p.ID)}
		for _, y := range p.Pins {
			is := x.Plan.NowOf(y.Name)
			v.Pins = append(v.Pins, PinView{y, is, marks.Of(is)})
		}
		out.Pictures = append(out.Pictures, v)
	}
	return out
}

// boardOfSheet shows the pictures of a sheet, to be placed on.
func (s *Server) boardOfSheet(r *http.Request) (Board, error) {
	x, err := s.loadSheet(r)
	if err != nil {
		return Board{}, err
	}
	pictures, err := s.store.Pictures(r.Context(), x.ID)
	if err != nil {
		return Board{}, err
	}
	route := r.URL.Query().Get("route")
	if _, ok := x.Plan.Route(route); !ok && len(x.Plan.Routes) > 0 {
		route = x.Plan.Routes[0].Key
	}
	return board(&x, route, pictures, pin.MarksOf(x.Plan, nil, nil)), nil
}

// boardOfJob shows the pictures of the set in a job with how every place stands.
func (s *Server) boardOfJob(r *http.Request) (Board, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return Board{}, err
	}
	pictures, err := s.store.Pictures(r.Context(), j.Sheet.ID)
	if err != nil || len(pictures) == 0 {
		return Board{Sheet: j.Sheet.ID, Set: j.Sheet.Document.Name()}, err
	}
	v, err := s.job(r)
	if err != nil {
		return Board{}, err
	}
	var parts []string
	for _, p := range v.Condemned {
		parts = append(parts, p.Part)
	}
	return board(&j.Sheet, v.Route, pictures, pin.MarksOf(j.Sheet.Plan, v.Findings, parts)), nil
}

// maxPDF is the largest manual taken in: 900 scanned pages.
const maxPDF = 160 << 20

// boardFile makes of what arrived what is kept of it. A PDF is kept as it is: the browser shows it.
func boardFile(data []byte) (kind string, width, height int, files store.Files, err error) {
	if strings.HasPrefix(string(data[:min(len(data), 1024)]), "%PDF-") {
		return pin.PDF, 0, 0, store.OfPicture(data, nil), nil
	}
	if len(data) > picture.MaxBytes {
		return "", 0, 0, nil, mend.Errorf("the picture has %d MB: save it smaller than %d MB", len(data)>>20, picture.MaxBytes>>20)
	}
	p, err := picture.Board(data)
	return p.Type, p.Width, p.Height, store.OfPicture(p.Data, p.Preview), err
}

// brought checks a picture that comes along by what is said of it there, and makes of its file what is kept.
func brought(p pin.Picture, data []byte, there string) (store.Pictured, error) {
	err := sent(p.ID)
	if err == nil {
		err = p.Check()
	}
	said := p.Type
	var files store.Files
	if err == nil {
		p.Type, p.Width, p.Height, files, err = boardFile(data)
	}
	if err == nil && p.Type != said {
		err = mend.Errorf("it is %s, though %s says %s", p.Type, there, said)
	}
	return store.Pictured{Picture: p, Files: files}, err
}

// named is the sheet in the address, and the picture, if any.
func named(r *http.Request) (sheet int64, id string, err error) {
	n, err := intParam(r, "id")
	return int64(n), param(r, "picture"), err
}

// addBoard takes a picture of a set as the body.
func (s *Server) addBoard(w http.ResponseWriter, r *http.Request) (Board, error) {
	id, _, err := named(r)
	if err == nil {
		err = s.keepBoard(w, r, id)
	}
	if err != nil {
		return Board{}, err
	}
	return s.boardOfSheet(r)
}

func (s *Server) keepBoard(w http.ResponseWriter, r *http.Request, id int64) error {
	q := r.URL.Query()
	if err := sent(q.Get("id")); err != nil {
		return err
	}
	p := pin.Picture{ID: q.Get("id"), Name: q.Get("name"), Seen: pin.Seen(q.Get("seen")), Added: time.Now(), Pins: []pin.Pin{}}
	if err := p.Check(); err != nil {
		return err
	}
	if _, err := s.store.Sheet(r.Context(), id); err != nil {
		return err
	}
	data, err := body(w, r, maxPDF)
	if err != nil {
		return err
	}
	var files store.Files
	if p.Type, p.Width, p.Height, files, err = boardFile(data); err != nil {
		return err
	}
	return s.store.AddPicture(r.Context(), id, p, files)
}

// changeBoard changes something of a picture and shows them all.
func (s *Server) changeBoard(r *http.Request, files store.Files, f func(*pin.Picture) error) (Board, error) {
	sheet, id, err := named(r)
	if err == nil {
		err = s.store.ChangePicture(r.Context(), sheet, id, f, files)
	}
	if err != nil {
		return Board{}, err
	}
	return s.boardOfSheet(r)
}

func (s *Server) replaceBoard(w http.ResponseWriter, r *http.Request) (Board, error) {
	data, err := body(w, r, maxPDF)
	if err != nil {
		return Board{}, err
	}
	kind, width, height, files, err := boardFile(data)
	if err != nil {
		return Board{}, err
	}
	return s.changeBoard(r, files, func(p *pin.Picture) error {
		p.Replaced(kind, width, height)
		return nil
	})
}

// LookedAt is how a picture is called and looked at, and whether it is taken out.
type LookedAt struct {
	Name   string   `json:"name"`
	Seen   pin.Seen `json:"seen"`
	Turn   int      `json:"turn"`
	Mirror bool     `json:"mirror"`
	Struck bool     `json:"struck"`
}

func (s *Server) lookAtBoard(r *http.Request, req LookedAt) (Board, error) {
	return s.changeBoard(r, nil, func(p *pin.Picture) error {
		p.Name, p.Seen, p.Turn, p.Mirror, p.Struck = req.Name, req.Seen, req.Turn, req.Mirror, req.Struck
		return p.Check()
	})
}

// Pinned places a pin, or takes it out. Changes is how often the picture's file had been replaced when it
// was clicked on.
type Pinned struct {
	Changes int `json:"changes"`
	pin.Pin
	Out bool `json:"out,omitempty"`
}

func (s *Server) placePin(r *http.Request, req Pinned) (Board, error) {
	return s.changeBoard(r, nil, func(p *pin.Picture) error {
		if req.Changes != p.Changes {
			return problem(
				http.StatusConflict,
				"Another picture",
				p.Name+" was replaced by another picture meanwhile. Load the page again and click where it is on that one.",
			)
		}
		if !req.Out {
			return p.Put(req.Pin)
		}
		if !p.Pull(req.Name, req.Page) {
			return mend.Errorf("%s is not on this picture any more", req.Name)
		}
		return nil
	})
}

// boardPicture gives a picture's file, or its preview.
func (s *Server) boardPicture(w http.ResponseWriter, r *http.Request) error {
	sheet, id, err := named(r)
	if err != nil {
		return err
	}
	data, err := s.store.SheetPicture(r.Context(), sheet, id, strings.HasSuffix(r.URL.Path, "/preview"))
	if err != nil {
		return err
	}
	kind := http.DetectContentType(data)
	if kind == pin.PDF {
		// Read by the page's own script, never opened by the browser itself.
		kind = "application/octet-stream"
	}
	keepable(w, kind, data) // the address counts its changes
	return nil
}

// sheetName is a sheet's name as that of a file.
func sheetName(d *sheet.Sheet) string {
	return strings.Map(func(c rune) rune {
		if c < '-' || c > 'z' || strings.ContainsRune(`/:;<=>?@[\]^`+"`", c) {
			return '-'
		}
		return c
	}, d.Name())
}
