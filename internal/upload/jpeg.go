package upload

import (
	"bytes"
	"encoding/binary"
	"io"
)

// jpegFacts are what the head of a JPEG file says of how it is decoded and shown.
type jpegFacts struct {
	way         int     // how a camera held the picture (Exif tag 0x0112), from 1 to 8
	samples     float64 // of all components, for each pixel
	components  int
	progressive bool
}

// Segments and directory entries beyond these are passed over: no camera writes
// so many before the picture begins.
const (
	mostSegments = 200
	mostEntries  = 500
)

// scanJPEG reads the segments before the picture (ITU-T T.81, annex B). It reads
// each once and in their order, whatever they say of each other.
func scanJPEG(in io.ReadSeeker) (jpegFacts, bool) {
	facts := jpegFacts{way: 1}
	var head [4]byte
	if _, err := io.ReadFull(in, head[:2]); err != nil || head[0] != 0xff || head[1] != 0xd8 {
		return facts, false
	}
	for range mostSegments {
		if _, err := io.ReadFull(in, head[:]); err != nil || head[0] != 0xff {
			return facts, false
		}
		marker, length := head[1], int(binary.BigEndian.Uint16(head[2:]))-2
		if length < 0 {
			return facts, false
		}
		frame := marker >= 0xc0 && marker <= 0xcf && marker != 0xc4 && marker != 0xc8 && marker != 0xcc
		if !frame && marker != 0xe1 {
			if _, err := in.Seek(int64(length), io.SeekCurrent); err != nil {
				return facts, false
			}
			continue
		}
		segment := make([]byte, length) // 65 533 bytes at most
		if _, err := io.ReadFull(in, segment); err != nil {
			return facts, false
		}
		if frame {
			return facts, facts.frame(marker, segment)
		}
		if exif, ok := bytes.CutPrefix(segment, []byte("Exif\x00\x00")); ok {
			facts.way = orientation(exif)
		}
	}
	return facts, false
}

// frame reads a frame header: how many samples each component has.
func (f *jpegFacts) frame(marker byte, s []byte) bool {
	if len(s) < 6 || len(s) < 6+3*int(s[5]) {
		return false
	}
	f.progressive = marker == 0xc2 || marker == 0xc6 || marker == 0xca || marker == 0xce
	f.components = int(s[5])
	var sum, wide, high int
	for i := range f.components {
		h, v := int(s[7+3*i]>>4), int(s[7+3*i]&15)
		sum += h * v
		wide, high = max(wide, h), max(high, v)
	}
	if wide == 0 || high == 0 {
		return false
	}
	f.samples = float64(sum) / float64(wide*high)
	return true
}

// orientation finds the one tag in the first directory of an Exif block (a TIFF
// file, TIFF 6.0, section 2), 1 when it is not there. It follows no pointer to
// another directory.
func orientation(tiff []byte) int {
	if len(tiff) < 8 {
		return 1
	}
	var order binary.ByteOrder = binary.BigEndian
	if tiff[0] == 'I' {
		order = binary.LittleEndian
	}
	at := int64(order.Uint32(tiff[4:]))
	if at < 8 || at+2 > int64(len(tiff)) {
		return 1
	}
	entries := tiff[at+2:]
	for i := range min(int(order.Uint16(tiff[at:])), mostEntries, len(entries)/12) {
		e := entries[12*i:]
		if order.Uint16(e) != 0x0112 {
			continue
		}
		const short = 3
		if way := int(order.Uint16(e[8:])); order.Uint16(e[2:]) == short && way >= 1 && way <= 8 {
			return way
		}
		return 1
	}
	return 1
}
