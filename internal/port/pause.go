package port

import "time"

// The pauses between tries to reach a service.
const (
	firstPause   = 5 * time.Second
	longestPause = time.Hour
)

// Pause gives how long to wait after so many tries failed before: twice as long
// each time, and an hour at most.
func Pause(before int) time.Duration {
	if before > 20 {
		return longestPause
	}
	return min(firstPause<<max(before, 0), longestPause)
}
