package phrases

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestRead(t *testing.T) {
	for _, c := range []struct {
		name, text string
		want       []Phrase
	}{
		{"ios/sv.lproj/Localizable.strings", "/* \"no\" = \"no\"; */\n\"title\" = \"Avg\\U00e5ng\";\n// \"x\" = \"y\";\n\"a \\\"b\\\"\" = \"c\\nd\";", []Phrase{{"title", "sv", "Avgång"}, {`a "b"`, "sv", "c\nd"}}},
		{"ios/Base.lproj/Localizable.strings", `"k" = "v";`, []Phrase{{"k", "", "v"}}},
		{"ios/zh-Hant.lproj/x.strings", `"k" = "v";`, []Phrase{{"k", "zh-Hant", "v"}}},
		{"Localizable.xcstrings", `{"sourceLanguage":"en","strings":{"title":{"localizations":{"de":{"stringUnit":{"state":"translated","value":"Abfahrt"}},
			"en":{"variations":{"plural":{"one":{"stringUnit":{"value":"one boat"}},"other":{"stringUnit":{"value":"boats"}}}}}}}}}`,
			[]Phrase{{"title", "de", "Abfahrt"}, {"title", "en", "one boat"}, {"title", "en", "boats"}}},
		{"res/values-de/strings.xml", "<resources><!-- <string name=\"no\">no</string> --><string name=\"t\">Ab\\u0066ahrt\n  <b>jetzt</b> &amp; \\'hier\\'</string>" +
			"<plurals name=\"n\"><item quantity=\"one\">ein Boot</item><item quantity=\"other\">Boote</item></plurals><string-array name=\"l\"><item>eins</item><item>zwei</item></string-array></resources>",
			[]Phrase{{"t", "de", "Abfahrt jetzt & 'hier'"}, {"n.one", "de", "ein Boot"}, {"n.other", "de", "Boote"}, {"l.0", "de", "eins"}, {"l.1", "de", "zwei"}}},
		{"res/values-pt-rBR/strings.xml", `<resources><string name="t">" a  b "</string></resources>`, []Phrase{{"t", "pt-BR", " a  b "}}},
		{"res/values-b+sr+Latn/strings.xml", `<resources><string name="t">x</string></resources>`, []Phrase{{"t", "sr-Latn", "x"}}},
		{"res/values-night/strings.xml", `<resources><string name="t">x</string></resources>`, []Phrase{{"t", "", "x"}}},
		{"lib/app_pt_BR.arb", `{"t":"Olá","@t":{"description":"no"}}`, []Phrase{{"t", "pt-BR", "Olá"}}},
		{"lib/app.arb", `{"@@locale":"nb","t":"Hei"}`, []Phrase{{"t", "nb", "Hei"}}},
		{"locales/de/main.json", `{"a":{"b":"Kai","n":3},"l":["x","y"]}`, []Phrase{{"a.b", "de", "Kai"}, {"l.0", "de", "x"}, {"l.1", "de", "y"}}},
		{"locales/da.json", `{"quay":"Kai"}`, []Phrase{{"quay", "da", "Kai"}}},
		{"i18n/messages.json", `{"quay":"Kai"}`, []Phrase{{"quay", "", "Kai"}}},
		{"config/locales/sv.yml", "sv:\n  title: Avgång # no\n  list:\n    - \"a\\nb\"\n    - 'c'\n  n: 3\n", []Phrase{{"sv.title", "sv", "Avgång"}, {"sv.list.0", "sv", "a\nb"}, {"sv.list.1", "sv", "c"}}},
		{"po/de.po", "msgid \"\"\nmsgstr \"\"\n\"Language: de_AT\\n\"\n\n#: a.c\nmsgid \"Departures\"\nmsgstr \"Ab\"\n\"fahrt\"\n\nmsgid \"boat\"\nmsgid_plural \"boats\"\nmsgstr[0] \"Boot\"\nmsgstr[1] \"Boote\"\n\nmsgid \"new\"\nmsgstr \"\"\n",
			[]Phrase{{"Departures", "de-AT", "Abfahrt"}, {"boat.0", "de-AT", "Boot"}, {"boat.1", "de-AT", "Boote"}, {"new", "de-AT", "new"}}},
		{"odd.json", `{"a":`, nil}, {"odd.yaml", "a: [", nil}, {"odd.xml", "<string name='a'>", nil}, {"some.txt", "x\n\n y", []Phrase{{"", "", "x"}, {"", "", "y"}}},
	} {
		require.Equal(t, c.want, Read(c.name, []byte(c.text)), c.name)
	}
}

// Any bytes end in phrases or in none.
func FuzzRead(f *testing.F) {
	f.Add("a.strings", []byte(`"a" = "b";`))
	f.Add("a.xml", []byte(`<resources><plurals name="n"><item>x</item></plurals></resources>`))
	f.Add("a.po", []byte("msgid \"a\"\nmsgstr[0] \"b\"\n"))
	f.Add("sv.yml", []byte("a:\n- b: |\n    c\n"))
	f.Add("a.xcstrings", []byte(`{"strings":{"a":{"localizations":{"b":{"stringUnit":{"value":"c"}}}}}}`))
	f.Fuzz(func(t *testing.T, name string, raw []byte) {
		for _, p := range Read(name, raw) {
			require.NotEmpty(t, p.Text)
		}
	})
}
