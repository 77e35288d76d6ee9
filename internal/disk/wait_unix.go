//go:build unix

package disk

import "syscall"

// noWait opens a pipe, which somebody has put in a file's place meanwhile, without
// waiting for its other end.
const noWait = syscall.O_NONBLOCK
