package store

import (
	"errors"
	"time"

	"gorm.io/gorm"

	"ruvo/internal/core/product"
)

// A Product is the row that its editions and its draft hang on.
type Product struct {
	ID        int64
	Slug      string
	Position  int
	Draft     product.Draft `gorm:"serializer:json"`
	Version   int           // counts the draft's changes
	EditionID *int64        // on sale; none before the first publishing
	Changed   bool          // the draft differs from the edition on sale
	UpdatedAt time.Time
	At        int    // the draft's place among its states
	Author    string // of the last change
}

// An Edition is one published state of a product. The database refuses to
// change it.
type Edition struct {
	ID          int64
	ProductID   int64
	Number      int
	Content     product.Draft `gorm:"serializer:json"`
	PublishedAt time.Time
}

// Products lists all products in the shop's order.
func (tx *Tx) Products() ([]Product, error) { return list[Product](tx, "position, id", "true") }

// ProductByID finds a product.
func (tx *Tx) ProductByID(id int64) (Product, error) { return first[Product](tx, "id = ?", id) }

// ProductBySlug finds a product by the name in its address.
func (tx *Tx) ProductBySlug(slug string) (Product, error) {
	return first[Product](tx, "slug = ?", slug)
}

// OnSale finds a product by the name in its address without its draft, which
// the shop never reads.
func (tx *Tx) OnSale(slug string) (Product, error) {
	if tx.known != nil && !tx.catalogue {
		if p, ok := tx.known.Product(slug); ok {
			return p, nil
		}
		return Product{}, ErrNotFound
	}
	var p Product
	err := tx.db.Omit("draft").Where("slug = ?", slug).Take(&p).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		err = ErrNotFound
	}
	return p, err
}

// SaveProduct adds or updates a product.
func (tx *Tx) SaveProduct(p *Product) error {
	tx.catalogue = true
	return tx.db.Save(p).Error
}

// EditionByID finds an edition.
func (tx *Tx) EditionByID(id int64) (Edition, error) { return first[Edition](tx, "id = ?", id) }

// AddEdition adds an edition.
func (tx *Tx) AddEdition(e *Edition) error { return tx.db.Create(e).Error }

// EditionNumbers gives the number of each product's edition on sale.
func (tx *Tx) EditionNumbers() (map[int64]int, error) {
	var rows []struct {
		ProductID int64
		Number    int
	}
	err := tx.db.Raw("SELECT p.id AS product_id, e.number FROM products p JOIN editions e ON e.id = p.edition_id").Scan(&rows).Error
	numbers := make(map[int64]int, len(rows))
	for _, r := range rows {
		numbers[r.ProductID] = r.Number
	}
	return numbers, err
}

// LastEdition gives the highest number that a product's editions have.
func (tx *Tx) LastEdition(product int64) (int, error) {
	var n int
	err := tx.db.Raw("SELECT COALESCE(MAX(number), 0) FROM editions WHERE product_id = ?", product).Scan(&n).Error
	return n, err
}

// SoldLines counts the order lines of each product.
func (tx *Tx) SoldLines() (map[int64]int, error) {
	var rows []struct {
		ProductID int64
		N         int
	}
	err := tx.db.Raw("SELECT product_id, COUNT(*) AS n FROM order_lines WHERE placed = 1 GROUP BY product_id").Scan(&rows).Error
	counts := make(map[int64]int, len(rows))
	for _, r := range rows {
		counts[r.ProductID] = r.N
	}
	return counts, err
}
