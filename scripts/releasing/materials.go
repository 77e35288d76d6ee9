package main

import (
	"bytes"
	"crypto/sha256"
	"debug/buildinfo"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// Parts of an SPDX document (SPDX 2.3, JSON).
type (
	spdx struct {
		Version       string         `json:"spdxVersion"`
		License       string         `json:"dataLicense"`
		ID            string         `json:"SPDXID"`
		Name          string         `json:"name"`
		Namespace     string         `json:"documentNamespace"`
		Creation      creation       `json:"creationInfo"`
		Packages      []spdxPackage  `json:"packages"`
		Relationships []relationship `json:"relationships"`
	}
	creation struct {
		Created  string   `json:"created"`
		Creators []string `json:"creators"`
	}
	spdxPackage struct {
		ID        string     `json:"SPDXID"`
		Name      string     `json:"name"`
		Version   string     `json:"versionInfo"`
		Location  string     `json:"downloadLocation"`
		Analyzed  bool       `json:"filesAnalyzed"`
		License   string     `json:"licenseDeclared"`
		Checksums []checksum `json:"checksums,omitempty"`
		Refs      []ref      `json:"externalRefs,omitempty"`
	}
	checksum struct {
		Algorithm string `json:"algorithm"`
		Value     string `json:"checksumValue"`
	}
	ref struct {
		Category string `json:"referenceCategory"`
		Type     string `json:"referenceType"`
		Locator  string `json:"referenceLocator"`
	}
	relationship struct {
		From string `json:"spdxElementId"`
		Kind string `json:"relationshipType"`
		To   string `json:"relatedSpdxElement"`
	}
)

// materials writes what a program was made of, as the program itself says: the modules, their versions and sums.
func (r *release) materials(name, program string) error {
	info, err := buildinfo.ReadFile(program)
	if err != nil {
		return err
	}
	data, err := os.ReadFile(program)
	if err != nil {
		return err
	}
	sum := fmt.Sprintf("%x", sha256.Sum256(data))
	d := spdx{"SPDX-2.3", "CC0-1.0", "SPDXRef-DOCUMENT", name, "https://spdx.org/spdxdocs/" + name + "-" + sum,
		creation{r.date.Format(time.RFC3339), []string{"Tool: scripts/release"}}, nil, nil}
	d.Packages = append(d.Packages, spdxPackage{ID: "SPDXRef-notaria", Name: "notaria", Version: r.version, Location: "NOASSERTION", License: "MIT", Checksums: []checksum{{"SHA256", sum}}})
	d.Relationships = append(d.Relationships, relationship{"SPDXRef-DOCUMENT", "DESCRIBES", "SPDXRef-notaria"})
	add := func(path, version, sum string) {
		id := "SPDXRef-" + strings.Map(plain, path+"-"+version)
		p := spdxPackage{ID: id, Name: path, Version: version, Location: "NOASSERTION", License: "NOASSERTION",
			Refs: []ref{{"PACKAGE-MANAGER", "purl", "pkg:golang/" + path + "@" + version}}}
		if b, err := base64.StdEncoding.DecodeString(strings.TrimPrefix(sum, "h1:")); err == nil && len(b) > 0 {
			p.Refs = append(p.Refs, ref{"OTHER", "go-sum", sum})
		}
		d.Packages = append(d.Packages, p)
		d.Relationships = append(d.Relationships, relationship{"SPDXRef-notaria", "DEPENDS_ON", id})
	}
	add("std", strings.TrimPrefix(info.GoVersion, "go"), "")
	for _, m := range info.Deps {
		add(m.Path, m.Version, m.Sum)
	}
	b, err := json.MarshalIndent(d, "", "  ")
	if err != nil {
		return err
	}
	return r.keep(name+".spdx.json", append(b, '\n'))
}

// plain are the characters that an identifier of SPDX has.
func plain(c rune) rune {
	if c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '.' || c == '-' {
		return c
	}
	return '-'
}

// end writes the sums, and the descriptions that a tap of Homebrew, a bucket of Scoop and a container need.
func (r *release) end(built []string) error {
	if err := r.describe(built); err != nil {
		return err
	}
	slices.Sort(r.files)
	var b bytes.Buffer
	for _, f := range r.files {
		fmt.Fprintf(&b, "%s  %s\n", r.sums[f], f)
	}
	if err := os.WriteFile(filepath.Join(r.out, "SHA256SUMS"), b.Bytes(), 0o644); err != nil {
		return err
	}
	fmt.Printf("%s, commit %.12s of %s: %d files in %s\n", r.version, r.commit, r.date.Format("2006-01-02"), len(r.files)+1, r.out)
	return nil
}
