package store

// A SavedFilter is a filter of the orders that has a name.
type SavedFilter struct {
	ID    int64
	Name  string
	Query string // as it stands in the address
}

// SavedFilters lists them by name.
func (tx *Tx) SavedFilters() ([]SavedFilter, error) {
	return list[SavedFilter](tx, "name COLLATE NOCASE, id", "true")
}

// SaveFilter keeps a filter; in place of the one with its name.
func (tx *Tx) SaveFilter(f SavedFilter) error {
	return tx.db.Exec("INSERT INTO saved_filters (name, query) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET query = excluded.query", f.Name, f.Query).Error
}

// DropFilter forgets a filter.
func (tx *Tx) DropFilter(id int64) error { return tx.db.Delete(&SavedFilter{}, id).Error }
