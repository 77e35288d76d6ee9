package intake

import (
	"context"
	"encoding/binary"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry/letters"
)

// collected puts fonts into one collection (OpenType, Font Collections): a directory for each, whose tables are further down.
func collected(fonts ...[]byte) []byte {
	out := append([]byte("ttcf"), 0, 1, 0, 0, 0, 0, 0, byte(len(fonts)))
	at := len(out) + 4*len(fonts)
	for _, f := range fonts {
		out = binary.BigEndian.AppendUint32(out, uint32(at))
		at += len(f)
	}
	for _, f := range fonts {
		begin := len(out)
		out = append(out, f...)
		for i := range int(binary.BigEndian.Uint16(f[4:])) {
			offset := out[begin+12+16*i+8:]
			binary.BigEndian.PutUint32(offset, binary.BigEndian.Uint32(offset)+uint32(begin))
		}
	}
	return out
}

// One face of a collection is named behind the file.
func TestFaceOfCollection(t *testing.T) {
	regular, err := letters.Font(letters.Styles[1])
	require.NoError(t, err)
	mono, err := letters.Beacon()
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "all.ttc")
	require.NoError(t, os.WriteFile(file, collected(regular, mono), 0o644))

	both, err := Gather(context.Background(), []string{file}, Options{})
	require.NoError(t, err)
	require.Len(t, both.Faces, 2)
	one, err := Gather(context.Background(), []string{file + "#BeaconMono-Regular"}, Options{})
	require.NoError(t, err)
	require.Len(t, one.Faces, 1)
	require.Empty(t, one.Problems)
	require.Equal(t, "BeaconMono-Regular", one.Faces[0].PostScript)
	data, err := one.Faces[0].Plain()
	require.NoError(t, err)
	require.NotEmpty(t, data)
	none, err := Gather(context.Background(), []string{file + "#Beacon"}, Options{})
	require.NoError(t, err)
	require.Len(t, none.Problems, 1)
	require.Contains(t, none.Problems[0].Message, `expected a face "Beacon", found SkerrySans-Regular, BeaconMono-Regular`)

	for path, want := range map[string]string{file: "", file + "#": "", "nowhere#x": "", "#x": "", file + "#a#b": ""} {
		_, name := FaceOf(path)
		require.Equal(t, want, name, path)
	}
	odd := filepath.Join(filepath.Dir(file), "c#sharp.ttf")
	require.NoError(t, os.WriteFile(odd, regular, 0o644))
	_, name := FaceOf(odd)
	require.Empty(t, name, "the file is called so")
}
