package picture

import (
	"bytes"
	"encoding/binary"
)

// Bare gives a picture without what cameras and programs write beside it: where and when it was taken, by whom, with what, smaller
// pictures of it, films. The picture itself stays as it came, byte for byte; how the camera was held, and its colours, stay too. What is
// none of the kinds known here, or cannot be followed, comes back as it is.
func Bare(data []byte) []byte {
	switch {
	case bytes.HasPrefix(data, []byte{0xff, 0xd8}):
		return bareJPEG(data)
	case bytes.HasPrefix(data, []byte("\x89PNG\r\n\x1a\n")):
		return barePNG(data)
	case len(data) >= 12 && string(data[:4]) == "RIFF" && string(data[8:12]) == "WEBP":
		return bareWebP(data)
	}
	return data
}

// held is a segment (EXIF 2.3: a TIFF of one tag, 274) that says how the camera was held, and nothing else.
func held(way int) []byte {
	out := []byte{0xff, 0xe1, 0, 34}
	out = append(out, "Exif\x00\x00MM\x00*\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00"...)
	return append(out, byte(way), 0, 0, 0, 0, 0, 0)
}

// bareJPEG goes from marker to marker (ITU-T T.81, B.1.1).
func bareJPEG(data []byte) []byte {
	out := append(make([]byte, 0, len(data)), data[:2]...)
	if way := orientation(data); way != 1 {
		out = append(out, held(way)...)
	}
	for at := 2; at+2 <= len(data) && data[at] == 0xff; {
		m := data[at+1]
		if m == 0xff { // fill
			at++
			continue
		}
		if m == 0xd9 {
			return append(out, 0xff, 0xd9) // what stands behind the end is no part of the picture
		}
		if at+4 > len(data) {
			break
		}
		end := at + 2 + int(binary.BigEndian.Uint16(data[at+2:]))
		if end > len(data) || end < at+4 { // a length counts itself
			return data
		}
		if m == 0xda { // the picture's own data, up to a marker that is neither a stuffed zero nor a restart
			for end+1 < len(data) && (data[end] != 0xff || data[end+1] == 0 || data[end+1] >= 0xd0 && data[end+1] <= 0xd7) {
				end++
			}
		}
		if keeps(m, data[at+4:end]) {
			out = append(out, data[at:end]...)
		}
		at = end
	}
	return data // it has no end
}

// keeps tells whether a segment belongs to the picture: its tables and data, and of what stands beside them the shape of its pixels
// (JFIF), its colours (a profile, ICC.1 annex B.4) and how they are mixed (APP14).
func keeps(marker byte, says []byte) bool {
	switch {
	case marker == 0xe0:
		return bytes.HasPrefix(says, []byte("JFIF\x00"))
	case marker == 0xe2:
		return bytes.HasPrefix(says, []byte("ICC_PROFILE\x00"))
	case marker == 0xee:
		return bytes.HasPrefix(says, []byte("Adobe"))
	}
	return !(marker >= 0xe0 && marker <= 0xef || marker == 0xfe)
}

// standard are the chunks of a PNG (third edition, 11) that belong to the picture: neither its texts, its time nor what a camera says.
var standard = map[string]bool{
	"IHDR": true, "PLTE": true, "IDAT": true, "IEND": true, "tRNS": true, "cHRM": true, "gAMA": true, "iCCP": true, "sBIT": true,
	"sRGB": true, "cICP": true, "bKGD": true, "hIST": true, "pHYs": true, "sPLT": true,
}

// barePNG goes from chunk to chunk: length, type, data, check sum.
func barePNG(data []byte) []byte {
	out := append(make([]byte, 0, len(data)), data[:8]...)
	for at := 8; at+12 <= len(data); {
		n := int(binary.BigEndian.Uint32(data[at:]))
		end := at + 12 + n
		if n < 0 || end > len(data) {
			return data
		}
		kind := string(data[at+4 : at+8])
		if standard[kind] {
			out = append(out, data[at:end]...)
		}
		if kind == "IEND" {
			return out
		}
		at = end
	}
	return data
}

// bareWebP goes from chunk to chunk (RFC 9649): type, length (little end first), data, filled up to an even length.
func bareWebP(data []byte) []byte {
	out := append(make([]byte, 0, len(data)), data[:12]...)
	for at := 12; at+8 <= len(data); {
		n := int(binary.LittleEndian.Uint32(data[at+4:]))
		end := at + 8 + n + n%2
		if n < 0 || at+8+n > len(data) {
			return data
		}
		end = min(end, len(data))
		switch kind := string(data[at : at+4]); kind {
		case "VP8X":
			at0 := len(out)
			out = append(out, data[at:end]...)
			const hasExif, hasXMP = 0x08, 0x04
			if n > 0 {
				out[at0+8] &^= hasExif | hasXMP
			}
		case "VP8 ", "VP8L", "ALPH", "ICCP", "ANIM", "ANMF":
			out = append(out, data[at:end]...)
		}
		at = end
	}
	binary.LittleEndian.PutUint32(out[4:], uint32(len(out)-8))
	return out
}
