//go:build !unix

package disk

// noWait is nothing where pipes are no files of a folder.
const noWait = 0
