package web

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"path"
	"sort"
	"strings"

	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/lazy"
)

// The maps that bundlers write, from a place of what was built to one of its source (ECMA-426, Source map format).

var mapAddress = lazy.Regexp(`/\*[#@]\s*sourceMappingURL=([^*\s]+)\s*\*/\s*$`)

// mostMap is how large a map may be, in bytes.
const mostMap = 16 << 20

// A segment says that from a column of a line on, text is that of a source's line; all count from 0.
type segment struct{ column, source, line int }

// mapped returns what says where a place of a style sheet comes from, as words; "" where no map says it.
func (o *output) mapped(sheet string, raw []byte) func(at int) string {
	none := func(int) string { return "" }
	m := mapAddress.FindSubmatch(raw[max(0, len(raw)-mostMap):])
	if m == nil {
		return none
	}
	text, ok := o.mapText(sheet, string(m[1]))
	if !ok {
		return none
	}
	var doc struct {
		Root     string   `json:"sourceRoot"`
		Sources  []string `json:"sources"`
		Mappings string   `json:"mappings"`
	}
	if json.Unmarshal(text, &doc) != nil {
		return none
	}
	lines, number := segments(doc.Mappings, len(doc.Sources)), splice.Liner(raw)
	return func(at int) string {
		line := number(at) - 1
		if line >= len(lines) {
			return ""
		}
		column := at - (bytes.LastIndexByte(raw[:at], '\n') + 1)
		next := sort.Search(len(lines[line]), func(i int) bool { return lines[line][i].column > column })
		if next == 0 {
			return ""
		}
		s := lines[line][next-1]
		return fmt.Sprintf(" (from %s:%d)", face.Short(strings.TrimPrefix(path.Join(doc.Root, doc.Sources[s.source]), "/")), s.line+1)
	}
}

// mapText is a map that stands beside its sheet, or in it.
func (o *output) mapText(sheet, address string) ([]byte, bool) {
	if data, ok := strings.CutPrefix(address, "data:"); ok {
		_, packed, _ := strings.Cut(data, "base64,")
		text, err := base64.StdEncoding.DecodeString(packed)
		return text, err == nil && len(text) > 0
	}
	file, known := o.find(sheet, address)
	if !known || file == "" {
		return nil, false
	}
	return o.Read(file, mostMap)
}

// segments reads mappings: lines are parted by semicolons, segments by commas; each number is the difference to the one before
// (VLQ in base 64). Segments without a source are left out; what is wrong ends the reading.
func segments(mappings string, sources int) [][]segment {
	var out [][]segment
	source, line, from := 0, 0, 0
	for _, text := range strings.Split(mappings, ";") {
		column := 0
		var list []segment
		for _, part := range strings.Split(text, ",") {
			if part == "" {
				continue
			}
			numbers, ok := vlq(part)
			if !ok {
				return out
			}
			column += numbers[0]
			if len(numbers) < 4 {
				continue
			}
			source, line, from = source+numbers[1], line+numbers[2], from+numbers[3]
			if source < 0 || source >= sources || line < 0 || column < 0 {
				return out
			}
			list = append(list, segment{column, source, line})
		}
		out = append(out, list)
	}
	return out
}

const digits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/"

// vlq reads numbers of five bits a digit, the lowest first, the sign in the lowest bit of all.
func vlq(text string) ([]int, bool) {
	var out []int
	value, shift := 0, 0
	for i := range len(text) {
		d := strings.IndexByte(digits, text[i])
		if d < 0 || shift > 30 {
			return nil, false
		}
		value |= d & 31 << shift
		if shift += 5; d&32 != 0 {
			continue
		}
		n := value >> 1
		if value&1 != 0 {
			n = -n
		}
		out = append(out, n)
		value, shift = 0, 0
	}
	return out, len(out) > 0 && shift == 0
}
