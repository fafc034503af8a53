package store

import "time"

// A User is a person who works at the desk.
type User struct {
	ID        int64
	Email     string
	Name      string
	Password  string // argon2id, encoded
	CreatedAt time.Time
	PersonID  int64 // which of the people who do the work it is; 0 for none of them
}

// UserByEmail finds a person by their mail address in lower case.
func (tx *Tx) UserByEmail(email string) (User, error) { return first[User](tx, "email = ?", email) }

// UserByID finds a person.
func (tx *Tx) UserByID(id int64) (User, error) { return first[User](tx, "id = ?", id) }

// SetPerson says which of the people who do the work somebody is.
func (tx *Tx) SetPerson(user, person int64) error {
	return tx.db.Model(&User{}).Where("id = ?", user).Update("person_id", person).Error
}

// AddUser adds a person.
func (tx *Tx) AddUser(u *User) error { return tx.db.Create(u).Error }

// SetPassword gives a person another password, and ends their sessions and what
// their browsers were known by.
func (tx *Tx) SetPassword(id int64, password string) error {
	err := tx.db.Model(&User{}).Where("id = ?", id).Update("password", password).Error
	if err == nil {
		err = tx.db.Where("user_id = ?", id).Delete(&Session{}).Error
	}
	if err == nil {
		err = tx.db.Where("user_id = ?", id).Delete(&KnownBrowser{}).Error
	}
	return err
}

// Owner gives the person who was there first, and who is told of what
// endangers the business; ErrNotFound when nobody is there.
func (tx *Tx) Owner() (User, error) { return first[User](tx, "id = (SELECT MIN(id) FROM users)") }
