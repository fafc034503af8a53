package store

import (
	"errors"
	"strings"
	"time"

	"gorm.io/gorm/clause"
)

// A CustomerGroup has prices, questions and products of its own.
type CustomerGroup struct {
	ID      int64
	Key     string
	Name    string
	Domains []string `gorm:"serializer:json"` // whose mail addresses belong to it
	Invite  string   // the secret of its sign-up link
}

// A Member is a mail address that belongs to a group.
type Member struct {
	Email     string `gorm:"primaryKey"`
	GroupID   int64
	Joined    string // "hand" or "link"
	CreatedAt time.Time
}

// A Pass is a link that was sent to a customer and opens their group's prices.
type Pass struct {
	Hash      string `gorm:"primaryKey"`
	Email     string
	CreatedAt time.Time
	OpenedAt  *time.Time
}

// Groups lists the customer groups by name.
func (tx *Tx) Groups() ([]CustomerGroup, error) {
	return list[CustomerGroup](tx, "name, id", "true")
}

// GroupByID finds a customer group.
func (tx *Tx) GroupByID(id int64) (CustomerGroup, error) {
	return first[CustomerGroup](tx, "id = ?", id)
}

// GroupByInvite finds the group of a sign-up link.
func (tx *Tx) GroupByInvite(invite string) (CustomerGroup, error) {
	return first[CustomerGroup](tx, "invite = ?", invite)
}

// SaveGroup adds or updates a customer group.
func (tx *Tx) SaveGroup(g *CustomerGroup) error { return tx.db.Save(g).Error }

// DropGroup takes a customer group away, with its members.
func (tx *Tx) DropGroup(id int64) error { return tx.db.Delete(&CustomerGroup{}, id).Error }

// GroupOf finds the group that a mail address belongs to: as a member, or by
// its domain; ErrNotFound when it belongs to none.
func (tx *Tx) GroupOf(email string) (CustomerGroup, error) {
	m, err := first[Member](tx, "email = ?", email)
	if err == nil {
		return tx.GroupByID(m.GroupID)
	}
	if !errors.Is(err, ErrNotFound) {
		return CustomerGroup{}, err
	}
	groups, err := tx.Groups()
	if err != nil {
		return CustomerGroup{}, err
	}
	_, domain, _ := strings.Cut(email, "@")
	for _, g := range groups {
		for _, d := range g.Domains {
			if strings.EqualFold(d, domain) {
				return g, nil
			}
		}
	}
	return CustomerGroup{}, ErrNotFound
}

// Members lists the members of all groups.
func (tx *Tx) Members() ([]Member, error) { return list[Member](tx, "email", "true") }

// Join makes a mail address a member of a group, and of no other.
func (tx *Tx) Join(m Member) error {
	return tx.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&m).Error
}

// Leave takes a mail address out of a group.
func (tx *Tx) Leave(group int64, email string) error {
	return tx.db.Where("group_id = ? AND email = ?", group, email).Delete(&Member{}).Error
}

// AddPass keeps a pass.
func (tx *Tx) AddPass(p Pass) error { return tx.db.Create(&p).Error }

// PassByHash finds a pass.
func (tx *Tx) PassByHash(hash string) (Pass, error) { return first[Pass](tx, "hash = ?", hash) }

// SweepPasses takes away the passes that were made before a time.
func (tx *Tx) SweepPasses(before time.Time) error {
	return tx.db.Where("created_at < ?", before.UTC()).Delete(&Pass{}).Error
}

// OpenedPass notes that a pass was opened.
func (tx *Tx) OpenedPass(hash string, at time.Time) error {
	return tx.db.Model(&Pass{}).Where("hash = ?", hash).Update("opened_at", at.UTC()).Error
}
