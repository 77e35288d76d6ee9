package headers

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/platform/web"
)

// A year in the cache is for names that change with the content. A name that only looks like it does not count.
func TestHashed(t *testing.T) {
	skerry := face.Face{PostScript: "SkerrySans-Bold", Full: "Skerry Sans Bold", Family: "Skerry Sans"}
	press := face.Face{PostScript: "PressStart2P", Full: "Press Start 2P", Family: "Press Start 2P"}
	for name, want := range map[string]bool{
		"SkerrySans-Bold-DxBe_2Lq.woff2": true, "SkerrySans-Bold.4f0c1d2e.woff2": true, "skerrysans-bold-C7uxYTbZ.woff2": true, "4f0c1d2e9ab01234-s.p.woff2": true, "media-B1xK29aQ.woff2": true,
		"SkerrySans-Bold.woff2": false, "SkerrySans-Bold-latin-ext.woff2": false, "SkerrySans-Bold-subset.woff2": false, "skerry.woff2": false, "SkerrySans-Bold-700.woff2": false,
		"20240101.woff2": false, "abcdefab.woff2": false, "version12345678.woff2": false,
	} {
		require.Equal(t, want, hashed(name, skerry), name)
	}
	require.False(t, hashed("PressStart2P.woff2", press))
	require.False(t, hashed("my-PressStart2P.woff2", press))
}

// Names of files are no part of a server's settings: what has a meaning there is written in another way.
func TestHostileNames(t *testing.T) {
	dir := t.TempDir()
	font := []byte("not read: no rule names it")
	name := "a \"b$host#;{}\\*:.woff2"
	require.NoError(t, os.WriteFile(filepath.Join(dir, name), font, 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "line\nend.woff2"), font, 0o600))
	page := `<link rel=preload as=font crossorigin href='a%20%22b%24host%23;%7B%7D%5C*%3A.woff2'>`
	require.NoError(t, os.WriteFile(filepath.Join(dir, "index.html"), []byte(page), 0o600))
	h, err := Collect(context.Background(), Wish{Folder: dir, Origin: "https://skerry.example:8443"}, nil, web.Platform{})
	require.NoError(t, err)
	require.Len(t, h.Fonts, 1)
	require.Equal(t, []string{name}, h.Fonts[0].Fonts)
	require.Equal(t, []Page{{"index.html", []string{name}}}, h.Pages)
	for _, form := range Forms {
		text, err := h.Write(form)
		require.NoError(t, err)
		require.Contains(t, strings.ReplaceAll(string(text), "%%", "%"), `</a%20%22b%24host%23%3B%7B%7D%5C%2A%3A.woff2>`, form)
		require.NotContains(t, strings.ReplaceAll(string(text), "$uri", ""), "$host", form)
	}
	_, err = h.Write("scroll")
	require.ErrorContains(t, err, `expected one of static-host, nginx, apache, found "scroll"`)
	for _, bad := range []string{"skerry.example", "https://skerry.example/", "*", "https://a\nb", "null"} {
		_, err := Collect(context.Background(), Wish{Folder: dir, Origin: bad}, nil, web.Platform{})
		require.ErrorContains(t, err, "expected an origin such as https://skerry.example for --pages-at", bad)
	}
}
