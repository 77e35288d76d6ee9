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

// mit is the MIT License whole, with the marks of a comment and other ends of lines than the list has.
const mit = ` # Copyright 2026 Skerry Ferries
 #
 # Permission is hereby granted, free of charge, to any person obtaining a copy of this software and associated documentation
 # files (the "Software"), to deal in the Software without restriction, including without limitation the rights to use, copy,
 # modify, merge, publish, distribute, sublicense, and/or sell copies of the Software, and to permit persons to whom the
 # Software is furnished to do so, subject to the following conditions:
 #
 # The above copyright notice and this permission notice shall be included in all copies or substantial portions of the Software.
 #
 # THE SOFTWARE IS PROVIDED "AS IS", WITHOUT WARRANTY OF ANY KIND, EXPRESS OR IMPLIED, INCLUDING BUT NOT LIMITED TO THE
 # WARRANTIES OF MERCHANTABILITY, FITNESS FOR A PARTICULAR PURPOSE AND NONINFRINGEMENT. IN NO EVENT SHALL THE AUTHORS OR
 # COPYRIGHT HOLDERS BE LIABLE FOR ANY CLAIM, DAMAGES OR OTHER LIABILITY, WHETHER IN AN ACTION OF CONTRACT, TORT OR OTHERWISE,
 # ARISING FROM, OUT OF OR IN CONNECTION WITH THE SOFTWARE OR THE USE OR OTHER DEALINGS IN THE SOFTWARE.
`

// A licence that is there whole is known however it is broken into lines; what else the text says decides whether it counts.
func TestWholeTexts(t *testing.T) {
	ids, rest := wholes(mit)
	require.Equal(t, []string{"MIT"}, ids)
	require.Equal(t, "copyright 2026 skerry ferries ", rest)
	ids, _ = wholes(strings.Replace(mit, "without limitation", "with some limitation", 1))
	require.Empty(t, ids, "a word more is another licence")
	for text, want := range map[string]string{
		mit: "MIT",
		mit + "\nThe icons are under the GNU General Public License.": "",
		mit + "\nNot for personal use.":                               "",
		"SPDX-License-Identifier: OFL-1.1 OR GPL-3.0-or-later\n":      "OFL-1.1 OR GPL-3.0-or-later",
		"/* SPDX-License-Identifier: Apache-2.0 */":                   "Apache-2.0",
		"SPDX-License-Identifier: MIT\nSPDX-License-Identifier: ISC":  "",
		"SPDX-License-Identifier: Quay-1.0":                           "",
		"SPDX-License-Identifier: MIT OR":                             "",
	} {
		require.Equal(t, want, Recognise(text), text)
	}
	require.Greater(t, len(knowns.Get()), 25)
	require.Equal(t, "GNU Affero General Public License v3.0 or later, with the font exception", nameOf("AGPL-3.0-or-later WITH Font-exception-2.0"))
	require.Equal(t, "IPA Font License", nameOf("IPA"))
	require.Empty(t, nameOf("Quay-1.0"))
}

// Machine-readable copyright files say it of all but the packaging.
func TestStanzas(t *testing.T) {
	const head = "Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/\n\n"
	for text, want := range map[string]string{
		"Files: *\nLicense: OFL-1.1\n\nFiles: debian/*\nLicense: GPL-2+\n":                               "OFL-1.1",
		"Files: *\nLicense: Expat\n\nFiles: debian/*\n debian/x\nLicense: GPL-2+\n":                      "MIT",
		"Files: *\nLicense: OFL-1.1\n\nFiles: icons/*\nLicense: CC-BY-4.0\n":                             "",
		"Files: *\nLicense: CC-BY-SA-3.0 or OFL-1.1\n":                                                   "CC-BY-SA-3.0 OR OFL-1.1",
		"Files: *\nLicense: GPL-3+ with font exception\n":                                                "GPL-3.0-or-later WITH Font-exception-2.0",
		"Files: *\nLicense: GPL-3\n\nFiles: debian/*\nLicense: OFL-1.1\n":                                "",
		"Files: *\nLicense: Quay\n\nLicense: Quay\n SIL Open Font License, Version 1.1\n":                "OFL-1.1",
		"Files: *\nLicense: Quay\n\nFiles: debian/*\nLicense: X\n\nSIL Open Font License, Version 1.1\n": "",
	} {
		require.Equal(t, want, Recognise(head+text), text)
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
	f.Add(mit)
	f.Add("Format: https://x/copyright-format/1.0/\n\nFiles: *\nLicense: GPL-3+ with font exception\n")
	f.Add("SPDX-License-Identifier: (MIT OR ISC) AND Zlib")
	f.Fuzz(func(_ *testing.T, s string) { Recognise(text([]byte(s))) })
}
