package platform

import (
	"net/url"
	"path"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
)

// An Ask is a face that an app's code asks a service or a package for.
type Ask struct {
	Family string `json:"family"` // "" where the code does not say it
	Weight int    `json:"weight"` // 0 where the code does not say it
	To     int    `json:"weight_to,omitempty"`
	Italic bool   `json:"italic"`
	File   string `json:"file"` // where the code asks
	Line   int    `json:"line"`
}

// mostAsks is how many faces one address can ask for.
const mostAsks = 200

// AsksOf are the faces that a use of the network asks for: typed is what the finding marks, and rest is the source from there
// on. Services of style sheets take families in the query family, with weights behind a colon, in either of two forms; an
// address of a font says its name; a call says the family.
func AsksOf(typed, rest string) []Ask {
	switch {
	case FromAddress(typed):
		return slices.DeleteFunc(ofAddress(typed), func(a Ask) bool { return a.Family == "" })
	case strings.HasPrefix(typed, "GoogleFonts."):
		_, call, _ := strings.Cut(typed, ".")
		words := language.Words(strings.TrimSuffix(call, "TextTheme"))
		for i, w := range words {
			words[i] = strings.ToUpper(w[:1]) + w[1:]
		}
		return []Ask{{Family: strings.Join(words, " ")}}
	}
	if m := providerQuery.FindStringSubmatch(rest[:min(len(rest), 2000)]); m != nil {
		return ofProvider(strings.ReplaceAll(m[1], "&amp;", "&"))
	}
	return nil
}

var (
	providerQuery = lazy.Regexp(`^[^<>]*?\bfontProviderQuery\s*=\s*"([^"<>]+)"`)
	weightOf      = lazy.Regexp(`^([0-9]{3,4})?(?:\.\.([0-9]{3,4}))?(italic|i)?$`)
)

func ofAddress(address string) []Ask {
	u, err := url.Parse(strings.ReplaceAll(address, "&amp;", "&"))
	if err != nil {
		return nil
	}
	if LooksLikeFont(u.Path) {
		stem := strings.TrimSuffix(path.Base(u.Path), path.Ext(u.Path))
		family, style, _ := strings.Cut(stem, "-")
		w, italic, _ := StyleWord(style)
		return []Ask{{Family: strings.ReplaceAll(family, "_", " "), Weight: w, Italic: italic}}
	}
	var list []Ask
	for _, f := range queryOf(u)["family"] {
		for _, one := range strings.Split(f, "|") {
			if family, styles, _ := strings.Cut(one, ":"); len(list) < mostAsks {
				list = append(list, stylesOf(strings.TrimSpace(family), styles)...)
			}
		}
	}
	return list
}

// stylesOf reads the weights of a family: "400,700i", or "ital,wght@0,400;1,700".
func stylesOf(family, styles string) []Ask {
	axes, tuples, named := strings.Cut(styles, "@")
	var list []Ask
	add := func(from, to string, italic bool) {
		w, _ := strconv.Atoi(from)
		high, _ := strconv.Atoi(to)
		list = append(list, Ask{Family: family, Weight: w, To: high, Italic: italic})
	}
	if !named {
		for _, s := range strings.Split(styles, ",") {
			if m := weightOf.FindStringSubmatch(strings.TrimSpace(s)); m != nil && s != "" {
				add(m[1], "", m[3] != "")
			}
		}
	} else {
		keys := strings.Split(axes, ",")
		for _, t := range strings.Split(tuples, ";") {
			values := strings.Split(t, ",")
			from, to, italic := "", "", false
			for i := range min(len(keys), len(values)) {
				switch keys[i] {
				case "wght":
					from, to, _ = strings.Cut(values[i], "..")
				case "ital":
					italic = values[i] == "1"
				}
			}
			add(from, to, italic)
		}
	}
	if len(list) == 0 {
		list = []Ask{{Family: family, Weight: 400}} // what a service gives where nothing is said
	}
	return list[:min(len(list), mostAsks)]
}

// ofProvider reads a query of Android's font providers: a family, or name=…&weight=…&italic=….
func ofProvider(query string) []Ask {
	values, err := url.ParseQuery(query)
	if err != nil || !values.Has("name") {
		if strings.Contains(query, "=") {
			return nil
		}
		return []Ask{{Family: query, Weight: 400}}
	}
	w, err := strconv.Atoi(values.Get("weight"))
	if err != nil {
		w = 400
	}
	italic := values.Get("italic")
	return []Ask{{Family: values.Get("name"), Weight: w, Italic: italic != "" && italic != "0" && italic != "0.0"}}
}
