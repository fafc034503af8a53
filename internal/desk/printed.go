package desk

import (
	"bytes"
	"context"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/document"
	"ruvo/internal/store"
)

// PrintWorksheet draws a worksheet on paper, as people laid it out: A4 or Letter, in
// large type where that is wished.
func (d *Desk) PrintWorksheet(ctx context.Context, productID int64, step, paper string, large bool, l words.Language) (Download, error) {
	sheet, err := d.Worksheet(ctx, productID, step, l)
	if err != nil {
		return Download{}, err
	}
	var b store.Business
	if err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		b, err = tx.Business()
		return err
	}); err != nil {
		return Download{}, err
	}
	if err := d.exporting(ctx, worksheetExported, step); err != nil {
		return Download{}, err
	}
	today := calendar.DayOf(d.Now().In(b.Location()))
	s := document.Sheet{
		Title: sheet.Title, Under: sheet.Product + " · " + l.Day(today) + " · " + b.Name, Page: l.Say("sheet.page", nil), Large: large, Made: d.Now().UTC(), Paper: "A4",
		Columns: []document.SheetColumn{{Head: l.Say("sheet.order", nil), Share: 1.3}, {Head: l.Say("sheet.due", nil), Share: 1}},
	}
	if paper == "letter" {
		s.Paper = "Letter"
	}
	for _, c := range sheet.Columns {
		s.Columns = append(s.Columns, document.SheetColumn{Head: c.Wording, Share: 2})
	}
	s.Columns = append(s.Columns, document.SheetColumn{Head: l.Say("sheet.done", nil), Share: 0.7})
	group := ""
	for i, r := range grouped(&sheet) {
		if name := groupOf(&sheet, &r, l); sheet.Grouped != "" && (i == 0 || name != group) {
			group = name
			s.Rows = append(s.Rows, document.SheetRow{Group: name})
		}
		name := strconv.FormatInt(r.Item.Number, 10) + "\n" + r.Item.Customer
		if part := apiview.Given(r.Item.Part); part != "" {
			name += "\n" + part
		}
		due := ""
		if r.Item.DueDay != nil {
			if day, err := calendar.ParseDay(*r.Item.DueDay); err == nil {
				due = l.Day(day)
			}
		}
		cells := []string{name, due}
		for _, c := range sheet.Columns {
			cells = append(cells, cell(r, c.Key))
		}
		s.Rows = append(s.Rows, document.SheetRow{Cells: append(cells, "")})
	}
	pdf, err := s.PDF()
	if err != nil {
		return Download{}, err
	}
	return Download{Name: step + ".pdf", Type: "application/pdf", Size: int64(len(pdf)), Body: bytes.NewReader(pdf)}, nil
}

// grouped gives the rows of a worksheet with those of a group together, each group where
// its first row stood.
func grouped(sheet *api.Worksheet) []api.WorksheetRow {
	if sheet.Grouped == "" {
		return sheet.Rows
	}
	var order []string
	of := map[string][]api.WorksheetRow{}
	for _, r := range sheet.Rows {
		k := groupOf(sheet, &r, words.English)
		if _, known := of[k]; !known {
			order = append(order, k)
		}
		of[k] = append(of[k], r)
	}
	rows := make([]api.WorksheetRow, 0, len(sheet.Rows))
	for _, k := range order {
		rows = append(rows, of[k]...)
	}
	return rows
}

func groupOf(sheet *api.Worksheet, r *api.WorksheetRow, l words.Language) string {
	switch sheet.Grouped {
	case "":
		return ""
	case "customer":
		return r.Item.Customer
	case "due":
		if day, err := calendar.ParseDay(apiview.Given(r.Item.DueDay)); err == nil {
			return l.Day(day)
		}
		return "–"
	}
	if text := strings.TrimSpace(r.Cells[sheet.Grouped].Words); text != "" {
		return text
	}
	return "–"
}
