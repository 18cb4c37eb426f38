package server

import (
	"archive/zip"
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"time"

	"steptrace/core/device"
	"steptrace/core/exchange"
	"steptrace/core/job"
	"steptrace/core/past"
	"steptrace/core/replace"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// A whole workshop as open files: a zip with everything in the formats of docs/formats.md, and an index of them. Taken in, what is here
// already is left as it is, by the keys that sheets and jobs have; so it can be broken off and taken in again.

// Format and version of the index.
const (
	wholeFormat  = "steptrace-whole"
	wholeVersion = 1
	wholeIndex   = "index.json"
)

// The most that such a zip holds.
const (
	maxWholeFiles = 200_000
	maxWholeBytes = 16 << 30 // as it comes
	maxWhole      = 1 << 40  // unfolded, one file after another
	maxRefused    = 20       // jobs or sheets that cannot be taken, before it is given up
)

// WholeFile is the index of a workshop's files.
type WholeFile struct {
	Format      string                  `json:"format" jsonschema:"enum=steptrace-whole"`
	Version     int                     `json:"version" jsonschema:"enum=1"`
	Made        time.Time               `json:"made"`
	Sheets      []WholeSheet            `json:"sheets"`
	Jobs        []WholeJob              `json:"jobs"`
	Joined      [][2]string             `json:"joined"` // keys of sheets that are of one model
	Instruments []instrument.Instrument `json:"instruments"`
	Sound       []WholeLevel            `json:"sound"`
	Drawer      []replace.Kept          `json:"drawer"`
	Lent        []string                `json:"lent"` // files of other workshops' experience
}

// WholeSheet is a sheet: its folder holds its revisions (1.json and on) and its pictures. Own: it was made for one job.
type WholeSheet struct {
	Key       string      `json:"key"`
	Own       bool        `json:"own,omitempty"`
	Folder    string      `json:"folder"`
	Revisions []WholeSave `json:"revisions"`
}

// WholeSave is when a revision was saved, and which it was taken back to (0: it was not).
type WholeSave struct {
	Saved time.Time `json:"saved"`
	Back  int       `json:"back,omitempty"`
}

// WholeJob is a job: its file, the key of its sheet, and the revision that it was finished by (0: it is open).
type WholeJob struct {
	Key      string `json:"key"`
	Number   int    `json:"number"`
	File     string `json:"file"`
	Sheet    string `json:"sheet"`
	Revision int    `json:"revision,omitempty"`
}

// WholeLevel is what full scale of a sound device is, volts (peak), out or in.
type WholeLevel struct {
	Device string  `json:"device"`
	Way    string  `json:"way" jsonschema:"enum=out,enum=in"`
	Volts  float64 `json:"volts"`
}

// wholeFile gives the whole workshop, a file after the other: it is never in memory as a whole.
func (s *Server) wholeFile(w http.ResponseWriter, r *http.Request) error {
	sheets, err := s.store.KeptSheets(r.Context())
	if err != nil {
		return err
	}
	jobs, err := s.store.KeptJobs(r.Context())
	if err != nil {
		return err
	}
	attach(w, "application/zip", "workshop-"+time.Now().Format(time.DateOnly)+".zip", nil)
	z := zipping{zip.NewWriter(w)}
	index := WholeFile{Format: wholeFormat, Version: wholeVersion, Made: time.Now().UTC()}
	err = s.putWhole(r.Context(), z, &index, sheets, jobs)
	if err == nil {
		err = z.put(wholeIndex, zip.Deflate, exchange.Encode(index))
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		// Part of it is gone out already: it has to break off, so that nobody takes half of it for the whole.
		if r.Context().Err() == nil { // nobody called it off
			slog.Error("the workshop's files broke off", "error", err)
		}
		panic(http.ErrAbortHandler)
	}
	return nil
}

func (s *Server) putWhole(ctx context.Context, z zipping, index *WholeFile, sheets []store.KeptSheet, jobs []store.KeptJob) error {
	keys := map[int64]string{}
	for i, x := range sheets {
		keys[x.ID] = x.Key
		one := WholeSheet{Key: x.Key, Own: x.Own, Folder: fmt.Sprintf("sheets/%d/", i+1)}
		all, err := s.store.Revisions(ctx, x.ID)
		if err != nil {
			return err
		}
		for n, rev := range all {
			one.Revisions = append(one.Revisions, WholeSave{rev.Saved, rev.Back})
			if err := z.put(fmt.Sprintf("%s%d.json", one.Folder, n+1), zip.Deflate, rev.Document.WriteJSON()); err != nil {
				return err
			}
		}
		if err := s.putPictures(ctx, z, one.Folder, x.ID); err != nil {
			return err
		}
		index.Sheets = append(index.Sheets, one)
	}
	for _, x := range jobs {
		j, err := s.store.Job(ctx, x.Number)
		if err != nil {
			return err
		}
		d := j.Sheet.Document
		f := &job.File{Sheet: job.SheetRef{Maker: d.Maker, Model: d.Model, Own: j.Sheet.Own}, Job: j.Job}
		if err := s.laden(ctx, &f.Job); err != nil {
			return err
		}
		one := WholeJob{x.Key, x.Number, fmt.Sprintf("jobs/%d.json", x.Number), keys[x.Sheet], x.Revision}
		if err := z.put(one.File, zip.Deflate, f.WriteJSON()); err != nil {
			return err
		}
		index.Jobs = append(index.Jobs, one)
	}
	return s.putRest(ctx, z, index, keys)
}

// putRest puts in what is the workshop's and not a job's.
func (s *Server) putRest(ctx context.Context, z zipping, index *WholeFile, keys map[int64]string) (err error) {
	pairs, err := s.store.JoinedPairs(ctx)
	for _, p := range pairs {
		index.Joined = append(index.Joined, [2]string{keys[p[0]], keys[p[1]]})
	}
	if err == nil {
		index.Instruments, err = s.store.Instruments(ctx)
	}
	if err == nil {
		index.Drawer, err = s.store.Drawer(ctx)
	}
	if err != nil {
		return err
	}
	levels, err := s.store.SoundLevels(ctx)
	if err != nil {
		return err
	}
	for of, volts := range levels {
		index.Sound = append(index.Sound, WholeLevel{of[0], of[1], volts})
	}
	slices.SortFunc(index.Sound, func(a, b WholeLevel) int { return strings.Compare(a.Device+"\n"+a.Way, b.Device+"\n"+b.Way) })
	rows, err := s.store.Types(ctx)
	if err == nil {
		err = z.put("types.csv", zip.Deflate, []byte(device.WriteRows(rows)))
	}
	if err != nil {
		return err
	}
	if said, err := s.store.HasShop(ctx); err != nil {
		return err
	} else if said {
		settings, err := s.store.Shop(ctx)
		if err == nil {
			err = z.put("workshop.json", zip.Deflate, exchange.Encode(settings))
		}
		if err != nil {
			return err
		}
	}
	lent, err := s.store.Lent(ctx, "")
	if err != nil {
		return err
	}
	by := map[string][]past.Job{}
	var whose []string
	for _, l := range lent {
		if by[l.Whose] == nil {
			whose = append(whose, l.Whose)
		}
		by[l.Whose] = append(by[l.Whose], l.Job)
	}
	for _, name := range whose {
		for part := range slices.Chunk(by[name], past.MostJobs) {
			file := fmt.Sprintf("lent/%d.json", len(index.Lent)+1)
			if err := z.put(file, zip.Deflate, exchange.Encode(past.Make(name, part, true))); err != nil {
				return err
			}
			index.Lent = append(index.Lent, file)
		}
	}
	return nil
}
