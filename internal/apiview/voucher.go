package apiview

import (
	"ruvo/api"
	"ruvo/internal/core/voucher"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// SoldVouchers shows the vouchers that an order line sold; nil when it sells none.
func SoldVouchers(tx *store.Tx, line *docket.Line) (*[]api.SoldVoucher, error) {
	if len(line.Vouchers) == 0 {
		return nil, nil
	}
	ids := make([]int64, len(line.Vouchers))
	for i, v := range line.Vouchers {
		ids[i] = v.ID
	}
	rests, err := tx.VoucherRests(ids...)
	views := make([]api.SoldVoucher, len(ids))
	for i, v := range line.Vouchers {
		views[i] = api.SoldVoucher{Code: voucher.Spaced(v.Code), Worth: int(v.Worth), Rest: int(rests[v.ID]), Until: text(v.Until), Blocked: &v.Blocked}
	}
	return &views, err
}
