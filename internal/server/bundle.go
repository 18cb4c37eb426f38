package server

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"path"
	"slices"

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

// readBundle unfolds a bundle. Errors are those a person can mend.
func readBundle(data []byte) (b bundle, err error) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return b, mend.Errorf("this zip breaks off or is damaged: save it again. Nothing was taken over")
	}
	if len(z.File) > maxBundled {
		return b, mend.Errorf("%d files are in this zip: a sheet with its pictures has up to %d", len(z.File), maxBundled)
	}
	left := int64(maxUnfolded)
	unfold := func(name string, most int64) ([]byte, error) {
		i := slices.IndexFunc(z.File, func(f *zip.File) bool { return f.Name == name })
		if i < 0 {
			return nil, mend.Errorf("there is no %s in this zip: it is no sheet with its pictures", name)
		}
		f, err := z.File[i].Open()
		if err != nil {
			return nil, mend.Errorf("in this zip, %s cannot be unpacked: %v", name, err)
		}
		defer func() { _ = f.Close() }() // only read
		most = min(left, most)
		if z.File[i].UncompressedSize64 > uint64(most) {
			return nil, mend.Errorf("in this zip, %s unfolds to more than %d MB", name, most>>20)
		}
		var out bytes.Buffer
		out.Grow(int(z.File[i].UncompressedSize64) + bytes.MinRead) // as it says; what is more is refused
		if n, err := out.ReadFrom(io.LimitReader(f, most+1)); err != nil || n > most {
			return nil, mend.Errorf("in this zip, %s is damaged: save it again", name)
		}
		left -= int64(out.Len())
		return out.Bytes(), nil
	}
	if b.sheet, err = unfold("sheet.json", maxFile); err != nil {
		return b, err
	}
	text, err := unfold("pictures.json", maxFile)
	if err != nil {
		return b, err
	}
	var list PicturesFile
	if err := exchange.Decode(text, &list); err != nil {
		return b, fmt.Errorf("pictures.json: %w", err)
	}
	if list.Format != picturesFormat || list.Version != picturesVersion {
		return b, mend.Errorf("pictures.json is %s %d, not %s %d", list.Format, list.Version, picturesFormat, picturesVersion)
	}
	for _, p := range list.Pictures {
		data, err := unfold(p.File, maxPDF)
		if err != nil {
			return b, err
		}
		one, err := brought(p.Picture, data, "pictures.json")
		if err != nil {
			return b, mend.Errorf("in this zip, %s: %v", p.File, err)
		}
		b.pictures = append(b.pictures, one)
	}
	return b, nil
}

// sheetBundle gives a sheet with its pictures, but for those taken out.
func (s *Server) sheetBundle(w http.ResponseWriter, r *http.Request, x *store.Sheet) error {
	pictures, err := s.store.Pictures(r.Context(), x.ID)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	put := func(name string, method uint16, data []byte) error {
		f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: method})
		if err == nil {
			_, err = f.Write(data)
		}
		return err
	}
	list := PicturesFile{Format: picturesFormat, Version: picturesVersion, Pictures: []PictureFile{}}
	if err := put("sheet.json", zip.Deflate, x.Document.WriteJSON()); err != nil {
		return err
	}
	for _, p := range pictures {
		if p.Struck {
			continue
		}
		data, err := s.store.SheetPicture(r.Context(), x.ID, p.ID, false)
		if err != nil {
			return err
		}
		file := fmt.Sprintf("pictures/%d%s", len(list.Pictures)+1, map[string]string{pin.PDF: ".pdf", "image/png": ".png"}[p.Type])
		if path.Ext(file) == "" {
			file += ".jpg"
		}
		if err := put(file, zip.Store, data); err != nil { // packed already
			return err
		}
		list.Pictures = append(list.Pictures, PictureFile{p, file})
	}
	if err := put("pictures.json", zip.Deflate, exchange.Encode(list)); err != nil {
		return err
	}
	if err := z.Close(); err != nil {
		return err
	}
	attach(w, "application/zip", sheetName(x.Document)+".zip", out.Bytes())
	return nil
}
