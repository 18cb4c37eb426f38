// Package picture checks photographs that come from a phone or a file, makes the small previews that lists
// show, and makes of a photograph of a board what is kept for its sheet: of a sensible size, the right
// way up, with nothing in it but the picture.
package picture

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"

	"steptrace/core/mend"

	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"
	_ "golang.org/x/image/webp"
)

const (
	// MaxBytes is the largest picture taken in; a phone's are 2 to 25 MB, at 50 megapixels.
	MaxBytes = 32 << 20
	// maxUnfolded keeps a small file from unfolding into gigabytes: 64 megapixels at four bytes each.
	maxUnfolded = 256e6
	// maxSide is the longer side of a panorama; what is longer is no photograph.
	maxSide = 40_000
	// previewSide is the longer side of a preview, in pixels.
	previewSide = 360
	// boardSide is the longer side of what is kept for a sheet: a board of 40 cm has 10 pixels to the
	// millimetre then, enough for the print on its smallest parts.
	boardSide = 4096
)

// Picture is a checked picture with its preview, a JPEG the right way up.
type Picture struct {
	Type          string // "image/jpeg"
	Width, Height int    // of Data, as it is stored
	Data, Preview []byte
}

// turns holds one picture at a time: one of 64 megapixels takes half a gigabyte while it is worked on.
var turns = make(chan struct{}, 1)

// opened is a picture unfolded, how it has to be turned to stand upright, and its kind.
type opened struct {
	image.Image
	way  int // EXIF orientation, 1 to 8
	kind string
}

// open checks a file and unfolds it. Only Go's own decoders: no other program is called on what comes from
// outside.
func open(data []byte) (opened, error) {
	c, kind, err := image.DecodeConfig(bytes.NewReader(data))
	switch {
	case len(data) == 0:
		return opened{}, mend.Errorf("nothing arrived: choose the picture again")
	case err != nil:
		return opened{}, mend.Errorf(
			"this is not a JPEG, PNG or WebP picture. A phone that keeps its photographs in another format can be set to save JPEG",
		)
	case c.Width <= 0 || c.Height <= 0 || float64(c.Width)*float64(c.Height)*bytesOf(c.ColorModel) > maxUnfolded ||
		max(c.Width, c.Height) > maxSide:
		return opened{}, mend.Errorf("%d × %d pixels are more than can be kept: save it smaller", c.Width, c.Height)
	}
	whole, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return opened{}, mend.Errorf("the picture breaks off or is damaged: send it again")
	}
	return opened{whole, orientation(data), kind}, nil
}

// bytesOf is how many bytes a pixel takes when it is unfolded.
func bytesOf(m color.Model) float64 {
	switch m {
	case color.RGBA64Model, color.NRGBA64Model:
		return 8
	case color.Gray16Model:
		return 2
	case color.GrayModel:
		return 1
	}
	return 4 // of JPEG and palettes less
}

// held274 is the tag that says how a camera was held.
const held274 = 274

// orientation reads how a camera was held: EXIF 2.3, tag 274 of its first directory, which is a TIFF's (TIFF 6.0, section 2). What
// cannot be read means upright. Nothing else of it is read: other tags claim sizes that nobody has.
func orientation(data []byte) int {
	tiff := exifOf(data)
	const head, entry = 8, 12
	if len(tiff) < head {
		return 1
	}
	var order binary.ByteOrder = binary.BigEndian
	switch string(tiff[:4]) {
	case "II*\x00":
		order = binary.LittleEndian
	case "MM\x00*":
	default:
		return 1
	}
	at := uint64(order.Uint32(tiff[4:]))
	if at+2 > uint64(len(tiff)) {
		return 1
	}
	entries := tiff[at+2:]
	for n := order.Uint16(tiff[at:]); n > 0 && len(entries) >= entry; n-- {
		if order.Uint16(entries) == held274 {
			if way := int(order.Uint16(entries[8:])); way >= 1 && way <= 8 {
				return way
			}
			return 1
		}
		entries = entries[entry:]
	}
	return 1
}

// exifOf is what a camera says in a JPEG: a segment among others that are not to be mistaken for it. Of other files it is the whole.
func exifOf(data []byte) []byte {
	const begins = "Exif\x00\x00"
	for at := 2; at+4 <= len(data) && data[0] == 0xff && data[1] == 0xd8 && data[at] == 0xff && data[at+1] != 0xda; {
		end := at + 2 + int(binary.BigEndian.Uint16(data[at+2:]))
		if data[at+1] == 0xe1 && end <= len(data) && end >= at+4 && bytes.HasPrefix(data[at+4:end], []byte(begins)) {
			return data[at+4+len(begins) : end]
		}
		at = max(end, at+2)
	}
	return data
}

// upright gives the picture the right way up, its longer side at most so many pixels: halved as often as it can be, which makes the mean
// of each four, brought to its size, and turned when it is small.
func (o opened) upright(most int) image.Image {
	m := o.Image
	scale := func(w, h float64) {
		small := image.NewRGBA(image.Rect(0, 0, max(1, int(w+0.5)), max(1, int(h+0.5))))
		draw.ApproxBiLinear.Scale(small, small.Bounds(), m, m.Bounds(), draw.Src, nil)
		m = small
	}
	w, h := m.Bounds().Dx(), m.Bounds().Dy()
	for ; max(w, h) >= 2*most; w, h = m.Bounds().Dx(), m.Bounds().Dy() {
		scale(float64(w)/2, float64(h)/2)
	}
	if k := float64(most) / float64(max(w, h)); k < 1 {
		scale(k*float64(w), k*float64(h))
	}
	if o.way == 1 {
		return m
	}
	w, h = m.Bounds().Dx(), m.Bounds().Dy()
	sw, sh := float64(w), float64(h)
	// Where x and y as stored go: EXIF 2.3, table of orientations.
	to := map[int]f64.Aff3{
		2: {-1, 0, sw, 0, 1, 0},
		3: {-1, 0, sw, 0, -1, sh},
		4: {1, 0, 0, 0, -1, sh},
		5: {0, 1, 0, 1, 0, 0},
		6: {0, -1, sh, 1, 0, 0},
		7: {0, -1, sh, -1, 0, sw},
		8: {0, 1, 0, -1, 0, sw},
	}[o.way]
	if o.way >= 5 {
		w, h = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	from := m.Bounds().Min
	to[2] -= to[0]*float64(from.X) + to[1]*float64(from.Y)
	to[5] -= to[3]*float64(from.X) + to[4]*float64(from.Y)
	draw.NearestNeighbor.Transform(out, to, m, m.Bounds(), draw.Src, nil)
	return out
}

func asJPEG(m image.Image, quality int) ([]byte, error) {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, &jpeg.Options{Quality: quality}); err != nil {
		return nil, fmt.Errorf("picture: %w", err)
	}
	return b.Bytes(), nil
}

// bare tells whether a file has nothing in it but a picture, as those have that are made here.
func bare(data []byte, kind string) bool {
	switch kind {
	case "jpeg":
		// ITU-T T.81, B.1.1: marker, length, what it says; the picture itself begins at SOS.
		for at := 2; at+4 <= len(data) && data[at] == 0xff; at += 2 + int(binary.BigEndian.Uint16(data[at+2:])) {
			switch m := data[at+1]; {
			case m == 0xda:
				return bytes.HasSuffix(data, []byte{0xff, 0xd9})
			case m >= 0xe0 && m <= 0xef || m == 0xfe:
				return false // what programs and cameras say besides
			}
		}
	case "png":
		// PNG, 5.3: length, type, data, check sum.
		for at := 8; at+12 <= len(data); at += 12 + int(binary.BigEndian.Uint32(data[at:])) {
			switch string(data[at+4 : at+8]) {
			case "IHDR", "PLTE", "IDAT", "tRNS":
			case "IEND":
				return at+12 == len(data)
			default:
				return false
			}
		}
	}
	return false
}

// Read checks a file, kept as it is but for what stands beside the picture (Bare), and makes its preview. Errors are those a
// person can mend (mend.Error).
func Read(data []byte) (Picture, error) {
	turns <- struct{}{}
	defer func() { <-turns }()
	o, err := open(data)
	if err != nil {
		return Picture{}, err
	}
	preview, err := asJPEG(o.upright(previewSide), 80)
	return Picture{Type: "image/" + o.kind, Width: o.Bounds().Dx(), Height: o.Bounds().Dy(), Data: Bare(data), Preview: preview}, err
}

// Board checks a file and makes of it what is kept for a sheet: upright, its longer side at most 4096
// pixels, a PNG where it was one (drawings have sharp lines) and a JPEG otherwise, without what the camera wrote
// beside it: where, when, with what. Errors are those a person can mend.
func Board(data []byte) (Picture, error) {
	turns <- struct{}{}
	defer func() { <-turns }()
	o, err := open(data)
	if err != nil {
		return Picture{}, err
	}
	m := o.upright(boardSide)
	p := Picture{Type: "image/jpeg", Width: m.Bounds().Dx(), Height: m.Bounds().Dy()}
	switch {
	case m == o.Image && bare(data, o.kind): // read back from a bundle it stays the same
		p.Type, p.Data = "image/"+o.kind, data
	case o.kind == "png":
		var b bytes.Buffer
		err = png.Encode(&b, m)
		p.Type, p.Data = "image/png", b.Bytes()
	default:
		p.Data, err = asJPEG(m, 88)
	}
	if err != nil {
		return Picture{}, err
	}
	p.Preview, err = asJPEG(opened{Image: m, way: 1}.upright(previewSide), 80)
	return p, err
}
