package p5

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestSketchScript(t *testing.T) {
	for line, want := range map[string]string{
		"<script src=\"p5.js\"></script>":                                              "p5.js",
		"  <script defer src='libraries/p5.min.js'></script>\r":                        "libraries/p5.min.js",
		"<script src=\"https://cdn.example/npm/p5@2.0.5/lib/p5.min.js?x=1\"></script>": "https://cdn.example/npm/p5@2.0.5/lib/p5.min.js?x=1",
		"<script src=\"https://cdn.example/npm/p5@1.9.0\"></script>":                   "https://cdn.example/npm/p5@1.9.0",
		"<script src=\"p5.sound.min.js\"></script>":                                    "",
		"<script src=\"map5.js\"></script>":                                            "",
		"<script src=\"p5.js\"></script><script src=\"sketch.js\"></script>":           "",
		"<p>p5.js</p>": "",
	} {
		m := sketchScript.FindStringSubmatch(line)
		if want == "" {
			require.Nil(t, m, line)
			continue
		}
		require.NotNil(t, m, line)
		require.Equal(t, want, m[2])
		require.True(t, isSketch([]byte(line)))
	}
	require.True(t, isSketch([]byte("<script src=\"p5.js\"></script><script src=\"sketch.js\"></script>")))
	require.False(t, isSketch([]byte("<script src=\"p5.sound.js\"></script>")))
}
