package main

import "testing"

// A word or number for no is off; anything else that is set is on.
func TestSettingThatIsOnOrOff(t *testing.T) {
	for value, on := range map[string]bool{"": false, "0": false, "false": false, "F": false, "1": true, "true": true, "yes": true} {
		t.Setenv("RUVO_SECURE", value)
		if got := envSet("RUVO_SECURE"); got != on {
			t.Errorf("RUVO_SECURE=%s is %v", value, got)
		}
	}
}
