package kit

import (
	"path"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// A GradleModule is what a build file says of one module: of its own folder, or of another's
// in a block project(":core").
type GradleModule struct {
	File, Dir string
	Text      string // without comments
}

var gradleProject = lazy.Regexp(`\bproject\s*\(\s*["']:([\w:.-]+)["']\s*\)\s*\{`)

// GradleModules are those of all build files of a tree.
func GradleModules(tree platform.Tree) []GradleModule {
	var out []GradleModule
	for _, base := range []string{"build.gradle", "build.gradle.kts"} {
		for _, f := range tree.Named(base) {
			if raw, err := tree.Read(f); err == nil {
				out = append(out, modulesIn(f, string(language.Of(f).Blank(raw)))...)
			}
		}
	}
	return out
}

// modulesIn takes a build file apart.
func modulesIn(file, clean string) []GradleModule {
	skeleton := language.Of(file).Skeleton([]byte(clean))
	var out []GradleModule
	rest := clean
	for _, m := range gradleProject.FindAllStringSubmatchIndex(clean, -1) {
		end := language.Closing(skeleton, m[1]-1)
		if end < 0 {
			continue
		}
		dir := path.Join(platform.Folder(file), strings.ReplaceAll(clean[m[2]:m[3]], ":", "/"))
		out = append(out, GradleModule{file, dir, clean[m[1]:end]})
		rest = rest[:m[1]] + strings.Repeat(" ", end-m[1]) + rest[end:]
	}
	return append(out, GradleModule{file, platform.Folder(file), rest})
}
