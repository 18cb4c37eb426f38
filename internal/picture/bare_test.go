package picture

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"testing"
)

const secret = "51.5007N 0.1246W taken by somebody"

// segment is one of a JPEG (ITU-T T.81, B.1.1).
func segment(marker byte, says string) []byte {
	out := binary.BigEndian.AppendUint16([]byte{0xff, marker}, uint16(len(says)+2))
	return append(out, says...)
}

// said puts segments in front of all others of a JPEG, and something behind its end.
func said(data []byte, behind string, segments ...[]byte) []byte {
	out := append([]byte{}, data[:2]...)
	for _, s := range segments {
		out = append(out, s...)
	}
	return append(append(out, data[2:]...), behind...)
}

// What cameras write beside a picture goes, wherever it stands; the picture, its colours and how it was held stay.
func TestWhatCamerasWriteGoes(t *testing.T) {
	small := jpegOf(t, photo(32, 24))
	for way := uint16(1); way <= 8; way++ {
		data := said(turned(small, way), secret,
			segment(0xe0, "JFIF\x00\x01\x02\x00\x00\x01\x00\x01\x00\x00"), segment(0xe1, "http://ns.adobe.com/xap/1.0/\x00"+secret),
			segment(0xed, "Photoshop 3.0\x00"+secret), segment(0xfe, secret), segment(0xe2, "MPF\x00"+secret),
			segment(0xe2, "ICC_PROFILE\x00\x01\x01colours"), segment(0xe5, secret))
		got := Bare(data)
		if bytes.Contains(got, []byte(secret)) || !bytes.Contains(got, []byte("ICC_PROFILE\x00\x01\x01colours")) {
			t.Errorf("turned %d: %q", way, got[:min(len(got), 400)])
		}
		if o := orientation(got); o != int(way) {
			t.Errorf("it was held as %d, now as %d", way, o)
		}
		if again := Bare(got); !bytes.Equal(again, got) {
			t.Error("twice is not once")
		}
		alike(t, small, got)
	}
	withThumb := said(small, "", segment(0xe1, "Exif\x00\x00MM\x00*"+secret+string(small)))
	if got := Bare(withThumb); bytes.Contains(got, []byte(secret)) || !bytes.Equal(got, small) {
		t.Error("a picture within it is there still")
	}
}

func alike(t *testing.T, a, b []byte) {
	t.Helper()
	x, _, errX := image.Decode(bytes.NewReader(a))
	y, _, errY := image.Decode(bytes.NewReader(b))
	if errX != nil || errY != nil {
		t.Fatal(errX, errY)
	}
	for i := range x.Bounds().Dy() {
		for k := range x.Bounds().Dx() {
			if x.At(k, i) != y.At(k, i) {
				t.Fatalf("another picture at %d, %d", k, i)
			}
		}
	}
}

// Noise has bytes that look like markers within it; every size and quality comes back byte for byte where nothing stood beside it.
func TestThePictureStaysByteForByte(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 1))
	for n := range 60 {
		m := image.NewGray(image.Rect(0, 0, 1+r.IntN(90), 1+r.IntN(90)))
		for i := range m.Pix {
			m.Pix[i] = byte(r.Uint32())
		}
		var j, p bytes.Buffer
		if err := jpeg.Encode(&j, m, &jpeg.Options{Quality: 1 + r.IntN(100)}); err != nil {
			t.Fatal(err)
		}
		if err := png.Encode(&p, m); err != nil {
			t.Fatal(err)
		}
		for _, data := range [][]byte{j.Bytes(), p.Bytes()} {
			if !bytes.Equal(Bare(data), data) {
				t.Fatalf("picture %d came back as another", n)
			}
			if cut := data[:len(data)-1-r.IntN(len(data)/2)]; !bytes.Equal(Bare(cut), cut) {
				t.Fatalf("picture %d, cut off, came back as another", n)
			}
		}
	}
}

func TestPNGAndWebPSayNothingElse(t *testing.T) {
	var b bytes.Buffer
	if err := png.Encode(&b, photo(9, 7)); err != nil {
		t.Fatal(err)
	}
	plain := b.Bytes()
	chunk := func(kind, says string) []byte {
		out := binary.BigEndian.AppendUint32(nil, uint32(len(says)))
		out = append(append(out, kind...), says...)
		return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(out[4:]))
	}
	const head = 8 + 12 + 13 // signature and IHDR
	data := append([]byte{}, plain[:head]...)
	for _, kind := range []string{"tEXt", "iTXt", "zTXt", "eXIf", "tIME", "vpAg"} {
		data = append(data, chunk(kind, secret)...)
	}
	data = append(append(data, plain[head:]...), secret...)
	if got := Bare(data); !bytes.Equal(got, plain) {
		t.Errorf("%q", got)
	}
	riff := func(parts ...string) []byte {
		out := []byte("RIFF\x00\x00\x00\x00WEBP")
		for i := 0; i < len(parts); i += 2 {
			out = binary.LittleEndian.AppendUint32(append(out, parts[i]...), uint32(len(parts[i+1])))
			if out = append(out, parts[i+1]...); len(parts[i+1])%2 == 1 {
				out = append(out, 0)
			}
		}
		binary.LittleEndian.PutUint32(out[4:], uint32(len(out)-8))
		return out
	}
	webp := riff("VP8X", "\x2c\x00\x00\x00\x08\x00\x00\x06\x00\x00", "ICCP", "colours", "VP8L", "picture", "EXIF", secret, "XMP ", secret)
	want := riff("VP8X", "\x20\x00\x00\x00\x08\x00\x00\x06\x00\x00", "ICCP", "colours", "VP8L", "picture")
	if got := Bare(webp); !bytes.Equal(got, want) {
		t.Errorf("%q", got)
	}
}

func FuzzBare(f *testing.F) {
	f.Add([]byte("\xff\xd8\xff\xe1\x00\x04ab\xff\xda\x00\x02x\xff\xd9"))
	f.Add([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x00IEND\x00\x00\x00\x00"))
	f.Add([]byte("RIFF\x00\x00\x00\x00WEBPVP8X\x01\x00\x00\x00\xff\x00"))
	f.Fuzz(func(t *testing.T, data []byte) {
		once := Bare(data)
		if len(once) > len(data)+40 || !bytes.Equal(Bare(once), once) {
			t.Fatalf("%q, then %q", once, Bare(once))
		}
	})
}

// Whatever is sent as a picture: refused in words, or kept with a preview, bare.
func FuzzRead(f *testing.F) {
	small := image.NewRGBA(image.Rect(0, 0, 5, 4))
	var j, p bytes.Buffer
	if err := errors.Join(jpeg.Encode(&j, small, nil), png.Encode(&p, small)); err != nil {
		f.Fatal(err)
	}
	f.Add(j.Bytes())
	f.Add(turned(j.Bytes(), 6))
	f.Add(p.Bytes())
	f.Fuzz(func(t *testing.T, data []byte) {
		for _, read := range []func([]byte) (Picture, error){Read, Board} {
			got, err := read(data)
			if err == nil && (got.Width <= 0 || got.Height <= 0 || len(got.Preview) == 0 || len(got.Data) == 0) {
				t.Fatalf("%+v", got)
			}
		}
	})
}
