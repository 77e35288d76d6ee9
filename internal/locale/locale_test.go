package locale

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestLettersOfLanguages(t *testing.T) {
	for tag, want := range map[string]struct{ is, has, lacks string }{
		"de":         {"de", "äöüßÄÖÜAZaz", "ñé"},
		"de-AT":      {"de-AT", "äöüß", "ñ"},
		"de_CH":      {"de-CH", "äöü", "ß"},
		"de-DE":      {"de", "ß", "ñ"},
		"vi":         {"vi", "ắặđĐơỚ", "wj"},
		"sr_latn-RS": {"sr-Latn", "ćđš", "ж"},
		"ZH-hant":    {"zh-Hant", "國語", "国"},
		"th":         {"th", "กะ่", "a"},
	} {
		l, err := Of(tag)
		require.NoError(t, err, tag)
		require.Equal(t, want.is, l.Tag)
		for _, r := range want.has {
			require.Contains(t, l.Own, r, "%s %c", tag, r)
		}
		for _, r := range want.lacks {
			require.NotContains(t, l.Own, r, "%s %c", tag, r)
		}
	}
	en, err := Of("en-GB")
	require.NoError(t, err)
	require.Contains(t, en.Foreign, 'é')
	require.Contains(t, en.Marks, '’')
	require.Subset(t, en.All(), []rune("Aé’7"))
	_, err = Of("tlh-x")
	require.ErrorContains(t, err, `expected a language by its tag, such as de, pt-BR or zh-Hant, found "tlh-x"`)
	for _, odd := range []string{"", "de\t61", "de\nen", strings.Repeat("a-", 5000), strings.Repeat("x", 10000), "\"'"} {
		_, err := Of(odd)
		require.ErrorContains(t, err, "expected a language by its tag")
		require.Less(t, len(err.Error()), 250)
	}
	for _, tag := range Tags() {
		l, err := Of(tag)
		require.NoError(t, err)
		require.Equal(t, tag, l.Tag)
		require.NotEmpty(t, l.Own, tag)
		require.IsIncreasing(t, l.Own, tag)
	}
	require.Greater(t, len(Tags()), 300)
}

func TestScripts(t *testing.T) {
	for _, name := range []string{"Greek", "greek"} {
		list, err := Script(name)
		require.NoError(t, err)
		require.Contains(t, list, 'ω')
		require.Contains(t, list, '\u0301') // marks are of many scripts
		require.NotContains(t, list, 'a')
		require.IsNonDecreasing(t, list)
	}
	_, err := Script("Old South Arabian")
	require.NoError(t, err)
	_, err = Script("Common")
	require.ErrorContains(t, err, "expected a script by its name in Unicode")
	require.Contains(t, Typed(), '€')
}
