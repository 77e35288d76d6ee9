package notary

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestSides(t *testing.T) {
	for text, want := range map[string][2]string{
		"a\n<<<<<<< HEAD\nb\n=======\nc\n>>>>>>> x\nd\n":              {"a\nb\nd\n", "a\nc\nd\n"},
		"<<<<<<< HEAD\nb\n||||||| base\nz\n=======\n>>>>>>> x\n":      {"b\n", ""},
		"a\r\n<<<<<<< HEAD\r\nb\r\n=======\r\nc\r\n>>>>>>> x\r\n":     {"a\r\nb\r\n", "a\r\nc\r\n"},
		"title\n=======\n<<<<<<< HEAD\nb\n=======\nc\n>>>>>>> x\nend": {"title\n=======\nb\nend", "title\n=======\nc\nend"},
		"no <<<<<<< HEAD\n": {"no <<<<<<< HEAD\n", "no <<<<<<< HEAD\n"},
	} {
		ours, theirs, err := sides([]byte(text))
		require.NoError(t, err, text)
		require.Equal(t, want, [2]string{string(ours), string(theirs)}, text)
	}
	for _, text := range []string{"<<<<<<< a\nb\n", "<<<<<<< a\n<<<<<<< b\n=======\n>>>>>>> c\n", ">>>>>>> a\n", "<<<<<<< a\n>>>>>>> b\n", "<<<<<<< a\n=======\n||||||| c\n>>>>>>> b\n"} {
		_, _, err := sides([]byte(text))
		require.Error(t, err, text)
	}
	require.Equal(t, 2, firstMark([]byte("x <<<<<<< a\n<<<<<<< b\n=======\n>>>>>>> c\n")))
	require.Zero(t, firstMark([]byte("<<<<<<<< eight\n<<<<<<<x\n")))
}
