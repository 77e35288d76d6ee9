package cli

import (
	"runtime/debug"
	"sync"

	"github.com/spf13/cobra"

	"notaria/internal/registry"
)

// A release sets these: the commit that it was built of, and its day.
var commit, date string

// version is what --version prints: what a release says of itself, else what the build noted.
func version() string {
	v, c, d := registry.Version, commit, date
	if info, ok := debug.ReadBuildInfo(); ok && c == "" {
		if v == registry.Development && info.Main.Version != "" && info.Main.Version != "(devel)" {
			v = info.Main.Version
		}
		for _, s := range info.Settings {
			switch s.Key {
			case "vcs.revision":
				c = s.Value
			case "vcs.time":
				d = s.Value[:min(len(s.Value), len("2006-01-02"))]
			}
		}
	}
	if len(c) > 12 {
		c = c[:12]
	}
	if c != "" {
		v += " (commit " + c + ", " + d + ")"
	}
	return v
}

var templates sync.Once

// showsVersion has --version print all of it; it is put together when it is asked for.
func showsVersion(root *cobra.Command) {
	templates.Do(func() { cobra.AddTemplateFunc("notariaVersion", version) }) // of all commands in this process
	root.SetVersionTemplate("notaria {{notariaVersion}}\n")
}
