package tokens

import (
	"maps"
	"slices"
	"strconv"
	"strings"
)

// expand gives groups what they extend: the tokens and groups of another group, under their own (Format Module, 6.4, $extends). What a group
// says itself counts; groups of one name become one.
func (r *reader) expand(g map[string]any, path []string, depth int) {
	if depth > mostDepth {
		return
	}
	if to, ok := g["$extends"].(string); ok {
		delete(g, "$extends") // once, also where groups extend each other
		if base, at, ok := r.groupAt(to); ok {
			r.expand(base, at, depth+1)
			r.inherit(g, base, path, at, depth)
		} else {
			r.fail(path, "$extends "+to+" leads to no group, and is not taken")
		}
	}
	for _, name := range r.order[joined(path)] {
		if sub, ok := g[name].(map[string]any); ok && !special(name) {
			r.expand(sub, append(slices.Clone(path), name), depth+1)
		}
	}
}

func joined(path []string) string { return strings.Join(path, "\x00") }

// special says whether a name of a group is one of the format's own; $root is a token.
func special(name string) bool { return strings.HasPrefix(name, "$") && name != "$root" }

// inherit puts what the base has into a group, before the group's own.
func (r *reader) inherit(g, base map[string]any, path, at []string, depth int) {
	if depth > mostDepth || r.inherited > mostInherited {
		return
	}
	var names []string
	for _, name := range r.order[joined(at)] {
		if special(name) && name != "$type" {
			continue
		}
		r.inherited++
		below, from := append(slices.Clone(path), name), append(slices.Clone(at), name)
		theirs, isMap := base[name].(map[string]any)
		own, both := g[name].(map[string]any)
		switch {
		case isMap && both && theirs["$value"] == nil && own["$value"] == nil:
			r.inherit(own, theirs, below, from, depth+1)
		case g[name] != nil:
		case isMap:
			copied := maps.Clone(theirs)
			g[name] = copied
			r.order[joined(below)] = slices.Clone(r.order[joined(from)])
			for _, k := range r.order[joined(from)] {
				if sub, ok := theirs[k].(map[string]any); ok && theirs["$value"] == nil {
					empty := map[string]any{}
					copied[k] = empty
					r.inherit(empty, sub, append(slices.Clone(below), k), append(slices.Clone(from), k), depth+1)
					maps.Copy(empty, leaves(sub))
				}
			}
		default:
			g[name] = base[name]
		}
		names = append(names, name)
	}
	for _, name := range r.order[joined(path)] {
		if !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	r.order[joined(path)] = names
}

// leaves are the members of a token that are no groups, so that a copy has all that its original says.
func leaves(g map[string]any) map[string]any {
	if g["$value"] != nil || g["$ref"] != nil {
		return g
	}
	return nil
}

// mostInherited is how many members groups inherit in all.
const mostInherited = 100_000

// groupAt finds a group by a reference, {a.b} or #/a/b.
func (r *reader) groupAt(to string) (map[string]any, []string, bool) {
	var path []string
	switch {
	case strings.HasPrefix(to, "{") && strings.HasSuffix(to, "}"):
		path = strings.Split(to[1:len(to)-1], ".")
	case strings.HasPrefix(to, "#/"):
		path = pointer(to)
	default:
		return nil, nil, false
	}
	g, ok := r.at(path).(map[string]any)
	return g, path, ok && g["$value"] == nil
}

// pointer are the parts of a JSON pointer (RFC 6901) within the file.
func pointer(s string) []string {
	parts := strings.Split(strings.TrimPrefix(s, "#/"), "/")
	for i, p := range parts {
		parts[i] = strings.ReplaceAll(strings.ReplaceAll(p, "~1", "/"), "~0", "~")
	}
	return parts
}

// at is what stands at a path; nil for nothing.
func (r *reader) at(path []string) any {
	var at any = r.root
	for _, part := range path {
		switch v := at.(type) {
		case map[string]any:
			at = v[part]
		case []any:
			i, err := strconv.Atoi(part)
			if err != nil || i < 0 || i >= len(v) {
				return nil
			}
			at = v[i]
		default:
			return nil
		}
	}
	return at
}
