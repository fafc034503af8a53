package store

import (
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/schedule"
)

// Settings are what of a business people set besides how it computes.
type Settings struct {
	Name     string             `json:"name"`
	Tagline  string             `json:"tagline"`
	Contact  string             `json:"contact"`
	Postal   string             `json:"postal"`
	Language string             `json:"language"`
	Zone     string             `json:"zone"`
	Country  string             `json:"country"`
	Region   string             `json:"region"`
	Open     []string           `json:"open"` // holidays that are worked on
	Week     calendar.Week      `json:"week"`
	Closures []calendar.Closure `json:"closures"`
	// Resources are the people, rooms and things that bookings take.
	Resources []booking.Resource `json:"resources"`
	// Work is how it promises; nil in what was kept before it could be set.
	Work *schedule.Terms `json:"work"`
}

// Settings gives them.
func (b *Business) Settings() Settings {
	return Settings{b.Name, b.Tagline, b.Contact, b.Postal, b.Language, b.Zone, b.Country, b.Region, b.Open, b.Week, b.Closures, b.Resources, &b.Work}
}

// Set gives the business other settings.
func (b *Business) Set(s Settings) {
	b.Name, b.Tagline, b.Contact, b.Postal, b.Language = s.Name, s.Tagline, s.Contact, s.Postal, s.Language
	b.Zone, b.Country, b.Region, b.Open, b.Week, b.Closures = s.Zone, s.Country, s.Region, s.Open, s.Week, s.Closures
	b.Resources = s.Resources
	if s.Work != nil {
		b.Work = *s.Work
	}
	for _, r := range s.Resources {
		b.LastResource = max(b.LastResource, r.ID)
	}
}

// A SettingsChange is one change of the settings: the version that it made, and
// what they were before.
type SettingsChange struct {
	Version int      `gorm:"primaryKey;autoIncrement:false"`
	Before  Settings `gorm:"serializer:json"`
	Author  string
	At      time.Time
}

// AddSettingsChange keeps a change.
func (tx *Tx) AddSettingsChange(c SettingsChange) error { return tx.db.Create(&c).Error }

// SettingsChangesAfter lists the changes since a version, the oldest first.
func (tx *Tx) SettingsChangesAfter(version int) ([]SettingsChange, error) {
	return list[SettingsChange](tx, "version", "version > ?", version)
}
