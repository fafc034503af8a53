package desk

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// usualPattern names files for the work where nobody says how.
const usualPattern = "{{order}}-{{name}}"

// A sheetFile is a file of a worksheet with what it is named by.
type sheetFile struct {
	filed
	values map[string]string
}

// SheetFiles gives the answers of a worksheet as files for the work, in a zip that is
// written while it is sent: all its texts as one file, and its pictures and other files
// named by a pattern with merge fields.
func (d *Desk) SheetFiles(ctx context.Context, productID int64, step, pattern string, l words.Language) (Download, error) {
	if strings.TrimSpace(pattern) == "" {
		pattern = usualPattern
	}
	name, err := merge.Parse(pattern)
	unknown := func(f string) bool { return !slices.Contains(handover.PatternFields(), f) }
	if err != nil || slices.ContainsFunc(name.Fields(), unknown) {
		return Download{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "pattern", "name_pattern", words.Params{"fields": "{{" + strings.Join(handover.PatternFields(), "}}, {{") + "}}"})})
	}
	sheet, err := d.Worksheet(ctx, productID, step, l)
	if err != nil {
		return Download{}, err
	}
	files, err := d.filesOfSheet(ctx, &sheet, workplan.StepKey(step), l)
	if err != nil {
		return Download{}, err
	}
	if err := d.exporting(ctx, worksheetExported, step); err != nil {
		return Download{}, err
	}
	texts := textsOf(&sheet)
	r, w := io.Pipe()
	go func() {
		out := upload.NewPacker(w)
		err := out.Put("texts.txt", d.Now(), strings.NewReader(texts))
		for i := 0; i < len(files) && err == nil; i++ {
			f := &files[i]
			f.values["number"] = fmt.Sprintf("%03d", i+1)
			named := name.Render(func(field string) string { return f.values[field] })
			if err = d.pack(out, f.filed, upload.CleanName(strings.ReplaceAll(named, "/", " ")+strings.ToLower(filepath.Ext(f.Name)))); errors.Is(err, fs.ErrNotExist) {
				err = nil // it was taken away meanwhile; the others are still of use
			}
		}
		if err == nil {
			err = out.Close()
		}
		w.CloseWithError(err)
	}()
	return Download{Name: step + ".zip", Type: "application/zip", Body: r}, nil
}

// filesOfSheet lists the files of a worksheet's rows: of an item that is for a file,
// that one alone.
func (d *Desk) filesOfSheet(ctx context.Context, sheet *api.Worksheet, step workplan.StepKey, l words.Language) (files []sheetFile, err error) {
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		for _, r := range sheet.Rows {
			line, err := d.open(tx, r.Item.Line, l)
			if err != nil {
				return err
			}
			w, err := tx.ItemByID(r.Item.Id)
			if err != nil {
				return err
			}
			all, err := d.filesOf(tx, line)
			if err != nil {
				return err
			}
			single := false
			if s := line.Edition.Plan.Step(step); s != nil && s.For != nil {
				single = s.For.Each == workplan.EachFile
			}
			for _, f := range all {
				if single && f.File != w.Part {
					continue
				}
				base := upload.CleanName(f.Name)
				files = append(files, sheetFile{f, map[string]string{
					"order": strconv.FormatInt(r.Item.Number, 10), "customer": r.Item.Customer, "question": string(f.key), "part": w.Label,
					"name": strings.TrimSuffix(base, filepath.Ext(base)),
				}})
			}
		}
		return nil
	})
	return files, err
}

// textsOf writes what a worksheet shows as text: a paragraph an item.
func textsOf(sheet *api.Worksheet) string {
	var b strings.Builder
	for _, r := range sheet.Rows {
		fmt.Fprintf(&b, "%d, %s: %s\n", r.Item.Number, r.Item.Customer, r.Item.Title)
		for _, c := range sheet.Columns {
			if a, asked := r.Cells[c.Key]; asked && a.Words != "" {
				fmt.Fprintf(&b, "%s: %s\n", c.Wording, strings.ReplaceAll(a.Words, "\n", "\n  "))
			}
		}
		b.WriteString("\n")
	}
	return b.String()
}
