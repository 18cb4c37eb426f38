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

func jpegOf(t *testing.T, m image.Image) []byte {
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
		{"landscape", jpegOf(t, photo(1200, 900)), 360, 270, "image/jpeg"},
		{"held upright", turned(jpegOf(t, photo(1200, 900)), 6), 270, 360, "image/jpeg"},
		{"small already", jpegOf(t, photo(100, 80)), 100, 80, "image/jpeg"},
	} {
		p, err := Read(x.data)
		if err != nil {
			t.Fatalf("%s: %v", x.name, err)
		}
		m, err := jpeg.Decode(bytes.NewReader(p.Preview))
		if err != nil || m.Bounds().Dx() != x.width || m.Bounds().Dy() != x.height || p.Type != x.kind ||
			!bytes.Equal(p.Data, Bare(x.data)) {
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
	whole := jpegOf(t, photo(400, 300))
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

// Every way a camera can be held gives the same upright picture: red on the left, and on top the marker.
func TestABoardIsUprightSmallAndBare(t *testing.T) {
	scene := image.NewRGBA(image.Rect(0, 0, 120, 80))
	for y := range 80 {
		for x := range 120 {
			c := color.RGBA{20, 20, 200, 255}
			if x < 60 {
				c.R, c.B = 200, 20
			}
			if y < 40 {
				c.G = 180
			}
			scene.SetRGBA(x, y, c)
		}
	}
	// How each orientation stores it: where the pixel at x, y of the upright picture stands in the file.
	stored := map[uint16]func(x, y int) (int, int){
		1: func(x, y int) (int, int) { return x, y },
		2: func(x, y int) (int, int) { return 119 - x, y },
		3: func(x, y int) (int, int) { return 119 - x, 79 - y },
		4: func(x, y int) (int, int) { return x, 79 - y },
		5: func(x, y int) (int, int) { return y, x },
		6: func(x, y int) (int, int) { return y, 119 - x },
		7: func(x, y int) (int, int) { return 79 - y, 119 - x },
		8: func(x, y int) (int, int) { return 79 - y, x },
	}
	for way, at := range stored {
		size := image.Rect(0, 0, 120, 80)
		if way >= 5 {
			size = image.Rect(0, 0, 80, 120)
		}
		held := image.NewRGBA(size)
		for y := range 80 {
			for x := range 120 {
				i, j := at(x, y)
				held.Set(i, j, scene.At(x, y))
			}
		}
		p, err := Board(turned(jpegOf(t, held), way))
		if err != nil || p.Width != 120 || p.Height != 80 || p.Type != "image/jpeg" || bytes.Contains(p.Data, []byte("Exif")) {
			t.Fatalf("held way %d: %v, %d × %d %s", way, err, p.Width, p.Height, p.Type)
		}
		m, err := jpeg.Decode(bytes.NewReader(p.Data))
		if err != nil {
			t.Fatal(err)
		}
		for _, at := range []image.Point{{20, 15}, {100, 15}, {20, 65}, {100, 65}} {
			r, g, b, _ := m.At(at.X, at.Y).RGBA()
			wr, wg, wb, _ := scene.At(at.X, at.Y).RGBA()
			if (r > b) != (wr > wb) || (g > 0x6000) != (wg > 0x6000) {
				t.Errorf("held way %d, at %v: %x %x %x", way, at, r, g, b)
			}
		}
	}
	first, err := Board(turned(jpegOf(t, scene), 6))
	if err != nil {
		t.Fatal(err)
	}
	if again, err := Board(first.Data); err != nil || !bytes.Equal(again.Data, first.Data) {
		t.Errorf("taken in again it is another: %v", err)
	}
	if hidden, err := Board(append(jpegOf(t, scene), "51.5 N"...)); err != nil || bytes.Contains(hidden.Data, []byte("51.5")) {
		t.Errorf("what hangs behind is kept: %v", err)
	}
	large, err := Board(jpegOf(t, photo(6000, 3000)))
	if err != nil || large.Width != 4096 || large.Height != 2048 {
		t.Errorf("large: %d × %d, %v", large.Width, large.Height, err)
	}
	one, err := Board(jpegOf(t, photo(1, 1)))
	if err != nil || one.Width != 1 || one.Height != 1 {
		t.Errorf("one pixel: %d × %d, %v", one.Width, one.Height, err)
	}
	var b bytes.Buffer
	if err := png.Encode(&b, photo(50, 40)); err != nil {
		t.Fatal(err)
	}
	if p, err := Board(b.Bytes()); err != nil || p.Type != "image/png" || !bytes.Equal(p.Data, b.Bytes()) {
		t.Errorf("PNG: %s, %v", p.Type, err)
	}
}

// A phone's largest photograph: 50 megapixels.
func BenchmarkBoard(b *testing.B) {
	var large bytes.Buffer
	if err := jpeg.Encode(&large, photo(8192, 6144), nil); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := Board(large.Bytes()); err != nil {
			b.Fatal(err)
		}
	}
}
