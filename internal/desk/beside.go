package desk

import (
	"context"
	"errors"
	"strconv"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/handing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// mostBeside bounds the files that lie beside an item.
const mostBeside = 50

// besideItem lays files beside an item, in place of those that lie there.
func besideItem(tx *store.Tx, w *store.WorkItem, ids []string, l words.Language) error {
	if len(ids) > mostBeside {
		return problem.Invalid(l, []api.FieldError{problem.Field(l, "files", "most_files", words.Params{"most": strconv.Itoa(mostBeside)})})
	}
	files := []store.ItemFile{}
	for _, id := range ids {
		u, err := tx.DeskUpload(id)
		if errors.Is(err, store.ErrNotFound) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "files", "no_upload", nil)})
		}
		if err != nil {
			return err
		}
		files = append(files, store.ItemFile{File: u.ID, Name: u.Name, Type: u.Type, Size: u.Size, Width: u.Width, Height: u.Height})
	}
	w.Files = files
	return tx.KeepUploads(ids)
}

// keepBeside has the files stay that lie beside the steps of a draft, and those that it
// gives at once.
func keepBeside(tx *store.Tx, d *product.Draft) error {
	var ids []string
	for _, s := range d.Steps {
		for _, f := range s.Files {
			ids = append(ids, f.File)
		}
	}
	for _, g := range d.AtOnce {
		for _, f := range g.Files {
			ids = append(ids, f.File)
		}
	}
	return tx.KeepUploads(ids)
}

// BesideFile opens a file that lies beside work.
func (d *Desk) BesideFile(ctx context.Context, id, as string, l words.Language) (*handing.File, error) {
	var u store.Upload
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		u, err = tx.DeskUpload(id)
		return problem.Missing(err, l, "no_file")
	})
	if err != nil {
		return nil, err
	}
	return handing.Open(d.Uploads, &store.HandoverFile{Upload: u.ID, Name: u.Name, Size: u.Size, Type: u.Type}, as, l)
}
