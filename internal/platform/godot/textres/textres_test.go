package textres

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
)

func doc(text string) edit.Document { return edit.Document{File: "project.godot", Text: []byte(text)} }

func TestParse(t *testing.T) {
	tags, err := Parse(doc("\ufeff; c\na=1 ; d\r\n[node name=\"A [b]\" groups=[\"x\", \"y\"] instance=ExtResource( 1 )]\r\ntext = \"two\nlines; [no]\"\r\nlist = [ 1, ; e\n2 ]\n\"odd key\"=3"))
	require.NoError(t, err)
	require.Len(t, tags, 2)
	require.Equal(t, "1", tags[0].Values[0].Text)
	require.Equal(t, "A [b]", tags[1].Attribute("name"))
	require.Equal(t, `["x", "y"]`, tags[1].Attribute("groups"))
	require.Equal(t, "ExtResource( 1 )", tags[1].Attribute("instance"))
	for name, want := range map[string]string{"text": "\"two\nlines; [no]\"", "list": "[ 1, ; e\n2 ]", `"odd key"`: "3"} {
		v, ok := tags[1].Value(name)
		require.True(t, ok, name)
		require.Equal(t, want, v.Text)
	}
	for text, want := range map[string]string{"a=\"open\n": "whose strings and brackets end", "\nno value\n": "name = value", "[open\n": "a heading that ends", "a=1)\n": "whose strings and brackets end"} {
		_, err := Parse(doc(text))
		require.ErrorContains(t, err, want)
	}
}

var wanted = []edit.Entry{
	{File: "project.godot", Syntax: "godot-settings", Place: Key("autoload", "AppType"), Value: `"*res://a.gd"`},
	{File: "project.godot", Syntax: "godot-settings", Place: Key("gui", "theme/custom"), Value: `"res://t.tres"`},
}

func TestSettings(t *testing.T) {
	tests := []struct{ name, before, after string }{
		{"empty", "", "\n[autoload]\n\nAppType=\"*res://a.gd\"\n\n[gui]\n\ntheme/custom=\"res://t.tres\"\n"},
		{"between", "config_version=5\n\n[application]\n\na=1\n\n[display]\n\nb=2\n\n[rendering]\n\nc=3\n",
			"config_version=5\n\n[application]\n\na=1\n\n[autoload]\n\nAppType=\"*res://a.gd\"\n\n[display]\n\nb=2\n\n[gui]\n\ntheme/custom=\"res://t.tres\"\n\n[rendering]\n\nc=3\n"},
		{"in sections", "[autoload]\n\nMine=\"*res://m.gd\"\n\n[gui]\n\n[input]\nx={ \"a\": [\n1 ]\n}\n", "[autoload]\n\nMine=\"*res://m.gd\"\nAppType=\"*res://a.gd\"\n\n[gui]\n\ntheme/custom=\"res://t.tres\"\n[input]\nx={ \"a\": [\n1 ]\n}\n"},
		{"open end, of Windows", "a=1\r\n[autoload]\r\nb=2", "a=1\r\n[autoload]\r\nb=2\r\nAppType=\"*res://a.gd\"\r\n\r\n[gui]\r\n\r\ntheme/custom=\"res://t.tres\""},
		{"there already", "[autoload]\nAppType = \"*res://a.gd\" ; mine\n[gui]\n", "[autoload]\nAppType = \"*res://a.gd\" ; mine\n[gui]\ntheme/custom=\"res://t.tres\"\n"},
	}
	for _, tt := range tests {
		got, mine, err := Settings{}.Reconcile(doc(tt.before), wanted, nil)
		require.NoError(t, err, tt.name)
		require.Equal(t, tt.after, string(got), tt.name)
		again, same, err := Settings{}.Reconcile(doc(string(got)), wanted, mine)
		require.NoError(t, err)
		require.Equal(t, tt.after, string(again), tt.name)
		require.Equal(t, mine, same, tt.name)
		back, none, err := Settings{}.Reconcile(doc(string(got)), nil, mine)
		require.NoError(t, err)
		require.Equal(t, tt.before, string(back), tt.name)
		require.Empty(t, none)
		lacks, err := Settings{}.Missing(doc(tt.before), wanted)
		require.NoError(t, err)
		require.Len(t, lacks, len(wanted)-strings.Count(tt.before, "a.gd"))
	}
	_, _, err := Settings{}.Reconcile(doc("[gui]\n\ntheme/custom=\"res://mine.tres\"\n"), wanted, nil)
	require.ErrorContains(t, err, `project.godot:3: expected theme/custom="res://t.tres", or no theme/custom, found theme/custom="res://mine.tres"`)
	require.Equal(t, "[autoload]\n\nAppType=\"*res://a.gd\"\n\n[gui]\n\ntheme/custom=\"res://t.tres\"", Settings{}.Paste(wanted))

	// A section into which somebody wrote stays, also if it is a comment alone.
	got, mine, err := Settings{}.Reconcile(doc("a=1\n"), wanted, nil)
	require.NoError(t, err)
	own := strings.Replace(string(got), "[gui]\n", "[gui]\n; mine\n", 1)
	back, _, err := Settings{}.Reconcile(doc(own), nil, mine)
	require.NoError(t, err)
	require.Equal(t, "a=1\n\n[gui]\n; mine\n\n", string(back))
}

// What a ledger tells of a scene is written back only if it is the form of an override.
func TestOverridesOfAForgedLedger(t *testing.T) {
	text := "[gd_scene format=3]\n\n[ext_resource type=\"LabelSettings\" path=\"res://r.tres\" id=\"1\"]\n\n[node name=\"A\" type=\"Label\"]\nlabel_settings = ExtResource(\"1\")\n"
	e := edit.Entry{File: "a.tscn", Syntax: "godot-scene", Place: Override(".", "label_settings", "LabelSettings"), Value: "res://r.tres", Made: []string{madeResource}}
	for _, with := range []string{"script = ExtResource(\"1\")", "label_settings = ExtResource(\"1\")\nscript = ExtResource(\"2\")", "", "label_settings = load(\"x\")"} {
		e.With = []string{with}
		got, now, err := Overrides{}.Reconcile(doc(text), nil, []edit.Entry{e})
		require.NoError(t, err)
		require.Equal(t, text, string(got), with)
		require.Empty(t, now)
	}
}

// FuzzSettings holds the settings to their word: a second run changes nothing, and what was
// added goes without trace.
func FuzzSettings(f *testing.F) {
	f.Add("config_version=5\n\n[gui]\n\na={\n\"b\": 1\n}\n")
	f.Add("[autoload]\n; c\n[gui]\r\ntheme/custom=\"res://t.tres\"")
	f.Fuzz(func(t *testing.T, text string) {
		got, mine, err := Settings{}.Reconcile(doc(text), wanted, nil)
		if err != nil {
			return
		}
		again, same, err := Settings{}.Reconcile(doc(string(got)), wanted, mine)
		if err != nil || string(again) != string(got) || len(same) != len(mine) {
			t.Fatalf("again: %v\n%q\n%q", err, got, again)
		}
		back, _, err := Settings{}.Reconcile(doc(string(got)), nil, mine)
		if err != nil || string(back) != text {
			t.Fatalf("back: %v\n%q\n%q\n%q", err, text, got, back)
		}
	})
}

// FuzzOverrides points a label to a role and back.
func FuzzOverrides(f *testing.F) {
	f.Add("[gd_scene format=2]\n\n[ext_resource path=\"res://x.tres\" type=\"DynamicFont\" id=1]\n\n[node name=\"A\" type=\"Label\"]\ncustom_fonts/font = ExtResource( 1 )\n")
	f.Add("[gd_scene format=2]\n[node name=\"A\" type=\"Label\"]\ncustom_fonts/font = SubResource( 1 )")
	want := []edit.Entry{{File: "a.tscn", Syntax: "godot-scene", Place: Override(".", "custom_fonts/font", "DynamicFont"), Value: "res://r.tres"}}
	f.Fuzz(func(t *testing.T, text string) {
		got, mine, err := Overrides{}.Convert(doc(text), want, nil)
		if err != nil || len(mine) == 0 {
			return
		}
		again, same, err := Overrides{}.Reconcile(doc(string(got)), want, mine)
		if err != nil || string(again) != string(got) || len(same) != len(mine) {
			t.Fatalf("again: %v\n%q\n%q", err, got, again)
		}
		back, _, err := Overrides{}.Reconcile(doc(string(got)), nil, mine)
		if err != nil || string(back) != text {
			t.Fatalf("back: %v\n%q\n%q\n%q", err, text, got, back)
		}
	})
}
