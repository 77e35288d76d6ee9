package document

import (
	"encoding/xml"
	"fmt"
	"io"
	"strings"

	"notaria/internal/audit"
	"notaria/internal/language"
	"notaria/internal/notary"
)

// junitSuites is the findings of check as servers for continuous integration read test results: a
// suite for each app, in which every rule that found something is a failed test, and an app without
// findings is a test that passed. Notes do not fail.
type junitSuites struct {
	XMLName  xml.Name     `xml:"testsuites"`
	Name     string       `xml:"name,attr"`
	Tests    int          `xml:"tests,attr"`
	Failures int          `xml:"failures,attr"`
	Suites   []junitSuite `xml:"testsuite"`
}

type junitSuite struct {
	Name     string      `xml:"name,attr"`
	Tests    int         `xml:"tests,attr"`
	Failures int         `xml:"failures,attr"`
	Errors   int         `xml:"errors,attr"`
	Cases    []junitCase `xml:"testcase"`
}

type junitCase struct {
	Name    string        `xml:"name,attr"`
	Class   string        `xml:"classname,attr"`
	Failure *junitFailure `xml:"failure,omitempty"`
	Out     string        `xml:"system-out,omitempty"`
}

type junitFailure struct {
	Message string `xml:"message,attr"`
	Type    string `xml:"type,attr"`
	Text    string `xml:",chardata"`
}

// WriteJUnit writes findings as test results.
func WriteJUnit(w io.Writer, plan *notary.Plan, found []audit.Finding) error {
	doc := junitSuites{Name: "notaria check"}
	at := map[string]int{}
	suite := func(name string) *junitSuite {
		if _, ok := at[name]; !ok {
			at[name] = len(doc.Suites)
			doc.Suites = append(doc.Suites, junitSuite{Name: name})
		}
		return &doc.Suites[at[name]]
	}
	for _, s := range plan.Sites {
		suite(strings.TrimSpace(s.Target.Name + " " + s.Site.Path()))
	}
	for _, f := range found {
		s := suite(strings.TrimSpace(nonEmpty(f.Target, "project") + " " + f.Site))
		s.Cases = append(s.Cases, junitOf(f))
	}
	for i := range doc.Suites {
		s := &doc.Suites[i]
		if s.Name = plainXML(s.Name); len(s.Cases) == 0 {
			s.Cases = []junitCase{{Name: "fonts", Class: s.Name}}
		}
		for k := range s.Cases {
			s.Cases[k].Class = s.Name
			if s.Cases[k].Failure != nil {
				s.Failures++
			}
		}
		s.Tests = len(s.Cases)
		doc.Tests, doc.Failures = doc.Tests+s.Tests, doc.Failures+s.Failures
	}
	if _, err := io.WriteString(w, xml.Header); err != nil {
		return err
	}
	enc := xml.NewEncoder(w)
	enc.Indent("", "  ")
	if err := enc.Encode(doc); err != nil {
		return err
	}
	_, err := io.WriteString(w, "\n")
	return err
}

func nonEmpty(s, other string) string {
	if s == "" {
		return other
	}
	return s
}

// plainXML takes out what is not seen: XML holds no control characters.
func plainXML(s string) string {
	return strings.Map(func(r rune) rune {
		if language.Unseen(r) {
			return ' '
		}
		return r
	}, s)
}

func junitOf(f audit.Finding) junitCase {
	place := f.File
	if f.Line > 0 {
		place = fmt.Sprintf("%s:%d:%d", f.File, f.Line, f.Column)
	}
	text := plainXML(fmt.Sprintf("%s: %s\nwhy: %s\ncure: %s", place, f.Message, f.Cause, f.Cure))
	c := junitCase{Name: plainXML(f.Rule + " " + place)}
	if f.Severity == audit.Note {
		c.Out = text
		return c
	}
	c.Failure = &junitFailure{plainXML(f.Message), string(f.Severity), text}
	return c
}
