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

// modulesIn takes a build file apart. A block within a block belongs to the outer one.
func modulesIn(file, clean string) []GradleModule {
	skeleton := language.Of(file).Skeleton([]byte(clean))
	var out []GradleModule
	rest := []byte(clean)
	behind := 0
	for _, m := range gradleProject.FindAllStringSubmatchIndex(clean, -1) {
		if m[0] < behind {
			continue
		}
		end := language.Closing(skeleton, m[1]-1)
		if end < 0 {
			break // no later one is closed either, or it is within this one
		}
		dir := path.Join(platform.Folder(file), strings.ReplaceAll(clean[m[2]:m[3]], ":", "/"))
		out = append(out, GradleModule{file, dir, clean[m[1]:end]})
		for i := m[1]; i < end; i++ {
			rest[i] = ' '
		}
		behind = end
	}
	return append(out, GradleModule{file, platform.Folder(file), string(rest)})
}
