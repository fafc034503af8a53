//go:build !unix

package upload

import "math"

// Room is not asked on other systems.
func (f Folder) Room() (int64, error) { return math.MaxInt64, nil }
