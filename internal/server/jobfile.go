package server

import (
	"context"
	"fmt"
	"net/http"
	"strings"

	"github.com/google/uuid"

	"steptrace/core/exchange"
	"steptrace/core/job"
	"steptrace/core/sheet"
	"steptrace/internal/picture"
	"steptrace/internal/store"
)

func (s *Server) jobFile(w http.ResponseWriter, r *http.Request) {
	j, err := load(r, s.store.Job)
	if err != nil {
		fail(w, r, err)
		return
	}
	f, err := s.file(r.Context(), &j)
	if err != nil {
		fail(w, r, err)
		return
	}
	attach(w, "application/json", fmt.Sprintf("job-%d.json", j.Number), f.WriteJSON())
}

// file is the job with all that belongs to it, pictures included.
func (s *Server) file(ctx context.Context, j *store.Job) (*job.File, error) {
	d := j.Sheet.Document
	f := &job.File{Sheet: job.SheetRef{Maker: d.Maker, Model: d.Model, Document: d}, Job: j.Job}
	b, err := s.store.Before(ctx, j.Number)
	if err != nil {
		return nil, err
	}
	f.Intake, f.Steps, f.Returns = b.Intake, b.Steps, b.Returns
	for _, p := range b.Pictures {
		if p.Struck {
			continue
		}
		data, _, err := s.store.PictureData(ctx, j.Number, p.ID, false)
		if err != nil {
			return nil, err
		}
		f.Pictures = append(f.Pictures, job.Picture{ID: p.ID, Step: p.Step, Taken: p.Taken, Data: data})
	}
	captures, err := s.store.Captures(ctx, j.Number)
	if err != nil {
		return nil, err
	}
	for i := range captures {
		c := &captures[i].Capture
		if _, c.Data, err = s.store.CaptureFile(ctx, j.Number, c.ID); err != nil {
			return nil, err
		}
		f.Captures = append(f.Captures, *c)
	}
	return f, nil
}

func (s *Server) importJobFile(w http.ResponseWriter, r *http.Request) {
	data, err := body(w, r, maxJobFile)
	if err != nil {
		fail(w, r, err)
		return
	}
	number, err := s.ImportJob(r.Context(), data)
	if err != nil {
		fail(w, r, err)
		return
	}
	send(w, r, Opened{number})
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
	if sheet.Blocked(problems) {
		return 0, blocked(problems, nil, nil)
	}
	if err := f.Check(plan); err != nil {
		return 0, err
	}
	if f.Injected != nil {
		if err := job.CheckInjection(plan, f.Injected); err != nil {
			return 0, err
		}
	}
	if err := f.CheckSafety(plan); err != nil {
		return 0, err
	}
	for i := range f.Inside {
		f.Inside[i].ID = orNew(f.Inside[i].ID)
	}
	if err := f.CheckInside(plan); err != nil {
		return 0, err
	}
	for i := range f.Repairs {
		f.Repairs[i].ID = orNew(f.Repairs[i].ID)
	}
	if err := f.CheckRepairs(plan); err != nil {
		return 0, err
	}
	for i := range f.Readings {
		f.Readings[i].ID = orNew(f.Readings[i].ID)
	}
	for i := range f.Safety {
		f.Safety[i].ID = orNew(f.Safety[i].ID)
	}
	var brought store.Brought
	read, err := f.CheckCaptures(plan)
	if err != nil {
		return 0, err
	}
	for i, c := range f.Captures {
		brought.Captures = append(brought.Captures, store.ReadCapture{Capture: c, Read: read[i]})
	}
	for i, x := range f.Pictures {
		p, err := picture.Read(x.Data)
		if err != nil {
			return 0, &exchange.FileError{Line: 1, Problem: fmt.Sprintf("picture %d: %v", i+1, err)}
		}
		brought.Pictures = append(brought.Pictures, stored(orNew(x.ID), x.Step, x.Taken, p))
	}
	if id != 0 {
		document = nil
	}
	return s.store.AddJob(ctx, &f.Job, id, document, brought)
}

// orNew gives an id to what comes without one.
func orNew(id string) string {
	if id == "" {
		return uuid.NewString()
	}
	return id
}

// sheetOf finds the sheet of a job file: one stored that is the same as the
// document brought along, or one of the name where it brings none. The id is
// zero where the document has to be stored.
func (s *Server) sheetOf(ctx context.Context, f *job.File) (int64, *sheet.Sheet, error) {
	stored, err := s.store.Sheets(ctx)
	if err != nil {
		return 0, nil, err
	}
	want := f.Sheet.Document
	for _, x := range stored {
		if want == nil && x.Document.Maker == f.Sheet.Maker && x.Document.Model == f.Sheet.Model ||
			want != nil && string(x.Document.WriteJSON()) == string(want.WriteJSON()) {
			return x.ID, x.Document, nil
		}
	}
	if want == nil {
		return 0, nil, &exchange.FileError{Line: 1, Problem: fmt.Sprintf("the job needs the service sheet of %s, which is not here: import that first", strings.TrimSpace(f.Sheet.Maker+" "+f.Sheet.Model))}
	}
	if want.Format != sheet.Format || want.Version != sheet.Version {
		return 0, nil, &exchange.FileError{Line: 1, Problem: "the sheet it brings along is not in a format known here"}
	}
	return 0, want, nil
}
