package calendar

import (
	"regexp"
	"strconv"
	"strings"
)

// relative is a sign in a file of samples for a day that lies some weeks from today.
var relative = regexp.MustCompile(`"@(sun|mon|tue|wed|thu|fri|sat)([+-]\d{1,3})"`)

// FillIn puts days in the place of their signs in a file of samples: "@wed+2" is the
// first Wednesday in two weeks from a day, or more.
func FillIn(raw []byte, today Day) []byte {
	return relative.ReplaceAllFunc(raw, func(sign []byte) []byte {
		m := relative.FindSubmatch(sign)
		weeks, _ := strconv.Atoi(string(m[2]))
		day := today.Add(7 * weeks)
		for !strings.EqualFold(day.Weekday().String()[:3], string(m[1])) {
			day = day.Add(1)
		}
		return []byte(`"` + day.String() + `"`)
	})
}
