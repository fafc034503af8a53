package desk

import (
	"bytes"
	"context"
	"strconv"

	"rsc.io/qr"

	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// labelSize is how many pixels a module of a label's code has.
const labelSize = 6

// LabelCode draws a code that leads whoever scans it to the docket of an order line.
func (d *Desk) LabelCode(ctx context.Context, line int64, l words.Language) (Download, error) {
	var address string
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		opened, err := d.open(tx, line, l)
		if err == nil {
			address = opened.Business.Address + "/desk/orders/" + strconv.FormatInt(line, 10)
		}
		return err
	})
	if err != nil {
		return Download{}, err
	}
	code, err := qr.Encode(address, qr.M)
	if err != nil {
		return Download{}, err
	}
	code.Scale = labelSize
	png := code.PNG()
	return Download{Name: "code.png", Type: "image/png", Size: int64(len(png)), Body: bytes.NewReader(png)}, nil
}
