package desk

import (
	"bytes"
	"context"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/document"
	"ruvo/internal/store"
)

// mostExported bounds the lines of one export.
const mostExported = 100_000

// ExportOrders writes order lines as a table: what every order has, then a
// column for each question, named by its key.
func (d *Desk) ExportOrders(ctx context.Context, asked OrderQuery, l words.Language) (Download, error) {
	head := []string{"order", "product", "edition", "quantity", "customer", "mail", "placed", "brief", "total", "currency"}
	var rows [][]string
	var keys []question.Key
	at := map[question.Key]int{}
	numbers := map[int64]int{} // of editions
	if err := d.exporting(ctx, ordersExported, ""); err != nil {
		return Download{}, err
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		f, err := asked.filter(tx, l)
		if err != nil {
			return err
		}
		f.Most = pageOfOrders
		for len(rows) < mostExported {
			page, err := tx.ListLines(f)
			if err != nil || len(page) == 0 {
				return err
			}
			for _, listed := range page {
				f.Before = listed.ID
				line, err := d.open(tx, listed.ID, l)
				if err != nil {
					return err
				}
				number, ok := numbers[line.Row.EditionID]
				if !ok {
					e, err := tx.EditionByID(line.Row.EditionID)
					if err != nil {
						return err
					}
					number = e.Number
					numbers[line.Row.EditionID] = number
				}
				row := d.exported(line, number, l)
				for i := range line.Edition.Items {
					item := &line.Edition.Items[i]
					if !item.Asked() {
						continue
					}
					n, ok := at[item.Key]
					if !ok {
						n = len(head) + len(keys)
						at[item.Key] = n
						keys = append(keys, item.Key)
					}
					for len(row) <= n {
						row = append(row, "")
					}
					row[n] = answer(line, item.Key, l).Words
				}
				rows = append(rows, row)
			}
		}
		return nil
	})
	if err != nil {
		return Download{}, err
	}
	for _, k := range keys {
		head = append(head, string(k))
	}
	return table("orders.csv", append([][]string{head}, rows...))
}

func (d *Desk) exported(line *docket.Line, edition int, l words.Language) []string {
	return []string{
		strconv.FormatInt(*line.Order.Number, 10), line.Edition.Title, strconv.Itoa(edition), strconv.Itoa(line.Row.Quantity),
		line.Order.Name, line.Order.Email, line.Order.Since().In(line.Business.Location()).Format("2006-01-02 15:04"), string(line.Row.Brief),
		line.Row.Slip.Total.Plain(line.Edition.Currency), string(line.Edition.Currency),
	}
}

// ExportWorksheet writes a worksheet as a table.
func (d *Desk) ExportWorksheet(ctx context.Context, productID int64, step string, l words.Language) (Download, error) {
	sheet, err := d.Worksheet(ctx, productID, step, l)
	if err != nil {
		return Download{}, err
	}
	if err := d.exporting(ctx, worksheetExported, step); err != nil {
		return Download{}, err
	}
	head := []string{"order", "customer", "due", "minutes", "state"}
	for _, c := range sheet.Columns {
		head = append(head, c.Key)
	}
	rows := [][]string{head}
	for _, r := range sheet.Rows {
		due := ""
		if r.Item.DueDay != nil {
			due = *r.Item.DueDay + " " + *r.Item.DueTime
		}
		row := []string{strconv.FormatInt(r.Item.Number, 10), r.Item.Customer, due, strconv.Itoa(r.Item.Minutes), string(r.Item.State)}
		for _, c := range sheet.Columns {
			row = append(row, cell(r, c.Key))
		}
		rows = append(rows, row)
	}
	return table(step+".csv", rows)
}

// ExportCalendar writes what is booked on some days as a table.
func (d *Desk) ExportCalendar(ctx context.Context, from, to *string, l words.Language) (Download, error) {
	view, err := d.Calendar(ctx, from, to, l)
	if err != nil {
		return Download{}, err
	}
	if err := d.exporting(ctx, calendarExported, ""); err != nil {
		return Download{}, err
	}
	rows := [][]string{{"order", "customer", "product", "people", "day", "time", "last", "ends", "minutes", "with", "no_show"}}
	for _, b := range view.Bookings {
		var with []string
		for _, w := range b.With {
			with = append(with, w.Name)
		}
		rows = append(rows, []string{
			strconv.FormatInt(b.Number, 10), b.Customer, b.Product, strconv.Itoa(b.People), b.Day, b.Time, b.Last, b.Ends, strconv.Itoa(b.Minutes),
			strings.Join(with, ", "), strconv.FormatBool(b.NoShow != nil),
		})
	}
	return table("calendar.csv", rows)
}

func cell(r api.WorksheetRow, key string) string { return r.Cells[key].Words }

func table(name string, rows [][]string) (Download, error) {
	var out bytes.Buffer
	err := document.CSV(&out, rows)
	return Download{Name: name, Type: "text/csv", Size: int64(out.Len()), Body: &out}, err
}

// exporting keeps in the log that something is taken out, before it is: an
// export that cannot be noted is not made.
func (d *Desk) exporting(ctx context.Context, e event, about string) error {
	return d.Store.Write(ctx, func(tx *store.Tx) error { return d.log(ctx, tx, e, about) })
}
