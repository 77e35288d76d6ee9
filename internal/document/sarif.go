package document

import (
	"net/url"
	"path/filepath"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"notaria/internal/audit"
	"notaria/internal/notary"
)

// SARIF is the findings of check in the "Static Analysis Results Interchange Format", version 2.1.0
// (an OASIS standard), as far as Notaria has something to say in it.
type SARIF struct {
	Schema  string     `json:"$schema"`
	Version string     `json:"version"`
	Runs    []sarifRun `json:"runs"`
}

type sarifRun struct {
	Tool struct {
		Driver sarifDriver `json:"driver"`
	} `json:"tool"`
	// Bases are what paths are relative to: the project's folder.
	Bases      map[string]sarifArtifact `json:"originalUriBaseIds"`
	ColumnKind string                   `json:"columnKind"`
	Results    []sarifResult            `json:"results"`
}

type sarifDriver struct {
	Name    string      `json:"name"`
	Version string      `json:"version"`
	Rules   []sarifRule `json:"rules"`
}

type sarifText struct {
	Text string `json:"text"`
}

type sarifRule struct {
	ID               string    `json:"id"`
	ShortDescription sarifText `json:"shortDescription"`
	FullDescription  sarifText `json:"fullDescription"`
	Help             sarifText `json:"help"`
	Default          struct {
		Level string `json:"level"`
	} `json:"defaultConfiguration"`
}

type sarifResult struct {
	RuleID       string             `json:"ruleId"`
	RuleIndex    int                `json:"ruleIndex"`
	Level        string             `json:"level"`
	Message      sarifText          `json:"message"`
	Locations    []sarifLocation    `json:"locations"`
	Fixes        []sarifFix         `json:"fixes,omitempty"`
	Suppressions []sarifSuppression `json:"suppressions,omitempty"`
	Properties   map[string]string  `json:"properties,omitempty"`
	// Fingerprints tell a finding of one run from another's: they hold no lines, which move.
	Fingerprints map[string]string `json:"partialFingerprints"`
}

type sarifLocation struct {
	Physical struct {
		Artifact sarifArtifact `json:"artifactLocation"`
		Region   *sarifRegion  `json:"region,omitempty"`
	} `json:"physicalLocation"`
}

type sarifArtifact struct {
	URI       string `json:"uri"`
	URIBaseID string `json:"uriBaseId,omitempty"`
}

// sarifRegion is a part of a file: by lines and columns from 1, or by bytes from 0.
type sarifRegion struct {
	StartLine   int `json:"startLine,omitempty"`
	StartColumn int `json:"startColumn,omitempty"`
	EndLine     int `json:"endLine,omitempty"`
	EndColumn   int `json:"endColumn,omitempty"`
	// ByteOffset is absent where lines are given.
	ByteOffset *int `json:"byteOffset,omitempty"`
	ByteLength *int `json:"byteLength,omitempty"`
}

type sarifFix struct {
	Description sarifText     `json:"description"`
	Changes     []sarifChange `json:"artifactChanges"`
}

type sarifChange struct {
	Artifact     sarifArtifact      `json:"artifactLocation"`
	Replacements []sarifReplacement `json:"replacements"`
}

type sarifReplacement struct {
	Deleted  sarifRegion `json:"deletedRegion"`
	Inserted sarifText   `json:"insertedContent"`
}

type sarifSuppression struct {
	Kind          string `json:"kind"` // inSource or external
	Justification string `json:"justification"`
}

// NewSARIF makes the document of findings, with the accepted ones as suppressed.
func NewSARIF(version string, p *notary.Project, accepted []audit.Accepted, found []audit.Finding) SARIF {
	run := sarifRun{ColumnKind: "utf16CodeUnits", Results: []sarifResult{}, Bases: map[string]sarifArtifact{srcRoot: {URI: folderURI(p.Root)}}}
	prints := audit.Prints{}
	lines := lineReader{p: p}
	run.Tool.Driver = sarifDriver{Name: "Notaria", Version: version}
	at := map[string]int{}
	for i, r := range audit.Rules {
		at[r.ID] = i
		rule := sarifRule{ID: r.ID, ShortDescription: sarifText{sentence(r.What)}, FullDescription: sarifText{sentence(r.What) + " Otherwise: " + sentence(r.Why)},
			Help: sarifText{"Usual cause: " + sentence(r.Cause) + " Cure: " + sentence(r.Cure)}}
		rule.Default.Level = string(r.Severity)
		run.Tool.Driver.Rules = append(run.Tool.Driver.Rules, rule)
	}
	for _, f := range found {
		r := sarifOf(f, at[f.Rule], &lines)
		r.Fingerprints = map[string]string{printName: prints.Of(f)}
		run.Results = append(run.Results, r)
	}
	for _, x := range accepted {
		r := sarifOf(x.Finding, at[x.Rule], &lines)
		r.Fingerprints = map[string]string{printName: prints.Of(x.Finding)}
		kind := "external"
		if strings.HasPrefix(x.Where, x.File) {
			kind = "inSource"
		}
		r.Suppressions = []sarifSuppression{{kind, x.Reason}}
		run.Results = append(run.Results, r)
	}
	return SARIF{"https://json.schemastore.org/sarif-2.1.0.json", "2.1.0", []sarifRun{run}}
}

// sentence is a text with a capital and a full stop.
func sentence(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	return strings.ToUpper(string(r)) + s[n:] + "."
}

// srcRoot is the usual name of the base of a project's paths, and printName that of our fingerprints, with the version of
// how they are made.
const (
	srcRoot   = "%SRCROOT%"
	printName = "notariaFinding/v1"
)

func sarifFile(file string) sarifArtifact {
	return sarifArtifact{(&url.URL{Path: file}).EscapedPath(), srcRoot}
}

// folderURI is the address of a folder of this machine; it ends with a slash (SARIF 2.1.0, 3.14.14).
func folderURI(dir string) string {
	at := filepath.ToSlash(dir)
	if !strings.HasPrefix(at, "/") {
		at = "/" + at // a drive
	}
	return "file://" + (&url.URL{Path: strings.TrimSuffix(at, "/") + "/"}).EscapedPath()
}

// lineReader reads lines of files, the one file after the other.
type lineReader struct {
	p     *notary.Project
	file  string
	lines []string
}

// mostRead is the largest file that columns are counted in, in bytes.
const mostRead = 4 << 20

// column turns a 1-based column in bytes into one in UTF-16 code units; it is the same where the line
// cannot be read.
func (r *lineReader) column(file string, line, column int) int {
	if file != r.file {
		r.file, r.lines = file, nil
		if text, err := r.p.Dir.Read(file, mostRead); err == nil {
			r.lines = strings.Split(string(text), "\n")
		}
	}
	if line < 1 || line > len(r.lines) || column < 1 || column-1 > len(r.lines[line-1]) {
		return column
	}
	return 1 + len(utf16.Encode([]rune(r.lines[line-1][:column-1])))
}

func sarifOf(f audit.Finding, rule int, lines *lineReader) sarifResult {
	r := sarifResult{RuleID: f.Rule, RuleIndex: rule, Level: string(f.Severity), Message: sarifText{f.Message + ". Why: " + f.Cause + ". Cure: " + f.Cure + "."}}
	if f.Target != "" {
		r.Properties = map[string]string{"target": f.Target, "app": f.Site}
	}
	var l sarifLocation
	l.Physical.Artifact = sarifFile(f.File)
	if f.Line > 0 {
		l.Physical.Region = &sarifRegion{StartLine: f.Line, StartColumn: lines.column(f.File, f.Line, f.Column), EndLine: f.EndLine, EndColumn: lines.column(f.File, f.EndLine, f.EndColumn)}
	}
	r.Locations = []sarifLocation{l}
	for _, e := range f.Edits {
		from, length := e.From, e.To-e.From
		r.Fixes = append(r.Fixes, sarifFix{sarifText{f.Cure}, []sarifChange{{sarifFile(e.File),
			[]sarifReplacement{{sarifRegion{ByteOffset: &from, ByteLength: &length}, sarifText{e.Text}}}}}})
	}
	return r
}
