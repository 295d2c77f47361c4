// Package fit writes files in the FIT format of watches.
package fit

import (
	"bytes"
	"encoding/binary"
	"time"
)

// File is a file in the FIT format: a header, definitions and data of messages in little-endian order, and the check sum.
// Message and field numbers, and base types, are the format's own, from memory; another library reads it back in the tests.
type File struct {
	body    bytes.Buffer
	defined map[uint16]byte // local number by message
}

// Field is one field of a message: its number, and its value as uint8, uint16, uint32, int32 or string.
type Field struct {
	Number byte
	Value  any
}

// Time is an instant as the format counts it: seconds since 31 December 1989.
func Time(t time.Time) uint32 { return uint32(t.Unix() - 631065600) }

// Add appends a message. One number of message always has the same fields in the same order, and strings the same length.
func (f *File) Add(message uint16, fields ...Field) {
	if f.defined == nil {
		f.defined = map[uint16]byte{}
	}
	local, known := f.defined[message]
	if !known {
		local = byte(len(f.defined))
		f.defined[message] = local
		f.body.Write([]byte{0x40 | local, 0, 0, byte(message), byte(message >> 8), byte(len(fields))})
		for _, x := range fields {
			size, base := typeOf(x.Value)
			f.body.Write([]byte{x.Number, size, base})
		}
	}
	f.body.WriteByte(local)
	for _, x := range fields {
		if s, is := x.Value.(string); is {
			f.body.WriteString(s)
			f.body.WriteByte(0)
			continue
		}
		_ = binary.Write(&f.body, binary.LittleEndian, x.Value) // into memory: it cannot fail
	}
}

func typeOf(v any) (size, base byte) {
	switch v := v.(type) {
	case uint8:
		return 1, 0x02
	case uint16:
		return 2, 0x84
	case uint32:
		return 4, 0x86
	case int32:
		return 4, 0x85
	case string:
		return byte(len(v) + 1), 0x07
	}
	panic("fit: no type of a FIT field")
}

// Bytes is the whole file.
func (f *File) Bytes() []byte {
	head := []byte{14, 0x20, 0x54, 0x08} // its length, protocol 2.0, profile 21.32
	head = binary.LittleEndian.AppendUint32(head, uint32(f.body.Len()))
	head = append(head, ".FIT"...)
	head = binary.LittleEndian.AppendUint16(head, checkSum(head))
	out := append(head, f.body.Bytes()...)
	return binary.LittleEndian.AppendUint16(out, checkSum(out))
}

// checkSum is the format's check sum: CRC-16 with the polynomial 0xA001, four bits at a time.
func checkSum(data []byte) (sum uint16) {
	for _, b := range data {
		for _, nibble := range [2]byte{b & 15, b >> 4} {
			low := sum & 15
			sum >>= 4
			for bit, x := 0, byte(low)^nibble; bit < 4; bit++ {
				if x>>bit&1 == 1 {
					sum ^= [4]uint16{0xCC01, 0xD801, 0xF001, 0xA001}[bit]
				}
			}
		}
	}
	return sum
}
