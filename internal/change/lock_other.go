//go:build !unix

package change

// lock does nothing where folders cannot be locked; the journal still keeps a
// second run from starting over a first one that was killed.
func lock(string) (unlock func(), err error) { return func() {}, nil }

// syncDir does nothing: such systems keep the order of renames by themselves.
func syncDir(string) error { return nil }
