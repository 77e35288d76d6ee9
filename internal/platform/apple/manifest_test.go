package apple

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/platform/apple/xcode"
)

func TestManifestApps(t *testing.T) {
	apps := yamlApps([]byte("targets:\n  A: # first\n    type: application\n    platform: macOS\n    sources: [Quay, Jetty]\n    settings:\n      base:\n        INFOPLIST_FILE: Quay/Info.plist\n  B:\n    type: bundle.unit-test\nschemes:\n  C:\n    type: application\n"))
	require.Len(t, apps, 1)
	require.Equal(t, "A", apps[0].app)
	require.True(t, apps[0].mac)
	require.Equal(t, []string{"Quay", "Jetty"}, apps[0].sources)
	require.Equal(t, "Quay/Info.plist", apps[0].plist)
	apps = swiftApps([]byte(`import ProjectDescription
let p = Project(name: "P", targets: [Target(name: "A", platform: .iOS, product: .app, sources: ["A/**"]), Target(name: "T", product: .unitTests)]) // .target(name: "C", product: .app)`))
	require.Len(t, apps, 1)
	require.Equal(t, []string{"A/**"}, apps[0].sources)
}

func FuzzManifests(f *testing.F) {
	f.Add([]byte("targets:\n  A:\n    type: application\n    sources:\n      - path: App\n"))
	f.Add([]byte(`Target(name: "A", product: .app, sources: ["A/**"], deploymentTargets: .iOS("13.4"))`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		for _, s := range append(yamlApps(raw), swiftApps(raw)...) {
			require.NotNil(t, s.oldest)
		}
	})
}

func TestVersions(t *testing.T) {
	for text, want := range map[string]xcode.Version{"13.4": v(13, 4), "14": v(14, 0), " 9.0.1 ": v(9, 0)} {
		got, ok := xcode.ParseVersion(text)
		require.True(t, ok)
		require.Equal(t, want, got)
	}
	for _, text := range []string{"", "$(X)", "thirteen", "-3", "0"} {
		_, ok := xcode.ParseVersion(text)
		require.False(t, ok, text)
	}
}
