// Command gen makes licences.txt of the SPDX License List (the npm package spdx-license-list): of each licence that fonts come under the sums
// of its paragraphs. Its arguments are the folder licenses of that package, and the version.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"

	"notaria/internal/credits"
)

// wanted are the licences, those that contain others first. Of the GNU licences the text does not say whether later versions count.
var wanted = map[string]string{
	"OFL-1.1": "OFL-1.1", "OFL-1.0": "OFL-1.0", "Apache-2.0": "Apache-2.0", "MIT": "MIT", "ISC": "ISC", "BSD-2-Clause": "BSD-2-Clause", "BSD-3-Clause": "BSD-3-Clause",
	"GPL-2.0": "GPL-2.0-only", "GPL-3.0": "GPL-3.0-only", "LGPL-2.1": "LGPL-2.1-only", "LGPL-3.0": "LGPL-3.0-only", "AGPL-3.0": "AGPL-3.0-only",
	"Ubuntu-font-1.0": "Ubuntu-font-1.0", "Bitstream-Vera": "Bitstream-Vera", "Bitstream-Charter": "Bitstream-Charter", "IPA": "IPA", "LPPL-1.3a": "LPPL-1.3a", "LPPL-1.3c": "LPPL-1.3c",
	"CC0-1.0": "CC0-1.0", "CC-BY-3.0": "CC-BY-3.0", "CC-BY-4.0": "CC-BY-4.0", "CC-BY-SA-3.0": "CC-BY-SA-3.0", "CC-BY-SA-4.0": "CC-BY-SA-4.0", "Unlicense": "Unlicense", "MPL-2.0": "MPL-2.0",
	"Arphic-1999": "Arphic-1999", "Baekmuk": "Baekmuk", "mplus": "mplus", "Artistic-2.0": "Artistic-2.0", "ParaType-Free-Font-1.3": "ParaType-Free-Font-1.3", "Zlib": "Zlib", "OGDL-Taiwan-1.0": "OGDL-Taiwan-1.0",
}

func main() {
	if len(os.Args) != 3 {
		fmt.Fprintln(os.Stderr, "gen: expected the folder licenses of spdx-license-list, and its version")
		os.Exit(2)
	}
	if err := write(os.Args[1], os.Args[2]); err != nil {
		fmt.Fprintln(os.Stderr, "gen:", err)
		os.Exit(1)
	}
}

func write(folder, version string) error {
	var b bytes.Buffer
	fmt.Fprintf(&b, "# The texts of licences as sums of their paragraphs, from spdx-license-list %s (SPDX License List, CC-BY-3.0).\n", version)
	fmt.Fprintf(&b, "# Made by go run ./internal/credits/gen; do not edit. A line: identifier, name, number of words and sum of each paragraph.\n")
	for _, id := range ordered() {
		raw, err := os.ReadFile(filepath.Join(folder, wanted[id]+".json"))
		if err != nil {
			return err
		}
		var doc struct {
			Name string `json:"name"`
			Text string `json:"licenseText"`
		}
		if err := json.Unmarshal(raw, &doc); err != nil {
			return fmt.Errorf("%s: %w", id, err)
		}
		fmt.Fprintf(&b, "%s\t%s\t%s\n", id, strings.TrimSuffix(doc.Name, " only"), sums(doc.Text))
	}
	return os.WriteFile("internal/credits/licences.txt", b.Bytes(), 0o644)
}

// ordered are the identifiers by the alphabet.
func ordered() (out []string) {
	for id := range wanted {
		out = append(out, id)
	}
	for i := range out {
		for j := i; j > 0 && out[j] < out[j-1]; j-- {
			out[j], out[j-1] = out[j-1], out[j]
		}
	}
	return out
}

var (
	blank    = regexp.MustCompile(`\n\s*\n`)
	open     = regexp.MustCompile(`<[^<>\n]{2,60}>|\[[a-z][^\[\]\n]{2,60}\]`) // to be filled in
	appendix = regexp.MustCompile(`(?s)(?:END OF TERMS AND CONDITIONS|How to Apply These Terms).*`)
)

// leastWords is how short a part of a text may be that counts: headings are left out.
const leastWords = 6

// sums are those of the paragraphs, without notices of copyright, places to be filled in, and the appendix on how a licence is used.
func sums(text string) string {
	var out []string
	for _, p := range blank.Split(appendix.ReplaceAllString(text, ""), -1) {
		for _, part := range open.Split(p, -1) {
			words := credits.Words(part)
			if len(words) < leastWords || words[0] == "copyright" || words[0] == "everyone" {
				continue
			}
			out = append(out, fmt.Sprintf("%d:%x", len(words), credits.Sum(words)))
		}
	}
	return strings.Join(out, " ")
}
