package server

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"path"
	"time"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/pin"
	"steptrace/internal/store"
)

// A bundle is a sheet with its pictures: a zip of sheet.json, pictures.json and the pictures' files.

// Format and version of pictures.json.
const (
	picturesFormat  = "steptrace-pictures"
	picturesVersion = 1
)

// PicturesFile says of each picture of a bundle what it is, its file, and its pins.
type PicturesFile struct {
	Format   string        `json:"format" jsonschema:"enum=steptrace-pictures"`
	Version  int           `json:"version" jsonschema:"enum=1"`
	Pictures []PictureFile `json:"pictures"`
}

// PictureFile is a picture of a bundle.
type PictureFile struct {
	pin.Picture
	File string `json:"file"`
}

// The most that a bundle may hold, so that a small file does not unfold into gigabytes.
const (
	maxBundled  = 220
	maxUnfolded = 1 << 30
)

// isBundle tells a zip from a text.
func isBundle(data []byte) bool { return bytes.HasPrefix(data, []byte(zipped)) }

const zipped = "PK\x03\x04" // how the files of a zip begin

// bundle is what one holds, checked.
type bundle struct {
	sheet    []byte
	pictures []store.Pictured
}

// folded is a zip from outside, of which one file after another is unfolded. Is tells what it should be. Errors are those a person can
// mend.
type folded struct {
	is    string
	files map[string]*zip.File
	left  int64 // bytes that may yet come out
}

func fold(is string, from io.ReaderAt, size int64, mostFiles int, mostBytes int64) (*folded, error) {
	z, err := zip.NewReader(from, size)
	if err != nil {
		return nil, mend.Errorf("this zip breaks off or is damaged: save it again. Nothing was taken over")
	}
	if len(z.File) > mostFiles {
		return nil, mend.Errorf("%d files are in this zip: %s has up to %d", len(z.File), is, mostFiles)
	}
	out := &folded{is: is, files: map[string]*zip.File{}, left: mostBytes}
	for _, f := range z.File {
		out.files[f.Name] = f
	}
	return out, nil
}

// unfold gives a file, of up to so many bytes.
func (z *folded) unfold(name string, most int64) ([]byte, error) {
	of, ok := z.files[name]
	if !ok {
		return nil, mend.Errorf("there is no %s in this zip: it is no %s", name, z.is)
	}
	f, err := of.Open()
	if err != nil {
		return nil, mend.Errorf("in this zip, %s cannot be unpacked: %v", name, err)
	}
	defer func() { _ = f.Close() }() // only read
	most = min(z.left, most)
	if of.UncompressedSize64 > uint64(most) {
		return nil, mend.Errorf("in this zip, %s unfolds to more than %d MB", name, most>>20)
	}
	var out bytes.Buffer
	out.Grow(int(of.UncompressedSize64) + bytes.MinRead) // as it says; what is more is refused
	if n, err := out.ReadFrom(io.LimitReader(f, most+1)); err != nil || n > most {
		return nil, mend.Errorf("in this zip, %s is damaged: save it again", name)
	}
	z.left -= int64(out.Len())
	return out.Bytes(), nil
}

// pictures gives the pictures of a sheet whose files are in a folder.
func (z *folded) pictures(folder string) (out []store.Pictured, err error) {
	text, err := z.unfold(folder+"pictures.json", maxFile)
	if err != nil {
		return nil, err
	}
	var list PicturesFile
	if err := exchange.Decode(text, &list); err != nil {
		return nil, fmt.Errorf("pictures.json: %w", err)
	}
	if list.Format != picturesFormat || list.Version != picturesVersion {
		return nil, mend.Errorf("pictures.json is %s %d, not %s %d", list.Format, list.Version, picturesFormat, picturesVersion)
	}
	for _, p := range list.Pictures {
		data, err := z.unfold(folder+p.File, maxPDF)
		if err != nil {
			return nil, err
		}
		one, err := brought(p.Picture, data, "pictures.json")
		if err != nil {
			return nil, mend.Errorf("in this zip, %s: %v", p.File, err)
		}
		out = append(out, one)
	}
	return out, nil
}

// readBundle unfolds a bundle.
func readBundle(data []byte) (b bundle, err error) {
	z, err := fold("sheet with its pictures", bytes.NewReader(data), int64(len(data)), maxBundled, maxUnfolded)
	if err != nil {
		return b, err
	}
	if b.sheet, err = z.unfold("sheet.json", maxFile); err == nil {
		b.pictures, err = z.pictures("")
	}
	return b, err
}

// zipping puts files into a zip.
type zipping struct{ *zip.Writer }

func (z zipping) put(name string, method uint16, data []byte) error {
	f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: method, Modified: time.Now()})
	if err == nil {
		_, err = f.Write(data)
	}
	return err
}

// putPictures puts the pictures of a sheet into a folder, but for those taken out.
func (s *Server) putPictures(ctx context.Context, z zipping, folder string, id int64) error {
	pictures, err := s.store.Pictures(ctx, id)
	if err != nil {
		return err
	}
	list := PicturesFile{Format: picturesFormat, Version: picturesVersion, Pictures: []PictureFile{}}
	for _, p := range pictures {
		if p.Struck {
			continue
		}
		data, err := s.store.SheetPicture(ctx, id, p.ID, false)
		if err != nil {
			return err
		}
		file := fmt.Sprintf("pictures/%d%s", len(list.Pictures)+1, map[string]string{pin.PDF: ".pdf", "image/png": ".png"}[p.Type])
		if path.Ext(file) == "" {
			file += ".jpg"
		}
		if err := z.put(folder+file, zip.Store, data); err != nil { // packed already
			return err
		}
		list.Pictures = append(list.Pictures, PictureFile{p, file})
	}
	return z.put(folder+"pictures.json", zip.Deflate, exchange.Encode(list))
}

// sheetBundle gives a sheet with its pictures.
func (s *Server) sheetBundle(w http.ResponseWriter, r *http.Request, x *store.Sheet) error {
	var out bytes.Buffer
	z := zipping{zip.NewWriter(&out)}
	err := z.put("sheet.json", zip.Deflate, x.Document.WriteJSON())
	if err == nil {
		err = s.putPictures(r.Context(), z, "", x.ID)
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		return err
	}
	attach(w, "application/zip", sheetName(x.Document)+".zip", out.Bytes())
	return nil
}
