package store

import (
	"context"
	"fmt"
	"reflect"

	"gorm.io/gorm/schema"
)

// nullZero keeps the number zero as NULL: a row that may refer to another one, and
// with zero does not.
type nullZero struct{}

func init() { schema.RegisterSerializer("nullzero", nullZero{}) }

// Scan implements schema.SerializerInterface.
func (nullZero) Scan(ctx context.Context, field *schema.Field, dst reflect.Value, value any) error {
	switch n := value.(type) {
	case nil:
		return field.Set(ctx, dst, int64(0))
	case int64:
		return field.Set(ctx, dst, n)
	}
	return fmt.Errorf("%s: %T is no number", field.Name, value)
}

// Value implements schema.SerializerInterface.
func (nullZero) Value(_ context.Context, _ *schema.Field, _ reflect.Value, value any) (any, error) {
	if value == int64(0) {
		return nil, nil
	}
	return value, nil
}
