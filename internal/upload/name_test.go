package upload

import "testing"

// Names are shown as they will be saved. The first is the trick of
// https://trojansource.codes (CVE-2021-42574), here in a file's name.
func TestCleanName(t *testing.T) {
	for in, want := range map[string]string{
		"invoice\u202egnp.exe":          "invoicegnp.exe",
		"\u2066a\u2069\u200e\u061c.png": "a.png",
		"../../etc/passwd":              "_._etc_passwd",
		"..\\..\\x.txt":                 "_._x.txt",
		"....":                          "file",
		" .hidden. ":                    "hidden",
		"a\x00b\r\nc.txt":               "abc.txt",
		"Großmutter 1950 (2).jpg":       "Großmutter 1950 (2).jpg",
		"照片.png":                        "照片.png",
		"👩‍👧.jpg":                       "👩‍👧.jpg",
		"a...b..c":                      "a.b.c",
	} {
		if got := CleanName(in); got != want {
			t.Errorf("%q becomes %q, want %q", in, got, want)
		}
	}
}
