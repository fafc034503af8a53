package desk

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// A Download is a file that goes to a browser under a name.
type Download struct {
	Name string
	Type string
	Size int64 // zero when it is not known
	Body io.Reader
}

// filed is one file of an order line's answers.
type filed struct {
	question.Uploaded
	key question.Key
	row store.Upload
}

// answerFiles lists the files of a line's answers, those that count and those of
// questions that are not asked now.
func answerFiles(tx *store.Tx, line *docket.Line) (all []filed, err error) {
	answers, _ := question.Decode(line.Row.Answers, line.Edition.Spec)
	for i := range line.Edition.Items {
		k := line.Edition.Items[i].Key
		if all, err = withFiles(tx, all, k, answers[k]); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// filesOf lists the files of a line's answers, and those of what was asked beside its
// product.
func (d *Desk) filesOf(tx *store.Tx, line *docket.Line) ([]filed, error) {
	all, err := answerFiles(tx, line)
	if err != nil {
		return nil, err
	}
	asked, err := tx.Things(line.Row.ID)
	if err != nil {
		return nil, err
	}
	for _, t := range asked {
		if t.Question.Kind != "files" || t.Value == nil {
			continue
		}
		spec, err := question.Compile(t.Question)
		if err != nil {
			return nil, err
		}
		if v, wrong := spec.Decode(t.Value); wrong == nil {
			if all, err = withFiles(tx, all, t.Question.Key, v); err != nil {
				return nil, err
			}
		}
	}
	return all, nil
}

// withFiles adds the files of an answer.
func withFiles(tx *store.Tx, all []filed, k question.Key, v question.Value) ([]filed, error) {
	files, ok := v.(question.Filed)
	if !ok {
		return all, nil
	}
	for _, u := range files.Uploads() {
		row, err := tx.Upload(u.File)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		all = append(all, filed{u, k, row})
	}
	return all, nil
}

func fileViews(list []filed, k question.Key) *[]api.AnswerFile {
	var views []api.AnswerFile
	for _, f := range list {
		if f.key == k {
			views = append(views, api.AnswerFile{
				File: f.File, Name: f.Name, Caption: f.Caption, Type: f.row.Type, Size: f.row.Size, Width: &f.row.Width, Height: &f.row.Height,
				Picture: f.row.Width > 0, Cropped: f.Crop != nil,
			})
		}
	}
	if views == nil {
		return nil
	}
	return &views
}

// File gives one file of an order line: as it was sent, cropped, or small.
func (d *Desk) File(ctx context.Context, line int64, id, as string, l words.Language) (Download, error) {
	var found filed
	var number int64
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		opened, err := d.open(tx, line, l)
		if err != nil {
			return err
		}
		all, err := d.filesOf(tx, opened)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(all, func(f filed) bool { return f.File == id })
		if i < 0 {
			return problem.NotFound(l, "no_upload")
		}
		found, number = all[i], *opened.Order.Number
		return nil
	})
	if err != nil {
		return Download{}, err
	}
	if as == "thumbnail" {
		data, err := d.Uploads.Thumbnail(id, 480, found.Crop)
		return Download{Name: "small.jpg", Type: "image/jpeg", Size: int64(len(data)), Body: bytes.NewReader(data)}, problem.Missing(err, l, "no_upload")
	}
	if err := d.exporting(ctx, fileSaved, strconv.FormatInt(number, 10)); err != nil {
		return Download{}, err
	}
	if as == "cropped" && found.Crop != nil {
		data, err := d.Uploads.Cropped(id, *found.Crop)
		name := strings.TrimSuffix(found.Name, filepath.Ext(found.Name)) + " cropped.png"
		return Download{Name: name, Type: "image/png", Size: int64(len(data)), Body: bytes.NewReader(data)}, problem.Missing(err, l, "no_upload")
	}
	in, err := d.Uploads.Open(id)
	return Download{Name: found.Name, Type: found.row.Type, Size: found.row.Size, Body: in}, problem.Missing(err, l, "no_upload")
}

// Files gives all files of an order line as a zip file, written while it is
// sent: the pictures as they were sent, and cropped beside it where a part was
// chosen.
func (d *Desk) Files(ctx context.Context, line int64, l words.Language) (Download, error) {
	var all []filed
	var number int64
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		opened, err := d.open(tx, line, l)
		if err != nil {
			return err
		}
		number = *opened.Order.Number
		all, err = d.filesOf(tx, opened)
		return err
	})
	if err == nil && len(all) == 0 {
		err = problem.NotFound(l, "no_files")
	}
	if err != nil {
		return Download{}, err
	}
	if err := d.exporting(ctx, filesSaved, strconv.FormatInt(number, 10)); err != nil {
		return Download{}, err
	}
	r, w := io.Pipe()
	go func() { w.CloseWithError(d.zip(w, all)) }()
	return Download{Name: fmt.Sprintf("order-%d.zip", number), Type: "application/zip", Body: r}, nil
}

func (d *Desk) zip(w io.Writer, all []filed) error {
	out := upload.NewPacker(w)
	for _, f := range all {
		if err := d.pack(out, f, string(f.key)+"/"+upload.CleanName(f.Name)); err != nil {
			return err
		}
	}
	return out.Close()
}

// pack puts a file into a zip under a name, and cropped beside it where a part was
// chosen.
func (d *Desk) pack(out *upload.Packer, f filed, name string) error {
	in, err := d.Uploads.Open(f.File)
	if err != nil {
		return err
	}
	err = out.Put(name, f.row.CreatedAt, in)
	in.Close()
	if err != nil || f.Crop == nil {
		return err
	}
	data, err := d.Uploads.Cropped(f.File, *f.Crop)
	if errors.Is(err, upload.ErrPicture) {
		return nil
	}
	if err != nil {
		return err
	}
	return out.Put(strings.TrimSuffix(name, filepath.Ext(name))+" cropped.png", f.row.CreatedAt, bytes.NewReader(data))
}
