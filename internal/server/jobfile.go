package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"

	"steptrace/core/exchange"
	"steptrace/core/job"
	"steptrace/core/pin"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/wave"
	"steptrace/internal/picture"
	"steptrace/internal/store"
)

func (s *Server) jobFile(w http.ResponseWriter, r *http.Request) error {
	j, err := load(r, s.store.Job)
	if err != nil {
		return err
	}
	f, err := s.file(r.Context(), &j)
	if err != nil {
		return err
	}
	if r.URL.Query().Get("owner") == "out" {
		f.Intake = f.Intake.Nameless()
	}
	attach(w, "application/json", fmt.Sprintf("job-%d.json", j.Number), f.WriteJSON())
	return nil
}

// file is the job with all that belongs to it, pictures and captures included.
func (s *Server) file(ctx context.Context, j *store.Job) (*job.File, error) {
	d := j.Sheet.Document
	f := &job.File{Sheet: job.SheetRef{Maker: d.Maker, Model: d.Model, Own: j.Sheet.Own, Document: d}, Job: j.Job}
	pictures, err := s.store.Pictures(ctx, j.Sheet.ID)
	if err != nil {
		return nil, err
	}
	for _, p := range pictures {
		if p.Struck || p.Type == pin.PDF {
			continue
		}
		data, err := s.store.SheetPicture(ctx, j.Sheet.ID, p.ID, false)
		if err != nil {
			return nil, err
		}
		f.Sheet.Pictures = append(f.Sheet.Pictures, pin.Held{Picture: p, Data: data})
	}
	return f, s.laden(ctx, &f.Job)
}

// laden fetches the files that the entries of a job came with; pictures that came before they were bared on entry are bared now.
func (s *Server) laden(ctx context.Context, j *job.Job) error {
	if err := s.store.Received(ctx, j); err != nil {
		return err
	}
	for i := range j.Pictures {
		j.Pictures[i].Data = picture.Bare(j.Pictures[i].Data)
	}
	return nil
}

func (s *Server) importJobFile(w http.ResponseWriter, r *http.Request) (Opened, error) {
	data, err := body(w, r, maxJobFile)
	if err != nil {
		return Opened{}, err
	}
	number, err := s.ImportJob(r.Context(), data)
	return Opened{number}, err
}

// ImportJob takes over a job file, with its sheet where it brings one that is
// not here yet. All of it is taken, or nothing. It returns the job's number,
// which differs from the file's where that is taken.
func (s *Server) ImportJob(ctx context.Context, data []byte) (int, error) {
	f, err := job.ReadJSON(data)
	if err != nil {
		return 0, err
	}
	id, document, err := s.sheetOf(ctx, f)
	if err != nil {
		return 0, err
	}
	plan, problems := document.Plan()
	brought, err := checked(ctx, f, plan, problems)
	if err != nil {
		return 0, err
	}
	if id == 0 {
		// Where the sheet is here already, so are the workshop's own pictures of it.
		pictures, err := held(f.Sheet.Pictures)
		if err != nil {
			return 0, err
		}
		return s.store.AddJobWithSheet(ctx, &f.Job, document, f.Sheet.Own, brought, pictures...)
	}
	return s.store.AddJob(ctx, &f.Job, id, brought)
}

// checked checks a job from outside against its sheet, puts it in order, and makes of the files it brings along what is kept of them.
func checked(ctx context.Context, f *job.File, plan *sheet.Plan, problems []sheet.Problem) (store.Brought, error) {
	if sheet.Blocked(problems) {
		return nil, blocked(problems, nil, nil)
	}
	if f.Injected != nil {
		if err := reading.CheckInjection(plan, f.Injected); err != nil {
			return nil, err
		}
	}
	if err := f.Take(plan, uuid.NewString); err != nil {
		return nil, err
	}
	if e, running := soak.Running(f.Soaks); running { // what reads it is in the workshop that wrote the file
		f.Soaks = append(f.Soaks, soak.Entry{ID: uuid.NewString(), At: time.Now(), Over: &soak.Over{
			Soak: e.ID, Why: "it was under way when the job was written to a file"}})
	}
	return unpack(ctx, &f.Job)
}

// held checks the pictures of a set that a job file brings along.
func held(all []pin.Held) ([]store.Pictured, error) {
	var out []store.Pictured
	for i, h := range all {
		one, err := brought(h.Picture, h.Data, "the file")
		if err != nil {
			return nil, exchange.Wrong("picture %d of its sheet: %w", i+1, err)
		}
		out = append(out, one)
	}
	return out, nil
}

// unpack makes of the files that the entries of a job bring along what is kept of them.
func unpack(ctx context.Context, j *job.Job) (store.Brought, error) {
	out := store.Brought{}
	for _, k := range job.Kinds {
		for i, e := range k.All(j) {
			var files store.Files
			var err error
			switch x := e.(type) {
			case *job.Picture:
				files, err = pictureFiles(x.Data)
			case *job.Capture:
				files, err = captureFiles(ctx, x)
			case *soak.Entry:
				if x.Begin != nil && len(x.Data) > 0 {
					_, err = soak.ReadTable(x.Begin, x.Data)
					files = store.OfSoak(x.Data)
				}
			}
			if err != nil {
				return nil, exchange.Wrong("%s %d: %w", k.One(), i+1, err)
			}
			if files != nil {
				out[store.EntryKey{Kind: k.Name(), ID: *e.Head().ID}] = files
			}
		}
	}
	return out, nil
}

func pictureFiles(data []byte) (store.Files, error) {
	p, err := picture.Read(data)
	return store.OfPicture(p.Data, p.Preview), err
}

// captureFiles reads a capture by what was said beside its file.
func captureFiles(ctx context.Context, c *job.Capture) (store.Files, error) {
	read, err := wave.Read(ctx, c.Data, c.Said)
	if err == nil {
		err = read.Prove()
	}
	if err != nil {
		return nil, fmt.Errorf("%s: %w", c.Name, err)
	}
	return store.OfCapture(c.Data, read)
}

// sheetOf finds the sheet of a job file: one stored that is the same as the
// document brought along, or one of the name where it brings none. The id is
// zero where the document has to be stored.
func (s *Server) sheetOf(ctx context.Context, f *job.File) (int64, *sheet.Sheet, error) {
	want := f.Sheet.Document
	x, err := s.store.FindSheet(ctx, want, f.Sheet.Maker, f.Sheet.Model)
	if !errors.Is(err, store.ErrNotFound) {
		return x.ID, x.Document, err
	}
	if want == nil {
		return 0, nil, exchange.Wrong(
			"the job needs the service sheet of %s, which is not here: import that first",
			strings.TrimSpace(f.Sheet.Maker+" "+f.Sheet.Model),
		)
	}
	if want.Format != sheet.Format || want.Version != sheet.Version {
		return 0, nil, exchange.Wrong("the sheet it brings along is not in a format known here")
	}
	return 0, want, nil
}
