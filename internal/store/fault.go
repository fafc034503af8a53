package store

import (
	"errors"
	"io/fs"
	"syscall"

	"github.com/mattn/go-sqlite3"
)

// A Fault is what keeps the house from keeping anything. It passes: once its
// reason is gone, everything goes on by itself.
type Fault string

const (
	NoFault Fault = ""
	Full    Fault = "full" // the disk has no room
	Busy    Fault = "busy" // somebody else writes for too long
	Shut    Fault = "shut" // what is to be written to cannot be written to
)

// FaultOf tells which fault an error of the database or of a file comes from.
func FaultOf(err error) Fault {
	var s sqlite3.Error
	if errors.As(err, &s) {
		switch s.Code {
		case sqlite3.ErrFull:
			return Full
		case sqlite3.ErrBusy, sqlite3.ErrLocked:
			return Busy
		case sqlite3.ErrReadonly, sqlite3.ErrPerm, sqlite3.ErrCantOpen, sqlite3.ErrIoErr:
			if errors.Is(s.SystemErrno, syscall.ENOSPC) {
				return Full
			}
			return Shut
		}
		return NoFault
	}
	switch {
	case errors.Is(err, syscall.ENOSPC), errors.Is(err, syscall.EDQUOT):
		return Full
	case errors.Is(err, syscall.EROFS), errors.Is(err, fs.ErrPermission):
		return Shut
	}
	return NoFault
}
