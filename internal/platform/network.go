package platform

import (
	"fmt"
	"net/url"
	"path"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// UseNetwork is the kind of a use by which a font comes over the network when the app runs. Its first group is the
// address, or, where code has none, the call that loads.
const UseNetwork = "network"

// address is one of another host; a place of the app's own has no host.
const address = `((?:https?:)?//[^"'\s()<>\x60\\]+)`

// ofSheet says that a link is about a style sheet, or about what is loaded early: others, such as that of the page's own
// address, load nothing.
const ofSheet = `rel\s*=\s*["']?(?:alternate )?(?:stylesheet|preload|prefetch)(?:["'\s/>]|$)`

// firstSource is what stands in a @font-face rule before the first file of its sources: a later one is fetched where that
// cannot be.
const firstSource = `@font-face\s*\{[^{}]*?\bsrc\s*:\s*(?:local\([^()]*\)\s*,\s*)*url\(\s*["']?`

// ofLink is the beginning of an object with the attributes of a link, as settings and components have it: one that begins with
// another key, such as a name, is of another element.
const ofLink = `\{\s*(?:["']?(?:key|hid|id|type|media|as|title|cross[oO]rigin)["']?\s*:[^,{}]*,\s*)*["']?`

var (
	pagesAlone = []*language.Language{language.HTML, language.Template, language.Component}
	sheets     = []*language.Language{language.CSS, language.SCSS}
	scripts    = []*language.Language{language.JavaScript, language.TypeScript}
)

// NetworkInSheets, NetworkInPages and NetworkInScripts are such uses in CSS, in HTML, and in JavaScript.
var (
	NetworkInSheets = []Use{
		{Languages: sheets, Kind: UseNetwork, Pattern: lazy.Regexp(`@import\s+(?:url\(\s*)?["']?` + address)},
		{Languages: sheets, Kind: UseNetwork, Pattern: lazy.Regexp(firstSource + address)},
	}
	NetworkInPages = []Use{
		{Languages: pagesAlone, Kind: UseNetwork, Pattern: lazy.Regexp(`<link\s(?:[^<>]*\s)?` + ofSheet + `(?:[^<>]*\s)?href\s*=\s*["']?` + address)},
		{Languages: pagesAlone, Kind: UseNetwork, Pattern: lazy.Regexp(`<link\s(?:[^<>]*\s)?href\s*=\s*["']?` + address + `["']?\s(?:[^<>]*\s)?` + ofSheet)},
		{Languages: pagesAlone, Kind: UseNetwork, Pattern: lazy.Regexp(`[\s>;]@import\s+(?:url\(\s*)?["']?` + address)},
		{Languages: pagesAlone, Kind: UseNetwork, Pattern: lazy.Regexp(firstSource + address)},
	}
	NetworkInScripts = []Use{
		{Languages: scripts, Kind: UseNetwork, Pattern: lazy.Regexp(`\bnew\s+FontFace\s*\(\s*["'\x60][^"'\x60\n]*["'\x60]\s*,\s*["'\x60]\s*url\(\s*["']?` + address)},
		{Languages: scripts, Kind: UseNetwork, Pattern: lazy.Regexp(`<link\s(?:[^<>]*\s)?` + ofSheet + `(?:[^<>]*\s)?href\s*=\s*\{?\s*["'\x60]` + address)},
		// Settings and components name the attributes of a link as keys.
		{Languages: scripts, Kind: UseNetwork, Pattern: lazy.Regexp(ofLink + `rel["']?\s*:\s*["']stylesheet["'][^{}]*?\bhref["']?\s*:\s*["'\x60]` + address)},
		{Languages: scripts, Kind: UseNetwork, Pattern: lazy.Regexp(ofLink + `href["']?\s*:\s*["'\x60]` + address + `["'\x60][^{}]*?\brel["']?\s*:\s*["']stylesheet["']`)},
		{Languages: scripts, Kind: UseNetwork, Pattern: lazy.Regexp(`<link\s(?:[^<>]*\s)?href\s*=\s*\{?\s*["'\x60]` + address + `["'\x60]\s*\}?\s(?:[^<>]*\s)?` + ofSheet)},
	}
)

// FromAddress says whether text is an address of another host, and not a place of the app's own.
func FromAddress(text string) bool {
	return strings.HasPrefix(text, "//") || strings.HasPrefix(text, "https://") || strings.HasPrefix(text, "http://")
}

// AnswerNetwork answers for an address: a font file, or a style sheet that is one of fonts by its own words. Any other
// sheet can be about anything, and is not judged.
func AnswerNetwork(typed string) Answer {
	u, err := url.Parse(typed)
	if err != nil || u.Host == "" || !(LooksLikeFont(path.Base(u.Path)) || fontSheet(u)) || local(u.Hostname()) {
		return Answer{}
	}
	return Answer{Fault: FromNetwork, Message: "a font comes from " + face.Short(u.Host) + " when the app runs", Cause: fmt.Sprintf("without a network, or where that host is blocked, another font shows; and %s learns who reads", face.Short(u.Host)),
		Cure: "bring the font files into the project (notaria enrol --from-app, or notaria enrol PATH), run notaria register, then take this line out"}
}

// AnswerFetch answers for a call, or an attribute, that fetches a font.
func AnswerFetch(typed string) Answer {
	return Answer{Fault: FromNetwork, Message: face.Short(typed) + " fetches a font when the app runs", Cause: "without a network another font shows, and another host learns who uses the app",
		Cure: "bring the font files into the project (notaria enrol --from-app, or notaria enrol PATH), run notaria register, then show a role here"}
}

// fontSheet says whether an address is that of a style sheet of fonts: it asks for families, or its host is one for fonts.
func fontSheet(u *url.URL) bool {
	if queryOf(u).Has("family") {
		return true
	}
	first, _, more := strings.Cut(strings.ToLower(u.Hostname()), ".")
	return more && (first == "fonts" || first == "font" || first == "webfonts") && u.Path != "" && u.Path != "/" && (path.Ext(u.Path) == ".css" || strings.Contains(u.Path, "/css"))
}

// queryOf is the query of an address. Semicolons are part of values: services part weights by them.
func queryOf(u *url.URL) url.Values {
	v, err := url.ParseQuery(strings.ReplaceAll(u.RawQuery, ";", "%3B"))
	if err != nil {
		return nil
	}
	return v
}

// local says whether a host is the machine that the app runs on, or is put together.
func local(host string) bool {
	return host == "localhost" || strings.HasPrefix(host, "127.") || strings.ContainsAny(host, "{}$%<>[]")
}
