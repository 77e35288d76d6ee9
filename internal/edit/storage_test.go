package edit_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/platform/board/storage"
)

var modules = []Entry{storage.File("metadata.json", "app_type", "app_type.js")}

// The list of an app's files gets ours and loses it again, in any layout.
func TestStorageThereAndBack(t *testing.T) {
	for _, doc := range []string{
		"{\n  \"storage\": [\n    {\"name\": \"a.app.js\", \"url\": \"app.js\"}\n  ]\n}\n",
		"{ \"id\" : \"a\",\n  \"storage\": [ {\"name\":\"a.app.js\",\"url\":\"app.js\"},\n    {\"name\":\"a.img\",\"url\":\"app-icon.js\",\"evaluate\":true} ],\n  \"data\": [] }",
		"{\"storage\": []}", "{\r\n\t\"storage\": [\r\n\t]\r\n}\r\n",
	} {
		thereAndBack(t, SyntaxStorage, []byte(doc), modules, func(out []byte) { require.Contains(t, string(out), `{"name": "app_type", "url": "app_type.js"}`) })
	}
}

func TestStorageOfOthers(t *testing.T) {
	theirs := []byte(`{"storage": [{"name": "app_type", "url": "app_type.js"}]}`)
	out, mine, err := Reconcile("metadata.json", SyntaxStorage, theirs, modules, nil)
	require.NoError(t, err)
	require.Empty(t, mine)
	require.Equal(t, theirs, out)
	for text, want := range map[string]string{
		`{"storage": [{"name": "app_type", "url": "mine.js"}]}`: `metadata.json:1: expected no other file called "app_type" in storage, found "mine.js"`,
		`{"id": "a"}`: `expected a list "storage", found none`,
		`{`:           "metadata.json:1: ",
	} {
		_, _, err := Reconcile("metadata.json", SyntaxStorage, []byte(text), modules, nil)
		require.ErrorContains(t, err, want)
	}
}

func FuzzStorage(f *testing.F) {
	f.Add([]byte("{\n  \"storage\": [\n    {\"name\": \"a.app.js\", \"url\": \"app.js\"}\n  ]\n}\n"))
	f.Add([]byte(`{"storage": []}`))
	f.Fuzz(func(t *testing.T, doc []byte) { addAndBack(t, SyntaxStorage, doc, modules) })
}
