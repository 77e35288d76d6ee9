package edit_test

import (
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
	"notaria/internal/edit/source"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/platform/apple/xcode"
	"notaria/internal/platform/board/storage"
	"notaria/internal/platform/dotnet/msbuild"
	"notaria/internal/platform/flutter/pubspec"
	"notaria/internal/platform/reactnative/appjson"
)

// Entry is short for what these tests are full of.
type Entry = edit.Entry

// Every syntax is tested in the same ways, those of one platform among them.
var syntaxes = map[string]edit.Syntax{}

var (
	SyntaxPlist   = known(xmldoc.List{})
	SyntaxXML     = known(xmldoc.Elements{})
	SyntaxProject = known(pbx.Syntax{})
	SyntaxSource  = known(source.Lines{})
	SyntaxByHand  = known(edit.ByHand{})
	SyntaxPackage = known(xcode.Package{})
	SyntaxAddFont = known(msbuild.AddFont{})
	SyntaxPubspec = known(pubspec.Syntax{})
	SyntaxAppJSON = known(appjson.Syntax{})
	SyntaxStorage = known(storage.Syntax{})
)

func known(s edit.Syntax) string {
	syntaxes[s.Name()] = s
	return s.Name()
}

// Reconcile asks a syntax by its name.
func Reconcile(file, syntax string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	return syntaxes[syntax].Reconcile(edit.Document{File: file, Text: doc}, want, owned)
}

func array(key string) edit.Place { return edit.Place{Kind: xmldoc.KindArray, Name: key} }
func text(key string) edit.Place  { return edit.Place{Kind: xmldoc.KindString, Name: key} }

func parseProject(doc []byte) (*pbx.Project, error) {
	return pbx.Parse(edit.Document{File: projectFile, Text: doc})
}

// addAndBack is what fuzzers ask of any document: it is refused, or it holds what is
// added, a second time changes nothing, and what is taken off again leaves the bytes
// from before.
func addAndBack(t *testing.T, syntax string, doc []byte, want []Entry) {
	t.Helper()
	if want[0].Value == "" || !utf8.ValidString(want[0].Value) {
		return // an entry without a value stands for a container: nobody wants one; names are decoded text
	}
	file := want[0].File
	out, owned, err := Reconcile(file, syntax, doc, want, nil)
	if err != nil {
		return
	}
	again, owned2, err := Reconcile(file, syntax, out, want, owned)
	require.NoError(t, err, "%q", out)
	require.Equal(t, string(out), string(again), "a second time")
	require.Equal(t, owned, owned2)
	back, _, err := Reconcile(file, syntax, out, nil, owned)
	require.NoError(t, err, "%q", out)
	require.Equal(t, string(doc), string(back), "taken off again")
}
