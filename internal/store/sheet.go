package store

import (
	"time"

	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
)

// A Sheet is a reusable group of questions as it is edited, and as products
// use it since it was last published.
type Sheet struct {
	ID        int64
	Name      string
	Questions []product.Question   `gorm:"serializer:json"`
	Content   product.SheetContent `gorm:"serializer:json"`
	Rule      product.SheetRule    `gorm:"serializer:json"`
	Published []product.Question   `gorm:"serializer:json"`
	// PublishedContent is what those that products use have besides.
	PublishedContent product.SheetContent `gorm:"serializer:json"`
	PublishedRule    product.SheetRule    `gorm:"serializer:json"`
	Currency         money.Currency       // what its amounts are in
	// PublishedCurrency is what those that products use are in.
	PublishedCurrency money.Currency
	Version           int
	OnSale            bool // it was published
	Changed           bool // since then
	UpdatedAt         time.Time
}

// Used gives the sheet as products use it.
func (s *Sheet) Used() product.Sheet {
	return product.Sheet{ID: product.SheetID(s.ID), Name: s.Name, Questions: s.Published, SheetContent: s.PublishedContent, Rule: s.PublishedRule, Currency: s.PublishedCurrency}
}

// Edited gives the sheet as it is edited.
func (s *Sheet) Edited() product.Sheet {
	return product.Sheet{ID: product.SheetID(s.ID), Name: s.Name, Questions: s.Questions, SheetContent: s.Content, Rule: s.Rule, Currency: s.Currency}
}

// Sheets lists all sheets by name.
func (tx *Tx) Sheets() ([]Sheet, error) { return list[Sheet](tx, "name, id", "true") }

// UsedSheets lists the published sheets as products use them.
func (tx *Tx) UsedSheets() ([]product.Sheet, error) {
	rows, err := list[Sheet](tx, "id", "on_sale")
	sheets := make([]product.Sheet, len(rows))
	for i := range rows {
		sheets[i] = rows[i].Used()
	}
	return sheets, err
}

// SheetByID finds a sheet.
func (tx *Tx) SheetByID(id int64) (Sheet, error) { return first[Sheet](tx, "id = ?", id) }

// SaveSheet adds or updates a sheet.
func (tx *Tx) SaveSheet(s *Sheet) error { return tx.db.Save(s).Error }

// DropSheet takes a sheet away.
func (tx *Tx) DropSheet(id int64) error {
	return tx.db.Exec("DELETE FROM sheets WHERE id = ?", id).Error
}
