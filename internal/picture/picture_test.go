package picture

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"steptrace/core/mend"
)

// photo is a picture that is red on its left and blue on its right.
func photo(width, height int) image.Image {
	m := image.NewRGBA(image.Rect(0, 0, width, height))
	for y := range height {
		for x := range width {
			c := color.RGBA{200, 20, 20, 255}
			if x >= width/2 {
				c = color.RGBA{20, 20, 200, 255}
			}
			m.SetRGBA(x, y, c)
		}
	}
	return m
}

func asJPEG(t *testing.T, m image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// turned puts an EXIF segment with an orientation into a JPEG, as phones do.
func turned(data []byte, orientation uint16) []byte {
	tiff := []byte{'I', 'I', 42, 0, 8, 0, 0, 0, 1, 0, 0x12, 0x01, 3, 0, 1, 0, 0, 0}
	tiff = binary.LittleEndian.AppendUint16(tiff, orientation)
	tiff = append(tiff, 0, 0, 0, 0, 0, 0)
	segment := append([]byte("Exif\x00\x00"), tiff...)
	head := []byte{0xff, 0xd8, 0xff, 0xe1}
	head = binary.BigEndian.AppendUint16(head, uint16(len(segment)+2))
	return append(append(head, segment...), data[2:]...)
}

func TestPreviewIsSmallAndTheRightWayUp(t *testing.T) {
	for _, x := range []struct {
		name          string
		data          []byte
		width, height int
		kind          string
	}{
		{"landscape", asJPEG(t, photo(1200, 900)), 360, 270, "image/jpeg"},
		{"held upright", turned(asJPEG(t, photo(1200, 900)), 6), 270, 360, "image/jpeg"},
		{"small already", asJPEG(t, photo(100, 80)), 100, 80, "image/jpeg"},
	} {
		p, err := Read(x.data)
		if err != nil {
			t.Fatalf("%s: %v", x.name, err)
		}
		m, err := jpeg.Decode(bytes.NewReader(p.Preview))
		if err != nil || m.Bounds().Dx() != x.width || m.Bounds().Dy() != x.height || p.Type != x.kind || !bytes.Equal(p.Data, x.data) {
			t.Errorf("%s: %v, %v, %s", x.name, m.Bounds(), err, p.Type)
		}
		if x.name == "held upright" {
			// Turned by a quarter to the right, what was left is on top.
			if r, _, b, _ := m.At(135, 40).RGBA(); r < b {
				t.Error("the preview is upside down")
			}
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, photo(50, 50)); err != nil {
		t.Fatal(err)
	}
	if p, err := Read(b.Bytes()); err != nil || p.Type != "image/png" || p.Width != 50 {
		t.Errorf("PNG: %+v, %v", p.Type, err)
	}
}

func TestWhatIsNoPictureSaysWhy(t *testing.T) {
	whole := asJPEG(t, photo(400, 300))
	var huge bytes.Buffer
	if err := png.Encode(&huge, image.NewGray(image.Rect(0, 0, 1, 1))); err != nil {
		t.Fatal(err)
	}
	bomb := huge.Bytes()
	binary.BigEndian.PutUint32(bomb[16:], 60000) // width and height as the header claims them
	binary.BigEndian.PutUint32(bomb[20:], 60000)
	binary.BigEndian.PutUint32(bomb[29:], crc32.ChecksumIEEE(bomb[12:29]))
	for _, x := range []struct {
		name string
		data []byte
		says string
	}{
		{"nothing", nil, "nothing arrived"},
		{"text", []byte("point,stage,gain"), "not a JPEG"},
		{"page", []byte("<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"), "not a JPEG"},
		{"half", whole[:len(whole)/2], "breaks off"},
		{"header only", whole[:20], "not a JPEG"},
		{"claims 3600 megapixels", bomb, "60000"},
	} {
		var bad mend.Error
		if _, err := Read(x.data); !errors.As(err, &bad) || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%s: %v, want %q", x.name, err, x.says)
		}
	}
}
