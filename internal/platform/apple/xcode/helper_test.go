package xcode

import "io/fs"

// noFile is a project without files of build settings.
func noFile(string) ([]byte, error) { return nil, fs.ErrNotExist }
