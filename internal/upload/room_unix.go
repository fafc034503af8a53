//go:build unix

package upload

import "golang.org/x/sys/unix"

// Room gives how many bytes the disk has left for us.
func (f Folder) Room() (int64, error) {
	var s unix.Statfs_t
	if err := unix.Statfs(f.Path, &s); err != nil {
		return 0, err
	}
	return int64(s.Bavail) * int64(s.Bsize), nil
}
