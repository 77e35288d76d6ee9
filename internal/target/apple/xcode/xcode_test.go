package xcode

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
)

// folders is a project of two targets, of which the first takes in a folder.
const folders = `// !$*UTF8*$!
{
	archiveVersion = 1;
	objectVersion = 77;
	objects = {

/* Begin PBXFileSystemSynchronizedRootGroup section */
		A0000000000000000000000A /* Harbour */ = {
			isa = PBXFileSystemSynchronizedRootGroup;EXCEPTIONS
			path = Harbour;
			sourceTree = "<group>";
		};
/* End PBXFileSystemSynchronizedRootGroup section */

/* Begin PBXGroup section */
		A0000000000000000000000B = {
			isa = PBXGroup;
			children = (
				A0000000000000000000000A /* Harbour */,
			);
			sourceTree = "<group>";
		};
/* End PBXGroup section */

/* Begin PBXNativeTarget section */
		A0000000000000000000000C /* Harbour */ = {
			isa = PBXNativeTarget;
			buildPhases = (
			);
			fileSystemSynchronizedGroups = (
				A0000000000000000000000A /* Harbour */,
			);
			name = Harbour;
			productType = "com.apple.product-type.application";
		};
		A0000000000000000000000D /* Tides */ = {
			isa = PBXNativeTarget;
			buildPhases = (
			);
			name = Tides;
			productType = "com.apple.product-type.app-extension";
		};
/* End PBXNativeTarget section */

/* Begin PBXProject section */
		A0000000000000000000000E /* Project object */ = {
			isa = PBXProject;
			mainGroup = A0000000000000000000000B;
			targets = (
				A0000000000000000000000C /* Harbour */,
				A0000000000000000000000D /* Tides */,
			);
		};
/* End PBXProject section */
	};
	rootObject = A0000000000000000000000E /* Project object */;
}
`

func TestTargetsAndPlatforms(t *testing.T) {
	p, err := pbx.Parse(edit.Document{File: "x", Text: []byte(strings.Replace(folders, "EXCEPTIONS", "", 1))})
	require.NoError(t, err)
	targets := Targets(p)
	require.Len(t, targets, 2)
	require.Equal(t, []string{"Harbour"}, targets[0].Synchronized)
	require.True(t, targets[1].Extension)
	products := map[string]string{ // of targets that draw text, with what they are
		"application": "app", "application.watchapp2": "app", "application.on-demand-install-capable": "app", "app-extension": "extension", "watchkit2-extension": "extension",
		"tv-app-extension": "extension", "extensionkit-extension": "extension", "app-extension.messages": "extension",
		"framework": "", "bundle.unit-test": "", "bundle.ui-testing": "", "library.static": "", "tool": "", "app-extension.intents-service": "", "application.watchapp2-container": "",
	}
	for product, what := range products {
		doc := strings.Replace(strings.Replace(folders, "EXCEPTIONS", "", 1), "\"com.apple.product-type.app-extension\"", "\"com.apple.product-type."+product+"\"", 1)
		p, err := pbx.Parse(edit.Document{File: "x", Text: []byte(doc)})
		require.NoError(t, err)
		targets := Targets(p)
		require.Len(t, targets, map[bool]int{true: 2, false: 1}[what != ""], product)
		require.Equal(t, what == "extension", len(targets) == 2 && targets[1].Extension, product)
	}
	for _, tt := range []struct {
		sdk, supported string
		want           []string
	}{
		{"", "", []string{"iphoneos"}}, {"macosx", "", []string{"macosx"}}, {"auto", "iphoneos iphonesimulator macosx xros xrsimulator", []string{"iphoneos", "macosx", "xros"}},
		{"macosx14.2", "", []string{"macosx"}}, {"iphoneos", "iphonesimulator iphoneos", []string{"iphoneos"}}, {"auto", "", []string{"iphoneos"}},
	} {
		require.Equal(t, tt.want, platforms(tt.sdk, tt.supported))
	}
}
