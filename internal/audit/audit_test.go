package audit

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestEveryRuleIsExplained(t *testing.T) {
	seen := map[string]bool{}
	for _, r := range Rules {
		require.NotEmpty(t, r.What)
		require.False(t, seen[r.ID])
		seen[r.ID] = true
	}
	for _, id := range []string{FileMissing, FileDiffers, EntryNoFile, FileNoEntry, NotInBuild, UnknownName, FileNameAsFont, UnknownResource, WeightOnFace} {
		require.True(t, seen[id], id)
	}
}
