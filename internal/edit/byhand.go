package edit

import "bytes"

// SyntaxByHand is that of a manifest which is a program: Notaria does not write
// into it. Value is what it has to hold, Place what a person adds so that it does.
const SyntaxByHand = "byhand"

// Holds says whether a manifest that people write holds something, outside of
// remarks.
func Holds(doc []byte, value string) bool {
	return bytes.Contains(BlankComments(doc), []byte(value))
}
