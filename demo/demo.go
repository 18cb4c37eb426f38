// Package demo is the demo workshop: a two-person bench in the harbour town of
// Skelhaven, its service sheets and its jobs, as files in Step Trace's own
// open formats. Town, people, makers and models are invented.
package demo

import (
	"archive/zip"
	"bytes"
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"strings"

	"steptrace/core/standin"
)

//go:embed sheets/*.json jobs/*.json experience/*.json pictures drawer.txt shop.json
var files embed.FS

// Faults are what is wrong with the sets of the demo's jobs, by the jobs' numbers: their
// readings come from them, and so do those of the simulated sets.
var Faults = map[int]standin.Fault{
	139: {Block: "Q8 mute gate", Part: "C61", What: "leaky"},
	140: {Block: "field output stage", Effect: standin.Dead},
	141: {Block: "limiter", Effect: standin.Dead}, // begun from a pattern, with no sheet
	142: {Block: "Q204 make-up", Part: "C212", What: "open"},
	144: {Block: "K2 line relay contact", Effect: standin.Dead}, // it came back, and it is not what it was
	145: {Block: "S1 medium wave contact", Part: "S1a", What: "open"},
	146: {Block: "RV1 volume, right", Effect: standin.CuttingOut},
	147: {Block: "K1 contact, left", Part: "K1", What: "open in its contact"},
	148: {Block: "+12 V", Effect: standin.Dead}, // C611 shorts it
}

// Importer takes over files the way a user's are taken over.
type Importer interface {
	ImportSheet(ctx context.Context, data []byte) (int64, error)
	ImportJob(ctx context.Context, data []byte) (int, error)
	ImportDrawer(ctx context.Context, lines string) error
	ImportShop(ctx context.Context, data []byte) error
	ImportExperience(ctx context.Context, data []byte) error
}

// Fill imports the demo workshop into an empty store.
func Fill(ctx context.Context, in Importer) error {
	err := each("sheets", func(name string, data []byte) error {
		data, err := pictured(name, data)
		if err == nil {
			_, err = in.ImportSheet(ctx, data)
		}
		return err
	})
	if err != nil {
		return err
	}
	drawer, err := files.ReadFile("drawer.txt")
	if err == nil {
		err = in.ImportDrawer(ctx, string(drawer))
	}
	if err != nil {
		return err
	}
	shop, err := files.ReadFile("shop.json")
	if err == nil {
		err = in.ImportShop(ctx, shop)
	}
	if err != nil {
		return err
	}
	err = each("experience", func(_ string, data []byte) error { return in.ImportExperience(ctx, data) })
	if err != nil {
		return err
	}
	return each("jobs", func(_ string, data []byte) error {
		_, err := in.ImportJob(ctx, data)
		return err
	})
}

// pictured is a sheet as it stands, or where there are pictures of its set, bundled with them.
func pictured(name string, data []byte) ([]byte, error) {
	folder := path.Join("pictures", strings.TrimSuffix(name, ".json"))
	entries, err := fs.ReadDir(files, folder)
	if errors.Is(err, fs.ErrNotExist) {
		return data, nil
	}
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	put := func(name string, data []byte) error {
		f, err := z.Create(name)
		if err == nil {
			_, err = f.Write(data)
		}
		return err
	}
	err = put("sheet.json", data)
	for _, e := range entries {
		data, readErr := files.ReadFile(path.Join(folder, e.Name()))
		err = errors.Join(err, readErr, put(e.Name(), data))
	}
	err = errors.Join(err, z.Close())
	return out.Bytes(), err
}

// each hands over the files of a folder in the order of their names.
func each(folder string, take func(name string, data []byte) error) error {
	entries, err := fs.ReadDir(files, folder)
	if err != nil {
		return err
	}
	for _, e := range entries {
		data, err := files.ReadFile(folder + "/" + e.Name())
		if err == nil {
			err = take(e.Name(), data)
		}
		if err != nil {
			return fmt.Errorf("demo file %s: %w", e.Name(), err)
		}
	}
	return nil
}
