// Package picture checks photographs that come from a phone or a file, and
// makes the small previews that lists show.
package picture

import (
	"bytes"
	"fmt"
	"image"
	_ "image/jpeg" // what a phone sends
	_ "image/png"

	"steptrace/core/mend"

	"github.com/kovidgoyal/imaging"
	_ "golang.org/x/image/webp"
)

const (
	// MaxBytes is the largest picture taken in; a phone's are 2 to 8 MB.
	MaxBytes = 16 << 20
	// maxPixels keeps a small file from unfolding into gigabytes.
	maxPixels = 60e6
	// previewSide is the longer side of a preview, in pixels.
	previewSide = 360
)

// Picture is a checked picture with its preview, a JPEG the right way up.
type Picture struct {
	Type          string // "image/jpeg"
	Width, Height int
	Data, Preview []byte
}

// Read checks a file and makes its preview. Errors are those a person can mend (mend.Error).
func Read(data []byte) (Picture, error) {
	c, kind, err := image.DecodeConfig(bytes.NewReader(data))
	switch {
	case len(data) == 0:
		return Picture{}, mend.Errorf("nothing arrived: choose the picture again")
	case err != nil:
		return Picture{}, mend.Errorf(
			"this is not a JPEG, PNG or WebP picture. A phone that keeps its photographs in another format can be set to save JPEG",
		)
	case c.Width <= 0 || c.Height <= 0 || float64(c.Width)*float64(c.Height) > maxPixels:
		return Picture{}, mend.Errorf("%d × %d pixels are more than can be kept: save it smaller", c.Width, c.Height)
	}
	// Only Go's own decoders: no other program is called on what comes from outside.
	whole, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(true), imaging.Backends(imaging.GO_IMAGE))
	if err != nil {
		return Picture{}, mend.Errorf("the picture breaks off or is damaged: send it again")
	}
	small := imaging.Fit(whole, previewSide, previewSide, imaging.Lanczos)
	var preview bytes.Buffer
	if err := imaging.Encode(&preview, small, imaging.JPEG, imaging.JPEGQuality(80)); err != nil {
		return Picture{}, fmt.Errorf("preview: %w", err)
	}
	return Picture{Type: "image/" + kind, Width: c.Width, Height: c.Height, Data: data, Preview: preview.Bytes()}, nil
}
