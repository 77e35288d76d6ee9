package tokens

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestMerge(t *testing.T) {
	line := 40.0
	roles := []Role{{Name: "body", Families: []string{"Skerry Sans"}, Face: "SkerrySans-Regular", Weight: 400, Size: 16, OwnLine: 1.2, Colour: "#0B3D5C"},
		{Name: "heading", Families: []string{"Skerry Sans"}, Face: "SkerrySans-Bold", Weight: 700, Size: 32, LineHeight: &line}}
	theirs := "{\r\n\t\"space\": {\"small\": {\"$type\": \"dimension\", \"$value\": {\"value\": 4,   \"unit\": \"px\"}}},\r\n" +
		"\t\"typography\": {\r\n\t\t\"heading\": {\"$description\": \"for signs\", \"$value\": {\"fontFamily\": \"Quay\"}, \"$type\": \"typography\"},\r\n\t\t\"quay\": {\"$value\":  1}\r\n\t}\r\n}\r\n"
	text, err := Merge("a.json", []byte(theirs), roles)
	require.NoError(t, err)
	for _, kept := range []string{"\"space\": {\"small\": {\"$type\": \"dimension\", \"$value\": {\"value\": 4,   \"unit\": \"px\"}}},\r\n", `"heading": {"$description": "for signs", "$value": {`, `}, "$type": "typography"},`, `"quay": {"$value":  1}`} {
		require.Contains(t, string(text), kept)
	}
	require.NotContains(t, strings.ReplaceAll(string(text), "\r\n", ""), "\n")
	read, _, err := Read(text)
	require.NoError(t, err)
	require.Len(t, read, 2)
	require.Equal(t, []any{"SkerrySans-Regular", 16.0, "#0b3d5c"}, []any{read[0].Face, read[0].Size, strings.ToLower(read[0].Colour)})
	require.Equal(t, 32.0, read[1].Size)
	again, err := Merge("a.json", text, roles)
	require.NoError(t, err)
	require.Equal(t, string(text), string(again), "nothing to do")

	// What is no more goes, and nothing else.
	roles[0].Colour = ""
	less, err := Merge("a.json", text, roles[1:])
	require.NoError(t, err)
	require.NotContains(t, string(less), "body")
	require.Contains(t, string(less), `"quay": {"$value":  1}`)

	whole, err := Write(roles)
	require.NoError(t, err)
	same, err := Merge("a.json", whole, roles)
	require.NoError(t, err)
	require.Equal(t, string(whole), string(same))
	for _, other := range []string{`{"name": "x", "version": "1"}`, `[]`, `3`, `{`, `{"typography": {"$value": 1}}`} {
		_, err = Merge("package.json", []byte(other), roles)
		require.Error(t, err, other)
	}
	if text, err = Merge("a.json", []byte("{}"), roles); err != nil || !strings.Contains(string(text), "heading") {
		t.Fatal(string(text), err)
	}
}

func FuzzMerge(f *testing.F) {
	f.Add(`{"typography": {"a": {"$value": 1, "$extensions": {"notaria": {}}}, "b": {"$value": {}}}, "colour": []}`)
	f.Fuzz(func(t *testing.T, old string) {
		roles := []Role{{Name: "a", Families: []string{"A"}, Size: 1, Colour: "#000000"}}
		text, err := Merge("a", []byte(old), roles)
		if err != nil {
			return
		}
		again, err := Merge("a", text, roles)
		require.NoError(t, err)
		require.Equal(t, string(text), string(again))
	})
}

// A token that Notaria wrote keeps what others said of it afterwards.
func TestMergeKeepsWhatOthersSay(t *testing.T) {
	roles := []Role{{Name: "body", Families: []string{"Skerry Sans"}, Face: "SkerrySans-Regular", Weight: 400, Size: 17}}
	first, err := Write(roles)
	require.NoError(t, err)
	marked := strings.Replace(string(first), `"body": {`, `"body": {"$deprecated": "use text", "$description": "for all text",`, 1)
	marked = strings.Replace(marked, `"$extensions": {`, `"$extensions": {"com.example.tool": {"id": 7},`, 1)
	require.NotEqual(t, string(first), marked)
	roles[0].Size, roles[0].Face = 18, "SkerrySans-Bold"
	again, err := Merge("a.json", []byte(marked), roles)
	require.NoError(t, err)
	for _, want := range []string{`"$deprecated": "use text"`, `"$description": "for all text"`, `"com.example.tool": {"id": 7}`, `"value": 18`, `"face": "SkerrySans-Bold"`} {
		require.Contains(t, string(again), want)
	}
	require.NotContains(t, string(again), "SkerrySans-Regular")
}
