package upload

import (
	"strings"
	"unicode"
)

// CleanName gives a file's name as it can be shown and saved: without marks
// that turn the direction of writing, by which "exe.gnp" reads as "png.exe"
// (CVE-2021-42574 is of that kind), without control characters, and without dots
// that lead out of a folder.
func CleanName(name string) string {
	name = strings.Map(func(r rune) rune {
		switch {
		case unicode.Is(unicode.Bidi_Control, r), unicode.IsControl(r):
			return -1
		case r == '/' || r == '\\':
			return '_'
		}
		return r
	}, name)
	for strings.Contains(name, "..") {
		name = strings.ReplaceAll(name, "..", ".")
	}
	name = strings.Trim(name, ". ")
	if name == "" {
		return "file"
	}
	return name
}
