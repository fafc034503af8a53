// Package storetest helps tests that keep data.
package storetest

import (
	"os"
	"testing"
)

// Folder gives an empty data folder that goes with the test. Only its owner can
// read it, as the store wants it.
func Folder(t testing.TB) string {
	t.Helper()
	folder := t.TempDir()
	if err := os.Chmod(folder, 0o700); err != nil {
		t.Fatal(err)
	}
	return folder
}
