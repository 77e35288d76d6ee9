package xcode

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
)

func TestTargetsAndPlatforms(t *testing.T) {
	b, err := os.ReadFile("../../../edit/testdata/folders.pbxproj")
	require.NoError(t, err)
	folders := string(b)
	p, err := pbx.Parse(edit.Document{File: "x", Text: []byte(strings.Replace(folders, "EXCEPTIONS", "", 1))})
	require.NoError(t, err)
	targets := Targets(p, noFile)
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
		targets := Targets(p, noFile)
		require.Len(t, targets, map[bool]int{true: 2, false: 1}[what != ""], product)
		require.Equal(t, what == "extension", len(targets) == 2 && targets[1].Extension, product)
	}
	for _, tt := range []struct {
		sdk, supported string
		want           []string
	}{
		{"", "", []string{"iphoneos"}}, {"macosx", "", []string{"macosx"}}, {"auto", "iphoneos iphonesimulator macosx xros xrsimulator", []string{"iphoneos", "macosx", "xros"}},
		{"macosx14.2", "", []string{"macosx"}}, {"/Platforms/MacOSX.platform/SDKs/MacOSX10.15.sdk", "", []string{"macosx"}}, {"iPhoneOS14.0.sdk", "", []string{"iphoneos"}}, {"iphoneos", "iphonesimulator iphoneos", []string{"iphoneos"}}, {"auto", "", []string{"iphoneos"}},
	} {
		require.Equal(t, tt.want, platforms(tt.sdk, tt.supported))
	}
}
