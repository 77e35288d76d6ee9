package credits

import (
	"encoding/xml"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"howett.net/plist"
)

func TestRecognise(t *testing.T) {
	for text, want := range map[string]string{
		"This Font Software is licensed under the SIL Open Font License,\n   Version 1.1.\nThis license is copied below": "OFL-1.1",
		"http://scripts.sil.org/OFL": "OFL-1.1",
		"Apache License\n                           Version 2.0, January 2004": "Apache-2.0",
		"Licensed under https://www.apache.org/licenses/LICENSE-2.0":           "Apache-2.0",
		"CC0 1.0 Universal":                               "CC0-1.0",
		"https://creativecommons.org/licenses/by/4.0/":    "CC-BY-4.0",
		"https://creativecommons.org/licenses/by-sa/4.0/": "CC-BY-SA-4.0",
		"UBUNTU FONT LICENCE Version 1.0":                 "Ubuntu-font-1.0",
		"MIT License, or the SIL Open Font License, Version 1.1, or Apache License Version 2.0": "",
		"Use them as you like.": "",
		"":                      "",
		// What is said of several licences, or of another one, gives no identifier: each of these was taken for one.
		"License: OFL-1.1\nFiles: debian/*\nLicense: CC0-1.0\nCC0 1.0 Universal":                                                                                                                                      "",
		"GNU Affero General Public License; its pictures: https://creativecommons.org/licenses/by/4.0/":                                                                                                               "",
		"The IPA Font License Agreement v1.0. Permission is hereby granted, free of charge, to any person obtaining a copy of this software. The above copyright notice and this permission notice shall be included": "",
		gpl("the GNU General Public License version 2"):                                                                                                                                                               "",
		gpl("the GNU General Public License, version 3 only; not any later version"):                                                                                                                                  "",
		gpl("the GNU General Public License as published; either version 3 of the License, or (at your option) any later version"):                                                                                    "GPL-3.0-or-later WITH Font-exception-2.0",
	} {
		require.Equal(t, want, Recognise(text), text)
	}
	for _, m := range marks {
		require.NotEmpty(t, names[m.id], m.id)
		require.Equal(t, m.id, Recognise(strings.ToUpper(strings.Join(append(m.words, "or any later version"), " ... "))), m.words)
	}
}

// gpl is a statement with the exception for documents, and the licence behind it, which speaks of later versions.
func gpl(said string) string {
	return "It is under " + said + ". As a special exception, if you create a document which uses this font. GNU General Public License Version 3. Everyone is permitted to copy and distribute verbatim copies … or any later version"
}

// Names and texts of fonts are untrusted: each form escapes them as its syntax does.
func TestFormsEscape(t *testing.T) {
	const odd = "Quay \"<b>&'\\ *_`@?\n]]>"
	list := []Credit{{Family: odd, Copyright: odd, Licence: "L", Text: "```\n" + odd}, {Family: "Plain", SPDX: "MIT", Licence: names["MIT"], Text: "```\n" + odd}}
	for _, form := range Forms {
		b, err := Write(list, form)
		require.NoError(t, err)
		again, err := Write(list, form)
		require.NoError(t, err)
		require.Equal(t, b, again)
		if form == Android || form == Apple {
			for d := xml.NewDecoder(strings.NewReader(string(b))); ; {
				if _, err := d.Token(); err == io.EOF {
					break
				} else {
					require.NoError(t, err, form)
				}
			}
		}
		if form == HTML || form == Markdown {
			require.NotContains(t, strings.Split(string(b), "````")[0], "<b>", form)
		}
	}
	b, err := Write(list, Apple)
	require.NoError(t, err)
	var page struct {
		PreferenceSpecifiers []struct{ Type, Title, FooterText string }
	}
	_, err = plist.Unmarshal(b, &page)
	require.NoError(t, err)
	require.Len(t, page.PreferenceSpecifiers, 3, "two fonts, and one licence that both share")
	require.Equal(t, odd, page.PreferenceSpecifiers[0].Title)
	_, err = Write(list, "pdf")
	require.Error(t, err)
}

func TestTextIsTidied(t *testing.T) {
	require.Equal(t, "a\n\nb \uFFFD c", text([]byte("\uFEFFa  \r\n\r\nb \xff c\x00\x1b\u202e\r\n\r\n")))
	require.Equal(t, []string{"X: neither the font nor the project says under which licence it is"}, Lacks([]Credit{{Family: "X"}, {Family: "Y", Licence: "free"}}))
}

func FuzzRecognise(f *testing.F) {
	f.Add("SIL Open Font License, Version 1.1")
	f.Fuzz(func(_ *testing.T, s string) { Recognise(text([]byte(s))) })
}
