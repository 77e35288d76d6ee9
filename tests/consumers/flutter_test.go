package consumers

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestFlutterPubspec(t *testing.T) {
	t.Parallel()
	npmHome(t)
	dir := registered(t)
	var read struct {
		Flutter struct {
			Material bool `json:"uses-material-design"`
			Fonts    []struct {
				Family string
				Fonts  []struct {
					Asset  string
					Weight int
				}
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "node", "npm/yaml.mjs", filepath.Join(dir, "deckgame/pubspec.yaml"))), &read))
	require.True(t, read.Flutter.Material)
	require.Len(t, read.Flutter.Fonts, 1)
	family := read.Flutter.Fonts[0]
	require.Equal(t, "Skerry Sans", family.Family)
	require.Len(t, family.Fonts, 2)
	for _, f := range family.Fonts {
		require.FileExists(t, filepath.Join(dir, "deckgame", f.Asset))
	}
	require.Equal(t, 700, family.Fonts[1].Weight)
}

func TestFlutterDartParses(t *testing.T) {
	t.Parallel()
	npmHome(t)
	dir := registered(t)
	file := filepath.Join(dir, "deckgame/lib/app_type.dart")
	out, err := try(t, ".", "node", "npm/parse.mjs", "dart", file)
	require.NoError(t, err, out)
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	for _, want := range []string{"static const String skerrySansFamily = 'Skerry Sans';", "static const TextStyle heading = TextStyle(", "fontWeight: FontWeight.w700,", "headlineMedium: base.headlineMedium?.merge(heading) ?? heading,"} {
		require.Contains(t, string(text), want)
	}
	broken := filepath.Join(dir, "broken.dart")
	write(t, broken, "class AppType { static const = ; }\n")
	_, err = try(t, ".", "node", "npm/parse.mjs", "dart", broken)
	require.Error(t, err, "the grammar notices what is wrong")
}
