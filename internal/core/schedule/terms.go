package schedule

import "ruvo/internal/core/words"

// Terms are how a business, or a product, promises.
type Terms struct {
	// Slack are working days put on top of when the work is done.
	Slack int `json:"slack"`
	// Latest is how many working days from today a promise may be away; 0 is no
	// bound.
	Latest int `json:"latest,omitempty"`
	// Beyond is what happens when there is more work than that.
	Beyond Beyond `json:"beyond,omitempty"`
	// Daily is how many orders a day are taken then, for Slow.
	Daily int `json:"daily,omitempty"`
}

// Beyond says what happens to sales when there is too much work.
type Beyond string

const (
	Stop Beyond = "stop" // nothing is sold
	Slow Beyond = "slow" // so many orders a day
)

// The bounds of terms.
const (
	mostSlack  = 60
	mostLatest = 500
	mostDaily  = 1000
)

// Usually gives the terms that a business begins with.
func Usually() Terms { return Terms{Slack: 1} }

// Validate says what is wrong with terms.
func (t *Terms) Validate() error {
	switch {
	case t.Slack < 0 || t.Slack > mostSlack:
		return words.Tell("promise.slack", "most", mostSlack)
	case t.Latest < 0 || t.Latest > mostLatest:
		return words.Tell("promise.latest", "most", mostLatest)
	case t.Latest > 0 && t.Beyond != Stop && t.Beyond != Slow:
		return words.Tell("promise.beyond")
	case t.Beyond == Slow && (t.Daily < 1 || t.Daily > mostDaily):
		return words.Tell("promise.daily", "most", mostDaily)
	}
	return nil
}
