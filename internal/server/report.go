package server

import (
	"bytes"
	"context"
	_ "embed"
	"encoding/base64"
	"fmt"
	"html/template"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/skip2/go-qrcode"

	"steptrace/core/exchange"
	"steptrace/core/intake"
	"steptrace/core/report"
	"steptrace/core/shop"
	"steptrace/core/trace"
	"steptrace/internal/store"
)

// ReportView is the report of a job to its owner: what the record makes of it and what a person wrote, whose the set is, and
// the workshop's head. Pictures are those that can be in it, Chosen those that are.
type ReportView struct {
	Head
	Report   report.Report `json:"report"`
	Whose    []Asked       `json:"whose"`
	Shop     shop.Settings `json:"shop"`
	Pictures []string      `json:"pictures"`
	Chosen   []string      `json:"chosen"`
}

// mostPictures is how many pictures a report has: more are an album.
const mostPictures = 3

func (s *Server) report(r *http.Request) (ReportView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return ReportView{}, err
	}
	settings, err := s.store.Shop(r.Context())
	if err != nil {
		return ReportView{}, err
	}
	v := ReportView{Head: head(&j), Whose: whose(j.Intake.Texts()), Shop: settings, Pictures: []string{}, Chosen: []string{}}
	for _, p := range j.Pictures {
		if !p.Struck {
			v.Pictures = append(v.Pictures, p.ID)
		}
	}
	v.Report = s.reportOf(&j, &settings)
	for _, sec := range v.Report.Sections {
		if sec.Key == report.Pictures {
			v.Chosen = chosen(sec.Text, v.Pictures)
		}
	}
	return v, nil
}

// chosen are the pictures that are named and there.
func chosen(text string, there []string) []string {
	out := []string{}
	for _, id := range strings.Fields(text) {
		if slices.Contains(there, id) && len(out) < mostPictures {
			out = append(out, id)
		}
	}
	return out
}

func (s *Server) reportOf(j *store.Job, settings *shop.Settings) report.Report {
	var findings *trace.Findings
	if c, ok := j.Case(j.Sheet.Plan); ok {
		f := c.Find(j.Plain(j.Sheet.Plan))
		findings = &f
	}
	facts := j.Facts(j.Sheet.Plan, findings)
	return report.Make(&facts, settings, j.Report)
}

//go:embed report.html
var reportPage string

var reportTemplate = template.Must(template.New("report").Parse(reportPage))

// printed is what the page of a report shows.
type printed struct {
	Set, Opened, Finished      string
	Number                     int
	Owner, Serial, Accessories string
	Paper                      template.CSS
	Shop                       shop.Settings
	Sections                   []printedSection
}

type printedSection struct {
	Title      string
	Paragraphs []string
	Figures    []report.Figure
	Pictures   []template.URL
	Long       bool // it may go over two pages
}

// reportFile is the report as a page of its own, to be printed or kept: it needs nothing beside it.
func (s *Server) reportFile(w http.ResponseWriter, r *http.Request) error {
	v, err := s.report(r)
	if err != nil {
		return err
	}
	day := func(t time.Time) string { return t.Local().Format("2 January 2006") }
	p := printed{Set: v.Set, Number: v.Number, Opened: day(v.Opened), Shop: v.Shop, Paper: template.CSS(v.Shop.Paper)}
	if v.Finished != nil {
		p.Finished = day(*v.Finished)
	}
	for _, f := range v.Whose {
		switch f.Key {
		case "owner":
			p.Owner = f.Text
		case "serial":
			p.Serial = f.Text
		case "accessories":
			p.Accessories = f.Text
		}
	}
	for _, sec := range v.Report.Sections {
		x := printedSection{Title: sec.Title}
		switch {
		case sec.LeftOut:
			continue
		case sec.Key == report.Pictures:
			for _, id := range v.Chosen {
				url, err := s.pictureWithin(r.Context(), v.Number, id)
				if err != nil {
					return err
				}
				x.Pictures = append(x.Pictures, url)
			}
		default:
			for para := range strings.SplitSeq(strings.TrimSpace(sec.Text), "\n\n") {
				if para = strings.TrimSpace(para); para != "" {
					x.Paragraphs = append(x.Paragraphs, para)
				}
			}
			if sec.Key == report.Figured {
				x.Figures = v.Report.Figures
			}
		}
		const aPage, rows = 1200, 12 // characters, figures: more goes over two pages
		x.Long = utf8.RuneCountInString(sec.Text) > aPage || len(x.Figures) > rows
		if len(x.Paragraphs)+len(x.Figures)+len(x.Pictures) > 0 {
			p.Sections = append(p.Sections, x)
		}
	}
	return paper(w, reportTemplate, p)
}

// paper sends a page of its own that is printed.
func paper(w http.ResponseWriter, from *template.Template, what any) error {
	var page bytes.Buffer
	if err := from.Execute(&page, what); err != nil {
		return fmt.Errorf("a page to be printed: %w", err)
	}
	h := w.Header()
	h.Set("Content-Type", "text/html; charset=utf-8")
	h.Set("Cache-Control", "no-store")
	// It is shown within the program's own page, and has no script.
	h.Set(
		"Content-Security-Policy",
		"default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'self'; base-uri 'none'",
	)
	h.Set("X-Frame-Options", "SAMEORIGIN")
	_, _ = w.Write(page.Bytes()) // the client may be gone
	return nil
}

// pictureWithin is a picture of a job as an address that carries it.
func (s *Server) pictureWithin(ctx context.Context, number int, id string) (template.URL, error) {
	data, err := s.store.PictureData(ctx, number, id, true)
	kind := http.DetectContentType(data)
	if err != nil || !strings.HasPrefix(kind, "image/") {
		return "", err
	}
	url := "data:" + kind + ";base64," + base64.StdEncoding.EncodeToString(data)
	return template.URL(url), nil // an image that was decoded and made anew on its way in
}

//go:embed record.html
var recordPage string

var recordTemplate = template.Must(template.New("record").Parse(recordPage))

type recordDay struct {
	Day   string
	Lines []recordLine
}

type recordLine struct {
	Time, Kind, Text, Why string
	Struck                bool
	Picture               template.URL
}

// recordFile is the technician's record as a page of its own: all that was noted, day by day.
func (s *Server) recordFile(w http.ResponseWriter, r *http.Request) error {
	j, err := load(r, s.store.Job)
	if err != nil {
		return err
	}
	settings, err := s.store.Shop(r.Context())
	if err != nil {
		return err
	}
	page := struct {
		Set, Complaint, Outcome string
		Number                  int
		Paper                   template.CSS
		Days                    []recordDay
	}{j.Sheet.Document.Name(), j.Complaint, j.Outcome, j.Number, template.CSS(settings.Paper), nil}
	const mostPictures = 40
	pictures := 0
	for _, l := range j.Record(j.Sheet.Plan) {
		at := l.At.Local()
		day := at.Format("Monday, 2 January 2006")
		if n := len(page.Days); n == 0 || page.Days[n-1].Day != day {
			page.Days = append(page.Days, recordDay{Day: day})
		}
		line := recordLine{Time: at.Format("15:04"), Kind: l.Kind, Text: l.Text, Why: l.Why, Struck: l.Struck}
		if l.Kind == "pictures" && !l.Struck && pictures < mostPictures {
			pictures++
			if line.Picture, err = s.pictureWithin(r.Context(), j.Number, l.ID); err != nil {
				return err
			}
		}
		last := &page.Days[len(page.Days)-1]
		last.Lines = append(last.Lines, line)
	}
	return paper(w, recordTemplate, page)
}

//go:embed label.html
var labelPage string

var labelTemplate = template.Must(template.New("label").Parse(labelPage))

// labelFile is a label for a set: its number, what and whose it is, where it stands, and a code (ISO/IEC 18004) that leads to the
// job, by an address that a phone can reach where there is one.
func (s *Server) labelFile(w http.ResponseWriter, r *http.Request) error {
	j, err := load(r, s.store.Job)
	if err != nil {
		return err
	}
	at := r.Host
	if here, port, err := net.SplitHostPort(r.Host); err == nil && !s.local {
		if all := hosts(here); len(all) > 0 {
			at = net.JoinHostPort(all[0], port)
		}
	}
	qr, err := qrcode.Encode(fmt.Sprintf("http://%s/#/jobs/%d", at, j.Number), qrcode.Medium, qrSide)
	if err != nil {
		return err
	}
	page := struct {
		Number int
		Set    string
		Lines  []string
		QR     template.URL
	}{Number: j.Number, Set: j.Sheet.Document.Name()}
	page.QR = template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(qr)) // made here
	texts := j.Intake.Texts()
	page.Lines = append(page.Lines, "in on "+j.Opened.Local().Format("2 January 2006"))
	for _, key := range []string{"owner", "serial", intake.PlaceField, "accessories"} {
		if text := strings.TrimSpace(texts[key]); text != "" {
			page.Lines = append(page.Lines, text)
		}
	}
	return paper(w, labelTemplate, page)
}

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
