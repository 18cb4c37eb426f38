package server

import (
	"bytes"
	"context"
	_ "embed"
	"encoding/base64"
	"fmt"
	"html/template"
	"net/http"
	"strings"

	"github.com/skip2/go-qrcode"

	"steptrace/core/intake"
)

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
	Time, Kind, Text, Why, Who string
	Struck                     bool
	Picture                    template.URL
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
		line := recordLine{Time: at.Format("15:04"), Kind: l.Kind, Text: l.Text, Why: l.Why, Who: l.Who, Struck: l.Struck}
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
	at := "http://" + r.Host
	if d := s.letting.door; d != nil {
		if ways := d.Ways(r.Host); len(ways) > 0 {
			at = ways[0]
		}
	}
	qr, err := qrcode.Encode(fmt.Sprintf("%s/#/jobs/%d", at, j.Number), qrcode.Medium, qrSide)
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
	for _, key := range []string{intake.OwnerField, intake.SerialField, intake.PlaceField, intake.WithItField} {
		if text := strings.TrimSpace(texts[key]); text != "" {
			page.Lines = append(page.Lines, text)
		}
	}
	return paper(w, labelTemplate, page)
}
