package uploads

import "encoding/binary"

const upright = 1

// orientation returns how a camera was held as it took a JPEG (CIPA DC-008, tag 0x0112), from 1 to 8; 1, upright, where it is not
// said, or not said well.
func orientation(data []byte) int {
	for at := 2; at+4 <= len(data) && data[at] == 0xff; {
		marker, size := data[at+1], int(binary.BigEndian.Uint16(data[at+2:]))
		if size < 2 || at+2+size > len(data) || marker == 0xda {
			return upright
		}
		segment := data[at+4 : at+2+size]
		if marker == 0xe1 && len(segment) > 14 && string(segment[:6]) == "Exif\x00\x00" {
			return tagged(segment[6:])
		}
		at += 2 + size
	}
	return upright
}

// tagged returns the orientation that a TIFF header and its first directory say.
func tagged(tiff []byte) int {
	var order binary.ByteOrder = binary.BigEndian
	switch string(tiff[:2]) {
	case "II":
		order = binary.LittleEndian
	case "MM":
	default:
		return upright
	}
	const entry = 12
	at := int(order.Uint32(tiff[4:]))
	if at < 8 || at+2 > len(tiff) {
		return upright
	}
	entries := int(order.Uint16(tiff[at:]))
	for i := range entries {
		from := at + 2 + i*entry
		if from+entry > len(tiff) {
			return upright
		}
		if order.Uint16(tiff[from:]) == 0x0112 {
			return int(order.Uint16(tiff[from+8:]))
		}
	}
	return upright
}
