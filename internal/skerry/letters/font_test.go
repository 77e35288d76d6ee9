package letters

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestDump(t *testing.T) {
	for _, st := range Styles {
		b, err := Font(st)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile("/tmp/w/fonts/"+st.PostScript()+".ttf", b, 0o644))
	}
}
