package lazy

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestOf(t *testing.T) {
	inTest = false
	defer func() { inTest = true }()
	made := 0
	v := Of(func() int { made++; return 7 })
	require.Zero(t, made)
	require.Equal(t, []int{7, 7, 1}, []int{v.Get(), v.Get(), made})
	require.NotPanics(t, func() { Regexp("(") }, "not before it is used")
}

func TestPattern(t *testing.T) {
	require.Panics(t, func() { Regexp("(") }, "at once in a test program")
	p, re := Regexp(`(\w)=(\d+)`), regexp.MustCompile(`(\w)=(\d+)`)
	const s = "a=1, b=22"
	require.Equal(t, re.FindAllStringSubmatchIndex(s, -1), p.FindAllStringSubmatchIndex(s, -1))
	require.Equal(t, re.ReplaceAllString(s, "$2=$1"), p.ReplaceAllString(s, "$2=$1"))
	require.Equal(t, re.String(), p.String())
}

func TestWords(t *testing.T) {
	s := Words("a  b\n c")
	require.True(t, s.Has("b"))
	require.False(t, s.Has(""))
	require.False(t, (*Set)(nil).Has("a"))
}
